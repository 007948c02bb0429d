//! The plan as text, for looking and for golden tests.

use super::{Action, OpKind, Operands, Plan, Portion, Tables};
use crate::base::{ControlUseId, Id, IdRange, Kind, OpId, shortest};
use std::fmt;

/// One paragraph an action: its levels, each binding with its operations, its shape, its cues.
impl fmt::Display for Plan {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.tables().fmt(f)
    }
}

impl fmt::Display for Tables {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (id, action) in self.actions.entries() {
            let Action { wake, down, up, .. } = *action;
            let (wake, down, up) = (shortest(wake), shortest(down), shortest(up));
            let (name, kind) = (&self.names.actions[id], action.kind.word());
            writeln!(f, "{name}: {kind}, wake {wake} down {down} up {up}")?;
            for binding in action.bindings.iter() {
                writeln!(f, "  {}", self.names.bindings[binding])?;
                self.dump_ops(f, self.bindings[binding].ops)?;
            }
            writeln!(f, "  shape")?;
            self.dump_ops(f, action.shape)?;
            for alternative in action.alternatives.iter() {
                writeln!(f, "  fires {}", self.names.alternatives[alternative])?;
            }
        }
        Ok(())
    }
}

impl Tables {
    /// What a read listens to.
    fn read_name(&self, read: ControlUseId) -> String {
        let inputs = self.uses[read].inputs.iter().map(|input| {
            let input = &self.inputs[input];
            let number = input.device.map_or(String::new(), |device| format!("#{}", device + 1));
            format!("{}{number}", self.names.controls[input.control])
        });
        inputs.collect::<Vec<_>>().join(" or ")
    }

    fn dump_ops(&self, f: &mut fmt::Formatter<'_>, ops: IdRange<OpId>) -> fmt::Result {
        for id in ops.iter() {
            let name = |r: ControlUseId| self.read_name(r);
            write!(f, "    {} = ", id.index())?;
            let kind = self.ops[id].kind;
            match kind.operands() {
                Operands::Control(c, Portion::Whole) => write!(f, "{}", name(c))?,
                Operands::Control(c, Portion::Component(component)) => {
                    write!(f, "{}.{}", name(c), component.letter())?;
                }
                Operands::Control(c, Portion::Half(component, positive)) => {
                    let sign = if positive { '+' } else { '-' };
                    write!(f, "{}.{sign}{}", name(c), component.letter())?;
                }
                Operands::Action(action) => write!(f, "{}", self.names.actions[action])?,
                Operands::Sides(neg, pos) => {
                    write!(f, "pair {} {}", neg.index(), pos.index())?;
                    if let OpKind::Pair { opposed, .. } = kind {
                        write!(f, " {opposed:?}")?;
                    }
                }
                Operands::Components { x, y, z } => {
                    write!(f, "join {} {}", x.index(), y.index())?;
                    z.map_or(Ok(()), |z| write!(f, " {}", z.index()))?;
                }
                Operands::Plus(plus) => {
                    let plus = &self.pluses[plus];
                    let holders = plus.holders.of(&self.listed_ops).iter();
                    let holders: Vec<_> = holders.map(|op| op.index().to_string()).collect();
                    write!(f, "{} while {} are held", plus.last.index(), holders.join(", "))?;
                }
                Operands::Either(a, b) => write!(f, "greater {} {}", a.index(), b.index())?,
                Operands::Blended => f.write_str("blended")?,
                // What each operation is given is its kind; three components show all there is.
                Operands::Before => {
                    f.write_str(&self.step_text(id, Kind::Space).unwrap_or_default())?;
                }
            }
            writeln!(f)?;
        }
        Ok(())
    }
}
