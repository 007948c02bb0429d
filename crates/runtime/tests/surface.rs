//! The library as a game uses it: everything from the root, nothing of the plan's inside.

use harmonym_lang::source::Source;
use harmonym_runtime::{
    ActionId, Cause, Class, Contact, ControlId, Edges, Engine, EpisodeState, Notice, Plan, Reader,
    Refused, Start, Time, Vector,
};
use std::error::Error;
use std::sync::Arc;
use std::time::Duration;

const HARBOUR: &str = r#"
harmonym = 1
[scheme.desk]
devices = ["key", "mouse"]
label = "Keyboard and mouse"
[scheme.pad]
devices = ["pad"]
[scheme.slate]
devices = ["slate"]
[device.slate]
controls = { thumb = "stick" }
as = { thumb = "pad.left-stick" }
[setting.gaze-speed]
default = 1
range = [0.5, 4]
[fact.beside-tug]

[map.quay]
start = true
label = "The quay"
[map.quay.walk]
value = "plane"
bind.desk = "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)"
bind.pad = "pad.left-stick"
[map.quay.hail]
value = "switch"
label = "Call out"
bind.desk = [{ from = "key.KeyH", label = "Hail" }, "key.Shift + key.KeyC"]
bind.pad = "pad.north"
[map.quay.gaze]
value = "plane"
bind.desk = "mouse.move | scale gaze-speed"
[map.quay.tie-knot]
value = "switch"
bind.desk = "key.KeyT"
bind.pad = "pad.west"
fire = "hold 0.8s"

[map.tug]
[map.tug.whistle]
value = "switch"
bind.desk = "key.KeyH"

[map.log-book]
kind = "layer"
[map.log-book.close]
value = "switch"
bind.desk = "key.Escape"

[map.harbour]
kind = "always"
[map.harbour.bell]
value = "switch"
bind.desk = "key.KeyB"
"#;

struct Game {
    plan: Arc<Plan>,
    engine: Engine,
    told: Vec<Notice>,
}

impl Game {
    fn new() -> Self {
        let (_, plan) = harmonym_lang::load(&Source::new("p", HARBOUR)).expect("a sound profile");
        let plan = Arc::new(plan);
        let mut told = Vec::new();
        let start = Start::default();
        let engine = Engine::start(Arc::clone(&plan), start, &mut |notice| told.push(notice));
        Self { plan, engine, told }
    }

    fn action(&self, name: &str) -> ActionId {
        self.plan.find_action(name).unwrap()
    }

    fn contact(&self, name: &str) -> Contact {
        Contact::first(self.plan.find_control(name).unwrap())
    }

    fn report(&mut self, t: u64, name: &str, value: Vector) -> Result<(), Refused> {
        let contact = self.contact(name);
        let Self { engine, told, .. } = self;
        engine.report(Time::from_millis(t), contact, value, &mut |notice| told.push(notice))
    }

    fn key(&mut self, t: u64, name: &str, down: bool) {
        self.report(t, name, Vector::axis(f64::from(u8::from(down)))).unwrap();
    }

    fn tick(&mut self, t: u64) -> harmonym_runtime::Frame<'_> {
        let Self { engine, told, .. } = self;
        engine.tick(Time::from_millis(t), &mut |notice| told.push(notice))
    }
}

/// An id that no plan of these tests has.
fn foreign<I: harmonym_runtime::base::Id>() -> I {
    I::new(9_999)
}

#[test]
fn an_edge_is_there_until_the_next_tick_however_late_it_is_read() {
    let mut game = Game::new();
    let hail = game.action("quay.hail");
    game.key(3, "key.KeyH", true);
    game.key(5, "key.KeyH", false);
    assert_eq!(game.tick(16).fired(hail), 1);
    // Reports of the next frame are in already when the game comes to read.
    game.key(18, "key.KeyW", true);
    game.key(20, "key.KeyH", true);
    let late = game.engine.frame();
    let read = late.read(hail);
    assert_eq!((read.fired, read.woke, read.ended), (1, true, Some((true, Cause::Released))));
    // Its value and state are those of the present moment, and never stale.
    assert_eq!((read.value.x, read.state, late.is_on(hail)), (1.0, EpisodeState::Live, true));
    assert_eq!(late.value(game.plan.find_action("quay.walk").unwrap()), Vector::new(0.0, 1.0));
    let next = game.tick(33).read(hail);
    assert_eq!((next.fired, next.woke, next.ended), (1, true, None));
    assert_eq!(next.held, Duration::from_millis(13));
    assert_eq!(next.fired_for, Some(Duration::from_millis(13)));
    assert_eq!(game.tick(50).fired(hail), 0);
}

#[test]
fn each_field_by_itself_is_what_a_whole_reading_says() {
    let mut game = Game::new();
    let actions: Vec<ActionId> = game.plan.actions().ids().collect();
    let mut were_live = 0;
    for t in 1..200 {
        let name = ["key.KeyH", "key.KeyT", "key.KeyW"][t as usize % 3];
        game.key(16 * t + 3, name, t / 7 % 2 == 0);
        let frame = game.tick(16 * (t + 1));
        for &action in &actions {
            let read = frame.read(action);
            assert_eq!(frame.value(action), read.value);
            assert_eq!(frame.state(action), read.state);
            assert_eq!(frame.fired(action), read.fired);
            assert_eq!(frame.held(action), read.held);
            assert_eq!(frame.progress(action), read.progress);
            were_live += u64::from(read.state == EpisodeState::Live);
        }
        assert_eq!(frame.held(foreign()), Duration::ZERO);
        assert_eq!(frame.progress(foreign()), 0.0);
    }
    assert!(were_live > 20, "{were_live}");
}

#[test]
fn a_fixed_step_and_a_drawn_frame_each_see_every_edge_once() {
    let mut game = Game::new();
    let hail = game.action("quay.hail");
    let (mut drawn, mut fixed) = (Reader::new(&game.plan), Reader::new(&game.plan));
    let (mut by_drawn, mut by_fixed) = (0, 0);
    let mut presses = 0;
    for step in 0..600_u64 {
        // A press of 1 ms every 7 ms, a drawn frame every 4 ms, a fixed step every 50 ms.
        if step % 7 == 0 {
            game.key(step, "key.KeyH", true);
            presses += 1;
        }
        if step % 7 == 1 {
            game.key(step, "key.KeyH", false);
        }
        if step % 4 == 3 {
            let edges = drawn.take(game.tick(step), hail);
            assert!(edges.fired <= 1);
            by_drawn += edges.fired;
        }
        if step % 50 == 49 {
            by_fixed += fixed.take(game.engine.frame(), hail).fired;
        }
    }
    let left = drawn.take(game.engine.frame(), hail);
    assert_eq!((by_drawn + left.fired, by_fixed), (presses, presses));
    assert_eq!(drawn.take(game.engine.frame(), hail), Edges::default());
    // A restart begins anew, and a reader goes on.
    game.engine.restart(Start::default(), &mut |_| {});
    game.key(1, "key.KeyH", true);
    game.key(2, "key.KeyH", false);
    let edges = drawn.take(game.engine.frame(), hail);
    assert_eq!((edges.woke, edges.fired, edges.ended), (1, 1, 1));
    assert_eq!(edges.last_end, Some((true, Cause::Released)));
}

#[test]
fn what_cannot_be_is_refused_and_changes_nothing() {
    let mut game = Game::new();
    let at = Time::from_millis;
    let nobody = &mut |_: Notice| panic!("nothing is told");
    let key = game.contact("key.KeyH");
    let (on, stick) = (Vector::axis(1.0), game.contact("pad.left-stick"));
    let harbour = game.plan.find_map("harbour").unwrap();
    let speed = game.plan.find_variable("gaze-speed").unwrap();
    let engine = &mut game.engine;
    let ninth = Contact { device: 8, ..key };
    assert_eq!(engine.report(at(1), ninth, on, nobody), Err(Refused::UnknownDevice));
    let none = Contact::first(foreign::<ControlId>());
    assert_eq!(engine.report(at(1), none, on, nobody), Err(Refused::UnknownControl));
    for value in [f64::NAN, f64::INFINITY, f64::NEG_INFINITY] {
        let value = Vector::new(0.0, value);
        assert_eq!(engine.report(at(1), stick, value, nobody), Err(Refused::NotANumber));
    }
    assert_eq!(engine.set_number(at(1), speed, f64::NAN, nobody), Err(Refused::NotANumber));
    assert_eq!(engine.set_number(at(1), foreign(), 1.0, nobody), Err(Refused::UnknownVariable));
    assert_eq!(engine.open(at(1), harbour, nobody), Err(Refused::AlwaysOpen));
    assert_eq!(engine.close(at(1), harbour, nobody), Err(Refused::AlwaysOpen));
    assert_eq!(engine.open(at(1), foreign(), nobody), Err(Refused::UnknownMap));
    assert_eq!(engine.narrow(at(1), Some(foreign()), nobody), Err(Refused::UnknownScheme));
    let gone = engine.release_device(at(1), Class::Pad, 8, nobody);
    assert_eq!(gone, Err(Refused::UnknownDevice));
    let gone = engine.release_device(at(1), Class::Own(3), 0, nobody);
    assert_eq!(gone, Err(Refused::UnknownDevice));
    // The eighth device is one.
    let eighth = Contact { device: 7, ..key };
    assert_eq!(engine.report(at(1), eighth, Vector::axis(0.0), nobody), Ok(()));
    // An action of another plan is at rest, and does nothing.
    let frame = engine.frame();
    let read = frame.read(foreign());
    assert_eq!((read.state, read.value, read.fired), (EpisodeState::Rest, Vector::ZERO, 0));
    assert_eq!((frame.fired(foreign()), frame.value(foreign())), (0, Vector::ZERO));
    assert_eq!(frame.state(foreign()), EpisodeState::Rest);
    assert!(!frame.is_on(foreign()) && !frame.has_changed(foreign()) && !frame.is_open(foreign()));
    assert_eq!(frame.number(foreign()), None);
    assert_eq!(Reader::new(&game.plan).take(frame, foreign()), Edges::default());
    assert_eq!(frame.now(), at(1));
}

#[test]
fn errors_say_what_is_wrong_and_go_through_a_question_mark() {
    fn find(plan: &Plan) -> Result<ActionId, Box<dyn Error>> {
        plan.find_scheme("desk")?;
        plan.find_binding("quay.hail@desk#2")?;
        Ok(plan.find_action("quay.hial")?)
    }
    let mut game = Game::new();
    assert_eq!(
        find(&game.plan).unwrap_err().to_string(),
        "`quay.hial` is not an action of this profile"
    );
    for (told, wanted) in [
        (game.plan.find_map("boat").unwrap_err().to_string(), "a map"),
        (game.plan.find_scheme("boat").unwrap_err().to_string(), "a scheme"),
        (game.plan.find_control("key.Boat").unwrap_err().to_string(), "a control"),
        (game.plan.find_binding("boat").unwrap_err().to_string(), "a binding"),
        (game.plan.find_variable("boat").unwrap_err().to_string(), "a setting or fact"),
    ] {
        assert!(told.contains(wanted), "{told}");
    }
    let harbour = game.plan.find_map("harbour").unwrap();
    let refused = game.engine.close(Time::ZERO, harbour, &mut |_| {}).unwrap_err();
    let refused: Box<dyn Error> = refused.into();
    assert_eq!(refused.to_string(), "an `always` map is always open");
}

#[test]
fn everything_that_was_said_can_be_read_back() {
    let mut game = Game::new();
    let (plan, at, quiet) = (Arc::clone(&game.plan), Time::from_millis, &mut |_: Notice| {});
    let map = |name: &str| plan.find_map(name).unwrap();
    let speed = plan.find_variable("gaze-speed").unwrap();
    let fact = plan.find_variable("beside-tug").unwrap();
    let frame = game.engine.frame();
    assert_eq!(frame.open_maps(), [map("harbour"), map("quay")]);
    assert_eq!((frame.number(speed), frame.number(fact)), (Some(1.0), Some(0.0)));
    assert_eq!((frame.scheme_in_use(), frame.narrowed_to()), (None, None));
    assert_eq!((frame.is_paused(), frame.ticks()), (false, 0));
    // Exactly at the ends of its range, just inside, and beyond: held to it.
    for (said, is) in [(0.5, 0.5), (4.0, 4.0), (3.9, 3.9), (0.4, 0.5), (-1e300, 0.5), (1e300, 4.0)]
    {
        game.engine.set_number(at(1), speed, said, quiet).unwrap();
        assert_eq!(game.engine.frame().number(speed), Some(is), "{said}");
    }
    game.engine.set_number(at(1), fact, -3.5, quiet).unwrap();
    game.engine.open(at(2), map("log-book"), quiet).unwrap();
    game.engine.open(at(3), map("tug"), quiet).unwrap();
    let desk = plan.find_scheme("desk").unwrap();
    game.engine.narrow(at(4), Some(desk), quiet).unwrap();
    game.engine.pause(at(5), true, quiet);
    game.key(6, "key.KeyH", true);
    let frame = game.tick(7);
    assert_eq!(frame.open_maps(), [map("harbour"), map("log-book"), map("tug")]);
    assert!(frame.is_open(map("tug")) && !frame.is_open(map("quay")) && frame.is_paused());
    assert_eq!((frame.number(fact), frame.scheme_in_use()), (Some(-3.5), Some(desk)));
    assert_eq!((frame.narrowed_to(), frame.ticks(), frame.now()), (Some(desk), 1, at(7)));
    let start = Start { map: Some(map("tug")), scheme: None };
    game.engine.restart(start, quiet);
    let frame = game.engine.frame();
    assert_eq!(frame.open_maps(), [map("harbour"), map("tug")]);
    assert_eq!((frame.number(speed), frame.narrowed_to()), (Some(1.0), None));
    assert!(!frame.is_paused());
}

#[test]
fn a_device_that_goes_ends_what_it_held_and_nothing_else() {
    let mut game = Game::new();
    let [walk, knot, hail] =
        ["quay.walk", "quay.tie-knot", "quay.hail"].map(|name| game.action(name));
    game.report(1, "pad.left-stick", Vector::new(0.6, 0.0)).unwrap();
    game.key(2, "pad.west", true);
    game.key(3, "key.KeyH", true);
    game.tick(16);
    game.told.clear();
    let Game { engine, told, .. } = &mut game;
    engine.release_device(Time::from_millis(20), Class::Pad, 0, &mut |n| told.push(n)).unwrap();
    let ends: Vec<_> = told
        .iter()
        .filter_map(|notice| match notice {
            Notice::Event(event) => Some((event.action, event.kind.cause(), event.value)),
            _ => None,
        })
        .collect();
    let unplugged = Some(Cause::Unplugged);
    assert_eq!(ends, [(walk, unplugged, Vector::ZERO), (knot, unplugged, Vector::ZERO)]);
    let frame = game.tick(33);
    assert_eq!((frame.value(walk), frame.is_on(knot)), (Vector::ZERO, false));
    assert_eq!(frame.state(hail), EpisodeState::Live, "the keyboard is still there");
    // It comes back, and everything works as before; to release what holds nothing does nothing.
    let nobody = &mut |_: Notice| panic!("nothing is told");
    game.engine.release_device(Time::from_millis(34), Class::Pad, 1, nobody).unwrap();
    game.report(40, "pad.left-stick", Vector::new(0.0, 0.7)).unwrap();
    assert_eq!(game.tick(50).value(walk), Vector::new(0.0, 0.7));
}

#[test]
fn prompts_need_nothing_of_the_plans_inside() {
    let game = Game::new();
    let plan = &game.plan;
    let [desk, pad] = ["desk", "pad"].map(|name| plan.find_scheme(name).unwrap());
    let hail = game.action("quay.hail");
    let told = |action, scheme| -> Vec<String> {
        let bindings = plan.bindings_in(action, scheme);
        let words = bindings.map(|binding| {
            let prompts = plan.prompts(binding);
            let all: Vec<String> = prompts
                .iter()
                .map(|one| one.letter.map_or(one.name.to_owned(), |letter| letter.to_string()))
                .collect();
            all.join(" ")
        });
        words.collect()
    };
    assert_eq!(told(hail, desk), ["H", "key.ShiftLeft key.ShiftRight C"]);
    assert_eq!(told(hail, pad), ["pad.north"]);
    // What stands in for the stick on a slate is not what a pad's player is told.
    assert_eq!(told(game.action("quay.walk"), pad), ["pad.left-stick"]);
    let mut keys = told(game.action("quay.walk"), desk).join("").replace(' ', "").into_bytes();
    keys.sort_unstable();
    assert_eq!(keys, *b"ADSW");
    let first = plan.bindings_in(hail, desk).next().unwrap();
    assert!(!plan.prompts(first)[0].place.is_empty());
    assert_eq!(plan.binding_label(first), Some("Hail"));
    assert_eq!(
        (plan.action_label(hail), plan.scheme_label(desk)),
        ("Call out", "Keyboard and mouse")
    );
    assert_eq!(plan.action_label(game.action("quay.tie-knot")), "tie-knot");
    assert_eq!(plan.map_label(plan.find_map("quay").unwrap()), "The quay");
    assert_eq!(plan.map_label(plan.find_map("tug").unwrap()), "tug");
    assert_eq!(plan.scheme_label(pad), "pad");
    assert_eq!(plan.action_label(foreign()), "");
}
