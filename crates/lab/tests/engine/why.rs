//! What `why` tells, against a run that nobody watched: the same episodes, and numbers that fit.

use crate::gate::gate;
use crate::harness::{inputs, load, run};
use crate::random::{self, Ticks};
use harmonym_lab::explain::{EndReason, EpisodeRecord, Status, Story, why};
use harmonym_lab::take::Playing;
use harmonym_runtime::base::{ActionId, Rate, Seat, Time};
use harmonym_runtime::engine::{Event, EventKind, Notice};
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;

/// The episodes of an action in a run, with nothing behind their ends.
fn plain(notices: &[Notice], action: ActionId) -> (Vec<EpisodeRecord>, Vec<Event>) {
    let (mut records, mut ends): (Vec<EpisodeRecord>, _) = (Vec::new(), Vec::new());
    let own = notices.iter().filter_map(|notice| match notice {
        Notice::Event(event) if event.action == action => Some(*event),
        _ => None,
    });
    for event in own {
        let open = records.last_mut();
        match (event.kind, open) {
            (EventKind::Wake, _) => {
                records.push(EpisodeRecord::new(event.t));
            }
            (EventKind::Fire(by, since), Some(record)) => record.fires.push((event.t, by, since)),
            (EventKind::Lapse(cause) | EventKind::Rest(cause), Some(record)) => {
                record.end = Some((event.t, cause));
                ends.push(event);
            }
            (_, None) => panic!("an event before the first wake"),
        }
    }
    (records, ends)
}

/// What is wrong with the numbers behind an end.
fn wrong(plan: &Plan, event: &Event, ending: &EndReason, notices: &[Notice]) -> Option<String> {
    let spec = &plan.actions()[event.action];
    let alone = spec.alternatives.len() == 1;
    let held_within = |held: Time| held <= event.held.into();
    let holds = match ending {
        EndReason::Released { .. } | EndReason::Stopped | EndReason::Guard(_) | EndReason::OutOfOrder(_) | EndReason::Unplugged(_) => true,
        EndReason::TooShort { held, needed, .. } => {
            let share = held.seconds() / needed.seconds();
            let told = !alone || (share - event.progress).abs() < 1e-6;
            held < needed && held_within(*held) && told
        }
        // What a tick brings up comes after what runs out at that very instant.
        EndReason::TooLong { limit, held, .. } => held.is_none_or(|held| {
            held > *limit || (held == *limit && spec.works_at_ticks)
        }),
        EndReason::TooLight(peak, down) => peak < down && *down == spec.down,
        EndReason::Gap { count, needed, .. } => {
            let share = f64::from(*count) / f64::from(*needed);
            count < needed && (!alone || (share - event.progress).abs() < 1e-9)
        }
        EndReason::StepGap { count, steps, .. } => {
            (*count as f64 / *steps as f64 - event.progress).abs() < 1e-9
        }
        EndReason::Yielded(other, _) => spec.yields_to.of(plan.listed()).contains(other),
        EndReason::MapOff(map, _) => notices.iter().any(|one| {
            matches!(one, Notice::Map { t, map: of, open: false, .. } if of == map && *t == event.t)
        }),
        EndReason::Claimed(_, by) => plan.actions()[plan.bindings()[*by].action].claim,
        EndReason::SchemeOff(scheme) => spec
            .bindings
            .iter()
            .any(|id| plan.bindings()[id].scheme.is_some_and(|own| own != *scheme)),
    };
    (!holds).then(|| format!("{ending:?} at {event:?}"))
}

/// Whether an action stands as one that is awake.
fn is_awake(status: &Status) -> bool {
    match status {
        Status::Pending(_) | Status::Live(..) | Status::UnderDown(..) => true,
        Status::Step(done, ..) => *done > 0,
        _ => false,
    }
}

/// What is wrong with a story.
fn faults(
    plan: &Plan,
    notices: &[Notice],
    action: ActionId,
    story: &Story,
    at: Time,
) -> Vec<String> {
    let (records, ends) = plain(notices, action);
    let mut faults = Vec::new();
    let bare: Vec<EpisodeRecord> = story
        .episodes
        .iter()
        .map(|record| EpisodeRecord {
            fires: record.fires.clone(),
            end: record.end,
            ..EpisodeRecord::new(record.woke)
        })
        .collect();
    if bare != records {
        faults.push(format!("{bare:?}\nbut it was\n{records:?}"));
        return faults;
    }
    for (record, event) in story.episodes.iter().filter(|record| record.end.is_some()).zip(&ends) {
        faults.extend(record.ending.as_ref().and_then(|one| wrong(plan, event, one, notices)));
    }
    if let Some(moment) = &story.moment {
        let open = |record: &&EpisodeRecord| {
            record.woke <= at && record.end.is_none_or(|(end, _)| end > at)
        };
        // What comes after the end of the run nobody saw.
        let last = notices.iter().filter_map(|one| match one {
            Notice::Event(event) => Some(event.t),
            _ => None,
        });
        let is_open = records.iter().any(|record| open(&record));
        if last.max().is_some_and(|last| at < last) && is_awake(&moment.status) != is_open {
            faults.push(format!("at {at} it stands as {:?}: {records:?}", moment.status));
        }
    }
    for miss in &story.misses {
        for status in miss.phases.iter().map(|phase| &phase.status) {
            let over_level = matches!(status, Status::UnderWake(gives, wake) if gives >= wake);
            if over_level || is_awake(status) {
                faults.push(format!("{miss:?}"));
            }
        }
    }
    faults
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn it_tells_the_same_story_as_a_run_that_nobody_watched(
        profile in random::profile(Ticks::With),
        take in random::take(),
        rate in prop::sample::select(vec!["20", "60", "144"]),
        at in 0_u64..4000,
    ) {
        let (_, plan) = load(&profile);
        let inputs = inputs(&take, &plan);
        let (log, _) = run(&plan, &inputs, rate);
        let playing = Playing::at(Rate::parse(rate).unwrap());
        let at = Time::from_millis(at);
        for action in plan.actions().ids() {
            let story = why(&plan, playing, inputs.iter().copied(), (Seat::FIRST, action), None);
            let told = faults(&plan, &log.notices, action, &story, at);
            prop_assert!(told.is_empty(), "{}: {}", plan.names().actions[action], told.join("\n"));
            // A look at a moment changes nothing of what comes before it.
            let story = why(&plan, playing, inputs.iter().copied(), (Seat::FIRST, action), Some(at));
            let moment = story.moment.as_ref().expect("a moment");
            prop_assert_eq!(moment.t, at);
            let seen: Vec<Notice> = log.notices.iter().filter(|one| matches!(one, Notice::Event(e) if e.t <= at)).copied().collect();
            let (before, _) = plain(&seen, action);
            let (all, _) = plain(&log.notices, action);
            let is_open = all.iter().any(|t| t.woke <= at && t.end.is_none_or(|(end, _)| end > at));
            let last = inputs.last().map_or(Time::ZERO, |input| input.t);
            if at <= last {
                prop_assert_eq!(is_awake(&moment.status), is_open, "{:?}", moment.status);
                prop_assert_eq!(moment.episode, before.len().checked_sub(1));
            }
        }
    }
}
