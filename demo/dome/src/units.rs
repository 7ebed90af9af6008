//! Angles and speeds.

/// Keeps a value between two others.
pub fn between(value: f64, low: f64, high: f64) -> f64 {
    value.max(low).min(high)
}

/// Brings an angle between 0 and 360 degrees.
pub(crate) fn wrap(degrees: f64) -> f64 {
    degrees.rem_euclid(360.0)
}
