//! What moved a value, as a clause.

use super::sentence::{Words, number, seconds, turn_text};
use harmonym_lab::explain::Mover;
use harmonym_runtime::base::{ControlId, Kind};

impl Words<'_> {
    /// What made the action's value move.
    pub(super) fn mover(&self, mover: &Mover) -> String {
        let names = self.plan.names();
        let control = |id: &ControlId| &*names.controls[*id];
        match mover {
            Mover::Pressed(of) => format!("{} was pressed", control(of)),
            Mover::LetGo(of) => format!("{} was let go", control(of)),
            Mover::Moved(of, to) => {
                let kind = self.plan.controls()[*of].kind.yields();
                if kind == Kind::Turn {
                    return format!("{} went to {}", control(of), turn_text(*to));
                }
                let all: Vec<_> =
                    to.shown(kind).iter().take(kind.components()).map(|v| number(*v)).collect();
                match &all[..] {
                    [one] => format!("{} went to {one}", control(of)),
                    _ => format!("{} went to ({})", control(of), all.join(", ")),
                }
            }
            Mover::Opposite(of, other) => {
                format!("{} was pressed, opposite to {}", control(of), control(other))
            }
            Mover::Toggled(of) => {
                format!("{} was pressed, which switched its `toggle` off", control(of))
            }
            Mover::Inverted(of) => {
                format!("{} was pressed, and `not` gives 0 while it is", control(of))
            }
            Mover::TookOver(of, by) => {
                format!("{} was pressed, and {} took over", control(of), self.binding(*by))
            }
            Mover::Hidden(of, by) => {
                format!("{} began to count, and keeps {}", self.binding(*by), control(of))
            }
            Mover::HolderLetGo(of) => {
                format!("{} was let go, which has to be held with it", control(of))
            }
            Mover::Movement(of) => format!("{} moved", control(of)),
            Mover::Notch(of) => {
                format!("a notch of {} is pressed and let go in one", control(of))
            }
            Mover::Still => "nothing moved in that tick".to_owned(),
            Mover::Number(named, to) => {
                format!("{} became {}", names.variables[*named], number(*to))
            }
            Mover::Action(other) => format!("{} changed, which it reads", self.name(*other)),
            Mover::Map(map, true, _) => format!("{} opened", names.maps[*map]),
            Mover::Map(map, false, _) => format!("{} closed", names.maps[*map]),
            Mover::Paused(true) => "the game was paused".to_owned(),
            Mover::Paused(false) => "the game went on".to_owned(),
            Mover::Device(device, plugged) => {
                let name = self.plan.catalogue().device_name(*device);
                format!("{name} was {}", if *plugged { "plugged in" } else { "unplugged" })
            }
            Mover::Given(device, seat) => {
                let name = self.plan.catalogue().device_name(*device);
                format!("{name} was handed to seat {seat}")
            }
            Mover::Narrowed(Some(to)) => {
                format!("the game narrowed the bindings to the scheme {}", names.schemes[*to])
            }
            Mover::Narrowed(None) => "the game let all bindings count".to_owned(),
            Mover::Step(op, since) => {
                let step = self.op(*op);
                match since {
                    Some((t, by)) => {
                        format!("`{step}` came down after {} at {}", self.mover(by), seconds(*t))
                    }
                    None => format!("`{step}` came down"),
                }
            }
        }
    }
}
