//! What `play --rates` takes for granted: only what is said to follow the frame rate does.

use crate::gate::gate;
use crate::harness::{inputs, load};
use crate::random::{self, Ticks};
use harmonym_lab::survey::{FollowsRate, Outcome, Tally, follows_rate, outcome};
use harmonym_lab::take::Playing;
use harmonym_runtime::base::{ActionId, Rate};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;
use std::sync::Arc;

fn at(plan: &Arc<Plan>, take: &str, rate: &str) -> Outcome {
    let playing = Playing::at(Rate::parse(rate).unwrap());
    outcome(plan, (playing, None), inputs(take, plan))
}

fn of(run: &Outcome, action: ActionId) -> Vec<String> {
    let own = run.events.iter().filter(|(_, of, ..)| *of == action);
    own.map(|(t, _, what, cause)| format!("{t} {what} {cause:?}")).collect()
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn what_follows_the_rate_is_known(
        profile in random::profile(Ticks::With),
        take in random::take(),
    ) {
        let (_, plan) = load(&profile);
        let runs = ["20", "60", "144"].map(|rate| at(&plan, &take, rate));
        for action in plan.actions().ids().filter(|&id| follows_rate(&plan, id).is_empty()) {
            let [slow, usual, fast] = [&runs[0], &runs[1], &runs[2]].map(|run| of(run, action));
            let name = &plan.names().actions[action];
            prop_assert_eq!(&slow, &usual, "{}", name);
            prop_assert_eq!(&fast, &usual, "{}", name);
        }
    }

    #[test]
    fn a_tally_counts_what_the_events_are(
        profile in random::profile(Ticks::With),
        take in random::take(),
    ) {
        let (_, plan) = load(&profile);
        let run = at(&plan, &take, "60");
        for (action, tally) in run.tallies.entries() {
            let told = of(&run, action);
            let count = |word: &str| told.iter().filter(|line| line.contains(word)).count();
            // The tally counts what comes after the last input too.
            prop_assert!(tally.wakes >= count(" wake "));
            prop_assert!(tally.fires >= count(" fire "));
            prop_assert!(tally.lapses >= count(" lapse "));
            prop_assert_eq!(tally.causes.values().sum::<usize>(), tally.wakes);
            let mut twice = Tally::default();
            twice.add(tally);
            twice.add(tally);
            prop_assert_eq!(twice.fires, 2 * tally.fires);
            let stopped = |tally: &Tally| tally.causes.get(&Cause::Stopped).copied();
            prop_assert_eq!(stopped(&twice), stopped(tally).map(|n| 2 * n));
        }
    }
}

/// What follows the rate of the action `x`, beside others.
fn reasons(profile: &str) -> Vec<FollowsRate> {
    let (_, plan) = load(&format!("{}{profile}", crate::harness::HEAD));
    follows_rate(&plan, plan.find_action("quay.x").unwrap())
}

#[test]
fn each_reason_has_its_own_name() {
    let x = "[map.quay.x]\nvalue = ";
    let plain = format!("{x}\"switch\"\nbind.desk = \"key.KeyX\"\n");
    assert_eq!(reasons(&plain), []);
    assert_eq!(reasons(&format!("{plain}fire = \"while\"\n")), [FollowsRate::While]);
    let change = format!("{x}\"axis\"\nbind.pad = \"pad.left-trigger\"\nfire = \"change\"\n");
    assert_eq!(reasons(&change), [FollowsRate::Change]);
    let travel =
        format!("{x}\"plane\"\nbind.pad = \"pad.left-stick | travel\"\nfire = \"press\"\n");
    assert_eq!(reasons(&travel), [FollowsRate::Travel, FollowsRate::Level(0.55)]);
    let moved = format!("{x}\"plane\"\nbind.desk = \"mouse.move\"\nfire = \"press\"\n");
    assert_eq!(reasons(&moved), [FollowsRate::Movement, FollowsRate::Level(0.55)]);
    let other = format!(
        "[map.quay.y]\nvalue = \"switch\"\nbind.desk = \"key.KeyY\"\nfire = \"while\"\n{plain}\
         fire = \"press with quay.y\"\n"
    );
    assert!(matches!(reasons(&other)[..], [FollowsRate::Other(_)]));
}
