//! A plan that was looked through, with a reading of every table of it.

use super::{
    Action, Alternative, Binding, Condition, Control, ControlUse, Guard, Map, Names, Notch, Op,
    Param, PhysicalInput, Plus, Tables, Variable,
};
use crate::base::{
    ActionId, AlternativeId, BindingId, ControlId, ControlUseId, MapId, MemoryId, OpId, ParamId,
    PhysicalInputId, PlusId, SchemeId, Table, VariableId,
};
use crate::controls::{Catalogue, Layout};
use std::fmt;
use std::sync::Arc;

/// Everything the engine needs to know of a profile; never changed once it is made.
#[derive(Clone, Debug, PartialEq)]
pub struct Plan {
    tables: Tables,
    /// Where each action stands in the file.
    file_places: Table<ActionId, u32>,
}

/// Why tables are no plan: a fault of whoever filled them, never of a profile.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unsound(pub(super) String);

impl fmt::Display for Unsound {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "the plan is not sound: {}", self.0)
    }
}

impl std::error::Error for Unsound {}

impl Plan {
    /// Looks tables through and makes a plan of them.
    ///
    /// # Errors
    /// Says what doesn't hold.
    pub fn new(tables: Tables) -> Result<Self, Unsound> {
        tables.verify().map_err(Unsound)?;
        let mut file_places = Table::filled(0, tables.actions.len());
        for (place, &action) in (0..).zip(&tables.by_file) {
            file_places[action] = place;
        }
        Ok(Self { tables, file_places })
    }

    /// What it is made of, to be changed: only [`Plan::new`] makes a plan of it again.
    pub fn into_tables(self) -> Tables {
        self.tables
    }

    /// Where an action stands in the file, from 0.
    pub fn place_in_file(&self, action: ActionId) -> usize {
        self.file_places[action] as usize
    }

    /// For the engine, which reads many tables at each step.
    pub(crate) fn tables(&self) -> &Tables {
        &self.tables
    }

    /// The catalogue that its controls are of.
    pub fn catalogue(&self) -> &Arc<Catalogue> {
        &self.tables.catalogue
    }

    /// How many local players there are, 1 to 8.
    pub fn seats(&self) -> u8 {
        self.tables.seats
    }

    /// The keyboard layout that it is for.
    pub fn layout(&self) -> Layout {
        self.tables.layout
    }

    /// What each control reports.
    pub fn controls(&self) -> &Table<ControlId, Control> {
        &self.tables.controls
    }

    /// The notches of wheels.
    pub fn notches(&self) -> &[Notch] {
        &self.tables.notches
    }

    /// For each control, the inputs that listen to it, in working order.
    pub fn inputs_of(&self) -> &Table<ControlId, Box<[PhysicalInputId]>> {
        &self.tables.inputs_of
    }

    /// The uses that actions make of controls, grouped by action.
    pub fn uses(&self) -> &Table<ControlUseId, ControlUse> {
        &self.tables.uses
    }

    /// The physical controls that they listen to, grouped by use.
    pub fn inputs(&self) -> &Table<PhysicalInputId, PhysicalInput> {
        &self.tables.inputs
    }

    /// Every `+`, those with the most holders first.
    pub fn pluses(&self) -> &Table<PlusId, Plus> {
        &self.tables.pluses
    }

    /// For each control, every `+` that has it as its last.
    pub fn pluses_of(&self) -> &Table<ControlId, Box<[PlusId]>> {
        &self.tables.pluses_of
    }

    /// The bindings that uses share.
    pub fn use_bindings(&self) -> &[BindingId] {
        &self.tables.use_bindings
    }

    /// The uses that a `+` lists.
    pub fn listed_uses(&self) -> &[ControlUseId] {
        &self.tables.listed_uses
    }

    /// The `+` that uses and actions list.
    pub fn listed_pluses(&self) -> &[PlusId] {
        &self.tables.listed_pluses
    }

    /// The operations that a `+` lists.
    pub fn listed_ops(&self) -> &[OpId] {
        &self.tables.listed_ops
    }

    /// For each class, by its index, the schemes that have it, in file order.
    pub fn schemes_of_class(&self) -> &[Box<[SchemeId]>] {
        &self.tables.schemes_of_class
    }

    /// The settings and facts.
    pub fn variables(&self) -> &Table<VariableId, Variable> {
        &self.tables.variables
    }

    /// The numbers of operations and cues.
    pub fn params(&self) -> &Table<ParamId, Param> {
        &self.tables.params
    }

    /// The conditions that operations share.
    pub fn conditions(&self) -> &[Condition] {
        &self.tables.conditions
    }

    /// The operations of all bindings and shapes.
    pub fn ops(&self) -> &Table<OpId, Op> {
        &self.tables.ops
    }

    /// The cells of memory that the operations share: which of them a pause leaves as they are.
    pub fn kept_in_pause(&self) -> &Table<MemoryId, bool> {
        &self.tables.kept_in_pause
    }

    /// How many steps move on their own or add up over time.
    pub fn motions(&self) -> usize {
        self.tables.motions
    }

    /// The bindings, grouped by action.
    pub fn bindings(&self) -> &Table<BindingId, Binding> {
        &self.tables.bindings
    }

    /// The alternatives of all fire rules, grouped by action.
    pub fn alternatives(&self) -> &Table<AlternativeId, Alternative> {
        &self.tables.alternatives
    }

    /// The guards that alternatives share.
    pub fn guards(&self) -> &[Guard] {
        &self.tables.guards
    }

    /// The actions in working order: again and again the earliest in the file of those whose named
    /// actions are done.
    pub fn actions(&self) -> &Table<ActionId, Action> {
        &self.tables.actions
    }

    /// The actions that other actions list: those they yield to, those of sequences, and those
    /// that name them.
    pub fn listed(&self) -> &[ActionId] {
        &self.tables.listed
    }

    /// The maps that actions live in.
    pub fn listed_maps(&self) -> &[MapId] {
        &self.tables.listed_maps
    }

    /// The actions in file order.
    pub fn by_file(&self) -> &[ActionId] {
        &self.tables.by_file
    }

    /// The maps, in file order.
    pub fn maps(&self) -> &Table<MapId, Map> {
        &self.tables.maps
    }

    /// What everything is called. Not read while hands move.
    pub fn names(&self) -> &Names {
        &self.tables.names
    }
}
