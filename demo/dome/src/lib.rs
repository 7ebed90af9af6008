//! The dome of Hilltop Observatory: what turns it, what keeps it shut, and whose night it is.

#[macro_use]
mod macros;

pub mod booking;
pub mod control;
mod encoder;
pub mod forecast;
pub mod log;
pub mod motor;
pub mod night;
pub mod rain;
pub mod shutter;
pub mod slot;
mod units;
pub mod wind;

pub use control::{Control, Refusal};
pub use night::Night;

/// What most programs need.
pub mod prelude {
    pub use crate::control::Control;
    pub use crate::night::*;
    pub use crate::wind::Wind;
}
