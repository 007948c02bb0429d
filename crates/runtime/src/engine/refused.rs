//! Why the engine did not take something in.

use std::fmt;

/// Why the engine did not take something in. Nothing changed by it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Refused {
    /// The plan has no such control: its id is another plan's.
    UnknownControl,
    /// The plan knows no such class of devices, or there is no ninth device of a class.
    UnknownDevice,
    /// The plan has no such map: its id is another plan's.
    UnknownMap,
    /// The plan has no such scheme: its id is another plan's.
    UnknownScheme,
    /// The plan has no such setting or fact: its id is another plan's.
    UnknownVariable,
    /// There is no such seat: they are numbered from 1 to as many as play began with.
    UnknownSeat,
    /// A plan that is to take over is for devices with other controls.
    OtherControls,
    /// An `always` map is neither opened nor closed.
    AlwaysOpen,
    /// A value that is NaN or infinite.
    NotANumber,
}

impl fmt::Display for Refused {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::UnknownControl => "the plan has no such control",
            Self::UnknownDevice => "there is no such device: a class has at most eight",
            Self::UnknownMap => "the plan has no such map",
            Self::UnknownScheme => "the plan has no such scheme",
            Self::UnknownVariable => "the plan has no such setting or fact",
            Self::UnknownSeat => "there is no such seat",
            Self::OtherControls => "the new plan is for devices with other controls",
            Self::AlwaysOpen => "an `always` map is always open",
            Self::NotANumber => "the value is not a finite number",
        })
    }
}

impl std::error::Error for Refused {}
