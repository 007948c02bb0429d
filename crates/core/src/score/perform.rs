//! Instructions to reports.

use super::instruction::{Act, Hand, Target};
use super::{Instruction, Score};
use crate::base::{ControlId, Time, Vector};
use crate::take::{Input, What};
use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap};

/// The reports of a score, in order of time; at one instant in the order of the file.
#[derive(Debug)]
pub struct Performance<'a> {
    score: &'a Score,
    /// What is still to come: when, by which instruction, what.
    due: BinaryHeap<Reverse<(Time, usize, Due)>>,
    /// Where each control is that was touched.
    places: BTreeMap<ControlId, Vector>,
    moving: Vec<Movement>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Due {
    Begin,
    Up,
    Sample,
}

/// A control on its way.
#[derive(Clone, Copy, Debug)]
struct Movement {
    instruction: usize,
    target: Target,
    start: Time,
    over: Time,
    from: Vector,
    to: Vector,
    samples: u64,
}

impl Movement {
    /// Where the straight line is at `t`.
    fn value(&self, t: Time) -> Vector {
        let gone = t.since(self.start);
        if gone >= self.over {
            return self.to;
        }
        let share = gone.nanos() as f64 / self.over.nanos() as f64;
        let between = |from: f64, to: f64| from + (to - from) * share;
        Vector::new(between(self.from.x, self.to.x), between(self.from.y, self.to.y))
    }
}

impl<'a> Performance<'a> {
    pub(super) fn new(score: &'a Score) -> Self {
        let begin = |(i, one): (usize, &Instruction)| Reverse((one.at, i, Due::Begin));
        let due = score.instructions.iter().enumerate().map(begin).collect();
        Self { score, due, places: BTreeMap::new(), moving: Vec::new() }
    }

    fn place(&self, control: ControlId) -> Vector {
        self.places.get(&control).copied().unwrap_or_default()
    }

    fn put(&mut self, t: Time, target: Target, value: Vector) -> Input {
        let value = target.part.put(self.place(target.control), value);
        self.places.insert(target.control, value);
        Input { t, what: What::Report(target.control, value) }
    }

    /// Ends every movement of the same part, and tells where the part is.
    fn take_over(&mut self, t: Time, target: Target) -> Vector {
        let same = |m: &Movement| {
            m.target.control == target.control && m.target.part.overlaps(target.part)
        };
        let mut whole = self.place(target.control);
        for movement in self.moving.iter().filter(|m| same(m)) {
            whole = movement.target.part.put(whole, movement.value(t));
        }
        self.moving.retain(|m| !same(m));
        self.places.insert(target.control, whole);
        target.part.of(whole)
    }

    fn begin(&mut self, t: Time, index: usize) -> Input {
        let (target, act) = match self.score.instructions[index].act {
            Act::Number(named, value) => return Input { t, what: What::Number(named, value) },
            Act::Hand(target, act) => (target, act),
        };
        let from = self.take_over(t, target);
        match act {
            Hand::Down(time) => {
                if let Some(time) = time {
                    self.due.push(Reverse((t + time, index, Due::Up)));
                }
                self.put(t, target, Vector::axis(1.0))
            }
            Hand::Move { to, over } if over == Time::ZERO => self.put(t, target, to),
            Hand::Move { to, over } => {
                let movement =
                    Movement { instruction: index, target, start: t, over, from, to, samples: 0 };
                self.moving.push(movement);
                self.schedule(index);
                self.put(t, target, from)
            }
        }
    }

    /// Enters the next report of a movement: at the next sample, at the latest at its end.
    fn schedule(&mut self, index: usize) {
        let sample = self.score.sample.nanos();
        if let Some(movement) = self.moving.iter_mut().find(|m| m.instruction == index) {
            movement.samples += 1;
            let gone = Time::from_nanos(sample.saturating_mul(movement.samples));
            let next = movement.start + gone.min(movement.over);
            self.due.push(Reverse((next, index, Due::Sample)));
        }
    }

    fn sample(&mut self, t: Time, index: usize) -> Option<Input> {
        let movement = *self.moving.iter().find(|m| m.instruction == index)?;
        if t.since(movement.start) >= movement.over {
            self.moving.retain(|m| m.instruction != index);
        } else {
            self.schedule(index);
        }
        Some(self.put(t, movement.target, movement.value(t)))
    }
}

impl Iterator for Performance<'_> {
    type Item = Input;

    fn next(&mut self) -> Option<Input> {
        loop {
            let Reverse((t, index, due)) = self.due.pop()?;
            let report = match (due, self.score.instructions.get(index)?.act) {
                (Due::Begin, _) => Some(self.begin(t, index)),
                (Due::Up, Act::Hand(target, _)) => Some(self.put(t, target, Vector::ZERO)),
                _ => self.sample(t, index),
            };
            if report.is_some() {
                return report;
            }
        }
    }
}
