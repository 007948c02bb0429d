//! Watches one action through a run, instant by instant.

use super::devices::Devices;
use super::mover::{Before, Mover, mover};
use super::status::Status;
use super::stretch::{self, Instant, Own};
use super::{EndReason, EpisodeRecord, Miss, Moment, StationsAt};
use crate::take::{Input, Run, Watcher, What};
use harmonym_runtime::base::limits::IDLE;
use harmonym_runtime::base::{
    AT_REST, ActionId, ControlId, Device, MapId, PhysicalInputId, Seat, Table, Time,
};
use harmonym_runtime::engine::{Cause, Event, EventKind, Frame, Inside, Level, Notice, Stage};
use harmonym_runtime::plan::{Cue, Guard, Plan};
use harmonym_runtime::seats::Told;

/// What is known of one action so far.
pub(crate) struct Record {
    action: ActionId,
    /// Whose.
    seat: Seat,
    /// Its controls, but for those that it is only held with.
    own: Vec<Own>,
    /// Whether its values come later than reports.
    comes_later: bool,
    pub episodes: Vec<EpisodeRecord>,
    pub misses: Vec<Miss>,
    /// When each map opened, and when it closed.
    opened: Table<MapId, Option<Time>>,
    closed: Table<MapId, Option<Time>>,
    /// The maps that the action lives in.
    homes: Vec<MapId>,
    /// Every moment at which a map of the action opened.
    openings: Vec<Time>,
    /// When the game was paused, or went on.
    pub changed: Time,
    /// The devices, and what they reported of its controls.
    devices: Devices,
    /// When each control was held that has to be let go first.
    muted: Vec<(PhysicalInputId, usize, Time)>,
    /// Its guards: whether each holds, and since when if it has ever been otherwise.
    guards: Vec<(Guard, Option<bool>, Option<Time>)>,
    /// What was told in this instant, and by whom it was fired.
    batch: Vec<Notice>,
    /// The greatest magnitude in the open episode.
    pub peak: f64,
    /// The control that was farthest from 0 in the open episode, and how far; of what is no stick or lever
    /// any way is far.
    farthest: Option<(ControlId, f64)>,
    /// Since when it is up, as it was before this instant, and by what.
    pub up_since: Option<Time>,
    pub came_up: Option<Mover>,
    /// What made something on the way fall last.
    pub fell: Option<(Time, Mover)>,
    /// How things stood before this instant.
    pub before: Before,
    /// Whether a control of it was ever pressed, or moved.
    pub touched: bool,
    now: Time,
    last: Status,
}

impl Record {
    pub fn new(plan: &Plan, seat: Seat, action: ActionId) -> Self {
        let spec = &plan.actions()[action];
        let guards = spec.alternatives.iter();
        let guards = guards.flat_map(|id| plan.alternatives()[id].guards.of(plan.guards()));
        Self {
            action,
            seat,
            own: stretch::controls(plan, action),
            comes_later: spec.works_at_ticks || !spec.motions.is_empty(),
            episodes: Vec::new(),
            misses: Vec::new(),
            opened: Table::filled(None, plan.maps().len()),
            closed: Table::filled(None, plan.maps().len()),
            openings: Vec::new(),
            homes: spec.maps.of(plan.listed_maps()).to_vec(),
            changed: Time::ZERO,
            devices: Devices::default(),
            muted: Vec::new(),
            guards: guards.map(|&guard| (guard, None, None)).collect(),
            batch: Vec::new(),
            peak: 0.0,
            farthest: None,
            up_since: None,
            came_up: None,
            fell: None,
            before: Before::default(),
            touched: false,
            now: Time::ZERO,
            last: Status::Untouched,
        }
    }

    /// How things stand at `at`.
    pub fn look(&mut self, run: &mut Run, at: Time) -> Moment {
        let (seat, action) = (self.seat, self.action);
        let inside = run.look(at, self).frame(seat).inside();
        self.settle(&inside, None, false);
        Moment {
            t: inside.now(),
            stations: StationsAt::of(&inside, action, self),
            status: Status::of(&inside, action, self),
            episode: self.episodes.len().checked_sub(1),
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
        // What is muted in this very instant is not noted yet.
        same.map_or(self.now, |(_, _, since)| *since)
    }

    /// A device that has controls of the action and is gone, and since when.
    pub fn gone(&self, plan: &Plan) -> Option<(Device, Time)> {
        self.devices.gone(plan, &self.own)
    }

    /// A control of the action that is held since before its device came, and since when that is there.
    pub fn held_back(&self, inside: &Inside<'_>) -> Option<(ControlId, Time)> {
        self.devices.held_back(inside, &self.own)
    }

    /// Since when a guard of the action fails, if it has ever been otherwise.
    pub fn failing_since(&self, guard: Guard) -> Option<Time> {
        let same = self.guards.iter().find(|(other, ..)| *other == guard);
        // One that holds now failed only within this instant.
        same.and_then(
            |(_, holds, since)| if *holds == Some(true) { Some(self.now) } else { *since },
        )
    }

    /// The control that is farthest from 0.
    pub fn farthest(&self, inside: &Inside<'_>) -> Option<ControlId> {
        let far = self.own.iter().map(|own| (own.far(inside), own.control));
        let far = far.filter(|(far, _)| *far > AT_REST);
        far.reduce(|best, one| if one.0 > best.0 { one } else { best }).map(|(_, control)| control)
    }

    /// What was told in this instant before `event`, the latest first.
    pub fn told_before<'a>(&'a self, event: &'a Event) -> impl Iterator<Item = &'a Notice> {
        let place = self.batch.iter().position(|one| *one == Notice::Event(*event));
        self.batch[..place.unwrap_or(self.batch.len())].iter().rev()
    }

    /// Whether the action went down in this instant, before `event` ended the episode that was open before
    /// the instant.
    pub fn went_down_before(&self, event: &Event) -> bool {
        match self.before.episode.map(|before| before.level) {
            Some(Level::Down) => false,
            Some(Level::Woken) => true,
            Some(Level::Up) | None => {
                self.told_before(event).filter_map(|one| self.own(one)).any(|own| is_press(&own))
            }
        }
    }

    /// All that was told in this instant.
    pub fn told(&self) -> impl Iterator<Item = &Notice> {
        self.batch.iter()
    }

    /// Takes in what an instant brought.
    pub fn settle(&mut self, inside: &Inside<'_>, input: Option<&Input>, is_tick: bool) {
        self.now = inside.now();
        if let Some(What::Report(contact, value)) = input.map(|input| input.what)
            && self.own.iter().any(|own| own.control == contact.control)
        {
            self.devices.note_report(contact, value);
        }
        let own: Vec<Event> = self.batch.iter().filter_map(|one| self.own(one)).collect();
        self.note_guards(inside);
        let level = inside.episode(self.action).level;
        let was_up = self.before.episode.is_none_or(|before| before.level == Level::Up);
        let moved = |record: &Self| mover(inside, record.action, record, input, is_tick);
        if input.is_some() && self.before.has_fallen(inside, self.action) {
            self.fell = moved(self).map(|by| (self.now, by));
        }
        let ends = own.iter().any(|event| event.kind.cause().is_some());
        let wakes = own.iter().any(|event| event.kind == EventKind::Wake);
        // A notch is pressed and let go in one instant.
        let goes_down = own.iter().any(is_press);
        if (!was_up || goes_down) && (level == Level::Up || ends) {
            self.came_up = moved(self);
        }
        let began = if wakes { moved(self) } else { None };
        for (place, event) in own.iter().enumerate() {
            let is_last = own[place + 1..].iter().all(|later| later.kind != EventKind::Wake);
            self.take_in(inside, event, is_last, began.clone());
        }
        self.wait_for_what_came_late(inside);
        self.batch.clear();
        self.note_muted(inside);
        self.up_since = match level {
            Level::Up => self.up_since.or(Some(self.now)),
            Level::Woken | Level::Down => None,
        };
        let was_awake = self.before.episode.is_some_and(|before| before.awake);
        if inside.episode(self.action).awake {
            let gives = inside.shaped(self.action);
            let kind = inside.plan().actions()[self.action].kind;
            self.peak = self.peak.max(gives.magnitude_of(kind));
            self.note_farthest(inside);
        }
        let reported = input.and_then(|input| match input.what {
            What::Report(contact, value) => Some((contact.control, value)),
            _ => None,
        });
        // A press at which the episode of the one before goes to another action is one of its own.
        let goes = own.iter().any(|event| event.kind.cause() == Some(Cause::Yielded));
        let is_awake = wakes || inside.episode(self.action).awake || (was_awake && !goes);
        self.follow(inside, Instant { reported, is_tick, is_awake, comes_later: self.comes_later });
        let mut before = std::mem::take(&mut self.before);
        before.take(inside, self.action);
        self.before = before;
    }

    fn own(&self, notice: &Notice) -> Option<Event> {
        match notice {
            Notice::Event(event) if event.action == self.action => Some(*event),
            _ => None,
        }
    }

    fn take_in(&mut self, inside: &Inside<'_>, event: &Event, is_last: bool, began: Option<Mover>) {
        match event.kind {
            EventKind::Wake => self.wake(event.t, began),
            EventKind::Fire(by, since) => {
                if let Some(record) = self.episodes.last_mut() {
                    record.fires.push((event.t, by, since));
                }
            }
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                // What a later episode of the same instant has overwritten stood there before it.
                let ending = EndReason::of(inside, event, cause, self, is_last);
                let short_of = self.short_of(inside, event, cause);
                let drift = self.farthest.take().filter(|(_, far)| *far <= IDLE);
                if let Some(record) = self.episodes.last_mut() {
                    (record.end, record.ending) = (Some((event.t, cause)), ending);
                    (record.short_of, record.drift) = (short_of, drift);
                }
            }
        }
    }

    fn wake(&mut self, at: Time, began: Option<Mover>) {
        if let Some(EndReason::Gap { late, .. }) =
            self.episodes.last_mut().and_then(|record| record.ending.as_mut())
        {
            // The press that would have been the next one came after all.
            *late = late.or(Some(at));
        }
        (self.peak, self.farthest) = (0.0, None);
        self.episodes.push(EpisodeRecord { began, ..EpisodeRecord::new(at) });
    }

    /// How long a cue was waited for that takes its time and that something else than letting go cut short:
    /// so long of so long.
    fn short_of(&self, inside: &Inside<'_>, event: &Event, cause: Cause) -> Option<(Time, Time)> {
        let plan = inside.plan();
        let before = self.before.episode.filter(|before| before.awake)?;
        if matches!(cause, Cause::TooShort | Cause::Guard) || before.level != Level::Down {
            return None;
        }
        let alternatives = plan.actions()[self.action].alternatives.iter();
        let waits = alternatives.zip(&self.before.alternatives).find(|(id, state)| {
            let takes_time = matches!(plan.alternatives()[*id].cue, Cue::Hold(_) | Cue::Charge(_));
            takes_time && !state.fired && state.stage == Stage::Open
        });
        let needed = waits?.1.time;
        let held = event.t.since(before.down_at.min(event.t));
        (held < needed).then_some((held, needed))
    }

    /// What an ended episode missed by how much shows only afterwards.
    fn wait_for_what_came_late(&mut self, inside: &Inside<'_>) {
        let Some(record) = self.episodes.last_mut() else { return };
        let episode = inside.episode(self.action);
        match &mut record.ending {
            Some(EndReason::TooLong { held: held @ None, up, .. })
                if episode.level == Level::Up =>
            {
                *held = Some(self.now.since(episode.down_at));
                *up = self.came_up.clone();
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

    fn note_guards(&mut self, inside: &Inside<'_>) {
        for (guard, held, since) in &mut self.guards {
            let holds = inside.holds(*guard);
            if held.replace(holds).is_some_and(|before| before != holds) {
                *since = Some(self.now);
            }
        }
    }

    fn note_muted(&mut self, inside: &Inside<'_>) {
        for &input in self.own.iter().flat_map(Own::inputs) {
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

    /// Keeps the farthest that a control was in the open episode.
    fn note_farthest(&mut self, inside: &Inside<'_>) {
        for own in &self.own {
            let far = match own.far(inside) {
                far if own.is_graded() || far <= AT_REST => far,
                _ => f64::INFINITY,
            };
            if far > self.farthest.map_or(0.0, |(_, farthest)| farthest) {
                self.farthest = Some((own.control, far));
            }
        }
    }

    /// Follows what is pressed, and why nothing comes of it.
    fn follow(&mut self, inside: &Inside<'_>, now: Instant) {
        let mut own = std::mem::take(&mut self.own);
        for one in &mut own {
            if let Some(miss) = one.follow(inside, self.action, self, now) {
                self.miss(miss);
            }
            self.touched |= one.is_pressed();
        }
        self.own = own;
    }

    fn miss(&mut self, miss: Miss) {
        let episode_between = self.episodes.last().map_or(Time::ZERO, |record| record.woke);
        let like = |last: &&mut Miss| {
            let same = match (&last.phases[..], &miss.phases[..]) {
                ([one], [other]) => {
                    one.status.is_like(&other.status)
                        || (one.status.is_short() && other.status.is_short())
                }
                _ => false,
            };
            last.control == miss.control && same && last.from >= episode_between
        };
        match self.misses.last_mut().filter(like) {
            Some(last) => {
                (last.to, last.count) = (miss.to, last.count + 1);
                // Of several that were not far enough, the farthest.
                for (phase, other) in last.phases.iter_mut().zip(miss.phases) {
                    if other.status.reach() > phase.status.reach() {
                        *phase = other;
                    }
                }
            }
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
        let mut own = std::mem::take(&mut self.own);
        for miss in own.iter_mut().filter_map(Own::end) {
            self.miss(miss);
        }
        self.misses.sort_by_key(|miss| miss.from);
        let mut misses = std::mem::take(&mut self.misses);
        for phase in misses.iter_mut().flat_map(|miss| &mut miss.phases) {
            self.look_ahead(&mut phase.status, phase.from);
        }
        self.misses = misses;
        self.last.clone()
    }

    /// When a map opens that was closed at `t`, which shows only afterwards.
    pub fn look_ahead(&self, status: &mut Status, t: Time) {
        if let Status::Closed { opens, .. } = status {
            *opens = self.openings.iter().copied().find(|opening| *opening > t);
        }
    }
}

impl Watcher for Record {
    const EVERY_INSTANT: bool = true;

    fn notice(&mut self, Told { seat, notice }: Told) {
        if seat.is_some_and(|seat| seat != self.seat) {
            return;
        }
        match notice {
            Notice::Map { t, map, open: true, .. } => {
                self.opened[map] = Some(t);
                if self.homes.contains(&map) {
                    self.openings.push(t);
                }
            }
            Notice::Map { t, map, open: false, .. } => self.closed[map] = Some(t),
            Notice::Pause { t, .. } => self.changed = t,
            Notice::Device { t, device, plugged, .. } if seat.is_some() => {
                self.devices.note(t, device, plugged);
            }
            Notice::Seat { t, device, .. } if seat.is_some() => self.devices.note(t, device, true),
            Notice::Event(_)
            | Notice::Scheme { .. }
            | Notice::Plan { .. }
            | Notice::Device { .. }
            | Notice::Seat { .. } => {}
        }
        self.batch.push(notice);
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, _t: Time) {
        if seat == self.seat {
            self.settle(&frame.inside(), None, true);
        }
    }

    fn over(&mut self, seat: Seat, frame: Frame<'_>) {
        if seat == self.seat {
            self.last = Status::of(&frame.inside(), self.action, self);
        }
    }

    fn instant(&mut self, seat: Seat, frame: Frame<'_>, input: Option<&Input>) {
        if seat == self.seat {
            self.settle(&frame.inside(), input, false);
        }
    }
}

/// Whether an event tells that its action was pressed just now: a fire that was kept comes of a press that
/// was before.
fn is_press(event: &Event) -> bool {
    matches!(event.kind, EventKind::Wake | EventKind::Fire(_, None))
}
