//! What `why` finds behind episodes, presses in vain and moments, by cause; and what goes on around
//! a run's lanes.

use harmonym_lab::compare::{Change, compare};
use harmonym_lab::explain::{Awaits, Blocked, EndReason, Mover, Obstacle, Status, Story, why};
use harmonym_lab::score;
use harmonym_lab::take::Playing;
use harmonym_lab::trace::Lanes;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Class, Device, Id, Rate, Seat, Time};
use harmonym_runtime::plan::Plan;
use std::sync::Arc;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\n\
                    scheme.pad.devices = [\"pad\"]\nfact.calm = {}\n\
                    [map.quay]\nstart = true\n";

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

fn load(text: &str) -> Arc<Plan> {
    let loaded = harmonym_lang::load(&Source::new("t", text));
    Arc::new(loaded.unwrap_or_else(|faults| panic!("{faults:#?}\n{text}")).1)
}

fn playing() -> Playing {
    Playing::at(Rate::DEFAULT)
}

fn millis(ms: u64) -> Time {
    Time::from_millis(ms)
}

fn read(plan: &Plan, text: &str) -> score::Score {
    let score = score::read(&Source::new("s", text), plan);
    score.unwrap_or_else(|faults| panic!("{faults}\n{text}"))
}

/// What becomes of `quay.ACTION`, with a look at a moment.
fn story(profile: &str, hands: &str, action: &str, at: Option<u64>) -> (Arc<Plan>, Story) {
    let plan = load(&format!("{HEAD}{profile}"));
    let score = read(&plan, hands);
    let action = plan.find_action(action).expect("an action");
    let playing = score.playing(Rate::DEFAULT);
    let story = why(&plan, playing, score.perform(), (Seat::FIRST, action), at.map(millis));
    (plan, story)
}

fn action(plan: &Plan, name: &str) -> harmonym_runtime::base::ActionId {
    plan.find_action(name).expect(name)
}

fn knot(rule: &str) -> String {
    format!("[map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"{rule}\"\n")
}

#[test]
fn times_behind_an_end_are_exact() {
    let (_, one) = story(&knot("hold 0.8s"), "at 0.2s press key.KeyE for 0.31s", "quay.knot", None);
    let Some(EndReason::TooShort { held, needed, .. }) = one.episodes[0].ending else {
        panic!("{one:?}")
    };
    assert_eq!((held, needed), (millis(310), millis(800)));
    let (_, one) = story(&knot("tap 0.2s"), "at 0.2s press key.KeyE for 0.35s", "quay.knot", None);
    let Some(EndReason::TooLong { limit, held, .. }) = one.episodes[0].ending else {
        panic!("{one:?}")
    };
    assert_eq!((limit, held), (millis(200), Some(millis(350))));
    let taps = "at 0.2s press key.KeyE for 0.1s\nat 0.4s press key.KeyE for 0.1s\n\
                at 0.9s press key.KeyE for 0.1s";
    let (_, one) = story(&knot("taps 3 gap=0.3s"), taps, "quay.knot", None);
    let Some(EndReason::Gap { count, needed, limit, late }) = one.episodes[0].ending else {
        panic!("{one:?}")
    };
    assert_eq!((count, needed, limit, late), (2, 3, millis(300), Some(millis(900))));
}

#[test]
fn of_several_alternatives_each_tells_what_it_waits_for() {
    let rule = "hold 0.8s or tap 0.5s or taps 2 gap=0.6s or release";
    let hands = "at 1s press key.KeyE for 0.9s";
    let (plan, one) = story(&knot(rule), hands, "quay.knot", Some(1300));
    let moment = one.moment.expect("a moment");
    let Status::Pending(all) = &moment.status else { panic!("{:?}", moment.status) };
    let by: Vec<&str> = all.iter().map(|one| plan.names().alternatives[one.by].as_str()).collect();
    assert_eq!(by, ["hold 0.8s", "tap 0.5s", "taps 2 gap=0.6s", "release"]);
    let waits: Vec<&Awaits> = all.iter().map(|one| &one.awaits).collect();
    assert_eq!(*waits[0], Awaits::Reaching(millis(300), millis(800), millis(1800)));
    assert_eq!(*waits[1], Awaits::LettingGoBy(millis(1500)));
    assert_eq!(*waits[2], Awaits::Press(1, 2, Some(millis(1600))));
    assert_eq!(*waits[3], Awaits::LettingGo);
    // Once one is over, the others go on without it.
    let (_, one) = story(&knot(rule), hands, "quay.knot", Some(1700));
    let Status::Pending(all) = one.moment.unwrap().status else { panic!("pending") };
    assert_eq!(all.len(), 2);
}

#[test]
fn a_while_waits_for_its_guards_and_says_which() {
    let profile = format!(
        "{}{}",
        knot("press"),
        "[map.quay.row]\nvalue = \"switch\"\nbind.desk = \"key.KeyR\"\nfire = \"while with quay.knot\"\n"
    );
    let (plan, one) = story(&profile, "at 0.2s press key.KeyR for 0.5s", "quay.row", Some(300));
    let Status::Pending(all) = &one.moment.as_ref().unwrap().status else { panic!("{one:?}") };
    let guard = harmonym_runtime::plan::Guard::Live(action(&plan, "quay.knot"), true);
    assert_eq!(all[0].awaits, Awaits::Guards);
    assert_eq!(all[0].against, [Obstacle::Guard(guard, None)]);
    assert_eq!(one.episodes[0].ending, Some(EndReason::Guard(vec![(guard, None)])));
}

#[test]
fn what_stands_between_a_press_and_its_action() {
    let both = format!(
        "{}{}",
        knot("press"),
        "[map.quay.oars]\nvalue = \"axis\"\nbind.desk = \"pair(key.KeyS, key.KeyW)\"\nfire = \"press\"\n\
         [map.quay.sail]\nvalue = \"axis\"\nblend = \"sum\"\n\
         bind.desk = [\"key.KeyU\", \"key.KeyD | flip\"]\nfire = \"press\"\n\
         [map.quay.lead]\nvalue = \"axis\"\nblend = \"oldest\"\n\
         bind.desk = [\"key.KeyX | scale 0.0005\", \"key.KeyY\"]\nfire = \"press\"\n\
         levels = { wake = 0.001, down = 0.001, up = 0.0008 }\n\
         [map.quay.buoy]\nvalue = \"axis\"\nbind.pad = \"pad.left-trigger | notch 0.5\"\nfire = \"press\"\n\
         [map.quay.drop]\nvalue = \"switch\"\nbind.desk = \"key.KeyQ + key.KeyL\"\n\
         [map.quay.nothing]\nvalue = \"switch\"\n"
    );
    let at = |hands: &str, name: &str, t: u64| {
        let (_, story) = story(&both, hands, name, Some(t));
        story.moment.expect("a moment").status
    };
    let two = "at 0.1s press key.KeyS for 0.5s\nat 0.1s press key.KeyW for 0.5s";
    assert!(matches!(at(two, "quay.oars", 300), Status::Opposed(..)));
    let two = "at 0.1s press key.KeyU for 0.5s\nat 0.1s press key.KeyD for 0.5s";
    assert_eq!(at(two, "quay.sail", 300), Status::CancelledOut);
    let two = "at 0.1s press key.KeyX for 0.5s\nat 0.2s press key.KeyY for 0.3s";
    let Status::Lost((_, gave), (_, with)) = at(two, "quay.lead", 300) else {
        panic!("{:?}", at(two, "quay.lead", 300))
    };
    assert_eq!((gave, with), (1.0, 0.0005));
    let last = "at 0.1s press key.KeyL for 0.5s";
    assert!(matches!(at(last, "quay.drop", 300), Status::NotHeld(..)));
    let first = "at 0.1s press key.KeyQ for 0.5s";
    assert!(!matches!(at(first, "quay.drop", 300), Status::NotHeld(..) | Status::TooEarly(_)));
    let early = "at 0.1s press key.KeyL for 0.5s\nat 0.2s press key.KeyQ for 0.3s";
    assert!(matches!(at(early, "quay.drop", 300), Status::TooEarly(_)));
    let push = "at 0.1s push pad.left-trigger to 0.2 over 0.01s";
    let Status::Stopped(_, gave, edge) = at(push, "quay.buoy", 300) else {
        panic!("{:?}", at(push, "quay.buoy", 300))
    };
    assert_eq!((gave, edge), (0.2, Some(0.25)));
    assert_eq!(at("at 0.1s press key.KeyX for 0.1s", "quay.nothing", 150), Status::Unbound);
    assert_eq!(at("at 0.1s press key.KeyX for 0.1s", "quay.knot", 150), Status::Untouched);
    let up = "at 0.1s down key.KeyE\nat 0.5s scheme pad\nat 0.6s scheme all";
    assert!(
        matches!(
            at("at 0.1s down key.KeyE\nat 0.5s scheme pad", "quay.knot", 600),
            Status::Narrowed(..)
        ),
        "{up}"
    );
}

#[test]
fn after_its_episode_an_action_waits_to_come_under_its_level() {
    let hands = "at 0.1s press key.KeyE for 1s";
    let (_, one) = story(&knot("tap 0.2s"), hands, "quay.knot", Some(500));
    let moment = one.moment.unwrap();
    let Status::StillUp(gives, up) = moment.status else { panic!("{moment:?}") };
    assert!(gives == 1.0 && (up - 0.44).abs() < 1e-9);
    assert_eq!(moment.episode, Some(0));
}

#[test]
fn what_was_held_when_a_map_opened_counts_once_let_go() {
    let profile = "[map.quay.walk]\nvalue = \"switch\"\nbind.desk = \"key.KeyW\"\n\
                   [map.boat]\n[map.boat.row]\nvalue = \"switch\"\nbind.desk = \"key.KeyW\"\n";
    let hands = "at 0.1s press key.KeyW for 1s\nat 0.4s open boat\nat 1.5s press key.KeyW for 0.1s";
    let (_, one) = story(profile, hands, "boat.row", Some(600));
    let status = &one.moment.as_ref().unwrap().status;
    let Status::Blocked(_, Blocked::Muted(since, _)) = status else { panic!("{status:?}") };
    assert_eq!(*since, millis(400));
    assert_eq!(one.episodes.len(), 1, "the press after it counts");
    assert_eq!(one.episodes[0].woke, millis(1500));
}

#[test]
fn a_claim_names_who_and_since_when() {
    let plan = load(DEMO);
    let text = include_str!("../../../demo/scores/open-the-log.score");
    let score = read(&plan, text);
    let knot = action(&plan, "quay.tie-knot");
    let story = why(&plan, playing(), score.perform(), (Seat::FIRST, knot), Some(millis(2000)));
    let Status::Blocked(control, Blocked::Claimed(by, since)) = story.misses[0].phases[0].status
    else {
        panic!("{:?}", story.misses)
    };
    assert_eq!(&*plan.names().controls[control], "key.KeyT");
    assert_eq!(plan.names().bindings[by], "log-book.read@desk#1");
    assert_eq!(since, Some(millis(500)));
    let moment = story.moment.unwrap();
    assert_eq!(moment.status, story.misses[0].phases[0].status);
    let touched = moment.stations.controls.iter().find(|one| one.control == control).unwrap();
    assert_eq!(touched.raw.x, 1.0);
    assert!(moment.stations.lives);
}

#[test]
fn stations_have_the_numbers_of_the_steps() {
    let plan = load(DEMO);
    let score = read(&plan, "at 0.1s push pad.left-stick to (0.3, 0.4) over 0.01s");
    let walk = action(&plan, "quay.walk");
    let story = why(&plan, playing(), score.perform(), (Seat::FIRST, walk), Some(millis(500)));
    let stations = story.moment.unwrap().stations;
    let won = stations.blended.1.expect("a winner");
    let (_, counts, steps) = stations.bindings.iter().find(|(id, ..)| *id == won).unwrap();
    assert!(*counts);
    let lengths: Vec<f64> = steps.iter().map(|step| step.value.magnitude()).collect();
    let dead: f64 = (0.5 - 0.1) / 0.86;
    let wanted = [0.5, dead, dead.powf(1.6)];
    for (length, wanted) in lengths.iter().zip(wanted) {
        assert!((length - wanted).abs() < 1e-9, "{lengths:?}");
    }
    assert!((stations.value.1 - dead.powf(1.6)).abs() < 1e-9);
}

#[test]
fn a_run_knows_what_goes_on_around_it() {
    let plan = load(DEMO);
    let score = read(&plan, include_str!("../../../demo/scores/open-the-log.score"));
    let around = Lanes::of(&plan, &score).around;
    let maps: Vec<(&str, usize)> = around
        .maps
        .iter()
        .map(|(_, map, spans)| (plan.names().maps[*map].as_str(), spans.len()))
        .collect();
    assert_eq!(maps, [("quay", 1), ("log-book", 1), ("harbour", 1)]);
    let book = &around.maps[1].2;
    assert_eq!(book[0], (millis(500), millis(3600)));
    assert_eq!(around.maps[0].2[0].0, Time::ZERO, "open from the start");
    assert_eq!(around.pauses, [(millis(3000), millis(3400))]);
    assert_eq!(around.schemes.len(), 1);
    let names: Vec<&str> =
        around.controls.iter().map(|one| &*plan.names().controls[one.control]).collect();
    assert!(names.contains(&"key.KeyW") && names.contains(&"key.Escape"), "{names:?}");
    let key = &around.controls[0];
    assert_eq!(key.held(millis(9000)).len(), 1);
    assert_eq!(plan.actions().len(), plan.by_file().len());
    assert!(plan.by_file().iter().all(|id| id.index() < plan.actions().len()));
}

#[test]
fn a_switch_with_a_trigger_keeps_how_far_it_was_pulled() {
    let plan = load(DEMO);
    let score = read(&plan, include_str!("../../../demo/scores/slow-trigger.score"));
    let lanes = Lanes::of(&plan, &score);
    let lane = |name: &str| {
        let id = action(&plan, name);
        lanes.lanes.iter().find(|lane| lane.action == id).unwrap()
    };
    let grab = lane("crane.grab");
    let most = grab.values.iter().map(|(_, value)| value.x).fold(0.0, f64::max);
    assert_eq!(most, 1.0);
    assert!(grab.values.windows(2).all(|pair| pair[0].0 < pair[1].0));
    assert!(lane("quay.hail").values.is_empty());
}

#[test]
fn values_within_the_tolerance_are_the_same() {
    let plan = load(DEMO);
    let other = load(&DEMO.replace("full=0.96", "full=0.97"));
    let hands = "at 0.1s push pad.left-stick to (0.5, 0) over 0.01s\nat 1s release pad.left-stick";
    let run = |plan: &Arc<Plan>| Lanes::of(plan, &read(plan, hands));
    let (a, b) = (run(&plan), run(&other));
    let apart = |tolerance: f64| {
        let all = compare((&a, &plan), (&b, &other), tolerance);
        all.iter().filter(|one| matches!(one.what, Change::Value(_))).count()
    };
    assert_eq!(apart(1e-6), 1);
    assert_eq!(apart(0.1), 0);
}

#[test]
fn a_plane_that_turns_the_other_way_differs_though_it_is_as_long() {
    let plan = load(DEMO);
    let turned =
        load(&DEMO.replace("\"pad.left-stick | @stick\"", "\"pad.left-stick | @stick | flip x\""));
    let hands = "at 0.1s push pad.left-stick to (1, 0) over 0.01s\nat 1s release pad.left-stick";
    let run = |plan: &Arc<Plan>| Lanes::of(plan, &read(plan, hands));
    let all = compare((&run(&plan), &plan), (&run(&turned), &turned), 1e-6);
    let [only] = &all[..] else { panic!("{all:?}") };
    assert_eq!((only.action.as_str(), &only.what), ("quay.walk", &Change::Value(2.0)));
}

#[test]
fn the_present_number_is_read_where_it_is_written() {
    use harmonym_lab::edit::Draft;
    let draft = Draft::new(&Source::new("harmonym.toml", DEMO));
    for (address, wanted) in [
        ("quay.tie-knot.fire.hold", Some("0.8s")),
        ("tie-knot.fire.hold", Some("0.8s")),
        ("preset.stick.deadzone", Some("0.1")),
        ("preset.stick.deadzone.full", Some("0.96")),
        ("preset.stick.curve", Some("1.6")),
        ("setting.gaze-speed.default", Some("1.0")),
        ("tug.rudder@desk#1.ease.rise", Some("2/s")),
        ("quay.cast-line.levels.down", Some("0.85")),
        ("quay.gaze@pad#1.scale", Some("220")),
        ("quay.hail.about", Some("\"Call out to a passing boat\"")),
        ("quay.hail.carry", None),
    ] {
        let present = draft.present(address).unwrap_or_else(|error| panic!("{address}: {error:?}"));
        assert_eq!(present.as_deref(), wanted, "{address}");
    }
    for address in ["quay.tie-knot.fire.tap", "quay.knit.fire.hold", "preset.stik.curve"] {
        assert!(draft.present(address).is_err(), "{address}");
    }
}

#[test]
fn presses_in_vain_are_told_together_only_if_the_same_kept_them() {
    let claims = |map: &str| {
        format!(
            "[map.{map}]\nkind = \"layer\"\n[map.{map}.hold-on]\nvalue = \"switch\"\nclaim = true\n\
             bind.desk = \"key.KeyE\"\n"
        )
    };
    let profile = format!("{}{}{}", knot("press"), claims("book"), claims("lamp"));
    let press = |t: f64| format!("at {t}s press key.KeyE for 0.1s\n");
    let hands = format!(
        "at 0s open book\n{}{}at 1s close book\nat 1s open lamp\n{}",
        press(0.2),
        press(0.5),
        press(1.2)
    );
    let (_, one) = story(&profile, &hands, "quay.knot", None);
    let counts: Vec<_> = one.misses.iter().map(|miss| miss.count).collect();
    assert_eq!(counts, [2, 1], "{:?}", one.misses);
    // Also where what kept them has nothing but numbers in it.
    let hands = format!(
        "at 0s open book\n{}{}at 1s close book\nat 1.1s scheme pad\n{}{}",
        press(0.2),
        press(0.5),
        press(1.2),
        press(1.6)
    );
    let (_, one) = story(&profile, &hands, "quay.knot", None);
    let counts: Vec<_> = one.misses.iter().map(|miss| miss.count).collect();
    assert_eq!(counts, [2, 2], "{:?}", one.misses);
}

#[test]
fn a_fire_that_is_kept_waits_only_for_those_that_may_still_take_it() {
    let profile = "[map.quay.slow]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"hold 1s\"\n\
                   [map.quay.other]\nvalue = \"switch\"\nbind.desk = \"key.KeyO\"\nfire = \"hold 1s\"\n\
                   [map.quay.knot]\nvalue = \"switch\"\nbind.desk = \"key.KeyE\"\nfire = \"press\"\n\
                   yields-to = [\"slow\", \"other\"]\n";
    let (plan, one) = story(profile, "at 0.2s press key.KeyE for 0.5s", "quay.knot", Some(400));
    let Status::Pending(all) = &one.moment.as_ref().unwrap().status else { panic!("{one:?}") };
    assert_eq!(all[0].awaits, Awaits::Others(millis(200), vec![action(&plan, "quay.slow")]));
}

#[test]
fn a_sum_is_cancelled_out_only_where_something_is_summed() {
    let profile = "[map.quay.sail]\nvalue = \"axis\"\nblend = \"sum\"\n\
                   bind.desk = [\"key.KeyU | scale 0.0005\", \"key.KeyD | flip\"]\nfire = \"press\"\n";
    let (_, one) = story(profile, "at 0.1s press key.KeyU for 0.5s", "quay.sail", Some(300));
    let status = one.moment.unwrap().status;
    assert!(matches!(status, Status::UnderWake(..)), "{status:?}");
}

#[test]
fn a_control_that_is_used_by_its_halves_is_shown_whole() {
    let profile = "[map.quay.walk]\nvalue = \"plane\"\n\
                   bind.pad = \"four(pad.left-stick.up, pad.left-stick.left, pad.left-stick.down, \
                   pad.left-stick.right)\"\n";
    let hands = "at 0.1s push pad.left-stick to (0.5, 0.25)";
    let (_, one) = story(profile, hands, "quay.walk", Some(300));
    let moment = one.moment.expect("a moment");
    let raw: Vec<_> = moment.stations.controls.iter().map(|one| (one.raw.x, one.raw.y)).collect();
    assert_eq!(raw, [(0.5, 0.25)]);
}

#[test]
fn an_end_that_a_new_beginning_has_overwritten_has_the_numbers_of_before_it() {
    let profile = "[map.quay.row]\nvalue = \"axis\"\nfire = \"hold 0.2s\"\n\
                   bind.desk = \"pair(key.KeyA, key.KeyD, opposed=newest)\"\n";
    let hands = "at 0.1s press key.KeyD for 1s\nat 0.5s press key.KeyA for 0.3s";
    let (_, one) = story(profile, hands, "quay.row", None);
    let ends: Vec<_> = one.episodes.iter().map(|e| (e.end.unwrap().0, e.ending.clone())).collect();
    let times: Vec<_> = ends.iter().map(|(t, _)| *t).collect();
    assert_eq!(times, [millis(500), millis(800), millis(1100)]);
    let Some(EndReason::Released { held, up }) = &ends[0].1 else { panic!("{ends:?}") };
    assert_eq!(*held, millis(400));
    assert!(matches!(up, Some(Mover::Opposite(..))), "{up:?}");
    let Some(EndReason::Released { up: Some(Mover::LetGo(_)), .. }) = &ends[1].1 else {
        panic!("{ends:?}")
    };
}

#[test]
fn an_end_within_one_instant_has_the_numbers_of_its_own_press() {
    // Each notch goes down and up at once, and the lever wakes it anew in between.
    let profile = |rule: &str| {
        format!(
            "[map.quay.haul]\nvalue = \"axis\"\nfire = \"{rule}\"\nblend = \"newest\"\n\
             levels = {{ wake = 0.2, down = 0.6, up = 0.1 }}\n\
             bind.pad = \"pad.left-trigger | flip\"\nbind.desk = \"mouse.wheel.up\"\n"
        )
    };
    // The lever alone is down before, for half a second; later it only wakes.
    let hands = "at 0.1s push pad.left-trigger to 0.8\nat 0.6s push pad.left-trigger to 0\n\
                 at 1s push pad.left-trigger to 0.3\nat 2s drag mouse.wheel by (0, 3)\n\
                 at 3s push pad.left-trigger to 0";
    let ends = |rule: &str| -> Vec<_> {
        let (_, one) = story(&profile(rule), hands, "quay.haul", None);
        let is_late =
            |one: &harmonym_lab::explain::EpisodeRecord| one.end.unwrap().0 == millis(2000);
        one.episodes.iter().filter(|one| is_late(one)).map(|one| one.ending.clone()).collect()
    };
    for rule in ["hold 0.2s", "charge 0.2s"] {
        let all = ends(rule);
        assert_eq!(all.len(), 3, "{all:?}");
        for one in all {
            let Some(EndReason::TooShort { held, needed, up, .. }) = one else { panic!("{one:?}") };
            assert_eq!((held, needed), (Time::ZERO, millis(200)), "{rule}");
            assert!(matches!(up, Some(Mover::Notch(_))), "{up:?}");
        }
    }
    for rule in ["press", "taps 2 gap=0.5s"] {
        let all = ends(rule);
        assert!(!all.is_empty());
        for one in all {
            let Some(EndReason::Released { held, up }) = one else { panic!("{one:?}") };
            assert_eq!(held, Time::ZERO, "{rule}");
            assert!(matches!(up, Some(Mover::Notch(_))), "{up:?}");
        }
    }
}

#[test]
fn a_notch_is_what_ends_its_own_press_whatever_was_let_go_before() {
    for rule in ["press", "hold 0.2s", "taps 2 gap=2s"] {
        let profile = format!(
            "[map.quay.haul]\nvalue = \"switch\"\nfire = \"{rule}\"\n\
             bind.desk = [\"key.KeyE\", \"mouse.wheel.up\"]\n"
        );
        let hands = "at 0.1s press key.KeyE for 0.1s\nat 1s drag mouse.wheel by (0, 1)";
        let (_, one) = story(&profile, hands, "quay.haul", None);
        let last = one.episodes.last().and_then(|one| one.ending.clone());
        let (Some(EndReason::Released { held, up }) | Some(EndReason::TooShort { held, up, .. })) =
            last
        else {
            panic!("{last:?}")
        };
        assert_eq!(held, Time::ZERO, "{rule}");
        assert!(matches!(up, Some(Mover::Notch(_))), "{rule}: {up:?}");
    }
}

#[test]
fn of_two_combinations_with_one_key_the_held_one_hides_it() {
    let profile = "[map.quay.back]\nvalue = \"switch\"\nbind.desk = \"key.KeyS\"\n\
                   [map.quay.stow]\nvalue = \"switch\"\nbind.desk = \"key.Control + key.KeyS\"\n\
                   [map.quay.send]\nvalue = \"switch\"\nbind.desk = \"key.Alt + key.KeyS\"\n";
    for (holder, by) in [("ControlLeft", "quay.stow"), ("AltLeft", "quay.send")] {
        let hands = format!("at 0.1s press key.{holder} for 1s\nat 0.3s press key.KeyS for 0.2s");
        let (plan, story) = story(profile, &hands, "quay.back", Some(400));
        let status = story.moment.expect("a moment").status;
        let Status::Blocked(_, Blocked::Hidden(binding, _)) = status else { panic!("{status:?}") };
        assert_eq!(plan.bindings()[binding].action, action(&plan, by));
    }
}

#[test]
fn a_device_that_is_gone_or_came_with_something_held_is_named() {
    let text = "[map.quay.haul]\nvalue = \"switch\"\nbind.pad = \"pad.south\"\n\
                [map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
    let at = |hands: &str, name: &str, t: u64| {
        let (plan, story) = story(text, hands, name, Some(t));
        let control = |name| plan.find_control(name).expect("a control");
        (story.moment.expect("a moment").status, control("pad.south"))
    };
    let hands = "at 0.1s down pad.south\nat 0.5s unplug pad\nat 1s plug pad\n\
                 at 1.5s up pad.south\nat 2s press key.KeyH for 0.1s";
    let pad = Device { class: Class::Pad, number: 0 };
    let ms = Time::from_millis;
    let (status, south) = at(hands, "quay.haul", 700);
    assert_eq!(status, Status::Unplugged(pad, ms(500)));
    assert_eq!(at(hands, "quay.haul", 1200).0, Status::HeldBack(south, ms(1000)));
    assert_eq!(at(hands, "quay.haul", 1700).0, Status::Untouched);
    // It is nothing to who has no control on it.
    assert_eq!(at(hands, "quay.hail", 700).0, Status::Untouched);
    // What is let go while the device is gone is let go.
    let hands = "at 0.1s down pad.south\nat 0.5s unplug pad\nat 0.7s up pad.south\n\
                 at 1s plug pad\nat 2s press key.KeyH for 0.1s";
    assert_eq!(at(hands, "quay.haul", 1200).0, Status::Untouched);
    // A device that is handed over with something held is such a device too.
    let hands = "seats 2\nat 0.1s down pad.south\nat 0.5s seat 2 gets pad\nat 1s seat 1 gets pad\n\
                 at 2s press key.KeyH for 0.1s";
    assert_eq!(at(hands, "quay.haul", 1200).0, Status::HeldBack(south, ms(1000)));
}
