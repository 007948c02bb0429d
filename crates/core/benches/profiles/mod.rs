//! The profiles that benches run.

use std::fmt::Write;

/// The keys that hands press.
pub const KEYS: &[&str] = &[
    "KeyW",
    "KeyA",
    "KeyS",
    "KeyD",
    "KeyE",
    "KeyF",
    "KeyH",
    "KeyQ",
    "KeyR",
    "KeyT",
    "Space",
    "ShiftLeft",
    "ControlLeft",
    "Tab",
    "Digit1",
    "Digit2",
    "Digit3",
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
         levels = { wake = 0.15, down = 0.7, up = 0.12 }\nfire = \"charge 0.6s\"\n",
    );
    let rules = [
        ("tie-knot", "KeyE", "hold 0.8s"),
        ("uncover", "KeyF", "tap 0.25s"),
        ("hail", "KeyH", "press"),
        ("lean-left", "KeyQ", "while"),
        ("reel", "KeyR", "repeat 0.1s after=0.4s"),
        ("talk", "KeyT", "press"),
        ("jump", "Space", "press"),
        ("hurry", "ShiftLeft", "while"),
        ("crouch", "ControlLeft", "while"),
        ("look-map", "Tab", "release"),
        ("lamp", "Digit1", "taps 2 gap=0.3s"),
        ("rope", "Digit2", "press"),
        ("hook", "Digit3", "hold 0.5s"),
        ("climb", "ArrowUp", "while"),
        ("descend", "ArrowDown", "while"),
        ("zoom", "KeyZ", "tap 0.2s"),
    ];
    for (name, key, fire) in rules {
        let _ = writeln!(
            text,
            "[map.quay.{name}]\nvalue = \"switch\"\nbind.desk = \"key.{key}\"\nfire = \"{fire}\""
        );
    }
    text.push_str(
        "[map.quay.use]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\nfire = \"hold 0.3s\"\n",
    );
    text
}

/// So many actions over twenty maps: the twenty of the first, open one, and others like them.
pub fn many(count: usize) -> String {
    let mut text = twenty();
    let rules = ["press", "hold 0.5s", "tap 0.2s", "while", "charge 0.3s or taps 2 gap=0.3s"];
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
