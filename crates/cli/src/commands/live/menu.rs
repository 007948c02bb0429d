//! What the person may change: maps, settings and facts.

use crate::view::live::Menu;
use harmonym_lab::live::Live;
use harmonym_lab::take::What;
use harmonym_runtime::base::{MapId, MapKind, Seat, VariableId, shortest};
use harmonym_runtime::plan::Plan;

/// What is chosen from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Of {
    Maps,
    Numbers,
}

/// A menu that is open.
#[derive(Clone, Copy, Debug)]
pub struct Open {
    pub of: Of,
    pub chosen: usize,
}

/// How many steps lie between the ends of a range.
const STEPS: f64 = 20.0;

fn maps(plan: &Plan) -> Vec<MapId> {
    plan.maps().entries().filter(|(_, map)| map.kind != MapKind::Always).map(|(id, _)| id).collect()
}

impl Open {
    pub fn new(of: Of) -> Self {
        Self { of, chosen: 0 }
    }

    fn count(self, plan: &Plan) -> usize {
        match self.of {
            Of::Maps => maps(plan).len(),
            Of::Numbers => plan.variables().len(),
        }
    }

    /// One up or down.
    pub fn step(&mut self, plan: &Plan, down: bool) {
        let last = self.count(plan).saturating_sub(1);
        self.chosen =
            if down { (self.chosen + 1).min(last) } else { self.chosen.saturating_sub(1) };
    }

    /// As it is shown.
    pub fn shown(self, live: &mut Live, seat: Seat) -> Menu {
        let plan = live.plan().clone();
        let frame = live.frame(seat);
        let names = plan.names();
        let (title, entries): (_, Vec<String>) = match self.of {
            Of::Maps => {
                let entry = |id: MapId| {
                    let is = if frame.is_open(id) { "open" } else { "closed" };
                    let kind = plan.maps()[id].kind.word();
                    format!("{:24} {is:8} {kind}", names.maps[id])
                };
                ("Maps: Enter opens or closes", maps(&plan).into_iter().map(entry).collect())
            }
            Of::Numbers => {
                let entry = |id: VariableId| {
                    let spec = &plan.variables()[id];
                    let kind = if spec.is_setting { "setting" } else { "fact" };
                    let value = shortest(frame.number(id).unwrap_or_default());
                    format!("{:24} {value:8} {kind}", names.variables[id])
                };
                let entries = plan.variables().ids().map(entry).collect();
                ("Settings and facts: left and right change them, Enter is on or off", entries)
            }
        };
        let entries = match entries.len() {
            0 => vec!["there are none".to_owned()],
            _ => entries,
        };
        Menu { title: title.to_owned(), entries, chosen: self.chosen }
    }

    /// What Enter does.
    pub fn enter(self, live: &mut Live, seat: Seat) -> Option<What> {
        let plan = live.plan().clone();
        match self.of {
            Of::Maps => {
                let id = *maps(&plan).get(self.chosen)?;
                let is_open = live.frame(seat).is_open(id);
                Some(What::Map(self.whose(live, seat), id, !is_open))
            }
            Of::Numbers => {
                let id = plan.variables().ids().nth(self.chosen)?;
                let now = live.frame(seat).number(id)?;
                let to = if now == 0.0 { 1.0 } else { 0.0 };
                let to = plan.variables()[id].held_to_range(to);
                Some(What::Number(self.whose(live, seat), id, to))
            }
        }
    }

    /// What a step to the left or right does; a far one is ten.
    pub fn change(self, live: &mut Live, seat: Seat, up: bool, far: bool) -> Option<What> {
        let Of::Numbers = self.of else { return None };
        let plan = live.plan().clone();
        let id = plan.variables().ids().nth(self.chosen)?;
        let spec = &plan.variables()[id];
        let step = spec.range.map_or(1.0, |(least, most)| (most - least) / STEPS);
        let step = step * if far { 10.0 } else { 1.0 } * if up { 1.0 } else { -1.0 };
        let now = live.frame(seat).number(id)?;
        // What steps add up to is a number with few digits.
        let to = ((now + step) * 1e6).round() / 1e6;
        Some(What::Number(self.whose(live, seat), id, spec.held_to_range(to)))
    }

    /// Whose it is changed for: of several players the one whose action is chosen.
    fn whose(self, live: &Live, seat: Seat) -> Option<Seat> {
        (live.seats().all().count() > 1).then_some(seat)
    }
}
