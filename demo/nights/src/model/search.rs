use regex::Regex;

use super::Store;

pub fn find(store: &Store, pattern: &str) -> Vec<u32> {
    let Ok(re) = Regex::new(pattern) else { return vec![] };
    store.nights.iter().filter(|n| re.is_match(&n.number.to_string())).map(|n| n.number).collect()
}
