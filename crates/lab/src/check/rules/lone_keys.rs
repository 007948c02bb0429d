//! `lone-keys`: keys bound one by one to the axes of a plane, of which only one gets through.

use super::keys::{KeyPush, lone_keys, lone_pairs};
use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::Binding;
use harmonym_lang::report::Level;
use harmonym_runtime::base::{Blend, Kind};

pub(super) const RULE: Rule = Rule {
    name: "lone-keys",
    level: Level::Warning,
    finds: "Keys bound one by one to the axes of a plane, of which only one gets through.",
    why: "Two keys together give no diagonal: the blend lets one of them win.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let planes = context.actions().filter(|(_, action)| {
        matches!(action.kind, Kind::Plane | Kind::Space) && action.blend != Blend::Sum
    });
    for (id, action) in planes {
        let mut pushes = lone_keys(context, id, action);
        pushes.extend(lone_pairs(context, id, action));
        for scheme in context.profile.schemes.ids() {
            let own = |push: &&KeyPush| {
                action.bindings[push.binding].scheme.is_none_or(|one| one == scheme)
            };
            let along = |part: usize| pushes.iter().filter(own).find(move |p| p.push[part] != 0.0);
            let (Some(x), Some(y)) = (along(0), along(1).or(along(2))) else { continue };
            if x.binding == y.binding {
                continue;
            }
            let message = format!(
                "{} and {} are bound one by one: `{}` lets only one of them through, so there is no diagonal",
                x.control,
                y.control,
                action.blend.word()
            );
            let keys = |part: usize, positive: bool| {
                let way = |p: &&KeyPush| p.push[part] != 0.0 && (p.push[part] > 0.0) == positive;
                pushes.iter().filter(own).find(way).map_or("…", |p| p.control.as_str())
            };
            let is_pair =
                |push: &&KeyPush| push.control == push.text && push.text.starts_with("pair");
            let bare =
                |push: &KeyPush| push.text.split(" | onto").next().unwrap_or_default().to_owned();
            let all = match is_pair(&x) && is_pair(&y) {
                true => format!("join({}, {}) | cap 1", bare(x), bare(y)),
                false => format!(
                    "four({}, {}, {}, {})",
                    keys(1, true),
                    keys(0, false),
                    keys(1, false),
                    keys(0, true)
                ),
            };
            // It stands for all of them; what else the scheme has stays.
            let own_scheme = |one: &Binding| one.scheme == Some(scheme);
            let rest = action.bindings.iter().enumerate().filter(|(index, one)| {
                own_scheme(one) && pushes.iter().all(|push| push.binding != *index)
            });
            let texts: Vec<String> = std::iter::once(all)
                .chain(rest.map(|(_, one)| one.text.clone()))
                .map(|text| format!("\"{text}\""))
                .collect();
            let written = match &texts[..] {
                [one] => one.clone(),
                many => format!("[{}]", many.join(", ")),
            };
            let name = &context.profile.schemes[scheme].name;
            let help = format!("bind them as one: `bind.{name} = {written}`");
            found.push(Place::binding(context.profile, id, y.binding).tell(message, help));
            break;
        }
    }
}
