//! The engine against engine.md: cases by hand, a second interpreter, and properties.

mod cases;
mod episodes;
mod harness;
mod interpreter;
mod maps_by_hand;
mod motion;
mod properties;
mod random;
mod ranges;
mod rates;
mod shrink;
mod switching;
mod texts;
mod triggers;
mod triggers_by_hand;
mod values;
mod waiting;
mod why;
mod world;
