//! Takes: recorded hands, read line by line, and the run that plays them.
//!
//! Guarantees to every later stage: inputs come in order of time, each names a control that a
//! device reports itself, no value is NaN or infinite. A take is never held whole.

mod control;
mod devices;
mod fault;
mod header;
pub mod limits;
mod line;
mod quick;
mod read;
mod replay;
mod run;
mod write;

pub(crate) use devices::device;
pub use header::Header;
pub use read::Reader;
pub use replay::Replay;
pub use run::{End, Playing, Run, Watcher};
pub use write::{write_header, write_input};

use harmonym_runtime::Hands;
use harmonym_runtime::base::{Contact, Device, MapId, SchemeId, Seat, Time, VariableId, Vector};
use harmonym_runtime::engine::Refused;
use harmonym_runtime::seats::{Hear, Seats};

/// Something that happens at a moment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Input {
    /// When.
    pub t: Time,
    /// What.
    pub what: What,
}

/// What a line says to who drives the ticks too.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Step {
    /// Something happens.
    Input(Input),
    /// One frame of the game is over.
    Tick(Time),
}

/// What happens to the seats.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum What {
    /// A device reports a control; of what is relative, what it moved by.
    Report(Contact, Vector),
    /// A setting or fact becomes a number, in its own unit; a switch 1 or 0. For one seat, or for all.
    Number(Option<Seat>, VariableId, f64),
    /// The game opens a map, or closes it, for one seat or for all.
    Map(Option<Seat>, MapId, bool),
    /// The game is paused, or goes on.
    Pause(bool),
    /// The game narrows the bindings to those of one scheme, or lets all count; for one seat, or for all.
    Narrow(Option<Seat>, Option<SchemeId>),
    /// A device is there from now on, or goes away.
    Plug(Device, bool),
    /// A device is handed to a seat.
    Give(Device, Seat),
}

impl Input {
    /// Gives it to a game's hands.
    ///
    /// # Errors
    /// When they refuse it: never, if it was read from a score or take for the same plan.
    pub fn give_to(&self, hands: &mut Hands) -> Result<(), Refused> {
        hands.with(|seats, tell| self.give(seats, tell))
    }

    /// Gives it to the seats.
    ///
    /// # Errors
    /// When they refuse it: never, if it was read from a score or take for the same plan.
    pub fn give(&self, seats: &mut Seats, tell: &mut (impl Hear + ?Sized)) -> Result<(), Refused> {
        let t = self.t;
        match self.what {
            What::Report(contact, value) => seats.report(t, contact, value, tell),
            What::Number(seat, id, value) => seats.set_number(t, seat, id, value, tell),
            What::Map(seat, map, open) => seats.set_open(t, seat, map, open, tell),
            What::Narrow(seat, scheme) => seats.narrow(t, seat, scheme, tell),
            What::Plug(device, true) => seats.plug(t, device, tell),
            What::Plug(device, false) => seats.unplug(t, device, tell),
            What::Give(device, seat) => seats.give(t, device, seat, tell),
            What::Pause(paused) => {
                seats.pause(t, paused, tell);
                Ok(())
            }
        }
    }
}
