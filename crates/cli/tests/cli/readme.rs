//! The README's tour, command by command, with the output that it shows.

use crate::harness::Folder;
use std::path::PathBuf;

const README: &str = include_str!("../../../../README.md");

/// A command and the lines shown below it.
struct Step {
    command: String,
    shown: Vec<String>,
}

fn steps() -> Vec<Step> {
    let mut steps: Vec<Step> = Vec::new();
    let mut inside = false;
    for line in README.lines() {
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

#[cfg(unix)]
#[test]
fn the_tour_does_what_it_shows() {
    let folder = Folder::new();
    let mut dir = PathBuf::from(".");
    let steps = steps();
    assert!(steps.len() >= 8, "the tour has {} commands", steps.len());
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
        let refused = shown.iter().any(|line| line.starts_with("error: "));
        assert_eq!(out.code, if refused { 2 } else { 0 }, "{command}");
    }
}
