//! `never-fires`: an action whose levels, guards or times can never be reached.

use crate::check::context::all_steps;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Action, ActionId, Alternative, Cue, Guard, StepKind};
use harmonym_lang::report::Level;
use harmonym_runtime::base::shortest;
use std::collections::BTreeSet;

pub(super) const RULE: Rule = Rule {
    name: "never-fires",
    level: Level::Error,
    finds: "An action whose levels, guards or times can never be reached.",
    why: "Nothing the player does makes it happen.",
    find,
};

/// Why an action never fires.
struct Why {
    place: Place,
    message: String,
    help: String,
}

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let mut never: BTreeSet<ActionId> = BTreeSet::new();
    loop {
        let before = never.len();
        for (id, action) in context.actions() {
            if never.contains(&id) {
                continue;
            }
            if let Some(why) = why(context, id, action, &never) {
                never.insert(id);
                found.push(why.place.tell(why.message, why.help));
            }
        }
        if never.len() == before {
            return;
        }
    }
}

fn why(
    context: &Context<'_>,
    id: ActionId,
    action: &Action,
    never: &BTreeSet<ActionId>,
) -> Option<Why> {
    let is_sequence = Context::is_sequence(action);
    if action.bindings.is_empty() && !is_sequence {
        return None;
    }
    let range = context.ranges[id];
    if !is_sequence && !range.reaches(action.levels.down) {
        return Some(too_light(context, id, action));
    }
    let reasons: Option<Vec<String>> =
        action.fire.iter().map(|one| blocked(context, id, action, one, never)).collect();
    let reason = reasons?.into_iter().next()?;
    let place = Place::key(context.profile, id, "fire");
    let message = format!("{} never fires: {reason}", context.profile.address(id));
    let help = "take that condition out of `fire`, or change what it asks for".to_owned();
    Some(Why { place, message, help })
}

fn too_light(context: &Context<'_>, id: ActionId, action: &Action) -> Why {
    let most = context.ranges[id].length.most;
    let down = action.levels.down;
    let mut steps: Vec<&StepKind> =
        action.bindings.iter().flat_map(|b| all_steps(&b.chain)).map(|step| &step.kind).collect();
    steps.extend(action.shape.iter().map(|step| &step.kind));
    let swallowed =
        most == 0.0 && steps.iter().any(|form| matches!(form, StepKind::Deadzone { .. }));
    let reason = match (swallowed, most == 0.0) {
        (true, _) => "its dead zone swallows all there is".to_owned(),
        (false, true) => "its value stays at 0".to_owned(),
        (false, false) => {
            format!("its value gets to {} at most", shortest((most * 1e6).round() / 1e6))
        }
    };
    let address = context.profile.address(id);
    let message = format!("{address} never fires: {reason}, and it is down only from {down}");
    let place = match action.levels_given {
        true => Place::key(context.profile, id, "levels"),
        false => Place::binding(context.profile, id, 0),
    };
    let help = match most > 0.0 {
        true => format!(
            "`levels = {{ down = {} }}`, or scale it less",
            shortest((most * 800.0).floor().max(1.0) / 1000.0)
        ),
        false => "change the steps: nothing is left of what the controls give".to_owned(),
    };
    Why { place, message, help }
}

/// Why an alternative never fires, if it never does.
fn blocked(
    context: &Context<'_>,
    id: ActionId,
    action: &Action,
    one: &Alternative,
    never: &BTreeSet<ActionId>,
) -> Option<String> {
    let name = |other: ActionId| context.profile.address(other);
    for guard in &one.guards {
        match *guard {
            Guard::With(other) if never.contains(&other) => {
                return Some(format!("it waits for {}, which never fires", name(other)));
            }
            Guard::With(other) if !context.live_together(id, other) => {
                return Some(format!(
                    "it waits for {}, whose map is never open with its own",
                    name(other)
                ));
            }
            Guard::With(other) if one.guards.contains(&Guard::Without(other)) => {
                return Some(format!("it asks for {} to be live and not to be", name(other)));
            }
            Guard::When(named) => {
                let number = &context.profile.variables[named];
                let zero = number.range == Some((0.0, 0.0));
                if zero || one.guards.contains(&Guard::Unless(named)) {
                    return Some(format!("`{}` can't be as it asks", number.name));
                }
            }
            Guard::Unless(named) => {
                let number = &context.profile.variables[named];
                if number.range.is_some_and(|(least, most)| least > 0.0 || most < 0.0) {
                    return Some(format!("`{}` is never 0", number.name));
                }
            }
            _ => {}
        }
    }
    match &one.cue {
        Cue::Sequence { steps, .. } => {
            let step = steps.iter().find(|step| never.contains(step))?;
            Some(format!("{} never fires", name(*step)))
        }
        Cue::Hold(_) | Cue::Charge(_) => only_notches(context, id, action).then(|| {
            "a notch of the wheel is let go at the moment it comes, and this asks for holding"
                .to_owned()
        }),
        Cue::Press
        | Cue::Release
        | Cue::While
        | Cue::Change
        | Cue::Tap(_)
        | Cue::Taps { .. }
        | Cue::Repeat { .. } => None,
    }
}

/// Whether all that it is bound to are notches of a wheel, unchanged.
fn only_notches(context: &Context<'_>, id: ActionId, action: &Action) -> bool {
    let bindings = 0..action.bindings.len();
    let mut uses = bindings.flat_map(|index| context.uses_of(id, index)).peekable();
    // Steps by which 0 stays 0, at once.
    let keeps = |form: &StepKind| {
        matches!(
            form,
            StepKind::Scale(_)
                | StepKind::Flip(_)
                | StepKind::Cap(_)
                | StepKind::Curve(_)
                | StepKind::Deadzone { .. }
                | StepKind::Onto(..)
                | StepKind::Pick(_)
        )
    };
    let mut steps = action.bindings.iter().flat_map(|b| all_steps(&b.chain)).chain(&action.shape);
    uses.peek().is_some()
        && uses.all(|one| {
            one.name.starts_with("mouse.wheel.")
                && one.kind == harmonym_runtime::base::ControlKind::Button
        })
        && steps.all(|step| keeps(&step.kind))
}
