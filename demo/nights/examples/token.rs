fn main() {
    println!("{}", nights::crypt::token::Token::new("ada", nights::utils::time::Stamp::at(1)).text());
}
