//! Maps, claims, `+`, devices and what moves, moment by moment, at 10 ticks a second.

use crate::cases::whole;

fn key(t: &str, code: &str, value: u8) -> String {
    format!("{{\"t\":{t},\"control\":\"key.{code}\",\"value\":{value}}}\n")
}

/// A line of a take at a moment.
fn at(t: &str, what: &str) -> String {
    format!("{{\"t\":{t},{what}}}\n")
}

const TWO_MAPS: &str = "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n\
                        [map.quay.b]\nvalue = \"axis\"\nbind.desk = \"key.KeyB\"\n\
                        [map.book]\nkind = \"layer\"\n[map.book.c]\nvalue = \"switch\"\n\
                        bind.desk = [\"key.KeyA\", \"key.KeyB\"]\n";

#[test]
fn a_layer_claims_what_it_binds_and_gives_it_back_when_it_was_let_go() {
    whole(
        TWO_MAPS,
        &[
            key("0.1", "KeyB", 1),
            at("0.2", "\"open\":\"book\""),
            key("0.3", "KeyB", 0),
            key("0.4", "KeyA", 1),
            at("0.5", "\"close\":\"book\""),
            // Held since before the map closed: `a` begins with a press and waits for a new one.
            key("0.6", "KeyA", 0),
            key("0.7", "KeyA", 1),
            key("0.8", "KeyA", 0),
        ]
        .concat(),
        "0.1 #1 scheme desk
         0.1 #1 b wake 1 held 0 from desk#1
         0.1 #1 b fire 1 by while held 0 live 0 from desk#1
         0.2 #2 book opens
         0.2 #2 b rest 0 claimed held 0.1 live 0.1 from desk#1
         0.4 #4 book.c wake on held 0 from desk#1
         0.4 #4 book.c fire on by press held 0 live 0 from desk#1
         0.5 #5 book closes
         0.5 #5 book.c rest off map-off held 0.1 live 0.1 from desk#1
         0.7 #7 a wake on held 0 from desk#1
         0.7 #7 a fire on by press held 0 live 0 from desk#1
         0.8 #8 a rest off released held 0.1 live 0.1 from desk#1",
    );
}

#[test]
fn a_pause_ends_what_does_not_work_in_it_and_toggles_stay() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA | toggle\"\nfire = \"press\"\ncarry = true\n",
        &[
            key("0.1", "KeyA", 1),
            key("0.15", "KeyA", 0),
            at("0.2", "\"pause\":true"),
            at("0.4", "\"pause\":false"),
            key("0.5", "KeyA", 1),
        ]
        .concat(),
        "0.1 #1 scheme desk
         0.1 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by press held 0 live 0 from desk#1
         0.2 #2 paused true
         0.2 #2 a rest off paused held 0.1 live 0.1 from desk#1
         0.4 #4 paused false
         0.4 #4 a wake on held 0 from desk#1
         0.4 #4 a fire on by press held 0 live 0 from desk#1
         0.5 #5 a rest off released held 0.1 live 0.1 from desk#1",
    );
}

#[test]
fn a_map_that_closes_during_a_pause_sets_its_toggles_back() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA | toggle\"\ncarry = true\n\
         [map.tug]\nalso = [\"quay.b\"]\n\
         [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyB | toggle\"\ncarry = true\n",
        &[
            key("0.1", "KeyA", 1),
            key("0.11", "KeyA", 0),
            key("0.12", "KeyB", 1),
            key("0.13", "KeyB", 0),
            at("0.2", "\"pause\":true"),
            at("0.3", "\"open\":\"tug\""),
            at("0.4", "\"open\":\"quay\""),
            at("0.5", "\"pause\":false"),
        ]
        .concat(),
        "0.1 #1 scheme desk
         0.1 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by press held 0 live 0 from desk#1
         0.12 #2 b wake on held 0 from desk#1
         0.12 #2 b fire on by press held 0 live 0 from desk#1
         0.2 #2 paused true
         0.2 #2 a rest off paused held 0.1 live 0.1 from desk#1
         0.2 #2 b rest off paused held 0.08 live 0.08 from desk#1
         0.3 #3 quay closes
         0.3 #3 tug opens
         0.4 #4 tug closes
         0.4 #4 quay opens
         0.5 #5 paused false
         0.5 #5 b wake on held 0 from desk#1
         0.5 #5 b fire on by press held 0 live 0 from desk#1
         0.5 #5 b rest off stopped held 0 live 0 from desk#1",
    );
}

#[test]
fn controls_held_together_count_in_their_order_and_hide_the_last_one_alone() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.Control + key.KeyA\"\n\
         [map.quay.b]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\n",
        &[
            key("0.1", "ControlRight", 1),
            key("0.2", "KeyA", 1),
            key("0.3", "ControlRight", 0),
            key("0.4", "KeyA", 0),
            // The other way round A counts alone.
            key("0.5", "KeyA", 1),
            key("0.6", "ControlLeft", 1),
            key("0.7", "KeyA", 0),
        ]
        .concat(),
        "0.1 #1 scheme desk
         0.2 #2 a wake on held 0 from desk#1
         0.2 #2 a fire on by press held 0 live 0 from desk#1
         0.3 #3 a rest off released held 0.1 live 0.1 from desk#1
         0.5 #5 b wake on held 0 from desk#1
         0.5 #5 b fire on by press held 0 live 0 from desk#1
         0.7 #7 b rest off released held 0.2 live 0.2 from desk#1",
    );
}

#[test]
fn every_notch_of_a_wheel_is_a_press_and_shares_of_one_add_up() {
    let wheel = |t: &str, by: &str| at(t, &format!("\"control\":\"mouse.wheel\",\"by\":{by}"));
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"mouse.wheel.up\"\n\
         [map.quay.b]\nvalue = \"axis\"\nbind.desk = \"mouse.wheel.y\"\nfire = \"change\"\n",
        &[wheel("0.11", "[0,0.5]"), wheel("0.12", "[0,1.5]"), wheel("0.25", "[0,-1]")].concat(),
        "0.12 #2 scheme desk
         0.12 #2 a wake on held 0 from desk#1
         0.12 #2 a fire on by press held 0 live 0 from desk#1
         0.12 #2 a rest off released held 0 live 0 from desk#1
         0.12 #2 a wake on held 0 from desk#1
         0.12 #2 a fire on by press held 0 live 0 from desk#1
         0.12 #2 a rest off released held 0 live 0 from desk#1
         0.2 #2 b wake 2 held 0 from desk#1
         0.2 #2 b fire 2 by change held 0 live 0 from desk#1
         0.3 #3 b fire 0 by change held 0.1 live 0.1 from desk#1
         0.3 #3 b rest 0 released held 0.1 live 0.1 from desk#1
         0.3 #3 b wake -1 held 0 from desk#1
         0.3 #3 b fire -1 by change held 0 live 0 from desk#1
         0.3 #3 b rest 0 stopped held 0 live 0 from desk#1",
    );
}

#[test]
fn an_eased_axis_crosses_its_levels_on_whole_milliseconds() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA | ease rise=4/s fall=9/s\"\nfire = \"release\"\n",
        // 0.55 at 4 a second takes 137.5 ms: seen at 238 ms. Back from 1 under 0.44 at 9 a second
        // takes 62.2 ms: at 463 ms.
        &[key("0.1", "KeyA", 1), key("0.4", "KeyA", 0)].concat(),
        "0.1 #1 scheme desk
         0.238 #3 a wake on held 0 from desk#1
         0.463 #5 a fire on by release held 0.225 live 0 from desk#1
         0.463 #5 a rest off released held 0.225 live 0 from desk#1",
    );
}

#[test]
fn a_device_that_stands_in_reaches_the_standard_bindings_and_goes_with_its_own_scheme() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\n\
         [map.quay.b]\nvalue = \"switch\"\nbind.pad = \"pad#2.south\"\n",
        &[
            at("0.1", "\"control\":\"slate.tap\",\"value\":1"),
            at("0.2", "\"control\":\"slate.tap\",\"value\":0"),
            at("0.3", "\"control\":\"pad#2.south\",\"value\":1"),
            at("0.4", "\"control\":\"pad#2.south\",\"value\":0"),
        ]
        .concat(),
        "0.1 #1 scheme slate
         0.1 #1 a wake on held 0 from pad#1
         0.1 #1 a fire on by press held 0 live 0 from pad#1
         0.2 #2 a rest off released held 0.1 live 0.1 from pad#1
         0.3 #3 scheme pad
         0.3 #3 a wake on held 0 from pad#1
         0.3 #3 a fire on by press held 0 live 0 from pad#1
         0.3 #3 b wake on held 0 from pad#1
         0.3 #3 b fire on by press held 0 live 0 from pad#1
         0.4 #4 a rest off released held 0.1 live 0.1 from pad#1
         0.4 #4 b rest off released held 0.1 live 0.1 from pad#1",
    );
}

#[test]
fn a_claim_on_one_axis_leaves_the_other_axis_alone_when_it_ends() {
    whole(
        "[map.quay.a]\nvalue = \"axis\"\nbind.pad = \"pad.left-stick.up\"\nfire = \"press\"\n\
         [map.book]\nkind = \"layer\"\n\
         [map.book.b]\nvalue = \"axis\"\nbind.pad = \"pad.left-stick.x\"\nfire = \"press\"\n",
        &[
            at("0.1", "\"control\":\"pad.left-stick\",\"value\":[0,0.6]"),
            at("0.2", "\"open\":\"book\""),
            at("0.3", "\"close\":\"book\""),
            at("0.4", "\"control\":\"pad.left-stick\",\"value\":[0,0]"),
        ]
        .concat(),
        "0.1 #1 scheme pad
         0.1 #1 a wake 0.6 held 0 from pad#1
         0.1 #1 a fire 0.6 by press held 0 live 0 from pad#1
         0.2 #2 book opens
         0.3 #3 book closes
         0.4 #4 a rest 0 released held 0.3 live 0.3 from pad#1",
    );
}

#[test]
fn a_turn_wakes_by_its_angle_and_a_speed_adds_up_over_the_tick() {
    whole(
        "[device.globe]\ncontrols = { spin = \"turn\" }\n[map.quay.a]\nvalue = \"turn\"\n\
         bind.all = \"globe.spin\"\nlevels = { down = 0.5 }\nfire = \"press\"\n\
         [map.quay.b]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger | scale 2 | travel\"\nfire = \"press\"\nlevels = { down = 0.002 }\n",
        &[
            // 0.4 rad around z, then 1 rad.
            at("0.1", "\"control\":\"globe.spin\",\"value\":[0,0,0.19866933,0.98006658]"),
            at("0.2", "\"control\":\"globe.spin\",\"value\":[0,0,0.5,0.8660254037844386]"),
            at("0.25", "\"control\":\"pad.left-trigger\",\"value\":1"),
            at("0.35", "\"control\":\"globe.spin\",\"value\":[0,0,0,1]"),
            at("0.4", "\"control\":\"pad.left-trigger\",\"value\":0"),
        ]
        .concat(),
        "0.2 #2 a wake 0,0,0.5,0.8660254037844386 held 0 from all#1
         0.2 #2 a fire 0,0,0.5,0.8660254037844386 by press held 0 live 0 from all#1
         0.25 #3 scheme pad
         0.3 #3 b wake 0.1 held 0 from pad#1
         0.3 #3 b fire 0.1 by press held 0 live 0 from pad#1
         0.35 #4 a rest 0,0,0,1 released held 0.15 live 0.15 from all#1
         0.4 #4 b rest 0 stopped held 0.1 live 0.1 from pad#1",
    );
}

#[test]
fn narrowing_ends_what_lived_on_other_schemes() {
    whole(
        "[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nbind.pad = \"pad.south\"\n",
        &[
            key("0.1", "KeyA", 1),
            at("0.2", "\"scheme\":\"pad\""),
            key("0.3", "KeyA", 0),
            key("0.4", "KeyA", 1),
            at("0.5", "\"control\":\"pad.south\",\"value\":1"),
        ]
        .concat(),
        "0.1 #1 scheme desk
         0.1 #1 a wake on held 0 from desk#1
         0.1 #1 a fire on by press held 0 live 0 from desk#1
         0.2 #2 a rest off scheme-off held 0.1 live 0.1 from desk#1
         0.5 #5 scheme pad
         0.5 #5 a wake on held 0 from pad#1
         0.5 #5 a fire on by press held 0 live 0 from pad#1
         0.5 #5 a rest off stopped held 0 live 0 from pad#1",
    );
}
