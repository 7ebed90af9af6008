package observatory.schedule.services;

import static org.junit.jupiter.api.Assertions.assertEquals;

import observatory.schedule.repositories.*;
import org.junit.jupiter.api.Test;

class BookingServiceTest {

    @Test
    void numbersBegin() {
        BookingService bookings = new BookingService(new NightService(new NightRepository()), new BookingRepository());
        assertEquals(1, bookings.book(0, "A. Visitor").number());
        assertEquals(2, bookings.book(1, "B. Visitor").number());
    }
}
