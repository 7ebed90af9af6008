//! The wind at the mast.

use crate::forecast::{self, parse};

/// The wind, in metres a second.
#[derive(Debug, Clone, PartialEq)]
pub struct Wind {
    pub speed: f64,
}

impl Wind {
    /// Reads a line of the mast: `wind 4.5`.
    ///
    /// ```
    /// use dome_control::wind::Wind;
    /// assert!(Wind::read("wind 3").unwrap().calm());
    /// assert_eq!(dome_control::forecast::limit("wind"), Some(12.0));
    /// ```
    pub fn read(line: &str) -> Option<Self> {
        parse::field(line, "wind").map(|speed| Wind { speed })
    }

    /// Says whether the dome may be open.
    pub fn calm(&self) -> bool {
        self.speed < forecast::limit("wind").unwrap_or(10.0)
    }
}
