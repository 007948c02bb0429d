//! The arguments of every command.

mod game;
mod hands;
mod player;
mod values;
mod write;

pub use game::{GenerateArgs, Language, MadeArgs, PackArgs, PipeArgs, SheetArgs};
pub use hands::{
    From, HandsArgs, LiveArgs, PageArgs, PlayArgs, PlotArgs, RealArgs, RecordArgs, RenderArgs,
    ScoreArgs, WhyArgs,
};
pub use player::{PlayerChange, PlayerDo, PlayerPath};
pub use values::{CheckFormat, Color, FailOn, Format, Starter, TestFormat, parse_time};
pub use write::{
    Add, AddFact, AddMap, AddSetting, Bind, Copy, Listen, Remove, Rename, Set, Tidy, Undo, Writing,
};

use clap::{ColorChoice, CommandFactory, FromArgMatches, Parser, Subcommand};
use clap_complete::Shell;
use harmonym_lab::survey::Shard;
use harmonym_runtime::controls::Layout;
use std::path::PathBuf;
use values::{parse_layout, parse_tolerance};

/// The heading of what every command takes.
const EVERYWHERE: &str = "Everywhere";

/// Decides how hands become actions: name the deeds of a game, bind controls to them, shape and
/// time them, and try it all on scripted hands.
#[derive(Debug, Parser)]
#[command(name = "harmonym", version, max_term_width = 100, arg_required_else_help = true)]
#[command(disable_help_subcommand = true)]
#[command(
    after_help = "New here? `harmonym demo` shows what it does; `harmonym new` begins a profile; `harmonym help` \
                  tells the language."
)]
pub struct Args {
    /// The profile; otherwise harmonym.toml here or in the nearest parent folder
    #[arg(long, global = true, help_heading = EVERYWHERE, value_name = "PATH")]
    pub file: Option<PathBuf>,

    /// When to use colour: auto (on a terminal), always or never; NO_COLOR is heeded
    #[arg(long, global = true, value_enum, default_value_t = Color::Auto, value_name = "WHEN", help_heading = EVERYWHERE, hide_possible_values = true)]
    pub color: Color,

    /// No remarks, only what was asked for and faults
    #[arg(short, long, global = true, help_heading = EVERYWHERE)]
    pub quiet: bool,

    /// Say also which files are read
    #[arg(short, long, global = true, help_heading = EVERYWHERE, conflicts_with = "quiet")]
    pub verbose: bool,

    #[command(subcommand)]
    pub command: Command,
}

/// Where the language of each command's arguments and files is told.
const TOPICS: &[(&str, &[&str])] = &[
    (
        "profile",
        &[
            "new", "add", "set", "rename", "copy", "remove", "undo", "tidy", "show", "generate",
            "demo",
        ],
    ),
    ("bindings", &["bind", "unbind", "import", "export", "prompt", "sheet", "player"]),
    ("controls", &["listen", "controls", "uses"]),
    ("steps", &["curve"]),
    ("scores", &["play", "compare", "why", "plot", "sweep", "test", "render", "score", "check"]),
    ("takes", &["live", "page", "record", "pipe"]),
    ("json", &["schema", "pack"]),
];

/// All commands. The help of each names the topic that tells its language.
pub fn command() -> clap::Command {
    Args::command().mut_subcommands(|one| {
        let topic = TOPICS.iter().find(|(_, names)| names.contains(&one.get_name()));
        match topic {
            Some((topic, _)) => with_topic(one, topic),
            // What has no language of its own.
            None => one,
        }
    })
}

/// A command and its own commands, with where their language is told.
fn with_topic(command: clap::Command, topic: &str) -> clap::Command {
    command
        .after_help(format!("`harmonym help {topic}` tells the language of it."))
        .mut_subcommands(|one| with_topic(one, topic))
}

/// Reads the arguments. `--color` holds for what is said of them, too.
pub fn parse() -> Result<Args, clap::Error> {
    let all: Vec<_> = std::env::args_os().collect();
    let said = |at: usize| all.get(at).and_then(|word| word.to_str());
    let places = (1..all.len()).take_while(|&at| said(at) != Some("--"));
    let colors = places.filter_map(|at| match said(at)?.strip_prefix("--color")? {
        "" => said(at + 1),
        rest => rest.strip_prefix('='),
    });
    let color = match colors.last() {
        Some("always") => ColorChoice::Always,
        Some("never") => ColorChoice::Never,
        _ => ColorChoice::Auto,
    };
    let matches = command().color(color).try_get_matches_from(all.iter())?;
    Args::from_arg_matches(&matches)
}

#[derive(Debug, Subcommand)]
pub enum Command {
    /// Begin a profile: writes harmonym.toml with comments, and a first score
    New {
        /// The folder; made if it isn't there
        #[arg(default_value = ".", value_name = "DIR")]
        dir: PathBuf,
        /// What to begin with
        #[arg(long, value_enum, default_value_t = Starter::Blank, value_name = "NAME")]
        starter: Starter,
    },
    /// Add a map, action, scheme, setting, fact, preset or device
    Add {
        #[command(subcommand)]
        what: Add,
    },
    /// Bind controls to an action, in the scheme that has their devices
    Bind(Bind),
    /// Wait for a press, and bind what was pressed
    Listen(Listen),
    /// Take bindings of an action away: quay.walk@pad#1, or quay.walk@pad for all of a scheme
    Unbind {
        /// The bindings
        #[arg(value_name = "MAP.ACTION@SCHEME[#N]")]
        address: String,
        #[command(flatten)]
        writing: Writing,
    },
    /// Set one key or number: set quay.tie-knot.fire.hold 0.6s
    Set(Set),
    /// Rename something, in the profile and in the scores beside it
    Rename(Rename),
    /// Copy something under another name
    Copy(Copy),
    /// Remove something that nothing names any more
    Remove(Remove),
    /// Take the last change by a command back, in the profile and its scores; again for the one before
    Undo(Undo),
    /// Bring expressions and layout into their usual form; comments and order stay
    Tidy(Tidy),
    /// Find every fault, and prove what hands will feel: creeping sticks, keys that push one way
    Check(CheckArgs),
    /// Show the profile: all of it, one map, one setting and the like, or one action with its whole way
    Show {
        /// A map (quay), an action (quay.walk, or walk), or setting.NAME, fact.NAME, scheme.NAME,
        /// preset.NAME, device.NAME
        #[arg(value_name = "ADDRESS")]
        address: Option<String>,
        /// Each action with its whole way from controls to events, too
        #[arg(long, conflicts_with = "format")]
        all: bool,
        #[command(flatten)]
        player: PlayerArg,
        /// How to print it
        #[arg(long, value_enum, default_value_t = Format::Text)]
        format: Format,
    },
    /// List the controls that can be bound, or search them by any word
    Controls {
        /// Words to look for: left stick, numpad plus, thumb
        #[arg(value_name = "WORDS")]
        words: Vec<String>,
        /// Only this class of devices: key, mouse, pad, touch
        #[arg(long, value_name = "CLASS")]
        class: Option<String>,
        /// How to print them
        #[arg(long, value_enum, default_value_t = Format::Text)]
        format: Format,
    },
    /// Show what a control reaches, by map and scheme, and what claims it
    Uses {
        /// Controls as profiles name them: key.KeyT, pad.left-stick.x
        #[arg(value_name = "CONTROL", required = true)]
        controls: Vec<String>,
        /// How to print it
        #[arg(long, value_enum, default_value_t = Format::Text)]
        format: Format,
    },
    /// Take rows of a spreadsheet over: map, action, value, scheme, binding, fire, about
    Import {
        /// A CSV file whose first row names its columns; an empty field says nothing
        #[arg(value_name = "TABLE.csv")]
        table: PathBuf,
        #[command(flatten)]
        writing: Writing,
    },
    /// Write all actions as rows of a spreadsheet, one for each binding
    Export {
        /// The CSV file; otherwise the rows are printed
        #[arg(value_name = "TABLE.csv")]
        table: Option<PathBuf>,
        /// Write over a file that is no table, too
        #[arg(long)]
        force: bool,
    },
    /// Run a score or a take and show what fires when
    Play(PlayArgs),
    /// Run the same hands through two profiles, and tell what differs
    Compare(CompareArgs),
    /// Tell what an action did on some hands and why, or every station at one moment
    Why(WhyArgs),
    /// Show what a binding makes of raw values: dead zone, full point, levels, reach
    Curve(CurveArgs),
    /// Draw a run in time: controls, values, episodes and events
    Plot(PlotArgs),
    /// Try many values of one number on many hands, and count what comes of each
    Sweep(SweepArgs),
    /// Run scores and see whether what they expect comes out
    Test(TestArgs),
    /// Try the profile with your own hands: lanes that move, and why each action does what it does
    Live(LiveArgs),
    /// The same in a browser on this machine: keys, pointer, touch and gamepads of any system
    Page(PageArgs),
    /// Record what your hands do as a take
    Record(RecordArgs),
    /// Write what a score's hands report as a take
    Render(RenderArgs),
    /// Write a recorded take as a score: what hands did in lines to edit, and what came of it as expectations
    Score(ScoreArgs),
    /// Write the names of actions, maps, schemes, settings and facts for game code
    Generate(GenerateArgs),
    /// Write the profile as a game reads it without TOML: resolved, a line for each part of it
    Pack(PackArgs),
    /// Print the JSON Schema of a format: of the profile, or of a line of JSON; without one, list them
    Schema {
        /// The format: profile, pack, play, take, …
        #[arg(value_name = "FORMAT")]
        format: Option<String>,
    },
    /// Run the engine between standard input and output, as JSON Lines: reports and ticks in, events out
    Pipe(PipeArgs),
    /// Tell what players have to press for an action: hold T for 0.8 s
    Prompt(PromptArgs),
    /// Draw all controls on one page to print: .html, .svg, .pdf or .md
    Sheet(SheetArgs),
    /// Change what a player changed, in a file of that player's own over the profile
    Player {
        #[command(subcommand)]
        what: PlayerDo,
    },
    /// See hands become actions, with nothing set up
    Demo {
        /// Leave the demo's files in this folder to play with
        #[arg(long, value_name = "DIR")]
        keep: Option<PathBuf>,
    },
    /// Tell the language, a command, or one word of either: help steps, help steps deadzone, help bind
    Help {
        /// A topic (profile, bindings, steps, cues, maps, scores, takes, controls, json), and a word of
        /// it; or a command
        #[arg(value_name = "TOPIC")]
        words: Vec<String>,
    },
    /// Help in an editor that speaks the Language Server Protocol: faults, completion, hover, renaming
    Lsp {
        /// Over standard input and output, which is the only way; editors may say so
        #[arg(long)]
        stdio: bool,
    },
    /// Write man pages, one for each command
    Manual {
        /// The folder; made if it isn't there
        #[arg(value_name = "DIR")]
        dir: PathBuf,
    },
    /// Print what lets a shell complete commands, and names, addresses and controls of the profile
    Completions {
        /// The shell
        #[arg(value_enum)]
        shell: Shell,
    },
}

#[derive(Debug, clap::Args)]
pub struct PromptArgs {
    /// The action: quay.tie-knot, or tie-knot where only one map has it
    #[arg(value_name = "ACTION")]
    pub action: String,
    #[command(flatten)]
    pub player: PlayerArg,
    /// Only in this scheme
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// The player's keyboard layout
    #[arg(long, value_name = "LAYOUT", value_parser = parse_layout, default_value = "us")]
    pub layout: Layout,
    /// Text, or JSON Lines
    #[arg(long, value_enum, default_value_t = Format::Text)]
    pub format: Format,
}

#[derive(Debug, clap::Args)]
pub struct CheckArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// From which level on the exit code is 1
    #[arg(long, value_enum, default_value_t = FailOn::Error, value_name = "LEVEL")]
    pub fail_on: FailOn,
    /// Tell nothing that weighs less than this
    #[arg(long, value_enum, default_value_t = FailOn::Note, value_name = "LEVEL")]
    pub level: FailOn,
    /// Tell only what these rules find: raw-stick double-fire
    #[arg(long, value_name = "RULE", num_args = 1.., value_delimiter = ',')]
    pub only: Vec<String>,
    /// How to print what is found
    #[arg(long, value_enum, default_value_t = CheckFormat::Text)]
    pub format: CheckFormat,
    /// Mend what can be mended safely, and show the difference
    #[arg(long, conflicts_with_all = ["watch", "explain"])]
    pub mend: bool,
    /// Check again whenever the profile or a score changes
    #[arg(long, conflicts_with = "explain")]
    pub watch: bool,
    /// What a rule means, with a profile that breaks it and the same mended
    #[arg(long, value_name = "RULE")]
    pub explain: Option<String>,
    #[command(flatten)]
    pub writing: Writing,
}

#[derive(Debug, clap::Args)]
#[command(group = clap::ArgGroup::new("other").required(true).args(["with", "set", "rates"]))]
pub struct CompareArgs {
    #[command(flatten)]
    pub hands: HandsArgs,
    /// The other profile
    #[arg(long, value_name = "OTHER.toml")]
    pub with: Option<PathBuf>,
    /// The same profile with this set otherwise: quay.tie-knot.fire.hold=0.6s
    #[arg(long, value_name = "ADDRESS=VALUE")]
    pub set: Vec<String>,
    /// The same profile at two frame rates, in ticks a second
    #[arg(long, value_name = "HZ,HZ", conflicts_with = "rate")]
    pub rates: Option<String>,
    /// Values no farther apart than this are the same
    #[arg(long, value_name = "NUMBER", default_value_t = harmonym_lab::compare::TOLERANCE, value_parser = parse_tolerance)]
    pub tolerance: f64,
    /// Draw both runs over each other as well: .svg or .png
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that is no picture, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Exit code 1 when something differs
    #[arg(long)]
    pub fail_on_change: bool,
}

#[derive(Debug, clap::Args)]
pub struct SweepArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// Scores (.score), takes (.take.jsonl), or folders of them
    #[arg(value_name = "FILE", required = true)]
    pub inputs: Vec<PathBuf>,
    /// Play only the Kth of N parts of them, for machines that share the work
    #[arg(long, value_name = "K/N", value_parser = Shard::parse)]
    pub shard: Option<Shard>,
    /// Put the results of all N parts together, printed with --format json: they are the files
    #[arg(long, conflicts_with_all = ["shard", "vary", "rate", "scheme", "seat", "path"])]
    pub merge: bool,
    /// The number, and from where to where: quay.tie-knot.fire.hold=0.4s..1.2s:9
    #[arg(long, value_name = "ADDRESS=A..B[:N]", required_unless_present = "merge")]
    pub vary: Option<String>,
    /// Only these: an action, or all of a map
    #[arg(long, value_name = "ADDRESS", num_args = 1..)]
    pub only: Vec<String>,
    /// Ticks a second; otherwise what each file says, or 60
    #[arg(long, value_name = "HZ")]
    pub rate: Option<String>,
    /// Only the bindings of this scheme, and those of `bind.all`
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// Only this player, by the number of the seat
    #[arg(long, value_name = "K")]
    pub seat: Option<u8>,
    /// Draw it as well: .svg or .png
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that is no picture, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Text, or JSON Lines
    #[arg(long, value_enum, default_value_t = Format::Text)]
    pub format: Format,
}

/// Whose controls are meant.
#[derive(Clone, Debug, Default, clap::Args)]
pub struct PlayerArg {
    /// The profile as a player has it: that player's file
    #[arg(long = "player", value_name = "FILE")]
    pub path: Option<PathBuf>,
}

#[derive(Debug, clap::Args)]
pub struct CurveArgs {
    /// The action, or one binding of it: quay.walk, quay.walk@pad#1
    #[arg(value_name = "ACTION[@SCHEME#N]")]
    pub action: String,
    /// The picture to write: .svg or .png; otherwise it is shown here
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that is no picture, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Several values of one number side by side: setting.gaze-speed.default=1,2
    #[arg(long, value_name = "ADDRESS=A,B…")]
    pub vary: Option<String>,
    /// Draw with plain ASCII
    #[arg(long)]
    pub ascii: bool,
}

#[derive(Debug, clap::Args)]
pub struct TestArgs {
    #[command(flatten)]
    pub player: PlayerArg,
    /// Scores, or folders of them; otherwise scores/ beside the profile
    #[arg(value_name = "PATH")]
    pub paths: Vec<PathBuf>,
    /// Run only the Kth of N parts of them, for machines that share the work
    #[arg(long, value_name = "K/N", value_parser = Shard::parse)]
    pub shard: Option<Shard>,
    /// Put the results of all N parts together, printed with --format json: they are the paths
    #[arg(long, requires = "paths", conflicts_with_all = ["shard", "coverage", "watch", "path"])]
    pub merge: bool,
    /// How to print the outcome
    #[arg(long, value_enum, default_value_t = TestFormat::Text)]
    pub format: TestFormat,
    /// List what none of the scores has tried: actions, bindings, controls, cues, guards
    #[arg(long, conflicts_with = "format")]
    pub coverage: bool,
    /// Run them again whenever the profile or a score changes
    #[arg(long, conflicts_with = "format")]
    pub watch: bool,
}
