//! How tight the checker's ranges are: each step by itself, and where it matters.

use harmonym_lab::check::{Context, Interval, Range};
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::collections::BTreeSet;

/// The range of an action with one binding.
fn range(kind: &str, binding: &str, more: &str) -> Range {
    let text = format!(
        "harmonym = 1\nscheme.all-of-it.devices = [\"key\", \"mouse\", \"pad\", \"touch\"]\n\
         setting.pace = {{ default = 1, range = [0.5, 2] }}\nsetting.turned = {{ default = false }}\n\
         fact.angle = {{ unit = \"deg\" }}\n\
         [map.quay]\nstart = true\n[map.quay.a]\nvalue = \"{kind}\"\nbind.all-of-it = [{binding}]\n{more}\n"
    );
    let (profile, _) = load(&Source::new("t", text.as_str()))
        .unwrap_or_else(|faults| panic!("{faults:#?}\n{text}"));
    let none = BTreeSet::new();
    let context = Context::new(&profile, &none);
    context.ranges[profile.actions.ids().next().unwrap()]
}

fn near(a: Interval, least: f64, most: f64) -> bool {
    let same = |a: f64, b: f64| a == b || (a - b).abs() < 1e-9;
    same(a.least, least) && same(a.most, most)
}

#[test]
fn each_step_on_an_axis_gives_just_what_it_can() {
    let all = f64::INFINITY;
    for (chain, least, most) in [
        ("pad.left-trigger", 0.0, 1.0),
        ("pad.left-stick.x", -1.0, 1.0),
        ("pad.left-stick.up", 0.0, 1.0),
        ("mouse.move.x", -all, all),
        ("mouse.at.x", 0.0, 1.0),
        ("pair(key.KeyA, key.KeyD)", -1.0, 1.0),
        ("pair(key.KeyA | scale 0.25, key.KeyD)", -0.25, 1.0),
        ("pair(key.KeyA | flip, key.KeyD)", 0.0, 1.0),
        ("any(key.KeyA, pad.left-stick.x | scale 3)", -3.0, 3.0),
        ("pad.left-trigger | flip", -1.0, 0.0),
        ("pad.left-trigger | scale -2", -2.0, 0.0),
        ("pad.left-stick.x | scale pace", -2.0, 2.0),
        ("pad.left-trigger | deadzone 0.2 full=0.7", 0.0, 1.0),
        ("pad.left-trigger | scale 0.5 | deadzone 0.2", 0.0, 0.375),
        ("pad.left-trigger | scale 0.1 | deadzone 0.2", 0.0, 0.0),
        ("pad.left-stick.x | scale 0.5 | curve 2", -0.25, 0.25),
        ("pad.left-stick.x | curve (0.5 0.2) (1 0.9)", -0.9, 0.9),
        ("pad.left-trigger | curve (0.5 -0.2) (1 0.9)", -0.2, 0.9),
        ("pad.left-stick.x | cap 0.4", -0.4, 0.4),
        ("pad.left-stick.x | clamp -0.2 0.7", -0.2, 0.7),
        ("pad.left-trigger | remap 0 1 -3 5", -3.0, 5.0),
        ("pad.left-trigger | scale 0.5 | remap 0 1 -3 5", -3.0, 1.0),
        ("pad.left-trigger | scale 0.6 | notch 0.25", 0.0, 0.5),
        ("pad.left-trigger | switch-at 0.5", 0.0, 1.0),
        ("pad.left-trigger | scale 0.4 | switch-at 0.5", 0.0, 0.0),
        ("pad.left-trigger | scale 0.4 | toggle", 0.0, 0.0),
        ("pad.left-trigger | scale 0.4 | not", 0.0, 1.0),
        ("pad.left-trigger | scale 0.4 | not | remap 0 1 3 0", 0.0, 0.0),
        ("pad.left-trigger | scale 0.6 | not", 0.0, 1.0),
        ("mouse.move | pick length | remap 0 1 0 5", 0.0, 5.0),
        ("mouse.move | pick length | remap 1 0 0 5", 0.0, 5.0),
        ("pad.left-trigger | scale 0.5 | ease rise=1/s", 0.0, 0.5),
        ("pad.left-trigger | scale -0.5 | smooth 50ms", -0.5, 0.0),
        ("pad.left-trigger | travel", 0.0, all),
        ("pad.left-trigger | scale -2 | travel", -all, 0.0),
        ("pad.left-trigger | flip when turned", -1.0, 1.0),
        ("pad.left-stick | pick length", 0.0, 2.0_f64.sqrt()),
        ("pad.left-stick | cap 1 | pick length", 0.0, 1.0),
        ("pad.left-stick | order yx | pick x", -1.0, 1.0),
        ("key.Control + pad.left-trigger", 0.0, 1.0),
    ] {
        let range = range("axis", &format!("\"{chain}\""), "");
        assert!(near(range.parts[0], least, most), "{chain}: {:?}", range.parts[0]);
    }
}

#[test]
fn lengths_are_known_better_than_the_box_around_them() {
    let root = 2.0_f64.sqrt();
    for (chain, longest) in [
        ("four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", 1.0),
        ("four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)", root),
        ("join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW))", root),
        ("pad.dpad | scale 3", 3.0),
        ("pad.dpad | rotate 30deg", 1.0),
        ("pad.dpad | rotate angle", 1.0),
        ("pad.dpad | ways 8", 1.0),
        ("pad.left-stick", root),
        ("pad.left-stick | deadzone 0.1", 1.0),
        ("pad.left-stick | unit", 1.0),
        ("pad.left-stick | cap 0.5 | scale 1 2", 1.0),
        ("mouse.move | unit", 1.0),
        ("mouse.at", root),
        ("mouse.at | remap 0 1 -1 1", root),
    ] {
        let range = range("plane", &format!("\"{chain}\""), "");
        assert!((range.length.most - longest).abs() < 1e-9, "{chain}: {:?}", range.length);
    }
}

#[test]
fn blends_and_shapes_go_on_where_bindings_end() {
    let two = "\"pad.left-trigger\", \"pad.right-trigger | scale 3\"";
    assert!(near(range("axis", two, "").parts[0], 0.0, 3.0));
    assert!(near(range("axis", two, "blend = \"sum\"").parts[0], 0.0, 4.0));
    assert!(near(range("axis", two, "shape = \"scale 0.5 | flip\"").parts[0], -1.5, 0.0));
    assert!(near(range("axis", two, "shape = \"flip unless turned\"").parts[0], -3.0, 3.0));
    assert!(near(range("switch", "\"pad.left-stick.x | scale 0.3\"", "").parts[0], 0.0, 0.3));
}
