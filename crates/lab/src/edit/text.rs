//! A text that is changed piece by piece; what no change names stays byte for byte.

use super::outline::{Entry, Form, Found, Node, Outline, Section, quote};
use harmonym_lang::profile::table;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Span;
use harmonym_runtime::base::shortest;

/// A value to be written.
#[derive(Clone, Debug, PartialEq)]
pub enum Value {
    /// A text.
    Text(String),
    /// Anything else as TOML has it: a number, true or false.
    Plain(String),
    /// A list of texts.
    Texts(Vec<String>),
    /// A table in braces.
    Table(Vec<(String, Value)>),
}

impl Value {
    /// A number, read from text.
    ///
    /// # Errors
    /// When it is none.
    pub fn number(text: &str, key: &str) -> Result<Self, Faults> {
        let number = text.parse::<f64>().ok().filter(|number| number.is_finite());
        let Some(number) = number else {
            let message = format!("`{key}` is a number, not `{text}`");
            return Err(Faults::refused(message, "write a plain number such as 0.5"));
        };
        let digits = text.trim_start_matches('-');
        let is_toml = digits.bytes().all(|b| b.is_ascii_digit() || b == b'.')
            && digits.starts_with(|c: char| c.is_ascii_digit())
            && !digits.ends_with('.')
            && (digits == "0" || digits.starts_with("0.") || !digits.starts_with('0'));
        Ok(Self::Plain(if is_toml { text.to_owned() } else { shortest(number).to_string() }))
    }

    /// As written, with the quotes of what stood there before.
    pub(super) fn written(&self, before: Option<&str>) -> String {
        match self {
            Self::Text(text) => quote(text, before),
            Self::Plain(text) => text.clone(),
            Self::Texts(texts) => {
                let texts: Vec<String> = texts.iter().map(|text| quote(text, None)).collect();
                format!("[{}]", texts.join(", "))
            }
            Self::Table(fields) if fields.is_empty() => "{}".to_owned(),
            Self::Table(fields) => {
                let fields: Vec<String> =
                    fields.iter().map(|(key, v)| format!("{key} = {}", v.written(None))).collect();
                format!("{{ {} }}", fields.join(", "))
            }
        }
    }
}

/// What is put in place of a stretch of the text.
pub(super) type Splice = (Span, String);

/// A text under change.
#[derive(Clone, Debug)]
pub(super) struct Text {
    pub text: String,
    pub outline: Outline,
    /// The line break of the text.
    pub newline: &'static str,
}

impl Text {
    pub fn new(text: &str) -> Self {
        let newline = match text.find('\n') {
            Some(at) if text[..at].ends_with('\r') => "\r\n",
            _ => "\n",
        };
        Self { text: text.to_owned(), outline: Outline::new(text), newline }
    }

    /// Puts each text in the place of its stretch, all at once.
    pub fn splice(&mut self, splices: Vec<Splice>) {
        let text = spliced(&self.text, splices);
        self.outline = Outline::new(&text);
        self.text = text;
    }

    pub fn slice(&self, span: Span) -> &str {
        &self.text[span.start..span.end]
    }

    pub fn line_start(&self, at: usize) -> usize {
        self.text[..at].rfind('\n').map_or(self.first(), |i| i + 1)
    }

    /// The first byte after a byte order mark.
    fn first(&self) -> usize {
        if self.text.starts_with('\u{feff}') { '\u{feff}'.len_utf8() } else { 0 }
    }

    /// The start of the line after the one of `at`.
    pub fn line_end(&self, at: usize) -> usize {
        self.text[at..].find('\n').map_or(self.text.len(), |i| at + i + 1)
    }

    pub fn line(&self, start: usize) -> &str {
        self.text[start..self.line_end(start)].trim()
    }

    /// The space before the statement at `at`.
    pub fn indent(&self, at: usize) -> &str {
        let start = self.line_start(at);
        let line = &self.text[start..at];
        &line[..line.len() - line.trim_start().len()]
    }

    /// Where the comments begin that stand right above the line of `at`, back to `floor` at most.
    /// Those at the top of the file are the file's.
    fn with_comments(&self, at: usize, floor: usize) -> usize {
        let own = self.line_start(at);
        let mut start = own;
        while start > floor.max(self.first()) {
            let above = self.line_start(start - 1);
            if above < floor || !self.line(above).starts_with('#') {
                break;
            }
            start = above;
        }
        if start <= self.first() { own } else { start }
    }

    /// Where the last statement before section `index` ends.
    fn floor(&self, index: usize) -> usize {
        let before = self.outline.sections[..index].iter().rev();
        before.filter_map(Section::end).next().map_or(0, |end| self.line_end(end))
    }

    /// Where section `index` begins, the comments above it included.
    pub fn section_start(&self, index: usize) -> usize {
        let header = self.outline.sections[index].header.as_ref();
        header.map_or(self.first(), |h| self.with_comments(h.span.start, self.floor(index)))
    }

    /// Where the last statement of section `index` ends.
    pub fn statements_end(&self, index: usize) -> usize {
        let last = self.outline.sections[index].end();
        last.map_or_else(|| self.head_end(), |last| self.line_end(last))
    }

    /// Where section `index` ends: after its last statement, and the comments right below it that
    /// don't stand right above the next section.
    pub fn section_end(&self, index: usize) -> usize {
        let last = self.outline.sections[index].end();
        let Some(last) = last else { return self.head_end() };
        let mut end = self.line_end(last);
        let mut at = end;
        while at < self.text.len() && self.line(at).starts_with('#') {
            at = self.line_end(at);
        }
        if at >= self.text.len() || self.line(at).is_empty() {
            end = at;
        }
        end
    }

    /// Where the first statement may stand in a text that has none before its first header: after
    /// the comments at the top.
    fn head_end(&self) -> usize {
        let mut at = self.first();
        while at < self.text.len() && self.line(at).starts_with('#') {
            at = self.line_end(at);
        }
        at
    }

    /// Adds `block` (whole lines) at `at`, the start of a line or the end of the text.
    pub fn add_lines(&mut self, at: usize, block: &str) {
        let splice = self.lines_splice(at, block);
        self.splice(vec![splice]);
    }

    fn lines_splice(&self, at: usize, block: &str) -> Splice {
        let block = block.replace("\r\n", "\n").replace('\n', self.newline);
        let open = at > 0 && !self.text[..at].ends_with('\n') && at > self.first();
        let text = match open {
            // The last line stays without its line break: so does the new one.
            true => format!("{}{}", self.newline, block.trim_end_matches(['\r', '\n'])),
            false => block,
        };
        (Span::new(at, at), text)
    }

    /// Adds a section at `at`, parted by an empty line from the one before, unless no empty line
    /// parts them there: then taking it away again leaves what was.
    pub fn add_section(&mut self, at: usize, block: &str) {
        let splice = self.section_splice(at, block);
        self.splice(vec![splice]);
    }

    /// What adds a section at `at`.
    pub fn section_splice(&self, at: usize, block: &str) -> Splice {
        let follows_close = at < self.text.len() && !self.line(at).is_empty();
        // A comment right above it would be its own.
        let is_below_comment = self.line(self.line_start(at.saturating_sub(1))).starts_with('#');
        let is_apart = is_below_comment || !self.is_dense() && !follows_close;
        let before = is_apart && at > self.first() && !self.ends_empty(at);
        self.lines_splice(at, &format!("{}{block}", if before { "\n" } else { "" }))
    }

    fn ends_empty(&self, at: usize) -> bool {
        let above = self.line_start(at.saturating_sub(1));
        self.text[..at].ends_with('\n') && self.line(above).is_empty()
    }

    /// Whether sections follow each other without empty lines.
    pub fn is_dense(&self) -> bool {
        // A few tell how all are written.
        let later = 2..self.outline.sections.len().min(32);
        let starts: Vec<usize> = later.map(|index| self.section_start(index)).collect();
        !starts.is_empty() && starts.iter().all(|&start| !self.ends_empty(start))
    }

    /// Sets what is written at `path`, or adds it where a person would.
    pub fn put(&mut self, path: &[&str], value: &Value) {
        if let Some(node) = self.outline.value(path) {
            let span = node.span;
            let written = value.written(Some(self.slice(span)));
            return self.splice(vec![(span, written)]);
        }
        let (parent, key) = path.split_at(path.len() - 1);
        if self.outline.has(parent) {
            return self.insert(parent, key[0], value);
        }
        // `bind.pad` where nothing is bound yet, `levels.down` where there are no levels.
        let (above, key) = path.split_at(path.len() - 2);
        match key[0] {
            "bind" => self.insert(above, &key.join("."), value),
            name => {
                let fields = vec![(key[1].to_owned(), value.clone())];
                self.insert(above, name, &Value::Table(fields));
            }
        }
    }

    /// Adds a key to the table at `parent`, which is written somewhere.
    fn insert(&mut self, parent: &[&str], key: &str, value: &Value) {
        let written = value.written(None);
        let sections = &self.outline.sections;
        if let Some(index) = sections.iter().position(|section| {
            section.path() == parent && (section.header.is_some() || parent.is_empty())
        }) {
            return self.insert_line(index, parent, key, &written);
        }
        if let Some(node) = self.outline.value(parent) {
            let splice = self.with_braces(node, &format!("{key} = {written}"));
            return self.splice(vec![splice]);
        }
        let entries = self.outline.entries();
        let dotted = entries
            .iter()
            .rfind(|found| found.before.len() < parent.len() && found.path().starts_with(parent));
        if let Some(found) = dotted {
            let last = found.key_of(parent).span;
            let prefix = self.slice(found.entry.span().to(last)).to_owned();
            let (line, beside) = (format!("{prefix}.{key} = {written}"), found.clone().into());
            return self.add_beside(&beside, &line);
        }
        // Only tables in it are written: its own one goes before them.
        let first = sections.iter().position(|section| section.path().starts_with(parent));
        let at = first.map_or(self.text.len(), |index| self.section_start(index));
        self.add_section(at, &format!("[{}]\n{key} = {written}\n", parent.join(".")));
    }

    /// Adds a line to a section, after the keys that go before it.
    fn insert_line(&mut self, index: usize, parent: &[&str], key: &str, written: &str) {
        let order = table::keys_at(parent);
        let place = |key: &str| {
            let first = key.split('.').next().unwrap_or(key);
            order.iter().position(|known| known.name == first).unwrap_or(usize::MAX)
        };
        let section = &self.outline.sections[index];
        let own = place(key);
        let before = |e: &&Entry| e.keys.first().is_some_and(|first| place(&first.text) <= own);
        let neighbour = section.entries.iter().rfind(before);
        let indent_of = neighbour.or(section.entries.first());
        let indent = indent_of.map_or("", |e| self.indent(e.span().start));
        let at = match (neighbour, &section.header) {
            (Some(entry), _) => self.line_end(entry.value.span.end),
            (None, Some(header)) => self.line_end(header.span.end),
            (None, None) => self.head_end(),
        };
        let line = format!("{indent}{key} = {written}\n");
        self.add_lines(at, &line);
    }

    /// `{ a = 1 }` with one more.
    pub fn with_braces(&self, node: &Node, entry: &str) -> Splice {
        match &node.form {
            Form::Table(entries) => match entries.last() {
                Some(last) => {
                    let at = last.value.span.end;
                    (Span::new(at, at), format!(", {entry}"))
                }
                None => (node.span, format!("{{ {entry} }}")),
            },
            _ => (node.span, format!("{{ {entry} }}")),
        }
    }

    /// Adds `entry` after another one, in the same table.
    pub fn add_beside(&mut self, other: &Beside, entry: &str) {
        if other.is_inline {
            let at = other.span.end;
            return self.splice(vec![(Span::new(at, at), format!(", {entry}"))]);
        }
        let indent = self.indent(other.span.start).to_owned();
        let lines: String = entry.lines().map(|line| format!("{indent}{line}\n")).collect();
        self.add_lines(self.line_end(other.span.end), &lines);
    }

    /// Takes everything of `path` out: sections with the comments right above them, lines, and
    /// what stands in braces.
    pub fn remove(&mut self, path: &[&str]) {
        let mut gone: Vec<Splice> = Vec::new();
        for (index, section) in self.outline.sections.iter().enumerate() {
            if section.header.is_some() && section.path().starts_with(path) {
                gone.push((self.whole_section(index), String::new()));
            }
        }
        for found in self.outline.entries().iter().filter(|found| found.defines(path)) {
            gone.push((self.whole_entry(found), String::new()));
        }
        let is_open = !self.text.ends_with('\n');
        self.splice(gone);
        if is_open {
            // The last line stays without its line break.
            let end = self.text.trim_end_matches(['\n', '\r']).len();
            self.splice(vec![(Span::new(end, self.text.len()), String::new())]);
        }
    }

    /// Takes the section `[name]` out that says nothing any more, not even in a comment.
    pub fn remove_bare(&mut self, name: &str) {
        let sections = &self.outline.sections;
        let Some(index) = sections.iter().position(|section| section.path() == [name]) else {
            return;
        };
        let span = Span::new(self.section_start(index), self.section_end(index));
        if sections[index].entries.is_empty() && !self.slice(span).contains('#') {
            self.remove(&[name]);
        }
    }

    /// A section with the comments above it, and the smaller of the gaps around it. Comments below its
    /// last statement stay: who knows whether they are about what comes next.
    fn whole_section(&self, index: usize) -> Span {
        let mut start = self.section_start(index);
        let mut end = self.statements_end(index);
        let mut after = end;
        while after < self.text.len() && self.line(after).is_empty() {
            after = self.line_end(after);
        }
        let mut before = start;
        while before > self.first() && self.ends_empty(before) {
            before = self.line_start(before - 1);
        }
        let breaks = |from: usize, to: usize| self.text[from..to].matches('\n').count();
        if after < self.text.len() && breaks(end, after) < breaks(before, start) {
            end = after;
        } else if before > self.first() {
            start = before;
        } else {
            end = after;
        }
        Span::new(start, end)
    }

    fn whole_entry(&self, found: &Found<'_>) -> Span {
        let span = found.entry.span();
        let Some(table) = found.inside else {
            let section = &self.outline.sections[found.section];
            let ends = section.entries.iter().map(|entry| entry.value.span.end);
            let above = ends.take_while(|end| *end <= span.start).last();
            let above = above.or(section.header.as_ref().map(|header| header.span.end));
            let floor = above.map_or(self.floor(found.section), |end| self.line_end(end));
            let start = self.with_comments(span.start, floor);
            return Span::new(start, self.line_end(span.end));
        };
        let Form::Table(entries) = &table.form else { return span };
        let index = entries.iter().position(|e| e.span() == span).unwrap_or(0);
        match (entries.get(index + 1), index.checked_sub(1)) {
            (Some(next), _) => span.up_to(next.span()),
            (None, Some(before)) => entries[before].span().after_to(span),
            (None, None) => span,
        }
    }

    /// Gives the last key of `path` another name, wherever it is written.
    pub fn key_splices(&self, path: &[&str], new: &str) -> Vec<Splice> {
        let last = path.len() - 1;
        let headers = self.outline.sections.iter().filter_map(|section| {
            let keys = &section.header.as_ref()?.keys;
            section.path().starts_with(path).then(|| keys[last].span)
        });
        let entries = self.outline.entries();
        let keys = entries.iter().filter(|f| f.defines(path)).map(|f| f.key_of(path).span);
        headers.chain(keys).map(|span| (span, self.renamed(span, new))).collect()
    }

    /// `new` in the quotes of what it replaces.
    pub fn renamed(&self, span: Span, new: &str) -> String {
        match self.slice(span).chars().next() {
            Some(quote @ ('"' | '\'')) => format!("{quote}{new}{quote}"),
            _ => new.to_owned(),
        }
    }
}

/// A text with a new one in the place of each stretch.
pub(super) fn spliced(old: &str, mut splices: Vec<Splice>) -> String {
    splices.sort_by_key(|(span, _)| *span);
    let mut text = String::with_capacity(old.len() + 64);
    let mut at = 0;
    for (span, new) in splices {
        // What lies in a stretch that is gone already is gone with it.
        let start = span.start.max(at);
        text.push_str(&old[at..start]);
        text.push_str(&new);
        at = span.end.max(start);
    }
    text.push_str(&old[at..]);
    text
}

/// What a new entry goes beside.
pub(super) struct Beside {
    pub span: Span,
    pub is_inline: bool,
}

impl From<Found<'_>> for Beside {
    fn from(found: Found<'_>) -> Self {
        Self { span: found.entry.span(), is_inline: found.inside.is_some() }
    }
}
