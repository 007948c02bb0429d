//! What a game links: the engine that turns what devices report into actions.
//!
//! A *plan*, made of a profile by `harmonym-lang`, says all there is to know of actions, maps and
//! bindings; an [`engine::Engine`] runs it on reports and ticks. No terminal, file, clock or network
//! is ever touched, and after the first tick nothing is allocated.
//!
//! ```
//! use harmonym_runtime::base::{Time, Vector};
//! use harmonym_lang::{load, source::Source};
//! use harmonym_runtime::{base::Contact, controls::Catalogue, engine::Engine};
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
//! let key = Catalogue::built_in().reported_id("key.KeyH").unwrap();
//!
//! let mut engine = Engine::new(Arc::new(plan));
//! engine.start(None, &mut |_| {});
//! // Down and up again, both between two frames:
//! engine.report(Time::from_millis(3), Contact::first(key), Vector::axis(1.0), &mut |_| {});
//! engine.report(Time::from_millis(9), Contact::first(key), Vector::axis(0.0), &mut |_| {});
//! engine.tick(Time::from_millis(16), &mut |_| {});
//! assert_eq!(engine.read(hail).fired, 1);
//! ```

pub mod base;
pub mod controls;
pub mod engine;
pub mod plan;
