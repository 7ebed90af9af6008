/// Gives the number behind a name.
pub(crate) fn field(line: &str, name: &str) -> Option<f64> {
    let (key, value) = line.split_once(' ')?;
    if key == name {
        value.trim().parse().ok()
    } else {
        None
    }
}
