//! `plot`: a run drawn in time.

use super::hands::{Hands, asked_seat};
use super::play::chosen;
use super::save::PictureFile;
use super::time;
use crate::args::PlotArgs;
use crate::commands::load_as;
use crate::draw::time::{Picture, Shown};
use crate::draw::{Form, page};
use crate::failure::Failure;
use crate::output::Output;
use harmonym_runtime::base::Time;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &PlotArgs, output: &mut Output) -> Result<(), Failure> {
    let forms = [Form::Svg, Form::Png, Form::Html];
    let saved = PictureFile::named((&args.output, args.force), &forms, file, &[&args.hands.input])?;
    let loaded = load_as(file, &args.hands.player, output)?;
    let asked = args.hands.asked(&loaded)?;
    let from = args.from.as_deref().map(|text| time("--from", text)).transpose()?;
    let to = args.to.as_deref().map(|text| time("--to", text)).transpose()?;
    let only = if args.only.is_empty() { None } else { Some(chosen(&args.only, &loaded)?) };
    let hands = Hands::read(&args.hands.input, &loaded)?;
    let title = hands.about.shown_title().into_owned();
    let playing = hands.playing(asked)?;
    let (lanes, plan) = hands.lanes(&loaded, playing)?;
    let (from, to) = (from.unwrap_or(Time::ZERO), to.unwrap_or(lanes.end));
    if from >= to && to > Time::ZERO {
        let message = format!("there is nothing from {from:.4} s to {to:.4} s");
        let help = format!("the run goes from 0 to {:.4} s", lanes.end);
        return Err(Failure::new(message, help));
    }
    let seat = asked_seat(args.hands.seat, lanes.seats)?;
    let runs = [Shown { lanes: &lanes, plan: &plan }];
    let only = only.as_deref();
    let picture = Picture { title: &title, runs: &runs, names: ["", ""], from, to, only, seat };
    let drawn = match saved.form {
        Form::Html => page::html(&picture)?,
        _ => picture.svg(),
    };
    saved.save(drawn, output)
}
