//! Decides how hands become actions.
//!
//! A *profile* names the deeds of a game (actions), groups it by situation (maps), binds
//! controls to it (bindings in schemes), shapes each value (steps) and says when it fires (fire
//! rules). This library reads profiles, finds their faults, and runs them on what devices report.
//! It never touches a terminal, a file, a clock or a network.
//!
//! ```
//! use harmonym_core::base::{Time, Vector};
//! use harmonym_core::{controls::{Catalogue, Contact}, engine::Engine, load, source::Source};
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
pub mod check;
pub mod compile;
pub mod controls;
pub mod engine;
pub mod lang;
pub mod model;
pub mod plan;
pub mod profile;
pub mod report;
pub mod resolve;
pub mod score;
pub mod source;
pub mod take;
pub mod trace;

use report::{Finding, Findings};

/// Reads, resolves and compiles a profile.
///
/// # Errors
/// Everything that is wrong with it, in order of place.
pub fn load(source: &source::Source) -> Result<(model::Profile, plan::Plan), Vec<Finding>> {
    let mut findings = Findings::new();
    let raw = profile::read(source, &mut findings);
    let model = resolve::resolve(&raw, &mut findings);
    findings.drop_follow_ups(raw.broken);
    match model.filter(|_| findings.is_empty()) {
        Some(model) => {
            let plan = compile::compile(&model, controls::Layout::default());
            Ok((model, plan))
        }
        None => Err(findings.sorted_in(source)),
    }
}
