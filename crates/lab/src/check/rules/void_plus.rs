//! `void-plus`: a `+` whose controls cannot be held together.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Chain, Head};
use harmonym_lang::report::Level;
use harmonym_runtime::base::{ControlKind, ControlName, Id};
use harmonym_runtime::controls::Reads;

pub(super) const RULE: Rule = Rule {
    name: "void-plus",
    level: Level::Warning,
    finds: "A `+` whose controls cannot be held together.",
    why: "One thumb would have to push a stick or a cross both ways at once, or a notch of a wheel be held.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for (index, binding) in action.bindings.iter().enumerate() {
            let mut why = None;
            binding.chain.for_each(&mut |chain| {
                if let Head::Sum(parts) = &chain.head {
                    why = why.take().or_else(|| void(context, parts));
                }
            });
            let Some(why) = why else { continue };
            let message = format!("{} never comes this way: {why}", context.profile.address(id));
            let help = "hold it with another control, one that can be held at the same time";
            found.push(Place::binding(context.profile, id, index).tell(message, help));
        }
    }
}

/// Why some parts can't be held together.
fn void(context: &Context<'_>, parts: &[Chain]) -> Option<String> {
    let (_, holders) = parts.split_last()?;
    let single = |part: &Chain| match single_head(part) {
        Some(Head::Control { name, kind, reads, device, .. }) => {
            Some((name.clone(), *kind, *reads, *device))
        }
        _ => None,
    };
    let reported = context.profile.catalogue.reported();
    for holder in holders {
        let Some((name, kind, reads, _)) = single(holder) else { continue };
        let is_notch = match reads {
            Reads::Whole(id) => reported.get(id.index()).is_some_and(|one| one.notch.is_some()),
            _ => false,
        };
        if is_notch {
            return Some(format!("{name} is a notch, let go as soon as it comes"));
        }
        if kind == ControlKind::Relative {
            return Some(format!("{name} moves by something, and is never held"));
        }
    }
    let all: Vec<_> = parts.iter().filter_map(single).collect();
    for (i, (name, _, reads, device)) in all.iter().enumerate() {
        for (other, _, theirs, of) in &all[i + 1..] {
            let same_device = device == of;
            match (reads, theirs) {
                (a, b) if a == b && same_device => {
                    return Some(format!("{name} would have to be held with itself"));
                }
                (Reads::Half(a, part, way), Reads::Half(b, same, other_way))
                    if a == b && part == same && way != other_way && same_device =>
                {
                    return Some(format!("{name} and {other} are two ends of one stick"));
                }
                (Reads::Whole(_), Reads::Whole(_)) if same_device && are_opposite(name, other) => {
                    return Some(format!("{name} and {other} are two ends of one cross"));
                }
                _ => {}
            }
        }
    }
    None
}

/// Whether two controls are opposite arms of the pad's cross.
fn are_opposite(a: &str, b: &str) -> bool {
    let arm = |name| ControlName::new(name).rest.and_then(|rest| rest.strip_prefix("dpad."));
    let both = (arm(a), arm(b));
    let pairs = [("left", "right"), ("up", "down")];
    pairs
        .iter()
        .any(|&(one, other)| both == (Some(one), Some(other)) || both == (Some(other), Some(one)))
}

/// What a chain in parentheses, with steps or not, starts from.
fn single_head(chain: &Chain) -> Option<&Head> {
    match &chain.head {
        Head::Group(inner) => single_head(inner),
        head => Some(head),
    }
}
