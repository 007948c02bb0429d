//! Faulty profiles: `«…»` marks the place of each fault, and comes off before it is read.

use harmonym_core::load;
use harmonym_core::report::Finding;
use harmonym_core::source::{Source, Span};

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\npreset.soft = \"deadzone 0.1 | curve 2\"\n\
                    # ä, a line with more bytes than characters\n";

/// Takes the marks off, and tells where they were.
fn unmarked(text: &str) -> (String, Vec<Span>) {
    let (mut plain, mut open, mut spans) = (String::new(), Vec::new(), Vec::new());
    for c in text.chars() {
        match c {
            '«' => open.push(plain.len()),
            '»' => spans.push(Span::new(open.pop().expect("an open mark"), plain.len())),
            c => plain.push(c),
        }
    }
    (plain, spans)
}

fn faults(text: &str) -> (Source, Vec<Finding>) {
    let source = Source::new("harmonym.toml", text);
    let findings = load(&source).err().unwrap_or_default();
    (source, findings)
}

/// Checks that the faults of a text are exactly those marked, each saying its words.
fn check(text: &str, says: &[&str]) {
    let (plain, spans) = unmarked(&format!("{HEAD}{text}"));
    let (source, findings) = faults(&plain);
    let told: Vec<_> = findings.iter().map(|f| f.in_source(&source).to_string()).collect();
    assert_eq!(findings.len(), spans.len(), "{text}\n{}", told.join("\n"));
    for (span, says) in spans.iter().zip(says) {
        let found = findings.iter().position(|f| f.span == *span);
        let found =
            found.unwrap_or_else(|| panic!("no fault at the mark of {text}\n{}", told.join("\n")));
        assert!(told[found].contains(says), "{text}\nno `{says}` in {}", told[found]);
    }
    assert_eq!(spans.len(), says.len(), "{text}");
}

/// A binding of a plane.
fn plane(binding: &str, says: &[&str]) {
    let scheme = if binding.contains("pad.") { "pad" } else { "desk" };
    check(&format!("[map.quay.walk]\nvalue = \"plane\"\nbind.{scheme} = \"{binding}\""), says);
}

/// A binding of an axis.
fn axis(binding: &str, says: &[&str]) {
    check(&format!("[map.quay.row]\nvalue = \"axis\"\nbind.desk = \"{binding}\""), says);
}

/// A fire rule of a switch.
fn fire(rule: &str, says: &[&str]) {
    check(&format!("[map.quay.hail]\nvalue = \"switch\"\nfire = \"{rule}\""), says);
}

#[test]
fn keys_and_names() {
    check("[map.quay]\n«strat» = true", &["did you mean `start`?"]);
    check("[map.quay]\nstart = «1»", &["`start` is true or false, not a number"]);
    check(
        "[map.quay]\nabout = «[]»\nkind = «\"duo\"»",
        &["a text, not a list", "not a kind of map"],
    );
    check("[map.«\"Quay Side\"»]\n[map.«setting»]", &["write `quay-side`", "uses the word itself"]);
    check("[map.quay.«or»]\nvalue = \"switch\"", &["cannot be the name of an action"]);
    check("[map.quay.«hail»]\nabout = \"x\"", &["does not say its `value`"]);
    check(
        "[map.quay.hail]\nvalue = \"switch\"\nbind.«dsk» = \"key.KeyA\"",
        &["did you mean `bind.desk`?"],
    );
    check("[scheme.«slate»]", &["does not say its devices"]);
    check("[scheme.slate]\ndevices = [«\"kee\"»]", &["did you mean `key`?"]);
    check("[map.a]\nstart = true\n[map.b]\nstart = «true»", &["`a` and `b` both start"]);
    check("[map.quay.hail]\nvalue = \"switch\"\n«value» = \"axis\"", &["defined already"]);
    check("[map.quay.hail]\nvalue = \"switch\"\nlevels = «2»", &["`levels` is a table of numbers"]);
}

#[test]
fn what_is_not_toml_is_told_with_what_else_is_wrong() {
    let (_, findings) = faults("harmonym = 1\ntitle = \"open\nabout = 3\n");
    assert!(findings.iter().any(|f| f.message.contains("not TOML")), "{findings:?}");
    assert!(findings.iter().any(|f| f.message.contains("a text, not a number")), "{findings:?}");
    for (first, says) in [
        ("", "version of the format is missing"),
        ("harmonym = 2", "format 2"),
        ("harmonym = 0", "no such format"),
        ("harmonym = \"1\"", "a whole number"),
    ] {
        assert!(faults(first).1[0].message.contains(says), "{first}");
    }
}

#[test]
fn controls() {
    axis("«key.KeyAA»", &["did you mean `key.KeyA`?"]);
    axis("«w»", &["did you mean `key.KeyW`?"]);
    axis("«pda.south»", &["no control `pda.south`; did you mean `pad.south`?"]);
    axis("«flip»", &["is a step, and stands behind"]);
    axis("«pad.south»", &["scheme `desk` has no `pad` device; bind it under `bind.pad`"]);
    axis("«mouse.move.x»", &["`mouse.move.x` is not yet supported"]);
    axis("«act.hail»", &["reading another action"]);
    axis("«char.+»", &["by its character (`char.+`) is not yet supported"]);
    axis("«key#2.KeyA»", &["write `key.KeyA` for the first device"]);
    plane("«key.KeyA»", &["gives an axis; add `| onto x`"]);
    check("[map.quay.row]\nvalue = \"axis\"\nbind.pad = \"«pad.left-stick»\"", &["add `| pick x`"]);
}

#[test]
fn composites() {
    axis("«pair(key.KeyA)»", &["pos is missing"]);
    axis("pair(key.KeyA, key.KeyB, «key.KeyC»)", &["has only 2 parts"]);
    axis("pair(neg=key.KeyA, neg=«key.KeyB»)", &["`neg` is given twice"]);
    axis("pair(key.KeyA, «ops»=key.KeyB)", &["did you mean `pos=`?"]);
    axis("pair(key.KeyA, key.KeyB, opposed=«new»)", &["`opposed` cannot be `new`"]);
    axis("pair(key.KeyA, key.KeyB, «corner»=square)", &["`pair` has no corners"]);
    axis(
        "pair(key.KeyA | «flip», key.KeyB)",
        &["a part with steps of its own is not yet supported"],
    );
    axis("«duo»(key.KeyA, «key.KeyBB»)", &["`duo` is not a composite", "did you mean `key.KeyB`?"]);
    axis("«key.Shift + key.KeyA»", &["held together (`+`) is not yet supported"]);
    axis("«join»(key.KeyA, key.KeyB)", &["`join` is not yet supported"]);
    check(
        "[map.m.a]\nvalue = \"axis\"\nbind.desk = \"pair(key.KeyA, key.KeyB«\"»",
        &["expected `)`"],
    );
    check("[map.m.a]\nvalue = \"axis\"\nbind.desk = «\"\"»", &["nothing is written here"]);
}

#[test]
fn steps() {
    plane("pad.left-stick | «dedzone» 0.1", &["did you mean `deadzone 0.1 full=0.96`?"]);
    plane("pad.left-stick | «press»", &["is a trigger, and stands in `fire`"]);
    plane("pad.left-stick | «ease» rise=4/s", &["`ease` is not yet supported"]);
    plane("pad.left-stick | flip «when slow»", &["`when` on a step is not yet supported"]);
    plane("pad.left-stick | scale «speed»", &["setting or fact `speed`"]);
    plane("pad.left-stick | scale «2s»", &["has no unit, but `2s` has one"]);
    plane("pad.left-stick | «scale»", &["needs a number"]);
    plane("pad.left-stick | scale 1 2 «3»", &["does not take this"]);
    plane("pad.left-stick | deadzone «1»", &["not under its `full` of 1"]);
    plane("pad.left-stick | deadzone «-0.1»", &["it is 0 to 1000000"]);
    plane("pad.left-stick | deadzone 0.1 «fulll»=0.9", &["did you mean `full=`?"]);
    plane("pad.left-stick | deadzone 0.1 by=«axis»", &["did you mean `by=axes`?"]);
    plane("pad.left-stick | curve «0»", &["cannot be `0`; it is 0.01 to 100"]);
    plane("pad.left-stick | curve «(0.5 0.2)»", &["a curve through points is not yet supported"]);
    plane("pad.left-stick | cap «0%»", &["more than 0"]);
    plane("pad.left-stick | flip «z»", &["not a component of a plane"]);
    plane("pad.left-stick | «onto x»", &["takes an axis, but this is a plane already"]);
    plane("«@»hard", &["expected a control"]);
    plane("pad.left-stick | «@sofd»", &["did you mean `@soft`?"]);
    axis("key.KeyA | «pick x»", &["takes a plane, but this is an axis already"]);
    axis("key.KeyA | scale 1 «2»", &["takes one number here"]);
    axis("key.KeyA | scale «1e3»", &["`e3` is not a unit"]);
    axis("key.KeyA | scale «1.2.3»", &["is not a number"]);
    axis("key.KeyA | flip «;» flip", &["`;` has no meaning"]);
    check("preset.odd = \"pick x | «curv» 2\"\n[map.m]", &["did you mean `curve 1.6`?"]);
    check("preset.two = \"«@soft»\"\n[map.m]", &["a preset within a preset"]);
    check(
        "preset.flat = \"pick x\"\n[map.m.a]\nvalue = \"axis\"\nbind.desk = \"key.KeyA | «@flat»\"",
        &["takes a plane"],
    );
    check("[map.m.a]\nvalue = \"plane\"\nshape = «\"pick x\"»", &["must give back the same"]);
}

#[test]
fn fire_rules_and_levels() {
    fire("hold «0.8»", &["has no unit; write `0.8s` or `0.8ms`"]);
    fire(
        "hold «0s» or hold «-1s» or hold «2h»",
        &["more than 0 s", "more than 0 s", "`h` is not a unit"],
    );
    fire("«hold» or «prss» or «tap» 0.2s", &["needs a time", "did you mean `press`?", "not yet"]);
    fire("press «with quay.hail» «unless calm»", &["the guard `with`", "the guard `unless`"]);
    fire("press «2»", &["does not take this"]);
    fire("«deadzone» 0.1", &["is a step, and stands behind `|`"]);
    check(
        "[map.m.a]\nvalue = \"switch\"\nfire = 'press or«'»",
        &["expected a trigger, found the end"],
    );
    let levels = |text: &str, says: &[&str]| {
        check(&format!("[map.m.a]\nvalue = \"switch\"\nlevels = {{ {text} }}"), says);
    };
    levels("up = «0»", &["more than 0"]);
    levels("wake = «0.7»", &["over its down level 0.55"]);
    levels("up = «0.6»", &["over its wake level 0.55"]);
    levels("«dwn» = 0.5", &["did you mean `down`?"]);
    levels("down = «nan»", &["not a finite number"]);
    levels("down = «\"0.5\"»", &["`down` is a number, not a text"]);
}

#[test]
fn what_this_version_lacks_is_never_silently_accepted() {
    for text in [
        "«seats» = 2",
        "«reserved» = []",
        "«waive» = []",
        "[«setting».gaze-speed]\ndefault = 1",
        "[«fact».on-ladder]",
        "[«device».levers]\ncontrols = {}",
        "[scheme.slate]\ndevices = [«\"touch\"»]",
        "[map.m]\n«rank» = 1",
        "[map.m]\n«also» = []",
        "[map.m]\n«in-pause» = true",
        "[map.m]\nkind = «\"layer\"»",
        "[map.m.a]\nvalue = «\"space\"»",
        "[map.m.a]\nvalue = \"switch\"\nblend = «\"sum\"»",
        "[map.m.a]\nvalue = \"switch\"\n«yields-to» = []",
        "[map.m.a]\nvalue = \"switch\"\n«claim» = false",
        "[map.m.a]\nvalue = \"switch\"\n«carry» = true",
        "[map.m.a]\nvalue = \"switch\"\n«rebind» = false",
        "[map.m.a]\nvalue = \"switch\"\nbind.«all» = \"key.KeyA\"",
        "[map.m.a]\nvalue = \"switch\"\nbind.desk = «{ from = \"key.KeyA\" }»",
    ] {
        // Keys of the file itself stand before its tables.
        let (plain, spans) = unmarked(&format!("{text}\n"));
        let text = format!("harmonym = 1\n{plain}");
        let text = if text.contains("scheme.") {
            text
        } else {
            format!("{text}[scheme.desk]\ndevices = [\"key\"]\n")
        };
        let (source, findings) = faults(&text);
        let told: Vec<_> = findings.iter().map(|f| f.in_source(&source).to_string()).collect();
        assert_eq!(findings.len(), 1, "{text}\n{}", told.join("\n"));
        assert_eq!(findings[0].span.start, spans[0].start + 13, "{text}");
        assert!(told[0].contains("is not yet supported"), "{}", told[0]);
    }
}

#[test]
fn places_are_right_in_every_kind_of_string() {
    for value in [
        "\"key.KeyA | «flp»\"",
        "'key.KeyA | «flp»'",
        "\"\"\"\nkey.KeyA |\n  «flp»\"\"\"",
        "'''\r\nkey.KeyA |\r\n «flp»'''",
        "\"\\u006bey.KeyA\\t|\\t«flp»\"",
        "\"\"\"key.KeyA \\\n   | «flp»\"\"\"",
        "[ \"key.KeyB\", # ü\n  \"key.KeyA | «flp»\" ]",
    ] {
        let action = "[map.quay.row]\nvalue = \"axis\"\nabout = \"ünïcödé 港\"";
        check(&format!("{action}\nbind.desk = {value}"), &["did you mean `flip"]);
    }
}
