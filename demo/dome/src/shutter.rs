//! The shutter: it opens only while the [wind](crate::wind::Wind) and the [rain](super::rain) let it.

use super::*;

/// The shutter.
#[derive(Debug, Default)]
pub struct Shutter {
    open: bool,
}

impl Shutter {
    /// Opens the shutter, if the weather lets it.
    pub fn open(&mut self, wind: &wind::Wind, rain: rain::Rain) -> Result<(), Refusal> {
        if !wind.calm() {
            return Err(Refusal::Wind);
        }
        if rain == rain::Rain::Falls {
            return Err(Refusal::Rain);
        }
        self.open = true;
        Ok(())
    }

    /// Says whether the shutter is open.
    pub fn is_open(&self) -> bool {
        self.open
    }
}
