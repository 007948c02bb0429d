//! Chains to operations, each after those it reads.

use crate::base::{BindingId, ControlId, Id, IdRange, MemoryId, OpId, Table};
use crate::controls::Reads;
use crate::model::{By, Chain, Corner, Four, Head, Opposed, Pair, Pick, Step};
use crate::plan::{self, Op};

/// The operations made so far.
pub(super) struct Lowering {
    ops: Vec<Op>,
    memories: usize,
    readers: Vec<Vec<BindingId>>,
}

/// All operations of a profile.
pub(super) struct Lowered {
    pub ops: Table<OpId, Op>,
    pub memories: usize,
    /// For each control, the bindings that read it.
    pub readers: Table<ControlId, Box<[BindingId]>>,
}

impl Lowering {
    pub fn new(controls: usize) -> Self {
        Self { ops: Vec::new(), memories: 0, readers: vec![Vec::new(); controls] }
    }

    /// A binding's operations.
    pub fn binding(&mut self, id: BindingId, chain: &Chain) -> IdRange<OpId> {
        let first = self.ops.len();
        self.chain(chain);
        self.note_readers(id, first);
        IdRange::new(first, self.ops.len())
    }

    /// A shape's operations.
    pub fn shape(&mut self, steps: &[Step], is_plane: bool) -> IdRange<OpId> {
        let first = self.ops.len();
        self.push(Op::Blended);
        self.steps(steps, is_plane);
        IdRange::new(first, self.ops.len())
    }

    pub fn finish(self) -> Lowered {
        let readers: Vec<_> = self.readers.into_iter().map(Vec::into_boxed_slice).collect();
        Lowered { ops: self.ops.into(), memories: self.memories, readers: readers.into() }
    }

    /// Enters a binding into the lists of the controls that its operations read.
    fn note_readers(&mut self, id: BindingId, first: usize) {
        for op in &self.ops[first..] {
            let read = match *op {
                Op::Whole(c) | Op::Part(c, _) | Op::Half(c, _, _) => [Some(c), None],
                Op::Either(a, b) => [Some(a), Some(b)],
                _ => [None, None],
            };
            for control in read.into_iter().flatten() {
                let readers = &mut self.readers[control.index()];
                if readers.last() != Some(&id) {
                    readers.push(id);
                }
            }
        }
    }

    fn push(&mut self, op: Op) -> OpId {
        self.ops.push(op);
        OpId::new(self.ops.len() - 1)
    }

    fn chain(&mut self, chain: &Chain) -> OpId {
        let is_plane = match &chain.head {
            Head::Control { reads, kind, .. } => {
                self.control(*reads);
                kind.yields() == Some(crate::base::Kind::Plane)
            }
            Head::Pair(pair) => {
                self.pair(pair);
                false
            }
            Head::Four(four) => {
                self.four(four);
                true
            }
            Head::Group(inner) => {
                self.chain(inner);
                inner.kind == crate::base::Kind::Plane
            }
        };
        self.steps(&chain.steps, is_plane);
        OpId::new(self.ops.len() - 1)
    }

    fn control(&mut self, reads: Reads) {
        match reads {
            Reads::Whole(control) => {
                self.push(Op::Whole(control));
            }
            Reads::Component(control, component) => {
                self.push(Op::Part(control, component));
            }
            Reads::Half(control, component, positive) => {
                self.push(Op::Half(control, component, positive));
            }
            Reads::Either(a, b) => {
                self.push(Op::Either(a, b));
            }
            Reads::Four(controls) => {
                let [up, left, down, right] = controls.map(|c| self.push(Op::Whole(c)));
                let opposed = plan::Opposed::Cancel;
                let x = self.push(Op::Pair { neg: left, pos: right, opposed });
                let y = self.push(Op::Pair { neg: down, pos: up, opposed });
                self.push(Op::Join { x, y });
                self.push(Op::Cap { limit: 1.0 });
            }
        }
    }

    fn pair(&mut self, pair: &Pair) -> OpId {
        let (neg, pos) = (self.chain(&pair.neg), self.chain(&pair.pos));
        let opposed = self.opposed(pair);
        self.push(Op::Pair { neg, pos, opposed })
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

    fn four(&mut self, four: &Four) {
        let (x, y) = (self.pair(&four.x), self.pair(&four.y));
        self.push(Op::Join { x, y });
        if four.corner == Corner::Round {
            self.push(Op::Cap { limit: 1.0 });
        }
    }

    fn steps(&mut self, steps: &[Step], mut is_plane: bool) {
        for &step in steps {
            self.step(step, is_plane);
            match step {
                Step::Pick(_) => is_plane = false,
                Step::Onto { kind, .. } => is_plane = kind == crate::base::Kind::Plane,
                _ => {}
            }
        }
    }

    fn step(&mut self, step: Step, is_plane: bool) {
        let sign = |turned: bool| if turned { -1.0 } else { 1.0 };
        self.push(match step {
            Step::Flip { x, y } => Op::Scale { x: sign(x), y: sign(y) },
            Step::Scale { x, y } => Op::Scale { x, y },
            Step::Deadzone { low, full, by: By::Axes } if is_plane => {
                Op::DeadzoneAxes { low, full }
            }
            Step::Deadzone { low, full, .. } => Op::Deadzone { low, full },
            Step::Curve { power } => Op::Curve { power },
            Step::Cap { limit } => Op::Cap { limit },
            Step::Onto { component, .. } => Op::Onto(component),
            Step::Pick(Pick::Component(component)) => Op::Pick(component),
            Step::Pick(Pick::Length) => Op::Length,
        });
    }
}
