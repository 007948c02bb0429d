//! Two actions on one control.

use crate::check::{Context, Place, Remark};
use harmonym_lang::model::{Action, ActionId, Guard, Head};
use harmonym_runtime::base::{ControlKind, Id, Table};
use std::collections::HashMap;

/// Of the actions that share a control with one, only so many are told.
const MOST: usize = 4;

/// Of those, only so many are looked at.
const LOOKED_AT: u8 = 32;

/// Two actions that a control reaches at once, with none claiming it from the other and none
/// yielding.
#[derive(Clone, Debug)]
pub struct Pair {
    pub a: ActionId,
    pub b: ActionId,
    /// The uses of the later one that the two share.
    uses: Vec<usize>,
}

impl Pair {
    /// The controls they share, for people.
    pub fn controls(&self, context: &Context<'_>) -> String {
        let mut names: Vec<&str> = Vec::new();
        for &index in &self.uses {
            let name = context.uses[index].name.as_str();
            if !names.contains(&name) {
                names.push(name);
            }
        }
        names.join(" and ")
    }

    /// Where the later one is bound to what they share: the binding, and the control.
    fn place<'c>(&self, context: &'c Context<'_>) -> (usize, &'c str) {
        let first = self.uses.first().map(|&index| &context.uses[index]);
        first.map_or((0, ""), |one| (one.binding, one.name.as_str()))
    }
}

/// Tells of pairs, at the place of the later action: what `say` gives, a message and a help.
pub fn tell_pairs(
    context: &Context<'_>,
    found: &mut Vec<Remark>,
    say: impl Fn(&Pair, &Action, &Action) -> Option<(String, String)>,
) {
    let mut told: HashMap<ActionId, usize> = HashMap::new();
    for pair in context.pairs() {
        let told = told.entry(pair.b).or_default();
        let (a, b) = (&context.profile.actions[pair.a], &context.profile.actions[pair.b]);
        let Some((message, help)) = (*told < MOST).then(|| say(pair, a, b)).flatten() else {
            continue;
        };
        let (binding, control) = pair.place(context);
        *told += 1;
        found
            .push(Place::binding(context.profile, pair.b, binding).at(control).tell(message, help));
    }
}

/// Every such pair, each once, found through the controls they share; in the order of the later
/// one.
pub fn each_pair(context: &Context<'_>) -> Vec<Pair> {
    let mut pairs: Vec<Pair> = Vec::new();
    let mut places: HashMap<(ActionId, ActionId), Option<usize>> = HashMap::new();
    let mut partners: Table<ActionId, u8> = Table::filled(0, context.profile.actions.len());
    for (index, one) in context.uses.iter().enumerate() {
        // A holder fires nothing, and what is held with other keys hides the plain use.
        if one.holds || Context::is_sequence(&context.profile.actions[one.action]) {
            continue;
        }
        for later in context.later_meeting(index) {
            let other = &context.uses[later];
            if partners[other.action] >= LOOKED_AT
                || other.holds
                || other.action == one.action
                || other.holders != one.holders
            {
                continue;
            }
            let pair = (one.action, other.action);
            let place = *places.entry(pair).or_insert_with(|| {
                let lives = context.share(pair.0, pair.1) && !settled(context, pair.0, pair.1);
                lives.then(|| {
                    partners[pair.1] += 1;
                    pairs.push(Pair { a: pair.0, b: pair.1, uses: Vec::new() });
                    pairs.len() - 1
                })
            });
            if let Some(place) = place.filter(|_| both_feel(context, index, later)) {
                pairs[place].uses.push(later);
            }
        }
    }
    pairs.retain(|pair| !pair.uses.is_empty());
    pairs.sort_by_key(|pair| (pair.b, pair.a));
    pairs
}

/// Whether some half-axis that both read moves both: a way may leave out one component.
fn both_feel(context: &Context<'_>, a: usize, b: usize) -> bool {
    let reported = context.profile.catalogue.reported();
    let (one, other) = (&context.uses[a], &context.uses[b]);
    one.parts.iter().any(|&(control, halves)| {
        let shared = other.parts.iter().filter(|(c, _)| *c == control);
        let bits = shared.fold(0, |bits, (_, other)| bits | (other & halves));
        match reported.get(control.index()).map(|one| one.kind) {
            _ if bits == 0 => false,
            Some(ControlKind::Stick | ControlKind::Relative) => {
                bits & context.feels(a, control) & context.feels(b, control) != 0
            }
            Some(ControlKind::Button) => {
                context.feels_button(a, control) && context.feels_button(b, control)
            }
            _ => true,
        }
    })
}

/// Whether the profile says itself how two actions get along.
fn settled(context: &Context<'_>, a: ActionId, b: ActionId) -> bool {
    let one_way = |a: ActionId, b: ActionId| {
        let action = &context.profile.actions[a];
        // Who waits for the other to be live says so; `without` depends on the moment.
        let mut guards = action.fire.iter().flat_map(|one| &one.guards);
        let names = |guard: &Guard| matches!(guard, Guard::With(x) if *x == b);
        let mut reads = false;
        for binding in &action.bindings {
            binding.chain.for_each_head(&mut |head| {
                reads |= matches!(head, Head::Action { action, .. } if *action == b);
            });
        }
        reads || action.yields_to.contains(&b) || guards.any(names)
    };
    one_way(a, b) || one_way(b, a)
}
