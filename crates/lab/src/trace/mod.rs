//! One run in time, as lanes, and what one binding makes of raw values.

mod around;
mod curve;
mod lanes;

pub use around::{ControlLane, Timeline};
pub use curve::{Curve, Reach};
pub use lanes::{Lane, Lanes, Mark, State};
