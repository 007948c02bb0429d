//! `score`: a recorded take as a score.

use super::hands::{Hands, HandsFile};
use super::save::{save, target};
use crate::args::ScoreArgs;
use crate::commands::load_as;
use crate::escape::named;
use crate::failure::Failure;
use crate::files::Kind;
use crate::output::Output;
use harmonym_lab::take::Header;
use harmonym_lab::transcribe::{About, Transcript, transcribe};
use std::path::Path;

pub fn run(file: Option<&Path>, args: &ScoreArgs, output: &mut Output) -> Result<(), Failure> {
    let to = args.output.as_deref();
    let to = to.map(|to| target((to, args.force), Kind::Score, file, &[&args.take])).transpose()?;
    let loaded = load_as(file, &args.player, output)?;
    let hands = HandsFile::open(&args.take)?;
    if !hands.is_take {
        let message = format!("{} is a score already", args.take.display());
        return Err(Failure::new(message, "name a take: what was recorded becomes a score"));
    }
    let Hands { about, inputs } = Hands::of(hands, &loaded)?;
    let plan = about.plan(&loaded)?;
    let own = args.take.file_name().map_or(String::new(), |name| name.to_string_lossy().into());
    let player = args.player.path.as_deref();
    let player = player.map(|player| beside(args.output.as_deref(), player));
    let header = Header {
        title: about.title,
        start: about.start,
        rate: about.rate,
        layout: about.layout,
        seats: about.seats,
    };
    let about = About { header: &header, from: &own, player: player.as_deref() };
    let score = transcribe(&plan, about, &inputs, args.within);
    match to {
        Some(to) => {
            save(&to, score.text.as_bytes(), output)?;
            output.remark(&format!(
                "wrote {} ({})",
                named(to.path),
                counts(&score, inputs.len())
            ))?;
        }
        None => output.write(|out| out.push_str(&score.text))?,
    }
    if !score.is_same {
        output.remark("played, it does not give all that the take gives: no score can say that")?;
    }
    Ok(())
}

/// What the score has of the take.
fn counts(score: &Transcript, inputs: usize) -> String {
    let Transcript { lines, expected, within, .. } = score;
    let how = match within {
        0.0 => "each as it was".to_owned(),
        within => format!("movements within {within}"),
    };
    format!("{inputs} inputs in {lines} lines, {how}; {expected} expectations")
}

/// A player's file as a score at `score` names it: from the score's folder on, if it lies in there.
fn beside(score: Option<&Path>, player: &Path) -> String {
    let folder = score.and_then(Path::parent).unwrap_or(Path::new(""));
    let path = match player.strip_prefix(folder) {
        Ok(own) => own.to_owned(),
        Err(_) => std::path::absolute(player).unwrap_or_else(|_| player.to_owned()),
    };
    let path = path.display().to_string();
    if path.contains(char::is_whitespace) { format!("\"{path}\"") } else { path }
}
