//! Lines to plan.

use super::line::{Device, Head, Input, Line, Named, Run, Scheme, Use};
use super::{Torn, VERSION};
use crate::base::{
    ActionId, BindingId, ControlId, ControlUseId, Id, IdRange, MOST_OWN_CLASSES, MapId, OpId,
    PhysicalInputId, PlusId, SchemeId, Table,
};
use crate::controls::{Catalogue, Layout, OwnDevice, Reads};
use crate::plan::digest::Fnv;
use crate::plan::{
    Action, Alternative, Binding, Condition, ControlUse, Guard, Map, Names, Op, Param,
    PhysicalInput, Plan, Plus, Tables, Variable, controls_of, inputs_of, notches_of, pluses_of,
};
use std::sync::Arc;

/// Reads a pack, and looks at every line of it and at the plan that they make together.
///
/// # Errors
/// The first that is wrong: a line that is none of a pack, or of another version, one that is missing, a
/// name of nothing, and tables that no engine could run.
///
/// ```
/// use harmonym_runtime::pack;
/// let torn = pack::read("{\"pack\":{}}\n").unwrap_err();
/// assert_eq!(torn.line, 1);
/// assert!(torn.to_string().starts_with("line 1: "));
/// ```
pub fn read(text: &str) -> Result<Plan, Torn> {
    let mut sheet = Sheet::default();
    let mut last = 0;
    let mut digest = Fnv::new();
    for (index, text) in text.lines().enumerate() {
        last = index + 1;
        let at = |message| Torn { line: last, message };
        if sheet.digest.is_some() {
            return Err(at("there is more after the last line".to_owned()));
        }
        let line = serde_json::from_str(text).map_err(|e| at(of_json(&e)))?;
        sheet.take(line, index).map_err(at)?;
        if sheet.digest.is_none() {
            digest.line(&[text]);
        }
    }
    let cut = || "the pack is cut: its last line is `end`".to_owned();
    let said = sheet.digest.take().ok_or_else(cut);
    let whole = said.and_then(|said| match (sheet.finish()?, said == digest.text()) {
        (plan, true) => Ok(plan),
        (_, false) => Err("a line was changed since it was packed: pack the profile again".into()),
    });
    whole.map_err(|message| Torn { line: last.max(1), message })
}

/// What is wrong with the JSON of a line, without the line, which is always the first.
fn of_json(error: &serde_json::Error) -> String {
    let text = error.to_string();
    let what = text.split(" at line 1").next().unwrap_or_default();
    format!("no line of a pack: {what}, at column {}", error.column())
}

/// What was read so far.
#[derive(Default)]
struct Sheet<'a> {
    head: Option<Head>,
    /// What the last line says of those before it.
    digest: Option<String>,
    devices: Vec<Device>,
    schemes: Vec<Scheme>,
    numbers: Vec<Named<Variable>>,
    maps: Vec<Named<Map>>,
    actions: Vec<Named<Action>>,
    bindings: Vec<Named<Binding>>,
    fires: Vec<Named<Alternative>>,
    params: Vec<Param>,
    uses: Vec<Use<'a>>,
    pluses: Vec<Plus>,
    conditions: Vec<Condition>,
    guards: Vec<Guard>,
    kept_in_pause: Vec<bool>,
    use_bindings: Vec<BindingId>,
    listed_uses: Vec<ControlUseId>,
    listed_pluses: Vec<PlusId>,
    listed_ops: Vec<OpId>,
    listed_actions: Vec<ActionId>,
    listed_maps: Vec<MapId>,
    by_file: Vec<ActionId>,
}

/// Puts a piece of a list behind what is there of it.
fn append<T>(list: &mut Vec<T>, run: Run<T>) -> Result<(), String> {
    if run.at as usize != list.len() {
        let message = format!("a line is missing: this one goes on at {}", run.at);
        return Err(format!("{message}, and {} came before", list.len()));
    }
    list.extend(run.all);
    Ok(())
}

impl<'a> Sheet<'a> {
    fn take(&mut self, line: Line<'a>, before: usize) -> Result<(), String> {
        match (&self.head, before) {
            (None, 0) | (Some(_), 1..) => {}
            _ => return Err("the first line is `pack`".to_owned()),
        }
        match line {
            Line::Pack(head) if before == 0 => self.begin(head)?,
            _ if before == 0 => return Err("the first line is `pack`".to_owned()),
            Line::Pack(_) => return Err("a second pack begins here".to_owned()),
            Line::Device(one) => self.devices.push(one),
            Line::Scheme(one) => self.schemes.push(one),
            Line::Number(one) => self.numbers.push(one),
            Line::Map(one) => self.maps.push(one),
            Line::Action(one) => self.actions.push(one),
            Line::Binding(one) => self.bindings.push(one),
            Line::Fire(one) => self.fires.push(one),
            Line::Params(run) => append(&mut self.params, run)?,
            Line::Use(one) => self.uses.push(one),
            Line::Plus(one) => self.pluses.push(one),
            Line::Conditions(run) => append(&mut self.conditions, run)?,
            Line::Guards(run) => append(&mut self.guards, run)?,
            Line::KeptInPause(run) => append(&mut self.kept_in_pause, run)?,
            Line::UseBindings(run) => append(&mut self.use_bindings, run)?,
            Line::ListedUses(run) => append(&mut self.listed_uses, run)?,
            Line::ListedPluses(run) => append(&mut self.listed_pluses, run)?,
            Line::ListedOps(run) => append(&mut self.listed_ops, run)?,
            Line::ListedActions(run) => append(&mut self.listed_actions, run)?,
            Line::ListedMaps(run) => append(&mut self.listed_maps, run)?,
            Line::ByFile(run) => append(&mut self.by_file, run)?,
            Line::End(end) if end.lines == before as u64 => self.digest = Some(end.digest),
            Line::End(end) => {
                return Err(format!("{} lines come before this one, of {}", before, end.lines));
            }
        }
        Ok(())
    }

    fn begin(&mut self, head: Head) -> Result<(), String> {
        if head.version != VERSION {
            let message = format!("a pack of version {}, and this reads {VERSION}", head.version);
            return Err(format!("{message}: pack the profile again"));
        }
        self.head = Some(head);
        Ok(())
    }

    fn finish(mut self) -> Result<Plan, String> {
        let head = self.head.ok_or("the first line is `pack`")?;
        let layout = Layout::from_word(&head.layout);
        let layout = layout.ok_or_else(|| format!("`{}` is no keyboard layout", head.layout))?;
        let catalogue = catalogue(&self.devices)?;
        let count = catalogue.reported().len();
        let (uses, inputs) = uses(self.uses, &catalogue)?;
        let pluses = self.pluses.into();
        let (schemes, scheme_labels, of_class) = schemes(self.schemes, &catalogue)?;
        let ops = ops(&mut self.actions, &mut self.bindings)?;
        let (variable_names, _, variables) = parts(self.numbers);
        let (map_names, map_labels, maps) = parts(self.maps);
        let (action_names, action_labels, actions) = parts(self.actions);
        let (binding_names, binding_labels, bindings) = parts(self.bindings);
        let (alternative_names, _, alternatives) = parts(self.fires);
        let control_names = catalogue.reported().iter().map(|one| one.name.clone());
        let tables = Tables {
            layout,
            seats: head.seats,
            controls: controls_of(&catalogue),
            notches: notches_of(&catalogue),
            inputs_of: inputs_of(count, &inputs),
            pluses_of: pluses_of(count, (&pluses, &self.listed_uses), &uses, &inputs),
            uses,
            inputs,
            pluses,
            use_bindings: self.use_bindings.into(),
            listed_uses: self.listed_uses.into(),
            listed_pluses: self.listed_pluses.into(),
            listed_ops: self.listed_ops.into(),
            schemes_of_class: of_class,
            variables,
            params: self.params.into(),
            conditions: self.conditions.into(),
            ops,
            kept_in_pause: self.kept_in_pause.into(),
            motions: head.motions as usize,
            bindings,
            alternatives,
            guards: self.guards.into(),
            actions,
            listed: self.listed_actions.into(),
            listed_maps: self.listed_maps.into(),
            by_file: self.by_file.into(),
            maps,
            names: Names {
                actions: action_names,
                bindings: binding_names,
                alternatives: alternative_names,
                maps: map_names,
                schemes,
                controls: control_names.collect::<Vec<_>>().into(),
                variables: variable_names,
                action_labels,
                binding_labels,
                map_labels,
                scheme_labels,
            },
            catalogue,
        };
        let plan = Plan::new(tables).map_err(|unsound| unsound.to_string())?;
        match plan.names_digest() == head.names {
            true => Ok(plan),
            false => Err("its names are not those that were packed".to_owned()),
        }
    }
}

/// All operations: those of bindings and shapes, each at its place.
fn ops(
    actions: &mut [Named<Action>],
    bindings: &mut [Named<Binding>],
) -> Result<Table<OpId, Op>, String> {
    let shapes = actions.iter_mut().map(|one| (one.parts.shape, std::mem::take(&mut one.ops)));
    let bound = bindings.iter_mut().map(|one| (one.parts.ops, std::mem::take(&mut one.ops)));
    let mut laid: Vec<(IdRange<OpId>, Vec<Op>)> = shapes.chain(bound).collect();
    laid.sort_by_key(|(range, _)| range.first());
    let mut all = Vec::new();
    for (range, own) in laid {
        let begins = range.first().map_or(0, Id::index);
        if begins != all.len() || range.len() != own.len() {
            return Err(format!("operations {begins} and on are not those that are there"));
        }
        all.extend(own);
    }
    Ok(all.into())
}

/// Names, labels, and the rest.
type Parts<I, T> = (Table<I, String>, Table<I, Option<String>>, Table<I, T>);

fn parts<I: Id, T>(lines: Vec<Named<T>>) -> Parts<I, T> {
    let count = lines.len();
    let (mut names, mut labels) = (Vec::with_capacity(count), Vec::with_capacity(count));
    let mut all = Vec::with_capacity(count);
    for Named { name, label, parts, .. } in lines {
        names.push(name);
        labels.push(label);
        all.push(parts);
    }
    (names.into(), labels.into(), all.into())
}

fn control(name: &str, catalogue: &Catalogue) -> Result<ControlId, String> {
    let id = catalogue.find(name).and_then(|entry| match entry.reads {
        Reads::Whole(id) => Some(id),
        _ => None,
    });
    id.ok_or_else(|| format!("`{name}` is no control that a device reports"))
}

type Uses = (Table<ControlUseId, ControlUse>, Table<PhysicalInputId, PhysicalInput>);

fn uses(lines: Vec<Use<'_>>, catalogue: &Catalogue) -> Result<Uses, String> {
    let (mut uses, mut all) = (Vec::with_capacity(lines.len()), Vec::new());
    for line in lines {
        let (of, first) = (ControlUseId::new(uses.len()), all.len());
        for one in line.inputs {
            let own = control(&one.control, catalogue)?;
            let key = one.key.map_or(Ok(own), |key| control(&key, catalogue))?;
            let Input { device, halves, .. } = one;
            all.push(PhysicalInput { of, control: own, device, key, halves });
        }
        let Use { action, gather, holders, holds, bindings, pluses, .. } = line;
        let inputs = IdRange::new(first, all.len());
        uses.push(ControlUse { action, inputs, gather, holders, holds, bindings, pluses });
    }
    Ok((uses.into(), all.into()))
}

fn catalogue(devices: &[Device]) -> Result<Arc<Catalogue>, String> {
    let mut own = Vec::new();
    for device in devices {
        let mut one =
            OwnDevice { name: device.name.clone(), controls: Vec::new(), stands_for: Vec::new() };
        for (index, part) in device.controls.iter().enumerate() {
            one.controls.push((part.name.clone(), part.kind));
            if let Some(standard) = &part.stands_for {
                one.stands_for.push((index, control(standard, Catalogue::built_in())?));
            }
        }
        own.push(one);
    }
    match own.len() > MOST_OWN_CLASSES {
        true => Err(format!("there are more than {MOST_OWN_CLASSES} classes of devices")),
        false => Ok(Catalogue::with(&own)),
    }
}

type Schemes = (Table<SchemeId, String>, Table<SchemeId, Option<String>>, Box<[Box<[SchemeId]>]>);

fn schemes(lines: Vec<Scheme>, catalogue: &Catalogue) -> Result<Schemes, String> {
    let mut of_class = vec![Vec::new(); catalogue.classes().count()];
    for (index, word) in
        lines.iter().enumerate().flat_map(|(i, one)| one.devices.iter().map(move |d| (i, d)))
    {
        let class = catalogue.class(word);
        let class = class.ok_or_else(|| format!("`{word}` is no class of devices"))?;
        of_class[class.index()].push(SchemeId::new(index));
    }
    let lines = lines.into_iter();
    let (names, labels): (Vec<_>, Vec<_>) = lines.map(|one| (one.name, one.label)).unzip();
    let of_class = of_class.into_iter().map(Vec::into_boxed_slice).collect();
    Ok((names.into(), labels.into(), of_class))
}
