//! A profile and its scores looked through together.

use super::{Context, Place, Remark, check_in, scores};
use crate::edit::Locator;
use crate::score;
use harmonym_lang::model::Profile;
use harmonym_lang::report::{Diagnostic, Faults, Level};
use harmonym_lang::source::Source;
use harmonym_runtime::base::MapId;
use harmonym_runtime::plan::Plan;
use std::collections::BTreeSet;
use std::sync::Arc;

/// All that there is to tell of a sound profile and its scores, in the order of the texts.
pub struct Review {
    texts: Vec<(Source, Vec<Diagnostic>)>,
}

impl Review {
    /// Looks through a profile, its text and its scores.
    pub fn new(source: Source, profile: &Profile, plan: &Plan, scores: Vec<Source>) -> Self {
        Self::with_takes(source, profile, plan, scores, &BTreeSet::new())
    }

    /// The same where takes open maps, too.
    pub fn with_takes(
        source: Source,
        profile: &Profile,
        plan: &Plan,
        scores: Vec<Source>,
        opened: &BTreeSet<MapId>,
    ) -> Self {
        let read: Vec<_> = scores.iter().map(|source| score::read(source, plan)).collect();
        let by_scores = read.iter().flatten().flat_map(scores::opened);
        let open: BTreeSet<_> = by_scores.chain(opened.iter().copied()).collect();
        let mut context = Context::new(profile, &open);
        let shared = Arc::new(plan.clone());
        context.openers = read.iter().flatten().flat_map(|s| scores::openers(&shared, s)).collect();
        let remarks = check_in(&context);
        let of_scores = read.into_iter().map(|score| match score {
            Ok(score) => scores::never_hold(profile, plan, &score, &context, &remarks),
            Err(faults) => faults.into_list(),
        });
        let of_scores: Vec<Vec<Diagnostic>> = of_scores.collect();
        let locator = Locator::new(source.text());
        let of_profile = remarks.iter().map(|remark| remark.located(&locator)).collect();
        let texts = std::iter::once(source).chain(scores);
        let mut texts: Vec<_> = texts.zip(std::iter::once(of_profile).chain(of_scores)).collect();
        for (_, diagnostics) in &mut texts {
            diagnostics.sort_by(|a, b| (a.span, a.rule).cmp(&(b.span, b.rule)));
        }
        Self { texts }
    }

    /// Adds what is wrong with a text called `name` that could not be read.
    pub fn add_unread(&mut self, name: &str, faults: Faults) {
        let source = faults.source().cloned();
        let source = source.unwrap_or_else(|| Source::new(name, ""));
        self.texts.push((source, faults.into_list()));
    }

    /// Keeps only what `is_asked` for.
    pub fn retain(&mut self, is_asked: impl Fn(&Diagnostic) -> bool) {
        for (_, diagnostics) in &mut self.texts {
            diagnostics.retain(&is_asked);
        }
    }

    /// What was found, each with the text that it stands in.
    pub fn iter(&self) -> impl Iterator<Item = (&Source, &Diagnostic)> {
        self.texts.iter().flat_map(|(source, all)| all.iter().map(move |one| (source, one)))
    }

    /// How many things weigh so much.
    pub fn count(&self, level: Level) -> usize {
        self.iter().filter(|(_, one)| one.level == level).count()
    }
}

impl Remark {
    /// What there is to say, with its place in the file.
    fn located(&self, locator: &Locator<'_>) -> Diagnostic {
        let Place { path, item, word, .. } = &self.place;
        let span = locator.span(path, *item, word.as_deref());
        Diagnostic { span, ..self.diagnostic.clone() }
    }
}
