//! Every cause that `why` names is taken away, and then the outcome is another.

use crate::gate::gate;
use crate::harness::{inputs, load};
use crate::random::{self, Ticks};
use harmonym_lab::explain::{
    Blocked, EndReason, EpisodeRecord, Miss, Mover, Phase, Status, Story, why,
};
use harmonym_lab::take::{Input, Playing, What};
use harmonym_runtime::base::{ActionId, Rate, Seat, Time, shortest};
use harmonym_runtime::plan::{Cue, Guard, Plan};
use proptest::prelude::*;

/// Whether something is as it was named.
type Same<T> = Box<dyn Fn(&T) -> bool>;

/// A profile and hands, whose outcome is asked for.
struct Case<'a> {
    text: &'a str,
    inputs: &'a [Input],
    rate: &'a str,
}

impl Case<'_> {
    fn story(&self, address: &str) -> Story {
        let (_, plan) = load(self.text);
        let action = plan.find_action(address).expect("an action");
        let playing = Playing::at(Rate::parse(self.rate).unwrap());
        why(&plan, playing, self.inputs.iter().copied(), (Seat::FIRST, action), None)
    }
}

/// A profile with one key of an action set otherwise.
fn with(text: &str, address: &str, key: &str, value: &str) -> String {
    let mut out = String::new();
    let head = format!("[map.{address}]");
    let mut inside = false;
    for line in text.lines() {
        if line.starts_with('[') {
            inside = line == head;
        }
        if inside && line.starts_with(&format!("{key} = ")) {
            continue;
        }
        out.push_str(line);
        out.push('\n');
        if line == head {
            out.push_str(&format!("{key} = {value}\n"));
        }
    }
    out
}

/// What a key of an action says.
fn key(text: &str, address: &str, key: &str) -> Option<String> {
    let (_, block) = text.split_once(&format!("[map.{address}]\n"))?;
    let block = block.split("\n[").next()?;
    let line = block.lines().find_map(|line| line.strip_prefix(&format!("{key} = ")));
    line.map(str::to_owned)
}

/// Whether a press between two moments still comes to nothing for the reason that was named.
fn is_still(story: &Story, miss: &Miss, phase: &Phase, same: &dyn Fn(&Status) -> bool) -> bool {
    let woke = |record: &EpisodeRecord| record.woke >= miss.from && record.woke <= miss.to;
    if story.episodes.iter().any(woke) {
        return false;
    }
    let meets = |other: &&Phase| other.from < phase.to && phase.from < other.to;
    let others = story.misses.iter().filter(|other| other.control == miss.control);
    let phases = others.filter(|other| other.count == 1).flat_map(|other| &other.phases);
    let met = || phases.clone().filter(meets).map(|other| &other.status);
    // What another action has taken went as far as it had to, and so did what is up since before.
    let went_far = |status: &Status| matches!(status, Status::Taken(_) | Status::StillUp(..));
    !met().any(went_far) && met().any(same)
}

/// What is left of a claim in a miss when its cause is taken away.
fn kept(case: &Case<'_>, plan: &Plan, address: &str, miss: &Miss, phase: &Phase) -> Option<String> {
    let names = plan.names();
    let (text, same): (String, Same<Status>) = match phase.status {
        Status::Blocked(_, Blocked::Claimed(by, _)) => {
            let other = &names.actions[plan.bindings()[by].action];
            let same = move |status: &Status| matches!(status, Status::Blocked(_, Blocked::Claimed(one, _)) if *one == by);
            (with(case.text, other, "claim", "false"), Box::new(same))
        }
        Status::Blocked(_, Blocked::Muted(..)) => {
            let same = |status: &Status| matches!(status, Status::Blocked(_, Blocked::Muted(..)));
            (with(case.text, address, "carry", "true"), Box::new(same))
        }
        Status::UnderWake(gives, _) if gives > 0.001 => {
            // What moves crosses levels at looks only, and is a little farther in between.
            let action = plan.find_action(address).ok()?;
            let is_still = plan.actions()[action].motions.is_empty();
            let level = gives * if is_still { 1.0 - 1e-9 } else { 0.9 };
            let levels = format!("{{ down = {level:?}, up = {:?} }}", level / 4.0);
            let same = |status: &Status| matches!(status, Status::UnderWake(..));
            (with(case.text, address, "levels", &levels), Box::new(same))
        }
        _ => return None,
    };
    let story = Case { text: &text, ..*case }.story(address);
    is_still(&story, miss, phase, &same)
        .then(|| format!("{address}: {miss:?}\nstill so with\n{text}\n{:?}", story.misses))
}

/// The inputs without those at a moment that a mover names; nothing where it names none.
fn without(inputs: &[Input], at: Time, mover: &Mover) -> Option<Vec<Input>> {
    let is_it = |input: &Input| match (mover, input.what) {
        (
            Mover::LetGo(of)
            | Mover::Pressed(of)
            | Mover::Moved(of, _)
            | Mover::Opposite(of, _)
            | Mover::Toggled(of)
            | Mover::Inverted(of)
            | Mover::TookOver(of, _)
            | Mover::HolderLetGo(of),
            What::Report(contact, _),
        ) => contact.control == *of,
        (Mover::Number(named, to), What::Number(_, other, value)) => {
            (other, value) == (*named, *to)
        }
        _ => false,
    };
    let mut at_once = inputs.iter().filter(|input| input.t == at);
    // Of several at one moment another may do the same.
    let (Some(one), None) = (at_once.next(), at_once.next()) else { return None };
    if !is_it(one) {
        return None;
    }
    Some(inputs.iter().filter(|input| input.t != at).copied().collect())
}

/// What is left of a claim about an end when its cause is taken away.
fn ended(case: &Case<'_>, plan: &Plan, address: &str, record: &EpisodeRecord) -> Option<String> {
    let (end, cause) = record.end?;
    let ending = record.ending.as_ref()?;
    let action = plan.find_action(address).ok()?;
    let same =
        |story: &Story| story.episodes.iter().find(|other| other.woke == record.woke).cloned();
    let (text, inputs, is_same): (String, Vec<Input>, Same<EpisodeRecord>) = match ending {
        // It may have come up before it ended.
        EndReason::Released { up: Some(by), held }
        | EndReason::TooShort { up: Some(by), held, .. }
            if *held == end.since(record.woke) =>
        {
            let inputs = without(case.inputs, end, by)?;
            let is_same = move |other: &EpisodeRecord| other.end == Some((end, cause));
            (case.text.to_owned(), inputs, Box::new(is_same))
        }
        EndReason::Yielded(..) => {
            let is_same =
                |other: &EpisodeRecord| matches!(other.ending, Some(EndReason::Yielded(..)));
            (with(case.text, address, "yields-to", "[]"), case.inputs.to_vec(), Box::new(is_same))
        }
        EndReason::Guard(guards) => {
            let rule = key(case.text, address, "fire")?;
            let bare =
                guards.iter().fold(rule, |rule, (guard, _)| bare(plan, action, &rule, *guard));
            let named: Vec<Guard> = guards.iter().map(|(guard, _)| *guard).collect();
            let is_same = move |other: &EpisodeRecord| match &other.ending {
                Some(EndReason::Guard(others)) => {
                    others.iter().any(|(guard, _)| named.contains(guard))
                }
                _ => false,
            };
            (with(case.text, address, "fire", &bare), case.inputs.to_vec(), Box::new(is_same))
        }
        EndReason::TooShort { by, held, .. }
            if matches!(plan.alternatives()[*by].cue, Cue::Hold(_) | Cue::Charge(_))
                && *held > Time::ZERO =>
        {
            let rule = key(case.text, address, "fire")?;
            let written = &plan.names().alternatives[*by];
            let word = written.split(' ').next()?;
            let short = format!("{word} {}s", shortest(held.seconds()));
            let is_same =
                |other: &EpisodeRecord| matches!(other.ending, Some(EndReason::TooShort { .. }));
            let rule = rule.replace(written.as_str(), &short);
            (with(case.text, address, "fire", &rule), case.inputs.to_vec(), Box::new(is_same))
        }
        _ => return None,
    };
    let story = Case { text: &text, inputs: &inputs, ..*case }.story(address);
    let other = same(&story)?;
    is_same(&other)
        .then(|| format!("{address}: {record:?}\nstill so:\n{other:?}\nwith\n{text}\n{inputs:?}"))
}

/// A rule without a guard.
fn bare(plan: &Plan, action: ActionId, rule: &str, guard: Guard) -> String {
    let names = plan.names();
    let (word, name) = match guard {
        Guard::Live(other, true) => ("with", &names.actions[other]),
        Guard::Live(other, false) => ("without", &names.actions[other]),
        Guard::Holds(named, true) => ("when", &names.variables[named]),
        Guard::Holds(named, false) => ("unless", &names.variables[named]),
    };
    let own = names.actions[action].split('.').next().unwrap_or_default();
    let short = name.strip_prefix(&format!("{own}.")).unwrap_or(name);
    let mut rule = rule.to_owned();
    for name in [name.as_str(), short] {
        for end in [" ", "\""] {
            rule = rule.replace(&format!(" {word} {name}{end}"), end);
        }
    }
    rule
}

proptest! {
    #![proptest_config(gate(96))]

    #[test]
    fn what_is_named_as_the_cause_is_one(
        profile in random::profile(Ticks::Without),
        take in random::take(),
        rate in prop::sample::select(vec!["20", "60"]),
    ) {
        let (_, plan) = load(&profile);
        let inputs = inputs(&take, &plan);
        let case = Case { text: &profile, inputs: &inputs, rate };
        for action in plan.actions().ids() {
            let address = &plan.names().actions[action];
            let story = case.story(address);
            for miss in story.misses.iter().filter(|miss| miss.count == 1) {
                for phase in &miss.phases {
                    let wrong = kept(&case, &plan, address, miss, phase);
                    prop_assert!(wrong.is_none(), "{}", wrong.unwrap_or_default());
                }
            }
            for record in &story.episodes {
                let wrong = ended(&case, &plan, address, record);
                prop_assert!(wrong.is_none(), "{}", wrong.unwrap_or_default());
            }
        }
    }
}
