//! What the helps promise holds on the engine: hands that show each mistake come out wrong in its
//! example, and right in the mended one and in each with a help put in.

use crate::helps::{put_ins, remarks};
use harmonym_lab::score::{self, Outcome, try_score};
use harmonym_lang::compile::compile;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use std::fs;
use std::path::Path;
use std::sync::Arc;

/// What has to hold when a rule's mistake is mended: all lines of a score, of one of several where
/// there are two ways to be right.
const PROMISES: &[(&str, &[&str])] = &[
    (
        "brief-guard",
        &[
            "at 0.1s press key.KeyB for 1s\nat 0.5s press key.KeyH for 0.1s\nexpect heave fires once",
        ],
    ),
    (
        "busy-holder",
        &[
            "at 0.1s press pad.left-shoulder for 0.5s\nat 0.3s press pad.west for 0.1s\nexpect stow fires once\nexpect duck never fires",
        ],
    ),
    ("claim-in-vain", &["at 0.1s press key.KeyH for 0.1s\nexpect hail fires once"]),
    (
        "crossed-signs",
        &[
            "rate 100\nat 0.1s drag mouse.move by (0, -100) over 0.5s\nat 1s push pad.right-stick to (0, 1)\n\
             expect gaze = (0, 0.18) within 0.1 at 0.3s\nexpect gaze = (0, 1.8) at 1.5s",
            "rate 100\nat 0.1s drag mouse.move by (0, -100) over 0.5s\nat 1s push pad.right-stick to (0, 1)\n\
             expect gaze = (0, -0.18) within 0.1 at 0.3s\nexpect gaze = (0, -1.8) at 1.5s",
        ],
    ),
    ("dead-yield", &["at 0.1s press key.KeyT for 0.5s\nexpect force-door fires once"]),
    (
        "distance-bent",
        &[
            "rate 20\nat 0s drag mouse.move by (100, 0) over 1s\nexpect gaze = (0.5, 0) within 0.1 at 0.5s",
        ],
    ),
    (
        "double-fire",
        &["at 0.1s press key.KeyT for 0.5s\nat 2s press key.KeyT for 0.1s\n\
           expect force-door fires once\nexpect knock fires once after 1s\nexpect knock never fires before 1s"],
    ),
    (
        "double-step",
        &[
            "at 0.1s push pad.left-stick to (0.25, 0)\nexpect walk = (0.05688, 0) within 0.0001 at 0.5s",
        ],
    ),
    (
        "drifting-blend",
        &[
            "at 0.1s down key.KeyD\nat 0.5s drift pad.left-stick at (0.05, 0)\nexpect steer = 1 at 1s",
        ],
    ),
    ("every-tick", &["at 0.1s press key.KeyH for 0.5s\nexpect hail fires once"]),
    (
        "fast-diagonal",
        &[
            "at 0.1s down key.KeyW\nat 0.1s down key.KeyD\nexpect walk = (0.7071, 0.7071) within 0.0001 at 1s",
        ],
    ),
    ("half-reach", &["at 0.1s push pad.left-stick to (0, -1)\nexpect climb = -1 at 0.5s"]),
    (
        "hold-only",
        &[
            "at 0s setting keep-hurrying = on\nat 0.1s press key.ShiftLeft for 0.2s\nexpect hurry = on at 1s",
        ],
    ),
    (
        "human-times",
        &[
            "at 0.1s press key.KeyF for 0.05s\nat 0.3s press key.KeyF for 0.05s\nexpect douse fires once",
        ],
    ),
    (
        "late-press",
        &["at 0.1s press key.KeyT for 0.7s\nat 2s press key.KeyT for 0.1s\n\
           expect knock never fires between 0.36s and 2s\nexpect knock fires once after 2s"],
    ),
    (
        "letter-as-shortcut",
        &[
            "layout fr\nat 0.1s press key.ControlLeft for 0.5s\nat 0.3s press char.z for 0.1s\nexpect undo-knot fires once",
        ],
    ),
    ("letters-as-places", &["layout fr\nat 0.1s down key.KeyW\nexpect walk = (0, 1) at 0.5s"]),
    (
        "lone-keys",
        &[
            "at 0.1s down key.KeyW\nat 0.1s down key.KeyD\nexpect walk = (0.7071, 0.7071) within 0.0001 at 1s",
        ],
    ),
    (
        "mixed-travel",
        &["rate 100\nat 0.1s push pad.right-stick to (1, 0)\nexpect gaze = (1.8, 0) at 0.5s"],
    ),
    (
        "modifier-last",
        &[
            "at 0.1s press key.ShiftLeft for 0.5s\nat 0.3s press key.KeyE for 0.1s\nexpect stow fires once",
        ],
    ),
    ("never-fires", &["at 0.1s push pad.right-trigger to 1\nexpect haul fires once"]),
    (
        "no-hysteresis",
        &["at 0.1s push pad.right-trigger to 0.52\nat 0.2s push pad.right-trigger to 0.48\n\
           at 0.3s push pad.right-trigger to 0.52\nexpect haul fires once"],
    ),
    ("raw-stick", &["at 0.1s drift pad.left-stick at (0.05, 0.05)\nexpect walk never wakes"]),
    (
        "same-direction",
        &[
            "at 0.1s press key.KeyW for 0.5s\nat 1s press key.KeyS for 0.5s\nexpect row = 1 at 0.3s\nexpect row = -1 at 1.3s",
        ],
    ),
    (
        "sequence-time",
        &[
            "at 0.1s press key.KeyF for 0.1s\nat 0.3s press key.KeyF for 1.1s\nexpect signal fires once",
        ],
    ),
    (
        "shadowed-keys",
        &[
            "at 0.1s press key.ControlLeft for 0.5s\nat 0.3s press key.KeyT for 0.1s\nexpect tie-knot fires once",
        ],
    ),
    (
        "shared-control",
        &["at 0.1s down key.KeyW\nexpect climb = 1 at 0.5s\nexpect row = 0 at 0.5s"],
    ),
    ("step-order", &["at 0.1s push pad.left-stick to (0.2, 0)\nexpect walk wakes once"]),
    (
        "turning-press",
        &[
            "at 0.1s press key.KeyW for 0.5s\nat 0.3s press key.KeyD for 1s\nexpect point fires at least 2 times",
        ],
    ),
    ("unreachable", &["at 0.1s press key.KeyH for 0.1s\nexpect hail fires once"]),
    (
        "void-plus",
        &[
            "at 0.1s down pad.left-shoulder\nat 0.2s push pad.left-stick to (0, -1)\nexpect stow fires once",
        ],
    ),
];

/// Whether all lines of one of the scores hold; in a profile that hasn't what they name they don't.
fn holds(text: &str, scores: &[&str]) -> bool {
    let (profile, plan) = load(&Source::new("t", text)).unwrap_or_else(|f| panic!("{f}\n{text}"));
    scores.iter().any(|text| {
        let Ok(score) = score::read(&Source::new("s", *text), &plan) else { return false };
        let plan = Arc::new(compile(&profile, score.layout.unwrap_or_default()));
        let outcomes = try_score(&plan, &score, None);
        outcomes.iter().all(|Outcome { pass, .. }| *pass)
    })
}

#[test]
fn the_hands_of_each_rule_come_out_right_once_its_help_is_taken() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../demo/faulty");
    let read = |name: String| fs::read_to_string(folder.join(name)).unwrap();
    let (mut put_in, mut wrong) = (0, Vec::new());
    for (rule, scores) in PROMISES {
        let text = read(format!("{rule}.toml"));
        if holds(&text, scores) {
            wrong.push(format!("{rule}: the mistake does not show"));
        }
        if !holds(&read(format!("{rule}.mended.toml")), scores) {
            wrong.push(format!("{rule}: it is not mended"));
        }
        let all = remarks(&text).expect("a sound profile");
        for remark in all.iter().filter(|one| one.diagnostic.rule == *rule) {
            for changed in put_ins(&text, remark) {
                put_in += 1;
                if !holds(&changed, scores) {
                    wrong.push(format!("{rule}: {}\n{changed}", remark.diagnostic.help));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    assert!(put_in >= 14, "{put_in}");
}
