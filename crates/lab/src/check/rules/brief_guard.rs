//! `brief-guard`: a guard that asks for an action that is live for no longer than a moment.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Alternative, Cue, Guard};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "brief-guard",
    level: Level::Warning,
    finds: "A guard that asks for an action that is live for no longer than a moment.",
    why: "The other action fires as it is let go and is over at once: nobody can press anything meanwhile.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let is_brief = |one: &Alternative| match one.cue {
        Cue::Release | Cue::Tap(_) | Cue::Charge(_) | Cue::Sequence { .. } => true,
        Cue::Press
        | Cue::While
        | Cue::Change
        | Cue::Hold(_)
        | Cue::Taps { .. }
        | Cue::Repeat { .. } => false,
    };
    for (id, action) in context.actions() {
        for one in &action.fire {
            let asked = one.guards.iter().find_map(|guard| match guard {
                Guard::With(other) => Some(*other),
                _ => None,
            });
            let Some(other) = asked else { continue };
            let of = &context.profile.actions[other];
            if !of.fire.iter().all(is_brief) {
                continue;
            }
            let (name, rule) = (context.profile.address(other), &of.fire[0].text);
            let message = format!(
                "`{}` asks for {name} to be live, but that fires by `{rule}` and is over at that very moment",
                one.text
            );
            let help = format!(
                "ask for one that stays live while it is held, by `press` or `while`; or let the two follow \
                 each other: `sequence({name}, …) within=1s`"
            );
            let place = Place::key(context.profile, id, "fire").at(of.name.as_str());
            found.push(place.tell(message, help));
        }
    }
}
