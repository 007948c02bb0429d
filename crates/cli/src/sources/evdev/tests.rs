//! Recorded streams of devices, through the decoding of real ones: a description, then an event a line as seconds,
//! microseconds, type, code and value.

use super::Stamps;
use super::decode::{Decoder, Description, Event};
use harmonym_runtime::base::{Class, Id, Time};
use harmonym_runtime::controls::Catalogue;
use std::time::{Duration, SystemTime};

/// A stream by its name, with what its device reports.
macro_rules! stream {
    ($name:literal) => {
        (
            $name,
            include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/streams/", $name, ".jsonl")),
            include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/streams/", $name, ".txt")),
        )
    };
}

fn reports(stream: &str) -> String {
    let mut lines = stream.lines();
    let about = serde_json::from_str(lines.next().expect("a description")).expect("a description");
    let mut decoder = Decoder::new(&about);
    let mut out = String::new();
    for line in lines {
        let (seconds, micros, kind, code, value): (u64, u32, u16, u16, i32) =
            serde_json::from_str(line).expect("an event");
        decoder.take(Event { kind, code, value }, &mut |class, control, value| {
            let spec = &Catalogue::built_in().reported()[control.index()];
            assert_eq!(spec.class, class);
            let components = spec.kind.yields().components();
            let numbers: Vec<String> = value.components()[..components]
                .iter()
                .map(|v| format!("{}", (v * 1e3).round() / 1e3 + 0.0))
                .collect();
            out.push_str(&format!("{seconds}.{micros:06} {} {}\n", spec.name, numbers.join(",")));
        });
    }
    out
}

#[test]
fn each_stream_gives_its_reports() {
    for (name, stream, wanted) in
        [stream!("pad"), stream!("older-pad"), stream!("swapped-pad"), stream!("desk")]
    {
        assert_eq!(reports(stream), wanted, "{name}");
    }
}

fn classes(about: &Description) -> Vec<Class> {
    Decoder::new(about).classes().to_vec()
}

#[test]
fn a_device_is_what_it_can_tell() {
    let keys =
        |keys: std::ops::Range<u16>| Description { keys: keys.collect(), ..Description::default() };
    assert_eq!(classes(&keys(2..9)), [], "seven keys are no keyboard");
    assert_eq!(classes(&keys(2..10)), [Class::Key]);
    let mouse = Description { relative: vec![0, 1], ..keys(272..273) };
    assert_eq!(classes(&mouse), [Class::Mouse]);
    assert_eq!(classes(&Description { relative: vec![0], ..mouse.clone() }), []);
    assert_eq!(classes(&Description { keys: vec![273], ..mouse }), []);
    // A joystick's buttons have numbers and no places.
    let stick = Description {
        name: "a joystick".to_owned(),
        absolute: [(0, (0, 1023)), (1, (0, 1023))].into(),
        ..keys(288..292)
    };
    let decoder = Decoder::new(&stick);
    assert_eq!(decoder.classes(), [Class::Pad]);
    assert!(decoder.left_out.as_deref().is_some_and(|words| words.contains("4 buttons are not")));
}

#[test]
fn every_key_with_a_linux_code_is_read() {
    let about = Description { keys: (1..0x2ff).collect(), ..Description::default() };
    let mut decoder = Decoder::new(&about);
    let mut heard = Vec::new();
    for code in 1..0x2ff {
        for event in [Event { kind: 1, code, value: 1 }, Event { kind: 0, code: 0, value: 0 }] {
            decoder.take(event, &mut |_, control, _| heard.push(control));
        }
    }
    heard.sort();
    heard.dedup();
    let all = Catalogue::built_in().reported().iter();
    let missing: Vec<&str> = all
        .enumerate()
        .filter(|(id, one)| one.class == Class::Key && !heard.contains(&Id::new(*id)))
        .map(|(_, one)| &*one.name)
        .collect();
    // The kernel has no codes for these.
    let none = [
        "NumpadBackspace",
        "NumpadClear",
        "NumpadClearEntry",
        "NumpadHash",
        "NumpadStar",
        "NumpadMemoryAdd",
        "NumpadMemoryClear",
        "NumpadMemoryRecall",
        "NumpadMemoryStore",
        "NumpadMemorySubtract",
        "FnLock",
        "Hyper",
        "Super",
        "Turbo",
        "Abort",
        "Resume",
        // Of the keys of those names the kernel tells as `Lang4` and `Lang3`.
        "Hiragana",
        "Katakana",
    ];
    assert_eq!(missing, none.map(|name| format!("key.{name}")));
}

#[test]
fn axes_reach_both_ends_and_their_middle() {
    let range = |least, most| Description {
        keys: vec![304],
        absolute: [(0, (least, most))].into(),
        ..Description::default()
    };
    for (least, most, value, wanted) in [
        (0, 255, 0, -1.0),
        (0, 255, 255, 1.0),
        (0, 1023, 512, 1.0 / 1023.0),
        (-32768, 32767, 0, 0.0),
        (-32768, 32767, -32768, -1.0),
        (-32768, 32767, 32767, 1.0),
        (-128, 127, 127, 1.0),
        (10, 10, 10, -1.0),
        (i32::MIN, i32::MAX, i32::MIN, -1.0),
    ] {
        let mut decoder = Decoder::new(&range(least, most));
        let mut got = None;
        for event in [Event { kind: 3, code: 0, value }, Event { kind: 0, code: 0, value: 0 }] {
            decoder.take(event, &mut |_, _, value| got = Some(value.x));
        }
        let got = got.expect("a report");
        assert!((got - wanted).abs() < 1e-9, "{least}..{most}: {value} gives {got}");
    }
}

#[test]
fn reports_keep_their_distance_and_a_clock_that_was_set_is_noticed() {
    let mut stamps = Stamps::default();
    let stamp =
        |micros: u64| SystemTime::UNIX_EPOCH + Duration::from_micros(1_000_000_000 + micros);
    let ms = Time::from_millis;
    let micros = |n: u64| Time::from_nanos(n * 1000);
    // The first is read 3 ms after it happened; from there on each keeps its distance to the microsecond.
    assert_eq!(stamps.time(stamp(0), ms(103)), (ms(103), false));
    assert_eq!(stamps.time(stamp(1_001), ms(110)), (ms(103) + micros(1_001), false));
    assert_eq!(stamps.time(stamp(1_002), ms(110)), (ms(103) + micros(1_002), false));
    // A stamp before the first, and one a second off, and one more than that.
    assert_eq!(stamps.time(stamp(0), ms(1_103)), (ms(103), false));
    assert_eq!(stamps.time(stamp(0), ms(1_104)), (ms(1_104), true));
    assert_eq!(stamps.time(stamp(500), ms(1_104)), (ms(1_104) + micros(500), false));
    let before = SystemTime::UNIX_EPOCH;
    assert_eq!(stamps.time(before, ms(1_200)), (ms(1_200), true));
}
