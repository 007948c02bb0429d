//! `lsp`: the Language Server Protocol over standard input and output, for profiles, scores and players'
//! files. It reads files and never writes any.

mod answer;
mod diagnose;
mod documents;
mod edits;
mod hover;
mod position;
mod review;
mod wire;

use crate::failure::Failure;
use crossbeam_channel::{Receiver, Sender, select};
use documents::Documents;
use lsp_server::{Connection, ErrorCode, Message, Notification, Request, Response};
use lsp_types::notification::{
    DidChangeTextDocument, DidCloseTextDocument, DidOpenTextDocument, DidSaveTextDocument,
    Notification as _,
};
use lsp_types::request::{
    CodeActionRequest, Completion, DocumentSymbolRequest, FoldingRangeRequest, Formatting,
    GotoDefinition, HoverRequest, InlayHintRequest, PrepareRenameRequest, References, Rename,
    Request as _, ResolveCompletionItem,
};
use lsp_types::{
    CodeActionKind, CodeActionOptions, CompletionOptions, HoverProviderCapability,
    InitializeParams, OneOf, PositionEncodingKind, RenameOptions, ServerCapabilities,
    TextDocumentSyncCapability, TextDocumentSyncKind, TextDocumentSyncOptions,
};
use position::Encoding;
use review::{Reviewed, Task};
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::io::IsTerminal;

pub fn run() -> Result<(), Failure> {
    if std::io::stdin().is_terminal() {
        let help =
            "let your editor start it: it speaks the Language Server Protocol with `harmonym lsp`";
        return Err(Failure::new("`lsp` is for editors, not for a terminal", help));
    }
    let (connection, threads) = wire::begin();
    let broken = |error: &dyn std::fmt::Display| {
        Failure::new(format!("the editor went away: {error}"), "let an editor start `harmonym lsp`")
    };
    let (id, params) = match connection.initialize_start() {
        Ok(begun) => begun,
        Err(error) => {
            // What could not be read says more than that nothing came.
            drop(connection);
            threads.join()?;
            return Err(broken(&error));
        }
    };
    let params: InitializeParams =
        serde_json::from_value(params).map_err(|error| broken(&error))?;
    let encoding = encoding(&params);
    let result = serde_json::json!({
        "capabilities": capabilities(encoding),
        "serverInfo": { "name": "harmonym", "version": env!("CARGO_PKG_VERSION") },
    });
    connection.initialize_finish(id, result).map_err(|error| broken(&error))?;
    let (tasks, done) = review::worker();
    let mut server = Server {
        documents: Documents::new(encoding),
        out: connection.sender.clone(),
        tasks,
        stale: false,
    };
    let ended = server.serve(&connection, &done);
    drop((server, connection));
    threads.join()?;
    ended
}

/// The encoding of columns: that of the editor which counts bytes, if it can, else UTF-16.
fn encoding(params: &InitializeParams) -> Encoding {
    let general = params.capabilities.general.as_ref();
    let known = general.and_then(|general| general.position_encodings.as_ref());
    let has = |kind: &PositionEncodingKind| known.is_some_and(|known| known.contains(kind));
    match () {
        () if has(&PositionEncodingKind::UTF8) => Encoding::Utf8,
        () if has(&PositionEncodingKind::UTF32) => Encoding::Utf32,
        () => Encoding::Utf16,
    }
}

fn capabilities(encoding: Encoding) -> ServerCapabilities {
    ServerCapabilities {
        position_encoding: Some(encoding.kind()),
        text_document_sync: Some(TextDocumentSyncCapability::Options(TextDocumentSyncOptions {
            open_close: Some(true),
            change: Some(TextDocumentSyncKind::INCREMENTAL),
            save: Some(true.into()),
            ..TextDocumentSyncOptions::default()
        })),
        completion_provider: Some(CompletionOptions {
            resolve_provider: Some(true),
            trigger_characters: Some(
                ["\"", ".", "|", " ", "(", ",", "@", "=", "["].map(str::to_owned).to_vec(),
            ),
            ..CompletionOptions::default()
        }),
        hover_provider: Some(HoverProviderCapability::Simple(true)),
        definition_provider: Some(OneOf::Left(true)),
        references_provider: Some(OneOf::Left(true)),
        rename_provider: Some(OneOf::Right(RenameOptions {
            prepare_provider: Some(true),
            work_done_progress_options: lsp_types::WorkDoneProgressOptions::default(),
        })),
        document_symbol_provider: Some(OneOf::Left(true)),
        folding_range_provider: Some(true.into()),
        document_formatting_provider: Some(OneOf::Left(true)),
        inlay_hint_provider: Some(OneOf::Left(true)),
        code_action_provider: Some(
            CodeActionOptions {
                code_action_kinds: Some(vec![CodeActionKind::QUICKFIX]),
                ..CodeActionOptions::default()
            }
            .into(),
        ),
        ..ServerCapabilities::default()
    }
}

struct Server {
    documents: Documents,
    out: Sender<Message>,
    tasks: Sender<Task>,
    /// Something changed since all was looked through.
    stale: bool,
}

impl Server {
    fn serve(&mut self, connection: &Connection, done: &Receiver<Reviewed>) -> Result<(), Failure> {
        loop {
            // What hands type comes in bursts: all of it is taken in before anything is told.
            if self.stale && connection.receiver.is_empty() {
                self.stale = false;
                self.diagnose();
            }
            select! {
                recv(connection.receiver) -> message => {
                    let Ok(message) = message else { return Ok(()) };
                    if let Message::Request(request) = &message
                        && connection.handle_shutdown(request).unwrap_or(true)
                    {
                        return Ok(());
                    }
                    self.take(message);
                }
                recv(done) -> reviewed => if let Ok(reviewed) = reviewed {
                    self.reviewed(reviewed);
                },
            }
        }
    }

    fn take(&mut self, message: Message) {
        match message {
            Message::Request(request) => {
                let response = self.respond(request);
                let _ = self.out.send(response.into());
            }
            Message::Notification(told) => self.notified(told),
            Message::Response(_) => {}
        }
    }

    fn notified(&mut self, told: Notification) {
        let (method, params) = (told.method.as_str(), told.params);
        match method {
            DidOpenTextDocument::METHOD => {
                if let Ok(params) = read::<lsp_types::DidOpenTextDocumentParams>(params) {
                    self.documents.open(params.text_document);
                }
            }
            DidChangeTextDocument::METHOD => {
                if let Ok(params) = read::<lsp_types::DidChangeTextDocumentParams>(params) {
                    self.documents.change(&params);
                }
            }
            DidCloseTextDocument::METHOD => {
                if let Ok(params) = read::<lsp_types::DidCloseTextDocumentParams>(params) {
                    self.documents.close(&params.text_document.uri);
                    self.publish(params.text_document.uri, None, Vec::new());
                }
            }
            DidSaveTextDocument::METHOD => {}
            _ => return,
        }
        self.stale = true;
    }

    fn respond(&mut self, request: Request) -> Response {
        let Request { id, method, params } = request;
        let documents = &mut self.documents;
        let answered = match method.as_str() {
            Completion::METHOD => answer_to(params, |params| answer::complete(documents, &params)),
            ResolveCompletionItem::METHOD => answer_to(params, |item| Ok(answer::resolve(item))),
            HoverRequest::METHOD => answer_to(params, |params| hover::hover(documents, &params)),
            GotoDefinition::METHOD => {
                answer_to(params, |params| answer::define(documents, &params))
            }
            References::METHOD => answer_to(params, |params| answer::refer(documents, &params)),
            PrepareRenameRequest::METHOD => {
                answer_to(params, |params| edits::may_rename(documents, &params))
            }
            Rename::METHOD => answer_to(params, |params| edits::rename(documents, &params)),
            DocumentSymbolRequest::METHOD => {
                answer_to(params, |params| answer::symbols(documents, &params))
            }
            FoldingRangeRequest::METHOD => {
                answer_to(params, |params| answer::fold(documents, &params))
            }
            Formatting::METHOD => answer_to(params, |params| edits::format(documents, &params)),
            InlayHintRequest::METHOD => {
                answer_to(params, |params| answer::hints(documents, &params))
            }
            CodeActionRequest::METHOD => {
                answer_to(params, |params| edits::actions(documents, &params))
            }
            _ => Err((ErrorCode::MethodNotFound, format!("{method} is not known here"))),
        };
        match answered {
            Ok(result) => Response::new_ok(id, result),
            Err((code, message)) => Response::new_err(id, code as i32, message),
        }
    }
}

/// Why a request has no answer.
type Refused = (ErrorCode, String);

/// A request that cannot be met, in words.
fn refused(why: impl Into<String>) -> Refused {
    (ErrorCode::RequestFailed, why.into())
}

fn read<T: DeserializeOwned>(params: serde_json::Value) -> Result<T, Refused> {
    serde_json::from_value(params)
        .map_err(|error| (ErrorCode::InvalidParams, format!("these parameters say: {error}")))
}

fn answer_to<P: DeserializeOwned, R: Serialize>(
    params: serde_json::Value,
    answer: impl FnOnce(P) -> Result<R, Refused>,
) -> Result<serde_json::Value, Refused> {
    let answer = answer(read(params)?)?;
    serde_json::to_value(answer).map_err(|error| (ErrorCode::InternalError, error.to_string()))
}
