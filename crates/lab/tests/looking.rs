//! What a control reaches and what claims it, and runs laid out in time.

use harmonym_lab::compare::{Change, Whole, compare};
use harmonym_lab::score;
use harmonym_lab::survey::{AcrossRates, ByRate, outcome};
use harmonym_lab::take::Playing;
use harmonym_lab::trace::{Lanes, Mark, State};
use harmonym_lang::compile::uses::{Touch, reached};
use harmonym_lang::model::Profile;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Rate, Time};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use std::sync::Arc;

fn load(text: &str) -> (Profile, Arc<Plan>) {
    let (profile, plan) = harmonym_lang::load(&Source::new("t", text))
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
            .map(|claim| format!(" < {}", plan.names().actions[claim.action]))
            .collect();
        let (map, binding) = (&plan.names().maps[reach.map], &plan.names().bindings[reach.binding]);
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
        ("pad#2.right-shoulder", &["quay: quay.hurry@pad#1", "tug: tug.winch@pad#1"]),
        // What stands for another control, and an action that lives in two maps.
        (
            "slate.thumb",
            &["quay: quay.walk@pad#1", "tug: tug.rudder@pad#1", "crane: crane.boom@pad#1"],
        ),
        ("mouse.move", &["quay: quay.gaze@desk#1", "crane: quay.gaze@desk#1"]),
        ("bench.pedal", &["tug: tug.whistle@levers#1"]),
    ] {
        assert_eq!(uses(control), wanted, "{control}");
    }
}

#[test]
fn higher_maps_claim_and_a_sum_claims_while_it_counts() {
    for (control, wanted) in [
        (
            "key.KeyT",
            &[
                "quay: quay.tie-knot@desk#1 < log-book.read < harbour.ring-bell",
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
    for none in ["pad.nowhere", "pad#9.south", "pad#0.south", "key", "char.ab", "head.on"] {
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
    let score = score::read(&source, &plan).expect("a sound score");
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
    assert_eq!(walk.numbers().collect::<Vec<_>>(), [(ms(2000), 1.0), (ms(2100), 0.0)]);
    assert!(of("quay.hail").marks.is_empty() && of("quay.hail").pressed.is_empty());
    assert_eq!(run.end, ms(2100));
    // What is held at the end is held until then.
    let source =
        Source::new("s", "rate 50\nat 0.1s down key.KeyH\nat 0.5s press key.KeyE for 0.1s\n");
    let run = Lanes::of(&plan, &score::read(&source, &plan).expect("a sound score"));
    let hail = plan.find_action("quay.hail").unwrap();
    let lane = run.lanes.iter().find(|lane| lane.action == hail).unwrap();
    assert_eq!(lane.pressed, [(ms(100), run.end)]);
}

#[test]
fn what_depends_on_the_rate_is_told_and_nothing_else() {
    let (_, plan) = load(
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n\
         [map.quay.row]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"while\"\n\
         [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"press\"\n",
    );
    let source = Source::new("s", "at 0.1s press key.KeyE for 0.5s\nat 1s press key.KeyE for 0.1s");
    let score = score::read(&source, &plan).expect("a sound score");
    let runs: Vec<_> = ["20", "144"]
        .map(|rate| {
            let rate = Rate::parse(rate).unwrap();
            let playing = Playing::at(rate);
            outcome(&plan, (playing, None), score.perform())
        })
        .into();
    let all = AcrossRates::new(&plan, &runs, |_| true);
    let [row] = &all.rows[..] else { panic!("{:?}", all.rows) };
    assert_eq!(row.action, plan.find_action("quay.row").unwrap());
    assert!(matches!(&row.what, ByRate::Events("fire", counts, false) if counts[0] < counts[1]));
    // Two episodes of a wake, a fire and a rest are the same everywhere.
    assert_eq!((all.same, all.unexplained), ((6, 1), Vec::new()));
}

/// What differs between two profiles of one action on a key and one on a trigger.
fn differences(before: &str, after: &str, hands: &str) -> Vec<(u64, String, Change)> {
    let run = |rest: &str| {
        let (_, plan) = load(&format!(
            "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n[map.quay]\nstart = true\n{rest}"
        ));
        let score = score::read(&Source::new("s", hands), &plan).expect("a score");
        let lanes = Lanes::of(&plan, &score);
        (lanes, plan)
    };
    let ((a, plan_a), (b, plan_b)) = (run(before), run(after));
    let told = compare((&a, &plan_a), (&b, &plan_b), 1e-6).into_iter();
    told.map(|one| (one.t.nanos() / 1_000_000, one.action, one.what)).collect()
}

#[test]
fn runs_are_compared_event_by_event_and_value_by_value() {
    let knot = |fire: &str| {
        format!("[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"{fire}\"\n")
    };
    let haul = |steps: &str| {
        format!("[map.quay.b]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger{steps}\"\n")
    };
    let press = "at 0.1s press key.KeyE for 0.5s\n";
    let a = |t: u64, what: Change| (t, "quay.a".to_owned(), what);
    let ms = Time::from_millis;
    let (rest, lapse) = (Mark::Rest(Cause::Released), Mark::Lapse(Cause::TooShort));
    for (before, after, wanted) in [
        (knot("press"), knot("press"), vec![]),
        (knot("hold 0.2s"), knot("hold 0.3s"), vec![a(300, Change::Moved(Mark::Fire, ms(400)))]),
        (
            knot("hold 0.2s"),
            knot("hold 0.9s"),
            vec![a(300, Change::Gone(Mark::Fire)), a(600, Change::Ends(rest, lapse))],
        ),
        (
            knot("hold 0.9s"),
            knot("tap 0.2s"),
            vec![
                a(600, Change::Moved(lapse, ms(300))),
                a(600, Change::Ends(lapse, Mark::Lapse(Cause::TooLong))),
            ],
        ),
    ] {
        assert_eq!(differences(&before, &after, press), wanted, "{before}{after}");
    }
    let pull = "at 0.1s push pad.left-trigger to 0.5\nat 0.5s release pad.left-trigger\n";
    let apart = differences(&haul(""), &haul(" | scale 0.5"), pull);
    assert_eq!(apart, [(100, "quay.b".to_owned(), Change::Value(0.25))]);
    // An action that only one of them has.
    let both = knot("press") + &haul("");
    let gone = differences(&both, &haul(""), press);
    assert_eq!(gone, [a(100, Change::NoAction)]);
    let new = differences(&haul(""), &both, press);
    let whole = Whole { fires: 1, end: Some((ms(600), rest)) };
    assert_eq!(new, [a(100, Change::EpisodeNew(whole))]);
}

#[test]
fn runs_are_put_side_by_side_so_that_as_little_as_possible_differs() {
    let knot = |more: &str| {
        format!("[map.quay.a]\nvalue = \"switch\"\nbind.desk = [\"key.KeyE\"{more}]\n")
    };
    let press = |key: &str, t: f64| format!("at {t}s press key.{key} for 0.05s\n");
    // One binding more, and three presses of it between those that were there.
    let hands: String =
        [0.1, 0.5, 0.9].map(|t| press("KeyE", t) + &press("KeyF", t + 0.2)).concat();
    let told = differences(&knot(""), &knot(", \"key.KeyF\""), &hands);
    let new = |what: &Change| matches!(what, Change::EpisodeNew(Whole { fires: 1, .. }));
    assert!(told.len() == 3 && told.iter().all(|(.., what)| new(what)), "{told:?}");
    let times: Vec<u64> = told.iter().map(|(t, ..)| *t).collect();
    assert_eq!(times, [300, 700, 1100]);
    let told = differences(&knot(", \"key.KeyF\""), &knot(""), &hands);
    assert!(told.iter().all(|(.., what)| matches!(what, Change::EpisodeGone(_))), "{told:?}");
    // One press that is gone leaves the others beside each other, though all of them moved a little.
    let late = |steps: &str| {
        format!(
            "[map.quay.a]\nvalue = \"axis\"\nfire = \"press\"\nbind.desk = \"key.KeyE{steps}\"\n\
             levels = {{ down = 0.5 }}\n"
        )
    };
    let hands = "at 0.1s press key.KeyE for 0.06s\nat 0.3s press key.KeyE for 0.2s\n\
                 at 0.7s press key.KeyE for 0.2s\n";
    let told = differences(&late(""), &late(" | ease rise=5/s fall=1000/s"), hands);
    let gone: Vec<u64> = told
        .iter()
        .filter(|(.., what)| matches!(what, Change::EpisodeGone(_)))
        .map(|(t, ..)| *t)
        .collect();
    let moved = told.iter().filter(|(.., what)| matches!(what, Change::Moved(Mark::Wake, _)));
    assert_eq!((gone, moved.count()), (vec![100], 2), "{told:?}");
}

#[test]
fn an_action_that_only_one_side_has_is_told_if_it_does_anything() {
    let one = "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\n";
    let two = format!("{one}[map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyF\"\n");
    let told = |key: &str| {
        differences(&two, one, &format!("at 0.1s press key.{key} for 0.1s"))
            .into_iter()
            .map(|(t, name, what)| (t, name, what == Change::NoAction))
            .collect::<Vec<_>>()
    };
    assert_eq!(told("KeyE"), []);
    assert_eq!(told("KeyF"), [(100, "quay.b".to_owned(), true)]);
}

#[test]
fn a_control_moves_when_it_was_ever_away_from_0() {
    use harmonym_lab::trace::ControlLane;
    use harmonym_runtime::base::{ControlId, Id, Vector};
    let lane = |values: &[f64]| ControlLane {
        control: ControlId::new(0),
        device: 0,
        values: values.iter().map(|x| (Time::ZERO, Vector::axis(*x))).collect(),
    };
    assert!(!lane(&[]).moves() && !lane(&[0.0, 0.0]).moves());
    assert!(lane(&[0.0, -0.1]).moves());
}
