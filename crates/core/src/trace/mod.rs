//! Across stages: what a profile and its scores say of each other.

mod around;
mod compare;
mod curve;
mod lanes;
mod scores;
mod tally;
pub mod why;

pub use around::{Around, ControlLane};
pub use compare::{Change, Difference, compare};
pub use curve::{Curve, Reach};
pub use lanes::{Lane, Lanes, Mark, State};
pub use scores::{NeverHolds, never_hold, opened};
pub use tally::{FollowsRate, Outcome, Tally, follows_rate, outcome};
