//! The values that actions and controls have.

use std::fmt;

/// At or under this magnitude a value counts as 0; components that differ by no more are the same.
pub const AT_REST: f64 = 1e-6;

/// No component grows past this, however steps are chained: nothing becomes infinite.
const MOST: f64 = 1e15;

/// What an action gives to game code, and what an expression yields.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Kind {
    /// On or off.
    Switch,
    /// One number.
    Axis,
    /// x and y.
    Plane,
}

impl Kind {
    /// The kind's word in a profile.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Switch => "switch",
            Self::Axis => "axis",
            Self::Plane => "plane",
        }
    }

    /// The word with its article, for messages.
    pub const fn a_word(self) -> &'static str {
        match self {
            Self::Switch => "a switch",
            Self::Axis => "an axis",
            Self::Plane => "a plane",
        }
    }

    /// How many components a value has.
    pub const fn components(self) -> usize {
        match self {
            Self::Switch | Self::Axis => 1,
            Self::Plane => 2,
        }
    }
}

/// One component of a value.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Component {
    /// To the right.
    X,
    /// Up.
    Y,
}

impl Component {
    /// Its letter.
    pub const fn letter(self) -> &'static str {
        match self {
            Self::X => "x",
            Self::Y => "y",
        }
    }
}

/// A value's components; those that its kind doesn't have are 0.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Vector {
    /// The first component; the only one of a switch or axis.
    pub x: f64,
    /// The second component.
    pub y: f64,
}

impl Vector {
    /// All 0.
    pub const ZERO: Self = Self { x: 0.0, y: 0.0 };

    /// Both components.
    pub const fn new(x: f64, y: f64) -> Self {
        Self { x, y }
    }

    /// A single number.
    pub const fn axis(x: f64) -> Self {
        Self { x, y: 0.0 }
    }

    /// The component asked for.
    pub const fn component(self, component: Component) -> f64 {
        match component {
            Component::X => self.x,
            Component::Y => self.y,
        }
    }

    /// The value with one component replaced.
    pub const fn with(self, component: Component, value: f64) -> Self {
        match component {
            Component::X => Self { x: value, ..self },
            Component::Y => Self { y: value, ..self },
        }
    }

    /// |v| of a single number, the length of several: √(x² + y²).
    pub fn magnitude(self) -> f64 {
        if self.y == 0.0 { self.x.abs() } else { (self.x * self.x + self.y * self.y).sqrt() }
    }

    /// Each component times its own factor, held within ±10¹⁵.
    pub fn times(self, x: f64, y: f64) -> Self {
        Self { x: (self.x * x).clamp(-MOST, MOST), y: (self.y * y).clamp(-MOST, MOST) }
    }

    /// The same direction with magnitude `to`; 0 stays 0. `from` is the present magnitude.
    pub fn resized(self, from: f64, to: f64) -> Self {
        if from == 0.0 {
            return Self::ZERO;
        }
        Self { x: self.x / from * to, y: self.y / from * to }
    }

    /// Whether some component differs by more than [`AT_REST`].
    pub fn differs(self, other: Self) -> bool {
        (self.x - other.x).abs() > AT_REST || (self.y - other.y).abs() > AT_REST
    }

    /// The components that a value of `kind` has, −0 written as 0.
    pub fn display(self, kind: Kind) -> impl fmt::Display {
        Shown { value: self, kind }
    }
}

struct Shown {
    value: Vector,
    kind: Kind,
}

/// `(0.6, 0.8)` or `0.6`, to the precision asked for (`{:.3}`).
impl fmt::Display for Shown {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let digits = f.precision().unwrap_or(3);
        let rounded = |v: f64| {
            let text = format!("{:.digits$}", v + 0.0);
            let text = text.trim_end_matches('0').trim_end_matches('.');
            if text == "-0" { "0".to_owned() } else { text.to_owned() }
        };
        let text = match self.kind {
            Kind::Switch => if self.value.x == 0.0 { "off" } else { "on" }.to_owned(),
            Kind::Axis => rounded(self.value.x),
            Kind::Plane => format!("({}, {})", rounded(self.value.x), rounded(self.value.y)),
        };
        f.pad_integral(true, "", &text)
    }
}
