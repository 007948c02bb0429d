//! Bindings and steps, with every name and number settled.

use super::ActionId;
use harmonym_runtime::base::{Component, ControlKind, Kind, VariableId};
use harmonym_runtime::controls::Reads;

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

impl Chain {
    /// The control that it is, in parentheses or not, whatever steps it goes through; none for
    /// what is made of several, and for other actions. With it, whether there are no steps.
    pub fn single(&self) -> Option<(ControlKind, bool)> {
        match &self.head {
            Head::Control { kind, .. } => Some((*kind, self.steps.is_empty())),
            Head::Group(inner) => {
                inner.single().map(|(kind, is_plain)| (kind, is_plain && self.steps.is_empty()))
            }
            Head::Action { .. }
            | Head::Pair(_)
            | Head::Four(_)
            | Head::Join(_)
            | Head::Any(_)
            | Head::Sum(_) => None,
        }
    }

    /// Calls `look` with its head and those of all its parts, in the order of the file.
    pub fn for_each_head(&self, look: &mut dyn FnMut(&Head)) {
        self.for_each(&mut |chain| look(&chain.head));
    }

    /// Calls `change` with its head and those of all its parts, to be changed; what changes has to give
    /// the same kind.
    pub fn for_each_head_mut(&mut self, change: &mut dyn FnMut(&mut Head)) {
        change(&mut self.head);
        match &mut self.head {
            Head::Control { .. } | Head::Action { .. } => {}
            Head::Pair(pair) => {
                pair.neg.for_each_head_mut(change);
                pair.pos.for_each_head_mut(change);
            }
            Head::Four(four) => {
                for pair in [&mut four.y, &mut four.x] {
                    pair.neg.for_each_head_mut(change);
                    pair.pos.for_each_head_mut(change);
                }
            }
            Head::Join(parts) | Head::Any(parts) | Head::Sum(parts) => {
                parts.iter_mut().for_each(|part| part.for_each_head_mut(change));
            }
            Head::Group(inner) => inner.for_each_head_mut(change),
        }
    }

    /// Calls `look` with it and the chains of all its parts, in the order of the file.
    pub fn for_each(&self, look: &mut dyn FnMut(&Self)) {
        look(self);
        match &self.head {
            Head::Control { .. } | Head::Action { .. } => {}
            Head::Pair(pair) => pair.parts().for_each(|part| part.for_each(look)),
            Head::Four(four) => {
                let parts = four.y.parts().chain(four.x.parts());
                parts.for_each(|part| part.for_each(look));
            }
            Head::Join(parts) | Head::Any(parts) | Head::Sum(parts) => {
                parts.iter().for_each(|part| part.for_each(look));
            }
            Head::Group(inner) => inner.for_each(look),
        }
    }
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
        /// What comes of it.
        gives: Kind,
        /// On which device of its class only, from 0.
        device: Option<u8>,
    },
    /// The value of another action as game code would read it.
    Action {
        /// The action.
        action: ActionId,
        /// Its address.
        name: String,
        /// What it gives: a switch passes as an axis.
        kind: Kind,
    },
    /// Two opposite parts.
    Pair(Box<Pair>),
    /// Four directions.
    Four(Box<Four>),
    /// Components from two or three axes, without a limit on length.
    Join(Vec<Chain>),
    /// The part of greatest magnitude; of a tie the first.
    Any(Vec<Chain>),
    /// The last part, while all the others are held.
    Sum(Vec<Chain>),
    /// A chain in parentheses.
    Group(Box<Chain>),
}

impl Head {
    /// What it gives.
    pub fn kind(&self) -> Kind {
        match self {
            Self::Control { gives, .. } => *gives,
            Self::Action { kind, .. } => *kind,
            Self::Pair(_) => Kind::Axis,
            Self::Four(_) => Kind::Plane,
            Self::Join(parts) if parts.len() > 2 => Kind::Space,
            Self::Join(_) => Kind::Plane,
            Self::Sum(parts) => parts.last().map_or(Kind::Axis, |part| part.kind),
            Self::Any(parts) => parts.first().map_or(Kind::Axis, |part| part.kind),
            Self::Group(inner) => inner.kind,
        }
    }
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

impl Pair {
    /// Both parts.
    pub fn parts(&self) -> impl Iterator<Item = &Chain> {
        [&self.neg, &self.pos].into_iter()
    }
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

/// A number, or a setting or fact that stands for one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Number {
    /// A number in base units.
    Fixed(f64),
    /// What a setting or fact is worth, held to the range.
    Variable {
        /// The setting or fact.
        named: VariableId,
        /// The least it counts as.
        least: f64,
        /// The most it counts as.
        most: f64,
    },
}

/// One step, and when it is done.
#[derive(Clone, Debug, PartialEq)]
pub struct Step {
    /// What it does.
    pub kind: StepKind,
    /// All that must hold for it to be done; if something doesn't, it gives its input.
    pub conditions: Vec<Condition>,
}

/// `when name` or `unless name`.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Condition {
    /// The setting or fact.
    pub named: VariableId,
    /// Whether it must be 0.
    pub unless: bool,
}

/// One transformation of a value v of magnitude m.
#[derive(Clone, Debug, PartialEq)]
pub enum StepKind {
    /// −v on the named components: x, y, z.
    Flip([bool; 3]),
    /// 1 while the input is off, 0 while it is on: on from 0.5, off under 0.4.
    Not,
    /// Changes between 0 and 1 each time the input comes on: on from 0.5, off under 0.4.
    Toggle,
    /// 1 from m ≥ on until m < off, else 0.
    SwitchAt {
        /// From here it is 1.
        on: Number,
        /// Under this it is 0 again; 0.8 · on if left out.
        off: Option<Number>,
    },
    /// Each component times its factor; one factor for all, or one each.
    Scale(Vec<Number>),
    /// 0 up to `low`, 1 from `full`, (m − low)/(full − low) between, direction kept.
    Deadzone {
        /// The end of the dead part.
        low: Number,
        /// The start of the full part.
        full: Number,
        /// Of the length, or of each component.
        by: By,
    },
    /// m^power, direction kept.
    Curve(Number),
    /// Straight lines through (0, 0) and these points, flat after the last; direction kept.
    Points(Vec<(f64, f64)>),
    /// Length limited, direction kept.
    Cap(Number),
    /// Each component kept within both ends.
    Clamp(Number, Number),
    /// v / m; 0 stays 0.
    Unit,
    /// Each component from a…b to c…d: c + (v − a)/(b − a) · (d − c), held within c…d.
    Remap([Number; 4]),
    /// An axis onto one component of the action's kind.
    Onto(Component, Kind),
    /// One number out of several.
    Pick(Pick),
    /// Components re-ordered: the new x is the first named.
    Order(Vec<Component>),
    /// Turned counter-clockwise around an axis; a plane around z.
    Rotate(Number, Component),
    /// Direction moved to the nearest of so many even ones, the first at `from`; half-way goes
    /// counter-clockwise.
    Ways {
        /// How many.
        count: Number,
        /// Where the first one points.
        from: Number,
    },
    /// Magnitude to the nearest multiple; half-way goes away from 0.
    Notch(Number),
    /// A straight line to the input at a limited speed.
    Ease {
        /// Units a second towards an input that is no smaller.
        rise: Number,
        /// The same towards a smaller one.
        fall: Number,
        /// Whether it drops to 0 first when old and new point more than 90° apart.
        cut: bool,
    },
    /// First-order lag with a time constant: target + (start − target) · exp(−Δt/T).
    Smooth(Number),
    /// What a speed adds up to over the tick.
    Travel,
}

impl StepKind {
    /// Whether it gives a sum of values the sum of what it gives each of them.
    pub fn is_linear(&self) -> bool {
        match self {
            Self::Scale(_)
            | Self::Flip(_)
            | Self::Rotate(..)
            | Self::Order(_)
            | Self::Pick(_)
            | Self::Onto(..)
            | Self::Travel => true,
            Self::Not
            | Self::Toggle
            | Self::SwitchAt { .. }
            | Self::Deadzone { .. }
            | Self::Curve(_)
            | Self::Points(_)
            | Self::Cap(_)
            | Self::Clamp(..)
            | Self::Unit
            | Self::Remap(_)
            | Self::Ways { .. }
            | Self::Notch(_)
            | Self::Ease { .. }
            | Self::Smooth(_) => false,
        }
    }

    /// The kind that it gives for an input of `kind`.
    pub fn kind_after(&self, kind: Kind) -> Kind {
        match self {
            Self::Pick(_) => Kind::Axis,
            Self::Onto(_, kind) => *kind,
            Self::Flip(_)
            | Self::Not
            | Self::Toggle
            | Self::SwitchAt { .. }
            | Self::Scale(_)
            | Self::Deadzone { .. }
            | Self::Curve(_)
            | Self::Points(_)
            | Self::Cap(_)
            | Self::Clamp(..)
            | Self::Unit
            | Self::Remap(_)
            | Self::Order(_)
            | Self::Rotate(..)
            | Self::Ways { .. }
            | Self::Notch(_)
            | Self::Ease { .. }
            | Self::Smooth(_)
            | Self::Travel => kind,
        }
    }

    /// Its numbers, in the order in which they are written.
    pub fn numbers(&self) -> Vec<&Number> {
        match self {
            Self::Flip(_)
            | Self::Not
            | Self::Toggle
            | Self::Points(_)
            | Self::Unit
            | Self::Onto(..)
            | Self::Pick(_)
            | Self::Order(_)
            | Self::Travel => Vec::new(),
            Self::SwitchAt { on, off } => [on].into_iter().chain(off).collect(),
            Self::Scale(factors) => factors.iter().collect(),
            Self::Deadzone { low, full, by: _ } => vec![low, full],
            Self::Curve(n)
            | Self::Cap(n)
            | Self::Rotate(n, _)
            | Self::Notch(n)
            | Self::Smooth(n) => vec![n],
            Self::Clamp(least, most) => vec![least, most],
            Self::Remap(ends) => ends.iter().collect(),
            Self::Ways { count, from } => vec![count, from],
            Self::Ease { rise, fall, cut: _ } => vec![rise, fall],
        }
    }
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
