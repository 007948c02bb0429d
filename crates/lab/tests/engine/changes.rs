//! However a motion begins or ends, every tick at which a value that is down has moved tells it by
//! `change`.

use crate::harness::{HEAD, inputs, load};
use harmonym_lab::take::{Playing, Run, Watcher};
use harmonym_runtime::base::{ActionId, Rate, Seat, Time, Vector};
use harmonym_runtime::engine::{EpisodeState, EventKind, Frame, Notice};
use harmonym_runtime::seats::Told;
use std::sync::Arc;

/// Fails where a tick reads another value than `change` told last.
struct Follow<'a> {
    action: ActionId,
    told: Option<Vector>,
    fires: usize,
    case: &'a str,
}

impl Watcher for Follow<'_> {
    fn notice(&mut self, told: Told) {
        match told.notice {
            Notice::Event(event) if event.action == self.action => match event.kind {
                EventKind::Fire(..) => {
                    (self.told, self.fires) = (Some(event.value), self.fires + 1);
                }
                _ => self.told = None,
            },
            _ => {}
        }
    }

    fn tick(&mut self, _: Seat, frame: Frame<'_>, t: Time) {
        if frame.state(self.action) == EpisodeState::Rest {
            return;
        }
        let value = frame.value(self.action);
        let is_told = self.told.is_some_and(|told| !told.differs(value));
        assert!(is_told, "{} at {t}: {value:?}, told {:?}", self.case, self.told);
    }
}

#[test]
fn every_way_in_which_a_motion_begins_or_ends_is_told_at_the_next_tick() {
    let maps = "[map.mill]\nkind = \"layer\"\n[map.mill.m]\nvalue = \"axis\"\nbind.pad = \"pad.north\"\n\
                [map.book]\nkind = \"layer\"\n[map.book.b]\nvalue = \"axis\"\nbind.pad = \"pad.dpad.up\"\n\
                [map.quay.c]\nvalue = \"axis\"\nbind.pad = \"pad.west + pad.dpad.up\"\n\
                [fact.calm]\n[setting.push]\ndefault = 1\n";
    // What begins the motion, and what ends it or begins another, with moments between looks and ticks.
    let ways: [&[&str]; 11] = [
        &["\"control\":\"pad.dpad.up\",\"value\":1", "\"control\":\"pad.dpad.up\",\"value\":0"],
        &["\"open\":\"book\"", "\"close\":\"book\""],
        &["\"open\":\"mill\"", "\"control\":\"pad.north\",\"value\":1", "\"close\":\"mill\""],
        &["\"pause\":true", "\"pause\":false"],
        &["\"setting\":\"push\",\"value\":0.3", "\"setting\":\"push\",\"value\":1.4"],
        &["\"fact\":\"calm\",\"value\":1", "\"fact\":\"calm\",\"value\":0"],
        &["\"scheme\":\"desk\"", "\"scheme\":null"],
        &["\"control\":\"pad.west\",\"value\":1", "\"control\":\"pad.west\",\"value\":0"],
        &["\"control\":\"pad.south\",\"value\":1", "\"control\":\"pad.south\",\"value\":0"],
        &["\"control\":\"pad#2.dpad.up\",\"value\":1", "\"control\":\"pad.dpad.up\",\"value\":0"],
        &["\"open\":\"book\"", "\"control\":\"pad.dpad.up\",\"value\":0", "\"close\":\"book\""],
    ];
    let moves = [
        "shape = \"ease rise=7/s\"",
        "shape = \"ease rise=7/s fall=3/s unless calm\"",
        "shape = \"smooth 60ms\"",
        "shape = \"scale push | ease rise=2/s\"",
        "shape = \"ease rise=2/s | scale push\"",
        "shape = \"ease rise=400/s | smooth 20ms\"",
    ];
    let rules = [
        "change",
        "change without mill.m",
        "change without mill.m or hold 9s without book.b",
        "change or hold 9s when calm",
    ];
    let mut fires = 0;
    for way in ways {
        for moves in moves {
            for rule in rules {
                for (rate, first, step) in
                    [("20", 1.346_666_666, 0.061), ("60", 1.35, 0.0337), ("7", 1.3, 0.2004)]
                {
                    let case = format!("{way:?} {moves} {rule} at {rate}");
                    // A guard skips a fire: what it forbids is not told, and that is as it should be.
                    if rule.contains("mill") && way[0].contains("mill") {
                        continue;
                    }
                    let text = format!(
                        "{HEAD}{maps}[map.quay.a]\nvalue = \"axis\"\nlevels = {{ down = 0.002 }}\n\
                         fire = \"{rule}\"\n{moves}\n\
                         bind.pad = [\"pair(pad.south, pad.dpad.up, opposed=neg)\", \"pad.north | scale 0.7\"]\n"
                    );
                    let mut take =
                        "{\"t\":1.139999999,\"control\":\"pad.dpad.up\",\"value\":1}\n".to_owned();
                    for (i, does) in way.iter().enumerate() {
                        let t = first + step * i as f64;
                        take.push_str(&format!("{{\"t\":{t:.9},{does}}}\n"));
                    }
                    let (_, plan) = load(&text);
                    let action = plan
                        .actions()
                        .ids()
                        .find(|&id| plan.names().actions[id] == "quay.a")
                        .unwrap();
                    let mut follow = Follow { action, told: None, fires: 0, case: &case };
                    let playing = Playing::at(Rate::parse(rate).unwrap());
                    let mut run = Run::new(Arc::clone(&plan), playing, None, &mut follow);
                    for input in inputs(&take, &plan) {
                        assert!(run.input(input, &mut follow).is_continue());
                    }
                    run.finish(&mut follow);
                    assert!(follow.fires >= 2, "{case}");
                    fires += follow.fires;
                }
            }
        }
    }
    assert!(fires > 5000, "{fires}");
}
