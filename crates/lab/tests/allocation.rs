//! Nothing is allocated after the first tick. In a binary of its own, for its own allocator.

#[allow(dead_code, reason = "shared with the tests of the engine")]
#[path = "engine/harness.rs"]
mod harness;
#[allow(dead_code, reason = "shared with the tests of the engine")]
#[path = "engine/random.rs"]
mod random;

use allocation_counter::measure;
use harmonym_lang::source::Source;
use harmonym_runtime::EventReader;
use harmonym_runtime::base::{
    Contact, ControlId, ControlKind, Device, Id, MapId, SchemeId, Seat, Time, Vector,
};
use harmonym_runtime::engine::Start;
use harmonym_runtime::seats::{Seats, Told};
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

/// Every cue, combination and step; many presses that leave waiting cues behind.
fn everything() -> String {
    let rules = [
        "press",
        "release or change",
        "while",
        "hold 5s or charge 20ms or repeat 10ms",
        "hold 10ms or while or release or press or tap 30ms or taps 3 gap=40ms",
    ];
    let bindings = [
        "key.KeyA",
        "pair(key.KeyA, key.KeyB, opposed=newest)",
        "pair(key.KeyB, key.KeyA, opposed=oldest) | scale 0.5 | curve 2 | cap 0.4",
        "four(key.KeyA, key.KeyB, key.KeyC, key.KeyD) | deadzone 0.1 by=axes | pick length",
        "any(key.KeyA, key.KeyB | toggle) | not | switch-at 0.3 | notch 0.25 | clamp 0 0.9",
        "join(key.KeyA, key.KeyB, key.KeyC) | rotate 30deg around=y | order zxy | unit | pick x",
    ];
    let mut text =
        "harmonym = 1\nscheme.desk.devices = [\"key\"]\nmap.quay.start = true\n".to_owned();
    for (i, rule) in rules.iter().enumerate() {
        for (j, binding) in bindings.iter().enumerate() {
            text.push_str(&format!(
                "[map.quay.a{i}-{j}]\nvalue = \"axis\"\nfire = \"{rule}\"\nbind.desk = \"{binding}\"\n"
            ));
        }
    }
    text.push_str(
        "[map.quay.all]\nvalue = \"switch\"\nfire = \"sequence(a0-0, a0-1, a0-0) within=1s\"\n",
    );
    text.push_str(
        "[map.quay.waits]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nyields-to = [\"a3-0\"]\n",
    );
    text
}

/// Maps that are switched, controls held together, steps that move, movement that adds up.
const SWITCHED: &str = r#"
harmonym = 1
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad", "bench"]
device.bench = { controls = { pull = "lever", globe = "turn" }, as = { pull = "pad.left-trigger" } }
setting.speed = { default = 1, range = [0.1, 3] }
[map.quay]
start = true
[map.quay.walk]
value = "plane"
bind.desk = "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | ease rise=8/s reverse=cut"
bind.pad = "pad.left-stick | smooth 40ms | travel"
shape = "scale speed"
[map.quay.look]
value = "plane"
bind.desk = ["mouse.move", "key.KeyA + mouse.move", "mouse.at"]
fire = "change"
[map.quay.turn]
value = "turn"
bind.pad = "bench.globe | smooth 0.1s"
[map.tug.haul]
value = "axis"
bind.desk = ["mouse.wheel.y", "key.Shift + key.KeyA", "key.KeyB + key.Shift + key.KeyA"]
bind.pad = "pad.left-trigger"
blend = "last-change"
[map.book]
kind = "layer"
also = ["tug.haul"]
[map.book.read]
value = "switch"
bind.desk = ["key.KeyA", "mouse.wheel.up", "char.z"]
fire = "hold 20ms or press"
[map.sky]
kind = "always"
[map.sky.bell]
value = "switch"
bind.desk = "key.Control + key.KeyW"
in-pause = true
claim = true
"#;

#[test]
fn stepping_allocates_nothing() {
    for text in [DEMO.to_owned(), everything(), SWITCHED.to_owned()] {
        for seats in [1, 3] {
            let told = step_many(&text, seats, 20_000);
            assert!(told > 1000, "the hands did next to nothing: {told}");
        }
    }
}

#[test]
fn stepping_random_profiles_allocates_nothing() {
    use proptest::strategy::{Strategy, ValueTree};
    let mut runner = proptest::test_runner::TestRunner::deterministic();
    let profiles = random::profile(random::Ticks::With);
    let mut told = 0;
    for round in 0..200 {
        let text = profiles.new_tree(&mut runner).unwrap().current();
        told += step_many(&text, round % 4 + 1, 1000);
    }
    assert!(told > 1000, "the hands did next to nothing: {told}");
}

#[test]
fn hands_and_their_log_allocate_nothing() {
    let game = harmonym_lang::Game::parse("p", SWITCHED).expect("a sound profile");
    let mut hands = game.hands(2);
    let mut reader = EventReader::default();
    let key = Contact::first(game.control("key.KeyW").expect("a key"));
    hands.tick(Time::from_millis(1));
    let mut told = 0;
    let counted = measure(|| {
        for step in 2..20_000 {
            hands.report(Time::from_millis(step), key, step % 3 == 0).unwrap();
            hands.tick(Time::from_millis(step));
            if step % 17 == 0 {
                told += hands.events(&mut reader).count();
            }
        }
    });
    assert_eq!(counted.count_total, 0);
    assert!(told > 1000, "{told}");
}

/// Steps a profile so often, and gives how much was told.
fn step_many(text: &str, seats: u8, steps: u64) -> u64 {
    let (_, plan) = harmonym_lang::load(&Source::new("p", text)).expect("a sound profile");
    let mut told = 0_u64;
    let mut tell = |_| told += 1;
    let mut seats = Seats::start(Arc::new(plan), seats, Start::default(), &mut tell);
    seats.tick(Time::from_millis(1), &mut tell);
    let counted = measure(|| {
        let mut seed = 1_u64;
        (2..steps).for_each(|step| step_once(&mut seats, &mut seed, step, &mut tell));
        seats.restart(Start::default(), &mut tell);
    });
    assert_eq!(counted.count_total, 0, "allocations while stepping\n{text}");
    told
}

/// A report of any control of one of two devices, and now and then something of the game's.
fn step_once(seats: &mut Seats, seed: &mut u64, step: u64, tell: &mut dyn FnMut(Told)) {
    *seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
    let bits = *seed >> 20;
    let plan = Arc::clone(seats.plan());
    // Three of four reports go to controls that something reads.
    let bound: usize = plan.inputs().len();
    let control = match (bound, step % 4) {
        (0, _) | (_, 0) => ControlId::new(bits as usize % plan.controls().len()),
        _ => plan.inputs()[Id::new(bits as usize % bound)].control,
    };
    let part = |shift: u32| ((bits >> shift) % 21) as f64 / 10.0 - 1.0;
    let value = Vector { x: part(5), y: part(20), z: part(9), w: part(14) };
    let t = Time::from_nanos(step * 3_000_000);
    let contact = Contact { control, device: (bits % 2) as u8 };
    seats.report(t, contact, value, tell).unwrap();
    let map = MapId::new(bits as usize % plan.maps().len());
    // One of the seats, or all.
    let seat = match bits.is_multiple_of(2) {
        true => Seat::FIRST,
        false => seats.all().next_back().unwrap(),
    };
    let some = (!bits.is_multiple_of(3)).then_some(seat);
    let device = Device { class: plan.controls()[control].class, number: (bits % 2) as u8 };
    match step % 41 {
        // What is always open is refused.
        3 => drop(seats.set_open(t, some, map, true, tell)),
        9 => drop(seats.set_open(t, some, map, false, tell)),
        11 => seats.unplug(t, device, tell).unwrap(),
        14 => seats.pause(t, bits.is_multiple_of(2), tell),
        19 => {
            let scheme = (bits.is_multiple_of(3)).then_some(SchemeId::new(0));
            seats.narrow(t, some, scheme, tell).unwrap();
        }
        22 => seats.plug(t, device, tell).unwrap(),
        25 => seats.give(t, device, seat, tell).unwrap(),
        // The only seat has all devices.
        28 => drop(seats.leave(t, seat, tell)),
        31 => seats.invite(t + Time::from_millis(50)),
        33 => seats.join_freely(),
        35 => seats.catch(seat, &ControlKind::ALL).unwrap(),
        38 => drop(seats.caught()),
        40 => seats.stop_catching(),
        _ => {}
    }
    if let (0, Some(named)) = (step % 31, plan.variables().ids().next()) {
        seats.set_number(t, some, named, part(3), tell).unwrap();
    }
    if step.is_multiple_of(5) {
        seats.tick(t, tell);
        for seat in seats.all() {
            let frame = seats.frame(seat);
            frame.changed().for_each(|action| {
                std::hint::black_box(frame.read(action));
            });
        }
    }
}
