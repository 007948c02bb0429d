//! Values of one or two components, which nearly all are: worked out as two numbers in place of four.

use super::state::State;
use super::values::Values;
use crate::base::limits::{MOST, TIE};
use crate::base::{BindingId, Component, ControlUseId, IdRange, OpId, ParamId, Table, Vector};
use crate::plan::{Gather, OpKind, Opposed, Tables};

/// What steps work on that look at nothing but what comes in.
pub(super) trait Components: Copy {
    const ZERO: Self;
    fn magnitude(self) -> f64;
    /// The same direction with magnitude `to`; 0 stays 0. `from` is the present magnitude.
    fn resized(self, from: f64, to: f64) -> Self;
    /// Each component changed, and held within ±10¹⁵.
    fn map(self, change: impl Fn(f64) -> f64) -> Self;
    /// −v on some components.
    fn flipped(self, which: [bool; 3]) -> Self;
    fn number(x: f64) -> Self;
}

impl Components for Vector {
    const ZERO: Self = Self::ZERO;

    fn magnitude(self) -> f64 {
        self.magnitude()
    }

    fn resized(self, from: f64, to: f64) -> Self {
        self.resized(from, to)
    }

    fn map(self, change: impl Fn(f64) -> f64) -> Self {
        self.map(change)
    }

    fn flipped(self, which: [bool; 3]) -> Self {
        let [x, y, z] = which.map(|turned| if turned { -1.0 } else { 1.0 });
        self.times(Self::space(x, y, z))
    }

    fn number(x: f64) -> Self {
        Self::axis(x)
    }
}

/// x and y of a value that has no more.
#[derive(Clone, Copy, Debug)]
pub(super) struct Flat {
    x: f64,
    y: f64,
}

impl Components for Flat {
    const ZERO: Self = Self { x: 0.0, y: 0.0 };

    #[inline(always)]
    fn magnitude(self) -> f64 {
        if self.y == 0.0 { self.x.abs() } else { (self.x * self.x + self.y * self.y).sqrt() }
    }

    #[inline(always)]
    fn resized(self, from: f64, to: f64) -> Self {
        if from == 0.0 {
            return Self::ZERO;
        }
        Self { x: self.x / from * to, y: self.y / from * to }
    }

    #[inline(always)]
    fn map(self, change: impl Fn(f64) -> f64) -> Self {
        let held = |v: f64| change(v).clamp(-MOST, MOST);
        Self { x: held(self.x), y: held(self.y) }
    }

    #[inline(always)]
    fn flipped(self, [x, y, _]: [bool; 3]) -> Self {
        Self { x: if x { -self.x } else { self.x }, y: if y { -self.y } else { self.y } }
    }

    #[inline(always)]
    fn number(x: f64) -> Self {
        Self { x, y: 0.0 }
    }
}

impl From<Vector> for Flat {
    #[inline(always)]
    fn from(value: Vector) -> Self {
        Self { x: value.x, y: value.y }
    }
}

impl From<Flat> for Vector {
    #[inline(always)]
    fn from(value: Flat) -> Self {
        Self::new(value.x, value.y)
    }
}

/// Which bindings are flat: what they read has no more than two components, and neither has what any of
/// their operations gives, which looks at nothing but its operands and asks for no condition.
pub(super) fn flat_bindings(plan: &Tables) -> Table<BindingId, bool> {
    let is_flat = |id: OpId| {
        let op = &plan.ops[id];
        let sees_flat = |used: ControlUseId| {
            // Of what is greatest; what adds up or comes last may be a place or a turn.
            plan.uses[used].gather == Gather::Greatest
        };
        let is_flat = match op.kind {
            OpKind::Whole(used) | OpKind::Half(used, ..) | OpKind::Part(used, _) => sees_flat(used),
            OpKind::Pair { opposed, .. } => opposed == Opposed::Cancel,
            OpKind::Join { z, .. } => z.is_none(),
            OpKind::Flip(_)
            | OpKind::Scale(_)
            | OpKind::Deadzone { .. }
            | OpKind::DeadzoneAxes { .. }
            | OpKind::Curve(_)
            | OpKind::Points(..)
            | OpKind::Cap(_)
            | OpKind::Unit
            | OpKind::Length
            | OpKind::Notch(_)
            | OpKind::Greater(..) => true,
            _ => false,
        };
        is_flat && op.conditions.is_empty()
    };
    let all = plan.bindings.iter().map(|binding| binding.ops.iter().all(is_flat));
    all.collect::<Vec<_>>().into()
}

impl State {
    /// Works the operations of a binding out, and gives the last one's value.
    #[inline]
    pub fn evaluate_binding(&mut self, plan: &Tables, id: BindingId) -> Vector {
        let ops = plan.bindings[id].ops;
        match self.values.is_flat[id] {
            true => self.evaluate_flat(plan, ops).into(),
            false => self.evaluate(plan, ops, Vector::ZERO),
        }
    }

    #[inline]
    fn evaluate_flat(&mut self, plan: &Tables, ops: IdRange<OpId>) -> Flat {
        let Self { inputs, values, .. } = self;
        let visible = &inputs.controls.visible;
        let mut input = Flat::ZERO;
        for (id, op) in plan.ops.run(ops) {
            let given = |id: OpId| Flat::from(values.ops[id]);
            input = match op.kind {
                OpKind::Whole(used) => visible[used].into(),
                OpKind::Part(used, component) => Flat::number(visible[used].component(component)),
                OpKind::Half(used, component, positive) => {
                    Flat::number(half(visible[used], component, positive))
                }
                OpKind::Pair { neg, pos, .. } => {
                    let side = |id: OpId| given(id).x.clamp(0.0, 1.0);
                    Flat::number(side(pos) - side(neg))
                }
                OpKind::Join { x, y, .. } => Flat { x: given(x).x, y: given(y).x },
                OpKind::Greater(a, b) => greater(given(a), given(b)),
                ref step => values.step(step, input),
            };
            if let Some(slot) = values.ops.get_mut(id) {
                (slot.x, slot.y) = (input.x, input.y);
            }
        }
        input
    }
}

/// One half of a component, 0 or more.
#[inline]
pub(super) fn half(value: Vector, component: Component, positive: bool) -> f64 {
    let value = value.component(component);
    if positive { value.max(0.0) } else { (-value).max(0.0) }
}

/// The one that is further; a tie goes to the first.
#[inline]
pub(super) fn greater<V: Components>(a: V, b: V) -> V {
    if b.magnitude() > a.magnitude() + TIE { b } else { a }
}

impl Values {
    /// What a step gives that looks at nothing but what comes in, and treats all components alike; any
    /// other passes its input on.
    #[inline(always)]
    pub fn step<V: Components>(&self, step: &OpKind, v: V) -> V {
        let number = |id: ParamId| self.number(id);
        match *step {
            OpKind::Flip(which) => v.flipped(which),
            OpKind::Scale(by) => {
                let by = number(by);
                v.map(|c| c * by)
            }
            OpKind::Deadzone { low, full } => {
                let m = v.magnitude();
                v.resized(m, rescaled(m, number(low), number(full)))
            }
            OpKind::DeadzoneAxes { low, full } => {
                v.map(|c| rescaled(c.abs(), number(low), number(full)).copysign(c))
            }
            OpKind::Curve(power) => {
                let m = v.magnitude();
                v.resized(m, libm::pow(m, number(power)).min(MOST))
            }
            OpKind::Points(first, count) => {
                let m = v.magnitude();
                let point = |i: u32| (self.nth(first, 2 * i), self.nth(first, 2 * i + 1));
                v.resized(m, on_lines(m, (0..count).map(point)))
            }
            OpKind::Cap(limit) => {
                let (m, limit) = (v.magnitude(), number(limit));
                if m > limit { v.resized(m, limit) } else { v }
            }
            OpKind::Unit => v.resized(v.magnitude(), 1.0),
            OpKind::Length => V::number(v.magnitude()),
            OpKind::Notch(size) => {
                let (m, size) = (v.magnitude(), number(size));
                v.resized(m, libm::floor(m / size + 0.5 + TIE) * size)
            }
            _ => v,
        }
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

/// Straight lines through (0, 0) and the points, flat after the last.
fn on_lines(m: f64, points: impl Iterator<Item = (f64, f64)>) -> f64 {
    let mut before = (0.0, 0.0);
    for point in points {
        if m <= point.0 {
            return before.1 + (m - before.0) / (point.0 - before.0) * (point.1 - before.1);
        }
        before = point;
    }
    before.1
}
