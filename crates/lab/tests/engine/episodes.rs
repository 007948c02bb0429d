//! The levels and episodes of the second interpreter.

use crate::interpreter::{Alternative, Episode, Interpreter, Told};
use crate::motion::Mode;
use crate::values::{V, len};
use harmonym_lang::model::{ActionId, Cue};
use harmonym_runtime::base::{Id, Kind};

impl Interpreter<'_> {
    pub fn levels(&mut self, id: ActionId, value: V) {
        let levels = self.action(id).levels;
        let act = self.act(id).clone();
        let turned = self.action(id).kind == Kind::Axis && value[0] * act.last_down[0] < 0.0;
        if act.level == 2 && turned {
            self.act(id).value = [0.0; 3];
            self.up(id);
        }
        let m = len(value);
        self.act(id).value = value;
        match self.act(id).level {
            2 if m < levels.up => self.up(id),
            2 => {
                self.act(id).last_down = value;
                self.whiles(id);
                if self.act(id).has_news && self.inputs.mode != Mode::Look {
                    self.changes(id);
                }
            }
            1 if m < levels.up => {
                self.act(id).level = 0;
                if self.act(id).episode.as_ref().is_some_and(|e| !e.was_down) {
                    self.end(id, "too-light", None);
                }
            }
            1 if m >= levels.down => self.rise(id, false),
            0 if m >= levels.wake => self.rise(id, true),
            _ => {}
        }
    }

    pub fn rise(&mut self, id: ActionId, from_up: bool) {
        let value = self.act(id).value;
        let down = len(value) >= self.action(id).levels.down;
        let t = self.t;
        let yields = &self.action(id).yields_to;
        let taken = yields.iter().any(|other| self.acts[other.index()].live_at == Some(t));
        let wakes = from_up && self.act(id).episode.is_none() && !taken;
        let waits = self.waits_for_press(id);
        self.act(id).level = if down { 2 } else { 1 };
        if down {
            self.act(id).down_at = t;
            self.act(id).last_down = value;
            self.act(id).counts = wakes || waits;
        }
        if wakes {
            let count = self.action(id).fire.len();
            let alternatives = vec![Alternative::default(); count];
            self.act(id).episode = Some(Episode { woke: t, alternatives, ..Episode::default() });
            self.act(id).may_resume = false;
            self.tell(id, "wake".into(), self.value_told(id), 0.0);
        }
        if self.is_down(id) {
            self.episode(id).was_down = true;
            for i in 0..self.action(id).fire.len() {
                self.press(id, i);
            }
            self.whiles(id);
            self.end_if_over(id);
        }
    }

    pub fn waits_for_press(&self, id: ActionId) -> bool {
        let Some(episode) = &self.acts[id.index()].episode else { return false };
        episode.alternatives.iter().zip(&self.action(id).fire).any(|(a, rule)| {
            let taps = matches!(rule.cue, Cue::Taps { .. }) && !a.fired && a.kept.is_none();
            a.is_open() && (!a.begun || taps)
        })
    }

    pub fn progress(&self, id: ActionId) -> f64 {
        let act = &self.acts[id.index()];
        let Some(episode) = &act.episode else { return 0.0 };
        if episode.first_fire.is_some() {
            return 1.0;
        }
        let shares = episode.alternatives.iter().zip(&self.action(id).fire).map(|(a, rule)| {
            match &rule.cue {
                _ if !a.is_open() || !a.begun => 0.0,
                Cue::Hold(_) | Cue::Charge(_) if self.is_down(id) => {
                    ((self.t - act.down_at) as f64 / a.time as f64).min(1.0)
                }
                Cue::Taps { count, .. } => f64::from(a.presses) / self.number(*count).round(),
                Cue::Sequence { steps, .. } => f64::from(a.presses) / steps.len() as f64,
                _ => 0.0,
            }
        });
        shares.fold(0.0, f64::max)
    }

    pub fn value_told(&self, id: ActionId) -> V {
        match self.action(id).kind {
            Kind::Switch => [f64::from(u8::from(self.is_down(id))), 0.0, 0.0],
            _ => self.acts[id.index()].value,
        }
    }

    pub fn value_read(&self, id: ActionId) -> V {
        if self.acts[id.index()].episode.is_some() { self.value_told(id) } else { [0.0; 3] }
    }

    pub fn fire(&mut self, id: ActionId, i: usize, value: V, since: Option<u64>) {
        let t = self.t;
        if !self.is_live(id) {
            self.act(id).live_at = Some(t);
        }
        let a = self.alternative(id, i);
        (a.fired, a.stretch_fired) = (true, true);
        if self.episode(id).first_fire.is_none() {
            self.episode(id).first_fire = Some(t);
            let act = self.act(id);
            act.fires.push(t);
        }
        let kept = since.map_or(String::new(), |since| format!(" since {since}"));
        let by = &self.action(id).fire[i].text;
        self.tell(id, format!("fire by {by}{kept}"), value, 1.0);
    }

    pub fn over(&mut self, id: ActionId, i: usize, cause: &'static str) {
        let (t, reached) = (self.t, self.progress(id));
        let episode = self.episode(id);
        episode.reached = episode.reached.max(reached);
        let a = &mut episode.alternatives[i];
        (a.over, a.on, a.due) = (Some((t, cause)), false, None);
    }

    pub fn end_if_over(&mut self, id: ActionId) {
        let Some(episode) = &self.act(id).episode else { return };
        if episode.alternatives.iter().any(Alternative::is_open) {
            return;
        }
        let fired = episode.first_fire.is_some();
        let ended = episode
            .alternatives
            .iter()
            .filter(|a| !a.out && a.fired == fired)
            .filter_map(|a| a.over);
        let mut last = (0, "released");
        for (t, cause) in ended {
            if last.0 < t || last == (0, "released") {
                last = (t, cause);
            }
        }
        self.end(id, last.1, None);
    }

    /// Ends an open episode; with a value given, by force.
    pub fn end(&mut self, id: ActionId, cause: &str, value: Option<V>) {
        let Some(episode) = &self.act(id).episode else { return };
        let (fired, reached) = (episode.first_fire.is_some(), episode.reached);
        let reached = reached.max(self.progress(id));
        let value = value.unwrap_or(self.value_told(id));
        let word = if fired { "rest" } else { "lapse" };
        self.tell(id, format!("{word} {cause}"), value, if fired { 1.0 } else { reached });
        let act = self.act(id);
        (act.episode, act.counts) = (None, false);
    }

    pub fn tell(&mut self, id: ActionId, what: String, value: V, progress: f64) {
        let (t, tick) = (self.t, self.tick);
        let act = &self.acts[id.index()];
        let episode = act.episode.as_ref().expect("an open episode");
        self.told.push(Told {
            t,
            tick,
            action: self.profile.address(id),
            what,
            value,
            held: t - episode.woke,
            fired_for: episode.first_fire.map(|first| t - first),
            progress,
            from: act.from.clone(),
        });
    }
}
