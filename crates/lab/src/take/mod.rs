//! Takes: recorded hands, read line by line, and the run that plays them.
//!
//! Guarantees to every later stage: inputs come in order of time, each names a control that a
//! device reports itself, no value is NaN or infinite. A take is never held whole.

mod control;
mod fault;
mod header;
pub mod limits;
mod line;
mod quick;
mod read;
mod run;
mod write;

pub use header::Header;
pub use read::Reader;
pub use run::{End, Playing, Run, Watcher};
pub use write::{write_header, write_input};

use harmonym_runtime::base::{Contact, MapId, SchemeId, Time, VariableId, Vector};
use harmonym_runtime::engine::{Engine, Refused, Tell};

/// Something that happens at a moment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Input {
    /// When.
    pub t: Time,
    /// What.
    pub what: What,
}

/// What happens to an engine.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum What {
    /// A device reports a control; of what is relative, what it moved by.
    Report(Contact, Vector),
    /// A setting or fact becomes a number, in its own unit; a switch 1 or 0.
    Number(VariableId, f64),
    /// The game opens a map, or closes it.
    Map(MapId, bool),
    /// The game is paused, or goes on.
    Pause(bool),
    /// The game narrows the bindings to those of one scheme, or lets all count.
    Narrow(Option<SchemeId>),
}

impl Input {
    /// Gives it to an engine.
    ///
    /// # Errors
    /// When the engine refuses it: never, if it was read from a score or take for the same plan.
    pub fn give(
        &self,
        engine: &mut Engine,
        tell: &mut (impl Tell + ?Sized),
    ) -> Result<(), Refused> {
        match self.what {
            What::Report(contact, value) => engine.report(self.t, contact, value, tell),
            What::Number(variable, value) => engine.set_number(self.t, variable, value, tell),
            What::Map(map, true) => engine.open(self.t, map, tell),
            What::Map(map, false) => engine.close(self.t, map, tell),
            What::Narrow(scheme) => engine.narrow(self.t, scheme, tell),
            What::Pause(paused) => {
                engine.pause(self.t, paused, tell);
                Ok(())
            }
        }
    }
}
