//! Places of a text as an editor counts them: lines from 0, and columns in bytes, UTF-16 units or characters.

use harmonym_lang::source::Span;
use lsp_types::{Position, PositionEncodingKind, Range};

/// What columns count.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Encoding {
    Utf8,
    Utf16,
    Utf32,
}

impl Encoding {
    pub fn kind(self) -> PositionEncodingKind {
        match self {
            Self::Utf8 => PositionEncodingKind::UTF8,
            Self::Utf16 => PositionEncodingKind::UTF16,
            Self::Utf32 => PositionEncodingKind::UTF32,
        }
    }

    fn width(self, c: char) -> u32 {
        match self {
            Self::Utf8 => c.len_utf8() as u32,
            Self::Utf16 => c.len_utf16() as u32,
            Self::Utf32 => 1,
        }
    }
}

/// Where the lines of a text begin: behind `\n`, `\r\n` and `\r`.
#[derive(Clone, Debug)]
pub struct Lines {
    starts: Vec<usize>,
    encoding: Encoding,
}

impl Lines {
    pub fn new(text: &str, encoding: Encoding) -> Self {
        let bytes = text.as_bytes();
        let ends = bytes.iter().enumerate().filter(|(at, byte)| match byte {
            b'\n' => true,
            b'\r' => bytes.get(at + 1) != Some(&b'\n'),
            _ => false,
        });
        let starts = std::iter::once(0).chain(ends.map(|(at, _)| at + 1)).collect();
        Self { starts, encoding }
    }

    /// The byte at a position; what lies behind a line is its end, what lies behind the text the end of that.
    pub fn offset(&self, text: &str, position: Position) -> usize {
        let line = position.line as usize;
        let Some(&start) = self.starts.get(line) else { return text.len() };
        let end = self.starts.get(line + 1).copied().unwrap_or(text.len());
        let mut column = 0;
        for (at, c) in text[start..end].char_indices() {
            if column >= position.character || matches!(c, '\n' | '\r') {
                return start + at;
            }
            column += self.encoding.width(c);
        }
        end
    }

    pub fn position(&self, text: &str, offset: usize) -> Position {
        let offset = text.floor_char_boundary(offset.min(text.len()));
        let line = self.starts.partition_point(|start| *start <= offset).saturating_sub(1);
        let before = &text[self.starts[line]..offset];
        let character = before.chars().map(|c| self.encoding.width(c)).sum();
        Position { line: line as u32, character }
    }

    pub fn range(&self, text: &str, span: Span) -> Range {
        Range { start: self.position(text, span.start), end: self.position(text, span.end) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn places_are_right_for_all_of_unicode_and_every_line_break() {
        let text = "\u{feff}a🦀ü\r\nb\rc\n\n🦀";
        for encoding in [Encoding::Utf8, Encoding::Utf16, Encoding::Utf32] {
            let lines = Lines::new(text, encoding);
            for (at, c) in text.char_indices().filter(|(_, c)| !matches!(c, '\r' | '\n')) {
                assert_eq!(lines.offset(text, lines.position(text, at)), at, "{c:?} {encoding:?}");
            }
            let end = lines.position(text, text.len());
            assert_eq!((end.line, lines.offset(text, end)), (4, text.len()));
            let far = |line, character| lines.offset(text, Position { line, character });
            assert_eq!((far(0, 99), far(9, 0)), (text.find('\r').unwrap(), text.len()));
        }
        let column =
            |encoding| Lines::new(text, encoding).position(text, text.find('ü').unwrap()).character;
        assert_eq!([Encoding::Utf8, Encoding::Utf16, Encoding::Utf32].map(column), [8, 4, 3]);
        // The middle of a character that takes two units is its beginning or its end.
        let lines = Lines::new("🦀", Encoding::Utf16);
        assert_eq!(lines.offset("🦀", Position { line: 0, character: 1 }), 4);
    }
}
