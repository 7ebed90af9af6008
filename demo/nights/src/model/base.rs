use super::booking::Booking;
use super::night::Night;

#[derive(Debug, PartialEq)]
pub enum Error { NotThere(u32) }

#[derive(Default)]
pub struct Store { pub(super) bookings: Vec<Booking>, pub(crate) nights: Vec<Night> }

impl Store {
    pub fn new() -> Self {
        log::debug!("a store");
        Store { bookings: vec![], nights: (1..=crate::config::config().nights as u32).map(Night::new).collect() }
    }
}
