//! Numbers of steps and cues at both ends of their ranges, from their descriptions.

use harmonym_lang::load;
use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::number::{Counts, Number, Parameter};
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::report::{FaultKind, Faults};
use harmonym_lang::source::Source;
use harmonym_runtime::base::Kind;

/// A number as a profile writes it, with the unit of what it counts.
fn written(value: f64, counts: Counts) -> String {
    let unit = match counts {
        Counts::Plain => "",
        Counts::Time => "s",
        Counts::Angle => "rad",
        Counts::Rate => "/s",
    };
    format!("{value}{unit}")
}

/// What is written for a step or cue when one of its numbers is `value` and the others are such that
/// they are no fault.
fn with_number(form: &str, all: &[Parameter], which: usize, value: f64) -> String {
    let plain = |letters: &str| match letters {
        "ON" | "HIGH" | "HI" | "B" | "D" => 0.9,
        "OFF" | "LOW" => 0.1,
        "LO" | "A" | "C" => -0.9,
        "N" => 3.0,
        _ => 0.5,
    };
    // The longest letters first: `A` stands in no other's way then.
    let mut order: Vec<usize> = (0..all.len()).collect();
    order.sort_by_key(|&i| std::cmp::Reverse(all[i].letters.len()));
    let words = form.split(' ').map(|word| {
        let trimmed = word.trim_matches(['(', ')']);
        let (option, letters) = trimmed.rsplit_once('=').unwrap_or(("", trimmed));
        let Some(&i) = order.iter().find(|&&i| all[i].letters == letters) else {
            return word.to_owned();
        };
        let number = if i == which { value } else { plain(letters) };
        let number = written(number, all[i].number.counts);
        let option = if option.is_empty() { String::new() } else { format!("{option}=") };
        word.replace(trimmed, &format!("{option}{number}"))
    });
    words.collect::<Vec<_>>().join(" ")
}

/// Tries a number of a step or cue at both ends of its range, and a bit to each side of them.
fn try_ends(form: &str, all: &[Parameter], is_refused: impl Fn(&str) -> bool) {
    for (which, parameter) in all.iter().enumerate() {
        let Number { least, most, over, counts, .. } = parameter.number;
        let is_count = matches!(parameter.letters, "N");
        // Times are whole nanoseconds.
        let step = |v: f64, up: bool| match (is_count, counts, up) {
            (true, _, true) => v + 1.0,
            (true, _, false) => v - 1.0,
            (false, Counts::Time, true) => v + 1e-9,
            (false, Counts::Time, false) => v - 1e-9,
            (false, _, true) => v.next_up(),
            (false, _, false) => v.next_down(),
        };
        let (inside, outside) = match (over, counts) {
            (true, Counts::Time) => (1e-9, 0.0),
            (true, _) => (1e-9, least),
            (false, _) => (least, step(least, false)),
        };
        for (value, refused) in
            [(inside, false), (outside, true), (most, false), (step(most, true), true)]
        {
            let text = with_number(form, all, which, value);
            assert_eq!(is_refused(&text), refused, "`{text}`: {}", parameter.number.range());
        }
    }
}

#[test]
fn every_number_holds_at_both_ends_of_its_range_and_no_bit_beyond() {
    let is_refused = |action: &str| {
        let text =
            format!("harmonym = 1\n[map.m.other]\nvalue = \"switch\"\n[map.m.act]\n{action}\n");
        let all = load(&Source::new("t", text)).err().map(Faults::into_list).unwrap_or_default();
        all.iter().any(|fault| {
            fault.rule == FaultKind::OutOfRange.name() && fault.message.contains("cannot be")
        })
    };
    for text in StepWord::ALL.iter().map(|step| step.text()) {
        for form in text.written {
            let form = form.replace(" (X Y) …", "");
            let numbers: Vec<Parameter> = text
                .numbers
                .iter()
                .filter(|one| form.split([' ', '=', '(', ')']).any(|word| word == one.letters))
                .copied()
                .collect();
            let kind = if text.takes.contains(&Kind::Plane) { "plane" } else { "axis" };
            try_ends(&form, &numbers, |step| {
                is_refused(&format!("value = \"{kind}\"\nshape = \"{step}\""))
            });
        }
    }
    for text in CueWord::ALL.iter().map(|cue| cue.text()) {
        let form = text.written.replace("(a, b, c)", "(other, other, other)");
        try_ends(&form, text.numbers, |cue| {
            is_refused(&format!("value = \"switch\"\nfire = \"{cue}\""))
        });
    }
}

#[test]
fn chains_and_presets_have_as_many_steps_as_may_be_and_not_one_more() {
    let told = |presets: &str, bindings: usize, chain: &str| {
        let actions: String = (0..bindings)
            .map(|i| {
                let side = if i % 2 == 0 { "left" } else { "right" };
                format!(
                    "[map.m.a{i}]\nvalue = \"axis\"\nbind.pad = \"pad.{side}-trigger | {chain}\"\n"
                )
            })
            .collect();
        let text = format!(
            "harmonym = 1\n[scheme.pad]\ndevices = [\"pad\"]\n[preset]\n{presets}[map.m]\n{actions}"
        );
        let all = load(&Source::new("t", text)).err().map(Faults::into_list).unwrap_or_default();
        all.into_iter().map(|fault| fault.message).collect::<Vec<_>>()
    };
    let chain = |steps: usize| vec!["scale 1"; steps].join(" | ");
    let long = "the chain has more than 1000 steps";
    assert_eq!(told("", 1, &chain(1000)), Vec::<String>::new());
    assert_eq!(told("", 1, &chain(1001)), [long]);
    let preset = |steps: usize| format!("p = \"{}\"\n", chain(steps));
    assert_eq!(told(&preset(1001), 1, "scale 1"), [long]);
    assert_eq!(told(&preset(500), 1, "@p | @p"), Vec::<String>::new());
    assert_eq!(told(&preset(500), 1, "@p | scale 1 | @p"), [long]);
    // In all of a profile, told once.
    assert_eq!(told(&preset(1000), 1000, "@p"), Vec::<String>::new());
    assert_eq!(told(&preset(1000), 1002, "@p"), ["presets make more than 1000000 steps here"]);
}

#[test]
fn an_action_has_as_many_bindings_as_may_be_and_not_one_more() {
    let told = |binds: &[usize]| {
        let action = |(index, &count): (usize, &usize)| {
            let all = vec!["\"key.KeyA\""; count].join(", ");
            format!("[map.m.a{index}]\nvalue = \"switch\"\nbind.desk = [{all}]\nbind.all = []\n")
        };
        let actions: String = binds.iter().enumerate().map(action).collect();
        let head = "harmonym = 1\n[scheme.desk]\ndevices = [\"key\"]\n[map.m]\n";
        let source = Source::new("t", head.to_owned() + &actions);
        let all = load(&source).err().map(Faults::into_list).unwrap_or_default();
        let told = all.into_iter().map(|one| (source.place(one.span.start).line, one.message));
        told.collect::<Vec<_>>()
    };
    let too_many = |line: usize| (line, "the action has more than 500 bindings".to_owned());
    assert_eq!(told(&[500; 2]), []);
    assert_eq!(told(&[501]), [too_many(7)]);
    assert_eq!(told(&[500, 501, 500, 502]), [too_many(11), too_many(19)]);
}
