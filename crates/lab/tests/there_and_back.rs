//! What a command adds and another one takes away leaves the text as it was, byte for byte.

mod gate;

use harmonym_lab::edit::{Draft, Fields, Thing, Value};
use harmonym_lang::load;
use harmonym_lang::source::Source;
use proptest::prelude::*;

/// Sections of a profile in the ways that people write them; each is sound beside the others of
/// another name.
const HEADS: &[&str] = &[
    "scheme.desk.devices = [\"key\", \"mouse\"]\nscheme.pad = { devices = ['pad'] }\n",
    "[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n\n[scheme.pad]\ndevices = [\"pad\"]\n",
    "[scheme]\ndesk = { devices = [\"key\", \"mouse\"] }\npad.devices = [\"pad\"]\n",
    "preset.stick = 'deadzone 0.1'\nsetting.pace.default = 1\nfact.wet = {}\n\
     scheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\nmap.tide.kind = \"layer\"\n",
    "scheme = { desk = { devices = [\"key\", \"mouse\"] }, pad = { devices = [\"pad\"] } }\n",
];
const OTHERS: &[&str] = &[
    "[setting.pace]\ndefault = 1.0\nrange = [0.5, 2]\n",
    "[setting]\npace = { default = 1.0 } # how fast\n",
    "[fact.on-deck]\n# of the ship\n",
    "[preset]\nstick = \"deadzone 0.1\"\n",
    "[preset]\n# for sticks\nstick = \"deadzone 0.1\" # all of them\n\n# more to come\n",
    "[device.bench]\ncontrols = { ahead = \"axis\" }\n",
];
const MAPS: &[&str] = &[
    "[map.quay]\nstart = true\n",
    "# Ashore.\n[map.quay] # the first\nstart = true\n# that is all\n",
    "[map.quay]\nstart = true\nhail.value = \"switch\"\nhail.bind.desk = \"key.KeyH\"\n",
    "[map.quay]\nstart = true\nhail = { value = \"switch\", bind = { desk = \"key.KeyH\" } }\n",
    "[map.quay]\nstart = true\nhail = { value = \"switch\", bind = { desk = [\"key.KeyH\", \"key.KeyJ\"] } }\n",
    "[map.quay]\nstart = true\n\n[map.quay.hail]\nvalue = \"switch\"\n",
    "[map.quay]\nstart = true\n\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\" # one\n",
    "[map.quay]\nstart = true\n\n# Loud.\n[map.quay.hail]\nvalue = 'switch'\nbind.desk = [\n  'key.KeyH', # first\n  'key.KeyJ' # last\n]\n",
    "[map.quay]\nstart = true\n\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = [\n\t\"key.KeyH\",\n]\nfire = \"press\"\n",
    "[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = [ \"key.KeyH\", ]\n",
    "[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = [ \"key.KeyH\" ]\n",
    "[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = []\n",
    "[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\n[map.quay.hail.bind]\ndesk = \"key.KeyH\"\n",
    "[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = { from = \"key.KeyH\" }\n",
    "  [map.quay]\n  start = true\n    [ map . quay . hail ]\n    value = \"switch\"\n    bind . pad = \"pad.south\"\n",
];
const GAPS: &[&str] = &["", "\n", "\n\n\n", "\n# ---- next ----\n\n", "# right above\n", "   \n"];

fn draft(text: &str) -> Draft {
    Draft::new(&Source::new("t", text))
}

/// A profile put together of one of each, and how its lines end.
fn profiles() -> impl Strategy<Value = String> {
    let one = |all: &'static [&'static str]| prop::sample::select(all);
    let gaps = prop::collection::vec(one(GAPS), 5);
    let others = prop::sample::subsequence(OTHERS, 0..=3);
    let ways = (any::<bool>(), 0..3_usize, any::<bool>());
    (one(HEADS), others, one(MAPS), gaps, any::<bool>(), ways).prop_filter_map(
        "sound profiles",
        |(head, others, map, gaps, is_last, (is_crlf, end, has_mark))| {
            let mut parts = vec![format!("harmonym = 1\n{}", gaps[0]), head.to_owned()];
            let rest = others.iter().map(|other| format!("{}{other}", gaps[1]));
            let map = format!("{}{map}", gaps[2]);
            let own = if is_last {
                rest.chain([map]).collect()
            } else {
                Vec::from_iter([map].into_iter().chain(rest))
            };
            parts.extend(own);
            parts.push(["", gaps[3], "\n\n"][end].to_owned());
            let mut text = parts.concat();
            if end == 1 {
                text.truncate(text.trim_end().len());
            }
            if is_crlf {
                text = text.replace('\n', "\r\n");
            }
            if has_mark {
                text.insert(0, '\u{feff}');
            }
            load(&Source::new("t", &text)).ok().map(|_| text)
        },
    )
}

fn text(key: &str, value: &str) -> (String, Value) {
    (key.to_owned(), Value::Text(value.to_owned()))
}

/// Something new of each kind.
fn things() -> Vec<(Thing, Fields)> {
    let number = |key: &str| (key.to_owned(), Value::Plain("0.5".to_owned()));
    vec![
        (Thing::Map("tug".to_owned()), vec![]),
        (Thing::Map("tug".to_owned()), vec![text("about", "x"), text("kind", "layer")]),
        (
            Thing::Scheme("slate".to_owned()),
            vec![("devices".to_owned(), Value::Texts(vec!["touch".to_owned()]))],
        ),
        (Thing::Setting("look".to_owned()), vec![number("default"), text("about", "x")]),
        (Thing::Fact("wet".to_owned()), vec![]),
        (Thing::Fact("wet".to_owned()), vec![text("about", "x")]),
        (
            Thing::Device("slate".to_owned()),
            vec![("controls".to_owned(), Value::Table(vec![text("thumb", "stick")]))],
        ),
    ]
}

/// Adds each thing and takes it away again; what differs then.
fn add_and_remove(text: &str) -> Result<(), TestCaseError> {
    for (thing, fields) in things() {
        let mut there = draft(text);
        if there.has(&thing) {
            continue;
        }
        there.add(&thing, &fields).unwrap();
        let with = there.text().to_owned();
        prop_assert!(load(&Source::new("t", &with)).is_ok(), "{with}");
        there.remove(&thing.address(), false).unwrap();
        prop_assert_eq!(there.text(), text, "{:?}, with:\n{}", thing, with);
    }
    let mut there = draft(text);
    there.add_preset("curved", "curve 2").unwrap();
    let with = there.text().to_owned();
    there.remove("preset.curved", false).unwrap();
    prop_assert_eq!(there.text(), text, "a preset, with:\n{}", with);
    let mut there = draft(text);
    let action = there.add_action("quay.row", &vec![self::text("value", "axis")]).unwrap();
    let with = there.text().to_owned();
    there.remove(&action.address(), false).unwrap();
    prop_assert_eq!(there.text(), text, "an action, with:\n{}", with);
    Ok(())
}

/// Binds and unbinds again; what differs then.
fn bind_and_unbind(text: &str, action: &str) -> Result<(), TestCaseError> {
    for expressions in [&["key.KeyZ"][..], &["pad.north"], &["key.KeyY", "key.KeyZ"]] {
        let expressions: Vec<String> = expressions.iter().map(|&e| e.to_owned()).collect();
        let mut there = draft(text);
        // Some of the demo's actions have it already.
        let Ok(bound) = there.bind(action, &expressions, None) else { continue };
        let with = there.text().to_owned();
        for address in bound.new.iter().rev() {
            there.unbind(address).unwrap();
        }
        prop_assert_eq!(there.text(), text, "{:?}, with:\n{}", expressions, with);
    }
    Ok(())
}

#[test]
fn the_demo_is_as_it_was() {
    let demo = include_str!("../../../demo/harmonym.toml");
    add_and_remove(demo).unwrap();
    let actions = draft(demo).things();
    let mut count = 0;
    for thing in actions.iter().filter(|thing| matches!(thing, Thing::Action(..))) {
        bind_and_unbind(demo, &thing.address()).unwrap();
        count += 1;
    }
    assert!(count > 20);
}

proptest! {
    #![proptest_config(gate::gate(400))]

    #[test]
    fn adding_and_removing_leaves_every_byte(text in profiles()) {
        add_and_remove(&text)?;
    }

    #[test]
    fn binding_and_unbinding_leaves_every_byte(text in profiles()) {
        if text.contains("hail") {
            bind_and_unbind(&text, "quay.hail")?;
        }
    }
}
