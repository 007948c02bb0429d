//! How maps lie with each other.

/// How a map lies with other maps.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
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

    /// Whether a map can be open above another one, each given by rank, kind and place in the file:
    /// higher rank first, then kind, then the one opened later; `always` maps are opened in the
    /// order of the file, and two solo maps are never open at once.
    pub fn can_lie_above<Id: Ord + Copy>(upper: (i64, Self, Id), lower: (i64, Self, Id)) -> bool {
        let both_solo = upper.1 == Self::Solo && lower.1 == Self::Solo;
        let order = (upper.0, upper.1).cmp(&(lower.0, lower.1));
        upper.2 != lower.2
            && !both_solo
            && match upper.1 {
                Self::Always => order.is_gt() || (order.is_eq() && upper.2 > lower.2),
                _ => order.is_ge(),
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
