//! `fast-diagonal`: a diagonal that is longer than either direction alone.

use super::keys::leaves;
use crate::base::{Kind, shortest};
use crate::check::Mend;
use crate::check::{Context, Level, Place, Remark, Rule};

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
        for (index, binding) in action.bindings.iter().enumerate() {
            let leaves = leaves(context, id, index);
            let alone = |touched: &Vec<_>| context.probe(id, index, touched.clone()).length.most;
            let longest = leaves.iter().map(alone).fold(0.0, f64::max);
            if leaves.len() < 2 || longest > 1.0 + 1e-6 || longest == 0.0 {
                continue;
            }
            let mut most = 0.0_f64;
            for (i, one) in leaves.iter().enumerate() {
                for other in &leaves[i + 1..] {
                    let both = super::keys::together(one, other);
                    most = most.max(context.probe(id, index, both).length.most);
                }
            }
            if most <= 1.0 + 1e-6 {
                continue;
            }
            let most = shortest((most * 1000.0).round() / 1000.0);
            let message = format!(
                "a diagonal of {} has length {most}, each direction alone at most 1",
                context.profile.address(id)
            );
            let is_square = binding.text.contains("corner=square");
            let mut remark = match is_square {
                true => Place::binding(context.profile, id, index)
                    .at("corner")
                    .tell(message, "take `corner=square` out: `four` limits the length by itself"),
                false => Place::binding(context.profile, id, index)
                    .tell(message, format!("limit the length: `{} | cap 1`", binding.text)),
            };
            let capped = match is_square {
                true => binding.text.replace(", corner=square", "").replace(",corner=square", ""),
                false => format!("{} | cap 1", binding.text),
            };
            remark.mend = vec![Mend::Set(context.profile.binding_address(id, binding), capped)];
            found.push(remark);
        }
    }
}
