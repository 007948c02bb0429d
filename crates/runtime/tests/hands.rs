//! Hands tell what seats tell, to every reader.

use harmonym_lang::Game;
use harmonym_runtime::base::Id;
use harmonym_runtime::{
    Contact, ControlKind, Device, EventReader, Hands, MapId, SchemeId, Seat, Seats, Start, Time,
    Told, VariableId, Vector,
};
use std::sync::Arc;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");

/// The same hands on both, and what each told.
struct Both {
    seats: Seats,
    told: Vec<Told>,
    hands: Hands,
    seed: u64,
}

impl Both {
    fn start(count: u8, log: usize) -> Self {
        let plan = Arc::clone(Game::parse("harmonym.toml", DEMO).expect("a sound profile").plan());
        let mut told = Vec::new();
        let start = Start::default();
        let seats = Seats::start(Arc::clone(&plan), count, start, &mut |one| told.push(one));
        Self { seats, told, hands: Hands::with_log(plan, count, start, log), seed: 5 }
    }

    fn below(&mut self, limit: usize) -> usize {
        self.seed = self.seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
        (self.seed >> 33) as usize % limit
    }

    /// Any one thing that can happen.
    fn happen(&mut self, at: Time) {
        let plan = Arc::clone(self.seats.plan());
        let input = &plan.inputs()[Id::new(self.below(plan.inputs().len()))];
        let contact = Contact { control: input.control, device: self.below(2) as u8 };
        let class = plan.controls()[input.control].class;
        let device = Device { class, number: contact.device };
        let seat = Seat::FIRST;
        let some = (self.below(2) == 0).then_some(seat);
        let map = MapId::new(self.below(plan.maps().len()));
        let variable = VariableId::new(self.below(plan.variables().len()));
        let scheme = (self.below(2) == 0).then_some(SchemeId::new(0));
        let (what, on) = (self.below(40), self.below(2) == 0);
        let value = Vector::new(self.below(3) as f64 - 1.0, self.below(3) as f64 - 1.0);
        let Self { seats, told, hands, .. } = self;
        let tell = &mut |one| told.push(one);
        match what {
            0 => assert_eq!(
                seats.set_open(at, some, map, on, tell),
                hands.set_open(at, some, map, on)
            ),
            1 => assert_eq!(
                seats.set_number(at, some, variable, value.x, tell),
                hands.set_number(at, some, variable, value.x)
            ),
            2 => assert_eq!(seats.narrow(at, some, scheme, tell), hands.narrow(at, some, scheme)),
            3 => (seats.pause(at, on, tell), hands.pause(at, on)).0,
            4 if on => {
                assert_eq!(seats.plug(at, device, tell), hands.plug(at, device, true));
            }
            4 => assert_eq!(seats.unplug(at, device, tell), hands.plug(at, device, false)),
            5 => assert_eq!(seats.give(at, device, seat, tell), hands.give(at, device, seat)),
            6 => assert_eq!(seats.leave(at, seat, tell), hands.leave(at, seat)),
            7 => (seats.invite(at), hands.invite(at)).0,
            8 => (seats.join_freely(), hands.join_freely()).0,
            9 => {
                let kinds = &ControlKind::ALL;
                assert_eq!(seats.catch(seat, kinds), hands.catch(seat, kinds));
            }
            10 => assert_eq!(seats.caught(), hands.caught()),
            11 => (seats.stop_catching(), hands.stop_catching()).0,
            12 => {
                let plan = Arc::clone(&plan);
                assert_eq!(seats.replan(at, Arc::clone(&plan), tell), hands.replan(at, plan));
            }
            13 => (seats.advance(at, tell), hands.advance(at)).0,
            14..20 => (seats.tick(at, tell), hands.tick(at)).0,
            _ => {
                let done = seats.report(at, contact, value, tell);
                assert_eq!(done, hands.report(at, contact, value));
            }
        }
        assert_eq!(seats.owner(device), hands.owner(device));
    }

    fn read_alike(&mut self) {
        for seat in self.seats.all() {
            let (one, other) = (self.seats.frame(seat), self.hands.seat(seat.number()));
            for action in one.plan().actions().ids() {
                assert_eq!(one.read(action), other.read(action));
            }
        }
    }
}

#[test]
fn two_readers_get_what_a_closure_gets() {
    for count in 1..=3 {
        let mut both = Both::start(count, 1 << 16);
        let (mut quick, mut slow) = (EventReader::default(), EventReader::default());
        let (mut seen, mut later) = (Vec::new(), Vec::new());
        for step in 1..6000 {
            both.happen(Time::from_millis(step * 7));
            seen.extend(both.hands.events(&mut quick));
            if step % 500 == 0 {
                later.extend(both.hands.events(&mut slow));
                both.read_alike();
            }
        }
        both.hands.stop();
        both.seats.stop(&mut |one| both.told.push(one));
        seen.extend(both.hands.events(&mut quick));
        later.extend(both.hands.events(&mut slow));
        assert!(both.told.len() > 1000, "{}", both.told.len());
        assert_eq!(seen, both.told, "{count} seats");
        assert_eq!(later, both.told, "{count} seats");
        assert_eq!((quick.missed(), slow.missed()), (0, 0));
    }
}

#[test]
fn a_reader_that_comes_late_has_the_newest_and_knows_how_many_it_missed() {
    let mut both = Both::start(1, 8);
    let mut reader = EventReader::default();
    (1..2000).for_each(|step| both.happen(Time::from_millis(step * 7)));
    let seen: Vec<Told> = both.hands.events(&mut reader).collect();
    assert_eq!(seen, both.told[both.told.len() - 8..]);
    assert_eq!(reader.missed(), both.told.len() as u64 - 8);
}

#[test]
fn a_restart_tells_anew_to_readers_that_go_on() {
    let mut both = Both::start(2, 1 << 16);
    let mut reader = EventReader::default();
    let play = |both: &mut Both, reader: &mut EventReader| {
        both.seed = 3;
        (1..800).for_each(|step| both.happen(Time::from_millis(step * 7)));
        both.hands.events(reader).collect::<Vec<_>>()
    };
    let first = play(&mut both, &mut reader);
    both.hands.restart(Start::default());
    both.seats.restart(Start::default(), &mut |_| {});
    let again = play(&mut both, &mut reader);
    assert!(first.len() > 100);
    assert_eq!(again, first);
}

#[test]
fn a_seat_that_is_not_there_reads_as_the_first() {
    let mut both = Both::start(2, 8);
    let plan = Arc::clone(both.hands.plan());
    let walk = plan.find_action("quay.walk").expect("an action");
    let stick = Contact::first(plan.find_control("pad.left-stick").expect("a control"));
    both.hands
        .give(
            Time::ZERO,
            Device { class: plan.controls()[stick.control].class, number: 0 },
            Seat::FIRST,
        )
        .expect("a pad");
    both.hands.report(Time::ZERO, stick, [0.0, 1.0]).expect("a report");
    let first = both.hands.seat(1).value(walk);
    assert_ne!(first, Vector::ZERO);
    for number in [0, 3, 8, 9, 255] {
        assert_eq!(both.hands.seat(number).value(walk), first, "{number}");
    }
    assert_eq!(both.hands.seat(2).value(walk), Vector::ZERO);
}
