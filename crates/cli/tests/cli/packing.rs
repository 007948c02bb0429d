//! Packs as files.

use crate::harness::Folder;
use harmonym_lang::Game;
use harmonym_runtime::{Layout, Plan, pack};

fn packed(folder: &Folder, args: &[&str]) -> Plan {
    let words: Vec<&str> = ["pack"].iter().chain(args).copied().collect();
    let text = folder.run(&words).expect_done();
    pack::read(&text).unwrap_or_else(|torn| panic!("{torn}"))
}

#[test]
fn a_pack_is_the_profile_as_a_player_has_it_on_a_layout() {
    let folder = Folder::with_demo();
    let game = Game::parse("harmonym.toml", &folder.read("harmonym.toml")).expect("a profile");
    assert_eq!(packed(&folder, &[]), **game.plan());
    let french = game.clone().for_layout(Layout::from_word("fr").expect("a layout"));
    assert_eq!(packed(&folder, &["--layout", "fr"]), **french.plan());
    let name = "players/left-handed.toml";
    let (of_player, _) = game.for_player(name, &folder.read(name)).expect("a player's file");
    assert_ne!(of_player.plan(), game.plan());
    assert_eq!(packed(&folder, &["--player", name]), **of_player.plan());
}

#[test]
fn a_stale_pack_is_told_and_other_files_are_left_alone() {
    let folder = Folder::with_demo();
    let words = ["pack", "--layout", "de", "-o", "game/quay.pack.jsonl"];
    let check = [&words[..], &["--check"]].concat();
    folder.write("game/quay.pack.jsonl", "");
    let out = folder.run(&check);
    assert_eq!(out.code, 1, "{}", out.stderr);
    let told = "is not there: `harmonym pack --layout de -o game/quay.pack.jsonl`";
    assert!(out.stderr.contains(told), "{}", out.stderr);
    folder.run(&words).expect_done();
    folder.run(&check).expect_done();
    folder.run(&["set", "setting.gaze-speed.default", "1.5"]).expect_done();
    let out = folder.run(&check);
    assert_eq!(out.code, 1, "{}", out.stderr);
    assert!(out.stderr.contains("is stale"), "{}", out.stderr);
    // Packs are written over, other files are not.
    folder.run(&words).expect_done();
    folder.write("notes.jsonl", "{}\n");
    folder.run(&["pack", "-o", "notes.jsonl"]).expect_refused(&["is not a pack"]);
    folder.run(&["pack", "-o", "harmonym.toml"]).expect_refused(&["is what is read here"]);
    assert_eq!(folder.read("notes.jsonl"), "{}\n");
}

#[test]
fn a_pack_has_no_character_that_commands_a_terminal() {
    let folder = Folder::new();
    let odd =
        "harmonym = 1\n[map.quay]\nstart = true\nlabel = \"a \\u001b[31m \\u202e \\u2028 ü\"\n";
    folder.write("harmonym.toml", odd);
    folder.run(&["pack", "-o", "p.jsonl"]).expect_done();
    let text = folder.read("p.jsonl");
    assert!(!text.contains(['\u{1b}', '\u{202e}', '\u{2028}']), "{text:?}");
    let game = Game::parse("harmonym.toml", odd).expect("a profile");
    assert_eq!(pack::read(&text).as_ref(), Ok(&**game.plan()));
}
