//! `raw-stick`: a stick or lever whose idle reading passes the wake level.

use crate::check::{Context, Interval, Place, Range, Remark, Rule, Worth};
use harmonym_lang::profile::table;
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::limits::IDLE;
use harmonym_runtime::base::{ControlId, ControlKind, Id, shortest};

pub(super) const RULE: Rule = Rule {
    name: "raw-stick",
    level: Level::Warning,
    finds: "A stick or lever whose idle reading passes the wake level.",
    why: "Nobody touches it, and the keeper creeps along the quay; or it fires by itself.",
    find,
};

/// What a control may read by itself: for a stick, all around at that length.
fn idle(kind: ControlKind) -> Vec<Range> {
    let axis = |v: f64| Range::axis(Interval::only(v));
    match kind {
        ControlKind::Lever => vec![axis(IDLE)],
        ControlKind::Axis => vec![axis(IDLE), axis(-IDLE)],
        ControlKind::Stick => (0..16)
            .map(|i| {
                let angle = f64::from(i) * std::f64::consts::PI / 8.0;
                let (x, y) = (IDLE * libm::cos(angle), IDLE * libm::sin(angle));
                Range::of([Interval::only(x), Interval::only(y), Interval::ZERO])
            })
            .collect(),
        _ => Vec::new(),
    }
}

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let reported = context.profile.catalogue.reported();
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            let uses: Vec<_> = context.uses_of(id, index).filter(|one| !one.holds).collect();
            for one in &uses {
                let held = context.held_for(one);
                let wakes = |control: ControlId, worth: &Worth| {
                    let Some(reported) = reported.get(control.index()) else { return false };
                    idle(reported.kind).into_iter().any(|range| {
                        let touched = [&held[..], &[(control, range)]].concat();
                        let read = context.probe_at(id, index, touched, Some(worth));
                        read.length.most >= action.levels.wake
                    })
                };
                let corners = context.corners(id);
                let wakes =
                    |worth: &&Worth| one.parts.iter().any(|(control, _)| wakes(*control, worth));
                let Some(worth) = corners.iter().find(wakes) else { continue };
                let message = format!(
                    "{} reads up to {IDLE} when nobody touches it, and {} wakes from {}{}",
                    one.name,
                    context.profile.address(id),
                    match action.levels.wake {
                        any if any <= table::SHARE_DOWN => "anything".to_owned(),
                        wake => shortest((wake * 1e9).round() / 1e9).to_string(),
                    },
                    worth.words()
                );
                let (head, rest) = match binding.text.split_once(" | ") {
                    Some((head, rest)) => (head, format!(" | {rest}")),
                    None => (binding.text.as_str(), String::new()),
                };
                let mended = format!("{head} | deadzone 0.1{rest}");
                let is_first = worth.other.is_empty();
                let help = match is_first {
                    true => format!("leave out what is idle: `{mended}`"),
                    false => format!(
                        "keep what is idle out at every value: end the range earlier, or begin with \
                         `{mended}`"
                    ),
                };
                let place = Place::binding(context.profile, id, index).at(one.name.as_str());
                let mut remark = place.tell(message, help);
                if head == one.name.as_str() && is_first {
                    remark.diagnostic.mends =
                        vec![Mend::Set(context.profile.binding_address(id, binding), mended)];
                }
                found.push(remark);
                break;
            }
        }
    }
}
