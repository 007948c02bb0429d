//! `demo`: Lantern Quay from start to end, with nothing set up.

use super::hands::{About, Hands};
use super::play::{Options, play_score};
use super::test::{tell, try_source};
use super::{check, compare};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::{self, write_all_new};
use crate::output::Output;
use crate::output::style::{Ink, hung};
use crate::view::action;
use crate::view::why::{Words, told};
use harmonym_lab::check::Review;
use harmonym_lab::explain::why;
use harmonym_lab::score;
use harmonym_lab::trace::Lanes;
use harmonym_lang::source::Source;
use harmonym_runtime::base::{ActionId, Id, Seat};
use std::path::Path;

pub const PROFILE: &str = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/harmonym.toml"));

/// A score by its name, with its text.
macro_rules! score {
    ($name:literal) => {
        (
            concat!($name, ".score"),
            include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/scores/", $name, ".score")),
        )
    };
}

/// The scores: name and text.
pub const SCORES: &[(&str, &str)] = &[
    score!("straight-diagonal"),
    score!("drifting-stick"),
    score!("cast-a-line"),
    score!("tie-a-knot"),
    score!("tap-or-double-tap"),
    score!("quick-press"),
    score!("slow-trigger"),
    score!("board-the-tug"),
    score!("open-the-log"),
    score!("signal-in-time"),
    score!("signal-out-of-order"),
    score!("ring-the-bell"),
    score!("on-the-slate"),
    score!("mouse-and-stick"),
    score!("steer-the-tug"),
    score!("swing-the-load"),
    score!("any-frame-rate"),
    score!("two-seats"),
    score!("unplugged-pad"),
    score!("left-handed"),
];

/// A player's file: name and text.
pub const PLAYERS: &[(&str, &str)] = &[(
    "left-handed.toml",
    include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/players/left-handed.toml")),
)];

/// The scores that are played, and what to look at.
const PLAYED: &[(&str, &str)] = &[
    (
        "straight-diagonal.score",
        "Two keys give a diagonal of length 1; two opposite keys give 0, and the action rests.",
    ),
    (
        "tie-a-knot.score",
        "0.8 s of holding tie the knot; 0.75 s do not, and the lapse says so. On the last one the\n\
         key is let go at the very instant: that counts.",
    ),
    (
        "ring-the-bell.score",
        "Control and T ring the bell. Meanwhile T ties no knot, even when Control is let go first.",
    ),
    ("quick-press.score", "5 ms between two frames fire all the same, seen at the next tick."),
];

pub fn run(keep: Option<&Path>, output: &mut Output) -> Result<(), Failure> {
    output.page();
    let mut loaded = files::load(Source::new("demo/harmonym.toml", PROFILE))?;
    loaded.built_in = PLAYERS;
    heading(output, "1. An action, from hands to events", "harmonym show tie-knot")?;
    if let Some(&knot) = loaded.profile.find_actions("quay.tie-knot").first() {
        output
            .prose(&hung(&action::text(&loaded.profile, knot, output.look), output.look.width))?;
    }
    heading(output, "2. What the checker finds", "harmonym check")?;
    let scores = SCORES.iter().map(|(name, _)| source(name)).collect();
    let review = Review::new(loaded.source.clone(), &loaded.profile, &loaded.plan, scores);
    output.line(&check::summary(&loaded, &review))?;
    for (number, (name, look_at)) in PLAYED.iter().enumerate() {
        let title = format!("{}. Hands become actions", number + 3);
        // The knots are drawn in time, the others are told event by event.
        let lanes = name.starts_with("tie");
        let drawn = if lanes { " --lanes" } else { "" };
        heading(output, &title, &format!("harmonym play scores/{name}{drawn}"))?;
        output.line(look_at)?;
        output.line("")?;
        let score = score::read(&source(name), &loaded.plan)?;
        play_score(
            &score,
            (Path::new(name), &loaded),
            &Options::plain(&loaded.plan, lanes),
            output,
        )?;
    }
    let with = "tie-knot.fire.hold=0.7s";
    let command = format!("harmonym compare scores/tie-a-knot.score --set {with}");
    heading(output, &format!("{}. Two hold times", PLAYED.len() + 3), &command)?;
    let theirs = compare::changed(&loaded, &[with.to_owned()])?;
    let score = score::read(&source("tie-a-knot.score"), &loaded.plan)?;
    let (ours, theirs) = (&loaded.plan, &theirs.plan);
    let runs = (&Lanes::of(ours, &score), &Lanes::of(theirs, &score));
    compare::tell(
        (runs.0, ours),
        (runs.1, theirs),
        (harmonym_lab::compare::TOLERANCE, compare::NAMES, None),
        output,
    )?;
    let title = format!("{}. Why nothing came of it", PLAYED.len() + 4);
    heading(output, &title, "harmonym why tie-knot scores/ring-the-bell.score")?;
    let score = score::read(&source("ring-the-bell.score"), &loaded.plan)?;
    let hands =
        Hands { about: About::of(&score, Path::new("")), inputs: score.perform().collect() };
    let knot = loaded.plan.find_action("quay.tie-knot").unwrap_or(ActionId::new(0));
    let playing = hands.playing((None, None))?;
    let story = why(&loaded.plan, playing, hands.inputs, (Seat::FIRST, knot), None);
    let text = told(Words { plan: &loaded.plan, action: knot }, None, &story, output.look);
    output.prose(&text)?;
    heading(output, &format!("{}. Its tests", PLAYED.len() + 5), "harmonym test")?;
    let mut tried = Vec::new();
    for (name, _) in SCORES {
        tried.push(try_source(&loaded, Path::new(name), source(name))?);
    }
    tell(&loaded, &tried, 0, output)?;
    heading(output, &format!("{}. Now you", PLAYED.len() + 6), "")?;
    match keep {
        Some(dir) => {
            write_files(dir)?;
            let dir = named(dir);
            output.line(&format!(
                "The demo's files are in {dir}. Change something and play it again:"
            ))?;
            output.line(&format!("  cd {dir}"))?;
        }
        None => output.line("`harmonym demo --keep DIR` leaves these files in a folder. There:")?,
    }
    for (command, does) in [
        ("harmonym show quay.walk", "one action's whole way, from controls to events"),
        ("harmonym test", "every score, against what it expects"),
        (
            "harmonym play scores/steer-the-tug.score --rates 20,60",
            "what depends on the frame rate",
        ),
        ("harmonym plot scores/cast-a-line.score -o a.html", "a run in time, to look around in"),
        ("harmonym live", "try it with your own hands: F1 hands the keys to the view"),
        ("harmonym page", "the same in a browser, with any gamepad"),
        ("harmonym live --from demo", "or look on while its scores are played"),
        ("harmonym play scores/two-seats.score", "two players, each with devices of their own"),
        (
            "harmonym player bind hail key.KeyH=key.KeyG",
            "a player changes a key, in a file of its own",
        ),
        ("harmonym sheet -o sheet.html", "all controls on one page to print"),
        ("harmonym curve quay.walk@pad#1", "what the stick's steps make of it"),
        ("harmonym set quay.tie-knot.fire.hold 0.6s", "change a number; then test again"),
        ("harmonym check --explain raw-stick", "what a rule of the checker means"),
        ("harmonym controls left stick", "find a control by any word"),
        ("harmonym new my-game", "begin a profile of your own"),
    ] {
        match output.look.width {
            100.. => output.line(&format!("  {command:50} {does}"))?,
            _ => output.line(&format!("  {command}\n      {does}"))?,
        }
    }
    Ok(())
}

fn heading(output: &mut Output, title: &str, command: &str) -> Result<(), Failure> {
    let (title, command) =
        (output.look.paint(Ink::Head, title), output.look.paint(Ink::Faint, command));
    let first = title.contains("1. The");
    output.line(&format!("{}{title}   {command}\n", if first { "" } else { "\n" }))
}

/// A score's text.
fn source(name: &str) -> Source {
    let found = SCORES.iter().find(|(known, _)| *known == name);
    Source::new(name, found.map_or("", |(_, text)| text))
}

fn write_files(dir: &Path) -> Result<(), Failure> {
    let mut files = vec![(dir.join(files::PROFILE), PROFILE)];
    files.extend(SCORES.iter().map(|(name, text)| (dir.join("scores").join(name), *text)));
    files.extend(PLAYERS.iter().map(|(name, text)| (dir.join("players").join(name), *text)));
    write_all_new(&files)
}
