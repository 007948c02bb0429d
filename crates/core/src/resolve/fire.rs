//! Fire rules: triggers and their times.

use super::Resolver;
use super::args::Args;
use crate::base::Kind;
use crate::lang::{self, GuardWord};
use crate::model::{Alternative, Trigger};
use crate::profile::table;
use crate::report::Finding;
use crate::source::Quoted;

/// The fire rule of an action that names none.
pub(super) fn default_rule(kind: Kind) -> Vec<Alternative> {
    let (trigger, text) = match kind {
        Kind::Switch => (Trigger::Press, "press"),
        Kind::Axis | Kind::Plane => (Trigger::While, "while"),
    };
    vec![Alternative { trigger, text: text.to_owned() }]
}

impl Resolver<'_> {
    /// The alternatives of a fire rule. `None` after telling what is wrong.
    pub(super) fn fire(&mut self, text: &Quoted) -> Option<Vec<Alternative>> {
        let tree = lang::parse_fire(text, self.findings)?;
        let before = self.findings.len();
        let all: Vec<_> = tree.alternatives.iter().filter_map(|a| self.alternative(a)).collect();
        (self.findings.len() == before).then_some(all)
    }

    fn alternative(&mut self, tree: &lang::Alternative) -> Option<Alternative> {
        for guard in &tree.guards {
            let word = match guard.word {
                GuardWord::With => "with",
                GuardWord::Without => "without",
                GuardWord::When => "when",
                GuardWord::Unless => "unless",
            };
            let what = format!("the guard `{word}`");
            self.findings.push(Finding::not_yet(guard.span, &what, "take the guard out"));
        }
        let word = &tree.trigger;
        let name = self.look_up(&word.text, word.span, table::TRIGGERS, "a trigger")?;
        let form = table::TRIGGERS.iter().find(|t| t.name == name).map_or("", |t| t.form);
        let mut args = Args::new(word, &tree.args, form);
        let trigger = match name {
            "press" => Some(Trigger::Press),
            "release" => Some(Trigger::Release),
            "while" => Some(Trigger::While),
            _ => match args.take() {
                Some(arg) => self.time(arg, &table::HOLD).map(Trigger::Hold),
                None => {
                    self.missing(&args, "a time");
                    None
                }
            },
        };
        if tree.list.is_some() {
            let message = format!("`{name}` takes no list");
            let help = format!("write `{form}`");
            self.fault(crate::report::Rule::Syntax, tree.span, message, help);
        }
        self.no_more(args, &[]);
        Some(Alternative { trigger: trigger?, text: tree.text.clone() })
    }
}
