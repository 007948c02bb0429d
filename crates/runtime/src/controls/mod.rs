//! The catalogue of devices and controls: what there is to bind, and what each device reports.
//!
//! Guarantees to every later stage: each control that a device reports itself has one
//! [`ControlId`], the same in every run; every other control is a way to read one or two of those.

mod devices;
mod keyboard;
mod layout;

pub use layout::Layout;

use crate::base::{ALL_HALVES, Class, Component, ControlId, ControlKind, Device, Id, Kind, half};
use std::collections::HashMap;
use std::sync::{Arc, OnceLock};

/// How a control is read from what devices report.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Reads {
    /// A control that a device reports itself, or a notch of a wheel.
    Whole(ControlId),
    /// One component.
    Component(ControlId, Component),
    /// One half of a component, 0 to 1; `true` for the positive half.
    Half(ControlId, Component, bool),
    /// Either of two.
    Either(ControlId, ControlId),
    /// A plane of four buttons: up, left, down, right.
    Four([ControlId; 4]),
    /// The key that types a character on the player's layout.
    Char(char),
    /// No control: what a player took away.
    Nothing,
}

/// One control of the catalogue.
#[derive(Clone, Debug, PartialEq)]
pub struct Entry {
    /// The class of its device.
    pub class: Class,
    /// The name, class included: `pad.left-stick.x`.
    pub name: Arc<str>,
    /// What kind of thing it is.
    pub kind: ControlKind,
    /// What a binding of it yields.
    pub gives: Kind,
    /// Where it is on the device.
    pub place: Arc<str>,
    /// How it is read.
    pub reads: Reads,
    /// Other words for it.
    words: &'static str,
}

impl Entry {
    /// Whether every one of `words` begins a word of its name, kind, place or other names.
    pub fn matches(&self, words: &[String]) -> bool {
        let all = self.all_words();
        words.iter().all(|word| {
            let word = word.to_lowercase();
            all.split_whitespace().any(|known| known.starts_with(&word))
        })
    }

    /// Whether `words` stand side by side in its name or place.
    pub fn has_phrase(&self, words: &[String]) -> bool {
        self.all_words().contains(&words.join(" ").to_lowercase())
    }

    /// Whatever may be said of it. It is put together for who searches: nearly nobody does.
    fn all_words(&self) -> String {
        let Self { name, place, words, kind, .. } = self;
        let separators = ['.', '-', ',', ':', '/'];
        let apart = format!("{name} {place} {words}").replace(separators, " ");
        format!("{name} {apart} {place} {}", kind.word()).to_lowercase()
    }
}

/// A control that a device reports itself, or a notch of a wheel that it reports.
#[derive(Clone, Debug, PartialEq)]
pub struct Reported {
    /// The class of its device.
    pub class: Class,
    /// The name, class included.
    pub name: Arc<str>,
    /// What kind of thing it is.
    pub kind: ControlKind,
    /// The standard control that it also counts as.
    pub stands_for: Option<ControlId>,
    /// Of a notch: the wheel, and which half of it; no device reports it by itself.
    pub notch: Option<(ControlId, Component, bool)>,
}

/// A class of devices of the profile's own.
#[derive(Clone, Debug, PartialEq)]
pub struct OwnDevice {
    /// Its name.
    pub name: String,
    /// Its controls: name and kind.
    pub controls: Vec<(String, ControlKind)>,
    /// Which of them, by their place in the list, also count as a standard control.
    pub stands_for: Vec<(usize, ControlId)>,
}

/// All controls there are.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Catalogue {
    /// Those that need no profile.
    standard: Arc<Section>,
    /// Those of a profile's own devices.
    others: Section,
    reported: Vec<Reported>,
    own: Vec<String>,
}

/// Controls that can be found by name.
#[derive(Clone, Debug, Default, PartialEq)]
struct Section {
    entries: Vec<Entry>,
    by_name: HashMap<Arc<str>, usize>,
}

impl Section {
    fn find(&self, name: &str) -> Option<&Entry> {
        self.by_name.get(name).map(|&i| &self.entries[i])
    }
}

impl Catalogue {
    /// The catalogue without devices of a profile's own, made at first use.
    pub fn built_in() -> &'static Arc<Self> {
        static ONE: OnceLock<Arc<Catalogue>> = OnceLock::new();
        ONE.get_or_init(|| Arc::new(Self::build()))
    }

    /// The catalogue of a profile with devices of its own.
    pub fn with(own: &[OwnDevice]) -> Arc<Self> {
        if own.is_empty() {
            return Arc::clone(Self::built_in());
        }
        let mut all = Self::clone(Self::built_in());
        for (index, device) in own.iter().enumerate() {
            all.add_own(Class::Own(index as u8), device);
        }
        Arc::new(all)
    }

    /// Every control, in the order of the catalogue.
    pub fn entries(&self) -> impl Iterator<Item = &Entry> + Clone {
        self.standard.entries.iter().chain(&self.others.entries)
    }

    /// The control called `name` (`key.KeyW`).
    pub fn find(&self, name: &str) -> Option<&Entry> {
        self.others.find(name).or_else(|| self.standard.find(name))
    }

    /// Every control that devices report themselves, in the order of their ids, and the notches of
    /// wheels among them.
    pub fn reported(&self) -> &[Reported] {
        &self.reported
    }

    /// The control called `name`, if a device reports it itself.
    pub fn reported_id(&self, name: &str) -> Option<ControlId> {
        match self.find(name)?.reads {
            Reads::Whole(id) if self.reported[id.index()].notch.is_none() => Some(id),
            _ => None,
        }
    }

    /// The key that types `c` on a layout.
    pub fn key_of(&self, c: char, layout: Layout) -> Option<ControlId> {
        self.reported_id(&format!("key.{}", layout.key(c)?))
    }

    /// What a way of reading touches: controls that devices report, with half-axes; a notch is a
    /// half of its wheel.
    pub fn touched(&self, reads: Reads, layout: Layout) -> Vec<(ControlId, u8)> {
        let whole = |id: ControlId| match self.reported[id.index()].notch {
            Some((wheel, component, positive)) => (wheel, half(component, positive)),
            None => (id, ALL_HALVES),
        };
        match reads {
            Reads::Whole(id) => vec![whole(id)],
            Reads::Component(id, component) => {
                vec![(id, half(component, true) | half(component, false))]
            }
            Reads::Half(id, component, positive) => vec![(id, half(component, positive))],
            Reads::Either(a, b) => vec![whole(a), whole(b)],
            Reads::Four(all) => all.into_iter().map(whole).collect(),
            Reads::Char(c) => self.key_of(c, layout).map(whole).into_iter().collect(),
            Reads::Nothing => Vec::new(),
        }
    }

    /// The classes there are, the profile's own last.
    pub fn classes(&self) -> impl Iterator<Item = Class> {
        let own = (0..self.own.len()).map(|index| Class::Own(index as u8));
        Class::BUILT_IN.into_iter().chain(own)
    }

    /// The word of a class, before the dot.
    pub fn word(&self, class: Class) -> &str {
        match class {
            Class::Own(index) => self.own.get(index as usize).map_or("", String::as_str),
            class => class.built_in_word(),
        }
    }

    /// A device's name: `pad#2`.
    pub fn device_name(&self, device: Device) -> String {
        format!("{}#{}", self.word(device.class), device.number + 1)
    }

    /// The class that `word` names.
    pub fn class(&self, word: &str) -> Option<Class> {
        self.classes().find(|&class| self.word(class) == word)
    }

    fn build() -> Self {
        let mut all = Self::default();
        for (group, keys) in keyboard::GROUPS {
            for (code, us) in *keys {
                let (name, place) = (format!("key.{code}"), format!("{group}: {us}"));
                all.report(Class::Key, &name, ControlKind::Button, &place, "key keyboard");
            }
        }
        for (name, left, right) in keyboard::EITHER {
            let reads =
                Reads::Either(all.id(&format!("key.{left}")), all.id(&format!("key.{right}")));
            let place = format!("either {name} key");
            let name = format!("key.{name}");
            all.add(Class::Key, &name, ControlKind::Button, &place, reads, "both sides");
        }
        let tables = [
            (Class::Mouse, devices::MOUSE),
            (Class::Mouse, devices::POINTERS),
            (Class::Pad, devices::PAD),
            (Class::Touch, devices::TOUCH),
            (Class::Head, devices::HEAD),
            (Class::Hand, devices::HAND),
        ];
        for (class, rows) in tables {
            for &(name, kind, place, words) in rows {
                let name = format!("{}.{name}", class.built_in_word());
                all.report(class, &name, kind, place, words);
            }
        }
        all.add_notches();
        all.add_dpad();
        all.standard = Arc::new(std::mem::take(&mut all.others));
        all
    }

    fn add_notches(&mut self) {
        let wheel = self.id("mouse.wheel");
        for &(name, component, positive, place) in devices::NOTCHES {
            let name = format!("mouse.{name}");
            self.report(Class::Mouse, &name, ControlKind::Button, place, "scroll tilt");
            if let Some(notch) = self.reported.last_mut() {
                notch.notch = Some((wheel, component, positive));
            }
        }
    }

    fn add_dpad(&mut self) {
        let four = ["up", "left", "down", "right"].map(|way| self.id(&format!("pad.dpad.{way}")));
        let (place, words) = ("the left thumb's cross", "d-pad directions hat");
        self.add(Class::Pad, "pad.dpad", ControlKind::Stick, place, Reads::Four(four), words);
    }

    fn add_own(&mut self, class: Class, device: &OwnDevice) {
        self.own.push(device.name.clone());
        for (index, (name, kind)) in device.controls.iter().enumerate() {
            let (full, place) =
                (format!("{}.{name}", device.name), format!("on the {}", device.name));
            self.report(class, &full, *kind, &place, "own");
            let stands = device.stands_for.iter().find(|(of, _)| *of == index);
            if let (Some((_, standard)), Some(reported)) = (stands, self.reported.last_mut()) {
                reported.stands_for = Some(*standard);
            }
        }
    }

    /// The id of a control that the tables hold.
    fn id(&self, name: &str) -> ControlId {
        self.reported_id(name).unwrap_or(ControlId::new(usize::MAX))
    }

    fn report(
        &mut self,
        class: Class,
        name: &str,
        kind: ControlKind,
        place: &str,
        words: &'static str,
    ) {
        let id = ControlId::new(self.reported.len());
        let (own, notch) = (name.into(), None);
        self.reported.push(Reported { class, name: own, kind, stands_for: None, notch });
        self.add(class, name, kind, place, Reads::Whole(id), words);
        self.add_parts(class, name, kind, place, words);
    }

    /// The components of what has two, and the halves of a stick.
    fn add_parts(
        &mut self,
        class: Class,
        name: &str,
        kind: ControlKind,
        place: &str,
        words: &'static str,
    ) {
        use Component::{X, Y};
        let id = ControlId::new(self.reported.len() - 1);
        let down = if kind == ControlKind::Stick { "up is positive" } else { "its second number" };
        let axes = [("x", X, "across, right is positive"), ("y", Y, down)];
        if !matches!(kind, ControlKind::Stick | ControlKind::Relative | ControlKind::Spot) {
            return;
        }
        for (part, component, way) in axes {
            let kind = if kind == ControlKind::Stick { ControlKind::Axis } else { kind };
            let (name, place) = (format!("{name}.{part}"), format!("{place}: {way}"));
            self.add(class, &name, kind, &place, Reads::Component(id, component), words);
        }
        if kind != ControlKind::Stick {
            return;
        }
        for (part, component, positive, way) in [
            ("up", Y, true, "the upper half"),
            ("down", Y, false, "the lower half"),
            ("left", X, false, "the left half"),
            ("right", X, true, "the right half"),
        ] {
            let (name, place) = (format!("{name}.{part}"), format!("{place}: {way}"));
            let reads = Reads::Half(id, component, positive);
            self.add(class, &name, ControlKind::Lever, &place, reads, words);
        }
    }

    fn add(
        &mut self,
        class: Class,
        name: &str,
        kind: ControlKind,
        place: &str,
        reads: Reads,
        words: &'static str,
    ) {
        let shared: Arc<str> = name.into();
        self.others.by_name.insert(Arc::clone(&shared), self.others.entries.len());
        let gives = match reads {
            Reads::Component(..) => Kind::Axis,
            _ => kind.yields(),
        };
        let place = place.into();
        self.others.entries.push(Entry { class, name: shared, kind, gives, place, reads, words });
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn controls_are_found_by_any_of_their_words() {
        let catalogue = Catalogue::built_in();
        let found = |words: &str| {
            let words: Vec<String> = words.split(' ').map(str::to_owned).collect();
            let hits = catalogue.entries().filter(|e| e.matches(&words));
            hits.map(|e| &*e.name).collect::<Vec<_>>()
        };
        assert_eq!(found("numpad plus"), ["key.NumpadAdd"]);
        assert_eq!(found("bumper")[..2], ["pad.left-shoulder", "pad.right-shoulder"]);
        assert!(found("thumb button").contains(&"pad.south"));
        assert_eq!(found("bottom button")[0], "pad.south");
        assert!(found("left stick").contains(&"pad.left-stick"));
        assert_eq!(found("lowest button"), ["pad.south"]);
        assert!(found("wheel").contains(&"mouse.wheel"));
        assert!(found("nothing-like-it").is_empty());
    }

    #[test]
    fn every_reported_control_is_an_entry_that_reads_itself() {
        let catalogue = Catalogue::built_in();
        for (i, reported) in catalogue.reported().iter().enumerate() {
            let entry = catalogue.find(&reported.name).expect("an entry");
            assert_eq!(entry.reads, Reads::Whole(ControlId::new(i)), "{}", entry.name);
            assert_eq!(entry.kind, reported.kind);
        }
        let Section { entries, by_name } = &*catalogue.standard;
        assert_eq!(by_name.len(), entries.len(), "a name is used twice");
        let keys = catalogue.reported().iter().filter(|r| r.class == Class::Key);
        assert_eq!(keys.count(), 183);
    }
}
