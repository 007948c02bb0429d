//! Chains to operations, each after those it reads.

use super::control_uses::{Made, Reads, Use, WHOLE};
use crate::model::{self, Chain, Corner, Four, Head, Number, Opposed, Pair, Step};
use harmonym_runtime::base::{
    ActionId, BindingId, ControlKind, ControlUseId, Id, IdRange, Kind, ListSlice, MemoryId,
    MotionId, OpId, ParamId, PlusId, Table, half,
};
use harmonym_runtime::controls::{self, Catalogue, Layout};
use harmonym_runtime::plan::{self, Condition, Op, OpKind, Param, Plus};

/// The operations made so far.
pub(super) struct Lowering<'a> {
    /// Where each action of the model stands in working order.
    order: &'a Table<model::ActionId, ActionId>,
    catalogue: &'a Catalogue,
    layout: Layout,
    action: ActionId,
    binding: BindingId,
    pub(super) ops: Vec<Op>,
    params: Vec<Param>,
    pub(super) conditions: Vec<Condition>,
    /// Which memories a pause leaves as they are.
    memories: Vec<bool>,
    motions: usize,
    reads: Reads<'a>,
    pluses: Vec<Plus>,
    listed_uses: Vec<ControlUseId>,
    listed_ops: Vec<OpId>,
    /// Where what the action at hand has begins.
    first: First,
}

/// Where the parts of an action begin.
#[derive(Clone, Copy, Default)]
struct First {
    memory: usize,
    motion: usize,
    plus: usize,
}

/// What an action has, besides its bindings and its shape.
pub(super) struct Owned {
    pub reads: IdRange<ControlUseId>,
    pub memories: IdRange<MemoryId>,
    pub motions: IdRange<MotionId>,
    /// As they were made: they will be ordered anew.
    pub pluses: IdRange<PlusId>,
}

/// All operations of a profile.
pub(super) struct Lowered {
    pub ops: Table<OpId, Op>,
    pub params: Table<ParamId, Param>,
    pub conditions: Box<[Condition]>,
    pub kept_in_pause: Table<MemoryId, bool>,
    pub motions: usize,
    pub reads: Made,
    /// Those with the most holders first.
    pub pluses: Table<PlusId, Plus>,
    pub listed_uses: Box<[ControlUseId]>,
    pub listed_ops: Box<[OpId]>,
    /// Where each `+` has come to stand.
    pub place: Vec<PlusId>,
}

impl<'a> Lowering<'a> {
    pub fn new(
        catalogue: &'a Catalogue,
        layout: Layout,
        order: &'a Table<model::ActionId, ActionId>,
    ) -> Self {
        Self {
            order,
            catalogue,
            layout,
            action: ActionId::new(0),
            binding: BindingId::new(0),
            ops: Vec::new(),
            params: Vec::new(),
            conditions: Vec::new(),
            memories: Vec::new(),
            motions: 0,
            reads: Reads::new(catalogue),
            pluses: Vec::new(),
            listed_uses: Vec::new(),
            listed_ops: Vec::new(),
            first: First::default(),
        }
    }

    pub fn begin_action(&mut self, action: ActionId) {
        self.action = action;
        self.reads.begin_action(action);
        let (memory, motion, plus) = (self.memories.len(), self.motions, self.pluses.len());
        self.first = First { memory, motion, plus };
    }

    /// What the action has that began last.
    pub fn end_action(&self) -> Owned {
        Owned {
            reads: self.reads.of_action(),
            memories: IdRange::new(self.first.memory, self.memories.len()),
            motions: IdRange::new(self.first.motion, self.motions),
            pluses: IdRange::new(self.first.plus, self.pluses.len()),
        }
    }

    /// A binding's operations.
    pub fn binding(&mut self, id: BindingId, chain: &Chain) -> IdRange<OpId> {
        let first = self.ops.len();
        self.binding = id;
        self.chain(chain, Use::default());
        self.reads.end_binding(id);
        IdRange::new(first, self.ops.len())
    }

    /// A shape's operations.
    pub fn shape(&mut self, steps: &[Step], kind: Kind) -> IdRange<OpId> {
        let first = self.ops.len();
        self.push(OpKind::Blended);
        self.steps(steps, kind);
        IdRange::new(first, self.ops.len())
    }

    pub fn finish(self) -> Lowered {
        // The most holders first; of equally many, the earlier.
        let mut order: Vec<usize> = (0..self.pluses.len()).collect();
        order.sort_by_key(|&index| std::cmp::Reverse(self.pluses[index].count));
        let mut place = vec![PlusId::new(0); order.len()];
        for (to, &from) in order.iter().enumerate() {
            place[from] = PlusId::new(to);
        }
        let mut ops = self.ops;
        for op in &mut ops {
            if let OpKind::Plus(id) = &mut op.kind {
                *id = place[id.index()];
            }
        }
        let pluses: Vec<Plus> = order.iter().map(|&index| self.pluses[index]).collect();
        let reads = self.reads.finish(&place);
        Lowered {
            ops: ops.into(),
            params: self.params.into(),
            conditions: self.conditions.into(),
            kept_in_pause: self.memories.into(),
            motions: self.motions,
            reads,
            pluses: pluses.into(),
            listed_uses: self.listed_uses.into(),
            listed_ops: self.listed_ops.into(),
            place,
        }
    }

    /// The number that a step or cue takes.
    pub fn param(&mut self, number: Number) -> ParamId {
        self.params.push(match number {
            Number::Fixed(value) => Param::Fixed(value),
            Number::Variable { named, least, most } => Param::Variable { named, least, most },
        });
        ParamId::new(self.params.len() - 1)
    }

    /// Several numbers side by side; gives the first.
    pub(super) fn param_list(&mut self, numbers: impl IntoIterator<Item = Number>) -> ParamId {
        let first = ParamId::new(self.params.len());
        for number in numbers {
            self.param(number);
        }
        first
    }

    fn push(&mut self, code: OpKind) -> OpId {
        self.ops.push(Op { kind: code, conditions: ListSlice::default() });
        OpId::new(self.ops.len() - 1)
    }

    fn chain(&mut self, chain: &Chain, used: Use) -> OpId {
        match &chain.head {
            Head::Control { reads, device, .. } => self.control(*reads, *device, used),
            Head::Action { action, .. } => self.push(OpKind::Action(self.order[*action])),
            Head::Pair(pair) => self.pair(pair, used),
            Head::Four(four) => self.four(four, used),
            Head::Join(parts) => {
                let parts: Vec<_> = parts.iter().map(|part| self.chain(part, used)).collect();
                let [x, y, ..] = parts[..] else { return self.push(OpKind::Blended) };
                let z = parts.get(2).copied();
                self.push(OpKind::Join { x, y, z })
            }
            Head::Any(parts) => {
                let parts: Vec<_> = parts.iter().map(|part| self.chain(part, used)).collect();
                let mut parts = parts.into_iter();
                let first = parts.next().unwrap_or(OpId::new(0));
                let is_turn = chain.head.kind() == Kind::Turn;
                parts.fold(first, |best, part| match is_turn {
                    true => self.push(OpKind::GreaterTurn(best, part)),
                    false => self.push(OpKind::Greater(best, part)),
                })
            }
            Head::Group(inner) => self.chain(inner, used),
            Head::Sum(parts) => self.sum(parts, used),
        };
        self.steps(&chain.steps, chain.head.kind());
        OpId::new(self.ops.len() - 1)
    }

    fn control(&mut self, reads: controls::Reads, device: Option<u8>, used: Use) -> OpId {
        use controls::Reads::{Char, Component, Either, Four, Half, Nothing, Whole};
        let mut one =
            |control, halves| self.reads.read([Some(control), None], device, halves, used);
        match reads {
            Whole(control) => {
                let read = one(control, WHOLE);
                self.push(OpKind::Whole(read))
            }
            Component(control, component) => {
                let read = one(control, half(component, true) | half(component, false));
                self.push(OpKind::Part(read, component))
            }
            Half(control, component, positive) => {
                let read = one(control, half(component, positive));
                self.push(OpKind::Half(read, component, positive))
            }
            Either(a, b) => {
                let read = self.reads.read([Some(a), Some(b)], device, WHOLE, used);
                self.push(OpKind::Whole(read))
            }
            Char(c) => {
                let key = self.catalogue.key_of(c, self.layout);
                let read = self.reads.read([key, None], device, WHOLE, used);
                self.push(OpKind::Whole(read))
            }
            Nothing => {
                let read = self.reads.read([None, None], device, WHOLE, used);
                self.push(OpKind::Whole(read))
            }
            Four(controls) => {
                let [up, left, down, right] = controls.map(|control| {
                    let read = self.reads.read([Some(control), None], device, WHOLE, used);
                    self.push(OpKind::Whole(read))
                });
                let opposed = plan::Opposed::Cancel;
                let x = self.push(OpKind::Pair { neg: left, pos: right, opposed });
                let y = self.push(OpKind::Pair { neg: down, pos: up, opposed });
                self.join_round(x, y)
            }
        }
    }

    /// The last part, while the others are held.
    fn sum(&mut self, parts: &[Chain], used: Use) -> OpId {
        let Some((last, holders)) = parts.split_last() else { return self.push(OpKind::Blended) };
        let (first, mark) = (self.ops.len(), self.reads.mark());
        let held = Use { holds: true, ..used };
        let holding: Vec<OpId> = holders.iter().map(|part| self.chain(part, held)).collect();
        let mark_of_last = self.reads.mark();
        let count = used.holders + holders.len() as u8;
        let gives = self.chain(last, Use { holders: count, ..used });
        let id = PlusId::new(self.pluses.len());
        self.reads.note_plus(id, &self.reads.since(mark));
        self.pluses.push(Plus {
            action: self.action,
            binding: self.binding,
            ops: IdRange::new(first, self.ops.len()),
            holders: ListSlice::push(&mut self.listed_ops, holding),
            last: gives,
            kind: last.kind,
            uses: ListSlice::push(&mut self.listed_uses, self.reads.since(mark_of_last)),
            count,
            is_pressed: is_pressed(last),
        });
        self.push(OpKind::Plus(id))
    }

    /// A plane whose length is limited to 1.
    fn join_round(&mut self, x: OpId, y: OpId) -> OpId {
        self.push(OpKind::Join { x, y, z: None });
        let limit = self.param(Number::Fixed(1.0));
        self.push(OpKind::Cap(limit))
    }

    fn pair(&mut self, pair: &Pair, used: Use) -> OpId {
        let (neg, pos) = (self.chain(&pair.neg, used), self.chain(&pair.pos, used));
        let opposed = self.opposed(pair);
        self.push(OpKind::Pair { neg, pos, opposed })
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

    pub(super) fn memory(&mut self) -> MemoryId {
        self.memories.push(false);
        MemoryId::new(self.memories.len() - 1)
    }

    /// Memory that a pause leaves as it is.
    pub(super) fn kept_memory(&mut self) -> MemoryId {
        self.memories.push(true);
        MemoryId::new(self.memories.len() - 1)
    }

    pub(super) fn motion(&mut self) -> MotionId {
        self.motions += 1;
        MotionId::new(self.motions - 1)
    }

    fn four(&mut self, four: &Four, used: Use) -> OpId {
        let (x, y) = (self.pair(&four.x, used), self.pair(&four.y, used));
        match four.corner {
            Corner::Round => self.join_round(x, y),
            Corner::Square => self.push(OpKind::Join { x, y, z: None }),
        }
    }
}

/// Whether a part is a button or lever as it is, in parentheses or not.
fn is_pressed(part: &Chain) -> bool {
    matches!(part.single(), Some((ControlKind::Button | ControlKind::Lever, true)))
}
