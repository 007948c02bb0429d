//! The one table of keys, words and numbers, but for those of steps and cues. The reader, the range
//! errors and the reference all read it.

use super::cues::CueWord;
use super::number::Number;
use super::steps::StepWord;
use harmonym_runtime::base::AT_REST;

/// One key of a table of the profile. What is said of it is Markdown.
#[derive(Clone, Copy, Debug)]
pub struct Key {
    /// The key.
    pub name: &'static str,
    /// What it says.
    pub says: &'static str,
    /// What holds if it is left out.
    pub otherwise: &'static str,
    /// What is written behind it.
    pub holds: Holds,
}

/// What is written behind a key.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holds {
    /// A text.
    Text,
    /// One of some words.
    Word(&'static [Keyword]),
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

const fn key(name: &'static str, says: &'static str, otherwise: &'static str, holds: Holds) -> Key {
    Key { name, says, otherwise, holds }
}

const NONE: &str = "none";
const ABOUT: Key = key("about", "a text for people", NONE, Holds::Text);
const LABEL: Key = key("label", "what players read", "its name", Holds::Text);
const WAIVE: Key = key(
    "waive",
    "rules of the checker that are switched off for it: `check --explain RULE`",
    NONE,
    Holds::Texts,
);
const UNIT: Key = key(
    "unit",
    "what it counts: `s`, `ms`, `deg` or `rad`",
    "seconds and radians are meant",
    Holds::Word(UNITS),
);

/// The keys at the top of a profile.
pub const TOP: &[Key] = &[
    key("harmonym", "the version of the format, 1", "required", Holds::Number),
    key("title", "what the game is called", NONE, Holds::Text),
    ABOUT,
    key("seats", "how many local players, 1 to 8", "1", Holds::Number),
    key("reserved", "controls that no player may bind", NONE, Holds::Texts),
    WAIVE,
    key("scheme", "`[scheme.NAME]`: devices that a person uses together", NONE, Holds::Table),
    key("device", "`[device.NAME]`: a class of devices of your own", NONE, Holds::Table),
    key("setting", "`[setting.NAME]`: a number or switch that the player owns", NONE, Holds::Table),
    key("fact", "`[fact.NAME]`: a number that the game supplies", NONE, Holds::Table),
    key("preset", "named chains of steps: `stick = \"deadzone 0.1\"`", NONE, Holds::Table),
    key("map", "`[map.NAME]`: the actions of one situation", NONE, Holds::Table),
];

/// The keys of a `[scheme.NAME]`.
pub const SCHEME: &[Key] = &[
    key(
        "devices",
        "classes of devices: `key`, `mouse`, `pad`, `touch`, `head`, `hand`, or one of your own",
        "required",
        Holds::Texts,
    ),
    ABOUT,
    LABEL,
];

/// The keys of a `[setting.NAME]`.
pub const SETTING: &[Key] = &[
    key("default", "its value at first: a number, or `true` or `false`", "required", Holds::Either),
    key(
        "range",
        "the least and the most: `[0.2, 4.0]`",
        "what the number it stands for may be",
        Holds::Range,
    ),
    UNIT,
    ABOUT,
];

/// The keys of a `[fact.NAME]`.
pub const FACT: &[Key] =
    &[ABOUT, UNIT, key("default", "its value until the game says another", "0", Holds::Number)];

/// The keys of a `[device.NAME]`.
pub const DEVICE: &[Key] = &[
    key(
        "controls",
        "its controls, each with its kind: `{ thumb = \"stick\" }`",
        "required",
        Holds::Table,
    ),
    key(
        "as",
        "the standard controls that they also count as: `{ thumb = \"pad.left-stick\" }`",
        NONE,
        Holds::Table,
    ),
    ABOUT,
    LABEL,
];

/// The keys of a binding as a table.
pub const BINDING: &[Key] = &[
    key("from", "the binding as it is written otherwise", "required", Holds::Text),
    key("rebind", "whether the player may rebind it", "as its action", Holds::Switch),
    key("label", "what players read", "in words of the control", Holds::Text),
];

/// The keys of the table at a path; none where names of the owner's own stand, or values.
pub fn keys_at(path: &[&str]) -> &'static [Key] {
    match path {
        [] => TOP,
        ["scheme", _] => SCHEME,
        ["setting", _] => SETTING,
        ["fact", _] => FACT,
        ["device", _] => DEVICE,
        ["map", _] => MAP,
        ["map", _, _] => ACTION,
        ["map", _, _, "levels"] => LEVELS,
        ["map", _, _, "bind", _] => BINDING,
        _ => &[],
    }
}

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
pub const UNITS: &[Keyword] = &[
    word("s", "s", "seconds"),
    word("ms", "ms", "thousandths of a second"),
    word("deg", "deg", "degrees"),
    word("rad", "rad", "radians"),
];

/// The keys of a `[map.NAME]` besides its actions.
pub const MAP: &[Key] = &[
    ABOUT,
    LABEL,
    key(
        "kind",
        "`solo`: it replaces the solo map that was open; `layer`: it lies on top; `always`: it is \
         always open",
        "`solo`",
        Holds::Word(MAP_KINDS),
    ),
    key(
        "rank",
        "a whole number: open maps with a higher one come first",
        "0, 10, 20 for solo, layer, always",
        Holds::Number,
    ),
    key("start", "whether it is open when play begins", "false", Holds::Switch),
    key("in-pause", "whether its actions work while the game is paused", "false", Holds::Switch),
    key(
        "also",
        "other maps' actions, `map.action`, that live while this map is open too",
        NONE,
        Holds::Texts,
    ),
    WAIVE,
];

/// The keys of an action.
pub const ACTION: &[Key] = &[
    key(
        "value",
        "`switch` (on or off), `axis` (one number), `plane` (x, y), `space` (x, y, z), `turn` (a \
         unit quaternion x, y, z, w)",
        "required",
        Holds::Word(VALUES),
    ),
    ABOUT,
    LABEL,
    key(
        "bind",
        "`bind.SCHEME`: a binding, or a list of them; `bind.all` belongs to no scheme",
        "not bound",
        Holds::Table,
    ),
    key("blend", "how its bindings share it", "`greatest`", Holds::Word(BLENDS)),
    key("shape", "steps after the blend", NONE, Holds::Text),
    key(
        "levels",
        "`{ wake, down, up }` with 0 < up ≤ wake ≤ down",
        "down 0.55, or 0.002 where all cues are `while` or `change`; wake = down; up = 0.8 · wake",
        Holds::Table,
    ),
    key("fire", "the fire rule", "`press` for a switch, `while` for the others", Holds::Text),
    key(
        "yields-to",
        "actions that must have given up before this one fires; not with `while`, `repeat`, \
         `change`, `sequence`",
        NONE,
        Holds::Texts,
    ),
    key(
        "claim",
        "whether it keeps its controls from lower maps",
        "true; in `always` maps false",
        Holds::Switch,
    ),
    key(
        "carry",
        "whether controls that are held when its map opens count at once",
        "true where every alternative of the rule is `while` or `change`, else false",
        Holds::Switch,
    ),
    key("in-pause", "whether it works while the game is paused", "as its map", Holds::Switch),
    key("rebind", "whether the player may rebind it", "true", Holds::Switch),
    WAIVE,
];

/// The keys of `levels`.
pub const LEVELS: &[Key] = &[
    key("wake", "the magnitude from which it is awake", "as `down`", Holds::Number),
    key("down", "the magnitude from which it is down", "0.55 or 0.002", Holds::Number),
    key("up", "the magnitude under which it is let go again", "0.8 · wake", Holds::Number),
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

/// A word of the language, with a form that can be written as it stands. What is said of it is
/// Markdown.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Keyword {
    /// The word.
    pub name: &'static str,
    /// How it is written.
    pub form: &'static str,
    /// What it says or gives.
    pub says: &'static str,
}

/// The first of the forms that a step or cue is told with: `flip` of `flip, or flip x`.
pub fn first_form(form: &'static str) -> &'static str {
    form.split(", or ").next().unwrap_or(form)
}

const fn word(name: &'static str, form: &'static str, says: &'static str) -> Keyword {
    Keyword { name, form, says }
}

/// The kinds of value.
pub const VALUES: &[Keyword] = &[
    word("switch", "switch", "on or off"),
    word("axis", "axis", "one number"),
    word("plane", "plane", "x and y"),
    word("space", "space", "x, y and z"),
    word("turn", "turn", "a unit quaternion x, y, z, w"),
];

/// The kinds of map.
pub const MAP_KINDS: &[Keyword] = &[
    word("solo", "solo", "replaces the solo map that was open"),
    word("layer", "layer", "lies on top of what is open"),
    word("always", "always", "is always open"),
];

/// The ways to blend bindings.
pub const BLENDS: &[Keyword] = &[
    word("greatest", "greatest", "the one of greatest magnitude; a tie goes to the earlier"),
    word("oldest", "oldest", "the one that left 0 earliest, until it is back at 0"),
    word("newest", "newest", "the one that left 0 latest; when it is back, the next latest"),
    word("last-change", "last-change", "the one that changed last, going to 0 included"),
    word("sum", "sum", "all of them, added"),
];

/// The combinations. NEG, UP, A and so on are bindings, which may have steps of their own.
pub const COMBINATIONS: &[Keyword] = &[
    word("pair", "pair(NEG, POS)", "an axis: POS − NEG, each held to 0…1"),
    word(
        "four",
        "four(UP, LEFT, DOWN, RIGHT)",
        "a plane: (RIGHT − LEFT, UP − DOWN), length limited to 1",
    ),
    word(
        "join",
        "join(X, Y)",
        "a plane, or with `join(X, Y, Z)` a space, of axes; no limit on length",
    ),
    word("any", "any(A, B)", "the part of greatest magnitude, of two or more that share a kind"),
];

/// What joins parts that are held together.
pub const PLUS: Keyword =
    word("+", "A + B", "the last of two or more, only while all the others are held");

/// What `opposed` of `pair` and `four` may be: what two opposite parts held together give.
pub const OPPOSED: &[Keyword] = &[
    word("cancel", "opposed=cancel", "their difference; this is meant if nothing is said"),
    word("newest", "opposed=newest", "the one that came later"),
    word("oldest", "opposed=oldest", "the one that came first"),
    word("neg", "opposed=neg", "the negative one: left, down"),
    word("pos", "opposed=pos", "the positive one: right, up"),
];

/// What `corner` of `four` may be.
pub const CORNERS: &[Keyword] = &[
    word("round", "corner=round", "a diagonal has length 1; this is meant if nothing is said"),
    word("square", "corner=square", "a diagonal has length 1.414"),
];
