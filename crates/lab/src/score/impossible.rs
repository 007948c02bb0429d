//! Expectations that no hands can meet, by the rule of their action alone.

use super::expectation::{Events, Expectation, Expected};
use harmonym_lang::report::Diagnostic;
use harmonym_runtime::base::{ActionId, MapKind};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::{Cue, Plan};

/// What an expectation asks of its action that the action's rule can't give: a message, and what
/// to write instead. Nothing where hands might meet it.
pub fn impossible(plan: &Plan, expectation: &Expectation) -> Option<Diagnostic> {
    let Expected::Events(action, events) = &expectation.what else { return None };
    let (message, help) =
        unknown_cue(plan, *action, events).or_else(|| foreign_cause(plan, *action, events))?;
    let refused = Diagnostic::refused(message, help);
    Some(Diagnostic { rule: "never-holds", span: expectation.span, ..refused })
}

fn unknown_cue(plan: &Plan, action: ActionId, events: &Events) -> Option<(String, String)> {
    let by = events.by.as_ref()?;
    let name = &plan.names().actions[action];
    if events.event != "fire" {
        let message = "only a fire has a cue that it comes by".to_owned();
        return Some((message, format!("write `expect {name} fires by \"{}\"`", by.text)));
    }
    if !by.alternatives.is_empty() {
        return None;
    }
    let own = plan.actions()[action].alternatives.iter();
    let own: Vec<String> =
        own.map(|id| format!("by \"{}\"", plan.names().alternatives[id])).collect();
    let message = format!("{name} never fires by \"{}\"", by.text);
    Some((message, format!("write {}", own.join(" or "))))
}

fn foreign_cause(plan: &Plan, action: ActionId, events: &Events) -> Option<(String, String)> {
    let because = events.because.as_deref()?;
    let cause = *Cause::ALL.iter().find(|cause| cause.word() == because)?;
    let name = &plan.names().actions[action];
    let end = match events.event {
        "lapse" | "rest" => events.event,
        _ => {
            let message = "only an end has a cause".to_owned();
            return Some((message, format!("write `expect {name} lapses because {because}`")));
        }
    };
    if ends(plan, action, end, cause) {
        return None;
    }
    let all = Cause::ALL.iter().filter(|cause| ends(plan, action, end, **cause));
    let all: Vec<&str> = all.map(|cause| cause.word()).collect();
    let verb = if end == "rest" { "rests" } else { "lapses" };
    let message = format!("{name} never {verb} because {because}");
    let help = match all.as_slice() {
        [] => "its rule always fires".to_owned(),
        all => format!("it {verb} because {}", all.join(", ")),
    };
    Some((message, help))
}

/// Whether the rule of an action can end an episode so; in doubt it can.
fn ends(plan: &Plan, action: ActionId, end: &str, cause: Cause) -> bool {
    let own = &plan.actions()[action];
    let cues = || own.alternatives.iter().map(|id| plan.alternatives()[id].cue);
    let has = |is: fn(Cue) -> bool| cues().any(is);
    let is_sequence = has(|cue| matches!(cue, Cue::Sequence(..)));
    // An alternative that has fired is not too short any more.
    let is_vain = end == "lapse";
    match cause {
        Cause::Done => is_sequence && end == "rest",
        Cause::OutOfOrder => is_vain && is_sequence,
        Cause::Released => !is_sequence || !own.yields_to.is_empty(),
        Cause::TooShort => is_vain && has(|cue| matches!(cue, Cue::Hold(_) | Cue::Charge(_))),
        Cause::TooLong => is_vain && has(|cue| matches!(cue, Cue::Tap(_))),
        Cause::TooLight => is_vain && !is_sequence,
        Cause::Gap => is_vain && has(|cue| cue.gap().is_some()),
        Cause::Guard => own.has_guards,
        Cause::Yielded => !own.yields_to.is_empty(),
        Cause::MapOff => plan.maps()[own.map].kind != MapKind::Always,
        Cause::Paused => !own.in_pause,
        Cause::Claimed => true,
        Cause::Unplugged | Cause::SchemeOff | Cause::Rebound | Cause::Stopped => true,
    }
}
