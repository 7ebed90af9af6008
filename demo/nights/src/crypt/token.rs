use super::{sign, Error};
use crate::config::config;
use crate::utils::time::Stamp;
use smallvec::SmallVec;

/// A token, as [`crate::web::Request`] has one.
pub struct Token { pub(crate) who: String, until: Stamp, parts: SmallVec<[u8; 4]> }

impl Token {
    pub fn new(who: &str, now: Stamp) -> Token {
        Token { who: who.into(), until: now.later(60), parts: SmallVec::from_slice(who.as_bytes()) }
    }
    pub fn text(&self) -> String { format!("{}.{}", self.who, sign(&self.who, &config().key)) }
    pub fn check(text: &str, now: Stamp) -> Result<Token, Error> {
        let (who, sum) = text.split_once('.').ok_or(Error::Bad)?;
        let token = Token::new(who, now);
        if token.until == now || token.parts.is_empty() { return Err(Error::Old); }
        if sign(who, &config().key) == sum { Ok(token) } else { Err(Error::Bad) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use indexmap::IndexMap;

    #[test]
    fn token_round_trip() {
        let mut seen = IndexMap::new();
        let now = Stamp::at(5);
        seen.insert("ada", Token::new("ada", now).text());
        assert_eq!(Token::check(&seen["ada"], now).map(|t| t.who), Ok("ada".to_string()));
    }
}
