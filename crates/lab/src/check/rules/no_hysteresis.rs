//! `no-hysteresis`: an analog control whose up level is its down level.

use crate::check::context::all_steps;
use crate::check::{Context, Flow, Place, Remark, Rule};
use harmonym_lang::model::{ActionId, Binding, StepKind};
use harmonym_lang::profile::table;
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::{ControlKind, shortest};

pub(super) const RULE: Rule = Rule {
    name: "no-hysteresis",
    level: Level::Note,
    finds: "An analog control whose up level is its down level.",
    why: "Held right at the level, it flutters: down and up again with every tremor.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            switch_at(context, id, index, binding, found);
        }
        let levels = action.levels;
        let is_analog = |kind: ControlKind| {
            matches!(kind, ControlKind::Lever | ControlKind::Axis | ControlKind::Stick)
        };
        let own = |b: &Binding| {
            let steps = all_steps(&b.chain);
            !steps.iter().any(|step| {
                matches!(step.kind, StepKind::SwitchAt { .. } | StepKind::Toggle | StepKind::Not)
            })
        };
        let analog = action.bindings.iter().enumerate().any(|(index, binding)| {
            own(binding) && context.uses_of(id, index).any(|one| is_analog(one.kind) && !one.holds)
        });
        // Anything away from 0 is no level to flutter at.
        if levels.up < levels.down || levels.down <= table::SHARE_DOWN || !analog {
            continue;
        }
        let up = shortest((levels.wake * 0.8 * 1e6).round() / 1e6).to_string();
        let message = format!(
            "{} is down and up at the same {}: an analog control flutters there",
            context.profile.address(id),
            levels.down
        );
        let place = Place::key(context.profile, id, "levels");
        let (wake, down) = (shortest(levels.wake), shortest(levels.down));
        let all = match levels.wake == levels.down {
            true => format!("`levels = {{ down = {down}, up = {up} }}`"),
            false => format!("`levels = {{ wake = {wake}, down = {down}, up = {up} }}`"),
        };
        let mut remark = place.tell(message, format!("let it come up lower: {all}"));
        remark.diagnostic.mends =
            vec![Mend::Set(format!("{}.levels.up", context.profile.address(id)), up)];
        found.push(remark);
    }
}

/// A `switch-at` that is off right under where it is on, at some value of what they follow.
fn switch_at(
    context: &Context<'_>,
    id: ActionId,
    index: usize,
    binding: &Binding,
    found: &mut Vec<Remark>,
) {
    let graded = |one: &crate::check::context::Use| {
        matches!(one.kind, ControlKind::Lever | ControlKind::Axis | ControlKind::Stick)
    };
    if !context.uses_of(id, index).any(|one| graded(one) && !one.holds) {
        return;
    }
    let flow = Flow::any(context.profile);
    for step in all_steps(&binding.chain) {
        let StepKind::SwitchAt { on, off: Some(off) } = &step.kind else { continue };
        let (on, off) = (flow.number(*on), flow.number(*off));
        if off.most < on.least {
            continue;
        }
        let message = format!(
            "{} switches on and off at the same {}: an analog control flutters there",
            context.profile.address(id),
            shortest(on.least)
        );
        let help = "let it go off lower: leave `off` out, and it is 0.8 of `on`";
        found.push(Place::binding(context.profile, id, index).at("switch-at").tell(message, help));
    }
}
