//! Brings all together.

use crate::{log, motor::Motor, night::Night, rain::Rain, shutter::Shutter, wind::Wind};

/// Why the dome stays shut.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Refusal {
    Wind,
    Rain,
    NoGuest,
}

/// The control of the dome.
#[derive(Default)]
pub struct Control {
    motor: Motor,
    shutter: Shutter,
}

impl Control {
    /// Opens the dome for a night that somebody has booked.
    pub fn begin(&mut self, night: &Night, wind: &Wind, rain: Rain) -> Result<String, Refusal> {
        if night.slots.iter().all(|slot| slot.guest.is_none()) {
            return Err(Refusal::NoGuest);
        }
        self.shutter.open(wind, rain)?;
        let at = self.motor.turn(90.0, 10.0);
        Ok(log::line("dome", &format!("night {} is open at {at:.0} degrees", night.number)))
    }
}
