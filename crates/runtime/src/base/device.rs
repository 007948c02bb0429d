//! Classes of devices, kinds of controls, and one control of one device.

use super::{Component, ControlId, Kind};
use std::fmt;

/// The most devices of one class that a player uses at once; they are numbered from 1.
pub const MOST_DEVICES: usize = 8;

/// The most classes of devices that a profile adds.
pub const MOST_OWN_CLASSES: usize = 64;

/// A control of one device.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Contact {
    /// What is touched.
    pub control: ControlId,
    /// On which device of its class, from 0.
    pub device: u8,
}

impl Contact {
    /// The control on the first device of its class.
    pub const fn first(control: ControlId) -> Self {
        Self { control, device: 0 }
    }
}

/// The most local players.
pub const MOST_SEATS: usize = 8;

/// One local player and the devices in those hands; seats are numbered from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Seat(u8);

impl Seat {
    /// Seat 1.
    pub const FIRST: Self = Self(1);

    /// The seat of a number from 1 to [`MOST_SEATS`].
    pub const fn new(number: u8) -> Option<Self> {
        match number as usize {
            1..=MOST_SEATS => Some(Self(number)),
            _ => None,
        }
    }

    /// The first so many seats, [`MOST_SEATS`] at most.
    pub fn first(count: u8) -> impl DoubleEndedIterator<Item = Self> + use<> {
        (1..=count.min(MOST_SEATS as u8)).map(Self)
    }

    /// Its number, from 1.
    pub const fn number(self) -> u8 {
        self.0
    }

    /// Its place among all, from 0.
    pub const fn index(self) -> usize {
        self.0 as usize - 1
    }
}

impl fmt::Display for Seat {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.0)
    }
}

/// One device of its class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Device {
    /// What it is.
    pub class: Class,
    /// Which of its class, from 0: given by who reads the hardware, and kept while it is remembered.
    pub number: u8,
}

impl Device {
    /// What it goes along with: a keyboard and a mouse are one hand's worth.
    pub const fn companion(self) -> Option<Self> {
        match self.class {
            Class::Key => Some(Self { class: Class::Mouse, ..self }),
            Class::Mouse => Some(Self { class: Class::Key, ..self }),
            _ => None,
        }
    }
}

/// All half-axes.
pub const ALL_HALVES: u8 = 0b11_1111;

/// The bit of one half-axis: bits 1 and 2 for x above and below 0, then y, then z.
pub const fn half(component: Component, positive: bool) -> u8 {
    1 << (2 * component as u8 + !positive as u8)
}

/// A class of devices.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Class {
    /// Keyboards.
    Key,
    /// Mice.
    Mouse,
    /// Gamepads.
    Pad,
    /// Touch screens.
    Touch,
    /// Headsets.
    Head,
    /// Controllers held in two tracked hands.
    Hand,
    /// A class of the profile's own, in file order.
    Own(u8),
}

impl Class {
    /// Those that need no profile.
    pub const BUILT_IN: [Self; 6] =
        [Self::Key, Self::Mouse, Self::Pad, Self::Touch, Self::Head, Self::Hand];

    /// Its place among all classes: the built-in ones first.
    pub const fn index(self) -> usize {
        match self {
            Self::Key => 0,
            Self::Mouse => 1,
            Self::Pad => 2,
            Self::Touch => 3,
            Self::Head => 4,
            Self::Hand => 5,
            Self::Own(index) => 6 + index as usize,
        }
    }

    /// The word before the dot, of a built-in class.
    pub const fn built_in_word(self) -> &'static str {
        match self {
            Self::Key => "key",
            Self::Mouse => "mouse",
            Self::Pad => "pad",
            Self::Touch => "touch",
            Self::Head => "head",
            Self::Hand => "hand",
            Self::Own(_) => "",
        }
    }
}

/// What kind of thing a control is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum ControlKind {
    /// 0 or 1.
    Button,
    /// 0 to 1.
    Lever,
    /// −1 to 1.
    Axis,
    /// Two components, each −1 to 1.
    Stick,
    /// What adds up between ticks.
    Relative,
    /// A point, each component 0 to 1.
    Spot,
    /// A point in metres.
    Place,
    /// A rotation.
    Turn,
}

impl ControlKind {
    /// All of them.
    pub const ALL: [Self; 8] = [
        Self::Button,
        Self::Lever,
        Self::Axis,
        Self::Stick,
        Self::Relative,
        Self::Spot,
        Self::Place,
        Self::Turn,
    ];

    /// The kind's word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Button => "button",
            Self::Lever => "lever",
            Self::Axis => "axis",
            Self::Stick => "stick",
            Self::Relative => "relative",
            Self::Spot => "spot",
            Self::Place => "place",
            Self::Turn => "turn",
        }
    }

    /// The same as messages say it.
    pub const fn a_word(self) -> &'static str {
        match self {
            Self::Button => "a button",
            Self::Lever => "a lever",
            Self::Axis => "an axis",
            Self::Stick => "a stick",
            Self::Relative => "relative",
            Self::Spot => "a spot",
            Self::Place => "a place",
            Self::Turn => "a turn",
        }
    }

    /// The kind that `word` names.
    pub fn from_word(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|kind| kind.word() == word)
    }

    /// What a binding of a whole one yields.
    pub const fn yields(self) -> Kind {
        match self {
            Self::Button | Self::Lever | Self::Axis => Kind::Axis,
            Self::Stick | Self::Relative | Self::Spot => Kind::Plane,
            Self::Place => Kind::Space,
            Self::Turn => Kind::Turn,
        }
    }

    /// The least and most that a component of it may report; what adds up and places have no end.
    pub const fn range(self) -> (f64, f64) {
        match self {
            Self::Button | Self::Lever | Self::Spot => (0.0, 1.0),
            Self::Axis | Self::Stick | Self::Turn => (-1.0, 1.0),
            Self::Relative | Self::Place => (-1e9, 1e9),
        }
    }

    /// Whether being away from 0 means that a hand is on it: spots, places and turns are always
    /// somewhere, and what is relative is back at 0 by itself.
    pub const fn is_held(self) -> bool {
        matches!(self, Self::Button | Self::Lever | Self::Axis | Self::Stick)
    }
}
