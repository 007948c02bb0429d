//! Plays reports on an engine at a rate, tick by tick.

use super::{Input, What};
use harmonym_runtime::base::{MapId, Rate, SchemeId, Time};
use harmonym_runtime::engine::{Engine, Notice};
use harmonym_runtime::plan::Plan;
use std::ops::ControlFlow;
use std::sync::Arc;

/// The longest that a run goes on after its last input.
const AFTER_LAST: Time = Time::from_millis(10_000);

/// What looks on while a run goes.
pub trait Watcher {
    /// Whether it wants to look on after each single instant.
    const EVERY_INSTANT: bool = false;

    /// The engine told something.
    fn notice(&mut self, notice: Notice);

    /// A tick is over; game code would read `engine` now.
    fn tick(&mut self, _engine: &Engine, _t: Time) {}

    /// All ticks are over; what is still open ends next.
    fn over(&mut self, _engine: &Engine) {}

    /// An instant is worked through, with its input if there was one; only with [`EVERY_INSTANT`](Self::EVERY_INSTANT).
    fn instant(&mut self, _engine: &Engine, _input: Option<&Input>) {}
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
    /// The map to open, until it is open.
    start: Option<Option<MapId>>,
    rate: Rate,
    /// The moment of the tick after those that were.
    next_tick: Time,
    last_input: Time,
    /// The tick at which it ends, when that was asked for.
    end: Option<u64>,
}

/// The end of a run.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct End {
    /// The moment of the last tick.
    pub t: Time,
    /// The last tick.
    pub tick: u64,
}

impl Run {
    /// A run from time 0. With `until`, it ends at the first tick at or after that.
    pub fn new(plan: Arc<Plan>, playing: Playing, until: Option<Time>) -> Self {
        let Playing { start, rate, scheme } = playing;
        let end = until.map(|until| first_tick_at(rate, until));
        let mut engine = Engine::new(plan);
        if scheme.is_some() {
            engine.narrow(Time::ZERO, scheme, &mut |_| {});
        }
        Self {
            engine,
            start: Some(start),
            rate,
            next_tick: rate.tick(1),
            last_input: Time::ZERO,
            end,
        }
    }

    /// Opens the first map, before anything else happens.
    fn start(&mut self, watcher: &mut impl Watcher) {
        if let Some(start) = self.start.take() {
            self.engine.start(start, &mut |n| watcher.notice(n));
        }
    }

    /// The ticks before `input`, then the input. Breaks when the run ends before it; then
    /// [`finish`](Self::finish) is next.
    pub fn input<W: Watcher>(&mut self, input: Input, watcher: &mut W) -> ControlFlow<()> {
        self.start(watcher);
        self.ticks_before(input.t, watcher)?;
        self.instants_before(input.t, watcher);
        self.last_input = input.t;
        let (t, tell) = (input.t, &mut |notice| watcher.notice(notice));
        match input.what {
            What::Report(control, value) => self.engine.report(t, control, value, tell),
            What::Number(named, value) => self.engine.set_number(t, named, value, tell),
            What::Map(map, true) => self.engine.open(t, map, tell),
            What::Map(map, false) => self.engine.close(t, map, tell),
            What::Pause(paused) => self.engine.pause(t, paused, tell),
            What::Narrow(scheme) => self.engine.narrow(t, scheme, tell),
        }
        if W::EVERY_INSTANT {
            self.engine.catch_up();
            watcher.instant(&self.engine, Some(&input));
        }
        ControlFlow::Continue(())
    }

    /// Goes on to `at`, a tick at that very moment included, for a look at the engine. What comes
    /// after must not be earlier.
    pub fn look(&mut self, at: Time, watcher: &mut impl Watcher) -> &Engine {
        self.start(watcher);
        while self.next_tick <= at {
            self.tick(watcher);
        }
        self.instants_before(at, watcher);
        self.engine.advance(at, &mut |notice| watcher.notice(notice));
        self.last_input = self.last_input.max(at);
        &self.engine
    }

    /// The ticks after the last input until nothing is due any more, at the latest 10 s after
    /// it (or until the end that was asked for); then ends what is still open.
    pub fn finish(mut self, watcher: &mut impl Watcher) -> End {
        self.start(watcher);
        while !self.is_over() {
            self.tick(watcher);
        }
        let tick = self.done();
        watcher.over(&self.engine);
        self.engine.stop(&mut |n| watcher.notice(n));
        End { t: self.rate.tick(tick), tick }
    }

    fn ticks_before(&mut self, t: Time, watcher: &mut impl Watcher) -> ControlFlow<()> {
        while self.next_tick < t {
            if self.end.is_some_and(|end| self.done() >= end) {
                return ControlFlow::Break(());
            }
            self.tick(watcher);
        }
        match self.end.is_some_and(|end| self.done() >= end) {
            true => ControlFlow::Break(()),
            false => ControlFlow::Continue(()),
        }
    }

    /// One instant at a time, for who wants to look on.
    fn instants_before<W: Watcher>(&mut self, t: Time, watcher: &mut W) {
        if !W::EVERY_INSTANT {
            return;
        }
        while let Some(due) = self.engine.next_due().filter(|due| *due < t) {
            self.engine.advance(due, &mut |notice| watcher.notice(notice));
            watcher.instant(&self.engine, None);
        }
    }

    fn done(&self) -> u64 {
        self.engine.ticks()
    }

    fn tick(&mut self, watcher: &mut impl Watcher) {
        let t = self.next_tick;
        self.instants_before(t, watcher);
        self.engine.tick(t, &mut |n| watcher.notice(n));
        self.next_tick = self.rate.tick(self.done() + 1);
        watcher.tick(&self.engine, t);
    }

    fn is_over(&self) -> bool {
        let done = self.done();
        if let Some(end) = self.end {
            return done >= end;
        }
        let settled = || self.engine.is_settled();
        let at_limit = || self.next_tick > self.last_input + AFTER_LAST;
        done > 0 && self.rate.tick(done) >= self.last_input && (settled() || at_limit())
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
