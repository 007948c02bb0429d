//! A TOML text as statements, each with the place of every key and value: what editing needs and
//! values alone don't tell.

use harmonym_lang::source::Span;
use toml_parser::Source as TomlSource;
use toml_parser::parser::{Event, EventKind, parse_document};

/// One key as written, quotes and all.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Key {
    /// What it says.
    pub text: String,
    pub span: Span,
}

/// A value as written.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Node {
    pub span: Span,
    pub form: Form,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum Form {
    Scalar,
    Array(Vec<Node>),
    Table(Vec<Entry>),
}

/// `key.key = value`.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Entry {
    pub keys: Vec<Key>,
    pub value: Node,
}

impl Entry {
    pub fn span(&self) -> Span {
        let start = self.keys.first().map_or(self.value.span, |key| key.span);
        start.to(self.value.span)
    }
}

/// `[key.key]` and what stands under it; the first one has no header.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Section {
    pub header: Option<Header>,
    pub entries: Vec<Entry>,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) struct Header {
    pub keys: Vec<Key>,
    /// Brackets included.
    pub span: Span,
}

impl Section {
    /// The path of its header.
    pub fn path(&self) -> Vec<&str> {
        let keys = self.header.iter().flat_map(|header| &header.keys);
        keys.map(|key| key.text.as_str()).collect()
    }

    /// Where its last statement ends; nothing where it has none.
    pub fn end(&self) -> Option<usize> {
        let last = self.entries.last().map(|entry| entry.value.span.end);
        last.or(self.header.as_ref().map(|header| header.span.end))
    }
}

/// The sections of a text, in order.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Outline {
    pub sections: Vec<Section>,
}

/// An entry with where it stands.
#[derive(Clone, Debug)]
pub(super) struct Found<'o> {
    /// The path of what it stands in.
    pub before: Vec<&'o str>,
    pub entry: &'o Entry,
    /// The section it stands in.
    pub section: usize,
    /// The inline table that it stands in, if it does.
    pub inside: Option<&'o Node>,
}

impl<'o> Found<'o> {
    /// The path of its value.
    pub fn path(&self) -> Vec<&'o str> {
        let own = self.entry.keys.iter().map(|key| key.text.as_str());
        self.before.iter().copied().chain(own).collect()
    }

    /// Whether it defines `path` or something in it, with a key of its own for the last of it.
    pub fn defines(&self, path: &[&str]) -> bool {
        self.before.len() < path.len() && self.path().starts_with(path)
    }

    /// Its key for the last of `path`.
    pub fn key_of(&self, path: &[&str]) -> &'o Key {
        &self.entry.keys[path.len() - 1 - self.before.len()]
    }
}

impl Outline {
    /// Reads a text that is sound TOML; of any other, what comes is of no use.
    pub fn new(text: &str) -> Self {
        let source = TomlSource::new(text);
        let tokens = source.lex().into_vec();
        let mut events = Vec::new();
        parse_document(&tokens, &mut |event: Event| events.push(event), &mut ());
        let mut builder = Builder { source, events: &events, at: 0 };
        let mut outline = Self { sections: vec![Section::default()] };
        while let Some(event) = builder.next() {
            match event.kind() {
                EventKind::StdTableOpen | EventKind::ArrayTableOpen => {
                    let header = builder.header(event.span().start());
                    outline.sections.push(Section { header: Some(header), entries: Vec::new() });
                }
                EventKind::SimpleKey => {
                    let entry = builder.entry(&event);
                    if let Some(section) = outline.sections.last_mut() {
                        section.entries.extend(entry);
                    }
                }
                _ => {}
            }
        }
        outline
    }

    /// Every entry in order of place; those of an inline table come after the one they stand in.
    pub fn entries(&self) -> Vec<Found<'_>> {
        let mut all = Vec::new();
        for (index, section) in self.sections.iter().enumerate() {
            for entry in &section.entries {
                let before = section.path();
                gather(Found { before, entry, section: index, inside: None }, &mut all);
            }
        }
        all
    }

    /// The value at a path, where it is written as one value.
    pub fn value(&self, path: &[&str]) -> Option<&Node> {
        self.entries().into_iter().find(|found| found.path() == path).map(|f| &f.entry.value)
    }

    /// Whether anything of `path` is written.
    pub fn has(&self, path: &[&str]) -> bool {
        self.sections.iter().any(|section| section.path().starts_with(path))
            || self.entries().iter().any(|found| found.path().starts_with(path))
    }
}

fn gather<'o>(found: Found<'o>, all: &mut Vec<Found<'o>>) {
    let node = &found.entry.value;
    let (before, section) = (found.path(), found.section);
    all.push(found);
    if let Form::Table(entries) = &node.form {
        for entry in entries {
            gather(Found { before: before.clone(), entry, section, inside: Some(node) }, all);
        }
    }
}

struct Builder<'t> {
    source: TomlSource<'t>,
    events: &'t [Event],
    at: usize,
}

impl Builder<'_> {
    /// The next event that is more than space.
    fn next(&mut self) -> Option<Event> {
        loop {
            let event = *self.events.get(self.at)?;
            self.at += 1;
            let space = [EventKind::Whitespace, EventKind::Comment, EventKind::Newline];
            if !space.contains(&event.kind()) {
                return Some(event);
            }
        }
    }

    fn key(&self, event: &Event) -> Key {
        let span = Span::new(event.span().start(), event.span().end());
        let mut text = String::new();
        if let Some(raw) = self.source.get(event) {
            raw.decode_key(&mut text, &mut ());
        }
        Key { text, span }
    }

    fn header(&mut self, start: usize) -> Header {
        let mut header = Header { keys: Vec::new(), span: Span::new(start, start) };
        while let Some(event) = self.next() {
            match event.kind() {
                EventKind::SimpleKey => header.keys.push(self.key(&event)),
                EventKind::StdTableClose | EventKind::ArrayTableClose => {
                    header.span.end = event.span().end();
                    break;
                }
                _ => {}
            }
        }
        header
    }

    /// From its first key on.
    fn entry(&mut self, first: &Event) -> Option<Entry> {
        let mut keys = vec![self.key(first)];
        while let Some(event) = self.next() {
            match event.kind() {
                EventKind::SimpleKey => keys.push(self.key(&event)),
                EventKind::KeySep => {}
                EventKind::KeyValSep => {
                    let event = self.next()?;
                    return Some(Entry { keys, value: self.node(&event) });
                }
                _ => return None,
            }
        }
        None
    }

    fn node(&mut self, first: &Event) -> Node {
        let mut span = Span::new(first.span().start(), first.span().end());
        let form = match first.kind() {
            EventKind::ArrayOpen => {
                let mut items = Vec::new();
                while let Some(event) = self.next() {
                    match event.kind() {
                        EventKind::ArrayClose => {
                            span.end = event.span().end();
                            break;
                        }
                        EventKind::ValueSep => {}
                        _ => items.push(self.node(&event)),
                    }
                }
                Form::Array(items)
            }
            EventKind::InlineTableOpen => {
                let mut entries = Vec::new();
                while let Some(event) = self.next() {
                    match event.kind() {
                        EventKind::InlineTableClose => {
                            span.end = event.span().end();
                            break;
                        }
                        EventKind::SimpleKey => entries.extend(self.entry(&event)),
                        _ => {}
                    }
                }
                Form::Table(entries)
            }
            _ => Form::Scalar,
        };
        Node { span, form }
    }
}

/// How a string is written.
pub(super) fn quote(text: &str, like: Option<&str>) -> String {
    let builder = toml_writer::TomlStringBuilder::new(text);
    let single = like.is_some_and(|like| like.starts_with('\'') && !like.starts_with("'''"));
    let written = match single {
        true => builder.as_literal().unwrap_or(builder.as_basic()),
        false => builder.as_basic(),
    };
    toml_writer::ToTomlValue::to_toml_value(&written)
}
