//! Random profiles and hands.

use proptest::prelude::*;

/// The text of a profile with up to five actions.
pub fn profile() -> impl Strategy<Value = String> {
    prop::collection::vec(action(), 1..5).prop_map(|actions| {
        let numbered = actions.iter().enumerate();
        let body = numbered.map(|(i, a)| format!("[map.quay.a{i}]\n{a}\n"));
        format!("{}{}", crate::harness::HEAD, body.collect::<String>())
    })
}

fn action() -> impl Strategy<Value = String> {
    let parts = |plane: bool| {
        (prop::collection::vec(binding(plane), 0..4), prop::collection::vec(step(plane), 0..3))
    };
    let kind = prop_oneof![Just("switch"), Just("axis"), Just("plane")];
    let body = kind.prop_flat_map(move |kind| (Just(kind), parts(kind == "plane")));
    (body, fire(), levels()).prop_map(|((kind, (bindings, shape)), fire, levels)| {
        let of = |pad: bool| {
            let list = bindings.iter().filter(|b| b.contains("pad.") == pad);
            let quoted: Vec<_> = list.map(|b| format!("\"{b}\"")).collect();
            quoted.join(", ")
        };
        let mut text = format!("value = \"{kind}\"\n{levels}{fire}");
        for (scheme, list) in [("pad", of(true)), ("desk", of(false))] {
            if !list.is_empty() {
                text.push_str(&format!("bind.{scheme} = [{list}]\n"));
            }
        }
        if !shape.is_empty() {
            text.push_str(&format!("shape = \"{}\"\n", shape.join(" | ")));
        }
        text
    })
}

fn axis_control(pad: bool) -> BoxedStrategy<String> {
    let keys = ["key.KeyA", "key.KeyB", "key.KeyC", "key.ShiftLeft", "key.Shift", "mouse.left"];
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
    prop::sample::select(vec![
        "",
        ", opposed=newest",
        ", opposed=oldest",
        ", opposed=neg",
        ", opposed=pos",
    ])
}

fn binding(plane: bool) -> impl Strategy<Value = String> {
    any::<bool>().prop_flat_map(move |pad| {
        let control = move || axis_control(pad);
        let pair = (control(), control(), opposed(), any::<bool>()).prop_map(|(a, b, o, named)| {
            if named { format!("pair(pos={a}, neg={b}{o})") } else { format!("pair({a}, {b}{o})") }
        });
        let four = (control(), control(), control(), control(), opposed(), any::<bool>()).prop_map(
            |(a, b, c, d, o, square)| {
                let corner = if square { ", corner=square" } else { "" };
                format!("four({a}, {b}, {c}, {d}{o}{corner})")
            },
        );
        let stick =
            prop::sample::select(vec!["pad.left-stick", "pad.dpad"]).prop_map(str::to_owned);
        let axis = prop_oneof![control(), pair].boxed();
        let flat = if pad { prop_oneof![stick, four].boxed() } else { four.boxed() };
        let steps = prop::collection::vec(step(plane), 0..3);
        let head = match plane {
            true => prop_oneof![
                flat,
                (axis, prop::sample::select(vec!["x", "y"]))
                    .prop_map(|(a, c)| format!("{a} | onto {c}")),
            ]
            .boxed(),
            false => prop_oneof![
                axis,
                (flat, prop::sample::select(vec!["x", "y", "length"]))
                    .prop_map(|(f, c)| format!("({f} | pick {c})")),
            ]
            .boxed(),
        };
        (head, steps).prop_map(|(head, steps)| [vec![head], steps].concat().join(" | "))
    })
}

fn step(plane: bool) -> impl Strategy<Value = String> {
    let common = vec![
        "flip",
        "scale 0.5",
        "scale -2",
        "scale 130%",
        "deadzone 0.2",
        "deadzone 0.1 full=0.9",
        "deadzone 0.3 full=0.8 by=axes",
        "curve 1.6",
        "curve 0.5",
        "cap 0.7",
    ];
    let more = if plane { vec!["flip y", "scale 1 0.25"] } else { vec!["onto x"] };
    let all = [common, more].concat();
    prop::sample::select(all).prop_map(str::to_owned)
}

fn fire() -> impl Strategy<Value = String> {
    let trigger = prop::sample::select(vec![
        "press",
        "release",
        "while",
        "hold 0.1s",
        "hold 250ms",
        "hold 0.05s",
        "hold 12s",
    ]);
    prop::collection::vec(trigger, 0..4).prop_map(|all| match all.is_empty() {
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

/// The lines of a take: moments that often meet ticks and the times of holds.
pub fn take() -> impl Strategy<Value = String> {
    let line = prop_oneof![
        (
            prop::sample::select(vec![
                "key.KeyA",
                "key.KeyB",
                "key.KeyC",
                "key.ShiftLeft",
                "key.ShiftRight",
                "mouse.left",
                "pad.south",
                "pad.dpad.up",
                "pad.dpad.left",
            ]),
            prop::sample::select(vec!["0", "1"]),
        )
            .prop_map(|(control, value)| (control, value.to_owned())),
        prop::sample::select(vec!["0", "0.1", "0.3", "0.55", "1", "1.5"])
            .prop_map(|value| ("pad.left-trigger", value.to_owned())),
        (-11_i32..=11, -11_i32..=11).prop_map(|(x, y)| {
            ("pad.left-stick", format!("[{},{}]", f64::from(x) / 10.0, f64::from(y) / 10.0))
        }),
    ];
    let step = prop::sample::select(vec![
        0_u64,
        0,
        1,
        5_000_000,
        16_666_666,
        50_000_000,
        100_000_000,
        250_000_000,
    ]);
    prop::collection::vec((step, line), 0..40).prop_map(|lines| {
        let mut t = 0;
        let mut text = String::new();
        for (step, (control, value)) in lines {
            t += step;
            let t = harmonym_core::base::Time::from_nanos(t);
            text.push_str(&format!("{{\"t\":{t},\"control\":\"{control}\",\"value\":{value}}}\n"));
        }
        text
    })
}
