//! Each thing that makes a short way too short, in a case of its own: at three rates, under every cue, the
//! engine tells and shows what the second interpreter does.

use crate::plain::{CUES, HEAD};
use crate::properties::compare;

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

/// Engine and interpreter agree at every rate.
fn agree(profile: &str, take: &[Step]) {
    let told = [20, 60, 144].map(|rate| compare(profile, &steps(take), rate));
    assert_eq!(told, [Ok(()), Ok(()), Ok(())], "{profile}");
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
        // One stick takes it down, and lets go; another that would not have woken it holds it.
        (
            "value = \"plane\"\nbind.pad = [\"pad.right-stick\", \"pad.left-stick\"]\n\
             levels = { wake = 0.5, down = 0.7, up = 0.3 }",
            &[
                ("pad.right-stick", "[0.9,0]"),
                ("pad.right-stick", "[0,0]"),
                ("pad.right-stick", "[0.45,0]"),
                ("pad.right-stick", "[0.4,0]"),
                ("pad.right-stick", "[0.42,0]"),
                ("pad.left-stick", "[0.9,0]"),
                ("pad.left-stick", "[0,0]"),
                ("pad.right-stick", "[0.2,0]"),
                ("pad.right-stick", "[0.8,0]"),
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
        // The same of one of three sticks.
        (
            "value = \"plane\"\nlevels = { wake = 0.3, down = 0.5, up = 0.2 }\n\
             bind.pad = [\"pad.right-stick\", \"pad.left-stick\"]\n\
             bind.globe = \"globe.roll | curve (0.3 0.8) (1 0.05)\"\n\
             [device.globe]\ncontrols = { roll = \"stick\" }\n[scheme.globe]\ndevices = [\"globe\"]",
            &[
                ("globe.roll", "[0.3,0]"),
                ("globe.roll", "[0.2,0]"),
                ("globe.roll", "[0.4,0]"),
                ("globe.roll", "[0.97,0]"),
                ("globe.roll", "[0.4,0]"),
            ],
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
        // It goes from one side to the other in less than a millisecond.
        (
            "value = \"axis\"\nbind.pad = \"pad.right-stick.x | ease rise=4000/s fall=4000/s\"",
            &[
                ("pad.right-stick", "[0.9,0]"),
                ("pad.right-stick", "[-0.9,0]"),
                ("pad.right-stick", "[0.8,0]"),
                ("pad.right-stick", "[0,0]"),
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
            agree(&text, take);
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
        agree(&text, key);
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
            agree(&text, hands);
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
        agree(&text, keys);
    }
}

#[test]
fn what_moves_is_where_it_is_at_every_report() {
    let line = |t: u32, key: &str, on: u8| {
        format!("{{\"t\":{t}e-4,\"control\":\"key.{key}\",\"value\":{on}}}\n")
    };
    // Another action reads it, at two reports of one millisecond.
    let read = "value = \"axis\"\nbind.desk = [\"act.b\", \"key.KeyB | scale 0.1\"]\n\
                [map.quay.b]\nvalue = \"axis\"\nbind.desk = \"key.KeyA | ease rise=9/s fall=9/s\"";
    let hands =
        [(0, "KeyA", 1), (203, "KeyB", 1), (206, "KeyB", 0), (209, "KeyB", 1), (502, "KeyA", 0)];
    // It waits for another action, which has it long before it is looked at again.
    let waits = "value = \"axis\"\nbind.desk = \"key.KeyA | ease rise=1/s fall=1/s\"\nyields-to = [\"b\"]\n\
                 levels = { wake = 0.1, down = 0.1, up = 0.05 }\n\
                 [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\nfire = \"release\"";
    let late = [(0, "KeyB", 1), (100, "KeyA", 1), (3003, "KeyB", 0), (3006, "KeyA", 0)];
    for (action, rules, hands) in [
        (read, &["change", "while", "press", "release"][..], &hands[..]),
        (waits, &["press", "release", "hold 0.05s", "tap 1s", "charge 0.01s"], &late),
    ] {
        let take: String = hands.iter().map(|&(t, key, on)| line(t, key, on)).collect();
        for rule in rules {
            let profile = format!("{HEAD}[map.quay.a]\nfire = \"{rule}\"\n{action}\n");
            assert_eq!(compare(&profile, &take, 60), Ok(()), "{profile}");
        }
    }
}
