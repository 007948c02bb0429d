//! Where in a TOML text a place is, also while it is being written and is no sound TOML.

use harmonym_lang::source::Span;

/// A place in a TOML text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Place {
    /// The keys that lead to the table in which it stands.
    pub table: Vec<String>,
    pub at: At,
}

/// What stands at a place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum At {
    /// A header `[a.b|`: the keys before the one that is being written, and where that begins.
    Header(Vec<String>, usize),
    /// A key: the keys before it in the same line (`bind.`), and where it begins.
    Key(Vec<String>, usize),
    /// A value of a key, or an item of its list.
    Value {
        /// The keys from the table to the value.
        keys: Vec<String>,
        /// Of a string, what stands between its quotes; `None` outside of one.
        string: Option<Text>,
        /// Where it begins, its quote included.
        start: usize,
        /// Whether it is an item of a list.
        in_list: bool,
    },
    /// A comment, or nothing that words could be put to.
    Elsewhere,
}

/// A string of a TOML text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Text {
    /// Where its content begins.
    pub start: usize,
    /// The quotes at each end.
    pub quotes: usize,
    /// Whether it has no escapes.
    pub literal: bool,
}

/// Finds out where `offset` is.
pub(super) fn place(text: &str, offset: usize) -> Place {
    let offset = text.floor_char_boundary(offset.min(text.len()));
    let mut scan = Scan { text, bytes: text.as_bytes(), i: 0, offset, table: Vec::new() };
    let at = scan.top().unwrap_or(At::Elsewhere);
    Place { table: scan.table, at }
}

/// The content of the string in which a place is, up to where it ends or the line does.
pub(super) fn content(text: &str, string: Text) -> Span {
    let mut i = string.start;
    let bytes = text.as_bytes();
    let quote = bytes[string.start - 1];
    while i < bytes.len() {
        match bytes[i] {
            b'\\' if !string.literal => i += 1,
            byte if byte == quote && is_closed(bytes, i, string.quotes) => break,
            b'\n' | b'\r' if string.quotes == 1 => break,
            _ => {}
        }
        i += 1;
    }
    Span::new(string.start, i.min(text.len()))
}

fn is_closed(bytes: &[u8], at: usize, quotes: usize) -> bool {
    bytes[at..].iter().take_while(|byte| **byte == bytes[at]).count() >= quotes
}

struct Scan<'t> {
    text: &'t str,
    bytes: &'t [u8],
    i: usize,
    offset: usize,
    table: Vec<String>,
}

impl Scan<'_> {
    fn peek(&self) -> u8 {
        self.bytes.get(self.i).copied().unwrap_or(0)
    }

    /// Whether the place is here or was passed.
    fn is_there(&self) -> bool {
        self.i >= self.offset
    }

    fn skip_blanks(&mut self) {
        while matches!(self.peek(), b' ' | b'\t') && !self.is_there() {
            self.i += 1;
        }
    }

    fn skip_line(&mut self) {
        let rest = &self.text[self.i..];
        self.i += rest.find('\n').map_or(rest.len(), |at| at + 1);
    }

    /// Statement by statement, up to the place.
    fn top(&mut self) -> Option<At> {
        if self.text.starts_with('\u{feff}') {
            self.i = '\u{feff}'.len_utf8();
        }
        loop {
            self.skip_blanks();
            if self.is_there() {
                return Some(At::Key(Vec::new(), self.offset));
            }
            match self.peek() {
                b'\n' | b'\r' => self.i += 1,
                b'#' => {
                    self.skip_line();
                    if self.i > self.offset {
                        return Some(At::Elsewhere);
                    }
                }
                b'[' => {
                    if let Some(at) = self.header() {
                        return Some(at);
                    }
                }
                _ => {
                    if let Some(at) = self.entry(&[], b"\n") {
                        return Some(at);
                    }
                    self.skip_rest();
                    if self.i > self.offset {
                        return Some(At::Elsewhere);
                    }
                }
            }
        }
    }

    /// What is left of a line, but for one that has only begun.
    fn skip_rest(&mut self) {
        if self.peek() != b'\n' && self.peek_before() != b'\n' {
            self.skip_line();
        }
    }

    fn header(&mut self) -> Option<At> {
        while self.peek() == b'[' && !self.is_there() {
            self.i += 1;
        }
        let (keys, begun) = self.keys(b"]\n\r#");
        if self.is_there() && self.peek_before() != b']' {
            let (keys, start) = unfinished(keys, begun);
            return Some(At::Header(keys, start));
        }
        self.table = keys;
        let before = self.i;
        self.skip_line();
        (self.i > self.offset && before <= self.offset).then_some(At::Elsewhere)
    }

    fn peek_before(&self) -> u8 {
        self.i.checked_sub(1).map_or(0, |before| self.bytes[before])
    }

    /// Keys parted by dots, up to one of `stop` or the place; and where the last one begins.
    fn keys(&mut self, stop: &[u8]) -> (Vec<String>, usize) {
        let mut keys = vec![String::new()];
        let mut begun = self.i;
        let mut quote = None;
        while self.i < self.bytes.len() && !self.is_there() {
            let byte = self.peek();
            let is_quoted = quote.is_some() && !matches!(byte, b'\n' | b'\r');
            if stop.contains(&byte) && !is_quoted {
                if byte == b']' {
                    self.i += 1;
                }
                break;
            }
            match byte {
                b'.' if !is_quoted => {
                    keys.push(String::new());
                    begun = self.i + 1;
                }
                b'"' | b'\'' => match quote {
                    Some(open) if open == byte => quote = None,
                    None => quote = Some(byte),
                    Some(_) => {}
                },
                b' ' | b'\t' => {}
                _ => {
                    let letter = self.text[self.i..].chars().next().unwrap_or(' ');
                    if let Some(last) = keys.last_mut() {
                        last.push(letter);
                    }
                    self.i += letter.len_utf8() - 1;
                }
            }
            self.i += 1;
        }
        (keys, begun)
    }

    /// `key = value`, up to one of `ends`.
    fn entry(&mut self, before: &[String], ends: &[u8]) -> Option<At> {
        let mut stop = vec![b'='];
        stop.extend(ends);
        stop.extend([b'\n', b'#']);
        let (own, begun) = self.keys(&stop);
        let keys: Vec<String> = before.iter().cloned().chain(own).collect();
        if self.is_there() && self.peek_before() != b'=' {
            let (keys, start) = unfinished(keys, begun);
            return Some(At::Key(keys, start));
        }
        if self.peek() != b'=' {
            return None;
        }
        self.i += 1;
        self.value(&keys, false)
    }

    fn value(&mut self, keys: &[String], in_list: bool) -> Option<At> {
        self.skip_blanks();
        let start = self.i;
        let value = |string, start| At::Value { keys: keys.to_vec(), string, start, in_list };
        if self.is_there() {
            return Some(value(None, self.offset));
        }
        match self.peek() {
            quote @ (b'"' | b'\'') => {
                let quotes = if is_closed(self.bytes, self.i, 3) { 3 } else { 1 };
                self.i += quotes;
                let string = Text { start: self.i, quotes, literal: quote == b'\'' };
                let content = content(self.text, string);
                // The place right before the first quote is not in the string.
                if self.offset >= content.start && self.offset <= content.end {
                    return Some(value(Some(string), start));
                }
                self.i = (content.end + quotes).min(self.text.len());
                None
            }
            b'[' => self.list(keys),
            b'{' => self.inline_table(keys),
            _ => {
                while !matches!(self.peek(), 0 | b',' | b']' | b'}' | b'\n' | b'\r' | b'#') {
                    self.i += 1;
                    if self.is_there() {
                        return Some(value(None, start));
                    }
                }
                None
            }
        }
    }

    fn list(&mut self, keys: &[String]) -> Option<At> {
        let here =
            |offset| At::Value { keys: keys.to_vec(), string: None, start: offset, in_list: true };
        self.items(b']', here, |scan| scan.value(keys, true))
    }

    fn inline_table(&mut self, keys: &[String]) -> Option<At> {
        let here = |offset| At::Key(keys.to_vec(), offset);
        self.items(b'}', here, |scan| scan.entry(keys, b",}"))
    }

    /// Items parted by commas, up to `close`; `here` is what stands between them.
    fn items(
        &mut self,
        close: u8,
        here: impl Fn(usize) -> At,
        item: impl Fn(&mut Self) -> Option<At>,
    ) -> Option<At> {
        self.i += 1;
        loop {
            if self.skip_space() {
                return None;
            }
            if self.is_there() {
                return Some(here(self.offset));
            }
            match self.peek() {
                byte if byte == close => {
                    self.i += 1;
                    return None;
                }
                b',' => self.i += 1,
                0 => return None,
                _ => {
                    let before = self.i;
                    if let Some(at) = item(self) {
                        return Some(at);
                    }
                    self.i += usize::from(self.i == before);
                }
            }
        }
    }

    /// Steps over blanks, line breaks and comments of a list. Whether the next line begins something
    /// else, so that the list was never closed; or the place is in a comment.
    fn skip_space(&mut self) -> bool {
        while !self.is_there() {
            match self.peek() {
                b' ' | b'\t' | b'\r' => self.i += 1,
                b'#' => {
                    let rest = &self.text[self.i..];
                    let end = self.i + rest.find('\n').unwrap_or(rest.len());
                    if self.offset > self.i && self.offset <= end {
                        self.i = self.text.len();
                        return true;
                    }
                    self.i = end;
                }
                b'\n' => {
                    self.i += 1;
                    if self.begins_statement() {
                        return true;
                    }
                }
                _ => break,
            }
        }
        false
    }

    /// Whether a line begins with a header or a key.
    fn begins_statement(&self) -> bool {
        let rest = self.text[self.i..].lines().next().unwrap_or_default().trim_start();
        let is_key = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '_' | '.');
        let key = rest.trim_start_matches(is_key);
        rest.starts_with('[') || (key.len() < rest.len() && key.trim_start().starts_with('='))
    }
}

/// Keys without the last one, which is being written, and where that begins.
fn unfinished(mut keys: Vec<String>, begun: usize) -> (Vec<String>, usize) {
    keys.pop();
    (keys, begun)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The place of `|` in a text.
    fn at(text: &str) -> (Vec<String>, At) {
        let offset = text.find('|').unwrap();
        let place = place(&text.replacen('|', "", 1), offset);
        (place.table, place.at)
    }

    fn keys(text: &str) -> (String, String, bool) {
        let (table, at) = at(text);
        match at {
            At::Value { keys, string, .. } => (table.join("."), keys.join("."), string.is_some()),
            other => panic!("{text}: {other:?}"),
        }
    }

    #[test]
    fn a_place_is_found_in_headers_keys_and_values() {
        assert!(matches!(at("[map.qu|"), (_, At::Header(keys, 5)) if keys == ["map"]));
        assert!(matches!(at("\u{feff}[|]\n"), (_, At::Header(keys, 4)) if keys.is_empty()));
        assert!(
            matches!(at("[map.quay]\nfi|\n"), (t, At::Key(keys, 11)) if keys.is_empty() && t == ["map", "quay"])
        );
        assert!(matches!(at("[a.b]\r\nbind.|"), (_, At::Key(keys, 12)) if keys == ["bind"]));
        assert!(matches!(at("a = 1 # comm|ent\n"), (_, At::Elsewhere)));
        assert!(matches!(at("# |\n[a]"), (_, At::Elsewhere)));
        assert!(matches!(at("[a]|\nb = 1"), (_, At::Elsewhere)));
        assert!(matches!(at("a = { from = \"x\", re| }"), (_, At::Key(keys, _)) if keys == ["a"]));
        for (text, table, path, in_string) in [
            ("[map.quay.walk]\nbind.pad = \"pad.le|\"", "map.quay.walk", "bind.pad", true),
            ("[a]\nb = \"x|", "a", "b", true),
            ("[a]\nb = \"x|\nc = 1\n", "a", "b", true),
            ("[a]\nb = |\n", "a", "b", false),
            ("[a]\nb =|", "a", "b", false),
            ("[a]\nb = tr|ue", "a", "b", false),
            ("b = [\"x\", \"y|\"]", "", "b", true),
            ("b = [\n  \"x\",\n  |\n]\n", "", "b", false),
            ("b = [\n  \"x\",\n[a]\nc = \"|\"", "a", "c", true),
            ("b = [\"x\",\nc = '|'", "", "c", true),
            ("b = { from = \"k|\" }", "", "b.from", true),
            ("b = \"🦀\\\"|\"", "", "b", true),
            ("b = \"\"\"one\n|two\"\"\"\n", "", "b", true),
            ("[a] # [b]\nc = \"#\"\nd = \"|\"", "a", "d", true),
            ("b.c = { pad = [\"|\"] }", "", "b.c.pad", true),
            ("[replace.\"q.w@d\"]\n\"key.A\" = \"|\"", "replace.q.w@d", "key.A", true),
        ] {
            assert_eq!(keys(text), (table.to_owned(), path.to_owned(), in_string), "{text}");
        }
    }

    #[test]
    fn no_text_and_no_place_breaks_it() {
        let text = "\u{feff}harmonym = 1\r\n[map.\"q\\\"u\".walk]\nbind = { pad = [\"a|b\", '''c\n''' ] \
                    # [\nx = \"🦀\" }\n]]=\"\n[";
        for cut in 0..=text.len() {
            let cut = text.floor_char_boundary(cut);
            for offset in 0..=cut {
                place(&text[..cut], offset);
                place(&text[cut..], offset);
            }
        }
    }
}
