//! Scores after edits of their profile: what could be read still can, and says what it said.

mod gate;

use harmonym_lab::edit::{Draft, Fields, Value};
use harmonym_lab::score::{self, Outcome, try_score};
use harmonym_lang::load;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;
use std::sync::Arc;

const TEXT: &str = "\
harmonym = 1

[scheme.desk]
devices = [\"key\", \"mouse\"]

[scheme.pad]
devices = [\"pad\"]

[device.bench]
controls = { ahead = \"axis\" }

[scheme.levers]
devices = [\"bench\"]

[setting.knot-time]
default = 800
range = [100, 900]
unit = \"ms\"

[fact.beside-tug]

[preset]
stick = \"deadzone 0.1 full=0.96\"

[map.quay]
start = true

[map.quay.walk]
value = \"plane\"
bind.desk = \"four(up=key.KeyW, left=key.KeyA, down=key.KeyS, right=key.KeyD)\"
bind.pad = \"pad.left-stick | @stick\"

[map.quay.hail]
value = \"switch\"
bind.desk = \"key.KeyH\"
fire = \"tap 0.3s without walk\"

[map.quay.tie-knot]
value = \"switch\"
bind.desk = [\"key.KeyE\", \"key.KeyF\"]
fire = \"hold knot-time when beside-tug or repeat 0.2s after=0.5s with hail\"

[map.tug]
also = [\"quay.walk\"]

[map.tug.engine]
value = \"axis\"
bind.levers = \"bench.ahead | deadzone 0.1\"
bind.desk = \"pair(key.KeyZ, key.KeyX)\"
fire = \"while without quay.tie-knot\"

[map.tug.whistle]
value = \"switch\"
bind.desk = \"key.KeyV\"
yields-to = [\"engine\"]

[map.log-book]
kind = \"layer\"

[map.log-book.turn-page]
value = \"axis\"
bind.desk = \"pair(key.ArrowLeft, key.ArrowRight)\"
bind.pad = \"pad.right-stick.x\"
";

const SCORE: &str = "\
# quay.walk and the tug: words in comments stay.
title \"quay.walk\"
start quay
at 0.1s   press key.KeyE for 0.2s   # tie-knot
at 0.5s   push bench.ahead to 0.5
at 1s open tug
at 2s fact beside-tug = 1
at 3s setting knot-time = 700
at 4s scheme pad
after 0.5s scheme all
expect quay.tie-knot wakes once
expect tie-knot lapses because too-short
expect scheme pad at 4.2s
expect hail never fires by \"tap 0.3s without quay.walk\"
expect map tug open at 5s
";

/// More hands, with names alone and with their maps.
const HANDS: &str = "\
at 0s fact beside-tug = 1
at 0.1s press key.KeyH for 0.1s
at 0.5s press key.KeyE for 1.2s
at 0.6s press key.KeyH for 1s
at 2s press key.KeyD for 0.5s
at 3s open tug
after 0.1s push bench.ahead to 0.8
after 0.4s open log-book
after 0.1s press key.ArrowRight for 0.2s
at 4s setting knot-time = 200
at 4.5s open quay
at 5s press key.KeyF for 0.5s
expect hail fires once
expect tie-knot fires by \"hold knot-time when beside-tug\"
expect quay.tie-knot fires 2 times
expect walk = (1, 0) at 2.2s
expect engine = 0.777777778 within 0.1 at 3.3s
expect engine fires
expect turn-page fires once
expect map log-book open
expect map log-book closed at 1s
expect whistle never wakes
";

fn plan(text: &str) -> Arc<Plan> {
    let loaded = load(&Source::new("t", text));
    let (_, plan) = loaded.unwrap_or_else(|faults| panic!("{faults}\n{text}"));
    Arc::new(plan)
}

/// A score after an edit of `TEXT`, as long as that gives a sound profile.
fn followed(
    score: &str,
    edit: impl Fn(&mut Draft) -> Result<(), Faults>,
) -> Result<String, String> {
    let mut draft = Draft::new(&Source::new("t", TEXT));
    edit(&mut draft).unwrap_or_else(|faults| panic!("{faults}"));
    let (before, after) = (plan(TEXT), plan(draft.text()));
    let source = Source::new("a.score", score);
    let followed = draft.follow(&source, &before, &after);
    followed.map(|followed| followed.text).map_err(|faults| faults.to_string())
}

#[test]
fn scores_follow_a_rename_and_nothing_else_in_them_changes() {
    let after = |old: &str, new: &str| followed(SCORE, |d| d.rename(old, new).map(|_| ())).unwrap();
    let named = |old: &str, new: &str| SCORE.replace(old, new);
    assert_eq!(after("device.bench", "brass"), named("bench.", "brass."));
    assert_eq!(after("fact.beside-tug", "near"), named("fact beside-tug", "fact near"));
    assert_eq!(after("setting.knot-time", "wait"), named("setting knot-time", "setting wait"));
    assert_eq!(after("scheme.pad", "thumbs"), named("scheme pad", "scheme thumbs"));
    assert_eq!(
        after("tug", "boat"),
        named("open tug", "open boat").replace("map tug open", "map boat open")
    );
    assert_eq!(
        after("quay", "pier"),
        named("start quay", "start pier")
            .replace("expect quay.", "expect pier.")
            .replace("without quay.walk", "without pier.walk")
    );
    assert_eq!(
        after("quay.tie-knot", "make-fast"),
        named("expect quay.tie-knot", "expect quay.make-fast")
            .replace("expect tie-knot", "expect make-fast")
    );
    assert_eq!(after("quay.walk", "stroll"), named("quay.walk\"\nexpect", "quay.stroll\"\nexpect"));
    assert_eq!(after("preset.stick", "soft"), SCORE);
    let with_setting = "expect tie-knot fires by \"hold knot-time when beside-tug\"\n";
    let after = followed(with_setting, |d| d.rename("setting.knot-time", "wait").map(|_| ()));
    assert_eq!(after.unwrap(), with_setting.replace("knot-time", "wait"));
}

#[test]
fn a_name_that_is_no_longer_clear_is_written_out_with_its_map() {
    let switch: Fields = vec![("value".to_owned(), Value::Text("switch".to_owned()))];
    let wanted = HANDS.replace("expect hail", "expect quay.hail");
    let added = followed(HANDS, |d| d.add_action("tug.hail", &switch).map(|_| ()));
    assert_eq!(added.unwrap(), wanted);
    let renamed = followed(HANDS, |d| d.rename("tug.engine", "hail").map(|_| ())).unwrap();
    assert_eq!(renamed, wanted.replace("expect engine", "expect tug.hail"));
    let copied = followed(HANDS, |d| d.copy("tug.whistle", "log-book.whistle").map(|_| ()));
    assert_eq!(copied.unwrap(), HANDS.replace("expect whistle", "expect tug.whistle"));
    let all = ["hail", "tie-knot", "walk"];
    let wanted = all.iter().fold(HANDS.to_owned(), |text, name| {
        text.replace(&format!("expect {name}"), &format!("expect quay.{name}"))
    });
    assert_eq!(followed(HANDS, |d| d.copy("quay", "pier").map(|_| ())).unwrap(), wanted);
    // What begins an expectation of something else is no name of an action alone.
    for word in ["scheme", "map", "seat"] {
        let after = followed(HANDS, |d| d.rename("quay.hail", word).map(|_| ())).unwrap();
        assert_eq!(after, HANDS.replace("expect hail", &format!("expect quay.{word}")));
    }
}

#[test]
fn what_a_score_still_names_is_not_removed_unless_its_line_goes_too() {
    let twice = format!("{HANDS}expect log-book.turn-page lapses\n");
    let told = followed(&twice, |d| d.remove("log-book.turn-page", false)).unwrap_err();
    assert!(told.contains("a.score:19:8: ") && told.contains("a.score:23:8: "), "{told}");
    assert!(told.contains("still names the action `log-book.turn-page`"), "{told}");
    assert!(told.contains("--force"), "{told}");
    let after = followed(HANDS, |d| d.remove("setting.knot-time", true)).unwrap();
    let left = HANDS.lines().filter(|line| !line.contains("knot-time"));
    assert!(after.lines().eq(left), "{after}");
    let after = followed(HANDS, |d| d.remove("tug.whistle", true)).unwrap();
    assert_eq!(after, HANDS.replace("expect whistle never wakes\n", ""));
    let told = followed(HANDS, |d| d.remove("map.log-book", true)).unwrap_err();
    assert!(told.contains("a.score:8:17") && told.contains("`at 1.5s`"), "{told}");
    let spaced = HANDS.replace("after 0.1s press key.ArrowRight", "at 3.6s press key.ArrowRight");
    let after = followed(&spaced, |d| d.remove("map.log-book", true)).unwrap();
    assert!(!after.contains("log-book") && !after.contains("turn-page"), "{after}");
    assert_eq!(after.lines().count(), spaced.lines().count() - 4);
}

#[test]
fn a_copy_in_another_map_names_what_the_first_one_named() {
    let mut draft = Draft::new(&Source::new("t", TEXT));
    draft.copy("tug.whistle", "log-book.whistle").unwrap();
    draft.copy("quay.hail", "tug.call").unwrap();
    plan(draft.text());
    let part = |from: &str| &draft.text()[draft.text().find(from).unwrap()..];
    assert!(part("[map.log-book.whistle]").contains("yields-to = [\"tug.engine\"]"));
    assert!(part("[map.tug.call]").contains("fire = \"tap 0.3s without quay.walk\""));
}

#[test]
fn what_can_no_longer_be_read_is_refused_at_its_place() {
    let aboard = "title \"Aboard\"\nstart tug\n";
    let told = followed(aboard, |d| d.set("tug.kind", &["layer".to_owned()])).unwrap_err();
    assert!(told.starts_with("a.score:2:7: "), "{told}");
    // One that had faults before is no hindrance, and follows as far as it can be read.
    let faulty = "at 1s nonsense\nexpect hail fires\nexpect nobody fires\n";
    let after = followed(faulty, |d| d.rename("quay.hail", "call").map(|_| ())).unwrap();
    assert_eq!(after, faulty.replace("hail", "call"));
}

/// What comes of a score, its texts left out: those may name things.
fn outcomes(plan: &Arc<Plan>, text: &str) -> Option<Vec<bool>> {
    let score = score::read(&Source::new("s", text), plan).ok()?;
    let passed = |one: Outcome| one.pass;
    Some(try_score(plan, &score, None).into_iter().map(passed).collect())
}

/// Few names, so that they meet.
const NAMES: [&str; 9] =
    ["walk", "hail", "engine", "tug", "quay", "map", "scheme", "knot-time", "log-book"];
const THINGS: [&str; 13] = [
    "map.quay",
    "map.tug",
    "map.log-book",
    "quay.walk",
    "quay.hail",
    "quay.tie-knot",
    "tug.engine",
    "tug.whistle",
    "log-book.turn-page",
    "scheme.pad",
    "setting.knot-time",
    "fact.beside-tug",
    "device.bench",
];

fn random_edit(draft: &mut Draft, edit: (u8, usize, usize, usize)) -> Result<bool, Faults> {
    let (kind, which, name, map) = edit;
    let (thing, name) = (THINGS[which], NAMES[name]);
    let place = format!("{}.{name}", ["quay", "tug", "log-book"][map]);
    let switch: Fields = vec![("value".to_owned(), Value::Text("switch".to_owned()))];
    match kind {
        0..=3 => draft.rename(thing, name)?,
        4 => {
            let new = if thing.contains('.') && !thing.starts_with("map.") { &place } else { name };
            draft.copy(thing, new)?;
            return Ok(false);
        }
        5 => {
            draft.add_action(&place, &switch)?;
            return Ok(false);
        }
        6 => {
            draft.remove(thing, map > 0)?;
            return Ok(false);
        }
        _ => {
            let value = ["switch", "axis", "plane"][map];
            draft.set(&format!("{thing}.value"), &[value.to_owned()])?;
            return Ok(false);
        }
    };
    Ok(true)
}

#[test]
fn a_cue_that_is_set_otherwise_is_expected_otherwise() {
    const RULES: &str = "harmonym = 1\n[map.quay]\nstart = true\n[map.quay.tie-knot]\n\
        value = \"switch\"\nfire = \"tap   0.2s or hold 0.8s\"\n";
    let expect = |cue: &str| format!("expect tie-knot fires by \"{cue}\"   # why\n");
    let after = |score: &str, edit: &dyn Fn(&mut Draft)| {
        let mut draft = Draft::new(&Source::new("t", RULES));
        edit(&mut draft);
        let (before, after) = (plan(RULES), plan(draft.text()));
        draft.follow(&Source::new("a.score", score), &before, &after).unwrap()
    };
    let set = |value: &'static str| {
        move |draft: &mut Draft| draft.set("quay.tie-knot.fire", &[value.to_owned()]).unwrap()
    };
    for (old, value, new) in [
        ("hold 0.8s", "tap 0.2s or hold 0.6s", "hold 0.6s"),
        ("hold  0.8s", "tap 0.3s or hold 0.6s", "hold 0.6s"),
        ("tap 0.2s", "tap 0.2s or hold 0.6s", "tap 0.2s"),
        ("tap 0.2s", "hold 0.8s or tap 0.2s", "tap 0.2s"),
        ("tap 0.2s", "press or hold 0.8s", "press"),
    ] {
        let followed = after(&expect(old), &set(value));
        assert_eq!(followed.text, expect(new), "{old} {value}");
        assert!(followed.unmet.is_empty(), "{followed:?}");
    }
    // Spaces are no other cue: tidying changes nothing of a score, and nothing of what it gives.
    let followed = after(&expect("tap   0.2s"), &|draft| draft.tidy());
    assert_eq!((followed.text, followed.unmet), (expect("tap   0.2s"), Vec::new()));
    // What has no place any more stays, and is told.
    let followed = after(&expect("hold 0.8s"), &set("tap 0.2s"));
    assert_eq!(followed.text, expect("hold 0.8s"));
    let told = "a.score:1:1: quay.tie-knot never fires by \"hold 0.8s\"; write by \"tap 0.2s\"";
    assert_eq!(followed.unmet, [told]);
    let because = "expect tie-knot lapses because too-short\n";
    let followed = after(because, &set("tap 0.2s"));
    assert!(followed.unmet[0].contains("never lapses because too-short"), "{followed:?}");
    // What could not be met before is no fault of the edit.
    let followed = after(&expect("nonsense"), &set("tap 0.2s"));
    assert_eq!((followed.text, followed.unmet), (expect("nonsense"), Vec::new()));
}

proptest! {
    #![proptest_config(gate::gate(200))]
    /// Many edits one after the other: each score can be read after each, and no rename, copy or
    /// new name changes what comes of it.
    #[test]
    fn scores_stay_sound_through_random_edits(
        edits in prop::collection::vec((0..8_u8, 0..THINGS.len(), 0..NAMES.len(), 0..3_usize), 1..10),
    ) {
        let mut text = TEXT.to_owned();
        let mut scores = [SCORE.to_owned(), HANDS.to_owned()];
        for edit in edits {
            let mut draft = Draft::new(&Source::new("t", text.as_str()));
            let Ok(is_rename) = random_edit(&mut draft, edit) else { continue };
            let Ok((_, after)) = load(&Source::new("t", draft.text())) else { continue };
            let (before, after) = (plan(&text), Arc::new(after));
            let follow = |score: &String| {
                let followed = draft.follow(&Source::new("s", score.as_str()), &before, &after);
                followed.map(|followed| followed.text)
            };
            let (Ok(first), Ok(second)) = (follow(&scores[0]), follow(&scores[1])) else { continue };
            for (old, new) in scores.iter().zip([&first, &second]) {
                let (old, came) = (outcomes(&before, old), outcomes(&after, new));
                prop_assert!(came.is_some(), "{}\n{}", draft.text(), new);
                prop_assert!(!is_rename || old == came, "{:?} {:?}\n{}\n{}", old, came, draft.text(), new);
            }
            text = draft.text().to_owned();
            scores = [first, second];
        }
    }
}
