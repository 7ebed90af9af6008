use crate::model::{night::Night, Store};
use crate::{error::Error, Result};
use serde::Serialize;

#[derive(Debug, Serialize)]
pub struct Reply { pub night: Night, pub who: Option<String> }

pub fn night(store: &Store, number: &str, who: Option<String>) -> Result<Reply> {
    let number = number.parse().map_err(|_| Error::NoSuchPlace(number.into()))?;
    Ok(Reply { night: Night::get(store, number)?.clone(), who })
}
