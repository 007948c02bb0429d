//! What the checker says of gestures, idle sticks, diagonals and maps, against hands on the
//! engine: the rule tells if and only if it can be seen to happen.

use harmonym_lab::check::check;
use harmonym_lang::source::Source;
use harmonym_lang::{load, model::Profile};
use harmonym_runtime::base::{Contact, MapId, Time, Vector};
use harmonym_runtime::controls::Catalogue;
use harmonym_runtime::engine::{Engine, EventKind, Notice, Start};
use harmonym_runtime::plan::Plan;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

fn profile(text: &str) -> (Profile, Arc<Plan>) {
    let (profile, plan) = load(&Source::new("t", text))
        .unwrap_or_else(|faults| panic!("{:?}\n{text}", faults.first()));
    (profile, Arc::new(plan))
}

fn tells(profile: &Profile, rule: &str) -> bool {
    check(profile, &BTreeSet::new()).iter().any(|remark| remark.diagnostic.rule == rule)
}

/// Hands on an engine, at 60 ticks a second.
struct Hands {
    engine: Engine,
    plan: Arc<Plan>,
    next_tick: u64,
    /// How often each action fired and woke.
    fires: BTreeMap<String, u32>,
    wakes: BTreeMap<String, u32>,
}

impl Hands {
    fn new(plan: &Arc<Plan>) -> Self {
        let mut hands = Self {
            engine: Engine::start(Arc::clone(plan), Start::default(), &mut |_| {}),
            plan: Arc::clone(plan),
            next_tick: 1,
            fires: BTreeMap::new(),
            wakes: BTreeMap::new(),
        };
        hands.with(|engine, tell| engine.restart(Start::default(), tell));
        hands
    }

    fn with(&mut self, act: impl FnOnce(&mut Engine, &mut dyn FnMut(Notice))) {
        let mut told = Vec::new();
        act(&mut self.engine, &mut |notice| told.push(notice));
        for notice in told {
            let Notice::Event(event) = notice else { continue };
            let name = self.plan.names().actions[event.action].clone();
            match event.kind {
                EventKind::Fire(..) => *self.fires.entry(name).or_default() += 1,
                EventKind::Wake => *self.wakes.entry(name).or_default() += 1,
                _ => {}
            }
        }
    }

    /// Goes on to a moment, tick by tick.
    fn until(&mut self, t: f64) {
        let at = |tick: u64| Time::from_nanos(tick * 1_000_000_000 / 60);
        while at(self.next_tick) < seconds(t) {
            let tick = at(self.next_tick);
            self.with(|engine, tell| _ = engine.tick(tick, tell));
            self.next_tick += 1;
        }
    }

    fn put(&mut self, t: f64, control: &str, value: Vector) {
        self.until(t);
        let id = Catalogue::built_in().reported_id(control).expect(control);
        self.with(|engine, tell| {
            engine.report(seconds(t), Contact::first(id), value, tell).expect("taken in");
        });
    }

    fn press(&mut self, t: f64, control: &str, down: bool) {
        self.put(t, control, Vector::axis(f64::from(u8::from(down))));
    }

    fn open(&mut self, t: f64, map: MapId) {
        self.until(t);
        self.with(|engine, tell| _ = engine.open(seconds(t), map, tell));
    }

    /// The value of the only action at the next tick.
    fn value(&mut self, t: f64) -> Vector {
        self.until(t);
        let id = self.plan.by_file()[0];
        self.engine.frame().value(id)
    }
}

fn seconds(t: f64) -> Time {
    Time::from_nanos((t * 1e9).round() as u64)
}

#[test]
fn two_rules_meet_in_one_gesture_just_when_hands_make_both_fire() {
    let rules = [
        "press",
        "release",
        "hold 0.3s",
        "hold 0.7s",
        "tap 0.2s",
        "tap 0.5s",
        "charge 0.4s",
        "taps 2 gap=0.3s",
        "taps 3 gap=0.3s",
        "repeat 0.2s",
    ];
    for (i, one) in rules.iter().enumerate() {
        for other in &rules[i..] {
            let (model, plan) = profile(&format!(
                "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n\
                 [map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"{one}\"\n\
                 [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"{other}\"\n"
            ));
            // One to three presses, short ones and a last one of any length.
            let mut seen = false;
            for presses in 1..=3_u32 {
                for last in [0.05, 0.15, 0.25, 0.35, 0.45, 0.55, 0.8] {
                    let mut hands = Hands::new(&plan);
                    let mut t = 0.1;
                    for press in 1..=presses {
                        let lasts = if press == presses { last } else { 0.05 };
                        hands.press(t, "key.KeyA", true);
                        hands.press(t + lasts, "key.KeyA", false);
                        t += lasts + 0.1;
                    }
                    hands.until(t + 2.0);
                    let fired = |name: &str| hands.fires.get(name).copied().unwrap_or(0);
                    // Several presses are one gesture only where a rule counts them, and short.
                    let counts = one.starts_with("taps") || other.starts_with("taps");
                    let is_gesture = presses == 1 || (counts && last < 0.3);
                    seen |= is_gesture && fired("quay.a") > 0 && fired("quay.b") > 0;
                }
            }
            assert_eq!(tells(&model, "double-fire"), seen, "{one} and {other}");
        }
    }
}

#[test]
fn a_stick_creeps_just_when_the_checker_says_so() {
    let chains = [
        "pad.left-stick",
        "pad.left-stick | deadzone 0.05",
        "pad.left-stick | deadzone 0.079",
        "pad.left-stick | deadzone 0.08",
        "pad.left-stick | deadzone 0.1",
        "pad.left-stick | scale 3 | deadzone 0.1",
        "pad.left-stick | curve 3",
        "pad.left-stick | curve 0.2",
        "pad.left-stick | cap 0.5 | scale 0.001",
        "pad.left-stick | deadzone 0.07 by=axes",
        "pad.left-stick | notch 0.25",
        "pad.left-stick | notch 0.1",
        "join(pad.left-stick.x | deadzone 0.1, pad.left-stick.y)",
        "four(pad.left-stick.up, pad.left-stick.left, pad.left-stick.down, pad.left-stick.right)",
    ];
    for chain in chains {
        for wake in ["0.001", "0.05", "0.3"] {
            let (model, plan) = profile(&format!(
                "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n[map.quay]\nstart = true\n\
                 [map.quay.a]\nvalue = \"plane\"\nbind.pad = \"{chain}\"\nlevels = {{ wake = {wake}, down = 0.4, up = 0.0005 }}\n"
            ));
            let creeps = (0..16).any(|i| {
                let angle = f64::from(i) * std::f64::consts::PI / 8.0;
                let mut hands = Hands::new(&plan);
                let drift = Vector::new(0.08 * angle.cos(), 0.08 * angle.sin());
                hands.put(0.1, "pad.left-stick", drift);
                hands.until(0.3);
                !hands.wakes.is_empty()
            });
            assert_eq!(tells(&model, "raw-stick"), creeps, "{chain}, wake {wake}");
        }
    }
}

#[test]
fn a_diagonal_is_faster_just_when_it_is_so_on_the_engine() {
    let keys = ["key.KeyW", "key.KeyA", "key.KeyS", "key.KeyD"];
    for (binding, more) in [
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\"", ""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)\"", ""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)\"", "shape = \"cap 1\""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | scale 0.8\"", ""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | scale 2\"", ""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square) | scale 0.7\"", ""),
        ("\"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square) | scale 0.8\"", ""),
        ("\"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW))\"", ""),
        ("\"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW)) | unit\"", ""),
        (
            "\"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW) | scale 0.2)\"",
            "shape = \"rotate 30deg\"",
        ),
        (
            "\"key.KeyW | onto y\", \"key.KeyA | flip | onto x\", \"key.KeyS | flip | onto y\", \"key.KeyD | onto x\"",
            "blend = \"sum\"",
        ),
        (
            "\"key.KeyW | onto y\", \"key.KeyA | flip | onto x\", \"key.KeyS | flip | onto y\", \"key.KeyD | onto x\"",
            "blend = \"sum\"\nshape = \"cap 1\"",
        ),
    ] {
        let (model, plan) = profile(&format!(
            "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay]\nstart = true\n\
             [map.quay.a]\nvalue = \"plane\"\nbind.desk = [{binding}]\n{more}\n"
        ));
        let length = |pressed: &[&str]| {
            let mut hands = Hands::new(&plan);
            pressed.iter().for_each(|key| hands.press(0.1, key, true));
            hands.value(0.2).magnitude()
        };
        let alone = keys.iter().map(|key| length(&[key])).fold(0.0, f64::max);
        let pairs = [(0, 1), (0, 3), (2, 1), (2, 3)];
        let both = pairs.iter().map(|&(a, b)| length(&[keys[a], keys[b]])).fold(0.0, f64::max);
        // Directions that are as fast as each other, and a diagonal that is faster; or one over 1.
        let even = keys.iter().all(|key| (length(&[key]) - alone).abs() < 1e-6);
        let faster = (alone <= 1.0 + 1e-6 && both > 1.0 + 1e-6) || (even && both > alone + 1e-6);
        assert_eq!(tells(&model, "fast-diagonal"), faster, "{binding} {more}: {alone} {both}");
    }
}

#[test]
fn two_maps_share_a_key_just_when_both_actions_can_fire_at_once() {
    let kinds = ["solo", "layer", "always"];
    for (kind_a, kind_b) in kinds.iter().flat_map(|a| kinds.iter().map(move |b| (*a, *b))) {
        for claims in 0..4_u8 {
            for rank in ["", "rank = 30\n"] {
                let claim = |bit: u8| claims & (1 << bit) != 0;
                let (model, plan) = profile(&format!(
                    "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.base]\nstart = true\n\
                     [map.a]\nkind = \"{kind_a}\"\n{rank}[map.a.one]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nclaim = {}\n\
                     [map.b]\nkind = \"{kind_b}\"\n[map.b.two]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nclaim = {}\n",
                    claim(0),
                    claim(1)
                ));
                let [a, b] = ["a", "b"].map(|name| plan.find_map(name).unwrap());
                let mut both_fire = false;
                for (first, second) in [(a, b), (b, a)] {
                    let mut hands = Hands::new(&plan);
                    hands.open(0.1, first);
                    hands.open(0.2, second);
                    hands.press(0.5, "key.KeyA", true);
                    hands.until(0.7);
                    both_fire |= hands.fires.len() == 2;
                }
                let says = tells(&model, "double-fire");
                assert_eq!(says, both_fire, "{kind_a} {rank:?} over {kind_b}, claims {claims:02b}");
            }
        }
    }
}
