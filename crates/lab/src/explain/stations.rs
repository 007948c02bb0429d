//! Every station of an action at one moment.

use super::blocked::{Blocked, blocked};
use super::record::Record;
use harmonym_runtime::base::{
    ActionId, BindingId, ControlId, Id, IdRange, Kind, OpId, Time, VariableId, Vector,
};
use harmonym_runtime::engine::{Alternative, Episode, Inside, Stage};
use harmonym_runtime::plan::{Guard, OpKind, Plan};

/// A control of an action on one device.
#[derive(Clone, Debug, PartialEq)]
pub struct ControlAt {
    /// The control.
    pub control: ControlId,
    /// The device, from 0.
    pub device: usize,
    /// What it reports, of the half-axes that are bound.
    pub raw: Vector,
    /// The kind of that.
    pub kind: Kind,
    /// What keeps it from the action.
    pub blocked: Option<Blocked>,
}

/// What an operation gave.
#[derive(Clone, Debug, PartialEq)]
pub struct OpTrace {
    /// The operation.
    pub op: OpId,
    /// The settings and facts that its numbers follow, and what each was worth, in its own unit.
    pub named: Vec<(VariableId, f64)>,
    /// Whether its conditions hold; if not, it passed its input on.
    pub applies: bool,
    /// The value.
    pub value: Vector,
    /// The kind of the value.
    pub kind: Kind,
}

/// Every station of an action.
#[derive(Clone, Debug)]
pub struct StationsAt {
    /// Whether its map is open and not paused; if not, there are only controls.
    pub lives: bool,
    /// Its controls that are not at 0, or that something keeps from it.
    pub controls: Vec<ControlAt>,
    /// Its bindings, whether each counts, and what its operations gave.
    pub bindings: Vec<(BindingId, bool, Vec<OpTrace>)>,
    /// What the blend gave, and which binding won while away from 0.
    pub blended: (Vector, Option<BindingId>),
    /// What the shape's operations gave.
    pub shape: Vec<OpTrace>,
    /// The value after all of that, and its magnitude.
    pub value: (Vector, f64),
    /// The open episode, or the last one.
    pub episode: Episode,
    /// The alternatives in it, and whether their guards hold.
    pub alternatives: Vec<(Alternative, Vec<(Guard, bool)>)>,
    /// The share of the way to firing.
    pub progress: f64,
    /// The actions that it yields to: whether each is pending, and when it was live last.
    pub yields_to: Vec<(ActionId, bool, Option<Time>)>,
}

impl StationsAt {
    pub(super) fn of(inside: &Inside<'_>, action: ActionId, record: &Record) -> Self {
        let plan = inside.plan();
        let spec = &plan.actions()[action];
        let bindings = spec.bindings.iter().map(|id| {
            let ops = plan.bindings()[id].ops;
            (id, inside.is_enabled(id), gave(inside, ops, spec.kind, spec.kind))
        });
        // The first operation of a shape is what the blend gave.
        let shape = gave(inside, spec.shape, spec.kind, spec.kind).split_off(1);
        let alternatives = spec.alternatives.iter().map(|id| {
            let guards = plan.alternatives()[id].guards.of(plan.guards());
            let mut state = inside.alternative(id);
            if !inside.episode(action).awake {
                state.stage = Stage::Idle;
            }
            (state, guards.iter().map(|&guard| (guard, inside.holds(guard))).collect())
        });
        let yields_to = spec.yields_to.of(plan.listed()).iter().map(|&other| {
            let episode = inside.episode(other);
            (other, episode.awake && !episode.live, episode.live_at)
        });
        let value = inside.shaped(action);
        Self {
            lives: inside.is_active(action),
            controls: controls(inside, action, record),
            bindings: bindings.collect(),
            blended: inside.blended(action),
            shape,
            value: (value, value.magnitude_of(spec.kind)),
            episode: inside.episode(action),
            alternatives: alternatives.collect(),
            progress: inside.progress(action),
            yields_to: yields_to.collect(),
        }
    }
}

/// The controls of an action that are away from 0, or that something keeps from it.
fn controls(inside: &Inside<'_>, action: ActionId, record: &Record) -> Vec<ControlAt> {
    let plan = inside.plan();
    let mut all: Vec<ControlAt> = Vec::new();
    for id in plan.actions()[action].uses.iter().flat_map(|read| plan.uses()[read].inputs.iter()) {
        for device in inside.devices(id) {
            let touch = inside.touch(id, device);
            let blocked = blocked(inside, id, device, record);
            if touch.bound == Vector::ZERO && blocked.is_none() {
                continue;
            }
            let control = plan.inputs()[id].control;
            let kind = plan.controls()[control].kind.yields();
            let one = ControlAt { control, device, raw: touch.bound, kind, blocked };
            let same = |other: &&mut ControlAt| other.control == control && other.device == device;
            match all.iter_mut().find(same) {
                Some(other) => {
                    // One control in two halves is one control.
                    other.raw = Vector::space(
                        whole(other.raw.x, one.raw.x),
                        whole(other.raw.y, one.raw.y),
                        whole(other.raw.z, one.raw.z),
                    );
                    other.blocked = other.blocked.or(blocked);
                }
                None => all.push(one),
            }
        }
    }
    all
}

fn whole(a: f64, b: f64) -> f64 {
    if a == 0.0 { b } else { a }
}

/// What a run of operations gave; `last` is the kind of the last one's value, `blended` that of
/// what a shape begins with.
fn gave(inside: &Inside<'_>, ops: IdRange<OpId>, blended: Kind, last: Kind) -> Vec<OpTrace> {
    let plan = inside.plan();
    let mut kinds: Vec<Kind> = Vec::new();
    let first = ops.iter().next().map_or(0, Id::index);
    let mut all = Vec::new();
    for id in ops.iter() {
        let of = |other: OpId| {
            let place = other.index().checked_sub(first);
            place.and_then(|place| kinds.get(place).copied()).unwrap_or(Kind::Axis)
        };
        let code = plan.ops()[id].kind;
        let kind = kind_after(plan, code, kinds.last().copied().unwrap_or(blended), &of, last);
        kinds.push(kind);
        let params = code.params().into_iter().flat_map(IdRange::iter);
        let named = params.filter_map(|param| plan.params()[param].named());
        all.push(OpTrace {
            op: id,
            named: named.map(|named| (named, inside.worth(named))).collect(),
            applies: inside.applies(id),
            value: inside.value(id),
            kind,
        });
    }
    all
}

/// The kind of what an operation gives.
fn kind_after(
    plan: &Plan,
    code: OpKind,
    input: Kind,
    of: &impl Fn(OpId) -> Kind,
    last: Kind,
) -> Kind {
    match code {
        OpKind::Whole(read) => plan.uses()[read].inputs.iter().next().map_or(Kind::Axis, |input| {
            plan.controls()[plan.inputs()[input].control].kind.yields()
        }),
        OpKind::Action(action) => plan.actions()[action].kind,
        OpKind::Part(..)
        | OpKind::Half(..)
        | OpKind::Pair { .. }
        | OpKind::Pick(_)
        | OpKind::Length => Kind::Axis,
        OpKind::Join { z: None, .. } => Kind::Plane,
        OpKind::Join { z: Some(_), .. } => Kind::Space,
        OpKind::Greater(a, _) | OpKind::GreaterTurn(a, _) => of(a),
        OpKind::Plus(plus) => plan.pluses()[plus].kind,
        OpKind::Blended => input,
        OpKind::Not(_) | OpKind::Toggle(_) | OpKind::SwitchAt { .. } => Kind::Switch,
        OpKind::Onto(_) if last.components() > 1 => last,
        OpKind::Onto(_) => Kind::Plane,
        OpKind::Flip(_)
        | OpKind::Scale(_)
        | OpKind::ScaleEach(_)
        | OpKind::Deadzone { .. }
        | OpKind::DeadzoneAxes { .. }
        | OpKind::Curve(_)
        | OpKind::Points(..)
        | OpKind::Cap(_)
        | OpKind::Clamp(..)
        | OpKind::Unit
        | OpKind::Remap(..)
        | OpKind::Order(_)
        | OpKind::Rotate(..)
        | OpKind::Ways { .. }
        | OpKind::Notch(_)
        | OpKind::Ease { .. }
        | OpKind::Smooth(..)
        | OpKind::SmoothTurn(..)
        | OpKind::Travel(_) => input,
    }
}
