//! What came of each action in a run, counted.

use super::table::table;
use crate::output::style::{Ink, Look, wrapped};
use harmonym_runtime::base::{ActionId, Id, MapId, MapKind, Seat, Time};
use harmonym_runtime::engine::{Cause, Event, EventKind};
use harmonym_runtime::plan::{Map, Plan};
use std::collections::BTreeMap;

/// Counts of each action; as long as the profile, not as the run.
pub struct Summary {
    /// By seat, then by action.
    actions: Vec<Counts>,
    seats: u8,
    /// For each map, whether it was open at some time.
    was_open: Vec<bool>,
}

#[derive(Clone, Default)]
struct Counts {
    woke: u64,
    fired: u64,
    ends: BTreeMap<(bool, Cause), u64>,
    longest: Time,
}

impl Summary {
    /// Nothing counted yet; the run begins with the solo map `start` in place of the profile's.
    pub fn new(plan: &Plan, seats: u8, start: Option<MapId>) -> Self {
        let open = |(id, map): (MapId, &Map)| match (start, map.kind) {
            (Some(start), MapKind::Solo) => start == id,
            _ => map.start,
        };
        Self {
            actions: vec![Counts::default(); plan.actions().len() * usize::from(seats)],
            seats,
            was_open: plan.maps().entries().map(open).collect(),
        }
    }

    /// A map opens.
    pub fn opens(&mut self, map: MapId) {
        if let Some(was_open) = self.was_open.get_mut(map.index()) {
            *was_open = true;
        }
    }

    pub fn event(&mut self, seat: Seat, event: &Event) {
        let all = self.actions.len() / usize::from(self.seats);
        let place = seat.index() * all + event.action.index();
        let Some(counts) = self.actions.get_mut(place) else { return };
        match event.kind {
            EventKind::Wake => counts.woke += 1,
            EventKind::Fire(..) => counts.fired += 1,
            EventKind::Lapse(cause) | EventKind::Rest(cause) => {
                let fired = matches!(event.kind, EventKind::Rest(_));
                *counts.ends.entry((fired, cause)).or_default() += 1;
                counts.longest = counts.longest.max(event.held.into());
            }
        }
    }

    /// A table of the actions that woke, and a line with those of the open maps that didn't.
    pub fn table(&self, plan: &Plan, look: Look, shown: impl Fn(ActionId) -> bool) -> String {
        let all = plan.actions().len();
        let of = |seat: Seat, id: ActionId| &self.actions[seat.index() * all + id.index()];
        let asked: Vec<ActionId> = plan.by_file().iter().copied().filter(|&id| shown(id)).collect();
        let woke: Vec<(Seat, ActionId)> = Seat::first(self.seats)
            .flat_map(|seat| asked.iter().map(move |&id| (seat, id)))
            .filter(|(seat, id)| of(*seat, *id).woke > 0)
            .collect();
        let has_woken = |id: &ActionId| woke.iter().any(|(_, other)| other == id);
        let never: Vec<ActionId> = asked.iter().copied().filter(|id| !has_woken(id)).collect();
        let rows = woke.iter().map(|&(seat, id)| {
            let counts = of(seat, id);
            let number = |n: u64| if n == 0 { "–".to_owned() } else { n.to_string() };
            let ends = |fired: bool| {
                let of = counts.ends.iter().filter(|((f, _), _)| *f == fired);
                let words: Vec<_> =
                    of.map(|((_, cause), n)| format!("{n} {}", cause.word())).collect();
                if words.is_empty() { "–".to_owned() } else { words.join(", ") }
            };
            let longest = format!("{:.4} s", counts.longest);
            let whose = Some(seat).filter(|_| self.seats > 1);
            let name = super::of_seat(whose, &plan.names().actions[id]).into_owned();
            [name, number(counts.woke), number(counts.fired), ends(true), ends(false), longest]
        });
        let heads = ["action", "woke", "fired", "rested", "lapsed", "longest"];
        let mut text = match woke.is_empty() {
            true => "no action woke\n".to_owned(),
            false => table(look, heads, rows.collect()),
        };
        let could = |id: &ActionId| {
            let maps = plan.actions()[*id].maps.of(plan.listed_maps());
            maps.iter().any(|map| self.was_open[map.index()])
        };
        let never: Vec<_> = never.into_iter().filter(could).collect();
        if !never.is_empty() && !woke.is_empty() {
            let names: Vec<_> = never.iter().map(|&id| plan.names().actions[id].as_str()).collect();
            let line = format!("never woke: {}", names.join(", "));
            text.push_str(&look.paint(Ink::Faint, wrapped(&line, look.width)));
            text.push('\n');
        }
        text
    }
}
