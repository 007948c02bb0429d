//! From raw controls to an action's value.

use super::clock::{Clock, Mode};
use super::flat::{greater, half};
use super::inputs::Inputs;
use super::state::State;
use super::values::Values;
use crate::base::limits::{AT_REST, OFF, OFF_SHARE, ON, TIE};
use crate::base::{
    ActionId, BindingId, Blend, Component, Id, IdRange, Kind, MemoryId, OpId, ParamId, Vector,
};
use crate::plan::{Action, Op, OpKind, Opposed, Tables};

/// What an operation keeps between events.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Memory {
    /// Of an `opposed`: whether the negative and the positive side are away from 0. Of a switch:
    /// whether the input is on.
    first: bool,
    second: bool,
    /// Of an `opposed`: whether the positive side left 0 last. Of a `toggle`: its state.
    third: bool,
}

impl Memory {
    /// Takes in which sides are away from 0, and tells whether the positive one left it last.
    fn newest_is_pos(&mut self, neg: bool, pos: bool, pos_later: bool) -> bool {
        let (neg_left, pos_left) = (neg && !self.first, pos && !self.second);
        self.third = match (neg_left, pos_left) {
            (true, true) => pos_later,
            (true, false) => false,
            (false, true) => true,
            (false, false) => self.third,
        };
        (self.first, self.second) = (neg, pos);
        self.third
    }

    /// Takes in a magnitude, with hysteresis; tells whether it came on by that.
    fn switch(&mut self, magnitude: f64, on: f64, off: f64) -> bool {
        let was = self.first;
        self.first = if was { magnitude >= off } else { magnitude >= on };
        self.first && !was
    }
}

/// A binding among those of its action.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct BindingState {
    /// As it was worked out last.
    value: Vector,
    /// As it is at this very moment, and its magnitude.
    shown: Vector,
    magnitude: f64,
    away: bool,
    /// When it left 0 last, and when it changed last; 0 is never.
    left: u64,
    changed: u64,
}

impl BindingState {
    /// Takes in a new value, where the order among bindings does not matter.
    #[inline]
    pub fn put(&mut self, value: Vector, kind: Kind) {
        self.show(value, kind);
        (self.away, self.value) = (self.magnitude > AT_REST, value);
    }

    /// The same for a binding that is a button as it is.
    #[inline]
    pub fn press(&mut self, is_on: bool) {
        let x = f64::from(u8::from(is_on));
        (self.value.x, self.shown.x, self.magnitude, self.away) = (x, x, x, is_on);
    }

    /// Takes in the value of this very moment, which is no event.
    #[inline]
    pub fn show(&mut self, value: Vector, kind: Kind) {
        (self.shown, self.magnitude) = (value, value.magnitude_of(kind));
    }

    /// What it gives at this very moment, and whether that is away from 0.
    #[inline]
    pub fn given(&self) -> (Vector, bool) {
        (self.shown, self.away)
    }

    /// As it is at this very moment.
    pub fn shown(&self) -> Vector {
        self.shown
    }
}

impl State {
    /// Works an action's value out, and which of its bindings won.
    pub fn value_of(&mut self, plan: &Tables, action: ActionId) -> (Vector, Option<BindingId>) {
        (self.values.evaluating, self.values.passed_moving) = (Some(action), false);
        self.inputs.controls.remember(plan, action);
        if self.agenda.moving.contains(action) || self.clock.mode == Mode::Tick {
            // What moves is another value now, whether anything else happened or not.
            for binding in plan.actions[action].bindings.iter() {
                if self.values.follows_time[binding] {
                    self.agenda.stale.insert(binding);
                }
            }
        }
        self.evaluate_bindings(plan, action);
        let (value, won) = self.blended_and_shaped(plan, action);
        self.note_moving(plan, action, value, self.clock.now);
        (value, won)
    }

    /// What the bindings of an action, worked out, give by its blend and its shape; and which of them won.
    #[inline(always)]
    pub fn blended_and_shaped(
        &mut self,
        plan: &Tables,
        action: ActionId,
    ) -> (Vector, Option<BindingId>) {
        let (blended, won) = self.values.blend(&self.inputs, plan, action);
        (self.shaped(plan, action, blended), won)
    }

    /// What the shape of an action makes of what its bindings gave.
    pub fn shaped(&mut self, plan: &Tables, action: ActionId, blended: Vector) -> Vector {
        // The first operation of a shape is what the bindings gave.
        match plan.actions[action].shape {
            shape if shape.len() == 1 => blended,
            shape => self.evaluate(plan, shape, blended),
        }
    }

    /// Works out the bindings of an action that are stale.
    fn evaluate_bindings(&mut self, plan: &Tables, action: ActionId) {
        let bindings = plan.actions[action].bindings;
        let mut next = bindings.iter().next().map_or(0, Id::index);
        while let Some(binding) = self.agenda.stale.next(next) {
            if plan.bindings[binding].action != action {
                return;
            }
            self.agenda.stale.remove(binding);
            next = binding.index() + 1;
            let value = self.evaluate_binding(plan, binding);
            self.values.note(binding, value, plan.actions[action].kind);
        }
    }

    /// Works a run of operations out, and gives the last one's value.
    pub fn evaluate(&mut self, plan: &Tables, ops: IdRange<OpId>, blended: Vector) -> Vector {
        let mut input = Vector::ZERO;
        for (id, op) in plan.ops.run(ops) {
            let holds = op.conditions.is_empty() || self.values.conditions_hold(plan, op);
            if holds {
                input = self.operate(plan, &op.kind, input, blended);
            } else {
                self.values.skip(self.clock, op.kind, input);
            }
            self.values.ops[id] = input;
        }
        input
    }

    #[inline]
    fn operate(&mut self, plan: &Tables, code: &OpKind, v: Vector, blended: Vector) -> Vector {
        let visible = |used| self.inputs.controls.visible[used];
        let given = |id: OpId| self.values.ops[id];
        match *code {
            OpKind::Whole(used) => visible(used),
            OpKind::Part(used, component) => Vector::axis(visible(used).component(component)),
            OpKind::Half(used, component, positive) => {
                Vector::axis(half(visible(used), component, positive))
            }
            OpKind::Action(action) => self.episodes.value_read(plan, action),
            OpKind::Pair { neg, pos, opposed } => {
                let [neg, pos] = [neg, pos].map(|id| given(id).x.clamp(0.0, 1.0));
                Vector::axis(self.values.pair(self.clock, neg, pos, opposed))
            }
            OpKind::Join { x, y, z: None } => Vector::new(given(x).x, given(y).x),
            OpKind::Join { x, y, z: Some(z) } => Vector::space(given(x).x, given(y).x, given(z).x),
            OpKind::Greater(a, b) => greater(given(a), given(b)),
            OpKind::GreaterTurn(a, b) => {
                let angle = |v: Vector| v.magnitude_of(Kind::Turn);
                let (a, b) = (given(a), given(b));
                if angle(b) > angle(a) + TIE { b } else { a }
            }
            OpKind::Plus(plus) => self.plus(plan, plus),
            OpKind::Blended => blended,
            _ => self.step(code, v),
        }
    }

    #[inline]
    fn step(&mut self, step: &OpKind, v: Vector) -> Vector {
        let number = |id: ParamId| self.values.number(id);
        let nth = |id: ParamId, n: u32| self.values.nth(id, n);
        match *step {
            OpKind::ScaleEach(by) => v.times(Vector::space(nth(by, 0), nth(by, 1), nth(by, 2))),
            OpKind::Clamp(ends, components) => {
                let (least, most) = (nth(ends, 0), nth(ends, 1));
                v.map_first(components, |c| c.min(most).max(least.min(most)))
            }
            OpKind::Remap(ends, components) => {
                let [a, b, c, d] = [0, 1, 2, 3].map(|n| nth(ends, n));
                v.map_first(components, |v| if a == b { c } else { remapped(v, a, b, c, d) })
            }
            OpKind::Onto(component) => Vector::ZERO.with(component, v.x),
            OpKind::Pick(component) => Vector::axis(v.component(component)),
            OpKind::Order([x, y, z]) => {
                Vector::space(v.component(x), v.component(y), v.component(z))
            }
            OpKind::Rotate(angle, around) => rotated(v, number(angle), around),
            OpKind::Ways { count, from } => to_ways(v, number(count).round(), number(from)),
            OpKind::Ease { rise, fall, cut, motion } => {
                self.values.ease(self.clock, motion, (rise, fall), cut, v)
            }
            OpKind::Smooth(time, motion) => self.values.smooth(self.clock, motion, time, v, false),
            OpKind::SmoothTurn(time, motion) => {
                self.values.smooth(self.clock, motion, time, v, true)
            }
            OpKind::Travel(motion) => self.travel(motion, v),
            OpKind::Not(memory) => {
                self.values.switch(self.clock, memory, v.magnitude(), ON, OFF);
                Vector::axis(if self.values.memories[memory].first { 0.0 } else { 1.0 })
            }
            OpKind::Toggle(memory) => {
                let came_on = self.values.switch(self.clock, memory, v.magnitude(), ON, OFF);
                let memory = &mut self.values.memories[memory];
                memory.third ^= came_on;
                Vector::axis(if memory.third { 1.0 } else { 0.0 })
            }
            OpKind::SwitchAt { on, off, memory } => {
                let on_at = number(on);
                let off_at = off.map_or(OFF_SHARE * on_at, |off| number(off).min(on_at));
                self.values.switch(self.clock, memory, v.magnitude(), on_at, off_at);
                Vector::axis(if self.values.memories[memory].first { 1.0 } else { 0.0 })
            }
            _ => self.values.step(step, v),
        }
    }
}

/// From a…b to c…d, held within c…d.
fn remapped(v: f64, a: f64, b: f64, c: f64, d: f64) -> f64 {
    (c + (v - a) / (b - a) * (d - c)).clamp(c.min(d), c.max(d))
}

/// Turned counter-clockwise around an axis.
fn rotated(v: Vector, angle: f64, around: Component) -> Vector {
    let (sin, cos) = (libm::sin(angle), libm::cos(angle));
    let turn = |a: f64, b: f64| (a * cos - b * sin, a * sin + b * cos);
    match around {
        Component::Z => {
            let (x, y) = turn(v.x, v.y);
            Vector { x, y, ..v }
        }
        Component::X => {
            let (y, z) = turn(v.y, v.z);
            Vector { y, z, ..v }
        }
        Component::Y => {
            let (z, x) = turn(v.z, v.x);
            Vector { z, x, ..v }
        }
    }
}

/// The direction moved to the nearest of `count` even ones, the first at `from`.
fn to_ways(v: Vector, count: f64, from: f64) -> Vector {
    let m = v.magnitude();
    if m == 0.0 {
        return Vector::ZERO;
    }
    let step = 2.0 * std::f64::consts::PI / count.max(1.0);
    let away = libm::atan2(v.y, v.x) - from;
    let angle = from + libm::floor((away + TIE) / step + 0.5) * step;
    Vector::new(m * libm::cos(angle), m * libm::sin(angle))
}

impl Values {
    /// Takes in a binding's new value, and when it left 0 or changed.
    pub fn note(&mut self, binding: BindingId, value: Vector, kind: Kind) {
        let state = &mut self.bindings[binding];
        let (was_away, changed) = (state.away, value.differs(state.value));
        state.put(value, kind);
        if changed || state.away != was_away {
            self.moment += 1;
        }
        if state.away && !was_away {
            state.left = self.moment;
        }
        if changed {
            state.changed = self.moment;
        }
    }

    /// What the blend of an action's bindings gives, and which of them won.
    #[inline(always)]
    pub fn blend(
        &self,
        inputs: &Inputs,
        plan: &Tables,
        action: ActionId,
    ) -> (Vector, Option<BindingId>) {
        let spec = &plan.actions[action];
        match spec.bindings.first() {
            Some(only) if spec.bindings.len() == 1 && inputs.is_enabled(plan, only) => {
                let state = &self.bindings[only];
                (state.shown, Some(only).filter(|_| state.away))
            }
            _ => self.blend_several(inputs, plan, spec),
        }
    }

    /// Of several bindings the one that is furthest. Only a greater one wins: a tie stays with the
    /// earlier, also where rounding makes a diagonal of length 1 come out a hair under or over 1.
    fn greatest(
        &self,
        inputs: &Inputs,
        plan: &Tables,
        spec: &Action,
    ) -> (Vector, Option<BindingId>) {
        let mut best: Option<(BindingId, &BindingState)> = None;
        for (id, state) in self.bindings.run(spec.bindings) {
            let is_further =
                best.is_none_or(|(_, greatest)| state.magnitude > greatest.magnitude + TIE);
            if is_further && inputs.is_enabled(plan, id) {
                best = Some((id, state));
            }
        }
        let Some((id, state)) = best else { return (Vector::ZERO, None) };
        (state.shown, Some(id).filter(|_| state.away))
    }

    fn blend_several(
        &self,
        inputs: &Inputs,
        plan: &Tables,
        spec: &Action,
    ) -> (Vector, Option<BindingId>) {
        let all = || {
            let enabled = spec.bindings.iter().filter(|&id| inputs.is_enabled(plan, id));
            enabled.map(|id| (id, &self.bindings[id]))
        };
        let won = match spec.blend {
            Blend::Greatest => return self.greatest(inputs, plan, spec),
            Blend::Sum => {
                let sum = all().fold(Vector::ZERO, |sum, (_, state)| sum.plus(state.shown));
                return (sum, self.greatest(inputs, plan, spec).1);
            }
            Blend::Oldest => {
                all().filter(|(_, s)| s.away).min_by_key(|(_, s)| s.left).map(|(id, _)| id)
            }
            Blend::Newest => {
                all().filter(|(_, s)| s.away).max_by_key(|(_, s)| s.left).map(|(id, _)| id)
            }
            Blend::LastChange => all()
                .filter(|(_, s)| s.changed > 0)
                .max_by_key(|(_, s)| s.changed)
                .map(|(id, _)| id),
        };
        let value = won.map_or(Vector::ZERO, |id| self.bindings[id].shown);
        (value, won.filter(|&id| self.bindings[id].away))
    }

    /// What a step keeps while it is skipped.
    fn skip(&mut self, clock: Clock, code: OpKind, input: Vector) {
        if let Some(memory) = code.memory()
            && !clock.is_peeking()
        {
            self.memories[memory] = Memory::default();
        }
        match (code, code.motion()) {
            (OpKind::Travel(motion), _) => self.stay(clock, motion),
            (_, Some(motion)) => self.follow(clock, motion, input),
            (_, None) => {}
        }
    }

    pub fn conditions_hold(&self, plan: &Tables, op: &Op) -> bool {
        let conditions = op.conditions.of(&plan.conditions);
        conditions.iter().all(|condition| self.holds(condition))
    }

    /// Takes a magnitude in, with hysteresis; tells whether it came on by that.
    fn switch(
        &mut self,
        clock: Clock,
        memory: MemoryId,
        magnitude: f64,
        on: f64,
        off: f64,
    ) -> bool {
        !clock.is_peeking() && self.memories[memory].switch(magnitude, on, off)
    }

    /// What two opposite sides give.
    fn pair(&mut self, clock: Clock, neg: f64, pos: f64, opposed: Opposed) -> f64 {
        let both = neg > AT_REST && pos > AT_REST;
        let pos_wins = match opposed {
            Opposed::Cancel => return pos - neg,
            Opposed::Neg => false,
            Opposed::Pos => true,
            Opposed::Newest { memory, pos_later } => {
                self.newest(clock, memory, neg, pos, pos_later)
            }
            Opposed::Oldest { memory, pos_later } => {
                !self.newest(clock, memory, neg, pos, pos_later)
            }
        };
        match (both, pos_wins) {
            (false, _) => pos - neg,
            (true, true) => pos,
            (true, false) => -neg,
        }
    }

    fn newest(
        &mut self,
        clock: Clock,
        memory: MemoryId,
        neg: f64,
        pos: f64,
        pos_later: bool,
    ) -> bool {
        if clock.is_peeking() {
            return self.memories[memory].third;
        }
        self.memories[memory].newest_is_pos(neg > AT_REST, pos > AT_REST, pos_later)
    }
}
