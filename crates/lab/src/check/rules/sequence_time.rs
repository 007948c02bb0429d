//! `sequence-time`: a sequence that its own steps take longer than.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Cue};
use harmonym_lang::report::Level;
use harmonym_runtime::base::shortest;

pub(super) const RULE: Rule = Rule {
    name: "sequence-time",
    level: Level::Warning,
    finds: "A sequence that its own steps take longer than.",
    why: "However fast the hands, the time is over before the last step can have fired.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let Some(Cue::Sequence { steps, within }) = action.fire.first().map(|one| &one.cue) else {
            continue;
        };
        let within = context.at_first(*within);
        let least: f64 = steps.windows(2).map(|pair| least(context, pair[0], pair[1])).sum();
        if least <= within {
            continue;
        }
        let message = format!(
            "the steps of {} take {} s at least, and it gives them {} s",
            context.profile.address(id),
            shortest((least * 1e4).round() / 1e4),
            shortest(within)
        );
        let longer = (least * 1.5 * 10.0).ceil() / 10.0;
        let help = format!("give them time: `within={}s`", shortest(longer));
        found.push(Place::key(context.profile, id, "fire").at("within").tell(message, help));
    }
}

/// How long after one step the next can fire at the earliest: its own time, where it is on the same
/// controls, so that it begins after the one before.
fn least(context: &Context<'_>, before: ActionId, next: ActionId) -> f64 {
    let names = |id: ActionId| {
        let all = context.uses.iter().filter(move |one| one.action == id && !one.holds);
        all.map(|one| one.name.as_str()).collect::<Vec<_>>()
    };
    let (first, second) = (names(before), names(next));
    // While the one is live its control is down; a next press is another.
    let goes_on = |id: ActionId| {
        let mut fire = context.profile.actions[id].fire.iter();
        fire.any(|one| {
            matches!(
                one.cue,
                Cue::Press | Cue::While | Cue::Change | Cue::Repeat { .. } | Cue::Hold(_)
            )
        })
    };
    if second.is_empty() || !second.iter().all(|name| first.contains(name)) || goes_on(before) {
        return 0.0;
    }
    let times = context.profile.actions[next].fire.iter().map(|one| match &one.cue {
        Cue::Hold(time) | Cue::Charge(time) => context.at_first(*time),
        _ => 0.0,
    });
    times.fold(f64::INFINITY, f64::min)
}
