//! What `why` says, sentence by sentence: each names what really did it, with its number.

use crate::harness::Folder;

const PROFILE: &str = r#"harmonym = 1
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad"]
fact.calm = {}
[map.quay]
start = true
[map.quay.walk]
value = "plane"
bind.desk = "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)"
bind.pad = "pad.left-stick"
[map.quay.knot]
value = "switch"
bind.desk = "key.KeyE"
fire = "hold 0.8s unless calm"
[map.quay.lamp]
value = "switch"
bind.desk = "key.KeyL | toggle"
fire = "while"
[map.quay.helm]
value = "axis"
fire = "hold 0.5s"
bind.desk = "pair(key.KeyQ, key.KeyR)"
[map.quay.row]
value = "axis"
bind.desk = "key.KeyZ | ease rise=4/s"
levels = { down = 0.5, up = 0.4 }
[map.quay.dark]
value = "switch"
bind.desk = "key.KeyN | not"
[map.quay.look]
value = "plane"
bind.desk = "mouse.move | scale 0.1"
[map.quay.turn]
value = "axis"
bind.pad = "pad.right-stick.x | scale 9 | travel"
levels = { down = 0.1 }
fire = "press"
[map.quay.tack]
value = "axis"
blend = "newest"
bind.desk = ["key.KeyU", "key.KeyI | scale 0.1"]
fire = "while"
levels = { down = 0.5 }
[map.quay.send]
value = "switch"
bind.desk = "key.Alt + key.KeyG"
fire = "hold 0.5s"
[map.quay.cheer]
value = "switch"
bind.desk = "key.KeyC"
fire = "repeat 0.3s unless calm"
[map.quay.haul]
value = "axis"
bind.desk = "key.KeyH | scale 0.9 when calm"
levels = { down = 0.95, up = 0.92 }
fire = "hold 0.5s"
[map.tug]
[map.tug.engine]
value = "axis"
bind.desk = "key.KeyW"
carry = true
[map.tug.horn]
value = "switch"
bind.desk = "key.KeyE"
[map.book]
kind = "layer"
[map.book.mark]
value = "switch"
bind.desk = "key.KeyE + key.KeyM"
[map.book.read]
value = "switch"
bind.desk = "key.KeyE"
[map.lens]
kind = "layer"
[map.lens.focus]
value = "switch"
bind.desk = "key.KeyE + key.KeyF"
"#;

/// What `why ACTION` says on some hands, a line a row, without its header.
fn rows(action: &str, hands: &str, more: &[&str]) -> Vec<String> {
    let folder = Folder::new();
    folder.write("harmonym.toml", PROFILE).write("a.score", hands);
    let out = folder.run(&[&["why", action, "a.score", "--format", "json"], more].concat());
    let out = out.expect_done();
    let whys = out.lines().filter_map(|line| line.split_once("\"why\":\""));
    whys.map(|(_, why)| why.trim_end_matches("\"}").to_owned()).collect()
}

#[test]
fn a_press_is_judged_over_its_whole_stretch() {
    for (action, hands, said) in [
        (
            "knot",
            "at 0.8s open book\nat 0.9s press key.KeyE for 0.5s\nat 1.1s close book",
            "key.KeyE was claimed by book.read from 0.8 s until 1.1 s; then key.KeyE was already held at \
             1.1 s, when it might have begun to count: it has to be let go first",
        ),
        (
            "horn",
            "at 0.5s press key.KeyE for 0.5s\nat 0.7s open tug",
            "its map tug was closed until 0.7 s; then key.KeyE was already held at 0.7 s, when it \
             might have begun to count: it has to be let go first",
        ),
        ("horn", "at 0.5s press key.KeyE for 0.5s", "key.KeyE: its map tug was never opened"),
        (
            "horn",
            "at 0.5s press key.KeyE for 0.1s\nat 1s open tug",
            "key.KeyE: its map tug is not open until 1 s",
        ),
        (
            "knot",
            "at 0.5s press key.KeyE for 0.1s\nat 0.6s open tug",
            "too-short: held 0.1 s of 0.8 s: let go 0.7 s too early",
        ),
        (
            "knot",
            "at 0.2s pause\nat 0.3s press key.KeyE for 0.5s\nat 0.4s resume",
            "the game was paused until 0.4 s, and it has no in-pause; then key.KeyE was already held \
             at 0.4 s, when it might have begun to count: it has to be let go first",
        ),
        (
            "send",
            "at 0.2s press key.KeyG for 0.5s",
            "key.KeyG counts only while key.AltLeft is held",
        ),
        (
            "send",
            "at 0.2s press key.KeyG for 0.5s\nat 0.3s press key.AltLeft for 0.2s",
            "until 0.3 s key.KeyG counts only while key.AltLeft is held; then until 0.5 s key.KeyG was pressed \
             before what has to be held with it: it has to be pressed anew; then key.KeyG counts only while key.AltLeft \
             is held",
        ),
    ] {
        let told = rows(action, hands, &[]);
        assert_eq!(told, [said], "{action}\n{hands}");
    }
}

#[test]
fn an_end_names_what_brought_it_about() {
    for (action, hands, said) in [
        (
            "helm",
            "at 0.2s press key.KeyR for 1s\nat 0.4s press key.KeyQ for 1s",
            "too-short: held 0.2 s of 0.5 s, 0.3 s too short: key.KeyQ was pressed, opposite to key.KeyR",
        ),
        (
            "lamp",
            "at 0.2s press key.KeyL for 0.1s\nat 0.5s press key.KeyL for 0.1s",
            "fired from 0.2 s on, first by `while`; came up after 0.3 s: key.KeyL was pressed, which switched \
             its `toggle` off",
        ),
        (
            "dark",
            "at 0.2s press key.KeyN for 5s",
            "fired at 0 s by `press`; came up after 0.2 s: key.KeyN was pressed, and `not` gives 0 while it is",
        ),
        (
            "row",
            "at 0.2s press key.KeyZ for 0.3s",
            "fired from 0.3333 s on, first by `while`, 0.0083 s after it woke; came up after 0.326 s: `ease \
             rise=4/s` came down after key.KeyZ was let go at 0.5 s",
        ),
        (
            "tack",
            "at 0.2s press key.KeyU for 1s\nat 0.5s press key.KeyI for 1s",
            "fired from 0.2 s on, first by `while`; came up after 0.3 s: key.KeyI was pressed, and \
             quay.tack@desk#2 took over",
        ),
        (
            "send",
            "at 0.2s press key.AltLeft for 0.3s\nat 0.3s press key.KeyG for 0.5s",
            "too-short: held 0.2 s of 0.5 s, 0.3 s too short: key.AltLeft was let go, which has to be held with it",
        ),
        (
            "haul",
            "at 0.2s press key.KeyH for 1s\nat 0.5s fact calm = 1\nat 0.6s fact calm = 0",
            "too-short: held 0.3 s of 0.5 s, 0.2 s too short: calm became 1",
        ),
        (
            "knot",
            "at 0.2s press key.KeyE for 1s\nat 0.5s open book",
            "claimed: key.KeyE is claimed by book.read; it had been down 0.3 s of the 0.8 s that it takes",
        ),
        (
            "knot",
            "at 0.2s press key.KeyE for 1s\nat 0.5s open tug",
            "map-off: its map quay closed as tug opened; it had been down 0.3 s of the 0.8 s that it takes",
        ),
        (
            "knot",
            "at 0.2s press key.KeyE for 1s\nat 0.5s fact calm = 1",
            "guard: calm is on since 0.5 s",
        ),
        // From before it woke, and never otherwise.
        (
            "walk",
            "at 0.2s push pad.left-stick to (0.05, 0)\nat 0.5s push pad.left-stick to (0, 0)",
            "fired from 0.2 s on, first by `while`; let go after 0.3 s; pad.left-stick reported 0.05 at most, \
             which may be nobody's hand: a `deadzone` over that leaves it out",
        ),
        (
            "engine",
            "at 0.2s press key.KeyW for 1s\nat 0.5s open tug",
            "woke as tug opened: key.KeyW was held and counts at once (carry); fired from 0.5 s on, first by \
             `while`; let go after 0.7 s",
        ),
    ] {
        let told = rows(action, hands, &[]);
        assert_eq!(told.first().map(String::as_str), Some(said), "{action}\n{hands}\n{told:#?}");
    }
}

#[test]
fn a_holder_of_a_combination_claims_nothing() {
    // The lens holds E for its F: the knot below is tied all the same.
    let hands = "at 0.1s open lens\nat 0.2s press key.KeyE for 1s";
    assert!(rows("knot", hands, &[])[0].starts_with("fired at 1 s by `hold 0.8s`"));
    // The book does, by its plain binding and not by the combination that stands before it.
    let hands = "at 0.1s open book\nat 0.2s press key.KeyE for 1s";
    assert_eq!(rows("knot", hands, &[]), ["key.KeyE is claimed by book.read since 0.1 s"]);
}

#[test]
fn no_answer_promises_what_a_guard_forbids() {
    let hands = "at 0.1s fact calm = 1\nat 0.2s press key.KeyE for 2s";
    let told = rows("knot", hands, &["--at", "0.5s"]);
    assert_eq!(
        told,
        [
            "quay.knot woke at 0.2 s; it is pending: held 0.3 s of 0.8 s, it would fire at 1 s if it stays down, \
          but calm is on since 0.1 s."
        ]
    );
    let hands = "at 0.2s press key.KeyC for 2s\nat 0.3s fact calm = 1";
    let told = rows("cheer", hands, &["--at", "0.4s"]);
    assert!(told[0].ends_with("next at 0.5 s, but calm is on since 0.3 s."), "{told:?}");
}

#[test]
fn what_comes_later_in_the_same_stretch_counts() {
    // A speed adds up at ticks: no press in vain where it wakes at the tick after it.
    let hands =
        "at 0.201s push pad.right-stick to (1, 0)\nat 0.215s push pad.right-stick to (0, 0)";
    let told = rows("turn", hands, &[]);
    assert_eq!(told.len(), 1, "{told:?}");
    assert!(told[0].starts_with("fired at"), "{told:?}");
    // A movement that is told at a tick is none either, but one with its map closed is.
    assert_eq!(rows("look", "at 0.2s drag mouse.move by (9, 0) over 0.2s", &[]).len(), 1);
    let hands = "at 0.1s open tug\nat 0.2s drag mouse.move by (9, 0) over 0.2s";
    assert_eq!(rows("look", hands, &[]), ["mouse.move: its map quay is closed since 0.1 s"]);
}

#[test]
fn an_action_is_asked_for_over_a_folder_of_hands() {
    let folder = Folder::new();
    folder.write("harmonym.toml", PROFILE);
    folder.write("scores/a.score", "at 0.1s press key.KeyE for 0.2s");
    folder.write("scores/b.score", "at 0.1s press key.KeyQ for 0.2s");
    folder.write("scores/c.score", "at 0.1s press key.KeyE for 1s");
    let told = folder.run(&["why", "knot", "scores"]).expect_done();
    assert!(told.starts_with("scores/a.score\nquay.knot: 1 episode\n"), "{told}");
    assert!(told.contains("\n\nscores/c.score\nquay.knot: 1 episode\n"), "{told}");
    assert!(told.ends_with("\nNone of its controls was pressed in the other file.\n"), "{told}");
    let json = folder.run(&["why", "knot", "scores", "--format", "json"]).expect_done();
    assert_eq!(json.lines().filter(|line| line.contains("\"kind\":\"file\"")).count(), 3);
    assert_eq!(json.lines().filter(|line| line.contains("\"kind\":\"why\"")).count(), 1);
    folder
        .run(&["why", "knot", "scores", "--at", "1s"])
        .expect_refused(&["`--at` looks at one file"]);
}
