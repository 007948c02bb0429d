//! Random profiles and hands. Actions may name those before them in the file, or after: by a switch
//! of their numbers, so that the working order is not always the file's.

use proptest::prelude::*;

const NUMBERS: &str = "[setting.slow]\ndefault = false\n[setting.size]\ndefault = 0.7\nrange = [0.1, 2]\n\
                       [fact.patience]\ndefault = 150\nunit = \"ms\"\n[fact.calm]\n";

/// The text of a profile with up to six actions.
pub fn profile() -> impl Strategy<Value = String> {
    let count = 1_usize..7;
    (count, any::<bool>()).prop_flat_map(|(count, reversed)| {
        let number = move |i: usize| if reversed { count - 1 - i } else { i };
        let actions: Vec<_> = (0..count).map(|i| action(i, number)).collect();
        (Just(reversed), actions).prop_map(|(reversed, mut actions)| {
            if reversed {
                actions.reverse();
            }
            format!("{}{NUMBERS}{}", crate::harness::HEAD, actions.concat())
        })
    })
}

/// Action `i`, which may name those with a lower i.
fn action(i: usize, number: impl Fn(usize) -> usize + Copy) -> BoxedStrategy<String> {
    let name = move |i: usize| format!("a{}", number(i));
    let others: Vec<String> = (0..i).map(name).collect();
    let own = name(i);
    if i >= 2 {
        let sequence = sequence(own.clone(), others.clone());
        return prop_oneof![1 => sequence, 6 => bound(own, &others)].boxed();
    }
    bound(own, &others)
}

fn sequence(own: String, others: Vec<String>) -> BoxedStrategy<String> {
    let steps = prop::collection::vec(prop::sample::select(others), 1..4);
    let within = prop::sample::select(vec!["0.3s", "1s", "patience"]);
    let guard = prop::sample::select(vec!["", " when calm"]);
    (steps, within, guard)
        .prop_map(move |(steps, within, guard)| {
            let steps = steps.join(", ");
            format!("[map.quay.{own}]\nvalue = \"switch\"\nfire = \"sequence({steps}) within={within}{guard}\"\n")
        })
        .boxed()
}

fn bound(own: String, others: &[String]) -> BoxedStrategy<String> {
    let kind = prop::sample::select(vec!["switch", "switch", "axis", "plane", "space"]);
    let yields = match others.is_empty() {
        true => Just(Vec::new()).boxed(),
        false => prop::collection::vec(prop::sample::select(others.to_vec()), 0..2).boxed(),
    };
    let body = kind.prop_flat_map(move |kind| {
        let bindings = prop::collection::vec(binding(kind), 0..4);
        (Just(kind), bindings, prop::collection::vec(conditioned(step(kind)), 0..3))
    });
    let blend = prop::sample::select(vec!["", "", "oldest", "newest", "last-change", "sum"]);
    (body, fire(others), levels(), yields, blend)
        .prop_map(move |((kind, bindings, shape), fire, levels, yields, blend)| {
            let mut text = format!("[map.quay.{own}]\nvalue = \"{kind}\"\n{levels}{fire}");
            let loud = ["while", "change", "repeat"].iter().any(|word| fire.contains(word));
            if !yields.is_empty() && !loud && (kind == "switch" || !fire.is_empty()) {
                text.push_str(&format!("yields-to = {yields:?}\n"));
            }
            if !blend.is_empty() {
                text.push_str(&format!("blend = \"{blend}\"\n"));
            }
            for (scheme, word) in [("pad", "pad."), ("desk", "key.")] {
                let list: Vec<_> = bindings.iter().filter(|b| b.contains(word)).collect();
                if !list.is_empty() {
                    text.push_str(&format!("bind.{scheme} = {list:?}\n"));
                }
            }
            if !shape.is_empty() {
                text.push_str(&format!("shape = \"{}\"\n", shape.join(" | ")));
            }
            text
        })
        .boxed()
}

fn axis_control(pad: bool) -> BoxedStrategy<String> {
    let keys = ["key.KeyA", "key.KeyB", "key.KeyC", "key.ShiftLeft", "key.Shift", "key.KeyA"];
    let pads = [
        "pad.south",
        "pad.left-trigger",
        "pad.left-stick.x",
        "pad.left-stick.up",
        "pad.left-stick.left",
        "pad.dpad.up",
    ];
    prop::sample::select(if pad { pads } else { keys }.to_vec()).prop_map(str::to_owned).boxed()
}

fn opposed() -> impl Strategy<Value = &'static str> {
    let options = ["", ", opposed=newest", ", opposed=oldest", ", opposed=neg", ", opposed=pos"];
    prop::sample::select(options.to_vec())
}

/// An axis of one device class, with steps of its own now and then.
fn part(pad: bool) -> BoxedStrategy<String> {
    let stepped =
        (axis_control(pad), step("part")).prop_map(|(control, step)| format!("{control} | {step}"));
    prop_oneof![4 => axis_control(pad), 1 => stepped].boxed()
}

fn axis(pad: bool) -> BoxedStrategy<String> {
    let pair = (part(pad), part(pad), opposed(), any::<bool>()).prop_map(|(a, b, o, named)| {
        if named { format!("pair(pos={a}, neg={b}{o})") } else { format!("pair({a}, {b}{o})") }
    });
    let any = (part(pad), part(pad)).prop_map(|(a, b)| format!("any({a}, {b})"));
    let picked = (plane(pad), prop::sample::select(vec!["x", "y", "length"]))
        .prop_map(|(plane, c)| format!("({plane} | pick {c})"));
    prop_oneof![3 => axis_control(pad), 2 => pair, 1 => any, 1 => picked].boxed()
}

fn plane(pad: bool) -> BoxedStrategy<String> {
    let part = move || axis_control(pad);
    let four = (part(), part(), part(), part(), opposed(), any::<bool>()).prop_map(
        |(a, b, c, d, o, square)| {
            let corner = if square { ", corner=square" } else { "" };
            format!("four({a}, {b}, {c}, {d}{o}{corner})")
        },
    );
    let join = (part(), part()).prop_map(|(a, b)| format!("join({a}, {b})"));
    let stick = prop::sample::select(vec!["pad.left-stick", "pad.dpad"]).prop_map(str::to_owned);
    match pad {
        true => prop_oneof![stick, four, join].boxed(),
        false => prop_oneof![four, join].boxed(),
    }
}

fn binding(kind: &'static str) -> BoxedStrategy<String> {
    let head = |pad: bool| match kind {
        "plane" => {
            let onto = (axis(pad), prop::sample::select(vec!["x", "y"]))
                .prop_map(|(axis, c)| format!("{axis} | onto {c}"));
            prop_oneof![plane(pad), onto].boxed()
        }
        "space" => {
            let join = (part(pad), axis(pad), part(pad))
                .prop_map(|(a, b, c)| format!("join({a}, {b}, z={c})"));
            let onto = axis(pad).prop_map(|axis| format!("{axis} | onto z"));
            prop_oneof![join, onto].boxed()
        }
        _ => axis(pad),
    };
    let head = prop_oneof![head(true), head(false)];
    let steps = prop::collection::vec(conditioned(step(kind)), 0..3);
    (head, steps).prop_map(|(head, steps)| [vec![head], steps].concat().join(" | ")).boxed()
}

/// A step with a condition now and then.
fn conditioned(step: BoxedStrategy<String>) -> impl Strategy<Value = String> {
    let condition = prop::sample::select(vec!["", "", "", " when calm", " unless slow"]);
    (step, condition).prop_map(|(step, condition)| match step.starts_with("onto") {
        true => step,
        false => format!("{step}{condition}"),
    })
}

fn step(kind: &str) -> BoxedStrategy<String> {
    let common = [
        "flip",
        "scale 0.5",
        "scale -2",
        "scale 130%",
        "scale size",
        "deadzone 0.2",
        "deadzone 0.1 full=0.9",
        "deadzone 0.3 full=0.8 by=axes",
        "curve 1.6",
        "curve 0.5",
        "curve (0.5 0.21) (1 1)",
        "cap 0.7",
        "clamp -0.3 0.6",
        "remap 0 1 -1 0.53",
        "notch 0.23",
    ];
    let more: &[&str] = match kind {
        "plane" => &[
            "flip y",
            "scale 1 0.25",
            "unit",
            "order yx",
            "rotate 35deg",
            "ways 8",
            "ways 4 from=45deg",
        ],
        "space" => &[
            "flip z y",
            "scale 1 0.25 -1",
            "unit",
            "order zxy",
            "rotate 35deg around=x",
            "rotate -1rad around=y",
        ],
        "part" => &["not", "toggle", "switch-at 0.53"],
        _ => &["onto x", "not", "toggle", "switch-at 0.53", "switch-at size off=0.11"],
    };
    let all: Vec<_> = common.iter().chain(more).map(|step| (*step).to_owned()).collect();
    prop::sample::select(all).boxed()
}

fn fire(others: &[String]) -> impl Strategy<Value = String> + use<> {
    let trigger = prop::sample::select(vec![
        "press",
        "release",
        "while",
        "change",
        "hold 0.1s",
        "hold 250ms",
        "hold patience",
        "hold 12s",
        "tap 0.1s",
        "tap 0.3s",
        "charge 0.1s",
        "charge patience",
        "taps 2 gap=0.3s",
        "taps 3 gap=0.1s",
        "taps 1 gap=1s",
        "repeat 0.1s",
        "repeat 50ms after=0.3s",
    ]);
    let mut guards = vec![
        String::new(),
        String::new(),
        String::new(),
        " when calm".into(),
        " unless slow".into(),
    ];
    guards.extend(
        others.iter().flat_map(|other| [format!(" with {other}"), format!(" without {other}")]),
    );
    let alternative = (trigger, prop::sample::select(guards)).prop_map(|(t, g)| format!("{t}{g}"));
    prop::collection::vec(alternative, 0..4).prop_map(|all| match all.is_empty() {
        true => String::new(),
        false => format!("fire = \"{}\"\n", all.join(" or ")),
    })
}

fn levels() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec![
        "",
        "",
        "levels = { down = 0.4037 }\n",
        "levels = { wake = 0.2013, down = 0.6017, up = 0.1011 }\n",
        "levels = { wake = 0.3019, down = 0.3019, up = 0.3019 }\n",
    ])
}

/// The lines of a take: moments that often meet ticks and the times of triggers.
pub fn take() -> impl Strategy<Value = String> {
    let bit = || prop::sample::select(vec!["0", "1"]);
    let controls = vec![
        "key.KeyA",
        "key.KeyA",
        "key.KeyB",
        "key.KeyC",
        "key.ShiftLeft",
        "key.ShiftRight",
        "pad.south",
        "pad.south",
        "pad.dpad.up",
        "pad.dpad.left",
    ];
    let control =
        |control: &str, value: &str| format!("\"control\":\"{control}\",\"value\":{value}");
    let line = prop_oneof![
        6 => (prop::sample::select(controls), bit()).prop_map(move |(c, value)| control(c, value)),
        2 => prop::sample::select(vec!["0", "0.1", "0.3", "0.55", "1", "1.5"])
            .prop_map(move |value| control("pad.left-trigger", value)),
        3 => (-11_i32..=11, -11_i32..=11).prop_map(move |(x, y)| {
            let value = format!("[{},{}]", f64::from(x) / 10.0, f64::from(y) / 10.0);
            control("pad.left-stick", &value)
        }),
        1 => (prop::sample::select(vec!["slow", "size"]), prop::sample::select(vec!["1", "0.3", "2"]))
            .prop_map(|(name, value)| format!("\"setting\":\"{name}\",\"value\":{value}")),
        1 => (prop::sample::select(vec!["calm", "patience"]), prop::sample::select(vec!["0", "1", "90"]))
            .prop_map(|(name, value)| format!("\"fact\":\"{name}\",\"value\":{value}")),
    ];
    let steps = vec![
        0_u64,
        0,
        1,
        5_000_000,
        16_666_666,
        50_000_000,
        90_000_000,
        100_000_000,
        100_000_000,
        250_000_000,
    ];
    prop::collection::vec((prop::sample::select(steps), line), 0..50).prop_map(|lines| {
        let mut t = 0;
        let mut text = String::new();
        for (step, line) in lines {
            t += step;
            let t = harmonym_core::base::Time::from_nanos(t);
            text.push_str(&format!("{{\"t\":{t},{line}}}\n"));
        }
        text
    })
}
