//! The profile and its scores and takes read for a review.

use crate::args::PlayerArg;
use crate::commands::hands::{HandsFile, Take};
use crate::commands::{settled_profile, tell_notes};
use crate::escape::named;
use crate::failure::Failure;
use crate::files::around::{Around, expect_file};
use crate::files::{Loaded, PlayerFile, load, read_text};
use crate::output::Output;
use harmonym_lab::check::Review;
use harmonym_lab::take::What;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Source;
use harmonym_runtime::base::MapId;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Reads the profile and its scores and takes, and looks them through.
pub fn gather(
    (file, player): (Option<&Path>, &PlayerArg),
    output: &mut Output,
) -> Result<(Loaded, Review), Failure> {
    let path = settled_profile(file, output)?;
    let mut loaded = load(read_text(&path)?)?;
    if let Some(player) = &player.path {
        let file = Arc::new(PlayerFile::read(player)?);
        let (applied, notes) = loaded.for_player(Arc::clone(&file))?;
        tell_notes(&file.source, &notes, output)?;
        loaded = applied;
    }
    let around = Around::tried(&path);
    let mut unread = Unread::default();
    let scores = texts(&around.scores, &mut unread, output)?;
    let mut opened = BTreeSet::new();
    for path in &around.takes {
        output.detail(&format!("reading {}", named(path)))?;
        unread.note(path, maps_opened(path, &loaded, &mut opened))?;
    }
    let (source, profile, plan) = (loaded.source.clone(), &loaded.profile, &loaded.plan);
    let mut review = Review::with_takes(source, profile, plan, scores, &opened);
    for (folder, why) in &around.left {
        let message = format!("cannot look through {}: {why}", folder.display());
        let help = "the scores in it are not looked at: see who may read it";
        review.add_unread(&folder.display().to_string(), Faults::refused(message, help));
    }
    for (path, faults) in unread.0 {
        review.add_unread(&path.display().to_string(), faults);
    }
    Ok((loaded, review))
}

/// What could not be read, and why.
#[derive(Default)]
struct Unread(Vec<(PathBuf, Faults)>);

impl Unread {
    /// What was read, or nothing where it could not be.
    fn note<T>(&mut self, path: &Path, read: Result<T, Failure>) -> Result<Option<T>, Failure> {
        match read {
            Ok(read) => Ok(Some(read)),
            Err(Failure::Faults(faults)) => {
                self.0.push((path.to_owned(), faults));
                Ok(None)
            }
            Err(failure) => Err(failure),
        }
    }
}

/// Adds the maps that a take opens. What has no header of a take is none.
fn maps_opened(path: &Path, loaded: &Loaded, opened: &mut BTreeSet<MapId>) -> Result<(), Failure> {
    expect_file(path)?;
    let mut hands = HandsFile::open(path)?;
    if !hands.has_header()? {
        return Ok(());
    }
    let name = hands.name();
    let mut take = Take::of(hands, path, &name, loaded)?;
    opened.extend(take.about.start);
    while let Some(input) = take.next()? {
        if let What::Map(_, map, true) = input.what {
            opened.insert(map);
        }
    }
    Ok(())
}

/// The texts of the scores of a profile; what can't be read is left out.
pub fn score_texts(profile: &Path, output: &mut Output) -> Result<Vec<Source>, Failure> {
    texts(&Around::tried(profile).scores, &mut Unread::default(), output)
}

fn texts(
    paths: &[PathBuf],
    unread: &mut Unread,
    output: &mut Output,
) -> Result<Vec<Source>, Failure> {
    let mut texts = Vec::new();
    for path in paths {
        output.detail(&format!("reading {}", named(path)))?;
        let read = expect_file(path).and_then(|()| read_text(path));
        texts.extend(unread.note(path, read)?);
    }
    Ok(texts)
}
