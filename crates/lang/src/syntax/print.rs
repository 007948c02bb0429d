//! Trees as text in canonical form: what reads back as the same tree.

use super::tree::{
    Alternative, Arg, ArgValue, Binding, Combination, Condition, Fire, GuardWord, Head, Part, Step,
};
use std::fmt::{self, Display, Formatter};

/// Writes things parted by `between`.
fn joined<T: Display>(f: &mut Formatter<'_>, all: &[T], between: &str) -> fmt::Result {
    for (i, one) in all.iter().enumerate() {
        if i > 0 {
            f.write_str(between)?;
        }
        one.fmt(f)?;
    }
    Ok(())
}

/// A chain of steps in canonical form.
pub fn print_steps(steps: &[Step]) -> String {
    let steps: Vec<String> = steps.iter().map(ToString::to_string).collect();
    steps.join(" | ")
}

impl Display for Binding {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        self.head.fmt(f)?;
        for step in &self.steps {
            write!(f, " | {step}")?;
        }
        Ok(())
    }
}

impl Display for Head {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Self::Control(word) => f.write_str(&word.text),
            Self::Combination(combination) => combination.fmt(f),
            Self::Sum(parts, _) => joined(f, parts, " + "),
            Self::Group(inner) => write!(f, "({inner})"),
        }
    }
}

impl Display for Combination {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{}(", self.name.text)?;
        joined(f, &self.parts, ", ")?;
        for (option, word) in &self.options {
            write!(f, ", {}={}", option.text, word.text)?;
        }
        f.write_str(")")
    }
}

impl Display for Part {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match &self.name {
            Some(name) => write!(f, "{}={}", name.text, self.binding),
            None => self.binding.fmt(f),
        }
    }
}

impl Display for Step {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{}{}", if self.is_preset { "@" } else { "" }, self.name.text)?;
        self.args.iter().try_for_each(|arg| write!(f, " {arg}"))?;
        self.conditions.iter().try_for_each(|condition| write!(f, " {condition}"))
    }
}

impl Display for Condition {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        write!(f, "{} {}", if self.unless { "unless" } else { "when" }, self.name.text)
    }
}

impl Display for Arg {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        if let Some(name) = &self.name {
            write!(f, "{}=", name.text)?;
        }
        match &self.value {
            ArgValue::Number(number) => f.write_str(&number.text),
            ArgValue::Word(word) => f.write_str(&word.text),
            ArgValue::Point(numbers) => {
                let numbers: Vec<&str> =
                    numbers.iter().map(|number| number.text.as_str()).collect();
                write!(f, "({})", numbers.join(" "))
            }
        }
    }
}

impl Display for Fire {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        joined(f, &self.alternatives, " or ")
    }
}

impl Display for Alternative {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(&self.cue.text)?;
        if let Some(list) = &self.list {
            let names: Vec<&str> = list.iter().map(|word| word.text.as_str()).collect();
            write!(f, "({})", names.join(", "))?;
        }
        self.args.iter().try_for_each(|arg| write!(f, " {arg}"))?;
        for guard in &self.guards {
            let word = match guard.word {
                GuardWord::With => "with",
                GuardWord::Without => "without",
                GuardWord::When => "when",
                GuardWord::Unless => "unless",
            };
            write!(f, " {word} {}", guard.name.text)?;
        }
        Ok(())
    }
}
