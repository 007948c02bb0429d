//! Actions as the file counts them.

use harmonym_runtime::base::{self, Id};
use harmonym_runtime::plan::Plan;

/// An action of a [`Profile`](super::Profile), counted through the whole file in its order. A plan has
/// its actions in working order, under ids of a type of their own.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct ActionId(u32);

impl Id for ActionId {
    fn new(index: usize) -> Self {
        Self(u32::try_from(index).unwrap_or(u32::MAX))
    }

    fn index(self) -> usize {
        self.0 as usize
    }
}

impl ActionId {
    /// The same action in the plan that was compiled of the profile.
    ///
    /// # Panics
    /// When the plan is another profile's.
    pub fn in_plan(self, plan: &Plan) -> base::ActionId {
        plan.by_file()[self.index()]
    }

    /// The action of the profile that one of the plan is.
    ///
    /// # Panics
    /// When the plan is another profile's.
    pub fn of_plan(plan: &Plan, action: base::ActionId) -> Self {
        Self::new(plan.place_in_file(action))
    }
}
