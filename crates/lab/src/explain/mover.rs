//! What made an action's value move at an instant.

use super::blocked::{Blocked, blocked};
use super::record::Record;
use crate::take::{Input, What};
use harmonym_runtime::base::limits::{LET_GO, PRESSED};
use harmonym_runtime::base::{
    AT_REST, ActionId, BindingId, Contact, ControlId, ControlKind, ControlUseId, Device, Id, MapId,
    OpId, PhysicalInputId, SchemeId, Seat, Time, VariableId, Vector,
};
use harmonym_runtime::engine::{Alternative, Episode, Inside};
use harmonym_runtime::plan::{Gather, OpKind, Operands, Plan};

/// What made a value move.
#[derive(Clone, Debug, PartialEq)]
pub enum Mover {
    /// That control was pressed.
    Pressed(ControlId),
    /// It was let go.
    LetGo(ControlId),
    /// It moved to there.
    Moved(ControlId, Vector),
    /// The first was pressed, which is opposite to the second.
    Opposite(ControlId, ControlId),
    /// It was pressed, which switched a `toggle` off.
    Toggled(ControlId),
    /// It was pressed, and a `not` gives 0 of that.
    Inverted(ControlId),
    /// It was pressed, and that binding took over.
    TookOver(ControlId, BindingId),
    /// That binding with `+` began to count, and hides the control.
    Hidden(ControlId, BindingId),
    /// A control was let go that has to be held with another.
    HolderLetGo(ControlId),
    /// It moved by something.
    Movement(ControlId),
    /// A notch of a wheel, which is pressed and let go in one.
    Notch(ControlId),
    /// Nothing moved in the tick.
    Still,
    /// A setting or fact became that, in its own unit.
    Number(VariableId, f64),
    /// Another action, whose value it reads.
    Action(ActionId),
    /// A map opened (true) or closed; that control was held.
    Map(MapId, bool, Option<ControlId>),
    /// The game was paused (true), or went on.
    Paused(bool),
    /// A device came (true), or went away.
    Device(Device, bool),
    /// A device was handed to a seat.
    Given(Device, Seat),
    /// The game narrowed the bindings to one scheme, or let all count.
    Narrowed(Option<SchemeId>),
    /// A step that moves on its own came so far; what it follows was moved then by that.
    Step(OpId, Option<(Time, Box<Mover>)>),
}

/// How things stood before an instant.
#[derive(Clone, Debug, Default)]
pub(crate) struct Before {
    /// What the action reads of each of its controls on each device, and whether a `+` hides it.
    touches: Vec<(PhysicalInputId, usize, Vector, bool)>,
    /// What its operations gave.
    gave: Vec<(OpId, Vector)>,
    won: Option<BindingId>,
    /// Its episode, and its alternatives.
    pub episode: Option<Episode>,
    pub alternatives: Vec<Alternative>,
}

/// Every operation of an action.
fn ops(plan: &Plan, action: ActionId) -> impl Iterator<Item = OpId> + '_ {
    let spec = &plan.actions()[action];
    let bound = spec.bindings.iter().flat_map(|id| plan.bindings()[id].ops.iter());
    bound.chain(spec.shape.iter())
}

impl Before {
    /// Takes down how things stand now.
    pub fn take(&mut self, inside: &Inside<'_>, action: ActionId) {
        let plan = inside.plan();
        let spec = &plan.actions()[action];
        self.touches.clear();
        for input in spec.uses.iter().flat_map(|read| plan.uses()[read].inputs.iter()) {
            for device in inside.devices(input) {
                let touch = inside.touch(input, device);
                self.touches.push((input, device, touch.bound, touch.hidden != 0));
            }
        }
        self.gave.clear();
        self.gave.extend(ops(plan, action).map(|op| (op, inside.value(op))));
        self.won = inside.blended(action).1;
        self.episode = Some(inside.episode(action));
        self.alternatives.clear();
        self.alternatives.extend(spec.alternatives.iter().map(|id| inside.alternative(id)));
    }

    fn gave(&self, op: OpId) -> Vector {
        let same = self.gave.iter().find(|(id, _)| *id == op);
        same.map_or(Vector::ZERO, |(_, value)| *value)
    }

    fn touched(&self, input: PhysicalInputId, device: usize) -> (Vector, bool) {
        let same = self.touches.iter().find(|(id, on, ..)| (*id, *on) == (input, device));
        same.map_or((Vector::ZERO, false), |(_, _, value, hidden)| (*value, *hidden))
    }

    /// Whether some operation gives less than before, or something on the other side.
    pub fn has_fallen(&self, inside: &Inside<'_>, action: ActionId) -> bool {
        ops(inside.plan(), action).any(|op| {
            let (was, is) = (self.gave(op), inside.value(op));
            is.magnitude() + AT_REST < was.magnitude() || is.x * was.x < 0.0
        })
    }
}

/// What moved an action's value at this instant: an input if there was one, else time.
pub(super) fn mover(
    inside: &Inside<'_>,
    action: ActionId,
    record: &Record,
    input: Option<&Input>,
    is_tick: bool,
) -> Option<Mover> {
    let look = Look { inside, action, record, before: &record.before };
    let by_input = match input.map(|input| input.what) {
        Some(What::Report(contact, _)) => look.report(contact),
        Some(What::Number(_, named, value)) => Some(Mover::Number(named, value)),
        Some(What::Map(_, map, open)) => Some(Mover::Map(map, open, look.held())),
        Some(What::Pause(paused)) => Some(Mover::Paused(paused)),
        Some(What::Narrow(_, scheme)) => Some(Mover::Narrowed(scheme)),
        Some(What::Plug(device, plugged)) => Some(Mover::Device(device, plugged)),
        Some(What::Give(device, seat)) => Some(Mover::Given(device, seat)),
        None => None,
    };
    by_input.or_else(|| look.step()).or_else(|| look.other()).or_else(|| look.movement(is_tick))
}

struct Look<'a> {
    inside: &'a Inside<'a>,
    action: ActionId,
    record: &'a Record,
    before: &'a Before,
}

impl Look<'_> {
    fn inputs(&self) -> impl Iterator<Item = PhysicalInputId> + '_ {
        let plan = self.inside.plan();
        let uses = plan.actions()[self.action].uses.iter();
        uses.flat_map(|read| plan.uses()[read].inputs.iter())
    }

    fn holds(&self, input: PhysicalInputId) -> bool {
        let plan = self.inside.plan();
        plan.uses()[plan.inputs()[input].of].holds
    }

    /// What the report of a device did.
    fn report(&self, contact: Contact) -> Option<Mover> {
        let plan = self.inside.plan();
        let (control, device) = (contact.control, contact.device as usize);
        let own = |input: &PhysicalInputId| {
            plan.inputs()[*input].control == control
                && self.inside.devices(*input).contains(&device)
        };
        let mut held = None;
        for input in self.inputs().filter(own) {
            let (was, is) =
                (self.before.touched(input, device).0, self.inside.touch(input, device).bound);
            if self.holds(input) {
                match (was.magnitude() >= PRESSED, is.magnitude() >= PRESSED) {
                    (true, false) => held = Some(Mover::HolderLetGo(control)),
                    (false, true) => held = Some(Mover::Pressed(control)),
                    _ => {}
                }
            } else if was != is {
                return Some(self.moved(input, device, was, is));
            }
        }
        held.or_else(|| self.notch(control)).or_else(|| self.hidden())
    }

    /// A notch of a wheel that the action reads.
    fn notch(&self, wheel: ControlId) -> Option<Mover> {
        let inputs = self.inputs().map(|input| &self.inside.plan().inputs()[input]);
        let mut notches = inputs.filter(|input| input.key == wheel && input.control != wheel);
        notches.next().map(|input| Mover::Notch(input.control))
    }

    /// What the move of a control did that the action reads.
    fn moved(&self, input: PhysicalInputId, device: usize, was: Vector, is: Vector) -> Mover {
        let plan = self.inside.plan();
        let (control, of) = (plan.inputs()[input].control, plan.inputs()[input].of);
        let raw = self.inside.touch(input, device).raw;
        // No hand holds what is always somewhere.
        if matches!(
            plan.controls()[control].kind,
            ControlKind::Turn | ControlKind::Place | ControlKind::Spot
        ) {
            return Mover::Moved(control, raw);
        }
        if raw.magnitude() < LET_GO && is.magnitude() < was.magnitude() {
            return Mover::LetGo(control);
        }
        if is.magnitude() < was.magnitude() || was.magnitude() >= LET_GO {
            return Mover::Moved(control, raw);
        }
        let bindings = plan.uses()[of].bindings.of(plan.use_bindings());
        let bound = bindings.iter().flat_map(|&id| plan.bindings()[id].ops.iter());
        let all = bound.chain(plan.actions()[self.action].shape.iter());
        for op in all {
            let fell = self.before.gave(op).magnitude() > AT_REST
                && self.inside.value(op).magnitude() <= AT_REST;
            match plan.ops()[op].kind {
                OpKind::Toggle(_) if fell => return Mover::Toggled(control),
                OpKind::Not(_) if fell => return Mover::Inverted(control),
                OpKind::Pair { neg, pos, .. } => {
                    for (side, other) in [(neg, pos), (pos, neg)] {
                        if reads(plan, side, control)
                            && self.inside.value(other).magnitude() > AT_REST
                            && let Some(other) = control_of(plan, other)
                        {
                            return Mover::Opposite(control, other);
                        }
                    }
                }
                _ => {}
            }
        }
        let won = self.inside.blended(self.action).1;
        match won.filter(|won| self.before.won.is_some_and(|before| before != *won)) {
            Some(won) if bindings.contains(&won) => Mover::TookOver(control, won),
            _ => Mover::Pressed(control),
        }
    }

    /// A `+` that hides a control of the action since this instant.
    fn hidden(&self) -> Option<Mover> {
        let plan = self.inside.plan();
        self.inputs().find_map(|input| {
            self.inside.devices(input).find_map(|device| {
                let is_hidden = self.inside.touch(input, device).hidden != 0;
                if !is_hidden || self.before.touched(input, device).1 {
                    return None;
                }
                match blocked(self.inside, input, device, self.record) {
                    Some(Blocked::Hidden(by, _)) => {
                        Some(Mover::Hidden(plan.inputs()[input].control, by))
                    }
                    _ => None,
                }
            })
        })
    }

    /// The control of the action that is farthest from 0.
    fn held(&self) -> Option<ControlId> {
        let far = |input: &PhysicalInputId| {
            let on = |device| self.inside.touch(*input, device).bound.magnitude();
            self.inside.devices(*input).map(on).fold(0.0, f64::max)
        };
        let all = self.inputs().filter(|&input| !self.holds(input));
        let held = all.map(|input| (far(&input), input)).filter(|(far, _)| *far > AT_REST);
        let held = held.max_by(|(a, _), (b, _)| a.total_cmp(b));
        held.map(|(_, input)| self.inside.plan().inputs()[input].control)
    }

    /// A step that moves on its own.
    fn step(&self) -> Option<Mover> {
        let plan = self.inside.plan();
        let moves = |op: &OpId| {
            let kind = plan.ops()[*op].kind;
            kind.motion().is_some()
                && !matches!(kind, OpKind::Travel(_))
                && self.before.gave(*op).differs(self.inside.value(*op))
        };
        let op = ops(plan, self.action).find(moves)?;
        let since = self.record.fell.as_ref();
        Some(Mover::Step(op, since.map(|(t, by)| (*t, Box::new(by.clone())))))
    }

    /// Another action that it reads and that gives something else.
    fn other(&self) -> Option<Mover> {
        let plan = self.inside.plan();
        ops(plan, self.action).find_map(|op| match plan.ops()[op].kind {
            OpKind::Action(other) if self.before.gave(op).differs(self.inside.value(op)) => {
                Some(Mover::Action(other))
            }
            _ => None,
        })
    }

    /// What moved by something in this tick, or that nothing did.
    fn movement(&self, is_tick: bool) -> Option<Mover> {
        let plan = self.inside.plan();
        if !is_tick || !plan.actions()[self.action].works_at_ticks {
            return None;
        }
        let is_relative = |input: &PhysicalInputId| {
            plan.uses()[plan.inputs()[*input].of].gather == Gather::Sum
                && self.inside.touch(*input, 0).bound.magnitude() > AT_REST
        };
        let moved = self.inputs().find(is_relative);
        Some(moved.map_or(Mover::Still, |input| Mover::Movement(plan.inputs()[input].control)))
    }
}

/// The control that an operation reads, itself or through steps.
pub(super) fn control_of(plan: &Plan, op: OpId) -> Option<ControlId> {
    let mut found = None;
    for_each_use(plan, op, &mut |read| {
        let input = plan.uses()[read].inputs.first();
        found = found.or(input.map(|input| plan.inputs()[input].control));
    });
    found
}

/// Whether an operation reads a control, itself or through steps.
pub(super) fn reads(plan: &Plan, op: OpId, control: ControlId) -> bool {
    let mut does = false;
    for_each_use(plan, op, &mut |read| {
        does |=
            plan.uses()[read].inputs.iter().any(|input| plan.inputs()[input].control == control);
    });
    does
}

/// Calls `found` with every use of a control that an operation reads; the last part of a `+` stands for
/// all of it.
fn for_each_use(plan: &Plan, op: OpId, found: &mut dyn FnMut(ControlUseId)) {
    match plan.ops()[op].kind.operands() {
        Operands::Control(read, _) => found(read),
        Operands::Sides(one, other) | Operands::Either(one, other) => {
            for_each_use(plan, other, found);
            for_each_use(plan, one, found);
        }
        Operands::Components { x, y, z } => {
            for part in [Some(x), Some(y), z].into_iter().flatten() {
                for_each_use(plan, part, found);
            }
        }
        Operands::Plus(plus) => for_each_use(plan, plan.pluses()[plus].last, found),
        Operands::Action(_) | Operands::Blended => {}
        Operands::Before => {
            if let Some(before) = op.index().checked_sub(1) {
                for_each_use(plan, OpId::new(before), found);
            }
        }
    }
}
