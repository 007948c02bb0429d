//! Players' files: what is wrong with one at its place, what no longer fits, and what changes do.

use harmonym_lang::compile::compile;
use harmonym_lang::model::Profile;
use harmonym_lang::player::{NONE, OnConflict, Player};
use harmonym_lang::source::Source;
use harmonym_runtime::controls::Layout;
use proptest::prelude::*;

const PROFILE: &str = r#"
harmonym = 1
reserved = ["key.Escape", "pad.mode"]
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad"]
setting.gaze-speed = { default = 1, range = [0.2, 4] }
setting.keep-hurrying.default = false
[map.quay]
start = true
[map.quay.walk]
value = "plane"
bind.desk = ["four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", "four(key.ArrowUp, key.ArrowLeft, key.ArrowDown, key.ArrowRight)"]
bind.pad = "pad.left-stick | deadzone 0.1"
[map.quay.hail]
value = "switch"
bind.desk = "key.KeyH"
bind.pad = "pad.north"
[map.quay.grab]
value = "switch"
bind.desk = ["key.ShiftLeft + key.KeyG", { from = "key.F1", rebind = false }]
bind.all = "key.Insert"
[map.quay.gaze]
value = "plane"
bind.desk = "mouse.move"
[map.quay.wheel]
value = "axis"
bind.desk = "mouse.wheel.y"
[map.quay.fixed]
value = "switch"
rebind = false
bind.desk = "key.KeyX"
[map.quay.pull]
value = "axis"
bind.pad = "pad.left-trigger"
[map.tug]
[map.tug.whistle]
value = "switch"
bind.desk = "key.KeyT"
[map.book]
kind = "layer"
[map.book.close]
value = "switch"
bind.desk = "key.KeyB"
"#;

fn profile(text: &str) -> Profile {
    harmonym_lang::load(&Source::new("p", text)).unwrap_or_else(|e| panic!("{e}")).0
}

fn read(text: &str) -> Player {
    let text = format!("harmonym-player = 1\n{text}");
    Player::read(&Source::new("player.toml", text)).unwrap_or_else(|e| panic!("{e}"))
}

/// The bindings of an action as a player has them.
fn bound(profile: &Profile, action: &str) -> Vec<String> {
    let id = profile.actions.ids().find(|id| profile.address(*id) == action).expect(action);
    let all = profile.actions[id].bindings.iter();
    all.map(|one| format!("{}#{} {}", profile.scheme_name(one), one.number, one.text)).collect()
}

#[test]
fn what_is_wrong_with_a_file_is_told_at_its_place() {
    for (text, wanted) in [
        ("", "p:1:1: this is no player's file; write `harmonym-player = 1` as the first line"),
        ("harmonym = 1\n", "p:1:1: this is a profile, not a player's file"),
        (
            "harmonym-player = 2\n",
            "p:1:19: this player's file is in format 2; this version reads format 1",
        ),
        ("harmonym-player = \"1\"\n", "p:1:19: `harmonym-player` is a format's number"),
        (
            "harmonym-player = 1\n[setting\n",
            "p:2:9: this is not TOML: the table's name is not closed",
        ),
        (
            "harmonym-player = 1\nsettings.a = 1\n",
            "p:2:1: `settings` is not a key of a player's file; did you mean `setting`?",
        ),
        ("harmonym-player = 1\nsetting.a = \"x\"\n", "p:2:13: `a` is a number, not a text"),
        ("harmonym-player = 1\nsetting = 1\n", "p:2:11: `setting` is a table"),
        (
            "harmonym-player = 1\nreplace.hail.a = \"b\"\n",
            "p:2:9: `hail` does not name an action and a scheme",
        ),
        (
            "harmonym-player = 1\n[replace.\"quay.hail\"]\n",
            "p:2:10: `quay.hail` does not name an action and a scheme",
        ),
        (
            "harmonym-player = 1\n[replace.\"quay.hail@desk#1\"]\n",
            "does not name an action and a scheme",
        ),
        (
            "harmonym-player = 1\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = 1\n",
            "p:3:14: `key.KeyH` is a text, not a number",
        ),
        ("harmonym-player = 1\n[also]\n\"quay.hail@desk\" = [1]\n", "a text or a list of texts"),
        (
            "harmonym-player = 1\n[replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyS\"\n\"key.KeyS\" = \"key.KeyW\"\n",
            "p:3:1: these take each other's place in a circle: key.KeyW, key.KeyS",
        ),
        (
            "harmonym-player = 1\n[replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyA\"\n\"key.KeyA\" = \"key.KeyS\"\n\"key.KeyS\" = \"key.KeyW\"\n",
            "p:3:1: these take each other's place in a circle: key.KeyW, key.KeyA, key.KeyS",
        ),
        (
            "harmonym-player = 1\n[replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyW\"\n",
            "p:3:1: `key.KeyW` takes its own place",
        ),
    ] {
        let told = Player::read(&Source::new("p", text)).expect_err(text).to_string();
        assert!(told.contains(wanted), "{text}: {told}");
        assert_eq!(told.lines().count(), 1, "{text}: {told}");
    }
    // One after the other is no circle.
    read(
        "[replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyS\"\n\"key.KeyS\" = \"key.KeyX\"\n",
    );
}

#[test]
fn controls_change_places_and_steps_and_combinations_stay() {
    let profile = profile(PROFILE);
    let player = read(
        "[setting]\ngaze-speed = 1.4\nkeep-hurrying = true\n\
         [replace.\"quay.walk@desk\"]\n\"key.KeyW\" = \"key.KeyI\"\n\"key.KeyA\" = \"key.KeyW\"\n\"key.ArrowUp\" = \"none\"\n\
         [replace.\"quay.walk@pad\"]\n\"pad.left-stick\" = \"pad.right-stick\"\n\
         [replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"none\"\n\
         [replace.\"quay.grab@desk\"]\n\"key.KeyG\" = \"char.,\"\n\"key.ShiftLeft\" = \"key.Control\"\n\
         [also]\n\"quay.hail@desk\" = [\"key.KeyJ\", \"mouse.back\"]\n\"quay.hail@pad\" = \"pad.right-trigger\"\n",
    );
    let applied = player.apply(&profile);
    assert!(applied.notes.is_empty(), "{:?}", applied.notes);
    let after = &applied.profile;
    assert_eq!(
        bound(after, "quay.walk"),
        [
            "desk#1 four(key.KeyI, key.KeyW, key.KeyS, key.KeyD)",
            "desk#2 four(none, key.ArrowLeft, key.ArrowDown, key.ArrowRight)",
            "pad#1 pad.right-stick | deadzone 0.1",
        ]
    );
    assert_eq!(
        bound(after, "quay.hail"),
        ["pad#1 pad.north", "pad#2 pad.right-trigger", "desk#1 key.KeyJ", "desk#2 mouse.back"]
    );
    assert_eq!(
        bound(after, "quay.grab"),
        ["desk#1 key.Control + char.,", "desk#2 key.F1", "all#1 key.Insert"]
    );
    let worth = |name: &str| after.variables.iter().find(|one| one.name == name).unwrap().default;
    assert_eq!((worth("gaze-speed"), worth("keep-hurrying")), (1.4, 1.0));
    // The result is a profile like any other, and the file says the same when it is written.
    compile(after, Layout::default());
    let again = Player::read(&Source::new("p", player.text()))
        .unwrap_or_else(|e| panic!("{e}\n{}", player.text()));
    assert_eq!(again.text(), player.text());
    assert_eq!(format!("{:?}", again.apply(&profile).profile), format!("{after:?}"));
}

#[test]
fn what_does_not_fit_is_told_and_left_out() {
    let profile = profile(PROFILE);
    let before = format!("{profile:?}");
    for (text, wanted) in [
        (
            "[setting]\ngaze-sped = 2\n",
            "player.toml:3:1: there is no setting `gaze-sped`; did you mean `gaze-speed`?",
        ),
        (
            "[setting]\ngaze-speed = 4.1\n",
            "player.toml:3:1: `gaze-speed` cannot be 4.1; it is 0.2 to 4",
        ),
        ("[setting]\ngaze-speed = true\n", "`gaze-speed` is a number"),
        ("[setting]\nkeep-hurrying = 1\n", "`keep-hurrying` is on or off"),
        (
            "[replace.\"quay.hial@desk\"]\n\"key.KeyH\" = \"key.KeyG\"\n",
            "player.toml:3:1: there is no action `quay.hial`; did you mean `quay.hail`?",
        ),
        (
            "[replace.\"quay.hail@dsk\"]\n\"key.KeyH\" = \"key.KeyG\"\n",
            "there is no scheme `dsk`; did you mean `desk`?",
        ),
        (
            "[replace.\"quay.hail@desk\"]\n\"key.KeyQ\" = \"key.KeyG\"\n",
            "quay.hail@desk has no `key.KeyQ`; did you mean `key.KeyH`?",
        ),
        (
            "[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyGG\"\n",
            "there is no control `key.KeyGG`; did you mean `key.KeyG`?",
        ),
        (
            "[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"pad.south\"\n",
            "the scheme `desk` has no `pad` device; choose a control of key or mouse",
        ),
        (
            "[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.Escape\"\n",
            "`key.Escape` is reserved",
        ),
        (
            "[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"mouse.move\"\n",
            "`mouse.move` is relative, and cannot take the place of `key.KeyH`, which is a button",
        ),
        (
            "[replace.\"quay.gaze@desk\"]\n\"mouse.move\" = \"mouse.wheel.y\"\n",
            "choose what gives a plane",
        ),
        (
            "[replace.\"quay.pull@pad\"]\n\"pad.left-trigger\" = \"pad.south\"\n",
            "`pad.south` is a button",
        ),
        (
            "[replace.\"quay.grab@desk\"]\n\"key.F1\" = \"key.F2\"\n",
            "`key.F1` cannot be rebound in quay.grab@desk",
        ),
        (
            "[replace.\"quay.grab@desk\"]\n\"key.Insert\" = \"key.F2\"\n",
            "quay.grab@desk has no `key.Insert`",
        ),
        (
            "[replace.\"quay.fixed@desk\"]\n\"key.KeyX\" = \"key.F2\"\n",
            "quay.fixed cannot be rebound",
        ),
        ("[also]\n\"quay.fixed@desk\" = [\"key.F2\"]\n", "quay.fixed cannot be rebound"),
        (
            "[also]\n\"quay.walk@desk\" = [\"key.F2\"]\n",
            "`key.F2` is a button, which cannot drive quay.walk; quay.walk is a plane",
        ),
        ("[also]\n\"quay.hail@desk\" = [\"key.Escape\"]\n", "`key.Escape` is reserved"),
        ("[also]\n\"quay.hail@desk\" = [\"pad#9.south\"]\n", "does not number a device"),
        ("[also]\n\"quay.hail@desk\" = [\"char.ab\"]\n", "does not name one character"),
    ] {
        let text = format!("harmonym-player = 1\n{text}");
        let source = Source::new("player.toml", text.as_str());
        let player = Player::read(&source).unwrap_or_else(|e| panic!("{e}"));
        let applied = player.apply(&profile);
        let [note] = &applied.notes[..] else { panic!("{text}: {:?}", applied.notes) };
        let told = note.in_source(&source).to_string();
        assert!(told.contains(wanted), "{text}: {told}");
        assert_eq!(format!("{:?}", applied.profile), before, "{text}");
        assert!(applied.is_foreign, "nothing of it fits");
    }
    let some = read("[setting]\ngaze-speed = 2\nold = 1\n").apply(&profile);
    assert!(!some.is_foreign && some.notes.len() == 1);
}

#[test]
fn what_reaches_another_action_too_is_noted() {
    let profile = profile(PROFILE);
    for (new, wanted) in [
        ("key.KeyG", Some("`key.KeyG` reaches quay.grab as well as quay.hail")),
        // Two solo maps are never open together; a layer lies over others.
        ("key.KeyT", None),
        ("key.KeyB", Some("`key.KeyB` reaches book.close")),
        ("key.Insert", Some("`key.Insert` reaches quay.grab")),
        ("key.Shift", Some("`key.Shift` reaches quay.grab")),
        ("char.w", Some("`char.w` reaches quay.walk")),
        ("key#2.KeyW", Some("`key#2.KeyW` reaches quay.walk")),
        ("key.KeyY", None),
    ] {
        let text = format!("[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"{new}\"\n");
        let notes = read(&text).apply(&profile).notes;
        match wanted {
            None => assert!(notes.is_empty(), "{new}: {notes:?}"),
            Some(wanted) => {
                assert!(notes.len() == 1 && notes[0].message.contains(wanted), "{new}: {notes:?}");
            }
        }
    }
}

#[test]
fn a_control_of_another_action_is_refused_swapped_or_taken() {
    let profile = profile(PROFILE);
    let bind = |player: &mut Player, old: &str, new: &str, on| {
        player.bind(&profile, "quay.hail@desk", (old, new), on)
    };
    let mut player = Player::default();
    let (why, _) = bind(&mut player, "key.KeyH", "key.KeyG", OnConflict::Refuse).unwrap_err();
    assert_eq!((why.as_str(), player.is_empty()), ("`key.KeyG` is quay.grab's", true));
    bind(&mut player, "key.KeyH", "key.KeyG", OnConflict::Swap).unwrap();
    let after = player.apply(&profile);
    assert!(after.notes.is_empty());
    assert_eq!(bound(&after.profile, "quay.grab")[0], "desk#1 key.ShiftLeft + key.KeyH");
    assert_eq!(bound(&after.profile, "quay.hail")[0], "desk#1 key.KeyG");
    // Named by what the player has; the profile's own takes the change back.
    bind(&mut player, "key.KeyG", "key.KeyY", OnConflict::Refuse).unwrap();
    assert_eq!(bound(&player.apply(&profile).profile, "quay.hail")[0], "desk#1 key.KeyY");
    let (why, _) = bind(&mut player, "key.KeyY", "key.KeyH", OnConflict::Refuse).unwrap_err();
    assert_eq!(why, "`key.KeyH` is quay.grab's");
    bind(&mut player, "key.KeyY", "key.KeyH", OnConflict::Steal).unwrap();
    let after = player.apply(&profile);
    assert_eq!(bound(&after.profile, "quay.grab")[0], "desk#1 key.ShiftLeft + none");
    assert!(player.replaced.iter().all(|one| one.of.text != "quay.hail@desk"));
    player.reset(Some("quay.grab"));
    assert!(player.is_empty());
    // What cannot be rebound is not taken.
    let (why, _) = bind(&mut player, "key.KeyH", "key.KeyX", OnConflict::Steal).unwrap_err();
    assert_eq!(why, "`key.KeyX` is quay.fixed's, which cannot be rebound");
    // An action has a control once; so nothing goes round in a circle.
    let (why, _) = player
        .bind(&profile, "quay.walk@desk", ("key.KeyW", "key.KeyS"), OnConflict::Swap)
        .unwrap_err();
    assert_eq!(why, "quay.walk@desk has `key.KeyS` already");
    player.also(&profile, "quay.hail@desk", "key.KeyJ", OnConflict::Refuse).unwrap();
    let (why, _) =
        player.also(&profile, "quay.hail@desk", "key.KeyJ", OnConflict::Refuse).unwrap_err();
    assert_eq!(why, "quay.hail@desk has `key.KeyJ` already");
    let grab = |player: &mut Player, on| {
        player.bind(&profile, "quay.grab@desk", ("key.KeyG", "key.KeyJ"), on)
    };
    assert!(grab(&mut player, OnConflict::Refuse).is_err());
    grab(&mut player, OnConflict::Swap).unwrap();
    assert_eq!(player.also[0].control.text, "key.KeyG");
    player.clear(&profile, "quay.hail@desk", "key.KeyG").unwrap();
    player.clear(&profile, "quay.hail@desk", "key.KeyH").unwrap();
    assert_eq!(bound(&player.apply(&profile).profile, "quay.hail"), ["pad#1 pad.north"]);
    assert!(player.clear(&profile, "quay.hail@desk", "key.KeyZ").is_err());
    player.set(&profile, "gaze-speed", "4").unwrap();
    player.set(&profile, "keep-hurrying", "on").unwrap();
    assert!(
        player.set(&profile, "gaze-speed", "0.1").is_err()
            && player.set(&profile, "gaze-speed", "on").is_err()
    );
    assert!(
        player.set(&profile, "gaze-speed", "NaN").is_err()
            && player.set(&profile, "sped", "1").is_err()
    );
    player.reset(Some("gaze-speed"));
    assert_eq!(player.settings.len(), 1);
    player.reset(None);
    assert!(player.is_empty());
}

/// Some controls, of all kinds.
fn any_control() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec![
        "key.KeyW",
        "key.KeyA",
        "key.KeyH",
        "key.KeyG",
        "key.KeyT",
        "key.KeyB",
        "key.KeyJ",
        "key.KeyY",
        "key.ArrowUp",
        "key.ShiftLeft",
        "key.Escape",
        "pad.north",
        "pad.south",
        "pad.left-stick",
        "pad.right-stick",
        "pad.right-trigger",
        "pad.left-trigger",
        "mouse.move",
        "mouse.back",
        "char.q",
        NONE,
    ])
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(256) })]

    /// Whatever a player changes: it can be written and read again, fits a later version of the profile or
    /// is told and left out, is never lost by that, and no other action has the control.
    #[test]
    fn changes_are_written_read_and_fit_a_later_profile(
        changes in prop::collection::vec((0_u8..5, prop::sample::select(vec!["quay.walk@desk", "quay.walk@pad",
            "quay.hail@desk", "quay.hail@pad", "quay.grab@desk", "quay.gaze@desk", "quay.pull@pad", "tug.whistle@desk",
            "book.close@desk"]), any_control(), any_control(), 0_u8..3), 0..20),
        gone in 0_u8..8,
    ) {
        let shipped = profile(PROFILE);
        let mut player = Player::default();
        for (what, of, old, new, on) in changes {
            let on = [OnConflict::Refuse, OnConflict::Swap, OnConflict::Steal][usize::from(on)];
            let before = player.clone();
            let done = match what {
                0 | 1 => player.bind(&shipped, of, (old, new), on),
                2 => player.also(&shipped, of, new, on),
                3 => player.clear(&shipped, of, old),
                _ => { player.reset(Some(of)); Ok(()) }
            };
            match done {
                Err(_) => prop_assert_eq!(&player, &before, "what is refused changes nothing"),
                Ok(()) if what < 3 && on != OnConflict::Steal => {
                    let clashes = |player: &Player| player.apply(&shipped).notes.len();
                    prop_assert!(clashes(&player) <= clashes(&before), "{}", player.text());
                }
                Ok(()) => {}
            }
        }
        let applied = player.apply(&shipped);
        prop_assert!(applied.notes.iter().all(|note| note.rule == "shared"), "all of it fits: {:?}", applied.notes);
        compile(&applied.profile, Layout::default());
        let text = player.text();
        let again = Player::read(&Source::new("p", text.as_str()));
        prop_assert!(again.is_ok(), "{}\n{text}", again.unwrap_err());
        let again = again.unwrap();
        prop_assert_eq!(again.text(), text.as_str());
        // A later version without some of it.
        let later = PROFILE
            .replace(if gone & 1 > 0 { "\"key.KeyH\"" } else { "\u{0}" }, "\"key.KeyU\"")
            .replace(if gone & 2 > 0 { "map.quay.grab" } else { "\u{0}" }, "map.quay.seize")
            .replace(if gone & 4 > 0 { "four(key.KeyW, " } else { "\u{0}" }, "four(key.KeyQ, ");
        let applied = again.apply(&profile(&later));
        compile(&applied.profile, Layout::default());
        prop_assert_eq!(again.text(), text.as_str(), "nothing of the player's is gone");
    }
}

#[test]
fn a_name_in_the_middle_of_another_is_not_exchanged() {
    let profile = profile(
        "harmonym = 1\nscheme.desk.devices = [\"ipad\", \"pad\"]\ndevice.ipad.controls = { south = \"button\" }\n\
         [map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\n\
         bind.desk = \"any(ipad.south, pad.south, pad.south | scale 0.5)\"\n",
    );
    let player = read("[replace.\"quay.hail@desk\"]\n\"pad.south\" = \"pad.north\"\n");
    let applied = player.apply(&profile).profile;
    let texts: Vec<&str> = applied
        .actions
        .iter()
        .flat_map(|action| &action.bindings)
        .map(|binding| binding.text.as_str())
        .collect();
    assert_eq!(texts, ["any(ipad.south, pad.north, pad.north | scale 0.5)"]);
}
