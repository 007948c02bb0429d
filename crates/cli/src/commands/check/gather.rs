//! The profile and its scores read for a review.

use crate::commands::write::scores;
use crate::failure::Failure;
use crate::files::{Loaded, load, profile_path, read_text};
use crate::output::Output;
use harmonym_lab::check::Review;
use harmonym_lang::source::Source;
use std::path::Path;

/// Reads the profile and its scores, and looks them through.
pub fn gather(file: Option<&Path>, output: &mut Output) -> Result<(Loaded, Review), Failure> {
    let path = profile_path(file)?;
    output.detail(&format!("reading {}", path.display()))?;
    let loaded = load(read_text(&path)?)?;
    let scores = score_texts(&path, output)?;
    let review = Review::new(loaded.source.clone(), &loaded.profile, &loaded.plan, scores);
    Ok((loaded, review))
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
