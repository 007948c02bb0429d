//! What the checker finds, looked for beside the conversation: it may take longer than a key press.

use super::documents::Offer;
use crate::files::Loaded;
use crossbeam_channel::{Receiver, Sender, unbounded};
use harmonym_lab::check::Review;
use harmonym_lab::mend;
use harmonym_lang::report::Diagnostic;
use harmonym_lang::source::Source;
use std::path::PathBuf;
use std::sync::Arc;

/// A profile to look through, with its scores.
pub struct Task {
    pub path: PathBuf,
    pub loaded: Arc<Loaded>,
    pub scores: Vec<Source>,
}

/// What was found in it.
pub struct Reviewed {
    pub path: PathBuf,
    /// The text that was looked through.
    pub text: String,
    /// Each text's own findings, by its name.
    pub found: Vec<(String, Vec<Diagnostic>)>,
    pub offers: Vec<Offer>,
}

/// A thread that looks through what it is given, the newest first.
pub fn worker() -> (Sender<Task>, Receiver<Reviewed>) {
    let (tasks, given) = unbounded::<Task>();
    let (done, reviewed) = unbounded();
    std::thread::spawn(move || {
        while let Ok(first) = given.recv() {
            // Of several that wait, what is older is of no use any more.
            let mut waiting = vec![first];
            waiting.extend(given.try_iter());
            waiting.reverse();
            let mut seen: Vec<PathBuf> = Vec::new();
            for task in waiting {
                if seen.contains(&task.path) {
                    continue;
                }
                seen.push(task.path.clone());
                if done.send(look_through(task)).is_err() {
                    return;
                }
            }
        }
    });
    (tasks, reviewed)
}

fn look_through(task: Task) -> Reviewed {
    let Task { path, loaded, scores } = task;
    let (source, plan) = (&loaded.source, &loaded.plan);
    let review = Review::new(source.clone(), &loaded.profile, plan, scores.clone());
    let mut found: Vec<(String, Vec<Diagnostic>)> = Vec::new();
    for (of, one) in review.iter() {
        match found.iter_mut().find(|(name, _)| name == of.name()) {
            Some((_, all)) => all.push(one.clone()),
            None => found.push((of.name().to_owned(), vec![one.clone()])),
        }
    }
    let offers = mend::offers(source, &scores, plan, &review);
    let offers = offers.into_iter().map(|(told, after)| Offer {
        title: format!("Mend {}: {}", told.rule, told.message),
        before: source.text().to_owned(),
        after,
        of: (told.span, told.rule),
    });
    Reviewed { path, text: source.text().to_owned(), found, offers: offers.collect() }
}
