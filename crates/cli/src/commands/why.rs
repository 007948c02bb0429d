//! `why`: what an action did on some hands, and every station at one moment.

use super::hands::Hands;
use super::show::{Found, find};
use super::time;
use crate::args::{Format, WhyArgs};
use crate::commands::load_profile;
use crate::failure::Failure;
use crate::output::Output;
use crate::output::style::{Ink, wrapped};
use crate::view::why::{Words, json, stations, told};
use harmonym_lab::explain::why;
use harmonym_runtime::base::{BindingId, Id};
use std::path::Path;

pub fn run(file: Option<&Path>, args: &WhyArgs, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_profile(file, output)?;
    let Found::Action(id) = find(&loaded.profile, &args.action)? else {
        let help = "name an action: quay.tie-knot";
        return Err(Failure::new(format!("`{}` is a map", args.action), help));
    };
    let at = args.at.as_deref().map(|text| time("--at", text)).transpose()?;
    let asked = args.hands.asked(&loaded)?;
    let hands = Hands::read(&args.hands.input, &loaded)?;
    let plan = loaded.plan_for(hands.about.layout);
    let (address, action) = (loaded.profile.address(id), id.in_plan(&plan));
    let playing = hands.playing(asked);
    let story = why(&plan, playing, hands.inputs, action, at);
    let words = Words { plan: &plan, action };
    let look = output.look;
    let rows = story.moment.as_ref().map_or(Vec::new(), |moment| {
        let bindings = &loaded.profile.actions[id].bindings;
        let first = plan.actions()[action].bindings.first().map_or(0, Id::index);
        let written = |id: BindingId| bindings[id.index() - first].text.clone();
        stations(words, &moment.stations, written)
    });
    if args.format == Format::Json {
        return output.write(|out| json(out, words, &story, &rows));
    }
    let Some(moment) = &story.moment else {
        return output.write(|out| out.push_str(&told(&plan, action, &story, look)));
    };
    let name = look.paint(Ink::Strong, address);
    output.line(&format!("{name} at {:.4} s", moment.t))?;
    rows.iter().try_for_each(|row| output.write(|out| out.push_str(&row.text(look))))?;
    let sentence = wrapped(&words.moment(&story, moment), look.width);
    output.line(&format!("\n{sentence}"))
}
