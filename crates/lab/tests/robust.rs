//! Whatever is written, reading it ends: no panic, every fault lies within the text, and what is
//! accepted can be run.

mod gate;

use harmonym_lab::score;
use harmonym_lab::take::{Input, Reader, What, write_input};
use harmonym_lang::report::Faults;
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_runtime::base::Time;
use harmonym_runtime::engine::{Engine, Start};
use harmonym_runtime::plan::Plan;
use proptest::prelude::*;
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");
const SCORE: &str = include_str!("../../../demo/scores/straight-diagonal.score");

fn demo() -> Plan {
    harmonym_lang::load(&Source::new("demo", DEMO)).expect("the demo is sound").1
}

/// Pieces of the language and things that are none.
fn scrap() -> impl Strategy<Value = String> {
    let words = vec![
        "key.KeyA",
        "pad.left-stick",
        "four(",
        "pair(",
        ")",
        "(",
        ",",
        "|",
        "+",
        "=",
        "@stick",
        "@",
        "deadzone",
        "0.1",
        "-1",
        "1.2.3",
        "40%",
        "0.8s",
        "30deg",
        "6/s",
        "full=0.9",
        "curve",
        "flip",
        "onto x",
        "pick length",
        "hold",
        "press",
        "or",
        "with",
        "unless",
        "opposed=newest",
        "\"",
        "'",
        "\\",
        "\\u00e9",
        "\\n",
        "ä",
        "港",
        "\u{0}",
        "\u{feff}",
        "\r\n",
        "\n",
        "[",
        "]",
        "{",
        "}",
        "#",
        "\"\"\"",
        "[map.a.b]",
        "value = \"axis\"",
        "bind.desk = ",
        "fire = ",
        "levels = { up = 2 }",
        "char.",
        "char.+",
        "act.walk",
        "#2",
        "at 0.5s",
        "press key.KeyA for",
        "push",
        "over 1s",
        "",
    ];
    prop_oneof![
        8 => prop::sample::select(words).prop_map(str::to_owned),
        1 => any::<char>().prop_map(String::from),
    ]
}

/// A text with a stretch replaced by scraps.
fn damaged(text: &'static str) -> impl Strategy<Value = String> {
    let scraps = prop::collection::vec(scrap(), 0..6);
    (0..text.len(), 0_usize..30, scraps).prop_map(move |(from, len, scraps)| {
        let from = text.floor_char_boundary(from);
        let to = text.ceil_char_boundary((from + len).min(text.len()));
        format!("{}{}{}", &text[..from], scraps.join(" "), &text[to..])
    })
}

fn check_places(text: &str, faults: &Faults) -> Result<(), TestCaseError> {
    prop_assert!(!faults.list().is_empty());
    for fault in faults.list() {
        let spans = fault.also.iter().map(|(span, _)| span).chain([&fault.span]);
        for &Span { start, end } in spans {
            prop_assert!(start <= end && end <= text.len(), "{fault:?}");
            prop_assert!(text.is_char_boundary(start), "{fault:?}");
        }
        prop_assert!(!fault.message.is_empty() && !fault.help.is_empty(), "{fault:?}");
    }
    Ok(())
}

proptest! {
    #![proptest_config(gate::gate(2000))]

    #[test]
    fn profiles(text in damaged(DEMO)) {
        let source = Source::new("p", text);
        match harmonym_lang::load(&source) {
            Ok((_, plan)) => {
                let mut engine = Engine::start(Arc::new(plan), Start::default(), &mut |_| {});
                engine.tick(Time::from_millis(1), &mut |_| {});
            }
            Err(faults) => check_places(source.text(), &faults)?,
        }
    }

    #[test]
    fn expressions(scraps in prop::collection::vec(scrap(), 0..12)) {
        let text = scraps.join(" ").replace(['\\', '\'', '\n', '\r', '\u{0}', '\u{feff}'], " ");
        let text = text.replace(|c: char| c.is_control(), " ");
        for key in ["bind.desk", "shape", "fire"] {
            let file = format!(
                "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.a.b]\nvalue = \"axis\"\n{key} = '{text}'\n"
            );
            let source = Source::new("p", file);
            if let Err(faults) = harmonym_lang::load(&source) {
                check_places(source.text(), &faults)?;
            }
        }
    }

    #[test]
    fn scores(text in damaged(SCORE)) {
        let (plan, source) = (demo(), Source::new("s", text));
        match score::read(&source, &plan) {
            // A movement of years has more reports than anybody waits for.
            Ok(score) => {
                let mut last = Time::ZERO;
                for input in score.perform().take(5000) {
                    prop_assert!(input.t >= last);
                    last = input.t;
                }
            }
            Err(faults) => check_places(source.text(), &faults)?,
        }
    }

    #[test]
    fn takes(line in damaged(r#"{"t":0.25,"control":"pad.left-stick","value":[0.5,-0.25]}"#)) {
        // What comes between line breaks has none.
        let line = line.replace('\n', " ");
        let plan = demo();
        let (mut reader, _) = Reader::new("t", "{\"take\":1}", &plan).expect("a header");
        if let Err(faults) = reader.line(&line) {
            check_places(&line, &faults)?;
            prop_assert!(faults.to_string().starts_with("t:2:"), "{faults}");
        }
    }

    /// What is written of an input reads back as the same.
    #[test]
    fn inputs_survive_writing(nanos in 0_u64..10_000_000_000_000, x in -1.0_f64..1.0, y in -1.0_f64..1.0) {
        let plan = demo();
        let control = harmonym_runtime::controls::Catalogue::built_in().reported_id("pad.right-stick").unwrap();
        let value = harmonym_runtime::base::Vector::new(x, y);
        let input = Input { t: Time::from_nanos(nanos), what: What::Report(harmonym_runtime::base::Contact::first(control), value) };
        let mut line = String::new();
        write_input(&mut line, &plan, &input).unwrap();
        let (mut reader, _) = Reader::new("t", "{\"take\":1}", &plan).expect("a header");
        prop_assert_eq!(reader.line(&line), Ok(Some(input)), "{}", line);
    }

    /// Each character of a string is found where it is written.
    #[test]
    fn strings_map_onto_the_file(parts in prop::collection::vec((any::<char>(), 0_u8..4), 0..20)) {
        let mut file = "k = \"".to_owned();
        let mut written: Vec<(char, Span)> = Vec::new();
        for (c, how) in parts {
            let start = file.len();
            let simple = !c.is_control() && c != '"' && c != '\\';
            match how {
                0 => file.push_str(&format!("\\U{:08x}", u32::from(c))),
                1 if u32::from(c) < 0x1_0000 => file.push_str(&format!("\\u{:04x}", u32::from(c))),
                _ if simple => file.push(c),
                _ => file.push_str(&format!("\\U{:08x}", u32::from(c))),
            }
            written.push((c, Span::new(start, file.len())));
        }
        file.push('"');
        let said: String = written.iter().map(|(c, _)| *c).collect();
        let quoted = Quoted::new(&file, Span::new(4, file.len()), said);
        let mut at = 0;
        for (i, (c, span)) in written.iter().enumerate() {
            let end = at + c.len_utf8();
            prop_assert_eq!(quoted.file_span(at, end), *span, "{} in {}", i, file);
            at = end;
        }
    }
}

#[test]
fn a_take_says_what_each_control_reports() {
    let text = "harmonym = 1\nscheme.bench.devices = [\"bench\"]\n\
                device.bench.controls = { spot = \"place\", ball = \"turn\", nib = \"spot\" }\n\
                [map.quay]\nstart = true\n";
    let (_, plan) = harmonym_lang::load(&Source::new("p", text)).expect("sound");
    let fault = |header: &str, line: &str| match Reader::new("t", header, &plan) {
        Ok((mut reader, _)) => reader.line(line).expect_err(line).to_string(),
        Err(faults) => faults.to_string(),
    };
    let take = "{\"take\":1}";
    for (header, line, wanted) in [
        (
            take,
            r#"{"t":0,"control":"bench.spot","value":[1,2]}"#,
            "t:2:31: `bench.spot` reports a list of three numbers",
        ),
        (
            take,
            r#"{"t":0,"control":"bench.ball","value":1}"#,
            "`bench.ball` reports a list of four numbers",
        ),
        (
            take,
            r#"{"t":0,"control":"bench.nib","value":1}"#,
            "`bench.nib` reports a list of two numbers",
        ),
        (take, r#"{"t":0,"control":"pad.south","value":[1,2]}"#, "`pad.south` reports one number"),
        ("{\"take\":1,\"seats\":0}", "", "there are 1 to 8 seats"),
        ("{\"take\":1,\"seats\":9}", "", "there are 1 to 8 seats"),
        ("{\"take\":2}", "", "this take is in format 2"),
    ] {
        let told = fault(header, line);
        assert!(told.contains(wanted), "{header} {line}: {told}");
    }
}
