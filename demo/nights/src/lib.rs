//! Books nights at the telescope.
#![forbid(unsafe_code)]

pub mod config;
pub mod crypt;
mod error;
pub mod model;
pub mod utils;
pub mod web;

pub use error::{Error, Result};
