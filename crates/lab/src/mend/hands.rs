//! Random hands on all that a plan is bound to.

use crate::take::{Input, What};
use harmonym_runtime::base::{Contact, ControlId, ControlKind, Id, Time, VariableId, Vector};
use harmonym_runtime::plan::Plan;
use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::{Rng as _, SeedableRng as _};

/// So many things happen.
const INPUTS: usize = 40;

/// Some hands, in order of time: the same for the same seed.
pub fn random_hands(plan: &Plan, seed: u64) -> Vec<Input> {
    let mut random = Random(ChaCha8Rng::seed_from_u64(seed));
    let bound = plan.inputs_of().entries().filter(|(_, inputs)| !inputs.is_empty());
    let mut controls: Vec<ControlId> = bound.map(|(control, _)| control).collect();
    // A wheel's notches come of its movement.
    for notch in plan.notches() {
        if controls.contains(&notch.button) {
            controls.retain(|control| *control != notch.button);
            controls.push(notch.wheel);
        }
    }
    let mut t = 0;
    let mut all = Vec::new();
    for _ in 0..INPUTS {
        t += random.under(150_000_000);
        let what = match random.under(10) {
            0 if !plan.variables().is_empty() => {
                let named = VariableId::new(random.under(plan.variables().len() as u64) as usize);
                let (least, most) = plan.variables()[named].range.unwrap_or((0.0, 2.0));
                What::Number(None, named, least + (most - least) * random.share())
            }
            1 if plan.maps().len() > 1 => {
                let map = random.under(plan.maps().len() as u64) as usize;
                What::Map(None, Id::new(map), random.under(2) == 0)
            }
            _ if !controls.is_empty() => {
                let control = controls[random.under(controls.len() as u64) as usize];
                let device = u8::from(random.under(8) == 0);
                let value = random.value(plan.controls()[control].kind);
                What::Report(Contact { control, device }, value)
            }
            _ => continue,
        };
        all.push(Input { t: Time::from_nanos(t), what });
    }
    all
}

struct Random(ChaCha8Rng);

impl Random {
    fn under(&mut self, end: u64) -> u64 {
        self.0.next_u64() % end.max(1)
    }

    /// From 0 to 1, often one of both.
    fn share(&mut self) -> f64 {
        match self.under(4) {
            0 => 0.0,
            1 => 1.0,
            _ => self.under(1001) as f64 / 1000.0,
        }
    }

    fn value(&mut self, kind: ControlKind) -> Vector {
        let (least, most) = match kind {
            ControlKind::Relative | ControlKind::Place => (-20.0, 20.0),
            _ => kind.range(),
        };
        let mut of = || least + (most - least) * self.share();
        match kind {
            ControlKind::Button => Vector::axis(if of() >= 0.5 { 1.0 } else { 0.0 }),
            ControlKind::Lever | ControlKind::Axis => Vector::axis(of()),
            ControlKind::Stick | ControlKind::Spot | ControlKind::Relative => {
                Vector::new(of(), of())
            }
            ControlKind::Place => Vector::space(of(), of(), of()),
            ControlKind::Turn => Vector { x: of(), y: of(), z: of(), w: 1.0 },
        }
    }
}
