mod common;

use dome_control::{rain::Rain, wind, Control, Refusal};

#[test]
fn a_booked_night_begins() {
    let line = Control::default().begin(&common::booked(), &wind::Wind { speed: 2.0 }, Rain::Dry).unwrap();
    assert_eq!(line, "dome: night 1 is open at 40 degrees");
}

#[test]
fn wind_keeps_the_dome_shut() {
    let storm = wind::Wind::read("wind 20").unwrap();
    assert_eq!(Control::default().begin(&common::booked(), &storm, Rain::Dry), Err(Refusal::Wind));
}
