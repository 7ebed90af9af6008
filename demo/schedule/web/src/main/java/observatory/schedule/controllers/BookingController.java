package observatory.schedule.controllers;

import java.util.List;

import observatory.schedule.models.Booking;
import observatory.schedule.services.BookingService;
import org.springframework.web.bind.annotation.*;

@RestController
public class BookingController {

    private final BookingService bookings;

    public BookingController(BookingService bookings) {
        this.bookings = bookings;
    }

    @PostMapping("/bookings")
    public Booking book(@RequestParam int night, @RequestParam String visitor) {
        return bookings.book(night, visitor);
    }

    @GetMapping("/bookings")
    public List<Booking> all() {
        return bookings.all();
    }
}
