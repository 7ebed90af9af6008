package observatory.schedule.services;

import observatory.schedule.models.Booking;
import org.slf4j.LoggerFactory;

/** Writes each booking down. */
public class BookingLog implements BookingListener {
    @Override
    public void booked(Booking booking) {
        LoggerFactory.getLogger("bookings").info("{} has {}", booking.visitor(), booking.night().label());
    }
}
