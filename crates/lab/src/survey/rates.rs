//! The same hands at several frame rates: what depends on the rate, and why.

use super::{FollowsRate, Outcome, bends_sum, follows_rate};
use harmonym_runtime::base::{ActionId, Time, Vector};
use harmonym_runtime::engine::Cause;
use harmonym_runtime::plan::Plan;

/// What differs between runs at several rates.
#[derive(Clone, Debug, Default)]
pub struct AcrossRates {
    /// What depends on the rate, by action in file order.
    pub rows: Vec<RateRow>,
    /// How many events come at the same moments for the same causes, of how many actions.
    pub same: (usize, usize),
    /// How many events came after the last input, at each rate, where that differs.
    pub later: Option<Vec<usize>>,
    /// Actions that follow the rate though nothing in them should.
    pub unexplained: Vec<ActionId>,
}

/// One thing that depends on the rate.
#[derive(Clone, Debug)]
pub struct RateRow {
    /// Whose.
    pub action: ActionId,
    /// What, at each rate.
    pub what: ByRate,
    /// Why it may.
    pub reasons: Vec<FollowsRate>,
}

/// Numbers, one for each rate.
#[derive(Clone, Debug, PartialEq)]
pub enum ByRate {
    /// How often an event came, by its word, and whether only its moments differ.
    Events(&'static str, Vec<usize>, bool),
    /// What the values at ticks add up to, and whether that is the same to a thousandth.
    Sums(Vec<Vector>, bool),
}

/// One event, as it must be at every rate: when, what, and why if it is an end.
type Moment = (Time, &'static str, Option<Cause>);

impl AcrossRates {
    /// Compares runs of one plan, of those actions that are `asked` for.
    pub fn new(plan: &Plan, runs: &[Outcome], asked: impl Fn(ActionId) -> bool) -> Self {
        let mut all = Self::default();
        for &action in plan.by_file().iter().filter(|id| asked(**id)) {
            let of = |run: &Outcome| -> Vec<Moment> {
                let own = run.events.iter().filter(|(_, of, ..)| *of == action);
                own.map(|&(t, _, what, cause)| (t, what, cause)).collect()
            };
            let moments: Vec<Vec<Moment>> = runs.iter().map(of).collect();
            let Some(first) = moments.first() else { continue };
            let reasons = follows_rate(plan, action);
            if moments.iter().any(|one| one != first) {
                if reasons.is_empty() {
                    all.unexplained.push(action);
                }
                let rows = differing(&moments).into_iter();
                let row = |what| RateRow { action, what, reasons: reasons.clone() };
                all.rows.extend(rows.map(row));
            } else if !first.is_empty() {
                all.same.0 += first.len();
                all.same.1 += 1;
            }
            let sums: Vec<Vector> = runs.iter().map(|run| run.tallies[action].sum).collect();
            if sums.iter().any(|sum| sum.magnitude() != 0.0) {
                let rounded = |sum: Vector| sum.map(|v| (v * 1e3).round());
                let same = sums.iter().all(|sum| rounded(*sum) == rounded(sums[0]));
                let reasons = bends_sum(plan, action);
                all.rows.push(RateRow { action, what: ByRate::Sums(sums, same), reasons });
            }
        }
        let later: Vec<usize> = runs.iter().map(|run| run.later).collect();
        all.later = later.iter().any(|count| *count != later[0]).then_some(later);
        all
    }
}

/// How often each event came that did not come equally often, or not at the same moments.
fn differing(moments: &[Vec<Moment>]) -> Vec<ByRate> {
    let row = |what: &'static str| {
        let of = |one: &Vec<Moment>| -> Vec<Moment> {
            one.iter().copied().filter(|(_, kind, _)| *kind == what).collect()
        };
        let first = of(&moments[0]);
        let counts: Vec<usize> = moments.iter().map(|one| of(one).len()).collect();
        let moved = counts.iter().all(|count| *count == counts[0]);
        let differs = moments.iter().any(|one| of(one) != first);
        differs.then_some(ByRate::Events(what, counts, moved))
    };
    ["wake", "fire", "lapse", "rest"].into_iter().filter_map(row).collect()
}
