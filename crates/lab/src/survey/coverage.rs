//! What of a profile some hands have tried, and what none has.

use crate::take::{Input, Playing, Run, Watcher};
use harmonym_runtime::base::{
    AT_REST, ActionId, AlternativeId, BindingId, ControlUseId, IdSet, Seat, Time,
};
use harmonym_runtime::engine::{EventKind, Frame, Inside, Notice};
use harmonym_runtime::plan::{Guard, Plan};
use harmonym_runtime::seats::Told;
use std::sync::Arc;

/// What has been tried so far.
#[derive(Clone, Debug)]
pub struct Coverage {
    actions: IdSet<ActionId>,
    bindings: IdSet<BindingId>,
    uses: IdSet<ControlUseId>,
    cues: IdSet<AlternativeId>,
    /// For each guard of each alternative, whether it was seen to hold, and to fail.
    guards: Vec<(AlternativeId, Guard, bool, bool)>,
}

/// Something that nothing has tried.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Untried {
    /// It never woke.
    Action(ActionId),
    /// It never gave its action's value.
    Binding(BindingId),
    /// Of a binding that reads several controls, this one never reached its action.
    Part(BindingId, ControlUseId),
    /// It never fired.
    Cue(AlternativeId),
    /// It never held (true), or never failed, while its action was awake.
    Guard(AlternativeId, Guard, bool),
}

impl Coverage {
    /// Nothing of a plan is tried.
    pub fn new(plan: &Plan) -> Self {
        let of = |id: AlternativeId| {
            let guards = plan.alternatives()[id].guards.of(plan.guards()).iter();
            guards.map(move |&guard| (id, guard, false, false))
        };
        Self {
            actions: IdSet::new(plan.actions().len()),
            bindings: IdSet::new(plan.bindings().len()),
            uses: IdSet::new(plan.uses().len()),
            cues: IdSet::new(plan.alternatives().len()),
            guards: plan.alternatives().ids().flat_map(of).collect(),
        }
    }

    /// Plays some hands. The plan may be that of another keyboard layout.
    pub fn add(
        &mut self,
        plan: &Arc<Plan>,
        playing: Playing,
        inputs: impl IntoIterator<Item = Input>,
    ) {
        let mut trying = Trying { coverage: self, events: Vec::new() };
        let mut run = Run::new(Arc::clone(plan), playing, None, &mut trying);
        for input in inputs {
            if run.input(input, &mut trying).is_break() {
                break;
            }
        }
        run.finish(&mut trying);
    }

    /// What was not tried, in the order of the file. Of an action that never woke nothing else is told.
    pub fn untried(&self, plan: &Plan) -> Vec<Untried> {
        let mut all = Vec::new();
        for &action in plan.by_file() {
            if !self.actions.contains(action) {
                all.push(Untried::Action(action));
                continue;
            }
            let spec = &plan.actions()[action];
            for binding in spec.bindings.iter() {
                if !self.bindings.contains(binding) {
                    all.push(Untried::Binding(binding));
                    continue;
                }
                let own = |used: &ControlUseId| {
                    plan.uses()[*used].bindings.of(plan.use_bindings()).contains(&binding)
                };
                let uses: Vec<ControlUseId> = spec.uses.iter().filter(own).collect();
                let untried = uses.iter().filter(|used| !self.uses.contains(**used));
                if uses.len() > 1 {
                    all.extend(untried.map(|used| Untried::Part(binding, *used)));
                }
            }
            for cue in spec.alternatives.iter() {
                if !self.cues.contains(cue) {
                    all.push(Untried::Cue(cue));
                }
                let guards = self.guards.iter().filter(|(of, ..)| *of == cue);
                for &(of, guard, held, failed) in guards {
                    if !held {
                        all.push(Untried::Guard(of, guard, true));
                    }
                    if !failed {
                        all.push(Untried::Guard(of, guard, false));
                    }
                }
            }
        }
        all
    }

    /// How many actions, bindings and cues were tried, and how many there are.
    pub fn counts(&self, plan: &Plan) -> [(usize, usize); 3] {
        let actions = plan.actions().ids().filter(|&id| self.actions.contains(id)).count();
        let bindings = plan.bindings().ids().filter(|&id| self.bindings.contains(id)).count();
        let cues = plan.alternatives().ids().filter(|&id| self.cues.contains(id)).count();
        [
            (actions, plan.actions().len()),
            (bindings, plan.bindings().len()),
            (cues, plan.alternatives().len()),
        ]
    }

    fn settle(&mut self, inside: &Inside<'_>, events: &[(ActionId, EventKind, Option<BindingId>)]) {
        for &(action, kind, from) in events {
            self.actions.insert(action);
            if let Some(binding) = from {
                self.bindings.insert(binding);
            }
            if let EventKind::Fire(by, _) = kind {
                self.cues.insert(by);
            }
        }
        let plan = inside.plan();
        for (of, guard, held, failed) in &mut self.guards {
            let action = plan.alternatives()[*of].action;
            let told = events.iter().any(|(own, ..)| *own == action);
            if told || inside.episode(action).awake {
                match inside.holds(*guard) {
                    true => *held = true,
                    false => *failed = true,
                }
            }
        }
        for used in plan.uses().ids().filter(|used| !self.uses.contains(*used)).collect::<Vec<_>>()
        {
            if reaches(inside, used) {
                self.uses.insert(used);
            }
        }
    }
}

/// Whether a control is away from 0 and nothing keeps it from its action.
fn reaches(inside: &Inside<'_>, used: ControlUseId) -> bool {
    let plan = inside.plan();
    inside.is_active(plan.uses()[used].action)
        && plan.uses()[used].inputs.iter().any(|input| {
            inside.devices(input).any(|device| {
                let touch = inside.touch(input, device);
                let is_free = !touch.muted && touch.claimed == 0 && touch.hidden == 0;
                is_free && touch.bound.magnitude() > AT_REST
            })
        })
}

/// Looks on while hands are played.
struct Trying<'c> {
    coverage: &'c mut Coverage,
    /// What was told in this instant, and of which seat.
    events: Vec<(Option<Seat>, ActionId, EventKind, Option<BindingId>)>,
}

impl Trying<'_> {
    fn look(&mut self, seat: Seat, frame: Frame<'_>) {
        let own = self.events.extract_if(.., |(of, ..)| *of == Some(seat));
        let events: Vec<_> = own.map(|(_, action, kind, from)| (action, kind, from)).collect();
        self.coverage.settle(&frame.inside(), &events);
    }
}

impl Watcher for Trying<'_> {
    const EVERY_INSTANT: bool = true;

    fn notice(&mut self, Told { seat, notice }: Told) {
        if let Notice::Event(event) = notice {
            self.events.push((seat, event.action, event.kind, event.from));
        }
    }

    fn tick(&mut self, seat: Seat, frame: Frame<'_>, _t: Time) {
        self.look(seat, frame);
    }

    fn instant(&mut self, seat: Seat, frame: Frame<'_>, _input: Option<&Input>) {
        self.look(seat, frame);
    }
}
