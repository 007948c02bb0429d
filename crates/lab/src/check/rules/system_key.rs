//! `system-key`: a control that desktops or consoles keep for themselves, or that is reserved.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;
use harmonym_runtime::base::ControlName;

pub(super) const RULE: Rule = Rule {
    name: "system-key",
    level: Level::Warning,
    finds: "A control that desktops or consoles keep for themselves, or that is reserved.",
    why: "The press goes to the system: a menu opens, the game loses the keyboard, or the store forbids it.",
    find,
};

/// Keys that the system takes by themselves, and with Alt.
const OWN: &[&str] = &["key.Meta", "key.MetaLeft", "key.MetaRight", "pad.mode"];
const WITH_ALT: &[&str] = &["key.Tab", "key.F4", "key.Escape"];

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for one in &context.uses {
        let bare = ControlName::new(&one.name).plain();
        let with_alt = WITH_ALT.contains(&&*bare)
            && one.holders.iter().any(|holder| holder.starts_with("key.Alt"));
        let reserved = context.profile.reserved.iter().find(|control| **control == bare);
        let who = match (OWN.contains(&&*bare) || with_alt, reserved) {
            (true, _) => "the system keeps it for itself",
            (false, Some(_)) => "it is on the list `reserved`",
            (false, None) => continue,
        };
        let what = match with_alt {
            true => format!("{} with Alt", one.name),
            false => one.name.clone(),
        };
        let address = context.profile.address(one.action);
        let message = format!("{what} may never come to {address}: {who}");
        let help = "bind another control: `harmonym controls` lists them";
        let place = Place::binding(context.profile, one.action, one.binding);
        found.push(place.at(one.name.as_str()).tell(message, help));
    }
}
