//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("source", &[]),
    ("report", &["source"]),
    ("syntax", &["report", "source", "runtime"]),
    ("profile", &["report", "source", "syntax", "runtime"]),
    ("model", &["runtime"]),
    ("resolve", &["report", "source", "syntax", "profile", "model", "runtime"]),
    ("compile", &["model", "runtime"]),
    ("load", &["report", "source", "profile", "model", "resolve", "compile", "runtime"]),
    ("game", &["report", "source", "model", "load", "compile", "player", "runtime"]),
    ("player", &["report", "source", "syntax", "profile", "model", "runtime"]),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
