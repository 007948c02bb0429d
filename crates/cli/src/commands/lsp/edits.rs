//! Changes of texts: names, form, and what mends a finding. The editor makes them, never the server.

#![allow(clippy::mutable_key_type, reason = "changes are given by URI, as the protocol has them")]

use super::answer::{Found, named, open};
use super::documents::{Document, Documents, Kind};
use super::{Refused, refused};
use crate::commands::write::{Followed, follow};
use crate::files::around::Around;
use harmonym_lab::edit::Draft;
use harmonym_lang::profile::read;
use harmonym_lang::report::{Diagnostic, Diagnostics, Faults};
use harmonym_lang::source::{Source, Span};
use lsp_types::{
    CodeAction, CodeActionKind, CodeActionOrCommand, CodeActionParams, DocumentFormattingParams,
    NumberOrString, PrepareRenameResponse, RenameParams, TextDocumentPositionParams, TextEdit,
    WorkspaceEdit,
};
use similar::{ChangeTag, TextDiff};
use std::collections::HashMap;
use std::path::Path;

/// So many faults of a range are tried to be mended: each trial reads the whole text.
const MOST_MENDED: usize = 8;

/// The changes that make one text of another, a stretch of lines each.
fn difference(document: &Document, after: &str) -> Vec<TextEdit> {
    let before = document.source.text();
    let diff = TextDiff::from_lines(before, after);
    let (mut edits, mut at): (Vec<TextEdit>, usize) = (Vec::new(), 0);
    let mut begun: Option<(usize, String)> = None;
    for change in diff.iter_all_changes() {
        match change.tag() {
            ChangeTag::Equal => {
                if let Some((start, text)) = begun.take() {
                    edits.push(edit(document, Span::new(start, at), text));
                }
                at += change.value().len();
            }
            ChangeTag::Delete => {
                begun.get_or_insert_with(|| (at, String::new()));
                at += change.value().len();
            }
            ChangeTag::Insert => {
                begun.get_or_insert_with(|| (at, String::new())).1.push_str(change.value());
            }
        }
    }
    if let Some((start, text)) = begun {
        edits.push(edit(document, Span::new(start, at), text));
    }
    edits
}

fn edit(document: &Document, span: Span, new_text: String) -> TextEdit {
    TextEdit { range: document.lines.range(document.source.text(), span), new_text }
}

pub fn may_rename(
    documents: &mut Documents,
    params: &TextDocumentPositionParams,
) -> Result<Option<PrepareRenameResponse>, Refused> {
    let Some(Found { document, span, what: thing, .. }) = named(documents, params)? else {
        return Ok(None);
    };
    let text = document.source.text();
    // Of `quay.walk` the name that is meant is the last one.
    let start = match document.source.slice(span).rfind(thing.name()) {
        Some(at) => span.start + at,
        None => return Ok(None),
    };
    let span = Span::new(start, start + thing.name().len());
    let (range, placeholder) = (document.lines.range(text, span), thing.name().to_owned());
    Ok(Some(PrepareRenameResponse::RangeWithPlaceholder { range, placeholder }))
}

fn in_words(faults: &Faults) -> Refused {
    refused(match faults.list().first() {
        Some(first) if !first.help.is_empty() => format!("{}: {}", first.message, first.help),
        Some(first) => first.message.clone(),
        None => "that cannot be done".to_owned(),
    })
}

pub fn rename(
    documents: &mut Documents,
    params: &RenameParams,
) -> Result<Option<WorkspaceEdit>, Refused> {
    let Some(Found { profile: path, what: thing, .. }) =
        named(documents, &params.text_document_position)?
    else {
        return Ok(None);
    };
    let Some(Ok(loaded)) = documents.load(&path) else {
        return Err(refused("the profile has faults: mend them first, then rename"));
    };
    let mut draft = Draft::new(&loaded.source);
    draft.rename(&thing.address(), &params.new_name).map_err(|faults| in_words(&faults))?;
    let after = Source::new(loaded.source.name(), draft.text());
    let (_, plan) = harmonym_lang::load(&after).map_err(|faults| in_words(&faults))?;
    let mut read = |path: &Path| Ok(documents.text(path).map(|text| (*text).clone()));
    let around = Around::of(&path);
    let followed = follow(&draft, &around, (&loaded.plan, &plan), &mut read);
    let Followed { others, refused: behind, .. } =
        followed.map_err(|_| refused("a file beside the profile cannot be read"))?;
    if let Some(faults) = behind.first() {
        return Err(in_words(faults));
    }
    let own = (path.as_path(), draft.text());
    let all = others.iter().map(|other| (other.path.as_path(), other.after.as_str()));
    let mut changes = HashMap::new();
    for (path, after) in std::iter::once(own).chain(all) {
        if let Some(document) = documents.of_path(path) {
            let edits = difference(&document, after);
            changes.insert(document.uri, edits);
        }
    }
    Ok(Some(WorkspaceEdit { changes: Some(changes), ..WorkspaceEdit::default() }))
}

pub fn format(
    documents: &mut Documents,
    params: &DocumentFormattingParams,
) -> Result<Option<Vec<TextEdit>>, Refused> {
    let document = open(documents, &params.text_document.uri)?;
    let is_toml = read(&document.source, &mut Diagnostics::new()).broken.is_empty();
    if document.kind != Kind::Profile || !is_toml {
        return Ok(None);
    }
    let mut draft = Draft::new(&document.source);
    draft.tidy();
    Ok(Some(difference(&document, draft.text())))
}

pub fn actions(
    documents: &mut Documents,
    params: &CodeActionParams,
) -> Result<Option<Vec<CodeActionOrCommand>>, Refused> {
    let document = open(documents, &params.text_document.uri)?;
    let (from, to) = (document.offset(params.range.start), document.offset(params.range.end));
    let is_there = |span: Span| span.start <= to && from <= span.end.max(span.start + 1);
    let mut found: Vec<(String, String, Vec<TextEdit>)> = Vec::new();
    if document.kind == Kind::Profile {
        if let Some(Err(faults)) = documents.load(&document.path) {
            for fault in faults.list().iter().filter(|one| is_there(one.span)).take(MOST_MENDED) {
                let mended = mends_of(fault, &document, faults.list().len());
                found.extend(mended.map(|(new, edit)| {
                    (format!("Write `{new}`"), fault.rule.to_owned(), vec![edit])
                }));
            }
        }
        let offers = documents.offers.get(&document.path);
        let fresh = offers.into_iter().flatten().filter(|one| one.before == document.source.text());
        for offer in fresh.filter(|one| is_there(one.of.0)) {
            let edits = difference(&document, &offer.after);
            found.push((offer.title.clone(), offer.of.1.to_owned(), edits));
        }
    }
    let all = found.into_iter().map(|(title, rule, edits)| {
        let code = Some(NumberOrString::String(rule));
        let told = params.context.diagnostics.iter().filter(|one| one.code == code);
        let changes = HashMap::from([(document.uri.clone(), edits)]);
        CodeActionOrCommand::CodeAction(CodeAction {
            title,
            kind: Some(CodeActionKind::QUICKFIX),
            diagnostics: Some(told.cloned().collect()),
            edit: Some(WorkspaceEdit { changes: Some(changes), ..WorkspaceEdit::default() }),
            ..CodeAction::default()
        })
    });
    Ok(Some(all.collect()))
}

/// What a fault's help says to write in its place, each tried out: it is offered if there are fewer faults
/// then.
fn mends_of<'a>(
    fault: &'a Diagnostic,
    document: &'a Document,
    faults: usize,
) -> impl Iterator<Item = (String, TextEdit)> + 'a {
    let quoted = fault.help.split('`').skip(1).step_by(2).map(str::to_owned);
    let text = document.source.text();
    quoted.take(4).filter_map(move |new| {
        if new.is_empty() || new.contains(['\n', '"']) || new.starts_with("harmonym ") {
            return None;
        }
        let mut after = text.to_owned();
        after.replace_range(fault.span.start..fault.span.end, &new);
        let source = Source::new(document.source.name(), after);
        let left = harmonym_lang::load(&source).err().map_or(0, |faults| faults.list().len());
        (left < faults).then(|| (new.clone(), edit(document, fault.span, new)))
    })
}
