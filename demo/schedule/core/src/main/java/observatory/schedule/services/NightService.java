package observatory.schedule.services;

import java.util.List;

import observatory.schedule.models.Night;
import observatory.schedule.repositories.NightRepository;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;

@Service
public class NightService {

    private static final Logger LOG = LoggerFactory.getLogger(NightService.class);

    private final NightRepository nights;

    public NightService(NightRepository nights) {
        this.nights = nights;
    }

    /** The nights on which the sky is clear. */
    public List<Night> clear() {
        List<Night> clear = nights.all().stream().filter(Night::clear).toList();
        LOG.debug("{} clear nights", clear.size());
        return clear;
    }
}
