//! `generate`: the names of a profile for game code.

use super::load_profile;
use super::save::{made, place};
use crate::args::{GenerateArgs, Language};
use crate::escape::shown;
use crate::failure::Failure;
use crate::files::Kind;
use crate::output::Output;
use crate::view::names;
use std::ffi::OsStr;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &GenerateArgs, output: &mut Output) -> Result<(), Failure> {
    let (path, to) = place(&args.made, Kind::Names, file)?;
    let loaded = load_profile(file, output)?;
    let language = args.language;
    let (word, file_name) = (language.word(), path.and_then(Path::file_name));
    let command = match file_name {
        None => format!("harmonym generate {word}"),
        Some(name) => format!("harmonym generate {word} -o {}", name.to_string_lossy()),
    };
    let stem = stem(language, file_name)?;
    let text = names::file(&loaded.profile, &loaded.plan, language, (&stem, &command))?;
    made((path, to), &text, ("names", &command), output)
}

/// What the names are called together: the file's name up to its first point.
fn stem(language: Language, file_name: Option<&OsStr>) -> Result<String, Failure> {
    let Some(name) = file_name else {
        return Ok(if language == Language::Java { "Hands" } else { "hands" }.to_owned());
    };
    let name = name.to_string_lossy();
    let stem = name.split('.').next().unwrap_or_default();
    let is_letter = |c: char| c.is_ascii_alphanumeric() || c == '_' || c == '-';
    if stem.starts_with(|c: char| c.is_ascii_alphabetic()) && stem.chars().all(is_letter) {
        return Ok(stem.to_owned());
    }
    let message = format!("`{}` cannot be a name in code", shown(stem));
    Err(Failure::new(message, "name a file that begins with a letter: hands.h"))
}
