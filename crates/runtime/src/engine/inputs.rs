//! Inputs: what devices report, which maps are open and what they claim, and which scheme is in use.

use super::controls::Controls;
use super::maps::Maps;
use super::plus::PlusState;
use super::route::Routes;
use super::usage::Usage;
use super::wait::{Band, Quiet, bands, quiet};
use crate::base::{ActionId, ControlUseId, PlusId, Table};
use crate::plan::{Kin, Tables};

/// All that stands between hands and values.
#[derive(Clone, Debug)]
pub(super) struct Inputs {
    pub controls: Controls,
    pub maps: Maps,
    pub usage: Usage,
    pub pluses: Table<PlusId, PlusState>,
    /// What is known of each use of a control: how far it may move before anything comes of it.
    pub bands: Table<ControlUseId, Band>,
    /// Which of the uses of each action are quiet.
    pub quiet: Table<ActionId, Quiet>,
    /// What a report of each control can do.
    pub routes: Routes,
}

impl Inputs {
    pub fn new(plan: &Tables) -> Self {
        let bands = bands(plan);
        Self {
            controls: Controls::new(plan),
            maps: Maps::new(plan),
            usage: Usage::new(plan),
            pluses: Table::filled(PlusState::default(), plan.pluses.len()),
            quiet: quiet(plan, &bands),
            bands,
            routes: Routes::new(plan),
        }
    }

    pub fn reset(&mut self) {
        let Self { controls, maps, usage, pluses, bands: _, quiet: _, routes } = self;
        controls.reset();
        maps.reset();
        usage.reset();
        pluses.fill(PlusState::default());
        routes.stir();
        self.forget_bands();
    }

    /// What devices report, what is open, and what stands between them and the actions that are kept.
    pub fn take_over(&mut self, plan: &Tables, before: &Self, old_plan: &Tables, kin: &Kin) {
        self.controls.take_reports_over(&before.controls);
        self.maps.take_over(plan, &before.maps, kin);
        self.usage.take_over(plan, &before.usage, kin);
        for (old, own) in kin.kept() {
            self.controls.take_action_over((plan, own), &before.controls, (old_plan, old));
            let pluses = old_plan.actions[old].pluses.of(&old_plan.listed_pluses).iter();
            for (from, &to) in pluses.zip(plan.actions[own].pluses.of(&plan.listed_pluses)) {
                self.pluses[to] = before.pluses[*from];
            }
        }
    }

    /// What is known of uses holds no longer.
    pub fn forget_bands(&mut self) {
        for id in self.bands.ids() {
            self.bands[id].forget();
        }
        self.routes.close_lanes();
    }
}
