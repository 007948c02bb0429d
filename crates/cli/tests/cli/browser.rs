//! The page in a real browser, without a window: keys, pointer, touch and pads as the browser tells them. Driven by
//! the browser's own debugging protocol.

use crate::harness::Folder;
use crate::pty::Pty;
use rustix::process::{Pid, Signal, kill_process};
use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Write as _};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::thread::sleep;
use std::time::{Duration, Instant};
use tungstenite::stream::MaybeTlsStream;
use tungstenite::{Message, WebSocket};

/// So long something may take to come about.
const PATIENCE: Duration = Duration::from_secs(30);

/// The tool with its page, and a browser that looks at it.
struct Browser {
    tool: Option<Child>,
    address: String,
    browser: Child,
    socket: WebSocket<MaybeTlsStream<TcpStream>>,
    count: u64,
    /// Where the page asked for something.
    asked: Vec<String>,
    _home: tempfile::TempDir,
}

impl Drop for Browser {
    fn drop(&mut self) {
        let _ = self.browser.kill();
        let _ = self.browser.wait();
        if let Some(tool) = &mut self.tool {
            let _ = tool.kill();
            let _ = tool.wait();
        }
    }
}

impl Browser {
    /// A browser that looks at the page of the tool, which runs with these arguments.
    fn open(folder: &Folder, line: &[&str]) -> Self {
        let mut own = Self::at(String::new());
        let mut tool = Command::new(env!("CARGO_BIN_EXE_harmonym"))
            .arg("page")
            .args(line)
            .current_dir(folder.path("."))
            .env_remove("LD_LIBRARY_PATH")
            .stdin(Stdio::null())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("the tool");
        let mut address = String::new();
        let told = tool.stdout.take().expect("its output");
        BufReader::new(told).read_line(&mut address).expect("an address");
        own.address = address.trim().to_owned();
        own.tool = Some(tool);
        own
    }

    /// A browser for an address.
    fn at(address: String) -> Self {
        let home = tempfile::tempdir().expect("a folder");
        let browser = Command::new("chromium")
            .args([
                "--headless",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-background-networking",
            ])
            .args([
                "--disable-component-update",
                "--disable-sync",
                "--no-first-run",
                "--touch-events=enabled",
            ])
            .args(["--remote-debugging-port=0", "--window-size=1280,900", "about:blank"])
            .arg(format!("--user-data-dir={}", home.path().display()))
            .env_remove("LD_LIBRARY_PATH")
            .stdin(Stdio::null())
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn();
        let browser = browser.expect("chromium");
        let until = Instant::now() + PATIENCE;
        let port = loop {
            let file = std::fs::read_to_string(home.path().join("DevToolsActivePort"));
            match file.ok().and_then(|text| Some(text.lines().next()?.to_owned())) {
                Some(port) => break port,
                None => sleep(Duration::from_millis(50)),
            }
            assert!(Instant::now() < until, "the browser does not start");
        };
        let page = target(&port);
        let (socket, _) = tungstenite::connect(page).expect("the browser's socket");
        let mut own =
            Self { tool: None, address, browser, socket, count: 0, asked: Vec::new(), _home: home };
        for domain in ["Page.enable", "Runtime.enable", "Network.enable"] {
            own.call(domain, json!({}));
        }
        own
    }

    /// Calls something of the browser, and gives what it answers.
    #[allow(
        clippy::needless_pass_by_value,
        reason = "what is called with is written where it is called"
    )]
    fn call(&mut self, method: &str, params: Value) -> Value {
        self.count += 1;
        let message = json!({ "id": self.count, "method": method, "params": params });
        self.socket.send(Message::text(message.to_string())).expect("sent");
        loop {
            let Message::Text(text) = self.socket.read().expect("an answer") else { continue };
            let told: Value = serde_json::from_str(&text).expect("JSON");
            match told["method"].as_str() {
                Some("Network.requestWillBeSent") => {
                    let url = told["params"]["request"]["url"].as_str().unwrap_or_default();
                    self.asked.push(url.to_owned());
                }
                Some("Network.webSocketCreated") => {
                    self.asked.push(told["params"]["url"].as_str().unwrap_or_default().to_owned());
                }
                Some("Runtime.exceptionThrown") => panic!("{told}"),
                _ => {}
            }
            if told["id"] == json!(self.count) {
                assert!(told["error"].is_null(), "{method}: {told}");
                return told["result"].clone();
            }
        }
    }

    /// What an expression is on the page.
    fn value(&mut self, expression: &str) -> Value {
        let told = self.call(
            "Runtime.evaluate",
            json!({ "expression": expression, "awaitPromise": true, "returnByValue": true, "userGesture": true }),
        );
        assert!(told["exceptionDetails"].is_null(), "{expression}: {told}");
        told["result"]["value"].clone()
    }

    /// Waits until an expression is true on the page.
    fn wait_for(&mut self, expression: &str) {
        let until = Instant::now() + PATIENCE;
        while self.value(expression) != json!(true) {
            if Instant::now() > until {
                let all = self.value("document.body.innerText");
                panic!("never so: {expression}\n{}", all.as_str().unwrap_or_default());
            }
            sleep(Duration::from_millis(30));
        }
    }

    fn visit(&mut self) {
        let address = self.address.clone();
        self.call("Page.navigate", json!({ "url": address }));
        self.wait_for(
            "document.readyState === 'complete' && typeof rows !== 'undefined' && rows.length > 0",
        );
    }

    fn key(&mut self, kind: &str, code: &str, key: &str) {
        self.call("Input.dispatchKeyEvent", json!({ "type": kind, "code": code, "key": key }));
    }

    #[allow(
        clippy::needless_pass_by_value,
        reason = "what is called with is written where it is called"
    )]
    fn mouse(&mut self, kind: &str, (x, y): (f64, f64), more: Value) {
        let mut params = json!({ "type": kind, "x": x, "y": y });
        for (name, value) in more.as_object().expect("an object") {
            params[name] = value.clone();
        }
        self.call("Input.dispatchMouseEvent", params);
    }

    /// The middle of an element.
    fn middle(&mut self, of: &str) -> (f64, f64) {
        let place = self.value(&format!(
            "(() => {{ const b = {of}.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]; }})()"
        ));
        (place[0].as_f64().expect("x"), place[1].as_f64().expect("y"))
    }

    /// Whether an event of an action was told, as a row of the page.
    fn wait_for_event(&mut self, action: &str, word: &str) {
        self.wait_for(&format!(
            "[...document.querySelectorAll('#events li')].some(li => li.textContent.includes({action:?}) && li.textContent.includes({word:?}))"
        ));
    }

    /// Ends the tool, and gives what it recorded.
    fn end(mut self, folder: &Folder, take: &str) -> (String, Vec<String>) {
        let tool = self.tool.as_mut().expect("the tool");
        kill_process(Pid::from_child(tool), Signal::INT).expect("a signal");
        assert_eq!(tool.wait().expect("an end").code(), Some(0));
        (folder.read(take), self.asked.clone())
    }
}

/// The socket of the browser's page.
fn target(port: &str) -> String {
    use std::io::Read;
    let until = Instant::now() + PATIENCE;
    loop {
        let mut stream = TcpStream::connect(format!("127.0.0.1:{port}")).expect("the browser");
        stream.set_read_timeout(Some(PATIENCE)).expect("a timeout");
        write!(
            stream,
            "GET /json/list HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nConnection: close\r\n\r\n"
        )
        .expect("asked");
        // It keeps the connection open: what is whole is read.
        let (mut text, mut list) = (String::new(), Value::Null);
        let mut piece = [0; 4096];
        while let Ok(count @ 1..) = stream.read(&mut piece) {
            text.push_str(&String::from_utf8_lossy(&piece[..count]));
            let body = text.split_once("\r\n\r\n").map_or("", |(_, body)| body);
            if let Ok(whole) = serde_json::from_str(body.trim()) {
                list = whole;
                break;
            }
        }
        let pages = list.as_array().into_iter().flatten();
        let page = pages
            .filter(|one| one["type"] == "page")
            .find_map(|one| one["webSocketDebuggerUrl"].as_str());
        if let Some(page) = page {
            return page.to_owned();
        }
        assert!(Instant::now() < until, "the browser has no page: {text}");
        sleep(Duration::from_millis(50));
    }
}

/// The lines of a take that are about a control.
fn of<'t>(take: &'t str, control: &str) -> Vec<&'t str> {
    let part = format!("\"control\":\"{control}\"");
    take.lines().filter(|line| line.contains(&part)).collect()
}

#[test]
#[ignore = "needs chromium"]
fn the_page_hears_keys_pointer_and_touch_and_tells_nobody_else() {
    let folder = Folder::with_demo();
    let mut page = Browser::open(&folder, &["--record", "own.take.jsonl"]);
    page.visit();
    let field = page.middle("document.getElementById('field')");
    page.value("document.getElementById('field').focus()");
    page.key("keyDown", "KeyH", "h");
    page.wait_for_event("quay.hail", "fire");
    page.key("keyUp", "KeyH", "h");
    // Held, and the field left: it comes up.
    page.key("keyDown", "KeyT", "t");
    page.wait_for_event("quay.tie-knot", "wake");
    page.value("document.getElementById('field').blur()");
    page.wait_for_event("quay.tie-knot", "too-short");
    // Outside of the field keys are the browser's.
    page.key("keyDown", "KeyB", "b");
    page.key("keyUp", "KeyB", "b");
    page.value("document.getElementById('field').focus()");
    let wheel = json!({ "deltaX": 0, "deltaY": -300 });
    page.mouse("mouseWheel", field, wheel);
    page.mouse("mouseMoved", (field.0 + 20.0, field.1 - 10.0), json!({}));
    page.mouse("mouseMoved", (field.0 + 30.0, field.1 - 15.0), json!({}));
    let touch = |kind: &str, at: &[(f64, f64)]| {
        let points: Vec<Value> = at.iter().map(|(x, y)| json!({ "x": x, "y": y })).collect();
        json!({ "type": kind, "touchPoints": points })
    };
    page.call("Input.dispatchTouchEvent", touch("touchStart", &[field]));
    page.call("Input.dispatchTouchEvent", touch("touchMove", &[(field.0 + 40.0, field.1)]));
    page.call("Input.dispatchTouchEvent", touch("touchEnd", &[]));
    // A device of the profile's own, on the screen: its stick, then its button by the keyboard.
    let stick = page.middle("document.querySelector('.stick')");
    page.mouse("mousePressed", stick, json!({ "button": "left", "buttons": 1, "clickCount": 1 }));
    page.mouse("mouseMoved", (stick.0 + 60.0, stick.1), json!({ "button": "left", "buttons": 1 }));
    page.wait_for_event("quay.walk", "wake");
    page.mouse("mouseReleased", stick, json!({ "button": "left", "clickCount": 1 }));
    page.wait_for_event("quay.walk", "released");
    page.value("document.querySelector('.push').focus()");
    page.key("keyDown", "Space", " ");
    page.key("keyUp", "Space", " ");
    // The game's side: a map, and a number.
    page.value("[...document.querySelectorAll('#maps input')][1].click()");
    page.wait_for("rows.some(row => row.name.includes('tug.engine'))");
    page.value("(() => { const box = document.querySelector('#numbers input'); box.value = 2; box.dispatchEvent(new Event('change')); })()");
    page.wait_for("document.querySelector('#numbers input').value === '2'");
    sleep(Duration::from_millis(200));
    let address = page.address.clone();
    let (take, asked) = page.end(&folder, "own.take.jsonl");
    for (control, count) in [
        ("key.KeyH", 2),
        ("key.KeyT", 2),
        ("key.KeyB", 0),
        ("mouse.wheel", 1),
        ("touch.down", 2),
        ("slate.left", 2),
    ] {
        assert_eq!(of(&take, control).len(), count, "{control} in {take}");
    }
    assert!(of(&take, "mouse.wheel")[0].ends_with("\"by\":[0,3]}"), "{take}");
    assert!(of(&take, "mouse.move").iter().any(|line| line.ends_with("\"by\":[10,-5]}")), "{take}");
    let dragged = of(&take, "touch.drag");
    assert!(dragged.len() == 1 && dragged[0].contains("\"by\":[0."), "{take}");
    assert!(
        of(&take, "slate.thumb")
            .iter()
            .any(|line| line.contains("\"value\":[0.8") || line.contains("\"value\":[1,")),
        "{take}"
    );
    assert!(
        take.contains("\"open\":\"tug\"")
            && take.contains("\"setting\":\"gaze-speed\",\"value\":2"),
        "{take}"
    );
    // What came of it comes again.
    let played = folder.run(&["play", "own.take.jsonl"]).expect_done();
    assert!(played.contains("quay.hail") && played.contains("too-short"), "{played}");
    // Nothing but this page and its socket was asked for.
    let socket = format!("{}socket", address.replacen("http", "ws", 1));
    assert!(asked.iter().all(|url| *url == address || *url == socket), "{asked:?}");
    assert!(asked.contains(&socket));
}

#[test]
#[ignore = "needs chromium"]
fn pads_of_a_browser_come_report_and_go_and_a_row_of_keys_stands_in_for_one() {
    let folder = Folder::with_demo();
    let mut page = Browser::open(&folder, &["--record", "own.take.jsonl"]);
    let pads = "window.pad = { index: 0, id: 'a pad', mapping: 'standard', connected: true, timestamp: performance.now(), \
                buttons: Array.from({ length: 17 }, () => ({ pressed: false, value: 0 })), axes: [0, 0, 0, 0] }; \
                navigator.getGamepads = () => window.pad ? [window.pad] : [];";
    page.call("Page.addScriptToEvaluateOnNewDocument", json!({ "source": pads }));
    page.visit();
    let change = |what: &str| format!("(() => {{ {what}; pad.timestamp = performance.now(); }})()");
    page.value(&change("pad.buttons[3] = { pressed: true, value: 1 }"));
    page.wait_for_event("quay.hail", "fire");
    page.value(&change(
        "pad.buttons[3] = { pressed: false, value: 0 }; pad.axes = [0.6, -0.8, 0, 0]",
    ));
    page.wait_for_event("quay.walk", "wake");
    page.value(&change("pad.buttons[7] = { pressed: true, value: 0.5 }"));
    page.wait_for("rows.some(row => row.name === 'pad.right-trigger')");
    // The connection is lost: that is told, and it comes again by itself.
    page.value("socket.close()");
    page.wait_for("!document.getElementById('lost').hidden");
    page.wait_for("document.getElementById('lost').hidden && socket.readyState === 1");
    page.value(&change("pad.axes = [0, 0, 0, 0]"));
    sleep(Duration::from_millis(300));
    page.value(&change("pad.axes = [0.6, -0.8, 0, 0]"));
    page.wait_for(
        "[...document.querySelectorAll('#events li')].pop().textContent.includes('fire')",
    );
    // It goes in the middle of a push.
    page.value("(() => { const gone = pad; pad = null; const e = new Event('gamepaddisconnected'); e.gamepad = gone; dispatchEvent(e); })()");
    page.wait_for_event("quay.walk", "unplugged");
    page.value("document.getElementById('row').click()");
    page.value("document.getElementById('field').focus()");
    page.key("keyDown", "Digit4", "4");
    page.key("keyUp", "Digit4", "4");
    page.key("keyDown", "KeyW", "w");
    page.key("keyDown", "KeyD", "d");
    page.key("keyUp", "KeyD", "d");
    page.key("keyUp", "KeyW", "w");
    sleep(Duration::from_millis(300));
    let (take, _) = page.end(&folder, "own.take.jsonl");
    assert_eq!(of(&take, "pad.north").len(), 2, "{take}");
    assert!(of(&take, "pad.left-stick")[0].ends_with("\"value\":[0.6,0.8]}"), "{take}");
    assert!(of(&take, "pad.right-trigger")[0].ends_with("\"value\":0.5}"), "{take}");
    assert!(take.contains("\"unplug\":\"pad#1\""), "{take}");
    assert_eq!(of(&take, "pad#2.north").len(), 2, "a row of keys is another pad: {take}");
    let ways = of(&take, "pad#2.left-stick");
    assert!(ways[0].ends_with("\"value\":[0,1]}") && ways[1].contains("0.7071067811865"), "{take}");
    assert!(ways[3].ends_with("\"value\":[0,0]}"), "{take}");
    assert!(of(&take, "key.KeyW").is_empty(), "{take}");
}

#[test]
#[ignore = "needs chromium"]
fn a_press_on_a_page_is_bound() {
    let folder = Folder::with_demo();
    let tool = Path::new(env!("CARGO_BIN_EXE_harmonym"));
    let mut pty = Pty::run(tool, &["listen", "quay.hail", "--page", "--yes"], &folder.path("."));
    pty.wait_for("http://");
    pty.wait_for("press a key");
    let shown = pty.screen().replace('\n', " ");
    let address = shown.split_whitespace().find(|word| word.starts_with("http://"));
    let mut page = Browser::at(address.expect("an address").to_owned());
    let address = page.address.clone();
    page.call("Page.navigate", json!({ "url": address }));
    page.wait_for("document.readyState === 'complete' && socket && socket.readyState === 1");
    page.value("document.getElementById('field').focus()");
    page.key("keyDown", "KeyJ", "j");
    page.key("keyUp", "KeyJ", "j");
    let (code, _, text) = pty.end();
    assert_eq!(code, Some(0), "{text}");
    assert!(folder.read("harmonym.toml").contains("\"key.KeyJ\""), "{text}");
}
