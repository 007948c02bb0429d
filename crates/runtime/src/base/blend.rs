//! How the bindings of an action share it.

/// How the bindings of an action share it.
#[derive(Default, Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Blend {
    /// The one of greatest magnitude; a tie goes to the earlier.
    #[default]
    Greatest,
    /// The one that left 0 earliest, until it is back at 0.
    Oldest,
    /// The one that left 0 latest; when it is back at 0, the next latest that is not.
    Newest,
    /// The one whose value changed last, going to 0 included.
    LastChange,
    /// Added, component by component.
    Sum,
}

impl Blend {
    /// The word in a profile.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Greatest => "greatest",
            Self::Oldest => "oldest",
            Self::Newest => "newest",
            Self::LastChange => "last-change",
            Self::Sum => "sum",
        }
    }
}
