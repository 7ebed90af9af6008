/// Clamps a value between two others.
macro_rules! clamp {
    ($value:expr, $low:expr, $high:expr) => {
        $crate::units::between($value, $low, $high)
    };
}
