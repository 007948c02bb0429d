//! Tables of a plan that follow from other tables.

use super::{Control, ControlUse, Notch, PhysicalInput, Plus};
use crate::base::{ControlId, ControlUseId, Id, PhysicalInputId, PlusId, Table};
use crate::controls::Catalogue;

/// What each control of a catalogue reports.
pub fn controls_of(catalogue: &Catalogue) -> Table<ControlId, Control> {
    let all = catalogue.reported().iter();
    all.map(|one| Control { class: one.class, kind: one.kind }).collect::<Vec<_>>().into()
}

/// The notches of the wheels of a catalogue.
pub fn notches_of(catalogue: &Catalogue) -> Box<[Notch]> {
    let all = catalogue.reported().iter().enumerate();
    let notches = all.filter_map(|(index, one)| {
        let (wheel, component, positive) = one.notch?;
        Some(Notch { wheel, component, positive, button: ControlId::new(index) })
    });
    notches.collect()
}

/// For each of so many controls, the inputs that listen to it, in order.
pub fn inputs_of(
    controls: usize,
    inputs: &Table<PhysicalInputId, PhysicalInput>,
) -> Table<ControlId, Box<[PhysicalInputId]>> {
    let mut of = vec![Vec::new(); controls];
    for (id, input) in inputs.entries() {
        if let Some(list) = of.get_mut(input.control.index()) {
            list.push(id);
        }
    }
    boxed(of)
}

/// For each of so many controls, every `+` that has it in its last part, in order.
pub fn pluses_of(
    controls: usize,
    (pluses, listed): (&Table<PlusId, Plus>, &[ControlUseId]),
    uses: &Table<ControlUseId, ControlUse>,
    inputs: &Table<PhysicalInputId, PhysicalInput>,
) -> Table<ControlId, Box<[PlusId]>> {
    let mut of = vec![Vec::new(); controls];
    for (id, plus) in pluses.entries() {
        let uses = plus.uses.of(listed).iter().filter_map(|one| uses.get(*one));
        for input in uses.filter(|one| one.inputs.fits(inputs.len())).flat_map(|o| o.inputs.iter())
        {
            let key = inputs.get(input).map(|input| input.key.index());
            match key.and_then(|key| of.get_mut(key)) {
                Some(list) if list.last() != Some(&id) => list.push(id),
                _ => {}
            }
        }
    }
    boxed(of)
}

fn boxed<I: Id, T>(lists: Vec<Vec<T>>) -> Table<I, Box<[T]>> {
    lists.into_iter().map(Vec::into_boxed_slice).collect::<Vec<_>>().into()
}
