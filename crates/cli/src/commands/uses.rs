//! `uses`: what a control reaches, by map and scheme, and what claims it.

use crate::args::Format;
use crate::commands::load_profile;
use crate::failure::Failure;
use crate::files::Loaded;
use crate::output::Output;
use crate::output::style::Ink;
use crate::view::table::table;
use harmonym_lab::told::{self, Start};
use harmonym_lang::compile::uses::{Claim, Reach, Touch, reached};
use harmonym_lang::profile::controls::unknown_control;
use harmonym_lang::report::Comparing;
use serde::Serialize;
use std::path::Path;

#[derive(Serialize)]
struct UseLine<'a> {
    kind: &'static str,
    control: &'a str,
    map: &'a str,
    action: &'a str,
    binding: &'a str,
    /// Whether it is only held while another control is worked.
    holds: bool,
    /// How many controls have to be held with it.
    holders: u8,
    claimed_by: Vec<String>,
    /// Whether more do than are named.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    more_claims: bool,
}

pub fn run(
    file: Option<&Path>,
    controls: &[String],
    format: Format,
    output: &mut Output,
) -> Result<(), Failure> {
    output.page();
    let loaded = load_profile(file, output)?;
    if format == Format::Json {
        output.write(|out| told::line(out, &Start::new("uses", None)))?;
    }
    for control in controls {
        let touch = touch(&loaded, control)?;
        let all = reached(&loaded.plan, &touch);
        match format {
            Format::Text => tell(&loaded, control, &all, output)?,
            Format::Json => output.write(|out| {
                all.iter().for_each(|one| told::line(out, &line(&loaded, control, one)));
            })?,
        }
    }
    Ok(())
}

fn touch(loaded: &Loaded, control: &str) -> Result<Touch, Failure> {
    let catalogue = &loaded.profile.catalogue;
    Touch::named(catalogue, &loaded.plan, control).ok_or_else(|| {
        let help = unknown_control(control, catalogue, &Comparing::default());
        Failure::new(format!("there is no control `{control}`"), help)
    })
}

fn claims(loaded: &Loaded, reach: &Reach) -> Vec<String> {
    let names = loaded.plan.names();
    let claim = |claim: &Claim| match claim.holders {
        0 => names.actions[claim.action].clone(),
        _ => format!("{} (with another held)", names.actions[claim.action]),
    };
    reach.claimed_by.iter().map(claim).collect()
}

fn line<'a>(loaded: &'a Loaded, control: &'a str, reach: &Reach) -> UseLine<'a> {
    let names = loaded.plan.names();
    UseLine {
        kind: "use",
        control,
        map: &names.maps[reach.map],
        action: &names.actions[reach.action],
        binding: &names.bindings[reach.binding],
        holds: reach.holds,
        holders: reach.holders,
        claimed_by: claims(loaded, reach),
        more_claims: reach.more_claims,
    }
}

fn tell(loaded: &Loaded, control: &str, all: &[Reach], output: &mut Output) -> Result<(), Failure> {
    if all.is_empty() {
        return output.line(&format!("{control} reaches nothing"));
    }
    let names = loaded.plan.names();
    let rows = all.iter().map(|reach| {
        let binding = &names.bindings[reach.binding];
        let scheme = binding.split_once('@').map_or("", |(_, scheme)| scheme);
        let how = match (reach.holds, reach.holders) {
            (true, _) => "held for another".to_owned(),
            (false, 0) => String::new(),
            (false, 1) => "with another held".to_owned(),
            (false, n) => format!("with {n} others held"),
        };
        let above = match claims(loaded, reach).as_slice() {
            [] => String::new(),
            claims if reach.more_claims => format!("{} and more", claims.join(", ")),
            claims => claims.join(", "),
        };
        let map = names.maps[reach.map].clone();
        [map, names.actions[reach.action].clone(), scheme.to_owned(), how, above]
    });
    let heads = ["in map", "action", "binding", "how", "blocked by"];
    let text = table(output.look, heads, rows.collect());
    let control = output.look.paint(Ink::Strong, control);
    output.line(&control)?;
    output.prose(&text)
}
