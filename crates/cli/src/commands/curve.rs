//! `curve`: raw values against shaped ones.

use super::compare::changed;
use super::save::PictureFile;
use super::show::{Found, find};
use crate::args::CurveArgs;
use crate::commands::load_profile;
use crate::draw::Form;
use crate::draw::chart::{Panel, curves};
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::output::style::Ink;
use crate::view::curve::{Named, chart, readings};
use harmonym_lab::trace::Curve;
use harmonym_lang::model::ActionId;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &CurveArgs, output: &mut Output) -> Result<(), Failure> {
    let forms = [Form::Svg, Form::Png];
    let picture = args
        .output
        .as_deref()
        .map(|path| PictureFile::named((path, args.force), &forms, file, &[]));
    let picture = picture.transpose()?;
    let loaded = load_profile(file, output)?;
    let (action, of) = match args.action.split_once('@') {
        Some((action, of)) => (action, Some(of)),
        None => (args.action.as_str(), None),
    };
    let Found::Action(id) = find(&loaded.profile, action)? else {
        let help = "name an action: quay.walk";
        return Err(Failure::new(format!("`{action}` is a map"), help));
    };
    let address = loaded.profile.address(id);
    let panels = panels(&loaded, id, of, args)?;
    match picture {
        Some(picture) => picture.save(curves(&address, &panels), output),
        None => tell(&panels, args.ascii, output),
    }
}

/// The profiles to draw: as it is, or with a number set to each of some values.
fn variants(loaded: &Loaded, args: &CurveArgs) -> Result<Vec<(String, Loaded)>, Failure> {
    let Some(vary) = &args.vary else { return Ok(Vec::new()) };
    let Some((address, values)) = vary.split_once('=') else {
        let help = "write --vary setting.gaze-speed.default=1,2";
        return Err(Failure::new(format!("`{vary}` varies nothing"), help));
    };
    let values = values.split(',').map(str::trim);
    values
        .map(|value| {
            let other = changed(loaded, &[format!("{address}={value}")])?;
            Ok((value.to_owned(), other))
        })
        .collect()
}

fn panels(
    loaded: &Loaded,
    id: ActionId,
    of: Option<&str>,
    args: &CurveArgs,
) -> Result<Vec<Panel>, Failure> {
    let variants = variants(loaded, args)?;
    let mut all: Vec<(&str, &Loaded)> =
        variants.iter().map(|(name, other)| (name.as_str(), other)).collect();
    if all.is_empty() {
        all.push(("", loaded));
    }
    let mut panels: Vec<Panel> = Vec::new();
    let mut left_out = None;
    // A number set otherwise leaves actions and bindings where they are.
    let written = &loaded.profile.actions[id].bindings;
    for (name, loaded) in all {
        let action = id.in_plan(&loaded.plan);
        for (place, (binding, curve)) in Curve::of(&loaded.plan, action).into_iter().enumerate() {
            let full = &loaded.plan.names().bindings[binding];
            let short = full.split_once('@').map_or("", |(_, name)| name);
            if of.is_some_and(|of| of != short && short.split('#').next() != Some(of)) {
                continue;
            }
            let Some(curve) = curve else {
                left_out = Some(full.clone());
                continue;
            };
            match panels.iter_mut().find(|panel| panel.name == *full) {
                Some(panel) => panel.curves.push((name.to_owned(), curve)),
                None => panels.push(Panel {
                    name: full.clone(),
                    written: written[place].text.clone(),
                    curves: vec![(name.to_owned(), curve)],
                }),
            }
        }
    }
    match (panels.is_empty(), left_out) {
        (false, _) => Ok(panels),
        (true, Some(name)) => {
            let help = "look at the actions that it reads instead";
            Err(Failure::new(
                format!("{name} reads other actions: it has no curve of its own"),
                help,
            ))
        }
        (true, None) => {
            let address = loaded.profile.address(id);
            let help = format!("`harmonym show {address}` lists its bindings");
            Err(Failure::new(format!("{} has no such binding", args.action), help))
        }
    }
}

fn tell(panels: &[Panel], ascii: bool, output: &mut Output) -> Result<(), Failure> {
    let look = output.look;
    for (place, panel) in panels.iter().enumerate() {
        let gap = if place > 0 { "\n" } else { "" };
        let name = look.paint(Ink::Strong, &panel.name);
        output.line(&format!("{gap}{name}  {}", panel.written))?;
        let named: Vec<Named<'_>> =
            panel.curves.iter().map(|(name, curve)| Named { name: name.clone(), curve }).collect();
        if !named.iter().all(|one| one.curve.is_on_off) {
            let text = chart(&named, ascii, look);
            output.prose(&text)?;
        }
        for one in &named {
            if named.len() > 1 {
                output.line(&format!("\n{:>10}", look.paint(Ink::Strong, &one.name)))?;
            }
            let text = readings(one.curve, look);
            output.prose(&text)?;
        }
    }
    Ok(())
}
