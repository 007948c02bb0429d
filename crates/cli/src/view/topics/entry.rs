//! One step, cue, key or line by itself: what it is, its numbers, an example, and what comes of that.

use super::rows::{KEYS, forms};
use super::{TOPICS, Topic};
use crate::output::style::Look;
use crate::view::lanes::{self, Style};
use harmonym_lab::example::{self, StepExample};
use harmonym_lab::score::forms::{EXPECTATIONS, HEADERS, LineText, VERBS};
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::number::Parameter;
use harmonym_lang::profile::steps::{BY, REVERSE, StepWord};
use harmonym_lang::profile::table::{self, Holds, Key, Keyword};
use harmonym_runtime::base::{Kind, Vector};

/// One thing of a topic.
#[derive(Clone, Copy, Debug)]
pub struct Entry {
    /// The word that it goes by.
    pub name: &'static str,
    what: What,
}

#[derive(Clone, Copy, Debug)]
enum What {
    Step(StepWord),
    Cue(CueWord),
    /// A key, and of what.
    Key(&'static Key, &'static str),
    Word(&'static Keyword, &'static str),
    Line(&'static LineText),
    Expect,
}

/// What a key belongs to, in words.
fn owner(table: &str) -> &'static str {
    match table {
        "top" => "the profile",
        "scheme" => "a scheme: `[scheme.NAME]`",
        "setting" => "a setting: `[setting.NAME]`",
        "fact" => "a fact: `[fact.NAME]`",
        "device" => "a device of your own: `[device.NAME]`",
        "map" => "a map: `[map.NAME]`",
        "action" => "an action: `[map.NAME.ACTION]`",
        "binding" => "a binding: `{ from = \"…\" }`",
        _ => "an action's `levels`",
    }
}

fn keys(tables: &'static [&'static str]) -> impl Iterator<Item = Entry> {
    let own = tables.iter().flat_map(|of| KEYS.iter().filter(move |(name, _)| name == of));
    own.flat_map(|(of, keys)| {
        keys.iter().map(|key| Entry { name: key.name, what: What::Key(key, owner(of)) })
    })
}

/// Of entries that share a name, the first.
fn first_of_each(all: impl Iterator<Item = Entry>) -> Vec<Entry> {
    let mut entries: Vec<Entry> = Vec::new();
    for entry in all {
        if !entries.iter().any(|known| known.name == entry.name) {
            entries.push(entry);
        }
    }
    entries
}

fn words(all: &'static [Keyword], what: &'static str) -> impl Iterator<Item = Entry> {
    all.iter().map(move |word| Entry { name: word.name, what: What::Word(word, what) })
}

/// The things of a topic that can be asked for.
pub fn entries(topic: &Topic) -> Vec<Entry> {
    match topic.name {
        "profile" => first_of_each(keys(&[
            "action", "top", "scheme", "setting", "fact", "device", "binding", "levels",
        ])),
        "maps" => first_of_each(keys(&["map"]).chain(words(table::MAP_KINDS, "A kind of map: it"))),
        "bindings" => {
            let parts = "An option of `pair` and `four`: two opposite parts held together give";
            let plus = Entry { name: table::PLUS.name, what: What::Word(&table::PLUS, "It gives") };
            // `newest` and `oldest` are blends before they are options.
            first_of_each(
                words(table::COMBINATIONS, "A combination. It gives")
                    .chain([plus])
                    .chain(words(table::BLENDS, "A blend: of all bindings, what counts is"))
                    .chain(words(table::OPPOSED, parts))
                    .chain(words(table::CORNERS, "An option of `four`:")),
            )
        }
        "steps" => {
            let steps = StepWord::ALL.iter();
            steps.map(|step| Entry { name: step.text().word, what: What::Step(*step) }).collect()
        }
        "cues" => {
            let cues = CueWord::ALL.iter();
            cues.map(|cue| Entry { name: cue.text().word, what: What::Cue(*cue) }).collect()
        }
        "scores" => {
            let lines = HEADERS.iter().chain(VERBS);
            let all = lines.map(|line| Entry { name: line.word, what: What::Line(line) });
            all.chain([Entry { name: "expect", what: What::Expect }]).collect()
        }
        _ => Vec::new(),
    }
}

/// The entries of this name, with their topics: of one topic, or of all.
pub fn find(topic: Option<&Topic>, name: &str) -> Vec<(&'static Topic, Entry)> {
    let asked = TOPICS.iter().filter(|one| topic.is_none_or(|topic| topic.name == one.name));
    let all = asked.flat_map(|topic| entries(topic).into_iter().map(move |entry| (topic, entry)));
    all.filter(|(_, entry)| entry.name == name).collect()
}

impl Entry {
    /// All there is to say of it, as Markdown; what is drawn is so many columns wide.
    pub fn markdown(&self, columns: usize) -> String {
        match self.what {
            What::Step(step) => step_text(step, example::of_step(step)),
            What::Cue(cue) => cue_text(cue, columns),
            What::Key(key, of) => key_text(key, of),
            What::Word(word, what) => {
                format!("# `{}`\n\n{what} {}.\n", word.form, word.says)
            }
            What::Line(line) => line_text(line),
            What::Expect => EXPECTATIONS.iter().map(line_text).collect::<Vec<_>>().join("\n"),
        }
    }
}

fn line_text(line: &LineText) -> String {
    let otherwise = match line.otherwise {
        "" => String::new(),
        otherwise => format!(" Without it: {otherwise}."),
    };
    let holds = if line.word == "expect" { "Holds when: " } else { "" };
    format!(
        "# {}\n\n{holds}{}.{otherwise}\n\n```\n{}\n```\n",
        forms(line.written),
        line.says,
        line.example
    )
}

fn key_text(key: &Key, of: &str) -> String {
    let holds = match key.holds {
        Holds::Text => "a text",
        Holds::Word(_) => "one of these words, as a text",
        Holds::Number => "a number",
        Holds::Switch => "`true` or `false`",
        Holds::Either => "a number, or `true` or `false`",
        Holds::Texts => "a list of texts",
        Holds::Range => "two numbers",
        Holds::Table => "a table",
    };
    let mut text = format!(
        "# `{}`\n\nA key of {of}. {}.\n\n- it holds {holds}\n- if left out: {}\n",
        key.name,
        capital(key.says),
        key.otherwise
    );
    if let Holds::Word(words) = key.holds {
        text.push_str(&word_table(words));
    }
    let more = match key.name {
        "bind" | "blend" | "from" => "bindings",
        "shape" | "preset" => "steps",
        "fire" => "cues",
        "map" | "kind" | "rank" => "maps",
        "reserved" => "controls",
        _ => return text,
    };
    text.push_str(&format!("\n`harmonym help {more}` tells more.\n"));
    text
}

fn word_table(words: &[Keyword]) -> String {
    let rows = words.iter().map(|word| format!("| `{}` | {} |\n", word.name, word.says));
    format!("\n| word | means |\n|---|---|\n{}", rows.collect::<String>())
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or(String::new(), |c| c.to_uppercase().chain(letters).collect())
}

fn numbers(all: &[Parameter], relation: &str) -> String {
    if all.is_empty() {
        return String::new();
    }
    let rows = all.iter().map(|one| {
        let otherwise = if one.otherwise.is_empty() { "required" } else { one.otherwise };
        format!("| {} | {} | {otherwise} |\n", one.letters, one.number.range().replace('-', "−"))
    });
    let relation = match relation {
        "" => String::new(),
        _ => format!("\n{}.\n", capital(relation)),
    };
    let rows: String = rows.collect();
    format!("\n| number | range | if left out |\n|---|---|---|\n{rows}{relation}")
}

/// A step, and what it makes of values as it is written somewhere.
pub fn step_with_example(word: &str, written: &str) -> Option<String> {
    let step = StepWord::named(word)?;
    Some(step_text(step, example::of_written(step, written)))
}

fn step_text(step: StepWord, example: Option<StepExample>) -> String {
    let text = step.text();
    let takes: Vec<_> = text.takes.iter().map(|kind| kind.word()).collect();
    let mut out = format!(
        "# {}\n\nA step, which takes: {}. It gives: {}.\n",
        forms(text.written),
        takes.join(", "),
        text.gives,
    );
    out.push_str(&numbers(text.numbers, text.relation));
    match step {
        StepWord::Deadzone => out.push_str(&word_table(BY)),
        StepWord::Ease => out.push_str(&word_table(REVERSE)),
        _ => {}
    }
    let Some(example) = example else { return out };
    let written = &example.written;
    let of = match example.takes {
        Kind::Plane => "pad.left-stick",
        _ => "pad.left-stick.x",
    };
    out.push_str(&format!(
        "\n```toml\nbind.pad = \"{of} | {written}\"\n```\n\nWhat `{written}` makes of values, one after \
         the other:\n\n"
    ));
    let value = |kind: Kind, value: Vector| match kind {
        Kind::Plane => {
            let [x, y, _] = value.xyz();
            format!("({}, {})", rounded(x), rounded(y))
        }
        _ => rounded(value.xyz()[0]),
    };
    if example.in_time {
        out.push_str("| after | in | out |\n|---|---|---|\n");
    } else {
        out.push_str("| in | out |\n|---|---|\n");
    }
    for (at, from, to) in &example.rows {
        let at = if example.in_time { format!("{at} s | ") } else { String::new() };
        let (from, to) = (value(example.takes, *from), value(example.gives, *to));
        out.push_str(&format!("| {at}{from} | {to} |\n"));
    }
    out
}

/// A number to three places.
fn rounded(number: f64) -> String {
    let short = (number * 1e3).round() / 1e3;
    format!("{}", short + 0.0).replace('-', "−")
}

fn cue_text(cue: CueWord, columns: usize) -> String {
    let text = cue.text();
    let mut out = format!("# `{}`\n\nA cue, which fires {}.\n", text.written, text.fires);
    out.push_str(&numbers(text.numbers, ""));
    let Some(example) = example::of_cue(cue) else { return out };
    let written = example.written;
    // Code is set in by four columns.
    let width = columns.saturating_sub(4).min(WIDEST_LANES);
    let style = Style { ascii: false, width, look: Look { color: false, width, columns: width } };
    let lanes = lanes::draw(&example.lanes, &example.plan, style, (true, &[]), |_, _| true);
    out.push_str(&format!(
        "\n```toml\nfire = \"{written}\"\n```\n\nWhat `{written}` makes of presses:\n\n```\n{lanes}```\n"
    ));
    out
}

/// How wide the lanes of an example are at most.
const WIDEST_LANES: usize = 76;
