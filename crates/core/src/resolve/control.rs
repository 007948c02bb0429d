//! Controls by name.

use super::Resolver;
use crate::base::{Id, SchemeId};
use crate::controls::{Catalogue, Class, Entry};
use crate::lang::Word;
use crate::model::{Chain, Head};
use crate::profile::table;
use crate::report::{Finding, Rule, nearest, nearest_in_class};

impl Resolver<'_> {
    /// The control that `word` names, read as it is. `None` after telling what is wrong.
    pub(super) fn control(&mut self, word: &Word, scheme: Option<SchemeId>) -> Option<Chain> {
        let (class, rest) = word.text.split_once('.').unwrap_or((&word.text, ""));
        if class == "char" || class.contains('#') {
            let what = match class {
                "char" => format!("a key by its character (`{}`)", word.text),
                _ => format!("naming one of several devices (`{}`)", word.text),
            };
            let help = match class.split_once('#') {
                Some((class, _)) => format!("write `{class}.{rest}` for the first device"),
                None => "name a control by its place, such as `key.KeyZ`".to_owned(),
            };
            self.findings.push(Finding::not_yet(word.span, &what, help));
            return None;
        }
        let Some(entry) = Catalogue::get().find(&word.text) else {
            self.unknown_control(word);
            return None;
        };
        self.check_class(entry, word, scheme);
        let (Some(reads), Some(kind)) = (entry.reads, entry.kind.yields()) else {
            let help = "`harmonym controls` lists what can be bound";
            self.findings.push(Finding::not_yet(word.span, &format!("`{}`", word.text), help));
            return None;
        };
        let head = Head::Control { name: entry.name.clone(), kind: entry.kind, reads };
        Some(Chain { head, steps: Vec::new(), kind })
    }

    fn check_class(&mut self, entry: &Entry, word: &Word, scheme: Option<SchemeId>) {
        let Some(scheme) = scheme.and_then(|id| self.schemes.get(id.index())) else { return };
        // A scheme whose devices were refused has none: its bindings are not at fault.
        if scheme.classes.is_empty() || scheme.classes.contains(&entry.class) {
            return;
        }
        let class = entry.class.word();
        let message = format!("the scheme `{}` has no `{class}` device", scheme.name);
        let help = match self.schemes.iter().find(|s| s.classes.contains(&entry.class)) {
            Some(other) => format!("bind it under `bind.{}`", other.name),
            None => format!("add \"{class}\" to the scheme's `devices`"),
        };
        self.fault(Rule::UnknownName, word.span, message, help);
    }

    fn unknown_control(&mut self, word: &Word) {
        let text = word.text.as_str();
        let (class, rest) = text.split_once('.').unwrap_or((text, ""));
        let names = || Catalogue::get().entries().iter().map(|e| e.name.as_str());
        let mut help = "`harmonym controls` lists them all".to_owned();
        if Class::from_word(class).is_none() && rest.is_empty() {
            let of_any_class = |name: &&str| {
                name.split_once('.').is_some_and(|(_, tail)| {
                    tail == text
                        || tail.strip_prefix("Key").is_some_and(|k| k.eq_ignore_ascii_case(text))
                })
            };
            let found = names().find(of_any_class).or_else(|| nearest(text, names()));
            if let Some(near) = found {
                help = format!("a control has its class before it: did you mean `{near}`?");
            } else if table::STEPS.iter().any(|step| step.name == text) {
                help = format!("`{text}` is a step, and stands behind a control and `|`");
            }
        } else if let Some(near) = nearest_in_class(text, names()) {
            help = format!("did you mean `{near}`?");
        }
        let message = format!("there is no control `{text}`");
        self.fault(Rule::UnknownControl, word.span, message, help);
    }
}
