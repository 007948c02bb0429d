//! Bad input: a clear message at its place, exit code 2, nothing lost.

use crate::harness::Folder;

const HEAD: &str = "harmonym = 1\nscheme.desk.devices = [\"key\"]\nmap.quay.start = true\n";

#[test]
fn bad_profiles_are_refused() {
    let folder = Folder::new();
    let deep = format!(
        "{HEAD}[map.quay.a]\nvalue = \"axis\"\nbind.desk = \"{}key.KeyA\"",
        "(".repeat(1000)
    );
    folder.write("deep.toml", deep);
    folder.write("bytes.toml", b"harmonym = 1\ntitle = \"\xc3\xa4\xff\"\n");
    folder.write("empty.toml", "");
    folder.write("newer.toml", "harmonym = 2\n");
    folder.write("folder/harmonym.toml", HEAD);
    for (file, parts) in [
        ("deep.toml", &["deep.toml:6:", "nested more than 40 deep"][..]),
        ("bytes.toml", &["bytes.toml:2:11", "not UTF-8"]),
        ("empty.toml", &["empty.toml:1:1", "harmonym = 1"]),
        ("newer.toml", &["newer.toml:1:12", "format 2"]),
        ("folder", &["folder is a folder", "folder/harmonym.toml"]),
        ("absent.toml", &["absent.toml", "does not exist"]),
    ] {
        folder.run(&["--file", file, "check"]).expect_refused(parts);
    }
    folder.run(&["show"]).expect_refused(&["no harmonym.toml here", "harmonym new"]);
}

#[test]
fn all_faults_of_a_large_profile_are_told_in_bounded_time() {
    let folder = Folder::new();
    let mut text = HEAD.to_owned();
    for i in 0..3000 {
        text.push_str(&format!("[map.quay.a{i}]\nvalue = \"axis\"\nbind.desk = \"key.KeyAA\"\n"));
    }
    folder.write("harmonym.toml", text);
    let out = folder.run(&["check"]);
    assert_eq!(out.code, 2);
    assert_eq!(out.stderr.matches("no control `key.KeyAA`").count(), 3000);
    assert!(out.stderr.ends_with("3000 faults in harmonym.toml\n"));
}

#[test]
fn bad_takes_are_refused_at_their_line_and_what_came_before_stands() {
    let folder = Folder::with_demo();
    let start = "{\"take\":1}\n{\"t\":0.5,\"control\":\"key.KeyH\",\"value\":1}\n";
    for (line, parts) in [
        (
            r#"{"t":0.4,"control":"key.KeyH","value":0}"#,
            &["take.jsonl:3:6", "goes back", "0.5 s to 0.4 s"][..],
        ),
        (
            r#"{"t":0.6,"control":"key.KeyHH","value":0}"#,
            &["take.jsonl:3:21", "did you mean `key.KeyH`?"],
        ),
        (
            r#"{"t":0.6,"control":"key.Shift","value":1}"#,
            &["no device reports `key.Shift`", "key.ShiftLeft"],
        ),
        (
            r#"{"t":0.6,"control":"pad.left-stick.x","value":1}"#,
            &["write the whole control: `pad.left-stick`"],
        ),
        (r#"{"t":0.6,"control":"pad.left-stick","value":1}"#, &["a list of two numbers"]),
        (r#"{"t":0.6,"control":"pad.left-stick","value":[1,0,0]}"#, &["a list of two numbers"]),
        (r#"{"t":0.6,"control":"key.KeyH","value":[1]}"#, &["one number"]),
        (r#"{"t":0.6,"control":"key.KeyH","value":0.5}"#, &["a button: it reports 0 or 1"]),
        (r#"{"t":0.6,"control":"key.KeyH","value":NaN}"#, &["take.jsonl:3:39", "no value of JSON"]),
        (
            r#"{"t":0.6,"control":"pad.left-trigger","value":1e999}"#,
            &["take.jsonl:3:", "too large"],
        ),
        (r#"{"t":-1,"control":"key.KeyH","value":0}"#, &["`-1` is not a time"]),
        (r#"{"t":"1","control":"key.KeyH","value":0}"#, &["is not a time"]),
        (r#"{"control":"key.KeyH","value":0}"#, &["the line has no time"]),
        (r#"{"t":0.6,"control":"key.KeyH"}"#, &["`key.KeyH` has no value"]),
        (r#"{"t":0.6}"#, &["nothing that happens"]),
        (r#"{"t":0.6,"controll":"key.KeyH","value":0}"#, &["did you mean `\"control\"`?"]),
        (r#"{"t":0.6,"t":0.7,"control":"key.KeyH","value":0}"#, &["`t` is given twice"]),
        (r#"{"t":0.6,"open":"tgu"}"#, &["take.jsonl:3:18", "did you mean `tug`?"]),
        (r#"{"t":0.6,"open":"harbour"}"#, &["`harbour` is always open"]),
        (r#"{"t":0.6,"open":"tug","close":"quay"}"#, &["says one thing"]),
        (r#"{"t":0.6,"open":"tug","value":1}"#, &["`value` does not go with `open`"]),
        (
            r#"{"t":0.6,"control":"key.KeyH","value":1,"seat":1}"#,
            &["`seat` does not go with `control`"],
        ),
        (r#"{"t":0.6,"open":"tug","seat":3}"#, &["there are 2 seats, and no seat 3"]),
        (r#"{"t":0.6,"pause":1}"#, &["take.jsonl:3:18", "`pause` is true or false"]),
        (
            r#"{"t":5,"control":5,"value":1}"#,
            &["take.jsonl:3:18", "write `\"control\":\"key.Space\"`"],
        ),
        (r#"{"t":5,"open":"quay","seat":"one"}"#, &["`seat` is a whole number"]),
        (r#"{"t":5,"open":"quay","seat":-1}"#, &["take.jsonl:3:29", "`seat` is a whole number"]),
        (r#"{"t":5,"scheme":3}"#, &["`scheme` is a text, or null for all"]),
        (r#"{"t":5,"control":"key.KeyH","value":"on"}"#, &["a list of at most four numbers"]),
        (r#"{"t":5,"control":"key.KeyH","value":[1,2,3,4,5]}"#, &["at most four numbers"]),
        (r#"{"t":5,"control":"key.KeyH","value":{"x":1}}"#, &["`value` is a number"]),
        (r#"{"t":5,"control":"mouse.move","by":[true]}"#, &["write `\"by\":[3,-2]`"]),
        (r#"[0.6,"key.KeyH",1]"#, &["every line of a take is one JSON object"]),
        ("5", &["every line of a take is one JSON object"]),
        (r#"{"t":0.6,"#, &["the line ends before its object does"]),
        (r#"{"t":0.6,"control":"key.\q"}"#, &["begins nothing that JSON knows"]),
        (r#"{"t":0.6,"control":"\ud800"}"#, &["begins nothing that JSON knows"]),
        ("{\"t\":0.6,\"control\":\"\t\"}", &["a control character stands in a text"]),
        (r#"{"t":0.6,"open":"tug"}}"#, &["more behind the line's object"]),
        (r#"{"t":0.6,"open":"tug",}"#, &["a comma too many"]),
        (r#"{"t":0.6 "open":"tug"}"#, &["a comma or a closing bracket is missing"]),
        (r#"{t:0.6}"#, &["a key stands without quotes"]),
        (r#"{"t" 0.6}"#, &["the key has no value"]),
        (r#"{"t":06}"#, &["no number of JSON"]),
        (r#"{"t":0.6,"control":"key.KeyH","value":tru}"#, &["no value of JSON"]),
        (r#"{"t":0.6,"scheme":"dsk"}"#, &["did you mean `desk`?"]),
        (r#"{"t":0.6,"unplug":"pda#2"}"#, &["did you mean `pad`?"]),
        (r#"{"t":0.6,"plug":"key#1"}"#, &["`key#1` is there already", "unplug it before"]),
        (r#"{"t":0.6,"give":"pad#1"}"#, &["`pad#1` is given to nobody"]),
        (r#"{"t":0.6,"give":"pad.south","seat":1}"#, &["is a control, not a device"]),
        (r#"{"t":0.6,"plug":"head"}"#, &["no scheme has the class `head`"]),
        (r#"{"t":0.6,"plug":"pad#9"}"#, &["numbered from 1 to 8"]),
        (r#"{"t":0.6,"control":"mouse.move","value":[1,2]}"#, &["moves by something", "\"by\":"]),
        (r#"{"t":0.6,"control":"key.KeyH","by":1}"#, &["has a value", "\"value\":1"]),
        (
            r#"{"t":0.6,"control":"mouse.move.x","by":1}"#,
            &["write the whole control: `mouse.move`"],
        ),
        (r#"{"t":0.6,"control":"mouse.wheel.up","value":1}"#, &["write the wheel"]),
        (r#"{"t":0.6,"control":"char.z","value":1}"#, &["write the key's place"]),
        (r#"{"t":0.6,"control":"pad#9.south","value":1}"#, &["numbered from 1 to 8"]),
        (r#"{"t":0.6,"control":"slate.thumb","value":1}"#, &["a list of two numbers"]),
        ("ä", &["take.jsonl:3:1"]),
    ] {
        folder.write("a.take.jsonl", format!("{start}{line}\n{{\"t\":0}}\n"));
        let out = folder.run(&["play", "a.take.jsonl", "--format", "json"]);
        assert!(
            out.stdout.contains("\"fire\"") && !out.stdout.contains("\"end\""),
            "{line}: {}",
            out.stdout
        );
        out.expect_refused(parts);
    }
    for (header, parts) in [
        ("", &["the first line of a take is its header"][..]),
        (r#"{"t":0,"control":"key.KeyH","value":1}"#, &["the first line of a take is its header"]),
        (r#"{"take":2}"#, &["in format 2"]),
        ("[1]", &["one JSON object"]),
        (r#"{"take":"1"}"#, &["`take` is a whole number"]),
        (r#"{"take":1,"title":1}"#, &["h.take.jsonl:1:19", "`title` is a text"]),
        (r#"{"take":1,"devices":"pad#1"}"#, &["`devices` is a list of texts"]),
        (r#"{"take":1,"titel":"x"}"#, &["did you mean `\"title\"`?"]),
        (r#"{"take":1,"start":"kuay"}"#, &["did you mean `quay`?"]),
        (r#"{"take":1,"rate":0}"#, &["1 to 100000 ticks a second"]),
        (r#"{"take":1,"seats":9}"#, &["there are 1 to 8 seats"]),
        (r#"{"take":1,"start":"log-book"}"#, &["`log-book` is no solo map"]),
        (r#"{"take":1,"devices":["pad#0"]}"#, &["`pad#0` is not a device"]),
        (r#"{"take":1,"layout":"xx"}"#, &["us, us-intl, uk, de,"]),
    ] {
        folder.write("h.take.jsonl", format!("{header}\n"));
        folder.run(&["play", "h.take.jsonl"]).expect_refused(parts);
    }
    folder.write("u.take.jsonl", b"{\"take\":1}\n{\"t\":\xff}\n");
    folder.run(&["play", "u.take.jsonl"]).expect_refused(&["u.take.jsonl:2:6", "not UTF-8"]);
}

#[test]
fn all_faults_of_a_score_are_told_at_once() {
    let folder = Folder::with_demo();
    let score = "titel \"x\"\n\
                 title x\n\
                 at 0.5 press key.KeyH for 1s\n\
                 at 0.5s pres key.KeyH for 1s\n\
                 at 0.5s press key.KeyHH for 1s\n\
                 at 0.5s press key.KeyH\n\
                 at 0.5s press key.KeyH for 1s 2s\n\
                 at 0.5s push key.KeyH to 1\n\
                 at 0.5s push pad.left-stick to 1\n\
                 at 0.5s push pad.left-trigger to 1.5\n\
                 at 0.5s push pad.left-stick to (1, 0\n\
                 at 0.5s press pad.left-stick for 1s\n\
                 at 0.5s push pad.dpad to (1, 0)\n\
                 at 0.5s drag key.KeyH by 1\n\
                 press key.KeyH for 1s\n\
                 expect quay.hial fires once\n\
                 start tgu\n\
                 title \"open\n\
                 at -1s down key.KeyH\n\
                 at 1s open harbour\n\
                 at 1s scheme dsk\n\
                 at 1s plug pda#2\n\
                 at 1s push mouse.move to (1, 0)\n\
                 at 1s press mouse.wheel.up for 1s\n\
                 at 1s press char.é for 1s\n\
                 at 1s noise pad.left-stick of 0.1 for 1s\n\
                 at 1s drift key.KeyH at 1\n\
                 at 1s open tug for seat 2\n\
                 layout xx\n\
                 start log-book\n\
                 seats 9\n";
    folder.write("bad.score", score);
    let out = folder.run(&["play", "bad.score"]);
    assert!(out.stderr.ends_with("31 faults in bad.score\n"), "{}", out.stderr);
    let parts = [
        ("bad.score:1:1", "did you mean `title`?"),
        ("bad.score:2:1", "write `title \"…\"`"),
        ("bad.score:3:4", "write `0.5s` or `0.5ms`"),
        ("bad.score:4:9", "did you mean `press`?"),
        ("bad.score:5:15", "did you mean `key.KeyH`?"),
        ("bad.score:6:23", "write `press key.KeyH for 0.1s`"),
        ("bad.score:7:31", "`2s` is too much"),
        ("bad.score:8:14", "is a button"),
        ("bad.score:9:32", "write `to (0.6, 0.8)`"),
        ("bad.score:10:34", "it goes from 0 to 1"),
        ("bad.score:11:37", "not closed"),
        ("bad.score:12:15", "write `push pad.left-stick to …`"),
        ("bad.score:13:14", "press pad.dpad.up"),
        ("bad.score:14:14", "write `push key.KeyH to …`"),
        ("bad.score:15:1", "has its time before it"),
        ("bad.score:16:8", "did you mean `quay.hail`?"),
        ("bad.score:17:7", "did you mean `tug`?"),
        ("bad.score:18:7", "no closing quote"),
        ("bad.score:19:4", "needs a time, not `-1s`"),
        ("bad.score:20:12", "`harbour` is always open"),
        ("bad.score:21:14", "did you mean `desk`?"),
        ("bad.score:22:12", "did you mean `pad`?"),
        ("bad.score:23:12", "write `drag mouse.move by …`"),
        ("bad.score:24:13", "a notch of a wheel"),
        ("bad.score:25:13", "no key types `é` on the layout `us`"),
        ("bad.score:26:41", "`seed` is missing"),
        ("bad.score:27:13", "`drift` is for levers"),
        ("bad.score:29:8", "us, us-intl, uk, de,"),
        ("bad.score:30:7", "write `at 0s open log-book`"),
        ("bad.score:31:7", "there are 1 to 8 seats"),
    ];
    let all: Vec<_> = parts.iter().flat_map(|(place, words)| [*place, *words]).collect();
    out.expect_refused(&all);
}

#[test]
fn expectations_are_checked_when_they_are_read() {
    let folder = Folder::with_demo();
    let lines = [
        ("expect quay.hail firs once", "did you mean `fires`?"),
        ("expect quay.hail fires thrice", "`thrice` is no condition"),
        ("expect quay.hail fires at 1", "write `1s` or `1ms`"),
        ("expect quay.hail lapses because too-shrt", "did you mean `too-short`?"),
        ("expect quay.hail fires by hold", "the cue is a text"),
        ("expect quay.hail = (1, 2) at 1s", "write `= on` or `= off`"),
        ("expect quay.walk = 1 at 1s", "write two numbers"),
        ("expect quay.walk = (1, 0)", "the moment is missing"),
        ("expect quay.walk progress 1 at 1s", "the number is missing"),
        ("expect quay.walk of seat 3 fires", "there are 2 seats"),
        ("expect scheme dsk at 1s", "did you mean `desk`?"),
    ];
    let text: String = lines.iter().map(|(line, _)| format!("{line}\n")).collect();
    folder.write("scores/bad.score", text);
    let out = folder.run(&["test"]);
    // A faulty score does not stop the others.
    assert!(out.stdout.contains("20 scores, 129 met, 0 failed"), "{}", out.stdout);
    assert!(out.stderr.contains("11 faults in scores/bad.score"), "{}", out.stderr);
    let words: Vec<_> = lines.iter().map(|(_, words)| *words).collect();
    out.expect_refused(&words);
}

#[test]
fn bad_options_say_what_to_write() {
    let folder = Folder::with_demo();
    let play = |more: &[&str]| folder.run(&[&["play", "scores/tie-a-knot.score"], more].concat());
    play(&["--rate", "0"]).expect_refused(&["1 to 100000"]);
    play(&["--until", "2"]).expect_refused(&["with its unit"]);
    play(&["--only", "wlak"]).expect_refused(&["did you mean `walk`?"]);
    folder.run(&["show", "quay.hial"]).expect_refused(&["did you mean `quay.hail`?"]);
    folder.run(&["controls", "zzz"]).expect_refused(&["no control goes by `zzz`"]);
    folder.run(&["controls", "--class", "pda"]).expect_refused(&["did you mean `pad`?"]);
    assert_eq!(folder.run(&["play"]).code, 2);
    assert_eq!(folder.run(&["dance"]).code, 2);
}
