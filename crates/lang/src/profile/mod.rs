//! The profile file: the one table of what may be written in it, and TOML to raw values.
//!
//! Guarantees to every later stage: each raw value has the TOML type that its key asks for and
//! its place in the file; each key is known; maps, actions and bindings come in file order. What
//! the texts say is not looked at here.

mod broken;
pub mod controls;
pub mod cues;
pub mod number;
mod raw;
mod read;
pub mod steps;
pub mod table;
mod toml_value;
pub mod tried;

pub(crate) use broken::not_toml;
pub use raw::{Action, Binding, Default, Device, Levels, Map, Preset, Profile, Scheme, Variable};
pub use read::read;
pub(crate) use toml_value::{Reader, Value, entries};
