//! The checker: ranges hold what the engine gives, and each rule finds its mistake and no other.

mod findings;
mod helps;
mod pairs;
mod promises;
mod rows;

use harmonym_lab::check::{RULES, check};
use harmonym_lang::profile::table;
use harmonym_lang::report::Level;
use harmonym_lang::source::Source;
use harmonym_lang::{load, model::Profile};
use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

fn profile(text: &str) -> Profile {
    match load(&Source::new("t", text)) {
        Ok((profile, _)) => profile,
        Err(faults) => panic!("{faults:#?}\n{text}"),
    }
}

/// The rules that find something, with what they say.
fn found(text: &str) -> Vec<(&'static str, String)> {
    let remarks = check(&profile(text), &BTreeSet::new());
    remarks.into_iter().map(|remark| (remark.diagnostic.rule, remark.diagnostic.message)).collect()
}

#[test]
fn every_rule_finds_its_mistake_and_is_content_with_the_mended_one() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/faulty");
    for rule in RULES {
        let read =
            |end: &str| fs::read_to_string(folder.join(format!("{}{end}", rule.name))).unwrap();
        let faulty = found(&read(".toml"));
        assert!(
            !faulty.is_empty() && faulty.iter().all(|(name, _)| *name == rule.name),
            "{}: {faulty:?}",
            rule.name
        );
        assert_eq!(found(&read(".mended.toml")), [], "{}", rule.name);
    }
    let page = fs::read_to_string(folder.join("../../docs/reference/check.md")).unwrap();
    for rule in RULES {
        let row = format!("| `{}` | {} | {} |\n", rule.name, rule.level.word(), rule.finds);
        assert!(page.contains(&row), "docs/reference/check.md has no {row}");
    }
    let names: Vec<&str> = RULES.iter().map(|rule| rule.name).collect();
    assert_eq!(names, table::RULES, "the list of what can be waived");
    assert!(RULES.iter().all(|rule| rule.level >= Level::Note && rule.finds.ends_with('.')));
}

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nscheme.slate.devices = [\"touch\"]\n";

/// Actions of one map that starts, each as `name | value | scheme | binding | more lines`.
fn map(rows: &[&str]) -> String {
    let mut text = format!("{HEAD}[map.quay]\nstart = true\n");
    for row in rows {
        let parts: Vec<&str> = row.split(" ; ").collect();
        text.push_str(&format!("[map.quay.{}]\nvalue = \"{}\"\n", parts[0], parts[1]));
        for line in &parts[2..] {
            text.push_str(line);
            text.push('\n');
        }
    }
    text
}

/// What one rule says of a profile.
fn said(rule: &str, text: &str) -> Vec<String> {
    found(text).into_iter().filter(|(name, _)| *name == rule).map(|(_, message)| message).collect()
}
