//! How long an editor waits: answers on the demo, and the faults of a change in a profile of 5,000 actions
//! against the time of reading and compiling that profile.
//! `cargo bench -p harmonym --bench editor`

use harmonym_lang::load;
use harmonym_lang::source::Source;
use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Read, Write};
use std::process::{Child, ChildStdout, Command, Stdio};
use std::time::{Duration, Instant};

const TOOL: &str = env!("CARGO_BIN_EXE_harmonym");
const DEMO: &str = include_str!("../demo/harmonym.toml");
const ROUNDS: usize = 200;
const LARGE_ROUNDS: usize = 15;

struct Editor {
    child: Child,
    out: BufReader<ChildStdout>,
    next: u64,
}

impl Editor {
    fn open(uri: &str, text: &str) -> Self {
        let mut child = Command::new(TOOL)
            .arg("lsp")
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .expect("the tool starts");
        let out = BufReader::new(child.stdout.take().expect("its output"));
        let mut editor = Self { child, out, next: 0 };
        editor.ask("initialize", &json!({ "capabilities": {} }));
        editor.tell("initialized", &json!({}));
        let document = json!({ "uri": uri, "languageId": "toml", "version": 1, "text": text });
        editor.tell("textDocument/didOpen", &json!({ "textDocument": document }));
        editor.diagnosed();
        editor
    }

    fn send(&mut self, message: &Value) {
        let text = message.to_string();
        let to = self.child.stdin.as_mut().expect("its input");
        write!(to, "Content-Length: {}\r\n\r\n{text}", text.len()).expect("it reads");
        to.flush().expect("it reads");
    }

    fn tell(&mut self, method: &str, params: &Value) {
        self.send(&json!({ "jsonrpc": "2.0", "method": method, "params": params }));
    }

    fn read(&mut self) -> Value {
        let mut length = 0;
        loop {
            let mut line = String::new();
            self.out.read_line(&mut line).expect("a line");
            match line.trim().strip_prefix("Content-Length:") {
                Some(number) => length = number.trim().parse().expect("a length"),
                None if line.trim().is_empty() => break,
                None => {}
            }
        }
        let mut text = vec![0; length];
        self.out.read_exact(&mut text).expect("a message");
        serde_json::from_slice(&text).expect("JSON")
    }

    fn ask(&mut self, method: &str, params: &Value) -> Value {
        self.next += 1;
        let id = self.next;
        self.send(&json!({ "jsonrpc": "2.0", "id": id, "method": method, "params": params }));
        loop {
            let message = self.read();
            if message["id"] == id {
                return message["result"].clone();
            }
        }
    }

    /// Waits until faults or findings are told.
    fn diagnosed(&mut self) -> usize {
        loop {
            let message = self.read();
            if message["method"] == "textDocument/publishDiagnostics" {
                return message["params"]["diagnostics"].as_array().map_or(0, Vec::len);
            }
        }
    }
}

impl Drop for Editor {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The middle one and the longest of some times.
fn spread(mut times: Vec<Duration>) -> (Duration, Duration) {
    times.sort();
    (times[times.len() / 2], times[times.len() - 1])
}

fn of_demo() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("harmonym.toml");
    std::fs::write(&path, DEMO).expect("a file");
    let uri = format!("file://{}", path.display());
    let mut editor = Editor::open(&uri, DEMO);
    let lines: Vec<&str> = DEMO.lines().collect();
    let document = json!({ "uri": uri });
    let whole =
        json!({ "start": { "line": 0, "character": 0 }, "end": { "line": 9999, "character": 0 } });
    for method in
        ["completion", "hover", "definition", "rename", "documentSymbol", "inlayHint", "formatting"]
    {
        let times = (0..ROUNDS).map(|round| {
            let line = round * 37 % lines.len();
            let character = round * 11 % lines[line].len().max(1);
            let params = json!({
                "textDocument": document,
                "position": { "line": line, "character": character },
                "range": whole,
                "newName": "other-name",
                "options": { "tabSize": 4, "insertSpaces": true },
            });
            let begin = Instant::now();
            editor.ask(&format!("textDocument/{method}"), &params);
            begin.elapsed()
        });
        let (middle, most) = spread(times.collect());
        println!("{method} on the demo: {middle:.1?}, at most {most:.1?}");
    }
}

fn of_many() {
    let mut text = "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n".to_owned();
    for index in 0..5000 {
        let map = index / 100;
        if index % 100 == 0 {
            text.push_str(&format!("[map.m{map}]\n"));
        }
        text.push_str(&format!(
            "[map.m{map}.a{index}]\nvalue = \"axis\"\n\
             bind.pad = \"pad.left-stick.x | deadzone 0.1 full=0.95 | curve 1.5\"\n"
        ));
    }
    let folder = tempfile::tempdir().expect("a folder");
    let uri = format!("file://{}", folder.path().join("harmonym.toml").display());
    let mut editor = Editor::open(&uri, &text);
    let line = text.lines().count() - 2;
    let mut words = ["axes", "axis"].into_iter().cycle();
    let mut compiles = Vec::new();
    let mut answers = Vec::new();
    for version in 2..2 + 2 * LARGE_ROUNDS {
        let begin = Instant::now();
        assert!(load(&Source::new("p", &*text)).is_ok());
        compiles.push(begin.elapsed());
        let word = words.next().unwrap_or_default();
        let range = json!({ "start": { "line": line, "character": 9 }, "end": { "line": line, "character": 13 } });
        let begin = Instant::now();
        editor.tell(
            "textDocument/didChange",
            &json!({
                "textDocument": { "uri": uri, "version": version },
                "contentChanges": [{ "range": range, "text": word }],
            }),
        );
        let told = editor.diagnosed();
        if word == "axes" {
            assert_eq!(told, 1);
            answers.push(begin.elapsed());
        }
    }
    let (compile, _) = spread(compiles);
    let (answer, most) = spread(answers);
    let ratio = answer.as_secs_f64() / compile.as_secs_f64();
    println!(
        "the fault of a change in 5,000 actions: {answer:.0?}, at most {most:.0?}; {ratio:.2} times \
         reading and compiling them"
    );
}

fn main() {
    of_demo();
    of_many();
}
