use nights::model::{booking::Booking, Store};

#[test]
fn books() {
    let mut store = Store::new();
    Booking::make(&mut store, "ada", 3).unwrap();
    assert_eq!(Booking::count(&store), 1);
}

#[cfg(feature = "search")]
#[test]
fn finds() {
    assert_eq!(nights::model::search::find(&Store::new(), "^1$"), [1]);
}
