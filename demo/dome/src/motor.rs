//! The motor below the dome. How far it has turned is read by [`crate::encoder`].

use super::encoder::Encoder;
use crate::units::wrap;

/// The fastest that the dome may turn, in degrees a second.
pub const FASTEST: f64 = 4.0;

/// A motor.
pub struct Motor {
    encoder: Encoder,
}

impl Motor {
    /// Makes a motor that stands at north.
    pub fn new() -> Self {
        Motor { encoder: Encoder::at(0.0) }
    }

    /// Turns towards an angle for some seconds, and gives where the dome stands then.
    pub fn turn(&mut self, to: f64, seconds: f64) -> f64 {
        let missing = clamp!(wrap(to) - self.encoder.degrees(), -FASTEST * seconds, FASTEST * seconds);
        self.encoder.moved(missing);
        self.encoder.degrees()
    }
}

impl Default for Motor {
    fn default() -> Self {
        Self::new()
    }
}
