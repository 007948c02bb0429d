//! `prompt`: what to tell a player to press.

use super::load_as;
use super::play::scheme;
use super::show::{Found, find};
use crate::args::{Format, PromptArgs};
use crate::failure::Failure;
use crate::output::Output;
use crate::view::prompt;
use harmonym_lab::prompt::prompts;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &PromptArgs, output: &mut Output) -> Result<(), Failure> {
    let loaded = load_as(file, &args.player, output)?;
    let Found::Action(id) = find(&loaded.profile, &args.action)? else {
        let help = "name an action: quay.tie-knot";
        return Err(Failure::new(format!("`{}` is a map", args.action), help));
    };
    let only = args.scheme.as_deref().map(|name| scheme(&loaded, name)).transpose()?;
    let all = prompts(&loaded.profile, id, only, args.layout);
    match args.format {
        Format::Json => output.write(|out| prompt::json(out, &loaded.profile, id, &all)),
        Format::Text => {
            let text = prompt::text(&loaded.profile, id, &all, only.is_some(), output.look);
            output.prose(&text)
        }
    }
}
