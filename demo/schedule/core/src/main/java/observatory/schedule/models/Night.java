package observatory.schedule.models;

import java.time.LocalDate;

/** A night on which somebody may look through a {@link Telescope}. */
public record Night(LocalDate date, Telescope telescope, boolean clear) {

    /** How the night is called in lists. */
    public String label() {
        return date + " at " + telescope.name();
    }
}
