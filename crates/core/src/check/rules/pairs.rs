//! Two actions on one control.

use crate::base::{ActionId, ControlId, Id};
use crate::check::context::Use;
use crate::check::{Context, Interval, Range};
use crate::controls::ControlKind;
use crate::model::{Guard, Head};

/// Two actions that a control reaches at once, with none claiming it from the other and none
/// yielding.
pub struct Pair {
    pub a: ActionId,
    pub b: ActionId,
    /// Where the later one is bound to it.
    pub binding_b: usize,
    pub name_b: String,
    names: Vec<String>,
}

impl Pair {
    /// The controls they share, for people.
    pub fn controls(&self) -> String {
        self.names.join(" and ")
    }
}

/// Every such pair, each once, found through the controls they share.
pub fn each_pair(context: &Context<'_>) -> Vec<Pair> {
    let mut pairs: Vec<Pair> = Vec::new();
    let mut places = std::collections::HashMap::new();
    for (index, one) in context.uses.iter().enumerate() {
        // A holder fires nothing, and what is held with other keys hides the plain use.
        if one.holds || Context::is_sequence(&context.profile.actions[one.action]) {
            continue;
        }
        for other in context.later_meeting(index) {
            let other = &context.uses[other];
            if other.holds
                || other.action == one.action
                || other.holders != one.holders
                || !both_feel(context, one, other)
            {
                continue;
            }
            if let Some(&place) = places.get(&(one.action, other.action)) {
                let pair: &mut Pair = &mut pairs[place];
                if !pair.names.contains(&other.name) {
                    pair.names.push(other.name.clone());
                }
                continue;
            }
            if !context.share(one.action, other.action)
                || settled(context, one.action, other.action)
            {
                continue;
            }
            places.insert((one.action, other.action), pairs.len());
            pairs.push(Pair {
                a: one.action,
                b: other.action,
                binding_b: other.binding,
                name_b: other.name.clone(),
                names: vec![other.name.clone()],
            });
        }
    }
    pairs
}

/// Whether some half-axis that both read moves both: a way may leave out one component.
fn both_feel(context: &Context<'_>, one: &Use, other: &Use) -> bool {
    let reported = context.profile.catalogue.reported();
    let feels = |used: &Use, control: ControlId, range: Range| {
        let read = context.probe(used.action, used.binding, vec![(control, range)]);
        read.length.most > 0.0
    };
    one.parts.iter().any(|&(control, halves)| {
        let shared = other.parts.iter().filter(|(c, _)| *c == control);
        let bits = shared.fold(0, |bits, (_, other)| bits | (other & halves));
        let kind = reported.get(control.index()).map(|one| one.kind);
        if !matches!(kind, Some(ControlKind::Stick | ControlKind::Relative)) {
            return bits != 0;
        }
        (0..4).filter(|bit| bits & (1 << bit) != 0).any(|bit| {
            let way = Interval::only(if bit % 2 == 0 { 1.0 } else { -1.0 });
            let mut parts = [Interval::ZERO; 3];
            parts[bit / 2] = way;
            let range = Range::of(parts);
            feels(one, control, range) && feels(other, control, range)
        })
    })
}

/// Whether the profile says itself how two actions get along.
fn settled(context: &Context<'_>, a: ActionId, b: ActionId) -> bool {
    let one_way = |a: ActionId, b: ActionId| {
        let action = &context.profile.actions[a];
        let guards = action.fire.iter().flat_map(|one| &one.guards);
        let names = |guard: &Guard| matches!(guard, Guard::With(x) | Guard::Without(x) if *x == b);
        let mut reads = false;
        for binding in &action.bindings {
            binding.chain.for_each_head(&mut |head| {
                reads |= matches!(head, Head::Action { action, .. } if *action == b);
            });
        }
        reads || action.yields_to.contains(&b) || guards.clone().any(names)
    };
    one_way(a, b) || one_way(b, a)
}
