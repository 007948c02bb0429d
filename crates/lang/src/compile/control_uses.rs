//! The uses that actions make of controls.

use harmonym_runtime::base::{
    ALL_HALVES, ActionId, BindingId, ControlId, ControlKind, ControlUseId, Id, IdRange, ListSlice,
    PhysicalInputId, PlusId, Table, half,
};
use harmonym_runtime::controls::{Catalogue, Reported};
use harmonym_runtime::plan::{ControlUse, Gather, PhysicalInput};

/// How a control is used.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Use {
    /// How many controls must be held for it to count.
    pub holders: u8,
    /// Whether it only holds.
    pub holds: bool,
}

/// A use as it is looked up: two that are the same share one read.
#[derive(Clone, Debug, PartialEq)]
struct Key {
    controls: [Option<ControlId>; 2],
    device: Option<u8>,
    halves: u8,
    used: Use,
}

/// The reads made so far.
pub(super) struct Reads<'a> {
    reported: &'a [Reported],
    /// The own controls that count as each standard one.
    stand_ins: Vec<(ControlId, ControlId)>,
    reads: Vec<ControlUse>,
    keys: Vec<Key>,
    inputs: Vec<PhysicalInput>,
    bindings: Vec<Vec<BindingId>>,
    pluses: Vec<Vec<PlusId>>,
    /// Where the reads of the action at hand begin.
    first: usize,
    action: ActionId,
    /// Every use of the binding at hand, in order.
    used: Vec<ControlUseId>,
}

/// All reads of a profile.
pub(super) struct Made {
    pub reads: Table<ControlUseId, ControlUse>,
    pub inputs: Table<PhysicalInputId, PhysicalInput>,
    pub use_bindings: Box<[BindingId]>,
    pub listed_pluses: Vec<PlusId>,
}

impl<'a> Reads<'a> {
    pub fn new(catalogue: &'a Catalogue) -> Self {
        let reported = catalogue.reported();
        let stands = reported.iter().enumerate();
        let stand_ins =
            stands.filter_map(|(own, r)| Some((r.stands_for?, ControlId::new(own)))).collect();
        Self {
            reported,
            stand_ins,
            reads: Vec::new(),
            keys: Vec::new(),
            inputs: Vec::new(),
            bindings: Vec::new(),
            pluses: Vec::new(),
            first: 0,
            action: ActionId::new(0),
            used: Vec::new(),
        }
    }

    pub fn begin_action(&mut self, action: ActionId) {
        (self.action, self.first) = (action, self.reads.len());
    }

    pub fn of_action(&self) -> IdRange<ControlUseId> {
        IdRange::new(self.first, self.reads.len())
    }

    /// How many uses the binding at hand has so far.
    pub fn mark(&self) -> usize {
        self.used.len()
    }

    /// The uses since a mark.
    pub fn since(&self, mark: usize) -> Vec<ControlUseId> {
        let mut reads = self.used[mark..].to_vec();
        reads.sort();
        reads.dedup();
        reads
    }

    /// Ends a binding: its uses are its own.
    pub fn end_binding(&mut self, binding: BindingId) {
        self.used.sort();
        self.used.dedup();
        for read in self.used.drain(..) {
            self.bindings[read.index()].push(binding);
        }
    }

    /// Enters a `+` with all of its reads.
    pub fn note_plus(&mut self, plus: PlusId, reads: &[ControlUseId]) {
        for read in reads {
            self.pluses[read.index()].push(plus);
        }
    }

    /// The read of one control or of either of two.
    pub fn read(
        &mut self,
        controls: [Option<ControlId>; 2],
        device: Option<u8>,
        halves: u8,
        used: Use,
    ) -> ControlUseId {
        let key = Key { controls, device, halves, used };
        let known = self.keys[self.first..].iter().position(|known| *known == key);
        let id = match known {
            Some(place) => ControlUseId::new(self.first + place),
            None => self.add(key),
        };
        self.used.push(id);
        id
    }

    fn add(&mut self, key: Key) -> ControlUseId {
        let id = ControlUseId::new(self.reads.len());
        let first = self.inputs.len();
        for control in key.controls.into_iter().flatten() {
            self.input(id, control, &key);
            if key.device.is_none() {
                let of = self.stand_ins.iter().filter(|(standard, _)| *standard == control);
                let stand_ins: Vec<ControlId> = of.map(|(_, own)| *own).collect();
                for own in stand_ins {
                    self.input(id, own, &key);
                }
            }
        }
        let kind = key.controls[0].map_or(ControlKind::Button, |c| self.reported[c.index()].kind);
        let gather = match kind {
            ControlKind::Relative => Gather::Sum,
            ControlKind::Spot | ControlKind::Place | ControlKind::Turn => Gather::Latest,
            _ => Gather::Greatest,
        };
        let Use { holders, holds } = key.used;
        self.reads.push(ControlUse {
            action: self.action,
            inputs: IdRange::new(first, self.inputs.len()),
            gather,
            holders,
            holds,
            bindings: ListSlice::default(),
            pluses: ListSlice::default(),
        });
        self.keys.push(key);
        self.bindings.push(Vec::new());
        self.pluses.push(Vec::new());
        id
    }

    fn input(&mut self, read: ControlUseId, control: ControlId, key: &Key) {
        // A notch is a half of its wheel.
        let (claimed, halves) = match self.reported[control.index()].notch {
            Some((wheel, component, positive)) => (wheel, half(component, positive)),
            None => (control, key.halves),
        };
        self.inputs.push(PhysicalInput {
            of: read,
            control,
            device: key.device,
            key: claimed,
            halves,
        });
    }

    /// Everything laid flat; `place` tells where each `+` has come to stand.
    pub fn finish(mut self, place: &[PlusId]) -> Made {
        let (mut use_bindings, mut listed_pluses) = (Vec::new(), Vec::new());
        for (index, read) in self.reads.iter_mut().enumerate() {
            read.bindings = ListSlice::push(&mut use_bindings, self.bindings[index].drain(..));
            let pluses = self.pluses[index].drain(..).map(|plus| place[plus.index()]);
            read.pluses = ListSlice::push(&mut listed_pluses, pluses);
        }
        Made {
            reads: self.reads.into(),
            inputs: self.inputs.into(),
            use_bindings: use_bindings.into(),
            listed_pluses,
        }
    }
}

/// The half-axes of a whole control.
pub(super) const WHOLE: u8 = ALL_HALVES;
