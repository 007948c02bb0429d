//! The small language of bindings, steps and fire rules: text to trees.
//!
//! Guarantees to every later stage: each node carries its place in the file; numbers are finite
//! and in base units (shares, radians, seconds); what has a fault is in the diagnostics and has no
//! tree.

mod binding;
mod cursor;
mod fire;
mod lexer;
mod print;
mod tree;

pub use print::print_steps;
pub use tree::{
    Alternative, Arg, ArgValue, Binding, Combination, Condition, Fire, Guard, GuardWord, Head,
    Number, Part, Step, Unit, Word,
};

use crate::report::Diagnostics;
use crate::source::Quoted;
use cursor::{Cursor, Holds};

/// Reads a binding: `four(key.KeyW, …) | scale 0.5`. `None` when it has a fault of form.
pub fn parse_binding(text: &Quoted, diagnostics: &mut Diagnostics) -> Option<Binding> {
    Cursor::new(text, Holds::Binding, diagnostics).whole(binding::binding)
}

/// Reads a chain of steps: `deadzone 0.1 | curve 1.6`. `None` when it has a fault of form.
pub fn parse_steps(text: &Quoted, diagnostics: &mut Diagnostics) -> Option<Vec<Step>> {
    Cursor::new(text, Holds::Steps, diagnostics).whole(binding::steps)
}

/// A cue with its numbers, without guards, as it is printed: one space where there are some. `None`
/// when the text is no cue alone.
pub fn print_cue(text: &str) -> Option<String> {
    let mut fire = parse_fire(&Quoted::bare(text), &mut Diagnostics::new())?;
    let is_alone = matches!(&fire.alternatives[..], [one] if one.guards.is_empty());
    fire.alternatives.truncate(1);
    is_alone.then(|| fire.to_string())
}

/// Reads a fire rule: `press or hold 0.8s`. `None` when it has a fault of form.
pub fn parse_fire(text: &Quoted, diagnostics: &mut Diagnostics) -> Option<Fire> {
    Cursor::new(text, Holds::Fire, diagnostics).whole(fire::fire)
}
