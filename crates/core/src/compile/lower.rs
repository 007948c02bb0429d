//! Chains to operations, each after those it reads.

use crate::base::{
    ActionId, BindingId, Component, ControlId, Id, IdRange, Kind, MemoryId, OpId, ParamId, Stretch,
    Table,
};
use crate::controls::Reads;
use crate::model::{By, Chain, Corner, Form, Four, Head, Number, Opposed, Pair, Pick, Step};
use crate::plan::{self, Code, Condition, Op, Param};

/// The operations made so far.
pub(super) struct Lowering<'a> {
    /// Where each action of the model stands in working order.
    order: &'a [ActionId],
    ops: Vec<Op>,
    params: Vec<Param>,
    conditions: Vec<Condition>,
    memories: usize,
    readers: Vec<Vec<BindingId>>,
}

/// All operations of a profile.
pub(super) struct Lowered {
    pub ops: Table<OpId, Op>,
    pub params: Table<ParamId, Param>,
    pub conditions: Box<[Condition]>,
    pub memories: usize,
    /// For each control, the bindings that read it.
    pub readers: Table<ControlId, Box<[BindingId]>>,
}

impl<'a> Lowering<'a> {
    pub fn new(controls: usize, order: &'a [ActionId]) -> Self {
        Self {
            order,
            ops: Vec::new(),
            params: Vec::new(),
            conditions: Vec::new(),
            memories: 0,
            readers: vec![Vec::new(); controls],
        }
    }

    /// A binding's operations.
    pub fn binding(&mut self, id: BindingId, chain: &Chain) -> IdRange<OpId> {
        let first = self.ops.len();
        self.chain(chain);
        self.note_readers(id, first);
        IdRange::new(first, self.ops.len())
    }

    /// A shape's operations.
    pub fn shape(&mut self, steps: &[Step], kind: Kind) -> IdRange<OpId> {
        let first = self.ops.len();
        self.push(Code::Blended);
        self.steps(steps, kind);
        IdRange::new(first, self.ops.len())
    }

    pub fn finish(self) -> Lowered {
        let readers: Vec<_> = self.readers.into_iter().map(Vec::into_boxed_slice).collect();
        Lowered {
            ops: self.ops.into(),
            params: self.params.into(),
            conditions: self.conditions.into(),
            memories: self.memories,
            readers: readers.into(),
        }
    }

    /// The number that a step or trigger takes.
    pub fn param(&mut self, number: Number) -> ParamId {
        self.params.push(match number {
            Number::Fixed(value) => Param::Fixed(value),
            Number::Named { named, least, most } => Param::Named { named, least, most },
        });
        ParamId::new(self.params.len() - 1)
    }

    /// Several numbers side by side; gives the first.
    fn param_list(&mut self, numbers: impl IntoIterator<Item = Number>) -> ParamId {
        let first = ParamId::new(self.params.len());
        for number in numbers {
            self.param(number);
        }
        first
    }

    /// Enters a binding into the lists of the controls that its operations read.
    fn note_readers(&mut self, id: BindingId, first: usize) {
        for op in &self.ops[first..] {
            if let Code::Whole(c) | Code::Part(c, _) | Code::Half(c, _, _) = op.code {
                let readers = &mut self.readers[c.index()];
                if readers.last() != Some(&id) {
                    readers.push(id);
                }
            }
        }
    }

    fn push(&mut self, code: Code) -> OpId {
        self.ops.push(Op { code, conditions: Stretch::default() });
        OpId::new(self.ops.len() - 1)
    }

    fn chain(&mut self, chain: &Chain) -> OpId {
        match &chain.head {
            Head::Control { reads, .. } => self.control(*reads),
            Head::Action { action, .. } => self.push(Code::Action(self.order[action.index()])),
            Head::Pair(pair) => self.pair(pair),
            Head::Four(four) => self.four(four),
            Head::Join(parts) => {
                let parts: Vec<_> = parts.iter().map(|part| self.chain(part)).collect();
                let [x, y, ..] = parts[..] else { return self.push(Code::Blended) };
                // The operation knows a plane by its third part being its second.
                let z = parts.get(2).copied().unwrap_or(y);
                self.push(Code::Join { x, y, z })
            }
            Head::Any(parts) => {
                let parts: Vec<_> = parts.iter().map(|part| self.chain(part)).collect();
                let mut parts = parts.into_iter();
                let first = parts.next().unwrap_or(OpId::new(0));
                parts.fold(first, |best, part| self.push(Code::Greater(best, part)))
            }
            Head::Group(inner) => self.chain(inner),
        };
        self.steps(&chain.steps, chain.head.kind());
        OpId::new(self.ops.len() - 1)
    }

    fn control(&mut self, reads: Reads) -> OpId {
        match reads {
            Reads::Whole(control) => self.push(Code::Whole(control)),
            Reads::Component(control, component) => self.push(Code::Part(control, component)),
            Reads::Half(control, component, positive) => {
                self.push(Code::Half(control, component, positive))
            }
            Reads::Either(a, b) => {
                let (a, b) = (self.push(Code::Whole(a)), self.push(Code::Whole(b)));
                self.push(Code::Greater(a, b))
            }
            Reads::Four(controls) => {
                let [up, left, down, right] = controls.map(|c| self.push(Code::Whole(c)));
                let opposed = plan::Opposed::Cancel;
                let x = self.push(Code::Pair { neg: left, pos: right, opposed });
                let y = self.push(Code::Pair { neg: down, pos: up, opposed });
                self.join_round(x, y)
            }
        }
    }

    /// A plane whose length is limited to 1.
    fn join_round(&mut self, x: OpId, y: OpId) -> OpId {
        self.push(Code::Join { x, y, z: y });
        let limit = self.param(Number::Fixed(1.0));
        self.push(Code::Cap(limit))
    }

    fn pair(&mut self, pair: &Pair) -> OpId {
        let (neg, pos) = (self.chain(&pair.neg), self.chain(&pair.pos));
        let opposed = self.opposed(pair);
        self.push(Code::Pair { neg, pos, opposed })
    }

    fn opposed(&mut self, pair: &Pair) -> plan::Opposed {
        let pos_later = !pair.pos_first;
        match pair.opposed {
            Opposed::Cancel => plan::Opposed::Cancel,
            Opposed::Newest => plan::Opposed::Newest { memory: self.memory(), pos_later },
            Opposed::Oldest => plan::Opposed::Oldest { memory: self.memory(), pos_later },
            Opposed::Neg => plan::Opposed::Neg,
            Opposed::Pos => plan::Opposed::Pos,
        }
    }

    fn memory(&mut self) -> MemoryId {
        self.memories += 1;
        MemoryId::new(self.memories - 1)
    }

    fn four(&mut self, four: &Four) -> OpId {
        let (x, y) = (self.pair(&four.x), self.pair(&four.y));
        match four.corner {
            Corner::Round => self.join_round(x, y),
            Corner::Square => self.push(Code::Join { x, y, z: y }),
        }
    }

    fn steps(&mut self, steps: &[Step], mut kind: Kind) {
        for step in steps {
            let code = self.code(&step.form, kind);
            kind = step.form.kind_after(kind);
            let conditions = step.conditions.iter();
            let conditions = Stretch::push(
                &mut self.conditions,
                conditions.map(|c| Condition { named: c.named, unless: c.unless }),
            );
            self.ops.push(Op { code, conditions });
        }
    }

    fn code(&mut self, form: &Form, kind: Kind) -> Code {
        let components = kind.components() as u8;
        match form {
            Form::Flip(components) => Code::Flip(*components),
            Form::Not => Code::Not(self.memory()),
            Form::Toggle => Code::Toggle(self.memory()),
            Form::SwitchAt { on, off } => {
                let on = self.param(*on);
                // Without an `off` of its own it is 0.8 · on: the engine knows it by this.
                let off = off.map_or(on, |off| self.param(off));
                Code::SwitchAt { on, off, memory: self.memory() }
            }
            Form::Scale(factors) => match factors.as_slice() {
                [one] => Code::Scale(self.param(*one)),
                several => {
                    let rest = std::iter::repeat(Number::Fixed(1.0));
                    Code::ScaleEach(self.param_list(several.iter().copied().chain(rest).take(3)))
                }
            },
            Form::Deadzone { low, full, by } => {
                let (low, full) = (self.param(*low), self.param(*full));
                match by {
                    By::Length => Code::Deadzone { low, full },
                    By::Axes => Code::DeadzoneAxes { low, full },
                }
            }
            Form::Curve(power) => Code::Curve(self.param(*power)),
            Form::Points(points) => {
                let numbers =
                    points.iter().flat_map(|(x, y)| [Number::Fixed(*x), Number::Fixed(*y)]);
                Code::Points(self.param_list(numbers), points.len() as u32)
            }
            Form::Cap(limit) => Code::Cap(self.param(*limit)),
            Form::Clamp(least, most) => Code::Clamp(self.param_list([*least, *most]), components),
            Form::Unit => Code::Unit,
            Form::Remap(ends) => Code::Remap(self.param_list(*ends), components),
            Form::Onto(component, _) => Code::Onto(*component),
            Form::Pick(Pick::Component(component)) => Code::Pick(*component),
            Form::Pick(Pick::Length) => Code::Length,
            Form::Order(named) => {
                let mut order = Component::ALL;
                for (place, component) in order.iter_mut().zip(named) {
                    *place = *component;
                }
                Code::Order(order)
            }
            Form::Rotate(angle, around) => Code::Rotate(self.param(*angle), *around),
            Form::Ways { count, from } => {
                Code::Ways { count: self.param(*count), from: self.param(*from) }
            }
            Form::Notch(size) => Code::Notch(self.param(*size)),
        }
    }
}
