//! The profile and its scores read for a review.

use crate::commands::hands::Take;
use crate::commands::write::scores;
use crate::failure::Failure;
use crate::files::{Loaded, load, profile_path, read_text};
use crate::output::Output;
use harmonym_lab::check::Review;
use harmonym_lab::take::What;
use harmonym_lang::source::Source;
use harmonym_runtime::base::MapId;
use std::collections::BTreeSet;
use std::fs;
use std::path::Path;

/// Reads the profile and its scores, and looks them through.
pub fn gather(file: Option<&Path>, output: &mut Output) -> Result<(Loaded, Review), Failure> {
    let path = profile_path(file)?;
    output.detail(&format!("reading {}", path.display()))?;
    let loaded = load(read_text(&path)?)?;
    let scores = score_texts(&path, output)?;
    let opened = opened_by_takes(&path, &loaded);
    let (source, profile, plan) = (loaded.source.clone(), &loaded.profile, &loaded.plan);
    let review = Review::with_takes(source, profile, plan, scores, &opened);
    Ok((loaded, review))
}

/// The maps that takes beside the scores open; what can't be read opens nothing.
fn opened_by_takes(profile: &Path, loaded: &Loaded) -> BTreeSet<MapId> {
    let mut opened = BTreeSet::new();
    let beside = profile.parent().unwrap_or(Path::new("")).join("scores");
    let entries = fs::read_dir(beside).into_iter().flatten().flatten();
    let takes = entries.map(|entry| entry.path());
    for path in takes.filter(|path| path.extension().is_some_and(|end| end == "jsonl")) {
        let name = path.display().to_string();
        let Ok(mut take) = Take::open(&path, &name, loaded) else { continue };
        opened.extend(take.about.start);
        while let Ok(Some(input)) = take.next() {
            if let What::Map(map, true) = input.what {
                opened.insert(map);
            }
        }
    }
    opened
}

/// The texts of the scores beside a profile; what can't be read is left out.
pub fn score_texts(profile: &Path, output: &mut Output) -> Result<Vec<Source>, Failure> {
    let mut texts = Vec::new();
    for path in scores(None, profile)? {
        output.detail(&format!("reading {}", path.display()))?;
        texts.extend(read_text(&path));
    }
    Ok(texts)
}
