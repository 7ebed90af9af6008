use serde::{Deserialize, Serialize};

#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Stamp(pub(crate) u64);

impl Stamp {
    pub fn at(n: u64) -> Stamp { Stamp(n) }
    pub(crate) fn later(self, by: u64) -> Stamp { Stamp(self.0 + by) }
}
