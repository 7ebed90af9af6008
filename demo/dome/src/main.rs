use dome_control::prelude::*;
use dome_control::{booking, rain::Rain};

fn main() {
    let mut night = Night::new(42, 3);
    booking::book(&mut night, "Ada");
    let wind = Wind::read("wind 3.5").unwrap_or(Wind { speed: dome_control::motor::FASTEST });
    match Control::default().begin(&night, &wind, Rain::Dry) {
        Ok(line) => println!("{line}"),
        Err(why) => println!("shut: {why:?}"),
    }
}
