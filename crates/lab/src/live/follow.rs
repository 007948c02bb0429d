//! Why an action of hands that are at work now is as it is.

use super::Live;
use crate::explain::{Record, Story};
use crate::take::Run;
use harmonym_runtime::base::{ActionId, Seat, Time};
use std::sync::Arc;

/// So many episodes are remembered, and so many presses in vain.
const KEPT: usize = 8;

/// Goes along with live hands, an eye on one action.
pub struct Follow {
    seat: Seat,
    action: ActionId,
    run: Run,
    record: Record,
    /// How many of the inputs were seen.
    seen: usize,
    /// Where the inputs began.
    base: Option<Time>,
}

impl Follow {
    /// An eye on one action of a seat.
    pub fn new(live: &Live, seat: Seat, action: ActionId) -> Self {
        let mut record = Record::new(&live.plan, seat, action);
        let run = match &live.base {
            None => Run::new(Arc::clone(&live.plan), live.playing, None, &mut record),
            Some((_, seats)) => Run::going_on(seats.clone(), live.playing.rate),
        };
        let base = live.base.as_ref().map(|(t, _)| *t);
        Self { seat, action, run, record, seen: 0, base }
    }

    /// Whose it is, and which.
    pub fn of(&self) -> (Seat, ActionId) {
        (self.seat, self.action)
    }

    /// Takes in what happened up to `at`, so that there is less to do when it is asked.
    pub fn go_on(&mut self, live: &Live, at: Time) {
        if self.base != live.base.as_ref().map(|(t, _)| *t) {
            *self = Self::new(live, self.seat, self.action);
        }
        for input in live.inputs.iter().skip(self.seen).take_while(|input| input.t <= at) {
            self.seen += 1;
            // Nobody asked it to end.
            let _ = self.run.input(*input, &mut self.record);
        }
    }

    /// How it stands at `at`, with the last of its episodes and of what was pressed in vain; what was asked before
    /// must not be later.
    pub fn at(&mut self, live: &Live, at: Time) -> Story {
        self.go_on(live, at);
        let mut moment = self.record.look(&mut self.run, at.min(live.now));
        let Record { episodes, misses, touched, .. } = &mut self.record;
        episodes.drain(..episodes.len().saturating_sub(KEPT));
        misses.drain(..misses.len().saturating_sub(KEPT));
        moment.episode = episodes.len().checked_sub(1);
        Story {
            episodes: episodes.clone(),
            misses: misses.clone(),
            touched: *touched,
            last: moment.status.clone(),
            moment: Some(moment),
            is_cut: false,
        }
    }
}
