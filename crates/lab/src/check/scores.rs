//! What scores open, and what they expect that can never come.

use super::{Context, Remark};
use crate::score::{Expected, Instruction, Score, fires_before_maps, impossible};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::report::Diagnostic;
use harmonym_runtime::base::{Kind, MapId};
use harmonym_runtime::plan::Plan;
use std::collections::BTreeSet;
use std::sync::Arc;

/// The maps that a score opens.
pub fn opened(score: &Score) -> BTreeSet<MapId> {
    let opens = score.instructions.iter().filter_map(Instruction::opens);
    opens.chain(score.start).collect()
}

/// The maps that a score opens right as an action fires, each with that action.
pub fn openers(plan: &Arc<Plan>, score: &Score) -> BTreeSet<(MapId, ActionId)> {
    fires_before_maps(plan, score)
        .into_iter()
        .map(|(map, action)| (map, ActionId::of_plan(plan, action)))
        .collect()
}

/// The expectations of a score that cannot be met, after what the checker knows of the profile.
pub fn never_hold(
    profile: &Profile,
    plan: &Plan,
    score: &Score,
    context: &Context<'_>,
    remarks: &[Remark],
) -> Vec<Diagnostic> {
    let never: BTreeSet<ActionId> = remarks
        .iter()
        .filter(|remark| remark.diagnostic.rule == "never-fires")
        .filter_map(|remark| remark.place.action)
        .collect();
    let mut all = Vec::new();
    for expectation in &score.expectations {
        if let Some(impossible) = impossible(plan, expectation) {
            all.push(impossible);
            continue;
        }
        let why = match &expectation.what {
            Expected::Events(id, events) if events.event == "fire" && !events.count.allows(0) => {
                let id = ActionId::of_plan(plan, *id);
                never.contains(&id).then(|| {
                    let name = profile.address(id);
                    (
                        format!("{name} never fires"),
                        "see what `harmonym check` says of it".to_owned(),
                    )
                })
            }
            Expected::Value { action, value, within, .. } => {
                let id = ActionId::of_plan(plan, *action);
                let kind = profile.actions[id].kind;
                let range = context.ranges[id];
                let beyond = |part: usize| {
                    let (wanted, reach) = (value.components()[part], range.parts[part]);
                    let slack = within + 1e-9;
                    let rests = wanted.abs() <= slack;
                    !rests && (wanted > reach.most + slack || wanted < reach.least - slack)
                };
                let is_beyond = match kind {
                    Kind::Turn | Kind::Switch => false,
                    _ => (0..kind.components()).any(beyond),
                };
                is_beyond.then(|| {
                    let name = profile.address(id);
                    (
                        format!("{name} never gets there"),
                        format!("expect what it gives: see `harmonym show {name}`"),
                    )
                })
            }
            _ => None,
        };
        all.extend(why.map(|(message, help)| Diagnostic {
            rule: "never-holds",
            span: expectation.span,
            ..Diagnostic::refused(message, help)
        }));
    }
    all
}
