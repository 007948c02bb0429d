//! Maps: which are open and in which order, and what lives in them.

use super::Tell;
use super::clock::Clock;
use super::event::{Cause, Notice};
use super::inputs::Inputs;
use super::rearrange::Change;
use super::state::State;
use crate::base::{ActionId, Id, IdSet, MapId, MapKind, SchemeId, Table};
use crate::plan::{Kin, Map, Tables};
use std::cmp::Reverse;

/// Which maps are open, and what lives in them.
#[derive(Clone, Debug)]
pub(super) struct Maps {
    /// When each was opened, counted; 0 is closed.
    opened: Table<MapId, u64>,
    openings: u64,
    /// The open ones, the first in order first; it never grows past the number of maps.
    pub order: Vec<MapId>,
    pub paused: bool,
    /// The one scheme whose bindings count.
    pub narrowed: Option<SchemeId>,
    /// The actions that live.
    pub living: IdSet<ActionId>,
    /// The place in the order of the map that each lives in.
    pub places: Table<ActionId, u32>,
    /// While maps change: what will live, what begins to, and what has lost a control.
    pub next: IdSet<ActionId>,
    pub begun: IdSet<ActionId>,
    pub covered: IdSet<ActionId>,
    pub changing: bool,
}

/// The place of an action that doesn't live.
pub(super) const NOWHERE: u32 = u32::MAX;

impl Maps {
    pub fn new(plan: &Tables) -> Self {
        let actions = plan.actions.len();
        Self {
            opened: Table::filled(0, plan.maps.len()),
            openings: 0,
            order: Vec::with_capacity(plan.maps.len()),
            paused: false,
            narrowed: None,
            living: IdSet::new(actions),
            places: Table::filled(NOWHERE, actions),
            next: IdSet::new(actions),
            begun: IdSet::new(actions),
            covered: IdSet::new(actions),
            changing: false,
        }
    }

    pub fn reset(&mut self) {
        self.opened.fill(0);
        self.openings = 0;
        self.order.clear();
        (self.paused, self.narrowed) = (false, None);
        self.places.fill(NOWHERE);
        self.changing = false;
        for set in [&mut self.living, &mut self.next, &mut self.begun, &mut self.covered] {
            set.clear();
        }
    }

    /// The maps are open that were, in their order, and those that are always; the actions live that are
    /// kept.
    pub fn take_over(&mut self, plan: &Tables, before: &Self, kin: &Kin) {
        for (map, old) in kin.maps.entries() {
            self.opened[map] = old.map_or(0, |old| before.opened[old]);
        }
        (self.openings, self.paused) = (before.openings, before.paused);
        let is_shut = |map: &MapId| !self.is_open(*map) && plan.maps[*map].kind == MapKind::Always;
        let shut: Vec<MapId> = plan.maps.ids().filter(is_shut).collect();
        shut.into_iter().for_each(|map| self.set_open(map, true));
        self.narrowed = before.narrowed.and_then(|scheme| kin.scheme(scheme));
        for (old, new) in kin.kept() {
            if before.living.contains(old) {
                self.living.insert(new);
                self.places[new] = before.places[old];
            }
        }
    }

    /// The how-manieth opening a map's was; 0 if it is closed.
    pub fn opened_when(&self, map: MapId) -> u64 {
        self.opened[map]
    }

    pub fn is_open(&self, map: MapId) -> bool {
        self.opened.get(map).is_some_and(|&opened| opened > 0)
    }

    pub fn set_open(&mut self, map: MapId, open: bool) {
        self.openings += u64::from(open);
        self.opened[map] = if open { self.openings } else { 0 };
    }

    /// Higher rank first, then `always` before `layer` before `solo`, then the one opened later.
    pub fn sort(&mut self, plan: &Tables) {
        self.order.clear();
        let open = plan.maps.ids().filter(|&map| self.opened[map] > 0);
        self.order.extend(open);
        let opened = &self.opened;
        self.order.sort_unstable_by_key(|&map| {
            let Map { rank, kind, .. } = plan.maps[map];
            Reverse((rank, kind, opened[map]))
        });
    }
}

impl State {
    /// Opens what is open at first, with `start` in place of the profile's solo map.
    pub fn open_at_start(
        &mut self,
        plan: &Tables,
        start: Option<MapId>,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let start = start.filter(|&map| plan.maps.get(map).is_some());
        for (id, map) in plan.maps.entries() {
            let opens = match (map.kind, start) {
                (MapKind::Solo, Some(start)) => id == start,
                _ => map.start || start == Some(id),
            };
            if opens {
                self.inputs.maps.set_open(id, true);
            }
        }
        self.rearrange(plan, Change::Opens, tell);
    }

    /// Opens a map; a solo map closes the solo map that was open.
    pub fn open_map(&mut self, plan: &Tables, map: MapId, tell: &mut (impl Tell + ?Sized)) {
        let Some(spec) = plan.maps.get(map) else { return };
        if self.inputs.maps.is_open(map) {
            return;
        }
        if spec.kind == MapKind::Solo {
            let solo = |id: &MapId| plan.maps[*id].kind == MapKind::Solo;
            let open = plan.maps.ids().filter(solo).find(|&id| self.inputs.maps.is_open(id));
            if let Some(other) = open {
                self.inputs.switch_map(self.clock, other, false, tell);
            }
        }
        self.inputs.switch_map(self.clock, map, true, tell);
        self.rearrange(plan, Change::Opens, tell);
    }

    /// Closes a map.
    pub fn close_map(&mut self, plan: &Tables, map: MapId, tell: &mut (impl Tell + ?Sized)) {
        let is_always = plan.maps.get(map).is_none_or(|map| map.kind == MapKind::Always);
        if is_always || !self.inputs.maps.is_open(map) {
            return;
        }
        self.inputs.switch_map(self.clock, map, false, tell);
        self.rearrange(plan, Change::Closes, tell);
    }

    /// Pauses the game, or lets it go on.
    pub fn pause(&mut self, plan: &Tables, paused: bool, tell: &mut (impl Tell + ?Sized)) {
        if std::mem::replace(&mut self.inputs.maps.paused, paused) == paused {
            return;
        }
        tell(Notice::Pause { t: self.clock.now, tick: self.clock.tick_that_sees(), paused });
        let change = if paused { Change::Pauses } else { Change::Resumes };
        self.rearrange(plan, change, tell);
    }

    /// Narrows the bindings to those of one scheme, or lets all count again.
    pub fn narrow(
        &mut self,
        plan: &Tables,
        scheme: Option<SchemeId>,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let before = std::mem::replace(&mut self.inputs.maps.narrowed, scheme);
        if before == scheme {
            return;
        }
        let mut next = self.inputs.maps.living.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.living.next(action.index() + 1);
            let from = self.episodes.actions[action].from;
            if from.is_some_and(|binding| !self.inputs.is_enabled(plan, binding)) {
                self.end_and_tell_others(plan, action, Cause::SchemeOff, tell);
            }
            for &plus in plan.actions[action].pluses.of(&plan.listed_pluses) {
                let own = plan.bindings[plan.pluses[plus].binding].scheme;
                match (says(before, own), says(scheme, own)) {
                    (_, false) => self.inputs.end_plus(&mut self.agenda, plan, plus),
                    (false, true) => self.agenda.new_pluses.insert(plus),
                    (true, true) => {}
                }
            }
            self.touch(plan, action);
        }
        self.rearrange(plan, Change::Narrows, tell);
    }
}

/// Whether what belongs to `own` counts when bindings are narrowed to one scheme.
fn says(narrowed: Option<SchemeId>, own: Option<SchemeId>) -> bool {
    narrowed.is_none() || own.is_none() || narrowed == own
}

impl Inputs {
    /// Whether an action's map is open, or one that lists it.
    pub fn is_active(&self, action: ActionId) -> bool {
        self.maps.places[action] != NOWHERE
    }

    /// The place in order of the map that an action lives in.
    pub fn place(&self, action: ActionId) -> u32 {
        self.maps.places[action]
    }

    pub fn switch_map(
        &mut self,
        clock: Clock,
        map: MapId,
        open: bool,
        tell: &mut (impl Tell + ?Sized),
    ) {
        self.maps.set_open(map, open);
        tell(Notice::Map { t: clock.now, tick: clock.tick_that_sees(), map, open });
    }

    /// What will live, and where. An action keeps the first of the open maps that have it.
    pub fn find_next(&mut self, plan: &Tables) {
        self.maps.next.clear();
        for index in 0..self.maps.order.len() {
            let Some(&map) = self.maps.order.get(index) else { return };
            for &action in &plan.maps[map].residents {
                let rests = self.maps.paused && !plan.actions[action].in_pause;
                if !rests && !self.maps.next.contains(action) {
                    self.maps.next.insert(action);
                    self.maps.places[action] = index as u32;
                }
            }
        }
    }

    /// Whether a binding counts: its scheme is not narrowed away.
    #[inline]
    pub fn is_enabled(&self, plan: &Tables, binding: crate::base::BindingId) -> bool {
        self.maps.narrowed.is_none() || says(self.maps.narrowed, plan.bindings[binding].scheme)
    }
}
