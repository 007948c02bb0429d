//! Steps that move on their own, and sums over time.

use super::clock::{Clock, Mode};
use super::state::State;
use super::values::Values;
use crate::base::limits::TIE;
use crate::base::{AT_REST, MotionId, ParamId, Time, Vector, turn};

/// The least time constant in seconds, so that none is divided by 0.
const LEAST_LAG: f64 = 1e-12;

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
    /// Whether it has not yet been found arrived.
    pub fn is_moving(&self) -> bool {
        self.moving
    }

    /// A look found it at `value`.
    pub fn arrive(&mut self, value: Vector) {
        self.moving &= value != self.target;
    }

    /// How far an eased value is from its target, and how much of it passes a second.
    pub fn way_and_speed(&self, value: Vector) -> (f64, f64) {
        (self.target.minus(value).magnitude(), self.rate)
    }

    /// The same of a lagging value: the speed is that of now, and gets less.
    pub fn lag_and_speed(&self, value: Vector) -> (f64, f64) {
        let behind = self.target.minus(value).magnitude();
        (behind, behind / self.rate.max(LEAST_LAG))
    }

    fn seconds(&self, now: Time) -> f64 {
        now.since(self.at).nanos() as f64 / 1e9
    }

    /// start + (target − start) · (speed · Δt / distance), up to the target.
    pub fn eased(&self, now: Time) -> Vector {
        let way = self.target.minus(self.start);
        let distance = way.magnitude();
        if distance == 0.0 {
            return self.target;
        }
        let share = self.rate * self.seconds(now) / distance;
        if share >= 1.0 { self.target } else { self.start.plus(way.map(|c| c * share)) }
    }

    /// target + (start − target) · exp(−Δt / T), arrived within 10⁻⁶.
    pub fn lagged(&self, now: Time, is_turn: bool) -> Vector {
        let left = libm::exp(-self.seconds(now) / self.rate.max(LEAST_LAG));
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
        if clock.mode == Mode::Look {
            motion.arrive(value);
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
