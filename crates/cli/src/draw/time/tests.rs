//! Pictures in time hold what they should, and no text lies on another.

use super::super::glyphs::{self, Weight};
use super::*;
use harmonym_lab::score;
use harmonym_lang::source::Source;
use harmonym_runtime::base::Rate;
use std::fmt::Write as _;
use std::sync::Arc;

const DEMO: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/harmonym.toml"));

fn load(text: &str) -> Arc<Plan> {
    let loaded = harmonym_lang::load(&Source::new("t", text));
    Arc::new(loaded.unwrap_or_else(|faults| panic!("{faults:#?}")).1)
}

fn run(plan: &Arc<Plan>, text: &str) -> Lanes {
    let score = score::read(&Source::new("s", text), plan);
    let score = score.unwrap_or_else(|faults| panic!("{faults}"));
    let playing = score.playing(Rate::DEFAULT);
    Lanes::of_inputs(plan, playing, score.perform())
}

fn svg(runs: &[(&Arc<Plan>, &Lanes)]) -> String {
    let runs: Vec<Shown<'_>> = runs.iter().map(|(plan, lanes)| Shown { lanes, plan }).collect();
    let to = runs.iter().map(|run| run.lanes.end).max().unwrap_or_default();
    let names = ["before", "after"];
    let (from, title) = (Time::ZERO, "A picture");
    Picture { title, runs: &runs, names, from, to, only: None, seat: None }.svg()
}

/// A text and the box that it fills: left, top, right, bottom.
type Written = (String, [f64; 4]);

/// What stands between two words of a line.
fn between<'l>(line: &'l str, start: &str, end: &str) -> &'l str {
    let rest = line.split(start).nth(1).expect(start);
    rest.split(end).next().expect(end)
}

/// Every text of a picture.
fn texts(svg: &str) -> Vec<Written> {
    let lines = svg.lines().filter(|line| line.starts_with("<g ") && line.contains("<use"));
    let text = |line: &str| {
        let label = between(line, "aria-label=\"", "\"").replace("&amp;", "&");
        let place: Vec<f64> = between(line, "translate(", ")")
            .split(' ')
            .map(|number| number.parse().expect("a number"))
            .collect();
        let scale: f64 = between(line, "scale(", ")").parse().expect("a number");
        let first: f64 = between(line, "\" x=\"", "\"").parse().expect("a number");
        let bold = line.contains("#b");
        let weight = if bold { Weight::Bold } else { Weight::Regular };
        let size = scale * 1000.0;
        let left = place[0] + first * scale;
        let width = glyphs::width(&label, weight) * size;
        // A little less than a line's height: letters have room of their own.
        let half = size * 0.38;
        (label, [left, place[1] - half, left + width, place[1] + half])
    };
    lines.map(text).collect()
}

/// Texts that lie on each other, or outside of the picture.
fn collisions(svg: &str) -> Vec<String> {
    let all = texts(svg);
    let mut found = Vec::new();
    for (place, (a, [left, top, right, bottom])) in all.iter().enumerate() {
        if *left < 0.0 || *right > WIDTH + 1.0 || *top < 0.0 {
            found.push(format!("{a} at {left} is cut off"));
        }
        for (b, other) in &all[place + 1..] {
            let apart =
                right <= &other[0] || &other[2] <= left || bottom <= &other[1] || &other[3] <= top;
            if !apart {
                found.push(format!("{a} and {b} at {left} {top}"));
            }
        }
    }
    found
}

/// So many actions with names of so many letters, and hands that press them.
fn many(count: usize, letters: usize) -> (String, String) {
    let keys = ["KeyA", "KeyB", "KeyC", "KeyD", "KeyE", "KeyF", "KeyG", "KeyH"];
    let rules = ["press", "hold 0.4s", "tap 0.2s", "repeat 0.2s", "taps 2 gap=0.3s"];
    let mut profile = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n\
                       scheme.pad.devices = [\"pad\"]\n"
        .to_owned();
    let long = |name: &str| match letters.checked_sub(name.len() + 1) {
        Some(more @ 1..) => format!("{name}-{}", "x".repeat(more)),
        _ => name.to_owned(),
    };
    let map = long("quay");
    let _ = writeln!(profile, "[map.{map}]\nstart = true");
    for i in 0..count {
        let name = long(&format!("act-{i:02}"));
        let _ = match i % 5 {
            0 => writeln!(
                profile,
                "[map.{map}.{name}]\nvalue = \"plane\"\nbind.pad = \"pad.left-stick\""
            ),
            _ => writeln!(
                profile,
                "[map.{map}.{name}]\nvalue = \"switch\"\nbind.desk = \"key.{}\"\nfire = \"{}\"",
                keys[i % keys.len()],
                rules[i % rules.len()]
            ),
        };
    }
    let mut hands = "title \"Many\"\n".to_owned();
    let mut seed = 7_u64;
    let mut t = 0.1;
    for _ in 0..80 {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        let key = keys[(seed >> 40) as usize % keys.len()];
        let long = [0.05, 0.15, 0.6][(seed >> 50) as usize % 3];
        let _ = writeln!(hands, "at {t:.3}s press key.{key} for {long}s");
        t += 0.02 + (seed >> 58) as f64 / 64.0 * 0.4;
    }
    hands.push_str("at 1s push pad.left-stick to (0.6, 0.8) over 1s\n");
    hands.push_str("at 4s release pad.left-stick over 0.5s\n");
    (profile, hands)
}

#[test]
fn no_text_lies_on_another_with_five_actions_and_with_forty() {
    for (count, letters) in [(1, 4), (5, 8), (5, 48), (14, 20), (40, 12), (40, 48), (80, 30)] {
        let (profile, hands) = many(count, letters);
        let plan = load(&profile);
        let lanes = run(&plan, &hands);
        let svg = svg(&[(&plan, &lanes)]);
        assert_eq!(collisions(&svg), Vec::<String>::new(), "{count} actions, {letters} letters");
        assert!(texts(&svg).len() > count.min(20), "there are texts");
    }
}

#[test]
fn no_text_lies_on_another_on_the_demo() {
    let plan = load(DEMO);
    for (name, text) in crate::commands::SCORES {
        let lanes = run(&plan, text);
        assert_eq!(collisions(&svg(&[(&plan, &lanes)])), Vec::<String>::new(), "{name}");
    }
}

#[test]
fn two_runs_over_each_other_keep_their_texts_apart() {
    let (ours, theirs) = (load(DEMO), load(&DEMO.replace("hold 0.8s", "hold 0.7s")));
    for (name, text) in crate::commands::SCORES {
        let (a, b) = (run(&ours, text), run(&theirs, &text.replace("hold 0.8s", "hold 0.7s")));
        let svg = svg(&[(&ours, &a), (&theirs, &b)]);
        assert_eq!(collisions(&svg), Vec::<String>::new(), "{name}");
        let labels: Vec<String> = texts(&svg).into_iter().map(|(label, _)| label).collect();
        assert!(labels.iter().any(|label| label == "after"), "{name}");
    }
}

#[test]
fn rows_fill_the_picture_where_they_are_few_and_grow_it_where_they_are_many() {
    let height = |count: usize| {
        let (profile, hands) = many(count, 8);
        let plan = load(&profile);
        let lanes = run(&plan, &hands);
        let svg = svg(&[(&plan, &lanes)]);
        between(&svg, "height=\"", "\"").parse::<f64>().expect("a height")
    };
    let (few, some, lots) = (height(1), height(10), height(60));
    assert!(few <= HEIGHT + 1.0 && some <= 1.6 * HEIGHT && lots > some, "{few} {some} {lots}");
}

#[test]
fn the_ends_of_scales_are_short() {
    for (value, text) in
        [(1.0, "1"), (0.96, "0.96"), (-0.5, "−0.5"), (0.004, "0"), (-0.001, "0"), (120.0, "120")]
    {
        assert_eq!(scale_text(value), text);
    }
}
