//! `sweep`: one number over a range, on many hands.

use super::compare::changed;
use super::hands::Hands;
use super::play::{chosen, parse_rate, scheme};
use crate::args::{Format, SweepArgs};
use crate::draw::counts::{Counted, Counts, counts};
use crate::draw::{Form, save};
use crate::failure::Failure;
use crate::files::{Loaded, load_profile};
use crate::output::Output;
use crate::view::sweep::{Swept, json, text};
use harmonym_core::base::Id;
use harmonym_core::profile::edit::Draft;
use harmonym_core::trace::{Tally, outcome};
use rayon::prelude::*;
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicU64, Ordering};

/// How many values are tried if nothing is said, and at most.
const VALUES: usize = 11;
const MOST_VALUES: usize = 1000;

pub fn run(file: Option<&Path>, args: &SweepArgs, output: &mut Output) -> Result<(), Failure> {
    let form = args.output.as_deref().map(|path| Form::of(path, &[Form::Svg, Form::Png]));
    let form = form.transpose()?;
    let loaded = load_profile(file, output)?;
    let rate = args.rate.as_deref().map(parse_rate).transpose()?;
    let scheme = args.scheme.as_deref().map(|name| scheme(&loaded, name)).transpose()?;
    let only = chosen(&args.only, &loaded)?;
    let range = Range::parse(&args.vary)?;
    let present = Draft::new(&loaded.source).present(&range.address)?;
    let values = range.values(present.as_deref());
    let paths = gathered(&args.inputs)?;
    let hands: Vec<Hands> =
        paths.iter().map(|path| Hands::read(path, &loaded)).collect::<Result<_, _>>()?;
    let variants: Vec<Loaded> = values
        .iter()
        .map(|value| changed(&loaded, &[format!("{}={}", range.address, value.text)]))
        .collect::<Result<_, _>>()?;
    let tallies = tried(&variants, &hands, (rate, scheme), output);
    let names = &loaded.plan.names.actions;
    let mut swept = Vec::new();
    for &action in &loaded.plan.by_file {
        let of = |tallies: &Vec<Tally>| tallies[action.index()].clone();
        let all: Vec<Tally> = tallies.iter().map(of).collect();
        let differs = all.iter().any(|one| *one != all[0]);
        let is_own = range.address.starts_with(&format!("{}.", names[action]))
            || range.address.starts_with(&format!("{}@", names[action]));
        let is_asked = !args.only.is_empty() && only[action.index()];
        if is_asked || (args.only.is_empty() && (differs || is_own)) {
            swept.push(Swept { name: &names[action], tallies: all });
        }
    }
    let texts: Vec<(String, bool)> =
        values.iter().map(|value| (value.text.clone(), value.is_present)).collect();
    match args.format {
        Format::Json => output.write(|out| json(out, &range.address, &texts, &swept))?,
        Format::Text => {
            let what = match paths.len() {
                1 => "1 file".to_owned(),
                many => format!("{many} files"),
            };
            let words = text(&range.address, &what, &texts, &swept, output.look);
            output.write(|out| out.push_str(&words))?;
        }
    }
    let (Some(path), Some(form)) = (&args.output, form) else { return Ok(()) };
    let panels: Vec<Counted> = swept
        .iter()
        .map(|one| Counted {
            name: one.name.to_owned(),
            counts: values
                .iter()
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
    save(path, form, &counts(&range.address, &range.unit, &panels, now))?;
    output.remark(&format!("wrote {}", path.display()))
}

/// Every file, and every score and take of the folders.
fn gathered(inputs: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let mut all = Vec::new();
    for input in inputs {
        if !input.is_dir() {
            all.push(input.clone());
            continue;
        }
        let entries = std::fs::read_dir(input).map_err(|e| Failure::io("read", input, &e))?;
        let mut own: Vec<PathBuf> = entries.filter_map(|entry| Some(entry.ok()?.path())).collect();
        own.retain(|path| {
            let name = path.to_string_lossy();
            name.ends_with(".score") || name.ends_with(".jsonl")
        });
        own.sort();
        if own.is_empty() {
            let message = format!("there are no scores or takes in {}", input.display());
            return Err(Failure::new(message, "they end in .score or .take.jsonl"));
        }
        all.extend(own);
    }
    Ok(all)
}

/// For each variant, how often what happened to each action on all hands.
fn tried(
    variants: &[Loaded],
    hands: &[Hands],
    asked: super::hands::Asked,
    output: &mut Output,
) -> Vec<Vec<Tally>> {
    let runs = (variants.len() * hands.len()) as u64;
    output.begin_runs(runs);
    let (done, told) = (AtomicU64::new(0), Mutex::new(&mut *output));
    let all = variants
        .par_iter()
        .map(|variant| {
            let mut sums = vec![Tally::default(); variant.plan.actions.len()];
            for one in hands {
                let plan = variant.plan_for(one.about.layout);
                let run = outcome(&plan, one.playing(asked), one.inputs.iter().copied());
                for (sum, tally) in sums.iter_mut().zip(run.tallies.iter()) {
                    sum.add(tally);
                }
                let done = done.fetch_add(1, Ordering::Relaxed) + 1;
                if let Ok(mut output) = told.lock() {
                    output.advance(done);
                }
            }
            sums
        })
        .collect();
    output.end();
    all
}

/// A value that is tried.
struct Value {
    text: String,
    number: f64,
    is_present: bool,
}

/// From where to where a number goes: `quay.tie-knot.fire.hold=0.4s..1.2s:9`.
struct Range {
    address: String,
    from: f64,
    to: f64,
    unit: String,
    count: usize,
}

impl Range {
    fn parse(text: &str) -> Result<Self, Failure> {
        let help = "write --vary quay.tie-knot.fire.hold=0.4s..1.2s:9";
        let fault = |what: &str| Failure::new(format!("`--vary` cannot be `{text}`: {what}"), help);
        let (address, range) = text.split_once('=').ok_or_else(|| fault("it has no `=`"))?;
        let (ends, count) = match range.rsplit_once(':') {
            Some((ends, count)) => (ends, count.trim().parse().map_err(|_| fault("how many?"))?),
            None => (range, VALUES),
        };
        let (from, to) = ends.split_once("..").ok_or_else(|| fault("it has no `..`"))?;
        let (from, unit_from) = number(from).ok_or_else(|| fault("it begins with no number"))?;
        let (to, unit) = number(to).ok_or_else(|| fault("it ends with no number"))?;
        if !unit_from.is_empty() && unit_from != unit {
            return Err(fault("its ends have two units"));
        }
        if from >= to {
            return Err(fault("its first number is not the smaller one"));
        }
        if !(2..=MOST_VALUES).contains(&count) {
            return Err(fault(&format!("2 to {MOST_VALUES} values can be tried")));
        }
        Ok(Self { address: address.trim().to_owned(), from, to, unit, count })
    }

    /// The values from one end to the other, and the present one where that lies between them.
    fn values(&self, present: Option<&str>) -> Vec<Value> {
        let now = present.and_then(|text| {
            let (value, unit) = number(text)?;
            // In one unit, or not at all.
            (unit == self.unit).then_some(value)
        });
        let last = (self.count - 1) as f64;
        let mut all: Vec<f64> = (0..self.count)
            .map(|i| self.from + (self.to - self.from) * i as f64 / last)
            .map(|value| (value * 1e9).round() / 1e9)
            .collect();
        let is_now = |value: f64| now.is_some_and(|now| (now - value).abs() < 1e-9);
        if let Some(now) = now.filter(|now| *now > self.from && *now < self.to)
            && !all.iter().any(|value| is_now(*value))
        {
            all.push(now);
            all.sort_by(f64::total_cmp);
        }
        let value = |number: f64| Value {
            text: format!("{number}{}", self.unit),
            number,
            is_present: is_now(number),
        };
        all.into_iter().map(value).collect()
    }
}

/// A number and its unit.
fn number(text: &str) -> Option<(f64, String)> {
    let text = text.trim().trim_matches('"');
    let split =
        text.find(|c: char| c.is_alphabetic() || c == '%' || c == '°').unwrap_or(text.len());
    let value: f64 = text[..split].trim().parse().ok()?;
    value.is_finite().then(|| (value, text[split..].trim().to_owned()))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn texts(range: &str, present: Option<&str>) -> Vec<(String, bool)> {
        let range = Range::parse(range).map_err(|failure| format!("{failure:?}")).unwrap();
        let all = range.values(present).into_iter();
        all.map(|value| (value.text, value.is_present)).collect()
    }

    #[test]
    fn values_go_from_end_to_end_with_the_present_one_among_them() {
        let plain = |all: &[&str]| -> Vec<(String, bool)> {
            all.iter()
                .map(|text| (text.trim_start_matches('*').to_owned(), text.starts_with('*')))
                .collect()
        };
        for (range, present, wanted) in [
            ("a.b=0..1:3", None, &["0", "0.5", "1"][..]),
            ("a.b=0.4s..0.8s:3", Some("0.6s"), &["0.4s", "*0.6s", "0.8s"]),
            ("a.b=0.4s..0.8s:2", Some("\"0.5s\""), &["0.4s", "*0.5s", "0.8s"]),
            // Not in between, or in another unit: left out.
            ("a.b=1..2:2", Some("3"), &["1", "2"]),
            ("a.b=1s..2s:2", Some("1500ms"), &["1s", "2s"]),
            ("a.b=-1..1:3", Some("0"), &["-1", "*0", "1"]),
            ("a.b=0%..10%:2", Some("10%"), &["0%", "*10%"]),
            ("a.b=0.1..0.3:3", None, &["0.1", "0.2", "0.3"]),
        ] {
            assert_eq!(texts(range, present), plain(wanted), "{range}");
        }
        assert_eq!(texts("a.b=0..10", None).len(), VALUES);
    }

    #[test]
    fn the_unit_may_be_said_once() {
        assert_eq!(texts("a.b=0.4..0.8s:2", None)[0].0, "0.4s");
        assert!(Range::parse("a.b=0.4s..0.8ms:2").is_err());
    }
}
