//! The sensor for rain.

/// Whether rain falls.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rain {
    Dry,
    Falls,
}

impl From<bool> for Rain {
    fn from(wet: bool) -> Self {
        if wet {
            Rain::Falls
        } else {
            Rain::Dry
        }
    }
}
