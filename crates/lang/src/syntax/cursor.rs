//! The place in the tokens that a parse has come to.

use super::lexer::{Token, TokenKind, tokens};
use super::tree::{Number, Word};
use crate::report::{Diagnostic, Diagnostics, FaultKind};
use crate::source::{Quoted, Span};

/// Deeper nesting than this is refused, so that no text can exhaust the stack.
const MAX_DEPTH: usize = 40;

/// A fault of form was found and told; the rest of the text is left unread.
pub(super) struct Broken;

pub(super) type Parsed<T> = Result<T, Broken>;

/// What a text holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Holds {
    Binding,
    Steps,
    Fire,
}

impl Holds {
    /// What to write where nothing is written.
    const fn wanted(self) -> &'static str {
        match self {
            Self::Binding => "a binding such as \"key.KeyT\"",
            Self::Steps => "a step such as \"deadzone 0.1\"",
            Self::Fire => "a cue such as \"press\"",
        }
    }

    /// How what stands here goes on, where something else follows that does not belong to it.
    const fn goes_on(self, follows: &TokenKind) -> Option<&'static str> {
        match (self, follows) {
            (Self::Fire, _) => Some("cues are joined by `or`: `tap 0.2s or hold 0.8s`"),
            (Self::Binding, TokenKind::Mark(',')) => {
                Some("several bindings are a list: `[\"key.KeyA\", \"key.KeyB\"]`")
            }
            (Self::Binding, TokenKind::Word(_)) => Some(
                "steps are parted by `|`, as in `pad.left-stick | deadzone 0.1`; a control is one \
                 word, and `harmonym controls left stick` finds it by several",
            ),
            (_, TokenKind::Number(_) | TokenKind::Word(_) | TokenKind::Mark(',')) => {
                Some("steps are parted by `|`, as in `pad.left-stick | deadzone 0.1`")
            }
            (_, TokenKind::Mark('(')) => {
                Some("numbers stand behind a space, without parentheses: `deadzone 0.1`")
            }
            _ => None,
        }
    }
}

pub(super) struct Cursor<'a> {
    text: &'a Quoted,
    holds: Holds,
    tokens: Option<Vec<Token>>,
    at: usize,
    depth: usize,
    diagnostics: &'a mut Diagnostics,
}

impl<'a> Cursor<'a> {
    pub fn new(text: &'a Quoted, holds: Holds, diagnostics: &'a mut Diagnostics) -> Self {
        let tokens = tokens(text, diagnostics);
        Self { text, holds, tokens, at: 0, depth: 0, diagnostics }
    }

    /// Parses all of the text.
    pub fn whole<T>(mut self, parse: fn(&mut Self) -> Parsed<T>) -> Option<T> {
        self.tokens.as_ref()?;
        if matches!(self.peek().kind, TokenKind::End) {
            let (span, help) = (self.text.span(), format!("write {}", self.holds.wanted()));
            self.diagnostics.fault(FaultKind::Syntax, span, "nothing is written here", help);
            return None;
        }
        let tree = parse(&mut self).ok()?;
        match self.peek().kind {
            TokenKind::End => Some(tree),
            _ => {
                let Broken = self.unexpected("the end");
                None
            }
        }
    }

    pub fn peek(&self) -> &Token {
        static END: Token =
            Token { kind: TokenKind::End, span: Span::new(0, 0), at: Span::new(0, 0) };
        self.tokens.as_ref().and_then(|t| t.get(self.at).or(t.last())).unwrap_or(&END)
    }

    /// Takes the token here; the last one stays.
    pub fn next(&mut self) -> Token {
        let is_last = matches!(self.peek().kind, TokenKind::End);
        let here = self.tokens.as_mut().and_then(|tokens| tokens.get_mut(self.at));
        self.at += 1;
        match here {
            Some(token) if !is_last => Token {
                kind: std::mem::replace(&mut token.kind, TokenKind::End),
                span: token.span,
                at: token.at,
            },
            _ => self.peek().clone(),
        }
    }

    pub fn peek_mark(&self, mark: char) -> bool {
        matches!(self.peek().kind, TokenKind::Mark(m) if m == mark)
    }

    /// The word here, if it is one.
    pub fn peek_word(&self) -> Option<&str> {
        match &self.peek().kind {
            TokenKind::Word(word) => Some(&word.text),
            _ => None,
        }
    }

    /// Whether the token after this one is `mark`.
    pub fn then_mark(&self, mark: char) -> bool {
        let after = self.tokens.as_ref().and_then(|t| t.get(self.at + 1));
        after.is_some_and(|t| matches!(t.kind, TokenKind::Mark(m) if m == mark))
    }

    /// Steps over `mark` if it is here.
    pub fn take_mark(&mut self, mark: char) -> bool {
        let is_here = self.peek_mark(mark);
        self.at += usize::from(is_here);
        is_here
    }

    pub fn expect_mark(&mut self, mark: char) -> Parsed<Token> {
        if self.peek_mark(mark) {
            Ok(self.next())
        } else {
            Err(self.unexpected(&format!("`{mark}`")))
        }
    }

    pub fn expect_word(&mut self, what: &str) -> Parsed<Word> {
        if self.peek_word().is_some()
            && let TokenKind::Word(word) = self.next().kind
        {
            return Ok(word);
        }
        Err(self.unexpected(what))
    }

    pub fn expect_number(&mut self) -> Parsed<Number> {
        if matches!(self.peek().kind, TokenKind::Number(_))
            && let TokenKind::Number(number) = self.next().kind
        {
            return Ok(number);
        }
        Err(self.unexpected("a number"))
    }

    /// Tells that something else should stand here.
    pub fn unexpected(&mut self, wanted: &str) -> Broken {
        let token = self.peek().clone();
        let found = match &token.kind {
            TokenKind::Word(word) => format!("`{}`", word.text),
            TokenKind::Number(number) => format!("`{}`", number.text),
            TokenKind::Mark(mark) => format!("`{mark}`"),
            TokenKind::End => "the end".to_owned(),
        };
        let span = match token.kind {
            TokenKind::End => {
                self.text.file_span(token.at.start, token.at.end).to(self.text.span())
            }
            _ => token.span,
        };
        let goes_on = self.holds.goes_on(&token.kind).filter(|_| wanted == "the end");
        let help = match token.kind {
            _ if goes_on.is_some() => goes_on.unwrap_or_default().to_owned(),
            TokenKind::Mark('+') => "put the controls in parentheses: `(A + B) | step`".to_owned(),
            _ => format!("write {wanted} here"),
        };
        let message = format!("expected {wanted}, found {found}");
        self.fault(Diagnostic::fault(FaultKind::Syntax, span, message, help))
    }

    pub fn fault(&mut self, finding: Diagnostic) -> Broken {
        self.diagnostics.push(finding);
        Broken
    }

    /// Parses one level deeper.
    pub fn nested<T>(&mut self, parse: fn(&mut Self) -> Parsed<T>) -> Parsed<T> {
        if self.depth == MAX_DEPTH {
            let message = format!("parentheses are nested more than {MAX_DEPTH} deep");
            let help = "take away the parentheses that change nothing";
            let span = self.peek().span;
            return Err(self.fault(Diagnostic::fault(FaultKind::TooMuch, span, message, help)));
        }
        self.depth += 1;
        let parsed = parse(self);
        self.depth -= 1;
        parsed
    }

    /// The place of the token before this one.
    pub fn last_span(&self) -> Span {
        let before = self.at.saturating_sub(1);
        self.tokens.as_ref().and_then(|t| t.get(before)).map_or(self.text.span(), |t| t.span)
    }

    /// The place in the string that the token here starts at.
    pub fn value_start(&self) -> usize {
        self.peek().at.start
    }

    /// What is written from `start` up to the end of the token before this one.
    pub fn written_since(&self, start: usize) -> String {
        let before = self.at.saturating_sub(1);
        let end = self.tokens.as_ref().and_then(|t| t.get(before)).map_or(start, |t| t.at.end);
        self.text.value().get(start..end).unwrap_or_default().to_owned()
    }
}
