use super::{Error, Store};
use crate::model::night::Night;

pub struct Booking { pub who: String, pub night: u32 }

impl Booking {
    pub fn make(store: &mut Store, who: &str, number: u32) -> Result<(), Error> {
        Night::get(store, number)?;
        store.bookings.push(Booking { who: who.into(), night: number });
        Ok(())
    }
    pub fn count(store: &Store) -> usize { store.bookings.len() }
}
