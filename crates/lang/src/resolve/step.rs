//! Steps: names, numbers and the kind that comes out.

use super::args::Args;
use super::{LONGEST_CHAIN, Resolver};
use crate::model::{By, Condition, Number, Step, StepKind};
use crate::profile::number;
use crate::profile::steps::{self, StepText, StepWord};
use crate::report::{Diagnostic, FaultKind, did_you_mean};
use crate::source::Span;
use crate::syntax::{Arg, ArgValue, Step as StepTree};
use harmonym_runtime::base::Kind;

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
        let (mut steps, mut sound) = (Vec::with_capacity(trees.len()), true);
        for tree in trees {
            let first = steps.len();
            let made = match tree.is_preset {
                true => self.preset(tree, kind, action).map(|more| steps.extend(more)),
                false => self.step(tree, kind, action).map(|step| steps.push(step)),
            };
            sound &= made.is_some();
            kind = steps[first..].iter().fold(kind, |kind, step| step.kind.kind_after(kind));
            if steps.len() > LONGEST_CHAIN {
                let message = format!("the chain has more than {LONGEST_CHAIN} steps");
                self.diagnostics.fault(FaultKind::OutOfRange, tree.span, message, "write fewer");
                return None;
            }
        }
        (sound && self.diagnostics.len() == before).then_some((steps, kind))
    }

    /// Looks at steps behind something of unknown kind.
    pub(super) fn check_steps_alone(&mut self, trees: &[StepTree]) {
        for tree in trees.iter().filter(|tree| !tree.is_preset) {
            self.look_up(&tree.name.text, tree.name.span, StepWord::WORDS, "a step");
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
            self.diagnostics
                .nearest(name, self.raw.presets.iter().map(|p| p.name.text.as_str()))
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
        let name = tree.name.text.as_str();
        let place = self.preset_places.get(name).copied();
        let Some(preset) = place.and_then(|place| self.presets.get(place)).cloned() else {
            self.unknown_preset(tree);
            return None;
        };
        // A preset with faults of its own was told of at its place.
        let mut trees = preset?;
        if !self.has_room(tree, trees.len()) {
            return None;
        }
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
        let name = self.look_up(&tree.name.text, tree.name.span, StepWord::WORDS, "a step")?;
        let word = StepWord::named(name)?;
        let mut args = Args::new(&tree.name, &tree.args, word.text().form);
        let form = self.form(word, &mut args, tree.span, kind, action);
        self.no_more(args, word.text().options);
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
        word: StepWord,
        args: &mut Args<'_>,
        span: Span,
        kind: Kind,
        action: Option<Kind>,
    ) -> Option<StepKind> {
        let StepText { word: name, takes, .. } = word.text();
        // These two say in words of their own what they take.
        let says_itself = matches!(word, StepWord::Onto | StepWord::Pick);
        if !says_itself && !takes.contains(&kind) {
            args.skip_all();
            self.wrong_kind(name, kind, takes, span);
            return None;
        }
        match word {
            StepWord::Flip => self.flip(args, kind),
            StepWord::Not => Some(StepKind::Not),
            StepWord::Toggle => Some(StepKind::Toggle),
            StepWord::SwitchAt => self.switch_at(args),
            StepWord::Scale => self.scale(args, kind),
            StepWord::Deadzone => self.deadzone(args),
            StepWord::Curve => self.curve(args),
            StepWord::Cap => self.needed(args, &steps::CAP).map(StepKind::Cap),
            StepWord::Clamp => self.clamp(args, kind),
            StepWord::Unit => Some(StepKind::Unit),
            StepWord::Remap => self.remap(args),
            StepWord::Onto => self.onto(args, span, kind, action),
            StepWord::Pick => self.pick(args, span, kind),
            StepWord::Order => self.order(args, kind),
            StepWord::Rotate => self.rotate(args, kind),
            StepWord::Ways => self.ways(args),
            StepWord::Notch => self.needed(args, &steps::NOTCH).map(StepKind::Notch),
            StepWord::Ease => self.ease(args),
            StepWord::Smooth => self.needed(args, &steps::SMOOTH).map(StepKind::Smooth),
            StepWord::Travel => Some(StepKind::Travel),
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
    pub(super) fn needed(&mut self, args: &mut Args<'_>, spec: &number::Number) -> Option<Number> {
        match args.take() {
            Some(arg) => self.number(arg, spec),
            None => {
                self.missing(args, "a number");
                None
            }
        }
    }

    fn switch_at(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let off_arg = args.take_named("off");
        let off = off_arg.map(|arg| self.number(arg, &steps::SWITCH_OFF));
        let on = self.needed(args, &steps::SWITCH_ON)?;
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
        let mut factors = vec![self.needed(args, &steps::SCALE)];
        let rest = args.take_rest();
        factors.extend(rest.iter().map(|arg| self.number(arg, &steps::SCALE)));
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
            Some(arg) => self.number(arg, &steps::DEADZONE_LOW),
            None => {
                self.missing(args, "a number");
                None
            }
        };
        let full = match args.take_named("full") {
            Some(arg) => self.number(arg, &steps::DEADZONE_FULL),
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
                self.choice("by", word, steps::BY).map(|i| [By::Length, By::Axes][i])
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
            return self.needed(args, &steps::CURVE).map(StepKind::Curve);
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
            let point = (self.plain(x, &steps::CURVE_X)?, self.plain(y, &steps::CURVE_Y)?);
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
                self.choice("reverse", word, steps::REVERSE).map(|_| true)
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
        let rise = self.number(rise, &steps::EASE);
        let fall = match fall {
            Some(fall) => self.number(fall, &steps::EASE),
            None => rise,
        };
        Some(StepKind::Ease { rise: rise?, fall: fall?, cut: cut? })
    }

    /// Two numbers, the first no greater than the second.
    fn clamp(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        if let Some(Arg { value: ArgValue::Number(most), .. }) = args.only() {
            let most = most.text.trim_start_matches('-');
            let help = match kind {
                Kind::Plane | Kind::Space => {
                    format!(
                        "write `cap {most}` for the length, `clamp -{most} {most}` for each component"
                    )
                }
                _ => format!("write `clamp -{most} {most}`, or `clamp 0 {most}`"),
            };
            let message = "`clamp` has two ends: the least and the most";
            self.diagnostics.fault(FaultKind::Missing, args.span(), message, help);
            args.skip_all();
            return None;
        }
        let (least, most) = (self.needed(args, &steps::CLAMP), self.needed(args, &steps::CLAMP));
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
        let ends = [(); 4].map(|()| self.needed(args, &steps::REMAP));
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

    fn ways(&mut self, args: &mut Args<'_>) -> Option<StepKind> {
        let from = match args.take_named("from") {
            Some(arg) => self.number(arg, &steps::WAYS_FROM),
            None => Some(Number::Fixed(0.0)),
        };
        let count = match args.take() {
            Some(arg) => self.count(arg, &steps::WAYS),
            None => {
                self.missing(args, "a count");
                None
            }
        };
        Some(StepKind::Ways { count: count?, from: from? })
    }
}
