use crate::units;

/// Says where the dome stands.
pub(crate) struct Encoder {
    degrees: f64,
}

impl Encoder {
    pub(super) fn at(degrees: f64) -> Self {
        Encoder { degrees }
    }

    pub(crate) fn degrees(&self) -> f64 {
        self.degrees
    }

    pub(crate) fn moved(&mut self, by: f64) {
        self.degrees = units::wrap(self.degrees + by);
    }
}
