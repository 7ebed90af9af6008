package observatory.schedule.repositories;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Collectors;

import observatory.schedule.models.*;
import org.springframework.stereotype.Repository;

@Repository
public class NightRepository {

    /** All nights of the season, as they stand in a list beside this class. */
    public List<Night> all() {
        try (BufferedReader lines = new BufferedReader(new InputStreamReader(
                getClass().getResourceAsStream("nights.csv"), StandardCharsets.UTF_8))) {
            return lines.lines().map(this::night).collect(Collectors.toList());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private Night night(String line) {
        String[] cells = line.split(",");
        return new Night(LocalDate.parse(cells[0]), Telescope.valueOf(cells[1]), Boolean.parseBoolean(cells[2]));
    }
}
