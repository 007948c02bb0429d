//! Packs: a plan as JSON Lines (jsonlines.org, RFC 8259), for games that read no profiles.
//!
//! Guarantees: [`read`] gives the plan that [`write()`] was given, or says at which line there is none;
//! whatever it is given, no plan comes out that [`Plan::new`](crate::plan::Plan::new) did not look through.
#![deny(clippy::unwrap_used, clippy::expect_used, clippy::panic)]
#![deny(clippy::print_stdout, clippy::print_stderr)]

pub mod line;
mod read;
mod write;

pub use read::read;
pub use write::write;

use std::fmt;

/// The version of the format.
const VERSION: u32 = 1;

/// What is wrong with a pack, and where.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Torn {
    /// The line, from 1; of what is wrong with the whole, the last.
    pub line: usize,
    /// What is wrong.
    pub message: String,
}

impl fmt::Display for Torn {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "line {}: {}", self.line, self.message.escape_debug())
    }
}

impl std::error::Error for Torn {}
