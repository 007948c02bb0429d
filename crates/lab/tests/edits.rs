//! Editing a profile's text: only what was asked for changes.

mod gate;

use harmonym_lab::edit::{Draft, Thing, Value};
use harmonym_lang::load;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Source;
use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use std::cell::Cell;

/// Profiles that say the same in many ways.
const ODD: &[&str] = &[
    // As the tool writes it, with comments of every kind.
    "# The quay.\n\nharmonym = 1 # format\n\n# people\n[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n\n\
     [scheme.pad]\ndevices = [\"pad\"]\n\n[setting.pace]\ndefault = 1.0\nrange = [0.5, 2]\n\n\
     [preset]\n# for sticks\nstick = \"deadzone 0.1 | scale pace\"\n\n# Ashore.\n[map.quay]\nstart = true\n\n\
     # How to get on.\n[map.quay.walk]\nvalue = \"plane\"\nbind.desk = [ # two hands\n  \
     \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\", # left\n  'four(key.ArrowUp, key.ArrowLeft, key.ArrowDown, key.ArrowRight)'\n]\n\
     bind.pad = \"pad.left-stick | @stick\"   # right\n\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n\
     fire = \"hold 0.5s with walk\"\n\n\n# ---- the tug ----\n\n[map.tug]\nalso = [\"quay.hail\"]\n\n[map.tug.whistle]\nvalue = 'switch'\n\
     bind.pad = 'pad.south'\nyields-to = [\"quay.hail\"]\n# the end",
    // Dots, braces, no empty lines, spaces anywhere.
    "harmonym=1\nscheme.desk.devices=[\"key\",\"mouse\"]\nscheme.pad = {devices = ['pad']}\nsetting.pace = { default = 1.0, range = [0.5, 2] }\n\
     preset.stick = \"deadzone 0.1 | scale pace\"\n  [ map . quay ]\n  start = true\n  walk = { value = \"plane\", bind = { desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\", pad = [\"pad.left-stick | @stick\"] } }\n\
     \x20 hail.value = \"switch\"\n  hail.bind.desk = \"key.KeyH\"\n  hail.fire = \"hold 0.5s with walk\"\n[map.tug]\nalso = [ \"quay.hail\" ]\n\
     [map.tug.whistle]\nvalue = \"switch\"\n[map.tug.whistle.bind]\npad = [\n\t\"pad.south\",\n]\n",
    // Quoted keys, tables in another order, texts over several lines.
    "harmonym = 1\n[map.\"quay\".walk.bind]\n\"desk\" = '''four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)'''\n'pad' = \"pad.left-stick | @stick\"\n\
     [map.quay.walk]\nvalue = \"plane\"\nabout = \"\"\"\nGet on,\n  [map.fake]\n# no comment\nwith care\"\"\"\n\n[map.quay]\n\"start\" = true\n\
     [map.quay.hail]\nvalue = \"switch\"\nbind = { desk = \"key.KeyH\" }\nfire = \"hold 0.5s with walk\"\n\n[map.tug.whistle]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\n\n\
     [map.tug]\nalso = [\"quay.hail\"]\n\n[preset]\nstick = \"deadzone 0.1 | scale \\u0070ace\"\n\n[setting.pace]\ndefault = 1.0\nrange = [\n  0.5,\n  2,\n]\n\n[scheme]\ndesk = { devices = [\"key\", \"mouse\"] }\npad.devices = [\"pad\"]\n",
];

/// The same with the line breaks of another system, a byte order mark, or no last line break.
fn texts() -> Vec<String> {
    let mut texts = Vec::new();
    for text in ODD {
        texts.push((*text).to_owned());
        texts.push(text.replace('\n', "\r\n"));
        texts.push(format!("\u{feff}{text}"));
        texts.push(text.trim_end().to_owned());
    }
    texts
}

fn sound(text: &str) -> bool {
    match load(&Source::new("t", text)) {
        Ok(_) => true,
        Err(faults) => panic!("{faults}\n{text}"),
    }
}

fn draft(text: &str) -> Draft {
    sound(text);
    Draft::new(&Source::new("t", text))
}

/// Changes a text and sees that it is still sound.
fn changed(text: &str, change: impl Fn(&mut Draft) -> Result<(), Faults>) -> String {
    let mut draft = draft(text);
    change(&mut draft).unwrap_or_else(|faults| panic!("{faults}\n{text}"));
    sound(draft.text());
    draft.text().to_owned()
}

fn bind(draft: &mut Draft, action: &str, expression: &str) -> Result<(), Faults> {
    draft.bind(action, &[expression.to_owned()], None).map(|_| ())
}

/// The lines of `after` that are not in `before`, and the other way round.
fn difference(before: &str, after: &str) -> (Vec<String>, Vec<String>) {
    let (mut gone, mut new): (Vec<&str>, Vec<&str>) =
        (before.lines().collect(), after.lines().collect());
    gone.retain(|line| match new.iter().position(|other| other == line) {
        Some(at) => {
            new.remove(at);
            false
        }
        None => true,
    });
    let own = |lines: Vec<&str>| lines.into_iter().map(str::to_owned).collect();
    (own(gone), own(new))
}

#[test]
fn what_is_there_and_back_is_byte_for_byte_what_it_was() {
    for text in texts() {
        for (there, back) in [
            (("quay", "pier"), ("pier", "quay")),
            (("quay.walk", "stroll"), ("stroll", "walk")),
            (("scheme.pad", "gamepad"), ("scheme.gamepad", "pad")),
            (("setting.pace", "speed"), ("setting.speed", "pace")),
            (("preset.stick", "lever-like"), ("preset.lever-like", "stick")),
        ] {
            let once = changed(&text, |d| d.rename(there.0, there.1).map(|_| ()));
            assert_ne!(once, text);
            let twice = changed(&once, |d| d.rename(back.0, back.1).map(|_| ()));
            // An escape that said the old name is gone; the name is the same.
            assert_eq!(twice, text.replace("\\u0070ace", twice_name(&text, there.0)), "{there:?}");
        }
        for (address, there, back) in [
            ("quay.hail.fire.hold", "0.75s", "0.5s"),
            ("quay.walk@pad#1", "pad.right-stick", "pad.left-stick | @stick"),
            ("setting.pace.default", "1.25", "1.0"),
            ("preset.stick.deadzone", "0.2", "0.1"),
            ("quay.start", "false", "true"),
        ] {
            let once = changed(&text, |d| d.set(address, &[there.to_owned()]));
            assert_ne!(once, text, "{address}");
            let twice = changed(&once, |d| d.set(address, &[back.to_owned()]));
            assert_eq!(twice, text, "{address}");
        }
        for (address, add) in [("quay.ring", "switch"), ("tug.rudder", "axis")] {
            let value = vec![("value".to_owned(), Value::Text(add.to_owned()))];
            let once = changed(&text, |d| d.add_action(address, &value).map(|_| ()));
            let (gone, new) = difference(&text, &once);
            assert!(gone.is_empty() && new.len() <= 3, "{gone:?} {new:?}");
            let twice = changed(&once, |d| d.remove(address, false));
            assert_eq!(twice, text, "{address}\n{once}");
        }
        for thing in [Thing::Map("crane".into()), Thing::Fact("on-ladder".into())] {
            let once =
                changed(&text, |d| d.add(&thing, &vec![("about".into(), Value::Text("T".into()))]));
            let twice = changed(&once, |d| d.remove(&thing.address(), false));
            assert_eq!(twice, text, "{thing:?}\n{once}");
        }
        // A second binding makes a list of a plain one, and the list goes with it again.
        for (action, expression, second) in [
            ("quay.hail", "key.KeyB", "quay.hail@desk#2"),
            ("quay.hail", "key.KeyB + key.KeyN", "quay.hail@desk#2"),
        ] {
            let once = changed(&text, |d| bind(d, action, expression));
            let twice = changed(&once, |d| d.unbind(second));
            assert_eq!(twice, text, "{once}");
        }
        let once = changed(&text, |d| bind(d, "tug.whistle", "key.KeyB"));
        let twice = changed(&once, |d| d.unbind("tug.whistle@desk#1"));
        assert_eq!(twice, text, "{once}");
        let once = changed(&text, |d| d.set("quay.walk.levels.down", &["0.3".to_owned()]));
        let twice = changed(&once, |d| d.remove("quay.walk.levels", false));
        assert_eq!(twice, text, "{once}");
    }
}

/// What an escape in a text says after there and back: only a renamed name is written anew.
fn twice_name(text: &str, address: &str) -> &'static str {
    if text.contains("\\u0070ace") && address == "setting.pace" { "pace" } else { "\\u0070ace" }
}

#[test]
fn lists_grow_and_shrink_as_they_are_laid_out() {
    let first = texts().remove(0);
    let grown =
        changed(&first, |d| bind(d, "quay.walk", "four(key.KeyI, key.KeyJ, key.KeyK, key.KeyL)"));
    assert!(
        grown.contains("key.ArrowRight)',\n  \"four(key.KeyI, key.KeyJ, key.KeyK, key.KeyL)\"\n]"),
        "{grown}"
    );
    let less = changed(&grown, |d| d.unbind("quay.walk@desk#1"));
    assert!(less.contains("bind.desk = [ # two hands\n  'four(key.ArrowUp"), "{less}");
    let less = changed(&less, |d| d.unbind("quay.walk@desk#2"));
    assert!(less.contains("key.ArrowRight)'\n]\n"), "{less}");
    let less = changed(&less, |d| d.unbind("quay.walk@desk"));
    assert!(!less.contains("two hands") && less.contains("value = \"plane\"\nbind.pad"), "{less}");
    // A list that was laid out by hand stays one.
    let lines = first.replace(" # two hands", "").replace(", # left", ",");
    let less = changed(&lines, |d| d.unbind("quay.walk@desk#1"));
    assert!(less.contains("\nbind.desk = [\n  'four(key.ArrowUp, key.ArrowLeft"), "{less}");
    let second = &texts()[4];
    let grown = changed(second, |d| bind(d, "tug.whistle", "pad.north"));
    assert!(grown.contains("pad = [\n\t\"pad.south\",\n\t\"pad.north\",\n]"), "{grown}");
    let grown = changed(second, |d| bind(d, "quay.walk", "pad.dpad"));
    assert!(grown.contains("pad = [\"pad.left-stick | @stick\" , \"pad.dpad\"] } }"), "{grown}");
}

#[test]
fn what_still_names_a_thing_keeps_it_or_goes_with_it() {
    for text in texts() {
        let yields = text.contains("yields-to");
        for (address, places) in [
            ("setting.pace", 1),
            ("preset.stick", 1),
            ("quay.walk", 1),
            ("quay.hail", 1 + usize::from(yields)),
            ("quay", 1 + usize::from(yields)),
            ("scheme.pad", 2),
        ] {
            let refused = draft(&text).remove(address, false).expect_err(address);
            let told = refused.list()[0].message.matches("t:").count();
            assert_eq!(told, places, "{address}: {refused}");
            if address != "scheme.pad" || !text.contains("[map.tug.whistle]\nvalue") {
                changed(&text, |d| d.remove(address, true));
            }
        }
        let without = changed(&text, |d| d.remove("setting.pace", true));
        assert!(without.contains("| scale 1"), "a number stays as its default was: {without}");
        let without = changed(&text, |d| d.remove("quay.walk", true));
        assert!(without.contains("hold 0.5s\""), "{without}");
    }
}

#[test]
fn copies_are_laid_out_as_what_they_copy() {
    for text in texts() {
        let once = changed(&text, |d| d.copy("quay.hail", "wave").map(|_| ()));
        assert!(once.contains("wave"), "{once}");
        assert_eq!(changed(&once, |d| d.remove("quay.wave", false)), text, "{once}");
        let once = changed(&text, |d| d.copy("tug", "barge").map(|_| ()));
        assert_eq!(changed(&once, |d| d.remove("barge", false)), text, "{once}");
        changed(&text, |d| d.copy("quay.walk", "tug.walk").map(|_| ()));
        let once = changed(&text, |d| d.copy("scheme.pad", "left-hand").map(|_| ()));
        let drafted = draft(&once);
        let binds = |name: &str| {
            let actions = drafted.raw().maps.iter().flat_map(|map| &map.actions);
            actions.flat_map(|a| &a.binds).filter(|(scheme, _)| scheme.text == name).count()
        };
        assert_eq!((binds("pad"), binds("left-hand")), (2, 2), "{once}");
    }
}

#[test]
fn tidying_twice_changes_nothing_more_and_keeps_comments_and_meaning() {
    for text in texts() {
        let meaning = |text: &str| {
            let (profile, plan) = load(&Source::new("t", text)).unwrap();
            (plan.to_string(), profile.actions.len())
        };
        let tidy = |text: &str| {
            changed(text, |d| {
                d.tidy();
                Ok(())
            })
        };
        let once = tidy(&text);
        assert_eq!(tidy(&once), once);
        assert_eq!(meaning(&once).1, meaning(&text).1);
        let comments = |text: &str| text.matches('#').count();
        assert_eq!(comments(&once), comments(&text));
        assert!(once.ends_with('\n') && !once.contains("=1\n"));
    }
    let wild = "harmonym=1\n\n\n\nscheme.desk.devices=[ \"key\" ]   \n[map.quay]\nstart=true\n\
                [map.quay.walk]\nvalue=\"plane\"#x\nbind.desk=\"four( key.KeyW,key.KeyA ,key.KeyS,key.KeyD )|deadzone 0.1  full=0.9|flip x\"\n\
                fire=\"while   without  hail or  change\"\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk=[\"key.KeyA+key.KeyB\",\"char.|\"]\n\n\n";
    let tidied = changed(wild, |d| {
        d.tidy();
        Ok(())
    });
    assert_eq!(
        tidied,
        "harmonym = 1\n\nscheme.desk.devices = [\"key\"]\n\n[map.quay]\nstart = true\n\n\
         [map.quay.walk]\nvalue = \"plane\" #x\nbind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | deadzone 0.1 full=0.9 | flip x\"\n\
         fire = \"while without hail or change\"\n\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = [\"key.KeyA + key.KeyB\", \"char.|\"]\n"
    );
}

#[test]
fn what_cannot_be_done_is_said_with_what_can() {
    let text = &texts()[0];
    let set =
        |address: &str, value: &str| draft(text).set(address, &[value.to_owned()]).unwrap_err();
    for (refused, parts) in [
        (set("quay.wlak.fire", "press"), ["wlak", "quay.walk"]),
        (set("quay.walk.fier", "press"), ["not a key of an action", "`fire`"]),
        (
            set("quay.walk.nonsense", "press"),
            ["not a key of an action", "value, about, label, bind"],
        ),
        (set("setting.pase.default", "1"), ["setting.pase", "setting.pace"]),
        (set("setting.pace.default", "quick"), ["not `quick`", "0.5"]),
        (set("quay.start", "maybe"), ["true or false", "write true"]),
        (set("quay.walk@pad#3", "pad.dpad"), ["quay.walk@pad#3", "#1 to #1"]),
        (set("quay.walk@slate#1", "x"), ["no bindings in `slate`", "quay.walk@pad"]),
        (set("quay.hail.fire.tap", "1s"), ["no such cue", "hold"]),
        (set("quay.walk.bind", "x"), ["keys of its own", "bind.pad"]),
        (draft(text).rename("quay.walk", "Stroll On").unwrap_err(), ["not a name", "stroll-on"]),
        (draft(text).rename("quay.walk", "hail").unwrap_err(), ["already", "another name"]),
        (
            draft(text).copy("quay.walk", "boat.walk").unwrap_err(),
            ["no map `boat`", "add map boat"],
        ),
        (draft(text).rename("quay.walk", "tug.walk").unwrap_err(), ["another place", "copy"]),
        (
            bind(&mut draft(text), "quay.walk", "touch.at").unwrap_err(),
            ["no scheme has touch", "--device touch"],
        ),
        (
            bind(&mut draft(text), "quay.hail", "key.KeyH").unwrap_err(),
            ["bound there already", "show"],
        ),
        (draft(text).add_action("hail", &Vec::new()).unwrap_err(), ["which map", "quay.hail"]),
        (
            draft(text).add_action("quay.kind", &Vec::new()).unwrap_err(),
            ["key of maps", "name what"],
        ),
    ] {
        for part in parts {
            let all = refused.to_string();
            assert!(all.contains(part), "no `{part}` in: {all}");
        }
    }
    let two = text.replace("[\"pad\"]", "[\"pad\", \"key\"]");
    let refused = bind(&mut draft(&two), "quay.hail", "key.KeyB").unwrap_err();
    let told = refused.to_string();
    assert!(told.contains("desk and pad") && told.contains("--scheme desk"));
}

/// Many edits one after the other: each leaves a sound profile, and all lines but its own.
#[test]
fn random_edits_touch_their_own_lines() {
    let edits = prop::collection::vec((0..8_usize, 0..5_usize, 1..90_u32), 1..12);
    let (tried, taken) = (Cell::new(0), Cell::new(0));
    let mut runner = TestRunner::new(gate::gate(48));
    let ran = runner.run(&(0..12_usize, edits), |(which, edits)| {
        let mut text = texts()[which].clone();
        for (edit, on, number) in edits {
            let mut one = draft(&text);
            let value = format!("0.{number:02}");
            let action = ["quay.walk", "quay.hail", "tug.whistle", "quay.walk", "tug.whistle"][on];
            let fields = vec![("value".to_owned(), Value::Text("switch".to_owned()))];
            let done = match edit {
                0 => one.set(&format!("{action}.about"), &[format!("No. {number}")]),
                1 => {
                    one.set(&format!("{action}.levels.down"), &[format!("0.{}", 60 + number % 30)])
                }
                2 => bind(&mut one, "tug.whistle", &format!("key.F{}", 1 + number % 24)),
                3 => one.add_action(&format!("tug.act-{number}"), &fields).map(|_| ()),
                4 => one.set("quay.hail.fire.hold", &[format!("{value}s")]),
                5 => one.add(&Thing::Map(format!("map-{number}")), &Vec::new()),
                6 => one.set("setting.pace.default", &[format!("1.{number}")]),
                _ => one.set("quay.walk@pad#1", &[format!("pad.left-stick | scale {number}")]),
            };
            tried.set(tried.get() + 1);
            if done.is_err() {
                continue;
            }
            taken.set(taken.get() + 1);
            assert!(sound(one.text()), "{}", one.text());
            let (gone, new) = difference(&text, one.text());
            assert!(
                gone.len() <= 1 + 4 * usize::from(text.contains("\"\"\"")) && new.len() <= 4,
                "{gone:?} {new:?}"
            );
            text = one.text().to_owned();
        }
        Ok(())
    });
    ran.unwrap_or_else(|error| panic!("{error}"));
    // A name may be taken, or the text has not what is to be changed.
    assert!(2 * taken.get() > tried.get(), "{} of {} edits", taken.get(), tried.get());
}

#[test]
fn a_comment_above_the_next_section_stays_when_the_one_before_goes() {
    let gaps = ["", "\n", "\n\n"];
    for (before, after, end) in gaps
        .iter()
        .flat_map(|before| gaps.iter().map(move |after| (before, after)))
        .flat_map(|(before, after)| ["\n", "\r\n"].map(move |end| (before, after, end)))
    {
        let text = format!(
            "harmonym = 1\nscheme.desk.devices = [\"key\"]\n\n[map.quay.walk]\nvalue = \"switch\"\n\n\
             # Calling out.\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n{before}\
             # ---- the tug ----\n{after}[map.tug.whistle]\nvalue = \"switch\"\n"
        );
        let text = text.replace('\n', end);
        let gone = changed(&text, |draft| draft.remove("quay.hail", false));
        assert!(gone.contains("# ---- the tug ----"), "{text}\n{gone}");
        assert!(!gone.contains("# Calling out.") && !gone.contains("KeyH"), "{gone}");
        assert!(gone.contains(&format!("value = \"switch\"{end}")), "{gone}");
        let gone = changed(&text, |draft| draft.remove("quay.walk", false));
        assert!(gone.contains("# Calling out."), "{text}\n{gone}");
    }
}
