//! The plan as text, for looking and for golden tests.

use super::{Action, Op, Plan, Trigger};
use crate::base::{ControlId, Id, IdRange, OpId, shortest};
use std::fmt;

/// One paragraph an action: its levels, each binding with its operations, its shape, its triggers.
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
                match self.alternatives[alternative].trigger {
                    Trigger::Hold(time) => writeln!(f, "  fires hold {time} s")?,
                    other => writeln!(f, "  fires {other:?}")?,
                }
            }
        }
        Ok(())
    }
}

impl Plan {
    fn dump_ops(&self, f: &mut fmt::Formatter<'_>, ops: IdRange<OpId>) -> fmt::Result {
        for id in ops.iter() {
            let name = |c: ControlId| self.names.controls[c].as_str();
            write!(f, "    {} = ", id.index())?;
            match self.ops[id] {
                Op::Whole(c) => writeln!(f, "{}", name(c))?,
                Op::Part(c, component) => writeln!(f, "{}.{}", name(c), component.letter())?,
                Op::Half(c, component, positive) => {
                    let sign = if positive { '+' } else { '-' };
                    writeln!(f, "{}.{sign}{}", name(c), component.letter())?;
                }
                Op::Either(a, b) => writeln!(f, "either {} {}", name(a), name(b))?,
                Op::Pair { neg, pos, opposed } => {
                    writeln!(f, "pair {} {} {opposed:?}", neg.index(), pos.index())?;
                }
                Op::Join { x, y } => writeln!(f, "join {} {}", x.index(), y.index())?,
                other => writeln!(f, "{other:?}")?,
            }
        }
        Ok(())
    }
}
