//! What follows a change of a profile: its scores, the players' files that they name, its takes.

use crate::failure::Failure;
use crate::files::around::Around;
use harmonym_lab::edit::Draft;
use harmonym_lab::score;
use harmonym_lang::report::Faults;
use harmonym_lang::source::Source;
use harmonym_runtime::plan::Plan;
use std::path::{Path, PathBuf};

/// Another file, as it is and as it will be.
pub struct Other {
    pub path: PathBuf,
    pub before: String,
    pub after: String,
}

/// What came of it.
#[derive(Default)]
pub struct Followed {
    /// The files that change.
    pub others: Vec<Other>,
    /// What scores expect that nothing can bring about any more.
    pub unmet: Vec<String>,
    /// The scores and takes that would be left behind.
    pub refused: Vec<Faults>,
}

/// Lets all that is around a profile follow the changes of a draft of it, from one plan to another. `read`
/// gives the text of a file, or nothing for one that stays as it is.
pub fn follow(
    draft: &Draft,
    around: &Around,
    (before, after): (&Plan, &Plan),
    read: &mut dyn FnMut(&Path) -> Result<Option<Source>, Failure>,
) -> Result<Followed, Failure> {
    let mut all = Followed::default();
    let mut players: Vec<PathBuf> = Vec::new();
    for path in &around.scores {
        let Some(text) = read(path)? else { continue };
        if let Some(name) = score::player(&text) {
            let player = path.parent().unwrap_or(Path::new("")).join(name);
            if !players.contains(&player) {
                players.push(player);
            }
        }
        let followed = draft.follow(&text, before, after).map(|followed| {
            all.unmet.extend(followed.unmet);
            followed.text
        });
        all.add(path, &text, followed);
    }
    if draft.changes_names() {
        for path in &players {
            let Some(text) = read(path)? else { continue };
            if let Some(followed) = draft.follow_player(&text) {
                all.add(path, &text, Ok(followed));
            }
        }
    }
    let takes = if draft.reaches_takes() { &around.takes[..] } else { &[] };
    for path in takes {
        let Some(text) = read(path)? else { continue };
        // Other programs have files of that ending, too.
        if text.lines().next().is_some_and(|(_, line)| line.contains("\"take\"")) {
            all.add(path, &text, draft.follow_take(&text, before, after));
        }
    }
    Ok(all)
}

impl Followed {
    fn add(&mut self, path: &Path, now: &Source, followed: Result<String, Faults>) {
        match followed {
            Ok(after) if after != now.text() => {
                let before = now.text().to_owned();
                self.others.push(Other { path: path.to_owned(), before, after });
            }
            Ok(_) => {}
            Err(faults) => self.refused.push(faults),
        }
    }
}
