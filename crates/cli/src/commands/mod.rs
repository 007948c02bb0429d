//! The commands, one file each.

pub mod check;
mod compare;
pub mod completions;
mod controls;
mod curve;
mod demo;
mod generate;
mod hands;
mod help;
mod listen;
mod live;
mod lsp;
mod manual;
mod new;
mod pack;
mod pipe;
mod play;
mod player;
mod plot;
mod prompt;
mod rates;
mod render;
mod save;
mod schema;
mod score;
mod shards;
mod sheet;
mod sheets;
mod show;
mod sweep;
pub mod test;
mod uses;
mod watch;
mod why;
mod write;

#[cfg(test)]
pub use demo::SCORES;

use crate::args::{Args, Command, PlayerArg, parse_time};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{self, Loaded, PlayerFile};
use crate::output::Output;
use harmonym_lab::edit::in_words;
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Time, shortest};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Does what was asked for.
pub fn run(args: &Args, output: &mut Output) -> Result<(), Failure> {
    let file = args.file.as_deref();
    match &args.command {
        Command::New { dir, starter } => new::run(dir, *starter, output),
        Command::Add { what } => write::add(file, what, output),
        Command::Bind(bind) => write::bind(file, bind, output),
        Command::Listen(listen) => listen::run(file, listen, output),
        Command::Unbind { address, writing } => write::unbind(file, address, *writing, output),
        Command::Set(set) => write::set(file, set, output),
        Command::Rename(rename) => write::rename(file, rename, output),
        Command::Copy(copy) => write::copy(file, copy, output),
        Command::Remove(remove) => write::remove(file, remove, output),
        Command::Undo(undo) => write::undo(file, undo, output),
        Command::Tidy(tidy) => write::tidy(file, tidy, output),
        Command::Check(args) => check::run(file, args, output),
        Command::Show { address, all, player, format } => {
            show::run((file, player), address.as_deref(), (*all, *format), output)
        }
        Command::Controls { words, class, format } => {
            controls::run(file, words, class.as_deref(), *format, output)
        }
        Command::Uses { controls, format } => uses::run(file, controls, *format, output),
        Command::Import { table, writing } => sheets::read(file, table, *writing, output),
        Command::Export { table, force } => sheets::write(file, (table.as_deref(), *force), output),
        Command::Play(play) => play::run(file, play, output),
        Command::Compare(args) => compare::run(file, args, output),
        Command::Curve(args) => curve::run(file, args, output),
        Command::Plot(args) => plot::run(file, args, output),
        Command::Sweep(args) => sweep::run(file, args, output),
        Command::Why(args) => why::run(file, args, output),
        Command::Test(args) => test::run(file, args, output),
        Command::Generate(args) => generate::run(file, args, output),
        Command::Pack(args) => pack::run(file, args, output),
        Command::Schema { format } => schema::run(format.as_deref(), output),
        Command::Pipe(args) => pipe::run(file, args, output),
        Command::Prompt(args) => prompt::run(file, args, output),
        Command::Sheet(args) => sheet::run(file, args, output),
        Command::Player { what } => player::run(file, what, output),
        Command::Render(args) => render::run(file, args, output),
        Command::Live(args) => live::show(file, args, output),
        Command::Page(args) => live::page(file, args, output),
        Command::Record(args) => live::record(file, args, output),
        Command::Score(args) => score::run(file, args, output),
        Command::Demo { keep } => demo::run(keep.as_deref(), output),
        Command::Lsp { .. } => lsp::run(),
        Command::Manual { dir } => manual::run(dir, output),
        Command::Help { words } => help::run(words, output),
        Command::Completions { shell } => completions::run(*shell, output),
    }
}

/// Tells that what follows are faults the profile has already.
fn faulty_already(path: &Path, output: &mut Output) {
    let name = named(path);
    output.tell(&format!("{name} has faults already; nothing was changed:"));
}

/// Faults of a profile that was `before` and was changed, told of the words that were typed, where
/// those brought them, and whether they did; `said` is what several of them are together.
fn as_typed(failure: Failure, before: &str, said: Option<&str>) -> (Failure, bool) {
    let Failure::Faults(faults) = failure else { return (failure, true) };
    let typed = std::env::args_os().skip(1).filter_map(|word| word.into_string().ok());
    let mut words: Vec<String> = typed.chain(said.map(str::to_owned)).collect();
    let values = words.iter().filter_map(|word| Some(word.rsplit_once('=')?.1.to_owned()));
    words.extend(values.collect::<Vec<_>>());
    // A number is written in its short form.
    let numbers = words.iter().filter_map(|word| word.parse::<f64>().ok());
    words.extend(numbers.map(|number| shortest(number).to_string()).collect::<Vec<_>>());
    match in_words(&faults, before, &words) {
        Some(own) => (own.into(), true),
        None => (faults.into(), false),
    }
}

/// Reads, resolves and compiles the profile at `path`, or the nearest one.
fn load_profile(path: Option<&Path>, output: &mut Output) -> Result<Loaded, Failure> {
    let path = settled_profile(path, output)?;
    files::load(files::read_text(&path)?)
}

/// The same, as a player has it, if a file of one is named; what of that does not fit is told.
fn load_as(
    path: Option<&Path>,
    player: &PlayerArg,
    output: &mut Output,
) -> Result<Loaded, Failure> {
    let loaded = load_profile(path, output)?;
    let Some(player) = &player.path else { return Ok(loaded) };
    let file = Arc::new(PlayerFile::read(player)?);
    let (loaded, notes) = loaded.for_player(Arc::clone(&file))?;
    tell_notes(&file.source, &notes, output)?;
    Ok(loaded)
}

/// Tells what of a player's file is left out, and what it does besides.
fn tell_notes(source: &Source, notes: &[Diagnostic], output: &mut Output) -> Result<(), Failure> {
    for note in notes {
        output.remark(&format!("{}: {}", note.level.word(), note.in_source(source)))?;
    }
    Ok(())
}

/// The profile that is meant, to read it.
fn settled_profile(path: Option<&Path>, output: &mut Output) -> Result<PathBuf, Failure> {
    let path = files::profile_path(path)?;
    output.detail(&format!("reading {}", named(&path)))?;
    files::see_begun(&path);
    Ok(path)
}

/// A time of an option: `2.5s`, `80ms`.
fn time(option: &str, text: &str) -> Result<Time, Failure> {
    parse_time(text).map_err(|help| Failure::new(format!("`{option}` cannot be `{text}`"), help))
}
