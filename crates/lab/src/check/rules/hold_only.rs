//! `hold-only`: a switch that works only as long as it is held.

use crate::check::context::all_steps;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Cue, StepKind};
use harmonym_lang::report::Level;
use harmonym_runtime::base::Kind;

pub(super) const RULE: Rule = Rule {
    name: "hold-only",
    level: Level::Note,
    finds: "A switch that works only as long as it is held.",
    why: "Some hands cannot hold a key for long: a setting that makes it a toggle costs one line.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions().filter(|(_, action)| action.kind == Kind::Switch) {
        let held = action.fire.iter().all(|one| one.cue == Cue::While);
        let mut steps =
            action.bindings.iter().flat_map(|b| all_steps(&b.chain)).chain(&action.shape);
        if !held || action.bindings.is_empty() || steps.any(|step| step.kind == StepKind::Toggle) {
            continue;
        }
        let name = &action.name;
        let message = format!("{} works only as long as it is held", context.profile.address(id));
        let help = format!(
            "let the player choose: `harmonym add setting keep-{name} --default false`, then \
             `shape = \"toggle when keep-{name}\"`"
        );
        found.push(Place::key(context.profile, id, "fire").tell(message, help));
    }
}
