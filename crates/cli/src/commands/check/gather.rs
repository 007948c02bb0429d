//! Everything that there is to tell of a profile and its scores.

use crate::commands::write::scores;
use crate::failure::Failure;
use crate::files::{Loaded, load, profile_path, read_text};
use crate::output::Output;
use harmonym_core::check::{Context, Level, Mend, check_in};
use harmonym_core::profile::edit::Locator;
use harmonym_core::report::Findings;
use harmonym_core::score::{self, Score};
use harmonym_core::source::{Source, Span};
use harmonym_core::trace::{never_hold, opened};
use std::collections::BTreeSet;
use std::path::Path;

/// One thing that was found.
#[derive(Clone, Debug)]
pub struct Told {
    pub rule: String,
    pub level: Level,
    /// What it is about; nothing in a score.
    pub address: Option<String>,
    /// Which text it stands in: 0 is the profile, then the scores.
    pub text: usize,
    pub span: Span,
    pub message: String,
    pub help: String,
    pub mend: Vec<Mend>,
}

/// A profile, its scores, and all that was found in them.
pub struct Gathered {
    pub loaded: Loaded,
    scores: Vec<Source>,
    pub told: Vec<Told>,
}

impl Gathered {
    /// The text that something stands in.
    pub fn source(&self, told: &Told) -> &Source {
        match told.text.checked_sub(1) {
            Some(index) => self.scores.get(index).unwrap_or(&self.loaded.source),
            None => &self.loaded.source,
        }
    }
}

/// Reads the profile and its scores, and checks them.
pub fn gather(file: Option<&Path>, output: &mut Output) -> Result<Gathered, Failure> {
    let path = profile_path(file)?;
    output.detail(&format!("reading {}", path.display()))?;
    let source = read_text(&path)?;
    of_source(&path, source, output)
}

/// The same for a text that is not yet in the file.
pub fn of_text(path: &Path, text: &str, output: &mut Output) -> Result<Gathered, Failure> {
    of_source(path, Source::new(path.display().to_string(), text), output)
}

fn of_source(path: &Path, source: Source, output: &mut Output) -> Result<Gathered, Failure> {
    let loaded = load(source)?;
    let mut sources = Vec::new();
    let mut told = Vec::new();
    let mut read: Vec<(usize, Score)> = Vec::new();
    for path in scores(None, path)? {
        output.detail(&format!("reading {}", path.display()))?;
        let source = match read_text(&path) {
            Ok(source) => source,
            Err(_) => continue,
        };
        let text = sources.len() + 1;
        let mut findings = Findings::new();
        if let Some(score) = score::read(&source, &loaded.plan, &mut findings) {
            read.push((text, score));
        }
        told.extend(findings.sorted_in(&source).into_iter().map(|fault| Told {
            rule: fault.rule.name().to_owned(),
            level: Level::Error,
            address: None,
            text,
            span: fault.span,
            message: fault.message,
            help: fault.help,
            mend: Vec::new(),
        }));
        sources.push(source);
    }
    let open: BTreeSet<_> = read.iter().flat_map(|(_, score)| opened(score)).collect();
    let context = Context::new(&loaded.profile, &open);
    let remarks = check_in(&context);
    for (text, score) in &read {
        for one in never_hold(&loaded.profile, &loaded.plan, score, &context, &remarks) {
            told.push(Told {
                rule: "never-holds".to_owned(),
                level: Level::Error,
                address: None,
                text: *text,
                span: one.span,
                message: one.message,
                help: one.help,
                mend: Vec::new(),
            });
        }
    }
    let locator = Locator::new(loaded.source.text());
    told.extend(remarks.into_iter().map(|remark| {
        let place = &remark.place;
        let span = locator.span(&place.path, place.item, place.word.as_deref());
        Told {
            rule: remark.rule.to_owned(),
            level: remark.level,
            address: Some(remark.place.address.clone()),
            text: 0,
            span,
            message: remark.message,
            help: remark.help,
            mend: remark.mend,
        }
    }));
    told.sort_by(|a, b| (a.text, a.span, &a.rule).cmp(&(b.text, b.span, &b.rule)));
    Ok(Gathered { loaded, scores: sources, told })
}
