//! Reports that wait until somebody looks: nothing that is told may differ.

use crate::gate::gate;
use crate::harness::{Log, inputs, load};
use crate::properties::compare;
use harmonym_lab::take::{Input, What};
use harmonym_runtime::base::{Contact, Id, Rate, Seat, Time, Vector};
use harmonym_runtime::engine::{Engine, EpisodeState, Refused, Start};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::{Seats, Told};
use proptest::prelude::*;
use std::sync::Arc;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n\
                    scheme.pad.devices = [\"pad\"]\nscheme.slate.devices = [\"slate\"]\n\
                    device.slate.controls = { thumb = \"stick\" }\n\
                    device.slate.as = { thumb = \"pad.left-stick\" }\nsetting.push.default = 1\n\
                    map.quay.start = true\n";

/// Plays inputs at a rate, and works everything out after each report if `eager`.
fn play(plan: &Arc<Plan>, all: &[Input], eager: bool) -> Log {
    let mut log = Log::default();
    let Log { notices, values, .. } = &mut log;
    let tell = &mut |told: Told| notices.push(told.notice);
    let mut seats = Seats::start(plan.clone(), 1, Start::default(), tell);
    let rate = Rate::DEFAULT;
    let mut next = 1;
    let mut tick = |seats: &mut Seats, next: &mut u64, notices: &mut Vec<_>| {
        seats.tick(rate.tick(*next), &mut |told| notices.push(told.notice));
        let frame = seats.frame(Seat::FIRST);
        let changed: Vec<_> = frame.changed().map(|id| (id.index(), frame.value(id))).collect();
        values.push((rate.tick(*next), *next, changed));
        *next += 1;
    };
    for input in all {
        while rate.tick(next) < input.t {
            tick(&mut seats, &mut next, notices);
        }
        input.give(&mut seats, &mut |told| notices.push(told.notice)).unwrap();
        if eager {
            seats.frame(Seat::FIRST);
        }
    }
    tick(&mut seats, &mut next, notices);
    seats.stop(&mut |told| log.notices.push(told.notice));
    log
}

/// A line of a take that moves a stick or a trigger a little, presses a key, or does what games do.
fn line() -> impl Strategy<Value = (u64, String)> {
    let number = (0_i32..=20).prop_map(|n| f64::from(n - 10) / 10.0);
    let near = prop::sample::select(vec![0.0, 0.09, 0.1, 0.11, 0.3, 0.69, 0.7, 0.71, 1.0]);
    let stick = (prop::sample::select(vec!["left", "right"]), near.clone(), number)
        .prop_map(|(side, x, y)| format!("\"control\":\"pad.{side}-stick\",\"value\":[{x},{y}]"));
    let thumb = (near.clone(), 0_i32..=20).prop_map(|(x, y)| {
        format!("\"control\":\"slate.thumb\",\"value\":[{},{x}]", f64::from(y - 10) / 10.0)
    });
    let trigger = near.prop_map(|x| format!("\"control\":\"pad.right-trigger\",\"value\":{x}"));
    let key = (prop::sample::select(vec!["KeyW", "KeyD", "KeyE"]), 0_u8..2)
        .prop_map(|(key, on)| format!("\"control\":\"key.{key}\",\"value\":{on}"));
    let game = prop::sample::select(vec![
        "\"open\":\"book\"",
        "\"close\":\"book\"",
        "\"setting\":\"push\",\"value\":0.5",
        "\"setting\":\"push\",\"value\":2",
        "\"pause\":true",
        "\"pause\":false",
        "\"control\":\"pad#2.left-stick\",\"value\":[0.4,0]",
    ]);
    let what = prop_oneof![
        12 => stick,
        4 => thumb,
        4 => trigger,
        3 => key,
        1 => game.prop_map(str::to_owned),
    ];
    (0_u64..9, what)
}

/// Actions whose reports may wait, and others beside them.
fn profile() -> impl Strategy<Value = String> {
    let steps = prop::sample::select(vec![
        "",
        " | deadzone 0.1",
        " | deadzone 0.1 full=0.7 | curve 2",
        " | scale push",
        " | cap 0.72",
        " | deadzone 0.1 | flip y",
        " | rotate 30deg",
        " | ease rise=4/s fall=4/s",
        " | ways 8",
    ]);
    let fire = prop::sample::select(vec![
        "while",
        "press",
        "release",
        "hold 0.05s",
        "tap 0.1s",
        "charge 0.03s",
        "taps 2 gap=0.1s",
        "repeat 0.02s",
        "change",
        "press or hold 0.04s",
    ]);
    let levels =
        prop::sample::select(vec!["", "levels = { wake = 0.15, down = 0.7, up = 0.12 }\n"]);
    let action = (steps.clone(), steps, fire, levels);
    prop::collection::vec(action, 3).prop_map(|all| {
        let mut text = HEAD.to_owned();
        for (number, (steps, shape, fire, levels)) in all.iter().enumerate() {
            let (value, pad) = match number {
                0 => ("plane", "pad.left-stick"),
                1 => ("plane", "pad.right-stick"),
                _ => ("switch", "pad.right-trigger"),
            };
            let desk = match number {
                0 => "bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\"\n",
                1 if !["while", "change", "repeat 0.02s"].contains(fire) => {
                    "yields-to = [\"quay.act-0\"]\n"
                }
                1 => "",
                _ => "bind.desk = \"key.KeyE\"\n",
            };
            let fits = |steps: &str| {
                value == "plane"
                    || !steps.contains("flip y")
                        && !steps.contains("rotate")
                        && !steps.contains("ways")
            };
            let steps = if fits(steps) { steps } else { "" };
            let shape = shape.trim_start_matches(" | ");
            let shape = match shape.is_empty() || !fits(shape) {
                true => String::new(),
                false => format!("shape = \"{shape}\"\n"),
            };
            text.push_str(&format!(
                "[map.quay.act-{number}]\nvalue = \"{value}\"\nbind.pad = \"{pad}{steps}\"\n\
                 {desk}{shape}{levels}fire = \"{fire}\"\n"
            ));
        }
        text.push_str(
            "[map.book]\nkind = \"layer\"\n[map.book.leaf]\nvalue = \"plane\"\nclaim = true\n\
             bind.pad = \"pad.left-stick\"\n",
        );
        text
    })
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn what_waits_changes_nothing_that_is_told(
        profile in profile(),
        lines in prop::collection::vec(line(), 1..120),
    ) {
        let (_, plan) = load(&profile);
        let mut t = 0;
        let take: String = lines.iter().map(|(after, what)| {
            t += after;
            format!("{{\"t\":{},{what}}}\n", Time::from_millis(t))
        }).collect();
        let all = inputs(&take, &plan);
        let (lazy, eager) = (play(&plan, &all, false), play(&plan, &all, true));
        prop_assert_eq!(&lazy.notices, &eager.notices, "{}\n{}", profile, take);
        prop_assert_eq!(&lazy.values, &eager.values, "{}\n{}", profile, take);
        prop_assert_eq!(compare(&profile, &take, 60), Ok(()), "{}\n{}", profile, take);
    }
}

/// What the actions of a plan are worth, and where they are, after reports of one control, a millisecond apart.
fn worth(plan: &Arc<Plan>, control: &str, reports: &[Vector]) -> Vec<(Vector, EpisodeState)> {
    let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
    let control = plan.catalogue().reported_id(control).expect(control);
    for (ms, &value) in reports.iter().enumerate() {
        let at = Time::from_millis(ms as u64);
        engine.report(at, Contact::first(control), value, &mut |_| {}).unwrap();
    }
    let frame = engine.tick(Time::from_millis(reports.len() as u64), &mut |_| {});
    plan.actions().ids().map(|action| (frame.value(action), frame.state(action))).collect()
}

#[test]
fn what_a_control_cannot_report_is_held_to_what_it_can_also_where_it_waits() {
    let (_, plan) = load(&format!(
        "{HEAD}[map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick\"\n\
         [map.quay.haul]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger\"\n\
         [map.quay.reel]\nvalue = \"switch\"\nbind.pad = \"pad.right-trigger\"\n\
         levels = {{ wake = 0.15, down = 0.7, up = 0.12 }}\n"
    ));
    // The low one teaches from where on reports may wait.
    let (x, y, low) = (Vector::new(0.8, 0.1), Vector::new(0.1, 0.8), Vector::new(0.2, 0.2));
    let stick = [
        (Vector::new(1.5, 0.1), Vector::new(1.0, 0.1)),
        (Vector::new(-1.5, 0.1), Vector::new(-1.0, 0.1)),
        (Vector::new(0.1, 1.5), Vector::new(0.1, 1.0)),
        (Vector::new(0.1, -1.5), Vector::new(0.1, -1.0)),
        (Vector { z: 0.9, ..Vector::ZERO }, Vector::ZERO),
        (Vector { w: 0.9, ..Vector::ZERO }, Vector::ZERO),
        (Vector { x: -0.0, ..y }, Vector { x: 0.0, ..y }),
    ];
    for (reported, held) in stick {
        let after = |last| worth(&plan, "pad.left-stick", &[x, low, x, y, last]);
        assert_eq!(format!("{:?}", after(reported)), format!("{:?}", after(held)), "{reported:?}");
    }
    let lever = [
        (Vector::axis(1.5), Vector::axis(1.0)),
        (Vector::axis(-0.3), Vector::ZERO),
        (Vector::new(0.05, 0.8), Vector::axis(0.05)),
    ];
    for control in ["pad.left-trigger", "pad.right-trigger"] {
        for (reported, held) in lever {
            for before in [[0.2, 0.3, 0.2], [0.9, 0.2, 0.9]] {
                let [a, b, c] = before.map(Vector::axis);
                let after = |last| worth(&plan, control, &[a, b, c, last]);
                assert_eq!(after(reported), after(held), "{control}: {reported:?}");
            }
        }
    }
}

#[test]
fn what_is_no_number_is_refused_also_where_reports_wait() {
    let (_, plan) =
        load(&format!("{HEAD}[map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick\"\n"));
    let stick = Contact::first(plan.find_control("pad.left-stick").expect("a stick"));
    let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
    for (ms, x) in [0.8, 0.3, 0.8, 0.7].into_iter().enumerate() {
        let at = Time::from_millis(ms as u64);
        engine.report(at, stick, Vector::new(x, 0.0), &mut |_| {}).expect("taken in");
    }
    let value = Vector::new(0.6, 0.0);
    let none = f64::NAN;
    for value in [
        Vector { x: none, ..value },
        Vector { y: none, ..value },
        Vector { z: none, ..value },
        Vector { w: none, ..value },
    ] {
        let told = engine.report(Time::from_millis(9), stick, value, &mut |_| {});
        assert_eq!(told, Err(Refused::NotANumber), "{value:?}");
    }
}

#[test]
fn nothing_waits_of_buttons_nor_of_what_listens_to_another_device() {
    let rows = [
        // It never wakes, so that nothing would come of it.
        (
            "value = \"switch\"\nlevels = { wake = 1.2, down = 1.5, up = 1.1 }\nbind.pad = \"pad.east\"",
            "pad.east",
        ),
        ("value = \"plane\"\nbind.pad = \"pad#2.right-stick\"", "pad.right-stick"),
    ];
    for (action, control) in rows {
        let (_, plan) = load(&format!("{HEAD}[map.quay.act]\n{action}\n"));
        let act = plan.find_action("quay.act").unwrap();
        let contact = Contact::first(plan.find_control(control).expect(control));
        let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
        for (ms, x) in [1.0, 0.0, 1.0, 0.0, 1.0].into_iter().enumerate() {
            let at = Time::from_millis(ms as u64);
            engine.report(at, contact, Vector::axis(x), &mut |_| {}).expect("taken in");
            assert!(!engine.is_waiting(act), "{action} after {ms} ms");
        }
    }
}

#[test]
fn what_waits_is_worked_out_before_anything_else_happens_to_its_action() {
    let four = "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)";
    let rows = [
        (format!("bind.pad = \"pad.right-stick\"\nbind.desk = \"{four}\""), "key.KeyW"),
        (
            "bind.pad = [\"pad.right-stick\", \"join(pad.left-stick.x, pad.left-stick.y)\"]"
                .to_owned(),
            "pad.left-stick",
        ),
        (
            format!("bind.pad = \"pad.right-stick\"\nbind.desk = \"key.ShiftLeft + {four}\""),
            "key.KeyW",
        ),
    ];
    for (bindings, other) in rows {
        let text = format!("{HEAD}[map.quay.walk]\nvalue = \"plane\"\n{bindings}\n");
        let (_, plan) = load(&text);
        let walk = plan.find_action("quay.walk").unwrap();
        let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
        let mut report = |control: &str, x| {
            let contact = Contact::first(plan.find_control(control).expect(control));
            let value = Vector::new(x, 0.0);
            engine.report(Time::ZERO, contact, value, &mut |_| {}).expect("taken in");
            engine.is_waiting(walk)
        };
        let waits = [("pad.right-stick", 0.8), ("pad.right-stick", 0.9), (other, 1.0)];
        let waits = waits.map(|(control, x)| report(control, x));
        assert_eq!(waits, [false, true, false], "{bindings}");
    }
}

#[test]
fn a_stick_that_goes_around_is_worked_out_once_a_tick() {
    let (_, plan) = load(&format!(
        "{HEAD}[map.quay.walk]\nvalue = \"plane\"\n\
         bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\"\n\
         bind.pad = \"pad.left-stick | deadzone 0.1 full=0.96 | curve 2\"\n"
    ));
    let walk = plan.find_action("quay.walk").unwrap();
    let mut engine = Engine::start(plan.clone(), Start::default(), &mut |_| {});
    let mut worked_out = 0;
    for i in 0..1000_u64 {
        let angle = i as f64 / 70.0;
        let line = format!(
            "{{\"t\":{},\"control\":\"pad.left-stick\",\"value\":[{:.3},{:.3}]}}",
            Time::from_millis(i),
            angle.cos(),
            angle.sin()
        );
        let input = inputs(&line, &plan)[0];
        let What::Report(contact, value) = input.what else { panic!("a report") };
        engine.report(input.t, contact, value, &mut |_| {}).unwrap();
        worked_out += usize::from(!engine.is_waiting(walk));
        if i % 17 == 16 {
            let gives = engine.tick(input.t, &mut |_| {}).value(walk);
            assert!((gives.x - value.x / value.magnitude()).abs() < 1e-6, "{gives:?}");
        }
    }
    assert!(worked_out < 50, "{worked_out} of 1000");
}
