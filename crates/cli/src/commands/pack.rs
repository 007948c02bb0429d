//! `pack`: the profile as games read it that read no TOML.

use super::load_as;
use super::save::{made, place};
use crate::args::PackArgs;
use crate::escape::quoted;
use crate::failure::Failure;
use crate::files::Kind;
use crate::output::Output;
use harmonym_lang::compile::compile;
use harmonym_runtime::controls::Layout;
use harmonym_runtime::pack;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &PackArgs, output: &mut Output) -> Result<(), Failure> {
    let (path, to) = place(&args.made, Kind::Pack, file)?;
    let loaded = load_as(file, &args.player, output)?;
    let text = pack::write(&compile(&loaded.profile, args.layout));
    made((path, to), &text, ("parts", &command(args)), output)
}

/// What makes the file anew.
fn command(args: &PackArgs) -> String {
    let mut words = vec!["harmonym pack".to_owned()];
    let path = |path: &Path| quoted(&path.to_string_lossy());
    if let Some(player) = &args.player.path {
        words.push(format!("--player {}", path(player)));
    }
    if args.layout != Layout::default() {
        words.push(format!("--layout {}", args.layout.word()));
    }
    words.extend(args.made.output.as_deref().map(|output| format!("-o {}", path(output))));
    words.join(" ")
}
