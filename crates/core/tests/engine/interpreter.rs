//! The design a second time, slow and obvious: at every raw event and tick everything is worked
//! out anew from the model, due times are found by looking at all of them. It shares nothing with
//! the engine but the parsed model.

use harmonym_core::base::{ActionId, Component, ControlId, Kind};
use harmonym_core::controls::Reads;
use harmonym_core::model::{
    Action, By, Chain, Corner, Head, Opposed, Pair, Pick, Profile, Step, Trigger,
};
use harmonym_core::take::Report;
use std::collections::{BTreeMap, HashMap};

/// An event with every field as text but its value and progress.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    pub t: u64,
    pub tick: u64,
    pub action: String,
    pub what: String,
    pub value: [f64; 2],
    pub held: u64,
    pub fired_for: Option<u64>,
    pub progress: f64,
    pub from: Option<String>,
}

#[derive(Clone, Default)]
struct Episode {
    woke: u64,
    down: Option<u64>,
    last_down: [f64; 2],
    first_fire: Option<u64>,
    /// Per alternative: when it fired last.
    fired: BTreeMap<usize, u64>,
}

pub struct Interpreter<'a> {
    profile: &'a Profile,
    rate: u64,
    raw: HashMap<ControlId, [f64; 2]>,
    /// Per opposed pair, the sides away from 0 in the order they left it.
    order: HashMap<String, Vec<bool>>,
    open: BTreeMap<ActionId, Episode>,
    values: BTreeMap<ActionId, [f64; 2]>,
    from: BTreeMap<ActionId, String>,
    tick: u64,
    pub told: Vec<Told>,
}

type V = [f64; 2];

fn len(v: V) -> f64 {
    v[0].hypot(v[1])
}

impl<'a> Interpreter<'a> {
    /// Runs all reports and gives what was told.
    pub fn run(profile: &'a Profile, reports: &[Report], rate: u64) -> (Vec<Told>, u64) {
        let mut this = Self {
            profile,
            rate,
            raw: HashMap::new(),
            order: HashMap::new(),
            open: BTreeMap::new(),
            values: BTreeMap::new(),
            from: BTreeMap::new(),
            tick: 1,
            told: Vec::new(),
        };
        let last = reports.last().map_or(0, |r| r.t.nanos());
        let mut next = 0;
        loop {
            let tick_at =
                u64::try_from(u128::from(this.tick) * 1_000_000_000 / u128::from(rate)).unwrap();
            while next < reports.len() && reports[next].t.nanos() <= tick_at {
                this.holds(reports[next].t.nanos());
                this.report(&reports[next]);
                next += 1;
            }
            this.holds(tick_at);
            this.whiles(tick_at);
            let next_tick = u128::from(this.tick + 1) * 1_000_000_000 / u128::from(this.rate);
            let limit = u128::from(last) + 10_000_000_000;
            if next == reports.len() && tick_at >= last && (this.settled() || next_tick > limit) {
                this.stop(tick_at);
                return (this.told, this.tick);
            }
            this.tick += 1;
        }
    }

    fn actions(&self) -> Vec<ActionId> {
        let starts = |id: &ActionId| self.profile.maps[self.profile.actions[*id].map].start;
        self.profile.actions.ids().filter(starts).collect()
    }

    /// The first hold that is due by `now`, with its time: earliest first, then file order.
    fn next_hold(&self, now: u64) -> Option<(u64, ActionId, usize)> {
        let mut due = Vec::new();
        for (&id, episode) in &self.open {
            for (i, alternative) in self.profile.actions[id].fire.iter().enumerate() {
                if let (Trigger::Hold(time), Some(down)) = (alternative.trigger, episode.down)
                    && !episode.fired.contains_key(&i)
                    && down + time.nanos() <= now
                {
                    due.push((down + time.nanos(), id, i));
                }
            }
        }
        due.into_iter().min()
    }

    fn settled(&self) -> bool {
        self.next_hold(u64::MAX).is_none()
    }

    fn holds(&mut self, now: u64) {
        while let Some((t, id, i)) = self.next_hold(now) {
            self.fire(t, id, i, self.value_told(id));
        }
    }

    fn whiles(&mut self, t: u64) {
        for id in self.actions() {
            for (i, alternative) in self.profile.actions[id].fire.iter().enumerate() {
                let down = self.open.get(&id).is_some_and(|e| e.down.is_some());
                if down && alternative.trigger == Trigger::While {
                    self.fire(t, id, i, self.value_told(id));
                }
            }
        }
    }

    fn report(&mut self, report: &Report) {
        let value = [report.value.x, report.value.y].map(|v| v.clamp(-1.0, 1.0));
        self.raw.insert(report.control, value);
        for id in self.actions() {
            let value = self.action_value(id);
            self.levels(report.t.nanos(), id, value);
        }
    }

    fn action_value(&mut self, id: ActionId) -> V {
        let action = &self.profile.actions[id];
        let mut best: Option<(V, String)> = None;
        for binding in &action.bindings {
            let address = self.profile.binding_address(id, binding);
            let value = self.chain(&binding.chain, &address);
            if best.as_ref().is_none_or(|(b, _)| len(value) > len(*b) + 1e-9) {
                best = Some((value, address));
            }
        }
        let Some((value, address)) = best else { return [0.0; 2] };
        if len(value) > 1e-6 {
            self.from.insert(id, address);
        }
        action.shape.iter().fold(value, |v, step| apply(step, v))
    }

    fn chain(&mut self, chain: &Chain, path: &str) -> V {
        let head = match &chain.head {
            Head::Control { reads, .. } => self.read(*reads),
            Head::Pair(pair) => [self.pair(pair, path), 0.0],
            Head::Four(four) => {
                let x = self.pair(&four.x, &format!("{path}.x"));
                let v = [x, self.pair(&four.y, &format!("{path}.y"))];
                match four.corner {
                    Corner::Round if len(v) > 1.0 => [v[0] / len(v), v[1] / len(v)],
                    _ => v,
                }
            }
            Head::Group(inner) => self.chain(inner, path),
        };
        chain.steps.iter().fold(head, |v, step| apply(step, v))
    }

    fn read(&self, reads: Reads) -> V {
        let raw = |c: ControlId| self.raw.get(&c).copied().unwrap_or_default();
        let of = |c: ControlId, part: Component| raw(c)[usize::from(part == Component::Y)];
        match reads {
            Reads::Whole(c) => raw(c),
            Reads::Component(c, part) => [of(c, part), 0.0],
            Reads::Half(c, part, true) => [of(c, part).max(0.0), 0.0],
            Reads::Half(c, part, false) => [(-of(c, part)).max(0.0), 0.0],
            Reads::Either(a, b) => [raw(a)[0].max(raw(b)[0]), 0.0],
            Reads::Four([up, left, down, right]) => {
                let v = [raw(right)[0] - raw(left)[0], raw(up)[0] - raw(down)[0]];
                if len(v) > 1.0 { [v[0] / len(v), v[1] / len(v)] } else { v }
            }
        }
    }

    fn pair(&mut self, pair: &Pair, path: &str) -> f64 {
        let neg = self.chain(&pair.neg, &format!("{path}.neg"))[0].clamp(0.0, 1.0);
        let pos = self.chain(&pair.pos, &format!("{path}.pos"))[0].clamp(0.0, 1.0);
        let order = self.order.entry(path.to_owned()).or_default();
        let on = |is_pos: bool| if is_pos { pos > 1e-6 } else { neg > 1e-6 };
        order.retain(|&is_pos| on(is_pos));
        for is_pos in [pair.pos_first, !pair.pos_first] {
            if on(is_pos) && !order.contains(&is_pos) {
                order.push(is_pos);
            }
        }
        let [first, last] = order[..] else { return pos - neg };
        let pos_counts = match pair.opposed {
            Opposed::Cancel => return pos - neg,
            Opposed::Oldest => first,
            Opposed::Newest => last,
            Opposed::Neg => false,
            Opposed::Pos => true,
        };
        if pos_counts { pos } else { -neg }
    }

    fn value_told(&self, id: ActionId) -> V {
        let down = self.open.get(&id).is_some_and(|e| e.down.is_some());
        match self.profile.actions[id].kind {
            Kind::Switch => [f64::from(u8::from(down)), 0.0],
            _ => self.values.get(&id).copied().unwrap_or_default(),
        }
    }

    fn levels(&mut self, t: u64, id: ActionId, value: V) {
        let action = self.profile.actions[id].clone();
        let levels = action.levels;
        let turned = |e: &Episode| {
            action.kind == Kind::Axis && e.down.is_some() && e.last_down[0] * value[0] < 0.0
        };
        if self.open.get(&id).is_some_and(turned) {
            self.values.insert(id, [0.0; 2]);
            self.up(t, id, &action);
        }
        self.values.insert(id, value);
        let m = len(value);
        if self.open.get(&id).is_some_and(|e| e.down.is_some()) {
            if m < levels.up {
                self.up(t, id, &action);
            } else if let Some(episode) = self.open.get_mut(&id) {
                episode.last_down = value;
            }
            return;
        }
        let wakes = !self.open.contains_key(&id) && m >= levels.wake;
        if wakes {
            self.open.insert(id, Episode { woke: t, ..Episode::default() });
        }
        let Some(episode) = self.open.get_mut(&id) else { return };
        if m >= levels.down {
            episode.down = Some(t);
            episode.last_down = value;
        }
        if wakes {
            self.tell(t, id, "wake".into(), self.value_told(id), 0.0);
        }
        if m >= levels.down {
            for (i, alternative) in action.fire.iter().enumerate() {
                if alternative.trigger == Trigger::Press {
                    self.fire(t, id, i, self.value_told(id));
                }
            }
        } else if m < levels.up {
            self.end(t, id, "too-light", self.value_told(id), 0.0);
        }
    }

    fn up(&mut self, t: u64, id: ActionId, action: &Action) {
        let episode = self.open[&id].clone();
        let reached = self.progress(t, id);
        let value = if action.kind == Kind::Switch { [1.0, 0.0] } else { episode.last_down };
        for (i, alternative) in action.fire.iter().enumerate() {
            let fired = episode.fired.contains_key(&i);
            match alternative.trigger {
                Trigger::Release => self.fire(t, id, i, value),
                Trigger::While if !fired => self.fire(t, id, i, value),
                _ => {}
            }
        }
        let fired_any = self.open[&id].first_fire.is_some();
        let cause = if fired_any { "released" } else { "too-short" };
        let value = if action.kind == Kind::Switch { [0.0; 2] } else { self.values[&id] };
        self.end(t, id, cause, value, reached);
    }

    fn progress(&self, t: u64, id: ActionId) -> f64 {
        let episode = &self.open[&id];
        let share = |trigger: Trigger| match (trigger, episode.down) {
            (Trigger::Hold(time), Some(down)) => ((t - down) as f64 / time.nanos() as f64).min(1.0),
            _ => 0.0,
        };
        let shares = self.profile.actions[id].fire.iter().map(|a| share(a.trigger));
        shares.fold(0.0, f64::max)
    }

    fn fire(&mut self, t: u64, id: ActionId, alternative: usize, value: V) {
        let episode = self.open.get_mut(&id).unwrap();
        episode.first_fire.get_or_insert(t);
        episode.fired.insert(alternative, t);
        let by = self.profile.actions[id].fire[alternative].text.clone();
        self.tell(t, id, format!("fire by {by}"), value, 1.0);
    }

    fn end(&mut self, t: u64, id: ActionId, cause: &str, value: V, reached: f64) {
        let fired = self.open[&id].first_fire.is_some();
        let word = if fired { "rest" } else { "lapse" };
        let progress = if fired { 1.0 } else { reached };
        self.tell(t, id, format!("{word} {cause}"), value, progress);
        self.open.remove(&id);
    }

    fn stop(&mut self, t: u64) {
        for id in self.actions() {
            if self.open.contains_key(&id) {
                let reached = self.progress(t, id);
                self.end(t, id, "stopped", [0.0; 2], reached);
            }
        }
    }

    fn tell(&mut self, t: u64, id: ActionId, what: String, value: V, progress: f64) {
        let episode = &self.open[&id];
        self.told.push(Told {
            t,
            tick: self.tick,
            action: self.profile.address(id),
            what,
            value,
            held: t - episode.woke,
            fired_for: episode.first_fire.map(|first| t - first),
            progress,
            from: self.from.get(&id).cloned(),
        });
    }
}

fn apply(step: &Step, v: V) -> V {
    let m = len(v);
    let to = |new: f64| if m == 0.0 { [0.0; 2] } else { [v[0] * (new / m), v[1] * (new / m)] };
    let zone = |m: f64, low: f64, full: f64| ((m - low) / (full - low)).clamp(0.0, 1.0);
    match *step {
        Step::Flip { x, y } => [if x { -v[0] } else { v[0] }, if y { -v[1] } else { v[1] }],
        Step::Scale { x, y } => [v[0] * x, v[1] * y],
        Step::Deadzone { low, full, by: By::Length } => to(zone(m, low, full)),
        Step::Deadzone { low, full, by: By::Axes } => {
            v.map(|c| c.signum() * zone(c.abs(), low, full))
        }
        Step::Curve { power } => to(m.powf(power)),
        Step::Cap { limit } => to(m.min(limit)),
        Step::Onto { component: Component::X, .. } => [v[0], 0.0],
        Step::Onto { component: Component::Y, .. } => [0.0, v[0]],
        Step::Pick(Pick::Component(Component::X)) => [v[0], 0.0],
        Step::Pick(Pick::Component(Component::Y)) => [v[1], 0.0],
        Step::Pick(Pick::Length) => [m, 0.0],
    }
}
