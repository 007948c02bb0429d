//! The order in which actions are worked out.

use crate::model::ActionId;
use harmonym_runtime::base::Id;
use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// Again and again the earliest in the file of those whose named actions are done. `named` has the
/// actions that each names; loops were refused before.
pub(super) fn working_order(named: &[Vec<ActionId>]) -> Vec<ActionId> {
    let mut waits_for: Vec<usize> = named.iter().map(Vec::len).collect();
    let mut named_by = vec![Vec::new(); named.len()];
    for (index, others) in named.iter().enumerate() {
        for other in others {
            named_by[other.index()].push(index);
        }
    }
    let ready = waits_for.iter().enumerate().filter(|(_, count)| **count == 0);
    let mut ready: BinaryHeap<Reverse<usize>> = ready.map(|(index, _)| Reverse(index)).collect();
    let mut order = Vec::with_capacity(named.len());
    while let Some(Reverse(index)) = ready.pop() {
        order.push(ActionId::new(index));
        for &by in &named_by[index] {
            waits_for[by] -= 1;
            if waits_for[by] == 0 {
                ready.push(Reverse(by));
            }
        }
    }
    order
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_earliest_that_waits_for_nothing_comes_next() {
        let named = [vec![3], vec![], vec![1], vec![], vec![0]];
        let named: Vec<Vec<ActionId>> =
            named.iter().map(|of| of.iter().map(|&i| ActionId::new(i)).collect()).collect();
        let order: Vec<_> = working_order(&named).iter().map(|id| id.index()).collect();
        assert_eq!(order, [1, 2, 3, 0, 4]);
    }
}
