//! A night at the telescope.

use crate::slot::Slot;

/// A night, by its number in the year.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Night {
    pub number: u32,
    pub(crate) slots: Vec<Slot>,
}

impl Night {
    /// Makes a night with some slots of an hour.
    pub fn new(number: u32, hours: u32) -> Self {
        Night { number, slots: (0..hours).map(Slot::free).collect() }
    }
}
