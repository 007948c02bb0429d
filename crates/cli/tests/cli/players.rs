//! Players' files through the built program: changed, refused, and played with.

use crate::harness::Folder;

const LEFT_HANDED: &str = "\u{feff}# Ann's desk\r\nharmonym-player = 1\r\n\r\n[setting]\r\ngaze-speed = 1.40 # a little faster\r\n\r\n\
    [replace.\"quay.hail@desk\"]   # nearer\r\n\"key.KeyH\" = 'key.KeyL' # by the thumb\r\n\r\n[also]\r\n\"quay.hail@desk\" = [ \"key.KeyK\" ]\r\n";

#[test]
fn a_player_changes_what_is_asked_and_nothing_else() {
    let folder = Folder::with_demo();
    folder.write("ann.toml", LEFT_HANDED);
    let player = |line: &str| {
        let args: Vec<&str> = ["player"].into_iter().chain(line.split(' ')).collect();
        folder.run(&[&args[..], &["--player", "ann.toml"]].concat())
    };
    let out = player("bind hail key.KeyL=key.KeyO");
    assert!(
        out.stderr.contains("quay.hail@desk: key.KeyO for key.KeyL in ann.toml"),
        "{}",
        out.stderr
    );
    let diff = out.expect_done();
    assert!(diff.contains("+\"key.KeyH\" = \"key.KeyO\" # by the thumb"), "{diff}");
    player("set gaze-speed 2").expect_done();
    player("also hail key.KeyP").expect_done();
    let now = folder.read("ann.toml");
    let wanted = LEFT_HANDED
        .replace("'key.KeyL'", "\"key.KeyO\"")
        .replace("1.40", "2")
        .replace("[ \"key.KeyK\" ]", "[ \"key.KeyK\" , \"key.KeyP\"]");
    assert_eq!(now, wanted);
    // Asked again, nothing changes; a dry run changes nothing.
    let again = player("set setting.gaze-speed 2");
    assert!(again.stderr.contains("nothing changes"), "{}", again.stderr);
    assert!(player("set gaze-speed 3 --dry-run").expect_done().contains("+gaze-speed = 3"));
    assert_eq!(folder.read("ann.toml"), wanted);
    player("reset hail").expect_done();
    player("reset gaze-speed").expect_done();
    let left = folder.read("ann.toml");
    assert!(left.starts_with("\u{feff}# Ann's desk\r\nharmonym-player = 1\r\n"), "{left:?}");
    assert!(!left.contains("key."), "{left:?}");
}

#[test]
fn what_cannot_be_is_refused_and_the_file_stays() {
    let folder = Folder::with_demo();
    let refused = |text: &str, line: &str, parts: &[&str]| {
        folder.write("ann.toml", text);
        let args: Vec<&str> = ["player"].into_iter().chain(line.split(' ')).collect();
        folder.run(&[&args[..], &["--player", "ann.toml"]].concat()).expect_refused(parts);
        assert_eq!(folder.read("ann.toml"), text, "{line}");
    };
    let own = "harmonym-player = 1\n[setting]\ngaze-speed = 2\n";
    refused(
        own,
        "bind hail key.KeyH=key.KeyT",
        &["`key.KeyT` is quay.tie-knot's", "--on-conflict swap"],
    );
    refused(
        own,
        "bind hail key.KeyH=pad.east",
        &["no scheme has the devices of key.KeyH and pad.east"],
    );
    refused(
        own,
        "bind hail key.KeyQ=key.KeyG",
        &["quay.hail@desk has no `key.KeyQ`", "did you mean `key.KeyH`?"],
    );
    refused(own, "bind hail key.KeyH=key.G", &["there is no control `key.G`"]);
    refused(own, "bind hail key.KeyH", &["does not say what takes whose place", "OLD=NEW"]);
    refused(own, "bind hial key.KeyH=key.KeyG", &["did you mean `hail`?"]);
    refused(own, "bind quay key.KeyH=key.KeyG", &["`quay` is a map"]);
    refused(own, "bind walk@dsk key.KeyW=key.KeyG", &["did you mean `desk`?"]);
    refused(own, "also walk key.KeyG", &["cannot drive quay.walk"]);
    refused(own, "set gaze-speed 9", &["`gaze-speed` cannot be 9", "it is 0.2 to 4"]);
    refused(own, "set gaze-sped 2", &["did you mean `gaze-speed`?"]);
    refused(own, "reset nothing", &["there is no map or action `nothing`"]);
    let newer = own.replace("= 1\n", "= 7\n");
    refused(&newer, "set gaze-speed 3", &["ann.toml:1:19", "in format 7", "use a newer version"]);
    refused("harmonym-player = 1\n[sett", "set gaze-speed 3", &["ann.toml:2:6", "not closed"]);
    refused(
        "harmonym-player = 1\n[setting]\nwarp = 9\n",
        "set gaze-speed 3",
        &["ann.toml:3:1", "it is another game's"],
    );
    let circle = "harmonym-player = 1\n[replace.\"quay.walk@desk\"]\n\"key.KeyA\" = \"key.KeyD\"\n\"key.KeyD\" = \"key.KeyA\"\n";
    refused(circle, "set gaze-speed 3", &["ann.toml:3:1", "in a circle: key.KeyA, key.KeyD"]);
    for line in [
        "play scores/tie-a-knot.score",
        "test",
        "check",
        "show",
        "why hail scores/quick-press.score",
    ] {
        let args: Vec<&str> = line.split(' ').collect();
        let out = folder.run(&[&args[..], &["--player", "ann.toml"]].concat());
        out.expect_refused(&["in a circle"]);
    }
    folder
        .run(&["play", "scores/tie-a-knot.score", "--player", "none.toml"])
        .expect_refused(&["none.toml", "does not exist"]);
}

#[test]
fn a_new_file_is_begun_beside_the_profile() {
    let folder = Folder::with_demo();
    folder.run(&["player", "bind", "hail", "key.KeyH=key.KeyG"]).expect_done();
    assert_eq!(
        folder.read("player.toml"),
        "harmonym-player = 1\n\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyG\"\n"
    );
    let shown = folder.run(&["player", "show"]).expect_done();
    assert!(shown.contains("quay.hail@desk") && shown.contains("may be rebound"), "{shown}");
    let shown = folder.run(&["player", "show", "hail"]).expect_done();
    assert!(shown.contains("quay.hail@pad") && shown.contains("pad.north"), "{shown}");
    let json = folder.run(&["player", "show", "hail", "--format", "json"]).expect_done();
    let lines: Vec<serde_json::Value> =
        json.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
    assert_eq!(lines[1]["kind"], "replace");
    assert_eq!((&lines[1]["old"], &lines[1]["new"]), (&"key.KeyH".into(), &"key.KeyG".into()));
}

#[test]
fn hands_play_on_the_profile_as_a_player_has_it() {
    let folder = Folder::with_demo();
    folder.write("players/ann.toml", "harmonym-player = 1\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyL\"\n[setting]\nwarp = 1\n");
    let score = "at 0.1s press key.KeyH for 0.1s\nat 0.5s press key.KeyL for 0.1s\n";
    folder.write("plain.score", format!("{score}expect quay.hail fires once at 0.1s\n"));
    folder.write(
        "ann.score",
        format!("player players/ann.toml\n{score}expect quay.hail fires once at 0.5s\n"),
    );
    folder.run(&["test", "plain.score", "ann.score"]).expect_done();
    let player = ["--player", "players/ann.toml"];
    let run = |args: &[&str]| folder.run(&[args, &player].concat());
    // What no longer fits is told and left out.
    let played = run(&["play", "plain.score", "--only", "hail", "--format", "json"]);
    assert!(
        played.stderr.contains("ann.toml:5:1: there is no setting `warp`"),
        "{}",
        played.stderr
    );
    let played = played.expect_done();
    assert!(
        played.contains("\"t\":0.5,")
            && !played.contains("\"t\":0.1,\"tick\":6,\"seat\":1,\"action\":\"quay.hail\""),
        "{played}"
    );
    assert_eq!(run(&["test", "plain.score"]).code, 1);
    assert_eq!(run(&["test", "ann.score"]).code, 0);
    assert!(run(&["why", "hail", "plain.score"]).expect_done().contains("fired at 0.5 s"));
    assert!(
        run(&["why", "hail", "plain.score", "--at", "0.55s"]).expect_done().contains("key.KeyL")
    );
    assert!(run(&["show", "hail"]).expect_done().contains("key.KeyL"));
    assert!(
        run(&["compare", "plain.score", "--set", "hail.fire=hold 0.05s"])
            .expect_done()
            .contains("0.5500")
    );
    assert!(
        run(&[
            "sweep",
            "plain.score",
            "--vary",
            "tie-knot.fire.hold=0.4s..0.8s:2",
            "--only",
            "hail"
        ])
        .expect_done()
        .contains("quay.hail")
    );
    run(&["plot", "plain.score", "-o", "plain.svg"]).expect_done();
    run(&["check"]).expect_done();
    // A score's own player goes before the one that is named.
    folder.write("players/none.toml", "harmonym-player = 1\n");
    assert_eq!(folder.run(&["test", "ann.score", "--player", "players/none.toml"]).code, 0);
    folder.write(
        "lost.score",
        "player players/nobody.toml\nat 1s down key.KeyH\nexpect quay.hail fires once\n",
    );
    folder.run(&["play", "lost.score"]).expect_refused(&["players/nobody.toml", "does not exist"]);
}

#[test]
fn a_way_out_that_is_lost_is_told() {
    let folder = Folder::with_demo();
    let clear = |of: &str, control: &str| folder.run(&["player", "clear", of, control]);
    let switches = ["log-book.read", "log-book.close"];
    let mut told = String::new();
    for of in switches {
        let shown = folder.run(&["player", "show", of]).expect_done();
        let line = shown.lines().find(|line| line.contains("@desk")).unwrap().to_owned();
        for control in line.split_whitespace().skip(1).map(|one| one.trim_end_matches(',')) {
            told = clear(&format!("{of}@desk"), control).stderr;
        }
    }
    assert!(told.contains("warning: nothing in desk leaves log-book now"), "{told}");
    assert!(told.contains("warning: nothing in desk does log-book.close now"), "{told}");
}

#[test]
fn a_sheet_shows_everything_in_each_form() {
    let folder = Folder::with_demo();
    folder.write(
        "ann.toml",
        "harmonym-player = 1\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyZ\"\n",
    );
    let sheet = |args: &[&str]| folder.run(&[&["sheet"], args].concat());
    sheet(&["-o", "a.md", "--player", "ann.toml", "--layout", "de"]).expect_done();
    let text = folder.read("a.md");
    assert!(text.contains("| Hail | press Y | press north button | press slate right |"), "{text}");
    assert!(text.contains("layout German"), "{text}");
    sheet(&["-o", "a.html", "--scheme", "pad"]).expect_done();
    let page = folder.read("a.html");
    assert!(page.contains("<h2>Quay <small>Out on the quay</small></h2>"), "{page}");
    assert!(page.contains("aria-label=\"north button\"") && !page.contains("aria-label=\"H\""));
    assert!(page.contains("prefers-color-scheme: dark") && page.contains("@media print"));
    assert!(!page.contains(" style=") && !page.contains("http:") && !page.contains("https:"));
    sheet(&["-o", "a.svg"]).expect_done();
    sheet(&["-o", "dark.svg", "--dark"]).expect_done();
    let (light, dark) = (folder.read("a.svg"), folder.read("dark.svg"));
    assert!(light.contains("#1b1f24") && !dark.contains("#1b1f24") && dark.contains("#e8ebef"));
    sheet(&["-o", "a.pdf"]).expect_done();
    assert!(std::fs::read(folder.path("a.pdf")).unwrap().starts_with(b"%PDF-"));
    // Again over its own, never over what is another's.
    for name in ["a.md", "a.html", "a.svg", "a.pdf"] {
        sheet(&["-o", name]).expect_done();
    }
    folder.write("notes.md", "# Lantern Quay\n\nMy own notes.\n");
    sheet(&["-o", "notes.md"]).expect_refused(&["notes.md is there already", "--force"]);
    sheet(&["-o", "a.png"]).expect_refused(&["a.png says no form", ".html or .svg or .pdf or .md"]);
    sheet(&["-o", "a.md", "--scheme", "pod"]).expect_refused(&["did you mean `pad`?"]);
    assert_eq!(sheet(&["-o", "a.md", "--layout", "xx"]).code, 2);
    sheet(&["-o", "ann.toml", "--player", "ann.toml"]).expect_refused(&["says no form"]);
}

#[test]
fn a_prompt_says_what_to_press_here_and_now() {
    let folder = Folder::with_demo();
    let prompt = |args: &[&str]| folder.run(&[&["prompt"], args].concat());
    assert_eq!(prompt(&["tie-knot", "--scheme", "desk"]).expect_done(), "hold T for 0.8 s\n");
    assert_eq!(prompt(&["walk", "--scheme", "pad"]).expect_done(), "left stick\nD-pad\n");
    assert_eq!(prompt(&["walk", "--scheme", "slate"]).expect_done(), "slate thumb\n");
    let json =
        prompt(&["walk", "--scheme", "desk", "--layout", "fr", "--format", "json"]).expect_done();
    let lines: Vec<serde_json::Value> =
        json.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
    assert_eq!(lines[1]["words"], "Z, Q, S and D");
    let up = &lines[1]["controls"]["parts"][0];
    assert_eq!(
        (&up["control"], &up["letter"], &lines[1]["controls"]["together"]),
        (&"key.KeyW".into(), &"Z".into(), &"four".into())
    );
    let knot = prompt(&["tie-knot", "--format", "json"]).expect_done();
    assert!(knot.contains("\"cues\":[{\"cue\":\"hold 0.8s\",\"time\":0.8}]"), "{knot}");
    prompt(&["quay"]).expect_refused(&["`quay` is a map"]);
    prompt(&["wlak"]).expect_refused(&["did you mean `walk`?"]);
}
