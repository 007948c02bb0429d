//! What a report can do, found once for each control and kept until something stirs.
//!
//! Nearly every report takes a short way. Which one follows from the plan and from what is
//! open, claimed, hidden, muted and plugged in, and not from the report itself; so it is found at the
//! first report, and found anew only after one of these changed ([`Routes::stir`]). Each short way
//! leaves everything as the general way would; what it asks for says why that is so.

use super::Tell;
use super::alone::Lone;
use super::controls::held_to_range;
use super::episodes::Level;
use super::inputs::Inputs;
use super::plain::Switch;
use super::state::State;
use crate::base::limits::PRESSED;
use crate::base::{
    ActionId, Class, Contact, ControlId, ControlKind, Id, PhysicalInputId, Table, Vector,
};
use crate::plan::{Control, Tables};

/// What a report of a control can do.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Route {
    /// Nothing listens: it is only put down.
    Unheard,
    /// The one use that listens is quiet, and nothing is between it and the control: while its action
    /// stays where it is between its levels, the report waits.
    Waits(Lone),
    /// The same for several uses.
    AllWait,
    /// It switches one plain action on and off.
    Switches(Switch),
    /// The one use that listens belongs to an action that nobody else sees, and that stays where it is
    /// between reports.
    Alone(Lone),
    /// All that listen belong to one action that nobody else sees.
    ToOne(ActionId),
    /// Anything else: the general way.
    General,
}

/// What reports of a control wait, in numbers, while its action is where it is between its levels: another
/// control may take it elsewhere, and leave it there to this one.
#[derive(Clone, Copy, Debug)]
pub(super) struct Lane {
    /// How often lanes had been closed when it was found; 0 is never.
    found: u64,
    pub action: ActionId,
    /// Whether its value is read beyond whether it is down.
    pub is_read: bool,
    /// Where its action was when it was found.
    pub level: Level,
    /// The least x and the most |y| that the control gives.
    least_x: f64,
    most_y: f64,
    /// The least and the most square of a magnitude that waits.
    from: f64,
    to: f64,
}

/// From here on the root of a square is the number that was squared.
const ROOTED: f64 = 1e-100;

impl Lane {
    /// No lane.
    fn none() -> Self {
        Self {
            found: 0,
            action: ActionId::new(0),
            is_read: false,
            level: Level::Up,
            least_x: 0.0,
            most_y: 0.0,
            from: 0.0,
            to: 0.0,
        }
    }

    /// The lane of a stick or lever.
    pub fn new(kind: ControlKind, of: Lone, level: Level, (from, to): (f64, f64)) -> Self {
        let (least_x, most_y) = match kind {
            ControlKind::Stick => (-1.0, 1.0),
            _ => (0.0, 0.0),
        };
        // Roots never fall as squares rise: what lies between these lies between their roots.
        let (from, to) = (from * from, if to < ROOTED { -1.0 } else { to * to });
        let Lone { action, is_read, .. } = of;
        Self { found: 0, action, is_read, level, least_x, most_y, from, to }
    }

    /// Whether a report waits. Then it is as the control can give it: nothing has to be held to the
    /// control's range, and nothing is no number.
    #[inline(always)]
    pub fn takes(&self, Vector { x, y, z, w }: Vector) -> bool {
        let square = x * x + y * y;
        // All at once: each by itself nearly always holds.
        (x >= self.least_x)
            & (x <= 1.0)
            & (y.abs() <= self.most_y)
            & (z == 0.0)
            & (w == 0.0)
            & (self.from <= square)
            & (square <= self.to)
    }
}

/// The routes that were found.
#[derive(Clone, Debug)]
pub(super) struct Routes {
    /// How often something stirred.
    stirred: u64,
    /// How often lanes were closed.
    closed: u64,
    /// By control: the route, and when it was found.
    found: Table<ControlId, (u64, Route)>,
    lanes: Table<ControlId, Lane>,
}

impl Routes {
    pub fn new(plan: &Tables) -> Self {
        let controls = plan.controls.len();
        Self {
            stirred: 1,
            closed: 1,
            found: Table::filled((0, Route::General), controls),
            lanes: Table::filled(Lane::none(), controls),
        }
    }

    /// Something changed that routes follow from: what lives, what is claimed, hidden or muted, which
    /// devices there are, or to which scheme bindings are narrowed.
    pub fn stir(&mut self) {
        self.stirred += 1;
        self.close_lanes();
    }

    /// Something changed that lanes follow from, and routes don't: the scheme in use, or the numbers of
    /// steps.
    pub fn close_lanes(&mut self) {
        self.closed += 1;
    }

    /// The route of a control, if it was found and nothing stirred since.
    #[inline]
    pub fn known(&self, control: ControlId) -> Option<&Route> {
        let (found, route) = &self.found[control];
        (*found == self.stirred).then_some(route)
    }

    /// Whether what a control reports is what the one use of it sees, all of it.
    #[inline]
    pub fn lets_see(&self, control: ControlId) -> bool {
        matches!(self.known(control), Some(Route::Waits(lone)) if lone.is_direct)
    }

    /// The lane of a control, if one is open.
    #[inline(always)]
    pub fn lane(&self, control: ControlId) -> Option<&Lane> {
        self.lanes.get(control).filter(|lane| lane.found == self.closed)
    }

    /// The control reported what its lane does not take.
    pub fn close_lane(&mut self, control: ControlId) {
        self.lanes[control].found = 0;
    }

    pub fn open_lane(&mut self, control: ControlId, lane: Lane) {
        self.lanes[control] = Lane { found: self.closed, ..lane };
    }
}

impl State {
    /// Takes a report, if it can go a short way; tells whether it did. It is finite.
    #[inline]
    pub fn report_shortly(
        &mut self,
        plan: &Tables,
        (contact, Control { kind, class }): (Contact, Control),
        value: Vector,
        tell: &mut (impl Tell + ?Sized),
    ) -> bool {
        // That there is another device is news to all that follows; a first one there always is.
        if contact.device > 0 && !self.inputs.controls.knows(class, contact.device) {
            return false;
        }
        let control = contact.control;
        let route = match *self.inputs.route(plan, control) {
            Route::General => return false,
            Route::ToOne(action) => {
                let value = held_to_range(value, kind);
                self.report_to_one(plan, (contact, class), action, value, tell);
                return true;
            }
            Route::Switches(ref switch) => {
                let switch = *switch;
                self.report_switch(plan, (control, class), switch, value.x >= PRESSED, tell);
                return true;
            }
            ref other => *other,
        };
        // It is held: only the first two components are anything but 0.
        let value = held_to_range(value, kind);
        let before = self.inputs.controls.raw(control, 0);
        if value.x == before.x && value.y == before.y {
            return true;
        }
        let magnitude = value.magnitude();
        let is_news = self.inputs.tells_scheme(class, before, magnitude);
        match route {
            Route::Unheard => {}
            Route::Waits(lone)
                if self.inputs.stays(&self.episodes, lone.used, lone.action, magnitude) =>
            {
                self.agenda.let_wait(lone.action, lone.is_read);
            }
            Route::AllWait if self.inputs.all_stay(&self.episodes, plan, control, magnitude) => {
                self.inputs.let_all_wait(&mut self.agenda, plan, control);
            }
            Route::Waits(Lone { is_still: true, action, .. })
            | Route::Alone(Lone { action, .. }) => {
                // What waits was reported before this.
                self.catch_up_before(plan, action);
                self.inputs.routes.close_lane(control);
            }
            _ => return false,
        }
        self.inputs.controls.put_first(control, value.x, value.y);
        if is_news {
            self.inputs.use_class(self.clock, plan, class, tell);
        }
        match route {
            Route::Waits(lone) if self.agenda.lets_wait(lone.action) => {
                self.inputs.find_lane(plan, &self.episodes, control, lone);
            }
            Route::Waits(lone) | Route::Alone(lone) => self.work_alone(plan, lone, value, tell),
            _ => {}
        }
        true
    }

    /// Takes a report of a button that switches one plain action.
    #[inline]
    fn report_switch(
        &mut self,
        plan: &Tables,
        (control, class): (ControlId, Class),
        switch: Switch,
        is_on: bool,
        tell: &mut (impl Tell + ?Sized),
    ) {
        if !self.inputs.controls.press(control, is_on) {
            return;
        }
        if is_on {
            self.inputs.use_class(self.clock, plan, class, tell);
        }
        self.switch_plainly(plan, switch, is_on, tell);
    }
}

impl Inputs {
    /// What a report of the first device's `control` can do.
    #[inline]
    pub fn route(&mut self, plan: &Tables, control: ControlId) -> &Route {
        if self.routes.known(control).is_none() {
            self.routes.found[control] = (self.routes.stirred, self.find_route(plan, control));
        }
        &self.routes.found[control].1
    }

    #[inline(never)]
    fn find_route(&self, plan: &Tables, control: ControlId) -> Route {
        let controls = &self.controls;
        // What is not held tells something by every report.
        if self.maps.narrowed.is_some() || !plan.controls[control].kind.is_held() {
            return Route::General;
        }
        let general = || self.sole_unseen(plan, control).map_or(Route::General, Route::ToOne);
        // A second device of the class may be the one that counts.
        if !controls.is_only_device(plan, control) {
            return general();
        }
        let Some(first) = controls.listener(control, 0) else { return Route::Unheard };
        let is_alone = controls.listener(control, 1).is_none();
        let mut listeners = (0..).map_while(|nth| controls.listener(control, nth));
        let is_quiet = |id: PhysicalInputId| {
            self.bands[plan.inputs[id].of].may_wait() && controls.inputs[id].is_clear()
        };
        if listeners.all(is_quiet) {
            return match is_alone {
                true => Route::Waits(Lone::of(plan, first)),
                false => Route::AllWait,
            };
        }
        if !is_alone || !controls.inputs[first].is_clear() {
            return general();
        }
        match (Switch::found(plan, first), Lone::of(plan, first)) {
            (Some(switch), _) => Route::Switches(switch),
            (None, lone) if lone.is_still => Route::Alone(lone),
            (None, _) => general(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_lane_takes_nothing_that_is_a_hair_beside_it() {
        let of = Lone {
            action: ActionId::new(0),
            used: crate::base::ControlUseId::new(0),
            is_direct: true,
            is_read: true,
            is_still: true,
        };
        let lane = |from, to| Lane::new(ControlKind::Stick, of, Level::Up, (from, to));
        let mut seed = 11_u64;
        let mut share = || {
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1);
            (seed >> 11) as f64 / (1_u64 << 53) as f64
        };
        for _ in 0..10_000 {
            let value = Vector::new(share() * 0.7, share() * 0.7);
            let magnitude = value.magnitude();
            assert!(!lane(0.0, magnitude.next_down()).takes(value), "{value:?}");
            assert!(!lane(magnitude.next_up(), 1.0).takes(value), "{value:?}");
            assert!(lane(magnitude * 0.999, magnitude * 1.001).takes(value), "{value:?}");
        }
    }
}
