use super::sign;

pub fn hash(clear: &str, salt: &[u8]) -> String { format!("#01#{}", sign(clear, salt)) }
