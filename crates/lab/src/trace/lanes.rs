//! A run laid out in time: for each action its presses, episodes, events and values.

use super::timeline::Timeline;
use crate::score::Score;
use crate::take::{Input, Playing, Run, Watcher, What};
use harmonym_runtime::base::limits::PRESSED;
use harmonym_runtime::base::{ActionId, Contact, Device, Id, Kind, Rate, Seat, Time, Vector};
use harmonym_runtime::engine::{Cause, EventKind, Frame, Notice};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Told;
use std::collections::BTreeMap;
use std::sync::Arc;

/// What an episode is at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum State {
    /// Awake, not yet fired.
    Pending,
    /// Fired, not yet over.
    Live,
}

/// What happens at a moment.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Mark {
    /// It wakes.
    Wake,
    /// It fires; `while` fires at every tick and is marked once a stretch.
    Fire,
    /// It ends without having fired.
    Lapse(Cause),
    /// It ends after it fired.
    Rest(Cause),
}

/// One action in time.
#[derive(Clone, Debug)]
pub struct Lane {
    /// Whose.
    pub seat: Seat,
    /// The action.
    pub action: ActionId,
    /// Its episodes: from when to when it was pending or live.
    pub spans: Vec<(Time, Time, State)>,
    /// Its events, in order.
    pub marks: Vec<(Time, Mark)>,
    /// What it gives.
    pub kind: Kind,
    /// When its value changed, at ticks, to what; of a switch how far it is pulled, where its
    /// controls know more than on and off.
    pub values: Vec<(Time, Vector)>,
    /// When a control that is bound to it was held.
    pub pressed: Vec<(Time, Time)>,
    open: Option<(Time, State)>,
    holds: u32,
    held_since: Time,
    in_stretch: bool,
}

impl Lane {
    /// Whether nothing came of the hands: no event, and no value but that of a switch.
    pub fn is_quiet(&self) -> bool {
        self.marks.is_empty() && (self.kind == Kind::Switch || self.values.is_empty())
    }

    /// Whether an episode is open, or a control of it held.
    pub fn is_open(&self) -> bool {
        self.open.is_some() || self.holds > 0
    }

    /// Its episodes, with what the one that is open is at until `end`.
    pub fn spans_until(&self, end: Time) -> impl Iterator<Item = (Time, Time, State)> {
        let open = self.open.map(|(since, state)| (since, end, state));
        self.spans.iter().copied().chain(open)
    }

    /// When a control of it was held, until `end` if one still is.
    pub fn pressed_until(&self, end: Time) -> impl Iterator<Item = (Time, Time)> {
        let held = (self.holds > 0).then_some((self.held_since, end));
        self.pressed.iter().copied().chain(held)
    }

    /// Drops what was over before `t`, but for the value that was there then.
    fn forget(&mut self, t: Time) {
        self.spans.drain(..self.spans.partition_point(|(_, to, _)| *to < t));
        self.marks.drain(..self.marks.partition_point(|(at, _)| *at < t));
        self.pressed.drain(..self.pressed.partition_point(|(_, to)| *to < t));
        let first = self.values.partition_point(|(at, _)| *at < t);
        self.values.drain(..first.saturating_sub(1));
    }

    /// Its values as numbers: of an axis itself, else the magnitude; of a switch none.
    pub fn numbers(&self) -> impl Iterator<Item = (Time, f64)> {
        let number = |value: Vector| match self.kind {
            Kind::Axis => value.x,
            kind => value.magnitude_of(kind),
        };
        let own = self.values.iter().filter(|_| self.kind != Kind::Switch);
        own.map(move |(t, value)| (*t, number(*value)))
    }
}

/// All lanes of a run.
#[derive(Clone, Debug)]
pub struct Lanes {
    /// The actions of each seat, in file order.
    pub lanes: Vec<Lane>,
    /// How many seats play.
    pub seats: u8,
    /// What goes on around them.
    pub around: Timeline,
    /// When the run ended.
    pub end: Time,
    /// Whether it was cut short, since it told too much.
    pub is_cut: bool,
    /// Where each action's lane is among those of its seat.
    place: Vec<usize>,
    /// Whose each device is, where that was told.
    owners: BTreeMap<Device, Seat>,
    /// The lanes of switches whose controls know more than on and off.
    graded: Vec<usize>,
    /// The controls that are held, by control and device.
    held: Vec<(usize, u8)>,
    /// The seats to which something happened, as bits.
    playing: u8,
}

impl Lanes {
    /// Lanes of so many seats without anything in them.
    pub fn new(plan: &Plan, seats: u8) -> Self {
        let lane = |seat: Seat, action: ActionId| Lane {
            seat,
            action,
            spans: Vec::new(),
            marks: Vec::new(),
            kind: plan.actions()[action].kind,
            values: Vec::new(),
            pressed: Vec::new(),
            open: None,
            holds: 0,
            held_since: Time::ZERO,
            in_stretch: false,
        };
        let of_seat = |seat| plan.by_file().iter().map(move |&action| lane(seat, action));
        let lanes: Vec<Lane> = Seat::first(seats).flat_map(of_seat).collect();
        let mut place = vec![0; plan.actions().len()];
        for (index, action) in plan.by_file().iter().enumerate() {
            place[action.index()] = index;
        }
        let is_graded = |index: &usize| is_graded(plan, lanes[*index].action);
        let graded = (0..lanes.len()).filter(is_graded).collect();
        Self {
            lanes,
            seats,
            owners: BTreeMap::new(),
            around: Timeline::default(),
            end: Time::ZERO,
            is_cut: false,
            place,
            graded,
            held: Vec::new(),
            playing: 0,
        }
    }

    /// What can be seen from one moment to another, which is now: what goes on ends there.
    pub fn seen(&self, plan: &Plan, from: Time, to: Time) -> Self {
        let mut seen = self.clone();
        seen.forget(from);
        for lane in &mut seen.lanes {
            lane.spans.extend(lane.open.take().map(|(since, state)| (since, to, state)));
        }
        seen.finish(plan, to);
        seen
    }

    /// Drops what was over before `t`.
    pub(crate) fn forget(&mut self, t: Time) {
        self.lanes.iter_mut().for_each(|lane| lane.forget(t));
        self.around.forget(t);
    }

    /// The lanes of a score's hands, at the rate that it names.
    pub fn of(plan: &Arc<Plan>, score: &Score) -> Self {
        let rate = score.rate.unwrap_or(Rate::DEFAULT);
        Self::of_inputs(plan, score.playing(rate), score.perform())
    }

    /// The lanes of some inputs.
    pub fn of_inputs(
        plan: &Arc<Plan>,
        playing: Playing,
        inputs: impl IntoIterator<Item = Input>,
    ) -> Self {
        let seats = playing.seats.unwrap_or(plan.seats());
        let mut watching = Watching { plan, lanes: Self::new(plan, seats) };
        let mut run = Run::new(Arc::clone(plan), playing, None, &mut watching);
        for input in inputs {
            if run.input(input, &mut watching).is_break() {
                break;
            }
            watching.lanes.input(plan, &input);
        }
        let end = run.finish(&mut watching);
        watching.lanes.is_cut = end.is_cut;
        watching.lanes.finish(plan, end.t);
        watching.lanes
    }

    fn lane(&mut self, seat: Seat, action: ActionId) -> Option<&mut Lane> {
        let place = *self.place.get(action.index())?;
        self.lanes.get_mut(seat.index() * self.place.len() + place)
    }

    /// Whose a device is; with one seat, all are.
    fn owner(&self, device: Device) -> Option<Seat> {
        match self.seats {
            1 => Some(Seat::FIRST),
            _ => self.owners.get(&device).copied(),
        }
    }

    /// Takes in what devices report, after all that was told of it.
    pub fn input(&mut self, plan: &Plan, input: &Input) {
        self.around.input(input);
        let What::Report(contact, value) = input.what else { return };
        if !plan.controls()[contact.control].kind.is_held() {
            return;
        }
        let key = (contact.control.index(), contact.device);
        let held = value.magnitude() >= PRESSED;
        let was = self.held.iter().position(|one| *one == key);
        match (held, was) {
            (true, None) => self.held.push(key),
            (false, Some(place)) => {
                self.held.swap_remove(place);
            }
            _ => return,
        }
        let class = plan.controls()[contact.control].class;
        let Some(seat) = self.owner(Device { class, number: contact.device }) else { return };
        self.hold(plan, seat, contact, input.t, held);
    }

    /// A control of a seat's device is held from now on, or let go.
    fn hold(&mut self, plan: &Plan, seat: Seat, contact: Contact, t: Time, held: bool) {
        let inputs = plan.inputs_of().get(contact.control).into_iter().flatten();
        let mut actions: Vec<ActionId> =
            inputs.map(|&input| plan.uses()[plan.inputs()[input].of].action).collect();
        actions.sort();
        actions.dedup();
        for action in actions {
            let Some(lane) = self.lane(seat, action) else { continue };
            match held {
                true => {
                    lane.holds += 1;
                    if lane.holds == 1 {
                        lane.held_since = t;
                    }
                }
                false => {
                    let was = lane.holds;
                    lane.holds = was.saturating_sub(1);
                    if was == 1 {
                        lane.pressed.push((lane.held_since, t));
                    }
                }
            }
        }
    }

    /// A device is nobody's from now on, or not there: what was held on it is not any more.
    fn let_go(&mut self, plan: &Plan, t: Time, device: Device) {
        let Some(seat) = self.owner(device) else { return };
        let of_device = |(control, number): &(usize, u8)| {
            let class = plan.controls()[Id::new(*control)].class;
            device == Device { class, number: *number }
        };
        let held: Vec<(usize, u8)> = self.held.iter().copied().filter(of_device).collect();
        for (control, device) in held {
            self.hold(plan, seat, Contact { control: Id::new(control), device }, t, false);
        }
    }

    /// Whether anything happened to a seat.
    pub(crate) fn plays(&self, seat: Seat) -> bool {
        self.playing & (1 << seat.index()) != 0
    }

    /// Takes in what is told.
    pub fn notice(&mut self, plan: &Plan, told: &Told) {
        if let (Some(seat), Notice::Event(_) | Notice::Seat { .. }) = (told.seat, told.notice) {
            self.playing |= 1 << seat.index();
        }
        self.around.notice(told);
        let event = match told.notice {
            Notice::Event(event) => event,
            Notice::Device { t, device, plugged: false, .. } => {
                return self.let_go(plan, t, device);
            }
            Notice::Seat { t, device, .. } => {
                self.let_go(plan, t, device);
                match told.seat {
                    Some(seat) => self.owners.insert(device, seat),
                    None => self.owners.remove(&device),
                };
                return;
            }
            _ => return,
        };
        let (t, seat) = (event.t, told.seat.unwrap_or(Seat::FIRST));
        let Some(lane) = self.lane(seat, event.action) else { return };
        match event.kind {
            EventKind::Wake => {
                lane.open = Some((t, State::Pending));
                lane.in_stretch = false;
                lane.marks.push((t, Mark::Wake));
            }
            EventKind::Fire(by, _) => {
                if let Some((since, State::Pending)) = lane.open {
                    lane.spans.push((since, t, State::Pending));
                    lane.open = Some((t, State::Live));
                }
                let goes_on = plan.alternatives()[by].cue == Cue::While;
                if !goes_on || !lane.in_stretch {
                    lane.marks.push((t, Mark::Fire));
                }
                lane.in_stretch |= goes_on;
            }
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                if let Some((since, state)) = lane.open.take() {
                    lane.spans.push((since, t, state));
                }
                let lapse = matches!(event.kind, EventKind::Lapse(_));
                lane.marks.push((t, if lapse { Mark::Lapse(cause) } else { Mark::Rest(cause) }));
            }
        }
    }

    /// Takes in the values of a seat at a tick.
    pub fn tick(&mut self, seat: Seat, frame: Frame<'_>, t: Time) {
        self.around.tick(seat, frame);
        for &place in &self.graded {
            let lane = &mut self.lanes[place];
            if lane.seat != seat {
                continue;
            }
            let shaped = frame.inside().shaped(lane.action);
            if lane.values.last().map_or(Vector::ZERO, |(_, last)| *last) != shaped {
                lane.values.push((t, shaped));
            }
        }
        for action in frame.changed() {
            let value = frame.value(action);
            if let Some(lane) = self.lane(seat, action).filter(|lane| lane.kind != Kind::Switch) {
                lane.values.push((t, value));
            }
        }
    }

    /// The run ended at `t`.
    pub fn finish(&mut self, plan: &Plan, t: Time) {
        self.around.finish(plan, t);
        self.end = t;
        for lane in &mut self.lanes {
            if lane.holds > 0 {
                lane.pressed.push((lane.held_since, t));
            }
        }
    }
}

/// Whether an action is a switch that some control with more than on and off reaches.
fn is_graded(plan: &Plan, action: ActionId) -> bool {
    let spec = &plan.actions()[action];
    let graded = |read| {
        let mut inputs = plan.uses()[read].inputs.iter();
        inputs.any(|input| !Timeline::is_button(plan, plan.inputs()[input].control))
    };
    spec.kind == Kind::Switch && spec.uses.iter().any(graded)
}

/// Fills lanes while a run goes on.
struct Watching<'p> {
    plan: &'p Plan,
    lanes: Lanes,
}

impl Watcher for Watching<'_> {
    fn notice(&mut self, told: Told) {
        self.lanes.notice(self.plan, &told);
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, t: Time) {
        self.lanes.tick(seat, frame, t);
    }
}
