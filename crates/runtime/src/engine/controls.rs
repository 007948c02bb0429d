//! What devices report, and what each action reads of it: the whole control of the device that is
//! furthest, less what is claimed, hidden or muted.

use crate::base::limits::{HELD, LET_GO, PRESSED, TIE};
use crate::base::{
    ALL_HALVES, ActionId, Class, Contact, ControlId, ControlKind, ControlUseId, Id, IdSet,
    MOST_DEVICES, PhysicalInputId, Table, Vector,
};
use crate::plan::{ControlUse, Gather, PhysicalInput, Tables};

/// Half-axes of one control, by device.
pub(super) type Halves = [u8; MOST_DEVICES];

/// What devices report, and what uses see of it.
#[derive(Clone, Debug)]
pub(super) struct Controls {
    /// By control, then by device; of a wheel, what is left of a notch.
    raw: Box<[Vector]>,
    /// When each was reported last, counted in reports; 0 is never.
    stamps: Box<[u64]>,
    stamp: u64,
    /// How many devices of each class there are, at least 1.
    devices: Box<[usize]>,
    /// What each use sees now.
    pub visible: Table<ControlUseId, Vector>,
    /// The same when their actions were worked out last; kept where [`Self::remember`] says.
    seen: Table<ControlUseId, Vector>,
    pub inputs: Table<PhysicalInputId, InputState>,
    /// For each control, the inputs of what lives that listen to it: so many, from there on.
    active: Box<[PhysicalInputId]>,
    stretches: Table<ControlId, (u32, u32)>,
    /// What is claimed so far, while claims are worked out.
    pub claimed: Table<ControlId, Halves>,
    pub touched: IdSet<ControlId>,
}

/// What stands between a control and an action.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct InputState {
    /// The devices, as bits, whose control was held when it might have begun to count.
    pub muted: u8,
    /// The half-axes that higher maps claim.
    pub claimed: Halves,
    /// The half-axes that a `+` hides.
    pub hidden: Halves,
    /// What it moved by since the last tick.
    pub moved: Vector,
    /// What it had moved by at the last tick.
    pub held: Vector,
}

impl InputState {
    /// Whether nothing stands between the first device and the action.
    pub fn is_clear(&self) -> bool {
        self.muted == 0 && self.covered(0) == 0
    }

    /// Whether nothing stands between any device and the action.
    pub fn is_open(&self) -> bool {
        let nothing = [0; MOST_DEVICES];
        self.muted == 0 && self.claimed == nothing && self.hidden == nothing
    }

    /// The half-axes that read 0 on a device.
    pub fn covered(&self, device: usize) -> u8 {
        let of = |halves: &Halves| halves.get(device).copied().unwrap_or_default();
        of(&self.claimed) | of(&self.hidden)
    }
}

impl Controls {
    pub fn new(plan: &Tables) -> Self {
        let slots = plan.controls.len() * MOST_DEVICES;
        let mut start = 0;
        let stretches = plan.inputs_of.iter().map(|inputs| {
            let own = start;
            start += inputs.len() as u32;
            (own, 0)
        });
        let stretches: Vec<(u32, u32)> = stretches.collect();
        Self {
            raw: vec![Vector::ZERO; slots].into(),
            stamps: vec![0; slots].into(),
            stamp: 0,
            devices: vec![1; plan.schemes_of_class.len()].into(),
            visible: Table::filled(Vector::ZERO, plan.uses.len()),
            seen: Table::filled(Vector::ZERO, plan.uses.len()),
            inputs: Table::filled(InputState::default(), plan.inputs.len()),
            active: vec![PhysicalInputId::new(0); plan.inputs.len()].into(),
            stretches: stretches.into(),
            claimed: Table::filled([0; MOST_DEVICES], plan.controls.len()),
            touched: IdSet::new(plan.controls.len()),
        }
    }

    pub fn reset(&mut self) {
        self.raw.fill(Vector::ZERO);
        self.stamps.fill(0);
        self.stamp = 0;
        self.devices.fill(1);
        self.visible.fill(Vector::ZERO);
        self.seen.fill(Vector::ZERO);
        self.inputs.fill(InputState::default());
        self.forget_active();
    }

    /// What devices report is what it was under another plan of the same controls.
    pub fn take_reports_over(&mut self, before: &Self) {
        self.raw.clone_from(&before.raw);
        self.stamps.clone_from(&before.stamps);
        self.devices.clone_from(&before.devices);
        self.stamp = before.stamp;
    }

    /// What an action sees is what it saw as `old`.
    pub fn take_action_over(
        &mut self,
        (plan, own): (&Tables, ActionId),
        before: &Self,
        (old_plan, old): (&Tables, ActionId),
    ) {
        let (to, from) = (plan.actions[own].uses, old_plan.actions[old].uses);
        self.visible.take_over(to, &before.visible, from);
        self.seen.take_over(to, &before.seen, from);
        for (to, from) in to.iter().zip(from.iter()) {
            let (to, from) = (plan.uses[to].inputs, old_plan.uses[from].inputs);
            self.inputs.take_over(to, &before.inputs, from);
        }
    }

    /// No input listens.
    pub fn forget_active(&mut self) {
        for control in self.stretches.ids() {
            self.stretches[control].1 = 0;
        }
    }

    /// One more input listens to its control; they come in order.
    pub fn listen(&mut self, control: ControlId, input: PhysicalInputId) {
        let (start, count) = &mut self.stretches[control];
        if let Some(slot) = self.active.get_mut((*start + *count) as usize) {
            *slot = input;
            *count += 1;
        }
    }

    /// The nth input of what lives that listens to a control.
    pub fn listener(&self, control: ControlId, nth: u32) -> Option<PhysicalInputId> {
        let (start, count) = *self.stretches.get(control)?;
        self.active.get((start + nth) as usize).copied().filter(|_| nth < count)
    }

    #[inline]
    fn slot(control: ControlId, device: usize) -> usize {
        control.index() * MOST_DEVICES + device
    }

    #[inline]
    pub fn raw(&self, control: ControlId, device: usize) -> Vector {
        self.raw.get(Self::slot(control, device)).copied().unwrap_or_default()
    }

    /// Puts a report down.
    pub fn put(&mut self, contact: Contact, value: Vector) {
        let slot = Self::slot(contact.control, contact.device as usize);
        self.stamp += 1;
        if let (Some(raw), Some(stamp)) = (self.raw.get_mut(slot), self.stamps.get_mut(slot)) {
            (*raw, *stamp) = (value, self.stamp);
        }
    }

    /// As if a control had never reported.
    pub fn forget(&mut self, contact: Contact) {
        let slot = Self::slot(contact.control, contact.device as usize);
        if let (Some(raw), Some(stamp)) = (self.raw.get_mut(slot), self.stamps.get_mut(slot)) {
            (*raw, *stamp) = (Vector::ZERO, 0);
        }
    }

    /// Puts a report of a first device down whose order among others does not matter. Of what is held
    /// only the first two components are anything but 0.
    #[inline(always)]
    pub fn put_first(&mut self, control: ControlId, x: f64, y: f64) {
        if let Some(raw) = self.raw.get_mut(Self::slot(control, 0)) {
            (raw.x, raw.y) = (x, y);
        }
    }

    /// Puts down whether a first device's button is on; tells whether that is news.
    #[inline]
    pub fn press(&mut self, control: ControlId, is_on: bool) -> bool {
        let Some(raw) = self.raw.get_mut(Self::slot(control, 0)) else { return false };
        let before = std::mem::replace(&mut raw.x, f64::from(u8::from(is_on)));
        before != raw.x
    }

    /// Knows of a device that reports; tells whether there are more of its class by that.
    pub fn see(&mut self, plan: &Tables, contact: Contact) -> bool {
        let class = plan.controls[contact.control].class.index();
        let Some(devices) = self.devices.get_mut(class) else { return false };
        let before = *devices;
        *devices = before.max(contact.device as usize + 1);
        *devices > before
    }

    /// Whether a device is one of those of its class that there are.
    #[inline]
    pub fn knows(&self, class: Class, device: u8) -> bool {
        self.devices.get(class.index()).is_some_and(|&count| usize::from(device) < count)
    }

    /// Whether one device is all there is of a control's class.
    pub fn is_only_device(&self, plan: &Tables, control: ControlId) -> bool {
        self.devices(plan, control) == 1
    }

    fn devices(&self, plan: &Tables, control: ControlId) -> usize {
        let class = plan.controls[control].class.index();
        self.devices.get(class).copied().unwrap_or(1)
    }

    /// The devices that an input listens to.
    pub fn devices_of(&self, plan: &Tables, input: &PhysicalInput) -> std::ops::Range<usize> {
        match input.device {
            Some(device) => device as usize..device as usize + 1,
            None => 0..self.devices(plan, input.control),
        }
    }

    /// What a use sees.
    pub fn gathered(&self, plan: &Tables, id: ControlUseId) -> Vector {
        let used = &plan.uses[id];
        // Nearly always one device is all there is.
        if let (Gather::Greatest, 1, Some(input_id)) =
            (used.gather, used.inputs.len(), used.inputs.first())
        {
            let (input, state) = (&plan.inputs[input_id], &self.inputs[input_id]);
            if input.device.is_none() && self.devices(plan, input.control) == 1 {
                return match state.muted & 1 {
                    0 => only(seen(self.raw(input.control, 0), input, state.covered(0)), input),
                    _ => Vector::ZERO,
                };
            }
        }
        match used.gather {
            Gather::Greatest => self.greatest(plan, used),
            Gather::Sum => used.inputs.iter().fold(Vector::ZERO, |sum, id| {
                let (input, state) = (&plan.inputs[id], &self.inputs[id]);
                sum.plus(seen(state.held, input, state.covered(0)))
            }),
            Gather::Latest => self.latest(plan, used),
        }
    }

    /// Of all controls and devices the one that is furthest; a tie goes to the earlier.
    fn greatest(&self, plan: &Tables, used: &ControlUse) -> Vector {
        // The first of them counts, however little it gives: as it does where it is the only one.
        let (mut best, mut greatest) = (Vector::ZERO, f64::NEG_INFINITY);
        for (id, input) in plan.inputs.run(used.inputs) {
            let state = &self.inputs[id];
            let is_open = state.is_open();
            let devices = self.devices_of(plan, input);
            let first = Self::slot(input.control, devices.start);
            let reported = self.raw.get(first..first + devices.len()).unwrap_or_default();
            for (device, &raw) in devices.zip(reported) {
                let value = match is_open {
                    true => raw,
                    false if state.muted & (1 << device) != 0 => continue,
                    false => seen(raw, input, state.covered(device)),
                };
                let magnitude = value.magnitude();
                if magnitude > greatest + TIE {
                    (best, greatest) = (only(value, input), magnitude);
                }
            }
        }
        best
    }

    /// What was reported last.
    fn latest(&self, plan: &Tables, used: &ControlUse) -> Vector {
        let (mut best, mut latest) = (Vector::ZERO, 0);
        for (id, input) in plan.inputs.run(used.inputs) {
            let state = &self.inputs[id];
            let is_muted = |device: &usize| state.muted & (1 << device) != 0;
            for device in self.devices_of(plan, input).filter(|device| !is_muted(device)) {
                let slot = Self::slot(input.control, device);
                let stamp = self.stamps.get(slot).copied().unwrap_or_default();
                if stamp > latest {
                    latest = stamp;
                    best = seen(self.raw(input.control, device), input, state.covered(device));
                }
            }
        }
        best
    }

    /// Adds a wheel's movement to what is left of a notch; gives the whole notches on x and y.
    pub fn notches(&mut self, contact: Contact, by: Vector) -> [i32; 2] {
        let left = self.raw(contact.control, contact.device as usize).plus(by);
        let whole = |v: f64| (v + TIE.copysign(v)).trunc();
        let (x, y) = (whole(left.x), whole(left.y));
        let slot = Self::slot(contact.control, contact.device as usize);
        if let Some(raw) = self.raw.get_mut(slot) {
            *raw = Vector::new(left.x - x, left.y - y);
        }
        [x as i32, y as i32]
    }

    /// Whether some use of an action sees something else than when it was worked out last.
    pub fn has_news(&self, plan: &Tables, action: ActionId) -> bool {
        plan.actions[action].uses.iter().any(|id| self.visible[id] != self.seen[id])
    }

    /// Remembers what an action's uses see, if what is news to it may ever matter: where something moves, or
    /// something is left to be told at the next tick.
    #[inline]
    pub fn remember(&mut self, plan: &Tables, action: ActionId) {
        let spec = &plan.actions[action];
        if !spec.motions.is_empty() || spec.has_change {
            for id in spec.uses.iter() {
                self.seen[id] = self.visible[id];
            }
        }
    }

    /// Whether some control of a use is muted.
    pub fn is_muted(&self, plan: &Tables, id: ControlUseId) -> bool {
        plan.uses[id].inputs.iter().any(|input| self.inputs[input].muted != 0)
    }

    /// Whether every control of a use is let go, as its devices report it. What is always somewhere,
    /// or only moves by something, is never held.
    pub fn is_let_go(&self, plan: &Tables, id: ControlUseId) -> bool {
        plan.uses[id].inputs.iter().map(|input| &plan.inputs[input]).all(|input| {
            let is_let_go = |device| self.raw(input.control, device).magnitude() < LET_GO;
            !plan.controls[input.control].kind.is_held()
                || self.devices_of(plan, input).all(is_let_go)
        })
    }

    /// The devices, as bits, on which an input's control is held.
    pub fn held(&self, plan: &Tables, input: &PhysicalInput) -> u8 {
        if !plan.controls[input.control].kind.is_held() {
            return 0;
        }
        let held = |device: &usize| self.raw(input.control, *device).magnitude() >= HELD;
        self.devices_of(plan, input).filter(held).fold(0, |bits, device| bits | 1 << device)
    }
}

/// A value less the half-axes that are covered.
#[inline]
pub(super) fn seen(value: Vector, input: &PhysicalInput, covered: u8) -> Vector {
    if covered == 0 {
        return value;
    }
    // A button lies on no half-axis itself; one that stands for a half of something else goes
    // with that half.
    if input.key != input.control {
        return if covered & input.halves == 0 { value } else { Vector::ZERO };
    }
    without(value, covered)
}

/// The half-axes of a value that an input reads.
#[inline]
pub(super) fn only(value: Vector, input: &PhysicalInput) -> Vector {
    if input.key == input.control { without(value, ALL_HALVES & !input.halves) } else { value }
}

#[inline]
fn without(value: Vector, halves: u8) -> Vector {
    if halves == 0 {
        return value;
    }
    let kept = |v: f64, shift: u8| {
        let bit = if v > 0.0 { 1 } else { 2 } << shift;
        if halves & bit == 0 { v } else { 0.0 }
    };
    Vector::space(kept(value.x, 0), kept(value.y, 2), kept(value.z, 4))
}

/// The same bits for one device, or for all of them.
pub(super) fn on_devices(device: Option<u8>, halves: u8) -> Halves {
    match device {
        None => [halves; MOST_DEVICES],
        Some(one) => std::array::from_fn(|device| if device == one as usize { halves } else { 0 }),
    }
}

pub(super) fn both(a: Halves, b: Halves) -> Halves {
    std::array::from_fn(|device| {
        a.get(device).copied().unwrap_or_default() | b.get(device).copied().unwrap_or_default()
    })
}

/// The devices, as bits, on which some of the half-axes `own` are in `old` and no longer in `new`.
pub(super) fn freed(old: Halves, new: Halves, own: u8) -> u8 {
    let pairs = old.iter().zip(new).enumerate();
    pairs
        .filter(|(_, (old, new))| *old & !new & own != 0)
        .fold(0, |bits, (device, _)| bits | 1 << device)
}

/// A report as its control can give it: in range, a button on or off, a turn of length 1. It is finite.
#[inline]
pub(crate) fn held_to_range(value: Vector, kind: ControlKind) -> Vector {
    // Adding 0 makes 0 of −0.
    let share = |v: f64| v.clamp(0.0, 1.0) + 0.0;
    let signed = |v: f64| v.clamp(-1.0, 1.0) + 0.0;
    match kind {
        ControlKind::Button => Vector::from(value.x >= PRESSED),
        ControlKind::Lever => Vector::axis(share(value.x)),
        ControlKind::Axis => Vector::axis(signed(value.x)),
        ControlKind::Stick => Vector::new(signed(value.x), signed(value.y)),
        ControlKind::Spot => Vector::new(share(value.x), share(value.y)),
        ControlKind::Relative | ControlKind::Place | ControlKind::Turn => far(value, kind),
    }
}

#[inline(never)]
fn far(value: Vector, kind: ControlKind) -> Vector {
    let (least, most) = kind.range();
    let [x, y, z, w] = value.components().map(|v| v.clamp(least, most) + 0.0);
    match kind {
        ControlKind::Turn => crate::base::turn::unit(Vector { x, y, z, w }),
        ControlKind::Place => Vector::space(x, y, z),
        _ => Vector::new(x, y),
    }
}
