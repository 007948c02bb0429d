//! The operations that values flow through.

use crate::base::{Component, ControlId, MemoryId, OpId};

/// One operation. Steps read the operation right before them; m is the magnitude of that.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Op {
    /// A control as it is.
    Whole(ControlId),
    /// One component of a stick.
    Part(ControlId, Component),
    /// One half of a component, 0 to 1; `true` for the positive one.
    Half(ControlId, Component, bool),
    /// The greater of two buttons.
    Either(ControlId, ControlId),
    /// POS − NEG of two operations, each held to 0…1.
    Pair {
        /// The negative side.
        neg: OpId,
        /// The positive side.
        pos: OpId,
        /// What both together give.
        opposed: Opposed,
    },
    /// A plane of two operations.
    Join {
        /// Its first component.
        x: OpId,
        /// Its second component.
        y: OpId,
    },
    /// What the blend of the action's bindings gave: the start of a shape.
    Blended,
    /// Each component times its factor.
    Scale {
        /// The factor of x.
        x: f64,
        /// The factor of y.
        y: f64,
    },
    /// 0 up to `low`, 1 from `full`, (m − low)/(full − low) between, direction kept.
    Deadzone {
        /// The end of the dead part.
        low: f64,
        /// The start of the full part.
        full: f64,
    },
    /// The same, to each component by itself.
    DeadzoneAxes {
        /// The end of the dead part.
        low: f64,
        /// The start of the full part.
        full: f64,
    },
    /// m^power, direction kept.
    Curve {
        /// The exponent.
        power: f64,
    },
    /// Length limited, direction kept.
    Cap {
        /// The greatest length.
        limit: f64,
    },
    /// A number as the named component, the others 0.
    Onto(Component),
    /// One component as a number.
    Pick(Component),
    /// The length as a number.
    Length,
}

/// What two opposite parts held together give.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Opposed {
    /// Their difference.
    Cancel,
    /// Only the side that left 0 last; of two at once, the positive one if `pos_later`.
    Newest {
        /// Where it is kept which side that is.
        memory: MemoryId,
        /// Whether the positive part stands later in the file.
        pos_later: bool,
    },
    /// Only the side that left 0 first; of two at once, the negative one if `pos_later`.
    Oldest {
        /// Where it is kept which side that is.
        memory: MemoryId,
        /// Whether the positive part stands later in the file.
        pos_later: bool,
    },
    /// Only the negative side.
    Neg,
    /// Only the positive side.
    Pos,
}
