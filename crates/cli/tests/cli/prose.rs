//! The README's tour and the guide, command by command, with the output that they show and the
//! pictures that they draw.

use crate::harness::Folder;
use std::path::{Path, PathBuf};

/// A command and the lines shown below it.
struct Step {
    command: String,
    shown: Vec<String>,
}

fn steps(text: &str) -> Vec<Step> {
    let mut steps: Vec<Step> = Vec::new();
    let mut inside = false;
    for line in text.lines() {
        if line.starts_with("```") {
            inside = line == "```console";
        } else if let (true, Some(command)) = (inside, line.strip_prefix("$ ")) {
            steps.push(Step { command: command.to_owned(), shown: Vec::new() });
        } else if let (true, Some(step)) = (inside, steps.last_mut()) {
            step.shown.push(line.to_owned());
        }
    }
    steps
}

/// Does what a text tells to do, in a new folder, and compares all it shows; gives the folder that
/// it ends in.
fn follow(text: &str, folder: &Folder) -> PathBuf {
    let mut dir = PathBuf::from(".");
    let steps = steps(text);
    for Step { command, shown } in steps {
        if let Some(to) = command.strip_prefix("cd ") {
            dir.push(to);
            continue;
        }
        let out = folder.shell(&dir, &command);
        let told = format!("{}{}", out.stdout, out.stderr);
        let told: Vec<_> = told.lines().map(str::trim_end).collect();
        let mut at = 0;
        let mut may_skip = false;
        for line in shown.iter().map(|line| line.trim_end()) {
            if line == "…" {
                may_skip = true;
                continue;
            }
            let found = told[at..].iter().position(|t| *t == line);
            let skipped = found
                .unwrap_or_else(|| panic!("{command}: no line `{line}` in\n{}", told.join("\n")));
            assert!(
                may_skip || skipped == 0,
                "{command}: lines before `{line}` are not shown:\n{}",
                told.join("\n")
            );
            at += skipped + 1;
            may_skip = false;
        }
        assert!(
            may_skip || at == told.len(),
            "{command}: shown only in part:\n{}",
            told.join("\n")
        );
        let fails = |line: &String| line.starts_with("× ") || line.contains(" is stale: ");
        let fails = shown.iter().any(fails);
        let refused = shown.iter().any(|line| line.starts_with("error: "));
        let code = if fails {
            1
        } else if refused {
            2
        } else {
            0
        };
        assert_eq!(out.code, code, "{command}");
    }
    dir
}

fn docs() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs")
}

#[cfg(unix)]
#[test]
fn the_tour_does_what_it_shows() {
    let readme = include_str!("../../../../README.md");
    assert!(steps(readme).len() >= 8);
    follow(readme, &Folder::new());
}

#[cfg(unix)]
#[test]
fn the_guide_does_what_it_shows_and_its_pictures_are_those_of_now() {
    let guide = docs().join("guide");
    let index = std::fs::read_to_string(guide.join("README.md")).unwrap();
    let pages = [
        "define", "bind", "shape", "fire", "maps", "check", "test", "tune", "players", "rebind",
        "help", "game",
    ];
    let mut pictures = 0;
    for page in pages {
        assert!(index.contains(&format!("]({page}.md)")), "{page} is not in the index");
        let text = std::fs::read_to_string(guide.join(format!("{page}.md"))).unwrap();
        assert!(steps(&text).len() >= 3, "{page} shows nothing");
        let folder = Folder::new();
        let dir = follow(&text, &folder);
        for link in text.split("](pictures/").skip(1) {
            let name = link.split(')').next().unwrap();
            let drawn = folder.read(dir.join(name).to_str().unwrap());
            let kept = std::fs::read_to_string(guide.join("pictures").join(name)).unwrap();
            assert!(drawn == kept, "{page}: {name} is drawn otherwise now");
            pictures += 1;
        }
    }
    let kept = std::fs::read_dir(guide.join("pictures")).unwrap().count();
    assert_eq!(pictures, kept, "a picture that no page shows");
}
