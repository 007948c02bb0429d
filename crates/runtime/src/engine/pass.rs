//! One instant worked through: what is due and what is dirty, in working order.

use super::Tell;
use super::agenda::Agenda;
use super::clock::Mode;
use super::episodes::Episodes;
use super::event::Cause;
use super::looks::NEVER;
use super::state::State;
use super::timers::When;
use crate::base::{ActionId, AlternativeId, Id, Kind, Time, Vector};
use crate::plan::Tables;

/// What others see of an action; when it changes, those that name it are worked out too.
#[derive(PartialEq)]
struct Outside {
    episode: Episode,
    /// As it was worked out last: what moves in between is no event.
    value: Vector,
}

#[derive(PartialEq)]
struct Episode {
    awake: bool,
    live: bool,
    first_fires: u64,
    live_at: Option<Time>,
    forced_at: Option<Time>,
}

impl State {
    /// Goes on to `at`, through all that is due by then, up to `through`. A time before
    /// the present one counts as the present one.
    #[inline(always)]
    pub fn advance(
        &mut self,
        plan: &Tables,
        at: Time,
        through: When,
        tell: &mut (impl Tell + ?Sized),
    ) {
        if self.is_still_until(at) {
            return self.clock.go_on(at);
        }
        (self.clock.frame_stands, self.clock.mode) = (false, Mode::Event);
        self.go_through(plan, at, through, tell);
    }

    /// Goes on to `at` for something that the game does there: every value is that of this moment.
    pub fn be_at(&mut self, plan: &Tables, at: Time, tell: &mut (impl Tell + ?Sized)) {
        self.advance(plan, at, When::Look, tell);
        self.show_all(plan);
    }

    /// Whether nothing is due by `at`, and nobody has to see what moves until then.
    #[inline(always)]
    pub fn is_still_until(&self, at: Time) -> bool {
        self.episodes.timers.is_quiet_until(at)
            && at < self.agenda.next_look
            && self.agenda.watched.is_empty()
    }

    /// Until when ticks tell nothing and change nothing that is read at them, if nothing is reported:
    /// right after a tick that changed nothing itself, while nothing moves, adds up or fires at ticks.
    pub fn rests_until(&self) -> Option<Time> {
        let Agenda { moving, at_tick, changed, recheck, waiting, .. } = &self.agenda;
        let is_over = self.clock.frame_stands;
        debug_assert!(!is_over || self.is_idle() && recheck.is_empty() && waiting.is_empty());
        let rests = is_over
            && moving.is_empty()
            && at_tick.is_empty()
            && changed.is_empty()
            && self.episodes.firing.is_empty();
        let due = self.episodes.timers.first().map_or(NEVER, |(due, _, _)| due);
        rests.then_some(due)
    }

    #[inline(never)]
    fn go_through(
        &mut self,
        plan: &Tables,
        at: Time,
        through: When,
        tell: &mut (impl Tell + ?Sized),
    ) {
        loop {
            let timer = self.episodes.timers.first().map(|(due, when, _)| (due, when));
            let look = (self.agenda.next_look, When::Look);
            let (due, when) = timer.map_or(look, |timer| timer.min(look));
            if (due, when) > (at, through) || due == NEVER {
                break;
            }
            if when == When::Look {
                self.clock.now = self.clock.now.max(due);
                self.look(plan, tell);
                continue;
            }
            self.go_to(plan, due);
            while let Some((next, of, alternative)) = self.episodes.timers.first() {
                if (next, of) != (due, when) {
                    break;
                }
                self.episodes.timers.cancel(alternative);
                self.episodes.due.insert(alternative);
            }
            self.pass(plan, tell);
        }
        self.go_to(plan, at);
    }

    /// Goes on to `at`, where nothing is due before; what moves and is watched has its value of that
    /// moment.
    fn go_to(&mut self, plan: &Tables, at: Time) {
        if at > self.clock.now {
            self.clock.now = at;
            if !self.agenda.watched.is_empty() {
                self.peek_all(plan);
            }
        }
    }

    /// Works through everything that is due or dirty, action by action in working order.
    pub fn pass(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        while let Some(action) = self.next_action(plan) {
            self.work_one(plan, action, tell);
        }
    }

    /// Whether nothing is to be worked through, at a tick or after it: what falls due was worked through before,
    /// and a `+` changes with its action.
    #[inline]
    fn is_idle(&self) -> bool {
        let Agenda { dirty, to_peek, stale_pluses, .. } = &self.agenda;
        let is_idle = dirty.is_empty() && to_peek.is_empty();
        debug_assert!(!is_idle || stale_pluses.is_empty() && self.episodes.due.is_empty());
        is_idle
    }

    /// The first action with something to do; every `+` is settled before.
    #[inline]
    fn next_action(&mut self, plan: &Tables) -> Option<ActionId> {
        self.settle_pluses(plan);
        if self.episodes.due.is_empty() && self.agenda.to_peek.is_empty() {
            return self.agenda.dirty.next(0);
        }
        let due =
            self.episodes.due.next(0).map(|alternative| plan.alternatives[alternative].action);
        [due, self.agenda.dirty.next(0), self.agenda.to_peek.next(0)].into_iter().flatten().min()
    }

    fn work_one(&mut self, plan: &Tables, action: ActionId, tell: &mut (impl Tell + ?Sized)) {
        self.catch_up_before(plan, action);
        let is_named = !plan.actions[action].named_by.is_empty();
        let before = if is_named { self.episodes.outside(plan, action) } else { None };
        self.agenda.to_peek.remove(action);
        let due =
            self.episodes.due.next(0).map(|alternative| plan.alternatives[alternative].action);
        let is_due = due == Some(action);
        if is_due {
            if self.agenda.moving.contains(action) {
                self.peek(plan, action);
            }
            self.run_due(plan, action, tell);
        }
        if self.agenda.dirty.contains(action) {
            self.agenda.dirty.remove(action);
            self.work_out(plan, action, tell);
        } else if !is_due {
            self.peek(plan, action);
            self.cues(plan, tell).look_at_change(action);
        }
        if is_named {
            self.touch_if_changed(plan, action, &before);
        }
    }

    /// The tick itself: what has values only at ticks is worked out, what moves has its value of
    /// this moment, and every `while` that is on fires; action by action in working order.
    pub fn tick(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        self.clock.mode = Mode::Tick;
        // What is still under way asks for the next tick while it is worked out at this one.
        if !self.agenda.at_tick.is_empty() {
            std::mem::swap(&mut self.agenda.at_tick, &mut self.agenda.at_last_tick);
            while let Some(action) = self.agenda.at_last_tick.pop() {
                self.inputs.take_sums(&mut self.agenda, plan, action);
                self.touch(plan, action);
            }
        }
        if !self.agenda.moving.is_empty() {
            self.look_late_at_all(plan);
            self.peek_moving(plan);
        }
        while let Some(action) = self.agenda.recheck.pop() {
            self.agenda.to_peek.insert(action);
        }
        let mut from = if self.is_idle() { self.fire_unnamed(plan, tell) } else { 0 };
        loop {
            let firing = self.episodes.firing.next(from);
            let work = if self.is_idle() { None } else { self.next_action(plan) };
            let comes_first = |action| {
                firing.is_none_or(|id: AlternativeId| action <= plan.alternatives[id].action)
            };
            match (firing, work) {
                (_, Some(action)) if comes_first(action) => self.work_one(plan, action, tell),
                (Some(alternative), _) => {
                    self.fire_at_tick(plan, alternative, tell);
                    from = alternative.index() + 1;
                }
                (None, _) => break,
            }
        }
        self.clock.mode = Mode::Event;
        self.agenda.shown_at = self.clock.now;
        self.settle_frame(plan);
    }

    /// Fires every `while` that is on up to the first whose action others name, where nothing is to be
    /// worked through; tells from where on the rest is. Nothing comes to be by that, since nobody else
    /// sees it.
    fn fire_unnamed(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) -> usize {
        let mut from = 0;
        let mut cues = self.cues(plan, tell);
        while let Some(id) = cues.episodes.firing.next(from) {
            let action = plan.alternatives[id].action;
            let spec = &plan.actions[action];
            if !spec.named_by.is_empty() {
                break;
            }
            let value = cues.episodes.actions[action].value_now(spec.kind);
            cues.fire(id, value, None);
            from = id.index() + 1;
        }
        from
    }

    /// Fires a `while` at a tick.
    fn fire_at_tick(&mut self, plan: &Tables, id: AlternativeId, tell: &mut (impl Tell + ?Sized)) {
        let action = plan.alternatives[id].action;
        let spec = &plan.actions[action];
        let value = self.episodes.actions[action].value_now(spec.kind);
        if spec.named_by.is_empty() {
            return self.cues(plan, tell).fire(id, value, None);
        }
        let before = self.episodes.outside(plan, action);
        self.cues(plan, tell).fire(id, value, None);
        self.touch_if_changed(plan, action, &before);
    }

    /// Ends an open episode by force, and has those worked out that name its action.
    pub fn end_and_tell_others(
        &mut self,
        plan: &Tables,
        action: ActionId,
        cause: Cause,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let before = self.episodes.outside(plan, action);
        self.cues(plan, tell).end_by_force(action, cause);
        self.touch_if_changed(plan, action, &before);
    }

    /// Has the actions worked out that name `action`, if they would see another than `before`.
    fn touch_if_changed(&mut self, plan: &Tables, action: ActionId, before: &Option<Outside>) {
        let (Some(before), Some(now)) = (before, self.episodes.outside(plan, action)) else {
            return;
        };
        // Whoever only names it asks whether it lives, not for its value.
        if now.episode != before.episode {
            for &other in plan.actions[action].named_by.of(&plan.listed) {
                self.agenda.dirty.insert(other);
                if now.episode.live != before.episode.live {
                    self.agenda.reguarded.insert(other);
                }
            }
        }
        if now != *before {
            for &reader in plan.actions[action].read_by.of(&plan.listed) {
                self.touch(plan, reader);
            }
        }
    }

    fn run_due(&mut self, plan: &Tables, action: ActionId, tell: &mut (impl Tell + ?Sized)) {
        while let Some(alternative) = self.episodes.due.next(0) {
            if plan.alternatives[alternative].action != action {
                return;
            }
            self.episodes.due.remove(alternative);
            self.cues(plan, tell).time_came(alternative);
        }
    }
}

impl Episodes {
    /// What others see of an action; nothing when no other names it.
    fn outside(&self, plan: &Tables, action: ActionId) -> Option<Outside> {
        if plan.actions[action].named_by.is_empty() {
            return None;
        }
        let state = &self.actions[action];
        let episode = Episode {
            awake: state.awake,
            live: self.is_live(plan, action),
            first_fires: state.first_fires,
            live_at: state.live_at,
            forced_at: state.forced_at,
        };
        Some(Outside {
            episode,
            value: match plan.actions[action].kind {
                _ if !state.awake => Vector::ZERO,
                Kind::Switch => self.value_now(plan, action),
                _ => state.settled,
            },
        })
    }
}
