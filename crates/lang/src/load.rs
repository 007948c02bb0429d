//! The whole way from a text to a plan.

use crate::model::Profile;
use crate::report::{Diagnostics, Faults};
use crate::source::Source;
use crate::{compile, profile, resolve};
use harmonym_runtime::{Layout, Plan};

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
pub fn load(source: &Source) -> Result<(Profile, Plan), Faults> {
    let mut diagnostics = Diagnostics::new();
    let raw = profile::read(source, &mut diagnostics);
    let model = resolve::resolve(&raw, &mut diagnostics);
    diagnostics.drop_follow_ups(raw.broken);
    match model.filter(|_| diagnostics.is_empty()) {
        Some(model) => {
            let plan = compile::compile(&model, Layout::default());
            Ok((model, plan))
        }
        None => Err(diagnostics.of(source)),
    }
}
