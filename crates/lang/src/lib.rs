//! Text to plan: reads profiles, finds their faults, and compiles what is sound.
//!
//! A *profile* names the deeds of a game (actions), groups them by situation (maps), binds
//! controls to them (bindings in schemes), shapes each value (steps) and says when each action fires
//! (fire rules). [`load`] makes of it the model, for looking at, and the plan, for running. No
//! terminal, file, clock or network is ever touched.

pub mod compile;
pub mod model;
pub mod player;
pub mod profile;
pub mod report;
pub mod resolve;
pub mod source;
pub mod syntax;

pub use harmonym_runtime as runtime;

use harmonym_runtime::{controls, plan};
use report::{Diagnostics, Faults};

/// Reads, resolves and compiles a profile.
///
/// ```
/// use harmonym_lang::{load, source::Source};
///
/// fn actions(text: &str) -> Result<usize, Box<dyn std::error::Error>> {
///     let (profile, _plan) = load(&Source::new("harmonym.toml", text))?;
///     Ok(profile.actions.len())
/// }
///
/// let fault = actions("harmonym = 1\n[map.quay.hail]\nvalue = \"swich\"\n").unwrap_err();
/// let told = "harmonym.toml:3:9: `swich` is not a kind of value; did you mean `switch`?";
/// assert_eq!(fault.to_string(), told);
/// ```
///
/// # Errors
/// Everything that is wrong with it, in order of place: with `?` it becomes a line for each, and
/// [`Faults::list`] gives each with its span.
pub fn load(source: &source::Source) -> Result<(model::Profile, plan::Plan), Faults> {
    let mut diagnostics = Diagnostics::new();
    let raw = profile::read(source, &mut diagnostics);
    let model = resolve::resolve(&raw, &mut diagnostics);
    diagnostics.drop_follow_ups(raw.broken);
    match model.filter(|_| diagnostics.is_empty()) {
        Some(model) => {
            let plan = compile::compile(&model, controls::Layout::default());
            Ok((model, plan))
        }
        None => Err(diagnostics.of(source)),
    }
}
