//! `test`: every score's expectations.

use super::hands::{About, Hands, HandsFile};
use super::shards;
use super::watch::watch;
use crate::args::{TestArgs, TestFormat};
use crate::commands::load_as;
use crate::escape::{named, quoted};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::files::around::{Around, expect_file};
use crate::output::Output;
use crate::output::style::{Ink, Look, hung};
use crate::view::diagnostics::{self, write_expectation};
use crate::view::lanes::{self, Style};
use crate::view::tests::{self, Faulty, Row, Tried, rows, write_shard};
use crate::view::{coverage, junit, why};
use harmonym_lab::explain;
use harmonym_lab::score::{self, Outcome, try_score};
use harmonym_lab::survey::Coverage;
use harmonym_lab::trace::Lanes;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{ActionId, Seat, Time};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::time::{Instant, SystemTime};

pub fn run(file: Option<&Path>, args: &TestArgs, output: &mut Output) -> Result<(), Failure> {
    if args.merge {
        return merge(args, output);
    }
    match args.watch {
        true => watch(file, output, |output| once(file, args, output)),
        false => once(file, args, output),
    }
}

fn once(file: Option<&Path>, args: &TestArgs, output: &mut Output) -> Result<(), Failure> {
    let began = SystemTime::now();
    let loaded = load_as(file, &args.player, output)?;
    let (mut tried, mut faulty) = (Vec::new(), Vec::new());
    let all = scores(&loaded, &args.paths)?;
    let own = args.shard.map_or(&all[..], |shard| shard.part(&all));
    for path in own.iter().cloned() {
        // A pipe is taken that was named, not one that lies among scores.
        let is_named = args.paths.contains(&path);
        let file = if is_named { Ok(()) } else { expect_file(&path) };
        match file.and_then(|()| try_one(&loaded, &path)) {
            Ok(one) => tried.push(one),
            Err(Failure::Faults(faults)) => faulty.push(Faulty { path, faults }),
            Err(failure) => return Err(failure),
        }
    }
    match args.format {
        TestFormat::Text => tell(&loaded, &tried, faulty.len(), output)?,
        TestFormat::Json => {
            if let Some(shard) = args.shard {
                output.write(|out| write_shard(out, "test", shard, (own.len(), None)))?;
            }
            output.write(|out| tests::write_json(out, &rows(&tried, &faulty)))?;
            if args.shard.is_some() {
                let told = told_rows(&loaded, &tried, &faulty)?;
                output.write(|out| tests::write_json(out, &told))?;
            }
        }
        TestFormat::Junit => {
            let profile = loaded.source.name();
            output.write(|out| junit::write(out, (&tried, &faulty), profile, began))?;
        }
        TestFormat::Tap => output.write(|out| tests::write_tap(out, &rows(&tried, &faulty)))?,
    }
    if args.coverage {
        tell_coverage(&loaded, &tried, output)?;
    }
    if !faulty.is_empty() {
        output.flush()?;
        let count = faulty.len();
        for one in faulty {
            output.error(|out, look| diagnostics::write_failure(out, &one.faults.into(), look));
        }
        return Err(faulty_scores(count));
    }
    let fell_short = tried.iter().flat_map(|one| &one.outcomes).any(|outcome| !outcome.pass);
    if fell_short { Err(Failure::CheckFailed) } else { Ok(()) }
}

fn try_one(loaded: &Loaded, path: &Path) -> Result<Tried, Failure> {
    let hands = HandsFile::open(path)?;
    if hands.is_take {
        let message = format!("{} is a take: it expects nothing", path.display());
        return Err(Failure::new(message, "name a score, or `harmonym play` the take"));
    }
    try_source(loaded, path, hands.into_source()?)
}

/// Runs a score that was read, against what it expects.
pub fn try_source(loaded: &Loaded, path: &Path, source: Source) -> Result<Tried, Failure> {
    let score = score::read(&source, &loaded.plan)?;
    let began = Instant::now();
    let plan = About::of(&score, path).plan(loaded)?;
    let outcomes = try_score(&plan, &score, None);
    let took = began.elapsed();
    let mut tried = Tried { path: path.to_owned(), source, score, outcomes, took };
    give_reasons(loaded, &mut tried)?;
    Ok(tried)
}

/// So many actions of a score are asked why nothing came of them.
const MOST_REASONS: usize = 16;

/// Where nothing happened that was expected, why not.
fn give_reasons(loaded: &Loaded, tried: &mut Tried) -> Result<(), Failure> {
    let is_silent = |outcome: &Outcome| !outcome.pass && outcome.is_silent;
    // One story tells of all that was expected of an action.
    let mut reasons: HashMap<(Seat, ActionId), Option<String>> = HashMap::new();
    for (index, expectation) in tried.score.expectations.iter().enumerate() {
        let action = expectation.what.action();
        let Some(outcome) = tried.outcomes.get_mut(index).filter(|outcome| is_silent(outcome))
        else {
            continue;
        };
        let Some(action) = action else { continue };
        let seat = expectation.seat.unwrap_or(Seat::FIRST);
        if let Some(known) = reasons.get(&(seat, action)) {
            outcome.got = with_reason(&outcome.got, known.as_deref());
            continue;
        }
        if reasons.len() == MOST_REASONS {
            continue;
        }
        let hands = Hands {
            about: About::of(&tried.score, &tried.path),
            inputs: tried.score.perform().collect(),
        };
        let plan = hands.about.plan(loaded)?;
        let playing = hands.playing((None, None))?;
        let story = explain::why(&plan, playing, hands.inputs, (seat, action), None);
        let reason = why::reason(why::Words { plan: &plan, action }, &story);
        outcome.got = with_reason(&outcome.got, reason.as_deref());
        reasons.insert((seat, action), reason);
    }
    Ok(())
}

fn with_reason(got: &str, reason: Option<&str>) -> String {
    reason.map_or_else(|| got.to_owned(), |reason| format!("{got}: {reason}"))
}

/// What no score has tried.
fn tell_coverage(loaded: &Loaded, tried: &[Tried], output: &mut Output) -> Result<(), Failure> {
    let mut coverage = Coverage::new(&loaded.plan);
    for one in tried {
        let hands = Hands {
            about: About::of(&one.score, &one.path),
            inputs: one.score.perform().collect(),
        };
        let playing = hands.playing((None, None))?;
        coverage.add(&hands.about.plan(loaded)?, playing, hands.inputs);
    }
    let text = coverage::text(&loaded.profile, &loaded.plan, &coverage, output.look);
    output.prose(&text)
}

/// The scores that are meant: those named, those in folders named and below, or those of the
/// profile.
fn scores(loaded: &Loaded, paths: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let profile = Path::new(loaded.source.name());
    let of = |around: Around, top: &Path| {
        if let Some((folder, why)) = around.left.first() {
            let message = format!("cannot look through {}: {why}", folder.display());
            return Err(Failure::new(message, "name the scores"));
        }
        if around.scores.is_empty() {
            let message = format!("there is no score in {}", top.display());
            return Err(Failure::new(message, "a score's name ends in .score"));
        }
        Ok(around.scores)
    };
    if paths.is_empty() {
        let beside = profile.parent().unwrap_or(Path::new("")).join("scores");
        return of(Around::tried(profile), &beside);
    }
    let mut scores = Vec::new();
    for path in paths {
        match path.is_dir() {
            true => scores.extend(of(Around::below(path), path)?),
            false => scores.push(path.clone()),
        }
    }
    Ok(scores)
}

/// A line for each score, and what came in place of what was expected.
pub fn tell(
    loaded: &Loaded,
    tried: &[Tried],
    faulty: usize,
    output: &mut Output,
) -> Result<(), Failure> {
    let (mut met, mut failed) = (0, 0);
    for one in tried {
        let bad = one.outcomes.iter().filter(|outcome| !outcome.pass).count();
        (met, failed) = (met + one.outcomes.len() - bad, failed + bad);
        let text = told_of(loaded, one, output.look)?;
        output.write(|out| out.push_str(&text))?;
    }
    output.line(&summary(tried.len(), (met, failed, faulty)))
}

/// What is told of one score: how much was met, and each expectation that was not.
fn told_of(loaded: &Loaded, one: &Tried, look: Look) -> Result<String, Failure> {
    let bad = one.outcomes.iter().filter(|outcome| !outcome.pass).count();
    let good = one.outcomes.len() - bad;
    let name = named(&one.path);
    let line = match (bad, good) {
        (0, 0) => format!("– {name}: expects nothing"),
        (0, _) => format!("● {name}: {good} of {good} met"),
        _ => look.paint(Ink::Strong, format!("× {name}: {good} of {} met", good + bad)),
    };
    let mut text = format!("{}\n", hung(&line, look.width));
    if bad > 0 {
        tell_failed(loaded, one, look, &mut text)?;
    }
    Ok(text)
}

/// The same of all scores, as whoever puts the parts of a whole together tells it.
fn told_rows(loaded: &Loaded, tried: &[Tried], faulty: &[Faulty]) -> Result<Vec<Row>, Failure> {
    let mut rows = Vec::new();
    for one in tried {
        rows.push(Row::Told { told: told_of(loaded, one, Look::PLAIN)?, faulty: false });
    }
    for one in faulty {
        let mut told = String::new();
        diagnostics::write_failure(&mut told, &one.faults.clone().into(), Look::PLAIN);
        rows.push(Row::Told { told, faulty: true });
    }
    Ok(rows)
}

/// How many scores were run, and what came of them.
fn summary(scores: usize, (met, failed, faulty): (usize, usize, usize)) -> String {
    let many = if scores == 1 { "" } else { "s" };
    let faulty = if faulty > 0 { format!(", {faulty} faulty") } else { String::new() };
    format!("{scores} score{many}, {met} met, {failed} failed{faulty}")
}

/// Puts the results of shards together.
fn merge(args: &TestArgs, output: &mut Output) -> Result<(), Failure> {
    let parts = shards::read(&args.paths, "test")?;
    let files: usize = parts.iter().map(|part| part.head.files).sum();
    let all = parts.iter().map(shards::Part::read::<Row>).collect::<Result<Vec<_>, _>>()?;
    let is_told = |row: &Row| matches!(row, Row::Told { .. });
    let (told, all): (Vec<Row>, Vec<Row>) = tests::together(all).into_iter().partition(is_told);
    let (met, failed, faulty) = tests::counts(&all);
    match args.format {
        TestFormat::Json => output.write(|out| tests::write_json(out, &all))?,
        TestFormat::Tap => output.write(|out| tests::write_tap(out, &all))?,
        TestFormat::Junit => {
            let message = "JUnit is written where scores are run: it tells how long each took";
            let help = "write it for each shard; what reads JUnit takes several files";
            return Err(Failure::new(message, help));
        }
        TestFormat::Text => {
            let of = |is: bool| {
                told.iter().filter_map(move |row| match row {
                    Row::Told { told, faulty } if *faulty == is => Some(told.as_str()),
                    _ => None,
                })
            };
            of(false).try_for_each(|text| output.write(|out| out.push_str(text)))?;
            output.line(&summary(files - faulty, (met, failed, faulty)))?;
            output.flush()?;
            of(true).for_each(|text| output.error(|out, _| out.push_str(text)));
        }
    }
    match (faulty, failed) {
        (0, 0) => Ok(()),
        (0, _) => Err(Failure::CheckFailed),
        _ => Err(faulty_scores(faulty)),
    }
}

/// That so many scores could not be run.
fn faulty_scores(count: usize) -> Failure {
    let what = match count {
        1 => "1 score is faulty".to_owned(),
        many => format!("{many} scores are faulty"),
    };
    Failure::new(what, "mend what is told above; the others were run")
}

/// Every expectation of a score that failed, then what the actions did that they are about.
fn tell_failed(loaded: &Loaded, one: &Tried, look: Look, out: &mut String) -> Result<(), Failure> {
    let plan = About::of(&one.score, &one.path).plan(loaded)?;
    let run = Lanes::of(&plan, &one.score);
    let mut expected: Vec<(Seat, ActionId, Vec<Time>)> = Vec::new();
    let mut places: HashMap<(Seat, ActionId), usize> = HashMap::new();
    for (expectation, outcome) in one.score.expectations.iter().zip(&one.outcomes) {
        if outcome.pass {
            continue;
        }
        let action = expectation.what.action();
        let ask = action.filter(|_| outcome.is_silent).map(|action| {
            let path = quoted(&one.path.to_string_lossy());
            format!("harmonym why {} {path}", plan.names().actions[action])
        });
        let got = (outcome.got.as_str(), ask.as_deref());
        write_expectation(out, &one.source, expectation.span, got, look);
        let Some(action) = action else { continue };
        let moment = expectation.what.moment().or(expectation.what.at());
        let seats = Seat::first(run.seats);
        for seat in seats.filter(|seat| expectation.seat.is_none_or(|one| one == *seat)) {
            let place = *places.entry((seat, action)).or_insert_with(|| {
                expected.push((seat, action, Vec::new()));
                expected.len() - 1
            });
            expected[place].2.extend(moment);
        }
    }
    // What the actions did all along, and when something else was expected of them.
    let is_expected = |seat, id| places.contains_key(&(seat, id));
    if !expected.is_empty() {
        let style = Style { ascii: false, width: look.width, look };
        let text = lanes::draw(&run, &plan, style, (true, &expected), is_expected);
        out.push_str(&format!("{text}\n"));
    }
    Ok(())
}
