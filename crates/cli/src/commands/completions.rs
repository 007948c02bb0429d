//! `completions`: what a shell needs to complete our words, and what comes of a word that is begun: names,
//! addresses and controls of the profile at hand.

use crate::args;
use crate::failure::Failure;
use crate::files;
use crate::output::Output;
use crate::view::topics::{TOPICS, entries};
use clap::builder::StyledStr;
use clap_complete::env::{EnvCompleter, Shells};
use clap_complete::{ArgValueCompleter, CompletionCandidate, Shell};
use harmonym_lab::assist::{ItemKind, complete_binding};
use harmonym_lab::check::RULES;
use harmonym_lab::edit::{Draft, Thing};
use harmonym_lang::profile::table::keys_at;
use harmonym_lang::source::Source;
use harmonym_runtime::controls::{Catalogue, Layout};
use std::ffi::OsStr;
use std::path::PathBuf;
use std::sync::Arc;

/// The variable by which a shell asks for completions.
pub const VARIABLE: &str = "HARMONYM_COMPLETE";

pub fn run(shell: Shell, output: &mut Output) -> Result<(), Failure> {
    let mut text = Vec::new();
    let shells = Shells::builtins();
    let name = shell.to_string();
    let Some(completer) = shells.completer(&name) else {
        return Err(Failure::new(format!("`{name}` is not completed"), "take bash, zsh or fish"));
    };
    let written = EnvCompleter::write_registration(
        completer, VARIABLE, "harmonym", "harmonym", "harmonym", &mut text,
    );
    written.map_err(|error| Failure::unwritten(&error))?;
    output.bytes(&text)
}

/// The commands, with what completes the words behind them.
pub fn command() -> clap::Command {
    completed(args::command())
}

fn completed(command: clap::Command) -> clap::Command {
    let command = command.mut_args(|arg| {
        let names = arg.get_value_names().unwrap_or_default();
        let name = names.first().map(ToString::to_string).unwrap_or_default();
        match completer(&name) {
            Some(completer) => arg.add(ArgValueCompleter::new(completer)),
            None => arg,
        }
    });
    command.mut_subcommands(completed)
}

type Completer = fn(&OsStr) -> Vec<CompletionCandidate>;

/// What completes the value that an argument calls so.
fn completer(name: &str) -> Option<Completer> {
    let plain = name.split(['=', '@', '[']).next().unwrap_or(name);
    Some(match plain {
        "ADDRESS" => |word| begun(word, addresses(true)),
        "ACTION" | "MAP.ACTION" => |word| begun(word, addresses(word_has_at(word))),
        "SCHEME" => |word| begun(word, schemes()),
        "CONTROL" => |word| begun(word, controls()),
        "EXPRESSION" => expression,
        "RULE" => {
            |word| begun(word, RULES.iter().map(|rule| told(rule.name, rule.finds)).collect())
        }
        "LAYOUT" => {
            |word| begun(word, Layout::all().map(|one| told(one.word(), one.title())).collect())
        }
        "TOPIC" => |word| begun(word, topics()),
        _ => return None,
    })
}

fn word_has_at(word: &OsStr) -> bool {
    word.to_string_lossy().contains('@')
}

/// A word with what it is.
fn told(word: &str, about: &str) -> CompletionCandidate {
    let about = (!about.is_empty()).then(|| StyledStr::from(about.to_owned()));
    CompletionCandidate::new(word).help(about)
}

/// Those that go on with what is begun.
fn begun(word: &OsStr, all: Vec<CompletionCandidate>) -> Vec<CompletionCandidate> {
    let word = word.to_string_lossy();
    let goes_on = |one: &CompletionCandidate| one.get_value().to_string_lossy().starts_with(&*word);
    all.into_iter().filter(goes_on).collect()
}

/// The profile at hand, or the one that the line names, as far as it can be read.
fn profile() -> Option<Source> {
    let words: Vec<_> = std::env::args_os().collect();
    let after = words.iter().position(|word| word == "--file").map(|at| at + 1);
    let named = after.and_then(|at| words.get(at)).map(PathBuf::from);
    files::read_text(&files::profile_path(named.as_deref()).ok()?).ok()
}

/// The controls that there are, those of the profile's own devices among them if it is sound.
fn catalogue(profile: &Source) -> Arc<Catalogue> {
    let loaded = harmonym_lang::load(profile);
    loaded.map_or_else(|_| Arc::clone(Catalogue::built_in()), |(profile, _)| profile.catalogue)
}

/// The addresses of the profile's things; with `all` those of their bindings and keys, too.
fn addresses(all: bool) -> Vec<CompletionCandidate> {
    let Some(draft) = profile().as_ref().map(Draft::new) else { return Vec::new() };
    let mut found = Vec::new();
    for thing in draft.things() {
        let address = thing.address();
        found.push(told(&address, thing.kind()));
        if all {
            let keys = keys_at(&thing.path()).iter();
            found.extend(keys.map(|key| told(&format!("{address}.{}", key.name), key.says)));
            let bindings = draft.bindings_of(&thing);
            found.extend(bindings.iter().map(|(of, from)| told(&format!("{address}@{of}"), from)));
        }
    }
    found
}

/// The names of the schemes.
fn schemes() -> Vec<CompletionCandidate> {
    let Some(draft) = profile().as_ref().map(Draft::new) else { return Vec::new() };
    let all = draft.things().into_iter().filter(|thing| matches!(thing, Thing::Scheme(_)));
    all.map(|thing| told(thing.name(), "")).collect()
}

/// All controls.
fn controls() -> Vec<CompletionCandidate> {
    let catalogue =
        profile().map_or_else(|| Arc::clone(Catalogue::built_in()), |one| catalogue(&one));
    catalogue.entries().map(|one| told(&one.name, &one.place)).collect()
}

/// What goes on with an expression: a control, behind `|` a step, and so on.
fn expression(word: &OsStr) -> Vec<CompletionCandidate> {
    let text = word.to_string_lossy();
    let profile = profile().unwrap_or_else(|| Source::new("none", ""));
    let items = complete_binding(&text, &profile, &catalogue(&profile));
    let all = items.iter().map(|item| {
        // A step by its word alone: its numbers are the next thing to write.
        let next = if item.kind == ItemKind::Step { &item.label } else { &item.insert };
        told(&format!("{}{next}", &text[..item.span.start]), &item.detail)
    });
    begun(word, all.collect())
}

/// Topics, their words, and the commands.
fn topics() -> Vec<CompletionCandidate> {
    let topics = TOPICS.iter().map(|topic| told(topic.name, topic.about));
    let words = TOPICS.iter().flat_map(entries).map(|entry| told(entry.name, ""));
    topics.chain(words).collect()
}
