//! The arguments of the commands for games.

use super::PlayerArg;
use super::values::parse_layout;
use clap::{Args, ValueEnum};
use harmonym_runtime::controls::Layout;
use std::path::PathBuf;

/// A language that names are written in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Language {
    Rust,
    C,
    Cpp,
    Csharp,
    Java,
    Typescript,
    Python,
    Lua,
}

/// Where what is made of the profile goes.
#[derive(Debug, Args)]
pub struct MadeArgs {
    /// The file; without one it is printed. What `generate` writes is called together as the file is
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file of another kind, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Write nothing; exit with 1 where the file is not as it would be written
    #[arg(long, requires = "output", conflicts_with = "force")]
    pub check: bool,
}

#[derive(Debug, Args)]
pub struct GenerateArgs {
    /// The language
    #[arg(value_enum, value_name = "LANGUAGE")]
    pub language: Language,
    #[command(flatten)]
    pub made: MadeArgs,
}

#[derive(Debug, Args)]
pub struct PackArgs {
    #[command(flatten)]
    pub made: MadeArgs,
    #[command(flatten)]
    pub player: PlayerArg,
    /// The keyboard layout that bindings of characters follow
    #[arg(long, value_name = "LAYOUT", value_parser = parse_layout, default_value = "us")]
    pub layout: Layout,
}

#[derive(Debug, Args)]
pub struct PipeArgs {
    /// The one scheme whose bindings count
    #[arg(long, value_name = "NAME")]
    pub scheme: Option<String>,
    #[command(flatten)]
    pub player: PlayerArg,
    /// At each tick also the values that differ from the tick before
    #[arg(long)]
    pub values: bool,
    /// Leave out the line that ends each tick
    #[arg(long)]
    pub no_ticks: bool,
}

#[derive(Debug, Args)]
pub struct SheetArgs {
    /// The page to write: .html, .svg, .pdf or .md
    #[arg(short, long, value_name = "FILE")]
    pub output: PathBuf,
    /// Write over a file that is no such page, too
    #[arg(long)]
    pub force: bool,
    #[command(flatten)]
    pub player: PlayerArg,
    /// Only this scheme
    #[arg(long, value_name = "SCHEME")]
    pub scheme: Option<String>,
    /// The player's keyboard layout
    #[arg(long, value_name = "LAYOUT", value_parser = parse_layout, default_value = "us")]
    pub layout: Layout,
    /// In light ink on a dark ground; a page follows its reader's wish by itself
    #[arg(long)]
    pub dark: bool,
}
