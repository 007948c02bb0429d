//! Who meets whom: on a key, in maps, by names, in scores.

use crate::{HEAD, found, map, profile, said};
use harmonym_lab::check::check;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::collections::BTreeSet;

#[test]
fn every_pair_on_a_key_is_found_once() {
    let mut text = format!("{HEAD}[map.quay]\nstart = true\n");
    for i in 0..300 {
        text.push_str(&format!(
            "[map.quay.act-{i}]\nvalue = \"switch\"\nbind.desk = \"key.F{}\"\nfire = \"tap 0.{:03}s\"\nyields-to = []\n",
            1 + i % 24,
            100 + i
        ));
    }
    let pairs = found(&text).into_iter().filter(|(name, _)| *name == "double-fire").count();
    // Each action with those before it on its key, four at most: 24 keys with 12 or 13 actions.
    let of = |n: usize| (0..n).map(|before| before.min(4)).sum::<usize>();
    assert_eq!(pairs, 12 * of(13) + 12 * of(12));
}

#[test]
fn what_two_uses_feel_of_a_control_is_known_by_its_half_axes() {
    let shares = |a: &str, b: &str| {
        let row = |name: &str, binding: &str| {
            format!("{name} ; switch ; bind.pad = \"{binding}\" ; fire = \"press\"")
        };
        let (a, b) = (row("row", a), row("sound", b));
        let all = found(&map(&[&a, &b]));
        all.iter().any(|(rule, _)| matches!(*rule, "shared-control" | "double-fire"))
    };
    assert!(shares("pad.left-stick | pick y", "pad.left-stick.up"));
    assert!(shares("pad.left-stick | pick y", "pad.left-stick.down"));
    assert!(shares("pad.left-stick | pick x", "pad.left-stick.left"));
    assert!(!shares("pad.left-stick | pick y", "pad.left-stick.left"));
    assert!(!shares("pad.left-stick | pick x", "pad.left-stick.up"));
}

#[test]
fn maps_that_replace_each_other_do_not_meet() {
    let text = |kinds: [&str; 2], key: &str| {
        let mut text = HEAD.to_owned();
        for (map, kind) in ["quay", "tug"].into_iter().zip(kinds) {
            text.push_str(&format!(
                "[map.{map}]\nkind = \"{kind}\"\n[map.{map}.act]\nvalue = \"switch\"\n\
                 bind.desk = \"{key}\"\nfire = \"press\"\n"
            ));
        }
        text
    };
    let fires_twice = |kinds| {
        found(&text(kinds, "key.KeyF"))
            .iter()
            .any(|(rule, _)| matches!(*rule, "shared-control" | "double-fire"))
    };
    assert!(!fires_twice(["solo", "solo"]));
    assert!(fires_twice(["solo", "always"]));
    // Who never lives with an action never lets it fire by being live.
    let never = |kinds| {
        let text = text(kinds, "key.KeyF");
        let guarded = text.replacen("fire = \"press\"", "fire = \"press with tug.act\"", 1);
        !said("never-fires", &guarded).is_empty()
    };
    assert!(never(["solo", "solo"]));
    assert!(!never(["solo", "always"]) && !never(["layer", "solo"]));
}

#[test]
fn who_waits_for_what_never_fires_never_fires_either() {
    let text = map(&[
        "weak ; switch ; bind.pad = \"pad.right-trigger | cap 0.1\" ; fire = \"press\"",
        "then ; switch ; bind.pad = \"pad.south\" ; fire = \"press with weak\"",
    ]);
    let never = said("never-fires", &text);
    let waits = "it waits for quay.weak, which never fires";
    assert!(never.iter().any(|told| told.contains(waits)), "{never:?}");
}

#[test]
fn a_remark_has_the_address_of_what_it_is_about() {
    let text = format!("{HEAD}[setting.pace]\ndefault = 1\n[map.quay]\nstart = true\n");
    let remarks = check(&profile(&text), &BTreeSet::new());
    let unused: Vec<_> = remarks
        .iter()
        .filter(|remark| remark.diagnostic.rule == "unused")
        .filter_map(|remark| remark.diagnostic.address.as_deref())
        .collect();
    assert!(unused.contains(&"setting.pace"), "{unused:?}");
}

#[test]
fn names_are_alike_by_order_and_by_slips_of_the_pen() {
    let alike = |a: &str, b: &str| {
        let row = |name: &str, key: &str| {
            format!("{name} ; switch ; bind.desk = \"key.{key}\" ; fire = \"press\"")
        };
        let (a, b) = (row(a, "KeyA"), row(b, "KeyB"));
        found(&map(&[&a, &b])).iter().any(|(rule, _)| *rule == "alike-names")
    };
    for (a, b) in [
        ("boats", "boat"),
        ("open-log", "log-open"),
        ("moor", "mooor"),
        ("moor", "moro"),
        ("turn-page", "turn-pages"),
        ("signal", "sigmal"),
        ("openlog", "open-log"),
    ] {
        assert!(alike(a, b) && alike(b, a), "{a} {b}");
    }
    // Short words that differ by a letter are different words.
    for (a, b) in [
        ("row", "raw"),
        ("haul", "hauling"),
        ("deck-1", "deck-2"),
        ("haul", "hook"),
        ("haul", "hail"),
        ("rows", "rowst"),
        ("lamp", "clamp"),
    ] {
        assert!(!alike(a, b) && !alike(b, a), "{a} {b}");
    }
}

#[test]
fn an_expectation_that_nothing_happens_can_be_met_by_what_never_fires() {
    let text = map(&["row ; switch ; bind.desk = \"key.KeyR | scale 0.1\" ; fire = \"press\""]);
    let source = Source::new("t", text);
    let (profile, plan) = load(&source).expect("a sound profile");
    let scores = [
        "at 1s press key.KeyR for 0.1s\nexpect quay.row never fires\n",
        "at 1s press key.KeyR for 0.1s\nexpect quay.row fires 2 times\n",
        "at 1s press key.KeyR for 0.1s\nexpect quay.row = 7 at 1.05s\n",
    ];
    let scores = scores.iter().map(|score| Source::new("s", *score)).collect();
    let review = harmonym_lab::check::Review::new(source, &profile, &plan, scores);
    let never: Vec<_> = review
        .iter()
        .filter(|(_, one)| one.rule == "never-holds")
        .map(|(s, one)| s.slice(one.span))
        .collect();
    assert_eq!(never, ["expect quay.row fires 2 times"]);
}
