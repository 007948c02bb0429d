//! Random profiles and hands. Actions may name those before them in the file, or after: by a switch
//! of their numbers, so that the working order is not always the file's.

use proptest::prelude::*;

const NUMBERS: &str = "[setting.slow]\ndefault = false\n[setting.size]\ndefault = 0.7\nrange = [0.1, 2]\n\
                       [fact.patience]\ndefault = 150\nunit = \"ms\"\n[fact.calm]\n";

/// The maps that actions are spread over, the first most often.
const MAPS: [&str; 4] = ["quay", "mill", "book", "sky"];

/// What may be written that has values only at ticks, or moves on its own.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Ticks {
    /// Anything.
    With,
    /// Only what has its moments by itself.
    Without,
}

/// The text of a profile with up to six actions in up to four maps.
pub fn profile(ticks: Ticks) -> impl Strategy<Value = String> {
    let maps = prop::collection::vec(prop::sample::select(vec![0, 0, 0, 1, 2, 2, 3]), 1..7);
    (maps, any::<bool>(), map_keys()).prop_flat_map(move |(maps, reversed, keys)| {
        let count = maps.len();
        let number = move |i: usize| if reversed { count - 1 - i } else { i };
        let names: Vec<String> =
            (0..count).map(|i| format!("{}.a{}", MAPS[maps[i]], number(i))).collect();
        let actions: Vec<_> = (0..count).map(|i| action(i, &names, ticks)).collect();
        let also = (0..count).map(|i| prop::sample::select(vec![None, None, None, Some(i)]));
        let also = also.collect::<Vec<_>>();
        (Just((reversed, names, keys)), actions, also).prop_map(
            |((reversed, names, keys), mut actions, also)| {
                if reversed {
                    actions.reverse();
                }
                let also: Vec<&String> = also
                    .iter()
                    .flatten()
                    .map(|i| &names[*i])
                    .filter(|name| !name.starts_with("book"))
                    .collect();
                let [mill, book, sky] = keys;
                format!(
                    "{}{NUMBERS}[map.mill]\n{mill}[map.book]\nkind = \"layer\"\nalso = {also:?}\n{book}\
                     [map.sky]\nkind = \"always\"\n{sky}{}",
                    crate::harness::HEAD,
                    actions.concat()
                )
            },
        )
    })
}

/// Keys of the maps besides the first.
fn map_keys() -> impl Strategy<Value = [String; 3]> {
    let keys = || {
        let rank = prop::sample::select(vec!["", "", "rank = 15\n", "rank = 0\n", "rank = -3\n"]);
        let pause = prop::sample::select(vec!["", "in-pause = true\n"]);
        (rank, pause).prop_map(|(rank, pause)| format!("{rank}{pause}"))
    };
    [keys(), keys(), keys()]
}

/// Action `i`, which may name those with a lower i.
fn action(i: usize, names: &[String], ticks: Ticks) -> BoxedStrategy<String> {
    let (own, others) = (names[i].clone(), names[..i].to_vec());
    if i >= 2 {
        let sequence = sequence(own.clone(), others.clone());
        return prop_oneof![1 => sequence, 6 => bound(own, &others, ticks)].boxed();
    }
    bound(own, &others, ticks)
}

fn sequence(own: String, others: Vec<String>) -> BoxedStrategy<String> {
    let steps = prop::collection::vec(prop::sample::select(others), 1..4);
    let within = prop::sample::select(vec!["0.3s", "1s", "patience"]);
    let guard = prop::sample::select(vec!["", " when calm"]);
    (steps, within, guard)
        .prop_map(move |(steps, within, guard)| {
            let steps = steps.join(", ");
            format!("[map.{own}]\nvalue = \"switch\"\nfire = \"sequence({steps}) within={within}{guard}\"\n")
        })
        .boxed()
}

fn bound(own: String, others: &[String], ticks: Ticks) -> BoxedStrategy<String> {
    let kind = prop::sample::select(vec!["switch", "switch", "axis", "plane", "space"]);
    let yields = match others.is_empty() {
        true => Just(Vec::new()).boxed(),
        false => prop::collection::vec(prop::sample::select(others.to_vec()), 0..2).boxed(),
    };
    let body = kind.prop_flat_map(move |kind| {
        let bindings = prop::collection::vec(binding(kind, ticks), 0..4);
        let steps = prop::collection::vec(conditioned(step(kind, ticks)), 0..3);
        (Just(kind), bindings, steps)
    });
    let keys = action_keys();
    let blend = prop::sample::select(vec!["", "", "oldest", "newest", "last-change", "sum"]);
    (body, fire(others), levels(), yields, blend, keys)
        .prop_map(move |((kind, bindings, shape), fire, levels, yields, blend, keys)| {
            let mut text = format!("[map.{own}]\nvalue = \"{kind}\"\n{levels}{fire}{keys}");
            let loud = ["while", "change", "repeat"].iter().any(|word| fire.contains(word));
            if !yields.is_empty() && !loud && (kind == "switch" || !fire.is_empty()) {
                text.push_str(&format!("yields-to = {yields:?}\n"));
            }
            if !blend.is_empty() {
                text.push_str(&format!("blend = \"{blend}\"\n"));
            }
            for scheme in ["pad", "desk", "all"] {
                let of = |b: &&String| match (
                    b.contains("pad"),
                    b.contains("key.") || b.contains("mouse."),
                ) {
                    (true, false) => scheme == "pad",
                    (false, true) => scheme == "desk",
                    _ => scheme == "all",
                };
                let list: Vec<_> = bindings.iter().filter(of).collect();
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

fn action_keys() -> impl Strategy<Value = String> {
    let key = |name: &'static str| {
        prop::sample::select(vec![
            String::new(),
            String::new(),
            String::new(),
            format!("{name} = true\n"),
            format!("{name} = false\n"),
        ])
    };
    (key("claim"), key("carry"), key("in-pause")).prop_map(|(a, b, c)| format!("{a}{b}{c}"))
}

fn axis_control(pad: bool) -> BoxedStrategy<String> {
    let keys = [
        "key.KeyA",
        "key.KeyB",
        "key.KeyC",
        "key.ShiftLeft",
        "key.Shift",
        "key.KeyA",
        "char.a",
        "mouse.wheel.up",
    ];
    let pads = [
        "pad.south",
        "pad.left-trigger",
        "pad.left-stick.x",
        "pad.left-stick.up",
        "pad.left-stick.left",
        "pad.dpad.up",
        "pad#2.south",
        "pad#1.left-stick.x",
    ];
    prop::sample::select(if pad { pads } else { keys }.to_vec()).prop_map(str::to_owned).boxed()
}

/// A control that counts only while others are held.
fn held_together(pad: bool, last: BoxedStrategy<String>) -> BoxedStrategy<String> {
    let holder = move || axis_control(pad);
    let one = (holder(), last.clone()).prop_map(|(a, b)| format!("{a} + {b}"));
    let two = (holder(), holder(), last).prop_map(|(a, b, c)| format!("{a} + {b} + {c}"));
    prop_oneof![3 => one, 1 => two].boxed()
}

fn opposed() -> impl Strategy<Value = &'static str> {
    let options = ["", ", opposed=newest", ", opposed=oldest", ", opposed=neg", ", opposed=pos"];
    prop::sample::select(options.to_vec())
}

/// An axis of one device class, with steps of its own now and then.
fn part(pad: bool) -> BoxedStrategy<String> {
    let stepped = (axis_control(pad), step("part", Ticks::Without))
        .prop_map(|(control, step)| format!("{control} | {step}"));
    prop_oneof![4 => axis_control(pad), 1 => stepped].boxed()
}

fn axis(pad: bool) -> BoxedStrategy<String> {
    let pair = (part(pad), part(pad), opposed(), any::<bool>()).prop_map(|(a, b, o, named)| {
        if named { format!("pair(pos={a}, neg={b}{o})") } else { format!("pair({a}, {b}{o})") }
    });
    let any = (part(pad), part(pad)).prop_map(|(a, b)| format!("any({a}, {b})"));
    let picked = (plane(pad), prop::sample::select(vec!["x", "y", "length"]))
        .prop_map(|(plane, c)| format!("({plane} | pick {c})"));
    let sum = held_together(pad, axis_control(pad)).prop_map(|sum| format!("({sum})"));
    prop_oneof![4 => axis_control(pad), 2 => pair, 1 => any, 1 => picked, 2 => sum].boxed()
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
        true => {
            let sum = held_together(pad, stick.clone().boxed()).prop_map(|sum| format!("({sum})"));
            prop_oneof![3 => stick, 3 => four, 3 => join, 1 => sum].boxed()
        }
        false => {
            let at = Just("mouse.at".to_owned());
            prop_oneof![3 => four, 3 => join, 1 => at].boxed()
        }
    }
}

fn binding(kind: &'static str, ticks: Ticks) -> BoxedStrategy<String> {
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
    let head = match (kind, ticks) {
        ("axis", Ticks::With) => {
            let wheel =
                prop::sample::select(vec!["mouse.wheel.y".to_owned(), "mouse.move.x".into()]);
            prop_oneof![4 => head(true), 4 => head(false), 1 => wheel].boxed()
        }
        ("plane", Ticks::With) => {
            let mouse = prop::sample::select(vec![
                "mouse.move".to_owned(),
                "key.KeyC + mouse.move".into(),
                "mouse.move | scale 0.05".into(),
            ]);
            prop_oneof![4 => head(true), 4 => head(false), 1 => mouse].boxed()
        }
        _ => prop_oneof![head(true), head(false)].boxed(),
    };
    let steps = prop::collection::vec(conditioned(step(kind, ticks)), 0..3);
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

fn step(kind: &str, ticks: Ticks) -> BoxedStrategy<String> {
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
    let moving: &[&str] = match ticks {
        Ticks::With => &[
            "ease rise=7/s",
            "ease rise=3/s fall=11/s reverse=cut",
            "ease rise=size fall=0.9/s",
            "smooth 23ms",
            "smooth patience",
            "travel",
            "travel",
        ],
        Ticks::Without if kind == "part" => &[],
        Ticks::Without => &["ease rise=7/s", "ease rise=2/s fall=11/s reverse=cut", "smooth 23ms"],
    };
    let all: Vec<_> =
        common.iter().chain(more).chain(moving).map(|step| (*step).to_owned()).collect();
    prop::sample::select(all).boxed()
}

fn fire(others: &[String]) -> impl Strategy<Value = String> + use<> {
    let cue = prop::sample::select(vec![
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
    let alternative = (cue, prop::sample::select(guards)).prop_map(|(t, g)| format!("{t}{g}"));
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

/// The lines of a take: moments that often meet ticks and the times of cues.
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
        "pad#2.south",
        "slate.tap",
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
        1 => (prop::sample::select(vec!["pad#2.left-stick", "slate.thumb"]), -2_i32..=2).prop_map(
            move |(name, x)| control(name, &format!("[{},0.5]", f64::from(x) / 2.0))
        ),
        1 => (0_i32..4, 0_i32..4).prop_map(move |(x, y)| {
            control("mouse.at", &format!("[{},{}]", f64::from(x) / 3.0, f64::from(y) / 3.0))
        }),
        1 => (-9_i32..9, -9_i32..9).prop_map(|(x, y)| {
            format!("\"control\":\"mouse.move\",\"by\":[{x},{}]", f64::from(y) / 4.0)
        }),
        1 => prop::sample::select(vec!["[0,1]", "[0,-0.5]", "[0,2.5]", "[1,0]"]).prop_map(|by| {
            format!("\"control\":\"mouse.wheel\",\"by\":{by}")
        }),
        2 => (prop::sample::select(vec!["open", "open", "close"]),
            prop::sample::select(vec!["quay", "mill", "book", "book"]))
            .prop_map(|(does, map)| format!("\"{does}\":\"{map}\"")),
        1 => any::<bool>().prop_map(|paused| format!("\"pause\":{paused}")),
        1 => prop::sample::select(vec!["\"pad\"", "\"desk\"", "null", "null"])
            .prop_map(|scheme| format!("\"scheme\":{scheme}")),
        2 => prop::sample::select(vec!["key", "pad", "pad", "pad#2", "mouse", "slate"])
            .prop_map(|device| format!("\"unplug\":\"{device}\"")),
        1 => (prop::sample::select(vec!["slow", "size"]), prop::sample::select(vec!["1", "0.3", "2"]))
            .prop_map(|(name, value)| format!("\"setting\":\"{name}\",\"value\":{value}")),
        1 => (prop::sample::select(vec!["calm", "patience"]), prop::sample::select(vec!["0", "1", "90"]))
            .prop_map(|(name, value)| format!("\"fact\":\"{name}\",\"value\":{value}")),
    ];
    let steps: &[u64] = &[
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
    timed(steps, line, 0..50)
}

/// A take of some lines, each so many nanoseconds after the one before.
pub fn timed(
    steps: &'static [u64],
    line: impl Strategy<Value = String>,
    count: std::ops::Range<usize>,
) -> impl Strategy<Value = String> {
    prop::collection::vec((prop::sample::select(steps), line), count).prop_map(|lines| {
        let mut t = 0;
        let mut text = String::new();
        let mut gone = std::collections::BTreeSet::new();
        for (step, mut line) in lines {
            t += step;
            if let Some(device) = line.strip_prefix("\"unplug\":") {
                // What is gone comes back, with whatever is held by then.
                if !gone.contains(device) {
                    gone.insert(device.to_owned());
                } else {
                    gone.remove(device);
                    line = format!("\"plug\":{device}");
                }
            }
            let t = harmonym_runtime::base::Time::from_nanos(t);
            text.push_str(&format!("{{\"t\":{t},{line}}}\n"));
        }
        text
    })
}
