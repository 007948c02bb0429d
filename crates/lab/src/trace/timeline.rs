//! What goes on around the actions of a run: what devices report, which maps are open, pauses.

use crate::take::{Input, What};
use harmonym_runtime::base::limits::PRESSED;
use harmonym_runtime::base::{ControlId, ControlKind, Id, MapId, SchemeId, Time, Vector};
use harmonym_runtime::engine::{Frame, Notice};
use harmonym_runtime::plan::Plan;
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
            0 => name.clone(),
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

/// What goes on around the actions of a run.
#[derive(Clone, Debug, Default)]
pub struct Timeline {
    /// The controls that reported, in the order of their first reports.
    pub controls: Vec<ControlLane>,
    /// For each map that was open, from when to when, in file order.
    pub maps: Vec<(MapId, Vec<(Time, Time)>)>,
    /// From when to when the game was paused.
    pub pauses: Vec<(Time, Time)>,
    /// When the hands went over to which scheme.
    pub schemes: Vec<(Time, SchemeId)>,
    places: BTreeMap<(usize, u8), usize>,
    told: Vec<(Time, MapId, bool)>,
    paused: Option<Time>,
    /// The maps that were open at the first tick.
    at_first: Option<Vec<MapId>>,
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

    /// Takes in what the engine tells.
    pub fn notice(&mut self, notice: &Notice) {
        match *notice {
            Notice::Map { t, map, open, .. } => self.told.push((t, map, open)),
            Notice::Pause { t, paused: true, .. } => self.paused = Some(t),
            Notice::Pause { t, paused: false, .. } => {
                self.pauses.extend(self.paused.take().map(|from| (from, t)));
            }
            Notice::Scheme { t, scheme, .. } => self.schemes.push((t, scheme)),
            Notice::Event(_) => {}
        }
    }

    /// Takes in a tick: which maps are open from the start shows at the first.
    pub fn tick(&mut self, frame: Frame<'_>) {
        if self.at_first.is_none() {
            self.at_first = Some(frame.open_maps().to_vec());
        }
    }

    /// The run ended at `t`.
    pub fn finish(&mut self, plan: &Plan, t: Time) {
        self.pauses.extend(self.paused.take().map(|from| (from, t)));
        let at_first = self.at_first.take().unwrap_or_default();
        for map in plan.maps().ids() {
            let mut told = self.told.iter().filter(|(_, of, _)| *of == map).peekable();
            // What closes first was open before; what nobody mentions stays as it is.
            let from_start = match told.peek() {
                Some((_, _, open)) => !open,
                None => at_first.contains(&map),
            };
            let mut since = from_start.then_some(Time::ZERO);
            let mut spans = Vec::new();
            for &(at, _, open) in told {
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
                self.maps.push((map, spans));
            }
        }
    }

    /// Whether what a control reports is only on or off.
    pub fn is_button(plan: &Plan, control: ControlId) -> bool {
        plan.controls()[control].kind == ControlKind::Button
    }
}
