//! Steps of the plan as a profile writes them: `deadzone 0.1 full=0.96`, `ease rise=2/s fall=4/s`.

use super::{OpKind, Param, Plan, Tables};
use crate::base::{Component, Id, IdRange, Kind, OpId, ParamId, Time, shortest};

/// What a number is of, and so how it is written.
#[derive(Clone, Copy)]
enum Unit {
    Plain,
    Angle,
    Seconds,
    PerSecond,
}

impl Plan {
    /// The step that an operation is, with its conditions, for a value of `kind`; `None` if it is
    /// no step but the head of a binding.
    ///
    /// Settings and facts stand by their names; numbers that are what they are when left out are
    /// left out. Angles are written in degrees and times in seconds or milliseconds.
    pub fn step_text(&self, op: OpId, kind: Kind) -> Option<String> {
        self.tables().step_text(op, kind)
    }
}

impl Tables {
    pub(super) fn step_text(&self, op: OpId, kind: Kind) -> Option<String> {
        let mut text = self.step_alone(self.ops[op].kind, kind)?;
        for condition in self.ops[op].conditions.of(&self.conditions) {
            let word = if condition.unless { "unless" } else { "when" };
            text.push_str(&format!(" {word} {}", self.names.variables[condition.named]));
        }
        Some(text)
    }

    fn step_alone(&self, code: OpKind, kind: Kind) -> Option<String> {
        let plain = |param| self.number_text(param, Unit::Plain);
        let list = |first: ParamId, count: usize| {
            let range: IdRange<ParamId> = IdRange::new(first.index(), first.index() + count);
            range.iter().map(plain).collect::<Vec<_>>().join(" ")
        };
        let components = kind.components();
        Some(match code {
            OpKind::Whole(_)
            | OpKind::Part(..)
            | OpKind::Half(..)
            | OpKind::Action(_)
            | OpKind::Pair { .. }
            | OpKind::Join { .. }
            | OpKind::Greater(..)
            | OpKind::GreaterTurn(..)
            | OpKind::Plus(_)
            | OpKind::Blended => return None,
            OpKind::Flip([true, true, true]) => "flip".to_owned(),
            OpKind::Flip(flips) => {
                let turned = Component::ALL.iter().zip(flips).filter(|(_, turned)| *turned);
                turned.fold("flip".to_owned(), |text, (one, _)| format!("{text} {}", one.letter()))
            }
            OpKind::Not(_) => "not".to_owned(),
            OpKind::Toggle(_) => "toggle".to_owned(),
            OpKind::SwitchAt { on, off: None, .. } => format!("switch-at {}", plain(on)),
            OpKind::SwitchAt { on, off: Some(off), .. } => {
                format!("switch-at {} off={}", plain(on), plain(off))
            }
            OpKind::Scale(factor) => format!("scale {}", plain(factor)),
            OpKind::ScaleEach(first) => format!("scale {}", list(first, components.max(2))),
            OpKind::Deadzone { low, full } => self.deadzone(low, full),
            OpKind::DeadzoneAxes { low, full } => format!("{} by=axes", self.deadzone(low, full)),
            OpKind::Curve(power) => format!("curve {}", plain(power)),
            OpKind::Points(first, count) => {
                (0..count as usize).fold("curve".to_owned(), |text, k| {
                    let point = list(ParamId::new(first.index() + 2 * k), 2);
                    format!("{text} ({point})")
                })
            }
            OpKind::Cap(limit) => format!("cap {}", plain(limit)),
            OpKind::Clamp(first, _) => format!("clamp {}", list(first, 2)),
            OpKind::Unit => "unit".to_owned(),
            OpKind::Remap(first, _) => format!("remap {}", list(first, 4)),
            OpKind::Onto(component) => format!("onto {}", component.letter()),
            OpKind::Pick(component) => format!("pick {}", component.letter()),
            OpKind::Length => "pick length".to_owned(),
            OpKind::Order(order) => {
                let letters = order.iter().take(components).map(|one| one.letter());
                format!("order {}", letters.collect::<String>())
            }
            OpKind::Rotate(angle, Component::Z) => {
                format!("rotate {}", self.number_text(angle, Unit::Angle))
            }
            OpKind::Rotate(angle, around) => {
                let angle = self.number_text(angle, Unit::Angle);
                format!("rotate {angle} around={}", around.letter())
            }
            OpKind::Ways { count, from } if self.params[from] == Param::Fixed(0.0) => {
                format!("ways {}", plain(count))
            }
            OpKind::Ways { count, from } => {
                format!("ways {} from={}", plain(count), self.number_text(from, Unit::Angle))
            }
            OpKind::Notch(size) => format!("notch {}", plain(size)),
            OpKind::Ease { rise, fall, cut, .. } => self.ease(rise, fall, cut),
            OpKind::Smooth(time, _) | OpKind::SmoothTurn(time, _) => {
                format!("smooth {}", self.number_text(time, Unit::Seconds))
            }
            OpKind::Travel(_) => "travel".to_owned(),
        })
    }

    fn deadzone(&self, low: ParamId, full: ParamId) -> String {
        let low = self.number_text(low, Unit::Plain);
        match self.params[full] {
            Param::Fixed(1.0) => format!("deadzone {low}"),
            _ => format!("deadzone {low} full={}", self.number_text(full, Unit::Plain)),
        }
    }

    fn ease(&self, rise: ParamId, fall: ParamId, cut: bool) -> String {
        let speed = |param| self.number_text(param, Unit::PerSecond);
        let fall = match self.params[fall] == self.params[rise] {
            true => String::new(),
            false => format!(" fall={}", speed(fall)),
        };
        let cut = if cut { " reverse=cut" } else { "" };
        format!("ease rise={}{fall}{cut}", speed(rise))
    }

    /// A number of a step, or the name that stands for one.
    fn number_text(&self, param: ParamId, unit: Unit) -> String {
        let value = match self.params[param] {
            Param::Variable { named, .. } => return self.names.variables[named].clone(),
            Param::Fixed(value) => value,
        };
        match unit {
            Unit::Plain => shortest(value).to_string(),
            // Degrees come back from radians but for the last digits.
            Unit::Angle => format!("{}deg", shortest((value.to_degrees() * 1e9).round() / 1e9)),
            Unit::PerSecond => format!("{}/s", shortest(value)),
            Unit::Seconds => seconds_text(value),
        }
    }
}

/// A time as people write it: milliseconds under a tenth of a second.
fn seconds_text(seconds: f64) -> String {
    let nanos = (seconds * 1e9).round();
    if nanos >= 1e8 {
        return format!("{}s", Time::from_nanos(nanos as u64));
    }
    format!("{}ms", shortest(nanos / 1e6))
}
