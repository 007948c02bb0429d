//! Steps: names, numbers and the kind that comes out.

use super::Resolver;
use super::args::Args;
use crate::base::{Component, Kind};
use crate::lang::{Arg, ArgValue, Step as StepTree};
use crate::model::{By, Pick, Step};
use crate::profile::table;
use crate::report::{Finding, Rule, nearest};
use crate::source::Span;

impl Resolver<'_> {
    /// Resolves steps on a value of `kind`, and gives them with the kind that comes out. `None`
    /// after telling what is wrong; every step is looked at.
    pub(super) fn steps(
        &mut self,
        trees: &[StepTree],
        mut kind: Kind,
        action: Option<Kind>,
    ) -> Option<(Vec<Step>, Kind)> {
        let before = self.findings.len();
        let (mut steps, mut sound) = (Vec::new(), true);
        for tree in trees {
            let more = match tree.is_preset {
                true => self.preset(tree, kind, action),
                false => self.step(tree, kind, action).map(|step| vec![step]),
            };
            sound &= more.is_some();
            for step in more.into_iter().flatten() {
                kind = kind_after(step, kind);
                steps.push(step);
            }
        }
        (sound && self.findings.len() == before).then_some((steps, kind))
    }

    /// Looks at steps behind something of unknown kind.
    pub(super) fn check_steps_alone(&mut self, trees: &[StepTree]) {
        for tree in trees.iter().filter(|tree| !tree.is_preset) {
            self.look_up(&tree.name.text, tree.name.span, table::STEPS, "a step");
        }
    }

    /// Looks at a preset by itself, whichever kind it is for, so that a fault in it is told once
    /// and at its place. Gives whether it has any.
    pub(super) fn check_preset(&mut self, steps: &[StepTree]) -> bool {
        let nested = steps.iter().filter(|tree| tree.is_preset);
        for tree in nested {
            let help = "write its steps here";
            self.findings.push(Finding::not_yet(tree.span, "a preset within a preset", help));
        }
        let own: Vec<_> = steps.iter().filter(|tree| !tree.is_preset).cloned().collect();
        let before = self.findings.len();
        let mut faults = [Kind::Plane, Kind::Axis].map(|kind| {
            self.steps(&own, kind, Some(Kind::Plane));
            self.findings.split_off(before)
        });
        faults.sort_by_key(Vec::len);
        let [fewest, _] = faults;
        let has_faults = !fewest.is_empty() || own.len() < steps.len();
        for finding in fewest {
            self.findings.push(finding);
        }
        has_faults
    }

    fn preset(&mut self, tree: &StepTree, kind: Kind, action: Option<Kind>) -> Option<Vec<Step>> {
        self.no_condition(tree);
        let name = &tree.name.text;
        let Some(preset) = self.presets.iter().find(|preset| preset.name == *name).cloned() else {
            let known = self.presets.iter().map(|preset| preset.name.as_str());
            let help = match nearest(name, known) {
                Some(near) => format!("did you mean `@{near}`?"),
                None => format!("write its steps under `[preset]`: `{name} = \"deadzone 0.1\"`"),
            };
            self.fault(Rule::UnknownName, tree.span, format!("there is no preset `{name}`"), help);
            return None;
        };
        // A preset with faults of its own was told of at its place.
        let trees = preset.steps?;
        let before = self.findings.len();
        let steps = self.steps(&trees, kind, action);
        for finding in self.findings.split_off(before) {
            let there = finding.span;
            let finding = Finding { span: tree.span, ..finding };
            self.findings.push(finding.with_place(there, "the step of the preset"));
        }
        steps.map(|(steps, _)| steps)
    }

    fn no_condition(&mut self, tree: &StepTree) {
        if let Some(condition) = &tree.condition {
            let word = if condition.unless { "unless" } else { "when" };
            let help = "take the condition out";
            let what = format!("`{word}` on a step");
            self.findings.push(Finding::not_yet(condition.span, &what, help));
        }
    }

    /// One step on a value of `kind`. `None` after telling what is wrong.
    fn step(&mut self, tree: &StepTree, kind: Kind, action: Option<Kind>) -> Option<Step> {
        self.no_condition(tree);
        let name = self.look_up(&tree.name.text, tree.name.span, table::STEPS, "a step")?;
        let form = table::STEPS.iter().find(|s| s.name == name).map_or("", |s| s.form);
        let mut args = Args::new(&tree.name, &tree.args, form);
        let (step, known): (Option<Step>, &[&str]) = match name {
            "flip" => (self.flip(&mut args, kind), &[]),
            "scale" => (self.scale(&mut args, kind), &[]),
            "deadzone" => (self.deadzone(&mut args), &["full", "by"]),
            "curve" => (self.curve(&mut args), &[]),
            "cap" => {
                let limit = self.needed(&mut args, &table::CAP);
                (limit.map(|limit| Step::Cap { limit }), &[])
            }
            "onto" => (self.onto(&mut args, tree.span, kind, action), &[]),
            _ => (self.pick(&mut args, tree.span, kind), &[]),
        };
        self.no_more(args, known);
        step
    }

    /// The number that a step can't do without.
    fn needed(&mut self, args: &mut Args<'_>, spec: &table::Number) -> Option<f64> {
        match args.take() {
            Some(arg) => self.number(arg, spec),
            None => {
                self.missing(args, "a number");
                None
            }
        }
    }

    fn flip(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<Step> {
        let named = args.take_rest();
        if named.is_empty() {
            return Some(Step::Flip { x: true, y: kind == Kind::Plane });
        }
        let (mut x, mut y) = (false, false);
        for arg in named {
            match self.component(arg, kind)? {
                Component::X => x = true,
                Component::Y => y = true,
            }
        }
        Some(Step::Flip { x, y })
    }

    fn scale(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<Step> {
        let x = self.needed(args, &table::SCALE);
        let Some(second) = args.take() else { return x.map(|x| Step::Scale { x, y: x }) };
        let y = self.number(second, &table::SCALE);
        if kind != Kind::Plane {
            let message = "an axis has one component: `scale` takes one number here";
            self.fault(Rule::WrongKind, second.span, message, "take the second number out");
            return None;
        }
        Some(Step::Scale { x: x?, y: y? })
    }

    fn deadzone(&mut self, args: &mut Args<'_>) -> Option<Step> {
        let low_arg = args.take();
        let low = match low_arg {
            Some(arg) => self.number(arg, &table::DEADZONE_LOW),
            None => {
                self.missing(args, "a number");
                None
            }
        };
        let full = match args.take_named("full") {
            Some(arg) => self.number(arg, &table::DEADZONE_FULL),
            None => Some(1.0),
        };
        let by = match args.take_named("by") {
            Some(arg) => self.by(arg),
            None => Some(By::Length),
        };
        let (low, full, by) = (low?, full?, by?);
        if low >= full {
            let span = low_arg.map_or(Span::default(), |arg| arg.span);
            let message = format!(
                "the dead zone ends at {}, which is not under its `full` of {}",
                crate::base::shortest(low),
                crate::base::shortest(full)
            );
            let help = "write a low end under `full`, as in `deadzone 0.1 full=0.96`";
            self.fault(Rule::OutOfRange, span, message, help);
            return None;
        }
        Some(Step::Deadzone { low, full, by })
    }

    fn by(&mut self, arg: &Arg) -> Option<By> {
        match &arg.value {
            ArgValue::Word(word) => {
                self.choice("by", word, &["length", "axes"]).map(|i| [By::Length, By::Axes][i])
            }
            _ => {
                let message = "`by` is `length` or `axes`";
                self.fault(Rule::WrongKind, arg.span, message, "write `by=axes`");
                None
            }
        }
    }

    fn curve(&mut self, args: &mut Args<'_>) -> Option<Step> {
        if args.is_point() {
            let points = args.take_rest();
            let span = points.first().map_or(Span::default(), |arg| arg.span);
            let help = "write a power: `curve 1.6`";
            self.findings.push(Finding::not_yet(span, "a curve through points", help));
            return None;
        }
        self.needed(args, &table::CURVE).map(|power| Step::Curve { power })
    }

    fn onto(
        &mut self,
        args: &mut Args<'_>,
        span: Span,
        kind: Kind,
        action: Option<Kind>,
    ) -> Option<Step> {
        let Some(arg) = args.take() else {
            self.missing(args, "a component");
            return None;
        };
        let Some(action) = action else {
            let message = "`onto` stands only outside of composites";
            let help = "put it behind the composite, or use a part without it";
            self.fault(Rule::WrongKind, span, message, help);
            return None;
        };
        let component = self.component(arg, action)?;
        if kind == Kind::Plane {
            let message = "`onto` takes an axis, but this is a plane already";
            self.fault(Rule::WrongKind, span, message, "put `pick x` before it, or take it out");
            return None;
        }
        let kind = if action == Kind::Plane { Kind::Plane } else { Kind::Axis };
        Some(Step::Onto { component, kind })
    }

    fn pick(&mut self, args: &mut Args<'_>, span: Span, kind: Kind) -> Option<Step> {
        let Some(arg) = args.take() else {
            self.missing(args, "a component");
            return None;
        };
        let what = match &arg.value {
            ArgValue::Word(word) if word.text == "length" => Pick::Length,
            _ => Pick::Component(self.component(arg, Kind::Plane)?),
        };
        if kind != Kind::Plane {
            let message = "`pick` takes a plane, but this is an axis already";
            self.fault(Rule::WrongKind, span, message, "take it out");
            return None;
        }
        Some(Step::Pick(what))
    }

    /// The component of a `kind` that an argument names.
    fn component(&mut self, arg: &Arg, kind: Kind) -> Option<Component> {
        let component = match &arg.value {
            ArgValue::Word(word) => match word.text.as_str() {
                "x" => Some(Component::X),
                "y" if kind == Kind::Plane => Some(Component::Y),
                _ => None,
            },
            _ => None,
        };
        if component.is_none() {
            let message = format!("this is not a component of {}", kind.a_word());
            let help = if kind == Kind::Plane { "write `x` or `y`" } else { "its only one is `x`" };
            self.fault(Rule::UnknownWord, arg.span, message, help);
        }
        component
    }
}

/// The kind that a step gives for an input of `kind`.
fn kind_after(step: Step, kind: Kind) -> Kind {
    match step {
        Step::Pick(_) => Kind::Axis,
        Step::Onto { kind, .. } => kind,
        _ => kind,
    }
}
