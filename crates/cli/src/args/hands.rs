//! The arguments of the commands that hands are played with, be they from a file or real.

use super::values::{parse_columns, parse_within};
use super::{Format, PlayerArg};
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
