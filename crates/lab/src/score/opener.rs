//! Which actions a score takes for what opens a map: what fired right before.

use super::{Act, Score};
use crate::take::{Run, Watcher, What};
use harmonym_runtime::base::{ActionId, MapId, Rate, Seat, Time};
use harmonym_runtime::engine::{Event, EventKind, Notice};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Told;
use std::sync::Arc;

/// The game answers within so long.
const AT_ONCE: Time = Time::from_millis(50);

/// Every map that is opened, with each action that fired within 50 ms before it.
pub fn fires_before_maps(plan: &Arc<Plan>, score: &Score) -> Vec<(MapId, ActionId)> {
    let opens = |what: &What| matches!(what, What::Map(_, _, true));
    let openings =
        score.instructions.iter().filter(|one| matches!(one.act, Act::Other(what) if opens(&what)));
    let mut left = openings.count();
    if left == 0 {
        return Vec::new();
    }
    let mut seen = Seen { plan: Arc::clone(plan), fires: Vec::new(), pairs: Vec::new() };
    let rate = score.rate.unwrap_or(Rate::DEFAULT);
    let playing = score.playing(rate);
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut seen);
    // After the last map there is nothing to learn.
    let mut inputs = score.perform();
    while left > 0
        && let Some(input) = inputs.next()
    {
        left -= usize::from(opens(&input.what));
        // Without an end that was asked for, a run takes every input.
        let _ = run.input(input, &mut seen);
    }
    seen.pairs
}

struct Seen {
    plan: Arc<Plan>,
    fires: Vec<(Time, Option<Seat>, ActionId)>,
    pairs: Vec<(MapId, ActionId)>,
}

impl Watcher for Seen {
    fn notice(&mut self, Told { seat, notice }: Told) {
        match notice {
            // What fires all along tells the game nothing new.
            Notice::Event(Event { t, action, kind: EventKind::Fire(by, _), .. })
                if !matches!(self.plan.alternatives()[by].cue, Cue::While | Cue::Change) =>
            {
                self.fires.retain(|(at, ..)| t.since(*at) <= AT_ONCE);
                self.fires.push((t, seat, action));
            }
            Notice::Map { t, map, open: true, .. } => {
                let right_before =
                    self.fires.iter().filter(|(at, of, _)| *of == seat && t.since(*at) <= AT_ONCE);
                self.pairs.extend(right_before.map(|(.., action)| (map, *action)));
            }
            _ => {}
        }
    }
}
