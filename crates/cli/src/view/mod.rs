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
pub mod live;
pub mod markdown;
pub mod names;
pub mod player;
pub mod profile;
pub mod prompt;
pub mod sarif;
pub mod schema;
pub mod shown;
pub mod summary;
pub mod sweep;
pub mod table;
pub mod tests;
pub mod things;
pub mod topics;
pub mod why;

use crate::escape::one_line;
use harmonym_runtime::base::{Seat, Vector, shortest};
use std::borrow::Cow;

/// An axis in space, to two digits after the point.
pub fn axis_text(axis: Vector) -> String {
    let [x, y, z] = axis.xyz().map(|c| shortest((c * 100.0).round() / 100.0 + 0.0));
    format!("({x}, {y}, {z})")
}

/// What a thing says of itself, behind its name.
fn said(about: Option<&str>) -> String {
    about.map_or(String::new(), |about| format!(": {}", one_line(about)))
}

/// What somebody's thing is called: its name alone where one plays.
pub fn of_seat(seat: Option<Seat>, name: &str) -> Cow<'_, str> {
    match seat {
        None => Cow::Borrowed(name),
        Some(seat) => Cow::Owned(format!("seat {seat} {name}")),
    }
}
