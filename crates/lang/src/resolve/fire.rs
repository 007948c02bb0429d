//! Fire rules: cues, their numbers and guards.

use super::Resolver;
use super::args::Args;
use crate::model::{ActionId, Alternative, Cue, Guard, Number};

use crate::profile::cues::{self, CueText, CueWord};
use crate::profile::{self, number};
use crate::report::FaultKind;
use crate::source::{Quoted, Span};
use crate::syntax::{self, GuardWord};
use harmonym_runtime::base::{Kind, MapId};

/// The fire rule of an action that names none.
pub(super) fn default_rule(kind: Kind) -> Vec<Alternative> {
    let (cue, text) = match kind {
        Kind::Switch => (Cue::Press, "press"),
        Kind::Axis | Kind::Plane | Kind::Space | Kind::Turn => (Cue::While, "while"),
    };
    vec![Alternative { cue, guards: Vec::new(), text: text.to_owned() }]
}

/// The action whose rule it is.
#[derive(Clone, Copy)]
pub(super) struct Owner<'a> {
    pub raw: &'a profile::Action,
    pub map: MapId,
    pub kind: Option<Kind>,
}

impl Resolver<'_> {
    /// The alternatives of a fire rule. `None` after telling what is wrong.
    pub(super) fn fire(&mut self, text: &Quoted, owner: Owner<'_>) -> Option<Vec<Alternative>> {
        let tree = syntax::parse_fire(text, self.diagnostics)?;
        let before = self.diagnostics.len();
        let trees = &tree.alternatives;
        let all: Vec<_> = trees.iter().filter_map(|a| self.alternative(a, owner)).collect();
        let sequence = trees.iter().find(|a| a.cue.text == "sequence");
        if let Some(sequence) = sequence {
            self.check_sequence(sequence.span, trees.len(), owner);
        }
        (self.diagnostics.len() == before).then_some(all)
    }

    fn check_sequence(&mut self, span: Span, alternatives: usize, owner: Owner<'_>) {
        let has_bindings = owner.raw.binds.iter().any(|(_, all)| !all.is_empty());
        let (message, help) = if alternatives > 1 {
            ("`sequence` stands alone in its rule", "make an action of its own for it")
        } else if owner.kind.is_some_and(|kind| kind != Kind::Switch) {
            ("`sequence` is for a switch", "write `value = \"switch\"`")
        } else if has_bindings {
            ("an action with a `sequence` has no bindings", "bind the actions that it lists")
        } else {
            return;
        };
        self.diagnostics.fault(FaultKind::WrongKind, span, message, help);
    }

    fn alternative(&mut self, tree: &syntax::Alternative, owner: Owner<'_>) -> Option<Alternative> {
        let guards: Vec<_> = tree.guards.iter().map(|guard| self.guard(guard, owner.map)).collect();
        let word = &tree.cue;
        let name = self.look_up(&word.text, word.span, CueWord::WORDS, "a cue")?;
        let known = CueWord::named(name)?;
        let CueText { form, options, .. } = known.text();
        let mut args = Args::new(word, &tree.args, form);
        let cue = self.cue(known, tree, &mut args, owner);
        if tree.list.is_some() && known != CueWord::Sequence {
            let message = format!("`{name}` takes no list");
            self.diagnostics.fault(
                FaultKind::Syntax,
                tree.span,
                message,
                format!("write `{form}`"),
            );
        }
        self.no_more(args, options);
        let guards = guards.into_iter().collect::<Option<_>>()?;
        Some(Alternative { cue: cue?, guards, text: tree.text.clone() })
    }

    fn cue(
        &mut self,
        word: CueWord,
        tree: &syntax::Alternative,
        args: &mut Args<'_>,
        owner: Owner<'_>,
    ) -> Option<Cue> {
        match word {
            CueWord::Press => Some(Cue::Press),
            CueWord::Release => Some(Cue::Release),
            CueWord::While => Some(Cue::While),
            CueWord::Change => Some(Cue::Change),
            CueWord::Hold => self.duration(args, &cues::HOLD).map(Cue::Hold),
            CueWord::Tap => self.duration(args, &cues::TAP).map(Cue::Tap),
            CueWord::Charge => self.duration(args, &cues::CHARGE).map(Cue::Charge),
            CueWord::Taps => {
                let count = match args.take() {
                    Some(arg) => self.count(arg, &cues::TAPS),
                    None => {
                        self.missing(args, "a count");
                        None
                    }
                };
                let gap = self.named_duration(args, "gap", &cues::TAPS_GAP);
                Some(Cue::Taps { count: count?, gap: gap? })
            }
            CueWord::Repeat => {
                let every = self.duration(args, &cues::REPEAT);
                let after = match args.take_named("after") {
                    Some(arg) => Some(self.number(arg, &cues::REPEAT_AFTER)?),
                    None => None,
                };
                Some(Cue::Repeat { every: every?, after })
            }
            CueWord::Sequence => {
                let within = self.named_duration(args, "within", &cues::SEQUENCE);
                let Some(list) = &tree.list else {
                    self.missing(args, "a list of actions");
                    return None;
                };
                let steps: Vec<_> = list
                    .iter()
                    .map(|word| self.action_id(&word.text, word.span, owner.map))
                    .collect();
                let steps: Option<Vec<_>> = steps.into_iter().collect();
                Some(Cue::Sequence { steps: steps?, within: within? })
            }
        }
    }

    fn duration(&mut self, args: &mut Args<'_>, spec: &number::Number) -> Option<Number> {
        match args.take() {
            Some(arg) => self.number(arg, spec),
            None => {
                self.missing(args, "a time");
                None
            }
        }
    }

    fn named_duration(
        &mut self,
        args: &mut Args<'_>,
        name: &str,
        spec: &number::Number,
    ) -> Option<Number> {
        match args.take_named(name) {
            Some(arg) => self.number(arg, spec),
            None => {
                self.missing(args, &format!("`{name}=` and a time"));
                None
            }
        }
    }

    fn guard(&mut self, tree: &syntax::Guard, map: MapId) -> Option<Guard> {
        let word = &tree.name;
        match tree.word {
            GuardWord::With => self.action_id(&word.text, word.span, map).map(Guard::With),
            GuardWord::Without => self.action_id(&word.text, word.span, map).map(Guard::Without),
            GuardWord::When => self.named(word).map(Guard::When),
            GuardWord::Unless => self.named(word).map(Guard::Unless),
        }
    }

    /// The actions that an action yields to.
    pub(super) fn yields(&mut self, owner: Owner<'_>, fire: &[Alternative]) -> Vec<ActionId> {
        let raw = &owner.raw.yields_to;
        let never = fire.iter().find(|alternative| {
            use Cue::{Change, Repeat, Sequence, While};
            matches!(alternative.cue, While | Change | Repeat { .. } | Sequence { .. })
        });
        if let (Some(alternative), Some(first)) = (never, raw.first()) {
            let word = alternative.text.split([' ', '(']).next().unwrap_or_default();
            let message = format!("an action with `{word}` yields to nothing");
            self.diagnostics.fault(
                FaultKind::WrongKind,
                first.span(),
                message,
                "take `yields-to` out",
            );
        }
        raw.iter().filter_map(|name| self.action_id(name.value(), name.span(), owner.map)).collect()
    }
}
