//! `dead-yield`: an action that yields to one that always fires in its place.

use crate::check::gesture::covers;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Action, Alternative};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "dead-yield",
    level: Level::Warning,
    finds: "An action that yields to one that always fires in its place.",
    why: "It waits its turn, and its turn never comes: the other one fires at every press of this one.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for &other in &action.yields_to {
            let winner = &context.profile.actions[other];
            let is_always_there =
                context.maps_of[id].iter().all(|map| context.maps_of[other].contains(map));
            // What the other is not bound to alone it may leave to this one.
            let covered = |index: usize| {
                let mut uses = context.uses_of(id, index).filter(|one| !one.holds).peekable();
                uses.peek().is_some()
                    && uses.all(|one| {
                        context.uses.iter().any(|theirs| {
                            theirs.action == other
                                && !theirs.holds
                                && theirs.holders == one.holders
                                && theirs.name == one.name
                                && is_plain(winner, theirs.binding)
                        })
                    })
            };
            let all_covered =
                !action.bindings.is_empty() && (0..action.bindings.len()).all(covered);
            let is_as_light = winner.levels.down <= action.levels.down && winner.shape.is_empty();
            let wins = |one: &Alternative| {
                winner.fire.iter().any(|theirs| {
                    theirs.guards.is_empty() && covers(context, &theirs.cue, &one.cue)
                })
            };
            if !(is_always_there && all_covered && is_as_light && action.fire.iter().all(wins)) {
                continue;
            }
            let (name, winner) = (context.profile.address(id), context.profile.address(other));
            let message = format!(
                "{name} never fires: whenever it would, {winner} fires, to which it yields"
            );
            let help = format!("let {winner} yield to {name} instead, or ask for another gesture");
            let place = Place::key(context.profile, id, "yields-to");
            found.push(place.at(context.profile.actions[other].name.as_str()).tell(message, help));
        }
    }
}

/// Whether a binding goes straight to its action.
fn is_plain(action: &Action, binding: usize) -> bool {
    let single = action.bindings.get(binding).and_then(|one| one.chain.single());
    single.is_some_and(|(_, is_plain)| is_plain)
}
