//! One instant worked through: what is due and what is dirty, in working order.

use super::Tell;
use super::state::State;
use super::timers::When;
use crate::base::{ActionId, AlternativeId, Time, Vector};
use crate::plan::Plan;

/// What others see of an action; when it changes, those that name it are worked out too.
#[derive(PartialEq)]
struct Outside {
    awake: bool,
    live: bool,
    value: Vector,
    first_fires: u64,
    live_at: Option<Time>,
    forced_at: Option<Time>,
}

impl State {
    /// Goes on to `at`, through all that is due by then in phases up to `through`. A time before
    /// the present one counts as the present one.
    pub fn advance(&mut self, plan: &Plan, at: Time, through: When, tell: Tell<'_>) {
        self.begin_frame();
        while let Some((due, phase, _)) = self.timers.first() {
            if (due, phase) > (at, through) {
                break;
            }
            self.now = self.now.max(due);
            while let Some((next, of_phase, alternative)) = self.timers.first() {
                if (next, of_phase) != (due, phase) {
                    break;
                }
                self.timers.cancel(alternative);
                self.due.insert(alternative);
            }
            self.pass(plan, tell);
        }
        self.now = self.now.max(at);
    }

    /// Works through everything that is due or dirty, action by action in working order.
    pub fn pass(&mut self, plan: &Plan, tell: Tell<'_>) {
        self.pass_before(plan, None, tell);
    }

    /// The same for the actions that stand before `end` only.
    pub fn pass_before(&mut self, plan: &Plan, end: Option<ActionId>, tell: Tell<'_>) {
        loop {
            let due = self.due.next(0).map(|alternative| plan.alternatives[alternative].action);
            let Some(action) = [due, self.dirty.next(0)].into_iter().flatten().min() else {
                return;
            };
            if end.is_some_and(|end| action >= end) {
                return;
            }
            self.dirty.remove(action);
            let before = self.outside(plan, action);
            self.run_due(plan, action, tell);
            self.work_out(plan, action, tell);
            self.touch_if_changed(plan, action, &before);
        }
    }

    /// Fires a `while` at a tick.
    pub fn fire_at_tick(&mut self, plan: &Plan, id: AlternativeId, tell: Tell<'_>) {
        let action = plan.alternatives[id].action;
        let before = self.outside(plan, action);
        let value = self.value_now(plan, action);
        self.fire(plan, id, value, None, tell);
        self.touch_if_changed(plan, action, &before);
    }

    /// Has the actions worked out that name `action`, if they would see another than `before`.
    fn touch_if_changed(&mut self, plan: &Plan, action: ActionId, before: &Option<Outside>) {
        if self.outside(plan, action) != *before {
            for &other in plan.actions[action].named_by.of(&plan.listed) {
                self.touch(plan, other);
            }
        }
    }

    fn run_due(&mut self, plan: &Plan, action: ActionId, tell: Tell<'_>) {
        while let Some(alternative) = self.due.next(0) {
            if plan.alternatives[alternative].action != action {
                return;
            }
            self.due.remove(alternative);
            self.time_came(plan, alternative, tell);
        }
    }

    /// What others see of an action; nothing when no other names it.
    fn outside(&self, plan: &Plan, action: ActionId) -> Option<Outside> {
        if plan.actions[action].named_by.is_empty() {
            return None;
        }
        let state = &self.actions[action];
        Some(Outside {
            awake: state.awake,
            live: self.is_live(plan, action),
            value: self.value_read(plan, action),
            first_fires: state.first_fires,
            live_at: state.live_at,
            forced_at: state.forced_at,
        })
    }
}
