//! Hands at work: what is shown is what a run of the take gives.

mod gate;

use harmonym_lab::explain::why;
use harmonym_lab::live::{Follow, Live};
use harmonym_lab::take::{Input, Playing, Run, Watcher, What};
use harmonym_lang::Game;
use harmonym_runtime::base::{Contact, Device, Id, MapId, Rate, Time, Vector};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::{Notice, Seat, Told};
use proptest::prelude::*;
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

fn demo() -> Arc<Plan> {
    Game::parse("harmonym.toml", DEMO).expect("a sound profile").plan().clone()
}

/// What a person does, so many microseconds after the last time, and how late that is told.
#[derive(Clone, Debug)]
struct Deed {
    after: u64,
    late: u64,
    what: Kind,
}

#[derive(Clone, Debug)]
enum Kind {
    Control(usize, f64, f64),
    Map(usize, bool),
    Plug(u8, bool),
    Pause(bool),
    Number(usize, f64),
}

const CONTROLS: &[&str] = &[
    "key.KeyW",
    "key.KeyH",
    "key.KeyT",
    "key.Space",
    "key.KeyF",
    "key.ShiftLeft",
    "mouse.move",
    "mouse.wheel",
    "pad.left-stick",
    "pad.right-trigger",
    "pad.south",
];

fn deeds() -> impl Strategy<Value = Vec<Deed>> {
    let what = prop_oneof![
        12 => (0..CONTROLS.len(), -1.0..1.0, -1.0..1.0).prop_map(|(c, x, y)| Kind::Control(c, x, y)),
        1 => (0..4_usize, any::<bool>()).prop_map(|(map, open)| Kind::Map(map, open)),
        1 => (0..2_u8, any::<bool>()).prop_map(|(pad, there)| Kind::Plug(pad, there)),
        1 => any::<bool>().prop_map(Kind::Pause),
        1 => (0..6_usize, 0.0..1.0).prop_map(|(number, to)| Kind::Number(number, to)),
    ];
    let deed = (0..60_000_u64, 0..40_000_u64, what).prop_map(|(after, late, what)| Deed {
        after,
        late,
        what,
    });
    prop::collection::vec(deed, 1..80)
}

fn what(plan: &Plan, kind: &Kind) -> What {
    match *kind {
        Kind::Control(which, x, y) => {
            let id = plan.find_control(CONTROLS[which]).expect("a control");
            let kind = plan.controls()[id].kind;
            let value = match kind.yields().components() {
                1 => Vector::axis(if x > 0.0 { 1.0 } else { 0.0 }),
                _ => Vector::new(x, y),
            };
            What::Report(Contact::first(id), value)
        }
        Kind::Map(map, open) => What::Map(None, MapId::new(map), open),
        Kind::Plug(number, there) => {
            let class = harmonym_runtime::base::Class::Pad;
            What::Plug(Device { class, number }, there)
        }
        Kind::Pause(paused) => What::Pause(paused),
        Kind::Number(number, to) => {
            let id = plan.variables().ids().nth(number).expect("a number");
            What::Number(None, id, to)
        }
    }
}

/// Everything that a run tells.
struct All(Vec<Told>);

impl Watcher for All {
    fn notice(&mut self, told: Told) {
        self.0.push(told);
    }
}

fn run(plan: &Arc<Plan>, playing: Playing, inputs: &[Input], until: Time) -> Vec<Told> {
    let mut all = All(Vec::new());
    let mut run = Run::new(plan.clone(), playing, None, &mut all);
    for input in inputs {
        assert!(run.input(*input, &mut all).is_continue());
    }
    run.look(until, &mut all);
    all.0
}

proptest! {
    #![proptest_config(gate::gate(64))]

    #[test]
    fn a_take_of_live_hands_tells_the_same(deeds in deeds(), seats in 1..3_u8, hertz in 20..200_u32) {
        let plan = demo();
        let rate = Rate::parse(&hertz.to_string()).expect("a rate");
        let playing = Playing { seats: Some(seats), ..Playing::at(rate) };
        let mut live = Live::new(plan.clone(), playing);
        let (mut t, mut inputs, mut told) = (Time::ZERO, Vec::new(), Vec::new());
        // What reads devices tells of each before its first report, and of its coming and going in turns.
        let mut there = [true; 2];
        for number in 0..2 {
            let what = what(&plan, &Kind::Plug(number, true));
            inputs.push(live.input(t, what).expect("a pad"));
        }
        for deed in &deeds {
            if let Kind::Plug(number, now) = deed.what
                && std::mem::replace(&mut there[usize::from(number)], now) == now
            {
                continue;
            }
            t = t + Time::from_nanos(deed.after * 1000);
            // Time went by until it was told of, ticks and all.
            live.until(t + Time::from_nanos(deed.late * 1000));
            if let Ok(input) = live.input(t, what(&plan, &deed.what)) {
                let last: Option<&Input> = inputs.last();
                prop_assert!(last.is_none_or(|last| last.t <= input.t));
                inputs.push(input);
            }
            told.extend(live.news());
        }
        live.until(t + Time::from_millis(3_000));
        told.extend(live.news());
        prop_assert_eq!(&told, &run(&plan, playing, &inputs, live.now()));

        // The same hands on the same profile again, as after it was saved.
        let (mut again, lost) = live.on(&plan);
        prop_assert_eq!(lost, 0);
        prop_assert_eq!(again.news(), told);
        prop_assert_eq!(again.now(), live.now());
        for seat in Seat::first(seats) {
            for action in plan.actions().ids() {
                prop_assert_eq!(again.frame(seat).read(action), live.frame(seat).read(action));
            }
        }
    }

    #[test]
    fn why_follows_live_hands_and_says_what_a_run_says(deeds in deeds(), which in 0..25_usize) {
        let plan = demo();
        let playing = Playing { seats: Some(1), ..Playing::at(Rate::DEFAULT) };
        let action = plan.actions().ids().nth(which).expect("an action");
        let mut live = Live::new(plan.clone(), playing);
        let mut follow = Follow::new(&live, Seat::FIRST, action);
        let (mut t, mut inputs) = (Time::ZERO, Vec::new());
        for deed in &deeds {
            t = t + Time::from_nanos(deed.after * 1000);
            live.until(t);
            inputs.extend(live.input(t, what(&plan, &deed.what)));
            let at = live.now();
            let own = follow.at(&live, at);
            let whole = why(&plan, playing, inputs.clone(), (Seat::FIRST, action), Some(at));
            let (own, whole) = (own.moment.expect("a moment"), whole.moment.expect("a moment"));
            prop_assert_eq!(own.t, whole.t);
            let ahead = matches!(whole.status, harmonym_lab::explain::Status::Closed { .. });
            if !ahead {
                prop_assert_eq!(own.status, whole.status);
            }
        }
    }
}

#[test]
fn what_comes_late_comes_after_the_tick_that_was() {
    let plan = demo();
    let mut live = Live::new(plan.clone(), Playing::at(Rate::DEFAULT));
    let key = Contact::first(plan.find_control("key.KeyH").expect("a key"));
    live.until(Time::from_millis(100));
    let tick = Rate::DEFAULT.tick(6);
    assert_eq!(live.now(), tick);
    for (t, taken) in [
        (Time::from_millis(3), tick + Time::from_nanos(1)),
        (tick, tick + Time::from_nanos(1)),
        (tick + Time::from_nanos(2), tick + Time::from_nanos(2)),
        (tick + Time::from_nanos(1), tick + Time::from_nanos(2)),
    ] {
        let down = What::Report(key, Vector::axis(1.0));
        assert_eq!(live.input(t, down).expect("an input").t, taken);
    }
}

#[test]
fn a_saved_profile_gets_the_hands_so_far() {
    let plan = demo();
    let mut live = Live::new(plan.clone(), Playing::at(Rate::DEFAULT));
    let key = Contact::first(plan.find_control("key.KeyT").expect("a key"));
    let (down, up) = (Vector::axis(1.0), Vector::ZERO);
    live.input(Time::from_millis(100), What::Report(key, down)).expect("an input");
    live.input(Time::from_millis(800), What::Report(key, up)).expect("an input");
    live.input(Time::from_millis(900), What::Map(None, MapId::new(1), true)).expect("an input");
    live.until(Time::from_millis(1000));
    let fired = |live: &mut Live| {
        let is_fire = |told: &Told| match told.notice {
            Notice::Event(event) => event.kind.word() == "fire",
            _ => false,
        };
        live.news().iter().filter(|told| is_fire(told)).count()
    };
    assert_eq!(fired(&mut live), 0, "0.7 s are short of 0.8 s");
    let changed = DEMO.replace("fire = \"hold 0.8s\"", "fire = \"hold 0.6s\"");
    let changed =
        changed.replace("[map.tug]", "[map.harbour-tug]").replace("[map.tug.", "[map.harbour-tug.");
    let other = Game::parse("harmonym.toml", &changed);
    let other = other.expect("a sound profile").plan().clone();
    let (mut on, lost) = live.on(&other);
    assert_eq!(fired(&mut on), 1, "and are enough for 0.6 s");
    assert_eq!(lost, 1, "there is no map `tug` any more");
    assert_eq!(on.now(), live.now());
}

#[test]
fn a_device_that_is_somebodys_before_it_comes_is_not_there_before() {
    let plan = demo();
    let mut live =
        Live::new(plan.clone(), Playing { seats: Some(2), ..Playing::at(Rate::DEFAULT) });
    let class = harmonym_runtime::base::Class::Mouse;
    let mouse = Device { class, number: 0 };
    let key = mouse.companion().expect("a keyboard");
    let button = Contact::first(plan.find_control("mouse.left").expect("a button"));
    live.input(Time::from_millis(100), What::Plug(mouse, true)).expect("a mouse");
    live.input(Time::from_millis(200), What::Report(button, Vector::axis(1.0))).expect("a press");
    live.input(Time::from_millis(700), What::Plug(key, true)).expect("a keyboard");
    live.until(Time::from_millis(1000));
    let seen = live.lanes().seen(&plan, Time::ZERO, Time::from_millis(1000));
    let there = seen.around.devices_there(seen.end);
    let of = |device| there.iter().find(|(own, _)| *own == device).expect("told of").1[0].0;
    assert_eq!((of(mouse), of(key)), (Time::from_millis(100), Time::from_millis(700)));
}

#[test]
fn memory_has_a_bound_and_all_goes_on() {
    let plan = demo();
    let playing = Playing { seats: Some(1), ..Playing::at(Rate::DEFAULT) };
    let mut live = Live::new(plan.clone(), playing);
    live.forget_news();
    let (way, key) = (
        Contact::first(plan.find_control("mouse.move").expect("a mouse")),
        Contact::first(plan.find_control("key.KeyT").expect("a key")),
    );
    let action = plan.find_action("quay.tie-knot").expect("an action");
    let mut follow = Follow::new(&live, Seat::FIRST, action);
    let mut t = Time::ZERO;
    // Ten devices at a thousand reports a second, for two minutes.
    for _ in 0..1_200_000_u32 {
        t = t + Time::from_nanos(100_000);
        live.input(t, What::Report(way, Vector::new(1.0, 0.0))).expect("an input");
    }
    let values = live.lanes().around.controls.iter().map(|control| control.values.len());
    assert!(values.max() <= Some(760_000), "75 s and one report before them");
    live.input(t, What::Report(key, Vector::axis(1.0))).expect("an input");
    live.until(t + Time::from_millis(900));
    assert_eq!(live.frame(Seat::FIRST).state(action), harmonym_runtime::EpisodeState::Live);
    let story = follow.at(&live, live.now());
    assert_eq!(story.episodes.last().expect("an episode").woke, t);
    assert_eq!(live.on(&plan).1, 0);
}
