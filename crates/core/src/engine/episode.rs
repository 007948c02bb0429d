//! Levels, episodes and triggers.

use super::Tell;
use super::event::{Cause, Event, EventKind, Notice};
use super::state::{AlternativeState as Stage, State};
use crate::base::{ActionId, AlternativeId, Kind, Time, Vector};
use crate::plan::{Plan, Trigger};

impl State {
    /// Takes an action's new value, and tells what its levels make of it.
    pub fn settle(&mut self, plan: &Plan, action: ActionId, value: Vector, tell: Tell<'_>) {
        let spec = &plan.actions[action];
        let before = self.actions[action];
        self.moved.insert(action);
        if before.down && spec.kind == Kind::Axis && value.x * before.last_down.x < 0.0 {
            self.actions[action].value = Vector::ZERO;
            self.come_up(plan, action, tell);
        }
        let magnitude = value.magnitude();
        let state = &mut self.actions[action];
        state.value = value;
        if state.down {
            match magnitude < spec.up {
                true => self.come_up(plan, action, tell),
                false => state.last_down = value,
            }
            return;
        }
        let wakes = !state.awake && magnitude >= spec.wake;
        let goes_down = (state.awake || wakes) && magnitude >= spec.down;
        if goes_down {
            (state.down, state.down_at, state.last_down) = (true, self.now, value);
        }
        if wakes {
            self.wake(plan, action, tell);
        }
        if goes_down {
            self.go_down(plan, action, tell);
        } else if self.actions[action].awake && magnitude < spec.up {
            self.end(plan, action, Cause::TooLight, tell);
        }
    }

    fn wake(&mut self, plan: &Plan, action: ActionId, tell: Tell<'_>) {
        let state = &mut self.actions[action];
        (state.awake, state.woke_at, state.first_fire, state.woke) = (true, self.now, None, true);
        for alternative in plan.actions[action].alternatives.iter() {
            self.alternatives[alternative] = Stage::Idle;
        }
        let value = self.value_now(plan, action);
        self.tell(action, EventKind::Wake, value, 0.0, tell);
    }

    fn go_down(&mut self, plan: &Plan, action: ActionId, tell: Tell<'_>) {
        for id in plan.actions[action].alternatives.iter() {
            self.alternatives[id] = Stage::Pending;
            match plan.alternatives[id].trigger {
                Trigger::Press => self.fire(plan, id, tell),
                Trigger::Release => {}
                Trigger::While => self.firing.insert(id),
                Trigger::Hold(time) => self.timers.set(id, self.now + time),
            }
        }
    }

    /// The control came up: each alternative fires or gives up, then the episode ends.
    fn come_up(&mut self, plan: &Plan, action: ActionId, tell: Tell<'_>) {
        let reached = self.progress(plan, action);
        self.actions[action].down = false;
        for id in plan.actions[action].alternatives.iter() {
            let fired = self.alternatives[id] == Stage::Live;
            let fires_now = match plan.alternatives[id].trigger {
                Trigger::Release => true,
                Trigger::While => {
                    self.firing.remove(id);
                    !fired
                }
                Trigger::Press | Trigger::Hold(_) => false,
            };
            if fires_now {
                let value = self.actions[action].last_down;
                let value = if plan.actions[action].kind == Kind::Switch {
                    Vector::axis(1.0)
                } else {
                    value
                };
                self.fire_with(plan, id, value, tell);
            }
            self.timers.cancel(id);
            let fired = fired || fires_now;
            let cause = if fired { Cause::Released } else { Cause::TooShort };
            self.alternatives[id] = Stage::Over(cause, fired);
        }
        let cause = self.cause_of_end(plan, action);
        self.end_with(plan, action, cause, reached, tell);
    }

    /// The cause of the alternative that ended last: all end together, so the first in the rule,
    /// of those that fired if any did.
    fn cause_of_end(&self, plan: &Plan, action: ActionId) -> Cause {
        let fired_any = self.actions[action].first_fire.is_some();
        let over =
            plan.actions[action].alternatives.iter().filter_map(|id| match self.alternatives[id] {
                Stage::Over(cause, fired) if fired == fired_any => Some(cause),
                _ => None,
            });
        over.into_iter().next().unwrap_or(Cause::Released)
    }

    /// Fires an alternative with the value of this moment.
    pub fn fire(&mut self, plan: &Plan, id: AlternativeId, tell: Tell<'_>) {
        let value = self.value_now(plan, plan.alternatives[id].action);
        self.fire_with(plan, id, value, tell);
    }

    fn fire_with(&mut self, plan: &Plan, id: AlternativeId, value: Vector, tell: Tell<'_>) {
        let action = plan.alternatives[id].action;
        self.alternatives[id] = Stage::Live;
        let state = &mut self.actions[action];
        state.first_fire.get_or_insert(self.now);
        state.fired = state.fired.saturating_add(1);
        self.tell(action, EventKind::Fire(id), value, 1.0, tell);
    }

    fn end(&mut self, plan: &Plan, action: ActionId, cause: Cause, tell: Tell<'_>) {
        let reached = self.progress(plan, action);
        self.end_with(plan, action, cause, reached, tell);
    }

    fn end_with(
        &mut self,
        plan: &Plan,
        action: ActionId,
        cause: Cause,
        reached: f64,
        tell: Tell<'_>,
    ) {
        let value = self.value_now(plan, action);
        let state = &mut self.actions[action];
        (state.awake, state.down) = (false, false);
        let fired = state.first_fire.is_some();
        state.ended = Some((fired, cause));
        let kind = if fired { EventKind::Rest(cause) } else { EventKind::Lapse(cause) };
        let progress = if fired { 1.0 } else { reached };
        self.tell(action, kind, value, progress, tell);
    }

    /// Ends an open episode without firing anything; its event carries 0.
    pub fn end_by_force(&mut self, plan: &Plan, action: ActionId, cause: Cause, tell: Tell<'_>) {
        if !self.actions[action].awake {
            return;
        }
        let reached = self.progress(plan, action);
        for id in plan.actions[action].alternatives.iter() {
            self.firing.remove(id);
            self.timers.cancel(id);
        }
        let state = &mut self.actions[action];
        (state.down, state.value) = (false, Vector::ZERO);
        self.moved.insert(action);
        self.end_with(plan, action, cause, reached, tell);
    }

    /// The share of the way to firing, of the alternative that is furthest.
    pub fn progress(&self, plan: &Plan, action: ActionId) -> f64 {
        let state = &self.actions[action];
        if state.first_fire.is_some() {
            return 1.0;
        }
        let mut furthest = 0.0_f64;
        for id in plan.actions[action].alternatives.iter().filter(|_| state.down) {
            if let Trigger::Hold(time) = plan.alternatives[id].trigger {
                let waited = self.now.since(state.down_at).nanos() as f64;
                furthest = furthest.max((waited / time.nanos() as f64).min(1.0));
            }
        }
        furthest
    }

    /// The value of this moment: of a switch, whether it is down.
    pub fn value_now(&self, plan: &Plan, action: ActionId) -> Vector {
        let state = &self.actions[action];
        match plan.actions[action].kind {
            Kind::Switch => Vector::axis(if state.down { 1.0 } else { 0.0 }),
            Kind::Axis | Kind::Plane => state.value,
        }
    }

    fn tell(
        &mut self,
        action: ActionId,
        kind: EventKind,
        value: Vector,
        progress: f64,
        tell: Tell<'_>,
    ) {
        self.told.insert(action);
        self.moved.insert(action);
        let state = &self.actions[action];
        let since = |start: Time| self.now.since(start);
        tell(Notice::Event(Event {
            t: self.now,
            tick: self.tick_that_sees(),
            action,
            kind,
            value,
            held: since(state.woke_at),
            fired_for: state.first_fire.map(since),
            progress,
            from: state.from,
        }));
    }
}
