//! Several seats against a model of whose device is whose: what each seat gets is played by one seat
//! alone, and everything told has to be the same.

use crate::gate::gate;
use crate::harness::load;
use crate::random::{self, Ticks};
use harmonym_lab::take::{Input, Playing, Reader, Run, Watcher, What};
use harmonym_runtime::base::{
    Class, Contact, ControlId, ControlKind, Device, Id, Kind, Rate, Seat, Time, Vector,
};
use harmonym_runtime::engine::{Event, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use proptest::prelude::*;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

#[derive(Default)]
struct Log(Vec<Told>, Vec<(Seat, u64, usize, Vector)>);

impl Watcher for Log {
    fn notice(&mut self, told: Told) {
        self.0.push(told);
    }

    fn tick(&mut self, seat: Seat, frame: harmonym_runtime::Frame<'_>, _t: Time) {
        let changed = frame.changed().map(|id| (seat, frame.ticks(), id.index(), frame.value(id)));
        self.1.extend(changed);
    }
}

fn play(plan: &Arc<Plan>, inputs: &[Input], seats: u8, until: Time) -> Log {
    let mut log = Log::default();
    let playing = Playing { seats: Some(seats), ..Playing::at(Rate::DEFAULT) };
    let mut run = Run::new(Arc::clone(plan), playing, Some(until), &mut log);
    for input in inputs {
        assert!(run.input(*input, &mut log).is_continue());
    }
    run.finish(&mut log);
    log
}

/// What is told of a seat's own engine.
fn own(log: &Log, seat: Seat) -> Vec<Notice> {
    let own = log.0.iter().filter(|told| told.seat == Some(seat)).map(|told| told.notice);
    own.filter(|one| !matches!(one, Notice::Device { .. } | Notice::Seat { .. })).collect()
}

/// The lines of a take, with devices and seats put in by chance.
fn several(take: &str, seats: u8, seed: u64) -> String {
    let mut state = seed | 1;
    let mut draw = |under: u64| {
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        state % under
    };
    let classes = ["key", "mouse", "pad", "pad", "slate"];
    // What is there, where that was said or shown.
    let mut there: BTreeMap<String, bool> = BTreeMap::new();
    let mut text = String::new();
    for line in take.lines() {
        let (time, what) = line.split_once(",\"").expect("a time");
        let mut end = what.strip_suffix('}').expect("an end").to_owned();
        let device = format!("{}#{}", classes[draw(5) as usize], draw(3) + 1);
        if let Some(rest) = what.strip_prefix("control\":\"") {
            let (name, rest) = rest.split_once('.').expect("a control");
            let name = format!("{}#{}", name.split('#').next().unwrap(), draw(3) + 1);
            end = format!("control\":\"{name}.{}", rest.strip_suffix('}').unwrap());
            there.entry(name).or_insert(true);
        } else if what.starts_with("plug") || what.starts_with("unplug") || draw(4) == 0 {
            end = match (draw(3), there.get(&device)) {
                (0, _) => format!("give\":\"{device}\",\"seat\":{}", draw(seats.into()) + 1),
                (_, Some(false)) => format!("plug\":\"{device}\""),
                _ => format!("unplug\":\"{device}\""),
            };
            if end.starts_with("plug") {
                there.insert(device, true);
            } else if end.starts_with("unplug") {
                there.insert(device, false);
            }
        } else if !what.starts_with("pause") && draw(2) == 0 {
            end = format!("{end},\"seat\":{}", draw(seats.into()) + 1);
        }
        text.push_str(&format!("{time},\"{end}}}\n"));
    }
    text
}

/// Whose device is whose, by the words of the design, and what each seat's engine gets of it.
struct Model<'p> {
    plan: &'p Plan,
    seats: usize,
    owner: BTreeMap<Device, usize>,
    slot: BTreeMap<Device, u8>,
    there: BTreeMap<Device, bool>,
    raw: BTreeMap<(ControlId, u8), Vector>,
    held_back: BTreeSet<(ControlId, u8)>,
    narrowed: Vec<Option<usize>>,
    inputs: Vec<Vec<Input>>,
}

impl<'p> Model<'p> {
    fn new(plan: &'p Plan, seats: usize) -> Self {
        let mut model = Self {
            plan,
            seats,
            owner: BTreeMap::new(),
            slot: BTreeMap::new(),
            there: BTreeMap::new(),
            raw: BTreeMap::new(),
            held_back: BTreeSet::new(),
            narrowed: vec![None; seats],
            inputs: vec![Vec::new(); seats],
        };
        // A seat alone has all devices: here it has none at first.
        for class in plan.catalogue().classes() {
            for number in 0..8 {
                (0..seats).for_each(|seat| {
                    model.give(seat, Time::ZERO, What::Plug(Device { class, number }, false));
                });
            }
        }
        model
    }

    fn give(&mut self, seat: usize, t: Time, what: What) {
        self.inputs[seat].push(Input { t, what });
    }

    fn kind(&self, control: ControlId) -> ControlKind {
        self.plan.controls()[control].kind
    }

    fn controls(&self, class: Class) -> Vec<ControlId> {
        let of = |id: &ControlId| self.plan.controls()[*id].class == class;
        // Notches are no controls of their own.
        let is_notch = |id: &ControlId| self.plan.notches().iter().any(|n| n.button == *id);
        self.plan.controls().ids().filter(|id| of(id) && !is_notch(id)).collect()
    }

    fn is_gone(&self, device: Device) -> bool {
        self.there.get(&device) == Some(&false)
    }

    fn input(&mut self, input: Input) {
        let t = input.t;
        let seats = |one: Option<Seat>| one.map_or(0..self.seats, |s| s.index()..s.index() + 1);
        match input.what {
            What::Report(contact, value) => self.report(t, contact, value),
            What::Number(seat, id, value) => {
                seats(seat).for_each(|k| self.give(k, t, What::Number(None, id, value)));
            }
            What::Map(seat, map, open) => {
                seats(seat).for_each(|k| self.give(k, t, What::Map(None, map, open)));
            }
            What::Narrow(seat, scheme) => {
                for k in seats(seat) {
                    self.narrowed[k] = scheme.map(Id::index);
                    self.give(k, t, What::Narrow(None, scheme));
                }
            }
            What::Pause(_) => (0..self.seats).for_each(|k| self.give(k, t, input.what)),
            What::Plug(device, false) => {
                if let Some(&seat) = self.owner.get(&device).filter(|_| !self.is_gone(device)) {
                    self.give(seat, t, What::Plug(self.own(device), false));
                }
                self.there.insert(device, false);
                self.release(device);
            }
            What::Plug(device, true) => {
                let was_gone = self.is_gone(device);
                self.there.insert(device, true);
                if was_gone {
                    self.hold_back(device);
                    self.arrive(t, device);
                }
            }
            What::Give(device, seat) => {
                if !self.is_gone(device) {
                    self.there.insert(device, true);
                }
                self.hand_over(t, device, seat.index(), true);
            }
        }
    }

    fn own(&self, device: Device) -> Device {
        Device { number: self.slot[&device], ..device }
    }

    /// Nothing of a device waits to be let go.
    fn release(&mut self, device: Device) {
        let own = self.controls(device.class);
        self.held_back.retain(|(control, n)| *n != device.number || !own.contains(control));
    }

    fn hold_back(&mut self, device: Device) {
        for control in self.controls(device.class) {
            let at = (control, device.number);
            let is_held = self.raw.get(&at).is_some_and(|v| v.magnitude() >= 0.2);
            if is_held && self.kind(control).is_held() {
                self.held_back.insert(at);
            }
        }
    }

    /// A device is at its seat from now on: first all that does not count yet, then the rest.
    fn arrive(&mut self, t: Time, device: Device) {
        let Some(&seat) = self.owner.get(&device) else { return };
        let own = self.own(device);
        let at = |control| Contact { control, device: own.number };
        let mut controls = self.controls(device.class);
        controls.retain(|control| self.kind(*control) != ControlKind::Relative);
        for &control in &controls {
            let key = (control, device.number);
            let back = self.held_back.contains(&key);
            let raw = self.raw.get(&key).copied().unwrap_or_default();
            let value = if back { raw } else { Vector::ZERO };
            self.inputs[seat].push(Input { t, what: What::Report(at(control), value) });
        }
        self.give(seat, t, What::Plug(own, true));
        for &control in &controls {
            let key = (control, device.number);
            let raw = self.raw.get(&key).copied().unwrap_or_default();
            if !self.held_back.contains(&key) && raw != Vector::ZERO {
                self.give(seat, t, What::Report(at(control), raw));
            }
        }
    }

    /// A keyboard takes its mouse along, and a mouse its keyboard.
    fn hand_over(&mut self, t: Time, device: Device, seat: usize, hold_back: bool) {
        let other = match device.class {
            Class::Key => Some(Device { class: Class::Mouse, ..device }),
            Class::Mouse => Some(Device { class: Class::Key, ..device }),
            _ => None,
        };
        for device in [Some(device), other].into_iter().flatten() {
            let before = self.owner.insert(device, seat);
            if before == Some(seat) {
                continue;
            }
            if let Some(before) = before.filter(|_| !self.is_gone(device)) {
                self.give(before, t, What::Plug(self.own(device), false));
            }
            let taken: Vec<u8> = self
                .owner
                .iter()
                .filter(|(one, of)| one.class == device.class && **of == seat && **one != device)
                .map(|(one, _)| self.slot[one])
                .collect();
            let free = (0..8).find(|slot| !taken.contains(slot)).expect("a number");
            self.slot.insert(device, free);
            if !self.is_gone(device) {
                if hold_back {
                    self.hold_back(device);
                }
                self.arrive(t, device);
            }
        }
    }

    fn report(&mut self, t: Time, contact: Contact, value: Vector) {
        let spec = self.plan.controls()[contact.control];
        let device = Device { class: spec.class, number: contact.device };
        let key = (contact.control, contact.device);
        let (least, most) = spec.kind.range();
        let is_relative = spec.kind == ControlKind::Relative;
        if self.is_gone(device) && is_relative {
            return;
        }
        let owner = self.owner.get(&device).copied();
        let before = self.raw.get(&key).copied().unwrap_or_default();
        let now = match is_relative {
            true if owner.is_some() => Vector::ZERO,
            true => before.plus(value),
            false => value.map(|v| v.clamp(least, most)),
        };
        self.raw.insert(key, now);
        if self.is_gone(device) {
            return;
        }
        self.there.insert(device, true);
        if now.magnitude() < 0.15 {
            self.held_back.remove(&key);
        }
        if let Some(seat) = owner {
            let own = Contact { device: self.slot[&device], ..contact };
            return self.give(seat, t, What::Report(own, value));
        }
        let is_press = match spec.kind {
            ControlKind::Spot | ControlKind::Place => false,
            ControlKind::Relative => {
                let is_wheel = self.plan.notches().iter().any(|n| n.wheel == contact.control);
                is_wheel && now.x.abs().max(now.y.abs()) >= 1.0 - 1e-9
            }
            ControlKind::Turn => {
                now.magnitude_of(Kind::Turn) >= 0.5 && before.magnitude_of(Kind::Turn) < 0.5
            }
            _ => now.magnitude() >= 0.5 && before.magnitude() < 0.5,
        };
        if !is_press || self.held_back.contains(&key) {
            return;
        }
        let Some(seat) = self.seat_for(spec.class) else { return };
        self.raw.insert(key, Vector::ZERO);
        self.hand_over(t, device, seat, false);
        let own = Contact { device: self.slot[&device], ..contact };
        self.give(seat, t, What::Report(own, now));
        self.raw.insert(key, if is_relative { Vector::ZERO } else { now });
    }

    /// The lowest seat without a device whose schemes can use the class, else the lowest such seat
    /// that has none of it.
    fn seat_for(&self, class: Class) -> Option<usize> {
        let plan = self.plan;
        let schemes = &plan.schemes_of_class()[class.index()];
        let by_all = plan.inputs().iter().any(|input| {
            let bindings = plan.uses()[input.of].bindings.of(plan.use_bindings());
            plan.controls()[input.control].class == class
                && (schemes.is_empty()
                    || bindings.iter().any(|id| plan.bindings()[*id].scheme.is_none()))
        });
        let can = |seat: &usize| match self.narrowed[*seat] {
            _ if by_all => true,
            None => !schemes.is_empty(),
            Some(scheme) => schemes.iter().any(|one| one.index() == scheme),
        };
        let has = |seat: usize, of: &dyn Fn(Class) -> bool| {
            self.owner.iter().any(|(device, owner)| {
                *owner == seat && of(device.class) && self.there.get(device) == Some(&true)
            })
        };
        let all: Vec<usize> = (0..self.seats).filter(can).collect();
        let empty = all.iter().find(|seat| !has(**seat, &|_| true));
        empty.or_else(|| all.iter().find(|seat| !has(**seat, &|of| of == class))).copied()
    }
}

fn compare(profile: &str, take: &str, seats: u8) -> Result<(), String> {
    let (_, plan) = load(profile);
    let header = format!("{{\"take\":1,\"seats\":{seats}}}");
    let (mut reader, _) = Reader::new("t", &header, &plan).expect("a header");
    let inputs: Vec<Input> =
        take.lines().filter_map(|line| reader.line(line).expect(line)).collect();
    let until = inputs.last().map_or(Time::ZERO, |one| one.t) + Time::from_millis(3000);
    let all = play(&plan, &inputs, seats, until);
    let mut model = Model::new(&plan, seats.into());
    inputs.iter().for_each(|input| model.input(*input));
    let moment = |told: &Told| match told.notice {
        Notice::Event(Event { t, tick, .. })
        | Notice::Scheme { t, tick, .. }
        | Notice::Map { t, tick, .. }
        | Notice::Pause { t, tick, .. }
        | Notice::Plan { t, tick }
        | Notice::Device { t, tick, .. }
        | Notice::Seat { t, tick, .. } => (t, tick),
    };
    if let Some(pair) = all.0.windows(2).find(|pair| moment(&pair[0]) > moment(&pair[1])) {
        return Err(format!("time goes back: {pair:?}"));
    }
    for (seat, inputs) in Seat::first(seats).zip(&model.inputs) {
        let alone = play(&plan, inputs, 1, until);
        let told = own(&all, seat);
        let wanted: Vec<Notice> = own(&alone, Seat::FIRST);
        for i in 0..told.len().max(wanted.len()) {
            if told.get(i) != wanted.get(i) {
                let (told, wanted) = (told.get(i), wanted.get(i));
                return Err(format!("seat {seat}: told\n{told:?}\nbut alone it is\n{wanted:?}"));
            }
        }
        let values = |log: &Log, seat: Seat| -> Vec<(u64, usize, Vector)> {
            let own = log.1.iter().filter(|(of, ..)| *of == seat);
            own.map(|&(_, tick, action, value)| (tick, action, value)).collect()
        };
        if values(&all, seat) != values(&alone, Seat::FIRST) {
            return Err(format!("seat {seat}: other values at ticks"));
        }
    }
    Ok(())
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn each_seat_does_what_its_own_devices_do_alone(
        profile in random::profile(Ticks::With),
        take in random::take(),
        seats in 2_u8..=8,
        seed in any::<u64>(),
    ) {
        let take = several(&take, seats, seed);
        let told = compare(&profile, &take, seats);
        prop_assert!(told.is_ok(), "{}\n{take}", told.unwrap_err());
    }
}
