//! Which scheme the hands use.

use super::Tell;
use super::event::Notice;
use super::state::State;
use crate::base::limits::{MOVED, MOVED_WITHIN, TIE};
use crate::base::{Class, ControlKind, SchemeId, Time};
use crate::plan::Tables;

/// So many reports of movement are remembered; past that, the latest share one entry.
const REMEMBERED: usize = 256;

/// The scheme in use, and what moved of late.
#[derive(Clone, Debug)]
pub(super) struct Usage {
    scheme: Option<SchemeId>,
    /// By class: reports of movement, oldest first; of classes that move.
    moved: Box<[Vec<(Time, f64)>]>,
}

impl Usage {
    pub fn new(plan: &Tables) -> Self {
        let mut moved = vec![Vec::new(); plan.schemes_of_class.len()];
        for control in plan.controls.iter().filter(|c| c.kind == ControlKind::Relative) {
            if let Some(of_class) = moved.get_mut(control.class.index()) {
                *of_class = Vec::with_capacity(REMEMBERED);
            }
        }
        Self { scheme: None, moved: moved.into() }
    }

    /// The scheme in use.
    pub fn scheme(&self) -> Option<SchemeId> {
        self.scheme
    }

    pub fn reset(&mut self) {
        self.scheme = None;
        self.moved.iter_mut().for_each(Vec::clear);
    }
}

impl State {
    /// The scheme in use becomes that of `class`: the present one if it has it, else the first.
    pub fn use_class(&mut self, plan: &Tables, class: Class, tell: Tell<'_>) {
        let schemes = plan.schemes_of_class.get(class.index()).map_or(&[][..], |s| s);
        let stays = self.inputs.usage.scheme.is_some_and(|present| schemes.contains(&present));
        let Some(&scheme) = schemes.first().filter(|_| !stays) else { return };
        self.inputs.usage.scheme = Some(scheme);
        tell(Notice::Scheme { t: self.now, tick: self.tick_that_sees(), scheme });
    }

    /// Takes in that something of `class` moved by so many counts.
    pub fn use_moved(&mut self, plan: &Tables, class: Class, counts: f64, tell: Tell<'_>) {
        let Some(moved) = self.inputs.usage.moved.get_mut(class.index()) else { return };
        let schemes = plan.schemes_of_class.get(class.index()).map_or(&[][..], |s| s);
        if self.inputs.usage.scheme.is_some_and(|present| schemes.contains(&present)) {
            return;
        }
        let now = self.now;
        moved.retain(|(at, _)| now.since(*at) <= MOVED_WITHIN);
        match moved.pop() {
            Some((_, sum)) if moved.len() + 1 == REMEMBERED => moved.push((now, sum + counts)),
            last => {
                moved.extend(last);
                moved.push((now, counts));
            }
        }
        // Movement in whole counts may come in shares of one.
        if moved.iter().map(|(_, counts)| counts).sum::<f64>() >= MOVED - TIE {
            moved.clear();
            self.use_class(plan, class, tell);
        }
    }
}
