//! `compare`: the same hands through two profiles.

use super::hands::{Hands, HandsAgain, asked_seat};
use super::rates;
use super::save::PictureFile;
use crate::args::CompareArgs;
use crate::commands::as_typed;
use crate::commands::load_as;
use crate::draw::Form;
use crate::draw::time::{Picture, Shown};
use crate::failure::Failure;
use crate::files::{Loaded, load, read_text};
use crate::output::Output;
use crate::view::of_seat;
use crate::view::table::table;
use harmonym_lab::compare::{Change, Difference, Whole, compare};
use harmonym_lab::edit::with_changes;
use harmonym_lab::trace::{Lanes, Mark};
use harmonym_runtime::base::{Seat, Time, shortest};
use harmonym_runtime::plan::Plan;
use std::path::Path;

/// What two runs are called, where nothing else is said.
pub const NAMES: [&str; 2] = ["before", "after"];

pub fn run(file: Option<&Path>, args: &CompareArgs, output: &mut Output) -> Result<(), Failure> {
    let inputs: Vec<&Path> =
        std::iter::once(&*args.hands.input).chain(args.with.as_deref()).collect();
    let forms = [Form::Svg, Form::Png];
    let picture = args
        .output
        .as_deref()
        .map(|path| PictureFile::named((path, args.force), &forms, file, &inputs));
    let picture = picture.transpose()?;
    let ours = load_as(file, &args.hands.player, output)?;
    let other = match &args.with {
        Some(path) => Some(load(read_text(path)?)?.with_player_of(&ours)?),
        None if args.set.is_empty() => None,
        None => Some(changed(&ours, &args.set)?),
    };
    let theirs = other.as_ref().unwrap_or(&ours);
    let (rate, scheme) = args.hands.asked(&ours)?;
    let rates = match &args.rates {
        Some(rates) => match rates::parse(rates)?[..] {
            [first, second] => [Some(first), Some(second)],
            _ => return Err(Failure::new("`compare` takes two rates", "write --rates 20,144")),
        },
        None => [rate, rate],
    };
    let hands = HandsAgain::new(&args.hands.input)?;
    let mut title = String::new();
    let mut run = |loaded: &Loaded, rate| -> Result<_, Failure> {
        let hands = Hands::of(hands.open()?, loaded)?;
        title = hands.about.shown_title().into_owned();
        let playing = hands.playing((rate, scheme))?;
        hands.lanes(loaded, playing)
    };
    let ((a, plan_a), (b, plan_b)) = (run(&ours, rates[0])?, run(theirs, rates[1])?);
    let named = rates.map(|rate| rate.map_or(String::new(), |rate| format!("at {rate}")));
    let names = match args.rates {
        Some(_) => [named[0].as_str(), named[1].as_str()],
        None => NAMES,
    };
    let seat = asked_seat(args.hands.seat, a.seats)?;
    let differs = tell((&a, &plan_a), (&b, &plan_b), (args.tolerance, names, seat), output)?;
    if let Some(file) = picture {
        let runs = [(&a, &plan_a), (&b, &plan_b)].map(|(lanes, plan)| Shown { lanes, plan });
        let (from, to) = (Time::ZERO, a.end.max(b.end));
        let picture = Picture { title: &title, runs: &runs, names, from, to, only: None, seat };
        file.save(picture.svg(), output)?;
    }
    if differs && args.fail_on_change { Err(Failure::CheckFailed) } else { Ok(()) }
}

/// The same profile with some things set otherwise: `ADDRESS=VALUE`.
pub fn changed(ours: &Loaded, changes: &[String]) -> Result<Loaded, Failure> {
    let changed = with_changes(&ours.source, changes)?;
    let changed = load(changed).map_err(|failure| as_typed(failure, ours.source.text(), None).0)?;
    changed.with_player_of(ours)
}

/// Tells what differs between two runs, and whether anything does.
pub fn tell(
    a: (&Lanes, &Plan),
    b: (&Lanes, &Plan),
    (tolerance, names, seat): (f64, [&str; 2], Option<Seat>),
    output: &mut Output,
) -> Result<bool, Failure> {
    let mut all = compare(a, b, tolerance);
    all.retain(|one| seat.is_none_or(|seat| one.seat == seat));
    if all.is_empty() {
        output.line("nothing differs")?;
        return Ok(false);
    }
    let rows = all.iter().map(|one| {
        let Difference { t, seat, action, what } = one;
        let whose = Some(*seat).filter(|_| a.0.seats > 1);
        [format!("{t:.4}"), of_seat(whose, action).into_owned(), words(*t, what, names)]
    });
    let text = table(output.look, ["time", "action", "what differs"], rows.collect());
    output.prose(&text)?;
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

/// An episode that only one run has, in one line.
fn whole(one: Whole) -> String {
    let fires = match one.fires {
        0 => String::new(),
        1 => ", fires".to_owned(),
        many => format!(", fires {many} times"),
    };
    let end = match one.end {
        Some((t, end)) => format!(", {} at {t:.4}", mark(end)),
        None => String::new(),
    };
    format!("episode: wake{fires}{end}")
}

fn words(t: Time, change: &Change, [first, second]: [&str; 2]) -> String {
    match change {
        Change::EpisodeGone(one) => format!("− {}: only {first}", whole(*one)),
        Change::EpisodeNew(one) => format!("+ {}: only {second}", whole(*one)),
        Change::Gone(one) => format!("− {}: only {first}", mark(*one)),
        Change::New(one) => format!("+ {}: only {second}", mark(*one)),
        Change::Moved(one, to) => match format!("{t:.4}") == format!("{to:.4}") {
            // Too little to be seen in four digits.
            true => format!("→ {} moves from {t} to {to}", mark(*one)),
            false => format!("→ {} moves to {to:.4}", mark(*one)),
        },
        Change::Ends(one, other) => format!("→ {} becomes {}", mark(*one), mark(*other)),
        Change::Value(distance) => {
            let digits = if *distance < 1e-4 { 1e12 } else { 1e6 };
            let distance = shortest((distance * digits).round() / digits);
            format!("≠ its value differs by {distance} at most, here")
        }
        Change::NoAction => "− the other profile has no such action".to_owned(),
    }
}
