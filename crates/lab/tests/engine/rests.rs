//! Ticks that may be left out: where the engine says that it rests, they tell nothing and change nothing.

use crate::gate::gate;
use crate::harness::{HEAD, Read, inputs, load};
use crate::random::{self, Ticks};
use harmonym_lab::take::Input;
use harmonym_runtime::base::{Rate, Seat, Time};
use harmonym_runtime::engine::Start;
use harmonym_runtime::plan::Plan;
use harmonym_runtime::seats::Seats;
use proptest::prelude::*;
use std::sync::Arc;

/// Inputs and ticks, one after the other: what is told and read at each tick, and whether, by what was
/// said at the one before, nothing should be new at it.
struct Ticking {
    seats: Seats,
    plan: Arc<Plan>,
    next: u64,
    rests: Option<Time>,
    read: Vec<Read>,
}

impl Ticking {
    fn new(plan: &Arc<Plan>) -> Self {
        let seats = Seats::start(plan.clone(), 1, Start::default(), &mut |_| {});
        Self { seats, plan: plan.clone(), next: 1, rests: None, read: Vec::new() }
    }

    fn give(&mut self, input: &Input) {
        input.give(&mut self.seats, &mut |_| {}).unwrap();
        self.rests = None;
    }

    fn tick(&mut self) {
        let t = Rate::DEFAULT.tick(self.next);
        let mut told = 0;
        self.seats.tick(t, &mut |_| told += 1);
        let frame = self.seats.frame(Seat::FIRST);
        let actions = self.plan.actions();
        let of = |id| (frame.value(id), frame.state(id), frame.fired(id));
        let read: Vec<Read> = actions.ids().map(of).collect();
        if self.rests.is_some_and(|rests| t < rests) {
            let same = self.read.iter().map(|&(value, state, _)| (value, state, 0));
            assert_eq!((told, frame.changed().count()), (0, 0), "at {t}");
            assert_eq!(read, same.collect::<Vec<_>>(), "at {t}");
        }
        (self.read, self.rests) = (read, self.seats.rests_until());
        self.next += 1;
    }
}

proptest! {
    #![proptest_config(gate(256))]

    #[test]
    fn a_tick_that_may_be_left_out_tells_and_changes_nothing(
        profile in random::profile(Ticks::With),
        take in random::take(),
    ) {
        let (_, plan) = load(&profile);
        let mut ticking = Ticking::new(&plan);
        for input in inputs(&take, &plan) {
            while Rate::DEFAULT.tick(ticking.next) < input.t {
                ticking.tick();
            }
            ticking.give(&input);
        }
        (0..300).for_each(|_| ticking.tick());
    }
}

#[test]
fn the_engine_rests_where_nothing_is_left_to_come() {
    let key = "{\"t\":0,\"control\":\"key.KeyA\",\"value\":1}\n";
    let moves = "{\"t\":0,\"control\":\"mouse.move\",\"by\":[3,0]}\n\
                 {\"t\":0.02,\"control\":\"mouse.move\",\"by\":[3,0]}\n";
    let rows: &[(&str, &str, &[bool])] = &[
        // A value differs from that of the tick before once.
        ("value = \"switch\"\nbind.desk = \"key.KeyA\"", key, &[false, true, true]),
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"hold 1s\"",
            key,
            &[false, true, true],
        ),
        (
            "value = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"while\"",
            key,
            &[false, false, false],
        ),
        // It moves for a tenth of a second.
        (
            "value = \"axis\"\nbind.desk = \"key.KeyA | ease rise=10/s\"\nfire = \"press\"",
            key,
            &[false, false, false, false, false, false, true],
        ),
        // The second tick reads what the first did, and the third no movement.
        (
            "value = \"plane\"\nbind.desk = \"mouse.move\"\nfire = \"press\"",
            moves,
            &[false, false, false, true],
        ),
    ];
    for (action, take, rests) in rows {
        let (_, plan) = load(&format!("{HEAD}[map.quay.a]\n{action}\n"));
        let mut ticking = Ticking::new(&plan);
        let mut inputs = inputs(take, &plan).into_iter().peekable();
        let mut seen = Vec::new();
        while seen.len() < rests.len() {
            let t = Rate::DEFAULT.tick(ticking.next);
            while let Some(input) = inputs.next_if(|input| input.t <= t) {
                ticking.give(&input);
            }
            ticking.tick();
            seen.push(ticking.rests.is_some());
        }
        assert_eq!(seen, *rests, "{action}");
    }
}

#[test]
fn a_fire_between_ticks_leaves_no_rest_before_the_tick_that_reads_it() {
    let (_, plan) = load(&format!(
        "{HEAD}[map.quay.a]\nvalue = \"switch\"\nbind.desk = \"key.KeyA\"\nfire = \"hold 1s\"\n"
    ));
    let mut ticking = Ticking::new(&plan);
    ticking.give(&inputs("{\"t\":0,\"control\":\"key.KeyA\",\"value\":1}\n", &plan)[0]);
    (0..2).for_each(|_| ticking.tick());
    assert_eq!(ticking.rests, Some(Time::from_millis(1000)));
    ticking.seats.advance(Time::from_millis(1001), &mut |_| {});
    assert_eq!(ticking.seats.rests_until(), None);
}
