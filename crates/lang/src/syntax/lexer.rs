//! Characters to tokens.

use super::tree::{Number, Unit, Word};
use crate::report::{Diagnostics, FaultKind};
use crate::source::{Quoted, Span};
use harmonym_runtime::base::{Decimal, Time};

/// One token, with its place in the file and in the string.
#[derive(Clone, Debug)]
pub(super) struct Token {
    pub kind: TokenKind,
    pub span: Span,
    /// Bytes of the string's value.
    pub at: Span,
}

#[derive(Clone, Debug)]
pub(super) enum TokenKind {
    Word(Word),
    Number(Number),
    /// One of `|+(),=@`.
    Mark(char),
    End,
}

/// The tokens of a text, closed by one `End`. `None` when some of it is no token at all.
pub(super) fn tokens(text: &Quoted, diagnostics: &mut Diagnostics) -> Option<Vec<Token>> {
    let mut lexer = Lexer { text, value: text.value(), at: 0, diagnostics };
    // Nearly every token is longer than three bytes, the space after it included.
    let mut tokens = Vec::with_capacity(lexer.value.len() / 4 + 2);
    let mut sound = true;
    loop {
        lexer.skip_space();
        let start = lexer.at;
        match lexer.token() {
            Some(kind) => {
                let is_end = matches!(kind, TokenKind::End);
                let at = Span::new(start, lexer.at);
                tokens.push(Token { kind, span: lexer.span(start), at });
                if is_end {
                    return sound.then_some(tokens);
                }
            }
            None => sound = false,
        }
    }
}

struct Lexer<'a> {
    text: &'a Quoted,
    value: &'a str,
    at: usize,
    diagnostics: &'a mut Diagnostics,
}

impl<'a> Lexer<'a> {
    fn rest(&self) -> &'a str {
        &self.value[self.at..]
    }

    fn span(&self, start: usize) -> Span {
        self.text.file_span(start, self.at)
    }

    fn skip_space(&mut self) {
        self.take_while(char::is_whitespace);
    }

    #[inline]
    fn take_while(&mut self, keep: impl Fn(char) -> bool) -> &'a str {
        let rest = self.rest();
        // Nearly all is ASCII, where a byte is a character.
        let is_kept = |byte: &u8| byte.is_ascii() && keep(char::from(*byte));
        let ascii = rest.bytes().position(|byte| !is_kept(&byte)).unwrap_or(rest.len());
        let end = match rest.as_bytes().get(ascii) {
            Some(byte) if !byte.is_ascii() => rest.find(|c| !keep(c)).unwrap_or(rest.len()),
            _ => ascii,
        };
        self.at += end;
        &rest[..end]
    }

    /// The next token; `None` after telling what is wrong with it and stepping over it.
    fn token(&mut self) -> Option<TokenKind> {
        let mut chars = self.rest().chars();
        let Some(first) = chars.next() else { return Some(TokenKind::End) };
        if first.is_alphabetic() {
            return Some(TokenKind::Word(self.word()));
        }
        let begins_number = |c: char| c.is_ascii_digit() || c == '.';
        if first.is_ascii_digit()
            || (matches!(first, '.' | '-') && chars.next().is_some_and(begins_number))
        {
            return Some(self.number());
        }
        let start = self.at;
        self.at += first.len_utf8();
        if matches!(first, '|' | '+' | '(' | ')' | ',' | '=' | '@') {
            return Some(TokenKind::Mark(first));
        }
        let (rule, span) = (FaultKind::Syntax, self.span(start));
        let message = format!("`{}` has no meaning in an expression", first.escape_debug());
        let help = match first {
            '[' | '{' => "combinations take parentheses: `pair(key.KeyA, key.KeyD)`",
            '&' => "controls held together are joined by `+`: `key.Shift + key.KeyT`",
            ';' => "steps are parted by `|`, parts by `,`",
            _ => "expressions hold controls, numbers, names and the marks | + ( ) , = @",
        };
        self.diagnostics.fault(rule, span, message, help);
        None
    }

    fn word(&mut self) -> Word {
        let (start, rest) = (self.at, self.rest());
        match typed(rest) {
            Some(length) => self.at += length,
            None => {
                self.take_while(|c| is_letter(c) || matches!(c, '-' | '_' | '.' | '#'));
            }
        }
        Word { text: self.value[start..self.at].to_owned(), span: self.span(start) }
    }

    fn number(&mut self) -> TokenKind {
        let start = self.at;
        self.at += usize::from(self.rest().starts_with('-'));
        self.take_while(|c| c.is_ascii_digit() || c == '.');
        let digits = &self.value[start..self.at];
        let unit = self.take_while(|c| is_letter(c) || matches!(c, '%' | '/' | '-' | '_' | '.'));
        let span = self.span(start);
        let (value, time, unit) = number(digits, unit).unwrap_or_else(|(rule, message, help)| {
            self.diagnostics.fault(rule, span, message, help);
            (0.0, None, Unit::Broken)
        });
        let text = self.value[start..self.at].to_owned();
        TokenKind::Number(Number { value, time, unit, text, span })
    }
}

/// How long `char.` is with the one character that follows it, whatever that is (`char.+`), if a text
/// begins so.
fn typed(text: &str) -> Option<usize> {
    let (number, after) = text.strip_prefix("char")?.split_once('.')?;
    let is_class = number.is_empty()
        || (number.starts_with('#') && number.chars().all(|c| is_letter(c) || c == '#'));
    is_class.then(|| "char.".len() + number.len() + after.chars().next().map_or(0, char::len_utf8))
}

/// A letter or digit of any script, found quickly for those of English.
#[inline]
fn is_letter(c: char) -> bool {
    c.is_ascii_alphanumeric() || (!c.is_ascii() && c.is_alphanumeric())
}

type Fault = (FaultKind, String, &'static str);

/// A number and its unit, in base units.
fn number(digits: &str, unit: &str) -> Result<(f64, Option<Time>, Unit), Fault> {
    let Some(decimal) = Decimal::parse(digits) else {
        let help = "a number has digits and at most one point: 0.4";
        return Err((FaultKind::Syntax, format!("`{digits}{unit}` is not a number"), help));
    };
    if let Some(power) = Time::power_of_unit(unit) {
        // A negative or endless time has no `Time`; whoever takes it says its range.
        let exponent = || format!("{digits}e{}", power - 9);
        let time = Time::from_decimal(decimal, power);
        let seconds = time.map_or_else(|| exponent().parse().unwrap_or(0.0), Time::seconds);
        return Ok((seconds, time, Unit::Time));
    }
    let parsed = |digits: &str| digits.parse::<f64>().unwrap_or(0.0);
    let (value, kind) = match unit {
        "" => (parsed(digits), Unit::Plain),
        "%" => (parsed(&format!("{digits}e-2")), Unit::Percent),
        "deg" => (parsed(digits).to_radians(), Unit::Angle),
        "rad" => (parsed(digits), Unit::Angle),
        "/s" => (parsed(digits), Unit::Rate),
        _ => {
            let help = "units are %, deg, rad, s, ms, us and /s; a minus needs a space before it";
            return Err((FaultKind::WrongUnit, format!("`{unit}` is not a unit"), help));
        }
    };
    if value.abs() > 1e15 {
        let help = "numbers lie within ±10^15";
        return Err((FaultKind::OutOfRange, format!("`{digits}{unit}` is out of range"), help));
    }
    Ok((value, None, kind))
}
