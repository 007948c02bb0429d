//! The engine between standard input and standard output.

use crate::harness::{Folder, Outcome};
use harmonym_runtime::base::Rate;
use std::io::{BufRead, BufReader, Write};
use std::process::{Command, Stdio};

/// Runs `harmonym` with lines on its standard input.
fn piped(folder: &Folder, args: &[&str], input: &str) -> Outcome {
    folder.write("input", input);
    let line = format!("harmonym {} < input", args.join(" "));
    folder.shell(".".as_ref(), &line)
}

/// A take with the ticks of a rate between its lines, up to the last tick of a run.
fn with_ticks(take: &str, rate: Rate, last: u64) -> String {
    let mut lines = take.lines();
    let mut text = format!("{}\n", lines.next().expect("a header"));
    let mut done = 0;
    let mut tick_until = |text: &mut String, is_over: &dyn Fn(u64) -> bool| {
        while done < last && !is_over(done + 1) {
            done += 1;
            text.push_str(&format!("{{\"t\":{},\"tick\":true}}\n", rate.tick(done)));
        }
    };
    for line in lines {
        let (_, t) = line.split_once("\"t\":").expect("a time");
        let t = t.split([',', '}']).next().expect("a time");
        let t = harmonym_runtime::Time::from_seconds(t).expect("a time");
        tick_until(&mut text, &|tick| rate.tick(tick) >= t);
        text.push_str(&format!("{line}\n"));
    }
    tick_until(&mut text, &|_| false);
    text
}

#[test]
fn the_same_hands_and_ticks_tell_the_same_bytes_as_play() {
    let folder = Folder::with_demo();
    let mut told = 0;
    let scores = folder.path("scores").read_dir().expect("the demo's scores");
    for score in scores.map(|entry| entry.expect("a score").path()) {
        let score = score.to_str().expect("a name");
        folder.run(&["render", score, "-o", "hands.take.jsonl", "--force"]).expect_done();
        for values in [&["--values"][..], &[]] {
            let play = [&["play", "hands.take.jsonl", "--format", "json"], values].concat();
            let wanted = folder.run(&play).expect_done();
            let end: serde_json::Value =
                serde_json::from_str(wanted.lines().next_back().expect("an end")).expect("JSON");
            let (start, _) = wanted.split_once('\n').expect("a start");
            let rate: serde_json::Value = serde_json::from_str(start).expect("JSON");
            let rate = Rate::parse(&rate["rate"].to_string()).expect("a rate");
            let take = folder.read("hands.take.jsonl");
            let input = with_ticks(&take, rate, end["tick"].as_u64().expect("a tick"));
            let args = [&["pipe", "--no-ticks"], values].concat();
            let out = piped(&folder, &args, &input).expect_done();
            assert_eq!(out, wanted, "{score}");
            // The lines that end ticks are all that comes besides.
            let out = piped(&folder, &[&["pipe"], values].concat(), &input).expect_done();
            let lines = |out: &str| -> Vec<String> {
                let all = out.lines().filter(|line| !line.starts_with("{\"kind\":\"tick\""));
                all.map(str::to_owned).collect()
            };
            assert_eq!(lines(&out), lines(&wanted), "{score}");
            told += out.lines().count();
        }
    }
    assert!(told > 2000, "{told}");
}

#[test]
fn every_tick_is_answered_before_the_next_is_asked_for() {
    let folder = Folder::with_demo();
    let mut child = Command::new(env!("CARGO_BIN_EXE_harmonym"))
        .args(["pipe", "--values", "--player", "players/left-handed.toml"])
        .current_dir(folder.path("."))
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .expect("the program starts");
    let mut hands = child.stdin.take().expect("its input");
    let mut told = BufReader::new(child.stdout.take().expect("its output")).lines();
    let mut answer = |text: &str| -> Vec<String> {
        hands.write_all(text.as_bytes()).expect("room");
        hands.flush().expect("room");
        let mut lines = Vec::new();
        loop {
            let line = told.next().expect("an answer").expect("a line");
            let is_over = line.starts_with("{\"kind\":\"tick\"");
            lines.push(line);
            if is_over {
                return lines;
            }
        }
    };
    let first = answer("{\"take\":1,\"seats\":1}\n{\"t\":0.01,\"tick\":true}\n");
    assert!(first[0].starts_with("{\"kind\":\"start\""), "{first:?}");
    let quiet = answer("\n{\"t\":0.02,\"tick\":true}\n");
    assert_eq!(quiet, ["{\"kind\":\"tick\",\"t\":0.02,\"tick\":2}"]);
    // The left-handed desk walks with U.
    let walk =
        answer("{\"t\":0.025,\"control\":\"key.KeyU\",\"value\":1}\n{\"t\":0.03,\"tick\":true}\n");
    let values =
        "{\"kind\":\"values\",\"t\":0.03,\"tick\":3,\"seat\":1,\"values\":{\"quay.walk\":[0,1]}}";
    assert!(walk.contains(&values.to_owned()), "{walk:?}");
    drop(hands);
    let rest: Vec<String> = told.map(|line| line.expect("a line")).collect();
    assert!(rest.iter().any(|line| line.contains("\"cause\":\"stopped\"")), "{rest:?}");
    assert_eq!(rest.last().map(String::as_str), Some("{\"kind\":\"end\",\"t\":0.03,\"tick\":3}"));
    assert!(child.wait().expect("an end").success());
}

#[test]
fn what_is_no_line_is_told_at_its_place_after_what_came_before_it() {
    let folder = Folder::with_demo();
    let start = "{\"take\":1}\n{\"t\":0.01,\"tick\":true}\n";
    for (input, parts) in [
        (String::new(), &["standard input:1", "its header"][..]),
        (format!("{start}{{\"t\":0.005,\"tick\":true}}\n"), &["standard input:3:6", "goes back"]),
        (
            format!("{start}{{\"t\":1,\"tick\":false}}\n"),
            &["standard input:3:8", "take the line out"],
        ),
        (
            format!("{start}{{\"t\":1,\"tick\":3}}\n"),
            &["standard input:3:15", "`tick` is true or false"],
        ),
        (
            format!("{start}{{\"t\":1,\"plug\":2}}\n"),
            &["standard input:3:15", "`\"plug\":\"pad#2\"`"],
        ),
        (format!("{start}{{\"t\":1,\"unplug\":2}}\n"), &["`unplug` is a text"]),
        (format!("{start}{{\"t\":1,\"give\":[],\"seat\":1}}\n"), &["`give` is a text"]),
        (format!("{start}{{\"tick\":true}}\n"), &["standard input:3", "no time"]),
        (
            format!("{start}{{\"t\":1,\"tick\":true,\"value\":1}}\n"),
            &["standard input:3:20", "`value` does not go with `tick`"],
        ),
        (format!("{start}{{\"t\":1,\"tick\":true,\"open\":\"tug\"}}\n"), &["one thing, not both"]),
        (format!("{start}{{\"t\":1,\"tik\":true}}\n"), &["did you mean"]),
    ] {
        let out = piped(&folder, &["pipe"], &input);
        if !input.is_empty() {
            let told = &out.stdout;
            assert!(told.ends_with("{\"kind\":\"tick\",\"t\":0.01,\"tick\":1}\n"), "{told}");
        }
        out.expect_refused(parts);
    }
    // In a take nobody ticks.
    folder.write("ticks.take.jsonl", start);
    let refused = &["ticks.take.jsonl:2:11", "harmonym pipe"];
    folder.run(&["play", "ticks.take.jsonl"]).expect_refused(refused);
    folder.run(&["pipe", "--scheme", "dek"]).expect_refused(&["did you mean `desk`"]);
}
