//! What of one plan is the same in another: for exchanging the plan while hands are on it.

use super::{
    Action, Alternative, Binding, Condition, ControlUse, Cue, Guard, Names, Op, Operands,
    PhysicalInput, Plus, Tables,
};
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlUseId, Id, IdRange, IdSet, MapId, OpId, PlusId,
    SchemeId, Table, VariableId,
};
use std::collections::HashMap;
use std::mem::discriminant;

/// For what a new plan has, what of an old one goes by the same name.
#[derive(Clone, Debug)]
pub(crate) struct Kin {
    /// The actions: the old and the new id of each.
    namesakes: Vec<(ActionId, ActionId)>,
    /// Those of them that are the same but for numbers: they read the same controls in the same way,
    /// through the same steps, and fire by the same cues.
    kept: Vec<(ActionId, ActionId)>,
    /// The old ids of these.
    keeps: IdSet<ActionId>,
    pub maps: Table<MapId, Option<MapId>>,
    schemes: Table<SchemeId, Option<SchemeId>>,
    pub variables: Table<VariableId, Option<VariableId>>,
}

impl Kin {
    pub fn of(old: &Tables, new: &Tables) -> Self {
        let actions = by_name(&old.names.actions, &new.names.actions);
        let both = actions.entries().filter_map(|(new, old)| Some(((*old)?, new)));
        let namesakes: Vec<_> = both.collect();
        let pair = Pair { old, new };
        let is_kept = |both: &&(ActionId, ActionId)| pair.action(both.0, both.1);
        let kept: Vec<_> = namesakes.iter().filter(is_kept).copied().collect();
        let mut keeps = IdSet::new(old.actions.len());
        kept.iter().for_each(|(old, _)| keeps.insert(*old));
        Self {
            namesakes,
            kept,
            keeps,
            maps: by_name(&old.names.maps, &new.names.maps),
            schemes: by_name(&old.names.schemes, &new.names.schemes),
            variables: by_name(&old.names.variables, &new.names.variables),
        }
    }

    /// The actions that stay as they are: the old and the new id of each.
    pub fn kept(&self) -> impl Iterator<Item = (ActionId, ActionId)> {
        self.kept.iter().copied()
    }

    /// Whether an old action stays as it is.
    pub fn keeps(&self, old: ActionId) -> bool {
        self.keeps.contains(old)
    }

    /// Whether the new plan has an old map.
    pub fn has_map(&self, old: MapId) -> bool {
        self.maps.iter().any(|of| *of == Some(old))
    }

    /// The actions of one address: the old and the new id of each.
    pub fn namesakes(&self) -> impl Iterator<Item = (ActionId, ActionId)> {
        self.namesakes.iter().copied()
    }

    /// The new id of a scheme.
    pub fn scheme(&self, old: SchemeId) -> Option<SchemeId> {
        self.schemes.entries().find(|(_, of)| **of == Some(old)).map(|(new, _)| new)
    }
}

fn by_name<I: Id>(old: &Table<I, String>, new: &Table<I, String>) -> Table<I, Option<I>> {
    let known: HashMap<&String, I> = old.entries().map(|(id, name)| (name, id)).collect();
    new.iter().map(|name| known.get(name).copied()).collect::<Vec<_>>().into()
}

impl Tables {
    /// Whether another plan's devices have the same controls, so that their ids are the same.
    pub(crate) fn has_controls_of(&self, other: &Self) -> bool {
        let kinds =
            |of: &Self| -> Vec<_> { of.controls.iter().map(|c| (c.class, c.kind)).collect() };
        kinds(self) == kinds(other)
            && self.names.controls == other.names.controls
            && self.schemes_of_class.len() == other.schemes_of_class.len()
    }
}

/// Two plans whose parts are compared, the old one's always first.
#[derive(Clone, Copy)]
struct Pair<'a> {
    old: &'a Tables,
    new: &'a Tables,
}

impl Pair<'_> {
    fn action(self, a: ActionId, b: ActionId) -> bool {
        let (old, new) = (&self.old.actions[a], &self.new.actions[b]);
        // Taken apart by name: a field that is added later cannot be forgotten. Levels are numbers;
        // who names it is not its own.
        let Action {
            kind,
            map,
            maps,
            claim,
            carry,
            in_pause,
            uses,
            pluses,
            memories,
            motions,
            has_guards: _,
            has_change: _,
            works_at_ticks: _,
            bindings,
            blend,
            shape,
            alternatives,
            wake: _,
            down: _,
            up: _,
            yields_to,
            named_by: _,
            read_by: _,
        } = *old;
        let plain = (kind, claim, carry, in_pause, blend)
            == (new.kind, new.claim, new.carry, new.in_pause, new.blend);
        let pluses = pluses.of(&self.old.listed_pluses);
        plain
            && self.is_same(map, new.map, |names| &names.maps)
            && self.are_same(
                maps.of(&self.old.listed_maps),
                new.maps.of(&self.new.listed_maps),
                |names| &names.maps,
            )
            && self.name_same(yields_to.of(&self.old.listed), new.yields_to.of(&self.new.listed))
            && (memories.len(), motions.len()) == (new.memories.len(), new.motions.len())
            && each(uses, new.uses, |a, b| self.control_use(a, b, (old, new)))
            && all(pluses, new.pluses.of(&self.new.listed_pluses), |a, b| {
                self.plus(*a, *b, (old, new))
            })
            && each(bindings, new.bindings, |a, b| self.binding(a, b, (old, new)))
            && self.ops(shape, new.shape, (old, new))
            && each(alternatives, new.alternatives, |a, b| self.alternative(a, b))
    }

    fn is_same<I: Id>(self, a: I, b: I, names: impl Fn(&Names) -> &Table<I, String>) -> bool {
        names(&self.old.names).get(a) == names(&self.new.names).get(b)
    }

    fn are_same<I: Id>(
        self,
        a: &[I],
        b: &[I],
        names: impl Fn(&Names) -> &Table<I, String>,
    ) -> bool {
        all(a, b, |a, b| self.is_same(*a, *b, &names))
    }

    fn name_same(self, a: &[ActionId], b: &[ActionId]) -> bool {
        self.are_same(a, b, |names| &names.actions)
    }

    fn control_use(self, a: ControlUseId, b: ControlUseId, of: (&Action, &Action)) -> bool {
        let (old, new) = (&self.old.uses[a], &self.new.uses[b]);
        let ControlUse { action: _, inputs, gather, holders, holds, bindings, pluses: _ } = *old;
        let plain = (gather, holders, holds) == (new.gather, new.holders, new.holds);
        let bindings = bindings.of(&self.old.use_bindings);
        plain
            && all(bindings, new.bindings.of(&self.new.use_bindings), |a, b| {
                of.0.bindings.counterpart(*a, of.1.bindings) == Some(*b)
            })
            && each(inputs, new.inputs, |a, b| {
                let PhysicalInput { of: _, control, device, key, halves } = self.old.inputs[a];
                let new = &self.new.inputs[b];
                (control, device, key, halves) == (new.control, new.device, new.key, new.halves)
            })
    }

    fn plus(self, a: PlusId, b: PlusId, of: (&Action, &Action)) -> bool {
        let (old, new) = (&self.old.pluses[a], &self.new.pluses[b]);
        let Plus { action: _, binding, ops, holders, last, kind, uses, count, is_pressed } = *old;
        let holders = holders.of(&self.old.listed_ops);
        (kind, count, is_pressed) == (new.kind, new.count, new.is_pressed)
            && of.0.bindings.counterpart(binding, of.1.bindings) == Some(new.binding)
            && ops.counterpart(last, new.ops) == Some(new.last)
            && all(holders, new.holders.of(&self.new.listed_ops), |a, b| {
                ops.counterpart(*a, new.ops) == Some(*b)
            })
            && all(uses.of(&self.old.listed_uses), new.uses.of(&self.new.listed_uses), |a, b| {
                of.0.uses.counterpart(*a, of.1.uses) == Some(*b)
            })
    }

    fn binding(self, a: BindingId, b: BindingId, of: (&Action, &Action)) -> bool {
        let Binding { action: _, scheme, ops } = self.old.bindings[a];
        let new = &self.new.bindings[b];
        let of_scheme = match (scheme, new.scheme) {
            (Some(a), Some(b)) => self.is_same(a, b, |names| &names.schemes),
            (a, b) => a.is_none() && b.is_none(),
        };
        of_scheme && self.ops(ops, new.ops, of)
    }

    fn ops(self, a: IdRange<OpId>, b: IdRange<OpId>, of: (&Action, &Action)) -> bool {
        each(a, b, |x, y| {
            let (old, new) = (&self.old.ops[x], &self.new.ops[y]);
            self.op(old, new, |op| a.counterpart(op, b), of)
        })
    }

    fn op(
        self,
        old: &Op,
        new: &Op,
        among: impl Fn(OpId) -> Option<OpId>,
        of: (&Action, &Action),
    ) -> bool {
        let counts = |op: &Op| op.kind.params().map(IdRange::len);
        let memory = old.kind.memory().map(|id| of.0.memories.counterpart(id, of.1.memories));
        let motion = old.kind.motion().map(|id| of.0.motions.counterpart(id, of.1.motions));
        let conditions = old.conditions.of(&self.old.conditions);
        discriminant(&old.kind) == discriminant(&new.kind)
            && old.kind.words() == new.kind.words()
            && counts(old) == counts(new)
            && memory == new.kind.memory().map(Some)
            && motion == new.kind.motion().map(Some)
            && self.operands(old.kind.operands(), new.kind.operands(), among, of)
            && all(conditions, new.conditions.of(&self.new.conditions), |a, b| {
                let Condition { named, unless } = *a;
                unless == b.unless && self.is_same(named, b.named, |names| &names.variables)
            })
    }

    fn operands(
        self,
        old: Operands,
        new: Operands,
        among: impl Fn(OpId) -> Option<OpId>,
        of: (&Action, &Action),
    ) -> bool {
        match (old, new) {
            (Operands::Control(a, x), Operands::Control(b, y)) => {
                x == y && of.0.uses.counterpart(a, of.1.uses) == Some(b)
            }
            (Operands::Action(a), Operands::Action(b)) => {
                self.is_same(a, b, |names| &names.actions)
            }
            (Operands::Sides(a, b), Operands::Sides(x, y))
            | (Operands::Either(a, b), Operands::Either(x, y)) => {
                (among(a), among(b)) == (Some(x), Some(y))
            }
            (Operands::Components { x, y, z }, Operands::Components { x: a, y: b, z: c }) => {
                (among(x), among(y)) == (Some(a), Some(b)) && z.map(&among) == c.map(Some)
            }
            (Operands::Plus(a), Operands::Plus(b)) => {
                let place = |of: &Action, id, plan: &Tables| {
                    of.pluses.of(&plan.listed_pluses).iter().position(|own| *own == id)
                };
                place(of.0, a, self.old) == place(of.1, b, self.new)
            }
            (Operands::Blended, Operands::Blended) | (Operands::Before, Operands::Before) => true,
            _ => false,
        }
    }

    fn alternative(self, a: AlternativeId, b: AlternativeId) -> bool {
        let Alternative { action: _, cue, guards } = self.old.alternatives[a];
        let new = &self.new.alternatives[b];
        let of_cue = match (cue, new.cue) {
            (Cue::Sequence(a, _), Cue::Sequence(b, _)) => {
                self.name_same(a.of(&self.old.listed), b.of(&self.new.listed))
            }
            (a, b) => discriminant(&a) == discriminant(&b),
        };
        of_cue
            && all(guards.of(&self.old.guards), new.guards.of(&self.new.guards), |a, b| {
                match (*a, *b) {
                    (Guard::Live(a, x), Guard::Live(b, y)) => {
                        x == y && self.is_same(a, b, |names| &names.actions)
                    }
                    (Guard::Holds(a, x), Guard::Holds(b, y)) => {
                        x == y && self.is_same(a, b, |names| &names.variables)
                    }
                    _ => false,
                }
            })
    }
}

fn all<A, B>(a: &[A], b: &[B], mut same: impl FnMut(&A, &B) -> bool) -> bool {
    a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same(a, b))
}

fn each<I: Id>(a: IdRange<I>, b: IdRange<I>, mut same: impl FnMut(I, I) -> bool) -> bool {
    a.len() == b.len() && a.iter().zip(b.iter()).all(|(a, b)| same(a, b))
}
