//! What kinds of fault there are.

/// The kinds of fault, by the names that `check` reports.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum FaultKind {
    /// The text isn't TOML, an expression, an instruction or a line of a take.
    Syntax,
    /// A key that has no meaning there.
    UnknownKey,
    /// A name that nothing defines.
    UnknownName,
    /// A control that no device has.
    UnknownControl,
    /// A step, cue, combination or option that doesn't exist.
    UnknownWord,
    /// A value of the wrong type or kind.
    WrongKind,
    /// A number with a wrong unit, or without one.
    WrongUnit,
    /// A number outside its range.
    OutOfRange,
    /// Something required is not there.
    Missing,
    /// Names that refer to each other in a circle.
    Loop,
    /// One name for two things.
    UsedTwice,
    /// A name that isn't one.
    BadName,
    /// More, longer or deeper than can be meant.
    TooMuch,
}

impl FaultKind {
    /// The name in reports.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Syntax => "syntax",
            Self::UnknownKey => "unknown-key",
            Self::UnknownName => "unknown-name",
            Self::UnknownControl => "unknown-control",
            Self::UnknownWord => "unknown-word",
            Self::WrongKind => "wrong-kind",
            Self::WrongUnit => "wrong-unit",
            Self::OutOfRange => "out-of-range",
            Self::Missing => "missing",
            Self::Loop => "loop",
            Self::UsedTwice => "used-twice",
            Self::BadName => "bad-name",
            Self::TooMuch => "too-much",
        }
    }
}
