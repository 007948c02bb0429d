//! `raw-stick`: a stick or lever whose idle reading passes the wake level.

use crate::check::{Context, Interval, Place, Range, Remark, Rule};
use harmonym_lang::profile::table;
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::limits::IDLE;
use harmonym_runtime::base::{ControlKind, Id, shortest};

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
                let Some(&(control, _)) = one.parts.first() else { continue };
                let Some(reported) = reported.get(control.index()) else { continue };
                let wakes = idle(reported.kind).into_iter().any(|range| {
                    let read = context.probe(id, index, vec![(control, range)]);
                    read.length.most >= action.levels.wake
                });
                if !wakes {
                    continue;
                }
                let message = format!(
                    "{} reads up to {IDLE} when nobody touches it, and {} wakes from {}",
                    one.name,
                    context.profile.address(id),
                    match action.levels.wake {
                        any if any <= table::SHARE_DOWN => "anything".to_owned(),
                        wake => shortest((wake * 1e9).round() / 1e9).to_string(),
                    }
                );
                let (head, rest) = match binding.text.split_once(" | ") {
                    Some((head, rest)) => (head, format!(" | {rest}")),
                    None => (binding.text.as_str(), String::new()),
                };
                let mended = format!("{head} | deadzone 0.1{rest}");
                let help = format!("leave out what is idle: `{mended}`");
                let place = Place::binding(context.profile, id, index).at(one.name.as_str());
                let mut remark = place.tell(message, help);
                if head.starts_with(one.name.as_str()) {
                    remark.diagnostic.mends =
                        vec![Mend::Set(context.profile.binding_address(id, binding), mended)];
                }
                found.push(remark);
                break;
            }
        }
    }
}
