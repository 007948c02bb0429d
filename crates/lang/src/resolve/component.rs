//! Steps that name components.

use super::Resolver;
use super::args::Args;
use crate::model::{Pick, StepKind};
use crate::profile::steps;
use crate::report::FaultKind;
use crate::source::Span;
use crate::syntax::{Arg, ArgValue};
use harmonym_runtime::base::{Component, Kind};

impl Resolver<'_> {
    pub(super) fn flip(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
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

    pub(super) fn onto(
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

    pub(super) fn pick(&mut self, args: &mut Args<'_>, span: Span, kind: Kind) -> Option<StepKind> {
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

    pub(super) fn order(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
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

    pub(super) fn rotate(&mut self, args: &mut Args<'_>, kind: Kind) -> Option<StepKind> {
        let angle = self.needed(args, &steps::ROTATE);
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
