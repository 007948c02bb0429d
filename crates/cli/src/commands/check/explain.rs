//! `check --explain`: a rule's page, with a profile that breaks it and the same mended.

use crate::failure::Failure;
use crate::output::Output;
use crate::output::style::{Ink, wrapped};
use harmonym_lab::check::{RULES, Rule};
use harmonym_lang::report::{did_you_mean, nearest};

/// A rule's name with its two profiles.
macro_rules! example {
    ($name:literal) => {
        (
            $name,
            include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/demo/faulty/", $name, ".toml")),
            include_str!(concat!(
                env!("CARGO_MANIFEST_DIR"),
                "/demo/faulty/",
                $name,
                ".mended.toml"
            )),
        )
    };
}

/// Each rule's profile that breaks it, and the same mended.
const EXAMPLES: &[(&str, &str, &str)] = &[
    example!("alike-names"),
    example!("void-plus"),
    example!("turning-press"),
    example!("setting-kills"),
    example!("sequence-time"),
    example!("rare-keys"),
    example!("modifier-last"),
    example!("letter-as-shortcut"),
    example!("late-press"),
    example!("human-times"),
    example!("drifting-blend"),
    example!("double-step"),
    example!("distance-bent"),
    example!("dead-yield"),
    example!("claim-in-vain"),
    example!("busy-holder"),
    example!("brief-guard"),
    example!("crossed-signs"),
    example!("double-fire"),
    example!("every-tick"),
    example!("fast-diagonal"),
    example!("half-reach"),
    example!("hold-only"),
    example!("idle-step"),
    example!("idle-waiver"),
    example!("letters-as-places"),
    example!("lone-keys"),
    example!("many-keys"),
    example!("mixed-travel"),
    example!("never-fires"),
    example!("never-opens"),
    example!("no-hysteresis"),
    example!("no-rebind"),
    example!("no-way-out"),
    example!("raw-stick"),
    example!("same-direction"),
    example!("scheme-gap"),
    example!("shadowed-keys"),
    example!("shared-control"),
    example!("step-order"),
    example!("system-key"),
    example!("unreachable"),
    example!("unused"),
];

/// There is no such rule.
pub fn unknown_rule(name: &str) -> Failure {
    let names = RULES.iter().map(|rule| rule.name);
    let help = did_you_mean(nearest(name, names.clone()), || {
        format!("the rules are {}", names.collect::<Vec<_>>().join(", "))
    });
    Failure::new(format!("there is no rule `{name}`"), help)
}

pub fn run(name: &str, output: &mut Output) -> Result<(), Failure> {
    output.page();
    let rule = Rule::named(name).ok_or_else(|| unknown_rule(name))?;
    let (look, width) = (output.look, output.look.width);
    output.line(&format!("{} ({})", look.paint(Ink::Strong, rule.name), rule.level.word()))?;
    output.line(&wrapped(rule.finds, width))?;
    output.line("")?;
    output.line(&wrapped(rule.why, width))?;
    let example = EXAMPLES.iter().find(|(known, ..)| *known == rule.name);
    let Some((_, faulty, mended)) = example else { return Ok(()) };
    for (title, text) in [("A profile that has it:", faulty), ("The same, mended:", mended)] {
        output.line("")?;
        output.line(&look.paint(Ink::Head, title))?;
        text.lines().try_for_each(|line| output.line(&format!("  {line}")))?;
    }
    output.line("")?;
    let off =
        format!("Where it is meant: waive = [\"{name}\"] in the profile, a map or an action.");
    output.line(&wrapped(&off, width))
}
