//! What hands do, with every word and number settled.

use crate::take::What;
use harmonym_runtime::base::{Component, Contact, ControlKind, MapId, Time, Vector};

/// One instruction at its moment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Instruction {
    /// When it begins.
    pub at: Time,
    /// What happens.
    pub act: Act,
}

/// What an instruction does.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Act {
    /// A hand moves a control.
    Hand(Target, Hand),
    /// Anything else that happens.
    Other(What),
}

/// What a hand does to a control, or what is wrong with it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Hand {
    /// It is fully down, and up again after so long if that is said.
    Down(Option<Time>),
    /// It moves in a straight line to a value, taking so long.
    Move {
        /// Where to, in components of its target.
        to: Vector,
        /// How long it takes; 0 is at once.
        over: Time,
    },
    /// What is relative moves by so much in all, taking so long.
    Drag {
        /// By how much, in components of its target.
        by: Vector,
        /// How long it takes; 0 is at once.
        over: Time,
    },
    /// From now on so much is added to what it reports.
    Drift(Vector),
    /// For so long, uniform noise within ± `of` is added to what it reports.
    Noise {
        /// The most that is added to each component.
        of: f64,
        /// How long.
        time: Time,
        /// What the noise comes from: the same for the same seed.
        seed: u64,
    },
}

impl Instruction {
    /// How often it reports, if it does so at every `sample`.
    pub fn reports(&self, sample: Time) -> u64 {
        let time = match self.act {
            Act::Hand(_, Hand::Move { over, .. } | Hand::Drag { over, .. }) => over,
            Act::Hand(_, Hand::Noise { time, .. }) => time,
            _ => Time::ZERO,
        };
        time.nanos().div_ceil(sample.nanos().max(1))
    }

    /// The map that it opens.
    pub fn opens(&self) -> Option<MapId> {
        match self.act {
            Act::Other(What::Map(_, map, true)) => Some(map),
            _ => None,
        }
    }

    /// When it is over.
    pub fn end(&self) -> Time {
        match self.act {
            Act::Hand(_, Hand::Down(time)) => self.at + time.unwrap_or_default(),
            Act::Hand(_, Hand::Move { over, .. } | Hand::Drag { over, .. }) => self.at + over,
            Act::Hand(_, Hand::Noise { time, .. }) => self.at + time,
            _ => self.at,
        }
    }
}

/// A control that a device reports, or a part of it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Target {
    /// What the device reports.
    pub contact: Contact,
    /// What kind of thing that is.
    pub kind: ControlKind,
    /// The part that is meant.
    pub part: Part,
}

impl Target {
    /// How many components a value of it has.
    pub fn components(&self) -> usize {
        match self.part {
            Part::Whole => self.kind.yields().components(),
            Part::One(_) | Part::Half(..) => 1,
        }
    }
}

/// Which part of a control is meant.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Part {
    /// All of it.
    Whole,
    /// One component, the other kept.
    One(Component),
    /// One half of a component, the other component kept; `true` for the positive half.
    Half(Component, bool),
}

impl Part {
    /// Whether both parts of one control have a component in common.
    pub fn overlaps(self, other: Self) -> bool {
        match (self.component(), other.component()) {
            (Some(a), Some(b)) => a == b,
            _ => true,
        }
    }

    fn component(self) -> Option<Component> {
        match self {
            Self::Whole => None,
            Self::One(component) | Self::Half(component, _) => Some(component),
        }
    }

    /// `whole` with this part at `value`.
    pub fn put(self, whole: Vector, value: Vector) -> Vector {
        match self {
            Self::Whole => value,
            Self::One(component) => whole.with(component, value.x),
            Self::Half(component, positive) => {
                whole.with(component, if positive { value.x } else { -value.x })
            }
        }
    }

    /// This part of `whole`.
    pub fn of(self, whole: Vector) -> Vector {
        match self {
            Self::Whole => whole,
            Self::One(component) => Vector::axis(whole.component(component)),
            Self::Half(component, positive) => {
                let value = whole.component(component);
                Vector::axis(if positive { value } else { -value })
            }
        }
    }
}
