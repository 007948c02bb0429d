//! One run in time, as lanes, and what one binding makes of raw values.

mod curve;
mod lanes;
mod timeline;
mod turned;

pub use curve::{Curve, Reach};
pub use lanes::{Lane, Lanes, Mark, State};
pub use timeline::{Change, ControlLane, Stay, Timeline};
pub use turned::Drawn;
