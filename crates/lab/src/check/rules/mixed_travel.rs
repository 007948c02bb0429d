//! `mixed-travel`: a distance and a speed on one action that are not told apart.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Chain, Cue, Head, StepKind};
use harmonym_lang::report::Level;
use harmonym_runtime::base::ControlKind;

pub(super) const RULE: Rule = Rule {
    name: "mixed-travel",
    level: Level::Warning,
    finds: "A distance and a speed on one action that are not told apart.",
    why: "The view turns as far as the mouse goes, and as fast as frames are drawn with the stick.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    // Who only fires now and then reads no speed.
    let goes_on = |action: &harmonym_lang::model::Action| {
        let mut fire = action.fire.iter();
        fire.any(|one| matches!(one.cue, Cue::While | Cue::Change))
    };
    for (id, action) in context.actions().filter(|(_, action)| goes_on(action)) {
        let all_travel = action.shape.iter().any(|step| step.kind == StepKind::Travel);
        let ways: Vec<Vec<Way>> = action
            .bindings
            .iter()
            .map(|binding| {
                let mut all = Vec::new();
                ways(context, &binding.chain, all_travel, &mut all);
                all
            })
            .collect();
        let has_distance = ways.iter().flatten().any(|way| way.gives == Gives::Distance);
        for (index, (binding, ways)) in action.bindings.iter().zip(&ways).enumerate() {
            let address = context.profile.address(id);
            let place = || Place::binding(context.profile, id, index);
            if let Some(way) = ways.iter().find(|way| way.gives == Gives::Distance && way.travels) {
                let message = format!(
                    "{} gives a distance already: `travel` makes {address} depend on how fast frames are drawn",
                    way.name
                );
                let help = match all_travel {
                    true => {
                        "put `travel` behind what gives a speed, in its binding, and take it out of the shape"
                    }
                    false => "take `travel` out here; it belongs on what gives a speed",
                };
                let place = match all_travel {
                    true => Place::key(context.profile, id, "shape"),
                    false => place(),
                };
                found.push(place.at("travel").tell(message, help));
                break;
            }
            let speed = ways.iter().find(|way| way.gives == Gives::Speed && !way.travels);
            if let Some(way) = speed.filter(|_| has_distance) {
                let message = format!(
                    "{} gives a speed and something else of {address} a distance: at 144 frames a second it is more than twice as fast as at 60",
                    way.name
                );
                let help = match way.name == binding.text.split(" | ").next().unwrap_or_default() {
                    true => format!("sum the speed up over the frame: `{} | travel`", binding.text),
                    false => {
                        format!("sum the speed up over the frame: `| travel` behind {}", way.name)
                    }
                };
                found.push(place().at(way.name.as_str()).tell(message, help));
            }
        }
    }
}

/// What a control gives.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Gives {
    Distance,
    Speed,
    /// Where something is: neither.
    Place,
}

/// The way from a control to the end of its binding.
struct Way {
    name: String,
    gives: Gives,
    /// Whether it is summed up over the frame.
    travels: bool,
}

/// The ways of all controls of a chain; `travels` tells whether they are summed up behind it.
fn ways(context: &Context<'_>, chain: &Chain, travels: bool, all: &mut Vec<Way>) {
    let travels = travels || chain.steps.iter().any(|step| step.kind == StepKind::Travel);
    match &chain.head {
        Head::Control { name, kind, .. } => {
            let gives = match kind {
                ControlKind::Relative => Gives::Distance,
                ControlKind::Spot | ControlKind::Place | ControlKind::Turn => Gives::Place,
                _ => Gives::Speed,
            };
            all.push(Way { name: name.clone(), gives, travels });
        }
        Head::Action { action, name, .. } => {
            let spec = &context.profile.actions[*action];
            let mut own = Vec::new();
            let ends = spec.shape.iter().any(|step| step.kind == StepKind::Travel);
            for binding in &spec.bindings {
                ways(context, &binding.chain, ends, &mut own);
            }
            // What another action gives is a distance where it moves by something or is summed up.
            let gives = match own.iter().any(|way| way.travels || way.gives == Gives::Distance) {
                true => Gives::Distance,
                false if own.iter().all(|way| way.gives == Gives::Place) => Gives::Place,
                false => Gives::Speed,
            };
            all.push(Way { name: format!("act.{name}"), gives, travels });
        }
        Head::Pair(pair) => pair.parts().for_each(|part| ways(context, part, travels, all)),
        Head::Four(four) => {
            let parts = four.y.parts().chain(four.x.parts());
            parts.for_each(|part| ways(context, part, travels, all));
        }
        Head::Join(parts) | Head::Any(parts) => {
            parts.iter().for_each(|part| ways(context, part, travels, all));
        }
        // Holders give nothing.
        Head::Sum(parts) => parts.iter().last().into_iter().for_each(|part| {
            ways(context, part, travels, all);
        }),
        Head::Group(inner) => ways(context, inner, travels, all),
    }
}
