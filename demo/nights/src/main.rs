use nights::config::config;
use nights::web::{self, Request};

fn main() -> nights::Result<()> {
    let conf = config();
    log::info!("{} nights", conf.nights);
    let store = nights::model::Store::new();
    let reply = web::answer(&store, &Request { path: "/nights/3".into(), token: None })?;
    println!("{}", serde_json::to_string(&reply).unwrap_or_default());
    println!("{}", web::answer(&store, &Request { path: "/nope".into(), token: Some("x".into()) }).unwrap_err());
    Ok(())
}
