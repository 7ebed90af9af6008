package observatory.schedule.services;

import static org.junit.jupiter.api.Assertions.assertEquals;

import observatory.schedule.models.Night;
import observatory.schedule.repositories.NightRepository;
import org.junit.jupiter.api.Test;

class NightServiceTest {

    private final NightService service = new NightService(new NightRepository());

    @Test
    void clearNightsOnly() {
        assertEquals(3, service.clear().size());
        Night first = service.clear().get(0);
        assertEquals("2026-03-01 at NORTH_DOME", first.label());
    }
}
