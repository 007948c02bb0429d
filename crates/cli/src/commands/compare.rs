//! `compare`: the same hands through two profiles.

use super::hands::Hands;
use crate::args::CompareArgs;
use crate::failure::Failure;
use crate::files::{Loaded, load, load_profile, read_text};
use crate::output::Output;
use crate::view::table::table;
use harmonym_core::base::shortest;
use harmonym_core::plan::Plan;
use harmonym_core::profile::edit::Draft;
use harmonym_core::source::Source;
use harmonym_core::trace::{Change, Difference, Lanes, Mark, compare};
use std::path::Path;

pub fn run(file: Option<&Path>, args: &CompareArgs, output: &mut Output) -> Result<(), Failure> {
    let ours = load_profile(file, output)?;
    let theirs = match &args.with {
        Some(path) => load(read_text(path)?)?,
        None => changed(&ours, &args.set)?,
    };
    let asked = args.hands.asked(&ours)?;
    let run = |loaded: &Loaded| -> Result<_, Failure> {
        let hands = Hands::read(&args.hands.input, loaded)?;
        let playing = hands.playing(asked);
        Ok(hands.lanes(loaded, playing))
    };
    let ((a, plan_a), (b, plan_b)) = (run(&ours)?, run(&theirs)?);
    let differs = tell((&a, &plan_a), (&b, &plan_b), output)?;
    if differs && args.fail_on_change { Err(Failure::FellShort) } else { Ok(()) }
}

/// The same profile with some things set otherwise: `ADDRESS=VALUE`.
pub fn changed(ours: &Loaded, changes: &[String]) -> Result<Loaded, Failure> {
    let mut draft = Draft::new(&ours.source);
    for change in changes {
        let Some((address, value)) = change.split_once('=') else {
            let help = "write --set quay.tie-knot.fire.hold=0.6s";
            return Err(Failure::new(format!("`{change}` sets nothing"), help));
        };
        draft.set(address.trim(), &[value.trim().to_owned()])?;
    }
    load(Source::new(ours.source.name(), draft.text()))
}

/// Tells what differs between two runs, and whether anything does.
pub fn tell(a: (&Lanes, &Plan), b: (&Lanes, &Plan), output: &mut Output) -> Result<bool, Failure> {
    let all = compare(a, b);
    if all.is_empty() {
        output.line("nothing differs")?;
        return Ok(false);
    }
    let rows = all.iter().map(|one| {
        let Difference { t, action, what } = one;
        [format!("{t:.4}"), action.clone(), words(what)]
    });
    let text = table(output.look, ["time", "action", "what differs"], rows.collect());
    output.write(|out| out.push_str(&text))?;
    output.line(&match all.len() {
        1 => "1 difference".to_owned(),
        many => format!("{many} differences"),
    })?;
    Ok(true)
}

fn mark(mark: Mark) -> String {
    match mark {
        Mark::Wake => "wake".to_owned(),
        Mark::Fire => "fire".to_owned(),
        Mark::Lapse(cause) => format!("lapse ({})", cause.word()),
        Mark::Rest(cause) => format!("rest ({})", cause.word()),
    }
}

fn words(change: &Change) -> String {
    match change {
        Change::Gone(one) => format!("− {}: only before", mark(*one)),
        Change::New(one) => format!("+ {}: only after", mark(*one)),
        Change::Moved(one, to) => format!("→ {} moves to {to:.4}", mark(*one)),
        Change::Ends(one, other) => format!("→ {} becomes {}", mark(*one), mark(*other)),
        Change::Value(distance) => {
            let distance = shortest((distance * 1e6).round() / 1e6);
            format!("≠ its value differs by {distance} at most, here")
        }
        Change::NoAction => "− the other profile has no such action".to_owned(),
    }
}
