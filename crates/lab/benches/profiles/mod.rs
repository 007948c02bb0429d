//! The profiles that benches run.

use std::fmt::Write;

/// The keys that hands press.
pub const KEYS: &[&str] = &[
    "KeyW",
    "KeyA",
    "KeyS",
    "KeyD",
    "KeyT",
    "KeyF",
    "KeyH",
    "KeyO",
    "KeyR",
    "KeyB",
    "KeyL",
    "ShiftLeft",
    "KeyU",
    "KeyG",
    "Digit1",
    "KeyN",
    "KeyJ",
    "ArrowUp",
    "ArrowDown",
    "KeyZ",
];

/// What they all begin with.
pub const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n\
                    [map.quay]\nstart = true\n";

/// Twenty actions of a game, as the same were written by hand.
pub fn twenty() -> String {
    let mut text = HEAD.to_owned();
    text.push_str(
        "[map.quay.walk]\nvalue = \"plane\"\n\
         bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\"\n\
         bind.pad = \"pad.left-stick | deadzone 0.1 full=0.96 | curve 2\"\n\
         [map.quay.gaze]\nvalue = \"plane\"\n\
         bind.pad = \"pad.right-stick | deadzone 0.1 full=0.96 | scale 3\"\n\
         [map.quay.pull]\nvalue = \"switch\"\nbind.pad = \"pad.right-trigger\"\n\
         levels = { wake = 0.3, down = 0.85, up = 0.25 }\nfire = \"charge 0.6s\"\n",
    );
    let rules = [
        ("tie-knot", "KeyT", "hold 0.8s"),
        ("uncover", "KeyF", "tap 0.25s"),
        ("hail", "KeyH", "press"),
        ("row", "KeyO", "while"),
        ("reel", "KeyR", "repeat 0.1s after=0.4s"),
        ("ring-bell", "KeyB", "press"),
        ("splice", "KeyL", "press"),
        ("hurry", "ShiftLeft", "while"),
        ("haul", "KeyU", "while"),
        ("open-log", "KeyG", "release"),
        ("trim-lamp", "Digit1", "taps 2 gap=0.3s"),
        ("moor", "KeyN", "press"),
        ("hook-on", "KeyJ", "hold 0.5s"),
        ("hoist", "ArrowUp", "while"),
        ("lower", "ArrowDown", "while"),
        ("sound", "KeyZ", "tap 0.25s"),
    ];
    for (name, key, fire) in rules {
        let _ = writeln!(
            text,
            "[map.quay.{name}]\nvalue = \"switch\"\nbind.desk = \"key.{key}\"\nfire = \"{fire}\""
        );
    }
    text.push_str(
        "[map.quay.stow]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\nfire = \"hold 0.3s\"\n",
    );
    text
}

/// So many actions over twenty maps: the twenty of the first, open one, and others like them.
pub fn many(count: usize) -> String {
    let mut text = twenty();
    let rules = ["press", "hold 0.5s", "tap 0.25s", "while", "charge 0.3s or taps 2 gap=0.3s"];
    for index in 20..count {
        let (map, key, rule) = (index % 19, KEYS[index % KEYS.len()], rules[index % rules.len()]);
        let _ = writeln!(
            text,
            "[map.deck-{map}.act-{index}]\nvalue = \"switch\"\nabout = \"One of many\"\n\
             bind.desk = \"key.{key}\"\nbind.pad = \"pad.left-stick.x | deadzone 0.1\"\n\
             fire = \"{rule}\""
        );
    }
    text
}
