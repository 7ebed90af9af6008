//! Who has booked which hour.

use crate::{
    night::Night,
    slot::{self, Slot},
};

/// Books the first free hour of a night for a guest.
pub fn book<'a>(night: &'a mut Night, guest: &str) -> Option<&'a slot::Slot> {
    let free: &mut Slot = night.slots.iter_mut().find(|slot| slot.guest.is_none())?;
    free.guest = Some(guest.to_string());
    Some(free)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_first_free_hour_is_taken() {
        let mut night = Night::new(7, 2);
        assert_eq!(book(&mut night, "Ada").map(|slot| slot.hour), Some(0));
        assert_eq!(book(&mut night, "Bo").map(Slot::hour), Some(1));
        assert_eq!(book(&mut night, "Cy"), None);
    }
}
