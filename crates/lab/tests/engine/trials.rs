//! Random profiles and hands, one case after the other; of a case that fails only the smallest form is
//! told.

use crate::gate::gate;
use crate::random::{self, Ticks};
use crate::shrink::smallest;
use harmonym_lab::take::Reader;
use harmonym_lang::source::Source;
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::{RngSeed, TestRunner};
use std::panic::{AssertUnwindSafe, catch_unwind};

/// Tries `check` on so many random profiles and hands, each at one of three rates.
pub fn trials(cases: u32, ticks: Ticks, check: impl Fn(&str, &str, u64) -> Result<(), String>) {
    trials_of(cases, &(random::profile(ticks), random::take()), check);
}

/// The same with profiles and hands of a kind; those that are unsound are left out. What `check` says
/// of a case that fails is made as small as it can be.
pub fn trials_of(
    cases: u32,
    hands: &impl Strategy<Value = (String, String)>,
    check: impl Fn(&str, &str, u64) -> Result<(), String>,
) {
    let config = gate(cases);
    let (cases, seed) = (config.cases, config.rng_seed);
    let mut runner = TestRunner::new(config);
    for case in 0..cases {
        let (profile, take) = hands.new_tree(&mut runner).expect("a case").current();
        let rate = [20, 60, 144][case as usize % 3];
        if !is_sound(&profile, &take) {
            continue;
        }
        if let Some(told) = fault(|| check(&profile, &take, rate)) {
            // What is no profile or no take any more fails in another way.
            let fails = |profile: &str, take: &str| {
                fault(|| check(profile, take, rate))
                    .is_some_and(|other| other.starts_with(PANIC) == told.starts_with(PANIC))
                    && is_sound(profile, take)
            };
            let (profile, take) = smallest(&profile, &take, fails);
            let told = fault(|| check(&profile, &take, rate)).unwrap_or(told);
            let RngSeed::Fixed(seed) = seed else { unreachable!("the gate has a seed") };
            panic!(
                "{told}\nat {rate} ticks a second:\n# harmonym.toml\n{profile}\n\
                 # take.jsonl\n{{\"take\":1}}\n{take}\n(case {case} of seed {seed})"
            );
        }
    }
}

const PANIC: &str = "a panic: ";

/// Whether these are a profile and lines of a take for it.
fn is_sound(profile: &str, take: &str) -> bool {
    let Ok((_, plan)) = harmonym_lang::load(&Source::new("p", profile)) else { return false };
    let Ok((mut reader, _)) = Reader::new("t", "{\"take\":1}", &plan) else { return false };
    take.lines().all(|line| reader.line(line).is_ok())
}

/// What is wrong, a panic included; quietly.
fn fault(check: impl Fn() -> Result<(), String>) -> Option<String> {
    let before = std::panic::take_hook();
    std::panic::set_hook(Box::new(|_| {}));
    let done = catch_unwind(AssertUnwindSafe(check));
    std::panic::set_hook(before);
    match done {
        Ok(done) => done.err(),
        Err(panic) => {
            let text = panic.downcast_ref::<String>().cloned();
            let text = text.or_else(|| panic.downcast_ref::<&str>().map(|&text| text.to_owned()));
            Some(format!("{PANIC}{}", text.unwrap_or_default()))
        }
    }
}
