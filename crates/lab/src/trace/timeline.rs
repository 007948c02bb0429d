//! What goes on around the actions of a run: what devices report, which maps are open, pauses.

use crate::take::{Input, What};
use harmonym_runtime::base::limits::PRESSED;
use harmonym_runtime::base::{
    ControlId, ControlKind, Device, Id, MapId, SchemeId, Seat, Time, Vector,
};
use harmonym_runtime::engine::{Frame, Notice};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use std::collections::BTreeMap;

/// What one control of one device reported.
#[derive(Clone, Debug)]
pub struct ControlLane {
    /// The control.
    pub control: ControlId,
    /// The device, from 0.
    pub device: u8,
    /// When it reported what, in order. Of what is relative, what it moved by.
    pub values: Vec<(Time, Vector)>,
}

impl ControlLane {
    /// Whether it was ever away from 0.
    pub fn moves(&self) -> bool {
        self.values.iter().any(|(_, value)| *value != Vector::ZERO)
    }

    /// The control's name, with the number of its device after the first.
    pub fn name(&self, plan: &Plan) -> String {
        let name = &plan.names().controls[self.control];
        match self.device {
            0 => name.to_string(),
            device => format!("{name} {}", device + 1),
        }
    }

    /// When it was held at half of its way or more; what still is, until `end`.
    pub fn held(&self, end: Time) -> Vec<(Time, Time)> {
        let mut spans = Vec::new();
        let mut since = None;
        for &(t, value) in &self.values {
            match (value.magnitude() >= PRESSED, since) {
                (true, None) => since = Some(t),
                (false, Some(from)) => {
                    spans.push((from, t));
                    since = None;
                }
                _ => {}
            }
        }
        spans.extend(since.map(|from| (from, end)));
        spans
    }
}

/// What happens to a device.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Change {
    /// It is plugged in.
    Comes,
    /// It is unplugged.
    Goes,
    /// It is somebody's from now on, or nobody's.
    Given,
}

/// From when to when.
pub type Span = (Time, Time);

/// From when to when a device was there, and whose it was.
pub type Stay = (Time, Time, Option<Seat>);

/// What goes on around the actions of a run.
#[derive(Clone, Debug, Default)]
pub struct Timeline {
    /// The controls that reported, in the order of their first reports.
    pub controls: Vec<ControlLane>,
    /// For each map that was open, at which seat, from when to when; seat by seat, in file order.
    pub maps: Vec<(Seat, MapId, Vec<Span>)>,
    /// From when to when the game was paused.
    pub pauses: Vec<(Time, Time)>,
    /// When the hands of which seat went over to which scheme.
    pub schemes: Vec<(Time, Seat, SchemeId)>,
    /// When which device came, went or changed hands, and to whom.
    pub devices: Vec<(Time, Device, Option<Seat>, Change)>,
    places: BTreeMap<(usize, u8), usize>,
    told: Vec<(Time, Seat, MapId, bool)>,
    paused: Option<Time>,
    /// The maps that were open at the first tick, by seat.
    at_first: Vec<Vec<MapId>>,
}

impl Timeline {
    /// Takes in what devices report.
    pub fn input(&mut self, input: &Input) {
        let What::Report(contact, value) = input.what else { return };
        let key = (contact.control.index(), contact.device);
        let controls = &mut self.controls;
        let place = *self.places.entry(key).or_insert_with(|| {
            let (control, device) = (contact.control, contact.device);
            controls.push(ControlLane { control, device, values: Vec::new() });
            controls.len() - 1
        });
        controls[place].values.push((input.t, value));
    }

    /// Takes in what is told.
    pub fn notice(&mut self, told: &Told) {
        let seat = told.seat.unwrap_or(Seat::FIRST);
        match told.notice {
            Notice::Map { t, map, open, .. } => self.told.push((t, seat, map, open)),
            Notice::Pause { t, paused: true, .. } => self.paused = Some(t),
            Notice::Pause { t, paused: false, .. } => {
                self.pauses.extend(self.paused.take().map(|from| (from, t)));
            }
            // A run has one plan from beginning to end.
            Notice::Plan { .. } => {}
            Notice::Scheme { t, scheme, .. } => self.schemes.push((t, seat, scheme)),
            Notice::Device { t, device, plugged, .. } => {
                let change = if plugged { Change::Comes } else { Change::Goes };
                self.devices.push((t, device, told.seat, change));
            }
            Notice::Seat { t, device, .. } => {
                self.devices.push((t, device, told.seat, Change::Given));
            }
            Notice::Event(_) => {}
        }
    }

    /// Takes in a tick of a seat: which maps are open from the start shows at the first.
    pub fn tick(&mut self, seat: Seat, frame: Frame<'_>) {
        if self.at_first.len() == seat.index() {
            self.at_first.push(frame.open_maps().to_vec());
        }
    }

    /// Drops what was over before `t`, but for what each control reported last before it.
    pub(super) fn forget(&mut self, t: Time) {
        for control in &mut self.controls {
            let first = control.values.partition_point(|(at, _)| *at < t);
            control.values.drain(..first.saturating_sub(1));
        }
        self.pauses.drain(..self.pauses.partition_point(|(_, to)| *to < t));
        self.schemes.drain(..self.schemes.partition_point(|(at, ..)| *at < t));
        self.devices.drain(..self.devices.partition_point(|(at, ..)| *at < t));
        // What was open then is what there was at first, as far as is known from there on.
        for (_, seat, map, open) in self.told.drain(..self.told.partition_point(|(at, ..)| *at < t))
        {
            if let Some(own) = self.at_first.get_mut(seat.index()) {
                own.retain(|one| *one != map);
                own.extend(open.then_some(map));
            }
        }
    }

    /// Since when the game is paused, if it is.
    pub fn paused_since(&self) -> Option<Time> {
        self.paused
    }

    /// The run ended at `t`.
    pub fn finish(&mut self, plan: &Plan, t: Time) {
        self.pauses.extend(self.paused.take().map(|from| (from, t)));
        let at_first = std::mem::take(&mut self.at_first);
        let all = Seat::first(at_first.len() as u8).zip(&at_first);
        for ((seat, at_first), map) in
            all.flat_map(|one| plan.maps().ids().map(move |map| (one, map)))
        {
            let own = |of: &&(Time, Seat, MapId, bool)| (of.1, of.2) == (seat, map);
            let mut told = self.told.iter().filter(own).peekable();
            // What closes first was open before; what nobody mentions stays as it is.
            let from_start = match told.peek() {
                Some((.., open)) => !open,
                None => at_first.contains(&map),
            };
            let mut since = from_start.then_some(Time::ZERO);
            let mut spans = Vec::new();
            for &(at, _, _, open) in told {
                match (open, since) {
                    (true, None) => since = Some(at),
                    (false, Some(from)) => {
                        spans.push((from, at));
                        since = None;
                    }
                    _ => {}
                }
            }
            spans.extend(since.map(|from| (from, t)));
            if !spans.is_empty() {
                self.maps.push((seat, map, spans));
            }
        }
    }

    /// For each device that came, went or changed hands: from when to when it was there, and whose it was. The
    /// run ends at `end`.
    pub fn devices_there(&self, end: Time) -> Vec<(Device, Vec<Stay>)> {
        let mut all: Vec<Device> = self.devices.iter().map(|(_, device, ..)| *device).collect();
        all.sort();
        all.dedup();
        let stays = |device: Device| {
            let own: Vec<_> = self.devices.iter().filter(|(_, of, ..)| *of == device).collect();
            // It may be somebody's before it is there: a keyboard goes along with its mouse.
            let mut moves = own.iter().filter(|(.., change)| *change != Change::Given);
            let comes_first = moves.next().is_some_and(|(.., change)| *change == Change::Comes);
            let owner = own.first().and_then(|(.., seat, change)| match change {
                Change::Given => None,
                Change::Comes | Change::Goes => *seat,
            });
            let (mut since, mut whose) = ((!comes_first).then_some(Time::ZERO), owner);
            let mut stays = Vec::new();
            for &&(t, _, seat, change) in &own {
                if let Some(from) = since {
                    stays.push((from, t, whose));
                }
                whose = seat;
                since = match change {
                    Change::Goes => None,
                    Change::Comes => Some(t),
                    Change::Given => since.map(|_| t),
                };
            }
            stays.extend(since.map(|from| (from, end, whose)));
            stays
        };
        all.into_iter().map(|device| (device, stays(device))).collect()
    }

    /// Whether what a control reports is only on or off.
    pub fn is_button(plan: &Plan, control: ControlId) -> bool {
        plan.controls()[control].kind == ControlKind::Button
    }
}
