fn main() {
    println!("{:?} {:?}", dome_control::forecast::limit("wind"), dome_control::rain::Rain::from(true));
}
