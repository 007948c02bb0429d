//! Bindings and steps.

use super::cursor::{Cursor, Parsed};
use super::lexer::TokenKind;
use super::tree::{Arg, ArgValue, Binding, Combination, Condition, Head, Part, Step};

/// `sum { "|" step }`
pub(super) fn binding(cursor: &mut Cursor<'_>) -> Parsed<Binding> {
    let head = sum(cursor)?;
    let steps = if cursor.take_mark('|') { steps(cursor)? } else { Vec::new() };
    let span = head.span().to(cursor.last_span());
    Ok(Binding { head, steps, span })
}

/// `step { "|" step }`
pub(super) fn steps(cursor: &mut Cursor<'_>) -> Parsed<Vec<Step>> {
    let mut steps = vec![step(cursor)?];
    while cursor.take_mark('|') {
        steps.push(step(cursor)?);
    }
    Ok(steps)
}

/// `atom { "+" atom }`
fn sum(cursor: &mut Cursor<'_>) -> Parsed<Head> {
    let first = atom(cursor)?;
    if !cursor.peek_mark('+') {
        return Ok(first);
    }
    let start = first.span();
    let mut parts = vec![first];
    while cursor.take_mark('+') {
        parts.push(atom(cursor)?);
    }
    Ok(Head::Sum(parts, start.to(cursor.last_span())))
}

/// `control | combination | "(" binding ")"`
fn atom(cursor: &mut Cursor<'_>) -> Parsed<Head> {
    if cursor.peek_mark('(') {
        let open = cursor.next();
        let mut inner = cursor.nested(binding)?;
        inner.span = open.span.to(cursor.expect_mark(')')?.span);
        return Ok(Head::Group(Box::new(inner)));
    }
    if cursor.peek_word().is_some() && cursor.then_mark('(') {
        return Ok(Head::Combination(cursor.nested(combination)?));
    }
    Ok(Head::Control(cursor.expect_word("a control such as `key.KeyT`")?))
}

/// `name "(" part { "," part } { "," option } ")"`
fn combination(cursor: &mut Cursor<'_>) -> Parsed<Combination> {
    let name = cursor.expect_word("a combination")?;
    cursor.expect_mark('(')?;
    let (mut parts, mut options) = (Vec::new(), Vec::new());
    loop {
        let is_option = matches!(cursor.peek_word(), Some("opposed" | "corner"));
        let name = match cursor.then_mark('=') {
            true => Some(cursor.expect_word("the name of a part")?),
            false => None,
        };
        match name {
            Some(name) if is_option => {
                cursor.expect_mark('=')?;
                options.push((name, cursor.expect_word("a word")?));
            }
            name => {
                if name.is_some() {
                    cursor.expect_mark('=')?;
                }
                parts.push(Part { name, binding: cursor.nested(binding)? });
            }
        }
        if !cursor.take_mark(',') {
            break;
        }
    }
    let close = cursor.expect_mark(')')?;
    let span = name.span.to(close.span);
    Ok(Combination { name, parts, options, span })
}

/// `name { argument } [ condition ]`, or `"@" preset [ condition ]`
fn step(cursor: &mut Cursor<'_>) -> Parsed<Step> {
    let start = cursor.peek().span;
    let is_preset = cursor.take_mark('@');
    let name = cursor.expect_word(if is_preset { "a preset's name" } else { "a step" })?;
    let args = if is_preset { Vec::new() } else { args(cursor, &["when", "unless"])? };
    let conditions = condition(cursor)?.into_iter().collect();
    Ok(Step { name, is_preset, args, conditions, span: start.to(cursor.last_span()) })
}

fn condition(cursor: &mut Cursor<'_>) -> Parsed<Option<Condition>> {
    let unless = match cursor.peek_word() {
        Some("when") => false,
        Some("unless") => true,
        _ => return Ok(None),
    };
    let start = cursor.next().span;
    let name = cursor.expect_word("the name of a setting or fact")?;
    Ok(Some(Condition { span: start.to(name.span), name, unless }))
}

/// Numbers, words, points and `name=value`, up to one of `stop` or a mark.
pub(super) fn args(cursor: &mut Cursor<'_>, stop: &[&str]) -> Parsed<Vec<Arg>> {
    let mut args = Vec::new();
    loop {
        let start = cursor.peek().span;
        let name = match cursor.peek_word() {
            Some(word) if stop.contains(&word) => return Ok(args),
            Some(_) if cursor.then_mark('=') => {
                let name = cursor.expect_word("a name")?;
                cursor.expect_mark('=')?;
                Some(name)
            }
            _ => None,
        };
        let value = match cursor.peek().kind {
            TokenKind::Number(_) => ArgValue::Number(cursor.expect_number()?),
            TokenKind::Word(_) => ArgValue::Word(cursor.expect_word("a word")?),
            TokenKind::Mark('(') => point(cursor)?,
            _ if name.is_some() => return Err(cursor.unexpected("a value")),
            _ => return Ok(args),
        };
        args.push(Arg { name, value, span: start.to(cursor.last_span()) });
    }
}

/// `"(" number number ")"`
fn point(cursor: &mut Cursor<'_>) -> Parsed<ArgValue> {
    cursor.expect_mark('(')?;
    let mut numbers = vec![cursor.expect_number()?];
    while !cursor.peek_mark(')') {
        numbers.push(cursor.expect_number()?);
    }
    cursor.expect_mark(')')?;
    Ok(ArgValue::Point(numbers))
}
