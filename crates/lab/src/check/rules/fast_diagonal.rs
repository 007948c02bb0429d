//! `fast-diagonal`: a diagonal that is longer than either direction alone.

use super::keys::{Touches, leaves, together};
use crate::check::{Context, Flow, Place, Range, Remark, Rule, Worth};
use harmonym_lang::report::{Level, Mend};
use harmonym_runtime::base::{Blend, Kind, shortest};

pub(super) const RULE: Rule = Rule {
    name: "fast-diagonal",
    level: Level::Warning,
    finds: "A diagonal that is longer than either direction alone.",
    why: "Walking slantwise is 1.4 times as fast as walking straight.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let planes =
        context.actions().filter(|(_, action)| matches!(action.kind, Kind::Plane | Kind::Space));
    for (id, action) in planes {
        let name = context.profile.address(id);
        let says = |fast: &Fast, worth: &Worth| {
            let [most, alone] =
                [fast.most, fast.alone].map(|v| shortest((v * 1000.0).round() / 1000.0));
            format!(
                "a diagonal of {name} has length {most}, each direction alone at most {alone}{}",
                worth.words()
            )
        };
        let corners = context.corners(id);
        let before = found.len();
        for (index, binding) in action.bindings.iter().enumerate() {
            let leaves = leaves(context, id, index);
            let at = |worth: &Worth| {
                let probe = |touched| context.probe_at(id, index, touched, Some(worth));
                diagonal(&leaves, probe)
            };
            let Some((fast, worth)) = corners.iter().find_map(|worth| Some((at(worth)?, worth)))
            else {
                continue;
            };
            let limit = shortest((fast.alone * 1000.0).round() / 1000.0);
            let place = Place::binding(context.profile, id, index);
            let is_square = binding.text.contains("corner=square");
            let mut remark = match is_square {
                true => place.at("corner").tell(
                    says(&fast, worth),
                    "take `corner=square` out: `four` limits the length by itself",
                ),
                false => {
                    let help = format!("limit the length: `{} | cap {limit}`", binding.text);
                    place.tell(says(&fast, worth), help)
                }
            };
            let capped = match is_square {
                true => binding.text.replace(", corner=square", "").replace(",corner=square", ""),
                false => format!("{} | cap {limit}", binding.text),
            };
            if worth.other.is_empty() {
                remark.diagnostic.mends =
                    vec![Mend::Set(context.profile.binding_address(id, binding), capped)];
            }
            found.push(remark);
        }
        if action.blend != Blend::Sum || found.len() > before {
            continue;
        }
        // Several bindings add up: what one alone does not do, two may.
        let all = |index: usize| leaves(context, id, index);
        let leaves: Vec<_> = (0..action.bindings.len()).flat_map(all).collect();
        let at = |worth: &Worth| {
            let all = Some(worth.all.as_slice());
            let probe =
                |touched| Flow::only(context.profile, touched).with(all).action(id, &|_| true);
            diagonal(&leaves, probe)
        };
        if let Some((fast, worth)) = corners.iter().find_map(|worth| Some((at(worth)?, worth))) {
            let limit = shortest((fast.alone * 1000.0).round() / 1000.0);
            let shape = match &action.shape_text {
                Some(shape) => format!("{shape} | cap {limit}"),
                None => format!("cap {limit}"),
            };
            let help = format!("limit the length after the blend: `shape = \"{shape}\"`");
            found.push(Place::key(context.profile, id, "blend").tell(says(&fast, worth), help));
        }
    }
}

/// How long a diagonal is, and how long each direction alone.
struct Fast {
    most: f64,
    alone: f64,
}

/// The longest diagonal of two touches across each other, if it is longer than each touch alone, where
/// those that count are all as long.
fn diagonal(leaves: &[Touches], probe: impl Fn(Touches) -> Range) -> Option<Fast> {
    let alone: Vec<[f64; 3]> =
        leaves.iter().map(|touches| probe(touches.clone()).exact().unwrap_or_default()).collect();
    let length = |v: &[f64; 3]| v.iter().map(|c| c * c).sum::<f64>().sqrt();
    let longest = alone.iter().map(length).fold(0.0, f64::max);
    // Directions that are as fast as each other, whatever that is; of others it may be meant.
    let apart = |v: &[f64; 3]| length(v) > 0.0 && longest - length(v) > 1e-6;
    if longest == 0.0 || (longest > 1.0 + 1e-6 && alone.iter().any(apart)) {
        return None;
    }
    let limit = longest.max(1.0 - 1e-6) + 1e-6;
    let limit = if alone.iter().any(apart) { limit } else { longest + 1e-6 };
    let across = |a: &[f64; 3], b: &[f64; 3]| {
        let dot: f64 = a.iter().zip(b).map(|(a, b)| a * b).sum();
        length(a) > 0.0 && length(b) > 0.0 && dot.abs() < 1e-9
    };
    let mut most = 0.0_f64;
    for (i, one) in leaves.iter().enumerate() {
        for (j, other) in leaves.iter().enumerate().skip(i + 1) {
            if across(&alone[i], &alone[j]) {
                most = most.max(probe(together(one, other)).length.most);
            }
        }
    }
    (most > limit).then_some(Fast { most, alone: longest })
}
