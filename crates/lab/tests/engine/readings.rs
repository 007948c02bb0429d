//! What game code reads at each tick: the engine's against the interpreter's.

use crate::harness::Log;
use crate::interpreter::Reading;
use harmonym_lang::model::Profile;
use harmonym_runtime::base::{Id, Vector};
use harmonym_runtime::plan::Plan;
use std::collections::HashMap;

/// Compares what is read of every action at every tick: its value, its state, its fires, and whether it is
/// among those that changed. At a tick that the engine passed over, all is as at the one before.
pub fn same_readings(
    plan: &Plan,
    profile: &Profile,
    log: &Log,
    slow: &[Vec<Reading>],
) -> Result<(), String> {
    let places: HashMap<String, usize> =
        profile.actions.ids().map(|id| (profile.address(id), id.index())).collect();
    let changed: HashMap<u64, Vec<usize>> = log
        .values
        .iter()
        .map(|(_, tick, all)| (*tick, all.iter().map(|(action, _)| *action).collect()))
        .collect();
    let mut fast = log.read.iter().peekable();
    let mut before = vec![None; plan.actions().len()];
    for (tick, slow) in (1..).zip(slow) {
        let now = fast.next_if(|(at, _)| *at == tick).map(|(_, all)| all);
        for id in plan.actions().ids() {
            let own = slow[places[&plan.names().actions[id]]];
            let (value, state, fired) = match (now, before[id.index()]) {
                (Some(now), _) => now[id.index()],
                (None, Some((value, state))) => (value, state, 0),
                (None, None) => continue,
            };
            let is_near = |(a, b): (f64, f64)| (a - b).abs() <= 1e-7;
            let is_same = value.xyz().into_iter().zip(own.value).all(is_near)
                && (state, fired) == (own.state, own.fired);
            let was: Vector = before[id.index()].map_or(Vector::ZERO, |(value, _)| value);
            let is_told = changed.get(&tick).is_some_and(|all| all.contains(&id.index()));
            if !is_same || is_told != (value != was) {
                let name = &plan.names().actions[id];
                let was = was.xyz();
                let told = if is_told { "changed" } else { "the same" };
                return Err(format!(
                    "at tick {tick} of {name}: engine {value:?}, {state:?}, {fired} fires, {told} \
                     after {was:?}\ninterpreter {own:?}"
                ));
            }
            before[id.index()] = Some((value, state));
        }
    }
    Ok(())
}
