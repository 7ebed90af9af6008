//! Makes a key for tokens.
use nights::utils::b64;

fn main() {
    println!("key = {}", b64::encode(&nights::crypt::fresh_key(7)));
}
