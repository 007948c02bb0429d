//! `turning-press`: a press or repeat of something that has directions.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::Cue;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{ControlKind, Kind};

pub(super) const RULE: Rule = Rule {
    name: "turning-press",
    level: Level::Note,
    finds: "A press or repeat of something that has directions.",
    why: "Turned from one direction to the next without coming home, the stick fires once and no more.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let Some(one) =
            action.fire.iter().find(|one| matches!(one.cue, Cue::Press | Cue::Repeat { .. }))
        else {
            continue;
        };
        if !matches!(action.kind, Kind::Plane | Kind::Space) {
            continue;
        }
        let turns = |index: usize| {
            let uses: Vec<_> = context.uses_of(id, index).filter(|one| !one.holds).collect();
            let is_held = |kind: ControlKind| kind.is_held();
            uses.len() > 1
                || uses.iter().any(|one| one.kind == ControlKind::Stick && is_held(one.kind))
        };
        if !(0..action.bindings.len()).any(turns) {
            continue;
        }
        let address = context.profile.address(id);
        let (fires, anew) = match one.cue {
            Cue::Press => ("fires once as it leaves its middle", "it does not fire again"),
            _ => ("fires in the rhythm of its first push", "it fires at the next beat only"),
        };
        let message =
            format!("{address} {fires}: turned to another direction while it is down, {anew}");
        let help = "`fire = \"change\"` tells each new direction (with `ways 4`, say); \
                    or make an axis of each direction: it fires anew when the sign turns";
        let place = Place::key(context.profile, id, "fire").at(one.text.as_str());
        found.push(place.tell(message, help));
    }
}
