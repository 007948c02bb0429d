//! The one table of the lines of a score. The reader, its errors and the reference all read it.

/// A kind of line of a score. What is said of it is Markdown.
#[derive(Clone, Copy, Debug)]
pub struct LineText {
    /// The word that it begins with.
    pub word: &'static str,
    /// How it is written, what is to be filled in in capitals.
    pub written: &'static [&'static str],
    /// What it says, or what happens.
    pub says: &'static str,
    /// What holds where no such line stands; empty for what happens at a time.
    pub otherwise: &'static str,
    /// One that can be written as it stands.
    pub example: &'static str,
}

const fn line(
    word: &'static str,
    written: &'static [&'static str],
    says: &'static str,
    otherwise: &'static str,
    example: &'static str,
) -> LineText {
    LineText { word, written, says, otherwise, example }
}

/// The lines without a time.
pub const HEADERS: &[LineText] = &[
    line("title", &["title \"…\""], "what it is called", "none", "title \"Cast a line\""),
    line("start", &["start MAP"], "the solo map at time 0", "what the profile says", "start quay"),
    line("rate", &["rate HZ"], "ticks a second", "60", "rate 144"),
    line("sample", &["sample T"], "how often movements report", "4 ms", "sample 1ms"),
    line("layout", &["layout NAME"], "the player's keyboard, for `char.`", "`us`", "layout de"),
    line("seats", &["seats N"], "local players, 1 to 8", "as many as the profile says", "seats 2"),
    line(
        "player",
        &["player FILE"],
        "the hands play on the profile as that [player](players.md) has it; the file is looked for \
         from the score's folder",
        "the profile as it is",
        "player ../players/kit.player.toml",
    ),
];

/// What happens at a time. C is a control, V a value, T a time, N a number.
pub const VERBS: &[LineText] = &[
    verb("down", &["down C"], "a button goes down; a lever to 1", "at 1s down key.KeyT"),
    verb("up", &["up C"], "a button goes up; a lever to 0", "at 2s up key.KeyT"),
    verb("press", &["press C for T"], "down, then up after T", "at 1s press key.Space for 0.7s"),
    verb(
        "push",
        &["push C to V", "push C to V over T"],
        "a lever, axis, stick, spot, place or turn moves in a straight line, reporting at its start, \
         at every sample, and exactly at its end",
        "at 2s push pad.left-stick to (0.6, 0.8) over 0.1s",
    ),
    verb(
        "release",
        &["release C", "release C over T"],
        "back to 0",
        "after 0.5s release pad.left-stick over 0.05s",
    ),
    verb(
        "drag",
        &["drag C by V", "drag C by V over T"],
        "what is relative moves by V in all, exactly; a wheel by whole notches",
        "at 1s drag mouse.move by (40, -12) over 0.2s",
    ),
    verb(
        "drift",
        &["drift C at V"],
        "from now on V is added to what the control reports, and that is reported at once",
        "at 0s drift pad.left-stick at (0.04, 0)",
    ),
    verb(
        "noise",
        &["noise C of A for T seed N"],
        "uniform noise within ±A is added at every sample: 53 bits of ChaCha8 for each component, \
         the same for the same seed",
        "at 0s noise pad.left-stick of 0.02 for 3s seed 7",
    ),
    verb(
        "fact",
        &["fact NAME = N"],
        "the game changes a number; a switch is `on` or `off`",
        "at 1s fact on-ladder = 1",
    ),
    verb(
        "setting",
        &["setting NAME = N"],
        "the player changes a number; a switch is `on` or `off`",
        "at 1s setting gaze-speed = 2",
    ),
    verb("open", &["open MAP"], "the game opens a solo map or a layer", "at 1s open tug"),
    verb("close", &["close MAP"], "the game closes it", "at 2s close tug"),
    verb("pause", &["pause"], "the game is paused", "at 1s pause"),
    verb("resume", &["resume"], "the game goes on", "at 2s resume"),
    verb(
        "scheme",
        &["scheme NAME", "scheme all"],
        "the game narrows the bindings to one scheme, or lets all count",
        "at 1s scheme pad",
    ),
    verb(
        "plug",
        &["plug DEVICE"],
        "a device (`pad#2`; `pad` is the first) is there from now on",
        "at 1s plug pad#2",
    ),
    verb("unplug", &["unplug DEVICE"], "a device goes away", "at 2s unplug pad#2"),
    verb(
        "seat",
        &["seat K gets DEVICE"],
        "a device is handed to a seat",
        "at 1s seat 2 gets pad#2",
    ),
];

const fn verb(
    word: &'static str,
    written: &'static [&'static str],
    says: &'static str,
    example: &'static str,
) -> LineText {
    line(word, written, says, "", example)
}

/// What may be expected, and when that holds. ACTION is one action, EVENT is told below.
pub const EXPECTATIONS: &[LineText] = &[
    verb(
        "expect",
        &["expect ACTION EVENT …"],
        "as many events as said match all that is said; at least one if no number is said",
        "expect tie-knot fires once by \"hold 0.8s\"",
    ),
    verb(
        "expect",
        &["expect ACTION never EVENT …"],
        "none does",
        "expect tie-knot never fires before 0.8s",
    ),
    verb(
        "expect",
        &["expect ACTION = V at T"],
        "game code would read V at T; `within N` says how exactly, 10⁻⁶ if left out",
        "expect walk = (0.707, 0.707) within 0.001 at 0.70s",
    ),
    verb(
        "expect",
        &["expect ACTION progress = N at T"],
        "its progress is N at T; `within N` as above",
        "expect tie-knot progress = 0.5 at 0.6s",
    ),
    verb(
        "expect",
        &["expect scheme NAME at T"],
        "the hands use that scheme",
        "expect scheme pad at 2s",
    ),
    verb(
        "expect",
        &["expect seat K has DEVICE at T"],
        "the device is that seat's, and not unplugged",
        "expect seat 2 has pad#2 at 1.5s",
    ),
    verb(
        "expect",
        &["expect map NAME open at T", "… closed …"],
        "the map is open or closed at T; at the end of the run if no moment is said",
        "expect map tug open at 2s",
    ),
];

/// The words that begin such lines.
pub(super) fn words_of(lines: &'static [LineText]) -> impl Iterator<Item = &'static str> + Clone {
    lines.iter().map(|line| line.word)
}

/// Words that people try, and the instruction that does what they mean.
const TRIED: &[(&str, &str)] = &[
    ("unpause", "resume"),
    ("continue", "resume"),
    ("tap", "press"),
    ("hold", "press"),
    ("click", "press"),
    ("move", "push"),
    ("tilt", "push"),
    ("scroll", "drag"),
    ("swipe", "drag"),
    ("let", "release"),
    ("connect", "plug"),
    ("disconnect", "unplug"),
];

/// The instruction that a word means.
pub(super) fn meant(word: &str) -> &str {
    TRIED.iter().find(|(tried, _)| *tried == word).map_or(word, |(_, meant)| meant)
}
