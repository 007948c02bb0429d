//! What a format is made of.

/// One format.
pub struct Format {
    pub name: &'static str,
    pub about: &'static str,
    pub lines: Lines,
}

/// Where its lines are described.
pub enum Lines {
    Of(&'static [Line]),
    /// By the types that read and write packs.
    Pack,
    /// No lines: the keys of a profile.
    Profile,
}

/// One kind of line.
pub struct Line {
    pub about: &'static str,
    pub fields: &'static [Field],
}

/// One key of a line.
pub struct Field {
    pub name: &'static str,
    pub of: Type,
    pub may_be_absent: bool,
    pub about: &'static str,
}

/// What a key has.
pub enum Type {
    Is(&'static str),
    IsNumber(u32),
    OneOf(&'static [&'static str]),
    Text,
    Flag,
    Count,
    Integer,
    Seat,
    Number,
    Seconds,
    Share,
    Components(usize),
    List(&'static Type),
    ByName(&'static Type),
    Object(&'static [Field]),
    Any(&'static [Type]),
    Null,
    Anything,
}

pub const fn line(about: &'static str, fields: &'static [Field]) -> Line {
    Line { about, fields }
}

pub const fn has(name: &'static str, of: Type, about: &'static str) -> Field {
    Field { name, of, may_be_absent: false, about }
}

pub const fn may(name: &'static str, of: Type, about: &'static str) -> Field {
    Field { name, of, may_be_absent: true, about }
}
