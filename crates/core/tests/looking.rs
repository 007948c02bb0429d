//! What a control reaches and what claims it, and runs laid out in time.

use harmonym_core::base::Time;
use harmonym_core::compile::uses::{Touch, reached};
use harmonym_core::engine::Cause;
use harmonym_core::model::Profile;
use harmonym_core::plan::Plan;
use harmonym_core::report::Findings;
use harmonym_core::score;
use harmonym_core::source::Source;
use harmonym_core::trace::{Lanes, Mark, State};
use std::sync::Arc;

fn load(text: &str) -> (Profile, Arc<Plan>) {
    let (profile, plan) = harmonym_core::load(&Source::new("t", text))
        .unwrap_or_else(|faults| panic!("{faults:#?}\n{text}"));
    (profile, Arc::new(plan))
}

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

/// What a control reaches: `map: binding`, with `held`, `with N`, and what claims it.
fn uses(control: &str) -> Vec<String> {
    let (profile, plan) = load(DEMO);
    let touch = Touch::named(&profile.catalogue, &plan, control).expect(control);
    let told = reached(&plan, &touch).into_iter().map(|reach| {
        let how = match (reach.holds, reach.holders) {
            (true, _) => " held".to_owned(),
            (false, 0) => String::new(),
            (false, n) => format!(" with {n}"),
        };
        let claims: Vec<String> = reach
            .claimed_by
            .iter()
            .map(|claim| format!(" < {}", plan.names.actions[claim.action]))
            .collect();
        let (map, binding) = (&plan.names.maps[reach.map], &plan.names.bindings[reach.binding]);
        format!("{map}: {binding}{how}{}", claims.concat())
    });
    told.collect()
}

#[test]
fn a_control_leads_to_all_its_bindings_whatever_they_call_it() {
    for (control, wanted) in [
        (
            "key.KeyF",
            &[
                "quay: quay.douse@desk#1",
                "quay: quay.uncover@desk#1",
                "tug: tug.short-flash@desk#1",
                "tug: tug.long-flash@desk#1",
            ][..],
        ),
        // Either of two keys, one of them, and what is held for another.
        ("key.Shift", &["quay: quay.hurry@desk#1"]),
        ("key.ShiftRight", &["quay: quay.hurry@desk#1"]),
        ("key.ControlRight", &["harbour: harbour.ring-bell@desk#1 held"]),
        // A letter by the key of the layout, a notch by its half of the wheel.
        ("key.KeyL", &["harbour: harbour.open-log@desk#1"]),
        ("char.l", &["harbour: harbour.open-log@desk#1"]),
        ("mouse.wheel.up", &["tug: tug.winch@desk#1"]),
        ("mouse.wheel.left", &[]),
        // A component, a half of it, and the whole.
        ("pad.left-stick.y", &["quay: quay.walk@pad#1", "crane: crane.boom@pad#1"]),
        (
            "pad.left-stick.left",
            &["quay: quay.walk@pad#1", "tug: tug.rudder@pad#1", "crane: crane.boom@pad#1"],
        ),
        ("pad#2.left-stick.click", &["quay: quay.hurry@pad#1"]),
        // What stands for another control, and an action that lives in two maps.
        (
            "slate.thumb",
            &["quay: quay.walk@pad#1", "tug: tug.rudder@pad#1", "crane: crane.boom@pad#1"],
        ),
        ("mouse.move", &["quay: quay.gaze@desk#1", "crane: quay.gaze@desk#1"]),
        ("bench.pedal", &["tug: tug.horn@levers#1"]),
    ] {
        assert_eq!(uses(control), wanted, "{control}");
    }
}

#[test]
fn higher_maps_claim_and_a_sum_claims_while_it_counts() {
    for (control, wanted) in [
        (
            "key.KeyE",
            &[
                "quay: quay.tie-knot@desk#1 < log-book.read < harbour.ring-bell",
                "crane: crane.boom@desk#1 < log-book.read < harbour.ring-bell",
                "log-book: log-book.read@desk#1 < harbour.ring-bell",
                "harbour: harbour.ring-bell@desk#1 with 1",
            ][..],
        ),
        (
            "pad.dpad.left",
            &[
                "quay: quay.walk@pad#2 < log-book.turn-page",
                "crane: crane.swing@pad#1 < log-book.turn-page",
                "log-book: log-book.turn-page@pad#1",
            ],
        ),
        // What the book doesn't bind is left to the quay.
        ("pad.dpad.up", &["quay: quay.walk@pad#2", "crane: crane.swing@pad#1"]),
    ] {
        assert_eq!(uses(control), wanted, "{control}");
    }
    let (profile, plan) = load(DEMO);
    for none in ["pad.nowhere", "pad#9.south", "pad#0.south", "key", "char.ab", "head.at"] {
        assert_eq!(Touch::named(&profile.catalogue, &plan, none), None, "{none}");
    }
}

#[test]
fn lanes_hold_presses_episodes_events_and_values() {
    let (_, plan) = load(
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n[map.quay]\nstart = true\n\
         [map.quay.tie-knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold 0.4s\"\n\
         [map.quay.walk]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick\"\n\
         [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n",
    );
    let source = Source::new(
        "s",
        "rate 50\nat 0.1s press key.KeyE for 0.2s\nat 1s press key.KeyE for 0.6s\n\
         at 2s push pad.left-stick to (0.6, 0.8)\nat 2.1s release pad.left-stick\n",
    );
    let mut findings = Findings::new();
    let score = score::read(&source, &plan, &mut findings).expect("a sound score");
    let run = Lanes::of(&plan, &score);
    let of = |name: &str| {
        let id = plan.find_action(name).unwrap();
        run.lanes.iter().find(|lane| lane.action == id).unwrap()
    };
    let ms = Time::from_millis;
    let knot = of("quay.tie-knot");
    assert_eq!(knot.pressed, [(ms(100), ms(300)), (ms(1000), ms(1600))]);
    assert_eq!(
        knot.spans,
        [
            (ms(100), ms(300), State::Pending),
            (ms(1000), ms(1400), State::Pending),
            (ms(1400), ms(1600), State::Live)
        ]
    );
    assert_eq!(
        knot.marks,
        [
            (ms(100), Mark::Wake),
            (ms(300), Mark::Lapse(Cause::TooShort)),
            (ms(1000), Mark::Wake),
            (ms(1400), Mark::Fire),
            (ms(1600), Mark::Rest(Cause::Released))
        ]
    );
    assert!(knot.values.is_empty());
    // `while` fires at every tick and is marked once a stretch; values are magnitudes at ticks.
    let walk = of("quay.walk");
    let fires = walk.marks.iter().filter(|(_, mark)| *mark == Mark::Fire).count();
    assert_eq!(fires, 1);
    assert_eq!(walk.values, [(ms(2000), 1.0), (ms(2100), 0.0)]);
    assert!(of("quay.hail").marks.is_empty() && of("quay.hail").pressed.is_empty());
    assert_eq!(run.end, ms(2100));
}
