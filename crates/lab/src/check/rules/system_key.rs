//! `system-key`: a control that desktops or consoles keep for themselves, or that is reserved.

use crate::check::{Context, Level, Place, Remark, Rule};

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
        let bare = bare(&one.name);
        let with_alt = WITH_ALT.contains(&bare.as_str())
            && one.holders.iter().any(|holder| holder.starts_with("key.Alt"));
        let reserved = context.profile.reserved.iter().find(|control| **control == bare);
        let who = match (OWN.contains(&bare.as_str()) || with_alt, reserved) {
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

/// A control's name without the number of its device.
fn bare(name: &str) -> String {
    match name.split_once('.') {
        Some((class, rest)) => format!("{}.{rest}", class.split('#').next().unwrap_or(class)),
        None => name.to_owned(),
    }
}
