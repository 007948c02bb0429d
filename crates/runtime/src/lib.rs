//! What a game links: the engine that turns what devices report into actions.
//!
//! A *plan*, made of a profile by `harmonym-lang`, says all there is to know of actions, maps and
//! bindings; an [`engine::Engine`] runs it on reports and ticks. No terminal, file, clock or network
//! is ever touched, and after the first tick nothing is allocated.
//!
//! ```
//! use harmonym_lang::{load, source::Source};
//! use harmonym_runtime::{Contact, Engine, Start, Time, Vector};
//! use std::sync::Arc;
//!
//! let text = r#"
//! harmonym = 1
//! scheme.desk.devices = ["key"]
//! [map.quay]
//! start = true
//! [map.quay.hail]
//! value = "switch"
//! bind.desk = "key.KeyH"
//! "#;
//! let (_, plan) = load(&Source::new("harmonym.toml", text)).expect("a sound profile");
//! let hail = plan.find_action("quay.hail").unwrap();
//! let key = Contact::first(plan.find_control("key.KeyH").unwrap());
//!
//! let tell = &mut |_| {};
//! let mut engine = Engine::start(Arc::new(plan), Start::default(), tell);
//! // Down and up again, both between two frames:
//! engine.report(Time::from_millis(3), key, Vector::axis(1.0), tell).unwrap();
//! engine.report(Time::from_millis(9), key, Vector::axis(0.0), tell).unwrap();
//! assert_eq!(engine.tick(Time::from_millis(16), tell).fired(hail), 1);
//! ```

pub mod base;
pub mod controls;
pub mod engine;
pub mod hands;
#[cfg(feature = "pack")]
pub mod pack;
pub mod plan;
pub mod seats;

pub use base::{
    ActionId, BindingId, Class, Component, Contact, ControlId, ControlKind, Device, Kind, MapId,
    Rate, SchemeId, Seat, Time, VariableId, Vector,
};
pub use controls::{Catalogue, Layout};
pub use engine::{
    Cause, Edges, Engine, EpisodeState, Event, EventKind, Frame, Notice, Reader, Reading, Refused,
    Start,
};
pub use hands::{EventReader, Events, Hands};
pub use plan::{Plan, Prompt, Unknown, Unsound};
pub use seats::{Caught, Seats, Told};
