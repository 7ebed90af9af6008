//! What the control writes down.

/// Writes a line with the name of the module that it is about.
pub fn line(about: &str, text: &str) -> String {
    format!("{about}: {text}")
}
