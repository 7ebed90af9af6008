package observatory.schedule.controllers;

import static org.hamcrest.Matchers.containsString;
import static org.springframework.test.web.servlet.request.MockMvcRequestBuilders.get;
import static org.springframework.test.web.servlet.result.MockMvcResultMatchers.content;

import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.autoconfigure.web.servlet.AutoConfigureMockMvc;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.test.web.servlet.MockMvc;

@SpringBootTest
@AutoConfigureMockMvc
class NightControllerTest {

    @Autowired
    private MockMvc page;

    @Test
    void listsClearNights() throws Exception {
        page.perform(get("/nights")).andExpect(content().string(containsString("2026-03-01 at NORTH_DOME")));
    }
}
