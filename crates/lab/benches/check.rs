//! How long the checker takes, as a ratio to reading and compiling the same profile.

mod profiles;

use harmonym_lab::check::check;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::collections::BTreeSet;
use std::fmt::Write;
use std::hint::black_box;
use std::time::{Duration, Instant};

/// The shortest of a few rounds.
fn time(mut work: impl FnMut()) -> Duration {
    let mut round = || {
        let start = Instant::now();
        work();
        start.elapsed()
    };
    (0..5).map(|_| round()).min().unwrap_or_default()
}

/// So many actions over twenty maps, of which few in a map share a key.
fn apart(count: usize) -> String {
    let mut text = profiles::HEAD.to_owned();
    let rules = ["press", "hold 0.5s", "tap 0.25s", "charge 0.3s or taps 2 gap=0.3s"];
    for index in 0..count {
        let (map, rule) = (index % 20, rules[index % rules.len()]);
        let key = format!(
            "key.F{} + key.{}",
            1 + index / 20 % 24,
            profiles::KEYS[index / 480 % profiles::KEYS.len()]
        );
        let _ = writeln!(
            text,
            "[map.deck-{map}.act-{index}]\nvalue = \"switch\"\nabout = \"One of many\"\n\
             bind.desk = \"{key}\"\nfire = \"{rule}\""
        );
    }
    text
}

fn main() {
    for (name, text) in
        [("few keys for all", profiles::many(5_000)), ("keys of their own", apart(5_000))]
    {
        let source = Source::new("bench", text);
        let loading = time(|| {
            black_box(load(&source).expect("sound"));
        });
        let (profile, _) = load(&source).expect("sound");
        let mut found = 0;
        let checking = time(|| found = black_box(check(&profile, &BTreeSet::new())).len());
        println!(
            "5000 actions over 20 maps, {name}: checking takes {:.2} times reading, resolving and \
             compiling ({found} remarks)",
            checking.as_secs_f64() / loading.as_secs_f64()
        );
    }
}
