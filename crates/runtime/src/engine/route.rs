//! What a report can do, found once for each control and kept until something stirs.
//!
//! Nearly every report takes one of three short ways. Which one follows from the plan and from what is
//! open, claimed, hidden, muted and plugged in, and not from the report itself; so it is found at the
//! first report, and found anew only after one of these changed ([`Routes::stir`]). Each short way
//! leaves everything as the general way would; what it asks for says why that is so.

use super::inputs::Inputs;
use super::state::State;
use super::{Tell, wait};
use crate::base::limits::PRESSED;
use crate::base::{
    ActionId, BindingId, Class, ControlId, ControlKind, ControlUseId, Kind, OpId, PhysicalInputId,
    Table, Vector,
};
use crate::plan::{OpKind, Tables};

/// What a report of a control can do.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Route {
    /// Nothing listens: it is only put down.
    Unheard,
    /// The one use that listens is quiet, and nothing is between it and the control: while its action
    /// stays where it is between its levels, the report waits.
    Waits(ControlUseId, ActionId),
    /// The same for several uses.
    AllWait,
    /// It switches one plain action on and off.
    Switches(Switch),
    /// Anything else: the general way.
    General,
}

/// The one use of a button, and its action.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Switch {
    action: ActionId,
    kind: Kind,
    binding: BindingId,
    used: ControlUseId,
    /// The operation that is the binding.
    op: OpId,
}

/// The routes that were found.
#[derive(Clone, Debug)]
pub(super) struct Routes {
    /// How often something stirred.
    stirred: u64,
    /// By control: the route, and when it was found.
    found: Table<ControlId, (u64, Route)>,
}

impl Routes {
    pub fn new(plan: &Tables) -> Self {
        Self { stirred: 1, found: Table::filled((0, Route::General), plan.controls.len()) }
    }

    /// Something changed that routes follow from: what lives, what is claimed, hidden or muted, which
    /// devices there are, or to which scheme bindings are narrowed.
    pub fn stir(&mut self) {
        self.stirred += 1;
    }
}

impl State {
    /// Takes a report of a first device, if it can go a short way; tells whether it did.
    #[inline(always)]
    pub fn report_shortly(
        &mut self,
        plan: &Tables,
        control: ControlId,
        class: Class,
        value: Vector,
        tell: Tell<'_>,
    ) -> bool {
        let route = self.inputs.route(plan, control);
        if matches!(route, Route::General) {
            return false;
        }
        // It is held: only the first two components are anything but 0.
        let before = self.inputs.controls.raw(control, 0);
        if value.x == before.x && value.y == before.y {
            return true;
        }
        let magnitude = value.magnitude();
        let is_news = !self.inputs.usage.covers(class)
            && magnitude >= PRESSED
            && before.magnitude() < PRESSED;
        match route {
            Route::Waits(used, action)
                if !is_news && self.inputs.stays(&self.episodes, used, action, magnitude) =>
            {
                self.inputs.controls.put_first(control, value);
                self.agenda.waiting.insert(action);
                return true;
            }
            Route::AllWait
                if !is_news && self.inputs.all_stay(&self.episodes, plan, control, magnitude) =>
            {
                self.inputs.controls.put_first(control, value);
                self.inputs.let_all_wait(&mut self.agenda, plan, control);
                return true;
            }
            Route::Waits(..) | Route::AllWait | Route::General => return false,
            Route::Switches(_) | Route::Unheard => {}
        }
        self.inputs.controls.put_first(control, value);
        if is_news {
            self.inputs.use_class(self.clock, plan, class, tell);
        }
        if let Route::Switches(switch) = route {
            self.switch_plainly(plan, switch, value, tell);
        }
        true
    }

    /// Switches a plain action, as working it out would.
    #[inline(never)]
    pub fn switch_plainly(&mut self, plan: &Tables, switch: Switch, value: Vector, tell: Tell<'_>) {
        let Switch { action, kind, binding, used, op } = switch;
        self.inputs.controls.visible[used] = value;
        self.values.ops[op] = value;
        self.values.note(binding, value, kind);
        if value != Vector::ZERO {
            self.episodes.actions[action].from = Some(binding);
        }
        self.cues(plan, tell).settle(action, value);
    }
}

/// The action that a button switches by itself, if it is plain:
///
/// - The button is all that the use listens to, on whichever device of its class, and the use is all
///   of the one binding, which is the button as it is; there is no shape. So the value is what is
///   reported.
/// - Nothing but that value decides what comes of it ([`wait::is_alone`]), and nobody names the action:
///   nobody else has to be looked at.
///
/// What its levels and cues make of the value is the business of the same code as ever.
fn switch(plan: &Tables, id: PhysicalInputId) -> Option<Switch> {
    let input = &plan.inputs[id];
    let used = &plan.uses[input.of];
    let spec = &plan.actions[used.action];
    let is_all = plan.controls[input.control].kind == ControlKind::Button
        && input.device.is_none()
        && used.inputs.len() == 1;
    let is_plain = spec.bindings.len() == 1
        && spec.shape.len() == 1
        && spec.named_by.is_empty()
        && wait::is_alone(spec);
    let binding = spec.bindings.first()?;
    let ops = plan.bindings[binding].ops;
    let op = ops.first()?;
    let is_bare = ops.len() == 1
        && plan.ops[op].kind == OpKind::Whole(input.of)
        && plan.ops[op].conditions.is_empty();
    let kind = spec.kind;
    let switch = Switch { action: used.action, kind, binding, used: input.of, op };
    (is_all && is_plain && is_bare).then_some(switch)
}

impl Inputs {
    /// What a report of the first device's `control` can do.
    #[inline]
    pub fn route(&mut self, plan: &Tables, control: ControlId) -> Route {
        let (found, route) = self.routes.found[control];
        if found == self.routes.stirred {
            return route;
        }
        let route = self.find_route(plan, control);
        self.routes.found[control] = (self.routes.stirred, route);
        route
    }

    #[inline(never)]
    fn find_route(&self, plan: &Tables, control: ControlId) -> Route {
        let controls = &self.controls;
        // A second device of the class may be the one that counts.
        let is_only = self.maps.narrowed.is_none() && controls.is_only_device(plan, control);
        // What is not held tells something by every report.
        if !is_only || !plan.controls[control].kind.is_held() {
            return Route::General;
        }
        let Some(first) = controls.listener(control, 0) else { return Route::Unheard };
        let is_alone = controls.listener(control, 1).is_none();
        let mut listeners = (0..).map_while(|nth| controls.listener(control, nth));
        let is_quiet = |id: PhysicalInputId| {
            self.bands[plan.inputs[id].of].may_wait() && controls.inputs[id].is_clear()
        };
        if listeners.all(is_quiet) {
            let used = plan.inputs[first].of;
            return match is_alone {
                true => Route::Waits(used, plan.uses[used].action),
                false => Route::AllWait,
            };
        }
        match switch(plan, first) {
            Some(switch) if is_alone && controls.inputs[first].is_clear() => {
                Route::Switches(switch)
            }
            _ => Route::General,
        }
    }
}
