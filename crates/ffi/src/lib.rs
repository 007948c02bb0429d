//! The C interface: how hands become actions, for games in any language.
//!
//! `include/harmonym.h` has every call with its meaning; a Rust game uses `harmonym-lang` instead.
//!
//! Guarantees: a handle is a number that stands for something or for nothing any more, never an address; every call
//! returns a status; no panic leaves a call; a null pointer, one that is not aligned, a text that is none and
//! an id of nothing are told and change nothing. What no library can find out stays with the caller: that
//! a pointer leads to as much memory as the call says.

#![allow(non_camel_case_types, reason = "types are called as C calls them")]

pub mod game;
mod handles;
pub mod hands;
pub mod messages;
pub mod players;
mod pointers;
#[cfg(feature = "profiles")]
pub mod profiles;
pub mod status;
#[cfg(feature = "tools")]
pub mod tools;
pub mod types;
