//! `generate`: the names of a profile for game code.

use super::load_profile;
use super::save::{save, target};
use crate::args::{self, GenerateArgs};
use crate::escape::{named, shown};
use crate::failure::Failure;
use crate::files::Kind;
use crate::output::Output;
use crate::view::names::{self, Language};
use std::ffi::OsStr;
use std::fs;
use std::io::ErrorKind;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &GenerateArgs, output: &mut Output) -> Result<(), Failure> {
    let path = args.output.as_deref();
    let to = path.filter(|_| !args.check);
    let to = to.map(|path| target((path, args.force), Kind::Names, file, &[])).transpose()?;
    let loaded = load_profile(file, output)?;
    let language = language(args.language);
    let (word, file_name) = (language.word(), path.and_then(Path::file_name));
    let command = match file_name {
        None => format!("harmonym generate {word}"),
        Some(name) => format!("harmonym generate {word} -o {}", name.to_string_lossy()),
    };
    let stem = stem(language, file_name)?;
    let text = names::file(&loaded.profile, &loaded.plan, language, (&stem, &command))?;
    match (to, path.filter(|_| args.check)) {
        (_, Some(path)) => check(path, &text, &command, output),
        (Some(to), _) => {
            save(&to, text.as_bytes(), output)?;
            output.remark(&format!("wrote {}", named(to.path)))
        }
        (None, None) => output.write(|out| out.push_str(&text)),
    }
}

const fn language(named: args::Language) -> Language {
    match named {
        args::Language::Rust => Language::Rust,
        args::Language::C => Language::C,
        args::Language::Cpp => Language::Cpp,
        args::Language::Csharp => Language::Csharp,
        args::Language::Java => Language::Java,
        args::Language::Typescript => Language::Typescript,
        args::Language::Python => Language::Python,
        args::Language::Lua => Language::Lua,
    }
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

/// Sees whether a file has the names as they are now.
fn check(path: &Path, text: &str, command: &str, output: &mut Output) -> Result<(), Failure> {
    let name = named(path);
    let now = match fs::read(path) {
        Ok(now) => now,
        Err(error) if error.kind() == ErrorKind::NotFound => Vec::new(),
        Err(error) => return Err(Failure::io("read", path, &error)),
    };
    // A tool that changes the ends of lines changes no names.
    let is_same = String::from_utf8_lossy(&now).replace("\r\n", "\n") == text;
    if is_same {
        return output.remark(&format!("{name} has the names of the profile"));
    }
    let what = if now.is_empty() { "is not there" } else { "is stale" };
    output.tell(&format!("{name} {what}: `{command}` makes it anew"));
    Err(Failure::CheckFailed)
}
