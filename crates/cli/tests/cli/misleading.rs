//! What must not be told otherwise than it is: hands through pipes, scores that can't be read,
//! expectations that can't hold.

use crate::harness::{Folder, Outcome};
use std::fs;
use std::os::unix::fs::symlink;
use std::path::Path;

fn shell(folder: &Folder, line: &str) -> Outcome {
    folder.shell(Path::new("."), line)
}

#[test]
fn hands_through_a_pipe_are_those_of_the_file() {
    let folder = Folder::with_demo();
    let commands = [
        "play {} --values",
        "play {} --format json",
        "play {} --lanes",
        "play {} --rates 20,60",
        "why quay.tie-knot {}",
        "why quay.tie-knot {} --at 1s",
        "compare {} --rates 20,60",
        "compare {} --set quay.tie-knot.fire.hold=0.2s",
        "sweep {} --vary quay.tie-knot.fire.hold=0.5s..1s:2",
    ];
    shell(&folder, "harmonym render scores/tie-a-knot.score -o knot.take.jsonl").expect_done();
    for file in ["scores/tie-a-knot.score", "knot.take.jsonl"] {
        for command in commands {
            let run = |line: String| shell(&folder, &line).expect_done();
            let straight = run(format!("harmonym {}", command.replace("{}", file)));
            let stdin = command.replace("{}", "/dev/stdin");
            let named = straight.replace(file, "/dev/stdin");
            assert_eq!(run(format!("cat {file} | harmonym {stdin}")), named, "{file} {command}");
            assert_eq!(run(format!("harmonym {stdin} <{file}")), named, "{file} {command}");
            let other = command.replace("{}", "/dev/fd/3");
            let through = run(format!("harmonym {other} 3<{file}"));
            assert_eq!(through, straight.replace(file, "/dev/fd/3"), "{file} {command}");
        }
        let picture = |name: &str, file: &str| format!("harmonym plot {file} -o {name}.svg -q");
        shell(
            &folder,
            &format!("{} && cat {file} | {}", picture("a", file), picture("b", "/dev/stdin")),
        )
        .expect_done();
        assert_eq!(folder.read("a.svg"), folder.read("b.svg"));
    }
    let score = "scores/tie-a-knot.score";
    shell(&folder, &format!("cat {score} | harmonym test /dev/stdin")).expect_done();
    let take = shell(&folder, &format!("cat {score} | harmonym render /dev/stdin")).expect_done();
    assert_eq!(take, folder.read("knot.take.jsonl"));
    let table = "harmonym export t.csv -q; cat t.csv | harmonym import /dev/stdin";
    let told = shell(&folder, table);
    assert!(told.stderr.contains("rows say what is there"), "{}", told.stderr);
    // What only began to come is told as that.
    let cut = "head -c 125 knot.take.jsonl | harmonym play /dev/stdin";
    shell(&folder, cut).expect_refused(&["/dev/stdin:"]);
}

#[test]
fn a_score_that_cannot_be_read_is_left_out_nowhere() {
    let folder = Folder::with_demo();
    folder.write("scores/a#1.score", "at 1s press key.KeyHH for 1s\nexpect nothing fires\n");
    folder.write("scores/bytes.score", b"\xff\xfe");
    symlink("nowhere", folder.path("scores/dangling.score")).unwrap();
    shell(&folder, "mkfifo scores/pipe.score").expect_done();
    let names = ["a#1.score", "bytes.score", "dangling.score", "pipe.score"];
    let run = |format: &str| {
        let outcome = shell(&folder, &format!("harmonym test --format {format}"));
        assert_eq!(outcome.code, 2, "{}", outcome.stderr);
        for name in names {
            assert!(outcome.stderr.contains(name), "no {name} in {}", outcome.stderr);
        }
        outcome.stdout
    };
    assert!(run("text").lines().any(|line| line.ends_with("4 faulty")));
    let tap = run("tap");
    let plan: usize = tap.lines().nth(1).unwrap().strip_prefix("1..").unwrap().parse().unwrap();
    let points = |start: &str| tap.lines().filter(|line| line.starts_with(start)).count();
    assert_eq!((points("not ok "), points("ok ")), (4, plan - 4));
    assert!(tap.contains("scores/a\\#1.score can be read"), "{tap}");
    let junit = run("junit");
    assert_eq!(junit.matches("<error ").count(), 4);
    assert_eq!(junit.matches("errors=\"1\"").count(), 4, "{junit}");
    assert!(!junit.contains("failures=\"1\""), "{junit}");
    let json = run("json");
    for name in names {
        let line = format!("{{\"file\":\"scores/{name}\"");
        let line = json.lines().find(|one| one.starts_with(&line)).unwrap();
        assert!(line.contains("\"pass\":false,\"fault\":\""), "{line}");
    }
    for format in ["text", "json", "sarif"] {
        let outcome = shell(&folder, &format!("harmonym check --format {format}"));
        assert_eq!(outcome.code, 1, "{}", outcome.stderr);
        for name in ["bytes.score", "dangling.score", "pipe.score"] {
            assert!(outcome.stdout.contains(name), "{name}: {}", outcome.stdout);
        }
    }
    for name in names {
        fs::remove_file(folder.path("scores").join(name)).unwrap();
    }
    folder.write("scores/broken.take.jsonl", "{\"take\":1}\n{\"t\":1,\"open\":\"attic\"}\n");
    folder.write("scores/other.jsonl", "[1]\n");
    let told = shell(&folder, "harmonym check");
    assert_eq!(told.code, 1);
    assert!(told.stdout.contains("broken.take.jsonl:2:16") && !told.stdout.contains("other.jsonl"));
}

#[test]
fn what_can_never_be_met_is_found() {
    let folder = Folder::with_demo();
    let cases = [
        ("expect tie-knot fires by \"nonsense\"", "quay.tie-knot never fires by \"nonsense\""),
        ("expect tie-knot fires by \"hold 0.7s\"", "never fires by \"hold 0.7s\""),
        ("expect tie-knot fires by \"hold 0.8s or tap 0.2s\"", "never fires by"),
        ("expect tie-knot wakes by \"hold 0.8s\"", "only a fire has a cue"),
        ("expect tie-knot fires because released", "only an end has a cause"),
        ("expect tie-knot lapses because too-long", "never lapses because too-long"),
        ("expect tie-knot rests because too-short", "never rests because too-short"),
        ("expect hail lapses because gap", "never lapses because gap"),
        ("expect hail lapses because done", "never lapses because done"),
    ];
    let text: String = cases.iter().map(|(line, _)| format!("{line}\n")).collect();
    folder.write("scores/vain.score", format!("at 1s press key.KeyH for 0.1s\n{text}"));
    let told = shell(&folder, "harmonym check --format json").stdout;
    for (at, (line, message)) in cases.iter().enumerate() {
        let place = format!("\"line\":{},", at + 2);
        let found = told.lines().find(|one| one.contains("vain.score") && one.contains(&place));
        let found = found.unwrap_or_else(|| panic!("{line}: {told}"));
        assert!(found.contains("\"never-holds\""), "{found}");
        assert!(found.replace("\\\"", "\"").contains(message), "{found}");
    }
}

#[test]
fn an_edit_carries_cues_along_or_says_what_it_breaks() {
    let folder = Folder::with_demo();
    let text = folder.read("harmonym.toml");
    let rule = text.lines().find(|line| line.contains("hold 0.8s")).unwrap().to_owned();
    folder.write("harmonym.toml", text.replace(&rule, &rule.replace("hold 0.8s", "hold   0.8s")));
    let score = "at 1s press key.KeyT for 1s\nexpect tie-knot fires by \"hold 0.8s\"\n";
    folder.write("scores/by.score", score);
    shell(&folder, "harmonym test scores/by.score").expect_done();
    shell(&folder, "harmonym tidy").expect_done();
    assert_eq!(folder.read("scores/by.score"), score);
    shell(&folder, "harmonym test scores/by.score").expect_done();
    shell(&folder, "harmonym set quay.tie-knot.fire.hold 0.6s").expect_done();
    assert_eq!(folder.read("scores/by.score"), score.replace("0.8s", "0.6s"));
    shell(&folder, "harmonym test scores/by.score").expect_done();
    let told = shell(&folder, "harmonym set quay.tie-knot.fire 'press or tap 0.2s'");
    let unmet = "scores/by.score:2:1: quay.tie-knot never fires by \"hold 0.6s\"; write by";
    assert!(told.stderr.contains(unmet), "{}", told.stderr);
    shell(&folder, "harmonym undo").expect_done();
    shell(&folder, "harmonym undo").expect_done();
    assert_eq!(folder.read("scores/by.score"), score);
}

#[test]
fn a_byte_order_mark_before_any_text_is_taken() {
    let folder = Folder::with_demo();
    shell(&folder, "harmonym render scores/tie-a-knot.score -o knot.take.jsonl").expect_done();
    let mark = "\u{feff}";
    for name in ["harmonym.toml", "scores/tie-a-knot.score", "knot.take.jsonl"] {
        let play = format!(
            "harmonym play {}",
            if name.ends_with("toml") { "knot.take.jsonl" } else { name }
        );
        let before = shell(&folder, &play).expect_done();
        let text = folder.read(name);
        folder.write(name, format!("{mark}{text}"));
        assert_eq!(shell(&folder, &play).expect_done(), before);
    }
    shell(&folder, "harmonym test").expect_done();
    shell(&folder, "harmonym rename map.tug harbour-boat").expect_done();
    assert!(folder.read("scores/tie-a-knot.score").starts_with(mark));
    // It is no column.
    folder.write("scores/x.score", format!("{mark}expect nothing fires\n"));
    shell(&folder, "harmonym test scores/x.score").expect_refused(&["x.score:1:8"]);
    folder.write("harmonym.toml", format!("{mark}harmonym = 2\n"));
    shell(&folder, "harmonym check").expect_refused(&["harmonym.toml:1:12"]);
}
