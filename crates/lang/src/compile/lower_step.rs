//! Steps to operations.

use super::lower::Lowering;
use crate::model::{By, Number, Pick, Step, StepKind};
use harmonym_runtime::base::{Component, Kind, ListSlice};
use harmonym_runtime::plan::{Condition, Op, OpKind};

impl Lowering<'_> {
    pub(super) fn steps(&mut self, steps: &[Step], mut kind: Kind) {
        for step in steps {
            let code = self.code(&step.kind, kind);
            kind = step.kind.kind_after(kind);
            let conditions = step.conditions.iter();
            let conditions = ListSlice::push(
                &mut self.conditions,
                conditions.map(|c| Condition { named: c.named, unless: c.unless }),
            );
            self.ops.push(Op { kind: code, conditions });
        }
    }

    fn code(&mut self, form: &StepKind, kind: Kind) -> OpKind {
        let components = kind.components() as u8;
        match form {
            StepKind::Flip(components) => OpKind::Flip(*components),
            StepKind::Not => OpKind::Not(self.memory()),
            StepKind::Toggle => OpKind::Toggle(self.kept_memory()),
            StepKind::SwitchAt { on, off } => {
                let on = self.param(*on);
                let off = off.map(|off| self.param(off));
                OpKind::SwitchAt { on, off, memory: self.memory() }
            }
            StepKind::Scale(factors) => match factors.as_slice() {
                [one] => OpKind::Scale(self.param(*one)),
                several => {
                    let rest = std::iter::repeat(Number::Fixed(1.0));
                    OpKind::ScaleEach(self.param_list(several.iter().copied().chain(rest).take(3)))
                }
            },
            StepKind::Deadzone { low, full, by } => {
                let (low, full) = (self.param(*low), self.param(*full));
                match by {
                    By::Length => OpKind::Deadzone { low, full },
                    By::Axes => OpKind::DeadzoneAxes { low, full },
                }
            }
            StepKind::Curve(power) => OpKind::Curve(self.param(*power)),
            StepKind::Points(points) => {
                let numbers =
                    points.iter().flat_map(|(x, y)| [Number::Fixed(*x), Number::Fixed(*y)]);
                OpKind::Points(self.param_list(numbers), points.len() as u32)
            }
            StepKind::Cap(limit) => OpKind::Cap(self.param(*limit)),
            StepKind::Clamp(least, most) => {
                OpKind::Clamp(self.param_list([*least, *most]), components)
            }
            StepKind::Unit => OpKind::Unit,
            StepKind::Remap(ends) => OpKind::Remap(self.param_list(*ends), components),
            StepKind::Onto(component, _) => OpKind::Onto(*component),
            StepKind::Pick(Pick::Component(component)) => OpKind::Pick(*component),
            StepKind::Pick(Pick::Length) => OpKind::Length,
            StepKind::Order(named) => {
                let mut order = Component::ALL;
                for (place, component) in order.iter_mut().zip(named) {
                    *place = *component;
                }
                OpKind::Order(order)
            }
            StepKind::Rotate(angle, around) => OpKind::Rotate(self.param(*angle), *around),
            StepKind::Ways { count, from } => {
                OpKind::Ways { count: self.param(*count), from: self.param(*from) }
            }
            StepKind::Notch(size) => OpKind::Notch(self.param(*size)),
            StepKind::Ease { rise, fall, cut } => OpKind::Ease {
                rise: self.param(*rise),
                fall: self.param(*fall),
                cut: *cut,
                motion: self.motion(),
            },
            StepKind::Smooth(time) if kind == Kind::Turn => {
                OpKind::SmoothTurn(self.param(*time), self.motion())
            }
            StepKind::Smooth(time) => OpKind::Smooth(self.param(*time), self.motion()),
            StepKind::Travel => OpKind::Travel(self.motion()),
        }
    }
}
