use crate::utils::env::get_or;
use std::sync::OnceLock;

pub struct Config {
    pub(crate) key: Vec<u8>,
    pub nights: usize,
}

pub fn config() -> &'static Config {
    static ONCE: OnceLock<Config> = OnceLock::new();
    ONCE.get_or_init(|| Config { key: crate::utils::b64::decode(&get_or("KEY", "aGV5")), nights: 30 })
}
