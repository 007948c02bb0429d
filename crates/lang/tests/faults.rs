//! Faulty profiles: `«…»` marks the place of each fault, and comes off before it is read.

use harmonym_lang::load;
use harmonym_lang::report::{Diagnostic, Faults};
use harmonym_lang::source::{Source, Span};

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

fn faults(text: &str) -> (Source, Vec<Diagnostic>) {
    let source = Source::new("harmonym.toml", text);
    let diagnostics = load(&source).err().map(Faults::into_list).unwrap_or_default();
    (source, diagnostics)
}

/// Checks that the faults of a text are exactly those marked, each saying its words.
fn check(text: &str, says: &[&str]) {
    let (plain, spans) = unmarked(&format!("{HEAD}{text}"));
    let (source, diagnostics) = faults(&plain);
    let told: Vec<_> = diagnostics.iter().map(|f| f.in_source(&source).to_string()).collect();
    assert_eq!(diagnostics.len(), spans.len(), "{text}\n{}", told.join("\n"));
    for (span, says) in spans.iter().zip(says) {
        let found = diagnostics.iter().position(|f| f.span == *span);
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
    let (_, diagnostics) = faults("harmonym = 1\ntitle = \"open\nabout = 3\n");
    assert!(diagnostics.iter().any(|f| f.message.contains("not TOML")), "{diagnostics:?}");
    assert!(
        diagnostics.iter().any(|f| f.message.contains("a text, not a number")),
        "{diagnostics:?}"
    );
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
fn what_is_not_toml_is_told_in_our_words() {
    const NEITHER: &str = "neither a number nor a text in quotes";
    for (line, says) in [
        ("a =", "a value is missing"),
        ("a", "the key has no value"),
        ("= 1", "this is no key"),
        ("é = 1", "this is no key"),
        ("[]", "this is no key"),
        ("}", "this is no key"),
        ("\"\"\"a\"\"\" = 1", "the text is not closed"),
        ("a = = 1", "an `=` too many"),
        ("a = [1 2]", NEITHER),
        ("a = text", NEITHER),
        ("a = @", NEITHER),
        ("a = True", "in small letters"),
        ("a = [1, 2", "the list is not closed"),
        ("a = [1,,2]", "a comma too many"),
        ("a = { b = 1", "the table in braces is not closed"),
        ("a = \"x", "the text is not closed"),
        ("a = 'x", "the text is not closed"),
        ("a = \"\u{1}\"", "a control character in it"),
        ("a = \"\\q\"", "begins nothing that is known"),
        ("a = \"\\u12\"", "begins nothing that is known"),
        ("a = \"\\ud800\"", "begins nothing that is known"),
        ("a = 01", "this is no number"),
        ("a = 1__0", "this is no number"),
        ("a = 0X1", "this is no number"),
        ("a = 1.", "this is no number"),
        ("a = 2020-13-45", "no such day"),
        ("a = 12:99:00", "no such time"),
        ("[a", "name is not closed"),
        ("[[a]", "name is not closed"),
        ("[a]]", "behind the end of a value or a name"),
        ("a = \"x\" \"y\"", "behind the end of a value or a name"),
        ("a = 1 # \u{1}", "a control character stands in a comment"),
        ("a = 1\rb = 2", "half a line break"),
        ("]", "no name of a table"),
        ("title = \"x\"\n[title.a]", "has a value already"),
        (&format!("a = {}", "[".repeat(200)), "too deep"),
    ] {
        let (source, all) = faults(&format!("harmonym = 1\n{line}\n"));
        let told = all.iter().find(|one| one.message.starts_with("this is not TOML"));
        let told = told.unwrap_or_else(|| panic!("{line}: {all:?}"));
        assert!(told.message.contains(says), "{line}: {}", told.message);
        assert!(!told.help.is_empty() && source.place(told.span.start).line >= 2, "{line}");
        assert!(!told.message.contains("expected"), "{line}: {}", told.message);
    }
}

#[test]
fn controls() {
    axis("«key.KeyAA»", &["did you mean `key.KeyA`?"]);
    axis("«w»", &["did you mean `key.KeyW`?"]);
    axis("«pda.south»", &["no control `pda.south`; did you mean `pad.south`?"]);
    axis("«flip»", &["is a step, and stands behind"]);
    axis("«pad.south»", &["scheme `desk` has no `pad` device; bind it under `bind.pad`"]);
    axis("char.a«b»", &["expected the end, found `b`"]);
    axis("«key#0.KeyA»", &["devices are numbered from 1 to 8; write `key.KeyA` for any"]);
    axis("«key#12.KeyA»", &["devices are numbered from 1 to 8"]);
    check("[scheme.far]\ndevices = [«\"heat\"»]", &["did you mean `head`?"]);
    let far = "[scheme.far]\ndevices = [\"head\", \"hand\"]\n[map.m.a]\nvalue = ";
    check(&format!("{far}\"plane\"\nbind.far = \"«head.at»\""), &["gives a space"]);
    check(&format!("{far}\"turn\"\nbind.far = \"«hand.left.at»\""), &["gives a space"]);
    check(&format!("{far}\"turn\"\nbind.far = \"head.turn | «flip»\""), &["`flip`"]);
    plane("«key.KeyA»", &["gives an axis; add `| onto x`"]);
    check("[map.quay.row]\nvalue = \"axis\"\nbind.pad = \"«pad.left-stick»\"", &["add `| pick x`"]);
}

#[test]
fn combinations() {
    axis("«pair(key.KeyA)»", &["pos is missing"]);
    axis("pair(key.KeyA, key.KeyB, «key.KeyC»)", &["has only 2 parts"]);
    axis("pair(neg=key.KeyA, neg=«key.KeyB»)", &["`neg` is given twice"]);
    axis("pair(key.KeyA, «ops»=key.KeyB)", &["did you mean `pos=`?"]);
    axis("pair(key.KeyA, key.KeyB, opposed=«new»)", &["`opposed` cannot be `new`"]);
    axis("pair(key.KeyA, key.KeyB, «corner»=square)", &["`pair` has no corners"]);
    axis("pair(key.KeyA | «flp», key.KeyB)", &["did you mean `flip"]);
    axis("«join(key.KeyA)»", &["`join` has 1 parts; write two or three"]);
    axis("key.KeyA | deadzone 0.1 full=0.9 «full»=0.8", &["`full` is given twice"]);
    axis(
        "key.KeyA | deadzone 0.1 «most»=0.9 «most»=0.8",
        &["`deadzone` has no `most`", "`most` is given twice"],
    );
    axis("any(«a»=key.KeyA, key.KeyB)", &["have no names"]);
    axis("join(x=key.KeyA, «w»=key.KeyB)", &["`join` has no part `w`"]);
    check(
        "[map.m.a]\nvalue = \"plane\"\nbind.pad = \"«any(pad.left-stick, pad.south)»\"",
        &["of two kinds: plane and axis"],
    );
    axis(
        "«duo»(key.KeyA, «key.KeyBB»)",
        &["`duo` is not a combination", "did you mean `key.KeyB`?"],
    );
    axis("key.Shift + «key.KeyAA»", &["did you mean `key.KeyA`?"]);
    plane("«key.Shift + key.KeyA»", &["gives an axis; add `| onto x`"]);
    axis("key.Shift + (key.KeyA | «onto x»)", &["stands only outside of combinations"]);
    let keys = ["key.KeyA"; 11].join(" + ");
    axis(&format!("«{keys}»"), &["11 controls are held together"]);
    check(
        "[map.m.a]\nvalue = \"axis\"\nbind.desk = \"pair(key.KeyA, key.KeyB«\"»",
        &["expected `)`"],
    );
    check("[map.m.a]\nvalue = \"axis\"\nbind.desk = «\"\"»", &["nothing is written here"]);
}

#[test]
fn steps() {
    plane("pad.left-stick | «dedzone» 0.1", &["did you mean `deadzone 0.1 full=0.96`?"]);
    plane("pad.left-stick | «press»", &["is a cue, and stands in `fire`"]);
    plane("pad.left-stick | «ease»", &["needs `rise`"]);
    plane("pad.left-stick | ease rise=«4»", &["write `4/s`"]);
    plane("pad.left-stick | ease rise=«0/s»", &["more than 0/s"]);
    plane("pad.left-stick | ease rise=4/s reverse=«cutt»", &["did you mean `reverse=cut`?"]);
    plane("pad.left-stick | smooth «50»", &["write `50s` or `50ms`"]);
    plane("pad.left-stick | travel «2»", &["does not take this"]);
    let turn = |steps: &str, says: &[&str]| {
        let device = "[device.globe]\ncontrols = { spin = \"turn\" }\n";
        check(
            &format!("{device}[map.m.a]\nvalue = \"turn\"\nbind.all = \"globe.spin | {steps}\""),
            says,
        );
    };
    turn("«scale 2»", &["`scale` takes"]);
    turn("«pick x»", &["a turn has no parts"]);
    plane("pad.left-stick | flip when «slow»", &["there is no setting or fact `slow`"]);
    check(
        "[fact.calm]\n[map.m.a]\nvalue = \"axis\"\nbind.pad = \"pad.left-stick | pick x «when calm»\"",
        &["changes the kind: it cannot be skipped"],
    );
    plane("pad.left-stick | scale «speed»", &["there is no setting or fact `speed`"]);
    plane("pad.left-stick | scale «2s»", &["has no unit, but `2s` has one"]);
    plane("pad.left-stick | «scale»", &["needs a number"]);
    plane("pad.left-stick | scale 1 2 «3»", &["takes one number or 2"]);
    plane("pad.left-stick | deadzone «1»", &["not under its `full` of 1"]);
    plane("pad.left-stick | deadzone «-0.1»", &["it is 0 to 1000000"]);
    plane("pad.left-stick | deadzone 0.1 «fulll»=0.9", &["did you mean `full=`?"]);
    plane("pad.left-stick | deadzone 0.1 by=«axis»", &["did you mean `by=axes`?"]);
    plane("pad.left-stick | curve «0»", &["cannot be `0`; it is 0.01 to 100"]);
    plane("pad.left-stick | curve (0.5 0.2) «(0.5 1)»", &["do not go to the right"]);
    plane("pad.left-stick | curve (0.5 0.2) «1»", &["two numbers in parentheses"]);
    plane("pad.left-stick | «clamp» 1 0", &["keeps nothing between 1 and 0"]);
    plane("pad.left-stick | «not»", &["`not` takes an axis, but this is a plane"]);
    plane("pad.left-stick | order «xx»", &["names each of its components once"]);
    plane("pad.left-stick | rotate «45»", &["has no unit of angle; write `45deg`"]);
    plane("pad.left-stick | rotate 45deg «around=x»", &["turns around nothing but z"]);
    plane("pad.left-stick | ways «2.5»", &["is a whole number"]);
    plane("pad.left-stick | «remap» 1 1 0 1", &["cannot spread"]);
    axis("key.KeyA | switch-at 0.5 «off=0.6»", &["go off above where it goes on"]);
    plane("pad.left-stick | cap «0%»", &["more than 0"]);
    plane("pad.left-stick | flip «z»", &["not a component of a plane"]);
    plane("pad.left-stick | «onto x»", &["takes an axis, but this is a plane already"]);
    plane("«@»hard", &["expected a control"]);
    plane("pad.left-stick | «@sofd»", &["did you mean `@soft`?"]);
    axis("key.KeyA | «pick x»", &["takes a plane or a space, but this is an axis already"]);
    axis("key.KeyA | scale 1 «2»", &["takes one number"]);
    axis("key.KeyA | scale «1e3»", &["`e3` is not a unit"]);
    axis("key.KeyA | scale «1.2.3»", &["is not a number"]);
    axis("key.KeyA | flip «;» flip", &["`;` has no meaning"]);
    check("preset.odd = \"pick x | «curv» 2\"\n[map.m]", &["did you mean `curve 1.6"]);
    check(
        "preset.one = \"@two\"\npreset.two = \"flip | «@one»\"\n[map.m]",
        &["presets in a loop: @one, @two, @one"],
    );
    check("preset.two = \"«@sofd»\"\n[map.m]", &["did you mean `@soft`?"]);
    check(
        "preset.flat = \"pick x\"\n[map.m.a]\nvalue = \"axis\"\nbind.desk = \"key.KeyA | «@flat»\"",
        &["takes a plane or a space"],
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
    fire(
        "«hold» or «prss» or «taps» 2",
        &["needs a time", "did you mean `press`?", "needs `gap=`"],
    );
    fire("taps «1.5» gap=1s or repeat 0.1s «ater»=1s", &["whole number", "did you mean `after=`?"]);
    fire("«sequence(hail) within=1s» or press", &["stands alone in its rule"]);
    check("[map.m.«a»]\nvalue = \"switch\"\nfire = \"press with a\"", &["in a loop: m.a → m.a"]);
    check(
        "[map.m.«a»]\nvalue = \"switch\"\nfire = \"press with b\"\n[map.m.b]\nvalue = \"switch\"\nyields-to = [\"a\"]",
        &["in a loop: m.a → m.b → m.a"],
    );
    check(
        "[map.m.a]\nvalue = \"axis\"\nyields-to = [«\"b\"»]\n[map.m.b]\nvalue = \"switch\"",
        &["an action with `while` yields to nothing"],
    );
    fire(
        "press with «quay.hial» unless «calm»",
        &["did you mean `quay.hail`?", "no setting or fact `calm`"],
    );
    fire("press «2»", &["does not take this"]);
    fire("«deadzone» 0.1", &["is a step, and stands behind `|`"]);
    check("[map.m.a]\nvalue = \"switch\"\nfire = 'press or«'»", &["expected a cue, found the end"]);
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
fn maps_devices_and_lists() {
    let top = |text: &str, says: &[&str]| {
        let (plain, spans) = unmarked(text);
        let (source, diagnostics) = faults(&format!("harmonym = 1\n{plain}\n"));
        let told: Vec<_> = diagnostics.iter().map(|f| f.in_source(&source).to_string()).collect();
        assert_eq!(diagnostics.len(), spans.len(), "{}", told.join("\n"));
        for ((found, span), says) in told.iter().zip(spans).zip(says) {
            assert!(found.contains(says), "no `{says}` in {found}");
            assert_eq!(diagnostics[0].span.start, span.start + 13);
        }
    };
    top("seats = «0»", &["there are 1 to 8 seats"]);
    top("seats = «1.5»", &["there are 1 to 8 seats"]);
    top("seats = «9»", &["there are 1 to 8 seats"]);
    top("reserved = [«\"key.KeyAA\"»]", &["did you mean `key.KeyA`?"]);
    top("waive = [«\"fast-diagonl\"»]", &["did you mean `fast-diagonal`?"]);
    check("[map.m]\nrank = «1.5»", &["a whole number, -1000000 to 1000000"]);
    check("[map.m]\nkind = \"always\"\nstart = «false»", &["is always open"]);
    check("[map.m]\nalso = [«\"m.a\"»]\n[map.m.a]\nvalue = \"switch\"", &["lives in this map"]);
    check("[map.m]\nalso = [«\"k.b\"»]\n[map.k.a]\nvalue = \"switch\"", &["did you mean `k.a`?"]);
    check("[map.m.a]\nvalue = \"switch\"\nclaim = «1»", &["true or false"]);
    check("[map.m.a]\nvalue = \"turn\"\nblend = «\"sum\"»", &["turns cannot be added"]);
    let former = "[map.m.a]\nvalue = \"axis\"\nblend = «\"strongest\"»";
    check(former, &["`strongest` is not a blend; write `greatest`"]);
    check("[device.«char»]\ncontrols = { a = \"stick\" }", &["uses the word itself"]);
    check("[device.«bench»]", &["has no controls"]);
    check("[device.bench]\ncontrols = { a = «\"stik\"» }", &["did you mean `stick`?"]);
    let bench = |as_is: &str, says: &[&str]| {
        let controls = "controls = { thumb = \"stick\", grab = \"button\" }";
        check(&format!("[device.bench]\n{controls}\nas = {{ {as_is} }}"), says);
    };
    bench("«thmb» = \"pad.left-stick\"", &["did you mean `thumb`?"]);
    bench("thumb = «\"pad.left-stik\"»", &["did you mean `pad.left-stick`?"]);
    bench("thumb = «\"pad.south\"»", &["make the control a `button`"]);
    bench("grab = «\"mouse.wheel.up\"»", &["no device reports"]);
    bench("grab = \"pad.left-trigger\"", &[]);
}

#[test]
fn a_list_within_a_list_of_bindings_is_told() {
    check(
        "[map.m.a]\nvalue = \"switch\"\nbind.desk = [«[\"key.KeyA\", \"key.KeyB\"]», \"key.KeyC\"]",
        &["`bind.desk` is a text or a list of texts, not a list"],
    );
}

#[test]
fn settings_and_facts() {
    check("[setting.«slow»]", &["has no default"]);
    check("[setting.slow]\ndefault = «2»\nrange = [0, 1]", &["outside of the range; it is 0 to 1"]);
    check("[setting.slow]\ndefault = true\nrange = «[0, 1]»", &["a switch has no range"]);
    check("[setting.slow]\ndefault = «1»\nrange = «[2, 1]»", &["outside", "holds nothing"]);
    check("[setting.slow]\ndefault = 1\nrange = «3»", &["a list of two numbers"]);
    check("[setting.slow]\ndefault = 1\nunit = «\"min\"»", &["the units are s, ms, deg, rad"]);
    check("[fact.slow]\ndefault = «true»", &["`default` is a number"]);
    check("[setting.slow]\ndefault = 1\n[fact.«slow»]", &["is a setting and a fact"]);
    check("[fact.«length»]", &["uses the word itself"]);
    check(
        "[fact.wait]\nunit = \"ms\"\n[map.m.a]\nvalue = \"axis\"\nbind.desk = \"key.KeyA | scale «wait»\"",
        &["is not counted in ms, but `wait` is"],
    );
    check(
        "[map.m.a]\nvalue = \"switch\"\nbind.desk = «{ rebind = false }»",
        &["does not say what it reads"],
    );
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

#[test]
fn a_fault_says_of_which_kind_it_is() {
    for (text, kind) in [
        ("harmonym = ", "syntax"),
        ("harmonym = 1\nnonsense = 1", "unknown-key"),
        (
            "harmonym = 1\nmap.m.a = { value = \"switch\", bind.desk = \"key.KeyA\" }",
            "unknown-name",
        ),
        (
            "harmonym = 1\nscheme.d.devices = [\"key\"]\nmap.m.a = { value = \"switch\", bind.d = \"key.A\" }",
            "unknown-control",
        ),
        ("harmonym = 1\nmap.m.a = { value = \"swich\" }", "unknown-word"),
        ("harmonym = 1\ntitle = 3", "wrong-kind"),
        ("harmonym = 1\nmap.m.a = { value = \"switch\", fire = \"hold 2\" }", "wrong-unit"),
        ("harmonym = 1\nmap.m.a = { value = \"axis\", shape = \"cap 0\" }", "out-of-range"),
        ("harmonym = 1\nmap.m.a = {}", "missing"),
        ("harmonym = 1\nmap.m.a = { value = \"axis\", shape = \"@a\" }\npreset.a = \"@a\"", "loop"),
        ("harmonym = 1\nmap.m.A = { value = \"switch\" }", "bad-name"),
    ] {
        let (_, all) = faults(text);
        let kinds: Vec<&str> = all.iter().map(|fault| fault.rule).collect();
        assert!(kinds.contains(&kind), "{text}: {kinds:?}");
    }
}

#[test]
fn a_loop_is_told_beside_a_fault_of_another_action() {
    check(
        "[map.quay.haul]\nvalue = \"axis\"\nlevels = { wake = «2» }\n\
         [map.quay.«a»]\nvalue = \"axis\"\nbind.desk = \"act.b\"\n\
         [map.quay.b]\nvalue = \"axis\"\nbind.desk = \"act.a\"\n",
        &["wake", "loop"],
    );
}

#[test]
fn a_place_ends_before_a_line_that_goes_on() {
    check(
        "[map.quay.haul]\nvalue = \"axis\"\nbind.desk = \"\"\"«key.Nowhere»\\\n    | flip\"\"\"\n",
        &["Nowhere"],
    );
}

#[test]
fn a_loop_shows_each_other_action_on_it_once() {
    let row = |name: &str, other: &str| {
        format!("[map.m.{name}]\nvalue = \"switch\"\nfire = \"press with {other}\"\n")
    };
    let text = format!("{HEAD}{}{}{}", row("a", "b"), row("b", "c"), row("c", "a"));
    let (_, diagnostics) = faults(&text);
    let [told] = diagnostics.as_slice() else { panic!("{diagnostics:?}") };
    let shown: Vec<_> = told.also.iter().map(|(span, _)| &text[span.start..span.end]).collect();
    assert_eq!((&text[told.span.start..told.span.end], shown), ("a", vec!["b", "c"]));
}
