//! What all use.
pub mod b64;
pub(crate) mod env;
pub mod time;
