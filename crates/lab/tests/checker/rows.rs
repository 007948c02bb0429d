//! Rules on small profiles, row by row: what they see through, and what they let be.

use crate::{found, map};

#[test]
fn rules_see_through_steps_guards_and_maps() {
    // What is expected, or nothing; only the rule named is looked at.
    for (rule, rows, fires) in [
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"tap 0.2s\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"charge 0.4s\"",
            ][..],
            false,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"tap 0.5s\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"charge 0.4s\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"taps 2 gap=0.3s\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press without b\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"hold 1s\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"hold 1s without b\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press\"",
            ],
            false,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"release without b\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.Shift\"",
                "b ; switch ; bind.desk = \"key.ShiftLeft\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.pad = \"pad.left-stick.up\"",
                "b ; switch ; bind.pad = \"pad.left-stick.x\"",
            ],
            false,
        ),
        (
            "double-fire",
            &["a ; switch ; bind.pad = \"pad.south\"", "b ; switch ; bind.pad = \"pad#2.south\""],
            true,
        ),
        ("never-fires", &["a ; switch ; bind.pad = \"pad.right-trigger | cap 0.5\""], true),
        (
            "never-fires",
            &["a ; switch ; bind.pad = \"pad.right-trigger | cap 0.5 | remap 0 0.5 0 1\""],
            false,
        ),
        (
            "never-fires",
            &["a ; axis ; bind.pad = \"pad.left-stick.x | clamp 0 1 | flip | clamp 0 1\""],
            true,
        ),
        (
            "never-fires",
            &["a ; switch ; bind.desk = \"mouse.wheel.up\" ; fire = \"hold 0.2s\""],
            true,
        ),
        ("never-fires", &["a ; switch ; bind.desk = \"mouse.wheel.up\" ; fire = \"press\""], false),
        (
            "never-fires",
            &[
                "a ; switch ; bind.desk = \"key.KeyA\" ; fire = \"press with b without b\"",
                "b ; switch ; bind.desk = \"key.KeyB\"",
            ],
            true,
        ),
        (
            "never-fires",
            &[
                "a ; switch ; bind.desk = \"key.KeyA | scale 0.1\"",
                "b ; switch ; fire = \"sequence(a, c) within=1s\"",
                "c ; switch ; bind.desk = \"key.KeyC\"",
            ],
            true,
        ),
        ("same-direction", &["a ; axis ; bind.desk = [\"key.KeyW\", \"key.KeyS | flip\"]"], false),
        (
            "same-direction",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyS | onto y\"] ; blend = \"sum\"",
            ],
            true,
        ),
        (
            "lone-keys",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyD | onto x\"] ; blend = \"sum\"",
            ],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)\"",
            ],
            true,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\""],
            false,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 by=axes full=0.6\""],
            true,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale 3\""],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyS | flip | onto y\", \"key.KeyA | flip | onto x\", \"key.KeyD | onto x\"] ; blend = \"sum\"",
            ],
            true,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.ArrowUp | onto y\", \"key.KeyS | flip | onto y\"] ; blend = \"sum\"",
            ],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.all = \"join(act.b, act.c)\"",
                "b ; axis ; bind.desk = \"pair(key.KeyA, key.KeyD)\"",
                "c ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW)\"",
            ],
            true,
        ),
        (
            "crossed-signs",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\" ; bind.pad = \"pad.left-stick | deadzone 0.1 | order yx\"",
            ],
            true,
        ),
        (
            "crossed-signs",
            &[
                "a ; axis ; bind.desk = \"pair(key.KeyW, key.KeyS)\" ; bind.pad = \"pad.left-stick.y | deadzone 0.1\"",
            ],
            true,
        ),
        ("raw-stick", &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.05\""], true),
        ("raw-stick", &["a ; axis ; bind.pad = \"pad.left-trigger | switch-at 0.5\""], false),
        ("raw-stick", &["a ; switch ; bind.pad = \"pad.left-trigger\""], false),
        (
            "crossed-signs",
            &[
                "a ; plane ; bind.desk = \"touch.drag | scale 2\" ; bind.pad = \"pad.right-stick | deadzone 0.1\"",
            ],
            false,
        ),
        (
            "half-reach",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\" ; bind.pad = \"pad.left-stick.x | deadzone 0.1 | onto x\"",
            ],
            true,
        ),
        ("idle-step", &["a ; axis ; bind.pad = \"pad.left-trigger | cap 1\""], true),
        ("idle-step", &["a ; plane ; bind.pad = \"pad.left-stick | cap 1\""], false),
        ("idle-step", &["a ; axis ; bind.pad = \"pad.left-trigger | flip | flip\""], true),
        (
            "idle-step",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | deadzone 0\"",
            ],
            true,
        ),
        (
            "idle-step",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | deadzone 0 by=axes\"",
            ],
            true,
        ),
        (
            "step-order",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | cap 1 | scale 2\""],
            true,
        ),
        (
            "step-order",
            &[
                "a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale 100 | travel | notch 1\"",
            ],
            true,
        ),
        ("system-key", &["a ; switch ; bind.desk = \"key.Alt + key.Tab\""], true),
        ("system-key", &["a ; switch ; bind.desk = \"key.Control + key.Tab\""], false),
        ("many-keys", &["a ; switch ; bind.desk = \"key.Control + key.Shift + key.KeyE\""], false),
        (
            "shadowed-keys",
            &[
                "a ; switch ; bind.desk = \"key.KeyE\"",
                "b ; switch ; bind.desk = \"key.Shift + key.KeyE\" ; waive = [\"shadowed-keys\"]",
            ],
            true,
        ),
        (
            "alike-names",
            &[
                "step-back ; switch ; bind.desk = \"key.KeyE\"",
                "back-step ; switch ; bind.desk = \"key.KeyB\"",
            ],
            true,
        ),
        (
            "alike-names",
            &[
                "deck-1 ; switch ; bind.desk = \"key.KeyE\"",
                "deck-2 ; switch ; bind.desk = \"key.KeyB\"",
            ],
            false,
        ),
    ] {
        let text = match rule {
            "crossed-signs" => map(rows).replace("bind.desk = \"touch", "bind.slate = \"touch"),
            _ => map(rows),
        };
        // touch.drag runs down as the hand sees it: only then does that one cross.
        let fires = fires || rule == "crossed-signs";
        let all = found(&text);
        assert_eq!(all.iter().any(|(name, _)| *name == rule), fires, "{rule}: {all:?}\n{text}");
    }
}

const SETTINGS: &str = "[setting.pace]\ndefault = 1\nrange = [0, 2]\n[setting.dead]\ndefault = 0.1\nrange = [0, 0.3]\n\
                        [setting.calm]\ndefault = false\n[setting.low-end]\ndefault = 0.3\nrange = [0.1, 0.6]\n";

#[test]
fn settings_are_looked_at_over_their_whole_ranges() {
    for (rule, row, fires) in [
        ("raw-stick", "a ; plane ; bind.pad = \"pad.left-stick | deadzone dead\"", true),
        ("raw-stick", "a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 unless calm\"", true),
        (
            "raw-stick",
            "a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale pace\"",
            false,
        ),
        ("raw-stick", "a ; plane ; bind.pad = \"pad.left-shoulder + pad.left-stick\"", true),
        (
            "fast-diagonal",
            "a ; plane ; bind.desk = \"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW)) | cap 1 when calm\"",
            true,
        ),
        (
            "fast-diagonal",
            "a ; plane ; bind.desk = \"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW)) | scale 4\"",
            true,
        ),
        (
            "fast-diagonal",
            "a ; plane ; bind.desk = \"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW)) | cap 1 | scale 4\"",
            false,
        ),
        (
            "crossed-signs",
            "a ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW) | flip when calm\" ; bind.pad = \"pad.left-stick.y | deadzone 0.1\"",
            true,
        ),
        (
            "crossed-signs",
            "a ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW)\" ; bind.pad = \"pad.left-stick.y | deadzone 0.1\" ; shape = \"flip when calm\"",
            false,
        ),
        (
            "no-hysteresis",
            "a ; axis ; bind.pad = \"pad.left-trigger | switch-at 0.5 off=low-end\"",
            true,
        ),
        (
            "no-hysteresis",
            "a ; axis ; bind.pad = \"pad.left-trigger | switch-at 0.7 off=low-end\"",
            false,
        ),
    ] {
        let text = map(&[row]).replace("[map.quay]\n", &format!("{SETTINGS}[map.quay]\n"));
        let all = found(&text);
        assert_eq!(all.iter().any(|(name, _)| *name == rule), fires, "{rule}: {all:?}\n{text}");
    }
}

#[test]
fn sound_profiles_are_not_accused() {
    for (rule, rows) in [
        (
            "mixed-travel",
            &[
                "a ; plane ; bind.all = \"any(mouse.move, pad.right-stick | deadzone 0.1 | scale 9 | travel)\"",
            ][..],
        ),
        ("many-keys", &["a ; switch ; bind.desk = \"any(key.KeyQ, key.KeyE) + key.KeyR\""]),
        ("same-direction", &["a ; axis ; bind.desk = [\"key.KeyW\", \"key.ArrowUp\"]"]),
        ("same-direction", &["a ; axis ; bind.desk = [\"key.ShiftLeft\", \"key.ShiftRight\"]"]),
        ("letters-as-places", &["a ; axis ; bind.desk = \"pair(char.n, char.y)\""]),
        (
            "alike-names",
            &[
                "hail ; switch ; bind.desk = \"key.KeyE\"",
                "haul ; switch ; bind.desk = \"key.KeyB\"",
                "sail ; switch ; bind.desk = \"key.KeyC\"",
            ],
        ),
        (
            "scheme-gap",
            &[
                "a ; switch ; bind.desk = \"key.KeyE\" ; bind.pad = \"pad.south\"",
                "b ; switch ; bind.all = \"any(key.KeyB, pad.east)\"",
                "c ; switch ; bind.all = \"act.a\"",
            ],
        ),
        // Each takes one component, and one direction at a time.
        (
            "double-fire",
            &[
                "a ; axis ; bind.pad = [\"pad.left-stick | deadzone 0.3 | ways 4 | pick x\", \"pad.dpad | pick x\"] ; fire = \"press\"",
                "b ; axis ; bind.pad = [\"pad.left-stick | deadzone 0.3 | ways 4 | pick y\", \"pad.dpad | ways 4 | pick y\"] ; fire = \"press\"",
            ],
        ),
        (
            "shared-control",
            &[
                "a ; axis ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | pick x\"",
                "b ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW)\"",
            ],
        ),
        ("void-plus", &["a ; switch ; bind.pad = \"pad.dpad.left + pad.dpad.up\""]),
        (
            "turning-press",
            &["a ; axis ; bind.pad = \"pad.dpad | pick x\" ; fire = \"repeat 0.2s\""],
        ),
    ] {
        let all = found(&map(rows));
        assert!(all.iter().all(|(name, _)| *name != rule), "{rule}: {all:?}\n{}", map(rows));
    }
    // A map that is there for others is open with them.
    let text = map(&["a ; switch ; bind.desk = \"key.KeyE\""])
        .replace("start = true\n", "start = true\nalso = [\"views.gaze\"]\n")
        + "[map.views]\nkind = \"layer\"\n[map.views.gaze]\nvalue = \"plane\"\nbind.desk = \"mouse.move\"\n";
    assert!(found(&text).iter().all(|(name, _)| *name != "never-opens"), "{:?}", found(&text));
}

#[test]
fn mistakes_show_through_parts_and_schemes() {
    for (rule, rows) in [
        (
            "lone-keys",
            &[
                "a ; plane ; bind.desk = [\"pair(key.KeyA, key.KeyD) | onto x\", \"pair(key.KeyS, key.KeyW) | onto y\"]",
            ][..],
        ),
        (
            "scheme-gap",
            &[
                "a ; switch ; bind.desk = \"key.KeyE\" ; bind.pad = \"pad.south\"",
                "b ; switch ; bind.desk = \"key.KeyB\"",
            ],
        ),
        (
            "scheme-gap",
            &[
                "a ; switch ; bind.desk = \"key.KeyE\" ; bind.pad = \"pad.south\"",
                "b ; switch ; bind.all = \"key.KeyB\"",
            ],
        ),
        (
            "mixed-travel",
            &[
                "a ; plane ; bind.all = \"any(mouse.move, pad.right-stick | deadzone 0.1 | scale 9)\"",
            ],
        ),
        ("same-direction", &["a ; axis ; bind.desk = [\"key.KeyJ\", \"key.KeyL\"]"]),
        (
            "double-fire",
            &[
                "a ; axis ; bind.pad = \"pad.dpad | pick x\" ; fire = \"press\"",
                "b ; switch ; bind.pad = \"pad.dpad.left\"",
            ],
        ),
        (
            "shared-control",
            &[
                "a ; axis ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | rotate 90deg | pick x\"",
                "b ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW)\"",
            ],
        ),
        (
            "crossed-signs",
            &[
                "a ; plane ; bind.desk = \"mouse.move\" ; bind.pad = \"pad.left-stick | deadzone 0.3 | travel\" ; shape = \"ways 8\"",
            ],
        ),
        (
            "turning-press",
            &["a ; plane ; bind.pad = \"pad.dpad\" ; fire = \"repeat 0.2s after=0.5s\""],
        ),
        ("void-plus", &["a ; switch ; bind.pad = \"pad.dpad.left + pad.dpad.right\""]),
        ("void-plus", &["a ; switch ; bind.pad = \"pad.dpad.up + pad.dpad.down + pad.south\""]),
        (
            "same-direction",
            &[
                "a ; axis ; bind.pad = [\"pad.left-trigger | deadzone 0.1\", \"pad.dpad.left\", \"pad.dpad.right\"]",
            ],
        ),
        (
            "alike-names",
            &[
                "anchor ; switch ; bind.desk = \"key.KeyE\"",
                "ancor ; switch ; bind.desk = \"key.KeyB\"",
            ],
        ),
        (
            "alike-names",
            &[
                "open-log ; switch ; bind.desk = \"key.KeyE\"",
                "openlog ; switch ; bind.desk = \"key.KeyB\"",
            ],
        ),
    ] {
        let all = found(&map(rows));
        assert!(all.iter().any(|(name, _)| *name == rule), "{rule}: {all:?}\n{}", map(rows));
    }
}
