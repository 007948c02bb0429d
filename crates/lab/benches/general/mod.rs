//! A profile of actions that take no short way.

use crate::profiles::HEAD;
use std::fmt::Write;

/// Actions of every kind that take no short way: guards, claims of a layer, controls held together,
/// actions that wait for others, values that move on their own, a second device, a setting.
pub fn profile() -> String {
    let rows = [
        ("walk", "plane", "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", "while", ""),
        ("hail", "switch", "key.KeyH", "press when calm", ""),
        ("shout", "switch", "key.ShiftLeft + key.KeyH", "press", ""),
        ("row", "switch", "key.KeyO", "while with quay.walk", ""),
        ("reel", "switch", "key.KeyR", "repeat 0.1s after=0.4s without quay.row", ""),
        ("tie-knot", "switch", "key.KeyT", "hold 0.8s", ""),
        ("tug-knot", "switch", "key.KeyT", "press", "yields-to = [\"tie-knot\"]\n"),
        ("uncover", "switch", "key.KeyF", "tap 0.25s", ""),
        ("open-log", "switch", "key.KeyG", "release", ""),
        ("trim-lamp", "switch", "key.Digit1", "taps 2 gap=0.3s", ""),
        (
            "hoist",
            "axis",
            "pair(key.ArrowDown, key.ArrowUp)",
            "while",
            "shape = \"ease rise=4/s fall=8/s\"\n",
        ),
        ("sound", "switch", "key.KeyZ", "tap 0.25s or hold 0.5s", ""),
        ("moor", "switch", "key.KeyN", "press", ""),
        ("hook-on", "switch", "key.KeyJ", "hold 0.5s without quay.moor", ""),
    ];
    let mut text =
        HEAD.replace("[map.quay]", "setting.pace.default = 1\nfact.calm.default = 1\n[map.quay]");
    for (name, kind, binding, fire, more) in rows {
        let _ = writeln!(
            text,
            "[map.quay.{name}]\nvalue = \"{kind}\"\nbind.desk = \"{binding}\"\nfire = \"{fire}\"\n{more}"
        );
    }
    text.push_str(
        "[map.quay.stroll]\nvalue = \"plane\"\n\
         bind.pad = \"pad.left-stick | deadzone 0.1 full=0.96 | curve 2\"\n\
         shape = \"ease rise=6/s fall=9/s\"\n\
         [map.quay.gaze]\nvalue = \"plane\"\nblend = \"newest\"\n\
         bind.pad = [\"pad.right-stick | deadzone 0.1 | scale pace\", \"pad#2.right-stick\"]\n\
         [map.quay.pull]\nvalue = \"switch\"\nbind.pad = \"pad.right-trigger\"\n\
         levels = { wake = 0.3, down = 0.85, up = 0.25 }\nfire = \"charge 0.6s\"\n\
         [map.rig]\nkind = \"layer\"\nstart = true\n\
         [map.rig.bell]\nvalue = \"switch\"\nclaim = true\nbind.desk = \"key.KeyB\"\n\
         fire = \"press\"\n\
         [map.rig.stow]\nvalue = \"switch\"\nclaim = true\nbind.pad = \"pad.south\"\n\
         fire = \"hold 0.3s\"\n",
    );
    text
}
