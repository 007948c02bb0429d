//! What no score has tried.

use super::table::table;
use super::why::guard_words;
use crate::output::style::{Ink, Look};
use harmonym_lab::survey::{Coverage, Untried};
use harmonym_lang::model::Profile;
use harmonym_runtime::base::{BindingId, ControlUseId};
use harmonym_runtime::plan::Plan;

/// A line for each thing that was not tried, then how much was.
pub fn text(profile: &Profile, plan: &Plan, coverage: &Coverage, look: Look) -> String {
    let untried = coverage.untried(plan);
    let mut text = String::from("\n");
    if untried.is_empty() {
        text.push_str("Everything is tried.\n");
    } else {
        let title = look.paint(Ink::Strong, "Not tried by any score");
        let rows = untried.iter().map(|one| row(profile, plan, *one));
        text.push_str(&format!("{title}\n{}", table(look, ["what", "of", ""], rows.collect())));
    }
    let [actions, bindings, cues] = coverage.counts(plan);
    let share = |(tried, all): (usize, usize), what: &str| format!("{tried} of {all} {what}");
    text.push_str(&format!(
        "Tried: {}, {}, {}\n",
        share(actions, "actions"),
        share(bindings, "bindings"),
        share(cues, "cues")
    ));
    text
}

fn row(profile: &Profile, plan: &Plan, one: Untried) -> [String; 3] {
    let names = plan.names();
    let [what, of, more] = match one {
        Untried::Action(action) => ["action", &names.actions[action], ""].map(str::to_owned),
        Untried::Binding(binding) => {
            ["binding".to_owned(), names.bindings[binding].clone(), written(profile, plan, binding)]
        }
        Untried::Part(binding, used) => {
            ["control".to_owned(), names.bindings[binding].clone(), control(plan, used)]
        }
        Untried::Cue(cue) => {
            let action = plan.alternatives()[cue].action;
            let rule = format!("`{}`", names.alternatives[cue]);
            ["cue".to_owned(), names.actions[action].clone(), rule]
        }
        Untried::Guard(cue, guard, held) => {
            let action = plan.alternatives()[cue].action;
            let never = if held { "never held" } else { "never failed" };
            let rule = format!("`{}` {never}", guard_words(plan, guard));
            ["guard".to_owned(), names.actions[action].clone(), rule]
        }
    };
    [what, of, more]
}

/// A binding as it is written.
fn written(profile: &Profile, plan: &Plan, binding: BindingId) -> String {
    let address = &plan.names().bindings[binding];
    let all = profile
        .actions
        .entries()
        .flat_map(|(id, action)| action.bindings.iter().map(move |binding| (id, binding)));
    let mut same = all.filter(|(id, binding)| profile.binding_address(*id, binding) == *address);
    same.next().map_or(String::new(), |(_, binding)| binding.text.clone())
}

/// The controls that a use listens to.
fn control(plan: &Plan, used: ControlUseId) -> String {
    let names = plan.uses()[used]
        .inputs
        .iter()
        .map(|input| &*plan.names().controls[plan.inputs()[input].control]);
    names.collect::<Vec<_>>().join(" or ")
}
