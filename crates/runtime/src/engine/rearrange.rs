//! What begins and ends when what is open, paused or bound changes, and who keeps which control then.

use super::Tell;
use super::agenda::Agenda;
use super::clock::Mode;
use super::controls::{InputState, both, freed, on_devices};
use super::episodes::{ActionState, Episodes, Level};
use super::evaluate::{BindingState, Memory};
use super::event::Cause;
use super::inputs::Inputs;
use super::maps::NOWHERE;
use super::state::State;
use crate::base::{ActionId, AlternativeId, ControlUseId, Id, Vector};
use crate::plan::{Cue, Tables};

/// What changes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Change {
    Opens,
    Closes,
    Pauses,
    Resumes,
    Narrows,
    /// The plan is another.
    Rebinds,
}

impl State {
    /// Sets in order what is open, ends what no longer lives, begins what does now, gives each
    /// control to whom it belongs, and works all of that out.
    pub fn rearrange(&mut self, plan: &Tables, change: Change, tell: &mut (impl Tell + ?Sized)) {
        self.clock.mode = Mode::Event;
        self.inputs.maps.sort(plan);
        self.inputs.find_next(plan);
        self.end_the_gone(plan, change, tell);
        self.begin_the_new(plan);
        self.forget_the_homeless(plan);
        self.inputs.maps.changing = true;
        self.settle_claims(plan);
        self.inputs.maps.changing = false;
        if matches!(change, Change::Opens | Change::Resumes | Change::Rebinds) {
            self.end_the_claimed(plan, tell);
        }
        self.inputs.maps.begun.clear();
        self.inputs.maps.covered.clear();
        self.inputs.routes.stir();
        self.pass(plan, tell);
    }

    fn end_the_gone(&mut self, plan: &Tables, change: Change, tell: &mut (impl Tell + ?Sized)) {
        let is_pause = change == Change::Pauses;
        let cause = if is_pause { Cause::Paused } else { Cause::MapOff };
        let mut next = self.inputs.maps.living.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.living.next(action.index() + 1);
            if !self.inputs.maps.next.contains(action) {
                self.end_and_tell_others(plan, action, cause, tell);
                self.die(plan, action, is_pause);
            }
        }
    }

    /// Sets everything of an action back to its start; a pause leaves what `toggle` keeps.
    pub fn die(&mut self, plan: &Tables, action: ActionId, is_pause: bool) {
        let spec = &plan.actions[action];
        self.inputs.maps.living.remove(action);
        self.inputs.maps.places[action] = NOWHERE;
        self.agenda.forget(plan, action);
        self.values.forget(plan, action, |memory| is_pause && plan.kept_in_pause[memory]);
        for binding in spec.bindings.iter() {
            self.values.bindings[binding] = BindingState::default();
        }
        for used in spec.uses.iter() {
            self.inputs.controls.visible[used] = Vector::ZERO;
            for input in plan.uses[used].inputs.iter() {
                self.inputs.controls.inputs[input] = InputState::default();
            }
        }
        for &plus in spec.pluses.of(&plan.listed_pluses) {
            self.inputs.end_plus(&mut self.agenda, plan, plus);
        }
        self.episodes.actions[action] = self.episodes.actions[action].at_rest();
    }

    /// A map that closes during a pause sets back what `toggle` kept for the time after it.
    fn forget_the_homeless(&mut self, plan: &Tables) {
        if !self.inputs.maps.paused {
            return;
        }
        // What will live has begun: the set is free until maps change again.
        let at_home = &mut self.inputs.maps.next;
        for &map in &self.inputs.maps.order {
            plan.maps[map].residents.iter().for_each(|&action| at_home.insert(action));
        }
        for (action, spec) in plan.actions.entries() {
            if !self.inputs.maps.next.contains(action) {
                spec.memories.iter().for_each(|id| self.values.memories[id] = Memory::default());
            }
        }
    }

    fn begin_the_new(&mut self, plan: &Tables) {
        let mut next = self.inputs.maps.next.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.next.next(action.index() + 1);
            if self.inputs.maps.living.contains(action) {
                continue;
            }
            self.inputs.maps.living.insert(action);
            // New to the claims too: what they free of it was never its own.
            self.inputs.maps.begun.insert(action);
            for used in plan.actions[action].uses.iter() {
                for input in plan.uses[used].inputs.iter() {
                    self.inputs.mute(plan, input, u8::MAX);
                }
            }
            self.episodes.forget_fires_before(plan, action);
            self.touch(plan, action);
        }
        self.inputs.controls.forget_active();
        let mut next = self.inputs.maps.living.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.living.next(action.index() + 1);
            for used in plan.actions[action].uses.iter() {
                for input in plan.uses[used].inputs.iter() {
                    self.inputs.controls.listen(plan.inputs[input].control, input);
                }
            }
        }
    }

    /// Gives every half-axis to the first open map that claims it. Afterwards the covered actions
    /// are those that lived before and have lost one.
    fn settle_claims(&mut self, plan: &Tables) {
        while let Some(control) = self.inputs.controls.touched.pop() {
            self.inputs.controls.claimed[control] = Default::default();
        }
        for index in 0..self.inputs.maps.order.len() {
            let Some(&map) = self.inputs.maps.order.get(index) else { break };
            let lives_here = |state: &Self, action| {
                state.inputs.is_active(action) && state.inputs.place(action) == index as u32
            };
            for &action in &plan.maps[map].residents {
                if lives_here(self, action) {
                    self.inputs.take_claims(&mut self.agenda, plan, action);
                }
            }
            for &action in &plan.maps[map].residents {
                if plan.actions[action].claim && lives_here(self, action) {
                    self.inputs.make_claims(plan, action);
                }
            }
        }
        self.begin_pluses(plan);
    }

    fn begin_pluses(&mut self, plan: &Tables) {
        while let Some(plus) = self.agenda.new_pluses.pop() {
            let action = plan.pluses[plus].action;
            (self.values.evaluating, self.values.passed_moving) = (Some(action), false);
            self.begin_plus(plan, plus);
        }
        self.settle_pluses(plan);
    }

    /// Ends each episode that is above its up level and would be under it without what has just
    /// been claimed.
    fn end_the_claimed(&mut self, plan: &Tables, tell: &mut (impl Tell + ?Sized)) {
        let mut next = self.inputs.maps.covered.next(0);
        while let Some(action) = next {
            next = self.inputs.maps.covered.next(action.index() + 1);
            let state = &self.episodes.actions[action];
            // What reads nothing else than before is where it was.
            if !state.awake || state.level == Level::Up || !self.agenda.reread.contains(action) {
                continue;
            }
            let (value, _) = self.value_of(plan, action);
            self.agenda.fresh.insert(action);
            let spec = &plan.actions[action];
            if value.magnitude_of(spec.kind) < spec.up {
                self.end_and_tell_others(plan, action, Cause::Claimed, tell);
            }
        }
    }
}

impl ActionState {
    /// The same without its episode and its levels: what the frame counts, and what others
    /// remember of it, stays.
    pub fn at_rest(&self) -> Self {
        Self {
            live_at: self.live_at,
            forced_at: self.forced_at,
            first_fires: self.first_fires,
            happened: self.happened,
            shown_value: self.shown_value,
            all: self.all,
            ..Self::NEW
        }
    }
}

impl Inputs {
    /// Sets what higher maps claim of an action's controls.
    fn take_claims(&mut self, agenda: &mut Agenda, plan: &Tables, action: ActionId) {
        let is_new = self.maps.begun.contains(action);
        for used in plan.actions[action].uses.iter() {
            for id in plan.uses[used].inputs.iter().filter(|_| !plan.uses[used].holds) {
                let input = &plan.inputs[id];
                let claimed = self.controls.claimed[input.key];
                let old = std::mem::replace(&mut self.controls.inputs[id].claimed, claimed);
                // A claim on other half-axes of the control is nothing to this one.
                let free = freed(old, claimed, input.halves);
                if free != 0 && !is_new {
                    self.mute(plan, id, free);
                }
                // But it may make another control the greatest of those it reads.
                if freed(claimed, old, u8::MAX) != 0 && !is_new {
                    self.maps.covered.insert(action);
                }
                self.hide(plan, id);
                if is_new {
                    self.maps.covered.remove(action);
                }
            }
            self.refresh(agenda, plan, used);
        }
        if is_new {
            self.maps.begun.remove(action);
            for &plus in plan.actions[action].pluses.of(&plan.listed_pluses) {
                agenda.new_pluses.insert(plus);
            }
        }
    }

    /// Claims an action's controls from lower maps; a `+` claims only while it counts.
    fn make_claims(&mut self, plan: &Tables, action: ActionId) {
        for id in plan.actions[action].uses.iter() {
            if !self.claims(plan, id) {
                continue;
            }
            for input in plan.uses[id].inputs.iter().map(|input| &plan.inputs[input]) {
                let claimed = on_devices(input.device, input.halves);
                self.controls.claimed[input.key] = both(self.controls.claimed[input.key], claimed);
                self.controls.touched.insert(input.key);
            }
        }
    }

    fn claims(&self, plan: &Tables, id: ControlUseId) -> bool {
        let used = &plan.uses[id];
        let bindings = used.bindings.of(&plan.use_bindings);
        !used.holds && used.holders == 0 && bindings.iter().any(|&b| self.is_enabled(plan, b))
    }
}

impl Episodes {
    /// Steps that fired before a sequence lives don't count for it.
    fn forget_fires_before(&mut self, plan: &Tables, action: ActionId) {
        for id in plan.actions[action].alternatives.iter() {
            if let Cue::Sequence(steps, _) = plan.alternatives[id].cue {
                self.skip_fires(id, steps.of(&plan.listed));
            }
        }
    }

    /// The alternatives of what lives that wait, `repeat` aside.
    pub fn waits(&self, plan: &Tables) -> bool {
        let repeats = |id: AlternativeId| matches!(plan.alternatives[id].cue, Cue::Repeat(..));
        !self.timers.waiting().all(repeats)
    }
}
