//! Takes for the demo.
#![no_main]
use harmonym_runtime::plan::Plan;
use libfuzzer_sys::fuzz_target;
use std::sync::{Arc, LazyLock};

static DEMO: LazyLock<Arc<Plan>> = LazyLock::new(harmonym_fuzz::demo);

fuzz_target!(|text: &str| harmonym_fuzz::take(text, &DEMO));
