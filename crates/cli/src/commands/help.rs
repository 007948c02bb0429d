//! `help`: the language, a topic or a word at a time, and the commands.

use super::{check, controls};
use crate::args::{self, Format};
use crate::failure::Failure;
use crate::output::Output;
use crate::view::markdown;
use crate::view::table::table;
use crate::view::topics::{TOPICS, Topic, entries, find};
use harmonym_lab::check::Rule;
use harmonym_lang::report::{did_you_mean, nearest};

pub fn run(words: &[String], output: &mut Output) -> Result<(), Failure> {
    output.page();
    let words: Vec<&str> = words.iter().flat_map(|word| word.split_whitespace()).collect();
    let Some((&first, rest)) = words.split_first() else { return all(output) };
    let topic = Topic::named(first);
    match (topic, rest) {
        (Some(topic), []) => print(&topic.markdown(), output),
        (Some(topic), words) if topic.name == "controls" => {
            let words: Vec<String> = words.iter().map(|word| (*word).to_owned()).collect();
            controls::run(None, &words, None, Format::Text, output)
        }
        (Some(topic), [word, ..]) => one(Some(topic), word, output),
        (None, _) if command(&words).is_some() => {
            let Some(mut command) = command(&words) else { return Ok(()) };
            let help = command.render_long_help().to_string();
            output.write(|out| out.push_str(&help))
        }
        (None, _) if Rule::named(first).is_some() => check::explain::run(first, output),
        (None, _) => one(None, first, output),
    }
}

/// The commands, and what else there is to ask for.
fn all(output: &mut Output) -> Result<(), Failure> {
    let help = args::command().render_help().to_string();
    output.write(|out| out.push_str(&format!("{help}\n")))?;
    let rows = TOPICS.iter().map(|topic| [topic.name, topic.about].map(str::to_owned)).collect();
    let text = table(output.look, ["topic", "what it tells"], rows);
    output.write(|out| out.push_str(&text))?;
    output.remark(
        "`harmonym help steps` tells of a topic, `harmonym help steps deadzone` of one word",
    )
}

/// The command that some words name: `player apply`.
fn command(words: &[&str]) -> Option<clap::Command> {
    let mut whole = args::command();
    // Gives each its whole name, and the options that go everywhere.
    whole.build();
    let found = words.iter().try_fold(&whole, |command, word| command.find_subcommand(word))?;
    Some(found.clone())
}

/// One word of a topic, or of all of them.
fn one(topic: Option<&Topic>, word: &str, output: &mut Output) -> Result<(), Failure> {
    let found = find(topic, word);
    if found.is_empty() {
        return Err(unknown(topic, word));
    }
    let texts: Vec<String> =
        found.iter().map(|(_, entry)| entry.markdown(output.look.width)).collect();
    print(&texts.join("\n"), output)
}

fn unknown(topic: Option<&Topic>, word: &str) -> Failure {
    if let (Some(topic), Some((other, _))) = (topic, find(None, word).first()) {
        let message = format!("`{word}` is no word of the topic {}", topic.name);
        return Failure::new(message, format!("write `harmonym help {} {word}`", other.name));
    }
    let asked = TOPICS.iter().filter(|one| topic.is_none_or(|topic| topic.name == one.name));
    let mut known: Vec<String> = asked.flat_map(entries).map(|one| one.name.to_owned()).collect();
    let (message, otherwise) = match topic {
        Some(topic) => {
            (format!("`{word}` is no word of the topic {}", topic.name), known.join(", "))
        }
        None => {
            let topics: Vec<_> = TOPICS.iter().map(|topic| topic.name).collect();
            known.extend(topics.iter().map(|&name| name.to_owned()));
            let commands = args::command();
            known.extend(commands.get_subcommands().map(|one| one.get_name().to_owned()));
            let message = format!("there is no topic, command or word `{word}`");
            (message, format!("the topics are {}", topics.join(", ")))
        }
    };
    let otherwise = match topic {
        Some(topic) if otherwise.is_empty() => {
            format!("`harmonym help {}` tells all of it", topic.name)
        }
        Some(_) => format!("its words are {otherwise}"),
        None => otherwise,
    };
    let near = nearest(word, known.iter().map(String::as_str));
    Failure::new(message, did_you_mean(near, || otherwise))
}

fn print(text: &str, output: &mut Output) -> Result<(), Failure> {
    let text = markdown::text(text, output.look);
    output.write(|out| out.push_str(&text))
}
