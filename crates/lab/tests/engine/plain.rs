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

pub const CUES: &[&str] = &[
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

/// The slate's thumb stands in for the left stick: of the two the one that is furthest counts.
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
