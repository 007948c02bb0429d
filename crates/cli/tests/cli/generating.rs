//! Names for game code: what every language's own tools say to them.

use crate::harness::Folder;
use harmonym_lang::source::Source;
use std::process::Command;

/// Texts that end comments, begin others, go on in the next line or are escapes somewhere, and
/// names that are words of languages.
const NASTY: &str = r#"harmonym = 1
title = "Lantern */ Quay /* \\u002a/ ??/ \"\"\" ]] <b>&\u001b[31m\u202e \\"
[scheme.default]
devices = ["key", "head"]
about = "a scheme \\"
[setting.self]
default = 1
range = [0, 2]
about = """two
lines: */ \u0007"""
[fact.end]
about = "-- ]] --[["
[map.self]
start = true
about = "/* // # -- ??/"
[map.self.class]
value = "switch"
about = "\\u000a */ class int {} /*"
bind.default = "key.KeyA"
[map.self.none]
value = "turn"
bind.default = "head.turn"
[map.self.a-12]
value = "axis"
bind.default = "key.KeyC"
[map.self.end]
value = "plane"
[map.self.import]
value = "space"
"#;

const ALL: [(&str, &str); 8] = [
    ("rust", "hands.rs"),
    ("c", "hands.h"),
    ("cpp", "hands.hpp"),
    ("csharp", "hands.cs"),
    ("java", "Hands.java"),
    ("typescript", "hands.ts"),
    ("python", "hands.py"),
    ("lua", "hands.lua"),
];

/// A program that reads a language, and what it is to be told; the file stands in for `FILE`.
const READERS: &[(&str, &[&str])] = &[
    (
        "rust",
        &["rustc", "--edition=2024", "--crate-type=lib", "--emit=metadata", "-Dwarnings", "FILE"],
    ),
    (
        "c",
        &["gcc", "-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", "-fsyntax-only", "FILE"],
    ),
    // A header, so it is included by a file.
    (
        "cpp",
        &[
            "g++",
            "-std=c++17",
            "-Wall",
            "-Wextra",
            "-Wpedantic",
            "-Werror",
            "-fsyntax-only",
            "use.cpp",
        ],
    ),
    ("csharp", &["mcs", "-langversion:6", "-warnaserror", "-target:library", "FILE"]),
    ("java", &["javac", "-Xlint:all", "-Werror", "FILE"]),
    ("typescript", &["tsc", "--strict", "--noEmit", "FILE"]),
    ("python", &["python3", "-W", "error", "-c", "import hands; print(hands.NAMES)"]),
    ("lua", &["luac", "-p", "FILE"]),
];

/// Sees that a compiler of each of these languages reads its file without a warning.
fn expect_read(folder: &Folder, is_read: impl Fn(&str) -> bool) {
    folder.write("use.cpp", "#include \"hands.hpp\"\n#include \"hands.hpp\"\n");
    let all = ALL.iter().zip(READERS).filter(|((language, _), _)| is_read(language));
    for ((language, file), (_, words)) in all {
        let words: Vec<&str> =
            words.iter().map(|word| if *word == "FILE" { *file } else { *word }).collect();
        let out = Command::new(words[0]).args(&words[1..]).current_dir(folder.path(".")).output();
        let out = out.unwrap_or_else(|error| panic!("{}: {error}", words[0]));
        let said = String::from_utf8_lossy(&out.stderr);
        assert!(out.status.success(), "{language}: {said}\n{}", folder.read(file));
    }
}

#[test]
fn rust_reads_its_names_without_a_warning() {
    names_are_read(|language| language == "rust");
}

#[test]
#[ignore = "needs gcc, g++, mcs, javac, tsc, python3 and luac"]
fn every_language_reads_its_names_without_a_warning() {
    names_are_read(|language| language != "rust");
}

fn names_are_read(is_read: impl Fn(&str) -> bool) {
    let folder = Folder::with_demo();
    for (language, file) in ALL {
        let out = folder.run(&["generate", language, "-o", file]);
        assert!(out.stderr.contains(&format!("wrote {file}")), "{}", out.stderr);
        out.expect_done();
    }
    expect_read(&folder, &is_read);
    let nasty = Folder::new();
    nasty.write("harmonym.toml", NASTY);
    for (language, file) in ALL {
        nasty.run(&["generate", language, "-o", file]).expect_done();
        let text = nasty.read(file);
        let odd = |c: char| c.is_control() && c != '\n' || c == '\u{202e}';
        assert!(!text.contains(odd), "{language}: {text:?}");
        // What is printed is the same but for the name.
        let printed = nasty.run(&["generate", language]).expect_done();
        let own = text.replace(&format!(" -o {file}"), "");
        assert_eq!(printed, own, "{language}");
    }
    expect_read(&nasty, &is_read);
}

#[test]
fn names_are_places_and_the_digest_is_that_of_the_plan() {
    let folder = Folder::with_demo();
    let source = Source::new("harmonym.toml", folder.read("harmonym.toml"));
    let (_, plan) = harmonym_lang::load(&source).expect("the demo");
    let file = folder.run(&["generate", "python"]).expect_done();
    assert!(file.contains(&format!("NAMES = \"{}\"\n", plan.names_digest())), "{file}");
    let names = plan.names();
    let mut found = 0;
    for (place, id) in plan.by_file().iter().enumerate() {
        let name = names.actions[*id].replace(['.', '-'], "_").to_uppercase();
        assert!(file.contains(&format!("    {name} = {place}\n")), "{name} {place}");
        found += 1;
    }
    for (all, class) in [
        (&names.maps.iter().collect::<Vec<_>>(), "Map"),
        (&names.schemes.iter().collect(), "Scheme"),
    ] {
        let class = file.split(&format!("class {class}(")).nth(1).expect("a class");
        for (place, name) in all.iter().enumerate() {
            let name = name.replace('-', "_").to_uppercase();
            assert!(class.contains(&format!("    {name} = {place}\n")), "{name}");
            found += 1;
        }
    }
    for (id, variable) in plan.variables().entries() {
        let class = if variable.is_setting { "Setting" } else { "Fact" };
        let class = file.split(&format!("class {class}(")).nth(1).expect("a class");
        let name = names.variables[id].replace('-', "_").to_uppercase();
        let place = plan.variables().ids().position(|other| other == id).expect("a place");
        assert!(class.contains(&format!("    {name} = {place}\n")), "{name}");
        found += 1;
    }
    assert_eq!(file.matches(" = ").count() - 1, found);
    // The digest tells apart what game code has to know, and nothing else.
    let digest = |text: &str| {
        let (_, plan) = harmonym_lang::load(&Source::new("p", text)).expect("sound");
        plan.names_digest()
    };
    let text = source.text();
    let own = plan.names_digest();
    assert_eq!(digest(&text.replace("hold 0.8s", "hold 0.9s")), own);
    for (old, new) in [
        ("[fact.beside-tug]", "[fact.beside-boat]"),
        ("[map.quay.hail]\nvalue = \"switch\"", "[map.quay.hail]\nvalue = \"axis\""),
    ] {
        assert!(text.contains(old), "{old}");
        assert_ne!(
            digest(&text.replace(old, new).replace("beside-tug", "beside-boat")),
            own,
            "{old}"
        );
    }
}

#[test]
fn a_stale_file_is_told_and_others_are_left_alone() {
    let folder = Folder::with_demo();
    let check = ["generate", "c", "-o", "code/hands.h", "--check"];
    let out = folder.run(&check);
    assert_eq!(out.code, 1, "{}", out.stderr);
    assert!(
        out.stderr.contains("is not there: `harmonym generate c -o hands.h`"),
        "{}",
        out.stderr
    );
    folder.write("code/hands.h", "");
    folder.run(&["generate", "c", "-o", "code/hands.h"]).expect_done();
    folder.run(&check).expect_done();
    let own = folder.read("code/hands.h");
    folder.write("code/hands.h", own.replace('\n', "\r\n"));
    folder.run(&check).expect_done();
    folder.run(&["rename", "quay.hail", "call"]).expect_done();
    let out = folder.run(&check);
    assert_eq!(out.code, 1, "{}", out.stderr);
    assert!(out.stderr.contains("is stale"), "{}", out.stderr);
    // Its own kind is written over, other files are not.
    folder.run(&["generate", "c", "-o", "code/hands.h"]).expect_done();
    folder.run(&check).expect_done();
    folder.write("game.h", "int main(void);\n");
    folder.run(&["generate", "c", "-o", "game.h"]).expect_refused(&["is not a file of names"]);
    assert_eq!(folder.read("game.h"), "int main(void);\n");
    folder.run(&["generate", "c", "-o", "game.h", "--force"]).expect_done();
    let named = folder.run(&["generate", "c", "-o", "9.h"]);
    named.expect_refused(&["`9` cannot be a name in code"]);
}

#[test]
fn two_names_that_would_be_one_are_told() {
    let folder = Folder::new();
    let profile = |names: [&str; 2]| {
        let action = |name| format!("[map.quay.{name}]\nvalue = \"axis\"\n");
        format!("harmonym = 1\nmap.quay.start = true\n{}", names.map(action).concat())
    };
    for names in [["a-12", "a-1-2"], ["b2", "b-2"]] {
        folder.write("harmonym.toml", profile(names));
        let out = folder.run(&["generate", "rust"]);
        out.expect_refused(&["would both be called", "harmonym rename quay."]);
    }
    folder.write("harmonym.toml", profile(["a-12", "a-13"]));
    folder.run(&["generate", "rust"]).expect_done();
}
