package observatory.schedule.models;

/** Somebody has a {@link Night}, from when {@code observatory.schedule.services.BookingService} says so. */
public record Booking(int number, Night night, String visitor) {
}
