//! From raw controls to an action's value.

use super::Tell;
use super::state::State;
use crate::base::{AT_REST, ActionId, BindingId, Component, IdRange, MemoryId, OpId, Vector};
use crate::plan::{Op, Opposed, Plan};

/// Magnitudes no further apart than this are a tie.
const TIE: f64 = 1e-9;

/// What an `opposed` keeps: which sides are away from 0, and which of them left it last.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Sides {
    neg: bool,
    pos: bool,
    newest_is_pos: bool,
}

impl Sides {
    /// Takes in what both sides are now, and tells whether the positive one left 0 last.
    fn newest_is_pos(&mut self, neg: bool, pos: bool, pos_later: bool) -> bool {
        let (neg_left, pos_left) = (neg && !self.neg, pos && !self.pos);
        self.newest_is_pos = match (neg_left, pos_left) {
            (true, true) => pos_later,
            (true, false) => false,
            (false, true) => true,
            (false, false) => self.newest_is_pos,
        };
        (self.neg, self.pos) = (neg, pos);
        self.newest_is_pos
    }
}

impl State {
    /// Works a binding's operations out from what the controls report now.
    pub fn evaluate_binding(&mut self, plan: &Plan, binding: BindingId) {
        self.evaluate(plan, plan.bindings[binding].ops, Vector::ZERO);
    }

    /// Blends and shapes an action, settles its levels and tells what comes of it.
    pub fn work_out(&mut self, plan: &Plan, action: ActionId, tell: Tell<'_>) {
        let spec = &plan.actions[action];
        let (mut blended, mut greatest, mut winner) = (Vector::ZERO, 0.0, None);
        for binding in spec.bindings.iter() {
            let value = self.value_of(plan.bindings[binding].ops);
            let magnitude = value.magnitude();
            // Only a greater one wins: a tie stays with the earlier, also where rounding makes a
            // diagonal of length 1 come out a hair under or over 1.
            if magnitude > greatest + TIE {
                (blended, greatest, winner) = (value, magnitude, Some(binding));
            }
        }
        if greatest > AT_REST {
            self.actions[action].from = winner;
        }
        self.evaluate(plan, spec.shape, blended);
        let value = self.value_of(spec.shape);
        self.settle(plan, action, value, tell);
    }

    /// What a run of operations gave.
    fn value_of(&self, ops: IdRange<OpId>) -> Vector {
        ops.last().map_or(Vector::ZERO, |op| self.values[op])
    }

    fn evaluate(&mut self, plan: &Plan, ops: IdRange<OpId>, blended: Vector) {
        let mut input = Vector::ZERO;
        for id in ops.iter() {
            input = self.operate(plan.ops[id], input, blended);
            self.values[id] = input;
        }
    }

    fn operate(&mut self, op: Op, v: Vector, blended: Vector) -> Vector {
        match op {
            Op::Whole(control) => self.raw[control],
            Op::Part(control, component) => Vector::axis(self.raw[control].component(component)),
            Op::Half(control, component, positive) => {
                let value = self.raw[control].component(component);
                Vector::axis(if positive { value.max(0.0) } else { (-value).max(0.0) })
            }
            Op::Either(a, b) => Vector::axis(self.raw[a].x.max(self.raw[b].x)),
            Op::Pair { neg, pos, opposed } => {
                let (neg, pos) = (self.values[neg].x, self.values[pos].x);
                Vector::axis(self.pair(neg.clamp(0.0, 1.0), pos.clamp(0.0, 1.0), opposed))
            }
            Op::Join { x, y } => Vector::new(self.values[x].x, self.values[y].x),
            Op::Blended => blended,
            Op::Scale { x, y } => v.times(x, y),
            Op::Deadzone { low, full } => {
                let magnitude = v.magnitude();
                v.resized(magnitude, rescaled(magnitude, low, full))
            }
            Op::DeadzoneAxes { low, full } => {
                let axis = |v: f64| rescaled(v.abs(), low, full).copysign(v);
                Vector::new(axis(v.x), axis(v.y))
            }
            Op::Curve { power } => {
                let magnitude = v.magnitude();
                v.resized(magnitude, libm::pow(magnitude, power).min(1e15))
            }
            Op::Cap { limit } => {
                let magnitude = v.magnitude();
                if magnitude > limit { v.resized(magnitude, limit) } else { v }
            }
            Op::Onto(component) => Vector::ZERO.with(component, v.x),
            Op::Pick(Component::X) => Vector::axis(v.x),
            Op::Pick(Component::Y) => Vector::axis(v.y),
            Op::Length => Vector::axis(v.magnitude()),
        }
    }

    /// What two opposite sides give.
    fn pair(&mut self, neg: f64, pos: f64, opposed: Opposed) -> f64 {
        let both = neg > AT_REST && pos > AT_REST;
        let pos_wins = match opposed {
            Opposed::Cancel => return pos - neg,
            Opposed::Neg => false,
            Opposed::Pos => true,
            Opposed::Newest { memory, pos_later } => self.newest(memory, neg, pos, pos_later),
            Opposed::Oldest { memory, pos_later } => !self.newest(memory, neg, pos, pos_later),
        };
        match (both, pos_wins) {
            (false, _) => pos - neg,
            (true, true) => pos,
            (true, false) => -neg,
        }
    }

    fn newest(&mut self, memory: MemoryId, neg: f64, pos: f64, pos_later: bool) -> bool {
        self.memories[memory].newest_is_pos(neg > AT_REST, pos > AT_REST, pos_later)
    }
}

/// A magnitude after a dead zone: 0 up to `low`, 1 from `full`, a straight line between.
fn rescaled(magnitude: f64, low: f64, full: f64) -> f64 {
    if magnitude <= low {
        0.0
    } else if magnitude >= full {
        1.0
    } else {
        (magnitude - low) / (full - low)
    }
}
