//! Packs.
#![no_main]
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| harmonym_fuzz::pack(text));
