//! How properties are tried: the same cases in every run of the gate. `PROPTEST_RNG_SEED` and
//! `PROPTEST_CASES` say otherwise, as `.ci/long` does.

use proptest::test_runner::{Config, RngSeed};

/// So many cases, unless more are asked for; always the same, unless a seed is.
pub fn gate(cases: u32) -> Config {
    let config = Config::default();
    let is_asked = std::env::var_os("PROPTEST_CASES").is_some();
    Config {
        cases: if is_asked { config.cases } else { cases },
        rng_seed: match config.rng_seed {
            RngSeed::Random => RngSeed::Fixed(1),
            asked @ RngSeed::Fixed(_) => asked,
        },
        failure_persistence: None,
        max_global_rejects: 1_000_000,
        ..config
    }
}
