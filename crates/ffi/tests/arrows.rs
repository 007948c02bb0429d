//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("status", &["runtime"]),
    ("messages", &["pointers", "status"]),
    ("pointers", &["status"]),
    ("handles", &["status"]),
    ("types", &["status", "runtime"]),
    ("game", &["handles", "pointers", "status", "types", "lang", "runtime"]),
    ("profiles", &["game", "pointers", "status", "types", "lang", "runtime"]),
    ("hands", &["game", "handles", "pointers", "status", "types", "runtime"]),
    ("players", &["game", "hands", "pointers", "status", "types", "runtime"]),
    (
        "tools",
        &["game", "handles", "hands", "pointers", "profiles", "status", "types", "lab", "runtime"],
    ),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
