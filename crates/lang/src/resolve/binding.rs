//! Bindings: combinations, their parts, and the kinds that come out.

use super::Resolver;
use crate::model::{Chain, Corner, Four, Head, Opposed, Pair};
use crate::profile::table;
use crate::report::{Diagnostic, FaultKind, did_you_mean, nearest};
use crate::source::Span;
use crate::syntax::{self, Combination, Part, Word};
use harmonym_runtime::base::{Kind, MapId, SchemeId};

/// The most controls that a `+` holds together.
const MOST_HELD: usize = 10;

/// Where an expression stands.
#[derive(Clone, Copy)]
pub(super) struct Scope {
    /// `None` for `bind.all`.
    pub scheme: Option<SchemeId>,
    /// The map whose actions may be named without it.
    pub map: MapId,
    /// The action's kind, where `onto` may give it; `None` inside combinations.
    pub action: Option<Kind>,
}

/// A combination's parts by name, in the order of `names`.
struct Parts {
    chains: Vec<(Chain, Span)>,
}

impl Resolver<'_> {
    /// What a binding yields. `None` after telling what is wrong.
    pub(super) fn chain(&mut self, tree: &syntax::Binding, scope: Scope) -> Option<Chain> {
        let head = self.head(&tree.head, scope);
        let Some(mut chain) = head else {
            // The kind is unknown: the steps are still looked at for words and numbers.
            self.check_steps_alone(&tree.steps);
            return None;
        };
        (chain.steps, chain.kind) = self.steps(&tree.steps, chain.kind, scope.action)?;
        Some(chain)
    }

    fn head(&mut self, head: &syntax::Head, scope: Scope) -> Option<Chain> {
        match head {
            syntax::Head::Control(word) if word.text.starts_with("act.") => {
                self.act(word, scope.map)
            }
            syntax::Head::Control(word) => self.control(word, scope.scheme),
            syntax::Head::Combination(combination) => self.combination(combination, scope),
            syntax::Head::Group(binding) => {
                let inner = self.chain(binding, scope)?;
                let kind = inner.kind;
                Some(Chain { head: Head::Group(Box::new(inner)), steps: Vec::new(), kind })
            }
            syntax::Head::Sum(parts, span) => {
                if parts.len() > MOST_HELD {
                    let message = format!("{} controls are held together here", parts.len());
                    let help = format!("hands hold {MOST_HELD} at most");
                    self.diagnostics.fault(FaultKind::TooMuch, *span, message, help);
                }
                let scope = Scope { action: None, ..scope };
                let parts: Vec<_> = parts.iter().map(|part| self.head(part, scope)).collect();
                let head = Head::Sum(parts.into_iter().collect::<Option<_>>()?);
                let kind = head.kind();
                Some(Chain { head, steps: Vec::new(), kind })
            }
        }
    }

    fn combination(&mut self, tree: &Combination, scope: Scope) -> Option<Chain> {
        let name =
            self.look_up(&tree.name.text, tree.name.span, table::COMBINATIONS, "a combination");
        let scope = Scope { action: None, ..scope };
        let Some(name) = name else {
            for part in &tree.parts {
                self.chain(&part.binding, scope);
            }
            return None;
        };
        if matches!(name, "join" | "any") {
            return self.gathering(tree, name, scope);
        }
        let is_four = name == "four";
        let names: &[&str] =
            if is_four { &["up", "left", "down", "right"] } else { &["neg", "pos"] };
        let options = self.options(tree, is_four);
        let parts = self.parts(tree, names, scope);
        let (opposed, corner) = options?;
        let mut parts = parts?.chains.into_iter();
        let pair = |neg: Option<(Chain, Span)>, pos: Option<(Chain, Span)>| {
            let ((neg, neg_span), (pos, pos_span)) = (neg?, pos?);
            Some(Pair { neg, pos, opposed, pos_first: pos_span < neg_span })
        };
        if is_four {
            let (up, left, down, right) = (parts.next(), parts.next(), parts.next(), parts.next());
            let (x, y) = (pair(left, right)?, pair(down, up)?);
            let head = Head::Four(Box::new(Four { x, y, corner }));
            return Some(Chain { head, steps: Vec::new(), kind: Kind::Plane });
        }
        let head = Head::Pair(Box::new(pair(parts.next(), parts.next())?));
        Some(Chain { head, steps: Vec::new(), kind: Kind::Axis })
    }

    /// `join` and `any`: parts that go side by side.
    fn gathering(&mut self, tree: &Combination, name: &str, scope: Scope) -> Option<Chain> {
        for (option, _) in &tree.options {
            let message = format!("`{name}` has no `{}`", option.text);
            self.diagnostics.fault(FaultKind::UnknownWord, option.span, message, "take it out");
        }
        let names: &[&str] = if name == "join" { &["x", "y", "z"] } else { &[] };
        let mut parts: Vec<Option<(usize, Chain)>> = Vec::new();
        for (index, part) in tree.parts.iter().enumerate() {
            let place = match &part.name {
                None => Some(index),
                Some(word) if name == "join" => {
                    let found = names.iter().position(|&n| n == word.text);
                    if found.is_none() {
                        self.unknown_part(word, tree, names);
                    }
                    found
                }
                Some(word) => {
                    let message = "the parts of `any` have no names";
                    self.diagnostics.fault(
                        FaultKind::UnknownWord,
                        word.span,
                        message,
                        "take the name out",
                    );
                    None
                }
            };
            let chain = match name {
                "join" => self.part(part, tree, scope),
                _ => self.chain(&part.binding, scope),
            };
            parts.push(place.zip(chain));
        }
        let most = if name == "join" { 3 } else { 64 };
        if !(2..=most).contains(&parts.len()) {
            let message = format!("`{name}` has {} parts", parts.len());
            let help = if name == "join" { "write two or three" } else { "write two or more" };
            self.diagnostics.fault(FaultKind::Missing, tree.span, message, help);
            return None;
        }
        let mut parts: Vec<(usize, Chain)> = parts.into_iter().collect::<Option<_>>()?;
        parts.sort_by_key(|(place, _)| *place);
        if let Some(twice) = parts.windows(2).position(|pair| pair[0].0 == pair[1].0) {
            let message = format!("`{}` is given twice", names[parts[twice].0]);
            self.diagnostics.fault(FaultKind::UsedTwice, tree.span, message, "keep one of them");
            return None;
        }
        let chains: Vec<Chain> = parts.into_iter().map(|(_, chain)| chain).collect();
        if let Some(odd) = chains.iter().find(|chain| chain.kind != chains[0].kind) {
            let message = format!(
                "the parts of `any` are of two kinds: {} and {}",
                chains[0].kind.word(),
                odd.kind.word()
            );
            let help = "parts of `any` share a kind: use `pick` in one of them";
            self.diagnostics.fault(FaultKind::WrongKind, tree.span, message, help);
            return None;
        }
        let head = if name == "join" { Head::Join(chains) } else { Head::Any(chains) };
        let kind = head.kind();
        Some(Chain { head, steps: Vec::new(), kind })
    }

    fn options(&mut self, tree: &Combination, is_four: bool) -> Option<(Opposed, Corner)> {
        let (mut opposed, mut corner) = (Some(Opposed::Cancel), Some(Corner::Round));
        let mut seen: Vec<&str> = Vec::new();
        for (name, word) in &tree.options {
            if seen.contains(&name.text.as_str()) {
                let message = format!("`{}` is given twice", name.text);
                self.diagnostics.fault(
                    FaultKind::UsedTwice,
                    name.span,
                    message,
                    "keep one of them",
                );
            }
            seen.push(&name.text);
            if name.text == "opposed" {
                use Opposed::{Cancel, Neg, Newest, Oldest, Pos};
                let found = self.choice("opposed", word, table::OPPOSED);
                opposed = found.map(|i| [Cancel, Newest, Oldest, Neg, Pos][i]);
            } else if is_four {
                let found = self.choice("corner", word, table::CORNERS);
                corner = found.map(|i| [Corner::Round, Corner::Square][i]);
            } else {
                let message = "`pair` has no corners";
                self.diagnostics.fault(
                    FaultKind::UnknownWord,
                    name.span,
                    message,
                    "only `four` takes `corner`",
                );
                corner = None;
            }
        }
        Some((opposed?, corner?))
    }

    /// The parts in the order of `names`, each an axis.
    fn parts(&mut self, tree: &Combination, names: &[&str], scope: Scope) -> Option<Parts> {
        let mut slots: Vec<Option<(Option<Chain>, Span)>> = vec![None; names.len()];
        let mut sound = true;
        for (index, part) in tree.parts.iter().enumerate() {
            let chain = self.part(part, tree, scope);
            let Some(slot) = self.slot(part, index, tree, names) else {
                sound = false;
                continue;
            };
            let span = part.binding.span;
            if let Some((_, first)) = &slots[slot] {
                let message = format!("`{}` is given twice", names[slot]);
                let finding =
                    Diagnostic::fault(FaultKind::UsedTwice, span, message, "keep one of them");
                self.diagnostics.push(finding.with_place(*first, "the first one"));
                sound = false;
            }
            slots[slot] = Some((chain, span));
        }
        let missing: Vec<_> = names.iter().zip(&slots).filter(|(_, s)| s.is_none()).collect();
        if sound && !missing.is_empty() {
            let wanted: Vec<_> = missing.iter().map(|(name, _)| **name).collect();
            let count = names.len();
            let message =
                format!("`{}` has {count} parts; {} is missing", tree.name.text, wanted.join(", "));
            let form = if count == 4 { "four(UP, LEFT, DOWN, RIGHT)" } else { "pair(NEG, POS)" };
            self.diagnostics.fault(
                FaultKind::Missing,
                tree.span,
                message,
                format!("write `{form}`"),
            );
            return None;
        }
        let chains: Option<Vec<_>> = slots
            .into_iter()
            .map(|slot| slot.and_then(|(chain, span)| Some((chain?, span))))
            .collect();
        sound.then_some(Parts { chains: chains? })
    }

    /// One part's chain, which must be an axis.
    fn part(&mut self, part: &Part, tree: &Combination, scope: Scope) -> Option<Chain> {
        let chain = self.chain(&part.binding, scope)?;
        if chain.kind == Kind::Axis {
            return Some(chain);
        }
        let message = format!(
            "a part of `{}` is an axis, but this is {}",
            tree.name.text,
            chain.kind.a_word()
        );
        let help = "name one side of it, such as `pad.left-stick.up`";
        self.diagnostics.fault(FaultKind::WrongKind, part.binding.span, message, help);
        None
    }

    /// Which of `names` a part is.
    fn slot(
        &mut self,
        part: &Part,
        index: usize,
        tree: &Combination,
        names: &[&str],
    ) -> Option<usize> {
        let Some(name) = &part.name else {
            if index < names.len() {
                return Some(index);
            }
            let message = format!("`{}` has only {} parts", tree.name.text, names.len());
            let help = format!("they are {}", names.join(", "));
            self.diagnostics.fault(FaultKind::Syntax, part.binding.span, message, help);
            return None;
        };
        let found = names.iter().position(|&n| n == name.text);
        if found.is_none() {
            self.unknown_part(name, tree, names);
        }
        found
    }

    fn unknown_part(&mut self, name: &Word, tree: &Combination, names: &[&str]) {
        let known = names.iter().copied().chain(["opposed", "corner"]);
        let help = did_you_mean(nearest(&name.text, known).map(|near| format!("{near}=")), || {
            format!("its parts are {}", names.join(", "))
        });
        let message = format!("`{}` has no part `{}`", tree.name.text, name.text);
        self.diagnostics.fault(FaultKind::UnknownWord, name.span, message, help);
    }
}
