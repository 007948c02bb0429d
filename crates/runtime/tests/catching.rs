//! Catching the control that a player means, while the game goes on.

use harmonym_lang::source::Source;
use harmonym_runtime::{
    Caught, Contact, ControlKind, Device, EventKind, Notice, Plan, Refused, Seat, Seats, Start,
    Time, Vector,
};
use std::sync::Arc;

const PROFILE: &str = r#"
harmonym = 1
[scheme.desk]
devices = ["key", "mouse"]
[scheme.pad]
devices = ["pad"]
[scheme.head]
devices = ["head", "touch", "sled"]
[device.sled]
controls = { bar = "axis" }
[map.quay]
start = true
[map.quay.hail]
value = "switch"
bind.desk = ["key.KeyH", "mouse.wheel.up"]
bind.pad = ["pad.south", "pad.left-trigger"]
[map.quay.walk]
value = "plane"
bind.pad = "pad.left-stick"
[map.quay.gaze]
value = "plane"
bind.desk = "mouse.move"
fire = "change"
[map.quay.turn]
value = "turn"
bind.head = "head.turn"
"#;

use ControlKind::{Axis, Button, Lever, Place, Relative, Spot, Stick, Turn};

const STICKS: &[ControlKind] = &[Stick, Lever, Axis];

struct Screen {
    plan: Arc<Plan>,
    seats: Seats,
    now: Time,
    /// What happened to actions: their names and the words.
    told: Vec<String>,
}

impl Screen {
    fn new(seats: u8) -> Self {
        let (_, plan) = harmonym_lang::load(&Source::new("p", PROFILE)).expect("a sound profile");
        let plan = Arc::new(plan);
        let seats = Seats::start(Arc::clone(&plan), seats, Start::default(), &mut |_| {});
        Self { plan, seats, now: Time::ZERO, told: Vec::new() }
    }

    fn catching(kinds: &[ControlKind]) -> Self {
        let mut screen = Self::new(1);
        screen.seats.catch(Seat::FIRST, kinds).expect("a seat");
        screen
    }

    /// The control of a name, on the device whose number stands behind it.
    fn contact(&self, name: &str) -> Contact {
        let (name, device) = name.split_once('#').unwrap_or((name, "1"));
        let control = self.plan.find_control(name).expect("a control");
        Contact { control, device: device.parse::<u8>().expect("a number") - 1 }
    }

    /// Ten milliseconds later a control reports.
    fn report(&mut self, name: &str, value: impl Into<V>) -> &mut Self {
        self.now = self.now + Time::from_millis(10);
        let (contact, V(value), plan) = (self.contact(name), value.into(), Arc::clone(&self.plan));
        let told = &mut self.told;
        let mut tell = |one: harmonym_runtime::Told| {
            if let Notice::Event(event) = one.notice
                && event.kind != EventKind::Wake
            {
                let name = &plan.names().actions[event.action];
                told.push(format!("{} {}", name.trim_start_matches("quay."), event.kind.word()));
            }
        };
        self.seats.report(self.now, contact, value, &mut tell).expect("a report");
        self.seats.tick(self.now, &mut tell);
        self
    }

    fn press(&mut self, name: &str) -> &mut Self {
        self.report(name, 1.0).report(name, 0.0)
    }

    fn caught(&mut self) -> Option<Caught> {
        self.seats.caught()
    }

    /// The name of what was caught in place of something of a kind.
    fn name(&mut self, wanted: ControlKind) -> Option<String> {
        self.caught().map(|caught| caught.name(&self.plan, wanted))
    }

    fn told(&mut self) -> String {
        std::mem::take(&mut self.told).join(", ")
    }
}

struct V(Vector);

impl From<f64> for V {
    fn from(x: f64) -> Self {
        Self(Vector::axis(x))
    }
}

impl From<[f64; 2]> for V {
    fn from([x, y]: [f64; 2]) -> Self {
        Self(Vector::new(x, y))
    }
}

impl From<[f64; 4]> for V {
    fn from([x, y, z, w]: [f64; 4]) -> Self {
        Self(Vector { x, y, z, w })
    }
}

#[test]
fn a_button_is_caught_when_it_comes_up_and_does_nothing_else() {
    let mut screen = Screen::catching(&[Button]);
    screen.report("key.KeyH", 1.0);
    assert_eq!(screen.caught(), None);
    screen.report("key.KeyH", 0.0);
    assert_eq!(screen.name(Button).as_deref(), Some("key.KeyH"));
    assert_eq!(screen.told(), "");
    // It is caught once; from then on it is a key like any other.
    assert_eq!(screen.caught(), None);
    assert_eq!(screen.press("key.KeyH").told(), "hail fire, hail rest");
}

#[test]
fn of_two_buttons_the_first_to_come_up_is_meant_and_the_other_still_does_nothing() {
    let mut screen = Screen::catching(&[Button]);
    screen.report("key.KeyG", 1.0).report("key.KeyH", 1.0).report("key.KeyG", 0.0);
    let caught = screen.caught().expect("a button");
    assert_eq!(
        (caught.name(&screen.plan, Button).as_str(), caught.held().count()),
        ("key.KeyG", 0)
    );
    assert_eq!(screen.report("key.KeyH", 1.0).report("key.KeyH", 0.0).told(), "");
    assert_eq!(screen.press("key.KeyH").told(), "hail fire, hail rest");
}

#[test]
fn the_buttons_that_are_held_with_it_are_told_in_their_order() {
    let mut screen = Screen::catching(&[Button]);
    let keys = ["key.KeyA", "key.KeyB", "key.KeyC", "key.KeyD", "key.KeyE"];
    keys.iter().for_each(|key| {
        screen.report(key, 1.0);
    });
    screen.report("key.KeyC", 0.0);
    let caught = screen.caught().expect("a button");
    let held: Vec<Contact> = caught.held().collect();
    assert_eq!(held, [screen.contact("key.KeyA"), screen.contact("key.KeyB")]);
    // More than four are no combination: the fifth is not seen.
    let mut screen = Screen::catching(&[Button]);
    keys.iter().for_each(|key| {
        screen.report(key, 1.0);
    });
    assert_eq!(screen.report("key.KeyE", 0.0).caught(), None);
    assert_eq!(screen.report("key.KeyD", 0.0).caught().expect("a button").held().count(), 3);
}

#[test]
fn what_is_held_already_counts_until_it_is_let_go_and_is_caught_only_after_that() {
    let mut screen = Screen::new(1);
    screen.report("key.KeyH", 1.0).report("pad.left-stick", [0.0, 0.9]);
    assert_eq!(screen.told(), "hail fire, walk fire");
    screen.seats.catch(Seat::FIRST, &[Button, Stick]).expect("a seat");
    screen.report("key.KeyH", 0.0).report("pad.left-stick", [0.0, 0.0]);
    assert_eq!(
        (screen.caught(), screen.told().as_str()),
        (None, "hail rest, walk fire, walk rest")
    );
    screen.press("key.KeyH");
    assert_eq!(screen.name(Button).as_deref(), Some("key.KeyH"));
    assert_eq!(screen.told(), "");
}

#[test]
fn a_stick_is_caught_when_it_is_back_and_the_one_that_went_farthest_is_meant() {
    let mut screen = Screen::catching(STICKS);
    // Noise and drift, and a push to just under half: nothing.
    for x in [0.05, 0.14, 0.49, 0.2, 0.02] {
        screen.report("pad.left-stick", [x, 0.0]);
    }
    assert_eq!(screen.caught(), None);
    // The thumb on one stick moves the other one along.
    screen.report("pad.right-stick", [0.55, 0.0]).report("pad.left-stick", [0.1, 0.9]);
    screen.report("pad.right-stick", [0.0, 0.0]);
    assert_eq!(screen.caught(), None);
    screen.report("pad.left-stick", [0.1, 0.3]).report("pad.left-stick", [0.0, 0.14]);
    let caught = screen.caught().expect("the stick");
    let name = |wanted| caught.name(&screen.plan, wanted);
    let names = [Stick, Axis, Lever, Button].map(name);
    assert_eq!(
        names,
        ["pad.left-stick", "pad.left-stick.y", "pad.left-stick.up", "pad.left-stick.up"]
    );
}

#[test]
fn exactly_half_of_the_way_is_enough_and_less_is_not() {
    for (far, name) in [(0.5, Some("pad.left-trigger")), (0.499_999, None)] {
        let mut screen = Screen::catching(STICKS);
        screen.report("pad.left-trigger", far).report("pad.left-trigger", 0.0);
        assert_eq!(screen.name(Lever).as_deref(), name, "{far}");
        assert_eq!(screen.told(), "");
    }
    let mut screen = Screen::catching(STICKS);
    screen.report("sled.bar", -0.5).report("sled.bar", -0.1);
    assert_eq!(screen.name(Axis).as_deref(), Some("sled.bar"));
}

#[test]
fn a_stick_that_drifts_counts_from_where_it_rests() {
    let mut screen = Screen::new(1);
    screen.report("pad.left-stick", [0.18, 0.0]).told();
    screen.seats.catch(Seat::FIRST, STICKS).expect("a seat");
    // Half of the way would be at 0.68.
    screen.report("pad.left-stick", [0.66, 0.0]).report("pad.left-stick", [0.2, 0.0]);
    assert_eq!(screen.caught(), None);
    screen.report("pad.left-stick", [0.69, 0.0]).report("pad.left-stick", [0.2, 0.0]);
    assert_eq!(screen.name(Stick).as_deref(), Some("pad.left-stick"));
    // It is no stick that is held for ever.
    screen.told();
    assert!(screen.report("pad.left-stick", [0.9, 0.0]).told().contains("walk fire"));
}

#[test]
fn kinds_that_are_not_asked_for_go_on_as_ever() {
    let mut screen = Screen::catching(&[Stick]);
    assert_eq!(screen.press("key.KeyH").told(), "hail fire, hail rest");
    screen.report("mouse.move", [40.0, 0.0]);
    assert_eq!((screen.told().as_str(), screen.caught()), ("gaze fire", None));
}

#[test]
fn what_moves_is_meant_by_12_counts_within_a_quarter_of_a_second() {
    let mut screen = Screen::catching(&[Relative]);
    screen.report("mouse.move", [11.0, 0.0]);
    assert_eq!(screen.caught(), None);
    // Too late for both.
    screen.now = screen.now + Time::from_millis(241);
    screen.report("mouse.move", [-11.0, 0.0]);
    assert_eq!(screen.caught(), None);
    screen.report("mouse.move", [0.0, 1.0]);
    assert_eq!(screen.name(Axis).as_deref(), Some("mouse.move.x"));
    assert_eq!(screen.told(), "");
    assert_eq!(screen.report("mouse.move", [3.0, 0.0]).told(), "gaze fire");
}

#[test]
fn a_notch_of_the_wheel_is_a_button_where_buttons_are_asked_for() {
    for (kinds, by, wanted, name) in [
        (&[Button][..], [0.0, 1.0], Button, Some("mouse.wheel.up")),
        (&[Button, Relative], [0.0, -1.0], Button, Some("mouse.wheel.down")),
        (&[Relative], [0.0, 1.0], Relative, Some("mouse.wheel")),
        (&[Button], [0.0, 0.9], Button, None),
        (&[Stick], [0.0, 1.0], Button, None),
    ] {
        let mut screen = Screen::catching(kinds);
        screen.report("mouse.wheel", by);
        assert_eq!(screen.name(wanted).as_deref(), name, "{kinds:?} {by:?}");
        let told = if kinds == [Stick] { "hail fire, hail rest" } else { "" };
        assert_eq!(screen.told(), told);
    }
    // Shares of a notch add up.
    let mut screen = Screen::catching(&[Button]);
    screen.report("mouse.wheel", [0.0, 0.5]).report("mouse.wheel", [0.0, 0.5]);
    assert_eq!(screen.name(Button).as_deref(), Some("mouse.wheel.up"));
}

#[test]
fn spots_and_turns_are_meant_by_going_somewhere_and_places_never() {
    let mut screen = Screen::new(1);
    screen.report("touch.at", [0.5, 0.5]);
    screen.seats.catch(Seat::FIRST, &[Spot, Turn, Place]).expect("a seat");
    screen.report("touch.at", [0.7, 0.5]).report("head.at", [9.0, 9.0]);
    assert_eq!(screen.caught(), None);
    screen.report("touch.at", [1.0, 0.5]);
    assert_eq!(screen.name(Spot).as_deref(), Some("touch.at"));
    screen.seats.catch(Seat::FIRST, &[Turn]).expect("a seat");
    let turned = |angle: f64| [0.0, (angle / 2.0).sin(), 0.0, (angle / 2.0).cos()];
    screen.report("head.turn", turned(0.499));
    assert_eq!(screen.caught(), None);
    screen.report("head.turn", turned(0.501));
    assert_eq!(screen.name(Turn).as_deref(), Some("head.turn"));
}

#[test]
fn a_device_that_is_unplugged_in_mid_press_leaves_nothing_to_catch() {
    let mut screen = Screen::catching(&[Button, Stick]);
    screen.report("pad.left-stick", [1.0, 0.0]).report("pad.south", 1.0);
    let class = screen.plan.controls()[screen.contact("pad.south").control].class;
    let pad = Device { class, number: 0 };
    screen.seats.unplug(screen.now, pad, &mut |_| {}).expect("a pad");
    screen.seats.plug(screen.now, pad, &mut |_| {}).expect("a pad");
    screen.report("pad.south", 0.0).report("pad.left-stick", [0.0, 0.0]);
    assert_eq!(screen.caught(), None);
    // A smaller push than the one that went away is the farthest now.
    screen.report("pad.left-stick", [0.6, 0.0]).report("pad.left-stick", [0.0, 0.0]);
    assert_eq!(screen.name(Stick).as_deref(), Some("pad.left-stick"));
    assert_eq!(screen.told(), "");
}

#[test]
fn one_seat_catches_while_the_other_plays() {
    let mut screen = Screen::new(2);
    screen.press("key.KeyH").press("pad.south").told();
    let second = Seat::new(2).expect("a seat");
    screen.seats.catch(second, &[Button]).expect("a seat");
    assert_eq!(screen.press("key.KeyH").told(), "hail fire, hail rest");
    assert_eq!(screen.press("pad.south").told(), "");
    assert_eq!(screen.name(Button).as_deref(), Some("pad.south"));
    let none = Seat::new(3).expect("a seat");
    assert_eq!(screen.seats.catch(none, &[Button]), Err(Refused::UnknownSeat));
}

#[test]
fn stopping_leaves_what_is_down_without_effect_until_it_is_let_go() {
    let mut screen = Screen::catching(&[Button]);
    screen.report("key.KeyH", 1.0);
    screen.seats.stop_catching();
    assert_eq!(screen.report("key.KeyH", 0.0).told(), "");
    assert_eq!(screen.caught(), None);
    assert_eq!(screen.press("key.KeyH").told(), "hail fire, hail rest");
}
