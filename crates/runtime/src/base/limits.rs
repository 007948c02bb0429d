//! The numbers that say when something counts. Every stage reads them from here.

use super::Time;

/// From this magnitude on, a control or part is pressed: for a `+`, and for the scheme in use.
pub const PRESSED: f64 = 0.5;
/// From this magnitude on, a control is held when its map opens, when a claim on it ends or when the game
/// goes on: it may be on its way home, and what rests is well under it.
pub const HELD: f64 = 0.2;
/// Under this it is let go: what was held counts again, and a `+` hides nothing of it any more.
pub const LET_GO: f64 = 0.15;
/// From here `not` and `toggle` take their input as on.
pub const ON: f64 = 0.5;
/// Under this they take it as off.
pub const OFF: f64 = 0.4;
/// Without an `off`, a `switch-at` is off under this share of its `on`.
pub const OFF_SHARE: f64 = 0.8;
/// What a stick or lever may report while nobody touches it.
pub const IDLE: f64 = 0.08;
/// Up to this magnitude a value is at 0; components farther apart than this differ.
pub const AT_REST: f64 = 1e-6;
/// Magnitudes no farther apart than this are a tie.
pub const TIE: f64 = 1e-9;
/// So much relative movement, in counts, within [`MOVED_WITHIN`] tells that a device is in use.
pub const MOVED: f64 = 12.0;
/// Within so long.
pub const MOVED_WITHIN: Time = Time::from_millis(250);
/// No value is ever larger than this.
pub const MOST: f64 = 1e15;
