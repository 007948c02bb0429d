//! `why`: what an action did on some hands, and every station at one moment.

use super::hands::{Hands, asked_seat, expect_short, expect_whole, gathered};
use super::play::{parse_rate, scheme};
use super::show::{Found, find};
use super::time;
use crate::args::{Format, WhyArgs};
use crate::commands::load_as;
use crate::escape::named;
use crate::failure::Failure;
use crate::output::Output;
use crate::output::style::{Ink, wrapped};
use crate::view::of_seat;
use crate::view::why::{Station, Words, json, stations, told};
use harmonym_lab::explain::{Story, seat_of, why};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_runtime::base::{BindingId, Id, Seat};
use std::path::Path;

pub fn run(file: Option<&Path>, args: &WhyArgs, output: &mut Output) -> Result<(), Failure> {
    output.page();
    let loaded = load_as(file, &args.player, output)?;
    let Found::Action(id) = find(&loaded.profile, &args.action)? else {
        let help = "name an action: quay.tie-knot";
        return Err(Failure::new(format!("`{}` is a map", args.action), help));
    };
    let at = args.at.as_deref().map(|text| time("--at", text)).transpose()?;
    let rate = args.rate.as_deref().map(parse_rate).transpose()?;
    let scheme = args.scheme.as_deref().map(|name| scheme(&loaded, name)).transpose()?;
    let paths = gathered(&args.inputs)?;
    if at.is_some() && paths.len() > 1 {
        let message = format!("`--at` looks at one file, and there are {}", paths.len());
        return Err(Failure::new(message, "name one score or take"));
    }
    let mut untouched = 0;
    for (place, path) in paths.iter().enumerate() {
        let hands = Hands::read(path, &loaded)?;
        let plan = hands.about.plan(&loaded)?;
        let action = id.in_plan(&plan);
        let playing = hands.playing((rate, scheme))?;
        expect_short(playing.rate, at.unwrap_or_default())?;
        let seats = playing.seats.unwrap_or(plan.seats());
        let seat = match asked_seat(args.seat, seats)? {
            Some(seat) => seat,
            None => seat_of(&plan, playing, &hands.inputs, action),
        };
        let story = why(&plan, playing, hands.inputs, (seat, action), at);
        expect_whole(story.is_cut)?;
        let words = Words { plan: &plan, action };
        let seat = Some(seat).filter(|_| seats > 1);
        let of = (paths.len() > 1).then_some(path.as_path());
        let rows = rows(&loaded.profile, id, words, &story);
        match args.format {
            Format::Json => {
                output.write(|out| json(out, (words, seat), &story, &rows, of, place == 0))?;
            }
            Format::Text if of.is_some() && story.is_silent() => untouched += 1,
            Format::Text => {
                if let Some(path) = of {
                    let gap = if place == untouched { "" } else { "\n" };
                    output.line(&format!("{gap}{}", named(path)))?;
                }
                text((words, seat), &story, &rows, output)?;
            }
        }
    }
    let text = match untouched {
        0 => return Ok(()),
        all if all == paths.len() => {
            "None of its controls was pressed in any of the files.".to_owned()
        }
        1 => "\nNone of its controls was pressed in the other file.".to_owned(),
        many => format!("\nNone of its controls was pressed in the {many} other files."),
    };
    match args.format {
        Format::Text => output.line(&text),
        Format::Json => Ok(()),
    }
}

fn rows(profile: &Profile, id: ActionId, words: Words<'_>, story: &Story) -> Vec<Station> {
    let Some(moment) = &story.moment else { return Vec::new() };
    let bindings = &profile.actions[id].bindings;
    let first = words.plan.actions()[words.action].bindings.first().map_or(0, Id::index);
    let written = |id: BindingId| bindings[id.index() - first].text.clone();
    stations(words, &moment.stations, written)
}

fn text(
    (words, seat): (Words<'_>, Option<Seat>),
    story: &Story,
    rows: &[Station],
    output: &mut Output,
) -> Result<(), Failure> {
    let look = output.look;
    let Some(moment) = &story.moment else {
        return output.write(|out| out.push_str(&told(words, seat, story, look)));
    };
    let name = of_seat(seat, &words.plan.names().actions[words.action]);
    let name = look.paint(Ink::Strong, name);
    output.line(&format!("{name} at {:.4} s", moment.t))?;
    rows.iter().try_for_each(|row| output.write(|out| out.push_str(&row.text(look))))?;
    let sentence = wrapped(&words.moment(story, moment), look.width);
    output.line(&format!("\n{sentence}"))
}
