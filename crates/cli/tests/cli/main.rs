//! The built program, driven on files in a temporary folder.

mod arrows;
mod bounds;
#[cfg(target_os = "linux")]
mod browser;
mod checking;
#[cfg(unix)]
mod client;
mod commands;
mod editing;
#[cfg(unix)]
mod editor;
mod faults;
#[cfg(unix)]
mod forged;
mod generating;
#[cfg(target_os = "linux")]
mod hands;
mod harness;
mod headset;
mod helping;
mod keeping;
mod kills;
mod misleading;
mod packing;
mod piping;
mod play;
mod players;
#[cfg(target_os = "linux")]
mod pressing;
mod prose;
#[cfg(target_os = "linux")]
mod pty;
mod schemas;
mod seeing;
mod sharing;
mod standards;
#[cfg(target_os = "linux")]
mod trust;
mod why;
mod writing;
