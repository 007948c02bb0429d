//! Editing random profiles: what is tidied means the same, what is renamed comes back byte for
//! byte, what is removed leaves a sound profile.

use crate::gate::gate;
use crate::random::{self, Ticks};
use harmonym_lab::edit::Draft;
use harmonym_lang::load;
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;

fn sound(text: &str) -> Result<Plan, TestCaseError> {
    load(&Source::new("t", text))
        .map(|(_, plan)| plan)
        .map_err(|faults| TestCaseError::fail(format!("{:?}\n{text}", faults.first())))
}

proptest! {
    #![proptest_config(gate(128))]

    #[test]
    fn a_tidied_profile_means_the_same(profile in random::profile(Ticks::With)) {
        let mut draft = Draft::new(&Source::new("t", profile.as_str()));
        draft.tidy();
        let tidied = draft.text().to_owned();
        // Cues are told as written: in the tidy one as it is written there.
        let dump = |plan: &Plan| plan.to_string().replace(' ', "");
        prop_assert_eq!(dump(&sound(&tidied)?), dump(&sound(&profile)?), "{}", tidied);
        draft.tidy();
        prop_assert_eq!(draft.text(), tidied);
    }

    #[test]
    fn names_come_back(profile in random::profile(Ticks::With), which in any::<prop::sample::Index>()) {
        let mut draft = Draft::new(&Source::new("t", profile.as_str()));
        let all = draft.things();
        let thing = &all[which.index(all.len())];
        let (_, renamed) = draft.rename(&thing.address(), "another-name").unwrap();
        sound(draft.text())?;
        prop_assert_ne!(draft.text(), profile.as_str());
        draft.rename(&renamed.address(), thing.name()).unwrap();
        prop_assert_eq!(draft.text(), profile.as_str());
    }

    #[test]
    fn what_is_forced_out_leaves_a_sound_profile(
        profile in random::profile(Ticks::With),
        which in any::<prop::sample::Index>(),
    ) {
        let mut draft = Draft::new(&Source::new("t", profile.as_str()));
        let all = draft.things();
        let thing = &all[which.index(all.len())];
        match draft.remove(&thing.address(), true) {
            Ok(()) => {
                sound(draft.text())?;
                prop_assert!(!draft.has(thing), "{}", draft.text());
            }
            // A sequence that would have one step left is its owner's to change.
            Err(refused) => prop_assert!(refused.first().contains("one step left"), "{:?}", refused),
        }
    }
}
