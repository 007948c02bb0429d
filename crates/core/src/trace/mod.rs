//! Across stages: what a profile and its scores say of each other.

mod scores;

pub use scores::{NeverHolds, never_hold, opened};
