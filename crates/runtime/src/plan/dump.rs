//! The plan as text, for looking and for golden tests.

use super::{Action, Code, Plan};
use crate::base::{Id, IdRange, Kind, OpId, ReadId, shortest};
use std::fmt;

/// One paragraph an action: its levels, each binding with its operations, its shape, its cues.
impl fmt::Display for Plan {
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

impl Plan {
    /// What a read listens to.
    fn read_name(&self, read: ReadId) -> String {
        let leads = self.reads[read].leads.iter().map(|lead| {
            let lead = &self.leads[lead];
            let number = lead.device.map_or(String::new(), |device| format!("#{}", device + 1));
            format!("{}{number}", self.names.controls[lead.control])
        });
        leads.collect::<Vec<_>>().join(" or ")
    }

    fn dump_ops(&self, f: &mut fmt::Formatter<'_>, ops: IdRange<OpId>) -> fmt::Result {
        for id in ops.iter() {
            let name = |r: ReadId| self.read_name(r);
            write!(f, "    {} = ", id.index())?;
            match self.ops[id].code {
                Code::Whole(c) => write!(f, "{}", name(c))?,
                Code::Part(c, component) => write!(f, "{}.{}", name(c), component.letter())?,
                Code::Half(c, component, positive) => {
                    let sign = if positive { '+' } else { '-' };
                    write!(f, "{}.{sign}{}", name(c), component.letter())?;
                }
                Code::Action(action) => write!(f, "{}", self.names.actions[action])?,
                Code::Pair { neg, pos, opposed } => {
                    write!(f, "pair {} {} {opposed:?}", neg.index(), pos.index())?;
                }
                Code::Join { x, y, z } => {
                    write!(f, "join {} {} {}", x.index(), y.index(), z.index())?;
                }
                Code::Plus(plus) => {
                    let plus = &self.pluses[plus];
                    let holders = plus.holders.of(&self.listed_ops).iter();
                    let holders: Vec<_> = holders.map(|op| op.index().to_string()).collect();
                    write!(f, "{} while {} are held", plus.last.index(), holders.join(", "))?;
                }
                Code::Greater(a, b) | Code::GreaterTurn(a, b) => {
                    write!(f, "greater {} {}", a.index(), b.index())?;
                }
                Code::Blended => f.write_str("blended")?,
                // What each operation is given is its kind; three components show all there is.
                _ => f.write_str(&self.step_text(id, Kind::Space).unwrap_or_default())?,
            }
            writeln!(f)?;
        }
        Ok(())
    }
}
