//! Text to plan: reads profiles, finds their faults, and compiles what is sound.
//!
//! A *profile* names the deeds of a game (actions), groups them by situation (maps), binds
//! controls to them (bindings in schemes), shapes each value (steps) and says when each action fires
//! (fire rules). A game holds one as a [`Game`]; [`load`] makes of it the model, for looking at, and the
//! plan, for running. No terminal, file, clock or network is ever touched.

pub mod compile;
pub mod game;
mod load;
pub mod model;
pub mod player;
pub mod profile;
pub mod report;
pub mod resolve;
pub mod source;
pub mod syntax;

pub use game::Game;
pub use harmonym_runtime as runtime;
pub use load::load;

/// The Rust of the guide's page is compiled.
#[cfg(doctest)]
#[doc = include_str!("../../../docs/guide/game.md")]
struct Guide;
