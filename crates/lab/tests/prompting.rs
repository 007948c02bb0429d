//! What players are told: each control by its place or letter, each cue in words, and the sheet of all.

use harmonym_lab::prompt::{Sheet, prompts, sentence};
use harmonym_lang::model::{ActionId, Profile};
use harmonym_lang::source::Source;
use harmonym_runtime::base::Id;
use harmonym_runtime::controls::Layout;

fn profile(action: &str) -> Profile {
    let text = format!(
        "harmonym = 1\nscheme.desk.devices = [\"key\", \"mouse\"]\nscheme.pad.devices = [\"pad\"]\n\
         scheme.slate.devices = [\"slate\"]\nscheme.far.devices = [\"head\", \"hand\", \"touch\"]\n\
         device.slate.controls = {{ thumb = \"stick\", tap = \"button\" }}\n\
         device.slate.as = {{ thumb = \"pad.left-stick\", tap = \"pad.south\" }}\n\
         setting.wait = {{ default = 250, unit = \"ms\" }}\n[map.quay]\nstart = true\n[map.quay.a]\n{action}\n\
         [map.quay.knock]\nvalue = \"switch\"\nlabel = \"Knock once\"\nbind.desk = \"key.KeyK\"\n"
    );
    harmonym_lang::load(&Source::new("p", text)).unwrap_or_else(|e| panic!("{e}")).0
}

/// What is told of the first action, binding by binding.
fn told(action: &str, layout: &str, scheme: Option<&str>) -> Vec<String> {
    let profile = profile(action);
    let (id, layout) = (ActionId::new(0), Layout::from_word(layout).expect(layout));
    let scheme = scheme
        .map(|name| profile.schemes.entries().find(|(_, one)| one.name == name).expect(name).0);
    let all = prompts(&profile, id, scheme, layout);
    all.iter().map(|one| sentence(&profile, &profile.actions[id], one)).collect()
}

#[test]
fn each_control_is_called_by_its_place_or_letter() {
    for (control, kind, layout, words) in [
        ("key.KeyQ", "switch", "us", "Q"),
        ("key.KeyQ", "switch", "fr", "A"),
        ("char.q", "switch", "fr", "Q"),
        ("key.Minus", "switch", "de", "ß"),
        ("key.Space", "switch", "us", "Space"),
        ("key.ShiftLeft", "switch", "us", "left Shift"),
        ("key.Shift", "switch", "us", "Shift"),
        ("key.ArrowUp", "switch", "us", "arrow up"),
        ("key.PageDown", "switch", "us", "Page down"),
        ("key.Numpad5", "switch", "us", "Numpad 5"),
        ("key.F12", "switch", "us", "F12"),
        ("mouse.left", "switch", "us", "left mouse button"),
        ("mouse.wheel.up", "switch", "us", "mouse wheel up"),
        ("mouse.move", "plane", "us", "the mouse"),
        ("mouse.wheel.y", "axis", "us", "the mouse wheel"),
    ] {
        let action = format!("value = \"{kind}\"\nfire = \"while\"\nbind.desk = \"{control}\"");
        let wanted = if kind == "switch" { format!("hold {words}") } else { words.to_owned() };
        assert_eq!(told(&action, layout, None), [wanted], "{control}");
    }
    for (control, kind, words) in [
        ("pad.south", "switch", "south button"),
        ("pad.left-shoulder", "switch", "left shoulder"),
        ("pad.right-trigger", "axis", "right trigger"),
        ("pad.left-stick", "plane", "left stick"),
        ("pad.left-stick.click", "switch", "left stick, pressed in"),
        ("pad.left-stick.x", "axis", "left stick, sideways"),
        ("pad.right-stick.up", "axis", "right stick up"),
        ("pad.dpad.left", "switch", "D-pad left"),
        ("pad.dpad", "plane", "D-pad"),
        ("pad#2.start", "switch", "start button of the 2. device"),
    ] {
        let action = format!("value = \"{kind}\"\nfire = \"while\"\nbind.pad = \"{control}\"");
        let wanted = if kind == "switch" { format!("hold {words}") } else { words.to_owned() };
        assert_eq!(told(&action, "us", None), [wanted], "{control}");
    }
    for (control, kind, words) in [
        ("head.turn", "turn", "head turn"),
        ("hand.left.at", "space", "left hand"),
        ("hand.right.trigger", "axis", "right hand's trigger"),
        ("hand.left.lower", "axis", "left hand's lower button"),
        ("touch.drag", "plane", "finger drag"),
    ] {
        let action = format!("value = \"{kind}\"\nfire = \"while\"\nbind.far = \"{control}\"");
        assert_eq!(told(&action, "us", None), [words], "{control}");
    }
}

#[test]
fn each_cue_is_a_sentence_with_its_numbers() {
    for (fire, words) in [
        ("press", "press T"),
        ("release", "press T and let go"),
        ("while", "hold T"),
        ("hold 0.8s", "hold T for 0.8 s"),
        ("hold wait", "hold T for 0.25 s"),
        ("tap 0.2s", "tap T"),
        ("charge 600ms", "hold T for 0.6 s or longer, and let go"),
        ("taps 2 gap=0.3s", "press T twice"),
        ("taps 3 gap=0.3s", "press T 3 times"),
        ("repeat 0.1s", "press T or hold it to go on"),
        ("tap 0.2s or hold 1s", "tap T, or hold T for 1 s"),
    ] {
        let action = format!("value = \"switch\"\nfire = \"{fire}\"\nbind.desk = \"key.KeyT\"");
        assert_eq!(told(&action, "us", None), [words], "{fire}");
    }
    let sequence = "value = \"switch\"\nfire = \"sequence(knock, knock) within=1s\"";
    assert_eq!(told(sequence, "us", None), ["Knock once, then Knock once"]);
    let label = "value = \"switch\"\nbind.desk = { from = \"key.KeyT\", label = \"the big key\" }";
    assert_eq!(told(label, "us", None), ["press the big key"]);
}

#[test]
fn combinations_say_how_controls_go_together() {
    let plane = "value = \"plane\"\nbind.desk = \"four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\"";
    assert_eq!(told(plane, "us", None), ["W, A, S and D"]);
    assert_eq!(told(plane, "dvorak", None), ["“,”, A, O and E"]);
    let pair = "value = \"axis\"\nbind.desk = \"pair(key.KeyQ, any(key.KeyE, mouse.left)) | flip\"";
    assert_eq!(told(pair, "us", None), ["Q and E or left mouse button"]);
    let plus = "value = \"switch\"\nbind.desk = \"key.Control + (key.Shift + key.KeyS)\"";
    assert_eq!(told(plus, "us", None), ["press Control + Shift + S"]);
}

#[test]
fn what_stands_in_for_a_control_is_told_in_its_own_scheme() {
    let pad = "value = \"plane\"\nbind.pad = [\"pad.left-stick\", \"pad.right-stick\"]";
    assert_eq!(told(pad, "us", Some("slate")), ["slate thumb"]);
    assert_eq!(told(pad, "us", Some("pad")), ["left stick", "right stick"]);
    let both = "value = \"switch\"\nbind.pad = [\"pad.left-shoulder + pad.south\", \"pad.south\"]\nbind.all = \"key.F1\"";
    assert_eq!(told(both, "us", Some("slate")), ["press F1", "press slate tap"]);
}

#[test]
fn a_sheet_has_each_situation_each_action_and_a_column_a_scheme() {
    let profile = profile("value = \"switch\"\nbind.desk = \"key.KeyT\"\nbind.pad = \"pad.south\"");
    let sheet = Sheet::new(&profile, Layout::US, None);
    assert_eq!(sheet.schemes, ["Desk", "Pad", "Slate"], "only schemes in which something is done");
    let rows: Vec<(&str, Vec<usize>)> = sheet.situations[0]
        .rows
        .iter()
        .map(|row| (row.label.as_str(), row.cells.iter().map(Vec::len).collect()))
        .collect();
    assert_eq!(rows, [("A", vec![1, 1, 1]), ("Knock once", vec![1, 0, 0])]);
    let slate = profile.find_map("quay").map(|_| profile.schemes.ids().nth(2).unwrap());
    let sheet = Sheet::new(&profile, Layout::US, slate);
    assert_eq!(sheet.situations[0].rows[0].cells[0][0].1, "press slate tap");
}
