//! Plans damaged at random: either the damage is told, or the engine runs on them whatever hands do.

use crate::harness::load;
use crate::random::{self, Ticks};
use harmonym_runtime::base::{
    Class, Contact, Id, IdRange, ListSlice, MOST_DEVICES, MapId, SchemeId, Table, Time, Vector,
};
use harmonym_runtime::engine::{Engine, Start};
use harmonym_runtime::plan::{Cue, Guard, OpKind, Opposed, Param, Plan, Tables};
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::TestRunner;
use std::sync::Arc;

/// A source of numbers.
struct Dice(u64);

impl Dice {
    fn roll(&mut self, sides: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        (self.0 >> 33) as usize % sides.max(1)
    }

    /// An id, of which about half are out of bounds.
    fn id<I: Id>(&mut self, len: usize) -> I {
        I::new(self.roll(2 * len + 2))
    }

    fn number(&mut self) -> f64 {
        const ODD: [f64; 8] =
            [0.0, -1.0, 1e300, f64::NAN, f64::INFINITY, f64::NEG_INFINITY, 1e-300, 0.5];
        ODD[self.roll(ODD.len())]
    }

    fn range<I>(&mut self, len: usize) -> IdRange<I>
    where
        I: Id,
    {
        IdRange::new(self.roll(2 * len + 1), self.roll(2 * len + 1))
    }

    fn slice(&mut self, len: usize) -> ListSlice {
        let mut list = vec![(); self.roll(2 * len + 1)];
        ListSlice::push(&mut list, vec![(); self.roll(4)])
    }

    /// One entry of a table, changed; nothing if there is none.
    fn of<I: Id, T>(&mut self, table: &mut Table<I, T>, change: impl FnOnce(&mut Self, &mut T)) {
        if !table.is_empty() {
            let id = I::new(self.roll(table.len()));
            change(self, &mut table[id]);
        }
    }

    fn in_list<T>(&mut self, list: &mut [T], change: impl FnOnce(&mut Self, &mut T)) {
        let at = self.roll(list.len());
        if let Some(entry) = list.get_mut(at) {
            change(self, entry);
        }
    }
}

/// How many kinds of damage there are.
const KINDS: usize = 44;

/// The kinds that may change a time.
const TIMES: [usize; 4] = [26, 39, 40, 41];

/// Changes one thing of a plan to something else.
fn damage(tables: &mut Tables, kind: usize, dice: &mut Dice) {
    let t = tables;
    let sizes = (t.actions.len(), t.ops.len(), t.params.len(), t.uses.len());
    let (actions, ops, params, uses) = sizes;
    let (inputs, bindings) = (t.inputs.len(), t.bindings.len());
    let (controls, variables) = (t.controls.len(), t.variables.len());
    match kind {
        0 => dice.of(&mut t.actions, |d, a| a.map = d.id(3)),
        1 => dice.of(&mut t.actions, |d, a| a.maps = d.slice(4)),
        2 => dice.of(&mut t.actions, |d, a| a.uses = d.range(uses)),
        3 => dice.of(&mut t.actions, |d, a| a.pluses = d.slice(4)),
        4 => dice.of(&mut t.actions, |d, a| a.memories = d.range(4)),
        5 => dice.of(&mut t.actions, |d, a| a.motions = d.range(4)),
        6 => dice.of(&mut t.actions, |d, a| a.bindings = d.range(bindings)),
        7 => dice.of(&mut t.actions, |d, a| a.shape = d.range(ops)),
        8 => dice.of(&mut t.actions, |d, a| a.alternatives = d.range(actions)),
        9 => dice.of(&mut t.actions, |d, a| a.wake = d.number()),
        10 => dice.of(&mut t.actions, |d, a| a.down = d.number()),
        11 => dice.of(&mut t.actions, |d, a| a.up = d.number()),
        12 => dice.of(&mut t.actions, |d, a| a.yields_to = d.slice(4)),
        13 => dice.of(&mut t.actions, |d, a| a.named_by = d.slice(4)),
        14 => dice.of(&mut t.actions, |d, a| a.read_by = d.slice(4)),
        15 => dice.in_list(&mut t.listed, |d, id| *id = d.id(actions)),
        16 => dice.in_list(&mut t.listed_maps, |d, id| *id = d.id(3)),
        17 => dice.in_list(&mut t.listed_ops, |d, id| *id = d.id(ops)),
        18 => dice.in_list(&mut t.listed_uses, |d, id| *id = d.id(uses)),
        19 => dice.in_list(&mut t.listed_pluses, |d, id| *id = d.id(3)),
        20 => dice.in_list(&mut t.use_bindings, |d, id| *id = d.id(bindings)),
        21 => dice.in_list(&mut t.by_file, |d, id| *id = d.id(actions)),
        22 => dice.in_list(&mut t.guards, |d, guard| {
            *guard = match d.roll(2) {
                0 => Guard::Live(d.id(actions), true),
                _ => Guard::Holds(d.id(variables), false),
            };
        }),
        23 => dice.in_list(&mut t.conditions, |d, one| one.named = d.id(variables)),
        24 => dice.of(&mut t.alternatives, |d, one| one.action = d.id(actions)),
        25 => dice.of(&mut t.alternatives, |d, one| one.guards = d.slice(4)),
        26 => dice.of(&mut t.alternatives, |d, one| {
            one.cue = match d.roll(4) {
                0 => Cue::Hold(d.id(params)),
                1 => Cue::Taps(d.id(params), d.id(params)),
                2 => Cue::Repeat(d.id(params), d.id(params)),
                _ => Cue::Sequence(d.slice(4), d.id(params)),
            };
        }),
        27 => dice.of(&mut t.bindings, |d, one| one.action = d.id(actions)),
        28 => dice.of(&mut t.bindings, |d, one| one.scheme = Some(d.id(3))),
        29 => dice.of(&mut t.bindings, |d, one| one.ops = d.range(ops)),
        30 => dice.of(&mut t.uses, |d, one| one.action = d.id(actions)),
        31 => dice.of(&mut t.uses, |d, one| one.inputs = d.range(inputs)),
        32 => dice.of(&mut t.uses, |d, one| {
            (one.bindings, one.pluses) = (d.slice(4), d.slice(4));
        }),
        33 => dice.of(&mut t.inputs, |d, one| one.of = d.id(uses)),
        34 => dice
            .of(&mut t.inputs, |d, one| (one.control, one.key) = (d.id(controls), d.id(controls))),
        35 => dice.of(&mut t.inputs, |d, one| {
            (one.device, one.halves) = (Some(d.roll(12) as u8), d.roll(256) as u8);
        }),
        36 => dice.of(&mut t.inputs_of, |d, list| *list = [d.id(inputs)].into()),
        37 => dice.of(&mut t.pluses, |d, plus| {
            (plus.action, plus.binding) = (d.id(actions), d.id(bindings));
        }),
        38 => dice.of(&mut t.pluses, |d, plus| {
            (plus.ops, plus.last) = (d.range(ops), d.id(ops));
            (plus.holders, plus.uses) = (d.slice(4), d.slice(4));
        }),
        39 => dice.of(&mut t.params, |d, param| {
            *param = match d.roll(2) {
                0 => Param::Fixed(d.number()),
                _ => {
                    Param::Variable { named: d.id(variables), least: d.number(), most: d.number() }
                }
            };
        }),
        40 => dice.of(&mut t.variables, |d, one| {
            one.range = Some((d.number(), d.number()));
            (one.default, one.factor) = (d.number(), d.number());
        }),
        41 => dice.of(&mut t.variables, |d, one| {
            (one.params, one.readers) = ([d.id(params)].into(), [d.id(actions)].into());
        }),
        42 => dice.of(&mut t.maps, |d, map| map.residents = [d.id(actions), d.id(actions)].into()),
        _ => dice.of(&mut t.ops, |d, op| {
            op.conditions = if d.roll(4) == 0 { d.slice(4) } else { op.conditions };
            op.kind = match d.roll(14) {
                0 => OpKind::Whole(d.id(uses)),
                1 => OpKind::Half(d.id(uses), harmonym_runtime::base::Component::Y, true),
                2 => OpKind::Action(d.id(actions)),
                3 => OpKind::Pair {
                    neg: d.id(ops),
                    pos: d.id(ops),
                    opposed: Opposed::Newest { memory: d.id(4), pos_later: true },
                },
                4 => OpKind::Join { x: d.id(ops), y: d.id(ops), z: Some(d.id(ops)) },
                5 => OpKind::Greater(d.id(ops), d.id(ops)),
                6 => OpKind::Plus(d.id(3)),
                7 => OpKind::Blended,
                8 => OpKind::Toggle(d.id(4)),
                9 => OpKind::Points(d.id(params), d.roll(1 << 20) as u32),
                10 => OpKind::Clamp(d.id(params), d.roll(256) as u8),
                11 => OpKind::Ease {
                    rise: d.id(params),
                    fall: d.id(params),
                    cut: true,
                    motion: d.id(4),
                },
                12 => OpKind::Travel(d.id(4)),
                _ => {
                    OpKind::SwitchAt { on: d.id(params), off: Some(d.id(params)), memory: d.id(4) }
                }
            };
        }),
    }
}

/// Does all that hands and games do, at random.
fn play(plan: Plan, dice: &mut Dice) {
    let plan = Arc::new(plan);
    let mut engine = Engine::start(Arc::clone(&plan), Start::default(), &mut |_| {});
    let tell = &mut |_| {};
    for step in 0..120_u64 {
        let t = Time::from_millis(step * 7);
        let part = |d: &mut Dice| d.roll(21) as f64 / 10.0 - 1.0;
        let value = Vector { x: part(dice), y: part(dice), z: part(dice), w: part(dice) };
        let control = match plan.inputs().is_empty() {
            false if step % 4 > 0 => plan.inputs()[Id::new(dice.roll(plan.inputs().len()))].control,
            _ => Id::new(dice.roll(plan.controls().len())),
        };
        let contact = Contact { control, device: dice.roll(2) as u8 };
        engine.report(t, contact, value, tell).unwrap();
        let map = MapId::new(dice.roll(plan.maps().len()));
        match step % 29 {
            3 | 17 => drop(engine.open(t, map, tell)),
            9 => drop(engine.close(t, map, tell)),
            14 => engine.pause(t, dice.roll(2) == 0, tell),
            19 => drop(engine.narrow(t, Some(SchemeId::new(dice.roll(3))), tell)),
            21 => drop(engine.release_device(t, Class::Pad, 0, tell)),
            25 => drop(engine.set_number(t, Id::new(dice.roll(3)), value.x, tell)),
            _ => {}
        }
        if step % 3 == 0 {
            let frame = engine.tick(t, tell);
            for action in plan.actions().ids() {
                let read = frame.read(action);
                assert!(read.value.is_finite(), "{:?}", read.value);
            }
        }
    }
    engine.stop(tell);
    assert!(!plan.to_string().is_empty());
}

#[test]
fn a_damaged_plan_is_refused_or_runs() {
    let mut runner = TestRunner::deterministic();
    let mut refused = [0_usize; KINDS];
    let mut ran = 0;
    for round in 0..60_u64 {
        let text = random::profile(Ticks::With).new_tree(&mut runner).unwrap().current();
        let (_, plan) = load(&text);
        for (kind, refused) in refused.iter_mut().enumerate() {
            let mut dice = Dice(round * 1000 + kind as u64);
            let mut tables = (*plan).clone().into_tables();
            damage(&mut tables, kind, &mut dice);
            // Every nanosecond is as good a time as any, but not one to wait for.
            let mut cues = tables.alternatives.iter().map(|one| one.cue);
            let may_be_endless = cues.any(|cue| matches!(cue, Cue::Repeat(..)));
            match Plan::new(tables) {
                Ok(_) if may_be_endless && TIMES.contains(&kind) => {}
                Ok(plan) => {
                    play(plan, &mut dice);
                    ran += 1;
                }
                Err(_) => *refused += 1,
            }
        }
    }
    let blind: Vec<usize> = refused
        .iter()
        .enumerate()
        .filter(|(_, count)| **count == 0)
        .map(|(kind, _)| kind)
        .collect();
    assert!(blind.is_empty(), "damage of these kinds was never told: {blind:?}");
    assert!(ran > 100, "nearly all was refused: {ran}");
}

/// A place of a plan, set to the number it is given.
type Place = (&'static str, fn(&Tables) -> usize, fn(&mut Tables, usize));

/// Places that hold an id of a table, with the table's length.
const PLACES: [Place; 24] = [
    ("map of an action", |t| t.maps.len(), |t, to| t.actions[Id::new(0)].map = Id::new(to)),
    ("listed action", |t| t.actions.len(), |t, to| t.listed[0] = Id::new(to)),
    ("listed map", |t| t.maps.len(), |t, to| t.listed_maps[0] = Id::new(to)),
    ("listed operation", |t| t.ops.len(), |t, to| t.listed_ops[0] = Id::new(to)),
    ("listed use", |t| t.uses.len(), |t, to| t.listed_uses[0] = Id::new(to)),
    ("listed plus", |t| t.pluses.len(), |t, to| t.listed_pluses[0] = Id::new(to)),
    ("binding of a use", |t| t.bindings.len(), |t, to| t.use_bindings[0] = Id::new(to)),
    ("order in the file", |t| t.actions.len(), |t, to| t.by_file[0] = Id::new(to)),
    (
        "action of a binding",
        |t| t.actions.len(),
        |t, to| first(&mut t.bindings).action = Id::new(to),
    ),
    (
        "scheme of a binding",
        |t| t.names.schemes.len(),
        |t, to| {
            first(&mut t.bindings).scheme = Some(Id::new(to));
        },
    ),
    (
        "end of a binding",
        |t| t.ops.len() + 1,
        |t, to| {
            let last = Id::new(t.bindings.len() - 1);
            let from = t.bindings[last].ops.first().map_or(0, Id::index);
            t.bindings[last].ops = IdRange::new(from, to);
        },
    ),
    (
        "action of an alternative",
        |t| t.actions.len(),
        |t, to| {
            first(&mut t.alternatives).action = Id::new(to);
        },
    ),
    ("action of a use", |t| t.actions.len(), |t, to| first(&mut t.uses).action = Id::new(to)),
    ("use of an input", |t| t.uses.len(), |t, to| first(&mut t.inputs).of = Id::new(to)),
    (
        "control of an input",
        |t| t.controls.len(),
        |t, to| first(&mut t.inputs).control = Id::new(to),
    ),
    ("key of an input", |t| t.controls.len(), |t, to| first(&mut t.inputs).key = Id::new(to)),
    ("action of a plus", |t| t.actions.len(), |t, to| first(&mut t.pluses).action = Id::new(to)),
    ("binding of a plus", |t| t.bindings.len(), |t, to| first(&mut t.pluses).binding = Id::new(to)),
    ("last part of a plus", |t| t.ops.len(), |t, to| first(&mut t.pluses).last = Id::new(to)),
    (
        "number of a setting",
        |t| t.params.len(),
        |t, to| {
            first(&mut t.variables).params = [Id::new(to)].into();
        },
    ),
    (
        "reader of a setting",
        |t| t.actions.len(),
        |t, to| {
            first(&mut t.variables).readers = [Id::new(to)].into();
        },
    ),
    (
        "resident of a map",
        |t| t.actions.len(),
        |t, to| {
            first(&mut t.maps).residents = [Id::new(to)].into();
        },
    ),
    ("condition", |t| t.variables.len(), |t, to| t.conditions[0].named = Id::new(to)),
    ("device of an input", |_| MOST_DEVICES, |t, to| first(&mut t.inputs).device = Some(to as u8)),
];

fn first<I: Id, T>(table: &mut Table<I, T>) -> &mut T {
    &mut table[I::new(0)]
}

#[test]
fn an_id_one_past_the_end_is_told_wherever_it_stands() {
    let text =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/harmonym.toml"));
    let (_, plan) = load(&text.unwrap());
    assert!(Plan::new((*plan).clone().into_tables()).is_ok());
    for (place, len, set) in PLACES {
        let mut tables = (*plan).clone().into_tables();
        let len = len(&tables);
        set(&mut tables, len);
        assert!(Plan::new(tables).is_err(), "{place}: {len} of {len}");
    }
}

/// A step whose numbers begin at one.
type Kind = fn(usize) -> OpKind;

#[test]
fn numbers_of_a_step_that_reach_past_the_end_are_told() {
    let (_, plan) = load(&format!(
        "{}[map.quay.a]\nvalue = \"axis\"\n\
         bind.pad = \"pad.left-trigger | curve (0.1 0.2) (0.5 0.4) (1 0.9)\"\n",
        crate::harness::HEAD
    ));
    let len = plan.params().len();
    let at = |kind: Kind, first: usize| {
        let mut tables = (*plan).clone().into_tables();
        let op = tables.ops.ids().find(|&op| matches!(tables.ops[op].kind, OpKind::Points(..)));
        tables.ops[op.expect("the step")].kind = kind(first);
        Plan::new(tables).map(|_| ())
    };
    let reads: [(usize, Kind); 9] = [
        (1, |p| OpKind::Scale(Id::new(p))),
        (1, |p| OpKind::Notch(Id::new(p))),
        (2, |p| OpKind::Clamp(Id::new(p), 1)),
        (2, |p| OpKind::Points(Id::new(p), 1)),
        (3, |p| OpKind::ScaleEach(Id::new(p))),
        (4, |p| OpKind::Remap(Id::new(p), 1)),
        (4, |p| OpKind::Points(Id::new(p), 2)),
        (6, |p| OpKind::Points(Id::new(p), 3)),
        (1, |p| OpKind::Deadzone { low: Id::new(0), full: Id::new(p) }),
    ];
    for (count, kind) in reads {
        assert_eq!(at(kind, len - count), Ok(()), "{count}: {:?}", kind(len - count));
        assert!(at(kind, len - count + 1).is_err(), "{count}: {:?}", kind(len - count + 1));
    }
}
