//! `new`: a profile to begin with, and its scores.

use super::demo;
use crate::args::Starter;
use crate::escape::{named, quoted};
use crate::failure::Failure;
use crate::files::{PROFILE, load, write_all_new};
use crate::output::Output;
use clap::ValueEnum;
use harmonym_lab::edit::{Draft, Thing};
use harmonym_lang::report::{did_you_mean, nearest};
use harmonym_lang::source::Source;
use std::path::Path;

/// A starter's profile, and its scores by name.
struct Files {
    profile: &'static str,
    scores: Vec<(&'static str, &'static str)>,
}

/// A starter of one map with one score.
macro_rules! files {
    ($name:literal, $score:literal) => {
        Files {
            profile: include_str!(concat!("../starter/", $name, ".toml")),
            scores: vec![($score, include_str!(concat!("../starter/", $name, ".score")))],
        }
    };
}

fn files(starter: Starter) -> Files {
    match starter {
        Starter::Empty => {
            Files { profile: include_str!("../starter/empty.toml"), scores: Vec::new() }
        }
        Starter::Blank => files!("blank", "first-steps.score"),
        Starter::Quay => Files { profile: demo::PROFILE, scores: demo::SCORES.to_vec() },
        Starter::Menu => files!("menu", "through-the-menu.score"),
        Starter::Stair => files!("stair", "up-the-stair.score"),
        Starter::Geese => files!("geese", "geese-on-the-mole.score"),
        Starter::Diver => files!("diver", "under-the-hull.score"),
        Starter::Sled => files!("sled", "the-ice-sled.score"),
    }
}

pub fn run(dir: &Path, starter: Starter, output: &mut Output) -> Result<(), Failure> {
    let Files { profile, scores } = files(starter);
    let folder = dir.join("scores");
    let mut paths = vec![(dir.join(PROFILE), profile)];
    paths.extend(scores.iter().map(|(name, text)| (folder.join(name), *text)));
    if starter == Starter::Quay {
        let players = demo::PLAYERS.iter();
        paths.extend(players.map(|(name, text)| (dir.join("players").join(name), *text)));
    }
    write_all_new(&paths)?;
    let cd = match dir == Path::new(".") {
        true => String::new(),
        false => format!("cd {} && ", quoted(&dir.display().to_string())),
    };
    let wrote = match scores.as_slice() {
        [] => {
            output.line(&format!("wrote {}", named(&paths[0].0)))?;
            return output.remark(&format!("next: {cd}harmonym add map quay"));
        }
        [(name, _)] => named(&folder.join(name)),
        several => format!("{} scores in {}", several.len(), named(&folder)),
    };
    output.line(&format!("wrote {} and {wrote}", named(&paths[0].0)))?;
    let first = scores.first().map_or("", |(name, _)| name);
    output.remark(&format!("next: {cd}harmonym play scores/{first}"))
}

/// The sections of a starter's map under the name `name`, for a profile with the schemes of
/// `draft`.
pub fn map_of(starter: &str, name: &str, draft: &Draft) -> Result<String, Failure> {
    let Ok(known) = Starter::from_str(starter, false) else {
        let all = Starter::value_variants().iter().filter_map(ValueEnum::to_possible_value);
        let names: Vec<String> = all.map(|value| value.get_name().to_owned()).collect();
        let help = did_you_mean(nearest(starter, names.iter().map(String::as_str)), || {
            format!("the starters are {}", names.join(", "))
        });
        return Err(Failure::new(format!("there is no starter `{starter}`"), help));
    };
    let loaded = load(Source::new("the starter", files(known).profile))?;
    let mut own = Draft::new(&loaded.source);
    let [map] = own.raw().maps.as_slice() else {
        let help = "begin a profile with it: harmonym new DIR --starter quay";
        return Err(Failure::new(format!("`{starter}` is a whole game of several maps"), help));
    };
    let map = Thing::Map(map.name.text.clone());
    let map = match map.name() == name {
        true => map,
        false => own.rename(&map.address(), name)?.1,
    };
    let schemes: Vec<Thing> =
        own.raw().schemes.iter().map(|s| Thing::Scheme(s.name.text.clone())).collect();
    for scheme in schemes.iter().filter(|scheme| !draft.has(scheme)) {
        own.remove(&scheme.address(), true)?;
    }
    let numbers = own.raw().variables.iter().map(|named| match named.is_setting {
        true => Thing::Setting(named.name.text.clone()),
        false => Thing::Fact(named.name.text.clone()),
    });
    for number in numbers.filter(|number| !draft.has(number)).collect::<Vec<_>>() {
        own.remove(&number.address(), true)?;
    }
    if draft.raw().maps.iter().any(|map| map.start.is_some_and(|(yes, _)| yes)) {
        own.remove(&format!("{}.start", map.address()), false)?;
    }
    Ok(own.sections_of(&map))
}
