//! `drifting-blend`: a blend by age or change, with a stick that drifts.

use crate::check::{Context, Flow, Interval, Place, Range, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::base::limits::IDLE;
use harmonym_runtime::base::{AT_REST, Blend, ControlKind};

pub(super) const RULE: Rule = Rule {
    name: "drifting-blend",
    level: Level::Warning,
    finds: "A blend by age or change, with a stick that drifts.",
    why: "A stick that nobody touches reports a little something, and by that it has the action: the keys do nothing.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let by_age = matches!(action.blend, Blend::Oldest | Blend::Newest | Blend::LastChange);
        if !by_age || action.bindings.len() < 2 {
            continue;
        }
        for (index, binding) in action.bindings.iter().enumerate() {
            let drifts = context.uses_of(id, index).filter(|one| !one.holds).find(|one| {
                let Some(&(control, _)) = one.parts.first() else { return false };
                let touched = match one.kind {
                    ControlKind::Lever => Range::axis(Interval::only(IDLE)),
                    ControlKind::Stick | ControlKind::Axis => {
                        Range::of([Interval::only(IDLE), Interval::only(IDLE), Interval::ZERO])
                    }
                    _ => return false,
                };
                let mut flow = Flow::only(context.profile, vec![(control, touched)]);
                flow.chain(&binding.chain).length.most > AT_REST
            });
            let Some(one) = drifts else { continue };
            let message = format!(
                "{} reads up to {IDLE} when nobody touches it, and `{}` takes that for a hand",
                one.name,
                action.blend.word()
            );
            let (head, rest) = match binding.text.split_once(" | ") {
                Some((head, rest)) => (head, format!(" | {rest}")),
                None => (binding.text.as_str(), String::new()),
            };
            let help = match head == one.name {
                true => format!("leave out what is idle: `{head} | deadzone 0.1{rest}`"),
                false => format!("leave out what is idle: a `deadzone` behind {}", one.name),
            };
            let place = Place::binding(context.profile, id, index).at(one.name.as_str());
            found.push(place.tell(message, help));
        }
    }
}
