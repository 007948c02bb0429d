//! Mends what the checker finds, where that is safe.
//!
//! Guarantees to the caller: every mend that was made took its finding away and brought none that weighs
//! as much; no score beside the profile comes out otherwise, and a step that was taken out for changing
//! nothing changes nothing for random hands either. Settings, facts, schemes and devices stay.

mod hands;

use crate::check::Review;
use crate::edit::Draft;
use crate::score::{self, Score};
use crate::take::{Input, Playing, Run, Watcher};
use hands::random_hands;
use harmonym_lang::report::{Diagnostic, Mend};
use harmonym_lang::source::Source;
use harmonym_runtime::base::{ActionId, Rate, Seat, Time, Vector};
use harmonym_runtime::engine::Frame;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use std::collections::BTreeSet;
use std::sync::Arc;

/// So many random hands try a step that is said to change nothing.
const HANDS: u64 = 1000;

/// More things than this are not mended at once.
const MOST: usize = 500;

/// What came of mending.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Mended {
    /// How many things were mended.
    pub count: usize,
    /// What was left alone, each finding with the reason.
    pub left: Vec<(String, String)>,
}

/// Mends one thing after the other, each time looking through everything anew.
pub fn mend(draft: &mut Draft, name: &str, scores: &[Source]) -> Mended {
    let mut tried: BTreeSet<String> = BTreeSet::new();
    let mut mended = Mended::default();
    for _ in 0..MOST {
        let source = Source::new(name, draft.text());
        let Ok((profile, plan)) = harmonym_lang::load(&source) else { break };
        let review = Review::new(source, &profile, &plan, scores.to_vec());
        let mut all = review.iter().map(|(_, one)| one);
        let next = all.find(|one| !one.mends.is_empty() && !tried.contains(&key(one)));
        let Some(next) = next else { break };
        tried.insert(key(next));
        match tried_out(draft, name, scores, next, &plan, &review) {
            Ok(changed) => {
                *draft = changed;
                mended.count += 1;
            }
            Err(why) => mended.left.push((next.message.clone(), why)),
        }
    }
    mended
}

/// What would mend each finding of a review of a sound profile, by itself: the finding, and the text that
/// the profile would have.
pub fn offers(
    source: &Source,
    scores: &[Source],
    plan: &Plan,
    review: &Review,
) -> Vec<(Diagnostic, String)> {
    let draft = Draft::new(source);
    let all = review.iter().map(|(_, one)| one).filter(|one| !one.mends.is_empty());
    all.take(MOST)
        .filter_map(|one| {
            let changed = tried_out(&draft, source.name(), scores, one, plan, review).ok()?;
            Some((one.clone(), changed.text().to_owned()))
        })
        .collect()
}

fn key(one: &Diagnostic) -> String {
    format!("{} {:?} {}", one.rule, one.address, one.message)
}

/// The profile with one thing mended; why that can't be, if it can't.
fn tried_out(
    draft: &Draft,
    name: &str,
    scores: &[Source],
    told: &Diagnostic,
    before: &Plan,
    review: &Review,
) -> Result<Draft, String> {
    let mut changed = draft.clone();
    for change in &told.mends {
        let done = match change {
            Mend::Set(address, value) => changed.set(address, std::slice::from_ref(value)),
            Mend::Remove(address) => changed.remove(address, false),
        };
        done.map_err(|_| "the change can't be made in the text".to_owned())?;
    }
    let source = Source::new(name, changed.text());
    let (profile, plan) =
        harmonym_lang::load(&source).map_err(|_| "the profile would have a fault".to_owned())?;
    let after = Review::new(source, &profile, &plan, scores.to_vec());
    let known: BTreeSet<String> = review.iter().map(|(_, one)| key(one)).collect();
    for (_, one) in after.iter() {
        if key(one) == key(told) {
            return Err("it would still be found".to_owned());
        }
        if !known.contains(&key(one)) && one.level >= told.level {
            return Err(format!("then there would be another: {}", one.message));
        }
    }
    let (before, after) = (Arc::new(before.clone()), Arc::new(plan));
    for source in scores {
        let both = (score::read(source, &before), score::read(source, &after));
        let same = match &both {
            (Ok(one), Ok(other)) => outcome(&before, one) == outcome(&after, other),
            // One that can't be read before says nothing.
            (Err(_), _) => true,
            (Ok(_), Err(_)) => false,
        };
        if !same {
            return Err(format!("{} would come out otherwise", source.name()));
        }
    }
    if told.rule == "idle-step" {
        for seed in 0..HANDS {
            let hands = random_hands(&before, seed);
            if run(&before, Playing::at(Rate::DEFAULT), hands.iter().copied())
                != run(&after, Playing::at(Rate::DEFAULT), hands.iter().copied())
            {
                return Err("some hands would come out otherwise".to_owned());
            }
        }
    }
    Ok(changed)
}

/// What a run told, and every value at every tick.
#[derive(Default, PartialEq)]
struct Outcome {
    notices: Vec<Told>,
    values: Vec<(Seat, u64, ActionId, Vector)>,
}

impl Watcher for Outcome {
    fn notice(&mut self, told: Told) {
        self.notices.push(told);
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, _t: Time) {
        let changed = frame.changed().map(|id| (seat, frame.ticks(), id, frame.value(id)));
        self.values.extend(changed);
    }
}

fn outcome(plan: &Arc<Plan>, score: &Score) -> Outcome {
    let playing = Playing { start: None, ..score.playing(score.rate.unwrap_or(Rate::DEFAULT)) };
    run(plan, playing, score.perform())
}

fn run(plan: &Arc<Plan>, playing: Playing, inputs: impl IntoIterator<Item = Input>) -> Outcome {
    let mut outcome = Outcome::default();
    let mut run = Run::new(Arc::clone(plan), playing, None, &mut outcome);
    for input in inputs {
        // Without an end that was asked for, a run takes every input.
        let _ = run.input(input, &mut outcome);
    }
    run.finish(&mut outcome);
    outcome
}
