//! Controls by name.

use super::Resolver;
use crate::model::{Chain, Head};
use crate::profile::controls::unknown_control;
use crate::report::FaultKind;
use crate::syntax::Word;
use harmonym_runtime::base::{Class, ControlKind, ControlName, Id, Kind, MOST_DEVICES, SchemeId};
use harmonym_runtime::controls::Reads;
use std::borrow::Cow;

/// What a control's name says besides its device's number.
struct Numbered<'w> {
    /// The name without the number.
    plain: Cow<'w, str>,
    /// The device, from 0.
    device: Option<u8>,
}

impl Resolver<'_> {
    /// The control that `word` names, read as it is. `None` after telling what is wrong.
    pub(super) fn control(&mut self, word: &Word, scheme: Option<SchemeId>) -> Option<Chain> {
        let Numbered { plain, device } = self.numbered(word)?;
        if let Some(typed) = plain.strip_prefix("char.") {
            return self.char(word, typed, device, scheme);
        }
        let catalogue = std::sync::Arc::clone(&self.catalogue);
        let Some(entry) = catalogue.find(&plain) else {
            self.unknown_control(word, &plain);
            return None;
        };
        self.check_class(entry.class, word, scheme);
        let (name, kind, gives, reads) = (word.text.clone(), entry.kind, entry.gives, entry.reads);
        let head = Head::Control { name, kind, reads, gives, device };
        Some(Chain { head, steps: Vec::new(), kind: gives })
    }

    /// Splits `pad#2.south` into its name and the device's number.
    fn numbered<'w>(&mut self, word: &'w Word) -> Option<Numbered<'w>> {
        let name = ControlName::new(&word.text);
        let plain = name.plain();
        let Ok(device) = name.device() else {
            let device = word.text.split('.').next().unwrap_or_default();
            let message = format!("`{device}` does not number a device");
            let help =
                format!("devices are numbered from 1 to {MOST_DEVICES}; write `{plain}` for any");
            self.diagnostics.fault(FaultKind::OutOfRange, word.span, message, help);
            return None;
        };
        Some(Numbered { plain, device })
    }

    /// The key that types a character.
    fn char(
        &mut self,
        word: &Word,
        typed: &str,
        device: Option<u8>,
        scheme: Option<SchemeId>,
    ) -> Option<Chain> {
        let mut chars = typed.chars();
        let (Some(c), None) = (chars.next(), chars.next()) else {
            let message = format!("`{}` does not name one character", word.text);
            let help = "write exactly one character after the dot, such as `char.z`; \
                        other keys go by their place, such as `key.Space`";
            self.diagnostics.fault(FaultKind::UnknownControl, word.span, message, help);
            return None;
        };
        self.check_class(Class::Key, word, scheme);
        let (name, kind, gives) = (word.text.clone(), ControlKind::Button, Kind::Axis);
        let head = Head::Control { name, kind, reads: Reads::Char(c), gives, device };
        Some(Chain { head, steps: Vec::new(), kind: gives })
    }

    fn check_class(&mut self, of: Class, word: &Word, scheme: Option<SchemeId>) {
        let Some(scheme) = scheme.and_then(|id| self.schemes.get(id.index())) else { return };
        // A scheme whose devices were refused has none: its bindings are not at fault.
        if scheme.classes.is_empty() || scheme.classes.contains(&of) {
            return;
        }
        let class = self.catalogue.word(of);
        let message = format!("the scheme `{}` has no `{class}` device", scheme.name);
        let help = match self.schemes.iter().find(|s| s.classes.contains(&of)) {
            Some(other) => format!("bind it under `bind.{}`", other.name),
            None => format!("add \"{class}\" to the scheme's `devices`"),
        };
        self.diagnostics.fault(FaultKind::UnknownName, word.span, message, help);
    }

    fn unknown_control(&mut self, word: &Word, text: &str) {
        let help = unknown_control(text, &self.catalogue, &self.diagnostics.comparing);
        let message = format!("there is no control `{}`", word.text);
        self.diagnostics.fault(FaultKind::UnknownControl, word.span, message, help);
    }
}
