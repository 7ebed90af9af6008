use super::Request;
use crate::crypt::token::Token;
use crate::utils::time::Stamp;

pub(super) fn who(request: &Request) -> crate::Result<Option<String>> {
    let Some(text) = &request.token else { return Ok(None) };
    Ok(Token::check(text, Stamp::at(1)).map(|t| Some(t.who))?)
}
