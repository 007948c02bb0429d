//! Plays reports on an engine at a rate, tick by tick.

use super::limits::MOST_EVENTS;
use super::{Input, What};
use harmonym_runtime::base::{MapId, Rate, SchemeId, Seat, Time};
use harmonym_runtime::engine::{Frame, Start};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use std::ops::ControlFlow;
use std::sync::Arc;

/// The longest that a run goes on after its last input.
pub(super) const AFTER_LAST: Time = Time::from_millis(10_000);

/// Fewer idle ticks than this are gone through.
const WORTH_SKIPPING: u64 = 16;

/// What looks on while a run goes.
pub trait Watcher {
    /// Whether it wants to look on after each single instant.
    const EVERY_INSTANT: bool = false;

    /// Something was told.
    fn notice(&mut self, told: Told);

    /// A tick is over; the game code of a seat would read `frame` now. Seats come in order.
    fn tick(&mut self, _seat: Seat, _frame: Frame<'_>, _t: Time) {}

    /// So many ticks come at which nothing happens and all of a seat stays as it is in `frame`; they are
    /// not told one by one.
    fn idle(&mut self, _seat: Seat, _frame: Frame<'_>, _ticks: u64) {}

    /// All ticks are over; what is still open of a seat ends next.
    fn over(&mut self, _seat: Seat, _frame: Frame<'_>) {}

    /// An instant is worked through, with its input if there was one, and what a seat has of it; only
    /// with [`EVERY_INSTANT`](Self::EVERY_INSTANT).
    fn instant(&mut self, _seat: Seat, _frame: Frame<'_>, _input: Option<&Input>) {}
}

/// How hands are played.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Playing {
    /// The map to begin with, in place of the profile's.
    pub start: Option<MapId>,
    /// Ticks a second.
    pub rate: Rate,
    /// The one scheme whose bindings count.
    pub scheme: Option<SchemeId>,
    /// How many players there are; as many as the profile says if nothing is said.
    pub seats: Option<u8>,
}

impl Playing {
    /// From the profile's start, with all that it binds and all its seats.
    pub const fn at(rate: Rate) -> Self {
        Self { start: None, rate, scheme: None, seats: None }
    }
}

/// One take or score on its way through an engine.
#[derive(Debug)]
pub struct Run {
    seats: Seats,
    rate: Rate,
    /// The moment of the tick after those that were.
    next_tick: Time,
    last_input: Time,
    /// The tick at which it ends, when that was asked for.
    end: Option<u64>,
    /// How much the engine has told.
    told: u64,
}

/// The end of a run.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct End {
    /// The moment of the last tick.
    pub t: Time,
    /// The last tick.
    pub tick: u64,
    /// Whether it was cut short, since it told [too much](MOST_EVENTS).
    pub is_cut: bool,
}

impl Run {
    /// A run from time 0. With `until`, it ends at the first tick at or after that.
    pub fn new(
        plan: Arc<Plan>,
        playing: Playing,
        until: Option<Time>,
        watcher: &mut impl Watcher,
    ) -> Self {
        let Playing { start, rate, scheme, seats } = playing;
        let seats = seats.unwrap_or(plan.seats());
        let end = until.map(|until| first_tick_at(rate, until));
        let start = Start { map: start, scheme };
        Self {
            seats: Seats::start(plan, seats, start, &mut |told| watcher.notice(told)),
            rate,
            next_tick: rate.tick(1),
            last_input: Time::ZERO,
            end,
            told: 0,
        }
    }

    /// A run that goes on with seats that ticked at that rate from time 0.
    pub fn going_on(seats: Seats, rate: Rate) -> Self {
        let next_tick = rate.tick(seats.ticks() + 1);
        Self { seats, rate, next_tick, last_input: Time::ZERO, end: None, told: 0 }
    }

    /// The ticks before `input`, then the input. Breaks when the run ends before it, or is cut short;
    /// then [`finish`](Self::finish) is next.
    pub fn input<W: Watcher>(&mut self, input: Input, watcher: &mut W) -> ControlFlow<()> {
        self.ticks_before(input.t, watcher)?;
        self.instants_before(input.t, watcher);
        self.last_input = input.t;
        let done = input.give(&mut self.seats, &mut counted(&mut self.told, watcher));
        // Who reads scores and takes looks at what is in them; what is refused changes nothing.
        debug_assert_eq!(done, Ok(()), "{input:?}");
        if W::EVERY_INSTANT {
            for seat in self.seats.all() {
                let own = self.of_seat(seat, input);
                watcher.instant(seat, self.seats.frame(seat), own.as_ref());
            }
        }
        ControlFlow::Continue(())
    }

    /// Goes on to `at`, a tick at that very moment included, for a look at the seats. What comes
    /// after must not be earlier.
    pub fn look(&mut self, at: Time, watcher: &mut impl Watcher) -> &mut Seats {
        while self.next_tick <= at && !self.is_cut() {
            self.skip_idle_before(at, watcher);
            self.tick(watcher);
        }
        self.instants_before(at, watcher);
        self.last_input = self.last_input.max(at);
        self.seats.advance(at, &mut counted(&mut self.told, watcher));
        &mut self.seats
    }

    /// What a seat has of an input: of its own devices, by their numbers within it.
    fn of_seat(&self, seat: Seat, input: Input) -> Option<Input> {
        let what = match input.what {
            What::Report(contact, value) => {
                let (owner, own) = self.seats.way_of(contact)?;
                (owner == seat).then_some(What::Report(own, value))?
            }
            What::Number(Some(one), ..) | What::Map(Some(one), ..) | What::Narrow(Some(one), _)
                if one != seat =>
            {
                return None;
            }
            What::Plug(device, _) if self.seats.owner(device) != Some(seat) => return None,
            what => what,
        };
        Some(Input { what, ..input })
    }

    fn each(&mut self, mut look: impl FnMut(Seat, Frame<'_>)) {
        for seat in self.seats.all() {
            look(seat, self.seats.frame(seat));
        }
    }

    /// The ticks after the last input until nothing is due any more, at the latest 10 s after
    /// it (or until the end that was asked for); then ends what is still open.
    pub fn finish(mut self, watcher: &mut impl Watcher) -> End {
        while !self.is_over() {
            if let Some(end) = self.end {
                self.skip_idle_before(self.rate.tick(end), watcher);
            }
            self.tick(watcher);
        }
        let tick = self.done();
        self.each(|seat, frame| watcher.over(seat, frame));
        self.seats.stop(&mut |told| watcher.notice(told));
        End { t: self.rate.tick(tick), tick, is_cut: self.is_cut() }
    }

    fn ticks_before(&mut self, t: Time, watcher: &mut impl Watcher) -> ControlFlow<()> {
        while self.next_tick < t {
            if self.has_ended() {
                return ControlFlow::Break(());
            }
            let end = self.end.map_or(t, |end| self.rate.tick(end));
            self.skip_idle_before(t.min(end), watcher);
            self.tick(watcher);
        }
        match self.has_ended() {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        }
    }

    /// Leaves out ticks at which nothing can change, but for the last before `t`.
    fn skip_idle_before(&mut self, t: Time, watcher: &mut impl Watcher) {
        let done = self.done();
        if self.rate.tick(done + WORTH_SKIPPING) >= t {
            return;
        }
        let Some(rests) = self.seats.rests_until() else { return };
        // The tick before the first at or after that moment.
        let last = first_tick_at(self.rate, t.min(rests)) - 1;
        if last > done + 1 {
            self.each(|seat, frame| watcher.idle(seat, frame, last - done - 1));
            self.seats.pass_ticks(last - done - 1);
            self.next_tick = self.rate.tick(last);
        }
    }

    /// Whether the end that was asked for is reached.
    fn has_ended(&self) -> bool {
        let done = self.done();
        self.end.is_some_and(|end| done >= end) || self.is_cut()
    }

    fn is_cut(&self) -> bool {
        self.told > MOST_EVENTS
    }

    /// One instant at a time, for who wants to look on.
    fn instants_before<W: Watcher>(&mut self, t: Time, watcher: &mut W) {
        if !W::EVERY_INSTANT {
            return;
        }
        while let Some(due) = self.seats.next_due().filter(|due| *due < t) {
            self.seats.advance(due, &mut counted(&mut self.told, watcher));
            self.each(|seat, frame| watcher.instant(seat, frame, None));
        }
    }

    fn done(&self) -> u64 {
        self.seats.ticks()
    }

    fn tick(&mut self, watcher: &mut impl Watcher) {
        let t = self.next_tick;
        self.instants_before(t, watcher);
        self.seats.tick(t, &mut counted(&mut self.told, watcher));
        self.next_tick = self.rate.tick(self.done() + 1);
        self.each(|seat, frame| watcher.tick(seat, frame, t));
    }

    fn is_over(&mut self) -> bool {
        let done = self.done();
        if self.end.is_some() || self.is_cut() {
            return self.has_ended();
        }
        let is_settled = self.seats.all().all(|seat| self.seats.frame(seat).is_settled());
        let at_limit = self.next_tick > self.last_input + AFTER_LAST;
        done > 0 && self.rate.tick(done) >= self.last_input && (is_settled || at_limit)
    }
}

/// Tells the watcher, and counts.
fn counted(told: &mut u64, watcher: &mut impl Watcher) -> impl FnMut(Told) {
    |one| {
        *told += 1;
        watcher.notice(one);
    }
}

/// The first tick, from 1, at or after `t`.
fn first_tick_at(rate: Rate, t: Time) -> u64 {
    let (mut before, mut at) = (0, 1);
    while rate.tick(at) < t {
        (before, at) = (at, at * 2);
    }
    while at - before > 1 {
        let middle = before + (at - before) / 2;
        if rate.tick(middle) < t { before = middle } else { at = middle }
    }
    at
}
