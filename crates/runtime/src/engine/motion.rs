//! Steps that move on their own, and sums over time.

use super::clock::{Clock, Mode};
use super::state::State;
use super::values::Values;
use crate::base::limits::TIE;
use crate::base::{AT_REST, ActionId, Id, MotionId, ParamId, Time, Vector, turn};
use crate::plan::Tables;

/// What a step keeps that moves on its own, or adds up.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Motion {
    /// Where it was when its input changed last; of a `travel`, the sum since the last tick.
    start: Vector,
    /// Its input.
    target: Vector,
    /// When its input changed last; of a `travel`, up to when it is summed.
    at: Time,
    /// Units a second; of a lag, its time constant in seconds.
    rate: f64,
    /// Whether it has not yet been found arrived.
    moving: bool,
    /// Of a `travel`, what the last tick took, and which tick that was.
    held: Vector,
    taken: u64,
}

impl Motion {
    fn seconds(&self, now: Time) -> f64 {
        now.since(self.at).nanos() as f64 / 1e9
    }

    /// start + (target − start) · (speed · Δt / distance), up to the target.
    fn eased(&self, now: Time) -> Vector {
        let way = self.target.minus(self.start);
        let distance = way.magnitude();
        if distance == 0.0 {
            return self.target;
        }
        let share = self.rate * self.seconds(now) / distance;
        if share >= 1.0 { self.target } else { self.start.plus(way.map(|c| c * share)) }
    }

    /// target + (start − target) · exp(−Δt / T), arrived within 10⁻⁶.
    fn lagged(&self, now: Time, is_turn: bool) -> Vector {
        let left = libm::exp(-self.seconds(now) / self.rate.max(1e-12));
        if is_turn {
            let angle = turn::between(self.start, self.target) * left;
            return match angle <= AT_REST {
                true => self.target,
                false => turn::towards(self.target, self.start, left),
            };
        }
        let behind = self.start.minus(self.target).map(|c| c * left);
        if behind.magnitude() <= AT_REST { self.target } else { self.target.plus(behind) }
    }
}

impl State {
    /// Value × seconds since the last tick, taken at each tick and held until the next.
    pub fn travel(&mut self, id: MotionId, input: Vector) -> Vector {
        match self.clock.mode {
            Mode::Peek => return self.values.motions[id].held,
            Mode::Still => return input,
            _ => {}
        }
        let mut motion = self.values.motions[id];
        let seconds = motion.seconds(self.clock.now);
        motion.start = motion.start.plus(motion.target.map(|c| c * seconds));
        (motion.target, motion.at) = (input, self.clock.now);
        // A part of a `+` is worked out twice at a tick: the sum is taken once.
        if self.clock.mode == Mode::Tick && motion.taken <= self.clock.ticks {
            motion.held = std::mem::take(&mut motion.start);
            motion.taken = self.clock.ticks + 1;
        }
        let is_idle = [motion.start, motion.target, motion.held].iter().all(|v| *v == Vector::ZERO);
        if let (false, Some(action)) = (is_idle, self.values.evaluating) {
            self.agenda.at_tick.insert(action);
        }
        self.values.motions[id] = motion;
        motion.held
    }

    /// Notes whether anything of an action still moves.
    pub fn note_moving(&mut self, plan: &Tables, action: ActionId) {
        let motions = plan.actions[action].motions;
        if motions.is_empty() {
            return;
        }
        if motions.iter().any(|id| self.values.motions[id].moving) {
            if self.agenda.moving.is_empty() {
                self.agenda.next_look = after(self.clock.now);
            }
            self.agenda.moving.insert(action);
        } else {
            self.agenda.moving.remove(action);
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

/// The first whole millisecond after `now`.
pub(super) fn after(now: Time) -> Time {
    Time::from_millis(now.nanos() / 1_000_000 + 1)
}

impl Values {
    /// Whether a moving step takes its input in: not while something before it moves between
    /// looks.
    fn takes(&self, clock: Clock) -> bool {
        match clock.mode {
            Mode::Event | Mode::Look => true,
            Mode::Tick => !self.passed_moving,
            Mode::Peek | Mode::Still => false,
        }
    }

    pub fn ease(
        &mut self,
        clock: Clock,
        id: MotionId,
        speeds: (ParamId, ParamId),
        cut: bool,
        input: Vector,
    ) -> Vector {
        if clock.mode == Mode::Still {
            return input;
        }
        let mut motion = self.motions[id];
        let mut value = motion.eased(clock.now);
        if self.takes(clock) && input != motion.target {
            let dot = value.x * input.x + value.y * input.y + value.z * input.z;
            if cut && dot < 0.0 {
                value = Vector::ZERO;
            }
            // What is no further than rounding has arrived.
            if value.minus(input).magnitude() <= TIE {
                value = input;
            }
            let rises = input.magnitude() >= value.magnitude() - TIE;
            let rate = self.number(if rises { speeds.0 } else { speeds.1 });
            let moving = motion.moving || value != input;
            motion = Motion { start: value, target: input, at: clock.now, rate, moving, ..motion };
        }
        self.arrive(clock, id, motion, value)
    }

    pub fn smooth(
        &mut self,
        clock: Clock,
        id: MotionId,
        time: ParamId,
        input: Vector,
        is_turn: bool,
    ) -> Vector {
        if clock.mode == Mode::Still {
            return input;
        }
        let mut motion = self.motions[id];
        let mut value = motion.lagged(clock.now, is_turn);
        if self.takes(clock) && input != motion.target {
            let rate = self.number(time);
            motion = Motion { start: value, target: input, at: clock.now, rate, ..motion };
            value = motion.lagged(clock.now, is_turn);
            motion.moving |= value != input;
        }
        self.arrive(clock, id, motion, value)
    }

    fn arrive(&mut self, clock: Clock, id: MotionId, mut motion: Motion, value: Vector) -> Vector {
        if clock.mode == Mode::Look && value == motion.target {
            motion.moving = false;
        }
        self.passed_moving |= motion.moving;
        if !clock.is_peeking() {
            self.motions[id] = motion;
        }
        value
    }

    /// A step that is skipped follows its input, so that it starts without a jump.
    pub fn follow(&mut self, clock: Clock, id: MotionId, input: Vector) {
        if self.takes(clock) {
            let at = clock.now;
            self.motions[id] = Motion { start: input, target: input, at, ..Motion::default() };
        }
    }

    /// A `travel` that is skipped adds nothing up.
    pub fn stay(&mut self, clock: Clock, id: MotionId) {
        if !clock.is_peeking() {
            self.motions[id] = Motion { at: clock.now, ..Motion::default() };
        }
    }
}
