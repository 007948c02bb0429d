//! What there is to tell of the texts that are open.

use super::Server;
use super::documents::{Document, Kind};
use super::review::{Reviewed, Task};
use crate::files::Loaded;
use crate::files::around::Around;
use harmonym_lab::check::Rule;
use harmonym_lab::score;
use harmonym_lang::player::Player;
use harmonym_lang::report::{Diagnostic, Level};
use lsp_server::Notification;
use lsp_types::notification::{Notification as _, PublishDiagnostics};
use lsp_types::{
    CodeDescription, DiagnosticRelatedInformation, DiagnosticSeverity, Location, NumberOrString,
    PublishDiagnosticsParams, Uri,
};
use std::sync::Arc;

impl Server {
    /// Tells the faults of every text that is open, and lets the sound profiles be looked through.
    pub fn diagnose(&mut self) {
        for document in self.documents.all() {
            let faults = match document.kind {
                Kind::Profile => {
                    match self.documents.load(&document.path) {
                        Some(Err(faults)) => faults.list().to_vec(),
                        Some(Ok(loaded)) => {
                            self.give_task(&document, loaded);
                            // What was found in it before stays until all is looked through anew.
                            continue;
                        }
                        None => continue,
                    }
                }
                Kind::Score => self.of_score(&document),
                Kind::Player => self.of_player(&document),
                Kind::Other => continue,
            };
            self.publish_of(&document, &faults);
        }
    }

    fn give_task(&self, document: &Document, loaded: Arc<Loaded>) {
        let scores = Around::tried(&document.path).scores;
        let scores = scores.iter().filter_map(|path| self.documents.text(path));
        let task = Task {
            path: document.path.clone(),
            loaded,
            scores: scores.map(|source| (*source).clone()).collect(),
        };
        let _ = self.tasks.send(task);
    }

    fn of_score(&mut self, document: &Document) -> Vec<Diagnostic> {
        let profile = self.documents.profile_of(document);
        let loaded = profile.and_then(|path| self.documents.last_sound(&path));
        let Some(loaded) = loaded else { return Vec::new() };
        match score::read(&document.source, &loaded.plan) {
            Ok(_) => Vec::new(),
            Err(faults) => faults.list().to_vec(),
        }
    }

    fn of_player(&mut self, document: &Document) -> Vec<Diagnostic> {
        let player = match Player::read(&document.source) {
            Ok(player) => player,
            Err(faults) => return faults.list().to_vec(),
        };
        let profile = self.documents.profile_of(document);
        let loaded = profile.and_then(|path| self.documents.last_sound(&path));
        loaded.map_or_else(Vec::new, |loaded| player.apply(&loaded.profile).notes)
    }

    /// Tells what was found, if the text is still that one.
    pub fn reviewed(&mut self, reviewed: Reviewed) {
        let Reviewed { path, text, found, offers } = reviewed;
        let Some(document) = self.documents.all().into_iter().find(|one| one.path == path) else {
            return;
        };
        if document.source.text() != text {
            return;
        }
        self.documents.offers.insert(path.clone(), offers);
        let name = document.source.name().to_owned();
        let own = found.iter().find(|(of, _)| *of == name).map_or(&[][..], |(_, all)| all);
        self.publish_of(&document, own);
        for other in self.documents.all().iter().filter(|one| one.kind == Kind::Score) {
            let own = found.iter().find(|(of, _)| of == other.source.name());
            if let Some((_, all)) = own {
                self.publish_of(other, all);
            }
        }
    }

    fn publish_of(&self, document: &Document, told: &[Diagnostic]) {
        let text = document.source.text();
        let all = told.iter().map(|one| {
            let related = one.also.iter().map(|(span, why)| DiagnosticRelatedInformation {
                location: Location {
                    uri: document.uri.clone(),
                    range: document.lines.range(text, *span),
                },
                message: why.clone(),
            });
            let related: Vec<_> = related.collect();
            lsp_types::Diagnostic {
                range: document.lines.range(text, one.span),
                severity: Some(match one.level {
                    Level::Error => DiagnosticSeverity::ERROR,
                    Level::Warning => DiagnosticSeverity::WARNING,
                    Level::Note => DiagnosticSeverity::INFORMATION,
                }),
                code: Some(NumberOrString::String(one.rule.to_owned())),
                code_description: page(one.rule),
                source: Some("harmonym".to_owned()),
                message: match one.help.as_str() {
                    "" => one.message.clone(),
                    help => format!("{}\nhelp: {help}", one.message),
                },
                related_information: (!related.is_empty()).then_some(related),
                ..lsp_types::Diagnostic::default()
            }
        });
        self.publish(document.uri.clone(), Some(document.version), all.collect());
    }

    pub fn publish(&self, uri: Uri, version: Option<i32>, diagnostics: Vec<lsp_types::Diagnostic>) {
        let params = PublishDiagnosticsParams { uri, diagnostics, version };
        let told = Notification::new(PublishDiagnostics::METHOD.to_owned(), params);
        let _ = self.out.send(told.into());
    }
}

/// What a rule of the checker means, as a page that needs no other file: a `data` URI (RFC 2397).
fn page(rule: &str) -> Option<CodeDescription> {
    let rule = Rule::named(rule)?;
    let text = format!(
        "{}\n\n{}\n\n{}\n\nharmonym check --explain {} shows a profile that has it, and the same mended.",
        rule.name, rule.finds, rule.why, rule.name
    );
    let written: String = text
        .bytes()
        .map(|byte| match byte {
            b'a'..=b'z' | b'A'..=b'Z' | b'0'..=b'9' | b'-' | b'.' | b'_' | b'~' => {
                (byte as char).to_string()
            }
            _ => format!("%{byte:02X}"),
        })
        .collect();
    let href = format!("data:text/plain;charset=utf-8,{written}").parse().ok()?;
    Some(CodeDescription { href })
}
