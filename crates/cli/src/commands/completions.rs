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
use harmonym_lab::check::RULES;
use harmonym_lab::edit::{Draft, Thing};
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table;
use harmonym_lang::source::Source;
use harmonym_runtime::controls::{Catalogue, Layout};
use std::ffi::OsStr;
use std::path::PathBuf;

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
        "SCHEME" => |word| begun(word, names("scheme.")),
        "CONTROL" => |word| begun(word, controls("")),
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
fn draft() -> Option<Draft> {
    let words: Vec<_> = std::env::args_os().collect();
    let after = words.iter().position(|word| word == "--file").map(|at| at + 1);
    let named = after.and_then(|at| words.get(at)).map(PathBuf::from);
    let path = files::profile_path(named.as_deref()).ok()?;
    let text = std::fs::read_to_string(&path).ok()?;
    Some(Draft::new(&Source::new("the profile", text)))
}

/// The addresses of the profile's things; with `all` those of their bindings and keys, too.
fn addresses(all: bool) -> Vec<CompletionCandidate> {
    let Some(draft) = draft() else { return Vec::new() };
    let mut found = Vec::new();
    for thing in draft.things() {
        let address = thing.address();
        found.push(told(&address, thing.kind()));
        let (keys, is_action) = match &thing {
            Thing::Action(..) => (table::ACTION, true),
            Thing::Map(_) => (table::MAP, false),
            Thing::Scheme(_) => (table::SCHEME, false),
            Thing::Setting(_) => (table::SETTING, false),
            Thing::Fact(_) => (table::FACT, false),
            Thing::Device(_) => (table::DEVICE, false),
            Thing::Preset(_) => continue,
        };
        if all {
            found.extend(keys.iter().map(|key| told(&format!("{address}.{}", key.name), key.says)));
        }
        if all && is_action {
            let bindings = draft.bindings_of(&thing);
            found.extend(bindings.iter().map(|(of, from)| told(&format!("{address}@{of}"), from)));
        }
    }
    found
}

/// The names of one kind of thing.
fn names(kind: &str) -> Vec<CompletionCandidate> {
    let Some(draft) = draft() else { return Vec::new() };
    let all = draft.things().into_iter().map(|thing| thing.address());
    all.filter_map(|address| Some(told(address.strip_prefix(kind)?, ""))).collect()
}

/// All controls, behind what stands before them.
fn controls(before: &str) -> Vec<CompletionCandidate> {
    let all = Catalogue::built_in().entries();
    all.map(|one| told(&format!("{before}{}", one.name), &one.place)).collect()
}

/// The last word of an expression: a control, or behind `|` a step.
fn expression(word: &OsStr) -> Vec<CompletionCandidate> {
    let text = word.to_string_lossy();
    let at = text.rfind(['|', '(', ',', '+']).map_or(0, |at| at + 1);
    let spaces = text[at..].len() - text[at..].trim_start().len();
    let before = &text[..at + spaces];
    let all = match text[..at].ends_with('|') {
        true => {
            let steps = StepWord::ALL.iter().map(|step| step.text());
            steps.map(|step| told(&format!("{before}{}", step.word), step.gives)).collect()
        }
        false => controls(before),
    };
    begun(word, all)
}

/// Topics, their words, and the commands.
fn topics() -> Vec<CompletionCandidate> {
    let topics = TOPICS.iter().map(|topic| told(topic.name, topic.about));
    let words = TOPICS.iter().flat_map(entries).map(|entry| told(entry.name, ""));
    topics.chain(words).collect()
}
