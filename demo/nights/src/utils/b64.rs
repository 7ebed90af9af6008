/// Writes bytes as text.
///
/// ```
/// assert_eq!(nights::utils::b64::decode(&nights::utils::b64::encode(b"ab")), b"ab");
/// ```
pub fn encode(bytes: &[u8]) -> String { bytes.iter().map(|b| format!("{b:02x}")).collect() }

pub fn decode(text: &str) -> Vec<u8> {
    text.as_bytes().chunks(2).map(|c| u8::from_str_radix(std::str::from_utf8(c).unwrap_or("0"), 16).unwrap_or(0)).collect()
}
