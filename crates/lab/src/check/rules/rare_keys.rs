//! `rare-keys`: a key that many keyboards do not have, with no other way.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "rare-keys",
    level: Level::Note,
    finds: "A key that many keyboards do not have, with no other way.",
    why: "On a small keyboard or another country's the action is not there.",
    find,
};

/// What most keyboards lack, by how it begins.
const RARE: &[&str] = &[
    "key.F13",
    "key.F14",
    "key.F15",
    "key.F16",
    "key.F17",
    "key.F18",
    "key.F19",
    "key.F2",
    "key.Intl",
    "key.Lang",
    "key.Convert",
    "key.NonConvert",
    "key.KanaMode",
    "key.Numpad",
    "key.NumLock",
    "key.ScrollLock",
    "key.Pause",
    "key.PrintScreen",
    "key.Insert",
    "key.Launch",
    "key.Media",
    "key.Browser",
    "key.AudioVolume",
    "key.Eject",
    "key.Power",
    "key.Sleep",
    "key.WakeUp",
    "key.Fn",
    "key.Help",
    "key.ContextMenu",
    "key.Hyper",
    "key.Super",
    "key.Turbo",
    "key.Abort",
    "key.Resume",
    "key.Suspend",
    "key.Again",
    "key.Copy",
    "key.Cut",
    "key.Find",
    "key.Open",
    "key.Paste",
    "key.Props",
    "key.Select",
    "key.Undo",
    "key.Hiragana",
    "key.Katakana",
];

fn is_rare(name: &str) -> bool {
    // F2 alone is everywhere.
    name != "key.F2" && RARE.iter().any(|known| name.starts_with(known))
}

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for scheme in context.profile.schemes.ids() {
            let own = |index: &usize| action.bindings[*index].scheme == Some(scheme);
            let bindings: Vec<usize> = (0..action.bindings.len()).filter(own).collect();
            let rare = |index: &usize| context.uses_of(id, *index).find(|one| is_rare(&one.name));
            let all: Option<Vec<_>> =
                bindings.iter().map(|index| Some((*index, rare(index)?))).collect();
            let Some(&(index, one)) = all.as_deref().and_then(<[_]>::first) else { continue };
            let message = format!(
                "{} needs {}, which many keyboards don't have",
                context.profile.address(id),
                one.name
            );
            let help = format!(
                "add a key that all have: `harmonym bind {} key.…`",
                context.profile.address(id)
            );
            let place = Place::binding(context.profile, id, index).at(one.name.as_str());
            found.push(place.tell(message, help));
        }
    }
}
