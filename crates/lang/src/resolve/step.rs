//! Steps: names, numbers and the kind that comes out.

use super::Resolver;
use super::args::Args;
use crate::model::{By, Condition, Number, Pick, Step, StepKind};
use crate::profile::table;
use crate::report::{Diagnostic, FaultKind, did_you_mean, nearest};
use crate::source::Span;
use crate::syntax::{Arg, ArgValue, Step as StepTree};
use harmonym_runtime::base::{Component, Kind};

impl Resolver<'_> {
    /// Resolves steps on a value of `kind`, and gives them with the kind that comes out. `None`
    /// after telling what is wrong; every step is looked at.
    pub(super) fn steps(
        &mut self,
        trees: &[StepTree],
        mut kind: Kind,
        action: Option<Kind>,
    ) -> Option<(Vec<Step>, Kind)> {
        let before = self.diagnostics.len();
        let (mut steps, mut sound) = (Vec::new(), true);
        for tree in trees {
            let more = match tree.is_preset {
                true => self.preset(tree, kind, action),
                false => self.step(tree, kind, action).map(|step| vec![step]),
            };
            sound &= more.is_some();
            for step in more.into_iter().flatten() {
                kind = step.kind.kind_after(kind);
                steps.push(step);
            }
        }
        (sound && self.diagnostics.len() == before).then_some((steps, kind))
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
        let before = self.diagnostics.len();
        let mut faults = [Kind::Plane, Kind::Axis, Kind::Space].map(|kind| {
            self.steps(steps, kind, Some(Kind::Space));
            self.diagnostics.split_off(before)
        });
        faults.sort_by_key(Vec::len);
        let [fewest, ..] = faults;
        let has_faults = !fewest.is_empty();
        for finding in fewest {
            self.diagnostics.push(finding);
        }
        has_faults
    }

    /// Tells that there is no such preset.
    pub(super) fn unknown_preset(&mut self, tree: &StepTree) {
        let name = &tree.name.text;
        let help = did_you_mean(
            nearest(name, self.raw.presets.iter().map(|p| p.name.text.as_str()))
                .map(|near| format!("@{near}")),
            || format!("write its steps under `[preset]`: `{name} = \"deadzone 0.1\"`"),
        );
        self.diagnostics.fault(
            FaultKind::UnknownName,
            tree.span,
            format!("there is no preset `{name}`"),
            help,
        );
    }

    fn preset(&mut self, tree: &StepTree, kind: Kind, action: Option<Kind>) -> Option<Vec<Step>> {
        let name = &tree.name.text;
        let Some(preset) = self.presets.iter().find(|preset| preset.name == *name).cloned() else {
            self.unknown_preset(tree);
            return None;
        };
        // A preset with faults of its own was told of at its place.
        let mut trees = preset.steps?;
        for step in &mut trees {
            step.conditions.extend(tree.conditions.iter().cloned());
        }
        let before = self.diagnostics.len();
        let steps = self.steps(&trees, kind, action);
        for finding in self.diagnostics.split_off(before) {
            let there = finding.span;
            let finding = Diagnostic { span: tree.span, ..finding };
            self.diagnostics.push(finding.with_place(there, "the step of the preset"));
        }
        steps.map(|(steps, _)| steps)
    }

    /// One step on a value of `kind`. `None` after telling what is wrong.
    fn step(&mut self, tree: &StepTree, kind: Kind, action: Option<Kind>) -> Option<Step> {
        let mut conditions = Vec::new();
        for condition in &tree.conditions {
            let named = self.named(&condition.name);
            conditions.extend(named.map(|named| Condition { named, unless: condition.unless }));
        }
        let name = self.look_up(&tree.name.text, tree.name.span, table::STEPS, "a step")?;
        let form = table::STEPS.iter().find(|s| s.name == name).map_or("", |s| s.form);
        let mut args = Args::new(&tree.name, &tree.args, form);
        let form = self.form(name, &mut args, tree.span, kind, action);
        self.no_more(args, names_of(name));
        let form = form?;
        if form.kind_after(kind) != kind
            && let Some(condition) = tree.conditions.first()
        {
            let message = format!("`{name}` changes the kind: it cannot be skipped");
            self.diagnostics.fault(
                FaultKind::WrongKind,
                condition.span,
                message,
                "take the condition out",
            );
            return None;
        }
        Some(Step { kind: form, conditions })
    }

    fn form(
        &mut self,
        name: &str,
        args: &mut Args<'_>,
        span: Span,
        kind: Kind,
        action: Option<Kind>,
    ) -> Option<StepKind> {
        let takes: &[Kind] = match name {
            "not" | "toggle" | "switch-at" => &[Kind::Axis],
            "unit" | "order" | "rotate" => &[Kind::Plane, Kind::Space],
            "ways" => &[Kind::Plane],
            // `onto` and `pick` say themselves what they take.
            "smooth" | "onto" | "pick" => &[kind],
            _ => &[Kind::Axis, Kind::Plane, Kind::Space],
        };
        if !takes.contains(&kind) {
            args.skip_all();
            self.wrong_kind(name, kind, takes, span);
            return None;
        }
        match name {
            "flip" => self.flip(args, kind),
            "not" => Some(StepKind::Not),
            "toggle" => Some(StepKind::Toggle),
            "switch-at" => self.switch_at(args),
            "scale" => self.scale(args, kind),
            "deadzone" => self.deadzone(args),
            "curve" => self.curve(args),
            "cap" => self.needed(args, &table::CAP).map(StepKind::Cap),
            "clamp" => self.clamp(args),
            "unit" => Some(StepKind::Unit),
            "remap" => self.remap(args),
            "onto" => self.onto(args, span, kind, action),
            "order" => self.order(args, kind),
            "rotate" => self.rotate(args, kind),
            "ways" => self.ways(args),
            "ease" => self.ease(args),
            "smooth" => self.needed(args, &table::SMOOTH).map(StepKind::Smooth),
            "travel" => Some(StepKind::Travel),
            "notch" => self.needed(args, &table::NOTCH).map(StepKind::Notch),
            _ => self.pick(args, span, kind),
        }
    }

    /// Tells that a step doesn't take `kind`.
    fn wrong_kind(&mut self, name: &str, kind: Kind, takes: &[Kind], span: Span) {
        let words: Vec<_> = takes.iter().map(|k| k.a_word()).collect();
        let message =
            format!("`{name}` takes {}, but this is {}", words.join(" or "), kind.a_word());
        let help = match kind {
            Kind::Turn => "take it out: of the steps, a turn takes `smooth`",
            Kind::Axis | Kind::Switch => "put it on the whole stick, or take it out",
            _ => "put `pick x` or `pick length` before it, or take it out",
        };
        self.diagnostics.fault(FaultKind::WrongKind, span, message, help);
    }

    /// The number that a step can't do without.
    fn needed(&mut self, args: &mut Args<'_>, spec: &table::Number) -> Option<Number> {
        match args.take() {
            Some(arg) => self.number(arg, spec),
            None => {
                self.missing(args, "a number");
                None
            }
        }
    }

    fn flip(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        let named = args.take_rest();
        if named.is_empty() {
            return Some(StepKind::Flip([true; 3]));
        }
        let mut flips = [false; 3];
        for arg in named {
            flips[self.component(arg, kind)? as usize] = true;
        }
        Some(StepKind::Flip(flips))
    }

    fn switch_at(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let off_arg = args.take_named("off");
        let off = off_arg.map(|arg| self.number(arg, &table::SWITCH_OFF));
        let on = self.needed(args, &table::SWITCH_ON)?;
        let off = match off {
            Some(off) => Some(off?),
            None => None,
        };
        if let (Number::Fixed(on), Some(Number::Fixed(off)), Some(arg)) = (on, off, off_arg)
            && off > on
        {
            let message = "`switch-at` would go off above where it goes on";
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                arg.span,
                message,
                "write an `off` under the on point",
            );
            return None;
        }
        Some(StepKind::SwitchAt { on, off })
    }

    fn scale(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        let mut factors = vec![self.needed(args, &table::SCALE)];
        let rest = args.take_rest();
        factors.extend(rest.iter().map(|arg| self.number(arg, &table::SCALE)));
        let count = kind.components();
        if factors.len() != 1 && factors.len() != count {
            let last = rest.last().map_or(Span::default(), |arg| arg.span);
            let message = format!("`scale` of {} takes one number or {count}", kind.a_word());
            let message =
                if count == 1 { "`scale` of an axis takes one number".to_owned() } else { message };
            self.diagnostics.fault(
                FaultKind::WrongKind,
                last,
                message,
                "give one for all, or one for each component",
            );
            return None;
        }
        factors.into_iter().collect::<Option<_>>().map(StepKind::Scale)
    }

    fn deadzone(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
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
            None => Some(Number::Fixed(1.0)),
        };
        let by = match args.take_named("by") {
            Some(arg) => self.by(arg),
            None => Some(By::Length),
        };
        let (low, full, by) = (low?, full?, by?);
        if let (Number::Fixed(low), Number::Fixed(full)) = (low, full)
            && low >= full
        {
            let span = low_arg.map_or(Span::default(), |arg| arg.span);
            let message =
                format!("the dead zone ends at {low}, which is not under its `full` of {full}");
            let help = "write a low end under `full`, as in `deadzone 0.1 full=0.96`";
            self.diagnostics.fault(FaultKind::OutOfRange, span, message, help);
            return None;
        }
        Some(StepKind::Deadzone { low, full, by })
    }

    fn by(&mut self, arg: &Arg) -> Option<By> {
        match &arg.value {
            ArgValue::Word(word) => {
                self.choice("by", word, &["length", "axes"]).map(|i| [By::Length, By::Axes][i])
            }
            _ => {
                let message = "`by` is `length` or `axes`";
                self.diagnostics.fault(FaultKind::WrongKind, arg.span, message, "write `by=axes`");
                None
            }
        }
    }

    fn curve(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        if !args.is_point() {
            return self.needed(args, &table::CURVE).map(StepKind::Curve);
        }
        let mut points: Vec<(f64, f64)> = Vec::new();
        for arg in args.take_rest() {
            let point = match &arg.value {
                ArgValue::Point(numbers) => numbers.as_slice(),
                _ => &[],
            };
            let [x, y] = point else {
                let message = "a point of `curve` is two numbers in parentheses";
                self.diagnostics.fault(
                    FaultKind::WrongKind,
                    arg.span,
                    message,
                    "write `curve (0.5 0.2) (1 1)`",
                );
                return None;
            };
            let point = (self.plain(x, &table::CURVE_X)?, self.plain(y, &table::CURVE_Y)?);
            if points.last().is_some_and(|last| last.0 >= point.0) {
                let message = "the points of `curve` do not go to the right";
                self.diagnostics.fault(
                    FaultKind::OutOfRange,
                    arg.span,
                    message,
                    "order them by their first number",
                );
                return None;
            }
            points.push(point);
        }
        Some(StepKind::Points(points))
    }

    fn ease(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let (rise, fall) = (args.take_named("rise"), args.take_named("fall"));
        let cut = match args.take_named("reverse") {
            None => Some(false),
            Some(Arg { value: ArgValue::Word(word), .. }) => {
                self.choice("reverse", word, &["cut"]).map(|_| true)
            }
            Some(arg) => {
                self.diagnostics.fault(
                    FaultKind::UnknownWord,
                    arg.span,
                    "this is not a word",
                    "write `reverse=cut`",
                );
                None
            }
        };
        let Some(rise) = rise else {
            self.missing(args, "`rise`");
            return None;
        };
        let rise = self.number(rise, &table::EASE);
        let fall = match fall {
            Some(fall) => self.number(fall, &table::EASE),
            None => rise,
        };
        Some(StepKind::Ease { rise: rise?, fall: fall?, cut: cut? })
    }

    /// Two numbers, the first no greater than the second.
    fn clamp(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let (least, most) = (self.needed(args, &table::CLAMP), self.needed(args, &table::CLAMP));
        let (least, most) = (least?, most?);
        if let (Number::Fixed(low), Number::Fixed(high)) = (least, most)
            && low > high
        {
            let message = format!("`clamp` keeps nothing between {low} and {high}");
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                args.span(),
                message,
                "write the least first: `clamp 0 1`",
            );
            return None;
        }
        Some(StepKind::Clamp(least, most))
    }

    fn remap(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let ends = [(); 4].map(|()| self.needed(args, &table::REMAP));
        let [a, b, c, d] = ends;
        let (a, b, c, d) = (a?, b?, c?, d?);
        if let (Number::Fixed(from), Number::Fixed(to)) = (a, b)
            && from == to
        {
            let message = format!("`remap` cannot spread what lies from {from} to {to}");
            self.diagnostics.fault(
                FaultKind::OutOfRange,
                args.span(),
                message,
                "write two different ends first",
            );
            return None;
        }
        Some(StepKind::Remap([a, b, c, d]))
    }

    fn onto(
        &mut self,
        args: &mut Args<'_>,
        span: Span,
        kind: Kind,
        action: Option<Kind>,
    ) -> Option<StepKind> {
        let Some(arg) = args.take() else {
            self.missing(args, "a component");
            return None;
        };
        let Some(action) = action else {
            let message = "`onto` stands only outside of combinations";
            let help = "put it behind the combination, or use a part without it";
            self.diagnostics.fault(FaultKind::WrongKind, span, message, help);
            return None;
        };
        let component = self.component(arg, action)?;
        if action == Kind::Turn {
            let message = "nothing goes `onto` a part of a turn";
            self.diagnostics.fault(FaultKind::WrongKind, span, message, "take it out");
            return None;
        }
        if kind.components() > 1 {
            let message = format!("`onto` takes an axis, but this is {} already", kind.a_word());
            self.diagnostics.fault(
                FaultKind::WrongKind,
                span,
                message,
                "put `pick x` before it, or take it out",
            );
            return None;
        }
        let kind = if action == Kind::Switch { Kind::Axis } else { action };
        Some(StepKind::Onto(component, kind))
    }

    fn pick(&mut self, args: &mut Args<'_>, span: Span, kind: Kind) -> Option<StepKind> {
        let Some(arg) = args.take() else {
            self.missing(args, "a component");
            return None;
        };
        if kind.components() == 1 || kind == Kind::Turn {
            let message = "`pick` takes a plane or a space, but this is an axis already";
            let message =
                if kind == Kind::Turn { "a turn has no parts to `pick`" } else { message };
            self.diagnostics.fault(FaultKind::WrongKind, span, message, "take it out");
            return None;
        }
        match &arg.value {
            ArgValue::Word(word) if word.text == "length" => Some(StepKind::Pick(Pick::Length)),
            _ => self.component(arg, kind).map(|c| StepKind::Pick(Pick::Component(c))),
        }
    }

    fn order(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        let Some(arg) = args.take() else {
            self.missing(args, "the components in their new order");
            return None;
        };
        let count = kind.components();
        let word = if let ArgValue::Word(word) = &arg.value { word.text.as_str() } else { "" };
        let letters: Vec<_> =
            word.chars().map(|c| Component::from_letter(&c.to_string())).collect();
        let known: Vec<_> = letters.iter().flatten().copied().collect();
        let all_once = Component::ALL.iter().take(count).all(|c| known.contains(c));
        if known.len() != count || letters.len() != count || !all_once {
            let message = format!("`order` of {} names each of its components once", kind.a_word());
            let help = if count == 2 { "write `order yx`" } else { "write `order zxy`, say" };
            self.diagnostics.fault(FaultKind::UnknownWord, arg.span, message, help);
            return None;
        }
        Some(StepKind::Order(known))
    }

    fn rotate(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        let angle = self.needed(args, &table::ROTATE);
        let around = match args.take_named("around") {
            None => Some(Component::Z),
            Some(arg) if kind == Kind::Plane => {
                let message = "a plane turns around nothing but z";
                self.diagnostics.fault(
                    FaultKind::WrongKind,
                    arg.span,
                    message,
                    "take `around` out",
                );
                None
            }
            Some(arg) => self.component(arg, kind),
        };
        Some(StepKind::Rotate(angle?, around?))
    }

    fn ways(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let from = match args.take_named("from") {
            Some(arg) => self.number(arg, &table::WAYS_FROM),
            None => Some(Number::Fixed(0.0)),
        };
        let count = match args.take() {
            Some(arg) => self.count(arg, &table::WAYS),
            None => {
                self.missing(args, "a count");
                None
            }
        };
        Some(StepKind::Ways { count: count?, from: from? })
    }

    /// The component of a `kind` that an argument names.
    fn component(&mut self, arg: &Arg, kind: Kind) -> Option<Component> {
        let component = match &arg.value {
            ArgValue::Word(word) => Component::from_letter(&word.text)
                .filter(|component| (*component as usize) < kind.components()),
            _ => None,
        };
        if component.is_none() {
            let message = format!("this is not a component of {}", kind.a_word());
            let help = match kind.components() {
                1 => "its only one is `x`",
                2 => "write `x` or `y`",
                _ => "write `x`, `y` or `z`",
            };
            self.diagnostics.fault(FaultKind::UnknownWord, arg.span, message, help);
        }
        component
    }
}

/// The names of a step's arguments that have one.
fn names_of(step: &str) -> &'static [&'static str] {
    match step {
        "switch-at" => &["off"],
        "deadzone" => &["full", "by"],
        "rotate" => &["around"],
        "ways" => &["from"],
        "ease" => &["rise", "fall", "reverse"],
        _ => &[],
    }
}
