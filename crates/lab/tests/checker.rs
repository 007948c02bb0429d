//! The checker: ranges hold what the engine gives, and each rule finds its mistake and no other.

use harmonym_lab::check::{RULES, check};
use harmonym_lang::profile::table;
use harmonym_lang::report::Level;
use harmonym_lang::source::Source;
use harmonym_lang::{load, model::Profile};
use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

fn profile(text: &str) -> Profile {
    match load(&Source::new("t", text)) {
        Ok((profile, _)) => profile,
        Err(faults) => panic!("{faults:#?}\n{text}"),
    }
}

/// The rules that find something, with what they say.
fn found(text: &str) -> Vec<(&'static str, String)> {
    let remarks = check(&profile(text), &BTreeSet::new());
    remarks.into_iter().map(|remark| (remark.diagnostic.rule, remark.diagnostic.message)).collect()
}

#[test]
fn every_rule_finds_its_mistake_and_is_content_with_the_mended_one() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/faulty");
    for rule in RULES {
        let read =
            |end: &str| fs::read_to_string(folder.join(format!("{}{end}", rule.name))).unwrap();
        let faulty = found(&read(".toml"));
        assert!(
            !faulty.is_empty() && faulty.iter().all(|(name, _)| *name == rule.name),
            "{}: {faulty:?}",
            rule.name
        );
        assert_eq!(found(&read(".mended.toml")), [], "{}", rule.name);
    }
    let page = fs::read_to_string(folder.join("../../docs/reference/check.md")).unwrap();
    for rule in RULES {
        let row = format!("| `{}` | {} | {} |\n", rule.name, rule.level.word(), rule.finds);
        assert!(page.contains(&row), "docs/reference/check.md has no {row}");
    }
    let names: Vec<&str> = RULES.iter().map(|rule| rule.name).collect();
    assert_eq!(names, table::RULES, "the list of what can be waived");
    assert!(RULES.iter().all(|rule| rule.level >= Level::Note && rule.finds.ends_with('.')));
}

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nscheme.slate.devices = [\"touch\"]\n";

/// Actions of one map that starts, each as `name | value | scheme | binding | more lines`.
fn map(rows: &[&str]) -> String {
    let mut text = format!("{HEAD}[map.quay]\nstart = true\n");
    for row in rows {
        let parts: Vec<&str> = row.split(" ; ").collect();
        text.push_str(&format!("[map.quay.{}]\nvalue = \"{}\"\n", parts[0], parts[1]));
        for line in &parts[2..] {
            text.push_str(line);
            text.push('\n');
        }
    }
    text
}

#[test]
fn rules_see_through_steps_guards_and_maps() {
    // What is expected, or nothing; only the rule named is looked at.
    for (rule, rows, fires) in [
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"tap 0.2s\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"charge 0.4s\"",
            ][..],
            false,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"tap 0.5s\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"charge 0.4s\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"taps 2 gap=0.3s\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.KeyF\" ; fire = \"press without b\"",
                "b ; switch ; bind.desk = \"key.KeyF\" ; fire = \"hold 1s\"",
            ],
            false,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.desk = \"key.Shift\"",
                "b ; switch ; bind.desk = \"key.ShiftLeft\"",
            ],
            true,
        ),
        (
            "double-fire",
            &[
                "a ; switch ; bind.pad = \"pad.left-stick.up\"",
                "b ; switch ; bind.pad = \"pad.left-stick.x\"",
            ],
            false,
        ),
        (
            "double-fire",
            &["a ; switch ; bind.pad = \"pad.south\"", "b ; switch ; bind.pad = \"pad#2.south\""],
            true,
        ),
        ("never-fires", &["a ; switch ; bind.pad = \"pad.right-trigger | cap 0.5\""], true),
        (
            "never-fires",
            &["a ; switch ; bind.pad = \"pad.right-trigger | cap 0.5 | remap 0 0.5 0 1\""],
            false,
        ),
        (
            "never-fires",
            &["a ; axis ; bind.pad = \"pad.left-stick.x | clamp 0 1 | flip | clamp 0 1\""],
            true,
        ),
        (
            "never-fires",
            &["a ; switch ; bind.desk = \"mouse.wheel.up\" ; fire = \"hold 0.2s\""],
            true,
        ),
        ("never-fires", &["a ; switch ; bind.desk = \"mouse.wheel.up\" ; fire = \"press\""], false),
        (
            "never-fires",
            &[
                "a ; switch ; bind.desk = \"key.KeyA\" ; fire = \"press with b without b\"",
                "b ; switch ; bind.desk = \"key.KeyB\"",
            ],
            true,
        ),
        (
            "never-fires",
            &[
                "a ; switch ; bind.desk = \"key.KeyA | scale 0.1\"",
                "b ; switch ; fire = \"sequence(a, c) within=1s\"",
                "c ; switch ; bind.desk = \"key.KeyC\"",
            ],
            true,
        ),
        ("same-direction", &["a ; axis ; bind.desk = [\"key.KeyW\", \"key.KeyS | flip\"]"], false),
        (
            "same-direction",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyS | onto y\"] ; blend = \"sum\"",
            ],
            true,
        ),
        (
            "lone-keys",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyD | onto x\"] ; blend = \"sum\"",
            ],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD, corner=square)\"",
            ],
            true,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\""],
            false,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 by=axes full=0.6\""],
            true,
        ),
        (
            "fast-diagonal",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale 3\""],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyS | flip | onto y\", \"key.KeyA | flip | onto x\", \"key.KeyD | onto x\"] ; blend = \"sum\"",
            ],
            true,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.ArrowUp | onto y\", \"key.KeyS | flip | onto y\"] ; blend = \"sum\"",
            ],
            false,
        ),
        (
            "fast-diagonal",
            &[
                "a ; plane ; bind.all = \"join(act.b, act.c)\"",
                "b ; axis ; bind.desk = \"pair(key.KeyA, key.KeyD)\"",
                "c ; axis ; bind.desk = \"pair(key.KeyS, key.KeyW)\"",
            ],
            true,
        ),
        (
            "crossed-signs",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\" ; bind.pad = \"pad.left-stick | deadzone 0.1 | order yx\"",
            ],
            true,
        ),
        (
            "crossed-signs",
            &[
                "a ; axis ; bind.desk = \"pair(key.KeyW, key.KeyS)\" ; bind.pad = \"pad.left-stick.y | deadzone 0.1\"",
            ],
            true,
        ),
        ("raw-stick", &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.05\""], true),
        ("raw-stick", &["a ; axis ; bind.pad = \"pad.left-trigger | switch-at 0.5\""], false),
        ("raw-stick", &["a ; switch ; bind.pad = \"pad.left-trigger\""], false),
        (
            "crossed-signs",
            &[
                "a ; plane ; bind.desk = \"touch.drag | scale 2\" ; bind.pad = \"pad.right-stick | deadzone 0.1\"",
            ],
            false,
        ),
        (
            "half-reach",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\" ; bind.pad = \"pad.left-stick.x | deadzone 0.1 | onto x\"",
            ],
            true,
        ),
        ("idle-step", &["a ; axis ; bind.pad = \"pad.left-trigger | cap 1\""], true),
        ("idle-step", &["a ; plane ; bind.pad = \"pad.left-stick | cap 1\""], false),
        ("idle-step", &["a ; axis ; bind.pad = \"pad.left-trigger | flip | flip\""], true),
        (
            "idle-step",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | deadzone 0\"",
            ],
            true,
        ),
        (
            "idle-step",
            &[
                "a ; plane ; bind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD) | deadzone 0 by=axes\"",
            ],
            true,
        ),
        (
            "step-order",
            &["a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | cap 1 | scale 2\""],
            true,
        ),
        (
            "step-order",
            &[
                "a ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale 100 | travel | notch 1\"",
            ],
            true,
        ),
        ("system-key", &["a ; switch ; bind.desk = \"key.Alt + key.Tab\""], true),
        ("system-key", &["a ; switch ; bind.desk = \"key.Control + key.Tab\""], false),
        ("many-keys", &["a ; switch ; bind.desk = \"key.Control + key.Shift + key.KeyE\""], false),
        (
            "shadowed-keys",
            &[
                "a ; switch ; bind.desk = \"key.KeyE\"",
                "b ; switch ; bind.desk = \"key.Shift + key.KeyE\" ; waive = [\"shadowed-keys\"]",
            ],
            true,
        ),
        (
            "alike-names",
            &[
                "step-back ; switch ; bind.desk = \"key.KeyE\"",
                "back-step ; switch ; bind.desk = \"key.KeyB\"",
            ],
            true,
        ),
        (
            "alike-names",
            &[
                "deck-1 ; switch ; bind.desk = \"key.KeyE\"",
                "deck-2 ; switch ; bind.desk = \"key.KeyB\"",
            ],
            false,
        ),
    ] {
        let text = match rule {
            "crossed-signs" => map(rows).replace("bind.desk = \"touch", "bind.slate = \"touch"),
            _ => map(rows),
        };
        // touch.drag runs down as the hand sees it: only then does that one cross.
        let fires = fires || rule == "crossed-signs";
        let all = found(&text);
        assert_eq!(all.iter().any(|(name, _)| *name == rule), fires, "{rule}: {all:?}\n{text}");
    }
}

#[test]
fn every_pair_on_a_key_is_found_once() {
    let mut text = format!("{HEAD}[map.quay]\nstart = true\n");
    for i in 0..300 {
        text.push_str(&format!(
            "[map.quay.act-{i}]\nvalue = \"switch\"\nbind.desk = \"key.F{}\"\nfire = \"tap 0.{:03}s\"\nyields-to = []\n",
            1 + i % 24,
            100 + i
        ));
    }
    let pairs = found(&text).into_iter().filter(|(name, _)| *name == "double-fire").count();
    // Each action with those before it on its key, four at most: 24 keys with 12 or 13 actions.
    let of = |n: usize| (0..n).map(|before| before.min(4)).sum::<usize>();
    assert_eq!(pairs, 12 * of(13) + 12 * of(12));
}

#[test]
fn what_two_uses_feel_of_a_control_is_known_by_its_half_axes() {
    let shares = |a: &str, b: &str| {
        let row = |name: &str, binding: &str| {
            format!("{name} ; switch ; bind.pad = \"{binding}\" ; fire = \"press\"")
        };
        let (a, b) = (row("row", a), row("sound", b));
        let all = found(&map(&[&a, &b]));
        all.iter().any(|(rule, _)| matches!(*rule, "shared-control" | "double-fire"))
    };
    assert!(shares("pad.left-stick | pick y", "pad.left-stick.up"));
    assert!(shares("pad.left-stick | pick y", "pad.left-stick.down"));
    assert!(shares("pad.left-stick | pick x", "pad.left-stick.left"));
    assert!(!shares("pad.left-stick | pick y", "pad.left-stick.left"));
    assert!(!shares("pad.left-stick | pick x", "pad.left-stick.up"));
}

#[test]
fn maps_that_replace_each_other_do_not_meet() {
    let text = |kinds: [&str; 2], key: &str| {
        let mut text = HEAD.to_owned();
        for (map, kind) in ["quay", "tug"].into_iter().zip(kinds) {
            text.push_str(&format!(
                "[map.{map}]\nkind = \"{kind}\"\n[map.{map}.act]\nvalue = \"switch\"\n\
                 bind.desk = \"{key}\"\nfire = \"press\"\n"
            ));
        }
        text
    };
    let fires_twice = |kinds| {
        found(&text(kinds, "key.KeyF"))
            .iter()
            .any(|(rule, _)| matches!(*rule, "shared-control" | "double-fire"))
    };
    assert!(!fires_twice(["solo", "solo"]));
    assert!(fires_twice(["solo", "always"]));
    // Who never lives with an action never lets it fire by being live.
    let never = |kinds| {
        let text = text(kinds, "key.KeyF");
        let guarded = text.replacen("fire = \"press\"", "fire = \"press with tug.act\"", 1);
        !said("never-fires", &guarded).is_empty()
    };
    assert!(never(["solo", "solo"]));
    assert!(!never(["solo", "always"]) && !never(["layer", "solo"]));
}

#[test]
fn who_waits_for_what_never_fires_never_fires_either() {
    let text = map(&[
        "weak ; switch ; bind.pad = \"pad.right-trigger | cap 0.1\" ; fire = \"press\"",
        "then ; switch ; bind.pad = \"pad.south\" ; fire = \"press with weak\"",
    ]);
    let never = said("never-fires", &text);
    let waits = "it waits for quay.weak, which never fires";
    assert!(never.iter().any(|told| told.contains(waits)), "{never:?}");
}

#[test]
fn a_remark_has_the_address_of_what_it_is_about() {
    let text = format!("{HEAD}[setting.pace]\ndefault = 1\n[map.quay]\nstart = true\n");
    let remarks = check(&profile(&text), &BTreeSet::new());
    let unused: Vec<_> = remarks
        .iter()
        .filter(|remark| remark.diagnostic.rule == "unused")
        .filter_map(|remark| remark.diagnostic.address.as_deref())
        .collect();
    assert!(unused.contains(&"setting.pace"), "{unused:?}");
}

#[test]
fn names_are_alike_by_one_character_from_four_on() {
    let alike = |a: &str, b: &str| {
        let row = |name: &str, key: &str| {
            format!("{name} ; switch ; bind.desk = \"key.{key}\" ; fire = \"press\"")
        };
        let (a, b) = (row(a, "KeyA"), row(b, "KeyB"));
        found(&map(&[&a, &b])).iter().any(|(rule, _)| *rule == "alike-names")
    };
    for (a, b) in [("haul", "hail"), ("rows", "rowst"), ("open-log", "log-open"), ("moor", "mooor")]
    {
        assert!(alike(a, b) && alike(b, a), "{a} {b}");
    }
    for (a, b) in [("row", "raw"), ("haul", "hauling"), ("deck-1", "deck-2"), ("haul", "hook")] {
        assert!(!alike(a, b) && !alike(b, a), "{a} {b}");
    }
}

#[test]
fn an_expectation_that_nothing_happens_can_be_met_by_what_never_fires() {
    let text = map(&["row ; switch ; bind.desk = \"key.KeyR | scale 0.1\" ; fire = \"press\""]);
    let source = Source::new("t", text);
    let (profile, plan) = load(&source).expect("a sound profile");
    let scores = [
        "at 1s press key.KeyR for 0.1s\nexpect quay.row never fires\n",
        "at 1s press key.KeyR for 0.1s\nexpect quay.row fires 2 times\n",
        "at 1s press key.KeyR for 0.1s\nexpect quay.row = 7 at 1.05s\n",
    ];
    let scores = scores.iter().map(|score| Source::new("s", *score)).collect();
    let review = harmonym_lab::check::Review::new(source, &profile, &plan, scores);
    let never: Vec<_> = review
        .iter()
        .filter(|(_, one)| one.rule == "never-holds")
        .map(|(s, one)| s.slice(one.span))
        .collect();
    assert_eq!(never, ["expect quay.row fires 2 times"]);
}

/// What one rule says of a profile.
fn said(rule: &str, text: &str) -> Vec<String> {
    found(text).into_iter().filter(|(name, _)| *name == rule).map(|(_, message)| message).collect()
}

#[test]
fn remarks_name_the_right_controls_sides_numbers_and_devices() {
    let keys = [
        "walk ; plane ; bind.desk = [\"key.KeyW | onto y\", \"key.KeyD | onto x\"] ; fire = \"while\"",
    ];
    let lone = said("lone-keys", &map(&keys));
    assert!(lone[0].starts_with("key.KeyD and key.KeyW are bound one by one"), "{lone:?}");
    let remarks = check(&profile(&map(&keys)), &BTreeSet::new());
    let lone = remarks.iter().find(|remark| remark.diagnostic.rule == "lone-keys").unwrap();
    let help = &lone.diagnostic.help;
    assert!(help.starts_with("`four(key.KeyW, …, …, key.KeyD)`"), "{help}");
    // One half alone: the other axis is what is missing, not the other half.
    let half = said(
        "half-reach",
        &map(&["walk ; plane ; bind.pad = \"pad.left-stick.up | onto y\" ; fire = \"while\""]),
    );
    assert!(half.len() == 1 && half[0].contains("of x") && !half[0].contains("of y"), "{half:?}");
    let idle = said(
        "idle-step",
        &map(&[
            "walk ; plane ; bind.pad = \"pad.left-stick | deadzone 0.1 | scale 0.3 | cap 0.5\" ; fire = \"while\"",
        ]),
    );
    assert!(idle.iter().any(|told| told.contains("the value gets to 0.3 at most")), "{idle:?}");
    let text = format!(
        "{HEAD}scheme.helm.devices = [\"wheel\"]\n[device.wheel]\ncontrols = {{ turn = \"axis\" }}\n\
         [device.bell]\ncontrols = {{ rope = \"lever\" }}\n[map.quay]\nstart = true\n\
         [map.quay.steer]\nvalue = \"axis\"\nbind.helm = \"wheel.turn\"\n"
    );
    let unused: Vec<_> =
        said("unused", &text).into_iter().filter(|told| told.contains("device")).collect();
    assert_eq!(unused, ["nothing uses the device bell"]);
}

#[test]
fn a_layer_that_takes_what_opens_it_needs_a_way_out() {
    let text = |kind: &str| {
        format!(
            "{HEAD}[map.quay]\nstart = true\n[map.quay.open-log]\nvalue = \"switch\"\n\
             bind.desk = \"key.KeyL\"\n[map.log]\nkind = \"{kind}\"\n[map.log.turn]\n\
             value = \"axis\"\nclaim = true\nbind.desk = \"pair(key.KeyL, key.KeyR)\"\n"
        )
    };
    assert_eq!(said("no-way-out", &text("layer")).len(), 1);
    assert_eq!(said("no-way-out", &text("solo")).len(), 0);
    // Neither the opener itself, nor who only holds its control, nor an action of another map.
    let by = |binding: &str| text("layer").replace("pair(key.KeyL, key.KeyR)", binding);
    assert_eq!(said("no-way-out", &by("pair(key.KeyU, key.KeyR)")), Vec::<String>::new());
    assert_eq!(said("no-way-out", &by("key.KeyL + key.KeyR")), Vec::<String>::new());
    let other = "[map.book]\nkind = \"layer\"\n[map.book.turn]\nvalue = \"axis\"\n\
                 claim = true\nbind.desk = \"key.KeyL\"\n";
    let elsewhere = by("pair(key.KeyU, key.KeyR)") + other;
    assert_eq!(said("no-way-out", &elsewhere), Vec::<String>::new());
}

#[test]
fn every_remark_stands_at_its_place_in_the_file() {
    let text = format!(
        "waive = [\"many-keys\"]\n{HEAD}[setting.pace]\ndefault = 1\n[map.quay]\nstart = true\n\
         waive = [\"unreachable\"]\n[map.quay.row]\nvalue = \"switch\"\nwaive = [\"raw-stick\"]\n\
         bind.desk = [\"key.KeyR\", \"key.KeyT | scale 1\"]\n[map.quay.idle]\nvalue = \"switch\"\n\
         [map.empty]\nkind = \"layer\"\n"
    );
    let source = Source::new("t", text);
    let (profile, plan) = load(&source).expect("a sound profile");
    let review = harmonym_lab::check::Review::new(source, &profile, &plan, Vec::new());
    let told: Vec<_> = review
        .iter()
        .map(|(source, one)| {
            let address = one.address.clone().unwrap_or_default();
            (one.rule, address, source.slice(one.span).to_owned())
        })
        .collect();
    for (rule, address, at) in [
        ("idle-waiver", "waive", "many-keys"),
        ("idle-waiver", "quay.waive", "unreachable"),
        ("idle-waiver", "quay.row.waive", "raw-stick"),
        ("unused", "setting.pace", "[setting.pace]"),
        ("unused", "quay.idle", "[map.quay.idle]"),
        ("unused", "empty", "[map.empty]"),
        ("idle-step", "quay.row@desk#2", "scale"),
    ] {
        let wanted = (rule, address.to_owned(), at.to_owned());
        assert!(told.contains(&wanted), "{wanted:?} is not in {told:#?}");
    }
}

#[test]
fn rules_reckon_with_settings_in_their_own_units_and_over_all_their_range() {
    // A tap that lasts as long as the setting says, in milliseconds.
    let both = |short: u32| {
        let text = format!(
            "{HEAD}[setting.short]\ndefault = {short}\nunit = \"ms\"\n[map.quay]\nstart = true\n\
             [map.quay.lift]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"tap short\"\n\
             [map.quay.open]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold 0.25s\"\n"
        );
        said("double-fire", &text).len()
    };
    assert_eq!((both(200), both(400)), (0, 1));
    // A notch of whatever size rounds up as well as down.
    let grid = format!(
        "{HEAD}[setting.grid]\ndefault = 0.5\nrange = [0.1, 0.6]\n[map.quay]\nstart = true\n\
         [map.quay.lift]\nvalue = \"switch\"\nlevels = {{ wake = 0.5, down = 0.9, up = 0.5 }}\n\
         bind.pad = \"pad.left-trigger | notch grid\"\nfire = \"press\"\n"
    );
    assert_eq!(said("never-fires", &grid), Vec::<String>::new());
}

#[test]
fn an_axis_is_felt_both_ways() {
    let diagonal = |clamped: &str| {
        let text = format!(
            "{HEAD}scheme.levers.devices = [\"bench\"]\n[device.bench]\n\
             controls = {{ ahead = \"axis\", aside = \"axis\" }}\n[map.quay]\nstart = true\n\
             [map.quay.steer]\nvalue = \"plane\"\n\
             bind.levers = \"join(bench.aside | clamp {clamped}, bench.ahead)\"\n"
        );
        said("fast-diagonal", &text).len()
    };
    assert_eq!((diagonal("-1 0"), diagonal("0 1"), diagonal("0 0")), (1, 1, 0));
}

#[test]
fn what_a_guard_tells_apart_shares_a_control_in_peace() {
    let both = |guard: &str| {
        let text = format!(
            "{HEAD}fact.calm = {{}}\n[map.quay]\nstart = true\n\
             [map.quay.row]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"while when calm\"\n\
             [map.quay.drift]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"while{guard}\"\n"
        );
        said("shared-control", &text).len()
    };
    assert_eq!((both(" unless calm"), both("")), (0, 1));
}

#[test]
fn a_setting_is_used_by_the_cue_whose_time_it_is() {
    let text = |cue: &str| {
        format!(
            "{HEAD}[setting.patience]\ndefault = 0.4\n[map.quay]\nstart = true\n[map.quay.knot]\n\
             value = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"{cue}\"\n"
        )
    };
    for cue in ["hold patience", "tap patience", "taps 2 gap=patience", "repeat patience"] {
        let told = said("unused", &text(cue));
        assert!(!told.iter().any(|told| told.contains("patience")), "{cue}: {told:?}");
    }
    assert!(said("unused", &text("press")).iter().any(|told| told.contains("patience")));
}

#[test]
fn only_what_is_on_the_list_is_reserved() {
    let text = format!(
        "reserved = [\"key.KeyP\"]\n{HEAD}[map.quay]\nstart = true\n\
         [map.quay.knot]\nvalue = \"switch\"\nbind.desk = [\"key.KeyE\", \"key.KeyP\"]\n"
    );
    let told = said("system-key", &text);
    assert!(told.len() == 1 && told[0].contains("key.KeyP"), "{told:?}");
}
