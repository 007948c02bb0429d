//! Details of editing: numbers inside expressions, parts of combinations, rows, places in the text.

use harmonym_lab::edit::{Address, Done, Draft, Locator, Row, Thing, export, renamed_in_score};
use harmonym_lang::load;
use harmonym_lang::source::Source;

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
unit = \"ms\"

[fact.beside-tug]

[preset]
stick = \"deadzone 0.1 full=0.96 | curve 1.6\"

[map.quay]
start = true

[map.quay.walk]
value = \"plane\"
bind.desk = [\"four(up=key.KeyW, left=key.KeyA, down=key.KeyS, right=key.KeyD)\", \"(pair(key.KeyN, key.KeyP | scale 0.5) | scale 2) | onto x\"]
bind.pad = \"pad.left-stick | @stick | scale 1 0.5 | scale 2 | ways 8 from=10deg\"
shape = \"ease rise=4/s fall=8/s | clamp -0.5 0.5\"

[map.quay.tie-knot]
value = \"switch\"
bind.desk = \"key.KeyE\"
fire = \"hold knot-time when beside-tug or taps 3 gap=0.3s or repeat 0.2s after=0.5s\"

[map.tug]
also = [\"quay.walk\"]

[map.tug.engine]
value = \"axis\"
bind.levers = \"bench.ahead | deadzone 0.1\"
bind.desk = \"pair(key.KeyS, key.KeyW)\"
fire = \"while with quay.tie-knot\"
";

fn draft(text: &str) -> Draft {
    load(&Source::new("t", text)).unwrap_or_else(|faults| panic!("{faults:#?}\n{text}"));
    Draft::new(&Source::new("t", text))
}

/// The only line that a change makes another.
fn line_after(address: &str, value: &str) -> String {
    let mut one = draft(TEXT);
    one.set(address, &[value.to_owned()]).unwrap_or_else(|refused| panic!("{refused:?}"));
    let changed: Vec<&str> = one
        .text()
        .lines()
        .zip(TEXT.lines())
        .filter(|(new, old)| new != old)
        .map(|(new, _)| new)
        .collect();
    assert_eq!(one.text().lines().count(), TEXT.lines().count(), "{address}");
    assert_eq!(changed.len(), 1, "{address}: {changed:?}");
    draft(one.text());
    changed[0].to_owned()
}

#[test]
fn numbers_are_addressed_by_the_step_or_cue_they_belong_to() {
    for (address, value, wanted) in [
        ("preset.stick.deadzone", "0.2", "stick = \"deadzone 0.2 full=0.96 | curve 1.6\""),
        ("preset.stick.deadzone.full", "0.9", "stick = \"deadzone 0.1 full=0.9 | curve 1.6\""),
        (
            "preset.stick.deadzone.by",
            "axes",
            "stick = \"deadzone 0.1 full=0.96 by=axes | curve 1.6\"",
        ),
        ("preset.stick.curve", "2", "stick = \"deadzone 0.1 full=0.96 | curve 2\""),
        ("quay.walk@pad#1.scale", "3", "| scale 3 0.5 | scale 2 |"),
        ("quay.walk@pad#1.scale.2", "3", "| scale 1 3 | scale 2 |"),
        ("quay.walk@pad#1.scale#2", "3", "| scale 1 0.5 | scale 3 |"),
        ("quay.walk@pad.ways.from", "20deg", "ways 8 from=20deg\""),
        ("walk@desk#2.scale", "0.25", "key.KeyP | scale 0.25) | scale 2)"),
        ("walk@desk#2.scale#2", "4", "key.KeyP | scale 0.5) | scale 4)"),
        ("quay.walk.shape.ease.fall", "9/s", "shape = \"ease rise=4/s fall=9/s | clamp -0.5 0.5\""),
        ("quay.walk.shape.clamp.2", "0.75", "shape = \"ease rise=4/s fall=8/s | clamp -0.5 0.75\""),
        ("tie-knot.fire.hold", "1s", "fire = \"hold 1s when beside-tug or"),
        ("tie-knot.fire.taps", "2", "or taps 2 gap=0.3s or"),
        ("tie-knot.fire.taps.gap", "0.4s", "or taps 3 gap=0.4s or"),
        ("tie-knot.fire.repeat.after", "knot-time", "or repeat 0.2s after=knot-time\""),
        ("setting.knot-time.default", "700", "default = 700"),
        ("tug.engine@levers", "bench.ahead", "bind.levers = \"bench.ahead\""),
        (
            "engine.bind.desk",
            "pair(key.KeyJ, key.KeyK)",
            "bind.desk = \"pair(key.KeyJ, key.KeyK)\"",
        ),
    ] {
        let line = line_after(address, value);
        assert!(line.contains(wanted), "{address}: {line}");
    }
    for (address, part) in [
        ("preset.stick.scale", "deadzone, curve"),
        ("quay.walk@pad#1.scale#3", "there are 2"),
        ("quay.walk@pad#1.scale.3", "set the whole step"),
        ("tie-knot.fire.hold.gap.x", "gap"),
        ("tie-knot.shape.scale", "set all of it"),
    ] {
        let mut one = draft(TEXT);
        match one.set(address, &["1".to_owned()]) {
            Err(refused) => {
                let told = refused.to_string();
                assert!(told.contains(part), "{address}: {told}");
            }
            Ok(()) => assert!(load(&Source::new("t", one.text())).is_err(), "{address}"),
        }
    }
}

#[test]
fn a_part_of_a_combination_gets_another_control_and_keeps_its_steps() {
    for (address, part, control, wanted) in [
        ("quay.walk", "left", "key.KeyJ", "four(up=key.KeyW, left=key.KeyJ, down=key.KeyS"),
        ("quay.walk", "pos", "key.KeyM", "pair(key.KeyN, key.KeyM | scale 0.5)"),
        ("engine", "neg", "key.Control + key.KeyS", "pair(key.Control + key.KeyS, key.KeyW)"),
    ] {
        let mut one = draft(TEXT);
        let bound = one.set_part(address, part, control, None).unwrap_or_else(|e| panic!("{e:?}"));
        assert!(one.text().contains(wanted), "{}", one.text());
        assert!(bound.contains("@desk#"), "{bound}");
        draft(one.text());
    }
    let refused = draft(TEXT).set_part("tie-knot", "up", "key.KeyU", None).unwrap_err();
    assert!(refused.first().contains("has a part `up`"), "{refused}");
}

#[test]
fn addresses_lead_to_things_bindings_and_keys() {
    let raw = draft(TEXT).raw().clone();
    let parse = |text: &str| Address::parse(&raw, text);
    let action = |map: &str, name: &str| Some(Thing::Action(map.to_owned(), name.to_owned()));
    for (text, thing, binding, keys) in [
        ("quay", Some(Thing::Map("quay".into())), None, &[][..]),
        ("map.quay", Some(Thing::Map("quay".into())), None, &[]),
        ("quay.start", Some(Thing::Map("quay".into())), None, &["start"]),
        ("map.quay.walk", action("quay", "walk"), None, &[]),
        ("engine", action("tug", "engine"), None, &[]),
        ("engine.fire", action("tug", "engine"), None, &["fire"]),
        ("quay.walk@desk#2", action("quay", "walk"), Some(("desk".to_owned(), Some(2))), &[]),
        (
            "walk@pad.scale#2.x",
            action("quay", "walk"),
            Some(("pad".to_owned(), None)),
            &["scale#2", "x"],
        ),
        ("title", None, None, &["title"]),
        ("device.bench.controls", Some(Thing::Device("bench".into())), None, &["controls"]),
    ] {
        let keys: Vec<String> = keys.iter().map(|&key| key.to_owned()).collect();
        assert_eq!(parse(text), Ok(Address { thing, binding, keys }), "{text}");
    }
    for (text, part) in [
        ("quai", "`quay`"),
        ("quay.wak", "quay.walk"),
        ("setting.not-time", "setting.knot-time"),
        ("tug@desk", "name an action before the `@`"),
        ("walk@desk#0", "#1 to #2"),
        ("walk@slate", "quay.walk@desk"),
    ] {
        let refused = parse(text).expect_err(text);
        assert!(refused.to_string().contains(part), "{text}: {refused:?}");
    }
}

#[test]
fn scores_follow_a_rename_and_nothing_else_in_them_changes() {
    let score = "\
# quay.walk and the tug: words in comments stay.
title \"quay.walk\"
start quay
at 0.1s   press key.KeyE for 0.2s   # tie-knot
at 0.5s   push bench.ahead to 0.5
at 1s open tug
at 2s fact beside-tug = 1
at 3s setting knot-time = 700
at 4s scheme pad
expect quay.tie-knot fires by \"hold knot-time\"
expect tie-knot lapses because too-short
expect scheme pad at 4s
";
    let raw = draft(TEXT).raw().clone();
    let source = Source::new("s", score);
    let after = |thing: Thing, new: &str| {
        let mut text = score.to_owned();
        let mut splices = renamed_in_score(&raw, &source, &thing, new);
        splices.sort_by_key(|(span, _)| std::cmp::Reverse(*span));
        for (span, new) in splices {
            text.replace_range(span.start..span.end, &new);
        }
        text
    };
    let named = |old: &str, new: &str| score.replace(old, new);
    assert_eq!(after(Thing::Device("bench".into()), "brass"), named("bench.", "brass."));
    assert_eq!(
        after(Thing::Fact("beside-tug".into()), "near"),
        named("fact beside-tug", "fact near")
    );
    assert_eq!(
        after(Thing::Setting("knot-time".into()), "patience"),
        named("setting knot-time", "setting patience").replace("hold knot-time", "hold patience")
    );
    assert_eq!(
        after(Thing::Scheme("pad".into()), "thumbs"),
        named("at 4s scheme pad", "at 4s scheme thumbs")
            .replace("expect scheme pad", "expect scheme thumbs")
    );
    assert_eq!(after(Thing::Map("tug".into()), "boat"), named("open tug", "open boat"));
    assert_eq!(
        after(Thing::Map("quay".into()), "pier"),
        named("start quay", "start pier").replace("expect quay.", "expect pier.")
    );
    assert_eq!(
        after(Thing::Action("quay".into(), "tie-knot".into()), "bind-fast"),
        named("expect quay.tie-knot", "expect quay.bind-fast")
            .replace("expect tie-knot", "expect bind-fast")
    );
    assert_eq!(after(Thing::Map("elsewhere".into()), "x"), score);
}

#[test]
fn rows_say_what_a_profile_says_and_add_what_it_lacks() {
    let rows = export(draft(TEXT).raw());
    assert_eq!(rows.len(), 6);
    let mut one = draft(TEXT);
    for row in &rows {
        assert_eq!(one.take_row(row).map_err(|e| format!("{e:?}")), Ok(Done::Nothing), "{row:?}");
    }
    assert_eq!(one.text(), TEXT);
    let row =
        |map: &str, action: &str| Row { map: map.into(), action: action.into(), ..Row::default() };
    let whistle =
        Row { value: "switch".into(), binding: "pad.west".into(), ..row("tug", "whistle") };
    assert_eq!(
        one.take_row(&whistle).map_err(|e| format!("{e:?}")),
        Ok(Done::Added(vec!["tug.whistle".into(), "tug.whistle@pad#1".into()]))
    );
    let changed = Row { fire: "press".into(), ..row("quay", "tie-knot") };
    assert_eq!(
        one.take_row(&changed).map_err(|e| format!("{e:?}")),
        Ok(Done::Changed(vec!["quay.tie-knot.fire".into()]))
    );
    draft(one.text());
    let named = Row { map: "Quay Side".into(), ..row("", "Cast Line") }.with_names();
    assert_eq!((named.map.as_str(), named.action.as_str()), ("quay-side", "cast-line"));
}

#[test]
fn keys_are_located_to_the_word() {
    let locator = Locator::new(TEXT);
    let at = |path: &[&str], item, word| {
        let path: Vec<String> = path.iter().map(|&key| key.to_owned()).collect();
        let span = locator.span(&path, item, word);
        &TEXT[span.start..span.end]
    };
    let walk = ["map", "quay", "walk"];
    assert_eq!(at(&walk, None, None), "[map.quay.walk]");
    assert_eq!(at(&[&walk[..], &["value"]].concat(), None, None), "\"plane\"");
    let desk = [&walk[..], &["bind", "desk"]].concat();
    assert!(at(&desk, Some(1), None).starts_with("\"(pair("));
    assert_eq!(at(&desk, Some(0), Some("key.KeyA")), "key.KeyA");
    let pad = [&walk[..], &["bind", "pad"]].concat();
    assert_eq!(at(&pad, Some(0), Some("ways")), "ways");
    // What is not written is shown where it would stand.
    assert_eq!(at(&[&walk[..], &["levels"]].concat(), None, None), "[map.quay.walk]");
    assert_eq!(at(&["setting", "knot-time"], None, None), "[setting.knot-time]");
    assert_eq!(at(&["preset", "stick"], None, Some("curve")), "curve");
}
