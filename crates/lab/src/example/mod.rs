//! Small examples of the language that are run: what a step makes of values, what a cue makes of
//! presses.
//!
//! Guarantees to who shows them: nothing is written down, all of it comes out of the engine.

use crate::score::{self, Score};
use crate::take::{Run, Watcher};
use crate::trace::Lanes;
use harmonym_lang::load;
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table::first_form;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{Kind, Rate, Seat, Time, Vector};
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Told;
use std::sync::Arc;

/// How long each value of a step's example stays.
const PACE: Time = Time::from_millis(500);

/// What a step makes of some values.
#[derive(Clone, Debug)]
pub struct StepExample {
    /// The step as it is written.
    pub written: String,
    /// The kind of what is put in.
    pub takes: Kind,
    /// The kind of what comes out.
    pub gives: Kind,
    /// Whether time matters: the moments count from when the first value comes in.
    pub in_time: bool,
    /// What is put in, and what comes out at that moment.
    pub rows: Vec<(Time, Vector, Vector)>,
}

/// What a cue makes of some presses.
#[derive(Debug)]
pub struct CueExample {
    /// The cue as it is written.
    pub written: &'static str,
    /// What is run.
    pub plan: Arc<Plan>,
    /// What came of it.
    pub lanes: Lanes,
}

/// What is put into a step: values, each for a while, or moments after 1 and then 0 came in.
enum Given {
    Axis(&'static [f64]),
    Plane(&'static [(f64, f64)]),
    Moments(&'static [u64]),
}

const fn given(step: StepWord) -> Given {
    use StepWord::{
        Cap, Deadzone, Ease, Not, Notch, Order, Pick, Rotate, Smooth, SwitchAt, Toggle, Travel,
        Unit, Ways,
    };
    match step {
        Not | Toggle | SwitchAt => Given::Axis(&[0.0, 0.3, 0.45, 0.6, 0.45, 0.3, 0.6, 0.3]),
        Notch => Given::Axis(&[-0.7, -0.3, 0.0, 0.1, 0.125, 0.3, 0.4, 0.9]),
        Deadzone => Given::Axis(&[-0.5, 0.0, 0.1, 0.15, 0.25, 0.5, 0.75, 0.96, 1.0]),
        Cap | Pick | Order | Rotate | Unit | Ways => {
            Given::Plane(&[(0.0, 0.0), (0.5, 0.0), (0.6, 0.2), (0.6, 0.8), (1.0, 1.0), (-0.8, 0.6)])
        }
        Ease | Smooth | Travel => Given::Moments(&[0, 50, 100, 200, 400, 500, 550, 600, 700, 900]),
        _ => Given::Axis(&[-1.0, -0.5, 0.0, 0.1, 0.25, 0.5, 0.75, 1.0]),
    }
}

/// Runs the example of a step; nothing if it has none.
pub fn of_step(step: StepWord) -> Option<StepExample> {
    of_written(step, first_form(step.text().form))
}

/// Runs a step as it is written, on the values of its example; nothing where it names settings or facts.
pub fn of_written(step: StepWord, written: &str) -> Option<StepExample> {
    let takes = match given(step) {
        Given::Plane(_) => Kind::Plane,
        _ => Kind::Axis,
    };
    let gives = match step {
        StepWord::Onto => Kind::Plane,
        StepWord::Pick => Kind::Axis,
        _ => takes,
    };
    let control = match takes {
        Kind::Plane => "pad.left-stick",
        _ => "pad.left-stick.x",
    };
    let value = gives.word();
    let profile = format!(
        "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n[map.m]\nstart = true\n\
         a = {{ value = \"{value}\", bind.pad = \"{control} | {written}\" }}\n"
    );
    // The stick's values, when each comes, and when it is looked at what came out.
    let lasting = |values: Vec<Vector>| {
        let each = values.into_iter().enumerate();
        each.map(|(place, value)| {
            let at = Time::from_nanos(PACE.nanos() * (place as u64 + 1));
            (value, at, at + Time::from_nanos(PACE.nanos() / 2))
        })
        .collect::<Vec<_>>()
    };
    let moves = match given(step) {
        Given::Axis(values) => lasting(values.iter().map(|x| Vector::axis(*x)).collect()),
        Given::Plane(values) => lasting(values.iter().map(|(x, y)| Vector::new(*x, *y)).collect()),
        Given::Moments(moments) => {
            let each = moments.iter().map(|after| {
                let is_in = *after < 500;
                let came = if is_in { PACE } else { PACE + PACE };
                let value = Vector::axis(if is_in { 1.0 } else { 0.0 });
                (value, came, PACE + Time::from_millis(*after))
            });
            each.collect()
        }
    };
    let mut hands = String::new();
    let mut last = None;
    for (value, at, _) in moves.iter().filter(|(_, at, _)| last.replace(*at) != Some(*at)) {
        let to = match takes {
            Kind::Plane => format!("({}, {})", value.xyz()[0], value.xyz()[1]),
            _ => value.xyz()[0].to_string(),
        };
        hands.push_str(&format!("at {at}s push {control} to {to}\n"));
    }
    let (plan, score) = read(&profile, &hands)?;
    let action = plan.actions().ids().next()?;
    let mut run = Run::new(Arc::clone(&plan), score.playing(Rate::DEFAULT), None, &mut Nobody);
    let mut inputs = score.perform().peekable();
    let mut rows = Vec::new();
    for (value, _, at) in moves {
        while let Some(input) = inputs.next_if(|input| input.t <= at) {
            let _ = run.input(input, &mut Nobody);
        }
        let seats = run.look(at, &mut Nobody);
        let made = seats.frame(Seat::FIRST).value(action);
        rows.push((at.since(PACE), value, made));
    }
    let in_time = matches!(given(step), Given::Moments(_));
    let written = written.to_owned();
    Some(StepExample { written, takes, gives, in_time, rows })
}

/// A short press, a long one, and two short ones soon after each other.
const PRESSES: &str = "at 0.2s press key.KeyT for 0.1s\nat 0.8s press key.KeyT for 1s\n\
                       at 2.2s press key.KeyT for 0.1s\nat 2.45s press key.KeyT for 0.1s\n";
/// The steps of a sequence in order, and the other way around.
const SEQUENCE: &str = "at 0.2s press key.KeyA for 0.1s\nat 0.5s press key.KeyB for 0.1s\n\
                        at 1.8s press key.KeyB for 0.1s\nat 2.1s press key.KeyA for 0.1s\n";
/// A stick that goes out in two moves, and back.
const STICK: &str = "at 0.2s push pad.left-stick.x to 0.5 over 0.3s\n\
                     at 1s push pad.left-stick.x to 1 over 0.3s\n\
                     at 1.8s release pad.left-stick.x over 0.4s\n";

/// Runs the example of a cue; nothing if it has none.
pub fn of_cue(cue: CueWord) -> Option<CueExample> {
    let written = first_form(cue.text().form);
    let (actions, hands) = match cue {
        CueWord::Sequence => (
            format!(
                "a = {{ value = \"switch\", bind.all = \"key.KeyA\" }}\n\
                 b = {{ value = \"switch\", bind.all = \"key.KeyB\" }}\n\
                 it = {{ value = \"switch\", fire = \"{written}\" }}\n"
            ),
            SEQUENCE,
        ),
        CueWord::Change => (
            format!(
                "it = {{ value = \"axis\", bind.all = \"pad.left-stick.x\", fire = \"{written}\" }}\n"
            ),
            STICK,
        ),
        _ => (
            format!(
                "it = {{ value = \"switch\", bind.all = \"key.KeyT\", fire = \"{written}\" }}\n"
            ),
            PRESSES,
        ),
    };
    let profile = format!("harmonym = 1\n[map.m]\nstart = true\n{actions}");
    let (plan, score) = read(&profile, hands)?;
    let lanes = Lanes::of(&plan, &score);
    Some(CueExample { written, plan, lanes })
}

fn read(profile: &str, hands: &str) -> Option<(Arc<Plan>, Score)> {
    let (_, plan) = load(&Source::new("example", profile)).ok()?;
    let score = score::read(&Source::new("hands", hands), &plan).ok()?;
    Some((Arc::new(plan), score))
}

struct Nobody;

impl Watcher for Nobody {
    fn notice(&mut self, _: Told) {}
}

#[cfg(test)]
mod tests {
    use super::*;

    fn made(step: StepWord) -> Vec<(f64, f64)> {
        let example = of_step(step).unwrap();
        example.rows.iter().map(|(_, from, to)| (from.xyz()[0], to.xyz()[0])).collect()
    }

    #[test]
    fn every_step_and_cue_has_an_example_that_runs() {
        for step in StepWord::ALL {
            let example = of_step(*step).unwrap_or_else(|| panic!("{step:?}"));
            let changes = example.rows.iter().any(|(_, from, to)| from != to);
            assert!(changes || example.takes != example.gives, "{step:?} does nothing");
        }
        for cue in CueWord::ALL {
            let example = of_cue(*cue).unwrap_or_else(|| panic!("{cue:?}"));
            let it = example.lanes.lanes.last();
            assert!(it.is_some_and(|lane| !lane.is_quiet()), "{cue:?} does nothing");
        }
    }

    #[test]
    fn what_a_step_makes_is_what_its_formula_says() {
        for (from, to) in made(StepWord::Deadzone) {
            let share = ((from.abs() - 0.1) / (0.96 - 0.1)).clamp(0.0, 1.0);
            assert!((to - share * from.signum()).abs() < 1e-12, "{from}: {to}");
        }
        assert!(made(StepWord::Scale).iter().all(|(from, to)| *to == from * 0.5));
        // What is on stays on until it is under the lower limit.
        let on: Vec<f64> = made(StepWord::SwitchAt).iter().map(|(_, to)| *to).collect();
        assert_eq!(on, [0.0, 0.0, 0.0, 1.0, 1.0, 0.0, 1.0, 0.0]);
    }
}
