//! The arguments of the commands that hands are played with, be they from a file or real.

use super::values::{parse_columns, parse_from, parse_layout, parse_speed, parse_within};
use super::{Format, PlayerArg};
use harmonym_runtime::controls::Layout;
use std::path::PathBuf;

/// Hands from a file, and how they are played.
#[derive(Debug, clap::Args)]
pub struct HandsArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// A score (.score) or a take (.take.jsonl)
    #[arg(value_name = "FILE")]
    pub input: PathBuf,
    /// Ticks a second; otherwise what the file says, or 60
    #[arg(long, value_name = "HZ")]
    pub rate: Option<String>,
    /// Only the bindings of this scheme, and those of `bind.all`
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// Only this player, by the number of the seat
    #[arg(long, value_name = "K")]
    pub seat: Option<u8>,
}

#[derive(Debug, clap::Args)]
pub struct PlayArgs {
    #[command(flatten)]
    pub hands: HandsArgs,
    /// Run it at each of these rates, and tell what depends on them
    #[arg(long, value_name = "HZ,HZ…", conflicts_with_all = ["rate", "values", "lanes", "format"])]
    pub rates: Option<String>,
    /// Only events of these maps and actions
    #[arg(long, value_name = "ADDRESS", num_args = 1.., value_delimiter = ',')]
    pub only: Vec<String>,
    /// End at the first tick at or after this time, such as 2.5s
    #[arg(long, value_name = "T")]
    pub until: Option<String>,
    /// Tell also each value that differs from the tick before
    #[arg(long)]
    pub values: bool,
    /// Draw time lanes, a row an action, in place of the list of events
    #[arg(long, conflicts_with_all = ["values", "format"])]
    pub lanes: bool,
    /// Lanes without anything beyond ASCII
    #[arg(long, requires = "lanes")]
    pub ascii: bool,
    /// Lanes so many columns wide; otherwise as wide as the terminal, or 100
    #[arg(long, value_name = "N", requires = "lanes", value_parser = parse_columns)]
    pub columns: Option<u16>,
    /// How to print the events
    #[arg(long, value_enum, default_value_t = Format::Text)]
    pub format: Format,
}

#[derive(Debug, clap::Args)]
pub struct WhyArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// The action: quay.tie-knot, or tie-knot where only one map has it
    #[arg(value_name = "ACTION")]
    pub action: String,
    /// Scores (.score), takes (.take.jsonl), or folders of them
    #[arg(value_name = "FILE", required = true)]
    pub inputs: Vec<PathBuf>,
    /// Ticks a second; otherwise what each file says, or 60
    #[arg(long, value_name = "HZ")]
    pub rate: Option<String>,
    /// Only the bindings of this scheme, and those of `bind.all`
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// Only this player, by the number of the seat
    #[arg(long, value_name = "K")]
    pub seat: Option<u8>,
    /// The moment of one file to look at: 1.2s; otherwise a line for every episode
    #[arg(long, value_name = "TIME")]
    pub at: Option<String>,
    /// Text, or JSON Lines
    #[arg(long, value_enum, default_value_t = Format::Text)]
    pub format: Format,
}

#[derive(Debug, clap::Args)]
pub struct PlotArgs {
    #[command(flatten)]
    pub hands: HandsArgs,
    /// The picture to write: .svg, .png, or .html to look around in
    #[arg(short, long, value_name = "FILE")]
    pub output: PathBuf,
    /// Write over a file that is no picture, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Only these: an action, or all of a map
    #[arg(long, value_name = "ADDRESS", num_args = 1..)]
    pub only: Vec<String>,
    /// Begin here: 1.5s
    #[arg(long, value_name = "TIME")]
    pub from: Option<String>,
    /// End here: 3s
    #[arg(long, value_name = "TIME")]
    pub to: Option<String>,
}

#[derive(Debug, clap::Args)]
pub struct RenderArgs {
    /// The score
    #[arg(value_name = "SCORE")]
    pub score: PathBuf,
    /// The take to write; otherwise it is printed
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that is no take, too
    #[arg(long, requires = "output")]
    pub force: bool,
}

#[derive(Debug, clap::Args)]
pub struct ScoreArgs {
    /// The take
    #[arg(value_name = "TAKE")]
    pub take: PathBuf,
    #[command(flatten)]
    pub player: PlayerArg,
    /// The score to write; otherwise it is printed
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that is there
    #[arg(long, requires = "output")]
    pub force: bool,
    /// How far a movement may be from what was recorded, of a control's way to one side
    #[arg(long, value_name = "NUMBER", default_value_t = harmonym_lab::transcribe::USUAL, value_parser = parse_within)]
    pub within: f64,
}

/// Where hands come from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum From {
    /// Keys and mouse of this terminal.
    Terminal,
    /// The machine's devices.
    Evdev,
    /// The demo's scores.
    Demo,
    /// A score or take, at its own pace.
    File(PathBuf),
}

/// Real hands, and how they are played.
#[derive(Clone, Debug, clap::Args)]
pub struct RealArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// Where hands come from: terminal, evdev (all devices of this Linux machine, in other windows too), demo, or a
    /// score or take; otherwise terminal, and evdev for gamepads
    #[arg(long, value_name = "SOURCE", num_args = 1.., value_delimiter = ',', value_parser = parse_from)]
    pub from: Vec<From>,
    /// How fast scores and takes go: 0.25 is a quarter
    #[arg(long, value_name = "NUMBER", default_value_t = 1.0, value_parser = parse_speed)]
    pub speed: f64,
    /// Ticks a second
    #[arg(long, value_name = "HZ")]
    pub rate: Option<String>,
    /// Only the bindings of this scheme, and those of `bind.all`
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// The keyboard layout, for bindings of characters and for terminals that tell no places
    #[arg(long, value_name = "LAYOUT", value_parser = parse_layout)]
    pub layout: Option<Layout>,
    /// How many play, if not as many as the profile says: 1 to 8
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u8).range(1..=8))]
    pub seats: Option<u8>,
    /// Write over a take that is there
    #[arg(long)]
    pub force: bool,
}

#[derive(Debug, clap::Args)]
pub struct LiveArgs {
    #[command(flatten)]
    pub real: RealArgs,
    /// Record what hands do as a take, from the beginning
    #[arg(long, value_name = "FILE")]
    pub record: Option<PathBuf>,
    /// Draw with plain ASCII
    #[arg(long)]
    pub ascii: bool,
}

#[derive(Debug, clap::Args)]
pub struct RecordArgs {
    /// The take to write
    #[arg(value_name = "FILE")]
    pub take: PathBuf,
    #[command(flatten)]
    pub real: RealArgs,
    /// End after so long: 10s; otherwise with Ctrl-C
    #[arg(long = "for", value_name = "TIME")]
    pub length: Option<String>,
    /// What the take is called
    #[arg(long, value_name = "TEXT")]
    pub title: Option<String>,
    /// Print what comes of it meanwhile, as `play --format json` does
    #[arg(long)]
    pub events: bool,
}

#[derive(Debug, clap::Args)]
pub struct PageArgs {
    #[command(flatten)]
    pub real: RealArgs,
    /// The port on 127.0.0.1; otherwise one that is free
    #[arg(long, value_name = "N")]
    pub port: Option<u16>,
    /// Record what hands do as a take, from the beginning
    #[arg(long, value_name = "FILE")]
    pub record: Option<PathBuf>,
}
