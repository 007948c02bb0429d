//! Instructions to reports.

use super::instruction::{Act, Hand, Target};
use super::{Instruction, Score};
use crate::take::{Input, What};
use harmonym_runtime::base::{Contact, ControlKind, Time, Vector, turn};
use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::{Rng, SeedableRng};
use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap};

/// The reports of a score, in order of time; at one instant in the order of the file.
#[derive(Debug)]
pub struct Performance<'a> {
    score: &'a Score,
    /// What is still to come: when, by which instruction, what.
    due: BinaryHeap<Reverse<(Time, usize, Due)>>,
    /// Where each control is that was touched.
    places: BTreeMap<Contact, Place>,
    moving: Vec<Movement>,
    dragged: Vec<Drag>,
    noises: Vec<Noise>,
}

/// Where the hand has a control, and what is added to that when it is reported.
#[derive(Clone, Copy, Debug, Default)]
struct Place {
    hand: Vector,
    drift: Vector,
    noise: Vector,
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

/// Relative movement on its way.
#[derive(Clone, Copy, Debug)]
struct Drag {
    instruction: usize,
    target: Target,
    start: Time,
    over: Time,
    by: Vector,
    /// What was reported so far.
    done: Vector,
    samples: u64,
}

#[derive(Debug)]
struct Noise {
    instruction: usize,
    target: Target,
    start: Time,
    over: Time,
    of: f64,
    random: ChaCha8Rng,
    samples: u64,
}

/// The share of `over` that has gone by.
fn share(gone: Time, over: Time) -> f64 {
    gone.nanos() as f64 / over.nanos() as f64
}

impl Movement {
    /// Where the straight line is at `t`.
    fn value(&self, t: Time) -> Vector {
        let gone = t.since(self.start);
        if gone >= self.over {
            return self.to;
        }
        let share = share(gone, self.over);
        let between = |from: f64, to: f64| from + (to - from) * share;
        let ([ax, ay, az, aw], [bx, by, bz, bw]) = match self.target.kind {
            ControlKind::Turn => (
                self.from.shown(harmonym_runtime::base::Kind::Turn),
                self.to.shown(harmonym_runtime::base::Kind::Turn),
            ),
            _ => (self.from.components(), self.to.components()),
        };
        let value = Vector {
            x: between(ax, bx),
            y: between(ay, by),
            z: between(az, bz),
            w: between(aw, bw),
        };
        if self.target.kind == ControlKind::Turn { turn::unit(value) } else { value }
    }
}

impl Drag {
    /// What it reports at `t`, exactly all of it by the end; a wheel goes by whole notches.
    fn more(&mut self, t: Time, is_wheel: bool) -> Vector {
        let gone = t.since(self.start);
        let to = match gone >= self.over {
            true => self.by,
            false => {
                let share = share(gone, self.over);
                let so_far =
                    |v: f64| if is_wheel { (v * share + 1e-9 * v).trunc() } else { v * share };
                self.by.map(so_far)
            }
        };
        let more = Vector::new(to.x - self.done.x, to.y - self.done.y);
        self.done = to;
        more
    }
}

impl Noise {
    /// A number from −1 to 1: 53 bits of ChaCha8, even.
    fn draw(&mut self) -> f64 {
        let bits = self.random.next_u64() >> 11;
        (bits as f64 / (1_u64 << 52) as f64 - 1.0) * self.of
    }
}

impl<'a> Performance<'a> {
    pub(super) fn new(score: &'a Score) -> Self {
        let begin = |(i, one): (usize, &Instruction)| Reverse((one.at, i, Due::Begin));
        let due = score.instructions.iter().enumerate().map(begin).collect();
        Self {
            score,
            due,
            places: BTreeMap::new(),
            moving: Vec::new(),
            dragged: Vec::new(),
            noises: Vec::new(),
        }
    }

    fn place(&mut self, target: Target) -> &mut Place {
        self.places.entry(target.contact).or_default()
    }

    /// Has a control report where it is, with what is added to that.
    fn report(&mut self, t: Time, target: Target) -> Input {
        let Place { hand, drift, noise } = *self.place(target);
        let value = match target.kind {
            ControlKind::Button | ControlKind::Turn => hand,
            kind => {
                let (least, most) = kind.range();
                hand.plus(drift).plus(noise).map(|v| v.clamp(least, most))
            }
        };
        Input { t, what: What::Report(target.contact, value) }
    }

    fn put(&mut self, t: Time, target: Target, value: Vector) -> Input {
        let place = self.place(target);
        place.hand = target.part.put(place.hand, value);
        self.report(t, target)
    }

    /// Ends every movement of the same part, and tells where the part is.
    fn take_over(&mut self, t: Time, target: Target) -> Vector {
        let same =
            |other: &Target| other.contact == target.contact && other.part.overlaps(target.part);
        let mut whole = self.place(target).hand;
        for movement in self.moving.iter().filter(|m| same(&m.target)) {
            whole = movement.target.part.put(whole, movement.value(t));
        }
        self.moving.retain(|m| !same(&m.target));
        self.dragged.retain(|d| !same(&d.target));
        self.place(target).hand = whole;
        target.part.of(whole)
    }

    fn begin(&mut self, t: Time, index: usize) -> Option<Input> {
        let (target, act) = match self.score.instructions[index].act {
            Act::Hand(target, act) => (target, act),
            Act::Other(what) => return Some(Input { t, what }),
        };
        match act {
            Hand::Drift(by) => {
                let place = self.place(target);
                place.drift = target.part.put(place.drift, by);
                return Some(self.report(t, target));
            }
            Hand::Noise { of, time, seed } => {
                let random = ChaCha8Rng::seed_from_u64(seed);
                let (instruction, start, over) = (index, t, time);
                self.noises.push(Noise {
                    instruction,
                    target,
                    start,
                    over,
                    of,
                    random,
                    samples: 0,
                });
                return self.sample_noise(t, index);
            }
            _ => {}
        }
        let from = self.take_over(t, target);
        match act {
            Hand::Down(time) => {
                if let Some(time) = time {
                    self.due.push(Reverse((t + time, index, Due::Up)));
                }
                Some(self.put(t, target, Vector::axis(1.0)))
            }
            Hand::Move { to, over } if over == Time::ZERO => Some(self.put(t, target, to)),
            Hand::Move { to, over } => {
                let movement =
                    Movement { instruction: index, target, start: t, over, from, to, samples: 0 };
                self.moving.push(movement);
                self.sample_movement(t, index)
            }
            Hand::Drag { by, over } => {
                let by = target.part.put(Vector::ZERO, by);
                let done = Vector::ZERO;
                let (instruction, start) = (index, t);
                self.dragged.push(Drag { instruction, target, start, over, by, done, samples: 0 });
                self.sample_drag(t, index)
            }
            Hand::Drift(_) | Hand::Noise { .. } => None,
        }
    }

    /// Enters the next report of an instruction: at the next sample, at the latest at its end.
    fn schedule(&mut self, index: usize, start: Time, over: Time, samples: u64) {
        let gone = Time::from_nanos(self.score.sample.nanos().saturating_mul(samples));
        self.due.push(Reverse((start + gone.min(over), index, Due::Sample)));
    }

    fn sample_movement(&mut self, t: Time, index: usize) -> Option<Input> {
        let movement = self.moving.iter_mut().find(|m| m.instruction == index)?;
        movement.samples += 1;
        let movement = *movement;
        if t.since(movement.start) >= movement.over {
            self.moving.retain(|m| m.instruction != index);
        } else {
            self.schedule(index, movement.start, movement.over, movement.samples);
        }
        Some(self.put(t, movement.target, movement.value(t)))
    }

    fn sample_drag(&mut self, t: Time, index: usize) -> Option<Input> {
        let wheels = &self.score.wheels;
        let drag = self.dragged.iter_mut().find(|d| d.instruction == index)?;
        drag.samples += 1;
        let more = drag.more(t, wheels.contains(&drag.target.contact.control));
        let drag = *drag;
        if t.since(drag.start) >= drag.over {
            self.dragged.retain(|d| d.instruction != index);
        } else {
            self.schedule(index, drag.start, drag.over, drag.samples);
        }
        let report = Input { t, what: What::Report(drag.target.contact, more) };
        (more != Vector::ZERO).then_some(report)
    }

    fn sample_noise(&mut self, t: Time, index: usize) -> Option<Input> {
        let noise = self.noises.iter_mut().find(|n| n.instruction == index)?;
        noise.samples += 1;
        let (target, start, over, samples) = (noise.target, noise.start, noise.over, noise.samples);
        let is_over = t.since(start) >= over;
        let mut added = Vector::ZERO;
        if !is_over {
            let components = target.components();
            added.x = noise.draw();
            if components > 1 {
                added.y = noise.draw();
            }
            if components > 2 {
                added.z = noise.draw();
            }
        }
        if is_over {
            self.noises.retain(|n| n.instruction != index);
        } else {
            self.schedule(index, start, over, samples);
        }
        let place = self.place(target);
        place.noise = target.part.put(place.noise, added);
        Some(self.report(t, target))
    }
}

impl Iterator for Performance<'_> {
    type Item = Input;

    fn next(&mut self) -> Option<Input> {
        loop {
            let Reverse((t, index, due)) = self.due.pop()?;
            let report = match (due, self.score.instructions.get(index)?.act) {
                (Due::Begin, _) => self.begin(t, index),
                (Due::Up, Act::Hand(target, _)) => Some(self.put(t, target, Vector::ZERO)),
                (_, Act::Hand(_, Hand::Drag { .. })) => self.sample_drag(t, index),
                (_, Act::Hand(_, Hand::Noise { .. })) => self.sample_noise(t, index),
                _ => self.sample_movement(t, index),
            };
            if report.is_some() {
                return report;
            }
        }
    }
}
