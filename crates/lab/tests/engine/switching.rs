//! The maps of the second interpreter: what begins and ends when they are switched, and reports.

use crate::interpreter::Interpreter;
use crate::motion::Mode;
use crate::values::{V, len};
use harmonym_lang::model::{ActionId, Cue, StepKind};
use harmonym_runtime::base::{
    Component, Contact, ControlId, ControlKind, Id, MapId, MapKind, SchemeId,
};

impl Interpreter<'_> {
    pub fn lives(&self, id: ActionId) -> bool {
        self.inputs.world.living.contains(&id)
    }

    pub fn report(&mut self, contact: Contact, value: V) {
        let reported = self.profile.catalogue.reported();
        if reported[contact.control.index()].kind != ControlKind::Relative {
            self.inputs.world.report(contact, value);
            self.after_input();
            return;
        }
        self.inputs.world.move_by(contact, value);
        // A wheel presses a button for every whole notch.
        let key = (contact.control, contact.device);
        for i in 0..2 {
            self.notches.entry(key).or_default()[i] += value[i];
            while self.notches[&key][i].abs() >= 1.0 - 1e-9 {
                let positive = self.notches[&key][i] > 0.0;
                let is_way = |(wheel, c, way): (ControlId, Component, bool)| {
                    wheel == contact.control && c as usize == i && way == positive
                };
                let Some(notch) = reported.iter().position(|r| r.notch.is_some_and(is_way)) else {
                    break;
                };
                self.notches.get_mut(&key).unwrap()[i] -= if positive { 1.0 } else { -1.0 };
                let button = Contact { control: ControlId::new(notch), ..contact };
                for value in [1.0, 0.0] {
                    self.inputs.world.report(button, [value, 0.0, 0.0]);
                    self.after_input();
                }
            }
        }
    }

    /// Each tick takes the sum of what was moved, and holds it until the next.
    pub fn take_sums(&mut self) {
        let world = &mut self.inputs.world;
        world.held = std::mem::take(&mut world.moved);
    }

    pub fn has_values_at_ticks(&self, id: ActionId) -> bool {
        let relative = self.inputs.world.uses.values().filter(|one| one.action == id).any(|one| {
            let reported = self.profile.catalogue.reported();
            one.inputs.iter().any(|l| reported[l.control.index()].kind == ControlKind::Relative)
        });
        let action = self.action(id);
        let text = action.bindings.iter().any(|binding| binding.text.contains("travel"));
        relative || text || action.shape.iter().any(|step| step.kind == StepKind::Travel)
    }

    /// Settles every `+`, the most holders first, until nothing changes any more.
    pub fn settle_pluses(&mut self) {
        let mode = self.inputs.mode;
        if mode == Mode::Look {
            return;
        }
        self.inputs.world.cover();
        for _ in 0..10 {
            let before: Vec<(bool, bool)> =
                self.inputs.world.pluses.iter().map(|p| (p.counts, p.latched)).collect();
            for index in 0..self.inputs.world.pluses.len() {
                let (path, action) = {
                    let plus = &self.inputs.world.pluses[index];
                    (plus.path.clone(), plus.action)
                };
                let says = self.inputs.world.says(self.inputs.world.pluses[index].scheme);
                if self.lives(action) && says {
                    let read = |other: ActionId| self.value_read(other);
                    let reads: Vec<V> = self.profile.actions.ids().map(read).collect();
                    self.inputs.passed = false;
                    self.inputs.plus(&path, &reads);
                    self.inputs.world.cover();
                }
            }
            let after = self.inputs.world.pluses.iter().map(|p| (p.counts, p.latched));
            if before.into_iter().eq(after) {
                return;
            }
        }
    }

    pub fn switch_map(&mut self, map: MapId, open: bool) {
        let profile = self.profile;
        let world = &mut self.inputs.world;
        if world.open.contains(&map) == open {
            return;
        }
        world.open.retain(|other| {
            let both_solo = profile.maps[*other].kind == MapKind::Solo
                && profile.maps[map].kind == MapKind::Solo;
            *other != map && !(open && both_solo)
        });
        if open {
            world.open.push(map);
        }
        self.rearrange("map-off", open);
    }

    pub fn pause(&mut self, paused: bool) {
        if std::mem::replace(&mut self.inputs.world.paused, paused) != paused {
            self.rearrange("paused", !paused);
        }
    }

    pub fn narrow(&mut self, scheme: Option<SchemeId>) {
        let before: Vec<bool> =
            self.inputs.world.pluses.iter().map(|p| self.inputs.world.says(p.scheme)).collect();
        if std::mem::replace(&mut self.inputs.world.narrowed, scheme) == scheme {
            return;
        }
        for id in self.order.clone() {
            let from = self.acts[id.index()].from.clone();
            let own = self
                .action(id)
                .bindings
                .iter()
                .find(|binding| Some(self.profile.binding_address(id, binding)) == from);
            if own.is_some_and(|binding| !self.inputs.world.says(binding.scheme)) {
                self.end(id, "scheme-off", Some([0.0; 3]));
                self.forced(id);
            }
        }
        for id in self.order.clone() {
            self.act(id).seen = None;
        }
        for (index, said) in before.into_iter().enumerate() {
            let says = self.inputs.world.says(self.inputs.world.pluses[index].scheme);
            let plus = &mut self.inputs.world.pluses[index];
            if !says {
                (plus.counts, plus.high, plus.barred, plus.latched) = (false, false, false, false);
            } else if !said && self.inputs.world.living.contains(&plus.action) {
                self.begin_plus(index);
            }
        }
        self.rearrange("map-off", false);
    }

    pub fn forced(&mut self, id: ActionId) {
        let t = self.t;
        let act = self.act(id);
        (act.value, act.settled) = ([0.0; 3], [0.0; 3]);
        act.forced_at = Some(t);
    }

    pub fn stop_living(&mut self, id: ActionId, cause: &'static str) {
        let had = self.act(id).episode.is_some();
        self.end(id, cause, Some([0.0; 3]));
        if had {
            self.forced(id);
        }
        let address = self.profile.address(id);
        self.inputs.forget(&address, cause == "paused");
        self.inputs.world.living.remove(&id);
        let act = self.act(id);
        *act = crate::interpreter::Act {
            live_at: act.live_at,
            forced_at: act.forced_at,
            fires: std::mem::take(&mut act.fires),
            ..Default::default()
        };
    }

    /// Ends what no longer lives, begins what does now, and gives each control to whom it belongs.
    pub fn rearrange(&mut self, cause: &'static str, opens: bool) {
        self.inputs.world.find_places();
        for id in self.order.clone() {
            if self.lives(id) && self.inputs.world.place(id).is_none() {
                self.stop_living(id, cause);
            }
        }
        for id in self.profile.actions.ids() {
            if !self.inputs.world.is_at_home(id) {
                self.inputs.forget(&self.profile.address(id), false);
            }
        }
        let new: Vec<ActionId> = self
            .order
            .iter()
            .copied()
            .filter(|&id| !self.lives(id) && self.inputs.world.place(id).is_some())
            .collect();
        for &id in &new {
            let uses = self.inputs.world.uses.iter().filter(|(_, one)| one.action == id);
            let paths: Vec<String> = uses.map(|(path, _)| path.clone()).collect();
            paths.iter().for_each(|path| self.inputs.world.mute(path, |_, _| true));
            if let Some(Cue::Sequence { steps, .. }) =
                self.action(id).fire.first().map(|one| &one.cue)
            {
                for step in steps {
                    let fires = self.acts[step.index()].fires.len();
                    self.act(id).taken.insert(*step, fires);
                }
            }
        }
        let before = self.inputs.world.covered.clone();
        self.inputs.world.cover();
        self.inputs.world.living.extend(new.iter().copied());
        self.begin_pluses(&new);
        self.settle_pluses();
        if opens {
            self.end_claimed(&new, &before);
        }
        self.work_all();
    }

    fn begin_pluses(&mut self, new: &[ActionId]) {
        for index in 0..self.inputs.world.pluses.len() {
            let plus = &self.inputs.world.pluses[index];
            if new.contains(&plus.action) && self.inputs.world.says(plus.scheme) {
                self.begin_plus(index);
            }
        }
    }

    /// What is held when its map opens does not count in a `+`.
    fn begin_plus(&mut self, index: usize) {
        let plus = &self.inputs.world.pluses[index];
        let last = plus.parts.len() - 1;
        let (path, chain) = (format!("{}.{last}", plus.path), plus.parts[last].clone());
        let read = |other: ActionId| self.value_read(other);
        let reads: Vec<V> = self.profile.actions.ids().map(read).collect();
        let value = self.inputs.chain(&chain, &path, &reads);
        let world = &mut self.inputs.world;
        let plus = &world.pluses[index];
        let muted = world.muted.iter().any(|(path, ..)| plus.last.contains(path));
        let plus = &mut world.pluses[index];
        plus.high = len(value) >= 0.5;
        plus.barred = plus.high || muted;
    }

    fn end_claimed(
        &mut self,
        new: &[ActionId],
        before: &std::collections::BTreeMap<String, std::collections::BTreeSet<crate::world::Half>>,
    ) {
        for id in self.order.clone() {
            let lost = self.inputs.world.uses.iter().any(|(path, one)| {
                let none = std::collections::BTreeSet::new();
                let now = self.inputs.world.covered.get(path).unwrap_or(&none);
                one.action == id && !now.is_subset(before.get(path).unwrap_or(&none))
            });
            let act = &self.acts[id.index()];
            let (fresh, _) = self.news(id);
            if new.contains(&id) || !lost || !fresh || act.episode.is_none() || act.level == 0 {
                continue;
            }
            let value = self.value_of(id, Mode::Event).0;
            if len(value) < self.action(id).levels.up {
                self.end(id, "claimed", Some([0.0; 3]));
                self.forced(id);
            }
        }
    }
}
