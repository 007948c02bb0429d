//! Work that machines share, and results put together again.

use crate::harness::Folder;

/// Runs a command in so many parts and keeps what each prints as a file; gives their names.
fn parts(folder: &Folder, args: &[&str], of: usize) -> Vec<String> {
    let part = |number: usize| {
        let shard = format!("{number}/{of}");
        let out = folder.run(&[args, &["--shard", &shard, "--format", "json"]].concat());
        assert!(out.code != 2 || out.stderr.contains("faulty"), "{}", out.stderr);
        let name = format!("{}-{number}-of-{of}.jsonl", args[0]);
        folder.write(&name, out.stdout);
        name
    };
    (1..=of).map(part).collect()
}

#[test]
fn scores_that_are_shared_tell_the_same_together() {
    let folder = Folder::with_demo();
    folder.run(&["set", "tie-knot.fire.hold", "0.9s"]).expect_done();
    folder.write("scores/broken.score", "at 1s prss key.KeyA\nexpct\n");
    folder.write("scores/nothing.score", "at 1s press key.KeyA for 0.1s\n");
    let formats = ["json", "tap"];
    let whole = formats.map(|format| folder.run(&["test", "--format", format]));
    assert!(whole.iter().all(|out| out.code == 2), "one is faulty");
    let text = folder.run(&["test"]);
    let summary = text.stdout.lines().next_back().expect("a summary");
    assert!(summary.contains("failed, 1 faulty"), "{summary}");
    for of in [1, 2, 5, 40] {
        let files = parts(&folder, &["test"], of);
        // In any order of the files.
        let files: Vec<&str> = files.iter().rev().map(String::as_str).collect();
        let merged = |format: &str| {
            folder.run(&[&["test", "--merge", "--format", format], &files[..]].concat())
        };
        for (format, whole) in formats.iter().zip(&whole) {
            let out = merged(format);
            assert_eq!((out.code, out.stdout), (2, whole.stdout.clone()), "{format} of {of}");
        }
        let out = merged("text");
        assert_eq!((&out.stdout, &out.stderr), (&text.stdout, &text.stderr), "of {of}");
    }
    // One file may hold all parts.
    let all: String = parts(&folder, &["test"], 3).iter().map(|name| folder.read(name)).collect();
    folder.write("all.jsonl", &all);
    let out = folder.run(&["test", "--merge", "all.jsonl", "--format", "json"]);
    assert_eq!(out.stdout, whole[0].stdout);
    // What fails in any part fails in all; without, it is done.
    std::fs::remove_file(folder.path("scores/broken.score")).expect("the file");
    let files = parts(&folder, &["test"], 4);
    let files: Vec<&str> = files.iter().map(String::as_str).collect();
    assert_eq!(folder.run(&[&["test", "--merge"], &files[..]].concat()).code, 1);
    folder.run(&["undo"]).expect_done();
    let files = parts(&folder, &["test"], 4);
    let files: Vec<&str> = files.iter().map(String::as_str).collect();
    folder.run(&[&["test", "--merge"], &files[..]].concat()).expect_done();
}

#[test]
fn hands_that_are_shared_are_counted_the_same_together() {
    let folder = Folder::with_demo();
    for vary in [
        "tie-knot.fire.hold=0.4s..1.2s:5",
        "preset.stick.curve=0.5..2:4",
        "quay.cast-line.fire.charge=-1s..1s:3",
    ] {
        for only in [&[][..], &["--only", "gaze", "quay"]] {
            let sweep = [&["sweep", "scores", "--vary", vary], only].concat();
            let forms = ["json", "text"];
            let whole = forms.map(|form| folder.run(&[&sweep[..], &["--format", form]].concat()));
            for of in [1, 3, 7] {
                let files = parts(&folder, &sweep, of);
                let files: Vec<&str> = files.iter().map(String::as_str).collect();
                for (form, whole) in forms.iter().zip(&whole) {
                    let args = [&["sweep", "--merge", "--format", form], &files[..], only].concat();
                    let out = folder.run(&args).expect_done();
                    assert_eq!(out, whole.stdout, "{vary} {form} of {of}");
                }
            }
        }
    }
}

#[test]
fn parts_that_make_no_whole_are_refused() {
    let folder = Folder::with_demo();
    let files = parts(&folder, &["test"], 3);
    let other = parts(&folder, &["test"], 2);
    let vary = ["sweep", "scores", "--vary", "tie-knot.fire.hold=0.4s..1.2s:3"];
    let swept = parts(&folder, &vary, 2);
    let again = folder.read(&swept[1]).replace("1.2s:3", "1.3s:3");
    folder.write("again.jsonl", again);
    folder.write("none.jsonl", "{\"file\":\"a\"}\n");
    folder.write("empty.jsonl", "");
    folder.write(
        "odd.jsonl",
        "{\"kind\":\"shard\",\"command\":\"test\",\"shard\":1,\"shards\":1,\"files\":1}\nx\n",
    );
    folder.write(
        "zero.jsonl",
        "{\"kind\":\"shard\",\"command\":\"test\",\"shard\":0,\"shards\":1,\"files\":1}\n",
    );
    let refused = |args: &[&str], parts: &[&str]| folder.run(args).expect_refused(parts);
    let (a, b, c) = (&*files[0], &*files[1], &*files[2]);
    refused(&["test", "--merge", a, c], &["part 2 of 3 is missing", "--shard 2/3"]);
    refused(&["test", "--merge", a, b, c, b], &["part 2 of 3 is there twice"]);
    refused(&["test", "--merge", a, b, c, &other[0]], &["one of 2 parts, the others are of 3"]);
    refused(&["test", "--merge", "none.jsonl"], &["does not begin as a part", "--shard 1/4"]);
    refused(&["test", "--merge", "empty.jsonl"], &["does not begin as a part"]);
    refused(&["test", "--merge", "odd.jsonl"], &["odd.jsonl:2: this is no line of a result"]);
    refused(&["test", "--merge", "zero.jsonl"], &["zero.jsonl:1: this is no part"]);
    refused(&["test", "--merge", &swept[0], &swept[1]], &["this is no part of a test"]);
    refused(&["test", "--merge", "gone.jsonl"], &["gone.jsonl"]);
    refused(&["test", "--merge", a, b, c, "--format", "junit"], &["how long each took"]);
    refused(&["sweep", "--merge", &swept[0], "again.jsonl"], &["one part varies"]);
    folder.run(&["rename", "quay.tie-knot", "knot"]).expect_done();
    refused(&["sweep", "--merge", &swept[0], &swept[1]], &["tie-knot"]);
    for args in [
        &["test", "--shard", "0/4"][..],
        &["test", "--shard", "5/4"],
        &["sweep", "scores", "--shard", "1"],
        &["test", "--merge"],
        &["test", "--merge", a, "--shard", "1/3"],
        &["sweep", "scores"],
    ] {
        let out = folder.run(args);
        assert_eq!((out.code, out.stdout.as_str()), (2, ""), "{args:?}");
        assert!(out.stderr.contains("--help"), "{}", out.stderr);
    }
}
