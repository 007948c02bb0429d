//! What people call controls, and the control by its place that they mean.

use super::steps::StepWord;
use super::table::COMBINATIONS;
use super::tried::tried;
use crate::report::{Comparing, nearest, nearest_in_class};
use harmonym_runtime::controls::Catalogue;

/// What classes of devices are called elsewhere.
const CLASSES: &[(&str, &str)] = &[
    ("gamepad", "pad"),
    ("controller", "pad"),
    ("joystick", "pad"),
    ("keyboard", "key"),
    ("kbd", "key"),
    ("keys", "key"),
    ("m", "mouse"),
    ("pointer", "mouse"),
    ("screen", "touch"),
    ("touchscreen", "touch"),
];

/// Words for keys; those of one letter or figure need none.
const KEYS: &[(&str, &[&str])] = &[
    ("spacebar", &["Space"]),
    ("esc", &["Escape"]),
    ("return", &["Enter"]),
    ("ctrl", &["Control"]),
    ("lctrl", &["ControlLeft"]),
    ("rctrl", &["ControlRight"]),
    ("leftctrl", &["ControlLeft"]),
    ("rightctrl", &["ControlRight"]),
    ("lshift", &["ShiftLeft"]),
    ("rshift", &["ShiftRight"]),
    ("leftshift", &["ShiftLeft"]),
    ("rightshift", &["ShiftRight"]),
    ("lalt", &["AltLeft"]),
    ("ralt", &["AltRight"]),
    ("leftalt", &["AltLeft"]),
    ("rightalt", &["AltRight"]),
    ("altgr", &["AltRight"]),
    ("option", &["Alt"]),
    ("cmd", &["Meta"]),
    ("command", &["Meta"]),
    ("win", &["Meta"]),
    ("super", &["Meta"]),
    ("up", &["ArrowUp"]),
    ("down", &["ArrowDown"]),
    ("left", &["ArrowLeft"]),
    ("right", &["ArrowRight"]),
    ("del", &["Delete"]),
    ("ins", &["Insert"]),
    ("pgup", &["PageUp"]),
    ("pgdn", &["PageDown"]),
    ("pgdown", &["PageDown"]),
    ("caps", &["CapsLock"]),
    ("tilde", &["Backquote"]),
    ("grave", &["Backquote"]),
    ("plus", &["Equal", "NumpadAdd"]),
    ("dash", &["Minus"]),
    ("equals", &["Equal"]),
    ("dot", &["Period"]),
    ("apostrophe", &["Quote"]),
    ("leftbracket", &["BracketLeft"]),
    ("rightbracket", &["BracketRight"]),
    ("kpenter", &["NumpadEnter"]),
    ("kpplus", &["NumpadAdd"]),
    ("kpminus", &["NumpadSubtract"]),
    ("prtsc", &["PrintScreen"]),
];

/// The four buttons under the right thumb, the lowest first.
const FACES: &[&str] = &["south", "east", "west", "north"];

/// Words for the controls of a pad. Letters are printed otherwise from one make to the next, so that
/// they mean any of the four buttons, the commonest first.
const PAD: &[(&str, &[&str])] = &[
    ("a", &["south", "east"]),
    ("b", &["east", "south"]),
    ("x", &["west", "north"]),
    ("y", &["north", "west"]),
    ("cross", &["south", "dpad"]),
    ("circle", &["east"]),
    ("square", &["west"]),
    ("triangle", &["north"]),
    ("face", FACES),
    ("lb", &["left-shoulder"]),
    ("l1", &["left-shoulder"]),
    ("l", &["left-shoulder"]),
    ("leftbumper", &["left-shoulder"]),
    ("bumperleft", &["left-shoulder"]),
    ("rb", &["right-shoulder"]),
    ("r1", &["right-shoulder"]),
    ("r", &["right-shoulder"]),
    ("rightbumper", &["right-shoulder"]),
    ("bumperright", &["right-shoulder"]),
    ("lt", &["left-trigger"]),
    ("l2", &["left-trigger"]),
    ("zl", &["left-trigger"]),
    ("triggerleft", &["left-trigger"]),
    ("rt", &["right-trigger"]),
    ("r2", &["right-trigger"]),
    ("zr", &["right-trigger"]),
    ("triggerright", &["right-trigger"]),
    ("ls", &["left-stick", "left-stick.click"]),
    ("l3", &["left-stick.click"]),
    ("leftthumb", &["left-stick", "left-stick.click"]),
    ("leftanalog", &["left-stick"]),
    ("stickleft", &["left-stick"]),
    ("stick", &["left-stick", "right-stick"]),
    ("rs", &["right-stick", "right-stick.click"]),
    ("r3", &["right-stick.click"]),
    ("rightthumb", &["right-stick", "right-stick.click"]),
    ("rightanalog", &["right-stick"]),
    ("stickright", &["right-stick"]),
    ("hat", &["dpad"]),
    ("up", &["dpad.up"]),
    ("down", &["dpad.down"]),
    ("left", &["dpad.left"]),
    ("right", &["dpad.right"]),
    ("dpadup", &["dpad.up"]),
    ("dpaddown", &["dpad.down"]),
    ("dpadleft", &["dpad.left"]),
    ("dpadright", &["dpad.right"]),
    ("options", &["start"]),
    ("menu", &["start"]),
    ("back", &["select"]),
    ("share", &["select"]),
    ("view", &["select"]),
    ("home", &["mode"]),
    ("guide", &["mode"]),
];

/// Words for what a mouse has.
const MOUSE: &[(&str, &[&str])] = &[
    ("lmb", &["left"]),
    ("mouse1", &["left"]),
    ("leftclick", &["left"]),
    ("leftbutton", &["left"]),
    ("click", &["left"]),
    ("rmb", &["right"]),
    ("mouse2", &["right"]),
    ("rightclick", &["right"]),
    ("rightbutton", &["right"]),
    ("mmb", &["middle"]),
    ("mouse3", &["middle"]),
    ("middleclick", &["middle"]),
    ("middlebutton", &["middle"]),
    ("mouse4", &["back"]),
    ("mouse5", &["forward"]),
    ("scroll", &["wheel"]),
    ("scrollup", &["wheel.up"]),
    ("scrolldown", &["wheel.down"]),
    ("wheelup", &["wheel.up"]),
    ("wheeldown", &["wheel.down"]),
    ("delta", &["move"]),
    ("motion", &["move"]),
    ("mousemove", &["move"]),
    ("position", &["at"]),
    ("pos", &["at"]),
];

/// Words for what a finger does.
const TOUCH: &[(&str, &[&str])] =
    &[("tap", &["down"]), ("press", &["down"]), ("swipe", &["drag"]), ("position", &["at"])];

/// The controls that somebody means who calls one `text`, the likeliest first: `LB`, `gamepad.A`,
/// `key.W`, `lmb`.
pub fn meant(text: &str, catalogue: &Catalogue) -> Vec<String> {
    let (class, rest) = match text.split_once(['.', ':', '/']) {
        Some((class, rest)) => (Some(class.to_lowercase()), rest),
        None => (None, text),
    };
    let named = |class: &str| CLASSES.iter().find(|(word, _)| *word == class).map(|(_, own)| *own);
    let class = class.map(|class| named(&class).map_or(class, str::to_owned));
    let word = bare(rest);
    let mut found: Vec<String> = Vec::new();
    let mut add = |name: String| {
        if catalogue.find(&name).is_some() && !found.contains(&name) {
            found.push(name);
        }
    };
    // The same under its class by its own name: `gamepad.left-stick`.
    if let Some(class) = &class {
        let exact = catalogue.entries().find(|one| {
            let named = one.name.split_once('.').filter(|(own, _)| own == class);
            named.is_some_and(|(_, own)| bare(own) == word)
        });
        exact.into_iter().for_each(|one| add(one.name.to_string()));
    }
    let is_of = |wanted: &str| class.as_deref().is_none_or(|class| class == wanted);
    if is_of("key") {
        key(&word, catalogue).into_iter().for_each(&mut add);
    }
    for (class, table) in [("pad", PAD), ("mouse", MOUSE), ("touch", TOUCH)] {
        // A bare word such as `left` is told of keys first; `back` alone would be anything.
        if is_of(class) {
            let names = table.iter().filter(|(tried, _)| *tried == word);
            names.flat_map(|(_, names)| *names).for_each(|name| add(format!("{class}.{name}")));
        }
    }
    found
}

/// A word in small letters, without what parts its parts.
fn bare(word: &str) -> String {
    word.to_lowercase().chars().filter(|c| !matches!(c, '-' | '_' | ' ' | '.')).collect()
}

/// The keys that a word in small letters means: `w`, `1`, `esc`, `numpad0`.
fn key(word: &str, catalogue: &Catalogue) -> Vec<String> {
    let named = KEYS.iter().filter(|(tried, _)| *tried == word).flat_map(|(_, names)| *names);
    let mut found: Vec<String> = named.map(|name| format!("key.{name}")).collect();
    let is_number = !word.is_empty() && word.bytes().all(|byte| byte.is_ascii_digit());
    let pad = ["num", "kp", "keypad"].iter().find_map(|before| word.strip_prefix(before));
    let tries = [
        format!("key{word}"),
        word.to_owned(),
        if is_number { format!("digit{word}") } else { String::new() },
        pad.map_or(String::new(), |figure| format!("numpad{figure}")),
    ];
    for name in catalogue.entries().filter_map(|one| one.name.strip_prefix("key.")) {
        if tries.iter().any(|tried| name.eq_ignore_ascii_case(tried)) {
            found.push(format!("key.{name}"));
        }
    }
    found
}

/// What to write in place of a control that there isn't.
pub fn unknown_control(text: &str, catalogue: &Catalogue, comparing: &Comparing) -> String {
    let found = meant(text, catalogue);
    let described = |name: &String| {
        let place = catalogue.find(name).map_or("", |one| &one.place);
        format!("`{name}` ({place})")
    };
    let printed = |name: &&String| FACES.iter().any(|face| name.strip_prefix("pad.") == Some(face));
    let faces = found.iter().filter(printed).count();
    match found.as_slice() {
        [] => {}
        [one] if one.starts_with("key.") => {
            return match text.contains('.') {
                true => format!("did you mean `{one}`?"),
                false => format!("a control has its class before it: did you mean `{one}`?"),
            };
        }
        [one] => return format!("controls go by their place: did you mean {}?", described(one)),
        several if faces > 0 => {
            let all: Vec<_> = several.iter().map(described).collect();
            return format!(
                "controls go by their place, whatever is printed on them: write {}",
                all.join(" or ")
            );
        }
        several => {
            let all: Vec<_> = several.iter().map(described).collect();
            return format!("did you mean {}?", all.join(" or "));
        }
    }
    if let Some(form) = tried(text, COMBINATIONS) {
        return format!("write `{form}`");
    }
    let of_class = CLASSES.iter().find(|(word, _)| *word == text).map_or(text, |(_, own)| *own);
    if let Some(class) = catalogue.class(of_class) {
        let own = catalogue.entries().filter(|one| one.class == class).take(4);
        let own: Vec<String> = own.map(|one| format!("`{}`", one.name)).collect();
        return format!(
            "that is a whole device; its controls are {} and so on: `harmonym controls --class {of_class}`",
            own.join(", ")
        );
    }
    let (class, rest) = text.split_once('.').unwrap_or((text, ""));
    let names = || comparing.of(catalogue.entries().map(|entry| &*entry.name));
    if catalogue.class(class).is_none() && rest.is_empty() {
        if let Some(near) = nearest(text, names()) {
            return format!("a control has its class before it: did you mean `{near}`?");
        }
        if StepWord::named(text).is_some() {
            return format!("`{text}` is a step, and stands behind a control and `|`");
        }
    } else if let Some(near) = nearest_in_class(text, names()) {
        return format!("did you mean `{near}`?");
    }
    "`harmonym controls` lists them all, and finds them by words: `harmonym controls left stick`"
        .to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_people_call_controls_leads_to_their_place() {
        let catalogue = Catalogue::built_in();
        for (tried, wanted) in [
            ("Space", "key.Space"),
            ("W", "key.KeyW"),
            ("key.W", "key.KeyW"),
            ("key.1", "key.Digit1"),
            ("keyboard.Esc", "key.Escape"),
            ("ctrl", "key.Control"),
            ("numpad0", "key.Numpad0"),
            ("kp_5", "key.Numpad5"),
            ("gamepad.A", "pad.south"),
            ("pad.a", "pad.south"),
            ("pad.rt", "pad.right-trigger"),
            ("L2", "pad.left-trigger"),
            ("LB", "pad.left-shoulder"),
            ("cross", "pad.south"),
            ("triangle", "pad.north"),
            ("gamepad.leftStick", "pad.left-stick"),
            ("controller.left-stick.x", "pad.left-stick.x"),
            ("pad.L3", "pad.left-stick.click"),
            ("LMB", "mouse.left"),
            ("mouse.scroll-up", "mouse.wheel.up"),
            ("touch.tap", "touch.down"),
        ] {
            let found = meant(tried, catalogue);
            assert_eq!(found.first().map(String::as_str), Some(wanted), "{tried}");
        }
        for nothing in ["", ".", "pad.", "quay", "pad.lantern", "🦀", "key.ü"] {
            assert_eq!(meant(nothing, catalogue), [] as [String; 0], "{nothing}");
        }
    }

    #[test]
    fn every_word_leads_to_a_control_that_there_is() {
        let catalogue = Catalogue::built_in();
        for (class, table) in [("key", KEYS), ("pad", PAD), ("mouse", MOUSE), ("touch", TOUCH)] {
            for (word, names) in table {
                let missing =
                    names.iter().find(|n| catalogue.find(&format!("{class}.{n}")).is_none());
                assert_eq!(missing, None, "{class} {word}");
            }
        }
    }
}
