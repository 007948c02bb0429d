//! What settings and facts can be worth together: the corners of their ranges.

use super::context::all_steps;
use harmonym_lang::model::{ActionId, Head, Number, Profile, Step};
use harmonym_runtime::base::{Id, VariableId, shortest};

/// More values together than this are looked at one setting after the other.
const MOST: usize = 81;

/// One choice of values, in base units.
#[derive(Clone, Debug, PartialEq)]
pub struct Worth {
    /// What each setting and fact is worth.
    pub all: Vec<f64>,
    /// Those that are not what they are at first, for people: `gaze-speed = 4`.
    pub other: Vec<String>,
}

impl Worth {
    /// ` with gaze-speed at 4`, or nothing where all is as at first.
    pub fn words(&self) -> String {
        match self.other.is_empty() {
            true => String::new(),
            false => format!(" with {}", self.other.join(" and ")),
        }
    }
}

/// The settings and facts that an action's value follows, also by way of other actions.
pub fn followed(profile: &Profile, id: ActionId) -> Vec<VariableId> {
    let mut seen = vec![id];
    let mut next = 0;
    let mut found: Vec<VariableId> = Vec::new();
    let mut of_steps = |steps: &mut dyn Iterator<Item = &Step>| {
        for step in steps {
            let numbers = step.kind.numbers().into_iter().filter_map(|number| match number {
                Number::Variable { named, .. } => Some(*named),
                Number::Fixed(_) => None,
            });
            found.extend(numbers.chain(step.conditions.iter().map(|one| one.named)));
        }
    };
    while let Some(&action) = seen.get(next) {
        next += 1;
        let action = &profile.actions[action];
        of_steps(&mut action.shape.iter());
        for binding in &action.bindings {
            of_steps(&mut all_steps(&binding.chain).into_iter());
            binding.chain.for_each_head(&mut |head| {
                if let Head::Action { action, .. } = head
                    && !seen.contains(action)
                {
                    seen.push(*action);
                }
            });
        }
    }
    found.sort();
    found.dedup();
    found
}

/// What those can be worth together: as at first, then at the ends of their ranges.
pub fn corners(profile: &Profile, id: ActionId) -> Vec<Worth> {
    let first: Vec<f64> = profile.variables.iter().map(|one| one.default * one.factor).collect();
    let followed = followed(profile, id);
    let ends = |id: VariableId| -> Vec<f64> {
        let one = &profile.variables[id];
        let mut ends = match (one.is_switch, one.range) {
            (true, _) => vec![0.0, 1.0],
            (false, Some((least, most))) => vec![least, most],
            // Any number is all that is known; off and on are what conditions ask for.
            (false, None) => vec![0.0, 1.0],
        };
        ends.retain(|end| *end != one.default);
        ends
    };
    let mut all = vec![first.clone()];
    let many = followed.iter().map(|id| ends(*id).len() + 1).product::<usize>() > MOST;
    for &named in &followed {
        let factor = profile.variables[named].factor;
        let from = if many { vec![first.clone()] } else { all.clone() };
        for end in ends(named) {
            for one in &from {
                let mut other = one.clone();
                other[named.index()] = end * factor;
                all.push(other);
            }
        }
    }
    let worth = |all: Vec<f64>| {
        let apart = profile.variables.entries().zip(all.iter().zip(&first));
        let apart = apart.filter(|(_, (now, first))| now != first);
        let other = apart.map(|((_, one), (now, _))| match (one.is_switch, *now == 0.0) {
            (true, true) => format!("{} off", one.name),
            (true, false) => format!("{} on", one.name),
            _ => format!("{} at {}", one.name, shortest(now / one.factor)),
        });
        Worth { other: other.collect(), all }
    };
    all.into_iter().map(worth).collect()
}
