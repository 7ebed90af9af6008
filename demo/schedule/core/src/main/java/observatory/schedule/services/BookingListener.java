package observatory.schedule.services;

/** Is told of each booking. */
public interface BookingListener {
    void booked(observatory.schedule.models.Booking booking);
}
