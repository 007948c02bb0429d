//! What stands at a place: a control, a step, a cue, a key, or something that has a name.

use super::Entry;
use super::expression::{Wanted, wanted};
use super::keys::{Holding, holding, key_at, topic_of_key, topic_of_words};
use super::place::{At, Text, content, place};
use crate::edit::Thing;
use crate::score::forms::{HEADERS, VERBS};
use crate::score::{self, Named};
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::{self, COMBINATIONS, Keyword};
use harmonym_lang::profile::{Profile, read};
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};

/// What a word is about.
#[derive(Clone, Debug, PartialEq)]
pub enum Subject {
    /// A word of the language.
    Word(Entry),
    /// A control.
    Control(String),
    /// Something of the profile that has a name.
    Thing(Thing),
    /// A step with its numbers, as it is written.
    Step(String),
    /// A rule of the checker.
    Rule(String),
}

/// What stands at a byte of a profile's text, and where.
pub fn look(source: &Source, offset: usize) -> Option<(Span, Vec<Subject>)> {
    let text = source.text();
    let span = word_at(text, offset)?;
    let word = text.get(span.start..span.end)?;
    let found = place(text, span.end);
    let raw = read(source, &mut Diagnostics::new());
    let table: Vec<&str> = found.table.iter().map(String::as_str).collect();
    let map = match table.as_slice() {
        ["map", map, ..] => map,
        _ => "",
    };
    let subjects = match &found.at {
        At::Header(before, start) | At::Key(before, start) => {
            let above = if matches!(found.at, At::Key(..)) { table } else { Vec::new() };
            let mut path: Vec<&str> =
                above.into_iter().chain(before.iter().map(String::as_str)).collect();
            let last = text.get(*start..span.end)?.trim_matches(['"', '\'']);
            path.push(last);
            // A name with dots is several: the one under the hand is meant.
            let span = Span::new(span.end - last.len().min(span.end), span.end);
            return of_path(&raw, &path).map(|subject| (span, vec![subject]));
        }
        At::Value { keys, string, .. } => {
            let path: Vec<&str> =
                table.into_iter().chain(keys.iter().map(String::as_str)).collect();
            match string {
                None => key_at(&path)
                    .map(|key| Subject::Word(Entry { topic: topic_of_key(&path), word: key.name }))
                    .into_iter()
                    .collect(),
                Some(string) => in_string(&raw, (map, &path), text, (*string, span), word),
            }
        }
        At::Elsewhere => Vec::new(),
    };
    (!subjects.is_empty()).then_some((span, subjects))
}

/// The word at a byte, or right before it.
pub(super) fn word_at(text: &str, offset: usize) -> Option<Span> {
    let offset = text.floor_char_boundary(offset.min(text.len()));
    let is_word =
        |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | '.' | '#' | '@' | '%' | '+');
    let start = text[..offset]
        .rfind(|c| !is_word(c))
        .map_or(0, |at| at + text[at..].chars().next().map_or(1, char::len_utf8));
    let end = text[offset..].find(|c| !is_word(c)).map_or(text.len(), |at| offset + at);
    (start < end).then_some(Span::new(start, end))
}

/// What a path of keys leads to.
fn of_path(raw: &Profile, path: &[&str]) -> Option<Subject> {
    if let Some(key) = key_at(path) {
        return Some(Subject::Word(Entry { topic: topic_of_key(path), word: key.name }));
    }
    let thing = match path {
        ["map", _, _, "bind", scheme] => Thing::Scheme((*scheme).to_owned()),
        _ => Thing::at(path)?,
    };
    thing.definition(raw).map(|_| Subject::Thing(thing))
}

fn in_string(
    raw: &Profile,
    (map, path): (&str, &[&str]),
    text: &str,
    (string, span): (Text, Span),
    word: &str,
) -> Vec<Subject> {
    let thing = |thing: Option<Thing>| thing.map(Subject::Thing).into_iter().collect();
    match holding(path) {
        Holding::Expression(of) => {
            let whole = content(text, string);
            let before = text.get(whole.start..span.end).unwrap_or_default();
            let (wanted, _) = wanted(of, before);
            let step = || {
                written_step(
                    text.get(whole.start..whole.end).unwrap_or_default(),
                    span.end - whole.start,
                )
            };
            match wanted {
                Wanted::Control(_) => match word.strip_prefix("act.") {
                    Some(name) => thing(action(raw, name, map)),
                    None => match COMBINATIONS.iter().find(|form| form.name == word) {
                        Some(form) => {
                            vec![Subject::Word(Entry { topic: "bindings", word: form.name })]
                        }
                        None => vec![Subject::Control(word.to_owned())],
                    },
                },
                Wanted::Step => match StepWord::named(word) {
                    Some(of) => vec![
                        Subject::Word(Entry { topic: "steps", word: of.text().word }),
                        Subject::Step(step()),
                    ],
                    None => Vec::new(),
                },
                Wanted::OfStep(of) => {
                    let number = Thing::number(raw, word).map(Subject::Thing);
                    let own = vec![
                        Subject::Word(Entry { topic: "steps", word: of.text().word }),
                        Subject::Step(step()),
                    ];
                    number.map_or(own, |number| vec![number])
                }
                Wanted::Preset => {
                    thing(Some(Thing::Preset(word.trim_start_matches('@').to_owned())))
                }
                Wanted::Cue => CueWord::named(word).map_or_else(Vec::new, |cue| {
                    vec![Subject::Word(Entry { topic: "cues", word: cue.text().word })]
                }),
                Wanted::OfCue(cue) => match Thing::number(raw, word) {
                    Some(number) => vec![Subject::Thing(number)],
                    None => vec![Subject::Word(Entry { topic: "cues", word: cue.text().word })],
                },
                Wanted::Action => thing(action(raw, word, map)),
                Wanted::Number => thing(Thing::number(raw, word)),
                Wanted::Choice(words) => known(words, word, "bindings"),
                Wanted::Nothing => Vec::new(),
            }
        }
        Holding::Words(words) => known(words, word, topic_of_words(path)),
        Holding::Actions => thing(action(raw, word, map)),
        Holding::Classes => {
            let own = raw.devices.iter().any(|one| one.name.text == word);
            thing(own.then(|| Thing::Device(word.to_owned())))
        }
        Holding::Controls => vec![Subject::Control(word.to_owned())],
        Holding::Rules => {
            let rule = table::RULES.iter().find(|rule| **rule == word);
            rule.map(|rule| Subject::Rule((*rule).to_owned())).into_iter().collect()
        }
        Holding::Kinds | Holding::Switch | Holding::Other => Vec::new(),
    }
}

fn known(words: &'static [Keyword], word: &str, topic: &'static str) -> Vec<Subject> {
    let found = words.iter().find(|one| one.name == word);
    found.map(|one| Subject::Word(Entry { topic, word: one.name })).into_iter().collect()
}

/// The step in which a place of an expression stands.
fn written_step(expression: &str, at: usize) -> String {
    let at = expression.floor_char_boundary(at.min(expression.len()));
    let start = expression[..at].rfind('|').map_or(0, |bar| bar + 1);
    let mut depth = 0_i32;
    let end = expression[start..].char_indices().find(|(_, c)| match c {
        '(' => {
            depth += 1;
            false
        }
        ')' => {
            depth -= 1;
            depth < 0
        }
        '|' | ',' => depth == 0,
        _ => false,
    });
    let end = end.map_or(expression.len(), |(end, _)| start + end);
    expression[start..end].trim().to_owned()
}

/// The action that a name means in a map; in none, where only one map has it.
fn action(raw: &Profile, name: &str, map: &str) -> Option<Thing> {
    if let Some((map, action)) = name.split_once('.') {
        return Some(Thing::Action(map.to_owned(), action.to_owned()));
    }
    let has = |one: &&harmonym_lang::profile::Map| one.actions.iter().any(|a| a.name.text == name);
    let own = raw.maps.iter().filter(|one| one.name.text == map).find(has);
    let mut all = raw.maps.iter().filter(has);
    let one = own.or_else(|| all.next().filter(|_| all.next().is_none()))?;
    Some(Thing::Action(one.name.text.clone(), name.to_owned()))
}

/// What stands at a byte of a score for a profile, and where.
pub fn look_in_score(score: &Source, offset: usize, raw: &Profile) -> Option<(Span, Vec<Subject>)> {
    let is_at = |span: &Span| (span.start..=span.end).contains(&offset);
    if let Some(mention) = score::mentions(score).iter().find(|one| is_at(&one.span)) {
        let subject = match mention.what {
            Named::Control => Some(Subject::Control(mention.text.to_owned())),
            Named::CueOf(_) => {
                let word = mention.text.split([' ', '(']).next().unwrap_or_default();
                CueWord::named(word)
                    .map(|cue| Subject::Word(Entry { topic: "cues", word: cue.text().word }))
            }
            _ => mentioned(raw, mention).map(Subject::Thing),
        };
        return subject.map(|subject| (mention.span, vec![subject]));
    }
    let span = word_at(score.text(), offset)?;
    let word = score.slice(span);
    let expect = (word == "expect").then_some("expect");
    let known = HEADERS.iter().chain(VERBS).map(|line| line.word).find(|known| *known == word);
    let word = known.or(expect)?;
    Some((span, vec![Subject::Word(Entry { topic: "scores", word })]))
}

/// The thing of the profile that a score mentions.
pub fn mentioned(raw: &Profile, mention: &score::Mention<'_>) -> Option<Thing> {
    let name = mention.text.to_owned();
    Some(match mention.what {
        Named::Map => Thing::Map(name),
        Named::Action => action(raw, &name, "")?,
        Named::Scheme => Thing::Scheme(name),
        Named::Setting => Thing::Setting(name),
        Named::Fact => Thing::Fact(name),
        Named::Control | Named::CueOf(_) => return None,
    })
}
