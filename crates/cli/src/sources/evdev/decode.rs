//! Events of the Linux input subsystem to reports.
//!
//! Sources: event types and codes by *Linux input event codes* (`Documentation/input/event-codes.rst` and
//! `include/uapi/linux/input-event-codes.h`), gamepads by `Documentation/input/gamepad.rst`; keys by the evdev column of
//! the table of W3C UI Events codes that crate keycode has.

use ::evdev::{AbsoluteAxisCode as Abs, EventType, KeyCode as Key, RelativeAxisCode as Rel};
use harmonym_runtime::base::{Class, Component, ControlId, Vector};
use harmonym_runtime::controls::Catalogue;
use keycode::{KeyMap, KeyMapping, KeyMappingCode};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};

/// What a device says of itself.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub struct Description {
    /// What it calls itself.
    pub name: String,
    /// Its vendor's number, and its product's.
    pub ids: (u16, u16),
    /// What else tells it from others: where it is plugged in, its serial number.
    pub own: String,
    /// The codes of its keys and buttons.
    pub keys: Vec<u16>,
    /// The codes of its relative axes.
    pub relative: Vec<u16>,
    /// Its absolute axes: the least and the most of each.
    pub absolute: BTreeMap<u16, (i32, i32)>,
}

/// One event, without its time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Event {
    pub kind: u16,
    pub code: u16,
    pub value: i32,
}

/// How one code is read.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Reads {
    /// 0 or 1.
    Button(Class, ControlId),
    /// From the least to the most, 0 to 1.
    Lever(ControlId, (i32, i32)),
    /// One component of a stick, −1 to 1; turned round where down is the most.
    Stick(ControlId, Component, (i32, i32)),
    /// Two buttons of a cross: below 0 and above.
    Cross([ControlId; 2]),
    /// One component of what adds up; so much of it is 1.
    Relative(ControlId, Component, f64),
}

/// Reads the events of one device.
#[derive(Debug)]
pub struct Decoder {
    classes: Vec<Class>,
    reads: HashMap<(u16, u16), Reads>,
    /// What changed since the last report was complete, in that order.
    changed: Vec<(Class, ControlId, Vector)>,
    /// Where each stick is.
    sticks: HashMap<ControlId, Vector>,
    /// What of it can't be read, in words.
    pub left_out: Option<String>,
}

/// From so many keys with a place on it is a keyboard: a lamp or a lid has one or two.
const FEWEST_KEYS: usize = 8;

/// Makers' numbers whose pads the kernel's driver gives the codes of north and west the other way round
/// (`drivers/input/joystick/xpad.c`: its X is the left button, its Y the upper one).
const SWAPPED: &[u16] = &[0x045e, 0x0738, 0x0e6f, 0x0f0d, 0x146b, 0x1532, 0x1bad, 0x24c6];

/// The pad's buttons by their codes, as the document of gamepads places them.
const PAD: &[(Key, &str)] = &[
    (Key::BTN_SOUTH, "south"),
    (Key::BTN_EAST, "east"),
    (Key::BTN_NORTH, "north"),
    (Key::BTN_WEST, "west"),
    (Key::BTN_TL, "left-shoulder"),
    (Key::BTN_TR, "right-shoulder"),
    (Key::BTN_SELECT, "select"),
    (Key::BTN_START, "start"),
    (Key::BTN_MODE, "mode"),
    (Key::BTN_THUMBL, "left-stick.click"),
    (Key::BTN_THUMBR, "right-stick.click"),
    (Key::BTN_DPAD_UP, "dpad.up"),
    (Key::BTN_DPAD_DOWN, "dpad.down"),
    (Key::BTN_DPAD_LEFT, "dpad.left"),
    (Key::BTN_DPAD_RIGHT, "dpad.right"),
];

/// Keys that the table of W3C codes has no Linux code for, and the kernel does.
const OTHER_KEYS: &[(Key, &str)] =
    &[(Key::KEY_PROPS, "Props"), (Key::KEY_SUSPEND, "Suspend"), (Key::KEY_FN, "Fn")];

/// The mouse's buttons by their codes.
const MOUSE: &[(Key, &str)] = &[
    (Key::BTN_LEFT, "left"),
    (Key::BTN_RIGHT, "right"),
    (Key::BTN_MIDDLE, "middle"),
    (Key::BTN_SIDE, "back"),
    (Key::BTN_EXTRA, "forward"),
    (Key::BTN_FORWARD, "forward"),
    (Key::BTN_BACK, "back"),
];

impl Decoder {
    pub fn new(about: &Description) -> Self {
        let mut all = Self {
            classes: Vec::new(),
            reads: HashMap::new(),
            changed: Vec::new(),
            sticks: HashMap::new(),
            left_out: None,
        };
        all.keyboard(about);
        all.mouse(about);
        all.pad(about);
        all
    }

    /// The classes of devices that it is: a keyboard may have a mouse in it.
    pub fn classes(&self) -> &[Class] {
        &self.classes
    }

    /// Takes an event; tells what its device reports once the report is complete.
    pub fn take(&mut self, event: Event, tell: &mut dyn FnMut(Class, ControlId, Vector)) {
        if event.kind == EventType::SYNCHRONIZATION.0 {
            for (class, control, value) in self.changed.drain(..) {
                tell(class, control, value);
            }
            return;
        }
        let Some(reads) = self.reads.get(&(event.kind, event.code)).copied() else { return };
        let value = event.value;
        match reads {
            // 2 is a key that repeats.
            Reads::Button(class, control) if matches!(value, 0 | 1) => {
                self.changed.push((class, control, Vector::axis(f64::from(value))));
            }
            Reads::Button(..) => {}
            Reads::Lever(control, (least, most)) => {
                let share = (f64::from(value) - f64::from(least)) / span(least, most);
                self.replace(control, Vector::axis(share));
            }
            Reads::Stick(control, component, range) => {
                let way = along(value, range);
                let way = if component == Component::Y { -way } else { way };
                let now = self.sticks.entry(control).or_default();
                *now = now.with(component, way + 0.0);
                let now = *now;
                self.replace(control, now);
            }
            Reads::Cross(sides) => {
                for (side, is_down) in sides.into_iter().zip([value < 0, value > 0]) {
                    let is_down = f64::from(u8::from(is_down));
                    let was = self.sticks.insert(side, Vector::axis(is_down)).unwrap_or_default();
                    if was.x != is_down {
                        self.changed.push((Class::Pad, side, Vector::axis(is_down)));
                    }
                }
            }
            Reads::Relative(control, component, one) => {
                let by = Vector::ZERO.with(component, f64::from(value) / one);
                let mut own = self.changed.iter_mut();
                match own.find(|(_, of, _)| *of == control) {
                    Some((.., sum)) => *sum = sum.plus(by),
                    None => self.changed.push((Class::Mouse, control, by)),
                }
            }
        }
    }

    /// What a pad's control is at, once in a report.
    fn replace(&mut self, control: ControlId, value: Vector) {
        match self.changed.iter_mut().find(|(_, of, _)| *of == control) {
            Some((.., now)) => *now = value,
            None => self.changed.push((Class::Pad, control, value)),
        }
    }

    fn keyboard(&mut self, about: &Description) {
        let keys: Vec<(u16, ControlId)> =
            about.keys.iter().filter_map(|&code| Some((code, key(code)?))).collect();
        if keys.len() < FEWEST_KEYS {
            return;
        }
        self.classes.push(Class::Key);
        for (code, control) in keys {
            self.reads.insert((EventType::KEY.0, code), Reads::Button(Class::Key, control));
        }
    }

    fn mouse(&mut self, about: &Description) {
        let moves = [Rel::REL_X, Rel::REL_Y].iter().all(|axis| about.relative.contains(&axis.0));
        if !moves || !about.keys.contains(&Key::BTN_LEFT.0) {
            return;
        }
        self.classes.push(Class::Mouse);
        for (code, name) in MOUSE.iter().filter(|(code, _)| about.keys.contains(&code.0)) {
            let reads = Reads::Button(Class::Mouse, control(&format!("mouse.{name}")));
            self.reads.insert((EventType::KEY.0, code.0), reads);
        }
        let (way, wheel) = (control("mouse.move"), control("mouse.wheel"));
        let has = |axis: Rel| about.relative.contains(&axis.0);
        // Where the wheel tells parts of a notch, it tells the whole ones too: one of both is read.
        let notch = |fine: Rel, whole: Rel| if has(fine) { (fine, 120.0) } else { (whole, 1.0) };
        let (up, up_is) = notch(Rel::REL_WHEEL_HI_RES, Rel::REL_WHEEL);
        let (across, across_is) = notch(Rel::REL_HWHEEL_HI_RES, Rel::REL_HWHEEL);
        for (axis, reads) in [
            (Rel::REL_X, Reads::Relative(way, Component::X, 1.0)),
            (Rel::REL_Y, Reads::Relative(way, Component::Y, 1.0)),
            (up, Reads::Relative(wheel, Component::Y, up_is)),
            (across, Reads::Relative(wheel, Component::X, across_is)),
        ] {
            if has(axis) {
                self.reads.insert((EventType::RELATIVE.0, axis.0), reads);
            }
        }
    }

    fn pad(&mut self, about: &Description) {
        let is_pad = about.keys.contains(&Key::BTN_SOUTH.0);
        // BTN_JOYSTICK and those behind it say nothing of places.
        let unplaced = about.keys.iter().filter(|code| (0x120..0x130).contains(*code)).count();
        if !is_pad && unplaced == 0 {
            return;
        }
        self.classes.push(Class::Pad);
        let is_swapped = SWAPPED.contains(&about.ids.0);
        for (code, name) in PAD.iter().filter(|(code, _)| about.keys.contains(&code.0)) {
            let name = match (*name, is_swapped) {
                ("north", true) => "west",
                ("west", true) => "north",
                (name, _) => name,
            };
            let reads = Reads::Button(Class::Pad, control(&format!("pad.{name}")));
            self.reads.insert((EventType::KEY.0, code.0), reads);
        }
        self.sticks_and_levers(about);
        if unplaced > 0 {
            self.left_out = Some(format!(
                "{} does not say where its buttons are: its sticks are read, and {unplaced} buttons are not",
                about.name
            ));
        }
    }

    fn sticks_and_levers(&mut self, about: &Description) {
        let has = |axis: Abs| about.absolute.contains_key(&axis.0);
        let (left, right) = (control("pad.left-stick"), control("pad.right-stick"));
        // Older pads have the right stick where newer ones have the triggers.
        let is_older = !has(Abs::ABS_RX) && has(Abs::ABS_Z) && has(Abs::ABS_RZ);
        let (across, up) =
            if is_older { (Abs::ABS_Z, Abs::ABS_RZ) } else { (Abs::ABS_RX, Abs::ABS_RY) };
        let sticks = [
            (Abs::ABS_X, left, Component::X),
            (Abs::ABS_Y, left, Component::Y),
            (across, right, Component::X),
            (up, right, Component::Y),
        ];
        for (axis, stick, component) in sticks {
            if let Some(&range) = about.absolute.get(&axis.0) {
                let reads = Reads::Stick(stick, component, range);
                self.reads.insert((EventType::ABSOLUTE.0, axis.0), reads);
            }
        }
        let triggers = [
            ("pad.left-trigger", [Abs::ABS_HAT2Y, Abs::ABS_BRAKE, Abs::ABS_Z], Key::BTN_TL2),
            ("pad.right-trigger", [Abs::ABS_HAT2X, Abs::ABS_GAS, Abs::ABS_RZ], Key::BTN_TR2),
        ];
        for (name, axes, button) in triggers {
            let mut pulled = axes.into_iter().filter(|axis| has(*axis));
            let axis = pulled.find(|axis| !is_older || !matches!(*axis, Abs::ABS_Z | Abs::ABS_RZ));
            match axis.and_then(|axis| Some((axis, *about.absolute.get(&axis.0)?))) {
                Some((axis, range)) => {
                    let reads = Reads::Lever(control(name), range);
                    self.reads.insert((EventType::ABSOLUTE.0, axis.0), reads);
                }
                // A trigger that is only on or off is at one end or the other.
                None if about.keys.contains(&button.0) => {
                    let reads = Reads::Button(Class::Pad, control(name));
                    self.reads.insert((EventType::KEY.0, button.0), reads);
                }
                None => {}
            }
        }
        for (axis, [below, above]) in
            [(Abs::ABS_HAT0X, ["left", "right"]), (Abs::ABS_HAT0Y, ["up", "down"])]
        {
            if has(axis) {
                let side = |name: &str| control(&format!("pad.dpad.{name}"));
                let reads = Reads::Cross([side(below), side(above)]);
                self.reads.insert((EventType::ABSOLUTE.0, axis.0), reads);
            }
        }
    }
}

/// A control that the catalogue has.
fn control(name: &str) -> ControlId {
    Catalogue::built_in().reported_id(name).expect("the catalogue has the controls named here")
}

/// The key of a code, if it has a place.
fn key(code: u16) -> Option<ControlId> {
    let own = OTHER_KEYS.iter().find(|(key, _)| key.0 == code);
    let name = match own {
        Some((_, name)) => (*name).to_owned(),
        None => {
            let map = KeyMap::from_key_mapping(KeyMapping::Evdev(code)).ok()?;
            let code: KeyMappingCode = map.code?;
            code.to_string()
        }
    };
    Catalogue::built_in().reported_id(&format!("key.{name}"))
}

fn span(least: i32, most: i32) -> f64 {
    let span = f64::from(most) - f64::from(least);
    if span > 0.0 { span } else { 1.0 }
}

/// From −1 to 1: a range around 0 has its middle there, whatever its ends are.
fn along(value: i32, (least, most): (i32, i32)) -> f64 {
    let v = f64::from(value);
    match (least < 0, most > 0) {
        (true, true) if value < 0 => v / -f64::from(least),
        (true, true) => v / f64::from(most),
        _ => (v - f64::from(least)) / span(least, most) * 2.0 - 1.0,
    }
}
