//! Faults with the line they are in, the part underlined, and what to write instead.

use crate::escape::{marked, shown};
use crate::failure::Failure;
use crate::output::style::{Look, wrapped};
use annotate_snippets::{Annotation, AnnotationKind, Level, Origin, Renderer, Snippet};
use harmonym_lang::report::{self, Diagnostic};
use harmonym_lang::source::{Source, Span};
use std::borrow::Cow;
use std::fmt::Write as _;

/// A line longer than this is shown around its fault only.
const LONG_LINE: usize = 2000;
/// A text is never squeezed into less than this.
const MIN_ROOM: usize = 24;
/// So many characters of a long line before and after its fault.
const AROUND: usize = 70;
/// With more faults than this, the rest are told in one line each.
const IN_FULL: usize = 500;

/// Writes why a command could not be done.
pub fn write_failure(out: &mut String, failure: &Failure, look: Look) {
    let Failure::Faults(faults) = failure else { return };
    match faults.source() {
        Some(source) => write_faults(out, source, faults.list(), look),
        None => {
            for one in faults.list() {
                let message = hanging(&one.message, look.width, "error: ".len());
                let help = hanging(&one.help, look.width, "  = help: ".len());
                let title = Level::ERROR.primary_title(&message);
                let group = title.element(Level::HELP.message(&help));
                // Writing to memory does not fail.
                let _ = writeln!(out, "{}", marked(&renderer(look).render(&[group])));
            }
        }
    }
}

/// Writes an expectation that failed, with what came instead, and the command that tells more.
pub fn write_expectation(
    out: &mut String,
    source: &Source,
    span: Span,
    (got, ask): (&str, Option<&str>),
    look: Look,
) {
    let place = source.place(span.start);
    let line = source.line(place.line);
    let within = Span::new(span.start - line.start, span.end.min(line.end) - line.start);
    let margin = place.line.to_string().len() + " = got: ".len();
    let excerpts = [(place.line, excerpt(source.slice(line), within), None)];
    let place = (place.line, place.column);
    let text = render(
        source.name(),
        place,
        &Title::error("expectation not met"),
        &[Foot::got(&hanging(got, look.width, margin)), Foot::ask(&shown(ask.unwrap_or_default()))],
        &excerpts,
        look,
    );
    let _ = writeln!(out, "{text}\n");
}

/// Writes all faults of a text, then how many there are; of a part of a text that is not known.
fn write_faults(out: &mut String, source: &Source, faults: &[Diagnostic], look: Look) {
    for one in faults.iter().take(IN_FULL) {
        let _ = writeln!(out, "{}", in_full(source, one, None, look));
        if !source.is_part() {
            out.push('\n');
        }
    }
    for one in faults.iter().skip(IN_FULL) {
        let _ = writeln!(out, "{}", shown(&one.in_source(source).to_string()));
    }
    if source.is_part() {
        return;
    }
    let count = match faults.len() {
        1 => "1 fault".to_owned(),
        many => format!("{many} faults"),
    };
    let _ = writeln!(out, "{count} in {}", shown(source.name()));
}

/// Writes one thing that the checker tells, with the name of its rule.
pub fn write_diagnostic(out: &mut String, source: &Source, told: &Diagnostic, look: Look) {
    let _ = writeln!(out, "{}\n", in_full(source, told, Some(told.rule), look));
}

fn in_full(source: &Source, told: &Diagnostic, id: Option<&str>, look: Look) -> String {
    let place = source.place(told.span.start);
    let part = |span: Span| {
        let number = source.place(span.start).line;
        let line = source.line(number);
        let within = |at: usize| at.clamp(line.start, line.end) - line.start;
        let span = Span::new(within(span.start), within(span.end));
        (number, excerpt(source.slice(line), span))
    };
    let (number, main) = part(told.span);
    let mut excerpts = vec![(number, main, None)];
    for (span, why) in &told.also {
        let (number, text) = part(*span);
        excerpts.push((number, text, Some(shown(why))));
    }
    let level = match told.level {
        report::Level::Error => Level::ERROR,
        report::Level::Warning => Level::WARNING,
        report::Level::Note => Level::NOTE,
    };
    let word = told.level.word().len() + id.map_or(0, |id| id.len() + 2) + 2;
    let message = hanging(&told.message, look.width, word);
    let title = Title { level, id, text: &message };
    let place = (place.line, place.column);
    // Behind the number of the line stand ` = help: `.
    let margin = excerpts.iter().map(|(line, ..)| line.to_string().len()).max().unwrap_or(1);
    let help = hanging(&told.help, look.width, margin + 9);
    render(source.name(), place, &title, &[Foot::help(&help)], &excerpts, look)
}

/// A text at so many columns, which begins so far to the right; it breaks at spaces.
fn hanging(text: &str, width: usize, margin: usize) -> String {
    let room = width.saturating_sub(margin).max(MIN_ROOM);
    // What is to be written stays in one piece.
    let mut is_code = false;
    let whole: String = shown(text)
        .chars()
        .map(|c| {
            is_code ^= c == '`';
            if is_code && c == ' ' { '\u{a0}' } else { c }
        })
        .collect();
    wrapped(&whole, room).replace('\u{a0}', " ")
}

/// A line, or the part of a long one around `span`, with the span in it.
struct Excerpt {
    text: String,
    span: Span,
    is_cut: bool,
}

fn excerpt(line: &str, span: Span) -> Excerpt {
    let start = line.floor_char_boundary(span.start.min(line.len()));
    let end = line.ceil_char_boundary(span.end.clamp(start, line.len()));
    let is_cut = line.len() > LONG_LINE;
    let (from, meant, to) = match is_cut {
        false => (0, end, line.len()),
        true => {
            let last = |at: usize| {
                line[at..].char_indices().nth(AROUND).map_or(line.len(), |(on, _)| at + on)
            };
            let from = line[..start].char_indices().rev().nth(AROUND).map_or(0, |(at, _)| at);
            let meant = last(start).min(end);
            (from, meant, last(meant))
        }
    };
    let more = |is_there| if is_there { "…" } else { "" };
    // A tab stays: it is as wide here as in the line below.
    let plain = |text: &str| text.split('\t').map(shown).collect::<Vec<_>>().join("\t");
    let mut text = format!("{}{}", more(from > 0), plain(&line[from..start]));
    let marked = text.len();
    text.push_str(&plain(&line[start..meant]));
    let span = Span::new(marked, text.len());
    text.push_str(&plain(&line[meant..to]));
    text.push_str(more(to < line.len()));
    Excerpt { text, span, is_cut }
}

/// A line below an excerpt.
struct Foot<'a> {
    level: Level<'static>,
    text: &'a str,
}

impl<'a> Foot<'a> {
    fn help(text: &'a str) -> Self {
        Self { level: Level::HELP, text }
    }

    fn got(text: &'a str) -> Self {
        Self { level: Level::NOTE.with_name("got"), text }
    }

    fn ask(text: &'a str) -> Self {
        Self { level: Level::NOTE.with_name("ask"), text }
    }
}

/// The line above an excerpt.
struct Title<'a> {
    level: Level<'static>,
    /// The rule's name.
    id: Option<&'a str>,
    text: &'a str,
}

impl<'a> Title<'a> {
    fn error(text: &'a str) -> Self {
        Self { level: Level::ERROR, id: None, text }
    }
}

/// A line by its number, and what is said of the part in it.
type Shown<'a> = (usize, Excerpt, Option<Cow<'a, str>>);

fn render(
    name: &str,
    (line, column): (usize, usize),
    message: &Title<'_>,
    feet: &[Foot<'_>],
    excerpts: &[Shown<'_>],
    look: Look,
) -> String {
    let name = &*shown(name);
    let is_cut = excerpts.iter().any(|(_, excerpt, _)| excerpt.is_cut);
    let title = message.level.clone().primary_title(message.text);
    let title = match message.id {
        Some(id) => title.id(id),
        None => title,
    };
    let mut group = match is_cut {
        true => title.element(Origin::path(name).line(line).char_column(column)),
        false => title.elements(Vec::<Origin<'_>>::new()),
    };
    for (number, excerpt, why) in excerpts {
        let range = excerpt.span.start..excerpt.span.end;
        let mark: Annotation<'_> = match why {
            None => AnnotationKind::Primary.span(range),
            Some(why) => AnnotationKind::Context.span(range).label(&**why),
        };
        let snippet = Snippet::source(excerpt.text.as_str()).line_start(*number).fold(false);
        // The column of a line that was cut is said above.
        let snippet = if is_cut { snippet } else { snippet.path(name) };
        group = group.element(snippet.annotation(mark));
    }
    for foot in feet.iter().filter(|foot| !foot.text.is_empty()) {
        group = group.element(foot.level.clone().message(foot.text));
    }
    marked(&renderer(look).render(&[group]))
}

fn renderer(look: Look) -> Renderer {
    let renderer = if look.color { Renderer::styled() } else { Renderer::plain() };
    renderer.term_width(look.width)
}
