//! Bindings and steps, with every name and number settled.

use crate::base::{Component, Kind};
use crate::controls::{ControlKind, Reads};

/// A start and the steps behind it.
#[derive(Clone, Debug, PartialEq)]
pub struct Chain {
    /// What it starts from.
    pub head: Head,
    /// The steps, from left to right.
    pub steps: Vec<Step>,
    /// What comes out.
    pub kind: Kind,
}

/// What a chain starts from.
#[derive(Clone, Debug, PartialEq)]
pub enum Head {
    /// A control.
    Control {
        /// Its name.
        name: String,
        /// What kind of thing it is.
        kind: ControlKind,
        /// How it is read.
        reads: Reads,
    },
    /// Two opposite parts.
    Pair(Box<Pair>),
    /// Four directions.
    Four(Box<Four>),
    /// A chain in parentheses.
    Group(Box<Chain>),
}

/// `pair(NEG, POS)`: POS − NEG, each held to 0…1.
#[derive(Clone, Debug, PartialEq)]
pub struct Pair {
    /// The part that pulls down.
    pub neg: Chain,
    /// The part that pushes up.
    pub pos: Chain,
    /// What both together give.
    pub opposed: Opposed,
    /// Whether `pos` stands before `neg` in the file.
    pub pos_first: bool,
}

/// `four(UP, LEFT, DOWN, RIGHT)`: two pairs across each other.
#[derive(Clone, Debug, PartialEq)]
pub struct Four {
    /// Left and right.
    pub x: Pair,
    /// Down and up.
    pub y: Pair,
    /// How long a diagonal is.
    pub corner: Corner,
}

/// What two opposite parts held together give.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Opposed {
    /// Their difference.
    Cancel,
    /// Only the side that left 0 last.
    Newest,
    /// Only the side that left 0 first.
    Oldest,
    /// Only the negative side.
    Neg,
    /// Only the positive side.
    Pos,
}

/// How long the diagonal of a `four` is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Corner {
    /// Length limited to 1.
    Round,
    /// Length up to √2.
    Square,
}

/// One transformation of a value. m is the magnitude of the input.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Step {
    /// −v on the named components.
    Flip {
        /// Whether x turns.
        x: bool,
        /// Whether y turns.
        y: bool,
    },
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
        /// Of the length, or of each component.
        by: By,
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
    /// An axis onto one component of the action's kind.
    Onto {
        /// The component.
        component: Component,
        /// The action's kind.
        kind: Kind,
    },
    /// One number out of a plane.
    Pick(Pick),
}

/// What a `deadzone` measures.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum By {
    /// The length.
    Length,
    /// Each component.
    Axes,
}

/// What `pick` takes out.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pick {
    /// One component.
    Component(Component),
    /// The length.
    Length,
}
