//! The small language: what text gives which tree, and the plan that comes of it.

use harmonym_lang::profile::cues::CueWord;
use harmonym_lang::profile::steps::StepWord;
use harmonym_lang::profile::table;
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Quoted, Source, Span};
use harmonym_lang::syntax::{
    ArgValue, GuardWord, Head, Unit, parse_binding, parse_fire, parse_steps,
};

fn quoted(text: &str) -> Quoted {
    let file = format!("'{text}'");
    Quoted::new(&file, Span::new(0, file.len()), text)
}

/// A tree in one line, as bracketed words.
fn head(head: &Head) -> String {
    match head {
        Head::Control(word) => word.text.clone(),
        Head::Combination(combination) => {
            let parts = combination.parts.iter().map(|part| {
                let name = part.name.as_ref().map_or(String::new(), |n| format!("{}:", n.text));
                format!("{name}{}", binding(&part.binding))
            });
            let options = combination.options.iter().map(|(n, w)| format!("{}={}", n.text, w.text));
            let all: Vec<_> = parts.chain(options).collect();
            format!("[{} {}]", combination.name.text, all.join(" "))
        }
        Head::Sum(parts, _) => {
            let parts: Vec<_> = parts.iter().map(head_of).collect();
            format!("[+ {}]", parts.join(" "))
        }
        Head::Group(inner) => format!("({})", binding(inner)),
    }
}

fn head_of(one: &Head) -> String {
    head(one)
}

fn binding(tree: &harmonym_lang::syntax::Binding) -> String {
    let steps = tree.steps.iter().map(|step| {
        let args: Vec<_> = step.args.iter().map(arg).collect();
        let at = if step.is_preset { "@" } else { "" };
        let condition = step.conditions.first().map_or(String::new(), |c| {
            format!(" {} {}", if c.unless { "unless" } else { "when" }, c.name.text)
        });
        format!(" | {at}{}{}{condition}", step.name.text, args.concat())
    });
    format!("{}{}", head(&tree.head), steps.collect::<String>())
}

fn arg(arg: &harmonym_lang::syntax::Arg) -> String {
    let name = arg.name.as_ref().map_or(String::new(), |n| format!("{}=", n.text));
    let value = match &arg.value {
        ArgValue::Number(number) => format!("{}", number.value),
        ArgValue::Word(word) => word.text.clone(),
        ArgValue::Point(numbers) => {
            let numbers: Vec<_> = numbers.iter().map(|n| n.value.to_string()).collect();
            format!("({})", numbers.join(" "))
        }
    };
    format!(" {name}{value}")
}

#[test]
fn bindings_give_trees() {
    for (text, tree) in [
        ("key.KeyA", "key.KeyA"),
        ("  pad.left-stick|flip x y|@soft  ", "pad.left-stick | flip x y | @soft"),
        (
            "pair(neg=key.KeyA,pos = key.KeyD, opposed=newest)",
            "[pair neg:key.KeyA pos:key.KeyD opposed=newest]",
        ),
        ("key.Shift + pad#2.south + (key.A | not)", "[+ key.Shift pad#2.south (key.A | not)]"),
        (
            "join(pad.left-trigger | flip, key.KeyQ) | scale 2 -0.5",
            "[join pad.left-trigger | flip key.KeyQ] | scale 2 -0.5",
        ),
        ("char.+ | flip", "char.+ | flip"),
        ("char.| | flip", "char.| | flip"),
        ("char#2.)", "char#2.)"),
        ("any(char.,, char. )", "[any char., char. ]"),
        (
            "mouse.move | scale 8% | curve (0.5 0.2) (1 1)",
            "mouse.move | scale 0.08 | curve (0.5 0.2) (1 1)",
        ),
        (
            "a | deadzone 0.1 full=.5 by=axes when slow-walk",
            "a | deadzone 0.1 full=0.5 by=axes when slow-walk",
        ),
        ("a | @soft unless calm | ease rise=6/s", "a | @soft unless calm | ease rise=6"),
        ("a | scale gaze-speed", "a | scale gaze-speed"),
    ] {
        let mut diagnostics = Diagnostics::new();
        let parsed = parse_binding(&quoted(text), &mut diagnostics);
        let parsed = parsed.unwrap_or_else(|| panic!("{text}: {diagnostics:?}"));
        assert_eq!(binding(&parsed), tree, "{text}");
        assert!(diagnostics.is_empty(), "{text}");
    }
}

#[test]
fn numbers_have_units_and_times_are_exact() {
    for (text, value, unit, nanos) in [
        ("0.4", 0.4, Unit::Plain, None),
        ("-.5", -0.5, Unit::Plain, None),
        ("12.5%", 0.125, Unit::Percent, None),
        ("180deg", std::f64::consts::PI, Unit::Angle, None),
        ("0.5rad", 0.5, Unit::Angle, None),
        ("6/s", 6.0, Unit::Rate, None),
        ("80ms", 0.08, Unit::Time, Some(80_000_000)),
        ("250us", 0.000_25, Unit::Time, Some(250_000)),
        ("0.1234567894s", 0.123_456_789, Unit::Time, Some(123_456_789)),
        ("-1s", -1.0, Unit::Time, None),
    ] {
        let steps =
            parse_steps(&quoted(&format!("step {text}")), &mut Diagnostics::new()).expect(text);
        let ArgValue::Number(number) = &steps[0].args[0].value else { panic!("{text}") };
        assert_eq!((number.value, number.unit), (value, unit), "{text}");
        assert_eq!(number.time.map(harmonym_runtime::base::Time::nanos), nanos, "{text}");
    }
}

#[test]
fn fire_rules_give_trees() {
    let text =
        " hold  0.8s with quay.hurry unless calm or sequence(a, b) within=1s  or taps 2 gap=0.3s";
    let fire = parse_fire(&quoted(text), &mut Diagnostics::new()).expect("a rule");
    let texts: Vec<_> = fire.alternatives.iter().map(|a| a.text.as_str()).collect();
    // As written, without guards.
    assert_eq!(texts, ["hold  0.8s", "sequence(a, b) within=1s", "taps 2 gap=0.3s"]);
    let guards = &fire.alternatives[0].guards;
    assert_eq!((guards[0].word, guards[0].name.text.as_str()), (GuardWord::With, "quay.hurry"));
    assert_eq!((guards[1].word, guards[1].name.text.as_str()), (GuardWord::Unless, "calm"));
    let list: Vec<_> =
        fire.alternatives[1].list.iter().flatten().map(|w| w.text.as_str()).collect();
    assert_eq!(list, ["a", "b"]);
}

#[test]
fn the_plan_prints_as_text() {
    let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\nscheme.pad.devices = [\"pad\"]\n\
                [map.quay.walk]\nvalue = \"plane\"\nshape = \"cap 0.5\"\nfire = \"while or hold 80ms\"\n\
                bind.pad = \"pad.left-stick | deadzone 10% by=axes | curve 2\"\n\
                bind.desk = \"pair(pos=key.KeyA, neg=key.Shift, opposed=newest) | onto y\"\n";
    let (_, plan) = harmonym_lang::load(&Source::new("p", text)).expect("a sound profile");
    let expected = "\
quay.walk: plane, wake 0.55 down 0.55 up 0.44000000000000006
  quay.walk@pad#1
    0 = pad.left-stick
    1 = deadzone 0.1 by=axes
    2 = curve 2
  quay.walk@desk#1
    3 = key.ShiftLeft or key.ShiftRight
    4 = key.KeyA
    5 = pair 3 4 Newest { memory: MemoryId(0), pos_later: false }
    6 = onto y
  shape
    7 = blended
    8 = cap 0.5
  fires while
  fires hold 80ms
";
    assert_eq!(plan.to_string(), expected);
    assert!(size_of::<harmonym_runtime::plan::Op>() <= 32, "an operation grew");
}

/// Each step as a profile writes it, with the kind of value that it takes.
const STEPS: &[(&str, &str)] = &[
    ("axis", "flip"),
    ("plane", "flip y"),
    ("space", "flip x z"),
    ("axis", "not"),
    ("axis", "toggle"),
    ("axis", "switch-at 0.6"),
    ("axis", "switch-at 0.6 off=0.3"),
    ("plane", "scale 0.08"),
    ("plane", "scale 2 -0.5"),
    ("space", "scale 2 -0.5 1"),
    ("plane", "scale pace when brisk"),
    ("plane", "scale 0.5 unless on-ladder"),
    ("plane", "deadzone 0.1"),
    ("plane", "deadzone 0.1 full=0.96"),
    ("plane", "deadzone 0.1 full=0.96 by=axes"),
    ("axis", "curve 1.6"),
    ("axis", "curve (0.5 0.2) (1 1)"),
    ("plane", "cap 1"),
    ("plane", "clamp -0.5 0.75"),
    ("plane", "unit"),
    ("axis", "remap 0 1 -1 1"),
    ("plane", "order yx"),
    ("space", "order zxy"),
    ("plane", "rotate 90deg"),
    ("plane", "rotate cab-angle"),
    ("space", "rotate -30deg around=x"),
    ("plane", "ways 8"),
    ("plane", "ways 4 from=45deg"),
    ("axis", "notch 0.25"),
    ("axis", "ease rise=2.5/s"),
    ("plane", "ease rise=2/s fall=4/s reverse=cut"),
    ("axis", "smooth 50ms"),
    ("turn", "smooth 0.25s"),
    ("plane", "travel"),
];

#[test]
fn a_step_is_told_as_a_profile_writes_it() {
    for (kind, step) in STEPS {
        let text = format!(
            "harmonym = 1\nscheme.desk.devices = [\"key\"]\nsetting.pace.default = 1\n\
             setting.brisk.default = false\nfact.on-ladder = {{}}\nfact.cab-angle.unit = \"deg\"\n\
             [map.quay.act]\nvalue = \"{kind}\"\nshape = \"{step}\"\n"
        );
        let (_, plan) = harmonym_lang::load(&Source::new("p", text))
            .unwrap_or_else(|faults| panic!("{step}: {faults:?}"));
        let action = plan.find_action("quay.act").unwrap();
        let spec = &plan.actions()[action];
        let written: Vec<_> =
            spec.shape.iter().filter_map(|op| plan.step_text(op, spec.kind)).collect();
        assert_eq!(written, [*step]);
    }
    let head = |binding: &str| {
        let text = format!(
            "harmonym = 1\nscheme.pad.devices = [\"pad\"]\n[map.quay.act]\nvalue = \"axis\"\n\
             bind.pad = \"{binding}\"\n"
        );
        let (_, plan) = harmonym_lang::load(&Source::new("p", text)).unwrap();
        let binding = &plan.bindings()
            [plan.actions()[plan.find_action("quay.act").unwrap()].bindings.iter().next().unwrap()];
        binding
            .ops
            .iter()
            .filter_map(|op| plan.step_text(op, harmonym_runtime::base::Kind::Axis))
            .collect::<Vec<_>>()
    };
    assert_eq!(head("pad.left-stick | pick y | flip"), ["pick y", "flip"]);
    assert_eq!(head("pad.left-stick | pick length"), ["pick length"]);
    assert!(head("pair(pad.south, pad.east)").is_empty());
}

#[test]
fn a_plan_that_is_not_sound_is_found_out() {
    use harmonym_runtime::base::{Id, IdRange, OpId};
    use harmonym_runtime::plan::{OpKind, Plan};
    let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay.row]\nvalue = \"axis\"\n\
                bind.desk = \"pair(key.KeyA, key.KeyD)\"\n";
    let (_, plan) = harmonym_lang::load(&Source::new("p", text)).expect("a sound profile");
    let last = OpId::new(plan.ops().len() - 1);
    let spoil = |change: fn(&mut harmonym_runtime::plan::Tables, OpId)| {
        let mut tables = plan.clone().into_tables();
        change(&mut tables, last);
        Plan::new(tables).expect_err("a fault").to_string()
    };
    let pair = OpId::new(2);
    assert!(matches!(plan.ops()[pair].kind, OpKind::Pair { .. }));
    let told = spoil(|tables, last| {
        tables.ops[OpId::new(0)].kind = OpKind::Join { x: last, y: last, z: None };
    });
    assert!(told.contains("reads a later one"));
    let told = spoil(|tables, _| {
        let action = tables.actions.ids().next().unwrap();
        tables.actions[action].shape = IdRange::new(5, 900);
    });
    assert!(told.contains("out of bounds"));
    let told = spoil(|tables, _| {
        let action = tables.actions.ids().next().unwrap();
        tables.actions[action].up = 2.0;
    });
    assert!(told.contains("levels"));
}

#[test]
fn the_words_of_the_language_name_nothing_else() {
    for step in StepWord::ALL {
        assert_eq!(StepWord::named(step.text().word), Some(*step));
        assert!(table::is_taken(step.text().word) && CueWord::named(step.text().word).is_none());
        assert!(step.text().form.starts_with(step.text().word));
    }
    for cue in CueWord::ALL {
        assert_eq!(CueWord::named(cue.text().word), Some(*cue));
        assert!(table::is_taken(cue.text().word) && cue.text().form.starts_with(cue.text().word));
    }
    assert!(table::is_taken("full") && !table::is_taken("pace"));
}

#[test]
fn no_scheme_is_called_all() {
    let text = |name: &str| format!("harmonym = 1\nscheme.{name}.devices = [\"key\"]\n");
    let load = |name: &str| harmonym_lang::load(&Source::new("t", text(name)));
    assert!(load("every").is_ok());
    let faults = load("all").expect_err("`bind.all` is for all of them");
    assert!(faults.to_string().contains("`all`"), "{faults}");
}
