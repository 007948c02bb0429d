//! The arguments of the commands about a player's file.

use super::{Format, Writing};
use clap::{Args, Subcommand, ValueEnum};
use harmonym_lang::player::OnConflict;
use std::path::PathBuf;

/// The player's file that is meant.
#[derive(Debug, Args)]
pub struct PlayerPath {
    /// The player's file; otherwise player.toml beside the profile
    #[arg(long = "player", value_name = "FILE")]
    pub path: Option<PathBuf>,
}

/// What happens to another action that has the control.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Conflicting {
    /// Nothing is changed, and the other is told
    Refuse,
    /// The other gets the control that becomes free
    Swap,
    /// The other loses it
    Steal,
}

impl From<Conflicting> for OnConflict {
    fn from(one: Conflicting) -> Self {
        match one {
            Conflicting::Refuse => Self::Refuse,
            Conflicting::Swap => Self::Swap,
            Conflicting::Steal => Self::Steal,
        }
    }
}

/// How a player's file is changed.
#[derive(Debug, Args)]
pub struct PlayerChange {
    #[command(flatten)]
    pub player: PlayerPath,
    /// What happens to another action that has the control
    #[arg(long, value_enum, default_value_t = Conflicting::Refuse, value_name = "HOW")]
    pub on_conflict: Conflicting,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, Subcommand)]
pub enum PlayerDo {
    /// Show what differs from the profile, what no longer fits, and what may be changed
    Show {
        /// One action: quay.hail, or hail
        #[arg(value_name = "ACTION")]
        action: Option<String>,
        #[command(flatten)]
        player: PlayerPath,
        /// How to print it
        #[arg(long, value_enum, default_value_t = Format::Text)]
        format: Format,
    },
    /// A control takes the place of one that an action has: player bind quay.hail key.KeyH=key.KeyG
    Bind {
        /// The action, with its scheme where several have the control
        #[arg(value_name = "ACTION[@SCHEME]")]
        of: String,
        /// The control that it has, and the one in its place; none for no control
        #[arg(value_name = "OLD=NEW", required = true)]
        controls: Vec<String>,
        #[command(flatten)]
        change: PlayerChange,
    },
    /// The next control that is pressed takes the place of one that an action has, or of all, one by one
    Catch {
        /// The action, with its scheme where several have keys
        #[arg(value_name = "ACTION[@SCHEME]")]
        of: String,
        /// The controls of the profile whose places are taken; otherwise all that it has there
        #[arg(value_name = "OLD")]
        controls: Vec<String>,
        /// The keyboard's layout, by which a character tells its key: us, fr, de, dvorak, …
        #[arg(long, value_name = "LAYOUT")]
        layout: Option<String>,
        /// Hear a browser's keys, pointer and gamepads, too: prints the address of a page
        #[arg(long)]
        page: bool,
        #[command(flatten)]
        change: PlayerChange,
    },
    /// A control counts besides those that an action has: player also quay.hail@desk key.KeyJ
    Also {
        /// The action and the scheme
        #[arg(value_name = "ACTION[@SCHEME]")]
        of: String,
        /// The controls
        #[arg(value_name = "CONTROL", required = true)]
        controls: Vec<String>,
        #[command(flatten)]
        change: PlayerChange,
    },
    /// A control counts for an action no more: player clear quay.walk@desk key.ArrowUp
    Clear {
        /// The action and the scheme
        #[arg(value_name = "ACTION[@SCHEME]")]
        of: String,
        /// The controls
        #[arg(value_name = "CONTROL", required = true)]
        controls: Vec<String>,
        #[command(flatten)]
        change: PlayerChange,
    },
    /// A setting becomes a number, on or off: player set gaze-speed 1.4
    Set {
        /// The setting
        #[arg(value_name = "SETTING")]
        setting: String,
        /// What it becomes
        #[arg(value_name = "VALUE", allow_hyphen_values = true)]
        value: String,
        #[command(flatten)]
        change: PlayerChange,
    },
    /// Take back what was changed of an action, of a setting, or of all
    Reset {
        /// The action (quay.hail, or quay.hail@desk) or the setting; otherwise all
        #[arg(value_name = "ACTION|SETTING")]
        what: Option<String>,
        #[command(flatten)]
        change: PlayerChange,
    },
}
