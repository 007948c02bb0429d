//! The tables of the topics, as rows of Markdown.

use harmonym_lab::score::forms::{EXPECTATIONS, HEADERS, LineText, VERBS};
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::{self, Key, Keyword};
use harmonym_runtime::controls::Layout;
use harmonym_runtime::engine::Cause;
use minijinja::{Environment, Error, ErrorKind};

/// Adds the functions by which the texts ask for their tables.
pub fn add_to(pages: &mut Environment<'_>) {
    pages.add_function("keys", |of: String| keys(&of).ok_or_else(|| unknown(&of)));
    pages.add_function("words", |of: String| words(&of).ok_or_else(|| unknown(&of)));
    pages.add_function("steps", || rows(StepWord::ALL.iter().map(|step| step_row(*step))));
    pages.add_function("cues", || rows(CueWord::ALL.iter().map(|cue| cue_row(*cue))));
    pages.add_function("headers", || rows(HEADERS.iter().map(|one| line_row(one, true))));
    pages.add_function("instructions", || rows(VERBS.iter().map(|one| line_row(one, false))));
    pages
        .add_function("expectations", || rows(EXPECTATIONS.iter().map(|one| line_row(one, false))));
    pages.add_function("causes", || {
        let causes = Cause::ALL.iter().map(|cause| format!("`{}`", cause.word()));
        causes.collect::<Vec<_>>().join(", ")
    });
    pages.add_function("layouts", || {
        let layouts = Layout::all().map(|one| format!("`{}` ({})", one.word(), one.title()));
        layouts.collect::<Vec<_>>().join(", ")
    });
}

fn unknown(of: &str) -> Error {
    Error::new(ErrorKind::InvalidOperation, format!("there are no rows of {of}"))
}

/// Cells side by side.
fn row(cells: &[&str]) -> String {
    format!("| {} |", cells.join(" | ")).replace("|  |", "| |")
}

fn rows(all: impl Iterator<Item = String>) -> String {
    all.collect::<Vec<_>>().join("\n")
}

/// The tables of keys, by what has them.
pub const KEYS: &[(&str, &[Key])] = &[
    ("top", table::TOP),
    ("scheme", table::SCHEME),
    ("setting", table::SETTING),
    ("fact", table::FACT),
    ("device", table::DEVICE),
    ("map", table::MAP),
    ("action", table::ACTION),
    ("binding", table::BINDING),
    ("levels", table::LEVELS),
];

fn keys(of: &str) -> Option<String> {
    let (_, keys) = KEYS.iter().find(|(name, _)| *name == of)?;
    let all = keys.iter().map(|key| row(&[&format!("`{}`", key.name), key.says, key.otherwise]));
    Some(format!("| key | says | if left out |\n|---|---|---|\n{}", rows(all)))
}

/// The tables of words, by what they are.
const WORDS: &[(&str, &[Keyword])] = &[
    ("map kinds", table::MAP_KINDS),
    ("opposed", table::OPPOSED),
    ("corners", table::CORNERS),
    ("blends", table::BLENDS),
];

fn words(of: &str) -> Option<String> {
    let form = |word: &Keyword| row(&[&format!("`{}`", word.form), word.says]);
    if of == "combinations" {
        return Some(rows(table::COMBINATIONS.iter().chain([&table::PLUS]).map(form)));
    }
    let (_, words) = WORDS.iter().find(|(name, _)| *name == of)?;
    Some(rows(words.iter().map(form)))
}

/// Forms in code, parted by commas.
pub fn forms(written: &[&str]) -> String {
    written.iter().map(|form| format!("`{form}`")).collect::<Vec<_>>().join(", ")
}

fn step_row(step: StepWord) -> String {
    let text = step.text();
    let takes: Vec<_> = text.takes.iter().map(|kind| kind.word()).collect();
    row(&[&forms(text.written), &takes.join(", "), text.gives, &text.numbers_in_words()])
}

fn cue_row(cue: CueWord) -> String {
    let text = cue.text();
    row(&[&format!("`{}`", text.written), text.fires, &text.numbers_in_words()])
}

fn line_row(line: &LineText, with_otherwise: bool) -> String {
    match with_otherwise {
        true => row(&[&forms(line.written), line.says, line.otherwise]),
        false => row(&[&forms(line.written), line.says]),
    }
}
