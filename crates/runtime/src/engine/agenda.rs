//! The agenda: what is to be looked at, when, and what there is to tell of it at the next tick.
//!
//! Holds of itself: an action that lives no more stands in no list of what is to be done.

use super::looks::NEVER;
use crate::base::{ActionId, BindingId, IdBag, IdSet, PlusId, Table, Time};
use crate::plan::{Kin, Tables};

/// All that waits to be done.
#[derive(Clone, Debug)]
pub(super) struct Agenda {
    /// The bindings to be evaluated again.
    pub stale: IdSet<BindingId>,
    /// The actions to be worked out, and those of them whose value may be another.
    pub dirty: IdSet<ActionId>,
    pub fresh: IdSet<ActionId>,
    /// The actions of whose uses some may see something else.
    pub reread: IdSet<ActionId>,
    /// The actions some of whose guards see something else.
    pub reguarded: IdSet<ActionId>,
    /// Every `+` to be settled, and those whose map has just opened.
    pub stale_pluses: IdSet<PlusId>,
    pub new_pluses: IdSet<PlusId>,
    /// The actions with a step that moves on its own, and those of them whose value others see at
    /// every moment.
    pub moving: IdSet<ActionId>,
    pub watched: IdSet<ActionId>,
    /// When each of what moves is looked at next, and no later than the first of these times.
    pub look_at: Table<ActionId, Time>,
    pub next_look: Time,
    /// From when on each of them may be found arrived, where that waits until somebody asks.
    pub arrives_at: Table<ActionId, Time>,
    /// The moment up to which the values of what moves were found.
    pub shown_at: Time,
    /// The actions whose value of this very moment is to be found.
    pub to_peek: IdSet<ActionId>,
    /// The actions whose `change` is to be looked at at the next tick.
    pub recheck: IdSet<ActionId>,
    /// The actions to be worked out at the next tick, whatever else happens.
    pub at_tick: IdSet<ActionId>,
    /// The same, while a tick goes through them.
    pub at_last_tick: IdSet<ActionId>,
    /// The actions some of whose reports wait, until the next tick at most, and those whose value nobody
    /// reads, until something happens to them.
    pub waiting: IdBag<ActionId>,
    pub put_off: IdBag<ActionId>,
    /// The actions whose value may differ from that of the last tick.
    pub moved: IdBag<ActionId>,
    /// The actions whose value did differ at the last tick.
    pub changed: IdSet<ActionId>,
}

impl Agenda {
    pub fn new(plan: &Tables) -> Self {
        let actions = || IdSet::new(plan.actions.len());
        let pluses = || IdSet::new(plan.pluses.len());
        Self {
            stale: IdSet::new(plan.bindings.len()),
            dirty: actions(),
            fresh: actions(),
            reread: actions(),
            reguarded: actions(),
            stale_pluses: pluses(),
            new_pluses: pluses(),
            moving: actions(),
            watched: actions(),
            look_at: Table::filled(NEVER, plan.actions.len()),
            next_look: NEVER,
            arrives_at: Table::filled(NEVER, plan.actions.len()),
            shown_at: Time::ZERO,
            to_peek: actions(),
            recheck: actions(),
            at_tick: actions(),
            at_last_tick: actions(),
            waiting: IdBag::new(plan.actions.len()),
            put_off: IdBag::new(plan.actions.len()),
            moved: IdBag::new(plan.actions.len()),
            changed: actions(),
        }
    }

    pub fn reset(&mut self) {
        let Self {
            stale,
            dirty,
            fresh,
            reread,
            reguarded,
            stale_pluses,
            new_pluses,
            moving,
            watched,
            look_at,
            next_look,
            arrives_at,
            shown_at,
            to_peek,
            recheck,
            at_tick,
            at_last_tick,
            waiting,
            put_off,
            moved,
            changed,
        } = self;
        for set in [
            dirty,
            fresh,
            reread,
            reguarded,
            moving,
            watched,
            to_peek,
            recheck,
            at_tick,
            at_last_tick,
            changed,
        ] {
            set.clear();
        }
        waiting.clear();
        put_off.clear();
        moved.clear();
        stale.clear();
        stale_pluses.clear();
        new_pluses.clear();
        look_at.fill(NEVER);
        arrives_at.fill(NEVER);
        (*next_look, *shown_at) = (NEVER, Time::ZERO);
    }

    /// What was to be done of the actions that are kept still is, and what happened to any is still to be
    /// told.
    pub fn take_over(&mut self, plan: &Tables, before: &Self, old_plan: &Tables, kin: &Kin) {
        for (old, own) in kin.kept() {
            let sets = [
                (&mut self.dirty, &before.dirty),
                (&mut self.fresh, &before.fresh),
                (&mut self.reread, &before.reread),
                (&mut self.reguarded, &before.reguarded),
                (&mut self.moving, &before.moving),
                (&mut self.watched, &before.watched),
                (&mut self.to_peek, &before.to_peek),
                (&mut self.at_tick, &before.at_tick),
            ];
            for (to, _) in sets.into_iter().filter(|(_, from)| from.contains(old)) {
                to.insert(own);
            }
            self.look_at[own] = before.look_at[old];
            self.arrives_at[own] = before.arrives_at[old];
            let (to, from) = (&plan.actions[own], &old_plan.actions[old]);
            for (to, from) in to.bindings.iter().zip(from.bindings.iter()) {
                if before.stale.contains(from) {
                    self.stale.insert(to);
                }
            }
            let pluses = from.pluses.of(&old_plan.listed_pluses).iter();
            for (from, &to) in pluses.zip(to.pluses.of(&plan.listed_pluses)) {
                if before.stale_pluses.contains(*from) {
                    self.stale_pluses.insert(to);
                }
            }
        }
        for (old, own) in kin.namesakes() {
            if before.moved.contains(old) {
                self.moved.insert(own);
            }
            let sets = [(&mut self.recheck, &before.recheck), (&mut self.changed, &before.changed)];
            for (to, _) in sets.into_iter().filter(|(_, from)| from.contains(old)) {
                to.insert(own);
            }
        }
        self.shown_at = before.shown_at;
        self.find_next_look();
    }

    /// Lets reports of an action wait; `is_read` tells whether its value is read beyond whether it is down.
    #[inline(always)]
    pub fn let_wait(&mut self, action: ActionId, is_read: bool) {
        let bag = if is_read { &mut self.waiting } else { &mut self.put_off };
        bag.insert(action);
    }

    /// Whether reports of an action wait.
    #[inline]
    pub fn lets_wait(&self, action: ActionId) -> bool {
        self.waiting.contains(action) || self.put_off.contains(action)
    }

    /// Has an action worked out, with all its bindings.
    pub fn touch(&mut self, plan: &Tables, action: ActionId) {
        self.dirty.insert(action);
        self.fresh.insert(action);
        plan.actions[action].bindings.iter().for_each(|binding| self.stale.insert(binding));
    }

    /// An action lives no more: nothing of it is to be done. What happened to it stays to be told.
    pub fn forget(&mut self, plan: &Tables, action: ActionId) {
        for set in [
            &mut self.dirty,
            &mut self.fresh,
            &mut self.reread,
            &mut self.reguarded,
            &mut self.moving,
            &mut self.watched,
            &mut self.at_tick,
            &mut self.to_peek,
        ] {
            set.remove(action);
        }
        plan.actions[action].bindings.iter().for_each(|binding| self.stale.remove(binding));
    }
}
