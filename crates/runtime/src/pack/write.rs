//! Plan to lines.

use super::VERSION;
use super::line::{Device, DeviceControl, End, Head, Input, Line, Named, Run, Scheme, Use};
use crate::base::{Class, ControlId, Id, IdRange, OpId};
use crate::controls::Catalogue;
use crate::plan::digest::Fnv;
use crate::plan::{ControlUse, Names, Op, PhysicalInput, Plan, Tables};
use std::borrow::Cow;
use std::fmt::Write;

/// So many entries of a list stand in one line.
const RUN: usize = 64;

/// A plan as the lines of its pack, an object each, with an end of line behind each; in ASCII.
///
/// The same plan gives the same bytes.
///
/// ```
/// use harmonym_runtime::pack;
/// let game = harmonym_lang::Game::parse("harmonym.toml", "harmonym = 1\n").unwrap();
/// let text = pack::write(game.plan());
/// assert_eq!(&pack::read(&text).unwrap(), &**game.plan());
/// ```
pub fn write(plan: &Plan) -> String {
    let mut lines = Lines { text: String::new(), count: 0, digest: Fnv::new() };
    lines.push(&Line::Pack(Head {
        version: VERSION,
        layout: plan.layout().word().to_owned(),
        seats: plan.seats(),
        motions: plan.motions() as u32,
        names: plan.names_digest(),
    }));
    let tables = plan.tables();
    lines.names(tables);
    lines.parts(tables);
    lines.lists(tables);
    let end = End { lines: lines.count, digest: lines.digest.text() };
    lines.push(&Line::End(end));
    lines.text
}

/// JSON of the same meaning, all of it characters that any program shows and keeps as they are.
fn in_ascii(json: &str) -> Cow<'_, str> {
    if json.bytes().all(|byte| matches!(byte, b' '..=b'~')) {
        return Cow::Borrowed(json);
    }
    let mut out = String::with_capacity(json.len() + 16);
    for letter in json.chars() {
        match letter {
            ' '..='~' => out.push(letter),
            // RFC 8259, section 7: what is beyond the first plane is two.
            _ => {
                for unit in letter.encode_utf16(&mut [0; 2]) {
                    // Writing to memory does not fail.
                    let _ = write!(out, "\\u{unit:04x}");
                }
            }
        }
    }
    Cow::Owned(out)
}

struct Lines {
    text: String,
    count: u64,
    digest: Fnv,
}

impl Lines {
    fn push(&mut self, line: &Line<'_>) {
        // Numbers, texts and lists of them: nothing that JSON does not have.
        if let Ok(text) = serde_json::to_string(line) {
            let text = in_ascii(&text);
            self.text.push_str(&text);
            self.text.push('\n');
            self.digest.line(&[&text]);
            self.count += 1;
        }
    }

    fn named<T: Clone>(
        &mut self,
        of: impl Fn(Named<T>) -> Line<'static>,
        (name, label): (&str, Option<&str>),
        parts: &T,
        ops: Vec<Op>,
    ) {
        let (name, label) = (name.to_owned(), label.map(str::to_owned));
        self.push(&of(Named { name, label, parts: parts.clone(), ops }));
    }

    fn run<T: Clone>(&mut self, of: impl Fn(Run<T>) -> Line<'static>, list: &[T]) {
        for (index, all) in list.chunks(RUN).enumerate() {
            self.push(&of(Run { at: (index * RUN) as u32, all: all.to_vec() }));
        }
    }

    /// What players and authors have names for.
    fn names(&mut self, plan: &Tables) {
        let names = &plan.names;
        for class in plan.catalogue.classes() {
            if let Class::Own(_) = class {
                self.push(&Line::Device(device(&plan.catalogue, class)));
            }
        }
        for (id, name) in names.schemes.entries() {
            let has = |class: &Class| plan.schemes_of_class[class.index()].contains(&id);
            let devices = plan.catalogue.classes().filter(has);
            self.push(&Line::Scheme(Scheme {
                name: name.clone(),
                label: names.scheme_labels[id].clone(),
                devices: devices.map(|class| plan.catalogue.word(class).to_owned()).collect(),
            }));
        }
        for (id, one) in plan.variables.entries() {
            self.named(Line::Number, (&names.variables[id], None), one, Vec::new());
        }
        for (id, one) in plan.maps.entries() {
            let label = names.map_labels[id].as_deref();
            self.named(Line::Map, (&names.maps[id], label), one, Vec::new());
        }
        let ops = |ops: IdRange<OpId>| ops.iter().map(|id| plan.ops[id]).collect();
        for (id, one) in plan.actions.entries() {
            let label = names.action_labels[id].as_deref();
            self.named(Line::Action, (&names.actions[id], label), one, ops(one.shape));
        }
        for (id, one) in plan.bindings.entries() {
            let label = names.binding_labels[id].as_deref();
            self.named(Line::Binding, (&names.bindings[id], label), one, ops(one.ops));
        }
        for (id, one) in plan.alternatives.entries() {
            self.named(Line::Fire, (&names.alternatives[id], None), one, Vec::new());
        }
    }

    /// What operations, uses and the like are made of.
    fn parts(&mut self, plan: &Tables) {
        let names = &plan.names;
        for one in plan.uses.iter() {
            let ControlUse { action, inputs, gather, holders, holds, bindings, pluses } = *one;
            let inputs = inputs.iter().map(|id| input(&plan.inputs[id], names)).collect();
            self.push(&Line::Use(Use { action, gather, holders, holds, bindings, pluses, inputs }));
        }
        plan.pluses.iter().for_each(|one| self.push(&Line::Plus(*one)));
    }

    /// What others point into.
    fn lists(&mut self, plan: &Tables) {
        self.run(Line::Params, plan.params.as_slice());
        self.run(Line::Conditions, &plan.conditions);
        self.run(Line::Guards, &plan.guards);
        self.run(Line::KeptInPause, plan.kept_in_pause.as_slice());
        self.run(Line::UseBindings, &plan.use_bindings);
        self.run(Line::ListedUses, &plan.listed_uses);
        self.run(Line::ListedPluses, &plan.listed_pluses);
        self.run(Line::ListedOps, &plan.listed_ops);
        self.run(Line::ListedActions, &plan.listed);
        self.run(Line::ListedMaps, &plan.listed_maps);
        self.run(Line::ByFile, &plan.by_file);
    }
}

fn input<'a>(one: &PhysicalInput, names: &'a Names) -> Input<'a> {
    let PhysicalInput { of: _, control, device, key, halves } = *one;
    let name = |id: ControlId| Cow::Borrowed(&*names.controls[id]);
    Input { control: name(control), device, key: (key != control).then(|| name(key)), halves }
}

fn device(catalogue: &Catalogue, class: Class) -> Device {
    let name = catalogue.word(class).to_owned();
    let own = catalogue.reported().iter().filter(|one| one.class == class);
    let controls = own.map(|one| DeviceControl {
        name: one.name[name.len() + 1..].to_owned(),
        kind: one.kind,
        stands_for: one.stands_for.map(|id| catalogue.reported()[id.index()].name.to_string()),
    });
    Device { controls: controls.collect(), name }
}
