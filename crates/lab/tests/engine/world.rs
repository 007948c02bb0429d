//! The devices and maps of the second interpreter: what each use of a control sees, found anew by
//! looking at every other use.

use crate::values::{V, len};
use harmonym_lang::model::{ActionId, Chain, Head, Profile};
use harmonym_runtime::base::{Contact, ControlId, ControlKind, Id, MapId, MapKind, SchemeId};
use harmonym_runtime::controls::{Layout, Reads};
use std::collections::{BTreeMap, BTreeSet};

/// A half of one component of a control of one device.
pub type Half = (ControlId, u8, usize, bool);

/// One place in an expression where a control stands.
pub struct Use {
    pub action: ActionId,
    pub scheme: Option<SchemeId>,
    pub inputs: Vec<PhysicalInput>,
    pub holders: usize,
    pub holds: bool,
}

pub struct PhysicalInput {
    pub control: ControlId,
    pub device: Option<u8>,
    /// What of which control is claimed by it.
    pub key: ControlId,
    pub halves: Vec<(usize, bool)>,
}

pub struct Plus {
    pub path: String,
    pub action: ActionId,
    pub scheme: Option<SchemeId>,
    pub parts: Vec<Chain>,
    pub count: usize,
    pub pressed: bool,
    /// The uses of its last part.
    pub last: Vec<String>,
    pub counts: bool,
    pub high: bool,
    pub barred: bool,
    pub latched: bool,
}

pub struct World<'a> {
    pub profile: &'a Profile,
    layout: Layout,
    pub uses: BTreeMap<String, Use>,
    /// Those with the most holders first.
    pub pluses: Vec<Plus>,
    pub raw: BTreeMap<(ControlId, u8), V>,
    /// In the order of their latest reports.
    reported: Vec<(ControlId, u8)>,
    pub moved: BTreeMap<(String, ControlId), V>,
    pub held: BTreeMap<(String, ControlId), V>,
    pub muted: BTreeSet<(String, ControlId, u8)>,
    pub covered: BTreeMap<String, BTreeSet<Half>>,
    /// The open maps in the order they were opened.
    pub open: Vec<MapId>,
    pub paused: bool,
    pub narrowed: Option<SchemeId>,
    pub living: BTreeSet<ActionId>,
    places: BTreeMap<ActionId, usize>,
}

const DEVICES: u8 = 8;

impl<'a> World<'a> {
    pub fn new(profile: &'a Profile) -> Self {
        let mut this = Self {
            profile,
            layout: Layout::US,
            uses: BTreeMap::new(),
            pluses: Vec::new(),
            raw: BTreeMap::new(),
            reported: Vec::new(),
            moved: BTreeMap::new(),
            held: BTreeMap::new(),
            muted: BTreeSet::new(),
            covered: BTreeMap::new(),
            open: profile.maps.entries().filter(|(_, m)| m.start).map(|(id, _)| id).collect(),
            paused: false,
            narrowed: None,
            living: BTreeSet::new(),
            places: BTreeMap::new(),
        };
        for (id, action) in profile.actions.entries() {
            for binding in &action.bindings {
                let path = profile.binding_address(id, binding);
                this.walk(id, binding.scheme, &binding.chain, &path, 0, false);
            }
        }
        this.pluses.sort_by_key(|plus| std::cmp::Reverse(plus.count));
        this
    }

    fn walk(
        &mut self,
        action: ActionId,
        scheme: Option<SchemeId>,
        chain: &Chain,
        path: &str,
        holders: usize,
        holds: bool,
    ) {
        let mut part = |chain: &Chain, name: &str| {
            self.walk(action, scheme, chain, &format!("{path}.{name}"), holders, holds);
        };
        match &chain.head {
            Head::Control { reads, device, .. } => {
                self.control(action, scheme, *reads, *device, path, holders, holds);
            }
            Head::Action { .. } => {}
            Head::Pair(pair) => {
                part(&pair.neg, "neg");
                part(&pair.pos, "pos");
            }
            Head::Four(four) => {
                part(&four.x.neg, "x.neg");
                part(&four.x.pos, "x.pos");
                part(&four.y.neg, "y.neg");
                part(&four.y.pos, "y.pos");
            }
            Head::Join(parts) | Head::Any(parts) => {
                parts.iter().enumerate().for_each(|(i, one)| part(one, &i.to_string()));
            }
            Head::Group(inner) => part(inner, "inner"),
            Head::Sum(parts) => {
                let last = parts.len() - 1;
                let count = holders + last;
                for (i, one) in parts.iter().enumerate() {
                    let (holders, holds) = if i == last { (count, holds) } else { (holders, true) };
                    self.walk(action, scheme, one, &format!("{path}.{i}"), holders, holds);
                }
                let below = format!("{path}.{last}");
                let inside =
                    |name: &&String| **name == below || name.starts_with(&format!("{below}."));
                let last = self.uses.keys().filter(inside).cloned().collect();
                self.pluses.push(Plus {
                    path: path.to_owned(),
                    action,
                    scheme,
                    parts: parts.clone(),
                    count,
                    pressed: pressed(&parts[parts.len() - 1]),
                    last,
                    counts: false,
                    high: false,
                    barred: false,
                    latched: false,
                });
            }
        }
    }

    /// The uses and every `+` of another profile: what is known of those that are not bound anew stays.
    pub fn rewire(&mut self, profile: &'a Profile) {
        let new = Self::new(profile);
        let before = std::mem::replace(&mut self.pluses, new.pluses);
        (self.profile, self.uses) = (profile, new.uses);
        for plus in &mut self.pluses {
            let Some(old) = before.iter().find(|old| old.path == plus.path) else { continue };
            (plus.counts, plus.high) = (old.counts, old.high);
            (plus.barred, plus.latched) = (old.barred, old.latched);
        }
    }

    #[allow(clippy::too_many_arguments)]
    fn control(
        &mut self,
        action: ActionId,
        scheme: Option<SchemeId>,
        reads: Reads,
        device: Option<u8>,
        path: &str,
        holders: usize,
        holds: bool,
    ) {
        let all: Vec<(usize, bool)> =
            (0..3).flat_map(|component| [(component, true), (component, false)]).collect();
        let catalogue = &self.profile.catalogue;
        let mut add = |path: String, controls: Vec<ControlId>, halves: Vec<(usize, bool)>| {
            let mut inputs = Vec::new();
            for control in controls {
                let stand_ins = catalogue.reported().iter().enumerate();
                let own =
                    stand_ins.filter(|(_, r)| r.stands_for == Some(control) && device.is_none());
                let own = own.map(|(index, _)| ControlId::new(index));
                for control in [control].into_iter().chain(own) {
                    let (key, halves) = match catalogue.reported()[control.index()].notch {
                        Some((wheel, c, positive)) => (wheel, vec![(c as usize, positive)]),
                        None => (control, halves.clone()),
                    };
                    inputs.push(PhysicalInput { control, device, key, halves });
                }
            }
            self.uses.insert(path, Use { action, scheme, inputs, holders, holds });
        };
        match reads {
            Reads::Whole(c) => add(path.to_owned(), vec![c], all),
            Reads::Nothing => add(path.to_owned(), Vec::new(), all),
            Reads::Component(c, part) => {
                add(path.to_owned(), vec![c], vec![(part as usize, true), (part as usize, false)]);
            }
            Reads::Half(c, part, positive) => {
                add(path.to_owned(), vec![c], vec![(part as usize, positive)]);
            }
            Reads::Either(a, b) => add(path.to_owned(), vec![a, b], all),
            Reads::Char(c) => {
                let key = catalogue.key_of(c, self.layout);
                add(path.to_owned(), key.into_iter().collect(), all);
            }
            Reads::Four(controls) => {
                for (i, control) in controls.into_iter().enumerate() {
                    add(format!("{path}.{i}"), vec![control], all.clone());
                }
            }
        }
    }

    fn kind(&self, control: ControlId) -> ControlKind {
        self.profile.catalogue.reported()[control.index()].kind
    }

    /// The open maps, the first in order first.
    pub fn order(&self) -> Vec<MapId> {
        let mut maps: Vec<(usize, MapId)> = self.open.iter().copied().enumerate().collect();
        maps.sort_by(|(early, a), (late, b)| {
            let (a, b) = (&self.profile.maps[*a], &self.profile.maps[*b]);
            let word = |kind| match kind {
                MapKind::Always => 0,
                MapKind::Layer => 1,
                MapKind::Solo => 2,
            };
            b.rank.cmp(&a.rank).then(word(a.kind).cmp(&word(b.kind))).then(late.cmp(early))
        });
        maps.into_iter().map(|(_, map)| map).collect()
    }

    /// The place of the map that an action lives in, if it lives.
    pub fn place(&self, id: ActionId) -> Option<usize> {
        self.places.get(&id).copied()
    }

    fn has(&self, map: MapId, id: ActionId) -> bool {
        self.profile.actions[id].map == map || self.profile.maps[map].also.contains(&id)
    }

    /// Whether some open map has an action, be it paused or not.
    pub fn is_at_home(&self, id: ActionId) -> bool {
        self.open.iter().any(|&map| self.has(map, id))
    }

    /// Finds all places anew.
    pub fn find_places(&mut self) {
        let order = self.order();
        self.places.clear();
        for (id, action) in self.profile.actions.entries() {
            let has = |map: &MapId| self.has(*map, id);
            let place = order.iter().position(has).filter(|_| !self.paused || action.in_pause);
            self.places.extend(place.map(|place| (id, place)));
        }
    }

    pub fn says(&self, scheme: Option<SchemeId>) -> bool {
        scheme.is_none() || self.narrowed.is_none() || scheme == self.narrowed
    }

    /// The half-axes that read 0 for a use.
    fn covers(&self, path: &str) -> BTreeSet<Half> {
        let this = &self.uses[path];
        let mut covers = BTreeSet::new();
        let Some(place) = self.place(this.action).filter(|_| !this.holds) else { return covers };
        let mut cover = |other: &Use| {
            for input in &other.inputs {
                for device in 0..DEVICES {
                    if input.device.is_none_or(|own| own == device) {
                        let halves = input.halves.iter();
                        covers.extend(halves.map(|(c, sign)| (input.key, device, *c, *sign)));
                    }
                }
            }
        };
        for other in self.uses.values() {
            let claims = self.profile.actions[other.action].claim
                && other.holders == 0
                && !other.holds
                && self.says(other.scheme);
            if claims && self.place(other.action).is_some_and(|at| at < place) {
                cover(other);
            }
        }
        for plus in self.pluses.iter().filter(|plus| plus.latched) {
            let Some(at) = self.place(plus.action) else { continue };
            let claims = self.profile.actions[plus.action].claim;
            if (at == place && plus.count > this.holders) || (at < place && claims) {
                plus.last.iter().for_each(|path| cover(&self.uses[path]));
            }
        }
        let own = |half: &Half| this.inputs.iter().any(|input| input.key == half.0);
        covers.into_iter().filter(own).collect()
    }

    /// Looks anew at what is covered; what is uncovered while it is held is muted.
    pub fn cover(&mut self) {
        let paths: Vec<String> = self.uses.keys().cloned().collect();
        for path in paths {
            let new = self.covers(&path);
            let old = self.covered.insert(path.clone(), new.clone()).unwrap_or_default();
            if self.living.contains(&self.uses[&path].action) {
                // What of the control it doesn't read was never its own.
                let reads = |half: &&Half| {
                    let mut inputs = self.uses[&path].inputs.iter();
                    inputs.any(|l| l.key == half.0 && l.halves.contains(&(half.2, half.3)))
                };
                let freed = old.difference(&new).filter(reads);
                let freed: BTreeSet<(ControlId, u8)> =
                    freed.map(|(key, device, ..)| (*key, *device)).collect();
                self.mute(&path, |key, device| freed.contains(&(key, device)));
            }
        }
    }

    /// Mutes what is held, unless the action carries it over.
    pub fn mute(&mut self, path: &str, which: impl Fn(ControlId, u8) -> bool) {
        let this = &self.uses[path];
        if this.holds || self.profile.actions[this.action].carry {
            return;
        }
        for input in &this.inputs {
            let raw = self.raw.range((input.control, 0)..=(input.control, DEVICES));
            for ((control, device), value) in raw {
                let is_held = self.kind(*control).is_held() && len(*value) >= 0.2;
                let is_own = input.device.is_none_or(|own| own == *device);
                if is_held && is_own && which(input.key, *device) {
                    self.muted.insert((path.to_owned(), *control, *device));
                }
            }
        }
    }

    pub fn report(&mut self, contact: Contact, value: V) {
        let at = (contact.control, contact.device);
        let (least, most) = self.kind(contact.control).range();
        let value = value.map(|v| v.clamp(least, most));
        self.raw.insert(at, value);
        self.reported.retain(|other| *other != at);
        self.reported.push(at);
        if len(value) < 0.15 {
            self.muted.retain(|(_, control, device)| (*control, *device) != at);
        }
    }

    /// As if a control had never reported.
    pub fn forget(&mut self, control: ControlId, device: u8) {
        let at = (control, device);
        self.raw.remove(&at);
        self.reported.retain(|other| *other != at);
        self.muted.retain(|(_, control, device)| (*control, *device) != at);
    }

    /// Adds a movement to every use that it counts for.
    pub fn move_by(&mut self, contact: Contact, by: V) {
        let paths: Vec<String> = self.uses.keys().cloned().collect();
        for path in paths {
            let this = &self.uses[&path];
            let listens = |input: &&PhysicalInput| {
                input.control == contact.control
                    && input.device.is_none_or(|own| own == contact.device)
            };
            let Some(input) = this.inputs.iter().find(listens) else { continue };
            if self.place(this.action).is_some() {
                let v = self.visible(&path, input, contact.device, by);
                let sum = self.moved.entry((path.clone(), contact.control)).or_default();
                *sum = [0, 1, 2].map(|i| sum[i] + v[i]);
            }
        }
    }

    /// A value less what is covered and what the use doesn't read.
    fn visible(&self, path: &str, input: &PhysicalInput, device: u8, value: V) -> V {
        let covered = self.covered.get(path);
        let is_covered = |c: usize, sign: bool| {
            covered.is_some_and(|halves| halves.contains(&(input.key, device, c, sign)))
        };
        if input.key != input.control {
            let (c, sign) = input.halves[0];
            return if is_covered(c, sign) { [0.0; 3] } else { value };
        }
        [0, 1, 2].map(|c| {
            let sign = value[c] > 0.0;
            if is_covered(c, sign) { 0.0 } else { value[c] }
        })
    }

    /// What a use sees.
    pub fn effective(&self, path: &str) -> V {
        let this = &self.uses[path];
        if self.place(this.action).is_none() {
            return [0.0; 3];
        }
        let (mut best, mut sum, mut latest) = ([0.0; 3], [0.0; 3], None);
        let mut greatest = f64::NEG_INFINITY;
        for input in &this.inputs {
            if let Some(held) = self.held.get(&(path.to_owned(), input.control)) {
                let v = self.visible(path, input, 0, *held);
                sum = [0, 1, 2].map(|i| sum[i] + v[i]);
            }
            for ((control, device), value) in
                self.raw.range((input.control, 0)..=(input.control, DEVICES))
            {
                let is_other = input.device.is_some_and(|own| own != *device);
                let key = (path.to_owned(), *control, *device);
                if is_other || self.muted.contains(&key) {
                    continue;
                }
                let seen = self.visible(path, input, *device, *value);
                match self.kind(*control) {
                    ControlKind::Spot | ControlKind::Place => {
                        let at = self.reported.iter().position(|at| *at == (*control, *device));
                        if at > latest {
                            (best, latest) = (seen, at);
                        }
                    }
                    _ if len(seen) > greatest + 1e-9 => (best, greatest) = (seen, len(seen)),
                    _ => {}
                }
            }
        }
        // The whole control of greatest magnitude is chosen first, its components after that.
        let part = |v: V| match this.inputs.first() {
            Some(input) if input.key == input.control => {
                [0, 1, 2].map(|c| if input.halves.contains(&(c, v[c] > 0.0)) { v[c] } else { 0.0 })
            }
            _ => v,
        };
        let best = part(best);
        [0, 1, 2].map(|i| best[i] + part(sum)[i])
    }

    /// Whether every control of a use is let go as its devices report it.
    pub fn is_let_go(&self, path: &str) -> bool {
        self.uses[path].inputs.iter().all(|input| {
            let raw = self.raw.range((input.control, 0)..=(input.control, DEVICES));
            let own = |device: u8| input.device.is_none_or(|own| own == device);
            let is_held = self.kind(input.control).is_held();
            raw.filter(|((_, device), _)| is_held && own(*device)).all(|(_, v)| len(*v) < 0.15)
        })
    }
}

fn pressed(part: &Chain) -> bool {
    match &part.head {
        Head::Control { kind, .. } => {
            part.steps.is_empty() && matches!(kind, ControlKind::Button | ControlKind::Lever)
        }
        Head::Group(inner) => part.steps.is_empty() && pressed(inner),
        _ => false,
    }
}
