//! What is asked over the wire.
mod auth;
pub mod routes;

use crate::model::Store;
use crate::{Error, Result};

pub struct Request { pub path: String, pub token: Option<String> }

pub fn answer(store: &Store, request: &Request) -> Result<routes::Reply> {
    let who = auth::who(request)?;
    if cfg!(feature = "loud") { eprintln!("{}", request.path); }
    match request.path.strip_prefix("/nights/") {
        Some(number) => routes::night(store, number, who),
        None => Err(Error::NoSuchPlace(request.path.clone())),
    }
}
