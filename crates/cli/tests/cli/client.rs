//! An editor for tests: a client of the Language Server Protocol over standard input and output.

#![allow(clippy::needless_pass_by_value, reason = "parameters are written where they are given")]

use crate::harness::Folder;
use serde_json::{Value, json};
use std::collections::HashMap;
use std::io::{BufRead, BufReader, Write};
use std::process::{Child, ChildStdin, Command, Stdio};
use std::sync::mpsc::{Receiver, RecvTimeoutError, channel};
use std::time::Duration;

/// Longer than any answer takes, on any machine.
const PATIENCE: Duration = Duration::from_secs(60);

/// An editor: texts that are open, and what it was told of them.
pub struct Editor<'f> {
    folder: &'f Folder,
    child: Child,
    to: Option<ChildStdin>,
    from: Receiver<Value>,
    next: i64,
    pub texts: HashMap<String, (i64, String)>,
    told: HashMap<String, (i64, Vec<Value>)>,
}

impl<'f> Editor<'f> {
    pub fn new(folder: &'f Folder) -> Self {
        Self::counting(folder, "utf-16").0
    }

    /// One that counts columns so; with what the server says it can do.
    pub fn counting(folder: &'f Folder, encoding: &str) -> (Self, Value) {
        let mut child = Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .args(["lsp", "--stdio"])
            .current_dir(folder.path("."))
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let (to, out) = (child.stdin.take(), child.stdout.take().unwrap());
        let (sender, from) = channel();
        std::thread::spawn(move || {
            let mut out = BufReader::new(out);
            while let Some(message) = read(&mut out) {
                if sender.send(message).is_err() {
                    return;
                }
            }
        });
        let (texts, told) = (HashMap::new(), HashMap::new());
        let mut editor = Self { folder, child, to, from, next: 0, texts, told };
        let encodings = json!({ "general": { "positionEncodings": [encoding] } });
        let can = editor.ask(
            "initialize",
            json!({ "processId": null, "rootUri": null, "capabilities": encodings }),
        );
        editor.tell("initialized", json!({}));
        (editor, can)
    }

    fn send(&mut self, message: &Value) {
        let text = message.to_string();
        let to = self.to.as_mut().unwrap();
        write!(to, "Content-Length: {}\r\n\r\n{text}", text.len()).unwrap();
        to.flush().unwrap();
    }

    pub fn tell(&mut self, method: &str, params: Value) {
        self.send(&json!({ "jsonrpc": "2.0", "method": method, "params": params }));
    }

    /// The whole response to a request.
    pub fn response(&mut self, method: &str, params: Value) -> Value {
        self.next += 1;
        let id = self.next;
        self.send(&json!({ "jsonrpc": "2.0", "id": id, "method": method, "params": params }));
        loop {
            let message = self.from.recv_timeout(PATIENCE).expect("an answer");
            match message.get("id") {
                Some(other) if other == id => return message,
                _ => self.note(message),
            }
        }
    }

    pub fn ask(&mut self, method: &str, params: Value) -> Value {
        let response = self.response(method, params);
        assert!(response.get("error").is_none(), "{method}: {response}");
        response["result"].clone()
    }

    fn note(&mut self, message: Value) {
        assert_eq!(message["method"], "textDocument/publishDiagnostics", "{message}");
        let params = &message["params"];
        let version = params["version"].as_i64().unwrap_or(-1);
        let uri = params["uri"].as_str().unwrap().to_owned();
        self.told.insert(uri, (version, params["diagnostics"].as_array().unwrap().clone()));
    }

    pub fn uri(&self, name: &str) -> String {
        let path = std::fs::canonicalize(self.folder.path(".")).unwrap().join(name);
        format!("file://{}", path.display())
    }

    pub fn open(&mut self, name: &str) -> String {
        let text = self.folder.read(name);
        self.open_as(name, &text)
    }

    pub fn open_as(&mut self, name: &str, text: &str) -> String {
        let uri = self.uri(name);
        self.texts.insert(uri.clone(), (1, text.to_owned()));
        let document = json!({ "uri": uri, "languageId": "toml", "version": 1, "text": text });
        self.tell("textDocument/didOpen", json!({ "textDocument": document }));
        uri
    }

    /// Puts `new` in the place of `old`, as an editor tells it.
    pub fn edit(&mut self, uri: &str, old: &str, new: &str) {
        let (version, text) = self.texts.get(uri).unwrap().clone();
        let at = text.find(old).unwrap_or_else(|| panic!("no {old}"));
        let range = json!({ "start": position(&text, at), "end": position(&text, at + old.len()) });
        let after = text.replacen(old, new, 1);
        self.texts.insert(uri.to_owned(), (version + 1, after));
        self.tell(
            "textDocument/didChange",
            json!({
                "textDocument": { "uri": uri, "version": version + 1 },
                "contentChanges": [{ "range": range, "text": new }],
            }),
        );
    }

    /// What is told of the text as it is now.
    pub fn diagnostics(&mut self, uri: &str) -> Vec<Value> {
        let wanted = self.texts[uri].0;
        loop {
            if let Some((version, told)) = self.told.get(uri)
                && *version == wanted
            {
                return told.clone();
            }
            match self.from.recv_timeout(PATIENCE) {
                Ok(message) => self.note(message),
                Err(RecvTimeoutError::Timeout) => panic!("nothing was told of {uri}"),
                Err(error) => panic!("{error}"),
            }
        }
    }

    /// The position behind the first `before` in a text.
    pub fn behind(&self, uri: &str, before: &str) -> Value {
        let text = &self.texts[uri].1;
        let at = text.find(before).unwrap_or_else(|| panic!("no {before}"));
        json!({ "textDocument": { "uri": uri }, "position": position(text, at + before.len()) })
    }

    /// The labels of what may be written behind `before`.
    pub fn completed(&mut self, uri: &str, before: &str) -> Vec<String> {
        let at = self.behind(uri, before);
        let list = self.ask("textDocument/completion", at);
        let items = list["items"].as_array().unwrap();
        items.iter().map(|item| item["label"].as_str().unwrap().to_owned()).collect()
    }

    pub fn hovered(&mut self, uri: &str, before: &str) -> String {
        let at = self.behind(uri, before);
        let hover = self.ask("textDocument/hover", at);
        hover["contents"]["value"].as_str().unwrap_or_default().to_owned()
    }

    pub fn end(mut self) {
        assert_eq!(self.ask("shutdown", Value::Null), Value::Null);
        self.tell("exit", Value::Null);
        self.to = None;
        assert!(self.child.wait().unwrap().success());
    }
}

impl Drop for Editor<'_> {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

fn read(out: &mut impl BufRead) -> Option<Value> {
    let mut length = 0;
    loop {
        let mut line = String::new();
        if out.read_line(&mut line).ok()? == 0 {
            return None;
        }
        match line.trim().to_ascii_lowercase().strip_prefix("content-length:") {
            Some(number) => length = number.trim().parse().ok()?,
            None if line.trim().is_empty() => break,
            None => {}
        }
    }
    let mut text = vec![0; length];
    out.read_exact(&mut text).ok()?;
    serde_json::from_slice(&text).ok()
}

/// A byte as line and UTF-16 column.
pub fn position(text: &str, at: usize) -> Value {
    let start = text[..at].rfind('\n').map_or(0, |end| end + 1);
    let character: usize = text[start..at].chars().map(char::len_utf16).sum();
    json!({ "line": text[..at].matches('\n').count(), "character": character })
}

pub fn offset(text: &str, position: &Value) -> usize {
    let line = position["line"].as_u64().unwrap() as usize;
    let start: usize = text.split_inclusive('\n').take(line).map(str::len).sum();
    let mut left = position["character"].as_u64().unwrap() as usize;
    for (at, c) in text[start..].char_indices() {
        if left == 0 {
            return start + at;
        }
        left -= c.len_utf16();
    }
    text.len()
}

/// A text after the edits that an editor was given.
pub fn edited(text: &str, edits: &Value) -> String {
    let mut text = text.to_owned();
    for edit in edits.as_array().unwrap().iter().rev() {
        let (start, end) = (&edit["range"]["start"], &edit["range"]["end"]);
        let (start, end) = (offset(&text, start), offset(&text, end));
        text.replace_range(start..end, edit["newText"].as_str().unwrap());
    }
    text
}
