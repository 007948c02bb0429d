//! `harmonym play` on a take of a million events, against reading the same lines with serde_json
//! alone, and `plot` and `why` against `play`; all in one run, told as ratios.
//! `cargo bench -p harmonym --bench take`

use std::fs::File;
use std::hint::black_box;
use std::io::{BufRead, BufReader, Write};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

const EVENTS: u32 = 1_000_000;
const ROUNDS: usize = 5;
const DEMO: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/harmonym.toml");
/// The linker's environment names the tool that was built for this bench.
const TOOL: &str = env!("CARGO_BIN_EXE_harmonym");

#[derive(serde::Deserialize)]
#[allow(dead_code, reason = "read, not used")]
struct Line<'a> {
    t: f64,
    #[serde(borrow)]
    control: std::borrow::Cow<'a, str>,
    value: serde_json::Value,
}

/// A thousand reports a second: a stick that circles, and keys now and then.
fn write_take(path: &Path, events: u32, seats: u8) {
    let mut file = std::io::BufWriter::new(File::create(path).expect("a temporary file"));
    writeln!(file, "{{\"take\":1,\"title\":\"Circles\",\"seats\":{seats}}}").expect("room");
    for i in 0..events {
        let t = harmonym_runtime::base::Time::from_millis(u64::from(i));
        let angle = f64::from(i) / 700.0;
        let line = match i % 10 {
            0 => format!("\"control\":\"key.KeyH\",\"value\":{}", i / 10 % 2),
            5 => format!("\"control\":\"key.KeyE\",\"value\":{}", i / 1000 % 2),
            _ => format!(
                "\"control\":\"pad.left-stick\",\"value\":[{:.5},{:.5}]",
                angle.cos(),
                angle.sin()
            ),
        };
        writeln!(file, "{{\"t\":{t},{line}}}").expect("room");
    }
}

fn serde_json_alone<T: for<'a> Reads<'a>>(path: &Path) {
    let mut reader = BufReader::new(File::open(path).expect("the take"));
    let mut line = String::new();
    reader.read_line(&mut line).expect("a header");
    loop {
        line.clear();
        if reader.read_line(&mut line).expect("a line") == 0 {
            return;
        }
        T::read(&line);
    }
}

/// Something that a line is read into.
trait Reads<'a> {
    fn read(line: &'a str);
}

struct Typed;
struct Untyped;

impl<'a> Reads<'a> for Typed {
    fn read(line: &'a str) {
        black_box(serde_json::from_str::<Line<'a>>(line).expect("a line"));
    }
}

impl<'a> Reads<'a> for Untyped {
    fn read(line: &'a str) {
        black_box(serde_json::from_str::<serde_json::Value>(line).expect("a line"));
    }
}

/// Runs the tool on the take.
fn tool(args: &[&str], path: &Path, more: &[&str]) {
    let mut command = Command::new(TOOL);
    command.args(["--file", DEMO, "--quiet"]).args(args).arg(path).args(more);
    let status = command.stdout(Stdio::null()).status();
    assert!(status.expect("the tool").success());
}

fn play(path: &Path, format: &str) {
    tool(&["play", "--format", format], path, &[]);
}

/// The take with the ticks of 60 a second between its lines.
fn write_ticks(take: &Path, path: &Path) {
    let mut file = std::io::BufWriter::new(File::create(path).expect("a temporary file"));
    let rate = harmonym_runtime::base::Rate::DEFAULT;
    let mut next = 1;
    for (i, line) in BufReader::new(File::open(take).expect("the take")).lines().enumerate() {
        // The line of a millisecond, behind the header.
        let t = harmonym_runtime::base::Time::from_millis(i.saturating_sub(1) as u64);
        while rate.tick(next) < t {
            writeln!(file, "{{\"t\":{},\"tick\":true}}", rate.tick(next)).expect("room");
            next += 1;
        }
        writeln!(file, "{}", line.expect("a line")).expect("room");
    }
}

fn pipe(path: &Path) {
    let mut command = Command::new(TOOL);
    command.args(["--file", DEMO, "--quiet", "pipe"]).stdout(Stdio::null());
    let status = command.stdin(File::open(path).expect("the lines")).status();
    assert!(status.expect("the tool").success());
}

/// `plot` in each form and `why`, against `play` as text.
fn looks(path: &Path, play: Duration) {
    let folder = path.parent().expect("a folder");
    for form in ["svg", "png", "html"] {
        let out = folder.join(format!("circles.{form}"));
        let name = out.to_str().expect("a name");
        let own = time(|| tool(&["plot"], path, &["-o", name]));
        let size = std::fs::metadata(&out).expect("a picture").len() as f64 / 1e6;
        let ratio = own.as_secs_f64() / play.as_secs_f64();
        println!("plot, {form}: {ratio:.2} times play, {size:.2} MB");
    }
    let own = time(|| tool(&["why", "quay.walk"], path, &[]));
    println!("why: {:.2} times play", own.as_secs_f64() / play.as_secs_f64());
}

/// The shortest of a few rounds.
fn time(work: impl Fn()) -> Duration {
    let round = || {
        let start = Instant::now();
        work();
        start.elapsed()
    };
    (0..ROUNDS).map(|_| round()).min().unwrap_or_default()
}

fn main() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let path = folder.path().join("circles.take.jsonl");
    write_take(&path, EVENTS, 1);
    let several = folder.path().join("two-seats.take.jsonl");
    write_take(&several, EVENTS, 2);
    let typed = time(|| serde_json_alone::<Typed>(&path));
    let untyped = time(|| serde_json_alone::<Untyped>(&path));
    let text = time(|| play(&path, "text"));
    let json = time(|| play(&path, "json"));
    println!("{EVENTS} events, each ratio to serde_json alone");
    for (name, own) in [("play, text", text), ("play, JSON", json)] {
        let ratio = |other: Duration| own.as_secs_f64() / other.as_secs_f64();
        println!(
            "{name}: {:.2} (into a struct), {:.2} (into a Value)",
            ratio(typed),
            ratio(untyped)
        );
    }
    let two = time(|| play(&several, "text"));
    let piped = folder.path().join("ticks.jsonl");
    write_ticks(&path, &piped);
    let pipe = time(|| pipe(&piped));
    println!("pipe: {:.2} times play, JSON", pipe.as_secs_f64() / json.as_secs_f64());
    println!("play, two seats: {:.2} times one", two.as_secs_f64() / text.as_secs_f64());
    looks(&path, text);
}
