//! The trees that expressions are read into.

use crate::source::Span;
use harmonym_runtime::base::Time;

/// A word as written.
#[derive(Clone, Debug, PartialEq)]
pub struct Word {
    /// The word.
    pub text: String,
    /// Where it is.
    pub span: Span,
}

/// What a number counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Unit {
    /// Nothing: a plain number.
    Plain,
    /// Hundredths (`40%`).
    Percent,
    /// Turns (`30deg`, `0.5rad`).
    Angle,
    /// Time (`80ms`, `0.4s`, `250us`).
    Time,
    /// So many a second (`6/s`).
    Rate,
    /// What is no unit, or behind what is no number: told already.
    Broken,
}

/// A number as written.
#[derive(Clone, Debug, PartialEq)]
pub struct Number {
    /// In shares, radians, seconds or per second, after its unit.
    pub value: f64,
    /// The exact time, when the unit is one.
    pub time: Option<Time>,
    /// The unit's kind.
    pub unit: Unit,
    /// As written.
    pub text: String,
    /// Where it is.
    pub span: Span,
}

/// What a binding starts from, and the steps behind it.
#[derive(Clone, Debug, PartialEq)]
pub struct Binding {
    /// A control, a combination or a sum.
    pub head: Head,
    /// The steps, from left to right.
    pub steps: Vec<Step>,
    /// All of it.
    pub span: Span,
}

impl Binding {
    /// All steps, those of its parts too, in the order in which they are written.
    pub fn all_steps(&self) -> Vec<&Step> {
        let mut steps = Vec::new();
        self.head.gather(&mut steps);
        steps.extend(&self.steps);
        steps
    }
}

impl Head {
    fn gather<'t>(&'t self, steps: &mut Vec<&'t Step>) {
        match self {
            Self::Control(_) => {}
            Self::Combination(all) => {
                all.parts.iter().for_each(|part| steps.extend(part.binding.all_steps()));
            }
            Self::Sum(parts, _) => parts.iter().for_each(|part| part.gather(steps)),
            Self::Group(inner) => steps.extend(inner.all_steps()),
        }
    }
}

/// What stands before the steps.
#[derive(Clone, Debug, PartialEq)]
pub enum Head {
    /// A control by name.
    Control(Word),
    /// `name(part, …)`.
    Combination(Combination),
    /// `A + B`.
    Sum(Vec<Head>, Span),
    /// `( … )`.
    Group(Box<Binding>),
}

impl Head {
    /// All of it.
    pub fn span(&self) -> Span {
        match self {
            Self::Control(word) => word.span,
            Self::Combination(combination) => combination.span,
            Self::Sum(_, span) => *span,
            Self::Group(binding) => binding.span,
        }
    }
}

/// `name(part, …, option=word)`.
#[derive(Clone, Debug, PartialEq)]
pub struct Combination {
    /// `pair`, `four`, …
    pub name: Word,
    /// The parts in the order written.
    pub parts: Vec<Part>,
    /// `opposed=newest` and its like.
    pub options: Vec<(Word, Word)>,
    /// All of it.
    pub span: Span,
}

/// One part of a combination.
#[derive(Clone, Debug, PartialEq)]
pub struct Part {
    /// `up` in `up=key.KeyW`.
    pub name: Option<Word>,
    /// What it reads.
    pub binding: Binding,
}

/// `deadzone 0.1 full=0.96 when cautious`, or `@stick`.
#[derive(Clone, Debug, PartialEq)]
pub struct Step {
    /// The step's name, or the preset's.
    pub name: Word,
    /// Whether it is `@name`.
    pub is_preset: bool,
    /// What follows the name.
    pub args: Vec<Arg>,
    /// `when name` or `unless name`; several where a preset with one stands in a step with one.
    pub conditions: Vec<Condition>,
    /// All of it.
    pub span: Span,
}

/// `when name` or `unless name` on a step.
#[derive(Clone, Debug, PartialEq)]
pub struct Condition {
    /// A setting or fact.
    pub name: Word,
    /// Whether it is `unless`.
    pub unless: bool,
    /// Both words.
    pub span: Span,
}

/// One thing behind a step's or cue's name.
#[derive(Clone, Debug, PartialEq)]
pub struct Arg {
    /// `full` in `full=0.96`.
    pub name: Option<Word>,
    /// What is given.
    pub value: ArgValue,
    /// All of it.
    pub span: Span,
}

/// What an argument is.
#[derive(Clone, Debug, PartialEq)]
pub enum ArgValue {
    /// A number with its unit.
    Number(Number),
    /// A word: a component, an option's value, the name of a setting or fact.
    Word(Word),
    /// `(0.2 0.1)`.
    Point(Vec<Number>),
}

/// `alternative or alternative`.
#[derive(Clone, Debug, PartialEq)]
pub struct Fire {
    /// The alternatives in the order written.
    pub alternatives: Vec<Alternative>,
}

/// A cue with its guards.
#[derive(Clone, Debug, PartialEq)]
pub struct Alternative {
    /// The cue's name.
    pub cue: Word,
    /// What follows its name.
    pub args: Vec<Arg>,
    /// The actions of a `sequence(…)`.
    pub list: Option<Vec<Word>>,
    /// The cue as written, without its guards.
    pub text: String,
    /// Where the cue is, without its guards.
    pub span: Span,
    /// What else must be so.
    pub guards: Vec<Guard>,
}

/// `with quay.hurry`, `unless on-ladder`.
#[derive(Clone, Debug, PartialEq)]
pub struct Guard {
    /// Which of the four it is.
    pub word: GuardWord,
    /// The action, setting or fact.
    pub name: Word,
    /// Both words.
    pub span: Span,
}

/// How a guard looks at its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum GuardWord {
    /// Only while the action is live.
    With,
    /// Only while the action is not live.
    Without,
    /// Only while the setting or fact is other than 0.
    When,
    /// Only while the setting or fact is 0.
    Unless,
}

impl GuardWord {
    /// The guard that `word` is.
    pub fn from_word(word: &str) -> Option<Self> {
        match word {
            "with" => Some(Self::With),
            "without" => Some(Self::Without),
            "when" => Some(Self::When),
            "unless" => Some(Self::Unless),
            _ => None,
        }
    }
}
