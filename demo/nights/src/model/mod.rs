//! Nights and who has booked them.
mod base;
pub mod booking;
pub mod night;
#[cfg(feature = "search")]
pub mod search;

pub use base::{Error, Store};
