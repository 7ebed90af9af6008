use dome_control::{booking::book, night::Night};

pub fn booked() -> Night {
    let mut night = Night::new(1, 2);
    book(&mut night, "Ada");
    night
}
