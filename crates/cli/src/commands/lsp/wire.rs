//! Messages between an editor and this program, as they go over the wire: a head that says how long
//! the content is, and JSON (Language Server Protocol 3.17, base protocol; JSON-RPC 2.0).
//!
//! Guarantees: nothing is kept that is longer than a message may be; whatever id a request has, its
//! answer has the same, letter for letter.

use crate::failure::Failure;
use crossbeam_channel::{Receiver, Sender, bounded};
use lsp_server::{Connection, ErrorCode, Message, Request, RequestId, Response};
use serde::{Deserialize, Deserializer, Serialize};
use serde_json::value::{RawValue, Value};
use std::io::{self, BufRead, ErrorKind, Read, Write};
use std::thread::JoinHandle;

/// A message has no more bytes than this.
const LONGEST: u64 = 64 * 1024 * 1024;
/// Nor has its head.
const LONGEST_HEAD: u64 = 16 * 1024;

/// What reads and writes.
pub struct Threads {
    reads: JoinHandle<Result<(), Failure>>,
    writes: JoinHandle<io::Result<()>>,
}

/// Begins to read messages from standard input and to write them to standard output.
pub fn begin() -> (Connection, Threads) {
    let (sender, outgoing) = bounded(0);
    let (tell, receiver) = bounded(0);
    // What can't be read is answered by who reads, between the answers.
    let answers = sender.clone();
    let reads = std::thread::spawn(move || read_all(&mut io::stdin().lock(), &tell, &answers));
    let writes = std::thread::spawn(move || write_all(&outgoing));
    (Connection { sender, receiver }, Threads { reads, writes })
}

impl Threads {
    /// Waits for the end of both.
    pub fn join(self) -> Result<(), Failure> {
        let gone = || Failure::new("the editor went away", "let an editor start `harmonym lsp`");
        let read = self.reads.join().map_err(|_| gone())?;
        self.writes.join().map_err(|_| gone())?.map_err(|_| gone())?;
        read
    }
}

fn read_all(
    input: &mut impl BufRead,
    tell: &Sender<Message>,
    answers: &Sender<Message>,
) -> Result<(), Failure> {
    let broken = |error: io::Error| {
        Failure::new(format!("the editor cannot be understood: {error}"), "see what it sends")
    };
    while let Some(content) = content(input).map_err(broken)? {
        match message(&content) {
            Ok(message) => {
                let is_exit =
                    matches!(&message, Message::Notification(told) if told.method == "exit");
                if tell.send(message).is_err() || is_exit {
                    return Ok(());
                }
            }
            Err((code, why)) => {
                let id = RequestId::from("null".to_owned());
                let _ = answers.send(Response::new_err(id, code as i32, why).into());
            }
        }
    }
    Ok(())
}

/// The content of the next message; nothing at the end of all.
fn content(input: &mut impl BufRead) -> io::Result<Option<Vec<u8>>> {
    let wrong = |why: String| io::Error::new(ErrorKind::InvalidData, why);
    let mut length = None;
    let mut head = input.take(LONGEST_HEAD);
    loop {
        let mut line = Vec::new();
        head.read_until(b'\n', &mut line)?;
        if !line.ends_with(b"\n") {
            return match head.limit() {
                0 => Err(wrong(format!("a head is longer than {LONGEST_HEAD} bytes"))),
                _ => Ok(None),
            };
        }
        let line = String::from_utf8_lossy(&line);
        let line = line.trim_end_matches(['\n', '\r']);
        if line.is_empty() {
            break;
        }
        let (name, value) = line.split_once(':').unwrap_or_default();
        if name.eq_ignore_ascii_case("Content-Length") {
            // What has more digits than a number can have is longer, too.
            let value = value.trim();
            let is_number = !value.is_empty() && value.bytes().all(|byte| byte.is_ascii_digit());
            let parsed = value.parse().unwrap_or(u64::MAX);
            length = Some(parsed).filter(|_| is_number);
        }
    }
    let length = length.ok_or_else(|| wrong("a message does not say how long it is".to_owned()))?;
    if length > LONGEST {
        return Err(wrong(format!("a message of {length} bytes; it may have {LONGEST}")));
    }
    // No more room is made than what comes takes.
    let mut content = Vec::new();
    let read = input.take(length).read_to_end(&mut content)?;
    Ok((read as u64 == length).then_some(content))
}

/// A message, with the id of a request as its JSON.
fn message(content: &[u8]) -> Result<Message, (ErrorCode, String)> {
    #[derive(Deserialize)]
    struct Head<'a> {
        // A null that stands there is an id, too.
        #[serde(borrow, default, deserialize_with = "any_value")]
        id: Option<&'a RawValue>,
        method: Option<String>,
        #[serde(default)]
        params: Value,
    }
    let unread = |error: serde_json::Error| (ErrorCode::ParseError, error.to_string());
    let text =
        str::from_utf8(content).map_err(|error| (ErrorCode::ParseError, error.to_string()))?;
    let is_object = text.trim_start().starts_with('{');
    let Head { id, method, params } = match serde_json::from_str(text) {
        Ok(head) => head,
        Err(error) if error.is_data() || !is_object && error.is_syntax() => {
            return Err((ErrorCode::InvalidRequest, error.to_string()));
        }
        Err(error) => return Err(unread(error)),
    };
    match (id.map(RawValue::get), method) {
        (None, Some(method)) => {
            Ok(Message::Notification(lsp_server::Notification { method, params }))
        }
        (Some(id), Some(method)) => {
            // A text, a number, or null (JSON-RPC 2.0, section 4).
            let is_legal = id == "null"
                || id.starts_with(['"', '-'])
                || id.starts_with(|c: char| c.is_ascii_digit());
            match is_legal {
                true => Ok(Request { id: id.to_owned().into(), method, params }.into()),
                false => {
                    Err((ErrorCode::InvalidRequest, "the id is no text and no number".to_owned()))
                }
            }
        }
        // An answer: nothing was asked here.
        (Some(id), None) => Ok(Response::new_ok(id.to_owned().into(), Value::Null).into()),
        (None, None) => Err((ErrorCode::InvalidRequest, "neither a method nor an id".to_owned())),
    }
}

fn any_value<'de, D: Deserializer<'de>>(value: D) -> Result<Option<&'de RawValue>, D::Error> {
    <&RawValue>::deserialize(value).map(Some)
}

fn write_all(outgoing: &Receiver<Message>) -> io::Result<()> {
    let mut output = io::stdout().lock();
    for message in outgoing {
        let text = written(&message)?;
        write!(output, "Content-Length: {}\r\n\r\n{text}", text.len())?;
        output.flush()?;
    }
    Ok(())
}

/// A message as JSON; the ids of answers are those of their requests.
fn written(message: &Message) -> io::Result<String> {
    #[derive(Serialize)]
    struct Told<'a> {
        jsonrpc: &'static str,
        #[serde(flatten)]
        message: &'a Message,
    }
    #[derive(Serialize)]
    struct Answer<'a> {
        jsonrpc: &'static str,
        id: Box<RawValue>,
        #[serde(skip_serializing_if = "Option::is_none")]
        result: Option<&'a Value>,
        #[serde(skip_serializing_if = "Option::is_none")]
        error: Option<&'a lsp_server::ResponseError>,
    }
    let jsonrpc = "2.0";
    let Message::Response(response) = message else {
        return Ok(serde_json::to_string(&Told { jsonrpc, message })?);
    };
    let id: String = serde_json::from_value(serde_json::to_value(&response.id)?)?;
    let id = RawValue::from_string(id)?;
    let (result, error) = match &response.response_result {
        Ok(result) => (Some(result), None),
        Err(error) => (None, Some(error)),
    };
    Ok(serde_json::to_string(&Answer { jsonrpc, id, result, error })?)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(bytes: &[u8]) -> io::Result<Option<Vec<u8>>> {
        content(&mut io::Cursor::new(bytes))
    }

    #[test]
    fn what_says_to_be_longer_than_a_message_may_be_is_refused_before_it_comes() {
        for length in ["67108865", "4294967296", "18446744073709551615", "99999999999999999999999"]
        {
            let head = format!("Content-Length: {length}\r\n\r\n");
            assert_eq!(
                read(head.as_bytes()).unwrap_err().kind(),
                ErrorKind::InvalidData,
                "{length}"
            );
        }
        // Just as long as it may be: only that it is cut short is left to say.
        assert_eq!(read(b"Content-Length: 67108864\r\n\r\n{}").unwrap(), None);
        for head in
            ["Content-Length: -1", "Content-Length: +2", "Content-Length:", "Length: 2", "x"]
        {
            assert!(read(format!("{head}\r\n\r\n{{}}").as_bytes()).is_err(), "{head}");
        }
        let long = format!("Content-Type: {}\r\n", "x".repeat(16 * 1024));
        assert!(read(long.as_bytes()).is_err());
        let most = format!("x: {}\r\ncontent-length:2\r\n\r\n{{}}", "x".repeat(16 * 1024 - 25));
        assert_eq!(read(most.as_bytes()).unwrap().as_deref(), Some(&b"{}"[..]));
        let more = most.replacen('x', "xx", 1);
        assert!(read(more.as_bytes()).is_err());
    }

    #[test]
    fn an_answer_has_the_id_of_its_request_letter_for_letter() {
        for id in [
            "1",
            "-3",
            "2147483648",
            "123456789012345678901234567890",
            "1.5",
            "1e400",
            "\"a\"",
            "\"1\"",
            "\"\"",
            "\"\\u0000\\ud83d\\ude00\"",
            "null",
        ] {
            let text = format!("{{\"jsonrpc\":\"2.0\",\"id\":{id},\"method\":\"x\"}}");
            let Ok(Message::Request(request)) = message(text.as_bytes()) else { panic!("{id}") };
            let answer = Response::new_ok(request.id, Value::Null);
            let told = format!("{{\"jsonrpc\":\"2.0\",\"id\":{id},\"result\":null}}");
            assert_eq!(written(&answer.into()).unwrap(), told);
        }
        for odd in [
            "{\"id\":[1],\"method\":\"x\"}",
            "{\"id\":true,\"method\":\"x\"}",
            "{}",
            "[]",
            "1",
            "{\"method\":1}",
        ] {
            let Err((code, _)) = message(odd.as_bytes()) else { panic!("{odd}") };
            assert_eq!(code as i32, ErrorCode::InvalidRequest as i32, "{odd}");
        }
        for torn in [&b"{\"id\":1"[..], b"\xff", b""] {
            let Err((code, _)) = message(torn) else { panic!() };
            assert_eq!(code as i32, ErrorCode::ParseError as i32);
        }
    }
}
