//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("base", &[]),
    ("controls", &["base"]),
    ("plan", &["base", "controls"]),
    ("engine", &["base", "plan"]),
    ("seats", &["base", "controls", "plan", "engine"]),
    ("hands", &["base", "plan", "engine", "seats"]),
    ("pack", &["base", "controls", "plan"]),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
