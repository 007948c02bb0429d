//! The reader of arrows sees what it is there for.

use std::fs;
use std::path::Path;

/// A workspace of two small crates; gives what is wrong with the second.
fn wrong(front: &str, files: &[(&str, &str)], table: &harmonym_arrows::Table) -> Vec<String> {
    let folder = std::env::temp_dir().join(format!(
        "harmonym-arrows-{}-{:?}",
        std::process::id(),
        std::thread::current().id()
    ));
    let write = |path: &str, text: &str| {
        let path = folder.join(path);
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, text).unwrap();
    };
    write("base/src/lib.rs", "pub mod number;\npub use number::Half;\n");
    write("base/src/number.rs", "pub struct Half;\n");
    write("house/src/lib.rs", front);
    for (path, text) in files {
        write(&format!("house/src/{path}"), text);
    }
    let wrong = harmonym_arrows::wrong(Path::new(&folder.join("house")), table);
    fs::remove_dir_all(&folder).unwrap();
    wrong
}

const LOW: (&str, &str) = ("low/mod.rs", "pub struct Low;\n");

#[test]
fn arrows_are_seen_wherever_they_stand() {
    for (text, sees) in [
        ("use crate::low::Low;", true),
        ("use crate::{low::{Low}};", true),
        ("use super::low::Low;", true),
        ("pub fn f() -> crate::low::Low { loop {} }", true),
        ("pub fn f() { println!(\"{}\", size_of::<crate::low::Low>()); }", true),
        ("// use crate::low::Low;", false),
        ("#[cfg(test)]\nmod tests { use crate::low::Low; }", false),
        ("const TEXT: &str = \"crate::low::Low\";", false),
    ] {
        let result = std::panic::catch_unwind(|| {
            wrong("", &[LOW, ("high.rs", text)], &[("low", &[]), ("high", &[])])
        });
        // A path through `super` out of a room is refused outright.
        let seen =
            result.map_or(true, |wrong| wrong.iter().any(|one| one.ends_with("high uses low")));
        assert_eq!(seen, sees, "{text}");
    }
}

#[test]
fn what_is_handed_on_leads_to_where_it_comes_from() {
    let files = [
        LOW,
        ("middle/mod.rs", "pub use crate::low::Low;\npub use harmonym_base::Half;\n"),
        ("high.rs", "use crate::middle::{Half, Low};\n"),
    ];
    let table: &harmonym_arrows::Table =
        &[("low", &[]), ("middle", &["low", "base"]), ("high", &["middle"])];
    let found = wrong("", &files, table);
    assert_eq!(found.len(), 2, "{found:?}");
    assert!(found.iter().any(|one| one.ends_with("high uses low")), "{found:?}");
    assert!(found.iter().any(|one| one.ends_with("high uses base")), "{found:?}");
    // A room may have the name of what it hands on.
    let files = [("low/mod.rs", "pub fn low() {}\n"), ("high.rs", "use crate::low;\n")];
    let table: &harmonym_arrows::Table = &[("low", &[]), ("high", &[])];
    let found = wrong("mod low;\npub use low::low;\n", &files, table);
    assert!(found.iter().any(|one| one.ends_with("high uses low")), "{found:?}");
    // The front page of the own crate hides nothing either.
    let files = [LOW, ("high.rs", "use crate::Low;\n")];
    let found = wrong("pub use low::Low;\n", &files, &[("low", &[]), ("high", &[])]);
    assert!(found.iter().any(|one| one.ends_with("high uses low")), "{found:?}");
}

#[test]
fn entries_that_nothing_uses_and_circles_are_told() {
    let files = [LOW, ("high.rs", "use crate::low::Low;\n")];
    assert!(wrong("", &files, &[("low", &[]), ("high", &["low"])]).is_empty());
    let found = wrong("", &files, &[("low", &["high"]), ("high", &["low"])]);
    assert!(found.iter().any(|one| one.contains("nothing in low uses high")), "{found:?}");
    assert!(found.iter().any(|one| one.contains("a circle among")), "{found:?}");
    let found = wrong("", &files, &[("low", &[])]);
    assert_eq!(found, ["high is not in the table"]);
    let found = wrong("", &files, &[("low", &[]), ("high", &["low"]), ("gone", &[])]);
    assert_eq!(found, ["there is no room gone"]);
}
