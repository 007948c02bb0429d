//! Plays reports on an engine at a rate, tick by tick.

use super::Input;
use super::limits::MOST_EVENTS;
use harmonym_runtime::base::{MapId, Rate, SchemeId, Time};
use harmonym_runtime::engine::{Engine, Frame, Notice, Start};
use harmonym_runtime::plan::Plan;
use std::ops::ControlFlow;
use std::sync::Arc;

/// The longest that a run goes on after its last input.
const AFTER_LAST: Time = Time::from_millis(10_000);

/// Fewer idle ticks than this are gone through.
const WORTH_SKIPPING: u64 = 16;

/// What looks on while a run goes.
pub trait Watcher {
    /// Whether it wants to look on after each single instant.
    const EVERY_INSTANT: bool = false;

    /// The engine told something.
    fn notice(&mut self, notice: Notice);

    /// A tick is over; game code would read `frame` now.
    fn tick(&mut self, _frame: Frame<'_>, _t: Time) {}

    /// So many ticks come at which nothing happens and all stays as it is in `frame`; they are not
    /// told one by one.
    fn idle(&mut self, _frame: Frame<'_>, _ticks: u64) {}

    /// All ticks are over; what is still open ends next.
    fn over(&mut self, _frame: Frame<'_>) {}

    /// An instant is worked through, with its input if there was one; only with [`EVERY_INSTANT`](Self::EVERY_INSTANT).
    fn instant(&mut self, _frame: Frame<'_>, _input: Option<&Input>) {}
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
}

/// One take or score on its way through an engine.
#[derive(Debug)]
pub struct Run {
    engine: Engine,
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
        let Playing { start, rate, scheme } = playing;
        let end = until.map(|until| first_tick_at(rate, until));
        let start = Start { map: start, scheme };
        Self {
            engine: Engine::start(plan, start, &mut |n| watcher.notice(n)),
            rate,
            next_tick: rate.tick(1),
            last_input: Time::ZERO,
            end,
            told: 0,
        }
    }

    /// The ticks before `input`, then the input. Breaks when the run ends before it, or is cut short;
    /// then [`finish`](Self::finish) is next.
    pub fn input<W: Watcher>(&mut self, input: Input, watcher: &mut W) -> ControlFlow<()> {
        self.ticks_before(input.t, watcher)?;
        self.instants_before(input.t, watcher);
        self.last_input = input.t;
        let done = input.give(&mut self.engine, &mut counted(&mut self.told, watcher));
        // Who reads scores and takes looks at what is in them; what is refused changes nothing.
        debug_assert_eq!(done, Ok(()), "{input:?}");
        if W::EVERY_INSTANT {
            watcher.instant(self.engine.frame(), Some(&input));
        }
        ControlFlow::Continue(())
    }

    /// Goes on to `at`, a tick at that very moment included, for a look at the engine. What comes
    /// after must not be earlier.
    pub fn look(&mut self, at: Time, watcher: &mut impl Watcher) -> Frame<'_> {
        while self.next_tick <= at && !self.is_cut() {
            self.skip_idle_before(at, watcher);
            self.tick(watcher);
        }
        self.instants_before(at, watcher);
        self.last_input = self.last_input.max(at);
        self.engine.advance(at, &mut counted(&mut self.told, watcher))
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
        watcher.over(self.engine.frame());
        self.engine.stop(&mut |n| watcher.notice(n));
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
        let Some(rests) = self.engine.rests_until() else { return };
        // The tick before the first at or after that moment.
        let last = first_tick_at(self.rate, t.min(rests)) - 1;
        if last > done + 1 {
            watcher.idle(self.engine.frame(), last - done - 1);
            self.engine.pass_ticks(last - done - 1);
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
        while let Some(due) = self.engine.frame().next_due().filter(|due| *due < t) {
            let frame = self.engine.advance(due, &mut counted(&mut self.told, watcher));
            watcher.instant(frame, None);
        }
    }

    fn done(&self) -> u64 {
        self.engine.ticks()
    }

    fn tick(&mut self, watcher: &mut impl Watcher) {
        let t = self.next_tick;
        self.instants_before(t, watcher);
        let frame = self.engine.tick(t, &mut counted(&mut self.told, watcher));
        self.next_tick = self.rate.tick(frame.ticks() + 1);
        watcher.tick(frame, t);
    }

    fn is_over(&mut self) -> bool {
        let done = self.done();
        if self.end.is_some() || self.is_cut() {
            return self.has_ended();
        }
        let is_settled = self.engine.frame().is_settled();
        let at_limit = self.next_tick > self.last_input + AFTER_LAST;
        done > 0 && self.rate.tick(done) >= self.last_input && (is_settled || at_limit)
    }
}

/// Tells the watcher, and counts.
fn counted(told: &mut u64, watcher: &mut impl Watcher) -> impl FnMut(Notice) {
    |notice| {
        *told += 1;
        watcher.notice(notice);
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
