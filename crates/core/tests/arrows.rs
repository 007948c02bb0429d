//! Which folder may use which: the table of the architecture, held.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

const ARROWS: &[(&str, &[&str])] = &[
    ("base", &[]),
    ("source", &["base"]),
    ("report", &["base", "source"]),
    ("controls", &["base"]),
    ("lang", &["base", "source", "report"]),
    ("profile", &["base", "source", "report", "controls", "lang"]),
    ("model", &["base", "source", "controls"]),
    ("resolve", &["base", "source", "report", "controls", "lang", "profile", "model"]),
    ("plan", &["base", "controls"]),
    ("compile", &["base", "source", "report", "controls", "model", "plan"]),
    ("engine", &["base", "plan"]),
    ("check", &["base", "source", "report", "controls", "lang", "model"]),
    ("score", &["base", "source", "report", "controls", "model", "plan", "engine", "take"]),
    (
        "trace",
        &[
            "base", "source", "report", "controls", "lang", "model", "plan", "compile", "engine",
            "check", "score", "take",
        ],
    ),
    ("take", &["base", "source", "report", "controls", "model", "plan", "engine"]),
];

/// Every file under a folder.
fn files(folder: &Path) -> Vec<PathBuf> {
    let paths = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    paths.flat_map(|path| if path.is_dir() { files(&path) } else { vec![path] }).collect()
}

/// Every folder that a text names after `crate::`.
fn used(text: &str) -> BTreeSet<String> {
    let code = text.lines().filter(|line| !line.trim_start().starts_with("//"));
    let mut used = BTreeSet::new();
    for line in code {
        for rest in line.split("crate::").skip(1) {
            let name: String =
                rest.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
            used.insert(name);
        }
    }
    used
}

#[test]
fn folders_use_only_what_they_may() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let arrows: BTreeMap<_, _> = ARROWS.iter().copied().collect();
    let mut wrong = Vec::new();
    for entry in fs::read_dir(&src).unwrap() {
        let folder = entry.unwrap().path();
        if !folder.is_dir() {
            continue;
        }
        let name = folder.file_name().unwrap().to_str().unwrap().to_owned();
        let may = arrows.get(name.as_str()).unwrap_or_else(|| panic!("{name} is not in the table"));
        for file in files(&folder) {
            let text = fs::read_to_string(&file).unwrap();
            for other in used(&text).iter().filter(|other| *other != &name) {
                if !may.contains(&other.as_str()) {
                    wrong.push(format!("{}: {name} uses {other}", file.display()));
                }
            }
            assert!(
                !text.contains("super::super::super"),
                "{}: an arrow in hiding",
                file.display()
            );
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    assert!(used("use crate::plan::{Op};").contains("plan"), "the reader of arrows is blind");
}
