//! Cues: what each alternative does when the control goes down, comes up, or its time comes.

use super::Tell;
use super::clock::Clock;
use super::cues::Cues;
use super::episodes::{ActionState, Episodes, Level, Stage};
use super::event::{Cause, EventKind};
use super::timers::When;
use super::values::Values;
use crate::base::{ActionId, AlternativeId, Kind, ParamId, Time, Vector};
use crate::plan::{Cue, Guard, Tables};

/// What came of an attempt to fire.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Attempt {
    Fired,
    /// It waits for other actions to give up.
    Kept,
    /// A guard fails, or another action had it.
    Failed(Cause),
}

impl Episodes {
    pub fn over(
        &mut self,
        clock: Clock,
        values: &Values,
        plan: &Tables,
        id: AlternativeId,
        cause: Cause,
    ) {
        let reached = self.progress(clock, values, plan, plan.alternatives[id].action);
        let state = &mut self.actions[plan.alternatives[id].action];
        state.reached = state.reached.max(reached);
        self.set_over(id, clock.now, cause);
    }

    pub fn guards_hold(&self, values: &Values, plan: &Tables, id: AlternativeId) -> bool {
        plan.alternatives[id].guards.of(&plan.guards).iter().all(|guard| match *guard {
            Guard::Live(action, wanted) => self.is_live(plan, action) == wanted,
            Guard::Holds(named, wanted) => values.is_set(named) == wanted,
        })
    }

    pub fn switch_on(&mut self, clock: Clock, plan: &Tables, id: AlternativeId) {
        let action = plan.alternatives[id].action;
        if !self.is_live(plan, action) {
            self.actions[action].live_at = Some(clock.now);
        }
        let alternative = &mut self.alternatives[id];
        (alternative.stage, alternative.on, alternative.stretch_fired) = (Stage::Open, true, false);
        self.firing.insert(id);
    }

    /// An action fires for the first time in its episode.
    #[inline(never)]
    fn fire_first(&mut self, clock: Clock, plan: &Tables, action: ActionId) {
        let is_live = self.is_live(plan, action);
        let state = &mut self.actions[action];
        if !is_live {
            state.live_at = Some(clock.now);
        }
        state.first_fire = Some(clock.now);
        state.first_fires += 1;
    }

    /// Whether an action is live: it fired in its open episode, or a `while` of it is on.
    pub fn is_live(&self, plan: &Tables, action: ActionId) -> bool {
        let state = &self.actions[action];
        let on = || plan.actions[action].alternatives.iter().any(|id| self.alternatives[id].on);
        state.awake && (state.first_fire.is_some() || on())
    }

    /// Whether an action is awake and not live.
    fn is_pending(&self, plan: &Tables, action: ActionId) -> bool {
        self.actions[action].awake && !self.is_live(plan, action)
    }

    /// Whether a press of this very instant belongs to an action that this one yields to.
    pub fn belongs_to_other(&self, clock: Clock, plan: &Tables, action: ActionId) -> bool {
        let others = plan.actions[action].yields_to.of(&plan.listed);
        others.iter().any(|&other| self.actions[other].live_at == Some(clock.now))
    }

    /// Whether some alternative of an open episode waits for the control to go down.
    pub fn waits_for_a_press(&self, plan: &Tables, action: ActionId) -> bool {
        plan.actions[action].alternatives.iter().any(|id| {
            let state = &self.alternatives[id];
            let is_taps = matches!(plan.alternatives[id].cue, Cue::Taps(..));
            match state.stage {
                Stage::Idle => true,
                Stage::Open => is_taps && !state.fired && state.kept.is_none(),
                Stage::Over(_) | Stage::Out => false,
            }
        })
    }
}

impl<T: Tell + ?Sized> Cues<'_, T> {
    /// The action went down: alternatives that wait for that begin, or count a press.
    pub fn go_down(&mut self, action: ActionId) {
        let plan = self.plan;
        for id in plan.actions[action].alternatives.iter() {
            let cue = plan.alternatives[id].cue;
            match self.episodes.alternatives[id].stage {
                Stage::Idle => {
                    self.episodes.alternatives[id].stage = Stage::Open;
                    self.begin(id, cue);
                }
                Stage::Open => {
                    if let Cue::Taps(count, gap) = cue {
                        self.count_press(id, count, gap);
                    }
                }
                Stage::Over(_) | Stage::Out => {}
            }
        }
        self.look_at_guards(action);
        self.end_if_over(action);
    }

    fn begin(&mut self, id: AlternativeId, cue: Cue) {
        let plan = self.plan;
        let value = self.episodes.value_now(plan, plan.alternatives[id].action);
        match cue {
            Cue::Press => self.attempt_or_end(id, value),
            Cue::Change => {
                self.attempt_change(id, value);
            }
            Cue::Hold(time) => self.wait(id, time, When::Reach),
            Cue::Tap(time) => self.wait(id, time, When::RunOut),
            Cue::Charge(time) => self.episodes.alternatives[id].time = self.values.time(time),
            Cue::Taps(count, gap) => self.count_press(id, count, gap),
            Cue::Repeat(every, after) => {
                self.attempt(id, value);
                self.repeat(id, every, after);
            }
            Cue::Release | Cue::While | Cue::Sequence(..) => {}
        }
    }

    /// Lets an alternative wait from now on.
    pub fn wait(&mut self, id: AlternativeId, time: ParamId, when: When) {
        let time = self.values.time(time);
        self.episodes.alternatives[id].time = time;
        self.episodes.timers.set(id, self.clock.now + time, when);
    }

    /// Lets a `repeat` wait for its second fire. All of its times are those of the press.
    pub fn repeat(&mut self, id: AlternativeId, every: ParamId, after: ParamId) {
        self.wait(id, after, When::Reach);
        self.episodes.alternatives[id].time = self.values.time(every);
    }

    fn count_press(&mut self, id: AlternativeId, count: ParamId, gap: ParamId) {
        let plan = self.plan;
        let state = &mut self.episodes.alternatives[id];
        if state.fired || state.kept.is_some() {
            return;
        }
        state.count += 1;
        if f64::from(state.count) < self.values.number(count).round() {
            self.wait(id, gap, When::RunOut);
            return;
        }
        self.episodes.timers.cancel(id);
        let value = self.episodes.value_now(plan, plan.alternatives[id].action);
        self.attempt_or_end(id, value);
    }

    /// The time that an alternative waited for has come.
    pub fn time_came(&mut self, id: AlternativeId) {
        let plan = self.plan;
        let action = plan.alternatives[id].action;
        if self.episodes.alternatives[id].stage != Stage::Open {
            return;
        }
        let value = self.episodes.value_now(plan, action);
        match plan.alternatives[id].cue {
            Cue::Hold(_) => self.attempt_or_end(id, value),
            Cue::Repeat(..) => {
                self.attempt(id, value);
                let next = self.clock.now + self.episodes.alternatives[id].time;
                self.episodes.timers.set(id, next, When::Reach);
            }
            Cue::Tap(_) => self.episodes.over(self.clock, self.values, plan, id, Cause::TooLong),
            Cue::Taps(..) | Cue::Sequence(..) => {
                self.episodes.over(self.clock, self.values, plan, id, Cause::Gap);
            }
            // They wait for no time.
            Cue::Press | Cue::Release | Cue::While | Cue::Change | Cue::Charge(_) => {}
        }
        self.end_if_over(action);
    }

    /// The control came up: each alternative fires or gives up.
    pub fn come_up(&mut self, action: ActionId) {
        let plan = self.plan;
        if !self.episodes.actions[action].is_down() {
            let state = &mut self.episodes.actions[action];
            (state.level, state.counts, state.may_resume) = (Level::Up, false, false);
            return;
        }
        let reached = self.episodes.progress(self.clock, self.values, plan, action);
        let state = &mut self.episodes.actions[action];
        state.reached = state.reached.max(reached);
        state.level = Level::Up;
        for id in plan.actions[action].alternatives.iter() {
            if self.episodes.alternatives[id].stage == Stage::Open
                && self.episodes.alternatives[id].kept.is_none()
            {
                self.let_go(id);
            }
        }
        self.episodes.actions[action].counts = false;
        self.end_if_over(action);
    }

    fn let_go(&mut self, id: AlternativeId) {
        let plan = self.plan;
        let action = plan.alternatives[id].action;
        let ActionState { last_down, down_at, .. } = &self.episodes.actions[action];
        let (last_down, down_at) = (*last_down, *down_at);
        let fired = self.episodes.alternatives[id].fired;
        let last_down = match plan.actions[action].kind {
            Kind::Switch => Vector::axis(1.0),
            Kind::Axis | Kind::Plane | Kind::Space | Kind::Turn => last_down,
        };
        let or_released = |cause: Cause| if fired { Cause::Released } else { cause };
        match plan.alternatives[id].cue {
            Cue::Press => self.episodes.over(self.clock, self.values, plan, id, Cause::Released),
            Cue::Release | Cue::Tap(_) => self.last_attempt(id, last_down),
            Cue::Charge(_)
                if self.clock.now.since(down_at) >= self.episodes.alternatives[id].time =>
            {
                self.last_attempt(id, last_down);
            }
            Cue::Charge(_) => {
                self.episodes.over(self.clock, self.values, plan, id, Cause::TooShort);
            }
            Cue::Hold(_) => {
                self.episodes.over(self.clock, self.values, plan, id, or_released(Cause::TooShort));
            }
            Cue::While if self.episodes.alternatives[id].on => {
                self.end_stretch(id, last_down);
                self.episodes.over(self.clock, self.values, plan, id, Cause::Released);
            }
            Cue::While => self.episodes.over(self.clock, self.values, plan, id, Cause::Guard),
            Cue::Change => {
                let fires = self.attempt_change(id, Vector::ZERO);
                let cause = if fires { Cause::Released } else { or_released(Cause::Guard) };
                self.episodes.over(self.clock, self.values, plan, id, cause);
            }
            Cue::Taps(..) if fired => {
                self.episodes.over(self.clock, self.values, plan, id, Cause::Released);
            }
            Cue::Repeat(..) => {
                self.episodes.over(self.clock, self.values, plan, id, or_released(Cause::Guard));
            }
            Cue::Taps(..) | Cue::Sequence(..) => {}
        }
    }

    /// An attempt at coming up: whatever comes of it but keeping, the alternative is over.
    fn last_attempt(&mut self, id: AlternativeId, value: Vector) {
        let plan = self.plan;
        match self.attempt(id, value) {
            Attempt::Fired => {
                self.episodes.over(self.clock, self.values, plan, id, Cause::Released);
            }
            Attempt::Failed(cause) => self.episodes.over(self.clock, self.values, plan, id, cause),
            Attempt::Kept => self.episodes.timers.cancel(id),
        }
    }

    /// An attempt after which the alternative is over only if it failed.
    fn attempt_or_end(&mut self, id: AlternativeId, value: Vector) {
        let plan = self.plan;
        if let Attempt::Failed(cause) = self.attempt(id, value) {
            self.episodes.over(self.clock, self.values, plan, id, cause);
        }
    }

    fn attempt(&mut self, id: AlternativeId, value: Vector) -> Attempt {
        let plan = self.plan;
        if !self.episodes.guards_hold(self.values, plan, id) {
            return Attempt::Failed(Cause::Guard);
        }
        let action = plan.alternatives[id].action;
        let woke_at = self.episodes.actions[action].woke_at;
        let others = plan.actions[action].yields_to.of(&plan.listed);
        let lived = |other: &ActionId| {
            self.episodes.actions[*other].live_at.is_some_and(|at| at >= woke_at)
        };
        if others.iter().any(lived) {
            return Attempt::Failed(Cause::Yielded);
        }
        if others.iter().any(|&other| self.episodes.is_pending(plan, other)) {
            self.episodes.alternatives[id].kept = Some(self.clock.now);
            self.episodes.carried[id].kept = value;
            return Attempt::Kept;
        }
        self.fire(id, value, None);
        Attempt::Fired
    }

    #[inline(always)]
    pub fn fire(&mut self, id: AlternativeId, value: Vector, since: Option<Time>) {
        let action = self.plan.alternatives[id].action;
        if self.episodes.actions[action].first_fire.is_none() {
            self.episodes.fire_first(self.clock, self.plan, action);
        }
        let alternative = &mut self.episodes.alternatives[id];
        (alternative.fired, alternative.stretch_fired) = (true, true);
        self.tell(action, EventKind::Fire(id, since), value, 1.0);
    }

    /// Settles fires that wait for other actions: they come, are dropped, or wait on. An episode that is over
    /// by that ends here unless its action is down: whether it comes up at this very instant is settled after.
    pub fn settle_kept(&mut self, action: ActionId) {
        let plan = self.plan;
        let others = plan.actions[action].yields_to.of(&plan.listed);
        if others.is_empty() || !self.episodes.actions[action].awake {
            return;
        }
        for id in plan.actions[action].alternatives.iter() {
            let Some(since) = self.episodes.alternatives[id].kept else { continue };
            let took = |other: &ActionId| {
                let state = &self.episodes.actions[*other];
                state.live_at.max(state.forced_at).is_some_and(|at| at >= since)
            };
            let taken = others.iter().any(took);
            if !taken && others.iter().any(|&other| self.episodes.is_pending(plan, other)) {
                continue;
            }
            self.episodes.alternatives[id].kept = None;
            if taken {
                self.episodes.over(self.clock, self.values, plan, id, Cause::Yielded);
                continue;
            }
            let value = self.episodes.carried[id].kept;
            self.fire(id, value, Some(since));
            if !self.episodes.actions[action].is_down() {
                self.episodes.over(self.clock, self.values, plan, id, Cause::Released);
            }
        }
        if !self.episodes.actions[action].is_down() {
            self.end_if_over(action);
        }
    }

    /// Fires `change` if the value is another than it last fired with; tells whether it did.
    fn attempt_change(&mut self, id: AlternativeId, value: Vector) -> bool {
        let fires = self.attempt(id, value) == Attempt::Fired;
        if fires {
            self.episodes.alternatives[id].has_seen = true;
            self.episodes.carried[id].seen = value;
        }
        fires
    }

    /// Fires each `change` of an action that is down and has another value than it last told.
    pub fn look_at_change(&mut self, action: ActionId) {
        let plan = self.plan;
        if !self.episodes.actions[action].is_down() {
            return;
        }
        for id in plan.actions[action].alternatives.iter() {
            let state = &self.episodes.alternatives[id];
            if plan.alternatives[id].cue != Cue::Change || state.stage != Stage::Open {
                continue;
            }
            let value = self.episodes.value_now(plan, action);
            let seen = self.episodes.carried[id].seen;
            if !self.episodes.alternatives[id].has_seen || value.differs(seen) {
                self.attempt_change(id, value);
            }
        }
    }

    /// Switches each `while` of a down action on or off after its guards.
    pub fn look_at_guards(&mut self, action: ActionId) {
        let plan = self.plan;
        if self.episodes.actions[action].level != Level::Down {
            return;
        }
        if !self.episodes.actions[action].awake {
            self.resume(action);
            return;
        }
        if !self.episodes.actions[action].counts {
            return;
        }
        for id in plan.actions[action].alternatives.iter() {
            if plan.alternatives[id].cue != Cue::While {
                continue;
            }
            let holds = self.episodes.guards_hold(self.values, plan, id);
            let state = self.episodes.alternatives[id];
            match (state.stage, state.on, holds) {
                (Stage::Open, false, true) | (Stage::Over(Cause::Guard), _, true) => {
                    self.episodes.switch_on(self.clock, plan, id);
                }
                (Stage::Open, true, false) => {
                    let value = self.episodes.value_now(plan, action);
                    self.end_stretch(id, value);
                    self.episodes.over(self.clock, self.values, plan, id, Cause::Guard);
                    self.episodes.actions[action].may_resume = true;
                }
                _ => {}
            }
        }
        self.end_if_over(action);
    }

    /// Ends a stretch of a `while`: it fires once now if no tick fell in it.
    fn end_stretch(&mut self, id: AlternativeId, value: Vector) {
        if !self.episodes.alternatives[id].stretch_fired {
            self.fire(id, value, None);
        }
        self.episodes.firing.remove(id);
        self.episodes.alternatives[id].on = false;
    }

    /// Wakes an action anew for each `while` whose guards hold again, with the control still down.
    fn resume(&mut self, action: ActionId) {
        let plan = self.plan;
        if !self.episodes.actions[action].may_resume {
            return;
        }
        for id in plan.actions[action].alternatives.iter() {
            let is_while = plan.alternatives[id].cue == Cue::While;
            if !is_while || !self.episodes.guards_hold(self.values, plan, id) {
                continue;
            }
            if !self.episodes.actions[action].awake {
                self.episodes.actions[action].counts = true;
                self.episodes.actions[action].down_at = self.clock.now;
                self.episodes.actions[action].awake = true;
                self.wake(action, Stage::Out);
                self.episodes.actions[action].was_down = true;
            }
            self.episodes.switch_on(self.clock, plan, id);
        }
    }
}
