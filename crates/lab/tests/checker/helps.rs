//! What a help says to write is put in by machine: the profile compiles, the finding is gone, and no
//! other comes that weighs as much.

use crate::{HEAD, map};
use harmonym_lab::check::{Remark, check};
use harmonym_lab::edit::Draft;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

/// What is found in a sound profile; nothing for a faulty one.
pub fn remarks(text: &str) -> Option<Vec<Remark>> {
    let (profile, _) = load(&Source::new("t", text)).ok()?;
    Some(check(&profile, &BTreeSet::new()))
}

/// The texts in back-quotes, each with all the words before it.
fn codes(help: &str) -> Vec<(String, String)> {
    let parts: Vec<&str> = help.split('`').collect();
    let codes = (1..parts.len()).step_by(2);
    let words = |i: usize| parts[..i].iter().step_by(2).copied().collect();
    codes.map(|i| (words(i), parts[i].to_owned())).collect()
}

/// A profile with a line in a table, in place of the one with its key.
fn with_line(text: &str, table: &str, line: &str) -> String {
    let key = line.split(" = ").next().unwrap_or_default();
    let head = format!("[map.{table}]");
    let (mut out, mut inside, mut done, mut skips) = (String::new(), false, false, false);
    for old in text.lines() {
        // A list over several lines.
        if skips {
            skips = old != "]";
            continue;
        }
        if old.starts_with('[') {
            inside = old == head;
        }
        if inside && old.starts_with(&format!("{key} = ")) {
            skips = old.ends_with('[');
            continue;
        }
        out.push_str(&format!("{old}\n"));
        if old == head {
            out.push_str(&format!("{line}\n"));
            done = true;
        }
    }
    assert!(done, "no {head} in\n{text}");
    out
}

/// The profile with one piece of a help put in; nothing where the help says what to decide.
fn put_in(text: &str, remark: &Remark, before: &str, code: &str) -> Option<String> {
    let help = &remark.diagnostic.help;
    // What is to be taken out is named only; what comes second needs the first.
    let mention = ["take", "then"].iter().any(|word| before.trim_end().ends_with(word));
    if code.contains('…') || mention {
        return None;
    }
    if let Some(command) = code.strip_prefix("harmonym ") {
        let words: Vec<&str> = command.split(' ').collect();
        let ["remove", address] = words[..] else { return None };
        let mut draft = Draft::new(&Source::new("t", text));
        draft.remove(address, false).unwrap_or_else(|faults| panic!("{help}: {faults}"));
        return Some(draft.text().to_owned());
    }
    if code.contains(" = ") && !code.starts_with("waive") {
        // `in quay.knock:` and `in [map.quay]:` say where.
        let named = before.rsplit_once("in ").and_then(|(_, rest)| rest.split_once(": "));
        let table = match named {
            Some((name, _)) => name.trim_start_matches("[map.").trim_end_matches(']').to_owned(),
            None => remark.place.path[1..3.min(remark.place.path.len())].join("."),
        };
        return Some(with_line(text, &table, code));
    }
    let is_binding = remark.place.path.iter().any(|key| key == "bind");
    let is_whole = code.contains(['.', '(']) && (code.contains(' ') || code.contains('('));
    if !is_binding || !is_whole || code.starts_with("blend") || code.starts_with("| ") {
        return None;
    }
    let mut draft = Draft::new(&Source::new("t", text));
    let address = &remark.place.address;
    draft.set(address, &[code.to_owned()]).unwrap_or_else(|faults| panic!("{help}: {faults}"));
    Some(draft.text().to_owned())
}

/// The profile with each piece of a help put in by itself.
pub fn put_ins(text: &str, remark: &Remark) -> Vec<String> {
    let pieces = codes(&remark.diagnostic.help).into_iter();
    pieces.filter_map(|(words, code)| put_in(text, remark, &words, &code)).collect()
}

/// Puts in all that the helps of a profile say, each by itself; gives how many pieces there were.
fn try_all(text: &str) -> usize {
    let before = remarks(text).expect("a sound profile");
    let key = |one: &Remark| (one.diagnostic.rule, one.place.address.clone());
    let known: BTreeSet<_> = before.iter().map(key).collect();
    let mut count = 0;
    for remark in &before {
        for changed in put_ins(text, remark) {
            count += 1;
            let told = &remark.diagnostic;
            let case = format!("{}: {}\nhelp: {}\n{changed}", told.rule, told.message, told.help);
            let after = remarks(&changed).unwrap_or_else(|| panic!("it has faults: {case}"));
            let same =
                |one: &&Remark| key(one) == key(remark) && one.diagnostic.message == told.message;
            assert!(!after.iter().any(|one| same(&one)), "it is still there: {case}");
            let new: Vec<_> = after
                .iter()
                .filter(|one| !known.contains(&key(one)) && one.diagnostic.level >= told.level)
                .map(|one| &one.diagnostic.message)
                .collect();
            assert!(new.is_empty(), "there is another: {new:?}\n{case}");
        }
    }
    count
}

#[test]
fn what_the_helps_of_the_examples_say_mends_them() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/faulty");
    let mut count = 0;
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if !path.to_string_lossy().ends_with(".mended.toml") {
            count += try_all(&fs::read_to_string(path).unwrap());
        }
    }
    assert!(count >= 15, "{count}");
}

#[test]
fn what_helps_say_mends_other_profiles_too() {
    let mut count = 0;
    for rows in [
        &[
            "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyD | onto x\", \"key.KeyS | flip | onto y\", \"key.KeyA | flip | onto x\"]",
        ][..],
        &[
            "a ; plane ; bind.desk = [\"pair(key.KeyA, key.KeyD) | onto x\", \"pair(key.KeyS, key.KeyW) | onto y\"]",
        ],
        &["a ; axis ; bind.desk = [\"key.KeyD\", \"key.KeyA\"]"],
        &["a ; axis ; bind.desk = [\"key.KeyA\", \"key.KeyD\"]"],
        &["a ; axis ; bind.desk = [\"key.ArrowUp\", \"key.ArrowDown\"]"],
        &[
            "a ; plane ; bind.desk = \"join(pair(key.KeyA, key.KeyD), pair(key.KeyS, key.KeyW)) | scale 4\"",
        ],
        &[
            "a ; plane ; bind.pad = \"pad.right-stick | scale 180\" ; bind.desk = \"mouse.move | flip y\" ; levels = { down = 15 }",
        ],
        &["a ; plane ; bind.pad = \"any(pad.right-stick, pad.left-stick)\""],
        &["a ; plane ; bind.pad = \"pad.left-shoulder + pad.right-stick\""],
        &[
            "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press\"",
            "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"taps 2 gap=0.25s\"",
        ],
        &[
            "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"release\"",
            "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"hold 0.25s\"",
        ],
        &[
            "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press or release\"",
            "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"hold 0.25s\"",
        ],
        &[
            "a ; axis ; bind.desk = \"pair(key.KeyW, key.KeyS)\" ; bind.pad = \"pad.left-stick.y | deadzone 0.1\"",
        ],
        &["a ; switch ; bind.pad = \"pad.right-trigger | cap 0.5\""],
        &[
            "a ; axis ; bind.pad = \"pad.left-trigger | deadzone 0.1\" ; levels = { down = 0.3, up = 0.3 }",
        ],
        &["a ; switch ; bind.desk = \"key.KeyA\" ; fire = \"while or hold 2s\""],
        &["a ; switch ; bind.desk = \"key.KeyE + key.ShiftLeft\""],
        &["a ; switch ; bind.desk = \"key.Control + key.KeyW\""],
    ] {
        count += try_all(&map(rows));
    }
    // Two solo maps of which none starts.
    let text = format!(
        "{HEAD}[map.quay]\n[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n[map.tug]\nstart = true\n[map.tug.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyB\"\n"
    );
    count += try_all(&text);
    assert!(count >= 12, "{count}");
}
