//! Devices that come and go, players who join and leave, and controls that are caught.

use super::Hands;
use crate::base::{ControlKind, Device, Seat, Time};
use crate::engine::Refused;
use crate::seats::Caught;

impl Hands {
    /// A device is there from now on, or goes away: [`Seats::plug`](crate::Seats::plug), [`Seats::unplug`](crate::Seats::unplug).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::{Class, Device, Seat};
    /// hands.plug(Time::from_millis(1), Device { class: Class::Pad, number: 0 }, true)?;
    /// hands.plug(Time::from_millis(2), Device { class: Class::Pad, number: 0 }, false)?;
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
    ///
    /// # Errors
    /// When the plan knows no such class, or a class no such device.
    pub fn plug(&mut self, at: Time, device: Device, plugged: bool) -> Result<(), Refused> {
        self.with(|seats, tell| match plugged {
            true => seats.plug(at, device, tell),
            false => seats.unplug(at, device, tell),
        })
    }

    /// A device is handed to a seat: [`Seats::give`](crate::Seats::give).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::{Class, Device, Seat};
    /// hands.give(Time::from_millis(1), Device { class: Class::Pad, number: 0 }, Seat::FIRST)?;
    /// assert_eq!(hands.owner(Device { class: Class::Pad, number: 0 }), Some(Seat::FIRST));
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
    ///
    /// # Errors
    /// When there is no such device, or no such seat.
    pub fn give(&mut self, at: Time, device: Device, seat: Seat) -> Result<(), Refused> {
        self.with(|seats, tell| seats.give(at, device, seat, tell))
    }

    /// A player leaves: [`Seats::leave`](crate::Seats::leave).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::{Class, Device, Seat};
    /// hands.give(Time::from_millis(1), Device { class: Class::Pad, number: 0 }, Seat::FIRST)?;
    /// hands.leave(Time::from_millis(2), Seat::FIRST)?;
    /// assert_eq!(hands.owner(Device { class: Class::Pad, number: 0 }), None);
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
    ///
    /// # Errors
    /// When there is no such seat, or it is the only one.
    pub fn leave(&mut self, at: Time, seat: Seat) -> Result<(), Refused> {
        self.with(|seats, tell| seats.leave(at, seat, tell))
    }

    /// Devices join by invitation up to a moment: [`Seats::invite`](crate::Seats::invite).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::Seat;
    /// hands.invite(Time::from_millis(0));
    /// hands.invite(Time::from_millis(1000));
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// // It joined, and that press did nothing else.
    /// assert_eq!(hands.owner(harmonym_runtime::Device { class: harmonym_runtime::Class::Key, number: 0 }), Some(harmonym_runtime::Seat::FIRST));
    /// ```
    pub fn invite(&mut self, until: Time) {
        self.seats.invite(until);
    }

    /// Devices join by being pressed: [`Seats::join_freely`](crate::Seats::join_freely).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// hands.invite(Time::from_millis(0));
    /// hands.join_freely();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert!(hands.owner(harmonym_runtime::Device { class: harmonym_runtime::Class::Key, number: 0 }).is_some());
    /// ```
    pub fn join_freely(&mut self) {
        self.seats.join_freely();
    }

    /// Whose a device is, also while it is not there.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::{Class, Device, Seat};
    /// assert_eq!(hands.owner(Device { class: Class::Pad, number: 0 }), None);
    /// ```
    pub fn owner(&self, device: Device) -> Option<Seat> {
        self.seats.owner(device)
    }

    /// A control is caught for a rebinding screen: [`Seats::catch`](crate::Seats::catch).
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// # use harmonym_runtime::Seat;
    /// let mut hands = game.hands(1);
    /// hands.catch(harmonym_runtime::Seat::FIRST, &[harmonym_runtime::ControlKind::Button])?;
    /// hands.report(Time::from_millis(3), key, true)?;
    /// hands.report(Time::from_millis(90), key, false)?;
    /// assert_eq!(hands.caught().map(|caught| caught.contact), Some(key));
    /// # Ok::<(), harmonym_runtime::Refused>(())
    /// ```
    ///
    /// # Errors
    /// When there is no such seat.
    pub fn catch(&mut self, seat: Seat, kinds: &[ControlKind]) -> Result<(), Refused> {
        self.seats.catch(seat, kinds)
    }

    /// The control that was meant, once there is one.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.caught(), None);
    /// ```
    pub fn caught(&mut self) -> Option<Caught> {
        self.seats.caught()
    }

    /// Nothing is caught any more.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Seat;
    /// hands.catch(Seat::FIRST, &[harmonym_runtime::ControlKind::Button]).unwrap();
    /// hands.stop_catching();
    /// assert_eq!(hands.caught(), None);
    /// ```
    pub fn stop_catching(&mut self) {
        self.seats.stop_catching();
    }
}
