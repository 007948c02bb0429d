//! The one table of keys, words and numbers. The reader, the range errors and the reference all
//! read it.

/// One key of a table of the profile.
#[derive(Clone, Copy, Debug)]
pub struct Key {
    /// The key.
    pub name: &'static str,
    /// What it says, in a few words.
    pub says: &'static str,
    /// What is written behind it.
    pub holds: Holds,
}

/// What is written behind a key.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// A text.
    Text,
    /// A number.
    Number,
    /// True or false.
    Switch,
    /// A number, or true or false.
    Either,
    /// A list of texts.
    Texts,
    /// Two numbers.
    Range,
    /// A table with keys of its own.
    Table,
}

const fn key(name: &'static str, says: &'static str, holds: Holds) -> Key {
    Key { name, says, holds }
}

/// The keys at the top of a profile.
pub const TOP: &[Key] = &[
    key("harmonym", "the version of the format, 1", Holds::Number),
    key("title", "what the game is called", Holds::Text),
    key("about", "a text for people", Holds::Text),
    key("seats", "how many local players", Holds::Number),
    key("reserved", "controls that no player may bind", Holds::Texts),
    key("waive", "rules that are switched off", Holds::Texts),
    key("scheme", "sets of device classes that people use together", Holds::Table),
    key("device", "device classes of the owner's own", Holds::Table),
    key("setting", "numbers and switches the player owns", Holds::Table),
    key("fact", "numbers the game supplies", Holds::Table),
    key("preset", "named chains of steps", Holds::Table),
    key("map", "groups of actions", Holds::Table),
];

/// The keys of a `[scheme.NAME]`.
pub const SCHEME: &[Key] = &[
    key("devices", "the device classes", Holds::Texts),
    key("about", "a text for people", Holds::Text),
    key("label", "what players read", Holds::Text),
];

/// The keys of a `[setting.NAME]`.
pub const SETTING: &[Key] = &[
    key("default", "a number, or true or false", Holds::Either),
    key("range", "the least and the most", Holds::Range),
    key("unit", "s, ms, deg or rad", Holds::Text),
    key("about", "a text for people", Holds::Text),
];

/// The keys of a `[fact.NAME]`.
pub const FACT: &[Key] = &[
    key("about", "a text for people", Holds::Text),
    key("unit", "s, ms, deg or rad", Holds::Text),
    key("default", "a number, 0 if left out", Holds::Number),
];

/// The keys of a `[device.NAME]`.
pub const DEVICE: &[Key] = &[
    key("controls", "its controls, each with its kind", Holds::Table),
    key("as", "the standard controls that they also count as", Holds::Table),
    key("about", "a text for people", Holds::Text),
    key("label", "what players read", Holds::Text),
];

/// The keys of a binding as a table.
pub const BINDING: &[Key] = &[
    key("from", "the expression", Holds::Text),
    key("rebind", "whether the player may rebind it", Holds::Switch),
    key("label", "what players read", Holds::Text),
];

/// Words that steps and cues use, and that no setting or fact may be called.
pub const WORDS: &[&str] = &[
    "x",
    "y",
    "z",
    "length",
    "axes",
    "full",
    "by",
    "off",
    "from",
    "around",
    "rise",
    "fall",
    "reverse",
    "cut",
    "gap",
    "after",
    "within",
    "when",
    "unless",
    "with",
    "without",
    "or",
    "flip",
    "not",
    "toggle",
    "switch-at",
    "scale",
    "deadzone",
    "curve",
    "cap",
    "clamp",
    "unit",
    "remap",
    "onto",
    "pick",
    "order",
    "rotate",
    "ways",
    "notch",
    "ease",
    "smooth",
    "travel",
    "press",
    "release",
    "while",
    "change",
    "hold",
    "tap",
    "charge",
    "taps",
    "repeat",
    "sequence",
];

/// The units that a setting or fact may have.
pub const UNITS: &[&str] = &["s", "ms", "deg", "rad"];

/// The keys of a `[map.NAME]` besides its actions.
pub const MAP: &[Key] = &[
    key("about", "a text for people", Holds::Text),
    key("label", "what players read", Holds::Text),
    key("kind", "solo, layer or always", Holds::Text),
    key("rank", "its place among the open maps", Holds::Number),
    key("start", "whether it is open when play begins", Holds::Switch),
    key("in-pause", "whether it works while the game is paused", Holds::Switch),
    key("also", "other maps' actions that live in it", Holds::Texts),
    key("waive", "rules that are switched off", Holds::Texts),
];

/// The keys of an action.
pub const ACTION: &[Key] = &[
    key("value", "switch, axis, plane, space or turn", Holds::Text),
    key("about", "a text for people", Holds::Text),
    key("label", "what players read", Holds::Text),
    key("bind", "its bindings by scheme", Holds::Table),
    key("blend", "how its bindings share it", Holds::Text),
    key("shape", "steps after the blend", Holds::Text),
    key("levels", "where it wakes, is down and is up", Holds::Table),
    key("fire", "the fire rule", Holds::Text),
    key("yields-to", "actions that must have given up before it fires", Holds::Texts),
    key("claim", "whether it keeps its controls from lower maps", Holds::Switch),
    key("carry", "whether controls held at opening count", Holds::Switch),
    key("in-pause", "whether it works while the game is paused", Holds::Switch),
    key("rebind", "whether the player may rebind it", Holds::Switch),
    key("waive", "rules that are switched off", Holds::Texts),
];

/// The keys of `levels`.
pub const LEVELS: &[Key] = &[
    key("wake", "the magnitude at which it wakes", Holds::Number),
    key("down", "the magnitude at which it is down", Holds::Number),
    key("up", "the magnitude under which it is up", Holds::Number),
];

/// What a number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Counts {
    /// A plain number or a percentage.
    Plain,
    /// A time with its unit.
    Time,
    /// A turn with its unit.
    Angle,
    /// So much a second.
    Rate,
}

impl Counts {
    /// The unit that messages write behind a number.
    pub const fn unit(self) -> &'static str {
        match self {
            Self::Plain => "",
            Self::Time => " s",
            Self::Angle => " rad",
            Self::Rate => "/s",
        }
    }
}

/// One number that a step, a cue or a key takes. Both ends belong to the range, but for
/// `over`.
#[derive(Clone, Copy, Debug)]
pub struct Number {
    /// What messages call it.
    pub name: &'static str,
    /// What it counts.
    pub counts: Counts,
    /// The least, in base units.
    pub least: f64,
    /// The most, in base units.
    pub most: f64,
    /// Whether the least itself is left out.
    pub over: bool,
}

impl Number {
    /// Whether `value` lies in the range.
    pub fn holds(&self, value: f64) -> bool {
        (self.least..=self.most).contains(&value) && !(self.over && value == self.least)
    }

    /// The range in words.
    pub fn range(&self) -> String {
        let unit = self.counts.unit();
        let (least, most) = (self.least, self.most);
        match self.over {
            true => format!("more than {least}{unit}, at most {most}{unit}"),
            false => format!("{least}{unit} to {most}{unit}"),
        }
    }
}

const fn number(name: &'static str, least: f64, most: f64, over: bool) -> Number {
    Number { name, counts: Counts::Plain, least, most, over }
}

const fn angle(name: &'static str) -> Number {
    Number { name, counts: Counts::Angle, least: -1e3, most: 1e3, over: false }
}

const fn rate(name: &'static str) -> Number {
    Number { name, counts: Counts::Rate, least: 0.0, most: 1e6, over: true }
}

const fn time(name: &'static str) -> Number {
    Number { name, counts: Counts::Time, least: 0.0, most: 3600.0, over: true }
}

/// What `scale` multiplies by.
pub const SCALE: Number = number("the factor of `scale`", -1e6, 1e6, false);
/// From where `switch-at` gives 1.
pub const SWITCH_ON: Number = number("the on point of `switch-at`", 0.0, 1e6, true);
/// Under which `switch-at` gives 0 again.
pub const SWITCH_OFF: Number = number("`off` of `switch-at`", 0.0, 1e6, true);
/// Up to where `deadzone` gives 0.
pub const DEADZONE_LOW: Number = number("the low end of `deadzone`", 0.0, 1e6, false);
/// From where `deadzone` gives 1.
pub const DEADZONE_FULL: Number = number("`full` of `deadzone`", 0.0, 1e6, true);
/// The power of `curve`.
pub const CURVE: Number = number("the power of `curve`", 0.01, 100.0, false);
/// Where a point of `curve` lies.
pub const CURVE_X: Number = number("the input of a point of `curve`", 0.0, 1e6, true);
/// What a point of `curve` gives.
pub const CURVE_Y: Number = number("the output of a point of `curve`", -1e6, 1e6, false);
/// The greatest length that `cap` lets through.
pub const CAP: Number = number("the limit of `cap`", 0.0, 1e6, true);
/// Either end of `clamp`.
pub const CLAMP: Number = number("an end of `clamp`", -1e6, 1e6, false);
/// Any of the four ends of `remap`.
pub const REMAP: Number = number("an end of `remap`", -1e6, 1e6, false);
/// How far `rotate` turns.
pub const ROTATE: Number = angle("the angle of `rotate`");
/// How many directions `ways` leaves.
pub const WAYS: Number = number("the count of `ways`", 1.0, 360.0, false);
/// Where the first direction of `ways` points.
pub const WAYS_FROM: Number = angle("`from` of `ways`");
/// The size of a `notch`.
pub const NOTCH: Number = number("the size of `notch`", 1e-6, 1e6, false);
/// The levels of an action.
pub const LEVEL: Number = number("a level", 0.0, 1e6, true);
/// How long `hold` waits.
pub const HOLD: Number = time("the time of `hold`");
/// How long a `tap` may last.
pub const TAP: Number = time("the time of `tap`");
/// How long a `charge` takes.
pub const CHARGE: Number = time("the time of `charge`");
/// How many presses `taps` wants.
pub const TAPS: Number = number("the count of `taps`", 1.0, 100.0, false);
/// How long `taps` waits for the next press.
pub const TAPS_GAP: Number = time("`gap` of `taps`");
/// How long `repeat` waits between fires.
pub const REPEAT: Number = time("the time of `repeat`");
/// How long `repeat` waits before its second fire.
pub const REPEAT_AFTER: Number = time("`after` of `repeat`");
/// How long a `sequence` may take.
pub const SEQUENCE: Number = time("`within` of `sequence`");
/// What a setting or fact may be.
pub const NAMED: Number = number("the value of a setting or fact", -1e9, 1e9, false);

/// The down level of a switch that names none.
pub const SWITCH_DOWN: f64 = 0.55;
/// The down level of every other action that names none.
pub const OTHER_DOWN: f64 = 0.002;
/// The up level, as a share of the wake level, of an action that names none.
pub const UP_SHARE: f64 = 0.8;

/// The rank of an open map.
pub const RANK: Number = number("`rank`", -1e6, 1e6, false);
/// How fast `ease` moves away from 0, and back.
pub const EASE: Number = rate("the speed of `ease`");
/// The time constant of `smooth`.
pub const SMOOTH: Number = time("the time of `smooth`");
/// The rules of the checker, which `waive` switches off.
pub const RULES: &[&str] = &[
    "shared-control",
    "double-fire",
    "never-fires",
    "never-opens",
    "same-direction",
    "lone-keys",
    "half-reach",
    "crossed-signs",
    "fast-diagonal",
    "raw-stick",
    "no-hysteresis",
    "mixed-travel",
    "step-order",
    "idle-step",
    "every-tick",
    "scheme-gap",
    "unreachable",
    "shadowed-keys",
    "letters-as-places",
    "system-key",
    "many-keys",
    "hold-only",
    "no-rebind",
    "unused",
    "no-way-out",
    "alike-names",
    "idle-waiver",
];

/// A word of the language, with a form that can be written as it stands.
#[derive(Clone, Copy, Debug)]
pub struct Keyword {
    /// The word.
    pub name: &'static str,
    /// How it is written.
    pub form: &'static str,
}

const fn word(name: &'static str, form: &'static str) -> Keyword {
    Keyword { name, form }
}

/// The kinds of value.
pub const VALUES: &[Keyword] = &[
    word("switch", "switch"),
    word("axis", "axis"),
    word("plane", "plane"),
    word("space", "space"),
    word("turn", "turn"),
];

/// The kinds of map.
pub const MAP_KINDS: &[Keyword] =
    &[word("solo", "solo"), word("layer", "layer"), word("always", "always")];

/// The ways to blend bindings.
pub const BLENDS: &[Keyword] = &[
    word("greatest", "greatest"),
    word("oldest", "oldest"),
    word("newest", "newest"),
    word("last-change", "last-change"),
    word("sum", "sum"),
];

/// Words of former times, and what they are called now.
pub const FORMER_WORDS: &[(&str, &str)] = &[("strongest", "greatest")];

/// The combinations.
pub const COMBINATIONS: &[Keyword] = &[
    word("pair", "pair(NEG, POS)"),
    word("four", "four(UP, LEFT, DOWN, RIGHT)"),
    word("join", "join(X, Y)"),
    word("any", "any(A, B)"),
];

/// The steps.
pub const STEPS: &[Keyword] = &[
    word("flip", "flip, or flip x"),
    word("not", "not"),
    word("toggle", "toggle"),
    word("switch-at", "switch-at 0.5 off=0.4"),
    word("scale", "scale 0.5, or scale 1 0.5"),
    word("deadzone", "deadzone 0.1 full=0.96"),
    word("curve", "curve 1.6, or curve (0.5 0.2) (1 1)"),
    word("cap", "cap 1"),
    word("clamp", "clamp 0 1"),
    word("unit", "unit"),
    word("remap", "remap 0 1 -1 1"),
    word("onto", "onto x"),
    word("pick", "pick x, or pick length"),
    word("order", "order yx"),
    word("rotate", "rotate 45deg"),
    word("ways", "ways 8"),
    word("notch", "notch 0.25"),
    word("ease", "ease rise=4/s"),
    word("smooth", "smooth 50ms"),
    word("travel", "travel"),
];

/// The cues.
pub const CUES: &[Keyword] = &[
    word("press", "press"),
    word("release", "release"),
    word("while", "while"),
    word("change", "change"),
    word("hold", "hold 0.8s"),
    word("tap", "tap 0.25s"),
    word("charge", "charge 0.6s"),
    word("taps", "taps 2 gap=0.3s"),
    word("repeat", "repeat 0.1s after=0.4s"),
    word("sequence", "sequence(a, b) within=1s"),
];

/// What `opposed` may be.
pub const OPPOSED: &[&str] = &["cancel", "newest", "oldest", "neg", "pos"];
/// What `corner` may be.
pub const CORNERS: &[&str] = &["round", "square"];
