//! Packs: what is read back is what was packed, and nothing that stands in one can harm an engine.

#[allow(dead_code, reason = "shared with the tests of the engine")]
#[path = "engine/harness.rs"]
mod harness;
#[allow(dead_code, reason = "shared with the tests of the engine")]
#[path = "engine/random.rs"]
mod random;

use harmonym_lang::source::Source;
use harmonym_runtime::base::{Id, Table, Vector};
use harmonym_runtime::pack::{self, Torn};
use harmonym_runtime::{Contact, EventReader, Hands, Layout, Plan, Start, Time};
use proptest::prelude::*;
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

fn plan(text: &str, layout: Layout) -> Plan {
    let (profile, _) = harmonym_lang::load(&Source::new("p", text)).expect("a sound profile");
    harmonym_lang::compile::compile(&profile, layout)
}

fn demo() -> String {
    pack::write(&plan(DEMO, Layout::default()))
}

/// Every control at random, and the game's own calls; gives what is told.
fn play(plan: &Arc<Plan>, steps: u64) -> Vec<String> {
    let mut hands = Hands::start(Arc::clone(plan), plan.seats(), Start::default());
    let (mut reader, mut told, mut seed) = (EventReader::default(), Vec::new(), 11_u64);
    for step in 1..steps {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        let bits = seed >> 24;
        let at = Time::from_millis(step * 5);
        if let Some(input) =
            plan.inputs().as_slice().get(bits as usize % plan.inputs().len().max(1))
        {
            let part = |shift: u32| ((bits >> shift) % 5) as f64 / 2.0 - 1.0;
            let value = Vector { x: part(3), y: part(7), z: part(11), w: part(15) };
            hands.report(at, Contact::first(input.control), value).expect("a report");
        }
        if bits.is_multiple_of(3) {
            hands.tick(at);
        }
        if let (true, Some(map)) = (bits.is_multiple_of(17), any(plan.maps(), bits)) {
            let _ = hands.set_open(at, None, map, bits.is_multiple_of(2));
        }
        if let (true, Some(number)) = (bits.is_multiple_of(13), any(plan.variables(), bits)) {
            hands.set_number(at, None, number, (bits % 7) as f64).expect("a number");
        }
        told.extend(hands.events(&mut reader).map(|one| format!("{one:?}")));
    }
    hands.stop();
    told.extend(hands.events(&mut reader).map(|one| format!("{one:?}")));
    told
}

fn any<I: Id, T>(table: &Table<I, T>, bits: u64) -> Option<I> {
    (!table.is_empty()).then(|| I::new((bits >> 8) as usize % table.len()))
}

fn comes_back(text: &str, layout: Layout) -> Arc<Plan> {
    let plan = plan(text, layout);
    let packed = pack::write(&plan);
    let back = pack::read(&packed).unwrap_or_else(|torn| panic!("{torn}\n{text}"));
    assert_eq!(back, plan, "{text}");
    assert_eq!(pack::write(&back), packed);
    Arc::new(back)
}

#[test]
fn the_demo_comes_back_for_each_layout_and_plays_the_same() {
    for layout in Layout::all() {
        let back = comes_back(DEMO, layout);
        if layout == Layout::default() {
            let told = play(&Arc::new(plan(DEMO, layout)), 3000);
            assert!(told.len() > 500, "{}", told.len());
            assert_eq!(play(&back, 3000), told);
        }
    }
}

/// Devices of its own that stand in for others, labels, letters that JSON has to write otherwise.
const ODD: &str = r#"
harmonym = 1
seats = 8
[scheme.desk]
devices = ["key", "mouse"]
label = "Keys \"and\" \u001b mouse \\ \u2028"
[scheme.bench]
devices = ["bench", "pad"]
[device.bench]
controls = { pull = "lever", globe = "turn", at = "place" }
as = { pull = "pad.left-trigger" }
[setting.reach]
default = 0.1
range = [0.05, 0.30000000000000004]
[fact.wet]
[map.quay]
start = true
rank = -9
label = "Der Kai"
[map.quay.look]
value = "turn"
bind.bench = { from = "bench.globe | smooth 40ms", label = "Globe" }
[map.quay.hail]
value = "switch"
fire = "hold 100ms unless wet or press when wet"
bind.desk = ["char.z", "key.Shift + key.KeyH", "mouse.wheel.up"]
bind.bench = "bench.pull | scale 2 when wet | switch-at 0.3"
[map.quay.haul]
value = "axis"
bind.bench = "pad#3.left-trigger | scale reach"
[map.quay.both]
value = "switch"
fire = "sequence(haul, hail) within=1s"
"#;

#[test]
fn what_is_odd_comes_back() {
    comes_back(ODD, Layout::from_word("fr").expect("a layout"));
    comes_back("harmonym = 1\n", Layout::default());
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(300) })]

    #[test]
    fn random_profiles_come_back(text in random::profile(random::Ticks::With)) {
        comes_back(&text, Layout::default());
    }
}

/// The demo's pack with one line changed; gives how it is told.
fn told(line: usize, change: impl Fn(&str) -> String) -> Torn {
    let text = demo();
    let mut lines: Vec<String> = text.lines().map(str::to_owned).collect();
    lines[line] = change(&lines[line]);
    pack::read(&lines.join("\n")).expect_err("a torn pack")
}

#[test]
fn what_is_wrong_is_told_with_its_line() {
    let other = told(0, |head| head.replace("\"version\":1", "\"version\":2"));
    assert_eq!(
        other.to_string(),
        "line 1: a pack of version 2, and this reads 1: pack the profile again"
    );
    let cut = told(3, |line| line[..line.len() / 2].to_owned());
    assert_eq!(cut.line, 4);
    assert!(cut.message.starts_with("no line of a pack: EOF while parsing"), "{cut}");
    let foreign = told(2, |_| "{\"t\":0}".to_owned());
    assert_eq!(
        (foreign.line, foreign.message.contains("unknown variant `t`")),
        (3, true),
        "{foreign}"
    );
    let layout = told(0, |head| head.replace("\"us\"", "\"moon\""));
    assert!(layout.message.contains("`moon` is no keyboard layout"), "{layout}");
    let names = told(0, |head| head.replace("\"names\":\"", "\"names\":\"f"));
    assert!(names.message.contains("not those that were packed"), "{names}");
    let seats = told(0, |head| head.replace("\"seats\":2", "\"seats\":9"));
    assert!(seats.message.contains("more seats than eight"), "{seats}");
    for (text, message) in [
        ("", "line 1: the pack is cut: its last line is `end`"),
        ("{\"end\":{\"lines\":0,\"digest\":\"\"}}\n", "line 1: the first line is `pack`"),
        ("[]\n", "line 1: no line of a pack: expected value, at column 1"),
    ] {
        let torn = pack::read(text).expect_err("no pack");
        assert_eq!(torn.to_string(), message);
    }
}

#[test]
fn no_line_can_be_lost_moved_or_doubled_unnoticed() {
    let text = demo();
    let lines: Vec<&str> = text.lines().collect();
    let read = |lines: &[&str]| pack::read(&lines.join("\n"));
    for at in 0..lines.len() {
        let mut less = lines.clone();
        less.remove(at);
        assert!(read(&less).is_err(), "without {}", lines[at]);
        let mut more = lines.clone();
        more.insert(at, lines[at]);
        assert!(read(&more).is_err(), "twice {}", lines[at]);
        assert!(read(&lines[..at]).is_err(), "cut before {}", lines[at]);
    }
    assert!(read(&lines).is_ok());
}

/// A pack whose last line says of the others what they are now: the 64-bit FNV-1a hash.
fn with_digest(text: &str) -> String {
    let (lines, end) = text.trim_end().rsplit_once('\n').expect("more lines than one");
    let each = |hash: u64, byte| (hash ^ u64::from(byte)).wrapping_mul(0x0000_0100_0000_01b3);
    let hash = lines.bytes().chain([b'\n']).fold(0xcbf2_9ce4_8422_2325, each);
    let (count, _) = end.split_once(",\"digest\"").expect("a digest");
    format!("{lines}\n{count},\"digest\":\"{hash:016x}\"}}}}\n")
}

#[test]
fn whatever_is_changed_in_a_pack_it_is_refused() {
    let text = demo();
    assert_eq!(with_digest(&text), text);
    let mut seed = 5_u64;
    for _ in 0..2000 {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        let mut bytes = text.clone().into_bytes();
        let at = (seed >> 33) as usize % (bytes.len() - 1);
        let other = [b'0', b'1', b'9', b'a', b'z', b' ', b'"', b'-'][(seed >> 29) as usize % 8];
        if bytes[at] != other {
            bytes[at] = other;
            let changed = String::from_utf8(bytes).expect("a text");
            assert!(pack::read(&changed).is_err(), "{at} {other}");
        }
    }
}

#[test]
fn a_number_that_was_changed_is_refused_or_makes_a_plan_that_runs() {
    let text = demo();
    let numbers: Vec<(usize, usize)> = numbers(&text);
    let (mut seed, mut refused, mut ran) = (3_u64, 0, 0);
    let rounds = std::env::var("PACKS").ok().and_then(|text| text.parse().ok()).unwrap_or(1500);
    for round in 0..rounds {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        let (from, to) = numbers[(seed >> 33) as usize % numbers.len()];
        let other = ["0", "1", "3", "7", "63", "255", "4294967295", "0.5", "-1", "1e300"];
        let other = other[round % other.len()];
        let changed = format!("{}{other}{}", &text[..from], &text[to..]);
        assert!(pack::read(&changed).is_err() || changed == text);
        match pack::read(&with_digest(&changed)) {
            Ok(plan) => {
                play(&Arc::new(plan), 60);
                ran += 1;
            }
            Err(_) => refused += 1,
        }
    }
    assert!(refused > 300 && ran > 100, "{refused} {ran}");
}

/// Where the numbers of a text stand that are none of a name.
fn numbers(text: &str) -> Vec<(usize, usize)> {
    let bytes = text.as_bytes();
    let mut found = Vec::new();
    let mut at = 0;
    while at < bytes.len() {
        let begins = bytes[at].is_ascii_digit() && matches!(bytes[at - 1], b'[' | b',' | b':');
        let length = bytes[at..].iter().take_while(|b| b.is_ascii_digit() || **b == b'.').count();
        if begins {
            found.push((at, at + length));
        }
        at += length.max(1);
    }
    found
}
