//! The commands, one file each.

pub mod check;
mod compare;
mod completions;
mod controls;
mod curve;
mod demo;
mod hands;
mod listen;
mod new;
mod play;
mod plot;
mod rates;
mod render;
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

use crate::args::{Args, Command};
use crate::failure::Failure;
use crate::files::{self, Loaded};
use crate::output::Output;
use harmonym_runtime::base::{Decimal, Time};
use std::path::Path;

/// Does what was asked for.
pub fn run(args: &Args, output: &mut Output) -> Result<(), Failure> {
    let file = args.file.as_deref();
    match &args.command {
        Command::New { dir, starter } => new::run(dir, *starter, output),
        Command::Add { what } => write::add(file, what, output),
        Command::Bind(bind) => write::bind(file, bind, output),
        Command::Listen(listen) => listen::run(file, listen, output),
        Command::Unbind { address, dry } => write::unbind(file, address, *dry, output),
        Command::Set(set) => write::set(file, set, output),
        Command::Rename(rename) => write::rename(file, rename, output),
        Command::Copy(copy) => write::copy(file, copy, output),
        Command::Remove(remove) => write::remove(file, remove, output),
        Command::Undo(undo) => write::undo(file, undo, output),
        Command::Tidy(tidy) => write::tidy(file, tidy, output),
        Command::Check(args) => check::run(file, args, output),
        Command::Show { address, format } => show::run(file, address.as_deref(), *format, output),
        Command::Controls { words, class, format } => {
            controls::run(file, words, class.as_deref(), *format, output)
        }
        Command::Uses { controls, format } => uses::run(file, controls, *format, output),
        Command::Import { table, dry } => sheets::read(file, table, *dry, output),
        Command::Export { table } => sheets::write(file, table.as_deref(), output),
        Command::Play(play) => play::run(file, play, output),
        Command::Compare(args) => compare::run(file, args, output),
        Command::Curve(args) => curve::run(file, args, output),
        Command::Plot(args) => plot::run(file, args, output),
        Command::Sweep(args) => sweep::run(file, args, output),
        Command::Why(args) => why::run(file, args, output),
        Command::Test(args) => test::run(file, args, output),
        Command::Render { score, output: to } => render::run(file, score, to.as_deref(), output),
        Command::Demo { keep } => demo::run(keep.as_deref(), output),
        Command::Completions { shell } => completions::run(*shell, output),
    }
}

/// Reads, resolves and compiles the profile at `path`, or the nearest one.
fn load_profile(path: Option<&Path>, output: &mut Output) -> Result<Loaded, Failure> {
    let path = files::profile_path(path)?;
    output.detail(&format!("reading {}", path.display()))?;
    files::load(files::read_text(&path)?)
}

/// A time of an option: `2.5s`, `80ms`.
fn time(option: &str, text: &str) -> Result<Time, Failure> {
    let split = text.find(|c: char| c.is_alphabetic()).unwrap_or(text.len());
    let (digits, unit) = text.split_at(split);
    let power = Time::power_of_unit(unit);
    let time = power.and_then(|power| Time::from_decimal(Decimal::parse(digits)?, power));
    time.ok_or_else(|| {
        let help = "write a time with its unit, such as 2.5s or 80ms";
        Failure::new(format!("`{option}` cannot be `{text}`"), help)
    })
}
