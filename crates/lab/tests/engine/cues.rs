//! The cues of the second interpreter: presses, letting go, times, guards, yielding, sequences.

use crate::interpreter::{Alternative, Episode, Interpreter};
use crate::values::V;
use harmonym_lang::model::{ActionId, Cue, Guard, Number};
use harmonym_runtime::base::{Id, Kind};

impl Interpreter<'_> {
    pub fn press(&mut self, id: ActionId, i: usize) {
        if !self.open(id, i) {
            return;
        }
        let first = !std::mem::replace(&mut self.alternative(id, i).begun, true);
        let value = self.value_told(id);
        let cue = self.action(id).fire[i].cue.clone();
        match cue {
            Cue::Press if first => self.attempt_or_end(id, i, value),
            Cue::Change if first => self.attempt_change(id, i, value),
            Cue::Hold(time) if first => self.wait(id, i, time, false),
            Cue::Tap(time) if first => self.wait(id, i, time, true),
            Cue::Charge(time) if first => self.alternative(id, i).time = self.nanos(time),
            Cue::Repeat { every, after } if first => {
                let _ = self.attempt(id, i, value);
                self.wait(id, i, after.unwrap_or(every), false);
                self.alternative(id, i).time = self.nanos(every).max(1);
            }
            Cue::Taps { count, gap } => {
                let a = self.alternative(id, i);
                if a.fired || a.kept.is_some() {
                    return;
                }
                a.presses += 1;
                if f64::from(a.presses) >= self.number(count).round() {
                    self.alternative(id, i).due = None;
                    self.attempt_or_end(id, i, value);
                } else {
                    self.wait(id, i, gap, true);
                }
            }
            _ => {}
        }
    }

    pub fn wait(&mut self, id: ActionId, i: usize, time: Number, runs_out: bool) {
        let (t, time) = (self.t, self.nanos(time).max(1));
        let a = self.alternative(id, i);
        a.time = time;
        a.due = Some((t + time, runs_out));
    }

    pub fn time_came(&mut self, id: ActionId, i: usize) {
        let value = self.value_told(id);
        match self.action(id).fire[i].cue {
            Cue::Hold(_) => self.attempt_or_end(id, i, value),
            Cue::Repeat { .. } => {
                let _ = self.attempt(id, i, value);
                let next = self.t + self.alternative(id, i).time;
                self.alternative(id, i).due = Some((next, false));
            }
            Cue::Tap(_) => self.over(id, i, "too-long"),
            _ => {
                self.over(id, i, "gap");
                self.act(id).run.clear();
            }
        }
        self.end_if_over(id);
    }

    pub fn up(&mut self, id: ActionId) {
        if !self.is_down(id) {
            let act = self.act(id);
            (act.level, act.counts, act.may_resume) = (0, false, false);
            return;
        }
        let reached = self.progress(id);
        let held = self.t - self.act(id).down_at;
        let episode = self.episode(id);
        episode.reached = episode.reached.max(reached);
        self.act(id).level = 0;
        let last = match self.action(id).kind {
            Kind::Switch => [1.0, 0.0, 0.0],
            _ => self.act(id).last_down,
        };
        for i in 0..self.action(id).fire.len() {
            if !self.open(id, i) || self.alternative(id, i).kept.is_some() {
                continue;
            }
            let a = self.alternative(id, i).clone();
            match self.action(id).fire[i].cue {
                Cue::Press => self.over(id, i, "released"),
                Cue::Release | Cue::Tap(_) => self.last_attempt(id, i, last),
                Cue::Charge(_) if held >= a.time => self.last_attempt(id, i, last),
                Cue::Hold(_) if a.fired => self.over(id, i, "released"),
                Cue::Hold(_) | Cue::Charge(_) => self.over(id, i, "too-short"),
                Cue::While if a.on => {
                    if !a.stretch_fired {
                        self.fire(id, i, last, None);
                    }
                    self.over(id, i, "released");
                }
                Cue::While => self.over(id, i, "guard"),
                Cue::Change => {
                    self.attempt_change(id, i, [0.0; 3]);
                    let fired = self.alternative(id, i).fired;
                    self.over(id, i, if fired { "released" } else { "guard" });
                }
                Cue::Taps { .. } if a.fired => self.over(id, i, "released"),
                Cue::Taps { .. } | Cue::Sequence { .. } => {}
                Cue::Repeat { .. } => {
                    self.over(id, i, if a.fired { "released" } else { "guard" });
                }
            }
        }
        self.act(id).counts = false;
        self.end_if_over(id);
    }

    pub fn last_attempt(&mut self, id: ActionId, i: usize, value: V) {
        match self.attempt(id, i, value) {
            Ok(true) => self.over(id, i, "released"),
            Ok(false) => self.alternative(id, i).due = None,
            Err(cause) => self.over(id, i, cause),
        }
    }

    pub fn attempt_or_end(&mut self, id: ActionId, i: usize, value: V) {
        if let Err(cause) = self.attempt(id, i, value) {
            self.over(id, i, cause);
        }
    }

    /// Fires (true), keeps the fire (false), or tells why neither.
    pub fn attempt(&mut self, id: ActionId, i: usize, value: V) -> Result<bool, &'static str> {
        if !self.guards(id, i) {
            return Err("guard");
        }
        let woke = self.episode(id).woke;
        let others = &self.action(id).yields_to;
        if others.iter().any(|other| self.acts[other.index()].live_at.is_some_and(|t| t >= woke)) {
            return Err("yielded");
        }
        if others.iter().any(|&other| self.is_pending(other)) {
            self.alternative(id, i).kept = Some((self.t, value));
            return Ok(false);
        }
        self.fire(id, i, value, None);
        Ok(true)
    }

    pub fn attempt_change(&mut self, id: ActionId, i: usize, value: V) {
        if self.attempt(id, i, value) == Ok(true) {
            self.alternative(id, i).seen = Some(value);
        }
    }

    pub fn changes(&mut self, id: ActionId) {
        for i in 0..self.action(id).fire.len() {
            let is_change = self.action(id).fire[i].cue == Cue::Change;
            if is_change && self.is_down(id) && self.open(id, i) {
                let value = self.value_told(id);
                let apart = |seen: V| (0..3).any(|c| (seen[c] - value[c]).abs() > 1e-6);
                if self.alternative(id, i).seen.is_none_or(apart) {
                    self.attempt_change(id, i, value);
                }
            }
        }
    }

    pub fn whiles(&mut self, id: ActionId) {
        if self.act(id).level != 2 {
            return;
        }
        if self.act(id).episode.is_none() {
            return self.resume(id);
        }
        if !self.act(id).counts {
            return;
        }
        for i in 0..self.action(id).fire.len() {
            if self.action(id).fire[i].cue != Cue::While {
                continue;
            }
            let (holds, a) = (self.guards(id, i), self.alternative(id, i).clone());
            let off = a.over.is_some_and(|(_, cause)| cause == "guard") || (a.is_open() && !a.on);
            if off && holds && !a.out {
                self.switch_on(id, i);
            } else if a.is_open() && a.on && !holds {
                if !a.stretch_fired {
                    let value = self.value_told(id);
                    self.fire(id, i, value, None);
                }
                self.over(id, i, "guard");
                self.act(id).may_resume = true;
            }
        }
        self.end_if_over(id);
    }

    pub fn switch_on(&mut self, id: ActionId, i: usize) {
        if !self.is_live(id) {
            self.act(id).live_at = Some(self.t);
        }
        let a = self.alternative(id, i);
        (a.over, a.out, a.on, a.stretch_fired) = (None, false, true, false);
    }

    pub fn resume(&mut self, id: ActionId) {
        if !self.act(id).may_resume {
            return;
        }
        for i in 0..self.action(id).fire.len() {
            if self.action(id).fire[i].cue != Cue::While || !self.guards(id, i) {
                continue;
            }
            if self.act(id).episode.is_none() {
                let out = Alternative { out: true, ..Alternative::default() };
                let alternatives = vec![out; self.action(id).fire.len()];
                let episode =
                    Episode { woke: self.t, was_down: true, alternatives, ..Episode::default() };
                let t = self.t;
                let act = self.act(id);
                (act.counts, act.down_at, act.episode) = (true, t, Some(episode));
                act.may_resume = false;
                self.tell(id, "wake".into(), self.value_told(id), 0.0);
            }
            self.switch_on(id, i);
        }
    }

    /// Settles the fires that wait for others. With `stays` the episode of what is down may end here, else
    /// its levels come first.
    pub fn settle_kept(&mut self, id: ActionId, stays: bool) {
        let others = self.action(id).yields_to.clone();
        if others.is_empty() || self.act(id).episode.is_none() {
            return;
        }
        for i in 0..self.action(id).fire.len() {
            let Some((since, value)) = self.alternative(id, i).kept else { continue };
            let took = others.iter().any(|o| {
                let act = &self.acts[o.index()];
                act.live_at.max(act.forced_at).is_some_and(|t| t >= since)
            });
            if !took && others.iter().any(|&other| self.is_pending(other)) {
                continue;
            }
            self.alternative(id, i).kept = None;
            if took {
                self.over(id, i, "yielded");
            } else {
                self.fire(id, i, value, Some(since));
                if !self.is_down(id) {
                    self.over(id, i, "released");
                }
            }
        }
        if stays || !self.is_down(id) {
            self.end_if_over(id);
        }
    }

    pub fn guards(&self, id: ActionId, i: usize) -> bool {
        self.action(id).fire[i].guards.iter().all(|guard| match *guard {
            Guard::With(other) => self.is_live(other),
            Guard::Without(other) => !self.is_live(other),
            Guard::When(named) => self.inputs.named(named) != 0.0,
            Guard::Unless(named) => self.inputs.named(named) == 0.0,
        })
    }

    pub fn is_live(&self, id: ActionId) -> bool {
        let episode = &self.acts[id.index()].episode;
        episode
            .as_ref()
            .is_some_and(|e| e.first_fire.is_some() || e.alternatives.iter().any(|a| a.on))
    }

    pub fn is_pending(&self, id: ActionId) -> bool {
        self.acts[id.index()].episode.is_some() && !self.is_live(id)
    }

    pub fn is_down(&self, id: ActionId) -> bool {
        let act = &self.acts[id.index()];
        act.episode.is_some() && act.counts && act.level == 2
    }

    /// Takes in the fires of a sequence's steps, earliest action first.
    pub fn sequence(&mut self, id: ActionId, steps: &[ActionId], within: u64) {
        let mut by_order: Vec<ActionId> = self.order.clone();
        by_order.retain(|step| steps.contains(step));
        for step in by_order {
            while self.act(id).taken.get(&step).copied().unwrap_or(0)
                < self.acts[step.index()].fires.len()
            {
                *self.act(id).taken.entry(step).or_default() += 1;
                self.step_fired(id, steps, step, within);
            }
        }
    }

    pub fn step_fired(&mut self, id: ActionId, steps: &[ActionId], fired: ActionId, within: u64) {
        let t = self.t;
        let mut run = std::mem::take(&mut self.act(id).run);
        run.push((fired, t));
        let begins =
            |run: &[(ActionId, u64)]| run.iter().map(|(a, _)| a).eq(steps.iter().take(run.len()));
        if begins(&run) {
            return self.run_is(id, steps, run, within);
        }
        if run.len() > 1 {
            self.over(id, 0, "out-of-order");
            self.end_if_over(id);
        }
        let is_kept = |run: &[(ActionId, u64)]| begins(run) && t - run[0].1 <= within;
        while !run.is_empty() && !is_kept(&run) {
            run.remove(0);
        }
        if !run.is_empty() {
            self.run_is(id, steps, run, within);
        }
    }

    pub fn run_is(
        &mut self,
        id: ActionId,
        steps: &[ActionId],
        run: Vec<(ActionId, u64)>,
        within: u64,
    ) {
        let (t, done, first) = (self.t, run.len(), run[0].1);
        let share = done as f64 / steps.len() as f64;
        self.act(id).run = run;
        if self.act(id).episode.is_none() {
            let one = Alternative {
                begun: true,
                due: Some((first + within, true)),
                ..Alternative::default()
            };
            let alternatives = vec![one];
            self.act(id).episode = Some(Episode { woke: t, alternatives, ..Episode::default() });
            self.tell(id, "wake".into(), [0.0; 3], share);
        }
        self.alternative(id, 0).presses = done as u32;
        if done == steps.len() {
            self.act(id).run.clear();
            if self.guards(id, 0) {
                self.fire(id, 0, [1.0, 0.0, 0.0], None);
                self.over(id, 0, "done");
            } else {
                self.over(id, 0, "guard");
            }
            self.end_if_over(id);
        }
    }
}
