//! What the weather may be like at most.

pub(crate) mod parse;

/// The limits, as they are shipped.
const LIMITS: &str = include_str!("../../data/limits.txt");

/// Gives a limit by its name.
pub fn limit(name: &str) -> Option<f64> {
    LIMITS.lines().find_map(|line| parse::field(line, name))
}
