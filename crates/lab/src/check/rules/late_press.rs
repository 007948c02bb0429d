//! `late-press`: a press that comes late, for what it yields to or for a step that moves slowly.

use crate::check::context::step_word;
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Action, ActionId, Alternative, Cue, Step, StepKind};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "late-press",
    level: Level::Note,
    finds: "A press that comes late, for what it yields to or for a step that moves slowly.",
    why: "The hand has pressed, and nothing happens yet: players feel every tenth of a second.",
    find,
};

/// A press that comes later than this is felt.
const FELT: f64 = 0.3;
/// A step that holds a value back longer than this is felt.
const SLOW: f64 = 0.1;

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let is_press = |one: &Alternative| matches!(one.cue, Cue::Press | Cue::Repeat { .. });
        if !action.fire.iter().any(is_press) {
            continue;
        }
        for &other in &action.yields_to {
            let shares = (0..action.bindings.len()).flat_map(|index| context.uses_of(id, index));
            let shares = shares.filter(|one| !one.holds).any(|one| {
                let theirs = context.uses.iter().filter(|two| two.action == other && !two.holds);
                theirs.filter(|two| two.holders == one.holders).any(|two| two.meets(one))
            });
            let of = &context.profile.actions[other];
            let waits = of.fire.iter().map(|one| match &one.cue {
                Cue::Hold(time) | Cue::Charge(time) | Cue::Tap(time) => context.at_first(*time),
                Cue::Taps { gap, .. } => context.at_first(*gap),
                _ => 0.0,
            });
            let longest = waits.fold(0.0, f64::max);
            if !shares || longest <= FELT {
                continue;
            }
            let message = format!(
                "{} comes up to {} ms after its press: so long it waits for {}",
                context.profile.address(id),
                millis(longest),
                context.profile.address(other)
            );
            let help = format!(
                "shorten `{}` of {}, or give the two a control each",
                of.fire[0].text,
                context.profile.address(other)
            );
            let place = Place::key(context.profile, id, "yields-to").at(of.name.as_str());
            found.push(place.tell(message, help));
        }
        for (index, binding) in action.bindings.iter().enumerate() {
            let Some((word, late)) = slow(context, &binding.chain.steps, action) else { continue };
            let place = Place::binding(context.profile, id, index).at(word);
            found.push(told(context, id, place, word, late));
        }
        if let Some((word, late)) = slow(context, &action.shape, action) {
            let place = Place::key(context.profile, id, "shape").at(word);
            found.push(told(context, id, place, word, late));
        }
    }
}

fn told(context: &Context<'_>, id: ActionId, place: Place, word: &str, late: f64) -> Remark {
    let message = format!(
        "{} comes {} ms after its press: so long `{word}` takes to its down level",
        context.profile.address(id),
        millis(late)
    );
    place.tell(message, format!("take `{word}` out: a press has nothing to smooth"))
}

/// The step that holds a full press back too long, and how long; where its value is 1 at most.
fn slow(context: &Context<'_>, steps: &[Step], action: &Action) -> Option<(&'static str, f64)> {
    let down = action.levels.down;
    steps.iter().filter(|step| step.conditions.is_empty()).find_map(|step| {
        let late = match &step.kind {
            StepKind::Ease { rise, .. } => down / context.at_first(*rise),
            StepKind::Smooth(time) if down < 1.0 => {
                -context.at_first(*time) * libm::log(1.0 - down)
            }
            _ => return None,
        };
        (late > SLOW).then(|| (step_word(&step.kind), late))
    })
}

fn millis(seconds: f64) -> f64 {
    (seconds * 1000.0).round()
}
