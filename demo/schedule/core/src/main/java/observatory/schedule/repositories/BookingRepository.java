package observatory.schedule.repositories;

import java.util.ArrayList;
import java.util.List;

import observatory.schedule.models.Booking;
import org.springframework.stereotype.Repository;

@Repository
public class BookingRepository {

    private final List<Booking> bookings = new ArrayList<>();

    public synchronized Booking add(Booking booking) {
        bookings.add(booking);
        return booking;
    }

    public synchronized List<Booking> all() {
        return List.copyOf(bookings);
    }
}
