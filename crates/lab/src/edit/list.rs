//! Lists: one more item, another one, or one less; laid out as they are.

use super::outline::{Entry, Form, Node, quote};
use super::text::{Splice, Text, Value};
use harmonym_lang::source::Span;

impl Text {
    /// The list at `path` with one more text, or what is written there made a list.
    pub fn append(&mut self, path: &[&str], text: &str) {
        let Some(node) = self.outline.value(path) else {
            return self.put(path, &Value::Text(text.to_owned()));
        };
        let written = quote(text, None);
        let Form::Array(items) = &node.form else {
            let (start, end) = (node.span.start, node.span.end);
            let like = quote(text, Some(self.slice(node.span)));
            return self.splice(vec![
                (Span::new(start, start), "[".to_owned()),
                (Span::new(end, end), format!(", {like}]")),
            ]);
        };
        let Some(last) = items.last() else {
            // Apart from the brackets: taken away again, it leaves them.
            let at = node.span.start + 1;
            return self.splice(vec![(Span::new(at, at), format!(" {written} "))]);
        };
        let (end, close) = (last.span.end, node.span.end - 1);
        let rest = &self.text[end..close];
        let is_apart = self.text[node.span.start..last.span.start].contains('\n');
        let comma = first_comma(rest);
        if !is_apart {
            let at = comma.map_or(end, |i| end + i + 1);
            let new = match (comma, items.len()) {
                (Some(_), _) => format!(" {written},"),
                // A list of one is told from one binding that is no list yet.
                (None, 1) => format!(" , {written}"),
                (None, _) => format!(", {written}"),
            };
            return self.splice(vec![(Span::new(at, at), new)]);
        }
        // One a line: after the last one's line, with the commas as they are.
        let indent = self.indent(last.span.start).to_owned();
        let line_end = self.text[end..close].find('\n').map_or(end, |i| end + i);
        let line_end = line_end - usize::from(self.text[..line_end].ends_with('\r'));
        let mut splices = Vec::new();
        if comma.is_none() {
            splices.push((Span::new(end, end), ",".to_owned()));
        }
        let tail = if comma.is_some() { "," } else { "" };
        let line = format!("{}{indent}{written}{tail}", self.newline);
        let at = line_end.max(comma.map_or(end, |i| end + i + 1));
        splices.push((Span::new(at, at), line));
        self.splice(splices);
    }

    /// Puts another text in the place of item `index` of the list at `path`.
    pub fn set_item(&mut self, path: &[&str], index: usize, text: &str) {
        let Some(node) = self.outline.value(path) else { return };
        let item = match &node.form {
            Form::Array(items) => items.get(index),
            _ => Some(node),
        };
        // A binding with more to say holds its expression as `from`.
        let from = item.map(|item| match &item.form {
            Form::Table(entries) => {
                let from = |e: &&Entry| e.keys.first().is_some_and(|key| key.text == "from");
                entries.iter().find(from).map_or(item.span, |entry| entry.value.span)
            }
            _ => item.span,
        });
        let Some(span) = from else { return };
        let written = quote(text, Some(self.slice(span)));
        self.splice(vec![(span, written)]);
    }

    /// Takes item `index` out of the list at `path`; the whole key with the last one.
    pub fn drop_item(&mut self, path: &[&str], index: usize) {
        let node = self.outline.value(path);
        let items = match node.map(|node| &node.form) {
            Some(Form::Array(items)) if items.len() > 1 => items,
            _ => return self.remove(path),
        };
        let Some(item) = items.get(index) else { return };
        let mut gone = Vec::new();
        let span = match (items.get(index + 1), index.checked_sub(1).map(|i| &items[i])) {
            (Some(next), _) => self.item_line(item).unwrap_or(item.span.up_to(next.span)),
            (None, Some(before)) => {
                let close = node.map_or(item.span.end, |node| node.span.end - 1);
                let rest = &self.text[item.span.end..close];
                match first_comma(rest) {
                    Some(_) => self.item_line(item).unwrap_or(before.span.after_to(item.span)),
                    None => self.last_line(before, item, &mut gone),
                }
            }
            (None, None) => item.span,
        };
        gone.push((span, String::new()));
        self.splice(gone);
    }

    /// What goes with the last item of a list without a comma behind it: its line, where it stands
    /// on one of its own, and the comma before it, which is then in `gone`; what else is said in
    /// the line before stays.
    fn last_line(&self, before: &Node, item: &Node, gone: &mut Vec<Splice>) -> Span {
        let between = Span::new(before.span.end, item.span.start);
        let break_at = self.slice(between).rfind('\n').map(|at| between.start + at);
        let comma = first_comma(self.slice(between)).map(|at| between.start + at);
        let (Some(break_at), Some(comma)) = (break_at, comma) else {
            return before.span.after_to(item.span);
        };
        gone.push((Span::new(comma, comma + 1), String::new()));
        let line_end = self.text[item.span.end..].find(['\r', '\n']);
        let rest = Span::new(item.span.end, item.span.end + line_end.unwrap_or_default());
        let ends_line = self.slice(rest).trim_start();
        let end =
            if ends_line.is_empty() || ends_line.starts_with('#') { rest.end } else { rest.start };
        let start = break_at - usize::from(self.text[..break_at].ends_with('\r'));
        Span::new(start.max(comma + 1), end)
    }

    /// Takes item `index` out of the bindings at `path`: of two that [`Self::append`] made of one
    /// binding, the other stands plain again; one that it put into an empty list leaves that list.
    pub fn drop_binding(&mut self, path: &[&str], index: usize) {
        let node = self.outline.value(path);
        let Some((node, Form::Array(items))) = node.map(|node| (node, &node.form)) else {
            return self.drop_item(path, index);
        };
        let inside = Span::new(node.span.start + 1, node.span.end - 1);
        match items.as_slice() {
            [one] => {
                let own = Span::new(one.span.start - 1, (one.span.end + 1).min(inside.end));
                if own.start == inside.start
                    && self.slice(own) == format!(" {} ", self.slice(one.span))
                {
                    return self.splice(vec![(own, String::new())]);
                }
            }
            [first, second] => {
                let [one, other] = [first, second].map(|item| self.slice(item.span));
                if self.slice(inside) == format!("{one}, {other}") {
                    let left = if index == 0 { other } else { one }.to_owned();
                    return self.splice(vec![(node.span, left)]);
                }
            }
            _ => {}
        }
        self.drop_item(path, index);
    }

    /// The whole lines of an item that has them for itself.
    fn item_line(&self, item: &Node) -> Option<Span> {
        let start = self.line_start(item.span.start);
        let end = self.line_end(item.span.end);
        let after = self.text[item.span.end..end].trim_start().strip_prefix(',')?.trim_start();
        let alone = self.text[start..item.span.start].trim().is_empty()
            && (after.is_empty() || after.starts_with('#'));
        alone.then(|| Span::new(start, end))
    }
}

/// Where the first comma of a stretch between items is, comments left out.
fn first_comma(text: &str) -> Option<usize> {
    let mut in_comment = false;
    for (at, c) in text.char_indices() {
        match c {
            '#' => in_comment = true,
            '\n' => in_comment = false,
            ',' if !in_comment => return Some(at),
            _ => {}
        }
    }
    None
}
