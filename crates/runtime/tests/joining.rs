//! Players who come to a lobby, are let in, and leave.

use harmonym_lang::source::Source;
use harmonym_runtime::{
    Contact, Device, Event, EventKind, Notice, Plan, Refused, Seat, Seats, Start, Time, Told,
    Vector,
};
use std::sync::Arc;

const PROFILE: &str = r#"
harmonym = 1
seats = 3
[scheme.desk]
devices = ["key", "mouse"]
[scheme.pad]
devices = ["pad"]
[map.quay]
start = true
[map.quay.hail]
value = "switch"
bind.desk = "key.KeyH"
bind.pad = "pad.south"
"#;

struct Lobby {
    plan: Arc<Plan>,
    seats: Seats,
    now: Time,
}

impl Lobby {
    fn new() -> Self {
        let (_, plan) = harmonym_lang::load(&Source::new("p", PROFILE)).expect("a sound profile");
        let plan = Arc::new(plan);
        let seats = Seats::start(Arc::clone(&plan), plan.seats(), Start::default(), &mut |_| {});
        Self { plan, seats, now: Time::ZERO }
    }

    fn device(&self, control: &str, number: u8) -> Device {
        let control = self.plan.find_control(control).expect("a control");
        Device { class: self.plan.controls()[control].class, number }
    }

    /// A control of a device reports 10 ms later; gives what is told.
    fn report(&mut self, control: &str, number: u8, value: f64) -> String {
        self.now = self.now + Time::from_millis(10);
        let (control, plan) = (self.plan.find_control(control).expect("a control"), &self.plan);
        let mut told = Vec::new();
        let contact = Contact { control, device: number };
        let mut tell = |one: Told| told.extend(word(plan, one));
        self.seats.report(self.now, contact, Vector::axis(value), &mut tell).expect("a report");
        told.join(", ")
    }

    fn press(&mut self, control: &str, number: u8) -> String {
        let down = self.report(control, number, 1.0);
        self.report(control, number, 0.0);
        down
    }

    fn leave(&mut self, seat: u8) -> Result<String, Refused> {
        let (seat, plan) = (Seat::new(seat).expect("a number"), &self.plan);
        let mut told = Vec::new();
        self.seats.leave(self.now, seat, &mut |one| told.extend(word(plan, one)))?;
        Ok(told.join(", "))
    }
}

/// What is told, in words: `2 gets pad#1`, `2 fires`, `2 ends`.
fn word(plan: &Plan, told: Told) -> Option<String> {
    let seat = told.seat.map_or("nobody".to_owned(), |seat| seat.to_string());
    match told.notice {
        Notice::Seat { device, .. } => {
            Some(format!("{seat} gets {}", plan.catalogue().device_name(device)))
        }
        Notice::Event(Event { kind: EventKind::Fire(..), .. }) => Some(format!("{seat} fires")),
        Notice::Event(Event { kind: EventKind::Rest(cause), .. }) => {
            Some(format!("{seat} ends, {}", cause.word()))
        }
        _ => None,
    }
}

#[test]
fn one_invitation_brings_one_player_and_that_press_does_nothing_else() {
    let mut lobby = Lobby::new();
    lobby.seats.invite(Time::from_millis(1000));
    assert_eq!(lobby.report("pad.south", 0, 1.0), "1 gets pad#1");
    assert_eq!(lobby.report("pad.south", 0, 0.0), "");
    assert_eq!(lobby.press("pad.south", 0), "1 fires");
    // Nobody else is invited.
    assert_eq!(lobby.press("pad.south", 1), "");
    lobby.seats.invite(Time::from_millis(1000));
    assert_eq!(lobby.press("key.KeyH", 0), "2 gets key#1, 2 gets mouse#1");
    assert_eq!(lobby.press("key.KeyH", 0), "2 fires");
}

#[test]
fn an_invitation_holds_up_to_its_moment_and_not_longer() {
    for (until, told) in [(20, "1 gets pad#1"), (19, "")] {
        let mut lobby = Lobby::new();
        lobby.report("pad.south", 0, 0.0);
        lobby.seats.invite(Time::from_millis(until));
        assert_eq!(lobby.report("pad.south", 0, 1.0), told, "until {until}");
    }
}

#[test]
fn a_device_that_was_held_before_the_invitation_has_to_be_pressed_anew() {
    let mut lobby = Lobby::new();
    lobby.seats.invite(Time::ZERO);
    assert_eq!(lobby.report("pad.south", 0, 1.0), "");
    lobby.seats.invite(Time::from_millis(1000));
    assert_eq!(lobby.report("pad.south", 0, 1.0), "");
    assert_eq!(lobby.report("pad.south", 0, 0.0), "");
    assert_eq!(lobby.report("pad.south", 0, 1.0), "1 gets pad#1");
}

#[test]
fn joining_freely_again_the_press_counts_and_all_seats_taken_are_taken() {
    let mut lobby = Lobby::new();
    lobby.seats.invite(Time::ZERO);
    assert_eq!(lobby.press("pad.south", 0), "");
    lobby.seats.join_freely();
    assert_eq!(lobby.press("pad.south", 0), "1 gets pad#1, 1 fires");
    assert_eq!(lobby.press("pad.south", 1), "2 gets pad#2, 2 fires");
    assert_eq!(lobby.press("pad.south", 2), "3 gets pad#3, 3 fires");
    // A fourth has no place; a keyboard goes to the lowest seat that has none.
    assert_eq!(lobby.press("pad.south", 3), "");
    assert_eq!(lobby.press("key.KeyH", 0), "1 gets key#1, 1 gets mouse#1, 1 fires");
}

#[test]
fn who_leaves_ends_what_was_held_and_gives_the_place_free() {
    let mut lobby = Lobby::new();
    lobby.press("pad.south", 0);
    lobby.press("key.KeyH", 0);
    assert_eq!(lobby.report("pad.south", 0, 1.0), "1 fires");
    let pad = lobby.device("pad.south", 0);
    assert_eq!(lobby.seats.owner(pad), Some(Seat::FIRST));
    let told = lobby.leave(1);
    assert_eq!(told.as_deref(), Ok("nobody gets pad#1, 1 ends, unplugged"));
    assert_eq!(lobby.seats.owner(pad), None);
    // What is still held then brings nobody in; the next press does, to the lowest free place.
    assert_eq!(lobby.report("pad.south", 0, 1.0), "");
    lobby.report("pad.south", 0, 0.0);
    assert_eq!(lobby.press("pad.south", 0), "1 gets pad#1, 1 fires");
    assert_eq!(lobby.leave(4), Err(Refused::UnknownSeat));
    // With one seat, all devices are its own.
    let mut seats = Seats::start(Arc::clone(&lobby.plan), 1, Start::default(), &mut |_| {});
    let done = seats.leave(Time::ZERO, Seat::FIRST, &mut |_| {});
    assert_eq!(done, Err(Refused::UnknownSeat));
}

#[test]
fn a_restart_is_as_new() {
    let mut lobby = Lobby::new();
    let play = |lobby: &mut Lobby| {
        let first = [lobby.press("key.KeyH", 0), lobby.press("pad.south", 0)];
        lobby.report("pad.south", 0, 1.0);
        lobby.seats.invite(Time::ZERO);
        (first, lobby.press("pad.south", 1))
    };
    let once = play(&mut lobby);
    lobby.seats.restart(Start::default(), &mut |_| {});
    lobby.now = Time::ZERO;
    assert_eq!(lobby.seats.owner(lobby.device("key.KeyH", 0)), None);
    assert_eq!(play(&mut lobby), once);
    assert_eq!(once.1, "");
}
