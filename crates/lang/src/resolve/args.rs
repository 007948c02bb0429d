//! What stands behind the name of a step or cue.

use super::Resolver;
use crate::model::Number;
use crate::profile::cues::CueWord;
use crate::profile::number::{self, Counts};
use crate::report::{FaultKind, nearest};
use crate::source::Span;
use crate::syntax::{Arg, ArgValue, Number as NumberTree, Unit, Word};

/// The arguments of one step or cue, taken one by one.
pub(super) struct Args<'t> {
    /// The step or cue they belong to.
    name: &'t Word,
    /// How it is written.
    form: &'static str,
    unnamed: Vec<&'t Arg>,
    named: Vec<(&'t Word, &'t Arg)>,
}

impl<'t> Args<'t> {
    pub fn new(name: &'t Word, args: &'t [Arg], form: &'static str) -> Self {
        let unnamed = args.iter().filter(|a| a.name.is_none()).collect();
        let named = args.iter().filter_map(|a| a.name.as_ref().map(|n| (n, a))).collect();
        Self { name, form, unnamed, named }
    }

    /// The place of the name they belong to.
    pub fn span(&self) -> Span {
        self.name.span
    }

    /// The next argument without a name, taken out.
    pub fn take(&mut self) -> Option<&'t Arg> {
        (!self.unnamed.is_empty()).then(|| self.unnamed.remove(0))
    }

    /// The argument called `name`, taken out.
    pub fn take_named(&mut self, name: &str) -> Option<&'t Arg> {
        let at = self.named.iter().position(|(n, _)| n.text == name)?;
        Some(self.named.remove(at).1)
    }

    /// All unnamed arguments that are left, taken out.
    pub fn take_rest(&mut self) -> Vec<&'t Arg> {
        std::mem::take(&mut self.unnamed)
    }

    /// Leaves all that is left unlooked at.
    pub fn skip_all(&mut self) {
        self.unnamed.clear();
        self.named.clear();
    }

    /// The one argument, if there is one without a name and no other.
    pub fn only(&self) -> Option<&'t Arg> {
        self.unnamed.first().copied().filter(|_| self.unnamed.len() == 1 && self.named.is_empty())
    }

    /// Whether the next unnamed argument is a point.
    pub fn is_point(&self) -> bool {
        self.unnamed.first().is_some_and(|a| matches!(a.value, ArgValue::Point(_)))
    }
}

/// Whether a word behind a cue is meant to lead to another one.
fn joins_cues(cue: &str, word: &str) -> bool {
    let is_joint = matches!(word, "and" | "then" | "also" | "else");
    CueWord::named(cue).is_some() && (is_joint || CueWord::named(word).is_some())
}

impl Resolver<'_> {
    /// Tells that a number is missing.
    pub(super) fn missing(&mut self, args: &Args<'_>, what: &str) {
        let name = args.name;
        let message = format!("`{}` needs {what}", name.text);
        self.diagnostics.fault(
            FaultKind::Missing,
            name.span,
            message,
            format!("write `{}`", args.form),
        );
    }

    /// Tells of every argument that nobody took. `known` are the names there are.
    pub(super) fn no_more(&mut self, args: Args<'_>, known: &[&str]) {
        for arg in args.unnamed {
            let message = format!("`{}` does not take this", args.name.text);
            let is_joint = matches!(
                &arg.value,
                ArgValue::Word(word) if joins_cues(&args.name.text, &word.text)
            );
            let help = match is_joint {
                true => "cues are joined by `or`: `tap 0.2s or hold 0.8s`".to_owned(),
                false => format!("write `{}`", args.form),
            };
            self.diagnostics.fault(FaultKind::Syntax, arg.span, message, help);
            // What follows belongs to the next cue.
            if is_joint {
                break;
            }
        }
        let mut seen: Vec<&str> = Vec::new();
        for (name, _) in args.named {
            let is_known =
                known.contains(&name.text.as_str()) || seen.contains(&name.text.as_str());
            let (rule, message) = if is_known {
                (FaultKind::UsedTwice, format!("`{}` is given twice", name.text))
            } else {
                let message = format!("`{}` has no `{}`", args.name.text, name.text);
                (FaultKind::UnknownWord, message)
            };
            let help = match nearest(&name.text, known.iter().copied()) {
                Some(near) if !is_known => format!("did you mean `{near}=`?"),
                _ => format!("write `{}`", args.form),
            };
            self.diagnostics.fault(rule, name.span, message, help);
            seen.push(&name.text);
        }
    }

    /// The number that an argument is, in its range and unit; or the setting or fact in its place.
    pub(super) fn number(&mut self, arg: &Arg, spec: &number::Number) -> Option<Number> {
        let number = match &arg.value {
            ArgValue::Number(number) => number,
            ArgValue::Word(word) => {
                let named = self.named_of(word, spec.counts, spec.name)?;
                return Some(Number::Variable { named, least: spec.least, most: spec.most });
            }
            ArgValue::Point(_) => {
                let message = format!("{} is a number, not a point", spec.name);
                let help = format!("it is {}", spec.range());
                self.diagnostics.fault(FaultKind::WrongKind, arg.span, message, help);
                return None;
            }
        };
        self.plain(number, spec).map(Number::Fixed)
    }

    /// A number as written, in its range and unit.
    pub(super) fn plain(&mut self, number: &NumberTree, spec: &number::Number) -> Option<f64> {
        if number.unit == Unit::Broken {
            return None;
        }
        let fits = match spec.counts {
            Counts::Plain => matches!(number.unit, Unit::Plain | Unit::Percent),
            Counts::Time => number.unit == Unit::Time,
            Counts::Angle => number.unit == Unit::Angle,
            Counts::Rate => number.unit == Unit::Rate,
        };
        if !fits {
            self.wrong_unit(number, spec);
            return None;
        }
        self.in_range(number.value, &number.text, number.span, spec)
    }

    /// A count: a whole number, or the setting or fact in its place.
    pub(super) fn count(&mut self, arg: &Arg, spec: &number::Number) -> Option<Number> {
        let number = self.number(arg, spec)?;
        match number {
            Number::Fixed(count) if count.fract() != 0.0 => {
                let message = format!("{} is a whole number", spec.name);
                self.diagnostics.fault(
                    FaultKind::OutOfRange,
                    arg.span,
                    message,
                    format!("it is {}", spec.range()),
                );
                None
            }
            _ => Some(number),
        }
    }

    /// `value` if it lies in the range; if not, that is told.
    pub(super) fn in_range(
        &mut self,
        value: f64,
        text: &str,
        span: Span,
        spec: &number::Number,
    ) -> Option<f64> {
        if spec.holds(value) {
            return Some(value);
        }
        let message = format!("{} cannot be `{text}`", spec.name);
        self.diagnostics.fault(
            FaultKind::OutOfRange,
            span,
            message,
            format!("it is {}", spec.range()),
        );
        None
    }

    fn wrong_unit(&mut self, number: &NumberTree, spec: &number::Number) {
        let text = &number.text;
        let (message, help) = match spec.counts {
            Counts::Time if number.unit == Unit::Plain => {
                (format!("the time `{text}` has no unit"), format!("write `{text}s` or `{text}ms`"))
            }
            Counts::Time => (
                format!("{} is a time, not `{text}`", spec.name),
                "times end in s, ms or us: `0.8s`".to_owned(),
            ),
            Counts::Angle => (
                format!("the angle `{text}` has no unit of angle"),
                "write `45deg` or `0.8rad`".to_owned(),
            ),
            Counts::Rate => (
                format!("{} is so much a second, not `{text}`", spec.name),
                if number.unit == Unit::Plain {
                    format!("write `{text}/s`")
                } else {
                    "write `6/s`".to_owned()
                },
            ),
            Counts::Plain => (
                format!("{} has no unit, but `{text}` has one", spec.name),
                format!("it is a plain number, {}", spec.range()),
            ),
        };
        self.diagnostics.fault(FaultKind::WrongUnit, number.span, message, help);
    }
}
