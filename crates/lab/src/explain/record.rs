//! Watches one action through a run, instant by instant.

use super::status::Status;
use super::{EndReason, EpisodeRecord, Miss};
use crate::take::{Input, Watcher, What};
use harmonym_runtime::base::{AT_REST, ActionId, ControlId, MapId, PhysicalInputId, Table, Time};
use harmonym_runtime::engine::{Cause, Event, EventKind, Frame, Inside, Level, Notice};
use harmonym_runtime::plan::{Gather, Plan};

/// What is known of one action so far.
pub(super) struct Record {
    action: ActionId,
    /// Its uses of controls that it is not only held with.
    inputs: Vec<PhysicalInputId>,
    pub episodes: Vec<EpisodeRecord>,
    pub misses: Vec<Miss>,
    /// When each map opened, and when it closed.
    opened: Table<MapId, Option<Time>>,
    closed: Table<MapId, Option<Time>>,
    /// When the game was paused, or went on.
    pub changed: Time,
    /// When each control was held that has to be let go first.
    muted: Vec<(PhysicalInputId, usize, Time)>,
    /// What was told in this instant, and by whom it was fired.
    batch: Vec<Notice>,
    /// The greatest magnitude in the open episode.
    pub peak: f64,
    /// Since when it is up, as it was before this instant.
    pub up_since: Option<Time>,
    /// What is pressed at the moment.
    touching: Option<Touching>,
    now: Time,
    last: Status,
}

/// A stretch in which some control of the action is away from 0.
struct Touching {
    from: Time,
    control: ControlId,
    woke: bool,
    greatest: f64,
    status: Status,
}

impl Record {
    pub fn new(plan: &Plan, action: ActionId) -> Self {
        let reads = plan.actions()[action].uses.iter().filter(|&read| !plan.uses()[read].holds);
        Self {
            action,
            inputs: reads.flat_map(|read| plan.uses()[read].inputs.iter()).collect(),
            episodes: Vec::new(),
            misses: Vec::new(),
            opened: Table::filled(None, plan.maps().len()),
            closed: Table::filled(None, plan.maps().len()),
            changed: Time::ZERO,
            muted: Vec::new(),
            batch: Vec::new(),
            peak: 0.0,
            up_since: None,
            touching: None,
            now: Time::ZERO,
            last: Status::Untouched,
        }
    }

    /// When the map in which an action lives was opened.
    pub fn living_since(&self, inside: &Inside<'_>, action: ActionId) -> Option<Time> {
        let plan = inside.plan();
        let homes = plan.actions()[action].maps.of(plan.listed_maps());
        let home = inside.open_maps().iter().find(|map| homes.contains(map))?;
        Some(self.opened[*home].unwrap_or(Time::ZERO))
    }

    /// When the last of an action's maps closed; nothing if none was open yet.
    pub fn closed_since(&self, plan: &Plan, action: ActionId) -> Option<Time> {
        let homes = plan.actions()[action].maps.of(plan.listed_maps());
        homes.iter().filter_map(|&map| self.closed[map]).max()
    }

    /// Since when a control has to be let go before it counts.
    pub fn muted_since(&self, input: PhysicalInputId, device: usize) -> Time {
        let same = self.muted.iter().find(|(id, on, _)| (*id, *on) == (input, device));
        same.map_or(self.changed, |(_, _, since)| *since)
    }

    /// What was told in this instant before `event`, the latest first.
    pub fn told_before<'a>(&'a self, event: &'a Event) -> impl Iterator<Item = &'a Notice> {
        let place = self.batch.iter().position(|one| *one == Notice::Event(*event));
        self.batch[..place.unwrap_or(self.batch.len())].iter().rev()
    }

    /// All that was told in this instant.
    pub fn told(&self) -> impl Iterator<Item = &Notice> {
        self.batch.iter()
    }

    /// Takes in what an instant brought.
    pub fn settle(&mut self, inside: &Inside<'_>, reported: Option<ControlId>) {
        self.now = inside.now();
        let own: Vec<Event> = self.batch.iter().filter_map(|one| self.own(one)).collect();
        for (place, event) in own.iter().enumerate() {
            let is_last = own[place + 1..].iter().all(|later| later.kind != EventKind::Wake);
            self.take_in(inside, event, is_last);
        }
        self.wait_for_what_came_late(inside);
        self.batch.clear();
        self.note_muted(inside);
        self.up_since = match inside.episode(self.action).level {
            Level::Up => self.up_since.or(Some(self.now)),
            Level::Woken | Level::Down => None,
        };
        let woke = own.iter().any(|event| event.kind == EventKind::Wake);
        if inside.episode(self.action).awake {
            let gives = inside.shaped(self.action);
            let kind = inside.plan().actions()[self.action].kind;
            self.peak = self.peak.max(gives.magnitude_of(kind));
        }
        self.note_touch(inside, woke, reported);
    }

    fn own(&self, notice: &Notice) -> Option<Event> {
        match notice {
            Notice::Event(event) if event.action == self.action => Some(*event),
            _ => None,
        }
    }

    fn take_in(&mut self, inside: &Inside<'_>, event: &Event, is_last: bool) {
        match event.kind {
            EventKind::Wake => self.wake(event.t),
            EventKind::Fire(by, since) => {
                if let Some(record) = self.episodes.last_mut() {
                    record.fires.push((event.t, by, since));
                }
            }
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                // What a later episode of the same instant has overwritten is not asked for.
                let is_known = is_last || cause == Cause::OutOfOrder || event.kind.is_forced();
                let ending = is_known.then(|| EndReason::of(inside, event, cause, self)).flatten();
                if let Some(record) = self.episodes.last_mut() {
                    (record.end, record.ending) = (Some((event.t, cause)), ending);
                }
            }
        }
    }

    fn wake(&mut self, at: Time) {
        if let Some(EndReason::Gap { late, .. }) =
            self.episodes.last_mut().and_then(|record| record.ending.as_mut())
        {
            // The press that would have been the next one came after all.
            *late = late.or(Some(at));
        }
        self.peak = 0.0;
        self.episodes.push(EpisodeRecord { woke: at, fires: Vec::new(), end: None, ending: None });
    }

    /// What an ended episode missed by how much shows only afterwards.
    fn wait_for_what_came_late(&mut self, inside: &Inside<'_>) {
        let Some(record) = self.episodes.last_mut() else { return };
        let episode = inside.episode(self.action);
        match &mut record.ending {
            Some(EndReason::TooLong { held: held @ None, .. }) if episode.level == Level::Up => {
                *held = Some(self.now.since(episode.down_at));
            }
            Some(EndReason::StepGap { next, late: late @ None, .. }) => {
                let fired = |one: &Notice| match one {
                    Notice::Event(event) => {
                        event.action == *next && matches!(event.kind, EventKind::Fire(..))
                    }
                    _ => false,
                };
                if self.batch.iter().any(fired) {
                    *late = Some(self.now);
                }
            }
            _ => {}
        }
    }

    fn note_muted(&mut self, inside: &Inside<'_>) {
        for &input in &self.inputs {
            for device in inside.devices(input) {
                let known = self.muted.iter().position(|(id, on, _)| (*id, *on) == (input, device));
                match (inside.touch(input, device).muted, known) {
                    (true, None) => self.muted.push((input, device, self.now)),
                    (false, Some(place)) => {
                        self.muted.swap_remove(place);
                    }
                    _ => {}
                }
            }
        }
    }

    /// Keeps what is pressed, and why nothing comes of it.
    fn note_touch(&mut self, inside: &Inside<'_>, woke: bool, reported: Option<ControlId>) {
        let plan = inside.plan();
        let awake = woke || inside.episode(self.action).awake;
        if let Some(touching) = &mut self.touching {
            touching.woke |= awake;
        }
        let Some(control) = reported else { return };
        if !self.inputs.iter().any(|&input| plan.inputs()[input].control == control) {
            return;
        }
        let is_relative = |input: &&PhysicalInputId| {
            plan.inputs()[**input].control == control
                && plan.uses()[plan.inputs()[**input].of].gather == Gather::Sum
        };
        if self.inputs.iter().any(|input| is_relative(&input)) {
            return self.note_movement(inside, control);
        }
        let far = |&input: &PhysicalInputId| {
            let own = plan.inputs()[input].control;
            let on = |device| match own == control {
                true => inside.touch(input, device).bound.magnitude(),
                false => 0.0,
            };
            inside.devices(input).map(on).fold(0.0, f64::max)
        };
        let any = |&input: &PhysicalInputId| {
            inside.devices(input).any(|on| inside.touch(input, on).bound.magnitude() > AT_REST)
        };
        if !self.inputs.iter().any(any) {
            return self.let_go();
        }
        let gives = self.inputs.iter().map(far).fold(0.0, f64::max);
        let now = self.now;
        let touching = self.touching.get_or_insert_with(|| Touching {
            from: now,
            control,
            woke: awake,
            greatest: -1.0,
            status: Status::Untouched,
        });
        if !touching.woke && gives > touching.greatest && gives > AT_REST {
            (touching.greatest, touching.control) = (gives, control);
            let status = Status::of(inside, self.action, self);
            if let Some(touching) = &mut self.touching {
                touching.status = status;
            }
        }
    }

    /// A movement has no end: each that can't count is in vain at once.
    fn note_movement(&mut self, inside: &Inside<'_>, control: ControlId) {
        let status = Status::of(inside, self.action, self);
        if matches!(status, Status::Closed(_) | Status::Paused(_)) {
            let (from, now) = (self.now, self.now);
            self.miss(Miss { from, to: now, count: 1, control, status });
        }
    }

    /// Nothing is pressed any more.
    fn let_go(&mut self) {
        let Some(touching) = self.touching.take() else { return };
        let Touching { from, control, woke, status, .. } = touching;
        if !woke && status != Status::Untouched {
            self.miss(Miss { from, to: self.now, count: 1, control, status });
        }
    }

    fn miss(&mut self, miss: Miss) {
        let episode_between = self.episodes.last().map_or(Time::ZERO, |record| record.woke);
        let like = |last: &&mut Miss| {
            last.control == miss.control
                && last.status.is_like(&miss.status)
                && last.from >= episode_between
        };
        match self.misses.last_mut().filter(like) {
            Some(last) => (last.to, last.count) = (miss.to, last.count + 1),
            None => self.misses.push(miss),
        }
    }

    /// The run is over: what is still pressed, and where the action stands.
    pub fn close(&mut self) -> Status {
        for notice in std::mem::take(&mut self.batch) {
            let Some(event) = self.own(&notice) else { continue };
            if let (Some(cause), Some(record)) = (event.kind.cause(), self.episodes.last_mut()) {
                (record.end, record.ending) = (Some((event.t, cause)), Some(EndReason::Stopped));
            }
        }
        self.let_go();
        self.last.clone()
    }
}

impl Watcher for Record {
    const EVERY_INSTANT: bool = true;

    fn notice(&mut self, notice: Notice) {
        match notice {
            Notice::Map { t, map, open: true, .. } => self.opened[map] = Some(t),
            Notice::Map { t, map, open: false, .. } => self.closed[map] = Some(t),
            Notice::Pause { t, .. } => self.changed = t,
            Notice::Event(_) | Notice::Scheme { .. } => {}
        }
        self.batch.push(notice);
    }

    fn tick(&mut self, frame: Frame<'_>, _t: Time) {
        self.settle(&frame.inside(), None);
    }

    fn over(&mut self, frame: Frame<'_>) {
        self.last = Status::of(&frame.inside(), self.action, self);
    }

    fn instant(&mut self, frame: Frame<'_>, input: Option<&Input>) {
        let reported = input.and_then(|input| match input.what {
            What::Report(contact, _) => Some(contact.control),
            _ => None,
        });
        self.settle(&frame.inside(), reported);
    }
}
