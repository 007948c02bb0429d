//! A line of a score as words.

use harmonym_lang::report::{Diagnostic, Diagnostics, FaultKind};
use harmonym_lang::source::Span;

/// One word of a line.
#[derive(Clone, Copy, Debug)]
pub(super) struct Word<'t> {
    /// The word; of a text in quotes, what is between them.
    pub text: &'t str,
    pub span: Span,
    pub is_quoted: bool,
}

/// The words of a line that starts at byte `start`: what space, quotes, parentheses, commas and
/// equal signs part, up to a comment. `None` after telling what is wrong.
pub(super) fn words<'t>(
    line: &'t str,
    start: usize,
    diagnostics: &mut Diagnostics,
) -> Option<Vec<Word<'t>>> {
    let mut words = Vec::new();
    let mut at = 0;
    while let Some(c) = line[at..].chars().next() {
        let span = |from: usize, to: usize| Span::new(start + from, start + to);
        let after_space = at == 0 || line[..at].ends_with(char::is_whitespace);
        if c.is_whitespace() {
            at += c.len_utf8();
        } else if c == '#' && after_space {
            break;
        } else if c == '"' {
            let Some(len) = line[at + 1..].find('"') else {
                let message = "the text has no closing quote";
                let finding = Diagnostic::fault(
                    FaultKind::Syntax,
                    span(at, line.len()),
                    message,
                    "write `\"` at its end",
                );
                diagnostics.push(finding);
                return None;
            };
            let end = at + len + 2;
            let text = &line[at + 1..end - 1];
            words.push(Word { text, span: span(at, end), is_quoted: true });
            at = end;
        } else {
            let is_mark = |c: char| matches!(c, '(' | ')' | ',' | '=');
            let len = match is_mark(c) {
                true => 1,
                false => {
                    let ends = |c: char| c.is_whitespace() || c == '"' || is_mark(c);
                    let named = typed_by(&line[at..]);
                    let rest = &line[at + named..];
                    named + rest.find(ends).unwrap_or(rest.len())
                }
            };
            words.push(Word {
                text: &line[at..at + len],
                span: span(at, at + len),
                is_quoted: false,
            });
            at += len;
        }
    }
    Some(words)
}

/// How long `char.` and the character behind it are, whatever that is, if the word begins so.
fn typed_by(word: &str) -> usize {
    let Some((class, rest)) = word.split_once('.') else { return 0 };
    let is_char = class == "char" || class.starts_with("char#");
    let typed = rest.chars().next().filter(|c| is_char && !c.is_whitespace());
    typed.map_or(0, |c| class.len() + 1 + c.len_utf8())
}
