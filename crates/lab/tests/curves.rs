//! Curves, against the same steps written out by hand.

mod gate;

use harmonym_lab::trace::Curve;
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;
use std::sync::Arc;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nsetting.push.default = 2\n\
                    fact.calm = {}\n[map.quay]\nstart = true\n[map.quay.x]\n";

fn load(rest: &str) -> Arc<Plan> {
    let text = format!("{HEAD}{rest}");
    let loaded = harmonym_lang::load(&Source::new("t", text.as_str()));
    Arc::new(loaded.unwrap_or_else(|faults| panic!("{faults:#?}\n{text}")).1)
}

/// The curve of the only binding of `quay.x`.
fn curve(value: &str, binding: &str, more: &str) -> Curve {
    let plan = load(&format!("value = \"{value}\"\nbind.all = \"{binding}\"\n{more}\n"));
    let all = Curve::of(&plan, plan.find_action("quay.x").unwrap());
    let (_, curve) = all.into_iter().next().expect("a binding");
    curve.expect("a curve")
}

/// What a curve gives at the raw value nearest to `raw`, and that value.
fn at(curve: &Curve, raw: f64) -> (f64, f64) {
    let near = |p: &&(f64, f64)| (p.0 - raw).abs();
    *curve.points.iter().min_by(|a, b| near(a).total_cmp(&near(b))).unwrap()
}

fn near(a: Option<f64>, b: f64) -> bool {
    a.is_some_and(|a| (a - b).abs() < 1e-6)
}

proptest! {
    #![proptest_config(gate::gate(256))]

    #[test]
    fn dead_zone_and_curve_are_those_of_the_formula(
        low in 0.0_f64..0.5,
        width in 0.1_f64..0.5,
        power in 0.3_f64..4.0,
    ) {
        let (low, full) = ((low * 1e3).round() / 1e3, ((low + width) * 1e3).round() / 1e3);
        let power = (power * 1e3).round() / 1e3;
        let steps = format!("pad.left-stick | deadzone {low} full={full} | curve {power}");
        let curve = curve("plane", &steps, "fire = \"press\"");
        for (raw, gives) in &curve.points {
            let wanted = ((raw - low) / (full - low)).clamp(0.0, 1.0).powf(power);
            prop_assert!((gives - wanted).abs() < 1e-9, "{raw}: {gives}, not {wanted}");
        }
        prop_assert!(near(curve.full, full), "{:?}", curve.full);
        if low > 0.0 {
            prop_assert!(near(curve.dead, low), "{:?}", curve.dead);
        } else {
            prop_assert_eq!(curve.dead, None);
        }
        // A radial dead zone is the same every way.
        let reach = curve.reach.unwrap();
        prop_assert!((reach.straight - 1.0).abs() < 1e-9);
        prop_assert!((reach.diagonal - 1.0).abs() < 1e-9);
    }

    #[test]
    fn levels_are_crossed_where_they_are_said_to_be(
        down in 0.2_f64..0.9,
        share in 0.1_f64..1.0,
        scale in 1.0_f64..3.0,
    ) {
        let up = (down * share * 1e3).round() / 1e3;
        let (down, scale) = ((down * 1e3).round() / 1e3, (scale * 1e3).round() / 1e3);
        let levels = format!("levels = {{ wake = {down}, down = {down}, up = {up} }}");
        let curve = curve("switch", &format!("pad.left-trigger | scale {scale}"), &levels);
        let [wake, at_down, at_up] = curve.levels;
        prop_assert!(near(wake, down / scale) && near(at_down, down / scale), "{wake:?}");
        prop_assert!(near(at_up, up / scale), "{at_up:?}");
    }
}

#[test]
fn each_combination_has_its_range_and_its_way() {
    for (value, binding, range, is_on_off, ends) in [
        ("axis", "pair(key.KeyS, key.KeyW)", (-1.0, 1.0), true, (-1.0, 1.0)),
        ("axis", "pair(pad.left-trigger, pad.right-trigger)", (-1.0, 1.0), false, (-1.0, 1.0)),
        ("axis", "pad.left-stick.x", (-1.0, 1.0), false, (-1.0, 1.0)),
        ("axis", "pad.left-stick.up", (0.0, 1.0), false, (0.0, 1.0)),
        ("axis", "key.KeyW | scale 3", (0.0, 1.0), true, (0.0, 3.0)),
        ("axis", "any(pad.left-trigger, key.KeyW)", (0.0, 1.0), false, (0.0, 1.0)),
        ("axis", "key.Control + pad.left-trigger", (0.0, 1.0), false, (0.0, 1.0)),
        ("axis", "mouse.wheel.y", (-5.0, 5.0), false, (-5.0, 5.0)),
        ("plane", "touch.drag | scale 90", (0.0, 1.0), false, (0.0, 90.0)),
        ("plane", "mouse.move | scale 0.1", (0.0, 50.0), false, (0.0, 5.0)),
        ("axis", "pad.left-stick | pick length", (0.0, 1.0), false, (0.0, 1.0)),
        ("plane", "pad.left-trigger | onto y", (0.0, 1.0), false, (0.0, 1.0)),
        ("plane", "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", (0.0, 1.0), true, (0.0, 1.0)),
    ] {
        let curve = curve(value, binding, "fire = \"press\"");
        assert_eq!((curve.range, curve.is_on_off), (range, is_on_off), "{binding}");
        let first = curve.points.first().unwrap().1;
        let last = curve.points.last().unwrap().1;
        assert!((first - ends.0).abs() < 1e-9 && (last - ends.1).abs() < 1e-9, "{binding}");
    }
}

#[test]
fn what_moves_and_what_adds_up_in_a_second_is_said() {
    for (binding, shape, moves, in_a_second) in [
        ("mouse.move", "", Some("mouse.move"), false),
        ("touch.drag | scale 90", "", Some("touch.drag"), false),
        ("pad.left-stick | scale 220 | travel", "", None, true),
        ("pad.left-stick", "shape = \"travel\"", None, true),
        ("pad.left-stick", "", None, false),
    ] {
        let curve = curve("plane", binding, shape);
        assert_eq!((curve.moves.as_deref(), curve.in_a_second), (moves, in_a_second), "{binding}");
        // What moves has no end, and so none that could be reached.
        assert_eq!(curve.reach.is_none(), moves.is_some(), "{binding}");
    }
}

#[test]
fn what_a_plane_reaches_has_the_length_of_its_diagonal() {
    for (binding, shape, straight, diagonal) in [
        ("pad.left-stick", "", 1.0, 2.0_f64.sqrt()),
        ("pad.left-stick", "shape = \"cap 1\"", 1.0, 1.0),
        ("pad.left-stick", "shape = \"scale 0.5\"", 0.5, 0.5 * 2.0_f64.sqrt()),
        ("four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", "", 1.0, 1.0),
        ("four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)", "", 1.0, 2.0_f64.sqrt()),
        ("pad.left-stick | deadzone 0.1 by=axes", "", 1.0, 2.0_f64.sqrt()),
    ] {
        let reach = curve("plane", binding, shape).reach.expect("a plane");
        assert!((reach.straight - straight).abs() < 1e-9, "{binding} {shape}: {reach:?}");
        assert!((reach.diagonal - diagonal).abs() < 1e-9, "{binding} {shape}: {reach:?}");
        let far = |(x, y): &(f64, f64)| (x * x + y * y).sqrt();
        let furthest = reach.square.iter().map(far).fold(0.0, f64::max);
        assert!(furthest <= diagonal.max(straight) + 1e-9, "{binding}: {furthest}");
    }
    assert!(curve("axis", "pad.left-trigger", "").reach.is_none());
}

#[test]
fn steps_that_take_time_are_drawn_as_arrived_and_memory_as_new() {
    for (value, binding, raw, wanted) in [
        ("axis", "pad.left-trigger | ease rise=1/s fall=1/s", 1.0, 1.0),
        ("axis", "pad.left-trigger | smooth 0.5s", 0.5, 0.5),
        ("axis", "pad.left-trigger | travel", 0.25, 0.25),
        ("axis", "pad.left-trigger | not", 0.25, 1.0),
        ("axis", "pad.left-trigger | not", 1.0, 0.0),
        ("axis", "pad.left-trigger | toggle", 1.0, 1.0),
        ("axis", "pad.left-trigger | switch-at 0.6", 0.55, 0.0),
        ("axis", "pad.left-trigger | switch-at 0.6", 0.65, 1.0),
        ("axis", "pad.left-trigger | scale push", 0.5, 1.0),
        ("axis", "pad.left-trigger | flip when calm", 0.5, 0.5),
        ("axis", "pad.left-trigger | flip unless calm", 0.5, -0.5),
        ("axis", "pad.left-trigger | curve (0.5 0.1) (1 1)", 0.25, 0.05),
        ("axis", "pad.left-trigger | remap 0 1 -1 1", 0.75, 0.5),
        ("axis", "pad.left-trigger | notch 0.25", 0.3, 0.25),
        ("axis", "pad.left-trigger | clamp 0.2 0.8", 0.9, 0.8),
    ] {
        let curve = curve(value, binding, "fire = \"press\"");
        let (_, gives) = at(&curve, raw);
        assert!((gives - wanted).abs() < 5e-3, "{binding} at {raw}: {gives}");
    }
}

#[test]
fn what_reads_other_actions_has_no_curve() {
    let plan = load(
        "value = \"axis\"\nbind.pad = \"pad.left-trigger\"\n\
         [map.quay.y]\nvalue = \"axis\"\nbind.all = \"act.quay.x | scale 2\"\n",
    );
    let all = Curve::of(&plan, plan.find_action("quay.y").unwrap());
    assert!(all.iter().all(|(_, curve)| curve.is_none()) && all.len() == 1);
}

#[test]
fn an_outline_goes_around_without_a_jump() {
    let reach = curve("plane", "pad.left-stick", "").reach.expect("a plane");
    for outline in [&reach.square, &reach.round] {
        let next = outline.iter().cycle().skip(1);
        let longest = outline
            .iter()
            .zip(next)
            .map(|((ax, ay), (bx, by))| ((ax - bx).powi(2) + (ay - by).powi(2)).sqrt())
            .fold(0.0, f64::max);
        assert!(longest < 0.05, "{longest}");
    }
}
