//! Settings and facts.

use super::{Resolver, said};
use crate::model::Variable;
use crate::profile::number::Counts;
use crate::profile::table;
use crate::profile::{Default, Variable as Raw};
use crate::report::{Diagnostic, FaultKind, did_you_mean};
use crate::syntax::Word;
use harmonym_runtime::base::{Id, VariableId};

/// How many base units one of `unit` is.
fn factor(unit: Option<&str>) -> f64 {
    match unit {
        Some("ms") => 1e-3,
        Some("deg") => std::f64::consts::PI / 180.0,
        _ => 1.0,
    }
}

impl Resolver<'_> {
    pub(super) fn named_numbers(&mut self) {
        for raw in &self.raw.variables {
            if let Some(first) =
                self.raw.variables.iter().find(|other| other.name.text == raw.name.text)
                && first.name.span < raw.name.span
            {
                let message = format!("`{}` is a setting and a fact", raw.name.text);
                let finding = Diagnostic::fault(
                    FaultKind::UsedTwice,
                    raw.name.span,
                    message,
                    "rename one of them",
                );
                self.diagnostics.push(finding.with_place(first.name.span, "the other one"));
            }
            let named = self.named_number(raw);
            self.named.push(named);
        }
    }

    fn named_number(&mut self, raw: &Raw) -> Variable {
        let mut default = 0.0;
        match raw.default {
            Some(Default::Number(number, span)) => {
                let text = harmonym_runtime::base::shortest(number).to_string();
                default = self.in_range(number, &text, span, &table::NAMED).unwrap_or(0.0);
                if let Some(((least, most), _)) =
                    raw.range.filter(|((l, m), _)| !(*l..=*m).contains(&number))
                {
                    let message = format!("the default {text} is outside of the range");
                    self.diagnostics.fault(
                        FaultKind::OutOfRange,
                        span,
                        message,
                        format!("it is {least} to {most}"),
                    );
                }
            }
            Some(Default::Switch(on)) => default = f64::from(u8::from(on)),
            None if raw.is_setting => {
                let message = format!("the setting `{}` has no default", raw.name.text);
                self.diagnostics.fault(
                    FaultKind::Missing,
                    raw.name.span,
                    message,
                    "write `default = 1`, or `default = false`",
                );
            }
            None => {}
        }
        let is_switch = matches!(raw.default, Some(Default::Switch(_)));
        if let Some(((least, most), span)) = raw.range {
            if least >= most {
                let help = "write the least first: `range = [0.2, 4]`";
                self.diagnostics.fault(
                    FaultKind::OutOfRange,
                    span,
                    "the range holds nothing",
                    help,
                );
            } else if is_switch {
                self.diagnostics.fault(
                    FaultKind::WrongKind,
                    span,
                    "a switch has no range",
                    "take the range out",
                );
            }
        }
        if let Some(unit) = raw
            .unit
            .as_ref()
            .filter(|unit| table::UNITS.iter().all(|known| known.name != unit.value()))
        {
            let message = format!("`{}` is not a unit of a setting or fact", unit.value());
            self.diagnostics.fault(
                FaultKind::WrongUnit,
                unit.span(),
                message,
                "the units are s, ms, deg, rad",
            );
        }
        let unit = said(raw.unit.as_ref());
        Variable {
            name: raw.name.text.clone(),
            is_setting: raw.is_setting,
            is_switch,
            default,
            range: raw.range.map(|(range, _)| range),
            factor: factor(unit.as_deref()),
            unit,
            about: said(raw.about.as_ref()),
        }
    }

    /// The setting or fact that `word` names. `None` after telling that there is none.
    pub(super) fn named(&mut self, word: &Word) -> Option<VariableId> {
        let found = self.named.iter().position(|named| named.name == word.text);
        if found.is_none() {
            let message = format!("there is no setting or fact `{}`", word.text);
            let kinds = ["setting.", "fact."];
            let bare = kinds.iter().find_map(|kind| word.text.strip_prefix(kind));
            let is_there = |name: &&str| self.named.iter().any(|named| named.name == *name);
            let help = match bare {
                Some(bare) if is_there(&bare) => {
                    format!("in expressions its name stands alone: write `{bare}`")
                }
                _ => {
                    let name = bare.unwrap_or(&word.text);
                    let names = self.named.iter().map(|named| named.name.as_str());
                    let near = self.diagnostics.nearest(name, names);
                    did_you_mean(near, || {
                        format!("add it: `[setting.{name}]` with `default = 1`, say")
                    })
                }
            };
            self.diagnostics.fault(FaultKind::UnknownName, word.span, message, help);
        }
        found.map(VariableId::new)
    }

    /// The same for a number that counts `counts`: the unit must fit.
    pub(super) fn named_of(
        &mut self,
        word: &Word,
        counts: Counts,
        what: &str,
    ) -> Option<VariableId> {
        let id = self.named(word)?;
        let unit = self.named[id.index()].unit.as_deref();
        let fits = match unit {
            Some("s" | "ms") => counts == Counts::Time,
            Some("deg" | "rad") => counts == Counts::Angle,
            _ => true,
        };
        if !fits {
            let unit = unit.unwrap_or_default();
            let message = format!("{what} is not counted in {unit}, but `{}` is", word.text);
            self.diagnostics.fault(
                FaultKind::WrongUnit,
                word.span,
                message,
                "take another one, or change its `unit`",
            );
        }
        fits.then_some(id)
    }
}
