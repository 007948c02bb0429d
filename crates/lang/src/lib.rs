//! Text to plan: reads profiles, finds their faults, and compiles what is sound.
//!
//! A *profile* names the deeds of a game (actions), groups them by situation (maps), binds
//! controls to them (bindings in schemes), shapes each value (steps) and says when each action fires
//! (fire rules). [`load`] makes of it the model, for looking at, and the plan, for running. No
//! terminal, file, clock or network is ever touched.

pub mod compile;
pub mod model;
pub mod profile;
pub mod report;
pub mod resolve;
pub mod source;
pub mod syntax;

pub use harmonym_runtime as runtime;

use harmonym_runtime::{controls, plan};
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
