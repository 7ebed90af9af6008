//! An hour of a [`Night`](super::night::Night).

/// An hour.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Slot {
    pub(super) hour: u32,
    pub(crate) guest: Option<String>,
}

impl Slot {
    pub(crate) fn free(hour: u32) -> Self {
        Slot { hour, guest: None }
    }

    /// Gives the hour.
    pub fn hour(&self) -> u32 {
        self.hour
    }
}
