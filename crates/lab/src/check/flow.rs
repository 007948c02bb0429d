//! What every binding, blend and shape can give: intervals followed through each step.
//!
//! Sound: what the engine can give lies inside. Each step has its transfer function here; the
//! step's formula stands with [`StepKind`].

use super::interval::{Interval, Range};
use super::turned::{rotated, to_ways};
use harmonym_lang::model::{
    Action, ActionId, Binding, By, Chain, Corner, Four, Head, Number, Opposed, Pair, Pick, Profile,
    Step, StepKind,
};
use harmonym_runtime::base::limits::{ON, PRESSED, TIE};
use harmonym_runtime::base::{Blend, ControlId, ControlKind, Id, Kind, VariableId};
use harmonym_runtime::controls::Reads;
use std::collections::HashMap;

/// What hands do.
#[derive(Clone, Debug)]
pub enum Hands {
    /// Anything that devices can report.
    Any,
    /// Only these controls are touched, each within its range; steps that move have arrived.
    Only(Vec<(ControlId, Range)>),
}

/// Follows values through a profile.
#[derive(Clone, Debug)]
pub struct Flow<'a> {
    profile: &'a Profile,
    hands: Hands,
    /// What settings and facts are worth, in base units; nothing for what they are at first, or for all
    /// that they can be where hands do anything.
    worth: Option<Vec<f64>>,
    /// What each action can give to those that read it; known for those before it.
    known: HashMap<ActionId, Range>,
}

impl<'a> Flow<'a> {
    /// Everything that can come, whatever hands do.
    pub fn any(profile: &'a Profile) -> Self {
        Self { profile, hands: Hands::Any, worth: None, known: HashMap::new() }
    }

    /// What comes when only some controls are touched, with settings as they are at first.
    pub fn only(profile: &'a Profile, touched: Vec<(ControlId, Range)>) -> Self {
        Self { profile, hands: Hands::Only(touched), worth: None, known: HashMap::new() }
    }

    /// The same with settings and facts worth this, in base units.
    #[must_use]
    pub fn with(self, worth: Option<&[f64]>) -> Self {
        Self { worth: worth.map(<[f64]>::to_vec), ..self }
    }

    fn is_any(&self) -> bool {
        matches!(self.hands, Hands::Any)
    }

    /// What an action can give, with the bindings that `counts` says count.
    pub fn action(&mut self, id: ActionId, counts: &dyn Fn(&Binding) -> bool) -> Range {
        let action = &self.profile.actions[id];
        let blended = self.blended(action, counts);
        let (range, _) = self.steps(&action.shape, blended, action.kind);
        match action.kind {
            Kind::Switch => Range::axis(range.length),
            _ => range,
        }
    }

    /// The bindings together, before the shape.
    pub fn blended(&mut self, action: &Action, counts: &dyn Fn(&Binding) -> bool) -> Range {
        let mut all = Vec::new();
        for binding in action.bindings.iter().filter(|binding| counts(binding)) {
            let range = self.chain(&binding.chain);
            all.push(range);
        }
        let rest = if self.is_any() { Some(Range::ZERO) } else { None };
        match action.blend {
            Blend::Sum => all
                .into_iter()
                .map(|range| rest.map_or(range, |rest| range.or(rest)))
                .reduce(Range::plus)
                .unwrap_or(Range::ZERO),
            _ if self.is_any() => all.into_iter().fold(Range::ZERO, Range::or),
            // Of what is touched, the greatest.
            _ => all
                .into_iter()
                .reduce(|a, b| if b.length.most > a.length.most { b } else { a })
                .unwrap_or(Range::ZERO),
        }
    }

    /// What a chain can give.
    pub fn chain(&mut self, chain: &Chain) -> Range {
        let head = self.head(&chain.head);
        self.steps(&chain.steps, head, chain.head.kind()).0
    }

    fn head(&mut self, head: &Head) -> Range {
        match head {
            Head::Control { kind, reads, .. } => self.control(*kind, *reads),
            Head::Action { action, .. } => self.other(*action),
            Head::Pair(pair) => Range::axis(self.pair(pair)),
            Head::Four(four) => self.four(four),
            Head::Join(parts) => {
                let mut all = [Interval::ZERO; 3];
                for (place, part) in all.iter_mut().zip(parts) {
                    *place = self.chain(part).parts[0];
                }
                Range::of(all)
            }
            Head::Any(parts) => {
                let all: Vec<Range> = parts.iter().map(|part| self.chain(part)).collect();
                match self.is_any() {
                    true => all.into_iter().reduce(Range::or).unwrap_or(Range::ZERO),
                    false => all
                        .into_iter()
                        .reduce(|a, b| if b.length.most > a.length.most { b } else { a })
                        .unwrap_or(Range::ZERO),
                }
            }
            Head::Sum(parts) => {
                let all: Vec<Range> = parts.iter().map(|part| self.chain(part)).collect();
                match all.split_last() {
                    Some((last, _)) if self.is_any() => last.or(Range::ZERO),
                    Some((last, holders)) => {
                        let held = holders.iter().all(|holder| holder.length.most >= PRESSED);
                        if held { *last } else { Range::ZERO }
                    }
                    None => Range::ZERO,
                }
            }
            Head::Group(inner) => self.chain(inner),
        }
    }

    /// Another action as game code reads it: 0 at rest.
    fn other(&mut self, id: ActionId) -> Range {
        if let Some(known) = self.known.get(&id) {
            return *known;
        }
        let action = &self.profile.actions[id];
        let range = match action.kind {
            Kind::Switch => Range::axis(Interval::new(0.0, 1.0)),
            _ if !self.is_any() => self.action(id, &|_| true),
            _ => self.action(id, &|_| true).or(Range::ZERO),
        };
        self.known.insert(id, range);
        range
    }

    /// A control as bindings read it.
    fn control(&self, kind: ControlKind, reads: Reads) -> Range {
        match reads {
            Reads::Whole(id) => self.reported(id, whole(kind)),
            Reads::Component(id, component) => {
                let all = self.reported(id, whole(self.kind_of(id)));
                Range::axis(all.parts[component as usize])
            }
            Reads::Half(id, component, positive) => {
                let part = self.reported(id, whole(self.kind_of(id))).parts[component as usize];
                let way = if positive { part } else { part.negated() };
                Range::axis(way.within(0.0, f64::INFINITY))
            }
            Reads::Either(a, b) => {
                let range = whole(ControlKind::Button);
                let (a, b) = (self.reported(a, range), self.reported(b, range));
                if a.length.most >= b.length.most { a } else { b }
            }
            Reads::Four([up, left, down, right]) => {
                let of = |id: ControlId| self.reported(id, whole(ControlKind::Button)).parts[0];
                let x = of(right).plus(of(left).negated());
                let y = of(up).plus(of(down).negated());
                Range::of([x, y, Interval::ZERO]).no_longer_than(1.0)
            }
            Reads::Nothing => Range::ZERO,
            Reads::Char(_) if self.is_any() => whole(ControlKind::Button),
            Reads::Char(c) => {
                let key =
                    self.profile.catalogue.key_of(c, harmonym_runtime::controls::Layout::default());
                key.map_or(Range::ZERO, |key| self.reported(key, whole(ControlKind::Button)))
            }
        }
    }

    fn kind_of(&self, id: ControlId) -> ControlKind {
        let reported = self.profile.catalogue.reported();
        reported.get(id.index()).map_or(ControlKind::Button, |one| one.kind)
    }

    fn reported(&self, id: ControlId, any: Range) -> Range {
        match &self.hands {
            Hands::Any => any,
            Hands::Only(touched) => {
                touched.iter().find(|(one, _)| *one == id).map_or(Range::ZERO, |(_, range)| *range)
            }
        }
    }

    fn pair(&mut self, pair: &Pair) -> Interval {
        let held = |range: Range| range.parts[0].within(0.0, 1.0);
        let (neg, pos) = (held(self.chain(&pair.neg)), held(self.chain(&pair.pos)));
        let both = pos.plus(neg.negated());
        match pair.opposed {
            Opposed::Cancel => both,
            // One side alone, while both are held.
            _ => both.or(pos).or(neg.negated()),
        }
    }

    fn four(&mut self, four: &Four) -> Range {
        let (x, y) = (self.pair(&four.x), self.pair(&four.y));
        let range = Range::of([x, y, Interval::ZERO]);
        match four.corner {
            Corner::Round => range.no_longer_than(1.0),
            Corner::Square => range,
        }
    }

    /// A chain of steps; gives the kind too.
    pub fn steps(&self, steps: &[Step], range: Range, kind: Kind) -> (Range, Kind) {
        steps.iter().fold((range, kind), |(range, kind), step| {
            let done = self.form(&step.kind, range, kind);
            let range = match self.is_done(step) {
                Some(true) => done,
                Some(false) => range,
                None => done.or(range),
            };
            (range, step.kind.kind_after(kind))
        })
    }

    /// Whether a step's conditions hold; nothing when that depends.
    fn is_done(&self, step: &Step) -> Option<bool> {
        let mut sure = true;
        for condition in &step.conditions {
            let number = self.named(condition.named);
            let is_zero = number == Interval::ZERO;
            let is_never_zero = !number.holds(0.0);
            match (is_zero, is_never_zero, condition.unless) {
                (true, _, false) | (_, true, true) => return Some(false),
                (true, _, true) | (_, true, false) => {}
                _ => sure = false,
            }
        }
        sure.then_some(true)
    }

    /// What a setting or fact can be, in base units.
    pub fn named(&self, id: VariableId) -> Interval {
        let named = &self.profile.variables[id];
        if let Some(worth) = self.worth.as_ref().and_then(|all| all.get(id.index())) {
            return Interval::only(*worth);
        }
        if !self.is_any() {
            return Interval::only(named.default * named.factor);
        }
        match (named.is_switch, named.range) {
            (true, _) => Interval::new(0.0, 1.0),
            (false, Some((least, most))) => {
                Interval::new(least * named.factor, most * named.factor)
            }
            (false, None) => Interval::ALL,
        }
    }

    /// What a number of a step can be.
    pub fn number(&self, number: Number) -> Interval {
        match number {
            Number::Fixed(value) => Interval::only(value),
            Number::Variable { named, least, most } => self.named(named).within(least, most),
        }
    }

    /// The transfer function of one step.
    fn form(&self, form: &StepKind, v: Range, kind: Kind) -> Range {
        let number = |n: &Number| self.number(*n);
        let components = kind.components();
        match form {
            StepKind::Flip(turned) => {
                let parts =
                    std::array::from_fn(
                        |i| {
                            if turned[i] { v.parts[i].negated() } else { v.parts[i] }
                        },
                    );
                Range { parts, ..v }
            }
            StepKind::Not if v.length.most < ON => Range::axis(Interval::only(1.0)),
            StepKind::Not | StepKind::Toggle if !self.is_any() => v,
            StepKind::Not => Range::axis(Interval::new(0.0, 1.0)),
            StepKind::Toggle => switched(v, ON),
            StepKind::SwitchAt { on, .. } => switched(v, number(on).least),
            StepKind::Scale(factors) => scaled(v, &factors.iter().map(number).collect::<Vec<_>>()),
            StepKind::Deadzone { low, full, by } => {
                let (low, full) = (number(low), number(full));
                // Later ends give less, earlier ones more.
                let ends = |i: Interval| {
                    Interval::new(
                        dead(i.least, low.most, full.most),
                        dead(i.most, low.least, full.least),
                    )
                };
                match by {
                    By::Length => v.resized(kind, ends),
                    By::Axes => {
                        let each = |part: Interval| Range::axis(part).resized(Kind::Axis, ends);
                        Range::of(v.parts.map(|part| each(part).parts[0]))
                    }
                }
            }
            StepKind::Curve(power) => {
                let power = number(power);
                v.resized(kind, |i| {
                    let all = [i.least, i.most]
                        .into_iter()
                        .flat_map(|m| [power.least, power.most].map(|p| libm::pow(m, p).min(1e15)));
                    all.map(Interval::only).reduce(Interval::or).unwrap_or(i)
                })
            }
            StepKind::Points(points) => v.resized(kind, |i| on_lines(points, i)),
            StepKind::Cap(limit) => v.no_longer_than(number(limit).most),
            StepKind::Clamp(least, most) => {
                let (least, most) = (number(least), number(most));
                let (low, high) = (least.least.min(most.least), most.most.max(least.most));
                let sure = |part: Interval| {
                    let kept = |v: f64, lo: f64, hi: f64| v.min(hi).max(lo.min(hi));
                    Interval::new(
                        kept(part.least, least.least, most.least).max(low),
                        kept(part.most, least.most, most.most).min(high),
                    )
                };
                Range::of(first(components, v.parts, sure))
            }
            StepKind::Unit => v.resized(kind, |i| {
                let of = |m: f64| if m > 0.0 { 1.0 } else { 0.0 };
                Interval::new(of(i.least), of(i.most))
            }),
            StepKind::Remap([a, b, c, d]) => {
                let ends = [number(a), number(b), number(c), number(d)];
                Range::of(first(components, v.parts, |part| remapped(part, ends)))
            }
            StepKind::Onto(component, _) => {
                let mut parts = [Interval::ZERO; 3];
                if let Some(place) = parts.get_mut(*component as usize) {
                    *place = v.parts[0];
                }
                Range::of(parts)
            }
            StepKind::Pick(Pick::Component(component)) => Range::axis(v.parts[*component as usize]),
            StepKind::Pick(Pick::Length) => Range::axis(v.length),
            StepKind::Order(order) => {
                let mut parts = [Interval::ZERO; 3];
                for (place, from) in parts.iter_mut().zip(order) {
                    *place = v.parts[*from as usize];
                }
                Range { parts, length: v.length }
            }
            StepKind::Rotate(angle, around) => rotated(v, number(angle), *around),
            StepKind::Ways { count, from } => to_ways(v, number(count), number(from)),
            StepKind::Notch(size) => {
                let size = number(size);
                v.resized(kind, |i| {
                    let of = |m: f64, s: f64| libm::floor(m / s + 0.5 + TIE) * s;
                    // Whole steps, of whatever size there is: at most half of one away.
                    match size.least == size.most {
                        true => i.map(|m| of(m, size.most)),
                        false => {
                            Interval::new((i.least - size.most / 2.0).max(0.0), i.most + size.most)
                        }
                    }
                })
            }
            _ if !self.is_any() => v,
            // Straight or curved ways between inputs, from 0.
            StepKind::Ease { .. } | StepKind::Smooth(_) if kind == Kind::Turn => Range::turns(),
            StepKind::Ease { .. } | StepKind::Smooth(_) => v.or(Range::ZERO),
            StepKind::Travel => {
                let endless = |part: Interval| {
                    let least = if part.least < 0.0 { f64::NEG_INFINITY } else { 0.0 };
                    let most = if part.most > 0.0 { f64::INFINITY } else { 0.0 };
                    Interval::new(least, most)
                };
                Range::of(v.parts.map(endless))
            }
        }
    }
}

/// All that a control of a kind can report.
fn whole(kind: ControlKind) -> Range {
    let (least, most) = kind.range();
    let one = Interval::new(least, most);
    match kind {
        ControlKind::Button | ControlKind::Lever | ControlKind::Axis => Range::axis(one),
        ControlKind::Stick | ControlKind::Spot => Range::of([one, one, Interval::ZERO]),
        // Reports add up between two ticks.
        ControlKind::Relative => Range::of([Interval::ALL, Interval::ALL, Interval::ZERO]),
        ControlKind::Place => Range::of([one; 3]),
        ControlKind::Turn => Range::turns(),
    }
}

/// 0, and 1 where the input comes to `on`.
fn switched(v: Range, on: f64) -> Range {
    let most = if v.reaches(on) { 1.0 } else { 0.0 };
    Range::axis(Interval::new(0.0, most))
}

fn scaled(v: Range, factors: &[Interval]) -> Range {
    let factor = |i: usize| match factors {
        [one] => *one,
        all => all.get(i).copied().unwrap_or(Interval::only(1.0)),
    };
    let parts = std::array::from_fn(|i| v.parts[i].times(factor(i)));
    let length = match factors {
        [one] => v.length.times(one.abs()),
        _ => {
            let boxed = Range::of(parts).length;
            let most = (0..factors.len()).map(|i| factor(i).abs().most).fold(0.0, f64::max);
            let longest = Interval::only(most).times(Interval::only(v.length.most)).most;
            Interval::new(boxed.least.min(longest), boxed.most.min(longest))
        }
    };
    Range { parts, length }
}

/// A magnitude after a dead zone.
fn dead(m: f64, low: f64, full: f64) -> f64 {
    if m <= low {
        0.0
    } else if m >= full {
        1.0
    } else {
        (m - low) / (full - low)
    }
}

/// Straight lines through (0, 0) and points, over an interval of magnitudes.
fn on_lines(points: &[(f64, f64)], i: Interval) -> Interval {
    let at = |m: f64| {
        let mut before = (0.0, 0.0);
        for &point in points {
            if m <= point.0 {
                return before.1 + (m - before.0) / (point.0 - before.0) * (point.1 - before.1);
            }
            before = point;
        }
        before.1
    };
    let bends = points.iter().filter(|point| i.holds(point.0)).map(|point| point.1);
    let all = [at(i.least), at(i.most)].into_iter().chain(bends);
    all.map(Interval::only).reduce(Interval::or).unwrap_or(Interval::ZERO)
}

/// The components that a kind has.
fn first(count: usize, parts: [Interval; 3], map: impl Fn(Interval) -> Interval) -> [Interval; 3] {
    std::array::from_fn(|i| if i < count { map(parts[i]) } else { parts[i] })
}

fn remapped(part: Interval, [a, b, c, d]: [Interval; 4]) -> Interval {
    let ends = c.or(d);
    let fixed = [a, b, c, d].iter().all(|end| end.least == end.most);
    if !fixed || a == b {
        return if a == b && c.least == c.most && fixed { c } else { ends };
    }
    let (a, b, c, d) = (a.least, b.least, c.least, d.least);
    let of = |v: f64| match v.is_infinite() {
        true if (v > 0.0) == ((b > a) == (d > c)) => c.max(d),
        true => c.min(d),
        false => (c + (v - a) / (b - a) * (d - c)).clamp(c.min(d), c.max(d)),
    };
    Interval::only(of(part.least)).or(Interval::only(of(part.most)))
}
