//! Hands that are at work now: inputs as they come, ticks as time goes by, and what there is to see of both.
//!
//! Guarantees: what is shown is what a run of the same inputs gives, to the nanosecond; memory has a bound, however
//! long it goes on and however much comes.

mod follow;

pub use follow::Follow;

use crate::take::{Input, Playing, Reader, What, write_header, write_input};
use crate::trace::Lanes;
use harmonym_runtime::base::{Seat, Time};
use harmonym_runtime::engine::{Frame, Notice, Refused, Start};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use std::collections::VecDeque;
use std::sync::Arc;

/// So long back can be looked.
pub const BACK: Time = Time::from_millis(60_000);

/// What is older than this is dropped, once in a while.
const KEPT: Time = Time::from_millis(70_000);

/// So often.
const SWEPT: Time = Time::from_millis(5_000);

/// So many inputs are kept, to play them again.
const MOST_INPUTS: usize = 1_000_000;

/// So many of the last events are kept.
const MOST_TOLD: usize = 256;

/// The hands, what they did, and what came of it.
#[derive(Clone, Debug)]
pub struct Live {
    plan: Arc<Plan>,
    playing: Playing,
    seats: Seats,
    /// The last tick or input.
    now: Time,
    /// Where the inputs that are kept begin.
    base: Option<(Time, Seats)>,
    inputs: Vec<Input>,
    seen: Seen,
    swept: Time,
    /// Whether nothing came since the last tick.
    just_ticked: bool,
}

impl Live {
    /// Hands at time 0.
    pub fn new(plan: Arc<Plan>, playing: Playing) -> Self {
        let count = playing.seats.unwrap_or(plan.seats());
        let start = Start { map: playing.start, scheme: playing.scheme };
        let mut seen = Seen {
            lanes: Lanes::new(&plan, count),
            told: VecDeque::new(),
            news: Some(Vec::new()),
            changes: 0,
        };
        let seats =
            Seats::start(Arc::clone(&plan), count, start, &mut |told| seen.take(&plan, told));
        Self {
            plan,
            playing,
            seats,
            now: Time::ZERO,
            base: None,
            inputs: Vec::new(),
            seen,
            swept: Time::ZERO,
            just_ticked: false,
        }
    }

    /// The plan that they play on.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// All that was told since this was asked last; who never asks says so with [`forget_news`](Self::forget_news).
    pub fn news(&mut self) -> Vec<Told> {
        self.seen.news.as_mut().map(std::mem::take).unwrap_or_default()
    }

    /// Nobody will ask for all that is told.
    pub fn forget_news(&mut self) {
        self.seen.news = None;
    }

    /// What can be drawn of the last minute.
    pub fn lanes(&self) -> &Lanes {
        &self.seen.lanes
    }

    /// The last events, in order.
    pub fn told(&self) -> &VecDeque<Told> {
        &self.seen.told
    }

    /// The hands rest: what is open ends, with cause `stopped`.
    pub fn stop(&mut self) {
        let Self { plan, seats, seen, .. } = self;
        seats.stop(&mut |told| seen.take(plan, told));
    }

    /// How they began.
    pub fn playing(&self) -> Playing {
        self.playing
    }

    /// The last tick or input.
    pub fn now(&self) -> Time {
        self.now
    }

    /// When something happened last.
    pub fn last_input(&self) -> Time {
        let base = self.base.as_ref().map(|(t, _)| *t);
        self.inputs.last().map(|input| input.t).or(base).unwrap_or_default()
    }

    /// A number that differs whenever there is something else to see.
    pub fn changes(&self) -> u64 {
        self.seen.changes
    }

    /// What the game reads of a seat.
    pub fn frame(&mut self, seat: Seat) -> Frame<'_> {
        self.seats.frame(seat)
    }

    /// Whether a seat plays: the first does, others from the first time on that something happened to them.
    pub fn plays(&self, seat: Seat) -> bool {
        seat == Seat::FIRST || self.seen.lanes.plays(seat)
    }

    /// The seats there are.
    pub fn seats(&self) -> &Seats {
        &self.seats
    }

    /// Until when nothing can come by itself that anybody would see: it is enough to let time go by then.
    pub fn rests_until(&self) -> Time {
        let next = self.next_tick();
        match self.seats.rests_until() {
            Some(rests) if self.just_ticked => rests.max(next),
            _ => next,
        }
    }

    /// When the next tick comes.
    pub fn next_tick(&self) -> Time {
        self.playing.rate.tick(self.seats.ticks() + 1)
    }

    /// Something happens at `t`, or right after what is over by then: gives it as it was taken, for a take that gives
    /// the same.
    ///
    /// # Errors
    /// When the seats refuse it; then nothing happened.
    pub fn input(&mut self, t: Time, what: What) -> Result<Input, Refused> {
        self.ticks_before(t);
        // What comes with a tick that was is seen by the next one.
        let ticked = self.playing.rate.tick(self.seats.ticks());
        let after = match self.seats.ticks() {
            0 => Time::ZERO,
            _ => ticked + Time::from_nanos(1),
        };
        let what = match what {
            // A take may not say more than a number can be.
            What::Number(seat, id, value) => {
                let spec = self.plan.variables().get(id);
                What::Number(seat, id, spec.map_or(value, |spec| spec.held_to_range(value)))
            }
            what => what,
        };
        let input = Input { t: t.max(after).max(self.now), what };
        let Self { plan, seats, seen, .. } = self;
        input.give(seats, &mut |told| seen.take(plan, told))?;
        seen.lanes.input(plan, &input);
        seen.changes += 1;
        self.now = input.t;
        self.just_ticked = false;
        self.inputs.push(input);
        if self.inputs.len() >= MOST_INPUTS {
            self.inputs.clear();
            self.base = Some((self.now, self.seats.clone()));
        }
        Ok(input)
    }

    /// Time goes by until `t`.
    pub fn until(&mut self, t: Time) {
        self.ticks_before(t + Time::from_nanos(1));
    }

    /// All ticks before `t`.
    fn ticks_before(&mut self, t: Time) {
        while self.next_tick() < t {
            let at = self.next_tick();
            let Self { plan, seats, seen, .. } = self;
            seats.tick(at, &mut |told| seen.take(plan, told));
            for seat in seats.all() {
                let frame = seats.frame(seat);
                seen.changes += u64::from(frame.changed().next().is_some());
                seen.lanes.tick(seat, frame, at);
            }
            self.now = at;
            self.just_ticked = true;
        }
        if self.now.since(self.swept) >= SWEPT {
            self.swept = self.now;
            self.seen.lanes.forget(self.now.since(KEPT));
        }
    }

    /// The same hands on another plan, as if it had been so from the beginning, and how many inputs it has no
    /// names for.
    pub fn on(&self, plan: &Arc<Plan>) -> (Self, usize) {
        let playing = self.playing_on(plan);
        let mut live = Self::new(Arc::clone(plan), playing);
        let mut lost = 0;
        if let Some((t, seats)) = &self.base {
            let mut seats = seats.clone();
            if seats.replan(*t, Arc::clone(plan), &mut |_| {}).is_err() {
                // Devices with other controls: it begins anew, at the time it is.
                live.until(self.now);
                return (live, self.inputs.len());
            }
            live.base = Some((*t, seats.clone()));
            (live.seats, live.now, live.swept) = (seats, *t, *t);
        }
        let mut header = String::new();
        // Writing to memory does not fail, and this header names nothing.
        let _ = write_header(&mut header, None, None, None, None, playing.seats);
        let Ok((mut reader, _)) = Reader::new("live", &header, plan) else { return (live, 0) };
        let mut line = String::new();
        for input in &self.inputs {
            line.clear();
            let _ = write_input(&mut line, &self.plan, input);
            let taken = match reader.line(&line) {
                Ok(Some(own)) => live.input(own.t, own.what).is_ok(),
                Ok(None) => true,
                Err(_) => false,
            };
            lost += usize::from(!taken);
        }
        live.until(self.now);
        (live, lost)
    }

    /// The same beginning by the names of another plan.
    fn playing_on(&self, plan: &Plan) -> Playing {
        let names = self.plan.names();
        let start = self.playing.start.and_then(|map| plan.find_map(&names.maps[map]).ok());
        let scheme = self.playing.scheme.map(|scheme| &names.schemes[scheme]);
        let scheme = scheme.and_then(|name| {
            plan.names().schemes.entries().find(|(_, own)| *own == name).map(|(id, _)| id)
        });
        Playing { start, scheme, ..self.playing }
    }
}

/// What can be seen of what is told.
#[derive(Clone, Debug)]
struct Seen {
    /// What can be drawn of the last minute.
    lanes: Lanes,
    /// The last events, in order.
    told: VecDeque<Told>,
    /// All that was told since somebody took it, for who wants all of it.
    news: Option<Vec<Told>>,
    /// How often something changed that can be seen.
    changes: u64,
}

impl Seen {
    fn take(&mut self, plan: &Plan, told: Told) {
        self.lanes.notice(plan, &told);
        self.changes += 1;
        if let Some(news) = &mut self.news {
            news.push(told);
        }
        // What fires at every tick would push all else out: the last of it stays.
        if let Notice::Event(event) = told.notice {
            let is_own = |one: &Told| {
                let own = matches!(one.notice, Notice::Event(own) if own.action == event.action);
                own && one.seat == told.seat
            };
            let last = self.told.iter().rposition(is_own);
            let is_same = |place: &usize| {
                let last = self.told[*place].notice;
                matches!(last, Notice::Event(last) if last.kind == event.kind)
            };
            if let Some(place) = last.filter(is_same) {
                self.told.remove(place);
            }
        }
        if self.told.len() == MOST_TOLD {
            self.told.pop_front();
        }
        self.told.push_back(told);
    }
}
