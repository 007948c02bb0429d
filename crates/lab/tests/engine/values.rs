//! The values of the second interpreter: controls, combinations, steps and blends, by the formulas.

use crate::motion::{Mode, Move};
use crate::world::World;
use harmonym_lang::model::{
    Blend, By, Chain, Corner, Head, Number, Opposed, Pair, Pick, Profile, Step, StepKind,
};
use harmonym_runtime::base::{Component, Id, Kind, VariableId};
use harmonym_runtime::controls::Reads;
use std::collections::{BTreeMap, HashMap};

pub type V = [f64; 3];

pub fn len(v: V) -> f64 {
    match v {
        // The square of what is next to nothing is nothing.
        [x, 0.0, 0.0] => x.abs(),
        [x, y, z] => (x * x + y * y + z * z).sqrt(),
    }
}

/// Everything that values come from, and what combinations, steps and blends remember by place.
pub struct Inputs<'a> {
    pub profile: &'a Profile,
    pub world: World<'a>,
    /// The moment, how values are looked at, and whether what moves was passed on the way.
    pub t: u64,
    pub mode: Mode,
    pub passed: bool,
    pub moves: HashMap<String, Move>,
    named: Vec<f64>,
    /// Per opposed pair, the sides away from 0 in the order they left it; `true` is the positive.
    sides: HashMap<String, Vec<bool>>,
    switches: HashMap<String, (bool, bool)>,
    toggles: std::collections::HashSet<String>,
    /// The bindings away from 0 in the order they left it, and all that changed, latest last.
    away: Vec<String>,
    changed: Vec<String>,
    last: BTreeMap<String, V>,
}

impl<'a> Inputs<'a> {
    pub fn new(profile: &'a Profile) -> Self {
        let named = profile.variables.iter().map(|n| n.default * n.factor).collect();
        Self {
            profile,
            world: World::new(profile),
            t: 0,
            mode: Mode::Event,
            passed: false,
            moves: HashMap::new(),
            named,
            sides: HashMap::new(),
            switches: HashMap::new(),
            toggles: std::collections::HashSet::new(),
            away: Vec::new(),
            changed: Vec::new(),
            last: BTreeMap::new(),
        }
    }

    pub fn set(&mut self, named: VariableId, value: f64) {
        self.named[named.index()] = value * self.profile.variables[named].factor;
    }

    pub fn named(&self, named: VariableId) -> f64 {
        self.named[named.index()]
    }

    pub fn number(&self, number: Number) -> f64 {
        match number {
            Number::Fixed(value) => value,
            Number::Variable { named, least, most } => self.named(named).max(least).min(most),
        }
    }

    pub fn chain(&mut self, chain: &Chain, path: &str, actions: &[V]) -> V {
        let mut part = |chain: &Chain, name: &str| {
            let path = format!("{path}.{name}");
            self.chain(chain, &path, actions)
        };
        let head = match &chain.head {
            Head::Control { reads, .. } => self.read(*reads, path),
            Head::Action { action, .. } => actions[action.index()],
            Head::Pair(pair) => [self.pair(pair, path, actions), 0.0, 0.0],
            Head::Four(four) => {
                let x = self.pair(&four.x, &format!("{path}.x"), actions);
                let y = self.pair(&four.y, &format!("{path}.y"), actions);
                match four.corner {
                    Corner::Round => limited([x, y, 0.0], 1.0),
                    Corner::Square => [x, y, 0.0],
                }
            }
            Head::Join(parts) => {
                let mut v = [0.0; 3];
                for (i, one) in parts.iter().enumerate() {
                    v[i] = part(one, &i.to_string())[0];
                }
                v
            }
            Head::Any(parts) => {
                let all: Vec<V> =
                    parts.iter().enumerate().map(|(i, one)| part(one, &i.to_string())).collect();
                all.into_iter()
                    .reduce(|best, v| if len(v) > len(best) + 1e-9 { v } else { best })
                    .unwrap()
            }
            Head::Sum(_) => self.plus(path, actions),
            Head::Group(inner) => part(inner, "inner"),
        };
        self.steps(&chain.steps, chain.head.kind(), head, path)
    }

    fn read(&self, reads: Reads, path: &str) -> V {
        let seen = |path: &str| self.world.effective(path);
        let of = |part: Component| seen(path)[part as usize];
        match reads {
            Reads::Whole(_) | Reads::Either(..) | Reads::Char(_) | Reads::Nothing => seen(path),
            Reads::Component(_, part) => [of(part), 0.0, 0.0],
            Reads::Half(_, part, true) => [of(part).max(0.0), 0.0, 0.0],
            Reads::Half(_, part, false) => [(-of(part)).max(0.0), 0.0, 0.0],
            Reads::Four(_) => {
                let [up, left, down, right] = [0, 1, 2, 3].map(|i| seen(&format!("{path}.{i}"))[0]);
                limited([right - left, up - down, 0.0], 1.0)
            }
        }
    }

    /// Works a `+` out, and notes what counts and hides since.
    pub fn plus(&mut self, path: &str, actions: &[V]) -> V {
        let Some(index) = self.world.pluses.iter().position(|p| p.path == path) else {
            return [0.0; 3];
        };
        let parts = self.world.pluses[index].parts.clone();
        let values: Vec<V> = parts
            .iter()
            .enumerate()
            .map(|(i, one)| self.chain(one, &format!("{path}.{i}"), actions))
            .collect();
        let (last, holders) = values.split_last().unwrap();
        let held = holders.iter().all(|v| len(*v) >= 0.5);
        let last_uses = self.world.pluses[index].last.clone();
        let muted = self.world.muted.iter().any(|(path, ..)| last_uses.contains(path));
        let back = last_uses.iter().all(|path| self.world.is_let_go(path));
        let says = self.world.says(self.world.pluses[index].scheme);
        if self.mode != Mode::Peek && says {
            let plus = &mut self.world.pluses[index];
            let was_high = plus.high;
            plus.high = len(*last) >= 0.5;
            plus.barred &= plus.high || muted;
            plus.counts = match plus.pressed {
                true => held && plus.high && (plus.counts || !was_high),
                false => held && !plus.barred,
            };
            plus.latched = plus.counts || (plus.latched && !back);
        }
        if self.world.pluses[index].counts { *last } else { [0.0; 3] }
    }

    fn pair(&mut self, pair: &Pair, path: &str, actions: &[V]) -> f64 {
        let neg = self.chain(&pair.neg, &format!("{path}.neg"), actions)[0].clamp(0.0, 1.0);
        let pos = self.chain(&pair.pos, &format!("{path}.pos"), actions)[0].clamp(0.0, 1.0);
        let kept = self.sides.clone();
        let order = self.sides.entry(path.to_owned()).or_default();
        let on = |is_pos: bool| if is_pos { pos > 1e-6 } else { neg > 1e-6 };
        order.retain(|&is_pos| on(is_pos));
        for is_pos in [pair.pos_first, !pair.pos_first] {
            if on(is_pos) && !order.contains(&is_pos) {
                order.push(is_pos);
            }
        }
        let sides = order.clone();
        if self.mode == Mode::Peek {
            self.sides = kept;
        }
        let [first, last] = sides[..] else { return pos - neg };
        let pos_counts = match pair.opposed {
            Opposed::Cancel => return pos - neg,
            Opposed::Oldest => first,
            Opposed::Newest => last,
            Opposed::Neg => false,
            Opposed::Pos => true,
        };
        if pos_counts { pos } else { -neg }
    }

    pub fn steps(&mut self, steps: &[Step], mut kind: Kind, v: V, path: &str) -> V {
        steps.iter().enumerate().fold(v, |v, (i, step)| {
            let holds =
                |c: &harmonym_lang::model::Condition| (self.named(c.named) == 0.0) == c.unless;
            let path = format!("{path}|{i}");
            if step.conditions.iter().all(holds) {
                let count = kind.components();
                kind = step.kind.kind_after(kind);
                let new = self.step(&step.kind, v, path);
                match step.kind {
                    StepKind::Clamp(..) | StepKind::Remap(_) => {
                        [0, 1, 2].map(|i| if i < count { new[i] } else { 0.0 })
                    }
                    _ => new,
                }
            } else {
                if self.mode != Mode::Peek {
                    self.switches.remove(&path);
                }
                self.skip_move(&step.kind, &path, v);
                v
            }
        })
    }

    fn switch(&mut self, path: String, m: f64, on: f64, off: f64) -> (bool, bool) {
        if self.mode == Mode::Peek {
            return self.switches.get(&path).copied().unwrap_or_default();
        }
        let (is_on, toggled) = self.switches.entry(path).or_default();
        let was = *is_on;
        *is_on = if was { m >= off } else { m >= on };
        *toggled ^= *is_on && !was;
        (*is_on, *toggled)
    }

    fn step(&mut self, form: &StepKind, v: V, path: String) -> V {
        let m = len(v);
        let to = |new: f64| if m == 0.0 { [0.0; 3] } else { v.map(|c| c / m * new) };
        let zone = |m: f64, low: f64, full: f64| ((m - low) / (full - low)).clamp(0.0, 1.0);
        let bit = |on: bool| [f64::from(u8::from(on)), 0.0, 0.0];
        let n = |number: &Number| self.number(*number);
        match form {
            StepKind::Flip(turned) => [0, 1, 2].map(|i| if turned[i] { -v[i] } else { v[i] }),
            StepKind::Ease { rise, fall, cut } => self.ease(&path, v, n(rise), n(fall), *cut),
            StepKind::Smooth(time) => self.smooth(&path, v, n(time)),
            StepKind::Travel => self.travel(&path, v),
            StepKind::Not => bit(!self.switch(path, m, 0.5, 0.4).0),
            StepKind::Toggle => {
                self.toggles.insert(path.clone());
                bit(self.switch(path, m, 0.5, 0.4).1)
            }
            StepKind::SwitchAt { on, off } => {
                let on = n(on);
                let off = off.as_ref().map_or(0.8 * on, n);
                bit(self.switch(path, m, on, off).0)
            }
            StepKind::Scale(by) => {
                [0, 1, 2].map(|i| v[i] * by.get(i).or(by.first()).map_or(1.0, n))
            }
            StepKind::Deadzone { low, full, by: By::Length } => to(zone(m, n(low), n(full))),
            StepKind::Deadzone { low, full, by: By::Axes } => {
                v.map(|c| c.signum() * zone(c.abs(), n(low), n(full)))
            }
            StepKind::Curve(power) => to(m.powf(n(power))),
            StepKind::Points(points) => {
                let all: Vec<(f64, f64)> = [(0.0, 0.0)].iter().chain(points).copied().collect();
                let line = all.windows(2).find(|w| m <= w[1].0);
                to(line.map_or(all[all.len() - 1].1, |w| {
                    w[0].1 + (w[1].1 - w[0].1) * (m - w[0].0) / (w[1].0 - w[0].0)
                }))
            }
            StepKind::Cap(limit) => limited(v, n(limit)),
            StepKind::Clamp(least, most) => v.map(|c| c.clamp(n(least), n(most))),
            StepKind::Unit => to(1.0),
            StepKind::Remap(ends) => {
                let [a, b, c, d] = ends.map(|e| self.number(e));
                v.map(|x| (c + (x - a) / (b - a) * (d - c)).clamp(c.min(d), c.max(d)))
            }
            StepKind::Onto(component, _) => {
                let mut onto = [0.0; 3];
                onto[*component as usize] = v[0];
                onto
            }
            StepKind::Pick(Pick::Component(component)) => [v[*component as usize], 0.0, 0.0],
            StepKind::Pick(Pick::Length) => [m, 0.0, 0.0],
            StepKind::Order(order) => {
                let mut new = v;
                for (i, component) in order.iter().enumerate() {
                    new[i] = v[*component as usize];
                }
                new
            }
            StepKind::Rotate(angle, around) => {
                let (sin, cos) = n(angle).sin_cos();
                let (i, j) = match around {
                    Component::X => (1, 2),
                    Component::Y => (2, 0),
                    Component::Z => (0, 1),
                };
                let mut new = v;
                (new[i], new[j]) = (v[i] * cos - v[j] * sin, v[i] * sin + v[j] * cos);
                new
            }
            StepKind::Ways { count, from } => {
                let step = std::f64::consts::TAU / n(count);
                let angle = v[1].atan2(v[0]) - n(from);
                let way = n(from) + ((angle + 1e-9) / step + 0.5).floor() * step;
                if m == 0.0 { v } else { [m * way.cos(), m * way.sin(), 0.0] }
            }
            StepKind::Notch(size) => to((m / n(size) + 0.5 + 1e-9).floor() * n(size)),
        }
    }

    /// Sets what the steps of an action keep back to their start.
    pub fn forget_steps(&mut self, address: &str) {
        let own = |path: &String| {
            path.strip_prefix(address).is_some_and(|rest| rest.starts_with(['@', '.']))
        };
        self.sides.retain(|path, _| !own(path));
        self.moves.retain(|path, _| !own(path));
        self.switches.retain(|path, _| !own(path));
    }

    /// Sets everything of an action back to its start; a pause keeps what toggles keep.
    pub fn forget(&mut self, address: &str, is_pause: bool) {
        let own = |path: &String| {
            path.strip_prefix(address).is_some_and(|rest| rest.starts_with(['@', '.']))
        };
        self.sides.retain(|path, _| !own(path));
        self.moves.retain(|path, _| !own(path));
        let toggles = &self.toggles;
        self.switches.retain(|path, _| !own(path) || (is_pause && toggles.contains(path)));
        self.away.retain(|path| !own(path));
        self.changed.retain(|path| !own(path));
        self.last.retain(|path, _| !own(path));
        self.world.moved.retain(|(path, _), _| !own(path));
        self.world.held.retain(|(path, _), _| !own(path));
        self.world.muted.retain(|(path, ..)| !own(path));
        self.world.covered.retain(|path, _| !own(path));
        for plus in self.world.pluses.iter_mut().filter(|plus| own(&plus.path)) {
            (plus.counts, plus.high, plus.barred, plus.latched) = (false, false, false, false);
        }
    }

    /// What comes of an action's bindings, and which of them won.
    pub fn blend(&mut self, blend: Blend, bindings: &[(String, V, bool)]) -> (V, Option<usize>) {
        for (name, value, _) in bindings.iter().filter(|_| self.mode != Mode::Peek) {
            let away = len(*value) > 1e-6;
            let before = self.last.insert(name.clone(), *value).unwrap_or_default();
            if !away {
                self.away.retain(|n| n != name);
            } else if !self.away.contains(name) {
                self.away.push(name.clone());
            }
            if (0..3).any(|i| (value[i] - before[i]).abs() > 1e-6) {
                self.changed.retain(|n| n != name);
                self.changed.push(name.clone());
            }
        }
        let place = |name: &String| bindings.iter().position(|(n, _, says)| n == name && *says);
        let mut greatest: Option<usize> = None;
        for (i, (_, value, says)) in bindings.iter().enumerate() {
            if *says
                && greatest.is_none_or(|best: usize| len(*value) > len(bindings[best].1) + 1e-9)
            {
                greatest = Some(i);
            }
        }
        let won = match blend {
            // Among one there is nothing to choose: it may be as little away from 0 as it likes.
            _ if bindings.len() == 1 => greatest,
            Blend::Greatest | Blend::Sum => greatest,
            Blend::Oldest => self.away.iter().find_map(place),
            Blend::Newest => self.away.iter().rev().find_map(place),
            Blend::LastChange => self.changed.iter().rev().find_map(place),
        };
        let value = match blend {
            Blend::Sum => {
                let own = bindings.iter().filter(|(.., says)| *says);
                own.fold([0.0; 3], |s, (_, v, _)| [0, 1, 2].map(|i| s[i] + v[i]))
            }
            _ => won.map_or([0.0; 3], |i| bindings[i].1),
        };
        (value, won)
    }
}

fn limited(v: V, limit: f64) -> V {
    if len(v) > limit { v.map(|c| c / len(v) * limit) } else { v }
}
