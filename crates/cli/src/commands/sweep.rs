//! `sweep`: one number over a range, on many hands.

use super::compare::changed;
use super::hands::{Hands, asked_seat, expect_whole, gathered};
use super::play::{chosen, parse_rate, scheme};
use super::save::PictureFile;
use super::shards;
use crate::args::{Format, SweepArgs};
use crate::commands::load_as;
use crate::draw::Form;
use crate::draw::counts::{Counted, Counts, counts};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::view::sweep::{Added, Told, TriedValue, json, text};
use crate::view::tests::write_shard;
use harmonym_lab::edit::Draft;
use harmonym_lab::survey::{Range, RangeValue, Tally, swept, tallied};
use harmonym_lab::take::Playing;
use harmonym_runtime::base::Seat;
use rayon::prelude::*;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicU64, Ordering};

pub fn run(file: Option<&Path>, args: &SweepArgs, output: &mut Output) -> Result<(), Failure> {
    let gathered = if args.merge { args.inputs.clone() } else { gathered(&args.inputs)? };
    let paths = args.shard.map_or(&gathered[..], |shard| shard.part(&gathered));
    let inputs: Vec<&Path> = paths.iter().map(|path| &**path).collect();
    let forms = [Form::Svg, Form::Png];
    let picture = args
        .output
        .as_deref()
        .map(|path| PictureFile::named((path, args.force), &forms, file, &inputs));
    let picture = picture.transpose()?;
    let loaded = load_as(file, &args.player, output)?;
    let counted = match args.merge {
        true => together(paths, &loaded)?,
        false => played(paths, &loaded, args, output)?,
    };
    show(&counted, (&loaded, args), picture, output)
}

/// What came of many values of one number.
struct Swept {
    range: Range,
    values: Vec<RangeValue>,
    tells: Vec<TriedValue>,
    /// For each value that can be tried, how often what happened to each action.
    tallies: Vec<Vec<Tally>>,
    /// How many scores and takes were played.
    files: usize,
}

fn range_of(vary: &str) -> Result<Range, Failure> {
    Range::parse(vary).map_err(|what| {
        let help = "write --vary quay.tie-knot.fire.hold=0.4s..1.2s:9";
        Failure::new(format!("`--vary` cannot be `{vary}`: {what}"), help)
    })
}

/// The values of a range, with the one that the profile has.
fn values_of(range: &Range, loaded: &Loaded) -> Result<Vec<RangeValue>, Failure> {
    let present = Draft::new(&loaded.source).present(&range.address)?;
    Ok(range.values(present.as_deref()))
}

/// Plays the hands with every value.
fn played(
    paths: &[PathBuf],
    loaded: &Loaded,
    args: &SweepArgs,
    output: &mut Output,
) -> Result<Swept, Failure> {
    let rate = args.rate.as_deref().map(parse_rate).transpose()?;
    let scheme = args.scheme.as_deref().map(|name| scheme(loaded, name)).transpose()?;
    let range = range_of(args.vary.as_deref().unwrap_or_default())?;
    let values = values_of(&range, loaded)?;
    let hands: Vec<Hands> =
        paths.iter().map(|path| Hands::read(path, loaded)).collect::<Result<_, _>>()?;
    let (mut variants, mut tells, mut refused) = (Vec::new(), Vec::new(), None);
    for value in &values {
        let refusal = match changed(loaded, &[format!("{}={}", range.address, value.text)]) {
            Ok(variant) => {
                variants.push(variant);
                None
            }
            Err(failure) => {
                let why = reason(&failure);
                refused = refused.or(Some(failure));
                Some(why)
            }
        };
        let (text, is_present) = (value.text.clone(), value.is_present);
        tells.push(TriedValue { text, is_present, refusal });
    }
    // With no value that can be tried there is nothing to tell but why.
    if let Some(failure) = refused.filter(|_| variants.is_empty()) {
        return Err(failure);
    }
    let asked = (rate, scheme);
    let playing = hands.iter().map(|one| one.playing(asked)).collect::<Result<Vec<_>, _>>()?;
    let seats = hands.iter().map(|one| one.about.seats.unwrap_or(loaded.plan.seats()));
    let seat = asked_seat(args.seat, seats.max().unwrap_or(loaded.plan.seats()))?;
    let tallies = tried(&variants, (&hands, seat), &playing, output)?;
    Ok(Swept { range, values, tells, tallies, files: paths.len() })
}

/// Adds up what came of parts of the hands.
fn together(paths: &[PathBuf], loaded: &Loaded) -> Result<Swept, Failure> {
    let parts = shards::read(paths, "sweep")?;
    let vary = |part: &shards::Part| part.head.vary.clone().unwrap_or_default();
    let first = parts.first().map(vary).unwrap_or_default();
    if let Some(other) = parts.iter().map(vary).find(|other| *other != first) {
        let message = format!("one part varies {first}, another {other}");
        return Err(Failure::new(message, "put the parts of one whole together"));
    }
    let range = range_of(&first)?;
    let values = values_of(&range, loaded)?;
    let mut added = Added::new(&loaded.plan, &values);
    for part in &parts {
        for told in part.read::<Told>()? {
            added.add(told).map_err(|what| {
                let message = format!("part {} is of another profile: {what}", part.head.shard);
                Failure::new(message, "put together what was played on the profile as it is")
            })?;
        }
    }
    let files = parts.iter().map(|part| part.head.files).sum();
    let (tells, tallies) = added.done();
    Ok(Swept { range, values, tells, tallies, files })
}

fn show(
    counted: &Swept,
    (loaded, args): (&Loaded, &SweepArgs),
    picture: Option<PictureFile<'_>>,
    output: &mut Output,
) -> Result<(), Failure> {
    let Swept { range, values, tells, tallies, files } = counted;
    let only = chosen(&args.only, loaded)?;
    let is_part = args.shard.is_some() && args.format == Format::Json;
    let asked = match (is_part, args.only.is_empty()) {
        (_, false) => Some(only.clone()),
        // Where something differs shows only in the whole.
        (true, true) => Some(active(loaded.plan.actions().len(), tallies)),
        (false, true) => None,
    };
    let swept = swept(&loaded.plan, &range.address, tallies, asked.as_deref());
    match args.format {
        Format::Json => {
            if let Some(shard) = args.shard {
                let head = (*files, args.vary.as_deref());
                output.write(|out| write_shard(out, "sweep", shard, head))?;
            }
            output.write(|out| json(out, &loaded.plan, &range.address, tells, &swept))?;
        }
        Format::Text => {
            let what = match files {
                1 => "1 file".to_owned(),
                many => format!("{many} files"),
            };
            let words = text(&loaded.plan, (&range.address, &what), tells, &swept, output.look);
            output.prose(&words)?;
        }
    }
    let Some(picture) = picture else { return Ok(()) };
    let panels: Vec<Counted> = swept
        .iter()
        .map(|one| Counted {
            name: loaded.plan.names().actions[one.action].clone(),
            counts: values
                .iter()
                .zip(tells)
                .filter(|(_, tell)| tell.refusal.is_none())
                .map(|(value, _)| value)
                .zip(&one.tallies)
                .map(|(value, tally)| Counts {
                    at: value.number,
                    fires: tally.fires,
                    lapses: tally.lapses,
                })
                .collect(),
        })
        .collect();
    let now = values.iter().find(|value| value.is_present).map(|value| value.number);
    picture.save(counts(&range.address, &range.unit, &panels, now), output)
}

/// For each action, whether anything happened to it.
fn active(actions: usize, tallies: &[Vec<Tally>]) -> Vec<bool> {
    let is_active = |action: usize| {
        tallies.iter().any(|all| all.get(action).is_some_and(|one| *one != Tally::default()))
    };
    (0..actions).map(is_active).collect()
}

/// Why a value is refused, in a line.
fn reason(failure: &Failure) -> String {
    match failure {
        Failure::Faults(faults) => {
            faults.list().first().map_or(String::new(), |first| first.message.clone())
        }
        Failure::CheckFailed | Failure::ClosedPipe => String::new(),
    }
}

/// For each variant, how often what happened to each action on all hands.
fn tried(
    variants: &[Loaded],
    (hands, seat): (&[Hands], Option<Seat>),
    playing: &[Playing],
    output: &mut Output,
) -> Result<Vec<Vec<Tally>>, Failure> {
    let runs = (variants.len() * hands.len()) as u64;
    output.begin_runs(runs);
    let (done, told) = (AtomicU64::new(0), Mutex::new(&mut *output));
    let all = variants
        .par_iter()
        .map(|variant| {
            let mut sums = vec![Tally::default(); variant.plan.actions().len()];
            for (one, &playing) in hands.iter().zip(playing) {
                let plan = one.about.plan(variant)?;
                let run = tallied(&plan, (playing, seat), one.inputs.iter().copied());
                expect_whole(run.is_cut)?;
                for (sum, tally) in sums.iter_mut().zip(run.tallies.iter()) {
                    sum.add(tally);
                }
                let done = done.fetch_add(1, Ordering::Relaxed) + 1;
                if let Ok(mut output) = told.lock() {
                    output.advance(done);
                }
            }
            Ok(sums)
        })
        .collect();
    output.end();
    all
}
