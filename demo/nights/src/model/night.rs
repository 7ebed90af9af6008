use serde::Serialize;

use super::base::{Error, Store};

#[derive(Debug, Clone, Serialize, PartialEq)]
pub struct Night { pub number: u32, pub(crate) free: bool }

impl Night {
    pub(crate) fn new(number: u32) -> Night { Night { number, free: true } }
    pub fn get(store: &Store, number: u32) -> Result<&Night, Error> {
        store.nights.iter().find(|n| n.number == number).ok_or(Error::NotThere(number))
    }
}
