//! The built program, driven on files in a temporary folder.

mod arrows;
mod bounds;
mod checking;
mod commands;
mod editing;
mod faults;
mod harness;
mod keeping;
mod kills;
mod misleading;
mod play;
mod prose;
mod seeing;
mod standards;
mod why;
mod writing;
