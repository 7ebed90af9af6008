use std::fmt;

use crate::crypt;
use crate::model;

pub type Result<T> = core::result::Result<T, Error>;

#[derive(Debug)]
pub enum Error {
    Crypt(crypt::Error),
    Model(model::Error),
    NoSuchPlace(String),
}

impl From<crypt::Error> for Error {
    fn from(e: crypt::Error) -> Self { Self::Crypt(e) }
}

impl From<model::Error> for Error {
    fn from(e: model::Error) -> Self { Self::Model(e) }
}

impl fmt::Display for Error {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result { write!(f, "{self:?}") }
}

impl std::error::Error for Error {}
