//! Actions that others look at, and actions that something in them makes move, count or remember: their
//! reports may go a short way only where nothing comes of that.

use crate::plain::{HEAD, of, take};
use crate::properties::compare;
use crate::trials::trials_of;
use proptest::prelude::*;
use std::fmt::Write as _;

/// What makes a plane, by scheme: most of a first binding alone, some with a second.
const PLANES: &[(&str, &str)] = &[
    ("pad.right-stick", ""),
    ("pad.right-stick | deadzone 0.1", ""),
    ("pad.left-stick", ""),
    ("", "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)"),
    ("pad.right-stick", "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)"),
    ("pad.right-stick", "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD, opposed=newest)"),
    ("pad.right-stick", "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD) | ease rise=9/s fall=5/s"),
    ("pad.right-stick | ease rise=20/s fall=9/s", ""),
    ("pad.right-stick | smooth 0.02s", "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)"),
    ("pad.right-stick", "mouse.move | scale 0.1"),
    ("pad.right-stick", "key.ShiftLeft + four(key.KeyA, key.KeyB, key.KeyC, key.KeyD)"),
];

/// What makes a switch.
const SWITCHES: &[(&str, &str)] = &[
    ("", "key.KeyA"),
    ("", "key.KeyB"),
    ("", "key.Shift"),
    ("pad.south", ""),
    ("pad.south", "key.KeyA"),
    ("pad.left-trigger", ""),
    ("pad.left-trigger", "key.KeyA"),
    ("pad.left-trigger | deadzone 0.2", "key.KeyA | toggle"),
    ("pad.right-stick.up", ""),
    ("pad.left-trigger | on 0.5 off=0.3", ""),
];

const CUES: &[&str] =
    &["press", "release", "while", "while", "hold 0.05s", "tap 0.1s", "taps 2 gap=0.1s", "change"];

/// How an action names the first one, or asks for a fact, behind its cue.
const GUARDS: &[&str] = &["", "", " with FIRST", " with FIRST", " without FIRST", " when calm"];

const LEVELS: &[&str] =
    &["", "", "levels = { wake = 0.3, down = 0.85, up = 0.25 }\n", "blend = \"newest\"\n"];

fn profile() -> impl Strategy<Value = String> {
    let parts = prop_oneof![
        prop::sample::select(PLANES).prop_map(|parts| ("plane", parts)),
        prop::sample::select(SWITCHES).prop_map(|parts| ("switch", parts)),
    ];
    let yields = of(&["", "", "", "yields-to = [\"FIRST\"]\n"]);
    let action = (parts, of(CUES), of(GUARDS), of(LEVELS), yields);
    (prop::collection::vec(action, 2..6), of(&["", "", "plane", "switch"])).prop_map(
        |(all, reader)| {
            let mut text = HEAD.to_owned();
            for (number, ((kind, (pad, desk)), cue, guard, levels, yields)) in
                all.iter().enumerate()
            {
                let named = |text: &str| match number {
                    0 => String::new(),
                    _ => text.replace("FIRST", "quay.a0"),
                };
                let _ = writeln!(text, "[map.quay.a{number}]\nvalue = \"{kind}\"");
                let _ =
                    writeln!(text, "fire = \"{cue}{}\"\n{levels}{}", named(guard), named(yields));
                for (scheme, binding) in [("pad", pad), ("desk", desk)] {
                    if !binding.is_empty() {
                        let _ = writeln!(text, "bind.{scheme} = \"{binding}\"");
                    }
                }
            }
            if all[0].0.0 == reader {
                let _ = writeln!(
                    text,
                    "[map.quay.far]\nvalue = \"{reader}\"\nbind.pad = \"act.a0\"\nfire = \"press\""
                );
            }
            text
        },
    )
}

#[test]
fn actions_that_others_look_at_take_short_ways_only_where_nobody_notices() {
    trials_of(512, &(profile(), take()), compare);
}
