//! How things are shown.

pub mod action;
pub mod coverage;
pub mod curve;
pub mod diagnostics;
pub mod diff;
pub mod events;
pub mod json;
pub mod junit;
pub mod lanes;
pub mod lines;
pub mod player;
pub mod profile;
pub mod prompt;
pub mod sarif;
pub mod shown;
pub mod summary;
pub mod sweep;
pub mod table;
pub mod tests;
pub mod why;

use harmonym_runtime::base::Seat;
use std::borrow::Cow;

/// What somebody's thing is called: its name alone where one plays.
pub fn of_seat(seat: Option<Seat>, name: &str) -> Cow<'_, str> {
    match seat {
        None => Cow::Borrowed(name),
        Some(seat) => Cow::Owned(format!("seat {seat} {name}")),
    }
}
