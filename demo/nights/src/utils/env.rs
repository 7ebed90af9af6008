pub(crate) fn get_or(name: &str, or: &str) -> String { std::env::var(name).unwrap_or_else(|_| or.into()) }
