//! The engine against engine.md: cases by hand, a second interpreter, and properties.

#[path = "../gate/mod.rs"]
mod gate;

mod alone;
mod boundaries;
mod cases;
mod changes;
mod claims;
mod cues;
mod cues_by_hand;
mod damage;
mod devices;
mod episodes;
mod harness;
mod held;
mod in_use;
mod interpreter;
mod looks;
mod maps_by_hand;
mod motion;
mod once_failed;
mod plain;
mod properties;
mod random;
mod ranges;
mod rates;
mod readings;
mod rebinding;
mod rests;
mod seats;
mod shares;
mod short_ways;
mod shrink;
mod switching;
mod texts;
mod trials;
mod values;
mod waiting;
mod why;
mod world;
