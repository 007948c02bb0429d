//! Formats that other programs read, and what every output has in common.

use crate::harness::{Folder, Outcome};
use resvg::usvg::roxmltree;
use serde_json::Value;
use std::collections::BTreeSet;
use std::path::Path;

fn shell(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), line)
}

#[test]
fn a_tap_consumer_counts_what_is_met_and_what_is_not() {
    let folder = Folder::with_demo();
    folder.write("scores/a # TODO b.score", "expect hail fires\nexpect hail never fires\n");
    let tap = shell(&folder, "harmonym test --format tap >out.tap; cat out.tap").expect_done();
    assert!(tap.contains("not ok 1 - scores/a \\# TODO b.score:1 expect hail fires"), "{tap}");
    if shell(&folder, "command -v prove").code != 0 {
        return;
    }
    let told = shell(&folder, "prove --exec cat out.tap");
    assert!(told.stdout.contains("Failed 1/"), "{}", told.stdout);
    assert!(!told.stdout.contains("Parse errors"), "{}", told.stdout);
    assert!(!told.stdout.contains("TODO"), "{}", told.stdout);
    let rest =
        "harmonym test --format tap scores/tie-a-knot.score >out.tap; prove --exec cat out.tap";
    assert!(shell(&folder, rest).expect_done().contains("All tests successful"));
}

#[test]
fn junit_has_what_its_readers_want_and_nothing_else() {
    let folder = Folder::with_demo();
    folder.write("scores/a <b> & \"c\".score", "expect hail fires\nexpect hail never fires\n");
    folder.write("scores/faulty.score", "expct\n");
    let xml = shell(&folder, "harmonym test --format junit").stdout;
    let tree = roxmltree::Document::parse(&xml).expect("XML");
    let root = tree.root_element();
    let names = |node: roxmltree::Node<'_, '_>| -> String {
        let all: Vec<&str> = node.attributes().map(|one| one.name()).collect();
        all.join(" ")
    };
    assert_eq!((root.tag_name().name(), names(root).as_str()), ("testsuites", ""));
    let suites: Vec<_> = root.children().filter(roxmltree::Node::is_element).collect();
    for (id, suite) in suites.iter().enumerate() {
        let wanted = "name package id hostname timestamp tests failures errors time";
        assert_eq!((suite.tag_name().name(), names(*suite).as_str()), ("testsuite", wanted));
        assert_eq!(suite.attribute("id"), Some(&*id.to_string()));
        let inside: Vec<_> = suite.children().filter(roxmltree::Node::is_element).collect();
        let (cases, rest) = (&inside[1..inside.len() - 2], &inside[inside.len() - 2..]);
        assert!(inside[0].first_element_child().is_some_and(|one| names(one) == "name value"));
        assert_eq!(
            [rest[0], rest[1]].map(|one| one.tag_name().name()),
            ["system-out", "system-err"]
        );
        assert_eq!(suite.attribute("tests"), Some(&*cases.len().to_string()));
        for case in cases {
            assert_eq!(
                (case.tag_name().name(), &*names(*case)),
                ("testcase", "name classname time")
            );
            let wrong = case.first_element_child();
            assert!(wrong.is_none_or(|one| names(one) == "type message"), "{xml}");
        }
    }
    let of = |name: &str| suites.iter().find(|one| one.attribute("name") == Some(name)).unwrap();
    let count = |name: &str| ["failures", "errors"].map(|which| of(name).attribute(which).unwrap());
    assert_eq!(count("scores/a <b> & \"c\".score"), ["1", "0"]);
    assert_eq!(count("scores/faulty.score"), ["0", "1"]);
    assert_eq!(count("scores/tie-a-knot.score"), ["0", "0"]);
}

#[test]
fn sarif_tells_each_finding_from_all_others_and_places_are_uris() {
    let folder = Folder::new();
    folder.write("a b/ü#%.toml", "harmonym = 1\nmapp = 1\nmapq = 1\n[mapp.x]\n[map.a b]\n");
    let log = shell(&folder, "harmonym --file 'a b/ü#%.toml' check --format sarif").stdout;
    let log: Value = serde_json::from_str(&log).unwrap();
    let run = &log["runs"][0];
    assert_eq!(run["columnKind"], "unicodeCodePoints");
    assert!(run["tool"]["driver"]["informationUri"].is_string());
    let results = run["results"].as_array().unwrap();
    assert!(results.len() > 2, "{results:?}");
    let prints = results.iter().map(|one| one["partialFingerprints"].to_string());
    assert_eq!(prints.collect::<BTreeSet<_>>().len(), results.len());
    for one in results {
        let place = &one["locations"][0]["physicalLocation"]["artifactLocation"]["uri"];
        assert_eq!(place, "a%20b/%C3%BC%23%25.toml");
    }
    let absolute = folder.path("a b/ü#%.toml");
    let line = format!("harmonym --file '{}' check --format sarif", absolute.display());
    let log: Value = serde_json::from_str(&shell(&folder, &line).stdout).unwrap();
    let place = &log["runs"][0]["results"][0]["locations"][0]["physicalLocation"];
    let uri = place["artifactLocation"]["uri"].as_str().unwrap();
    assert!(uri.starts_with("file:///") && uri.ends_with("/a%20b/%C3%BC%23%25.toml"), "{uri}");
}

#[test]
fn an_output_that_is_full_is_no_success_whatever_is_printed() {
    let folder = Folder::with_demo();
    folder.write("fails.score", "expect hail fires\n");
    for command in [
        "--help",
        "--version",
        "help check",
        "check --help",
        "completions bash",
        "check",
        "check --format sarif",
        "show",
        "controls",
        "export",
        "demo",
        "play scores/tie-a-knot.score",
        "test",
        "test fails.score",
        "test fails.score --format tap",
        "render scores/tie-a-knot.score",
    ] {
        let full = shell(&folder, &format!("harmonym {command} >/dev/full"));
        full.expect_refused(&["cannot write the output: the disk is full"]);
        let closed = shell(&folder, &format!("harmonym {command} | true"));
        assert_eq!((closed.code, closed.stderr.contains("error")), (0, false), "{command}");
    }
}

#[test]
fn color_holds_for_all_that_is_said() {
    let folder = Folder::with_demo();
    folder.write("faulty.toml", "harmonym = 1\nmapp = 1\n");
    for command in
        ["--help", "check --help", "play", "nonsense", "show", "--file faulty.toml check"]
    {
        for (color, is_colored) in [("always", true), ("never", false), ("auto", false)] {
            for line in [format!("--color {color} {command}"), format!("{command} --color={color}")]
            {
                if command == "nonsense" && !line.starts_with("--color") {
                    continue;
                }
                let told = shell(&folder, &format!("harmonym {line}"));
                let all = told.stdout + &told.stderr;
                assert_eq!(all.contains('\u{1b}'), is_colored, "{line}: {all}");
            }
        }
    }
}
