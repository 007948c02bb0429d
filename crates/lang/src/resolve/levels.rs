//! The levels of all actions: those that they name, and the default ones, which follow from what they
//! read.

use super::Resolver;
use crate::model::{Action, ActionId, Cue, Head, Levels, Step, StepKind};
use crate::profile::{self, table};
use crate::report::FaultKind;
use harmonym_runtime::base::{ControlKind, Id};

/// What stands in the file, and what was made of it; nothing where too little is known.
pub(super) type Made<'a> = (&'a profile::Action, Option<ActionId>);

impl Resolver<'_> {
    /// Sets the levels of all actions, which stand in the file as `made` says.
    pub(super) fn levels(&mut self, made: &[Made<'_>], actions: &mut [Action]) {
        let shares = comes_in_shares(made, actions);
        for (&(raw, id), shares) in made.iter().zip(shares) {
            let action = id.and_then(|id| actions.get_mut(id.index()));
            let default = match &action {
                Some(action) if !is_followed(action) => table::PRESSED_DOWN,
                Some(_) if shares => table::SHARE_DOWN,
                Some(_) => table::FOLLOWED_DOWN,
                None => table::PRESSED_DOWN,
            };
            let levels = self.levels_of(raw, default);
            if let (Some(action), Some(levels)) = (action, levels) {
                action.levels = levels;
            }
        }
    }

    /// The levels of an action whose down level is `default` where it names none.
    fn levels_of(&mut self, raw: &profile::Action, default: f64) -> Option<Levels> {
        let given = raw.levels.clone().unwrap_or_default();
        let mut sound = true;
        for (value, span) in [given.wake, given.down, given.up].into_iter().flatten() {
            let text = harmonym_runtime::base::shortest(value).to_string();
            sound &= self.in_range(value, &text, span, &table::LEVEL).is_some();
        }
        if !sound {
            return None;
        }
        let down = given.down.map_or(default, |(v, _)| v);
        let wake = given.wake.map_or(down, |(v, _)| v);
        let up = given.up.map_or(table::UP_SHARE * wake, |(v, _)| v);
        let shown = |v: f64| harmonym_runtime::base::shortest(v).to_string();
        if let Some((_, span)) = given.wake.or(given.down).filter(|_| wake > down) {
            let message =
                format!("wakes at {}, which is over its down level {}", shown(wake), shown(down));
            let help = "levels go up ≤ wake ≤ down: lower `wake`, or raise `down`";
            self.diagnostics.fault(FaultKind::OutOfRange, span, message, help);
            return None;
        }
        if let Some((_, span)) = given.up.filter(|_| up > wake) {
            let message =
                format!("is up under {}, which is over its wake level {}", shown(up), shown(wake));
            let help = "levels go up ≤ wake ≤ down: lower `up`";
            self.diagnostics.fault(FaultKind::OutOfRange, span, message, help);
            return None;
        }
        Some(Levels { wake, down, up })
    }
}

/// Whether every cue only follows the value.
fn is_followed(action: &Action) -> bool {
    action.fire.iter().all(|one| matches!(one.cue, Cue::While | Cue::Change))
}

/// Whether what an action reads comes in shares of a tick, also by way of other actions: it moves by
/// something, or adds up over time.
fn comes_in_shares(made: &[Made<'_>], actions: &[Action]) -> Vec<bool> {
    // Other actions are named by where they stand in the file.
    let mut readers = vec![Vec::new(); made.len()];
    let mut shares = vec![false; made.len()];
    let mut found = Vec::new();
    let travels = |steps: &[Step]| steps.iter().any(|step| step.kind == StepKind::Travel);
    for (index, (_, id)) in made.iter().enumerate() {
        let Some(action) = id.and_then(|id| actions.get(id.index())) else { continue };
        let mut does = travels(&action.shape);
        for binding in &action.bindings {
            binding.chain.for_each(&mut |chain| {
                does |= travels(&chain.steps);
                match chain.head {
                    Head::Control { kind, .. } => does |= kind == ControlKind::Relative,
                    Head::Action { action, .. } => readers[action.index()].push(index),
                    _ => {}
                }
            });
        }
        if does {
            shares[index] = true;
            found.push(index);
        }
    }
    while let Some(index) = found.pop() {
        for &reader in &readers[index] {
            if !std::mem::replace(&mut shares[reader], true) {
                found.push(reader);
            }
        }
    }
    shares
}
