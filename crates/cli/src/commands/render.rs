//! `render`: a score as a take.

use super::hands::HandsFile;
use super::save::{save, target};
use crate::args::RenderArgs;
use crate::commands::load_profile;
use crate::escape::{named, quoted, shown_json};
use crate::failure::Failure;
use crate::files::Kind;
use crate::output::Output;
use harmonym_lab::score;
use std::path::Path;

pub fn run(file: Option<&Path>, args: &RenderArgs, output: &mut Output) -> Result<(), Failure> {
    let to =
        args.output.as_deref().map(|to| target((to, args.force), Kind::Take, file, &[&args.score]));
    let to = to.transpose()?;
    let loaded = load_profile(file, output)?;
    let hands = HandsFile::open(&args.score)?;
    if hands.is_take {
        let message = format!("{} is a take already", args.score.display());
        return Err(Failure::new(message, "name a score: what it writes down becomes a take"));
    }
    let score = score::read(&hands.into_source()?, &loaded.plan)?;
    let (text, count) = score.as_take(&loaded.plan);
    if let Some(player) = &score.player {
        let beside = args.score.with_file_name(player);
        let beside = quoted(&named(&beside));
        output.remark(&format!(
            "the score has the controls of {beside}; a take does not say so: play it with --player {beside}"
        ))?;
    }
    match to {
        Some(to) => {
            save(&to, text.as_bytes(), output)?;
            output.remark(&format!("wrote {} ({count} inputs)", named(to.path)))
        }
        None => output.write(|out| out.push_str(&shown_json(&text))),
    }
}
