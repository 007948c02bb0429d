//! The design a second time, slow and obvious: at every instant at which anything can happen, every
//! action is worked out anew from the model, in an order found by looking; due times are found by
//! looking at all of them. It shares nothing with the engine but the parsed model.

use crate::devices::Cables;
use crate::motion::Mode;
use crate::values::{Inputs, V, len};
use harmonym_lab::take::{Input, What};
use harmonym_lang::model::{Action, ActionId, Cue, Head, Number, Profile};
use harmonym_runtime::base::{ControlId, Id, Kind};
use harmonym_runtime::engine::EpisodeState;
use std::collections::BTreeMap;

/// An event with every field as text but its value and progress.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    pub t: u64,
    pub tick: u64,
    pub action: String,
    pub what: String,
    pub value: V,
    pub held: u64,
    pub fired_for: Option<u64>,
    pub progress: f64,
    pub from: Option<String>,
}

#[derive(Clone, Debug, Default)]
pub struct Alternative {
    pub begun: bool,
    /// When and why it was over.
    pub over: Option<(u64, &'static str)>,
    /// It takes no part in this episode.
    pub out: bool,
    pub fired: bool,
    pub on: bool,
    pub stretch_fired: bool,
    pub presses: u32,
    pub time: u64,
    /// When its time comes, and whether it then runs out.
    pub due: Option<(u64, bool)>,
    pub kept: Option<(u64, V)>,
    pub seen: Option<V>,
}

impl Alternative {
    pub fn is_open(&self) -> bool {
        !self.out && self.over.is_none()
    }
}

#[derive(Clone, Debug, Default)]
pub struct Episode {
    pub woke: u64,
    pub was_down: bool,
    pub first_fire: Option<u64>,
    pub reached: f64,
    pub alternatives: Vec<Alternative>,
}

#[derive(Clone, Debug, Default)]
pub struct Act {
    /// 0 up, 1 woken, 2 down.
    pub level: u8,
    pub counts: bool,
    pub down_at: u64,
    pub episode: Option<Episode>,
    pub value: V,
    /// The value when it was worked out last, and what it and its guards came from.
    pub settled: V,
    pub seen: Option<Sees>,
    pub guarded: Vec<bool>,
    pub has_news: bool,
    pub last_down: V,
    pub from: Option<String>,
    pub live_at: Option<u64>,
    pub forced_at: Option<u64>,
    pub may_resume: bool,
    /// The times of the first fires of all its episodes.
    pub fires: Vec<u64>,
    /// Of a sequence: how many fires of each step were taken in, and the run so far.
    pub taken: BTreeMap<ActionId, usize>,
    pub run: Vec<(ActionId, u64)>,
}

/// What game code reads of an action at a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Reading {
    pub value: V,
    pub state: EpisodeState,
    pub fired: u32,
}

/// All that came of a run.
pub struct Ran {
    pub told: Vec<Told>,
    /// The last tick.
    pub last: u64,
    /// By tick, from the first: what is read of each action, in the order of the file.
    pub read: Vec<Vec<Reading>>,
}

pub struct Interpreter<'a> {
    pub profile: &'a Profile,
    pub inputs: Inputs<'a>,
    pub acts: Vec<Act>,
    pub order: Vec<ActionId>,
    pub t: u64,
    pub tick: u64,
    /// When what moves is looked at next.
    pub next_look: Option<u64>,
    /// What is left of a notch, by wheel and device.
    pub notches: BTreeMap<(ControlId, u8), V>,
    pub told: Vec<Told>,
    pub read: Vec<Vec<Reading>>,
    pub cables: Cables,
}

/// Everything that an action's value and its guards come from.
type Sees = (Vec<V>, Vec<V>, Vec<f64>);

impl<'a> Interpreter<'a> {
    /// Runs all inputs.
    pub fn run(profile: &'a Profile, inputs: &[Input], rate: u64) -> Ran {
        Self::run_and_rebind(profile, inputs, rate, None)
    }

    /// The same, with another profile from right after the input of a number on.
    pub fn run_and_rebind(
        profile: &'a Profile,
        inputs: &[Input],
        rate: u64,
        after: Option<(usize, &'a Profile)>,
    ) -> Ran {
        let mut this = Self {
            profile,
            inputs: Inputs::new(profile),
            acts: vec![Act::default(); profile.actions.len()],
            order: working_order(profile),
            t: 0,
            tick: 1,
            next_look: None,
            notches: BTreeMap::new(),
            told: Vec::new(),
            read: Vec::new(),
            cables: Cables::default(),
        };
        this.rearrange("map-off", true);
        let at = |k: u64| u128::from(k) * 1_000_000_000 / u128::from(rate);
        let last = inputs.last().map_or(0, |input| input.t.nanos());
        let mut next = 0;
        loop {
            let tick_at = u64::try_from(at(this.tick)).unwrap();
            while next < inputs.len() && inputs[next].t.nanos() <= tick_at {
                this.due(inputs[next].t.nanos(), false);
                this.go_to(inputs[next].t.nanos());
                this.input(&inputs[next]);
                if let Some((_, profile)) = after.filter(|(number, _)| *number == next) {
                    this.rebind(profile);
                }
                next += 1;
            }
            this.due(tick_at, true);
            this.go_to(tick_at);
            this.at_tick();
            this.read();
            let limit = u128::from(last) + 10_000_000_000;
            let over = this.settled() || at(this.tick + 1) > limit;
            if next == inputs.len() && tick_at >= last && over {
                for id in this.order.clone() {
                    this.end(id, "stopped", Some([0.0; 3]));
                }
                return Ran { told: this.told, last: this.tick, read: this.read };
            }
            this.tick += 1;
        }
    }

    pub fn action(&self, id: ActionId) -> &'a Action {
        &self.profile.actions[id]
    }

    pub fn number(&self, number: Number) -> f64 {
        self.inputs.number(number)
    }

    pub fn nanos(&self, number: Number) -> u64 {
        ((self.number(number) * 1e9).round() as u64).max(1)
    }

    pub fn act(&mut self, id: ActionId) -> &mut Act {
        &mut self.acts[id.index()]
    }

    pub fn episode(&mut self, id: ActionId) -> &mut Episode {
        self.acts[id.index()].episode.as_mut().expect("an open episode")
    }

    pub fn alternative(&mut self, id: ActionId, i: usize) -> &mut Alternative {
        &mut self.episode(id).alternatives[i]
    }

    pub fn open(&self, id: ActionId, i: usize) -> bool {
        self.acts[id.index()].episode.as_ref().is_some_and(|e| e.alternatives[i].is_open())
    }

    /// Everything due up to `until`; at that very instant also what runs out, if `all`.
    pub fn due(&mut self, until: u64, all: bool) {
        loop {
            // Reaching comes first, then the look, then running out.
            let mut first: Option<(u64, u8)> = self.next_look.map(|at| (at, 1));
            for act in &self.acts {
                let waiting =
                    act.episode.iter().flat_map(|e| &e.alternatives).filter(|a| a.is_open());
                for (at, runs_out) in waiting.filter_map(|a| a.due) {
                    let due = (at, if runs_out { 2 } else { 0 });
                    first = Some(first.map_or(due, |f| f.min(due)));
                }
            }
            let Some((t, when)) = first else { return };
            if t > until || (t == until && when == 2 && !all) {
                return;
            }
            self.go_to(t);
            if when == 1 {
                self.next_look = Some((t / 1_000_000 + 1) * 1_000_000);
                self.inputs.mode = Mode::Look;
                self.work_all();
                self.inputs.mode = Mode::Event;
                continue;
            }
            for id in self.order.clone() {
                for i in 0..self.action(id).fire.len() {
                    if self.open(id, i) && self.alternative(id, i).due == Some((t, when == 2)) {
                        self.alternative(id, i).due = None;
                        self.time_came(id, i);
                    }
                }
                self.work(id);
            }
            self.plan_looks();
        }
    }

    /// Goes on to `t`; what moves has its value of that moment.
    pub fn go_to(&mut self, t: u64) {
        (self.t, self.inputs.t) = (t, t);
        if self.next_look.is_none() {
            return;
        }
        for id in self.order.clone() {
            let value = self.value_of(id, Mode::Peek).0;
            self.act(id).value = value;
        }
    }

    /// The next whole millisecond, as long as anything moves.
    fn plan_looks(&mut self) {
        let moves = self.order.iter().any(|id| self.inputs.moving(&self.profile.address(*id)));
        let next = (self.t / 1_000_000 + 1) * 1_000_000;
        self.next_look = moves.then(|| self.next_look.unwrap_or(next));
    }

    pub fn settled(&self) -> bool {
        self.next_look.is_none()
            && self.profile.actions.ids().all(|id| {
                let episode = &self.acts[id.index()].episode;
                let waits = episode.iter().flat_map(|e| e.alternatives.iter().enumerate()).filter(
                    |(i, a)| {
                        let repeats = matches!(self.action(id).fire[*i].cue, Cue::Repeat { .. });
                        a.is_open() && a.due.is_some() && !repeats
                    },
                );
                waits.count() == 0
            })
    }

    pub fn input(&mut self, input: &Input) {
        match input.what {
            What::Report(contact, value) => self.report_by_cable(contact, value.xyz()),
            What::Number(_, named, value) => {
                self.inputs.set(named, value);
                self.after_input();
            }
            What::Map(_, map, open) => self.switch_map(map, open),
            What::Pause(paused) => self.pause(paused),
            What::Narrow(_, scheme) => self.narrow(scheme),
            What::Plug(device, true) => self.plug(device),
            What::Plug(device, false) => self.unplug(device),
            What::Give(..) => {}
        }
    }

    /// Settles every `+`, then works all out.
    pub fn after_input(&mut self) {
        self.settle_pluses();
        self.work_all();
    }

    pub fn work_all(&mut self) {
        for id in self.order.clone() {
            self.work(id);
        }
        self.plan_looks();
    }

    fn at_tick(&mut self) {
        self.take_sums();
        self.inputs.mode = Mode::Tick;
        self.settle_pluses();
        for id in self.order.clone() {
            let (fresh, guards_changed) = self.news(id);
            if self.has_values_at_ticks(id) || fresh {
                self.act(id).seen = None;
                self.work(id);
            } else if guards_changed {
                self.work(id);
            } else {
                let value = self.value_of(id, Mode::Peek).0;
                self.act(id).value = value;
                self.settle_kept(id, true);
                self.changes(id);
            }
            for i in 0..self.action(id).fire.len() {
                if self.open(id, i) && self.alternative(id, i).on {
                    let value = self.value_told(id);
                    self.fire(id, i, value, None);
                }
            }
        }
        self.inputs.mode = Mode::Event;
        self.plan_looks();
    }

    /// Game code reads.
    fn read(&mut self) {
        let read = |id: ActionId| {
            let address = self.profile.address(id);
            let is_fire = |told: &&Told| told.action == address && told.what.starts_with("fire");
            let of_this_tick = self.told.iter().rev().take_while(|told| told.tick == self.tick);
            Reading {
                value: self.value_read(id),
                state: match &self.acts[id.index()].episode {
                    None => EpisodeState::Rest,
                    Some(Episode { first_fire: None, .. }) => EpisodeState::Pending,
                    Some(_) => EpisodeState::Live,
                },
                fired: of_this_tick.filter(is_fire).count() as u32,
            }
        };
        self.read.push(self.profile.actions.ids().map(read).collect());
    }

    /// Whether a control of an action reads something else than when it was worked out last.
    pub fn lost_something(&self, id: ActionId) -> bool {
        let now = self.sees(id).0;
        self.acts[id.index()].seen.as_ref().is_some_and(|(controls, ..)| *controls != now)
    }

    /// What an action's value comes from, and the numbers of its guards.
    fn sees(&self, id: ActionId) -> Sees {
        let uses = self.inputs.world.uses.iter().filter(|(_, one)| one.action == id);
        let controls = uses.map(|(path, _)| self.inputs.world.effective(path)).collect();
        let action = self.action(id);
        let mut others = Vec::new();
        self.for_each_read(id, &mut |other| others.push(self.settled_value(other)));
        let mut text: String = action.bindings.iter().map(|b| format!("{:?}", b.chain)).collect();
        text.extend(action.fire.iter().map(|alternative| format!("{:?}", alternative.guards)));
        text.push_str(&format!("{:?}", action.shape));
        let read =
            self.profile.variables.ids().filter(|named| text.contains(&format!("{named:?}")));
        let named = read.map(|named| self.inputs.named(named)).collect();
        (controls, others, named)
    }

    /// Every action whose value an action reads.
    fn for_each_read(&self, id: ActionId, found: &mut dyn FnMut(ActionId)) {
        for binding in &self.action(id).bindings {
            binding.chain.for_each_head(&mut |head| {
                if let Head::Action { action, .. } = head {
                    found(*action);
                }
            });
        }
    }

    /// Whether something of an action moves, or of one that it reads.
    fn moves(&self, id: ActionId) -> bool {
        let mut moves = self.inputs.moving(&self.profile.address(id));
        self.for_each_read(id, &mut |other| moves |= self.moves(other));
        moves
    }

    /// The value of another action as it was worked out last.
    fn settled_value(&self, id: ActionId) -> V {
        let act = &self.acts[id.index()];
        match (&act.episode, self.action(id).kind) {
            (None, _) => [0.0; 3],
            (_, Kind::Switch) => self.value_told(id),
            _ => act.settled,
        }
    }

    /// Whether what an action's value comes from is something else than when it was worked out
    /// last, and whether what its guards see is.
    pub fn news(&self, id: ActionId) -> (bool, bool) {
        let act = &self.acts[id.index()];
        let live = self.guarded(id);
        (act.seen.as_ref() != Some(&self.sees(id)), act.guarded != live)
    }

    fn guarded(&self, id: ActionId) -> Vec<bool> {
        self.action(id).names().iter().map(|other| self.is_live(*other)).collect()
    }

    /// An action's value, and which of its bindings won.
    pub fn value_of(&mut self, id: ActionId, mode: Mode) -> (V, Option<String>) {
        if !self.lives(id) {
            return ([0.0; 3], None);
        }
        let before = std::mem::replace(&mut self.inputs.mode, mode);
        self.inputs.passed = false;
        let read = |other: ActionId| self.value_read(other);
        let reads: Vec<V> = self.profile.actions.ids().map(read).collect();
        let action = self.action(id);
        let bindings: Vec<(String, V, bool)> = action
            .bindings
            .iter()
            .map(|b| {
                let address = self.profile.binding_address(id, b);
                let value = self.inputs.chain(&b.chain, &address, &reads);
                (address, value, self.inputs.world.says(b.scheme))
            })
            .collect();
        let (blended, won) = self.inputs.blend(action.blend, &bindings);
        let won = won.filter(|won| len(bindings[*won].1) > 1e-6).map(|won| bindings[won].0.clone());
        let path = format!("{}.shape", self.profile.address(id));
        let value = self.inputs.steps(&action.shape, action.kind, blended, &path);
        self.inputs.mode = before;
        (value, won)
    }

    /// Works one action out.
    pub fn work(&mut self, id: ActionId) {
        if !self.lives(id) {
            return;
        }
        if let Some(Cue::Sequence { steps, within }) = self.action(id).fire.first().map(|a| &a.cue)
        {
            self.sequence(id, steps, self.nanos(*within));
            return;
        }
        let (fresh, guards_changed) = self.news(id);
        let guarded = self.guarded(id);
        self.act(id).guarded = guarded;
        if self.moves(id) && !fresh && self.inputs.mode != Mode::Look {
            let value = self.value_of(id, Mode::Peek).0;
            self.act(id).value = value;
            self.settle_kept(id, true);
            if self.act(id).level == 2 {
                self.whiles(id);
                if guards_changed {
                    self.changes(id);
                }
            }
            return;
        }
        self.act(id).has_news = fresh || guards_changed || self.inputs.mode == Mode::Tick;
        let sees = self.sees(id);
        let (value, won) = self.value_of(id, self.inputs.mode);
        self.act(id).seen = Some(sees);
        if won.is_some() {
            self.act(id).from = won;
        }
        (self.act(id).value, self.act(id).settled) = (value, value);
        self.settle_kept(id, false);
        self.levels(id, value);
        self.end_if_over(id);
    }
}

/// Again and again the earliest in the file of those whose named actions are done.
fn working_order(profile: &Profile) -> Vec<ActionId> {
    let mut order: Vec<ActionId> = Vec::new();
    while order.len() < profile.actions.len() {
        let ready = |id: &ActionId| {
            !order.contains(id) && profile.actions[*id].names().iter().all(|n| order.contains(n))
        };
        let next = profile.actions.ids().find(ready).expect("no loops");
        order.push(next);
    }
    order
}
