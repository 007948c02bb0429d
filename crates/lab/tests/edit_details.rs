//! Details of editing: numbers inside expressions, parts of combinations, rows, places in the text.

use harmonym_lab::edit::{Address, Done, Draft, Locator, Row, Thing, Value, export};
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

#[test]
fn parts_that_go_by_their_place_get_another_control_too() {
    let text = TEXT.replace(
        "four(up=key.KeyW, left=key.KeyA, down=key.KeyS, right=key.KeyD)",
        "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)",
    );
    for (part, wanted) in [
        ("up", "four(key.KeyJ, key.KeyA, key.KeyS, key.KeyD)"),
        ("left", "four(key.KeyW, key.KeyJ, key.KeyS, key.KeyD)"),
        ("down", "four(key.KeyW, key.KeyA, key.KeyJ, key.KeyD)"),
        ("right", "four(key.KeyW, key.KeyA, key.KeyS, key.KeyJ)"),
    ] {
        let mut one = draft(&text);
        one.set_part("quay.walk", part, "key.KeyJ", None).expect(part);
        assert!(one.text().contains(wanted), "{}", one.text());
    }
}

#[test]
fn what_is_added_stands_after_its_like_and_the_sections_of_a_map_come_whole() {
    let mut one = draft(TEXT);
    one.add(&Thing::Setting("pace".into()), &vec![("default".into(), Value::Plain("1".into()))])
        .unwrap();
    let text = one.text();
    let at = |part: &str| text.find(part).unwrap_or_else(|| panic!("no {part} in {text}"));
    assert!(at("[setting.knot-time]") < at("[setting.pace]"));
    assert!(at("[setting.pace]") < at("[fact.beside-tug]"));
    // A comment right above a section stays with it.
    let text = TEXT.replace("\n[map.tug]\n", "# The tug.\n[map.tug]\n");
    let mut one = draft(&text);
    let value = Value::Text("switch".into());
    one.add(&Thing::Action("quay".into(), "moor".into()), &vec![("value".into(), value)]).unwrap();
    assert!(one.text().contains("# The tug.\n[map.tug]\n"), "{}", one.text());
    // So does a section that a text begins with, which no comment can stand above.
    let first =
        Source::new("t", "[map.quay.hail]\nvalue = \"switch\"\n\n[map.tug]\nstart = true\n");
    let mut one = Draft::new(&first);
    one.remove("quay.hail", false).unwrap();
    assert_eq!(one.text(), "[map.tug]\nstart = true\n");
    let tug = draft(TEXT).sections_of(&Thing::Map("tug".into()));
    assert!(tug.starts_with("[map.tug]\nalso") && tug.ends_with("quay.tie-knot\"\n"), "{tug}");
    assert!(!tug.contains("map.quay"));
    // A scheme's keys come in their usual order.
    let mut one = draft(TEXT);
    one.set("scheme.pad.label", &["Pad".to_owned()]).unwrap();
    one.set("scheme.pad.about", &["In both hands".to_owned()]).unwrap();
    assert!(
        one.text().contains("devices = [\"pad\"]\nabout = \"In both hands\"\nlabel = \"Pad\"\n"),
        "{}",
        one.text()
    );
    let mut one = draft(TEXT);
    one.add(&Thing::Device("lamp".into()), &vec![("controls".into(), Value::Table(Vec::new()))])
        .unwrap();
    assert!(one.text().contains("controls = {}"), "{}", one.text());
}

#[test]
fn a_copied_map_names_its_own_actions_and_leaves_others_alone() {
    let mut one =
        draft(&TEXT.replace("while with quay.tie-knot", "while with tug.engine-on").replace(
            "[map.tug.engine]",
            "[map.tug.engine-on]\nvalue = \"switch\"\nbind.desk = \"key.KeyO\"\n\n[map.tug.engine]",
        ));
    one.copy("tug", "barge").unwrap();
    let text = one.text();
    assert!(
        text.contains("while with barge.engine-on") && text.contains("while with tug.engine-on")
    );
    assert_eq!(text.matches("also = [\"quay.walk\"]").count(), 2, "{text}");
    // A copy into another map stands there.
    let mut one = draft(TEXT);
    one.copy("quay.tie-knot", "tug.tie-knot").unwrap();
    let at = |part: &str| one.text().find(part).unwrap_or_else(|| panic!("no {part}"));
    assert!(at("[map.tug]") < at("[map.tug.tie-knot]"), "{}", one.text());
}

#[test]
fn an_item_goes_on_a_line_of_its_own_where_the_others_do() {
    for (list, wanted) in [
        ("[\n  \"key.KeyE\", # first\n]", "[\n  \"key.KeyE\", # first\n  \"key.KeyF\",\n]"),
        ("[\n  \"key.KeyE\" # first\n]", "[\n  \"key.KeyE\", # first\n  \"key.KeyF\"\n]"),
        ("[\n  \"key.KeyE\",\n]", "[\n  \"key.KeyE\",\n  \"key.KeyF\",\n]"),
    ] {
        let text = TEXT.replace("bind.desk = \"key.KeyE\"", &format!("bind.desk = {list}"));
        let mut one = draft(&text);
        one.bind("tie-knot", &["key.KeyF".to_owned()], None).unwrap();
        assert!(one.text().contains(wanted), "{}", one.text());
        draft(one.text());
    }
}

#[test]
fn what_goes_leaves_its_number_in_the_unit_of_its_place() {
    let mut one = draft(TEXT);
    one.remove("setting.knot-time", true).unwrap();
    assert!(one.text().contains("fire = \"hold 800ms when"), "{}", one.text());
    // A setting without a unit has that of the place.
    let mut one = draft(&TEXT.replace("default = 800\nunit = \"ms\"", "default = 0.8"));
    one.remove("setting.knot-time", true).unwrap();
    assert!(one.text().contains("fire = \"hold 0.8s when"), "{}", one.text());
    let sequence = "[map.quay.signal]\nvalue = \"switch\"\n\
                    fire = \"sequence(tie-knot, hail, walk) within=1s\"\n\
                    [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n\n";
    let text = TEXT.replace("[map.tug]\n", &format!("{sequence}[map.tug]\n"));
    for (address, left) in [
        ("quay.hail", "sequence(tie-knot, walk) within=1s"),
        ("quay.tie-knot", "sequence(hail, walk) within=1s"),
    ] {
        let mut one = draft(&text);
        one.remove(address, true).unwrap();
        assert!(one.text().contains(left), "{address}: {}", one.text());
    }
}

#[test]
fn what_is_there_already_is_called_what_it_is() {
    let name = || "anything".to_owned();
    for (thing, kind) in [
        (Thing::Map(name()), "map"),
        (Thing::Action("quay".to_owned(), name()), "action"),
        (Thing::Scheme(name()), "scheme"),
        (Thing::Setting(name()), "setting"),
        (Thing::Fact(name()), "fact"),
        (Thing::Preset(name()), "preset"),
        (Thing::Device(name()), "device"),
    ] {
        assert_eq!((thing.kind(), thing.name()), (kind, "anything"));
    }
}

#[test]
fn levels_are_set_one_by_one() {
    let told = draft(TEXT).set("quay.walk.levels", &["3".to_owned()]).expect_err("three numbers");
    assert!(told.to_string().contains("`levels` is three numbers"), "{told}");
}

#[test]
fn a_row_without_a_scheme_of_its_own_counts_with_all() {
    let row = Row {
        map: "quay".into(),
        action: "walk".into(),
        scheme: "all".into(),
        binding: "pad.dpad".into(),
        ..Row::default()
    };
    let mut one = draft(TEXT);
    let done = one.take_row(&row).map_err(|faults| faults.to_string());
    assert_eq!(done, Ok(Done::Added(vec!["quay.walk@all#1".into()])));
    assert!(!one.text().contains("scheme.all"), "{}", one.text());
}

#[test]
fn of_several_expressions_those_are_bound_that_are_new() {
    let mut one = draft(TEXT);
    let all = ["key.KeyE", "key.KeyF", "key.KeyF", "pad.west  | flip"].map(str::to_owned);
    let bound = one.bind("quay.tie-knot", &all, None).unwrap();
    assert_eq!(bound.new, ["quay.tie-knot@desk#2", "quay.tie-knot@pad#1"]);
    let before = |expression: &str, at: &str| (expression.to_owned(), at.to_owned());
    assert_eq!(
        bound.before,
        [before("key.KeyE", "quay.tie-knot@desk#1"), before("key.KeyF", "quay.tie-knot@desk#2")]
    );
    assert!(one.text().contains("bind.desk = [\"key.KeyE\", \"key.KeyF\"]"), "{}", one.text());
    // The same with other spaces is the same; with nothing new there is nothing to do.
    let again = ["pad.west | flip", "key.KeyE"].map(str::to_owned);
    let refused = one.bind("quay.tie-knot", &again, None).unwrap_err().first();
    let told = "all 2 are bound there already: `pad.west | flip` as quay.tie-knot@pad#1";
    assert!(refused.contains(told), "{refused}");
}

#[test]
fn letters_of_an_order_are_no_setting_and_a_speed_keeps_its_unit() {
    let text = "harmonym = 1\n[scheme.pad]\ndevices = [\"pad\"]\n[setting.yx]\ndefault = 3\n\
                [map.quay]\nstart = true\n[map.quay.walk]\nvalue = \"plane\"\n\
                bind.pad = \"pad.left-stick | order yx | ease rise=yx fall=8/s | scale yx\"\n";
    load(&Source::new("t", text)).unwrap();
    let mut one = Draft::new(&Source::new("t", text));
    one.rename("setting.yx", "pace").unwrap();
    assert!(
        one.text().contains("| order yx | ease rise=pace fall=8/s | scale pace"),
        "{}",
        one.text()
    );
    one.remove("setting.pace", true).unwrap();
    assert!(one.text().contains("| order yx | ease rise=3/s fall=8/s | scale 3"), "{}", one.text());
    load(&Source::new("t", one.text())).unwrap();
}
