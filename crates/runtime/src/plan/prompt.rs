//! What players are told to press.

use super::Plan;
use crate::base::{ActionId, BindingId, ControlId, MapId, SchemeId};

/// One control, as players are told of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Prompt<'p> {
    /// The control.
    pub control: ControlId,
    /// Its name: `key.KeyW`, `pad.south`.
    pub name: &'p str,
    /// Where it is on its device, in words.
    pub place: &'p str,
    /// Of a key that types one, the character on the plan's keyboard layout.
    pub letter: Option<char>,
    /// The device of its class that it has to be on, from 0, if only one will do.
    pub device: Option<u8>,
}

impl Plan {
    /// What players read of an action: its label, or else its name without the map.
    pub fn action_label(&self, action: ActionId) -> &str {
        let names = self.names();
        let name = names.actions.get(action).map_or("", String::as_str);
        let short = name.rsplit('.').next().unwrap_or_default();
        names.action_labels.get(action).and_then(Option::as_deref).unwrap_or(short)
    }

    /// What players read of a map: its label, or else its name.
    pub fn map_label(&self, map: MapId) -> &str {
        let names = self.names();
        let name = names.maps.get(map).map_or("", String::as_str);
        names.map_labels.get(map).and_then(Option::as_deref).unwrap_or(name)
    }

    /// What players read of a scheme: its label, or else its name.
    pub fn scheme_label(&self, scheme: SchemeId) -> &str {
        let names = self.names();
        let name = names.schemes.get(scheme).map_or("", String::as_str);
        names.scheme_labels.get(scheme).and_then(Option::as_deref).unwrap_or(name)
    }

    /// What players read of a binding, where the profile says it.
    pub fn binding_label(&self, binding: BindingId) -> Option<&str> {
        self.names().binding_labels.get(binding)?.as_deref()
    }

    /// The bindings of an action that count in a scheme, those of no scheme included, in the order of
    /// the file.
    pub fn bindings_in(
        &self,
        action: ActionId,
        scheme: SchemeId,
    ) -> impl Iterator<Item = BindingId> + use<'_> {
        let all = self.actions().get(action).into_iter().flat_map(|spec| spec.bindings.iter());
        all.filter(move |id| self.bindings()[*id].scheme.is_none_or(|own| own == scheme))
    }

    /// The controls of a binding, each once. `key.Shift` and its like are both keys. What only stands in
    /// for one of them on a device of another scheme is left out.
    pub fn prompts(&self, binding: BindingId) -> Vec<Prompt<'_>> {
        let Some(spec) = self.bindings().get(binding) else { return Vec::new() };
        let uses = self.actions()[spec.action]
            .uses
            .iter()
            .filter(|id| self.uses()[*id].bindings.of(self.use_bindings()).contains(&binding));
        let mut all: Vec<Prompt<'_>> = Vec::new();
        for input in uses.flat_map(|id| self.uses()[id].inputs.iter()) {
            let input = &self.inputs()[input];
            let class = self.controls()[input.control].class.index();
            let schemes = self.schemes_of_class().get(class);
            let is_meant = |own| schemes.is_none_or(|all| all.contains(&own));
            let prompt = self.prompt(input.control, input.device);
            if spec.scheme.is_none_or(is_meant) && !all.contains(&prompt) {
                all.push(prompt);
            }
        }
        all
    }

    fn prompt(&self, control: ControlId, device: Option<u8>) -> Prompt<'_> {
        let name = &*self.names().controls[control];
        let place = self.catalogue().find(name).map_or("", |entry| &*entry.place);
        let letter = name.strip_prefix("key.").and_then(|code| self.layout().letter(code));
        Prompt { control, name, place, letter, device }
    }
}
