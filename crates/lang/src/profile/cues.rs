//! The cues: how each is written, when it fires, which numbers it needs.

use super::number::{Number, Parameter};
use super::table::Keyword;

/// How long `hold` waits.
pub const HOLD: Number = Number::time("the time of `hold`");
/// How long a `tap` may last.
pub const TAP: Number = Number::time("the time of `tap`");
/// How long a `charge` takes.
pub const CHARGE: Number = Number::time("the time of `charge`");
/// How many presses `taps` wants.
pub const TAPS: Number = Number::plain("the count of `taps`", 1.0, 100.0);
/// How long `taps` waits for the next press.
pub const TAPS_GAP: Number = Number::time("`gap` of `taps`");
/// How long `repeat` waits between fires.
pub const REPEAT: Number =
    Number { least: 0.01, over: false, ..Number::time("the time of `repeat`") };
/// How long `repeat` waits before its second fire.
pub const REPEAT_AFTER: Number = Number::time("`after` of `repeat`");
/// How long a `sequence` may take.
pub const SEQUENCE: Number = Number::time("`within` of `sequence`");

/// All that there is to say of a cue before it is used.
#[derive(Clone, Copy, Debug)]
pub struct CueText {
    /// Its word.
    pub word: &'static str,
    /// How it is written, as an example that can be written as it stands.
    pub form: &'static str,
    /// How it is written, what is to be filled in in capitals.
    pub written: &'static str,
    /// When it fires.
    pub fires: &'static str,
    /// Its numbers, in the order in which they are written.
    pub numbers: &'static [Parameter],
    /// Its options, which are written `option=…`.
    pub options: &'static [&'static str],
}

/// A cue without numbers or options.
const PLAIN: CueText =
    CueText { word: "", form: "", written: "", fires: "", numbers: &[], options: &[] };

macro_rules! cues {
    ($($(#[$doc:meta])* $name:ident $text:expr,)*) => {
        /// A cue of the language.
        #[derive(Clone, Copy, Debug, PartialEq, Eq)]
        pub enum CueWord {
            $($(#[$doc])* $name,)*
        }

        impl CueWord {
            /// All of them, in the order of the reference.
            pub const ALL: &[Self] = &[$(Self::$name,)*];
            /// Their words.
            pub const WORDS: &[Keyword] =
                &[$(Keyword { name: $text.word, form: $text.form, says: $text.fires },)*];

            /// All that there is to say of it.
            pub const fn text(self) -> CueText {
                match self {
                    $(Self::$name => const { $text },)*
                }
            }
        }
    };
}

cues! {
    /// `press`.
    Press CueText {
        word: "press",
        form: "press",
        written: "press",
        fires: "once, when it goes down",
        ..PLAIN
    },
    /// `release`.
    Release CueText {
        word: "release",
        form: "release",
        written: "release",
        fires: "once, when it comes up",
        ..PLAIN
    },
    /// `while`.
    While CueText {
        word: "while",
        form: "while",
        written: "while",
        fires: "at every tick while it is down",
        ..PLAIN
    },
    /// `change`.
    Change CueText {
        word: "change",
        form: "change",
        written: "change",
        fires: "whenever the value changes while it is down, and when it comes up",
        ..PLAIN
    },
    /// `hold`.
    Hold CueText {
        word: "hold",
        form: "hold 0.8s",
        written: "hold T",
        fires: "once, after T of being down",
        numbers: &[Parameter::needed("T", HOLD)],
        ..PLAIN
    },
    /// `tap`.
    Tap CueText {
        word: "tap",
        form: "tap 0.25s",
        written: "tap T",
        fires: "at coming up, if that was within T",
        numbers: &[Parameter::needed("T", TAP)],
        ..PLAIN
    },
    /// `charge`.
    Charge CueText {
        word: "charge",
        form: "charge 0.6s",
        written: "charge T",
        fires: "at coming up, if it was down for at least T",
        numbers: &[Parameter::needed("T", CHARGE)],
        ..PLAIN
    },
    /// `taps`.
    Taps CueText {
        word: "taps",
        form: "taps 2 gap=0.3s",
        written: "taps N gap=T",
        fires: "at the Nth press, each within T of the one before",
        numbers: &[Parameter::needed("N", TAPS), Parameter::needed("T", TAPS_GAP)],
        options: &["gap"],
    },
    /// `repeat`.
    Repeat CueText {
        word: "repeat",
        form: "repeat 0.1s after=0.4s",
        written: "repeat T after=D",
        fires: "at the press, D later, then every T",
        numbers: &[
            Parameter::needed("T", REPEAT),
            Parameter::optional("D", REPEAT_AFTER, "T"),
        ],
        options: &["after"],
    },
    /// `sequence`.
    Sequence CueText {
        word: "sequence",
        form: "sequence(a, b) within=1s",
        written: "sequence(a, b, c) within=T",
        fires: "on a switch without bindings: when those actions have fired in that order",
        numbers: &[Parameter::needed("T", SEQUENCE)],
        options: &["within"],
    },
}

impl CueWord {
    /// The cue that a word names.
    pub fn named(word: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|cue| cue.text().word == word)
    }
}

impl CueText {
    /// What there is to say of its numbers, in a line.
    pub fn numbers_in_words(&self) -> String {
        Parameter::in_words(self.numbers, "")
    }
}
