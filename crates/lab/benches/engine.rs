//! The engine against the same twenty actions written by hand; its cost as a profile grows; and
//! how long compiling takes. All in one run, told as ratios.
//! `cargo bench -p harmonym-lab --bench engine`

mod by_hand;
mod general;
mod profiles;

use by_hand::ByHand;
use harmonym_lang::compile::compile;
use harmonym_lang::profile;
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Contact, ControlId, Rate, Time, Vector};
use harmonym_runtime::controls::{Catalogue, Layout};
use harmonym_runtime::engine::{Engine, EpisodeState, Notice, Start};
use harmonym_runtime::plan::Plan;
use std::hint::black_box;
use std::sync::Arc;
use std::time::{Duration, Instant};

/// A raw report.
#[derive(Clone)]
#[allow(missing_docs, reason = "as they say")]
pub struct Report {
    pub t: Time,
    pub control: ControlId,
    pub device: u8,
    pub value: Vector,
}

const ROUNDS: usize = 5;

/// How long something takes.
fn time(work: impl FnOnce()) -> Duration {
    let begin = Instant::now();
    work();
    begin.elapsed()
}

/// How long the hands take through an engine; that it starts anew is no part of it.
fn played(engine: &mut Engine, reports: &[Report], read: Read) -> Duration {
    engine.restart(Start::default(), &mut |_| {});
    time(|| {
        black_box(play(engine, reports, read));
    })
}

/// The same of the code by hand.
fn played_by_hand(reports: &[Report]) -> Duration {
    time(|| {
        black_box(play_by_hand(reports));
    })
}

/// The shortest of a few rounds of each, in turns: a machine that is busy for a while slows all of them.
fn shortest<const N: usize>(mut rounds: [&mut dyn FnMut() -> Duration; N]) -> [Duration; N] {
    let mut least = [Duration::MAX; N];
    for _ in 0..ROUNDS {
        for (least, round) in least.iter_mut().zip(&mut rounds) {
            *least = round().min(*least);
        }
    }
    least
}

/// A thousand reports a second: sticks that circle, a trigger, and keys that go down and up.
fn hands(seconds: u64) -> Vec<Report> {
    let catalogue = Catalogue::built_in();
    let id = |name: &str| catalogue.reported_id(name).expect("a control");
    let keys: Vec<ControlId> =
        profiles::KEYS.iter().map(|name| id(&format!("key.{name}"))).collect();
    let (left, right) = (id("pad.left-stick"), id("pad.right-stick"));
    let (trigger, south) = (id("pad.right-trigger"), id("pad.south"));
    let mut down = vec![false; keys.len()];
    let mut seed = 1_u64;
    let reports = (0..seconds * 1000).map(|i| {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        let angle = i as f64 / 700.0;
        let round = |v: f64| (v * 1000.0).round() / 1000.0;
        let circle = Vector::new(round(angle.cos()), round(angle.sin()));
        let (control, value) = match i % 10 {
            0 | 5 => {
                let key = (seed >> 33) as usize % keys.len();
                down[key] = !down[key];
                (keys[key], Vector::axis(f64::from(u8::from(down[key]))))
            }
            1 => (trigger, Vector::axis(round(angle.sin().abs()))),
            2 => (south, Vector::axis(f64::from(u8::from(i / 10 % 40 < 7)))),
            3 | 6 | 8 => (right, circle),
            _ => (left, circle),
        };
        Report { t: Time::from_nanos(i * 1_000_000), control, device: 0, value }
    });
    reports.collect()
}

/// What is read at each tick.
#[derive(Clone, Copy, PartialEq)]
enum Read {
    /// Of every action its value, its fires and its state.
    All,
    /// The values that changed.
    Changed,
    Nothing,
}

/// Plays reports at 60 ticks a second on an engine that has just started.
fn play(engine: &mut Engine, reports: &[Report], read: Read) -> u64 {
    let mut fires = 0;
    let mut tell = |notice: Notice| {
        black_box(&notice);
    };
    let (mut tick, mut at) = (1, Rate::DEFAULT.tick(1));
    for report in reports {
        while at < report.t {
            let frame = engine.tick(at, &mut tell);
            tick += 1;
            at = Rate::DEFAULT.tick(tick);
            match read {
                Read::All => {
                    for action in frame.plan().actions().ids() {
                        black_box(frame.value(action));
                        let is_live = frame.state(action) == EpisodeState::Live;
                        fires += u64::from(frame.fired(action)) + u64::from(is_live);
                    }
                }
                Read::Changed => {
                    for action in frame.changed() {
                        black_box(frame.value(action));
                    }
                }
                Read::Nothing => {}
            }
        }
        let contact = Contact { control: report.control, device: report.device };
        engine.report(report.t, contact, report.value, &mut tell).expect("taken in");
    }
    fires
}

fn twenty() -> Engine {
    begun(plan(&profiles::twenty()))
}

fn begun(plan: Arc<Plan>) -> Engine {
    Engine::start(plan, Start::default(), &mut |_| {})
}

fn play_by_hand(reports: &[Report]) -> u64 {
    let mut game = ByHand::new();
    let mut fires = 0;
    let (mut tick, mut at) = (1, Rate::DEFAULT.tick(1));
    for report in reports {
        while at < report.t {
            fires += black_box(game.tick(at));
            tick += 1;
            at = Rate::DEFAULT.tick(tick);
        }
        game.report(report);
    }
    fires
}

fn plan(text: &str) -> Arc<Plan> {
    let source = Source::new("bench", text);
    Arc::new(harmonym_lang::load(&source).map_err(|all| format!("{all:?}")).expect("sound").1)
}

fn ratio(a: Duration, b: Duration) -> f64 {
    a.as_secs_f64() / b.as_secs_f64()
}

fn against_hand_written_code(seconds: u64) {
    let reports = hands(seconds);
    let (mut a, mut b, mut c) = (twenty(), twenty(), twenty());
    let [by_hand, all, changed, nothing] = shortest([
        &mut || played_by_hand(&reports),
        &mut || played(&mut a, &reports, Read::All),
        &mut || played(&mut b, &reports, Read::Changed),
        &mut || played(&mut c, &reports, Read::Nothing),
    ]);
    println!(
        "{} reports, twenty actions, to hand-written code: {:.2} times with the reading of every \
         action at every tick, {:.2} reading what changed, {:.2} reading nothing",
        reports.len(),
        ratio(all, by_hand),
        ratio(changed, by_hand),
        ratio(nothing, by_hand)
    );
}

/// Hands on two pads: every fourth report of the right stick comes from the second.
fn with_second_pad(reports: Vec<Report>) -> Vec<Report> {
    let right = Catalogue::built_in().reported_id("pad.right-stick").expect("a control");
    let mut nth = 0;
    let moved = reports.into_iter().map(|report| {
        nth += u32::from(report.control == right);
        let device = u8::from(report.control == right && nth.is_multiple_of(4));
        Report { device, ..report }
    });
    moved.collect()
}

fn against_a_general_profile(seconds: u64) {
    let reports = with_second_pad(hands(seconds));
    let mut engine = begun(plan(&general::profile()));
    let [by_hand, own] = shortest([&mut || played_by_hand(&reports), &mut || {
        played(&mut engine, &reports, Read::Changed)
    }]);
    println!(
        "guards, claims, controls held together, waiting for others, ease, two pads: {:.2} times the \
         twenty plain actions by hand",
        ratio(own, by_hand)
    );
}

fn scale() {
    let reports = hands(120);
    let mut engines = [20, 200, 2_000, 20_000].map(|count| begun(plan(&profiles::many(count))));
    let [a, b, c, d] = &mut engines;
    let least = shortest([
        &mut || played(a, &reports, Read::Nothing),
        &mut || played(b, &reports, Read::Nothing),
        &mut || played(c, &reports, Read::Nothing),
        &mut || played(d, &reports, Read::Nothing),
    ]);
    for (count, own) in [200, 2_000, 20_000].into_iter().zip(&least[1..]) {
        println!(
            "{count} actions: {:.2} times the time an event takes with 20",
            ratio(*own, least[0])
        );
    }
}

fn compiling() {
    let text = profiles::many(5_000);
    let source = || Source::new("bench", text.as_str());
    let (model, _) = harmonym_lang::load(&source()).expect("sound");
    let [parsed, whole, read, compiled] = shortest([
        &mut || time(|| drop(black_box(text.parse::<toml_edit::DocumentMut>().expect("TOML")))),
        &mut || time(|| drop(black_box(plan(&text)))),
        &mut || time(|| drop(black_box(profile::read(&source(), &mut Diagnostics::new())))),
        &mut || time(|| drop(black_box(compile(&model, Layout::default())))),
    ]);
    println!(
        "5000 actions, {} bytes: reading, resolving and compiling {:.2} times toml_edit's parse \
         (reading alone {:.2}, compiling alone {:.2})",
        text.len(),
        ratio(whole, parsed),
        ratio(read, parsed),
        ratio(compiled, parsed)
    );
}

/// Hands go once through one of the things that the benches compare, or are only made: for counting
/// instructions.
fn once(seconds: u64, what: &str) {
    let reports = hands(seconds);
    let general = with_second_pad(reports.clone());
    match what {
        "hands" => {}
        "by-hand" => {
            black_box(play_by_hand(&reports));
        }
        "all" => {
            black_box(play(&mut twenty(), &reports, Read::All));
        }
        "changed" => {
            black_box(play(&mut twenty(), &reports, Read::Changed));
        }
        "nothing" => {
            black_box(play(&mut twenty(), &reports, Read::Nothing));
        }
        "general" => {
            let mut engine = begun(plan(&general::profile()));
            black_box(play(&mut engine, &general, Read::Changed));
        }
        "text" => drop(black_box(profiles::many(5_000))),
        "toml" => drop(black_box(profiles::many(5_000).parse::<toml_edit::DocumentMut>())),
        "load" => drop(black_box(plan(&profiles::many(5_000)))),
        _ => eprintln!("one of: hands by-hand all changed nothing general text toml load"),
    }
}

fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    // With a number of seconds, only so many of hands, for a look at where the time goes.
    let seconds = args.first().and_then(|arg| arg.parse().ok());
    match (seconds, args.get(1)) {
        (Some(seconds), Some(what)) if what != "--bench" => once(seconds, what),
        (Some(seconds), _) => {
            against_hand_written_code(seconds);
            against_a_general_profile(seconds);
        }
        (None, _) => {
            against_hand_written_code(3600);
            against_a_general_profile(600);
            scale();
            compiling();
        }
    }
}
