//! The steps: how each is written, what it takes, what comes out, which numbers it needs.

use super::number::{Number, Parameter};
use super::table::Keyword;
use harmonym_runtime::base::Kind;

/// What `scale` multiplies by.
pub const SCALE: Number = Number::plain("the factor of `scale`", -1e6, 1e6);
/// From where `switch-at` gives 1.
pub const SWITCH_ON: Number = Number::above("the on point of `switch-at`", 0.0, 1e6);
/// Under which `switch-at` gives 0 again.
pub const SWITCH_OFF: Number = Number::above("`off` of `switch-at`", 0.0, 1e6);
/// Up to where `deadzone` gives 0.
pub const DEADZONE_LOW: Number = Number::plain("the low end of `deadzone`", 0.0, 1e6);
/// From where `deadzone` gives 1.
pub const DEADZONE_FULL: Number = Number::above("`full` of `deadzone`", 0.0, 1e6);
/// The power of `curve`.
pub const CURVE: Number = Number::plain("the power of `curve`", 0.01, 100.0);
/// Where a point of `curve` lies.
pub const CURVE_X: Number = Number::above("the input of a point of `curve`", 0.0, 1e6);
/// What a point of `curve` gives.
pub const CURVE_Y: Number = Number::plain("the output of a point of `curve`", -1e6, 1e6);
/// The greatest length that `cap` lets through.
pub const CAP: Number = Number::above("the limit of `cap`", 0.0, 1e6);
/// Either end of `clamp`.
pub const CLAMP: Number = Number::plain("an end of `clamp`", -1e6, 1e6);
/// Any of the four ends of `remap`.
pub const REMAP: Number = Number::plain("an end of `remap`", -1e6, 1e6);
/// How far `rotate` turns.
pub const ROTATE: Number = Number::angle("the angle of `rotate`");
/// How many directions `ways` leaves.
pub const WAYS: Number = Number::plain("the count of `ways`", 1.0, 360.0);
/// Where the first direction of `ways` points.
pub const WAYS_FROM: Number = Number::angle("`from` of `ways`");
/// The size of a `notch`.
pub const NOTCH: Number = Number::plain("the size of `notch`", 1e-6, 1e6);
/// How fast `ease` moves away from 0, and back.
pub const EASE: Number = Number::rate("the speed of `ease`");
/// The time constant of `smooth`.
pub const SMOOTH: Number = Number::time("the time of `smooth`");

/// What `by` of `deadzone` may be.
pub const BY: &[Keyword] = &[
    Keyword {
        name: "length",
        form: "by=length",
        says: "of the length, direction kept; this is meant if nothing is said",
    },
    Keyword { name: "axes", form: "by=axes", says: "of each component by itself" },
];
/// What `reverse` of `ease` may be.
pub const REVERSE: &[Keyword] = &[Keyword {
    name: "cut",
    form: "reverse=cut",
    says: "from 0 where old and new point more than 90° apart",
}];

/// All that there is to say of a step before it is used.
#[derive(Clone, Copy, Debug)]
pub struct StepText {
    /// Its word.
    pub word: &'static str,
    /// How it is written, as an example that can be written as it stands.
    pub form: &'static str,
    /// How it is written, what is to be filled in in capitals.
    pub written: &'static [&'static str],
    /// The kinds of value that it takes.
    pub takes: &'static [Kind],
    /// What comes out, of an input v of magnitude m.
    pub gives: &'static str,
    /// Its numbers, in the order in which they are written.
    pub numbers: &'static [Parameter],
    /// What must hold between them.
    pub relation: &'static str,
    /// Its options, which are written `option=…`.
    pub options: &'static [&'static str],
}

const ONE: &[Kind] = &[Kind::Axis];
const SEVERAL: &[Kind] = &[Kind::Plane, Kind::Space];
const ANY: &[Kind] = &[Kind::Axis, Kind::Plane, Kind::Space];
const ANY_AND_TURN: &[Kind] = &[Kind::Axis, Kind::Plane, Kind::Space, Kind::Turn];

/// A step without numbers or options.
const PLAIN: StepText = StepText {
    word: "",
    form: "",
    written: &[],
    takes: ANY,
    gives: "",
    numbers: &[],
    relation: "",
    options: &[],
};

macro_rules! steps {
    ($($(#[$doc:meta])* $name:ident $text:expr,)*) => {
        /// A step of the language.
        #[derive(Clone, Copy, Debug, PartialEq, Eq)]
        pub enum StepWord {
            $($(#[$doc])* $name,)*
        }

        impl StepWord {
            /// All of them, in the order of the reference.
            pub const ALL: &[Self] = &[$(Self::$name,)*];
            /// Their words.
            pub const WORDS: &[Keyword] =
                &[$(Keyword { name: $text.word, form: $text.form, says: $text.gives },)*];

            /// All that there is to say of it.
            pub const fn text(self) -> StepText {
                match self {
                    $(Self::$name => const { $text },)*
                }
            }
        }
    };
}

steps! {
    /// `flip`.
    Flip StepText {
        word: "flip",
        form: "flip, or flip x",
        written: &["flip", "flip x y"],
        gives: "−v, on the named components or all",
        ..PLAIN
    },
    /// `not`.
    Not StepText {
        word: "not",
        form: "not",
        written: &["not"],
        takes: ONE,
        gives: "1 while the input is off, 0 while it is on: on from 0.5, off under 0.4",
        ..PLAIN
    },
    /// `toggle`.
    Toggle StepText {
        word: "toggle",
        form: "toggle",
        written: &["toggle"],
        takes: ONE,
        gives: "changes between 0 and 1 each time the input comes on: from 0.5, after it was under 0.4",
        ..PLAIN
    },
    /// `switch-at`.
    SwitchAt StepText {
        word: "switch-at",
        form: "switch-at 0.5 off=0.4",
        written: &["switch-at ON off=OFF"],
        takes: ONE,
        gives: "1 from m ≥ ON until m < OFF",
        numbers: &[Parameter::needed("ON", SWITCH_ON), Parameter::optional("OFF", SWITCH_OFF, "0.8 · ON")],
        relation: "OFF ≤ ON",
        options: &["off"],
    },
    /// `scale`.
    Scale StepText {
        word: "scale",
        form: "scale 0.5, or scale 1 0.5",
        written: &["scale K", "scale KX KY KZ"],
        gives: "v · K, or each component times its own",
        numbers: &[Parameter::needed("K", SCALE)],
        ..PLAIN
    },
    /// `deadzone`.
    Deadzone StepText {
        word: "deadzone",
        form: "deadzone 0.1 full=0.96",
        written: &["deadzone LOW full=HIGH by=length"],
        gives: "m becomes 0 up to LOW, 1 from HIGH, (m − LOW)/(HIGH − LOW) between; direction \
                kept. With `by=axes`, each component by itself",
        numbers: &[Parameter::needed("LOW", DEADZONE_LOW), Parameter::optional("HIGH", DEADZONE_FULL, "1")],
        relation: "LOW < HIGH",
        options: &["full", "by"],
        ..PLAIN
    },
    /// `curve`.
    Curve StepText {
        word: "curve",
        form: "curve 1.6, or curve (0.5 0.2) (1 1)",
        written: &["curve P", "curve (X Y) (X Y) …"],
        gives: "m^P, direction kept; with points, straight lines through (0, 0) and the points, \
                flat after the last",
        numbers: &[Parameter::needed("P", CURVE), Parameter::needed("X", CURVE_X), Parameter::needed("Y", CURVE_Y)],
        relation: "X rises from point to point",
        ..PLAIN
    },
    /// `cap`.
    Cap StepText {
        word: "cap",
        form: "cap 1",
        written: &["cap M"],
        gives: "length limited to M, direction kept",
        numbers: &[Parameter::needed("M", CAP)],
        ..PLAIN
    },
    /// `clamp`.
    Clamp StepText {
        word: "clamp",
        form: "clamp 0 1",
        written: &["clamp LO HI"],
        gives: "each component kept within LO and HI",
        numbers: &[Parameter::needed("LO", CLAMP), Parameter::needed("HI", CLAMP)],
        relation: "LO ≤ HI",
        ..PLAIN
    },
    /// `unit`.
    Unit StepText {
        word: "unit",
        form: "unit",
        written: &["unit"],
        takes: SEVERAL,
        gives: "v / m; 0 stays 0",
        ..PLAIN
    },
    /// `remap`.
    Remap StepText {
        word: "remap",
        form: "remap 0 1 -1 1",
        written: &["remap A B C D"],
        gives: "each component C + (v − A)/(B − A) · (D − C), held within C…D",
        numbers: &[
            Parameter::needed("A", REMAP),
            Parameter::needed("B", REMAP),
            Parameter::needed("C", REMAP),
            Parameter::needed("D", REMAP),
        ],
        relation: "A ≠ B",
        ..PLAIN
    },
    /// `onto`.
    Onto StepText {
        word: "onto",
        form: "onto x",
        written: &["onto x", "onto y", "onto z"],
        takes: ONE,
        gives: "that component of the action's kind, the others 0",
        ..PLAIN
    },
    /// `pick`.
    Pick StepText {
        word: "pick",
        form: "pick x, or pick length",
        written: &["pick x", "pick y", "pick z", "pick length"],
        takes: SEVERAL,
        gives: "one number",
        ..PLAIN
    },
    /// `order`.
    Order StepText {
        word: "order",
        form: "order yx",
        written: &["order yx", "order zxy"],
        takes: SEVERAL,
        gives: "components re-ordered: the new x is the first named",
        ..PLAIN
    },
    /// `rotate`.
    Rotate StepText {
        word: "rotate",
        form: "rotate 45deg",
        written: &["rotate ANGLE around=z"],
        takes: SEVERAL,
        gives: "turned counter-clockwise",
        numbers: &[Parameter::needed("ANGLE", ROTATE)],
        options: &["around"],
        ..PLAIN
    },
    /// `ways`.
    Ways StepText {
        word: "ways",
        form: "ways 8",
        written: &["ways N from=ANGLE"],
        takes: &[Kind::Plane],
        gives: "direction moved to the nearest of N even ones, length kept; half-way goes \
                counter-clockwise",
        numbers: &[Parameter::needed("N", WAYS), Parameter::optional("ANGLE", WAYS_FROM, "0")],
        options: &["from"],
        ..PLAIN
    },
    /// `notch`.
    Notch StepText {
        word: "notch",
        form: "notch 0.25",
        written: &["notch S"],
        gives: "m to the nearest multiple of S; half-way goes away from 0",
        numbers: &[Parameter::needed("S", NOTCH)],
        ..PLAIN
    },
    /// `ease`.
    Ease StepText {
        word: "ease",
        form: "ease rise=4/s",
        written: &["ease rise=R fall=F reverse=cut"],
        gives: "a straight line to the input at R units a second, F where the input is smaller \
                than where it is; with `cut`, from 0 where old and new point more than 90° apart",
        numbers: &[Parameter::needed("R", EASE), Parameter::optional("F", EASE, "R")],
        options: &["rise", "fall", "reverse"],
        ..PLAIN
    },
    /// `smooth`.
    Smooth StepText {
        word: "smooth",
        form: "smooth 50ms",
        written: &["smooth T"],
        takes: ANY_AND_TURN,
        gives: "a first-order lag: target + (start − target) · exp(−Δt/T); a turn along the \
                shorter arc",
        numbers: &[Parameter::needed("T", SMOOTH)],
        ..PLAIN
    },
    /// `travel`.
    Travel StepText {
        word: "travel",
        form: "travel",
        written: &["travel"],
        gives: "what a speed adds up to over the tick: value × seconds",
        ..PLAIN
    },
}

impl StepWord {
    /// The step that a word names.
    pub fn named(word: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|step| step.text().word == word)
    }
}

impl StepText {
    /// What there is to say of its numbers, in a line.
    pub fn numbers_in_words(&self) -> String {
        Parameter::in_words(self.numbers, self.relation)
    }
}
