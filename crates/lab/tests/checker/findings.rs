//! What findings say: the right controls, sides, numbers and places.

use crate::{HEAD, map, profile, said};
use harmonym_lab::check::check;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::collections::BTreeSet;

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
    assert!(help.contains("four(key.KeyW, …, …, key.KeyD)"), "{help}");
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
