//! The language server, driven by a client of its own.

use crate::client::{Editor, edited, offset, position};
use crate::harness::Folder;
use serde_json::{Value, json};
use std::path::Path;

#[test]
fn faults_are_told_at_their_place_and_gone_once_they_are_mended() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    assert_eq!(editor.diagnostics(&uri), [] as [Value; 0]);
    editor.edit(&uri, "\"key.KeyT\"", "\"key.T\"");
    let told = editor.diagnostics(&uri);
    let text = editor.texts[&uri].1.clone();
    let place = text.find("key.T\"").unwrap();
    assert_eq!(told.len(), 1, "{told:?}");
    assert_eq!(told[0]["range"]["start"], position(&text, place));
    assert_eq!(told[0]["range"]["end"], position(&text, place + "key.T".len()));
    assert_eq!(told[0]["code"], "unknown-control");
    // What its help says is offered, and mends it.
    let params = json!({
        "textDocument": { "uri": uri },
        "range": told[0]["range"],
        "context": { "diagnostics": told },
    });
    let actions = editor.ask("textDocument/codeAction", params);
    assert_eq!(actions[0]["title"], "Write `key.KeyT`");
    let mended = edited(&text, &actions[0]["edit"]["changes"][&uri]);
    assert_eq!(mended, folder.read("harmonym.toml"));
    editor.edit(&uri, "\"key.T\"", "\"key.KeyT\"");
    assert_eq!(editor.diagnostics(&uri), [] as [Value; 0]);
    editor.end();
}

#[test]
fn what_the_checker_finds_is_told_with_its_rule_and_what_mends_it() {
    let folder = Folder::new();
    let faulty = include_str!("../../demo/faulty/raw-stick.toml");
    folder.write("harmonym.toml", faulty);
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    let told = editor.diagnostics(&uri);
    let raw = told.iter().find(|one| one["code"] == "raw-stick").expect("raw-stick");
    assert_eq!(raw["severity"], 2);
    let page = raw["codeDescription"]["href"].as_str().unwrap();
    assert!(page.starts_with("data:text/plain;charset=utf-8,raw-stick%0A"), "{page}");
    let params = json!({
        "textDocument": { "uri": uri },
        "range": raw["range"],
        "context": { "diagnostics": told },
    });
    let actions = editor.ask("textDocument/codeAction", params);
    for action in actions.as_array().unwrap() {
        let after = edited(faulty, &action["edit"]["changes"][&uri]);
        folder.write("mended/harmonym.toml", after);
        let left = folder.run(&["--file", "mended/harmonym.toml", "check", "--only", "raw-stick"]);
        assert!(!left.stdout.contains("[raw-stick]"), "{action}");
    }
    editor.end();
}

#[test]
fn completion_knows_controls_by_words_and_what_fits_each_place() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let profile = "harmonym = 1\n[scheme.pad]\ndevices = [\"pad\"]\n[setting.speed]\ndefault = 1\n[preset]\n\
                   firm = \"deadzone 0.1\"\n[map.quay]\nk1\n[map.quay.walk]\nvalue = \"k2\nk3\nbind.k4\n\
                   bind.pad = \"left bumk5\"\nshape = \"deadzone 0.1 | k6\"\nfire = \"hold 0.8s k7\"\n[map.quay.run]\n\
                   value = \"switch\"\nbind.pad = [\"LBk8\"]\nyields-to = [\"k9\"]\n\
                   fire = \"press with k0\"\n";
    let clean = profile.split('k').collect::<Vec<_>>();
    assert!(clean.len() > 10);
    let uri = editor.uri("other/harmonym.toml");
    for (mark, wanted) in [
        ("k1", "start"),
        ("k2", "plane"),
        ("k3", "yields-to"),
        ("k4", "pad"),
        ("k5", "pad.left-shoulder"),
        ("k6", "curve"),
        ("k7", "without"),
        ("k8", "pad.left-shoulder"),
        ("k9", "walk"),
        ("k0", "walk"),
    ] {
        let (before, after) = profile.split_once(mark).unwrap();
        let (before, after) = (unmarked(before), unmarked(after));
        editor.open_as("other/harmonym.toml", &format!("{before}{after}"));
        let labels = editor.completed(&uri, &before);
        assert!(labels.iter().any(|label| label == wanted), "{mark}: {labels:?}");
    }
    let uri = editor.open("scores/tie-a-knot.score");
    editor.edit(&uri, "title", "at 1s press pad.le\nat 1s op\nexpect tie-knot fi\ntitle");
    for (before, wanted) in [
        ("at 1s press pad.le", "pad.left-shoulder"),
        ("at 1s op", "open"),
        ("expect tie-knot fi", "fires"),
    ] {
        let labels = editor.completed(&uri, before);
        assert!(labels.iter().any(|label| label == wanted), "{before}: {labels:?}");
    }
    let item = json!({ "label": "deadzone", "data": ["steps", "deadzone"] });
    let item = editor.ask("completionItem/resolve", item);
    assert!(item["documentation"]["value"].as_str().unwrap().contains("| 0.25 | 0.174 |"));
    editor.end();
}

/// A text without the marks of places.
fn unmarked(text: &str) -> String {
    (0..=9).fold(text.to_owned(), |text, mark| text.replace(&format!("k{mark}"), ""))
}

#[test]
fn hover_tells_of_controls_steps_cues_keys_and_names() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    for (before, told) in [
        ("\"pad.left-st", "stick, under the left thumb"),
        ("| scale 22", "| 0.1 | 22 |"),
        ("hold 0.8", "fires once, after T of being down"),
        ("[map.quay.wal", "quay.walk (plane): Walk along the quay"),
        ("[map.qu", "quay (solo map"),
        ("@sti", "deadzone 0.1 full=0.96"),
        ("[setting.gaze-spe", "0.2 to 4"),
        ("yields-t", "must have given up before this one fires"),
        ("unless on-lad", "fact.on-ladder"),
    ] {
        let text = editor.hovered(&uri, before);
        assert!(text.contains(told), "{before}: {text}");
    }
    let uri = editor.open("scores/tie-a-knot.score");
    assert!(editor.hovered(&uri, "expect quay.tie-kn").contains("quay.tie-knot (switch)"));
    assert!(editor.hovered(&uri, "press key.Ke").contains("button"));
    editor.end();
}

#[test]
fn a_players_file_is_told_of_completed_and_looked_into() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let uri = editor.open("players/left-handed.toml");
    assert_eq!(editor.diagnostics(&uri), [] as [Value; 0]);
    assert!(editor.hovered(&uri, "[replace.\"quay.wal").contains("quay.walk (plane)"));
    assert!(editor.hovered(&uri, "\"key.KeyW\" = \"key.Ke").contains("letter key"));
    assert!(editor.hovered(&uri, "gaze-sp").contains("0.2 to 4"));
    editor.edit(&uri, "gaze-speed = 1.4", "gaze-");
    assert!(editor.completed(&uri, "gaze-").contains(&"gaze-flip".to_owned()));
    editor.edit(&uri, "gaze-", "gaze-speed = 1.4");
    editor.edit(&uri, "\"key.KeyO\"", "\"space b\"");
    assert!(editor.completed(&uri, "\"space b").contains(&"key.Space".to_owned()));
    let told = editor.diagnostics(&uri);
    assert!(told.iter().any(|one| one["message"].to_string().contains("`space b`")), "{told:?}");
    editor.edit(&uri, "[also]", "[replace.quay.ha]\n[also]");
    assert!(editor.completed(&uri, "[replace.").contains(&"quay.hail@pad".to_owned()));
    editor.end();
}

#[test]
fn a_rename_goes_through_profile_scores_and_players_files_and_writes_nothing() {
    let folder = Folder::with_demo();
    let before = ["harmonym.toml", "scores/tie-a-knot.score", "players/left-handed.toml"];
    let before = before.map(|name| (name, folder.read(name)));
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    // A score that is open counts as it is written there, not as it is on the disk.
    let score = editor.open("scores/tie-a-knot.score");
    editor.edit(&score, "title", "# tie-knot is meant below\ntitle");
    let at = editor.behind(&uri, "[map.quay.tie-kn");
    let may = editor.ask("textDocument/prepareRename", at.clone());
    assert_eq!(may["placeholder"], "tie-knot");
    let mut params = at.clone();
    params["newName"] = json!("bend-knot");
    let changes = editor.ask("textDocument/rename", params)["changes"].clone();
    let after = edited(&editor.texts[&score].1, &changes[&score]);
    assert!(
        after.contains("# tie-knot is meant") && after.contains("expect quay.bend-knot"),
        "{after}"
    );
    folder.run(&["rename", "quay.tie-knot", "bend-knot"]).expect_done();
    for (name, text) in &before {
        let edits = changes.get(editor.uri(name));
        let own = match edits {
            Some(edits) if *name != "scores/tie-a-knot.score" => edited(text, edits),
            _ => continue,
        };
        assert_eq!(own, folder.read(name), "{name}");
    }
    let mut params = at;
    params["newName"] = json!("Bend Knot");
    let refused = editor.response("textDocument/rename", params);
    assert!(refused["error"]["message"].as_str().unwrap().contains("`bend-knot`"), "{refused}");
    editor.end();
}

#[test]
fn names_lead_to_where_they_are_defined_and_to_all_that_use_them() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    let score = editor.open("scores/tie-a-knot.score");
    let text = editor.texts[&uri].1.clone();
    for (of, before, line) in [
        (&uri, "| @st", "stick = "),
        (&uri, "unless on-lad", "[fact.on-ladder]"),
        (&score, "expect quay.tie-kn", "[map.quay.tie-knot]"),
    ] {
        let at = editor.behind(of, before);
        let place = editor.ask("textDocument/definition", at);
        let found = offset(&text, &place["range"]["start"]);
        assert_eq!(place["uri"], uri, "{before}");
        let start = text[..found].rfind('\n').map_or(0, |end| end + 1);
        assert!(text[start..].starts_with(line), "{before}: {}", &text[start..found + 20]);
    }
    let mut params = editor.behind(&uri, "[map.quay.tie-kn");
    params["context"] = json!({ "includeDeclaration": true });
    let all = editor.ask("textDocument/references", params);
    let count = |of: &str| all.as_array().unwrap().iter().filter(|one| one["uri"] == of).count();
    assert!(count(&uri) == 1 && count(&score) > 2, "{all}");
    editor.end();
}

#[test]
fn form_symbols_folds_and_what_is_left_out() {
    let folder = Folder::with_demo();
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    let of = json!({ "textDocument": { "uri": uri }, "options": { "tabSize": 4, "insertSpaces": true } });
    assert_eq!(editor.ask("textDocument/formatting", of.clone()), json!([]));
    editor.edit(&uri, "fire = \"hold 0.8s\"", "fire=\"hold   0.8s\"");
    let edits = editor.ask("textDocument/formatting", of.clone());
    assert_eq!(edited(&editor.texts[&uri].1, &edits), folder.read("harmonym.toml"));
    editor.edit(&uri, "fire=\"hold   0.8s\"", "fire=\"hold 0.8s");
    assert_eq!(editor.ask("textDocument/formatting", of.clone()), Value::Null);
    editor.edit(&uri, "fire=\"hold 0.8s", "fire = \"hold 0.8s\"");
    let symbols = editor.ask("textDocument/documentSymbol", of.clone());
    let quay = symbols.as_array().unwrap().iter().find(|one| one["name"] == "quay").unwrap();
    assert_eq!(quay["children"][0]["name"], "walk");
    assert_eq!(quay["children"][0]["detail"], "plane");
    let folds = editor.ask("textDocument/foldingRange", of);
    assert!(folds.as_array().unwrap().len() > 25);
    let whole = json!({
        "textDocument": { "uri": uri },
        "range": { "start": { "line": 0, "character": 0 }, "end": { "line": 9999, "character": 0 } },
    });
    let hints = editor.ask("textDocument/inlayHint", whole);
    let labels: Vec<_> =
        hints.as_array().unwrap().iter().map(|one| one["label"].as_str().unwrap()).collect();
    for hint in ["fire = \"while\"; blend = \"greatest\"; down 0.002, up 0.0016", "full=1"] {
        assert!(labels.contains(&hint), "no {hint} in {labels:?}");
    }
    editor.end();
}

/// Every place of a text is asked about, in each way.
fn ask_everywhere(editor: &mut Editor<'_>, uri: &str, every: usize) {
    let text = editor.texts[uri].1.clone();
    let places = text.char_indices().map(|(at, _)| at).chain([text.len()]);
    for at in places.step_by(every) {
        let place = json!({ "textDocument": { "uri": uri }, "position": position(&text, at) });
        for method in ["completion", "hover", "definition"] {
            editor.ask(&format!("textDocument/{method}"), place.clone());
        }
    }
}

#[test]
fn texts_of_every_kind_are_answered_at_every_place() {
    let folder = Folder::with_demo();
    let demo = folder.read("harmonym.toml");
    let faulty: String = demo.lines().map(|line| format!("{line} \" ] = [\n")).collect();
    for text in [
        demo.replace('\n', "\r\n"),
        format!("\u{feff}{demo}"),
        demo.replace("Out on the quay", "🦀 auf dem Kai 🏮 ü"),
        faulty,
        String::new(),
        "[".to_owned(),
    ] {
        let mut editor = Editor::new(&folder);
        let uri = editor.open_as("harmonym.toml", &text);
        ask_everywhere(&mut editor, &uri, 97);
        editor.diagnostics(&uri);
        editor.end();
    }
    // A surrogate pair before a fault does not move it.
    let mut editor = Editor::new(&folder);
    let text = "harmonym = 1\n[map.m]\n[map.m.a]\nvalue = \"switch\" # 🦀🦀\nabout = \"🦀\" # x\nfire = \"🦀 hold 1\"\n";
    let uri = editor.open_as("harmonym.toml", text);
    for one in editor.diagnostics(&uri) {
        let (start, end) = (&one["range"]["start"], &one["range"]["end"]);
        assert_eq!(position(text, offset(text, start)), *start);
        assert_eq!(position(text, offset(text, end)), *end);
    }
    editor.end();
    let (_, can) = Editor::counting(&folder, "utf-8");
    assert_eq!(can["capabilities"]["positionEncoding"], "utf-8");
}

#[test]
fn a_large_profile_is_answered_and_what_is_unknown_is_refused() {
    let folder = Folder::new();
    let mut text = "harmonym = 1\n[scheme.pad]\ndevices = [\"pad\"]\n".to_owned();
    for index in 0..5000 {
        if index % 100 == 0 {
            text.push_str(&format!("[map.m{}]\n", index / 100));
        }
        text.push_str(&format!(
            "[map.m{}.a{index}]\nvalue = \"axis\"\nbind.pad = \"pad.left-stick.x | deadzone 0.1\"\n",
            index / 100
        ));
    }
    folder.write("harmonym.toml", &text);
    let mut editor = Editor::new(&folder);
    let uri = editor.open("harmonym.toml");
    editor.edit(&uri, "[map.m49.a4999]\nvalue = \"axis\"", "[map.m49.a4999]\nvalue = \"axes\"");
    assert_eq!(editor.diagnostics(&uri)[0]["code"], "unknown-word");
    assert!(editor.completed(&uri, "[map.m49.a4999]\nvalue = \"").contains(&"axis".to_owned()));
    assert!(
        editor
            .hovered(&uri, "[map.m49.a4999]\nvalue = \"axes\"\nbind.pad = \"pad.left-s")
            .contains("stick")
    );
    let refused = editor.response("textDocument/semanticTokens/full", json!({}));
    assert_eq!(refused["error"]["code"], -32601);
    let refused = editor.response("textDocument/hover", json!({ "text": 1 }));
    assert_eq!(refused["error"]["code"], -32602);
    let elsewhere = json!({ "textDocument": { "uri": "file:///nowhere" }, "position": { "line": 0, "character": 0 } });
    let refused = editor.response("textDocument/hover", elsewhere);
    assert!(refused["error"]["message"].as_str().unwrap().contains("is not open"));
    editor.end();
    assert!(Path::new(&folder.path("harmonym.toml")).exists());
}
