//! Which room may use which: the table of the architecture, held.

use std::path::Path;

const ARROWS: &harmonym_arrows::Table = &[
    ("args", &["lab", "lang", "runtime"]),
    ("escape", &["lab"]),
    ("failure", &["lang"]),
    ("files", &["escape", "failure", "lab", "lang", "runtime"]),
    ("output", &["args", "escape", "failure", "files"]),
    ("view", &["args", "escape", "failure", "output", "lab", "lang", "runtime"]),
    ("draw", &["escape", "failure", "view", "lab", "runtime"]),
    ("servers", &["failure"]),
    ("sources", &["failure", "servers", "lab", "runtime"]),
    (
        "commands",
        &[
            "args", "escape", "failure", "files", "output", "view", "draw", "servers", "sources",
            "lab", "lang", "runtime",
        ],
    ),
];

#[test]
fn rooms_use_what_they_may_and_nothing_else() {
    let wrong = harmonym_arrows::wrong(Path::new(env!("CARGO_MANIFEST_DIR")), ARROWS);
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}
