//! What may be written at a place, where names come from and go to, what is in a text.

use super::documents::{Document, Documents, Kind};
use super::position::Lines;
use super::{Refused, refused};
use crate::files::around::Around;
use crate::view::topics::{Topic, find};
use harmonym_lab::assist::{self, Item, ItemKind, Subject, Symbol};
use harmonym_lab::edit::{Draft, Thing, stretches};
use harmonym_lab::score;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::Catalogue;
use lsp_types::{
    CompletionItem, CompletionItemKind, CompletionList, CompletionParams, CompletionResponse,
    CompletionTextEdit, DocumentSymbol, DocumentSymbolParams, DocumentSymbolResponse,
    Documentation, FoldingRange, FoldingRangeParams, GotoDefinitionParams, GotoDefinitionResponse,
    InlayHint, InlayHintLabel, InlayHintParams, Location, MarkupContent, MarkupKind,
    ReferenceParams, SymbolKind, TextDocumentPositionParams, TextEdit, Uri,
};
use std::path::PathBuf;
use std::sync::Arc;

/// The text that is meant; one that is not open is read from the disk.
pub fn open(documents: &Documents, uri: &Uri) -> Result<Document, Refused> {
    documents.get(uri).ok_or_else(|| refused(format!("{} is not open", uri.as_str())))
}

fn catalogue(documents: &mut Documents, profile: Option<&PathBuf>) -> Arc<Catalogue> {
    let loaded = profile.and_then(|path| documents.last_sound(path));
    loaded
        .map_or_else(|| Arc::clone(Catalogue::built_in()), |one| Arc::clone(&one.profile.catalogue))
}

pub fn complete(
    documents: &mut Documents,
    params: &CompletionParams,
) -> Result<CompletionResponse, Refused> {
    let TextDocumentPositionParams { text_document, position } = &params.text_document_position;
    let document = open(documents, &text_document.uri)?;
    let offset = document.offset(*position);
    let profile = documents.profile_of(&document);
    let catalogue = catalogue(documents, profile.as_ref());
    let items = match document.kind {
        Kind::Profile => assist::complete(&document.source, offset, &catalogue),
        Kind::Score | Kind::Player => {
            let text = profile.and_then(|path| documents.text(&path));
            let text = text.map_or_else(|| Source::new("none", ""), |text| (*text).clone());
            let complete = match document.kind {
                Kind::Score => assist::complete_in_score,
                _ => assist::complete_in_player,
            };
            complete(&document.source, offset, &text, &catalogue)
        }
        Kind::Other => Vec::new(),
    };
    let (text, lines) = (document.source.text(), &document.lines);
    let items = items.iter().enumerate().map(|(place, item)| item_of(item, place, text, lines));
    // Controls are looked for by words, which only we know.
    Ok(CompletionResponse::List(CompletionList { is_incomplete: true, items: items.collect() }))
}

fn item_of(item: &Item, place: usize, text: &str, lines: &Lines) -> CompletionItem {
    let kind = match item.kind {
        ItemKind::Control => CompletionItemKind::CONSTANT,
        ItemKind::Step | ItemKind::Cue => CompletionItemKind::FUNCTION,
        ItemKind::Key => CompletionItemKind::PROPERTY,
        ItemKind::Word => CompletionItemKind::KEYWORD,
        ItemKind::Map | ItemKind::Scheme => CompletionItemKind::MODULE,
        ItemKind::Action => CompletionItemKind::EVENT,
        ItemKind::Preset => CompletionItemKind::SNIPPET,
        ItemKind::Number => CompletionItemKind::VARIABLE,
    };
    CompletionItem {
        label: item.label.clone(),
        kind: Some(kind),
        detail: (!item.detail.is_empty()).then(|| item.detail.clone()),
        sort_text: Some(format!("{place:05}")),
        filter_text: item.query.clone().filter(|query| !query.is_empty()),
        text_edit: Some(CompletionTextEdit::Edit(TextEdit {
            range: lines.range(text, item.span),
            new_text: item.insert.clone(),
        })),
        data: item.entry.map(|entry| serde_json::json!([entry.topic, entry.word])),
        ..CompletionItem::default()
    }
}

/// The same with all that there is to say of it.
pub fn resolve(mut item: CompletionItem) -> CompletionItem {
    let entry = item.data.clone().and_then(|data| serde_json::from_value(data).ok());
    if let Some((topic, word)) = entry {
        let (topic, word): (String, String) = (topic, word);
        let found = find(Topic::named(&topic), &word);
        let texts: Vec<String> = found.iter().map(|(_, entry)| entry.markdown(COLUMNS)).collect();
        item.documentation = Some(Documentation::MarkupContent(markdown(texts.join("\n"))));
    }
    item
}

/// How wide what is drawn is in an editor.
pub const COLUMNS: usize = 72;

pub fn markdown(value: String) -> MarkupContent {
    MarkupContent { kind: MarkupKind::Markdown, value }
}

/// What stands at a place, where exactly, and in which text and profile.
pub struct Found<T> {
    pub document: Document,
    pub profile: PathBuf,
    pub span: Span,
    pub what: T,
}

/// What stands at a position.
pub fn subject(
    documents: &Documents,
    at: &TextDocumentPositionParams,
) -> Result<Option<Found<Vec<Subject>>>, Refused> {
    let document = open(documents, &at.text_document.uri)?;
    let offset = document.offset(at.position);
    let Some(profile) = documents.profile_of(&document) else { return Ok(None) };
    let found = match document.kind {
        Kind::Profile => assist::look(&document.source, offset),
        Kind::Score => documents
            .raw(&profile)
            .and_then(|raw| assist::look_in_score(&document.source, offset, &raw)),
        Kind::Player => assist::look_in_player(&document.source, offset),
        Kind::Other => None,
    };
    Ok(found.map(|(span, what)| Found { document, profile, span, what }))
}

/// The thing that is named at a position.
pub fn named(
    documents: &Documents,
    at: &TextDocumentPositionParams,
) -> Result<Option<Found<Thing>>, Refused> {
    let found = subject(documents, at)?;
    Ok(found.and_then(|Found { document, profile, span, what: subjects }| {
        let thing = subjects.into_iter().find_map(|one| match one {
            Subject::Thing(thing) => Some(thing),
            _ => None,
        })?;
        Some(Found { document, profile, span, what: thing })
    }))
}

pub fn define(
    documents: &mut Documents,
    params: &GotoDefinitionParams,
) -> Result<Option<GotoDefinitionResponse>, Refused> {
    let Some(Found { profile, what: thing, .. }) =
        named(documents, &params.text_document_position_params)?
    else {
        return Ok(None);
    };
    let of = documents.of_path(&profile);
    let place = of.and_then(|of| {
        let raw = documents.raw(&profile)?;
        Some(location(&of, thing.definition(&raw)?))
    });
    Ok(place.map(GotoDefinitionResponse::Scalar))
}

fn location(document: &Document, span: Span) -> Location {
    Location {
        uri: document.uri.clone(),
        range: document.lines.range(document.source.text(), span),
    }
}

pub fn refer(
    documents: &mut Documents,
    params: &ReferenceParams,
) -> Result<Option<Vec<Location>>, Refused> {
    let Some(Found { profile, what: thing, .. }) =
        named(documents, &params.text_document_position)?
    else {
        return Ok(None);
    };
    let (Some(of), Some(raw)) = (documents.of_path(&profile), documents.raw(&profile)) else {
        return Ok(None);
    };
    let mut found = Vec::new();
    if params.context.include_declaration {
        found.extend(thing.definition(&raw).map(|span| location(&of, span)));
    }
    let places = Draft::new(&of.source).references(&thing);
    found.extend(places.into_iter().map(|span| location(&of, span)));
    for path in Around::of(&profile).scores {
        let Some(score) = documents.of_path(&path) else { continue };
        for mention in score::mentions(&score.source) {
            if assist::mentioned(&raw, &mention).as_ref() == Some(&thing) {
                found.push(location(&score, mention.span));
            }
        }
    }
    Ok(Some(found))
}

pub fn symbols(
    documents: &mut Documents,
    params: &DocumentSymbolParams,
) -> Result<Option<DocumentSymbolResponse>, Refused> {
    let document = open(documents, &params.text_document.uri)?;
    if document.kind != Kind::Profile {
        return Ok(None);
    }
    let Some(raw) = documents.raw(&document.path) else { return Ok(None) };
    let all = assist::symbols(&document.source, &raw);
    let all = all.iter().map(|one| symbol(one, &document)).collect();
    Ok(Some(DocumentSymbolResponse::Nested(all)))
}

fn symbol(of: &Symbol, document: &Document) -> DocumentSymbol {
    let text = document.source.text();
    let kind = match of.thing {
        Thing::Map(_) => SymbolKind::NAMESPACE,
        Thing::Action(..) => SymbolKind::EVENT,
        Thing::Scheme(_) => SymbolKind::INTERFACE,
        Thing::Setting(_) | Thing::Fact(_) => SymbolKind::VARIABLE,
        Thing::Preset(_) => SymbolKind::FUNCTION,
        Thing::Device(_) => SymbolKind::STRUCT,
    };
    let children = of.children.iter().map(|one| symbol(one, document)).collect();
    #[allow(
        deprecated,
        reason = "the protocol's old mark of what is deprecated has to be filled in"
    )]
    DocumentSymbol {
        name: of.thing.name().to_owned(),
        detail: Some(of.detail.clone()),
        kind,
        tags: None,
        deprecated: None,
        range: document.lines.range(text, of.whole),
        selection_range: document.lines.range(text, of.name),
        children: Some(children),
    }
}

pub fn fold(
    documents: &mut Documents,
    params: &FoldingRangeParams,
) -> Result<Option<Vec<FoldingRange>>, Refused> {
    let document = open(documents, &params.text_document.uri)?;
    if document.kind != Kind::Profile {
        return Ok(None);
    }
    let text = document.source.text();
    let ranges = stretches(text).into_iter().map(|one| document.lines.range(text, one.whole));
    let ranges = ranges.filter(|range| range.start.line < range.end.line);
    let folds = ranges.map(|range| FoldingRange {
        start_line: range.start.line,
        end_line: range.end.line,
        ..FoldingRange::default()
    });
    Ok(Some(folds.collect()))
}

pub fn hints(
    documents: &mut Documents,
    params: &InlayHintParams,
) -> Result<Option<Vec<InlayHint>>, Refused> {
    let document = open(documents, &params.text_document.uri)?;
    if document.kind != Kind::Profile {
        return Ok(None);
    }
    let (Some(Ok(loaded)), Some(raw)) =
        (documents.load(&document.path), documents.raw(&document.path))
    else {
        return Ok(None);
    };
    let text = document.source.text();
    let (from, to) = (document.offset(params.range.start), document.offset(params.range.end));
    let all = assist::left_out(&raw, &loaded.profile).into_iter();
    let all = all.filter(|(at, _)| (from..=to).contains(at)).map(|(at, says)| InlayHint {
        position: document.lines.position(text, at),
        label: InlayHintLabel::String(says),
        kind: None,
        text_edits: None,
        tooltip: None,
        padding_left: Some(true),
        padding_right: None,
        data: None,
    });
    Ok(Some(all.collect()))
}
