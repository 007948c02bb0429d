//! Tables of actions: out and in again.

mod gate;

use harmonym_lab::edit::{Draft, Row, Sheet, export, read_sheet, write_sheet};
use harmonym_lang::load;
use harmonym_lang::source::Source;
use proptest::prelude::*;

const EMPTY: &str = "harmonym = 1\n";

fn read(text: &str) -> Sheet {
    let sheet = read_sheet(&Source::new("s.csv", text));
    sheet.unwrap_or_else(|faults| panic!("{faults}\n{text}"))
}

fn draft(text: &str) -> Draft {
    load(&Source::new("t", text)).unwrap_or_else(|faults| panic!("{faults}\n{text}"));
    Draft::new(&Source::new("t", text))
}

/// What a profile of nothing becomes by a table; what was refused, with its line.
fn imported(table: &str) -> (String, Vec<(u64, String)>) {
    let mut one = draft(EMPTY);
    let taken = one.take_rows(&read(table).rows);
    let refused = taken.into_iter().filter_map(|row| Some((row.line, row.done.err()?)));
    let refused = refused.collect();
    draft(one.text());
    (one.text().to_owned(), refused)
}

const PROFILE: &str = r#"harmonym = 1
title = "Lantern Quay"

[scheme.desk]
devices = ["key", "mouse"]

[scheme.pad]
devices = ["pad"]

[setting.pace]
default = 1

[map.quay]
about = "Ashore"
start = true

[map.quay.walk]
value = "plane"
about = " On foot,\n \"with care\"; "
bind.desk = ["four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)", { from = "mouse.move  |  scale pace", label = "look", rebind = false }]
bind.all = ["four(key.ArrowUp, key.ArrowLeft, key.ArrowDown, key.ArrowRight)"]
bind.pad = "pad.left-stick"
blend = "sum"
shape = "ease rise=4/s"
levels.down = 0.3
levels.up = 0.2

[map.quay.hail]
value = "switch"
about = ""
bind.desk = "key.KeyH"
fire = "press"
yields-to = ["walk"]

[map.tug]
kind = "layer"
rank = 3

[map.tug.idle]
value = "switch"
"#;

#[test]
fn a_table_taken_over_where_it_came_from_changes_nothing() {
    let (sheet, rows) = write_sheet(draft(PROFILE).raw());
    assert_eq!(rows, 6);
    assert!(
        sheet.starts_with("map,action,value,scheme,binding,fire,about,blend,shape\n"),
        "{sheet}"
    );
    let same = read(&sheet).rows;
    let lines: Vec<u64> = same.iter().map(|(line, _)| *line).collect();
    assert_eq!(lines, [2, 4, 6, 8, 10, 11]);
    let mut one = draft(PROFILE);
    let taken = one.take_rows(&same);
    assert!(taken.iter().all(|row| row.done.is_ok()), "{taken:?}");
    assert_eq!(one.text(), PROFILE);
    // Where only the bindings and rules are gone they come again.
    let bare: String = PROFILE
        .split_inclusive('\n')
        .filter(|line| {
            !line.starts_with("bind.") && !line.starts_with("fire") && !line.starts_with("shape")
        })
        .collect();
    let mut one = draft(&bare);
    assert!(one.take_rows(&same).iter().all(|row| row.done.is_ok()));
    assert_eq!(export(one.raw()), export(draft(PROFILE).raw()));
    draft(one.text());
}

#[test]
fn what_a_table_cannot_hold_is_said() {
    assert_eq!(
        draft(PROFILE).left_out(),
        [
            "`label` and `rebind` of bindings (quay.walk@desk)",
            "levels (quay.walk)",
            "about (quay.hail)",
            "yields-to (quay.hail)",
            "about of maps (quay)",
            "start of maps (quay)",
            "kind of maps (tug)",
            "rank of maps (tug)",
            "title",
            "the schemes' texts, and devices that nothing is bound to",
            "the settings",
        ]
    );
    assert_eq!(draft(EMPTY).left_out(), [""; 0]);
}

#[test]
fn a_new_scheme_has_the_devices_of_all_its_rows() {
    let table = "map,action,value,scheme,binding\n\
                 quay,hail,switch,desk,key.KeyH\n\
                 quay,row,switch,pad,pad.south\n\
                 quay,gaze,plane,desk,mouse.move\n\
                 quay,nod,switch,desk,pod.left\n";
    let (text, refused) = imported(table);
    assert!(text.contains("[scheme.desk]\ndevices = [\"key\", \"mouse\"]\n"), "{text}");
    assert!(text.contains("bind.desk = \"mouse.move\""), "{text}");
    assert_eq!(refused.len(), 1, "{refused:?}");
    assert_eq!(refused[0].0, 5);
}

#[test]
fn a_row_that_was_cut_at_a_comma_is_refused_and_the_others_are_taken() {
    let table = "map,action,value,scheme,binding\n\
                 quay,walk,plane,desk,four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)\n\
                 quay,hail,switch,desk,key.KeyH,,,\n";
    let (text, refused) = imported(table);
    let why = "the row has 8 fields for 5 columns; put what has a comma in quotes";
    assert_eq!(refused, [(2, why.to_owned())]);
    assert!(text.contains("[map.quay.hail]") && !text.contains("walk"), "{text}");
}

#[test]
fn columns_go_by_their_names_in_any_order_and_others_are_named() {
    let tabs = "Action\tNotes\tMap\tValue\tBinding\tOwner\t\n\
                Haul In\tsoon; or never, who knows\tquay\tswitch\tkey.KeyH\tAda\t\n";
    let sheet = read(tabs);
    assert_eq!(sheet.further, ["Notes", "Owner"]);
    let row = sheet.rows[0].1.as_ref().unwrap();
    assert_eq!((row.map.as_str(), row.action.as_str()), ("quay", "haul-in"));
    assert_eq!(row.binding, "key.KeyH");
    // With semicolons, a byte order mark, empty lines and spaces.
    let other = "\u{feff}action;map;value;binding\r\n\r\n Row ;quay; switch;four(a, b)\r\n;;;\r\n";
    let sheet = read(other);
    assert_eq!(sheet.rows.len(), 1);
    assert_eq!(sheet.rows[0].0, 3);
    assert_eq!(sheet.rows[0].1.as_ref().unwrap().value, "switch");
    for (text, place) in [
        ("map,actoin\n", "s.csv:1:5: `actoin` is not a column; did you mean `action`?"),
        (
            "map,action,bindings\n",
            "s.csv:1:12: `bindings` is not a column; did you mean `binding`?",
        ),
        ("map,value\n", "s.csv:1:1: the column `action` is missing"),
        ("map,action,Map\n", "s.csv:1:12: the column `Map` is there twice"),
        ("shopping\nbread\n", "s.csv:1:1: the column `map` is missing"),
    ] {
        let faults = read_sheet(&Source::new("s.csv", text)).expect_err(text).to_string();
        assert!(faults.starts_with(place), "{faults}");
    }
    // One almost called like a column that is there is another one.
    assert_eq!(read("map,action,actions\n").further, ["actions"]);
}

/// A value with bindings of its own, each with its scheme, and rules.
type Kind = (&'static str, [(&'static str, &'static str); 3], [&'static str; 2]);

const KINDS: [Kind; 3] = [
    (
        "switch",
        [("desk", "key.KeyH"), ("desk", "mouse.left + key.KeyA"), ("pad", "pad.south")],
        ["", "hold 0.5s or tap 0.2s"],
    ),
    (
        "axis",
        [
            ("desk", "pair(key.KeyA, key.KeyD)"),
            ("pad", "pad.left-stick.x | flip"),
            ("all", "pad.right-stick.y"),
        ],
        ["", "while"],
    ),
    (
        "plane",
        [
            ("desk", "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)"),
            ("desk", "mouse.move | scale 0.1"),
            ("pad", "pad.left-stick"),
        ],
        ["change", ""],
    ),
];

#[test]
fn no_cell_is_run_by_a_spreadsheet_and_each_comes_back_as_it_was() {
    let texts = [
        "=1+1", "+1", "-1", "@SUM(A1)", "\tx", "\r\nx", "'", "'=1", "''=1", "'quoted'", "' =1",
        "=", "\u{e9}=", " =1", "#x", "a=1",
    ];
    let map = "harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[map.quay]\n";
    let action = |(place, text): (usize, &&str)| {
        let text = text.replace('\t', "\\t").replace('\r', "\\r").replace('\n', "\\n");
        format!("[map.quay.a{place}]\nvalue = \"switch\"\nabout = \"{text}\"\n")
    };
    let profile: String = texts.iter().enumerate().map(action).collect();
    let before = draft(&format!("{map}{profile}"));
    let (table, rows) = write_sheet(before.raw());
    assert_eq!(rows, texts.len());
    let mut reader = csv::Reader::from_reader(table.as_bytes());
    for record in reader.records() {
        for field in &record.unwrap() {
            let is_run = |letter: char| "=+-@\t\r".contains(letter);
            assert!(!field.starts_with(is_run), "{field:?}");
        }
    }
    let sheet = read(&table);
    for ((_, row), text) in sheet.rows.iter().zip(texts) {
        assert_eq!(row.as_ref().unwrap().about, text);
    }
    let mut again = before.clone();
    again.take_rows(&sheet.rows);
    assert_eq!(again.text(), before.text());
}

proptest! {
    #![proptest_config(gate::gate(200))]
    /// What a table says, an empty profile says after it, and gives out again.
    #[test]
    fn random_tables_come_out_as_they_went_in(
        actions in prop::collection::vec(
            (0..3_usize, 0..3_usize, 0..8_u8, 0..2_usize, "[ -~\\n\\t\\ré\"]{0,10}", 0..2_usize),
            1..8,
        ),
        delimiter in prop::sample::select(vec![b',', b';', b'\t']),
    ) {
        let mut rows = Vec::new();
        for map in 0..3 {
            for (index, (of, kind, which, fire, about, shape)) in actions.iter().enumerate() {
                if *of != map {
                    continue;
                }
                let (value, bindings, rules) = KINDS[*kind];
                let row = Row {
                    map: format!("map-{map}"),
                    action: format!("act-{index}"),
                    value: value.to_owned(),
                    fire: rules[*fire].to_owned(),
                    about: if about.trim().is_empty() { String::new() } else { about.clone() },
                    shape: if *shape == 1 && value != "switch" { "ease rise=4/s".to_owned() } else { String::new() },
                    ..Row::default()
                };
                let before = rows.len();
                for (place, (scheme, binding)) in bindings.into_iter().enumerate() {
                    if which & (1 << place) != 0 {
                        let (scheme, binding) = (scheme.to_owned(), binding.to_owned());
                        rows.push(Row { scheme, binding, ..row.clone() });
                    }
                }
                if rows.len() == before {
                    rows.push(row);
                }
            }
        }
        let mut writer = csv::WriterBuilder::new().delimiter(delimiter).from_writer(Vec::new());
        writer.write_record(harmonym_lab::edit::COLUMNS).unwrap();
        for row in &rows {
            writer.write_record(row.fields()).unwrap();
        }
        let table = String::from_utf8(writer.into_inner().unwrap()).unwrap();
        let (text, refused) = imported(&table);
        prop_assert!(refused.is_empty(), "{:?}", refused);
        // An apostrophe before what would be run is the table's.
        for row in &mut rows {
            let rest = row.about.strip_prefix('\'').unwrap_or_default();
            if rest.starts_with(['=', '+', '-', '@', '\t', '\r', '\'']) {
                row.about = rest.to_owned();
            }
        }
        prop_assert_eq!(&export(draft(&text).raw()), &rows, "{}\n{}", table, text);
        let mut again = draft(&text);
        again.take_rows(&read(&table).rows);
        prop_assert_eq!(again.text(), text);
    }
}

#[test]
fn many_rows_at_once_are_what_they_are_one_after_another() {
    let demo = include_str!("../../../demo/harmonym.toml");
    let dotted = "harmonym = 1\nscheme.desk.devices = [\"key\"]\nmap.quay.start = true\n\
                  map.quay.hail.value = \"switch\"\nmap.tug = { whistle = { value = \"switch\" } }\n";
    let dense = "harmonym = 1\n[map.quay]\nstart = true\n[map.quay.hail]\nvalue = \"switch\"\n\
                 [map.quay.ring]\nvalue = \"switch\"\n";
    let rows = "map,action,value,scheme,binding,fire,about\n\
        quay,hail,switch,desk,key.KeyJ,hold 0.4s,Hail a boat\n\
        quay,stow,switch,desk,key.KeyK,,Stow it\n\
        pier,stow,switch,desk,key.KeyL,press,\n\
        quay,hail,,desk,key.KeyM,,\n\
        quay,stow,,bench,key.KeyN,,\n\
        quay,odd,,desk,key.KeyO,,\n\
        quay,worse,switch,desk,key.Nowhere,,\n\
        tug,whistle,,,,hold 0.2s,Whistle\n\
        pier,fish,axis,desk,\"pair(key.KeyA, key.KeyD)\",,\n\
        quay,worse,switch,desk,key.KeyP,,\n";
    for text in [demo, dotted, dense, EMPTY] {
        let (mut whole, mut single) = (draft(text), draft(text));
        let rows = read(rows).rows;
        let at_once = whole.take_rows(&rows);
        let one_by_one: Vec<_> =
            rows.iter().flat_map(|row| single.take_rows(std::slice::from_ref(row))).collect();
        let refused = |all: &[harmonym_lab::edit::RowTaken]| -> Vec<u64> {
            all.iter().filter(|one| one.done.is_err()).map(|one| one.line).collect()
        };
        assert_eq!(refused(&at_once), refused(&one_by_one), "{at_once:?}");
        let sorted = |draft: &Draft| {
            let mut rows = export(draft.raw());
            rows.sort_by(|a, b| a.fields().cmp(&b.fields()));
            rows
        };
        assert_eq!(sorted(&whole), sorted(&single), "{}\n{}", whole.text(), single.text());
        draft(whole.text());
    }
}

#[test]
fn of_many_rows_that_are_faulty_the_rest_is_not_tried_and_the_sound_ones_are_taken() {
    let mut table = "map,action,value,scheme,binding\n".to_owned();
    for n in 0..200 {
        let key = if n % 2 == 0 { "KeyA" } else { "Nowhere" };
        table.push_str(&format!("quay,walk-{n},switch,desk,key.{key}\n"));
    }
    let mut one =
        draft("harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[map.quay]\nstart = true\n");
    let taken = one.take_rows(&read(&table).rows);
    let refused: Vec<&String> = taken.iter().filter_map(|row| row.done.as_ref().err()).collect();
    assert_eq!((taken.len(), refused.len()), (200, 100));
    assert_eq!(refused.iter().filter(|why| why.starts_with("not tried")).count(), 50);
    assert_eq!(export(one.raw()).len(), 100);
}
