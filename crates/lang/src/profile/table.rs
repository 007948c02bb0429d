//! The one table of keys, words and numbers, but for those of steps and cues. The reader, the range
//! errors and the reference all read it.

use super::cues::CueWord;
use super::number::Number;
use super::steps::StepWord;
use harmonym_runtime::base::AT_REST;

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

/// Words that steps and cues use beside their own names.
const WORDS: &[&str] = &[
    "x", "y", "z", "length", "axes", "full", "by", "off", "from", "around", "rise", "fall",
    "reverse", "cut", "gap", "after", "within", "when", "unless", "with", "without", "or",
];

/// Whether steps and cues use a word, so that no setting or fact may be called so.
pub fn is_taken(word: &str) -> bool {
    let named = |known: &[Keyword]| known.iter().any(|keyword| keyword.name == word);
    WORDS.contains(&word) || named(StepWord::WORDS) || named(CueWord::WORDS)
}

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

/// The levels of an action.
pub const LEVEL: Number = Number::above("a level", 0.0, 1e6);
/// What a setting or fact may be.
pub const NAMED: Number = Number::plain("the value of a setting or fact", -1e9, 1e9);

/// The down level of an action that names none and is pressed: some cue of it is neither `while` nor
/// `change`.
pub const PRESSED_DOWN: f64 = 0.55;
/// The down level of one that names none and only follows its value, by `while` or `change`.
pub const FOLLOWED_DOWN: f64 = 0.002;
/// The same where that value comes in shares of a tick, which a level must not swallow: anything away
/// from 0.
pub const SHARE_DOWN: f64 = AT_REST.next_up();
/// The up level, as a share of the wake level, of an action that names none.
pub const UP_SHARE: f64 = 0.8;

/// The rank of an open map.
pub const RANK: Number = Number::plain("`rank`", -1e6, 1e6);
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
    "distance-bent",
    "dead-yield",
    "brief-guard",
    "void-plus",
    "late-press",
    "busy-holder",
    "claim-in-vain",
    "drifting-blend",
    "human-times",
    "setting-kills",
    "double-step",
    "modifier-last",
    "letter-as-shortcut",
    "rare-keys",
    "turning-press",
    "sequence-time",
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

/// What `opposed` may be.
pub const OPPOSED: &[&str] = &["cancel", "newest", "oldest", "neg", "pos"];
/// What `corner` may be.
pub const CORNERS: &[&str] = &["round", "square"];
