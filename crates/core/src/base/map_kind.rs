//! How maps lie with each other.

/// How a map lies with other maps.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum MapKind {
    /// It replaces the solo map that was open.
    Solo,
    /// It lies on top of others.
    Layer,
    /// It is always open.
    Always,
}

impl MapKind {
    /// The kind's word in a profile.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Solo => "solo",
            Self::Layer => "layer",
            Self::Always => "always",
        }
    }

    /// The rank of a map that names none.
    pub const fn rank(self) -> i64 {
        match self {
            Self::Solo => 0,
            Self::Layer => 10,
            Self::Always => 20,
        }
    }
}
