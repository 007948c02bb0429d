//! What stands in the lines of each format.

use super::field::Type::*;
use super::field::{Field, Format, Line, Lines, Type, has, line, may};

const KIND: &str = "kind";
const FORMAT: Field = has("format", IsNumber(1), "the version of the format");
const T: Field = has("t", Seconds, "when, in seconds, exact to the nanosecond");
const TICK: Field = has("tick", Count, "the tick at which the game sees it");
const SEAT: Field = has("seat", Seat, "to whom it happened");
const ACTION: Field = has("action", Text, "the action's address");
const ABOUT: Field = may("about", Text, "what it is for");
const ADDRESS: Field = has("address", Text, "its address");
const TITLE: Field = may("title", Text, "what it is called, or about");
const VALUE: Type = Any(&[Flag, Number, Components(2)]);
const CAUSES: Type = OneOf(&[
    "released",
    "done",
    "too-short",
    "too-long",
    "too-light",
    "gap",
    "out-of-order",
    "guard",
    "yielded",
    "map-off",
    "paused",
    "claimed",
    "unplugged",
    "scheme-off",
    "rebound",
    "stopped",
]);
const CONTROL_KINDS: Type =
    OneOf(&["button", "lever", "axis", "stick", "relative", "spot", "place", "turn"]);

macro_rules! start {
    ($kind:literal) => {
        line("the first line", &[has(KIND, Is($kind), ""), FORMAT, TITLE])
    };
}

const RUN: &[Line] = &[
    line(
        "the first line",
        &[has(KIND, Is("start"), ""), FORMAT, TITLE, has("rate", Number, "ticks a second")],
    ),
    line(
        "something that happened in an action",
        &[
            has(KIND, Is("event"), ""),
            T,
            TICK,
            SEAT,
            ACTION,
            has("event", OneOf(&["wake", "fire", "lapse", "rest"]), ""),
            has("value", VALUE, "the action's value: of a switch true or false, else numbers"),
            has("held", Seconds, "the time since it woke"),
            may("fired_for", Seconds, "the time since its first fire"),
            has("progress", Share, "the share of the way to firing"),
            may("from", Text, "the binding that won last while away from 0"),
            may("by", Text, "of a fire, the cue, as it is written"),
            may("since", Seconds, "of a fire that was kept, since when"),
            may("cause", CAUSES, "of an end, why"),
        ],
    ),
    line(
        "the hands went over to another scheme",
        &[has(KIND, Is("scheme"), ""), T, TICK, SEAT, has("scheme", Text, "its name")],
    ),
    line(
        "a map opened or closed",
        &[
            has(KIND, Is("map"), ""),
            T,
            TICK,
            SEAT,
            has("map", Text, "its name"),
            has("open", Flag, "whether it is open now"),
        ],
    ),
    line(
        "the game was paused, or goes on",
        &[has(KIND, Is("pause"), ""), T, TICK, has("paused", Flag, "")],
    ),
    line(
        "a device came, or went away",
        &[
            has(KIND, Is("device"), ""),
            T,
            TICK,
            may("seat", Seat, "whose it is"),
            has("device", Text, "`pad#2`"),
            has("plugged", Flag, "whether it is there now"),
        ],
    ),
    line(
        "a device was given to a seat, or taken from its seat",
        &[
            has(KIND, Is("seat"), ""),
            T,
            TICK,
            may("seat", Seat, "whose it is now"),
            has("device", Text, "`pad#2`"),
        ],
    ),
    line(
        "the values that differ from the tick before",
        &[
            has(KIND, Is("values"), ""),
            T,
            TICK,
            SEAT,
            has("values", ByName(&VALUE), "by the addresses of actions"),
        ],
    ),
    line("a tick is over: `pipe` only", &[has(KIND, Is("tick"), ""), T, TICK]),
    line("the last line", &[has(KIND, Is("end"), ""), T, TICK]),
];

const NUMBERS: Type = Any(&[Number, Components(1)]);
const OF_SEAT: Field = may("seat", Seat, "for that seat only");

const TAKE: &[Line] = &[
    line(
        "the first line",
        &[
            has("take", IsNumber(1), "the version of the format"),
            TITLE,
            may("start", Text, "the map that is open at 0, in place of the profile's"),
            may("rate", Number, "ticks a second"),
            may("layout", Text, "the keyboard layout: `us`"),
            may("seats", Seat, "how many players there are"),
            may("devices", List(&Text), "the devices that were used"),
        ],
    ),
    line(
        "what a control reports",
        &[
            T,
            has("control", Text, "the control, the number of its device with it: `pad#2.south`"),
            has("value", NUMBERS, ""),
        ],
    ),
    line(
        "what something relative moved by",
        &[T, has("control", Text, ""), has("by", NUMBERS, "")],
    ),
    line("a fact", &[T, has("fact", Text, "its name"), has("value", Number, ""), OF_SEAT]),
    line("a setting", &[T, has("setting", Text, "its name"), has("value", Number, ""), OF_SEAT]),
    line("the game opens a map", &[T, has("open", Text, "the map"), OF_SEAT]),
    line("the game closes a map", &[T, has("close", Text, "the map"), OF_SEAT]),
    line("the game is paused, or goes on", &[T, has("pause", Flag, "")]),
    line(
        "the game narrows the bindings to those of a scheme, or with null lets all count",
        &[T, has("scheme", Any(&[Text, Null]), ""), OF_SEAT],
    ),
    line("a device is there from now on", &[T, has("plug", Text, "`pad#2`")]),
    line("a device goes away", &[T, has("unplug", Text, "`pad#2`")]),
    line("a device is handed to a seat", &[T, has("give", Text, "`pad#2`"), SEAT]),
    line("a frame of the game: `pipe` only", &[T, has("tick", Flag, "true")]),
];

const CHECK: &[Line] = &[line(
    "a fault or finding",
    &[
        has("rule", Text, "the rule that it is of"),
        has("level", OneOf(&["error", "warning", "note"]), ""),
        may("address", Text, "what it is about"),
        has("message", Text, ""),
        may("help", Text, "what to write instead"),
        has("file", Text, ""),
        has("line", Count, "from 1"),
        has("column", Count, "from 1, in characters"),
        has("end_line", Count, ""),
        has("end_column", Count, "the column behind its end"),
    ],
)];

const SHARD: Line = line(
    "of which part of the files this is",
    &[
        has(KIND, Is("shard"), ""),
        has("command", Text, "the command whose results follow"),
        has("shard", Count, "from 1"),
        has("shards", Count, "of how many"),
        has("files", Count, "how many files were its part"),
        may("vary", Text, "of a sweep, what was varied"),
    ],
);

const TEST: &[Line] = &[
    SHARD,
    line(
        "an expectation",
        &[
            has("file", Text, "the score"),
            has("line", Count, "from 1"),
            has("expectation", Text, "as it is written"),
            has("pass", Flag, ""),
            may("got", Text, "what came out instead"),
        ],
    ),
    line(
        "a fault of a score",
        &[
            has("file", Text, ""),
            may("line", Count, ""),
            has("pass", Flag, "false"),
            has("fault", Text, ""),
            may("help", Text, ""),
        ],
    ),
    line(
        "in a part of a whole, a score as text",
        &[
            has("told", Text, "what is printed of it"),
            has("faulty", Flag, "whether that goes to the standard error"),
        ],
    ),
];

const STATIONS: Type = List(&Object(&[has("station", Text, ""), has("says", Text, "")]));

const SHOW: &[Line] = &[
    start!("show"),
    line(
        "a scheme",
        &[has(KIND, Is("scheme"), ""), ADDRESS, has("devices", List(&Text), ""), ABOUT],
    ),
    line(
        "a setting or fact",
        &[
            has(KIND, OneOf(&["setting", "fact"]), ""),
            ADDRESS,
            has("default", Any(&[Number, Flag]), ""),
            may("range", Components(2), "the least and the most"),
            may("unit", Text, ""),
            ABOUT,
        ],
    ),
    line("a preset", &[has(KIND, Is("preset"), ""), ADDRESS, has("steps", Text, "")]),
    line(
        "a device of the profile's own",
        &[
            has(KIND, Is("device"), ""),
            ADDRESS,
            has("controls", ByName(&CONTROL_KINDS), "the kind of each control"),
        ],
    ),
    line(
        "a map",
        &[
            has(KIND, Is("map"), ""),
            ADDRESS,
            has("map_kind", OneOf(&["solo", "layer", "always"]), ""),
            has("rank", Integer, ""),
            has("start", Flag, "whether it is open at the start"),
            has("also", List(&Text), "actions of other maps that live in it"),
            ABOUT,
        ],
    ),
    line(
        "an action",
        &[
            has(KIND, Is("action"), ""),
            ADDRESS,
            has("value", OneOf(&["switch", "axis", "plane", "space", "turn"]), ""),
            ABOUT,
            has("blend", OneOf(&["greatest", "oldest", "newest", "last-change", "sum"]), ""),
            may("shape", Text, ""),
            has(
                "levels",
                Object(&[has("wake", Number, ""), has("down", Number, ""), has("up", Number, "")]),
                "",
            ),
            has("fire", Text, ""),
            has("yields_to", List(&Text), ""),
            has("claim", Flag, ""),
            has("carry", Flag, ""),
            has("in_pause", Flag, ""),
            has("rebind", Flag, ""),
        ],
    ),
    line(
        "a binding",
        &[
            has(KIND, Is("binding"), ""),
            ADDRESS,
            has("scheme", Text, ""),
            has("from", Text, "as it is written"),
            may("stations", STATIONS, "its steps in words"),
        ],
    ),
    line(
        "what comes after an action's bindings",
        &[has(KIND, Is("after"), ""), ADDRESS, has("stations", STATIONS, "")],
    ),
];

const CONTROLS: &[Line] = &[
    start!("controls"),
    line(
        "a control",
        &[
            has(KIND, Is("control"), ""),
            has("control", Text, ""),
            has("control_kind", CONTROL_KINDS, ""),
            has("place", Text, "where it is on its device"),
            has("bound_to", List(&Text), "actions"),
        ],
    ),
];

const USES: &[Line] = &[
    start!("uses"),
    line(
        "a use of a control",
        &[
            has(KIND, Is("use"), ""),
            has("control", Text, ""),
            has("map", Text, ""),
            ACTION,
            has("binding", Text, ""),
            has("holds", Flag, "whether it is only held while another control is worked"),
            has("holders", Count, "how many have to be held with it"),
            has("claimed_by", List(&Text), "the first few"),
            may("more_claims", Flag, "whether there are more of those"),
        ],
    ),
];

const ONE_SEAT: Field = may("seat", Seat, "with more than one seat, which");
const WHY_TEXT: Field = has("why", Text, "in words");

const WHY: &[Line] = &[
    start!("why"),
    line(
        "of several files, the one that follows",
        &[has(KIND, Is("file"), ""), has("file", Text, "")],
    ),
    line(
        "an episode",
        &[
            has(KIND, Is("episode"), ""),
            ONE_SEAT,
            has("woke", Seconds, ""),
            has("fires", List(&Seconds), ""),
            may("end", Seconds, ""),
            may("cause", CAUSES, ""),
            WHY_TEXT,
        ],
    ),
    line(
        "presses that woke nothing",
        &[
            has(KIND, Is("miss"), ""),
            ONE_SEAT,
            has("from", Seconds, ""),
            has("to", Seconds, ""),
            has("count", Count, ""),
            has("control", Text, ""),
            WHY_TEXT,
        ],
    ),
    line(
        "a station at a moment",
        &[
            has(KIND, Is("station"), ""),
            has("name", Text, ""),
            has("says", Text, ""),
            may("value", Text, ""),
        ],
    ),
    line("a moment", &[has(KIND, Is("moment"), ""), has("t", Seconds, ""), ONE_SEAT, WHY_TEXT]),
];

const SWEEP: &[Line] = &[
    start!("sweep"),
    SHARD,
    line(
        "a value that the profile refuses",
        &[
            has(KIND, Is("refused"), ""),
            has("value", Text, ""),
            has("present", Flag, "whether it is the present one"),
            WHY_TEXT,
        ],
    ),
    line(
        "what came of an action with a value",
        &[
            has(KIND, Is("value"), ""),
            has("value", Text, ""),
            has("present", Flag, "whether it is the present one"),
            ACTION,
            has("wakes", Count, ""),
            has("fires", Count, ""),
            has("lapses", Count, ""),
            has("causes", ByName(&Count), "how many episodes ended by each"),
            has("fired_at", List(&Seconds), "when each episode fired first"),
            may("sum", Components(3), "what the values at ticks add up to"),
        ],
    ),
];

const PROMPT: &[Line] = &[
    start!("prompt"),
    line(
        "a binding",
        &[
            has(KIND, Is("prompt"), ""),
            has("binding", Text, ""),
            may("scheme", Text, "absent where it counts in all"),
            may("label", Text, ""),
            has("words", Text, "what to tell the player"),
            has("controls", Anything, "a control, or `together` and `parts`"),
            has(
                "cues",
                List(&Object(&[
                    has("cue", Text, ""),
                    may("time", Number, "in seconds"),
                    may("count", Count, ""),
                ])),
                "",
            ),
        ],
    ),
];

const OF: Field = has("of", Text, "the action and scheme: `quay.hail@desk`");

const PLAYER: &[Line] = &[
    start!("player"),
    line(
        "a setting",
        &[
            has(KIND, Is("setting"), ""),
            has("setting", Text, ""),
            has("value", Any(&[Number, Flag]), ""),
        ],
    ),
    line(
        "a control in place of another",
        &[
            has(KIND, Is("replace"), ""),
            OF,
            has("old", Text, ""),
            has("new", Text, "`none` for no control"),
        ],
    ),
    line("a control besides", &[has(KIND, Is("also"), ""), OF, has("new", Text, "")]),
    line("what may be changed", &[has(KIND, Is("open"), ""), OF, has("controls", List(&Text), "")]),
    line(
        "what is to be told",
        &[
            has(KIND, Is("note"), ""),
            has("level", OneOf(&["warning", "note"]), ""),
            has("message", Text, ""),
            has("help", Text, ""),
            has("line", Count, ""),
            has("column", Count, ""),
        ],
    ),
];

/// All formats, by name.
pub const FORMATS: &[Format] = &[
    Format { name: "check", about: "`check --format json`", lines: Lines::Of(CHECK) },
    Format { name: "controls", about: "`controls --format json`", lines: Lines::Of(CONTROLS) },
    Format { name: "pack", about: "`pack`, read by the library", lines: Lines::Pack },
    Format {
        name: "play",
        about: "`play --format json` and what `pipe` writes",
        lines: Lines::Of(RUN),
    },
    Format { name: "player", about: "`player show --format json`", lines: Lines::Of(PLAYER) },
    Format {
        name: "profile",
        about: "`harmonym.toml`, for editors and linters of TOML",
        lines: Lines::Profile,
    },
    Format { name: "prompt", about: "`prompt --format json`", lines: Lines::Of(PROMPT) },
    Format { name: "show", about: "`show --format json`", lines: Lines::Of(SHOW) },
    Format { name: "sweep", about: "`sweep --format json`", lines: Lines::Of(SWEEP) },
    Format { name: "take", about: "takes, and what `pipe` reads", lines: Lines::Of(TAKE) },
    Format { name: "test", about: "`test --format json`", lines: Lines::Of(TEST) },
    Format { name: "uses", about: "`uses --format json`", lines: Lines::Of(USES) },
    Format { name: "why", about: "`why --format json`", lines: Lines::Of(WHY) },
];
