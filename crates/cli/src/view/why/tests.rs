//! Every reason has a sentence, with its numbers and by how much.

use super::*;
use harmonym_lab::explain::{Awaits, Blocked, EndReason, Mover, Obstacle, Status, Waiting};
use harmonym_lang::source::Source;
use harmonym_runtime::base::ActionId;
use harmonym_runtime::base::{BindingId, Class, Device};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::plan::{Guard, OpKind};

const DEMO: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/harmonym.toml"));

fn plan() -> Plan {
    harmonym_lang::load(&Source::new("t", DEMO)).expect("a sound profile").1
}

fn ms(time: u64) -> Time {
    Time::from_millis(time)
}

/// The parts of the demo that sentences name.
struct Named {
    knot: ActionId,
    douse: ActionId,
    first: BindingId,
    second: BindingId,
}

fn named(plan: &Plan) -> Named {
    let knot = plan.find_action("quay.tie-knot").unwrap();
    let mut bindings = plan.actions()[knot].bindings.iter();
    Named {
        knot,
        douse: plan.find_action("quay.douse").unwrap(),
        first: bindings.next().unwrap(),
        second: bindings.next().unwrap(),
    }
}

#[test]
fn each_status_has_its_sentence() {
    let plan = plan();
    let Named { knot, douse, first, second } = named(&plan);
    let control = |name: &str| {
        let found = plan.names().controls.entries().find(|(_, known)| &***known == name);
        found.expect(name).0
    };
    let (e, w) = (control("key.KeyE"), control("key.KeyW"));
    let rule = plan.actions()[knot].alternatives.first().unwrap();
    let dead =
        plan.ops().entries().find(|(_, op)| matches!(op.kind, OpKind::Deadzone { .. })).unwrap().0;
    let pad = plan.names().schemes.entries().find(|(_, name)| *name == "pad").unwrap().0;
    let words = Words { plan: &plan, action: knot };
    let of_douse = plan.actions()[douse].bindings.first().unwrap();
    let live = Obstacle::Guard(Guard::Live(douse, false), Some(ms(1200)));
    let waiting = |awaits| Waiting { by: rule, awaits, against: Vec::new() };
    for (status, sentence) in [
        (Status::Unbound, "nothing is bound to it"),
        (Status::Closed { since: None, opens: None }, "its map quay was never opened"),
        (
            Status::Closed { since: None, opens: Some(ms(900)) },
            "its map quay is not open until 0.9 s",
        ),
        (
            Status::Closed { since: Some(ms(2500)), opens: None },
            "its map quay is closed since 2.5 s",
        ),
        (
            Status::Closed { since: Some(ms(2500)), opens: Some(ms(3000)) },
            "its map quay is closed from 2.5 s to 3 s",
        ),
        (Status::Paused(ms(3000)), "the game is paused since 3 s, and it has no in-pause"),
        (
            Status::Narrowed(e, pad),
            "key.KeyE is pressed, but the game has narrowed the bindings to the scheme pad",
        ),
        (Status::Untouched, "none of its controls is pressed"),
        (
            Status::Unplugged(Device { class: Class::Pad, number: 1 }, ms(1500)),
            "none of its controls is pressed, and pad#2 is unplugged since 1.5 s",
        ),
        (
            Status::HeldBack(e, ms(1500)),
            "key.KeyE was already held when its device came at 1.5 s: it has to be let go first",
        ),
        (
            Status::Blocked(e, Blocked::Claimed(of_douse, Some(ms(3200)))),
            "key.KeyE is claimed by quay.douse since 3.2 s",
        ),
        (
            Status::Blocked(e, Blocked::Hidden(second, 1.0)),
            "key.KeyE belongs to quay.tie-knot@pad#1 until it is let go",
        ),
        (
            Status::Blocked(e, Blocked::Hidden(second, 0.2)),
            "key.KeyE belongs to quay.tie-knot@pad#1 until it is let go (it reports 0.2, and is let go under 0.15)",
        ),
        (
            Status::Blocked(e, Blocked::Muted(ms(400), 1.0)),
            "key.KeyE was already held at 0.4 s, when it might have begun to count: it has to be let go first",
        ),
        (Status::NotHeld(e, w), "key.KeyE counts only while key.KeyW is held"),
        (
            Status::TooEarly(e),
            "key.KeyE was pressed before what has to be held with it: it has to be pressed anew",
        ),
        (Status::Opposed(e, w), "key.KeyW and key.KeyE are opposite and cancel out"),
        (
            Status::Stopped(dead, 0.09, Some(0.1)),
            "0.09 reached `deadzone 0.1 full=0.96`, which gives 0 up to 0.1: 0.01 is missing",
        ),
        (
            Status::Stopped(dead, 0.09, None),
            "0.09 reached `deadzone 0.1 full=0.96`, which made 0 of it",
        ),
        (
            Status::Lost((first, 0.5), (second, 0.8)),
            "quay.tie-knot@desk#1 gives 0.5, but quay.tie-knot@pad#1 is greater and gives 0.8",
        ),
        (Status::CancelledOut, "its bindings add up to 0"),
        (Status::UnderWake(0.3, 0.55), "it gives 0.3, and wakes from 0.55 on: 0.25 is missing"),
        (
            Status::StillUp(1.0, 0.44),
            "its episode is over, and it still gives 1: it has to come under 0.44 first",
        ),
        (Status::Taken(douse), "the press came as quay.douse fired, and belongs to it"),
        (
            Status::UnderDown(0.5, 0.7),
            "it is awake and gives 0.5, and is down from 0.7 on: 0.2 is missing",
        ),
        (
            Status::Live(rule, Some(ms(1000)), Some(ms(1500)), Vec::new()),
            "it is live: it fired at 1 s by `hold 0.8s`, next at 1.5 s",
        ),
        (
            Status::Live(rule, Some(ms(1000)), Some(ms(1500)), vec![live]),
            "it is live: it fired at 1 s by `hold 0.8s`, next at 1.5 s, but quay.douse is live since 1.2 s",
        ),
        (
            Status::Live(rule, None, None, Vec::new()),
            "it is live by `hold 0.8s`, which fires at the next tick",
        ),
        (Status::Step(0, 3, douse, None), "its sequence begins when quay.douse fires"),
        (
            Status::Step(2, 3, douse, Some(ms(3300))),
            "2 of 3 steps are done: quay.douse has to fire by 3.3 s",
        ),
        (
            Status::Pending(vec![waiting(Awaits::LettingGo)]),
            "it is pending: it fires when it is let go",
        ),
        (
            Status::Pending(vec![waiting(Awaits::LettingGo), waiting(Awaits::Down)]),
            "it is pending: by `hold 0.8s` it fires when it is let go; by `hold 0.8s` it is not down yet",
        ),
    ] {
        assert_eq!(words.status(&status), sentence);
    }
}

#[test]
fn each_wait_has_its_sentence() {
    let plan = plan();
    let Named { knot, douse, .. } = named(&plan);
    let rule = plan.actions()[knot].alternatives.first().unwrap();
    let words = Words { plan: &plan, action: knot };
    let calm = plan.find_variable("on-ladder").unwrap();
    for (awaits, sentence) in [
        (
            Awaits::Reaching(ms(310), ms(800), ms(1700)),
            "held 0.31 s of 0.8 s, it fires at 1.7 s if it stays down",
        ),
        (
            Awaits::Charging(ms(200), ms(600)),
            "held 0.2 s of 0.6 s, let go in 0.4 s or later it fires",
        ),
        (
            Awaits::Charging(ms(700), ms(600)),
            "held 0.7 s, longer than 0.6 s: it fires when it is let go",
        ),
        (Awaits::LettingGoBy(ms(450)), "it fires if it is let go by 0.45 s"),
        (Awaits::Press(1, 2, Some(ms(500))), "press 1 of 2, the next has to come by 0.5 s"),
        (
            Awaits::Others(ms(300), vec![douse]),
            "it would have fired at 0.3 s, and waits until quay.douse has given up",
        ),
    ] {
        let waiting = Waiting { by: rule, awaits, against: Vec::new() };
        let told = words.status(&Status::Pending(vec![waiting]));
        assert_eq!(told, format!("it is pending: {sentence}"));
    }
    let guard = |guard, since: Option<u64>| Obstacle::Guard(guard, since.map(ms));
    for (awaits, against, sentence) in [
        (
            Awaits::Guards,
            vec![guard(Guard::Live(douse, true), None), guard(Guard::Holds(calm, false), None)],
            "quay.douse is not live, on-ladder is on",
        ),
        (
            Awaits::Guards,
            vec![
                guard(Guard::Live(douse, false), Some(900)),
                guard(Guard::Holds(calm, true), None),
            ],
            "quay.douse is live since 0.9 s, on-ladder is off",
        ),
        // What a guard forbids is not promised.
        (
            Awaits::Reaching(ms(310), ms(800), ms(1700)),
            vec![guard(Guard::Holds(calm, false), Some(1000))],
            "held 0.31 s of 0.8 s, it would fire at 1.7 s if it stays down, but on-ladder is on since 1 s",
        ),
        (
            Awaits::LettingGo,
            vec![Obstacle::Took(douse, ms(1100))],
            "it would fire when it is let go, but quay.douse went live at 1.1 s and has it",
        ),
    ] {
        let told = words.status(&Status::Pending(vec![Waiting { by: rule, awaits, against }]));
        assert_eq!(told, format!("it is pending: {sentence}"));
    }
}

#[test]
fn each_end_has_its_sentence() {
    let plan = plan();
    let Named { knot, douse, .. } = named(&plan);
    let rule = plan.actions()[knot].alternatives.first().unwrap();
    let words = Words { plan: &plan, action: knot };
    let map = |name: &str| plan.find_map(name).unwrap();
    let control = |name: &str| plan.find_control(name).unwrap();
    let let_go = Some(Mover::LetGo(control("key.KeyE")));
    let pressed = Some(Mover::Opposite(control("key.KeyW"), control("key.KeyE")));
    for (cause, ending, sentence) in [
        (
            Cause::TooShort,
            Some(EndReason::TooShort {
                by: rule,
                held: ms(310),
                needed: ms(800),
                up: let_go.clone(),
            }),
            "too-short: held 0.31 s of 0.8 s: let go 0.49 s too early",
        ),
        (
            Cause::TooShort,
            Some(EndReason::TooShort {
                by: rule,
                held: ms(310),
                needed: ms(800),
                up: pressed.clone(),
            }),
            "too-short: held 0.31 s of 0.8 s, 0.49 s too short: key.KeyW was pressed, opposite to key.KeyE",
        ),
        (
            Cause::TooLong,
            Some(EndReason::TooLong { by: rule, limit: ms(250), held: None, up: None }),
            "too-long: held for longer than 0.25 s",
        ),
        (
            Cause::TooLong,
            Some(EndReason::TooLong {
                by: rule,
                limit: ms(250),
                held: Some(ms(400)),
                up: let_go.clone(),
            }),
            "too-long: held 0.4 s, where 0.25 s is the most: let go 0.15 s too late",
        ),
        (
            Cause::TooLight,
            Some(EndReason::TooLight(0.5, 0.7)),
            "too-light: it gave 0.5 at most, and is down from 0.7 on: 0.2 was missing",
        ),
        (
            Cause::Gap,
            Some(EndReason::Gap { count: 1, needed: 2, limit: ms(300), late: Some(ms(1100)) }),
            "gap: 1 of 2 presses: the next was not there within 0.3 s, it came 0.1 s too late",
        ),
        // What came much later was no late press.
        (
            Cause::Gap,
            Some(EndReason::Gap { count: 1, needed: 2, limit: ms(300), late: Some(ms(9000)) }),
            "gap: 1 of 2 presses: the next was not there within 0.3 s",
        ),
        (
            Cause::Gap,
            Some(EndReason::StepGap {
                count: 1,
                steps: 3,
                next: douse,
                limit: ms(3000),
                late: None,
            }),
            "gap: 1 of 3 steps: quay.douse had not fired within 3 s",
        ),
        (
            Cause::OutOfOrder,
            Some(EndReason::OutOfOrder(Some(douse))),
            "out-of-order: quay.douse fired, and was not the next step",
        ),
        (
            Cause::OutOfOrder,
            Some(EndReason::OutOfOrder(None)),
            "out-of-order: another of its steps fired",
        ),
        (
            Cause::Yielded,
            Some(EndReason::Yielded(douse, ms(1200))),
            "yielded: quay.douse had it from 1.2 s on",
        ),
        (
            Cause::MapOff,
            Some(EndReason::MapOff(map("quay"), Some(map("tug")))),
            "map-off: its map quay closed as tug opened",
        ),
        (
            Cause::MapOff,
            Some(EndReason::MapOff(map("log-book"), None)),
            "map-off: its map log-book closed",
        ),
        (Cause::Paused, None, "paused: the game was paused"),
        (Cause::Stopped, Some(EndReason::Stopped), "stopped: the run ended"),
        (
            Cause::Released,
            Some(EndReason::Released { held: ms(900), up: let_go.clone() }),
            "let go after 0.9 s",
        ),
        (
            Cause::Released,
            Some(EndReason::Released { held: ms(900), up: pressed.clone() }),
            "came up after 0.9 s: key.KeyW was pressed, opposite to key.KeyE",
        ),
        (Cause::Released, None, "let go"),
        (Cause::Done, None, "the sequence is complete"),
        (Cause::Yielded, None, "yielded: it ended (yielded)"),
    ] {
        let end = Some((ms(1000), cause));
        let record = EpisodeRecord { end, ending, ..EpisodeRecord::new(ms(200)) };
        assert_eq!(words.record(&record), sentence);
        let fired = EpisodeRecord { fires: vec![(ms(700), rule, None)], ..record.clone() };
        let wanted = format!("fired at 0.7 s by `hold 0.8s`, 0.5 s after it woke; {sentence}");
        assert_eq!(words.record(&fired), wanted);
    }
    assert_eq!(words.record(&EpisodeRecord::new(ms(200))), "still open");
}

#[test]
fn numbers_have_no_exponent_and_no_minus_zero() {
    for (value, text) in
        [(0.0008, "0.0008"), (-0.0, "0"), (1e6, "1000000"), (0.1 + 0.2, "0.3"), (-1.5, "-1.5")]
    {
        assert_eq!(number(value), text);
    }
}
