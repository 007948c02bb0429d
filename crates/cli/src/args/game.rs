//! The arguments of the commands for games.

use super::PlayerArg;
use clap::{Args, ValueEnum};
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

#[derive(Debug, Args)]
pub struct GenerateArgs {
    /// The language
    #[arg(value_enum, value_name = "LANGUAGE")]
    pub language: Language,
    /// The file, whose name is that of all of them together; otherwise they are printed
    #[arg(short, long, value_name = "FILE")]
    pub output: Option<PathBuf>,
    /// Write over a file that holds no names, too
    #[arg(long, requires = "output")]
    pub force: bool,
    /// Write nothing; exit with 1 where the file is not as it would be written
    #[arg(long, requires = "output", conflicts_with = "force")]
    pub check: bool,
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
