//! Steps to operations.

use super::lower::Lowering;
use crate::model::{By, Form, Number, Pick, Step};
use harmonym_runtime::base::{Component, Kind, Stretch};
use harmonym_runtime::plan::{Code, Condition, Op};

impl Lowering<'_> {
    pub(super) fn steps(&mut self, steps: &[Step], mut kind: Kind) {
        for step in steps {
            let code = self.code(&step.form, kind);
            kind = step.form.kind_after(kind);
            let conditions = step.conditions.iter();
            let conditions = Stretch::push(
                &mut self.conditions,
                conditions.map(|c| Condition { named: c.named, unless: c.unless }),
            );
            self.ops.push(Op { code, conditions });
        }
    }

    fn code(&mut self, form: &Form, kind: Kind) -> Code {
        let components = kind.components() as u8;
        match form {
            Form::Flip(components) => Code::Flip(*components),
            Form::Not => Code::Not(self.memory()),
            Form::Toggle => Code::Toggle(self.kept_memory()),
            Form::SwitchAt { on, off } => {
                let on = self.param(*on);
                // Without an `off` of its own it is 0.8 · on: the engine knows it by this.
                let off = off.map_or(on, |off| self.param(off));
                Code::SwitchAt { on, off, memory: self.memory() }
            }
            Form::Scale(factors) => match factors.as_slice() {
                [one] => Code::Scale(self.param(*one)),
                several => {
                    let rest = std::iter::repeat(Number::Fixed(1.0));
                    Code::ScaleEach(self.param_list(several.iter().copied().chain(rest).take(3)))
                }
            },
            Form::Deadzone { low, full, by } => {
                let (low, full) = (self.param(*low), self.param(*full));
                match by {
                    By::Length => Code::Deadzone { low, full },
                    By::Axes => Code::DeadzoneAxes { low, full },
                }
            }
            Form::Curve(power) => Code::Curve(self.param(*power)),
            Form::Points(points) => {
                let numbers =
                    points.iter().flat_map(|(x, y)| [Number::Fixed(*x), Number::Fixed(*y)]);
                Code::Points(self.param_list(numbers), points.len() as u32)
            }
            Form::Cap(limit) => Code::Cap(self.param(*limit)),
            Form::Clamp(least, most) => Code::Clamp(self.param_list([*least, *most]), components),
            Form::Unit => Code::Unit,
            Form::Remap(ends) => Code::Remap(self.param_list(*ends), components),
            Form::Onto(component, _) => Code::Onto(*component),
            Form::Pick(Pick::Component(component)) => Code::Pick(*component),
            Form::Pick(Pick::Length) => Code::Length,
            Form::Order(named) => {
                let mut order = Component::ALL;
                for (place, component) in order.iter_mut().zip(named) {
                    *place = *component;
                }
                Code::Order(order)
            }
            Form::Rotate(angle, around) => Code::Rotate(self.param(*angle), *around),
            Form::Ways { count, from } => {
                Code::Ways { count: self.param(*count), from: self.param(*from) }
            }
            Form::Notch(size) => Code::Notch(self.param(*size)),
            Form::Ease { rise, fall, cut } => Code::Ease {
                rise: self.param(*rise),
                fall: self.param(*fall),
                cut: *cut,
                motion: self.motion(),
            },
            Form::Smooth(time) if kind == Kind::Turn => {
                Code::SmoothTurn(self.param(*time), self.motion())
            }
            Form::Smooth(time) => Code::Smooth(self.param(*time), self.motion()),
            Form::Travel => Code::Travel(self.motion()),
        }
    }
}
