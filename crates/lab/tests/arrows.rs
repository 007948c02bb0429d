//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("assist", &["edit", "score", "lang", "runtime"]),
    ("edit", &["score", "take", "lang", "runtime"]),
    ("take", &["lang", "runtime"]),
    ("score", &["take", "lang", "runtime"]),
    ("check", &["edit", "score", "lang", "runtime"]),
    ("mend", &["check", "edit", "score", "take", "lang", "runtime"]),
    ("told", &["take", "runtime"]),
    ("trace", &["score", "take", "runtime"]),
    ("explain", &["take", "runtime"]),
    ("example", &["score", "take", "trace", "lang", "runtime"]),
    ("compare", &["trace", "runtime"]),
    ("survey", &["take", "runtime"]),
    ("live", &["explain", "take", "trace", "runtime"]),
    ("transcribe", &["score", "take", "lang", "runtime"]),
    ("prompt", &["lang", "runtime"]),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
