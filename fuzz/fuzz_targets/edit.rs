//! Profiles and what commands do to them.
#![no_main]
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| harmonym_fuzz::edit(text));
