//! The numbers that most parts have: where they are written, they are left out.

use crate::base::limits::OFF_SHARE;

/// The level of a button, and of most of what is bound to one.
const LEVEL: f64 = 0.55;

pub fn wake() -> f64 {
    LEVEL
}

pub fn down() -> f64 {
    LEVEL
}

pub fn up() -> f64 {
    LEVEL * OFF_SHARE
}

pub fn factor() -> f64 {
    1.0
}

pub fn is_wake(level: &f64) -> bool {
    *level == wake()
}

pub fn is_down(level: &f64) -> bool {
    *level == down()
}

pub fn is_up(level: &f64) -> bool {
    *level == up()
}

pub fn is_factor(factor: &f64) -> bool {
    *factor == self::factor()
}
