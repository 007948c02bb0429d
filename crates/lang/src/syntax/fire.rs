//! Fire rules.

use super::binding::args;
use super::cursor::{Cursor, Parsed};
use super::tree::{Alternative, Fire, Guard, GuardWord, Word};

/// `alternative { "or" alternative }`
pub(super) fn fire(cursor: &mut Cursor<'_>) -> Parsed<Fire> {
    let mut alternatives = vec![alternative(cursor)?];
    while cursor.peek_word() == Some("or") {
        cursor.next();
        alternatives.push(alternative(cursor)?);
    }
    Ok(Fire { alternatives })
}

/// `cue { guard }`
fn alternative(cursor: &mut Cursor<'_>) -> Parsed<Alternative> {
    let (start, at) = (cursor.peek().span, cursor.value_start());
    let cue = cursor.expect_word("a cue")?;
    let list = if cursor.peek_mark('(') { Some(list(cursor)?) } else { None };
    let args = args(cursor, &["or", "with", "without", "when", "unless"])?;
    let (text, span) = (cursor.written_since(at), start.to(cursor.last_span()));
    let mut guards = Vec::new();
    while let Some(word) = cursor.peek_word().and_then(GuardWord::from_word) {
        let start = cursor.next().span;
        let name = cursor.expect_word(match word {
            GuardWord::With | GuardWord::Without => "an action",
            GuardWord::When | GuardWord::Unless => "the name of a setting or fact",
        })?;
        guards.push(Guard { word, span: start.to(name.span), name });
    }
    Ok(Alternative { cue, args, list, text, span, guards })
}

/// `"(" action { "," action } ")"`
fn list(cursor: &mut Cursor<'_>) -> Parsed<Vec<Word>> {
    cursor.expect_mark('(')?;
    let mut words = vec![cursor.expect_word("an action")?];
    while cursor.take_mark(',') {
        words.push(cursor.expect_word("an action")?);
    }
    cursor.expect_mark(')')?;
    Ok(words)
}
