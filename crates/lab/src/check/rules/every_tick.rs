//! `every-tick`: a switch that fires at every tick while it is held.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::Cue;
use harmonym_lang::report::Level;
use harmonym_runtime::base::Kind;

pub(super) const RULE: Rule = Rule {
    name: "every-tick",
    level: Level::Note,
    finds: "A switch that fires at every tick while it is held.",
    why: "Game code that answers each fire answers sixty times a second.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions().filter(|(_, action)| action.kind == Kind::Switch) {
        if !action.fire.iter().any(|one| one.cue == Cue::While) {
            continue;
        }
        let address = context.profile.address(id);
        let message = format!("{address} fires at every tick while it is held");
        let help =
            "`fire = \"press\"` fires once; if every tick is meant, `waive = [\"every-tick\"]`";
        let place = Place::key(context.profile, id, "fire").at("while");
        found.push(place.tell(message, help));
    }
}
