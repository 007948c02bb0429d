//! From a position in what a TOML string says to the position in the file that says it.

use super::Span;

/// Maps the bytes of a TOML string's value onto the bytes of the file.
///
/// Escapes (`\u00e9`, `\"`), a line break right after the opening quotes and a line that ends
/// in a backslash make the value shorter than what is written.
#[derive(Clone, Debug)]
pub struct StringMap {
    start: usize,
    /// The units that are written otherwise than said, in order.
    escapes: Vec<Escape>,
}

/// `read` bytes of the file from `file` on say `said` bytes of the value from `value` on.
#[derive(Clone, Copy, Debug)]
struct Escape {
    value: usize,
    said: usize,
    file: usize,
    read: usize,
}

impl StringMap {
    /// Reads the written form of a string, quotes included, that stands at `span` of `file`.
    /// Without quotes it is taken to say what is written.
    pub fn new(file: &str, span: Span) -> Self {
        let written = file.get(span.start..span.end).unwrap_or_default();
        let Some(quote) = written.chars().next().filter(|c| matches!(c, '"' | '\'')) else {
            // Not a string at all: what a reader made of a broken line.
            return Self { start: span.start, escapes: Vec::new() };
        };
        let triple = if quote == '"' { "\"\"\"" } else { "'''" };
        let multi_line = written.len() >= 6 && written.starts_with(triple);
        let open = if multi_line { 3 } else { 1.min(written.len()) };
        let body_end = written.len().saturating_sub(open).max(open);
        let mut at = open;
        if multi_line {
            at += line_break(written, at);
        }
        let mut map = Self { start: span.start + at, escapes: Vec::new() };
        // Nearly every string says what is written.
        if !multi_line && !written.contains('\\') {
            return map;
        }
        let mut value = 0;
        while at < body_end {
            let (read, said) = unit(written, at, quote == '"');
            if read != said {
                map.escapes.push(Escape { value, said, file: span.start + at, read });
            }
            at += read;
            value += said;
        }
        map
    }

    /// The map of a text that stands by itself.
    pub fn bare() -> Self {
        Self { start: 0, escapes: Vec::new() }
    }

    /// Where in the file a stretch of the value stands.
    pub fn file_span(&self, span: Span) -> Span {
        let start = self.first_byte(span.start);
        let end = if span.end > span.start { self.byte_after(span.end) } else { start };
        Span::new(start, end.max(start))
    }

    /// Where the byte `at` of the value begins.
    fn first_byte(&self, at: usize) -> usize {
        let before = self.escapes.partition_point(|e| e.value + e.said <= at);
        match self.escapes.get(before) {
            Some(within) if within.value <= at => within.file,
            _ => self.after(before, at),
        }
    }

    /// Where what says the byte before `at` ends.
    fn byte_after(&self, at: usize) -> usize {
        let ends_before = |e: &Escape| e.value + e.said < at + usize::from(e.said > 0);
        self.after(self.escapes.partition_point(ends_before), at)
    }

    /// The byte of the file that stands for `at`, counted on from the end of the escape before.
    fn after(&self, escapes_before: usize, at: usize) -> usize {
        match escapes_before.checked_sub(1).and_then(|i| self.escapes.get(i)) {
            Some(e) => e.file + e.read + (at - (e.value + e.said)),
            None => self.start + at,
        }
    }
}

/// How many bytes the line break at `at` takes.
fn line_break(text: &str, at: usize) -> usize {
    match &text.as_bytes()[at.min(text.len())..] {
        [b'\r', b'\n', ..] => 2,
        [b'\n', ..] => 1,
        _ => 0,
    }
}

/// How many bytes of the written form the unit at `at` takes, and how many bytes it says.
fn unit(text: &str, at: usize, escapes: bool) -> (usize, usize) {
    let rest = &text[at..];
    if !(escapes && rest.starts_with('\\')) {
        let plain = rest.chars().next().map_or(1, char::len_utf8);
        return (plain, plain);
    }
    let code = |digits: usize| {
        let hex = rest.get(2..2 + digits).unwrap_or_default();
        let c = u32::from_str_radix(hex, 16).ok().and_then(char::from_u32);
        (2 + hex.len(), c.map_or(1, char::len_utf8))
    };
    match rest.as_bytes().get(1) {
        Some(b'u') => code(4),
        Some(b'U') => code(8),
        Some(b'x') => code(2),
        Some(b' ' | b'\t' | b'\r' | b'\n') => {
            (rest.len() - rest[1..].trim_start_matches([' ', '\t', '\r', '\n']).len(), 0)
        }
        Some(_) => (1 + rest[1..].chars().next().map_or(1, char::len_utf8), 1),
        None => (1, 1),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Each text is found in the value by `needle` and must be found at `written` in the file.
    #[test]
    fn places_in_strings_are_places_in_the_file() {
        for (file, needle, written) in [
            (r#"k = "key.Foo | x""#, "Foo", "Foo"),
            (r#"k = 'key.Foo\'"#, "Foo", "Foo"),
            (r#"k = "ä\té\u00e9 key.Foo""#, "Foo", "Foo"),
            (r#"k = "\U0001F600Foo""#, "Foo", "Foo"),
            (r#"k = "a\u0046oo b""#, "Foo", r"\u0046oo"),
            (r#"k = "aFo\u006f b""#, "Foo", r"Fo\u006f"),
            ("k = \"\"\"\r\nab\r\nFoo\"\"\"", "Foo", "Foo"),
            ("k = \"\"\"\n a \\\n   Foo b\"\"\"", "Foo", "Foo"),
            ("k = \"\"\"Foo \\\n   b\"\"\"", "Foo", "Foo"),
            ("k = '''\nä Foo'''", "Foo", "Foo"),
        ] {
            let start = file.find(['"', '\'']).unwrap();
            let value = value_of(file);
            let at = value.find(needle).expect(file);
            let map = StringMap::new(file, Span::new(start, file.len()));
            let span = map.file_span(Span::new(at, at + needle.len()));
            assert_eq!(&file[span.start..span.end], written, "{file}");
        }
    }

    fn value_of(file: &str) -> String {
        let table = toml::de::DeTable::parse(file).expect(file);
        table.get_ref().values().next().unwrap().get_ref().as_str().unwrap().to_owned()
    }
}
