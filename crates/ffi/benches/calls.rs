//! The same calls through the C interface and in Rust, and a pack against its profile; all in one run, told as ratios.
//! `cargo bench -p harmonym-ffi`
//!
//! C calls go through pointers that the optimiser does not see through, as through a shared library.

use harmonym::hands::*;
use harmonym::profiles::hny_game_read;
use harmonym::status::*;
use harmonym::types::*;
use harmonym_lang::{Game, load, source::Source};
use harmonym_runtime::base::Id;
use harmonym_runtime::{ActionId, Contact, ControlId, EventReader, Hands, Time, Vector, pack};
use std::hint::black_box;
use std::sync::Arc;
use std::time::{Duration, Instant};

const DEMO: &str = include_str!("../../../demo/harmonym.toml");
const ROUNDS: usize = 15;
const CALLS: u64 = 200_000;

type Report = unsafe extern "C" fn(u64, u64, u32, u32, *const hny_vector) -> hny_status;
type Tick = extern "C" fn(u64, u64) -> hny_status;
type Value = unsafe extern "C" fn(u64, u32, u32, *mut hny_vector) -> hny_status;
type ReadAll = unsafe extern "C" fn(u64, u32, *mut hny_reading, usize, *mut usize) -> hny_status;

/// The shortest of some rounds of each of two, in turns.
fn both(mut one: impl FnMut(), mut other: impl FnMut()) -> (Duration, Duration) {
    let time = |work: &mut dyn FnMut()| {
        let begin = Instant::now();
        work();
        begin.elapsed()
    };
    let rounds = (0..ROUNDS).map(|_| (time(&mut one), time(&mut other)));
    rounds.fold((Duration::MAX, Duration::MAX), |(a, b), (c, d)| (a.min(c), b.min(d)))
}

fn tell(what: &str, (c, rust): (Duration, Duration), calls: u64) {
    let nanos = |time: Duration| time.as_nanos() as f64 / calls as f64;
    let ratio = c.as_secs_f64() / rust.as_secs_f64();
    println!("{what}: {ratio:.2} times Rust ({:.1} ns and {:.1} ns)", nanos(c), nanos(rust));
}

/// A stick's value at a step: always another one.
fn circle(step: u64) -> Vector {
    let angle = step as f64 / 300.0;
    Vector::new(angle.cos(), angle.sin())
}

struct Bench {
    rust: Hands,
    c: hny_hands,
    walk: ActionId,
    stick: ControlId,
    key: ControlId,
    at: u64,
}

impl Bench {
    fn new() -> Self {
        let game = Game::parse("harmonym.toml", DEMO).expect("the demo");
        let (mut own, mut c) = (0, 0);
        let text = DEMO.as_bytes();
        // SAFETY: all pointers lead to what the calls say.
        unsafe {
            let read = hny_game_read(c"p".as_ptr(), text.as_ptr().cast(), text.len(), &mut own);
            assert_eq!((read, hny_hands_start(own, 1, &mut c)), (HNY_OK, HNY_OK));
        }
        Self {
            rust: game.hands(1),
            c,
            walk: game.action("quay.walk").expect("an action"),
            stick: game.control("pad.left-stick").expect("a stick"),
            key: game.control("key.KeyH").expect("a key"),
            at: 0,
        }
    }

    /// Reports of one control, a tick at every sixteenth.
    fn reports(
        &mut self,
        control: ControlId,
        value: impl Fn(u64) -> Vector,
    ) -> (Duration, Duration) {
        let Self { rust, c, at, .. } = self;
        let (first, contact) = (*at, Contact::first(control));
        *at += ROUNDS as u64 * CALLS * 1000;
        let (report, tick) = (black_box(hny_report as Report), black_box(hny_tick as Tick));
        let number = control.index() as u32;
        let (mut own, mut other) = (first, first);
        both(
            || {
                for step in 0..CALLS {
                    own += 1000;
                    let value: hny_vector = value(step).into();
                    // SAFETY: the value is one.
                    black_box(unsafe { report(*c, own, number, 0, &value) });
                    if step % 16 == 0 {
                        black_box(tick(*c, own));
                    }
                }
            },
            || {
                for step in 0..CALLS {
                    other += 1000;
                    let at = Time::from_nanos(other);
                    let _ = black_box(rust.report(at, contact, value(step)));
                    if step % 16 == 0 {
                        rust.tick(at);
                    }
                }
            },
        )
    }

    fn ticks(&mut self) -> (Duration, Duration) {
        let Self { rust, c, at, .. } = self;
        let tick = black_box(hny_tick as Tick);
        let (mut own, mut other) = (*at, *at);
        *at += ROUNDS as u64 * CALLS * 1000;
        both(
            || {
                for _ in 0..CALLS {
                    own += 1000;
                    black_box(tick(*c, own));
                }
            },
            || {
                for _ in 0..CALLS {
                    other += 1000;
                    rust.tick(black_box(Time::from_nanos(other)));
                }
            },
        )
    }

    fn values(&mut self) -> (Duration, Duration) {
        let Self { rust, c, walk, .. } = self;
        let read = black_box(hny_value as Value);
        let mut value = hny_vector::default();
        both(
            || {
                for _ in 0..CALLS {
                    // SAFETY: the value is one.
                    black_box(unsafe { read(*c, 1, 0, &mut value) });
                }
            },
            || {
                for _ in 0..CALLS {
                    black_box(rust.seat(black_box(1)).value(black_box(*walk)));
                }
            },
        )
    }

    /// All actions, in one call.
    fn readings(&mut self) -> (Duration, Duration) {
        let Self { rust, c, .. } = self;
        let read = black_box(hny_read_all as ReadAll);
        let mut readings: Vec<hny_reading> = Vec::with_capacity(64);
        let (mut count, plan) = (0, Arc::clone(rust.plan()));
        both(
            || {
                for _ in 0..CALLS / 100 {
                    // SAFETY: readings are only written, as many as there is room for.
                    black_box(unsafe { read(*c, 1, readings.as_mut_ptr(), 64, &mut count) });
                }
            },
            || {
                for _ in 0..CALLS / 100 {
                    let frame = rust.seat(black_box(1));
                    for id in plan.by_file() {
                        black_box(frame.read(black_box(*id)));
                    }
                }
            },
        )
    }

    /// A tick, what came of it, and its events: the frame of a game.
    fn frames(&mut self) -> (Duration, Duration) {
        let Self { rust, c, at, stick, .. } = self;
        let plan = Arc::clone(rust.plan());
        let reports: Vec<_> = (0..16).map(|step| circle(step * 40)).collect();
        let contact = Contact::first(*stick);
        let many: Vec<hny_reported> = reports
            .iter()
            .map(|value| hny_reported {
                at: 0,
                control: stick.index() as u32,
                device: 0,
                value: (*value).into(),
            })
            .collect();
        let (mut reader, mut mine) = (hny_reader::default(), EventReader::default());
        let mut told: Vec<hny_told> = Vec::with_capacity(64);
        let (mut own, mut other, frames) = (*at, *at, CALLS / 100);
        let mut readings: Vec<hny_reading> = Vec::with_capacity(64);
        let mut count = 0;
        both(
            || {
                for _ in 0..frames {
                    own += 16_000;
                    // SAFETY: all pointers lead to what the calls say.
                    unsafe {
                        black_box(hny_report_all(*c, many.as_ptr(), many.len(), &mut count));
                        black_box(hny_tick(*c, own));
                        black_box(hny_read_all(*c, 1, readings.as_mut_ptr(), 64, &mut count));
                        black_box(hny_events(*c, &mut reader, told.as_mut_ptr(), 64, &mut count));
                    }
                }
            },
            || {
                for _ in 0..frames {
                    other += 16_000;
                    for value in &reports {
                        let _ = black_box(rust.report(Time::ZERO, contact, *value));
                    }
                    rust.tick(Time::from_nanos(other));
                    let frame = rust.seat(1);
                    for action in plan.by_file() {
                        black_box(frame.read(*action));
                    }
                    rust.events(&mut mine).for_each(|one| {
                        black_box(one);
                    });
                }
            },
        )
    }
}

/// A profile of so many actions.
fn large(actions: usize) -> String {
    let mut text = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\nscheme.pad.devices = [\"pad\"]\n".to_owned();
    for index in 0..actions {
        let (map, letter) = (index / 100, (b'A' + (index % 26) as u8) as char);
        if index % 100 == 0 {
            text.push_str(&format!("[map.m{map}]\nabout = \"The place of number {map}\"\n"));
        }
        text.push_str(&format!(
            "[map.m{map}.a{index}]\nvalue = \"axis\"\nabout = \"What is done there\"\n\
             bind.desk = \"pair(key.Key{letter}, key.ArrowUp) | scale 0.5\"\n\
             bind.pad = \"pad.left-stick.x | deadzone 0.1 full=0.95 | curve 1.5\"\nfire = \"hold 0.3s\"\n"
        ));
    }
    text
}

fn main() {
    let mut bench = Bench::new();
    let (stick, key) = (bench.stick, bench.key);
    tell("reports of a stick", bench.reports(stick, circle), CALLS);
    let press = |step: u64| Vector::axis((step % 2) as f64);
    tell("reports of a key", bench.reports(key, press), CALLS);
    tell("ticks", bench.ticks(), CALLS);
    tell("one value", bench.values(), CALLS);
    tell("readings of all actions", bench.readings(), CALLS / 100);
    tell("frames with 16 reports", bench.frames(), CALLS / 100);
    // Once, as a game does when it starts, and again and again, when nothing waits for memory any more.
    for (what, text, times) in [
        ("the demo, once", DEMO.to_owned(), 1),
        ("the demo, again and again", DEMO.to_owned(), 100),
        ("5,000 actions", large(5000), 1),
    ] {
        let (_, plan) = load(&Source::new("p", &*text)).expect("a sound profile");
        let packed = pack::write(&plan);
        let (pack, profile) = both(
            || (0..times).for_each(|_| drop(black_box(pack::read(&packed)))),
            || (0..times).for_each(|_| drop(black_box(load(&Source::new("p", &*text))))),
        );
        let ratio = pack.as_secs_f64() / profile.as_secs_f64();
        let (own, other) = (packed.len() as f64 / 1e6, text.len() as f64 / 1e6);
        println!(
            "reading the pack of {what}: {ratio:.2} times the profile ({own:.2} and {other:.2} MB)"
        );
    }
}
