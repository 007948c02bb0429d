//! The arguments of the commands that change a profile.

use super::parse_time;
use clap::{Args, Subcommand};
use harmonym_runtime::base::Time;
use std::path::PathBuf;

/// What every command that changes a profile takes.
#[derive(Clone, Copy, Debug, Args)]
pub struct Writing {
    /// Print what would change, and write nothing
    #[arg(long)]
    pub dry_run: bool,
    /// Wait so long for a file that another command holds: 2s; otherwise without an end
    #[arg(long, value_name = "T", value_parser = parse_time)]
    pub wait: Option<Time>,
    /// Also change files outside of the profile's folder: behind links in it, or named by a score
    #[arg(long)]
    pub follow: bool,
}

#[derive(Debug, Subcommand)]
pub enum Add {
    /// Add a map: harmonym add map tug --about "At the wheel of the tug"
    Map(AddMap),
    /// Add an action to a map: harmonym add action quay.hail --value switch
    Action {
        /// The map and the name: quay.hail
        #[arg(value_name = "MAP.NAME")]
        address: String,
        /// What it gives: switch, axis, plane, space or turn
        #[arg(long, value_name = "KIND")]
        value: String,
        /// When it fires: "press", "hold 0.8s", "tap 0.25s or taps 2 gap=0.3s"
        #[arg(long, value_name = "RULE")]
        fire: Option<String>,
        /// Steps after the blend: "scale 0.5 | flip y"
        #[arg(long, value_name = "STEPS")]
        shape: Option<String>,
        /// How its bindings share it: greatest, oldest, newest, last-change or sum
        #[arg(long, value_name = "BLEND")]
        blend: Option<String>,
        /// A text for people
        #[arg(long, value_name = "TEXT")]
        about: Option<String>,
        #[command(flatten)]
        writing: Writing,
    },
    /// Add a scheme: harmonym add scheme desk --device key mouse
    Scheme {
        /// Its name
        name: String,
        /// The device classes that people use together: key, mouse, pad, touch or your own
        #[arg(long = "device", value_name = "CLASS", required = true, num_args = 1..)]
        devices: Vec<String>,
        /// A text for people
        #[arg(long, value_name = "TEXT")]
        about: Option<String>,
        #[command(flatten)]
        writing: Writing,
    },
    /// Add a setting, which the player owns: harmonym add setting gaze-speed --default 1
    Setting(AddSetting),
    /// Add a fact, which the game supplies: harmonym add fact beside-tug
    Fact(AddFact),
    /// Add a preset, a named chain of steps: harmonym add preset stick "deadzone 0.1 | curve 1.6"
    Preset {
        /// Its name
        name: String,
        /// Its steps
        steps: String,
        #[command(flatten)]
        writing: Writing,
    },
    /// Add a device of your own: harmonym add device bench --control ahead=axis pedal=button
    Device {
        /// Its name
        name: String,
        /// Its controls, each with its kind: button, lever, axis, stick, relative, spot, place, turn
        #[arg(long = "control", value_name = "NAME=KIND", required = true, num_args = 1..)]
        controls: Vec<String>,
        /// A text for people
        #[arg(long, value_name = "TEXT")]
        about: Option<String>,
        #[command(flatten)]
        writing: Writing,
    },
}

impl Add {
    /// How it is written.
    pub fn writing(&self) -> Writing {
        match self {
            Self::Map(map) => map.writing,
            Self::Setting(AddSetting { number, .. }) | Self::Fact(AddFact { number, .. }) => {
                number.writing
            }
            Self::Action { writing, .. }
            | Self::Scheme { writing, .. }
            | Self::Preset { writing, .. }
            | Self::Device { writing, .. } => *writing,
        }
    }
}

#[derive(Debug, Args)]
pub struct AddMap {
    /// Its name: lower-case letters, digits and single hyphens
    pub name: String,
    /// solo (replaces the open solo map), layer (lies on top) or always
    #[arg(long, value_name = "KIND")]
    pub kind: Option<String>,
    /// Its place among the open maps: the higher comes first
    #[arg(long, value_name = "N", allow_negative_numbers = true)]
    pub rank: Option<String>,
    /// Open it when play begins; the first solo map is opened so anyway
    #[arg(long)]
    pub start: bool,
    /// A text for people
    #[arg(long, value_name = "TEXT")]
    pub about: Option<String>,
    /// Fill it with the actions of a starter (see `harmonym new --help`)
    #[arg(long, value_name = "NAME")]
    pub starter: Option<String>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct AddSetting {
    /// Its name
    pub name: String,
    /// Its value at first: a number, or true or false
    #[arg(long, value_name = "V", allow_negative_numbers = true)]
    pub default: String,
    /// The least and the most
    #[arg(long, num_args = 2, value_names = ["A", "B"], allow_negative_numbers = true)]
    pub range: Vec<String>,
    #[command(flatten)]
    pub number: NamedNumber,
}

#[derive(Debug, Args)]
pub struct AddFact {
    /// Its name
    pub name: String,
    /// Its value at first; 0 if left out
    #[arg(long, value_name = "V", allow_negative_numbers = true)]
    pub default: Option<String>,
    #[command(flatten)]
    pub number: NamedNumber,
}

/// What settings and facts take alike.
#[derive(Debug, Args)]
pub struct NamedNumber {
    /// What it counts: s, ms, deg or rad
    #[arg(long, value_name = "UNIT")]
    pub unit: Option<String>,
    /// A text for people
    #[arg(long, value_name = "TEXT")]
    pub about: Option<String>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Bind {
    /// The action: quay.hail, or hail where one map has it
    #[arg(value_name = "MAP.ACTION")]
    pub address: String,
    /// What leads to it: key.KeyH, "pad.left-stick | deadzone 0.1"; see `harmonym controls`
    #[arg(value_name = "EXPRESSION", required = true)]
    pub expressions: Vec<String>,
    /// The scheme; otherwise the one that has the expression's devices
    #[arg(long, value_name = "NAME")]
    pub scheme: Option<String>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Set {
    /// What to set: quay.hail.fire, quay.walk@pad#1.deadzone.full, setting.gaze-speed.default
    pub address: String,
    /// What to set it to: "hold 0.6s", 0.12, true
    #[arg(value_name = "VALUE", required = true, allow_negative_numbers = true)]
    pub values: Vec<String>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Rename {
    /// What to rename: quay, quay.hail, scheme.pad, setting.gaze-speed
    pub address: String,
    /// Its new name
    pub new: String,
    /// The folder of scores and takes that name it; otherwise the profile's folder and those below
    #[arg(long, value_name = "DIR")]
    pub scores: Option<PathBuf>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Copy {
    /// What to copy: quay, quay.hail, scheme.pad
    pub address: String,
    /// The copy's name; an action's may be in another map: tug.hail
    pub new: String,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Remove {
    /// What to remove: quay.hail, quay.hail@pad#1, quay.hail.shape, setting.gaze-speed
    pub address: String,
    /// Take out what still names it too
    #[arg(long)]
    pub force: bool,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Undo {
    /// Show what can be taken back, the last change first
    #[arg(long)]
    pub list: bool,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Tidy {
    /// Write nothing; exit code 1 if something would change
    #[arg(long)]
    pub check: bool,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Args)]
pub struct Listen {
    /// The action: quay.hail, or hail where one map has it
    #[arg(value_name = "MAP.ACTION")]
    pub address: String,
    /// Only this part of its combination: up, left, down, right, neg, pos, x, y, z
    #[arg(long, value_name = "PART")]
    pub part: Option<String>,
    /// The scheme; otherwise the one that has the device
    #[arg(long, value_name = "NAME")]
    pub scheme: Option<String>,
    /// The keyboard's layout, by which a character tells its key: us, fr, de, dvorak, …
    #[arg(long, value_name = "LAYOUT")]
    pub layout: Option<String>,
    /// Leave when nothing was pressed for so long, or the file is held by another command: 10s
    #[arg(long, value_name = "T", value_parser = parse_time)]
    pub wait: Option<Time>,
    /// Hear a browser's keys, pointer and gamepads, too: prints the address of a page
    #[arg(long)]
    pub page: bool,
    /// Bind without asking
    #[arg(short, long)]
    pub yes: bool,
    /// Print what would change, and write nothing
    #[arg(long)]
    pub dry_run: bool,
}
