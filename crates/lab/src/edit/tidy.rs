//! The canonical form of a profile: expressions and layout. Comments and order stay.

use super::Draft;
use super::outline::{Entry, Form, Node, Outline, quote};
use super::text::Splice;
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Quoted, Span};
use harmonym_lang::syntax;

impl Draft {
    /// Brings expressions and layout into canonical form: one space around `=` and `|` and after
    /// commas, nothing before keys, one empty line between sections, no space at the ends of
    /// lines, a line break at the end of the file.
    pub fn tidy(&mut self) {
        let mut splices = Vec::new();
        self.tidy_expressions(&mut splices);
        self.text.splice(splices);
        let mut splices = Vec::new();
        for section in &self.text.outline.sections {
            if let Some(header) = &section.header {
                self.at_line_start(header.span.start, &mut splices);
                let keys: Vec<&str> =
                    header.keys.iter().map(|key| self.text.slice(key.span)).collect();
                splices.push((header.span, format!("[{}]", keys.join("."))));
                self.comment_after(header.span.end, &mut splices);
            }
            for entry in &section.entries {
                self.at_line_start(entry.span().start, &mut splices);
                self.entry(entry, &mut splices);
                self.comment_after(entry.value.span.end, &mut splices);
            }
        }
        self.text.splice(splices);
        let lines = self.tidy_lines();
        self.text.splice(lines);
        self.read();
    }

    /// Every expression as its tree prints.
    fn tidy_expressions(&self, splices: &mut Vec<Splice>) {
        let mut print = |text: &Quoted, printed: Option<String>| {
            let old = self.text.slice(text.span());
            // A text over several lines is laid out on purpose.
            if let Some(printed) = printed.filter(|new| new != text.value() && !old.contains('\n'))
            {
                splices.push((text.span(), quote(&printed, Some(old))));
            }
        };
        let binding = |text: &Quoted| {
            syntax::parse_binding(text, &mut Diagnostics::new()).map(|tree| tree.to_string())
        };
        let steps = |text: &Quoted| {
            syntax::parse_steps(text, &mut Diagnostics::new())
                .map(|steps| syntax::print_steps(&steps))
        };
        let fire = |text: &Quoted| {
            syntax::parse_fire(text, &mut Diagnostics::new()).map(|tree| tree.to_string())
        };
        for preset in &self.raw.presets {
            print(&preset.steps, steps(&preset.steps));
        }
        for action in self.raw.maps.iter().flat_map(|map| &map.actions) {
            for one in action.binds.iter().flat_map(|(_, list)| list) {
                print(&one.from, binding(&one.from));
            }
            if let Some(shape) = &action.shape {
                print(shape, steps(shape));
            }
            if let Some(rule) = &action.fire {
                print(rule, fire(rule));
            }
        }
    }

    /// No space before a statement.
    fn at_line_start(&self, at: usize, splices: &mut Vec<Splice>) {
        let indent = self.text.indent(at).len();
        splices.push((Span::new(at - indent, at), String::new()));
    }

    /// `key.key = value`.
    fn entry(&self, entry: &Entry, splices: &mut Vec<Splice>) {
        for pair in entry.keys.windows(2) {
            splices.push((Span::new(pair[0].span.end, pair[1].span.start), ".".to_owned()));
        }
        if let Some(last) = entry.keys.last() {
            splices.push((Span::new(last.span.end, entry.value.span.start), " = ".to_owned()));
        }
        self.node(&entry.value, splices);
    }

    /// Lists and braces on one line; those over several lines stay as they are laid out.
    fn node(&self, node: &Node, splices: &mut Vec<Splice>) {
        let (inner, edge): (Vec<Span>, &str) = match &node.form {
            Form::Scalar => return,
            Form::Array(items) => (items.iter().map(|item| item.span).collect(), ""),
            Form::Table(entries) => (entries.iter().map(Entry::span).collect(), " "),
        };
        if self.text.slice(node.span).contains('\n') {
            return;
        }
        if let (Some(first), Some(last)) = (inner.first(), inner.last()) {
            splices.push((Span::new(node.span.start + 1, first.start), edge.to_owned()));
            for pair in inner.windows(2) {
                splices.push((Span::new(pair[0].end, pair[1].start), ", ".to_owned()));
            }
            splices.push((Span::new(last.end, node.span.end - 1), edge.to_owned()));
        }
        match &node.form {
            Form::Array(items) => items.iter().for_each(|item| self.node(item, splices)),
            Form::Table(entries) => entries.iter().for_each(|entry| self.entry(entry, splices)),
            Form::Scalar => {}
        }
    }

    /// Two spaces at most before a comment behind a statement, one at least.
    fn comment_after(&self, at: usize, splices: &mut Vec<Splice>) {
        let end = self.text.line_end(at);
        let rest = &self.text()[at..end];
        let space = rest.len() - rest.trim_start_matches([' ', '\t']).len();
        if rest[space..].starts_with('#') && space == 0 {
            splices.push((Span::new(at, at), " ".to_owned()));
        }
    }

    /// Empty lines and the ends of lines. Texts over several lines are left alone.
    fn tidy_lines(&self) -> Vec<Splice> {
        let text = self.text();
        let texts = long_texts(&self.text.outline, text);
        let inside = |at: usize| texts.iter().any(|span| span.start < at && at < span.end);
        let headers: Vec<usize> = (1..self.text.outline.sections.len())
            .map(|index| self.text.section_start(index))
            .collect();
        let mut splices = Vec::new();
        let (mut at, mut empty) = (0, 0_usize);
        let mut had_any = false;
        let mut empty_from = 0;
        while at < text.len() {
            let end = self.text.line_end(at);
            let line = &text[at..end];
            let kept = line.trim_end().len();
            let broken = line.trim_end_matches(['\n', '\r']).len();
            if kept < broken && !inside(at + broken) {
                splices.push((Span::new(at + kept, at + broken), String::new()));
            }
            if kept == 0 && !inside(at) {
                if empty == 0 {
                    empty_from = at;
                }
                empty += 1;
            } else {
                // One empty line is kept as it is; before a section there is one, if anything is.
                let wants = usize::from(had_any && (empty > 0 || headers.contains(&at)));
                if empty != wants {
                    let breaks = self.text.newline.repeat(wants);
                    let from = if empty == 0 { at } else { empty_from };
                    splices.push((Span::new(from, at), breaks));
                }
                empty = 0;
                had_any = true;
            }
            at = end;
        }
        if empty > 0 {
            splices.push((Span::new(empty_from, text.len()), String::new()));
        } else if had_any && !text.ends_with('\n') {
            splices.push((Span::new(text.len(), text.len()), self.text.newline.to_owned()));
        }
        splices
    }
}

/// The values that go over several lines and are texts.
fn long_texts(outline: &Outline, text: &str) -> Vec<Span> {
    fn gather(node: &Node, text: &str, all: &mut Vec<Span>) {
        match &node.form {
            Form::Scalar if text[node.span.start..node.span.end].contains('\n') => {
                all.push(node.span);
            }
            Form::Scalar => {}
            Form::Array(items) => items.iter().for_each(|item| gather(item, text, all)),
            Form::Table(entries) => entries.iter().for_each(|e| gather(&e.value, text, all)),
        }
    }
    let mut all = Vec::new();
    for entry in outline.sections.iter().flat_map(|section| &section.entries) {
        gather(&entry.value, text, &mut all);
    }
    all
}
