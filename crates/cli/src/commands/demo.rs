//! `demo`: Lantern Quay from start to end, with nothing set up.

use super::play::{Options, play_score};
use super::render::read_score;
use crate::failure::Failure;
use crate::files::{self, Loaded, write_new};
use crate::output::Output;
use crate::view::profile;
use crate::view::style::Ink;
use harmonym_core::source::Source;
use std::fs;
use std::path::Path;

const PROFILE: &str = include_str!("../../../../demo/harmonym.toml");

/// The scores: name, text, what to look at.
const SCORES: &[(&str, &str, &str)] = &[
    (
        "straight-diagonal.score",
        include_str!("../../../../demo/scores/straight-diagonal.score"),
        "Two keys give a diagonal of length 1; two opposite keys give 0, and the action rests.",
    ),
    (
        "drifting-stick.score",
        include_str!("../../../../demo/scores/drifting-stick.score"),
        "The drift at 0.1 s wakes nothing; the push does, at full length.",
    ),
    (
        "tie-a-knot.score",
        include_str!("../../../../demo/scores/tie-a-knot.score"),
        "0.8 s of holding tie the knot; 0.75 s do not, and the lapse says so. On the last one the\n\
         key is let go at the very instant: that counts.",
    ),
    (
        "quick-press.score",
        include_str!("../../../../demo/scores/quick-press.score"),
        "5 ms between two frames fire all the same, seen at the next tick.",
    ),
];

pub fn run(keep: Option<&Path>, output: &mut Output) -> Result<(), Failure> {
    let loaded = files::load(Source::new("demo/harmonym.toml", PROFILE))?;
    heading(output, "1. The profile at a glance", "harmonym show")?;
    let text = profile::glance(&loaded.profile, output.look);
    output.write(|out| out.push_str(&text))?;
    heading(output, "2. Its faults", "harmonym check")?;
    let counts = profile::counts(&loaded.profile);
    output.line(&format!("{}: no faults ({counts})", loaded.source.name()))?;
    for (number, (name, text, look_at)) in SCORES.iter().enumerate() {
        let title = format!("{}. Hands become actions", number + 3);
        heading(output, &title, &format!("harmonym play scores/{name}"))?;
        output.line(look_at)?;
        output.line("")?;
        play(name, text, &loaded, output)?;
    }
    heading(output, &format!("{}. Now you", SCORES.len() + 3), "")?;
    match keep {
        Some(dir) => {
            write_files(dir)?;
            let dir = dir.display();
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
        ("harmonym play scores/tie-a-knot.score --rate 20", "the same hands at 20 ticks a second"),
        ("harmonym controls left stick", "find a control by any word"),
        ("harmonym new my-game", "begin a profile of your own"),
    ] {
        output.line(&format!("  {command:50} {does}"))?;
    }
    Ok(())
}

fn heading(output: &mut Output, title: &str, command: &str) -> Result<(), Failure> {
    let (title, command) =
        (output.look.paint(Ink::Head, title), output.look.paint(Ink::Faint, command));
    let first = title.contains("1. The");
    output.line(&format!("{}{title}   {command}\n", if first { "" } else { "\n" }))
}

fn play(name: &str, text: &str, loaded: &Loaded, output: &mut Output) -> Result<(), Failure> {
    let (_, score) = read_score(Source::new(name, text), &loaded.plan)?;
    play_score(&score, loaded, &Options::plain(&loaded.plan), output)
}

fn write_files(dir: &Path) -> Result<(), Failure> {
    let scores = dir.join("scores");
    fs::create_dir_all(&scores).map_err(|error| Failure::io("make the folder", &scores, &error))?;
    write_new(&dir.join(files::PROFILE), PROFILE)?;
    SCORES.iter().try_for_each(|(name, text, _)| write_new(&scores.join(name), text))
}
