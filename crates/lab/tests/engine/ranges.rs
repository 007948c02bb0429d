//! What the checker proves, against the engine: no value leaves its range, and what never fires
//! never does.

use crate::gate::gate;
use crate::harness::{inputs, load, run};
use crate::random::{self, Ticks};
use harmonym_lab::check::{Context, Range, check};
use harmonym_lab::trace::Curve;
use harmonym_runtime::base::{ActionId, Id, Kind, Vector};
use harmonym_runtime::engine::{EventKind, Notice};
use proptest::prelude::*;
use std::collections::BTreeSet;

/// Whether a value lies within a range, but for rounding.
fn holds(range: Range, value: Vector, kind: Kind) -> bool {
    let near = |limit: f64| 1e-9 * (1.0 + if limit.is_finite() { limit.abs() } else { 0.0 });
    let length = value.magnitude_of(kind);
    let parts = value.xyz().into_iter().zip(range.parts);
    let within = |v: f64, least: f64, most: f64| v >= least - near(least) && v <= most + near(most);
    let rests = length == 0.0;
    let turned = kind == Kind::Turn;
    rests
        || ((turned || { parts }.all(|(v, part)| within(v, part.least, part.most)))
            && length <= range.length.most + near(range.length.most) * 10.0)
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn values_stay_within_what_the_checker_proves(
        profile in random::profile(Ticks::With),
        take in random::take(),
        rate in prop::sample::select(vec!["20", "60", "144"]),
    ) {
        let (model, plan) = load(&profile);
        let none = BTreeSet::new();
        let context = Context::new(&model, &none);
        let remarks = check(&model, &none);
        let never: BTreeSet<String> = remarks
            .iter()
            .filter(|remark| remark.diagnostic.rule == "never-fires")
            .filter_map(|remark| Some(model.address(remark.place.action?)))
            .collect();
        let (log, _) = run(&plan, &inputs(&take, &plan), rate);
        let in_file = |id: ActionId| harmonym_lang::model::ActionId::of_plan(&plan, id);
        let told = log.notices.iter().filter_map(|notice| match notice {
            Notice::Event(event) => Some((event.action, event.value)),
            _ => None,
        });
        let read = log.values.iter().flat_map(|(_, _, all)| all);
        let read = read.map(|(index, value)| (ActionId::new(*index), *value));
        for (action, value) in told.chain(read) {
            let (id, kind) = (in_file(action), plan.actions()[action].kind);
            if kind != Kind::Switch {
                let range = context.ranges[id];
                prop_assert!(
                    holds(range, value, kind),
                    "{} is {value:?}, outside of {range:?}\n{profile}\n{take}",
                    plan.names().actions[action]
                );
            }
        }
        for notice in &log.notices {
            if let Notice::Event(event) = notice {
                let fires = matches!(event.kind, EventKind::Fire(..));
                let name = &plan.names().actions[event.action];
                prop_assert!(!fires || !never.contains(name), "{name} fires\n{profile}\n{take}");
            }
        }
    }
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn every_curve_is_finite_and_within_its_range(profile in random::profile(Ticks::With)) {
        let (_, plan) = load(&profile);
        for action in plan.actions().ids() {
            for (binding, curve) in Curve::of(&plan, action) {
                let Some(curve) = curve else { continue };
                let (from, to) = curve.range;
                prop_assert!(from <= 0.0 && to > 0.0, "{}", plan.names().bindings[binding]);
                for (raw, value) in &curve.points {
                    prop_assert!(value.is_finite() && (from..=to).contains(raw));
                }
                let within = |at: &f64| (0.0..=to).contains(at);
                let known = curve.levels.iter().chain([&curve.dead, &curve.full]).flatten();
                let are_known = { known }.all(within);
                prop_assert!(are_known, "{curve:?}");
                if let Some(reach) = &curve.reach {
                    let all = reach.square.iter().chain(&reach.round);
                    let are_finite = { all }.all(|(x, y)| x.is_finite() && y.is_finite());
                    prop_assert!(are_finite, "{reach:?}");
                }
            }
        }
    }
}
