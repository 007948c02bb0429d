//! What comes in shares of a tick: no level swallows it, whatever the rate.

use crate::harness::{HEAD, Log, inputs, load, run};
use harmonym_runtime::base::Vector;
use harmonym_runtime::engine::{EventKind, Notice};

/// What the fires of `quay.a` add up to.
fn sum(text: &str, take: &str, rate: &str) -> Vector {
    let (_, plan) = load(&format!("{HEAD}{text}"));
    let (log, _): (Log, u64) = run(&plan, &inputs(take, &plan), rate);
    let fires = log.notices.iter().filter_map(|notice| match notice {
        Notice::Event(event)
            if matches!(event.kind, EventKind::Fire(..))
                && plan.names().actions[event.action] == "quay.a" =>
        {
            Some(event.value)
        }
        _ => None,
    });
    fires.fold(Vector::ZERO, Vector::plus)
}

/// 200 counts to the right in two seconds, and a stick pushed a little for as long.
fn hands() -> String {
    let line = |i: u32| {
        let t = f64::from(i) * 0.01;
        format!("{{\"t\":{t:.2},\"control\":\"mouse.move\",\"by\":[1,0]}}\n")
    };
    let stick = |t: &str, x: f64| {
        format!("{{\"t\":{t},\"control\":\"pad.right-stick\",\"value\":[{x},0]}}\n")
    };
    let mut lines = stick("0", 0.002);
    lines.extend((1..=200).map(line));
    lines + &stick("2.0", 0.0)
}

#[test]
fn shares_of_a_tick_add_up_to_the_same_at_every_rate() {
    let other = "[map.quay.b]\nvalue = \"plane\"\nbind.desk = \"mouse.move | scale 0.0004\"\n";
    for (binding, more, expected) in [
        ("bind.desk = \"mouse.move | scale 0.0004\"", "", 0.08),
        ("bind.desk = \"join(mouse.move.x | scale 0.0004, key.KeyA)\"", "", 0.08),
        ("bind.desk = \"mouse.move\"\nshape = \"scale 0.0004\"", "", 0.08),
        ("bind.desk = \"(key.Space | not) + mouse.move | scale 0.0004\"", "", 0.08),
        (
            "bind.desk = \"any(mouse.move | scale 0.0004, pad.left-stick)\"\nbind.pad = \"pad.left-stick\"",
            "",
            0.08,
        ),
        ("bind.all = \"act.b\"", other, 0.08),
        ("bind.pad = \"pad.right-stick | scale 2.5 | travel\"", "", 0.01),
        ("bind.pad = \"pad.right-stick\"\nshape = \"scale 2.5 | travel\"", "", 0.01),
    ] {
        let binding = binding.replace("bind.desk = \"any", "bind.all = \"any");
        for fire in ["", "fire = \"while\"\n"] {
            for rate in ["20", "60", "144", "1000"] {
                let text = format!("[map.quay.a]\nvalue = \"plane\"\n{binding}\n{fire}{more}");
                let sum = sum(&text, &hands(), rate);
                assert!((sum.x - expected).abs() < 1e-9, "{text} at {rate} Hz: {}", sum.x);
            }
        }
    }
}
