//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("args", &["lang", "runtime"]),
    ("failure", &["lang"]),
    ("files", &["failure", "lab", "lang", "runtime"]),
    ("output", &["args", "failure"]),
    ("view", &["failure", "output", "lab", "lang", "runtime"]),
    ("draw", &["failure", "view", "lab", "runtime"]),
    ("commands", &["args", "failure", "files", "output", "view", "draw", "lab", "lang", "runtime"]),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
