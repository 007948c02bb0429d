//! Levels and episodes.

use super::Tell;
use super::clock::{Clock, Mode};
use super::cues::Cues;
use super::episodes::{AlternativeState, Episodes, Level, Stage};
use super::event::{Cause, Event, EventKind, Notice};
use super::state::State;
use super::values::Values;
use crate::base::{ActionId, Kind, Time, Vector};
use crate::plan::{Cue, Tables};
use std::time::Duration;

impl State {
    /// Works an action out from what its bindings read now, and tells what comes of it.
    pub fn work_out(&mut self, plan: &Tables, action: ActionId, tell: &mut (impl Tell + ?Sized)) {
        let spec = &plan.actions[action];
        if !self.inputs.is_active(action) {
            return;
        }
        if let Some(id) = spec.alternatives.iter().next()
            && let Cue::Sequence(steps, within) = plan.alternatives[id].cue
        {
            self.cues(plan, tell).follow_sequence(id, steps, within);
            return;
        }
        // Something hidden at the very event that it came with is no news.
        let is_fresh = self.agenda.fresh.contains(action)
            || (self.agenda.reread.contains(action) && self.inputs.controls.has_news(plan, action));
        self.agenda.fresh.remove(action);
        self.agenda.reread.remove(action);
        let is_reguarded = self.agenda.reguarded.contains(action);
        self.agenda.reguarded.remove(action);
        // Also what has arrived since the last tick is told at the next one, not at an event that is none
        // of its own.
        let has_moved = self.agenda.moving.contains(action) || self.agenda.recheck.contains(action);
        if has_moved && !is_fresh && self.clock.mode != Mode::Look {
            return self.look_around(plan, action, is_reguarded, tell);
        }
        let value = self.take_value(plan, action);
        let mut cues = self.cues(plan, tell);
        cues.settle_kept(action);
        cues.settle(action, value);
    }

    /// Works an action's value out, and takes it and which binding won.
    #[inline]
    pub fn take_value(&mut self, plan: &Tables, action: ActionId) -> Vector {
        let (value, won) = self.value_of(plan, action);
        self.inputs.learn(plan, action, value, won);
        let state = &mut self.episodes.actions[action];
        if won.is_some() {
            state.from = won;
        }
        // What ends now carries the value of this moment, not the one before.
        state.value = value;
        value
    }

    /// What others do may matter for an action that moves; its levels are crossed at looks and at
    /// events that change what it reads, not now.
    fn look_around(
        &mut self,
        plan: &Tables,
        action: ActionId,
        is_reguarded: bool,
        tell: &mut (impl Tell + ?Sized),
    ) {
        self.peek(plan, action);
        let mut cues = self.cues(plan, tell);
        cues.settle_kept(action);
        cues.end_if_over(action);
        if self.episodes.actions[action].level == Level::Down {
            self.cues(plan, tell).look_at_guards(action);
            // A tick tells what moved since the last, whatever else the action is looked at for.
            if is_reguarded || self.clock.mode == Mode::Tick {
                self.cues(plan, tell).look_at_change(action);
            }
        }
    }
}

impl Episodes {
    /// The share of the way to firing, of the alternative that is furthest.
    pub fn progress(&self, clock: Clock, values: &Values, plan: &Tables, action: ActionId) -> f64 {
        let state = &self.actions[action];
        if state.first_fire.is_some() {
            return 1.0;
        }
        let share = |id| {
            let alternative = &self.alternatives[id];
            if alternative.stage != Stage::Open {
                return 0.0;
            }
            match plan.alternatives[id].cue {
                Cue::Hold(_) | Cue::Charge(_) if !state.is_down() => 0.0,
                Cue::Hold(_) | Cue::Charge(_) => {
                    let waited = clock.now.since(state.down_at).nanos() as f64;
                    (waited / alternative.time.nanos() as f64).min(1.0)
                }
                Cue::Taps(count, _) => f64::from(alternative.count) / values.number(count).round(),
                Cue::Sequence(steps, _) => {
                    f64::from(alternative.count) / steps.of(&plan.listed).len() as f64
                }
                Cue::Press
                | Cue::Release
                | Cue::While
                | Cue::Change
                | Cue::Tap(_)
                | Cue::Repeat(..) => 0.0,
            }
        };
        plan.actions[action].alternatives.iter().map(share).fold(0.0, f64::max)
    }

    /// The value of this moment: of a switch, whether it is down.
    pub fn value_now(&self, plan: &Tables, action: ActionId) -> Vector {
        self.actions[action].value_now(plan.actions[action].kind)
    }
}

impl<T: Tell + ?Sized> Cues<'_, T> {
    /// Takes an action's new value, and tells what its levels make of it.
    pub fn settle(&mut self, action: ActionId, value: Vector) {
        let plan = self.plan;
        let spec = &plan.actions[action];
        self.agenda.moved.insert(action);
        let before = &self.episodes.actions[action];
        let turned = spec.kind == Kind::Axis && value.x * before.last_down.x < 0.0;
        if before.level == Level::Down && turned {
            self.episodes.actions[action].value = Vector::ZERO;
            self.come_up(action);
        }
        let magnitude = value.magnitude_of(spec.kind);
        let state = &mut self.episodes.actions[action];
        (state.value, state.settled) = (value, value);
        match state.level {
            Level::Down if magnitude < spec.up => self.come_up(action),
            Level::Down => {
                state.last_down = value;
                if spec.has_guards {
                    self.look_at_guards(action);
                }
                // A look is no event: what changed by it is told at the next tick.
                match self.clock.mode {
                    _ if !spec.has_change => {}
                    Mode::Look => self.agenda.recheck.insert(action),
                    _ => self.look_at_change(action),
                }
                // What a fire was dropped of, while it stays down.
                if !spec.yields_to.is_empty() {
                    self.end_if_over(action);
                }
            }
            Level::Woken if magnitude >= spec.down => self.rise(action, false),
            Level::Woken if magnitude < spec.up => {
                state.level = Level::Up;
                if state.awake && !state.was_down {
                    self.end(action, Cause::TooLight);
                }
            }
            Level::Up if magnitude >= spec.wake => self.rise(action, true),
            Level::Woken | Level::Up => {}
        }
    }

    /// The magnitude reached `wake` (if `from_up`), or `down`, or both.
    fn rise(&mut self, action: ActionId, from_up: bool) {
        let plan = self.plan;
        let spec = &plan.actions[action];
        let is_down = self.episodes.actions[action].value.magnitude_of(spec.kind) >= spec.down;
        let wakes = from_up
            && !self.episodes.actions[action].awake
            && !self.episodes.belongs_to_other(self.clock, plan, action);
        let waits = self.episodes.waits_for_a_press(plan, action);
        let state = &mut self.episodes.actions[action];
        state.level = if is_down { Level::Down } else { Level::Woken };
        if is_down {
            (state.down_at, state.last_down) = (self.clock.now, state.value);
            state.counts = wakes || (state.awake && waits);
        }
        if wakes {
            self.wake(action, Stage::Idle);
        }
        if self.episodes.actions[action].is_down() {
            self.episodes.actions[action].was_down = true;
            self.go_down(action);
        }
    }

    /// Opens an episode, with every alternative at `stage`.
    pub fn wake(&mut self, action: ActionId, stage: Stage) {
        let plan = self.plan;
        let state = &mut self.episodes.actions[action];
        (state.awake, state.woke_at, state.first_fire) = (true, self.clock.now, None);
        (state.was_down, state.may_resume, state.reached) = (false, false, 0.0);
        for alternative in plan.actions[action].alternatives.iter() {
            self.episodes.alternatives[alternative] =
                AlternativeState { stage, ..AlternativeState::NEW };
        }
        let value = self.episodes.value_now(plan, action);
        self.agenda.moved.insert(action);
        self.tell(action, EventKind::Wake, value, 0.0);
    }

    /// Ends the episode if no alternative is pending or live any more.
    pub fn end_if_over(&mut self, action: ActionId) {
        let plan = self.plan;
        if !self.episodes.actions[action].awake {
            return;
        }
        let fired_any = self.episodes.actions[action].first_fire.is_some();
        let mut last: Option<(Time, Cause)> = None;
        for id in plan.actions[action].alternatives.iter() {
            let state = &self.episodes.alternatives[id];
            match state.stage {
                Stage::Idle | Stage::Open => return,
                Stage::Over(cause) if state.fired == fired_any => {
                    // Of several at one instant, the first in the rule.
                    if last.is_none_or(|(at, _)| state.over_at > at) {
                        last = Some((state.over_at, cause));
                    }
                }
                Stage::Over(_) | Stage::Out => {}
            }
        }
        self.end(action, last.map_or(Cause::Released, |(_, cause)| cause));
    }

    fn end(&mut self, action: ActionId, cause: Cause) {
        let plan = self.plan;
        let value = self.episodes.value_now(plan, action);
        let reached = self
            .episodes
            .progress(self.clock, self.values, plan, action)
            .max(self.episodes.actions[action].reached);
        self.close(action, cause, value, reached);
    }

    pub fn close(&mut self, action: ActionId, cause: Cause, value: Vector, reached: f64) {
        let plan = self.plan;
        let fired = self.episodes.close(plan, action);
        self.agenda.moved.insert(action);
        let kind = if fired { EventKind::Rest(cause) } else { EventKind::Lapse(cause) };
        self.tell(action, kind, value, if fired { 1.0 } else { reached });
    }

    /// Ends an open episode without firing anything; its event carries 0.
    pub fn end_by_force(&mut self, action: ActionId, cause: Cause) {
        let plan = self.plan;
        if !self.episodes.actions[action].awake {
            return;
        }
        let reached = self
            .episodes
            .progress(self.clock, self.values, plan, action)
            .max(self.episodes.actions[action].reached);
        let state = &mut self.episodes.actions[action];
        (state.value, state.settled) = (Vector::ZERO, Vector::ZERO);
        state.forced_at = Some(self.clock.now);
        self.close(action, cause, Vector::ZERO, reached);
    }

    #[inline(always)]
    pub fn tell(&mut self, action: ActionId, kind: EventKind, value: Vector, progress: f64) {
        let (tick, next) = (self.clock.tick_that_sees(), self.clock.ticks + 1);
        let state = &mut self.episodes.actions[action];
        state.count(kind, next);
        let since = |start: Time| Duration::from(self.clock.now.since(start));
        (self.tell)(Notice::Event(Event {
            t: self.clock.now,
            tick,
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
