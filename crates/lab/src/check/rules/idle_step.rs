//! `idle-step`: a step that changes nothing.

use crate::check::context::step_word;
use crate::check::{Context, Flow, Place, Range, Remark, Rule};
use harmonym_lang::model::{Number, Step, StepKind};
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::{Kind, shortest};

pub(super) const RULE: Rule = Rule {
    name: "idle-step",
    level: Level::Note,
    finds: "A step that changes nothing.",
    why: "It reads as if it did something, and somebody will tune it for an hour.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        let mut flow = Flow::any(context.profile);
        for (index, binding) in action.bindings.iter().enumerate() {
            let head = harmonym_lang::model::Chain { steps: Vec::new(), ..binding.chain.clone() };
            let range = flow.chain(&head);
            let place = Place::binding(context.profile, id, index);
            let kind = binding.chain.head.kind();
            if let Some((step, why)) = idle(&flow, &binding.chain.steps, range, kind) {
                let address = context.profile.binding_address(id, binding);
                found.push(tell(place, step, &why, &binding.text, address));
            }
        }
        let range = flow.blended(action, &|_| true);
        if let Some((step, why)) = idle(&flow, &action.shape, range, action.kind) {
            let place = Place::key(context.profile, id, "shape");
            let address = format!("{}.shape", context.profile.address(id));
            let text = action.shape_text.clone().unwrap_or_default();
            found.push(tell(place, step, &why, &text, address));
        }
    }
}

fn tell(place: Place, step: &Step, why: &str, text: &str, address: String) -> Remark {
    let word = step_word(&step.kind);
    let mut remark = place
        .at(word)
        .tell(format!("`{word}` changes nothing: {why}"), format!("take `{word}` out"));
    // Written in one way only, it can be taken out without a doubt.
    let parts: Vec<&str> = text.split(" | ").collect();
    let of_word = |part: &&str| part.split(' ').next() == Some(word);
    if parts.iter().filter(|part| of_word(part)).count() == 1 {
        let kept: Vec<&str> = parts.into_iter().filter(|part| !of_word(part)).collect();
        remark.diagnostic.mends = vec![match kept.is_empty() {
            true => Mend::Remove(address),
            false => Mend::Set(address, kept.join(" | ")),
        }];
    }
    remark
}

/// The first step that changes nothing, and why.
fn idle<'s>(
    flow: &Flow<'_>,
    steps: &'s [Step],
    range: Range,
    kind: Kind,
) -> Option<(&'s Step, String)> {
    let (mut range, mut kind) = (range, kind);
    for (i, step) in steps.iter().enumerate() {
        let before = i.checked_sub(1).map(|i| &steps[i]);
        if let Some(why) = changes_nothing(flow, before, step, range, kind) {
            return Some((step, why));
        }
        (range, kind) = flow.steps(std::slice::from_ref(step), range, kind);
    }
    None
}

fn changes_nothing(
    flow: &Flow<'_>,
    before: Option<&Step>,
    step: &Step,
    range: Range,
    kind: Kind,
) -> Option<String> {
    let is = |number: &Number, value: f64| *number == Number::Fixed(value);
    let reach = || shortest((range.length.most * 1e6).round() / 1e6);
    match &step.kind {
        StepKind::Scale(factors) => {
            let is_once = factors.iter().all(|k| is(k, 1.0));
            is_once.then(|| "once as much is as much".to_owned())
        }
        StepKind::Curve(power) => {
            is(power, 1.0).then(|| "to the power of 1 all stays as it is".to_owned())
        }
        StepKind::Rotate(angle, _) => is(angle, 0.0).then(|| "it turns by nothing".to_owned()),
        // Of the length or of each component: up to 1 either leaves all as it is.
        StepKind::Deadzone { low, full, by: _ } => {
            let is_idle = is(low, 0.0) && is(full, 1.0) && range.length.most <= 1.0;
            is_idle.then(|| "it leaves nothing out and is full at 1".to_owned())
        }
        StepKind::Cap(limit) => {
            let is_idle = flow.number(*limit).least >= range.length.most;
            is_idle.then(|| format!("the value gets to {} at most", reach()))
        }
        StepKind::Clamp(least, most) => {
            let (least, most) = (flow.number(*least).most, flow.number(*most).least);
            let inside = |part: &crate::check::Interval| least <= part.least && part.most <= most;
            let all = range.parts.iter().take(kind.components()).all(inside);
            all.then(|| "the value lies within both ends anyway".to_owned())
        }
        StepKind::Flip(turned) => {
            let twice = before.is_some_and(|b| {
                b.kind == StepKind::Flip(*turned) && b.conditions == step.conditions
            });
            twice.then(|| "turned twice, the sign is what it was".to_owned())
        }
        StepKind::Order(order) => {
            let same = order.iter().enumerate().all(|(i, component)| i == *component as usize);
            same.then(|| "the components stand in this order".to_owned())
        }
        StepKind::Not
        | StepKind::Toggle
        | StepKind::SwitchAt { .. }
        | StepKind::Points(_)
        | StepKind::Unit
        | StepKind::Remap(_)
        | StepKind::Onto(..)
        | StepKind::Pick(_)
        | StepKind::Ways { .. }
        | StepKind::Notch(_)
        | StepKind::Ease { .. }
        | StepKind::Smooth(_)
        | StepKind::Travel => None,
    }
}
