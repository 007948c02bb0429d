//! Plain actions: single buttons and sticks with one cue, whose reports take short ways. What stirs
//! these ways comes in between: maps, claims, pauses, narrowing, second devices, settings, `+`.

use crate::properties::compare;
use crate::random::timed;
use crate::trials::trials_of;
use proptest::prelude::*;
use std::fmt::Write as _;

pub const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nscheme.slate.devices = [\"slate\"]\n\
                    device.slate.controls = { thumb = \"stick\", tap = \"button\" }\n\
                    device.slate.as = { thumb = \"pad.left-stick\", tap = \"pad.south\" }\n\
                    setting.push.default = 1\nfact.calm = {}\nmap.quay.start = true\nmap.mill = {}\n\
                    map.book.kind = \"layer\"\n";

const CUES: &[&str] = &[
    "press",
    "release",
    "while",
    "hold 0.05s",
    "tap 0.1s",
    "charge 0.03s",
    "taps 2 gap=0.1s",
    "taps 3 gap=0.05s",
    "repeat 0.02s",
    "repeat 0.03s after=0.1s",
    "change",
    "press or hold 0.04s",
    "while or tap 0.03s",
];

const SINGLE: &[&str] = &[
    "key.KeyA",
    "key.KeyB",
    "key.KeyC",
    "key.KeyA",
    "key.KeyB | deadzone 0.1",
    "key.KeyC | scale push",
    "key.Shift",
    "key.KeyA + key.KeyB",
    "pair(key.KeyA, key.KeyC)",
    "mouse.wheel.up",
    "pad.south",
    "pad.east",
    "pad#2.south",
    "pad.dpad.up",
    "pad.left-trigger",
    "pad.left-trigger | deadzone 0.2 | curve 2",
    "pad.left-stick.x",
    "pad.left-stick.up",
];

/// The slate's thumb stands in for the left stick, whose reports never wait by that.
const PLANES: &[&str] = &[
    "pad.left-stick",
    "pad.right-stick",
    "pad.right-stick",
    "pad.right-stick | deadzone 0.1 full=0.96 | curve 2",
    "pad.right-stick | deadzone 0.1 | scale 3",
    "pad.left-stick | cap 0.7",
    "pad.right-stick | cap 0.72",
    "pad.right-stick | scale push",
    "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)",
];

/// What makes an action less plain, now and then; `FIRST` is the first action of the profile.
const EXTRAS: &[&str] = &[
    "",
    "",
    "",
    "",
    "",
    "",
    "",
    "",
    "claim = true\n",
    "carry = true\n",
    "in-pause = true\n",
    "shape = \"scale push\"\n",
    "shape = \"cap 1\"\n",
    "blend = \"newest\"\n",
    "blend = \"sum\"\n",
    "yields-to = [\"FIRST\"]\n",
    "levels = { down = 1.5 }\n",
    "levels = { wake = 0.3, down = 0.85, up = 0.25 }\n",
    "levels = { wake = 0.5, down = 0.7, up = 0.3 }\n",
    "levels = { wake = 0.5, down = 0.7, up = 0.3 }\n",
    "levels = { wake = 0.7, down = 0.9, up = 0.5 }\n",
];

pub fn of(words: &'static [&'static str]) -> impl Strategy<Value = &'static str> + Clone {
    prop::sample::select(words)
}

fn profile() -> impl Strategy<Value = String> {
    let guard = of(&["", "", "", "", "", "", " when calm", " with FIRST", " without FIRST"]);
    let map = of(&["quay", "quay", "quay", "quay", "mill", "book"]);
    let bindings = prop_oneof![
        3 => prop::collection::vec(of(SINGLE), 1..3).prop_map(|all| ("switch", all)),
        1 => prop::collection::vec(of(SINGLE), 1..3).prop_map(|all| ("axis", all)),
        2 => prop::collection::vec(of(PLANES), 1..3).prop_map(|all| ("plane", all)),
    ];
    let action = (bindings, of(CUES), guard, of(EXTRAS), map);
    prop::collection::vec(action, 1..8).prop_map(|all| {
        let mut text = HEAD.to_owned();
        let first = format!("{}.a0", all[0].4);
        for (number, ((kind, bindings), cue, guard, extra, map)) in all.iter().enumerate() {
            let (guard, extra) = match number {
                0 => ("", ""),
                _ => (*guard, *extra),
            };
            let text = &mut text;
            let _ = writeln!(text, "[map.{map}.a{number}]\nvalue = \"{kind}\"");
            let _ = writeln!(text, "fire = \"{cue}{}\"", guard.replace("FIRST", &first));
            text.push_str(&extra.replace("FIRST", &first));
            for (scheme, class) in [("pad", true), ("desk", false)] {
                let own: Vec<_> = bindings.iter().filter(|b| b.contains("pad") == class).collect();
                if !own.is_empty() {
                    let _ = writeln!(text, "bind.{scheme} = {own:?}");
                }
            }
        }
        text
    })
}

pub fn take() -> impl Strategy<Value = String> {
    let control = |name: &str, value: &str| format!("\"control\":\"{name}\",\"value\":{value}");
    let buttons = of(&[
        "key.KeyA",
        "key.KeyB",
        "key.KeyC",
        "key.KeyD",
        "key.ShiftLeft",
        "key.ShiftRight",
        "pad.south",
        "pad.east",
        "pad.dpad.up",
    ]);
    let number = || {
        of(&[
            "0", "0.05", "0.1", "0.11", "0.24", "0.3", "0.49", "0.5", "0.55", "0.69", "0.7",
            "0.86", "1", "-0.4", "-1", "1.4", "-1.6",
        ])
    };
    let pair = move || (number(), number()).prop_map(|(x, y)| format!("[{x},{y}]"));
    let line = prop_oneof![
        10 => (buttons, of(&["0", "1"])).prop_map(move |(name, on)| control(name, on)),
        5 => number().prop_map(move |value| control("pad.left-trigger", value)),
        9 => (of(&["pad.left-stick", "pad.right-stick", "pad.right-stick"]), pair())
            .prop_map(move |(name, value)| control(name, &value)),
        1 => (of(&["pad#2.left-stick", "slate.thumb"]), pair())
            .prop_map(move |(name, value)| control(name, &value)),
        1 => (of(&["pad#2.south", "slate.tap", "key#2.KeyA"]), of(&["0", "1"]))
            .prop_map(move |(name, on)| control(name, on)),
        2 => of(&[
            "\"control\":\"mouse.wheel\",\"by\":[0,1]",
            "\"control\":\"mouse.move\",\"by\":[3,-1]",
            "\"open\":\"book\"",
            "\"close\":\"book\"",
            "\"open\":\"mill\"",
            "\"open\":\"quay\"",
            "\"pause\":true",
            "\"pause\":false",
            "\"scheme\":\"pad\"",
            "\"scheme\":null",
            "\"setting\":\"push\",\"value\":0.5",
            "\"setting\":\"push\",\"value\":2",
            "\"fact\":\"calm\",\"value\":1",
            "\"fact\":\"calm\",\"value\":0",
        ]).prop_map(str::to_owned),
    ];
    let steps: &[u64] =
        &[0, 1, 1_000_000, 3_000_000, 5_000_000, 16_666_666, 50_000_000, 100_000_000];
    timed(steps, line, 0..80)
}

#[test]
fn short_ways_end_where_the_general_way_does() {
    trials_of(256, &(profile(), take()), compare);
}

/// A control and its value, `push` or `calm` and its value, `scheme` and the one that counts, or a map.
type Step = (&'static str, &'static str);

/// A stick that goes out and comes back.
const OUT_AND_BACK: &[Step] = &[
    ("pad.right-stick", "[0.3,0]"),
    ("pad.right-stick", "[0.2,0]"),
    ("pad.right-stick", "[0.4,0]"),
    ("pad.right-stick", "[0.97,0]"),
    ("pad.right-stick", "[0.4,0]"),
];

/// A stick that reports several magnitudes between each two of these levels.
const STICK: &str = "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
                     levels = { wake = 0.5, down = 0.7, up = 0.3 }";
const UP_AND_DOWN: &[Step] = &[
    ("pad.right-stick", "[0.4,0]"),
    ("pad.right-stick", "[0.2,0]"),
    ("pad.right-stick", "[0.3,0]"),
    ("pad.right-stick", "[0.6,0]"),
    ("pad.right-stick", "[0.65,0]"),
    ("pad.right-stick", "[0.55,0]"),
    ("pad.right-stick", "[0.35,0]"),
    ("pad.right-stick", "[0.5,0]"),
    ("pad.right-stick", "[0.6,0]"),
    ("pad.right-stick", "[0.1,0]"),
    ("pad.right-stick", "[0.2,0]"),
    ("pad.right-stick", "[0.6,0]"),
    ("pad.right-stick", "[0.5,0]"),
    ("pad.right-stick", "[0.8,0]"),
    ("pad.right-stick", "[0.9,0]"),
    ("pad.right-stick", "[0.4,0]"),
    ("pad.right-stick", "[0.6,0]"),
    ("pad.right-stick", "[0.5,0]"),
    ("pad.right-stick", "[0.1,0]"),
    ("pad.right-stick", "[0.2,0]"),
    ("pad.right-stick", "[0.9,0]"),
    ("pad.right-stick", "[0,0]"),
];

/// A take of presses and releases, or other values, 20 ms and a bit apart.
fn steps(all: &[Step]) -> String {
    let line = |(i, (control, value)): (usize, &Step)| {
        let t = harmonym_runtime::base::Time::from_nanos(i as u64 * 20_300_000 + 7);
        match *control {
            "push" => format!("{{\"t\":{t},\"setting\":\"push\",\"value\":{value}}}\n"),
            "calm" => format!("{{\"t\":{t},\"fact\":\"calm\",\"value\":{value}}}\n"),
            "scheme" | "open" | "close" => format!("{{\"t\":{t},\"{control}\":{value}}}\n"),
            _ => format!("{{\"t\":{t},\"control\":\"{control}\",\"value\":{value}}}\n"),
        }
    };
    all.iter().enumerate().map(line).collect()
}

#[test]
fn each_thing_that_makes_a_short_way_too_short_counts() {
    let rows: &[(&str, &[Step])] = &[
        // Another device stands in for the button.
        (
            "value = \"switch\"\nbind.pad = \"pad.south\"",
            &[("pad.south", "1"), ("slate.tap", "1"), ("pad.south", "0"), ("slate.tap", "0")],
        ),
        // Another binding holds the action.
        (
            "value = \"switch\"\nbind.desk = [\"key.KeyA\", \"key.KeyB\"]",
            &[("key.KeyA", "1"), ("key.KeyB", "1"), ("key.KeyA", "0"), ("key.KeyB", "0")],
        ),
        // Its shape, and a step of its binding, make less of the button.
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA\"\nshape = \"scale push\"",
            &[("push", "0.4"), ("key.KeyA", "1"), ("key.KeyA", "0")],
        ),
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA | scale push\"",
            &[("push", "0.4"), ("key.KeyA", "1"), ("key.KeyA", "0")],
        ),
        // It is let go while another scheme is in use.
        (
            "value = \"switch\"\nbind.pad = \"pad.east\"",
            &[("pad.east", "1"), ("key.KeyA", "1"), ("pad.east", "0"), ("key.KeyA", "0")],
        ),
        // A stick goes through all of its levels, here and there, up and down; with a shape; and while
        // another scheme is in use.
        (STICK, UP_AND_DOWN),
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\nshape = \"scale push\"\n\
             levels = { wake = 0.5, down = 0.7, up = 0.3 }",
            UP_AND_DOWN,
        ),
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
             levels = { wake = 0.7, down = 0.9, up = 0.3 }",
            &[
                ("pad.right-stick", "[0.65,0]"),
                ("key.KeyB", "1"),
                ("pad.right-stick", "[0.4,0]"),
                ("pad.right-stick", "[0.3,0]"),
                ("pad.right-stick", "[0.35,0]"),
                ("pad.right-stick", "[0.6,0]"),
                ("key.KeyB", "0"),
                ("pad.right-stick", "[0.4,0]"),
                ("key.KeyB", "1"),
                ("pad.right-stick", "[0.55,0]"),
                ("pad.right-stick", "[0.95,0]"),
                ("key.KeyC", "1"),
                ("pad.right-stick", "[0.9,0]"),
                ("pad.right-stick", "[0.45,0]"),
                ("pad.right-stick", "[0.6,0]"),
            ],
        ),
        // Keys hold what a stick alone would let go.
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
             bind.desk = \"four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)\"\n\
             levels = { wake = 0.5, down = 0.7, up = 0.3 }",
            &[
                ("key.KeyA", "1"),
                ("pad.right-stick", "[0.1,0]"),
                ("pad.right-stick", "[0.15,0]"),
                ("key.KeyA", "0"),
                ("pad.right-stick", "[0.9,0]"),
                ("pad.right-stick", "[0.2,0]"),
                ("pad.right-stick", "[0.25,0]"),
                ("pad.right-stick", "[0.8,0]"),
                ("key.KeyA", "1"),
                ("pad.right-stick", "[0.6,0]"),
                ("key.KeyA", "0"),
            ],
        ),
        // Two levers are as far, and the one that counts is a hair under the level.
        (
            "value = \"switch\"\nbind.pad = [\"pad.left-trigger\", \"pad.right-trigger\"]\n\
             levels = { wake = 0.5, down = 0.7, up = 0.3 }",
            &[
                ("pad.right-trigger", "0.9"),
                ("pad.right-trigger", "0.3000000004"),
                ("pad.right-trigger", "0.9"),
                ("pad.left-trigger", "0.2999999995"),
                ("pad.right-trigger", "0.3000000004"),
                ("pad.right-trigger", "0.9"),
            ],
        ),
        // Reports so small that their squares are nothing, and steps that make much of them.
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick | curve 0.1 | scale 1000000 | scale 1000000 | scale 1000\"\n\
             levels = { wake = 0.04, down = 0.045, up = 0.03 }",
            &[
                ("pad.right-stick", "[1e-170,0]"),
                ("pad.right-stick", "[1e-171,0]"),
                ("pad.right-stick", "[1e-172,0]"),
                ("pad.right-stick", "[1e-163,0]"),
                ("pad.right-stick", "[1e-162,0]"),
                ("pad.right-stick", "[1e-163,0]"),
                ("pad.right-stick", "[1e-164,0]"),
                ("pad.right-stick", "[1e-200,0]"),
            ],
        ),
        // Its scheme does not count.
        (
            "value = \"switch\"\nbind.pad = \"pad.south\"",
            &[("scheme", "\"desk\""), ("pad.south", "1"), ("scheme", "null"), ("pad.south", "0")],
        ),
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"",
            &[
                ("pad.right-stick", "[0.4,0]"),
                ("scheme", "\"desk\""),
                ("pad.right-stick", "[0.8,0]"),
                ("pad.right-stick", "[0.9,0]"),
                ("scheme", "null"),
                ("pad.right-stick", "[0,0]"),
            ],
        ),
        // Two levers pull opposite ways, and the other one wins.
        (
            "value = \"axis\"\nbind.pad = [\"pad.left-trigger\", \"pad.right-trigger | flip\"]",
            &[
                ("pad.left-trigger", "0.8"),
                ("pad.left-trigger", "0.5"),
                ("pad.right-trigger", "0.7"),
                ("pad.left-trigger", "0.6"),
                ("pad.left-trigger", "0.9"),
                ("pad.right-trigger", "0.95"),
                ("pad.left-trigger", "0.6"),
                ("pad.left-trigger", "1"),
            ],
        ),
        // Two sticks add up.
        (
            "value = \"plane\"\nblend = \"sum\"\nlevels = { wake = 0.5, down = 0.7, up = 0.3 }\n\
             bind.pad = [\"pad.right-stick\", \"pad.left-stick\"]",
            &[
                ("pad.right-stick", "[0.4,0]"),
                ("pad.right-stick", "[0,0]"),
                ("pad.left-stick", "[0.45,0]"),
                ("pad.right-stick", "[0.3,0]"),
                ("pad.right-stick", "[0.35,0]"),
                ("pad.right-stick", "[0,0]"),
            ],
        ),
        // A step makes less of more.
        (
            "value = \"plane\"\nlevels = { wake = 0.3, down = 0.5, up = 0.2 }\n\
             bind.pad = \"pad.right-stick | curve (0.3 0.8) (1 0.05)\"",
            OUT_AND_BACK,
        ),
        (
            "value = \"plane\"\nlevels = { wake = 0.3, down = 0.5, up = 0.2 }\n\
             bind.pad = \"pad.right-stick\"\nshape = \"curve (0.3 0.8) (1 0.05)\"",
            OUT_AND_BACK,
        ),
        // Another action reads it, and goes down where it stays as it is.
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
             [map.quay.far]\nvalue = \"axis\"\nbind.pad = \"act.a | pick length\"\n\
             fire = \"press\"\nlevels = { wake = 0.6, down = 0.6, up = 0.5 }",
            &[
                ("pad.right-stick", "[0.4,0]"),
                ("pad.right-stick", "[0.2,0]"),
                ("pad.right-stick", "[0.4,0]"),
                ("pad.right-stick", "[0.9,0]"),
                ("pad.right-stick", "[0.3,0]"),
                ("pad.right-stick", "[0.8,0]"),
            ],
        ),
        // A layer takes the stick, and gives it back while it is held.
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
             [map.book.leaf]\nvalue = \"plane\"\nclaim = true\nfire = \"press\"\n\
             bind.pad = \"pad.right-stick\"",
            &[
                ("pad.right-stick", "[0.8,0]"),
                ("pad.right-stick", "[0.3,0]"),
                ("pad.right-stick", "[0.8,0]"),
                ("open", "\"book\""),
                ("pad.right-stick", "[0.7,0]"),
                ("pad.right-stick", "[0,0]"),
                ("pad.right-stick", "[0.9,0]"),
                ("close", "\"book\""),
                ("pad.right-stick", "[0.8,0]"),
                ("pad.right-stick", "[0,0]"),
                ("pad.right-stick", "[0.9,0]"),
            ],
        ),
        // The same, and the layer takes over what is held.
        (
            "value = \"plane\"\nbind.pad = \"pad.right-stick\"\n\
             [map.book.leaf]\nvalue = \"plane\"\nclaim = true\ncarry = true\nfire = \"press\"\n\
             bind.pad = \"pad.right-stick\"",
            &[
                ("pad.right-stick", "[0.8,0]"),
                ("pad.right-stick", "[0.3,0]"),
                ("pad.right-stick", "[0.8,0]"),
                ("open", "\"book\""),
                ("pad.right-stick", "[0.7,0]"),
                ("pad.right-stick", "[0.6,0]"),
                ("close", "\"book\""),
                ("pad.right-stick", "[0.8,0]"),
            ],
        ),
        // A button does not take it down.
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA\"\nlevels = { down = 1.5 }",
            &[("key.KeyA", "1"), ("key.KeyA", "0")],
        ),
    ];
    for (action, take) in rows {
        for rule in CUES {
            let text = format!("{HEAD}[map.quay.a]\nfire = \"{rule}\"\n{action}\n");
            let told = [20, 60, 144].map(|rate| compare(&text, &steps(take), rate));
            assert_eq!(told, [Ok(()), Ok(()), Ok(())], "{action}\n{rule}");
        }
    }
}

#[test]
fn guards_are_asked_on_short_ways_too() {
    let key: &[Step] = &[
        ("key.KeyA", "1"),
        ("key.KeyA", "0"),
        ("calm", "1"),
        ("key.KeyA", "1"),
        ("calm", "0"),
        ("key.KeyA", "0"),
        ("key.KeyA", "1"),
        ("calm", "1"),
        ("key.KeyA", "0"),
    ];
    for rule in CUES {
        let text = format!(
            "{HEAD}[map.quay.a]\nfire = \"{rule} when calm\"\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n"
        );
        let told = [20, 60, 144].map(|rate| compare(&text, &steps(key), rate));
        assert_eq!(told, [Ok(()), Ok(()), Ok(())], "{rule}");
    }
}

#[test]
fn what_a_stick_does_is_seen_by_others_at_once() {
    let hands: &[Step] = &[
        ("key.KeyB", "1"),
        ("pad.right-stick", "[0.2,0]"),
        ("pad.right-stick", "[0.1,0]"),
        ("pad.right-stick", "[0.9,0]"),
        ("pad.right-stick", "[0.8,0]"),
        ("key.KeyB", "0"),
        ("pad.right-stick", "[0.1,0]"),
        ("key.KeyB", "1"),
        ("pad.right-stick", "[0.9,0]"),
    ];
    let others = [
        "fire = \"while with a\"\nbind.desk = \"key.KeyB\"",
        "fire = \"while without a\"\nbind.desk = \"key.KeyB\"",
        "fire = \"sequence(a, a) within=5s\"",
    ];
    for rule in CUES {
        for other in others {
            let text = format!(
                "{HEAD}[map.quay.a]\nfire = \"{rule}\"\n{STICK}\n[map.quay.b]\nvalue = \"switch\"\n{other}\n"
            );
            let told = [20, 60, 144].map(|rate| compare(&text, &steps(hands), rate));
            assert_eq!(told, [Ok(()), Ok(()), Ok(())], "{rule}\n{other}");
        }
    }
}

#[test]
fn who_yields_waits_on_short_ways_too() {
    let keys: &[Step] = &[
        ("key.KeyB", "1"),
        ("key.KeyA", "1"),
        ("key.KeyA", "0"),
        ("key.KeyB", "0"),
        ("key.KeyB", "1"),
        ("key.KeyA", "1"),
        ("key.KeyC", "1"),
        ("key.KeyC", "0"),
        ("key.KeyA", "0"),
        ("key.KeyB", "0"),
    ];
    for rule in ["press", "release", "hold 0.03s", "tap 0.1s", "charge 0.01s", "taps 2 gap=0.1s"] {
        let text = format!(
            "{HEAD}[map.quay.a]\nfire = \"{rule}\"\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n\
             yields-to = [\"b\"]\n[map.quay.b]\nfire = \"hold 0.05s\"\nvalue = \"switch\"\n\
             bind.desk = \"key.KeyB\"\n"
        );
        let told = [20, 60, 144].map(|rate| compare(&text, &steps(keys), rate));
        assert_eq!(told, [Ok(()), Ok(()), Ok(())], "{rule}");
    }
}
