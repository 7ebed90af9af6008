package observatory.schedule.services;

import java.util.List;
import java.util.ServiceLoader;

import observatory.schedule.models.Booking;
import observatory.schedule.repositories.BookingRepository;
import org.springframework.stereotype.Service;

/** Books nights that {@link NightService#clear()} gives. */
@Service
public class BookingService {

    private final NightService nights;
    private final BookingRepository bookings;

    public BookingService(NightService nights, BookingRepository bookings) {
        this.nights = nights;
        this.bookings = bookings;
    }

    public Booking book(int night, String visitor) {
        Booking booking = new Booking(bookings.all().size() + 1, nights.clear().get(night), visitor);
        for (BookingListener listener : ServiceLoader.load(BookingListener.class)) {
            listener.booked(booking);
        }
        return bookings.add(booking);
    }

    public List<Booking> all() {
        return bookings.all();
    }
}
