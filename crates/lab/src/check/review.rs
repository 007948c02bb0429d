//! A profile and its scores looked through together, and mended.

use super::{Context, Level, Mend, Remark, check_in, scores};
use crate::edit::{Draft, Locator};
use crate::score::{self, Score};
use harmonym_lang::model::Profile;
use harmonym_lang::report::{Finding, Findings};
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::plan::Plan;
use std::collections::BTreeSet;

/// One thing that there is to say, at its place.
#[derive(Clone, Debug)]
pub struct Diagnostic {
    /// The rule's name, or that of the kind of fault.
    pub rule: String,
    /// How much it weighs.
    pub level: Level,
    /// What it is about; nothing in a score.
    pub address: Option<String>,
    /// Which text it stands in: 0 is the profile, then the scores.
    pub text: usize,
    /// Where in it.
    pub span: Span,
    /// What happens in the player's hands.
    pub message: String,
    /// What to write.
    pub help: String,
    /// The changes that mend it, where that is safe.
    pub mend: Vec<Mend>,
}

/// All that there is to tell of a sound profile and its scores, in the order of the texts.
pub struct Review {
    sources: Vec<Source>,
    /// What was found.
    pub diagnostics: Vec<Diagnostic>,
}

impl Review {
    /// Looks through a profile, its text and its scores.
    pub fn new(source: Source, profile: &Profile, plan: &Plan, scores: Vec<Source>) -> Self {
        let mut diagnostics = Vec::new();
        let mut read: Vec<(usize, Score)> = Vec::new();
        for (text, source) in (1..).zip(&scores) {
            let mut findings = Findings::new();
            if let Some(score) = score::read(source, plan, &mut findings) {
                read.push((text, score));
            }
            let faults = findings.sorted_in(source).into_iter();
            diagnostics.extend(faults.map(|fault| Diagnostic::fault(text, fault)));
        }
        let open: BTreeSet<_> = read.iter().flat_map(|(_, score)| scores::opened(score)).collect();
        let context = Context::new(profile, &open);
        let remarks = check_in(&context);
        for (text, score) in &read {
            let never = scores::never_hold(profile, plan, score, &context, &remarks);
            diagnostics.extend(never.into_iter().map(|one| Diagnostic {
                rule: "never-holds".to_owned(),
                level: Level::Error,
                address: None,
                text: *text,
                span: one.span,
                message: one.message,
                help: one.help,
                mend: Vec::new(),
            }));
        }
        let locator = Locator::new(source.text());
        diagnostics.extend(remarks.into_iter().map(|remark| Diagnostic::remark(&locator, remark)));
        diagnostics.sort_by(|a, b| (a.text, a.span, &a.rule).cmp(&(b.text, b.span, &b.rule)));
        let sources = std::iter::once(source).chain(scores).collect();
        Self { sources, diagnostics }
    }

    /// The text that something stands in.
    pub fn source(&self, of: &Diagnostic) -> &Source {
        &self.sources[of.text]
    }

    /// How many things weigh so much.
    pub fn count(&self, level: Level) -> usize {
        self.diagnostics.iter().filter(|one| one.level == level).count()
    }
}

impl Diagnostic {
    fn fault(text: usize, fault: Finding) -> Self {
        Self {
            rule: fault.rule.name().to_owned(),
            level: Level::Error,
            address: None,
            text,
            span: fault.span,
            message: fault.message,
            help: fault.help,
            mend: Vec::new(),
        }
    }

    fn remark(locator: &Locator<'_>, remark: Remark) -> Self {
        let place = &remark.place;
        let span = locator.span(&place.path, place.item, place.word.as_deref());
        Self {
            rule: remark.rule.to_owned(),
            level: remark.level,
            address: Some(remark.place.address),
            text: 0,
            span,
            message: remark.message,
            help: remark.help,
            mend: remark.mend,
        }
    }
}

/// Mends one thing after the other, each time looking through everything anew; tells how many were
/// mended. A change after which the profile would be faulty is left out.
pub fn mend(draft: &mut Draft, name: &str, scores: &[Source]) -> usize {
    const MOST: usize = 500;
    let mut tried: BTreeSet<String> = BTreeSet::new();
    let mut mended = 0;
    for _ in 0..MOST {
        let source = Source::new(name, draft.text());
        let Ok((profile, plan)) = harmonym_lang::load(&source) else { break };
        let review = Review::new(source, &profile, &plan, scores.to_vec());
        let key = |one: &Diagnostic| format!("{}{}", one.rule, one.message);
        let next = review
            .diagnostics
            .iter()
            .find(|one| !one.mend.is_empty() && !tried.contains(&key(one)));
        let Some(next) = next else { break };
        tried.insert(key(next));
        let mut changed = draft.clone();
        let done = next.mend.iter().all(|change| match change {
            Mend::Set(address, value) => changed.set(address, std::slice::from_ref(value)).is_ok(),
            Mend::Remove(address) => changed.remove(address, false).is_ok(),
        });
        if done && harmonym_lang::load(&Source::new(name, changed.text())).is_ok() {
            *draft = changed;
            mended += 1;
        }
    }
    mended
}
