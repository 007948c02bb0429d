//! Sequences: actions that fire when others have fired in order.

use super::Tell;
use super::clock::Clock;
use super::cues::Cues;
use super::episodes::{Episodes, Stage};
use super::event::{Cause, EventKind};
use super::timers::When;
use crate::base::{ActionId, AlternativeId, ListSlice, ParamId, Table, Time, Vector};
use crate::plan::{Cue, Tables};

/// What all sequences remember: for each of their steps, the fires of its action that were taken
/// in, and when the step was done.
#[derive(Clone, Debug)]
pub(super) struct Sequences {
    /// Where the steps of each alternative begin.
    starts: Table<AlternativeId, u32>,
    seen: Box<[u64]>,
    done_at: Box<[Time]>,
}

impl Sequences {
    pub fn new(plan: &Tables) -> Self {
        let mut len = 0;
        let starts = plan.alternatives.iter().map(|alternative| {
            let start = len;
            if let Cue::Sequence(steps, _) = alternative.cue {
                len += steps.of(&plan.listed).len() as u32;
            }
            start
        });
        let starts: Vec<u32> = starts.collect();
        let len = len as usize;
        Self {
            starts: starts.into(),
            seen: vec![0; len].into(),
            done_at: vec![Time::ZERO; len].into(),
        }
    }

    pub fn reset(&mut self) {
        self.seen.fill(0);
        self.done_at.fill(Time::ZERO);
    }

    /// So many steps of an alternative are as they were as `old`.
    pub fn take_over(
        &mut self,
        id: AlternativeId,
        before: &Self,
        old: AlternativeId,
        steps: usize,
    ) {
        let (to, from) = (self.starts[id] as usize, before.starts[old] as usize);
        for step in 0..steps {
            let seen = self.seen.get_mut(to + step).zip(before.seen.get(from + step));
            seen.into_iter().for_each(|(to, from)| *to = *from);
            let done = self.done_at.get_mut(to + step).zip(before.done_at.get(from + step));
            done.into_iter().for_each(|(to, from)| *to = *from);
        }
    }

    fn seen(&mut self, id: AlternativeId, step: usize) -> Option<&mut u64> {
        self.seen.get_mut(self.starts[id] as usize + step)
    }

    fn done_at(&self, id: AlternativeId, step: usize) -> Time {
        self.done_at.get(self.starts[id] as usize + step).copied().unwrap_or_default()
    }

    fn set_done_at(&mut self, id: AlternativeId, step: usize, at: Time) {
        if let Some(slot) = self.done_at.get_mut(self.starts[id] as usize + step) {
            *slot = at;
        }
    }
}

impl Episodes {
    /// Takes in every fire that was, without a word.
    pub fn skip_fires(&mut self, id: AlternativeId, steps: &[ActionId]) {
        for (i, &action) in steps.iter().enumerate() {
            let fires = self.actions[action].first_fires;
            if let Some(seen) = self.sequences.seen(id, i) {
                *seen = fires;
            }
        }
    }

    /// The first action, in working order, with a fire that was not taken in; takes it in.
    fn next_step_fired(&mut self, id: AlternativeId, steps: &[ActionId]) -> Option<ActionId> {
        let mut first: Option<ActionId> = None;
        for (i, &action) in steps.iter().enumerate() {
            let fires = self.actions[action].first_fires;
            let is_new = self.sequences.seen(id, i).is_some_and(|seen| *seen < fires);
            if is_new && first.is_none_or(|other| action < other) {
                first = Some(action);
            }
        }
        let first = first?;
        for (i, _) in steps.iter().enumerate().filter(|(_, action)| **action == first) {
            if let Some(seen) = self.sequences.seen(id, i) {
                *seen += 1;
            }
        }
        Some(first)
    }

    /// How long the longest run of the latest fires is that begins the sequence and is in time.
    fn kept_run(
        &self,
        clock: Clock,
        id: AlternativeId,
        steps: &[ActionId],
        done: usize,
        fired: ActionId,
        within: Time,
    ) -> usize {
        let latest = |i: usize| if i < done { steps.get(i).copied() } else { Some(fired) };
        let begins = |len: usize| {
            let shift = done + 1 - len;
            (0..len).all(|i| latest(shift + i) == steps.get(i).copied())
        };
        let in_time = |len: usize| {
            let shift = done + 1 - len;
            shift == done || clock.now.since(self.sequences.done_at(id, shift)) <= within
        };
        (1..=done).rev().find(|&len| begins(len) && in_time(len)).unwrap_or(0)
    }
}

impl<T: Tell + ?Sized> Cues<'_, T> {
    /// Takes in every step that fired, in working order.
    pub fn follow_sequence(&mut self, id: AlternativeId, steps: ListSlice, within: ParamId) {
        let plan = self.plan;
        let steps = steps.of(&plan.listed);
        while let Some(action) = self.episodes.next_step_fired(id, steps) {
            let within = self.values.time(within);
            self.step_fired(id, steps, action, within);
        }
    }

    fn step_fired(&mut self, id: AlternativeId, steps: &[ActionId], fired: ActionId, within: Time) {
        let plan = self.plan;
        let action = plan.alternatives[id].action;
        let is_open = self.episodes.actions[action].awake;
        let done = if is_open { self.episodes.alternatives[id].count as usize } else { 0 };
        if steps.get(done) == Some(&fired) {
            self.episodes.sequences.set_done_at(id, done, self.clock.now);
            return self.step_done(id, steps, done + 1, within);
        }
        if !is_open {
            return;
        }
        let kept = self.episodes.kept_run(self.clock, id, steps, done, fired, within);
        self.episodes.over(self.clock, self.values, plan, id, Cause::OutOfOrder);
        self.end_if_over(action);
        if kept > 0 {
            // The run goes on from its later beginning: its times move down.
            let shift = done + 1 - kept;
            for step in 0..kept - 1 {
                let at = self.episodes.sequences.done_at(id, step + shift);
                self.episodes.sequences.set_done_at(id, step, at);
            }
            self.episodes.sequences.set_done_at(id, kept - 1, self.clock.now);
            self.step_done(id, steps, kept, within);
        }
    }

    /// So many steps are done: the episode wakes with the first, and fires with the last.
    fn step_done(&mut self, id: AlternativeId, steps: &[ActionId], done: usize, within: Time) {
        let plan = self.plan;
        let action = plan.alternatives[id].action;
        if !self.episodes.actions[action].awake {
            let first = self.episodes.sequences.done_at(id, 0);
            let state = &mut self.episodes.actions[action];
            (state.awake, state.woke_at, state.first_fire) = (true, self.clock.now, None);
            state.reached = 0.0;
            self.episodes.alternatives[id] = super::episodes::AlternativeState::NEW;
            self.episodes.alternatives[id].stage = Stage::Open;
            self.episodes.alternatives[id].count = done as u32;
            self.episodes.timers.set(id, first + within, When::RunOut);
            let share = done as f64 / steps.len() as f64;
            self.agenda.moved.insert(action);
            self.tell(action, EventKind::Wake, Vector::ZERO, share);
        }
        self.episodes.alternatives[id].count = done as u32;
        if done < steps.len() {
            return;
        }
        if self.episodes.guards_hold(self.values, plan, id) {
            self.fire(id, Vector::axis(1.0), None);
            self.episodes.over(self.clock, self.values, plan, id, Cause::Done);
        } else {
            self.episodes.over(self.clock, self.values, plan, id, Cause::Guard);
        }
        self.end_if_over(action);
    }
}
