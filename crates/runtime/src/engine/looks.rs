//! Looks: at which moments what moves on its own is worked out.
//!
//! Levels are crossed on whole milliseconds. Of a value whose last step is the one that moves it is
//! known how far it can get by when, so it is looked at only where it may cross a level, any other on every
//! whole millisecond. Between looks its value is found when somebody asks for it, and so is whether it has
//! arrived.

use super::Tell;
use super::agenda::Agenda;
use super::clock::Mode;
use super::episodes::Level;
use super::motion::Motion;
use super::state::State;
use crate::base::limits::{AT_REST, TIE};
use crate::base::{ActionId, BindingId, Id, Kind, MotionId, OpId, Time, Vector};
use crate::plan::{Action, Glide, Tables};

/// After everything.
pub(super) const NEVER: Time = Time::from_nanos(u64::MAX);

/// No value is left alone for longer, in milliseconds.
const LONGEST: f64 = 1e6;

/// The first whole millisecond after `now`.
pub(super) fn after(now: Time) -> Time {
    Time::from_millis(now.nanos() / 1_000_000 + 1)
}

/// The step that moves an action's value, where it is the last one.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct LastStep {
    op: OpId,
    motion: MotionId,
    glide: Glide,
    /// The binding that it ends, if it doesn't end the shape.
    binding: Option<BindingId>,
}

impl LastStep {
    /// The step that an action's value comes from, if it is all that moves it:
    ///
    /// - No other step of the action moves: between events nothing else changes. What it reads of other
    ///   actions comes as an event.
    /// - No action reads it: the levels of that one lie elsewhere.
    /// - The step ends the shape, or the one binding of an action without a shape, and no condition
    ///   passes it by: the value is where the step is, and never jumps.
    /// - It glides: an `ease` that drops to 0 first jumps, and a turn goes its own way.
    pub fn of(plan: &Tables, action: ActionId) -> Option<Self> {
        let spec = &plan.actions[action];
        let ops = || spec.bindings.iter().flat_map(|binding| plan.bindings[binding].ops.iter());
        let is_alone = spec.motions.len() == 1 && spec.read_by.is_empty();
        // The first operation of a shape is what the bindings gave.
        let has_shape = spec.shape.len() > 1;
        let last = if has_shape { spec.shape.iter().last() } else { ops().last() };
        let binding = spec.bindings.first().filter(|_| !has_shape);
        let ends = has_shape || spec.bindings.len() == 1;
        let op = last?;
        let kind = plan.ops[op].kind;
        let (motion, glide) = kind.motion().zip(kind.glide())?;
        let is_kept = plan.ops[op].conditions.is_empty();
        (is_alone && ends && is_kept).then_some(Self { op, motion, glide, binding })
    }

    /// Where it is at `at`.
    fn value(self, motion: &Motion, at: Time) -> Vector {
        match self.glide {
            Glide::Straight => motion.eased(at),
            Glide::Lag => motion.lagged(at, false),
        }
    }

    /// How far its value is from where it goes, and how much of that passes a second at most.
    fn way_and_speed(self, motion: &Motion, value: Vector) -> (f64, f64) {
        match self.glide {
            Glide::Straight => motion.way_and_speed(value),
            Glide::Lag => motion.lag_and_speed(value),
        }
    }

    /// How far it may jump as it arrives: what is nearer to a level than that may be there.
    fn jump(self) -> f64 {
        match self.glide {
            Glide::Straight => TIE,
            Glide::Lag => AT_REST + TIE,
        }
    }

    /// How far a value is from where its action, or the binding that the step ends, becomes another.
    fn way_to_level(self, spec: &Action, value: Vector) -> f64 {
        let magnitude = value.magnitude_of(spec.kind);
        let to = |level: f64| (magnitude - level).abs();
        // An axis that turns its sign comes under `up` before, which is more than 0.
        let nearest = to(spec.wake).min(to(spec.down)).min(to(spec.up));
        match self.binding {
            // There the binding begins to give something, or ends to.
            Some(_) => nearest.min(to(AT_REST)),
            None => nearest,
        }
    }
}

/// The whole millisecond up to which a value that is now at one place needs no look, if it goes no
/// further than `way`, and no faster than `speed` a second.
fn calm_until(now: Time, way: f64, speed: f64) -> Time {
    let millis = (way / speed * 1000.0).min(LONGEST);
    // The last look before it gets there is less than a millisecond before.
    let left_out = if millis < 2.0 { 0 } else { millis as u64 - 1 };
    after(now) + Time::from_millis(left_out)
}

impl State {
    /// Looks at everything whose time for it has come.
    pub fn look(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        self.clock.mode = Mode::Look;
        let mut next = self.agenda.moving.next(0);
        while let Some(action) = next {
            let is_due = self.agenda.look_at[action] <= self.clock.now;
            if is_due && !self.look_shortly(plan, action, self.clock.now) {
                self.agenda.dirty.insert(action);
            }
            next = self.agenda.moving.next(action.index() + 1);
        }
        self.pass(plan, tell);
        self.clock.mode = Mode::Event;
        self.agenda.find_next_look();
    }

    /// Takes in where an action's last step is at `at`, if the action stays where it is between its
    /// levels; tells whether it did. Nothing comes of such a look: what comes before the step, what
    /// guards see and what a fire waits for have changed at events, if they have.
    fn look_shortly(&mut self, plan: &Tables, action: ActionId, at: Time) -> bool {
        let Some(step) = self.values.last_steps[action] else { return false };
        let spec = &plan.actions[action];
        let value = step.value(&self.values.motions[step.motion], at);
        let state = &mut self.episodes.actions[action];
        let magnitude = value.magnitude_of(spec.kind);
        let turned = spec.kind == Kind::Axis && value.x * state.last_down.x < 0.0;
        let stays = match state.level {
            Level::Down => magnitude >= spec.up && !turned,
            Level::Woken => magnitude >= spec.up && magnitude < spec.down,
            Level::Up => magnitude < spec.wake,
        };
        if !stays {
            return false;
        }
        (state.value, state.settled) = (value, value);
        if state.level == Level::Down {
            state.last_down = value;
            // A look is no event: what changed by it is told at the next tick.
            if spec.has_change {
                self.agenda.recheck.insert(action);
            }
        }
        if let Some(binding) = step.binding {
            self.values.bindings[binding].put(value, spec.kind);
        }
        self.values.ops[step.op] = value;
        self.values.motions[step.motion].arrive(value);
        self.agenda.moved.insert(action);
        self.note_moving(plan, action, value, at);
        true
    }

    /// Takes looks that were put off: of a value that only had to be found arrived, the last of them.
    pub fn look_late(&mut self, plan: &Tables, action: ActionId) {
        if self.agenda.arrives_at[action] <= self.clock.now {
            let last = Time::from_millis(self.clock.now.nanos() / 1_000_000);
            self.look_shortly(plan, action, last);
        }
    }

    /// Takes the looks that were put off at everything that moves.
    pub fn look_late_at_all(&mut self, plan: &Tables) {
        let mut next = self.agenda.moving.next(0);
        while let Some(action) = next {
            self.look_late(plan, action);
            next = self.agenda.moving.next(action.index() + 1);
        }
    }

    /// Notes whether anything of an action still moves, now that it gave `value` at `at`.
    pub fn note_moving(&mut self, plan: &Tables, action: ActionId, value: Vector, at: Time) {
        let spec = &plan.actions[action];
        if spec.motions.is_empty() {
            return;
        }
        let agenda = &mut self.agenda;
        agenda.arrives_at[action] = NEVER;
        if !spec.motions.iter().any(|id| self.values.motions[id].is_moving()) {
            agenda.moving.remove(action);
            agenda.watched.remove(action);
            return;
        }
        if agenda.moving.is_empty() {
            agenda.shown_at = self.clock.now;
        }
        agenda.moving.insert(action);
        // Others read it at their own moments; what it yields to may end it at one.
        let is_watched = !spec.read_by.is_empty() || !spec.yields_to.is_empty();
        if is_watched {
            agenda.watched.insert(action);
        }
        agenda.look_at[action] = match self.values.last_steps[action] {
            None => after(at),
            Some(step) => {
                let motion = &self.values.motions[step.motion];
                let (way, speed) = step.way_and_speed(motion, value);
                let until = |way: f64| calm_until(at, way - step.jump(), speed);
                let (arrives_at, look_at) = (until(way), until(step.way_to_level(spec, value)));
                match is_watched {
                    true => look_at.min(arrives_at),
                    // That it has arrived matters only to who asks.
                    false => {
                        agenda.arrives_at[action] = arrives_at;
                        look_at
                    }
                }
            }
        };
        agenda.next_look = agenda.next_look.min(agenda.look_at[action]);
    }

    /// Brings every value to this very moment: of what waits, and of what moves.
    #[inline]
    pub fn show_all(&mut self, plan: &Tables) {
        self.catch_up(plan);
        if self.agenda.shown_at < self.clock.now && !self.agenda.moving.is_empty() {
            self.look_late_at_all(plan);
            self.peek_all(plan);
        }
    }

    /// Has the value of this very moment found of everything that moves; at a tick, what works at
    /// ticks is worked out.
    pub fn peek_moving(&mut self, plan: &Tables) {
        let mut next = self.agenda.moving.next(0);
        while let Some(action) = next {
            if self.clock.mode == Mode::Tick && plan.actions[action].works_at_ticks {
                self.touch(plan, action);
            } else {
                self.agenda.to_peek.insert(action);
            }
            next = self.agenda.moving.next(action.index() + 1);
        }
    }

    /// The value of this very moment of everything that moves, and of what reads it.
    pub fn peek_all(&mut self, plan: &Tables) {
        self.peek_moving(plan);
        while let Some(action) = self.agenda.to_peek.pop() {
            self.peek(plan, action);
        }
        self.agenda.shown_at = self.clock.now;
    }

    /// The value of this very moment of one action; marks what reads it if that is another.
    pub fn peek(&mut self, plan: &Tables, action: ActionId) {
        if !self.inputs.is_active(action) {
            return;
        }
        let mode = std::mem::replace(&mut self.clock.mode, Mode::Peek);
        for binding in plan.actions[action].bindings.iter() {
            if !self.values.follows_time[binding] {
                continue;
            }
            let value = self.evaluate_binding(plan, binding);
            self.values.bindings[binding].show(value, plan.actions[action].kind);
        }
        let (blended, _) = self.values.blend(&self.inputs, plan, action);
        let value = self.evaluate(plan, plan.actions[action].shape, blended);
        self.clock.mode = mode;
        if self.episodes.actions[action].value != value {
            self.episodes.actions[action].value = value;
            self.agenda.moved.insert(action);
            for &reader in plan.actions[action].read_by.of(&plan.listed) {
                self.agenda.to_peek.insert(reader);
            }
        }
    }
}

impl Agenda {
    /// The first look at anything that moves.
    pub fn find_next_look(&mut self) {
        self.next_look = NEVER;
        let mut next = self.moving.next(0);
        while let Some(action) = next {
            self.next_look = self.next_look.min(self.look_at[action]);
            next = self.moving.next(action.index() + 1);
        }
    }
}
