//! Looks: at which moments what moves on its own is worked out.
//!
//! Levels are crossed on whole milliseconds. Of a value whose last step is the one that moves it is
//! known how far it can get by when, so it is looked at only where it may cross a level or arrive; of
//! any other on every whole millisecond. Between looks its value is found when somebody asks for it.

use super::Tell;
use super::agenda::Agenda;
use super::clock::Mode;
use super::episodes::Level;
use super::motion::Motion;
use super::state::State;
use super::values::Values;
use crate::base::limits::{AT_REST, TIE};
use crate::base::{ActionId, BindingId, Id, Kind, MotionId, OpId, Time, Vector};
use crate::plan::{Action, Glide, Operands, Tables};

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
    /// - No other step of the action moves, and it reads no action: between events, whose inputs stay
    ///   as they are, nothing else changes.
    /// - The step ends the shape, or the one binding of an action without a shape, and no condition
    ///   passes it by: the value is where the step is, and never jumps.
    /// - It glides: an `ease` that drops to 0 first jumps, and a turn goes its own way.
    /// - No part of a `+`: those are worked out on occasions of their own.
    pub fn of(plan: &Tables, action: ActionId) -> Option<Self> {
        let spec = &plan.actions[action];
        let reads = |op: OpId| matches!(plan.ops[op].kind.operands(), Operands::Action(_));
        let ops = || spec.bindings.iter().flat_map(|binding| plan.bindings[binding].ops.iter());
        let is_alone = spec.motions.len() == 1 && spec.pluses.is_empty() && !ops().any(reads);
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

    /// How many milliseconds its value needs at least until it may come as far as `nearest` from here,
    /// or arrive.
    fn calm(self, motion: &Motion, value: Vector, nearest: f64) -> f64 {
        let (way, speed) = match self.glide {
            Glide::Straight => motion.way_and_speed(value),
            Glide::Lag => motion.lag_and_speed(value),
        };
        // What is nearer than rounding may be there.
        (way.min(nearest) - TIE) / speed * 1000.0
    }
}

impl Values {
    /// When a value that moves is looked at next.
    fn next_look(&self, spec: &Action, step: Option<LastStep>, value: Vector, now: Time) -> Time {
        let first = after(now);
        let Some(step) = step else { return first };
        let magnitude = value.magnitude_of(spec.kind);
        let to = |level: f64| (magnitude - level).abs();
        let mut nearest = to(spec.wake).min(to(spec.down)).min(to(spec.up));
        if spec.kind == Kind::Axis {
            // The other sign is another press.
            nearest = nearest.min(magnitude);
        }
        if step.binding.is_some() {
            // There the binding begins to count as one that gives something, or ends to.
            nearest = nearest.min(to(AT_REST));
        }
        let calm = step.calm(&self.motions[step.motion], value, nearest).min(LONGEST);
        // The last look before a crossing is the one a millisecond before.
        if calm < 3.0 { first } else { first + Time::from_millis(calm as u64 - 2) }
    }
}

impl State {
    /// Looks at everything whose time for it has come.
    pub fn look(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        self.clock.mode = Mode::Look;
        let mut next = self.agenda.moving.next(0);
        while let Some(action) = next {
            let is_due = self.agenda.look_at[action] <= self.clock.now;
            if is_due && !self.look_shortly(plan, action) {
                self.agenda.dirty.insert(action);
            }
            next = self.agenda.moving.next(action.index() + 1);
        }
        self.pass(plan, tell);
        self.clock.mode = Mode::Event;
        self.agenda.find_next_look();
    }

    /// Takes in where an action's last step is now, if the action stays where it is between its levels;
    /// tells whether it did. Nothing comes of such a look, and nothing before the step has changed.
    fn look_shortly(&mut self, plan: &Tables, action: ActionId) -> bool {
        let Some(step) = self.values.last_steps[action] else { return false };
        let spec = &plan.actions[action];
        // A guard may let a cue come at last, a kept fire may have waited for this action.
        if spec.has_guards || !spec.yields_to.is_empty() || self.agenda.dirty.contains(action) {
            return false;
        }
        let motion = self.values.motions[step.motion];
        let value = match step.glide {
            Glide::Straight => motion.eased(self.clock.now),
            Glide::Lag => motion.lagged(self.clock.now, false),
        };
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
            let own = &mut self.values.bindings[binding];
            own.put(value, spec.kind);
            if own.is_away() {
                state.from = Some(binding);
            }
        }
        self.values.ops[step.op] = value;
        self.values.motions[step.motion].arrive(value);
        self.agenda.moved.insert(action);
        self.note_moving(plan, action, value);
        true
    }

    /// Notes whether anything of an action still moves, now that it gives `value`.
    pub fn note_moving(&mut self, plan: &Tables, action: ActionId, value: Vector) {
        let spec = &plan.actions[action];
        if spec.motions.is_empty() {
            return;
        }
        let agenda = &mut self.agenda;
        if !spec.motions.iter().any(|id| self.values.motions[id].is_moving()) {
            agenda.moving.remove(action);
            agenda.watched.remove(action);
            return;
        }
        if agenda.moving.is_empty() {
            agenda.shown_at = self.clock.now;
        }
        let at = self.values.next_look(spec, self.values.last_steps[action], value, self.clock.now);
        agenda.look_at[action] = at;
        agenda.next_look = agenda.next_look.min(at);
        agenda.moving.insert(action);
        // Others read it at their own moments; what it yields to may end it at one.
        let is_watched = !spec.read_by.is_empty() || !spec.yields_to.is_empty();
        if is_watched || !spec.pluses.is_empty() {
            agenda.watched.insert(action);
        }
    }

    /// Brings every value to this very moment: of what waits, and of what moves.
    #[inline]
    pub fn show_all(&mut self, plan: &Tables) {
        self.catch_up(plan);
        if self.agenda.shown_at < self.clock.now && !self.agenda.moving.is_empty() {
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
            let value = self.evaluate(plan, plan.bindings[binding].ops, Vector::ZERO);
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
    fn find_next_look(&mut self) {
        self.next_look = NEVER;
        let mut next = self.moving.next(0);
        while let Some(action) = next {
            self.next_look = self.next_look.min(self.look_at[action]);
            next = self.moving.next(action.index() + 1);
        }
    }
}
