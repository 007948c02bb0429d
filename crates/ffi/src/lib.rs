//! The C interface: how hands become actions, for games in any language.
//!
//! `include/harmonym.h` has every call with its meaning; a Rust game uses `harmonym-lang` instead.
//!
//! Guarantees: a handle is a number that stands for something or for nothing any more, never an address; every call
//! returns a status; no panic leaves a call; a null pointer, one that is not aligned, a text that is none and
//! an id of nothing are told and change nothing. What no library can find out stays with the caller: that
//! a pointer leads to as much memory as the call says.

#![allow(non_camel_case_types, reason = "types are called as C calls them")]

mod game;
mod handles;
mod hands;
mod players;
mod pointers;
#[cfg(feature = "profiles")]
mod profiles;
mod status;
#[cfg(feature = "tools")]
mod tools;
mod types;

pub use game::*;
pub use hands::*;
pub use players::*;
#[cfg(feature = "profiles")]
pub use profiles::*;
pub use status::*;
#[cfg(feature = "tools")]
pub use tools::*;
pub use types::*;
