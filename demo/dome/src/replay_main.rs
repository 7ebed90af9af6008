use dome_control::{motor::Motor, shutter};

fn main() {
    let mut motor = Motor::new();
    for step in 1..=3 {
        println!("{step}: {:.0}", motor.turn(350.0, 1.0));
    }
    println!("{:?}", shutter::Shutter::default());
}
