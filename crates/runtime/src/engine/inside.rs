//! A look inside: where every station of an action stands at this moment. For explaining what came;
//! game code reads [`Reading`](super::Reading)s.

use super::controls::only;
use super::episodes::{Level, Stage};
use super::frame::Frame;
use super::state::State;
use crate::base::limits::PRESSED;
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlId, MapId, OpId, ParamId, PhysicalInputId, PlusId,
    SchemeId, Time, VariableId, Vector,
};
use crate::plan::{Guard, Plan, Tables};

/// An engine seen from inside, at one moment.
#[derive(Clone, Copy, Debug)]
pub struct Inside<'e> {
    plan: &'e Tables,
    of: &'e Plan,
    state: &'e State,
}

/// What stands between a control and an action, on one device.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Touch {
    /// What the control reports, or what it moved by up to the last tick.
    pub raw: Vector,
    /// Of that, the half-axes that the action binds.
    pub bound: Vector,
    /// Whether it was held when it might have begun to count, and has not been let go since.
    pub muted: bool,
    /// The half-axes that a map before keeps for itself, as bits.
    pub claimed: u8,
    /// The half-axes that a `+` hides, as bits.
    pub hidden: u8,
}

/// An action's open episode, or its last one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Episode {
    /// Where its magnitude is between its levels.
    pub level: Level,
    /// Whether it is open.
    pub awake: bool,
    /// Whether it has fired, or a `while` of it is on.
    pub live: bool,
    /// When it woke.
    pub woke_at: Time,
    /// When it went down last.
    pub down_at: Time,
    /// When it fired first.
    pub first_fire: Option<Time>,
    /// When the action last became live.
    pub live_at: Option<Time>,
    /// When it was last ended by force.
    pub forced_at: Option<Time>,
}

/// An alternative in the open episode, or in the last one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Alternative {
    /// How far it is.
    pub stage: Stage,
    /// Whether it has fired.
    pub fired: bool,
    /// The time that it waits for, where it waits for one.
    pub time: Time,
    /// When what it waits for comes, or runs out.
    pub due: Option<Time>,
    /// The presses of `taps`, the steps of a `sequence`.
    pub count: u32,
    /// When a fire would have come that waits for other actions.
    pub kept: Option<Time>,
}

impl<'e> Frame<'e> {
    /// A look inside. Ask for the frame by itself: that which a tick gives leaves out what waits of actions
    /// whose value nobody reads beyond whether they are down.
    pub fn inside(self) -> Inside<'e> {
        Inside { plan: self.plan.tables(), of: self.plan, state: self.state }
    }
}

impl<'e> Inside<'e> {
    /// The plan that runs.
    pub fn plan(&self) -> &'e Plan {
        self.of
    }

    /// The moment.
    pub fn now(&self) -> Time {
        self.state.clock.now
    }

    /// The one scheme whose bindings count, if the game narrowed them.
    pub fn narrowed(&self) -> Option<SchemeId> {
        self.state.inputs.maps.narrowed
    }

    /// Whether a map is open.
    pub fn is_open(&self, map: MapId) -> bool {
        self.state.inputs.maps.is_open(map)
    }

    /// Whether an action's map is open, or one that lists it, and not paused.
    pub fn is_active(&self, action: ActionId) -> bool {
        self.state.inputs.is_active(action)
    }

    /// Whether a binding counts: its scheme is not narrowed away.
    pub fn is_enabled(&self, binding: BindingId) -> bool {
        self.state.inputs.is_enabled(self.plan, binding)
    }

    /// What an operation gave; the first of a shape is what [`Self::blended`] tells.
    pub fn value(&self, op: OpId) -> Vector {
        self.state.values.ops[op]
    }

    /// Whether an operation's conditions hold; if not, it passes its input on.
    pub fn applies(&self, op: OpId) -> bool {
        self.state.values.conditions_hold(self.plan, &self.plan.ops[op])
    }

    /// A number of an operation or cue.
    pub fn number(&self, param: ParamId) -> f64 {
        self.state.values.number(param)
    }

    /// The same of one that is a time.
    pub fn time(&self, param: ParamId) -> Time {
        self.state.values.time(param)
    }

    /// What a setting or fact is worth, in its own unit.
    pub fn worth(&self, named: VariableId) -> f64 {
        self.state.values.worth(self.plan, named).unwrap_or_default()
    }

    /// What a binding gives.
    pub fn bound(&self, binding: BindingId) -> Vector {
        self.state.values.bindings[binding].shown()
    }

    /// What the blend of an action's bindings gives, and which of them won while away from 0.
    pub fn blended(&self, action: ActionId) -> (Vector, Option<BindingId>) {
        self.state.values.blend(&self.state.inputs, self.plan, action)
    }

    /// An action's value after its shape.
    pub fn shaped(&self, action: ActionId) -> Vector {
        self.state.episodes.actions[action].value
    }

    /// The share of the way to firing.
    pub fn progress(&self, action: ActionId) -> f64 {
        let State { clock, values, episodes, .. } = self.state;
        episodes.progress(*clock, values, self.plan, action)
    }

    /// An action's open episode, or its last one.
    pub fn episode(&self, action: ActionId) -> Episode {
        let state = &self.state.episodes.actions[action];
        Episode {
            level: state.level,
            awake: state.awake,
            live: self.state.episodes.is_live(self.plan, action),
            woke_at: state.woke_at,
            down_at: state.down_at,
            first_fire: state.first_fire,
            live_at: state.live_at,
            forced_at: state.forced_at,
        }
    }

    /// An alternative in that episode.
    pub fn alternative(&self, id: AlternativeId) -> Alternative {
        let state = &self.state.episodes.alternatives[id];
        let gap = self.plan.alternatives[id].cue.gap();
        let time = gap.map_or(state.time, |gap| self.state.values.time(gap));
        Alternative {
            stage: state.stage,
            fired: state.fired,
            time,
            due: self.state.episodes.timers.due(id),
            count: state.count,
            kept: state.kept,
        }
    }

    /// Whether a guard holds.
    pub fn holds(&self, guard: Guard) -> bool {
        match guard {
            Guard::Live(action, wanted) => self.state.episodes.is_live(self.plan, action) == wanted,
            Guard::Holds(named, wanted) => self.state.values.is_set(named) == wanted,
        }
    }

    /// The devices that an input listens to.
    pub fn devices(&self, input: PhysicalInputId) -> std::ops::Range<usize> {
        self.state.inputs.controls.devices_of(self.plan, &self.plan.inputs[input])
    }

    /// What a control reports on a device.
    pub fn raw(&self, control: ControlId, device: usize) -> Vector {
        self.state.inputs.controls.raw(control, device)
    }

    /// What stands between a control and its action on a device.
    pub fn touch(&self, id: PhysicalInputId, device: usize) -> Touch {
        let (input, state) = (&self.plan.inputs[id], &self.state.inputs.controls.inputs[id]);
        let is_relative = self.plan.uses[input.of].gather == crate::plan::Gather::Sum;
        let raw = if is_relative { state.held } else { self.raw(input.control, device) };
        let of = |halves: &[u8]| halves.get(device).copied().unwrap_or_default() & input.halves;
        Touch {
            raw,
            bound: only(raw, input),
            muted: state.muted & (1 << device) != 0,
            claimed: of(&state.claimed),
            hidden: of(&state.hidden),
        }
    }

    /// Whether the last part of a `+` counts, or did since its control was let go: so long it hides
    /// other uses.
    pub fn hides(&self, plus: PlusId) -> bool {
        self.state.inputs.pluses[plus].is_latched()
    }

    /// Whether an operation's value is that of something held.
    pub fn is_held(&self, op: OpId) -> bool {
        self.value(op).magnitude() >= PRESSED
    }

    /// Whether `a` lives in a map that comes before that of `b`.
    pub fn is_before(&self, a: ActionId, b: ActionId) -> bool {
        self.state.inputs.place(a) < self.state.inputs.place(b)
    }

    /// Whether two actions live in the same map.
    pub fn shares_place(&self, a: ActionId, b: ActionId) -> bool {
        self.state.inputs.place(a) == self.state.inputs.place(b)
    }

    /// The open maps, the first in order first.
    pub fn open_maps(&self) -> &'e [MapId] {
        self.state.inputs.maps.order.as_slice()
    }
}
