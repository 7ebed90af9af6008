package observatory.schedule.controllers;

import observatory.schedule.services.NightService;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;

@Controller
public class NightController {

    private final NightService nights;

    public NightController(NightService nights) {
        this.nights = nights;
    }

    @GetMapping("/nights")
    public String nights(Model model) {
        model.addAttribute("nights", nights.clear());
        return "nights";
    }
}
