//! What stands between a control that is pressed and its action.

use super::record::Record;
use harmonym_runtime::base::{BindingId, PhysicalInputId, PlusId, Time};
use harmonym_runtime::engine::Inside;
use harmonym_runtime::plan::PhysicalInput;

/// What keeps a control from an action.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Blocked {
    /// That binding, of an action of a map before, keeps it for itself, since its map is open.
    Claimed(BindingId, Option<Time>),
    /// That binding with `+` hides it until it is let go; it reports this magnitude.
    Hidden(BindingId, f64),
    /// It was held at that moment, and has not been let go since; it reports this magnitude.
    Muted(Time, f64),
}

impl Blocked {
    /// Whether two come from the same: only what is reported differs.
    pub(super) fn is_like(self, other: Self) -> bool {
        match (self, other) {
            (Self::Claimed(..), _) => self == other,
            (Self::Hidden(a, _), Self::Hidden(b, _)) => a == b,
            (Self::Muted(a, _), Self::Muted(b, _)) => a == b,
            (Self::Hidden(..) | Self::Muted(..), _) => false,
        }
    }
}

/// What keeps a control from its action, if anything does.
pub(super) fn blocked(
    inside: &Inside<'_>,
    id: PhysicalInputId,
    device: usize,
    record: &Record,
) -> Option<Blocked> {
    let touch = inside.touch(id, device);
    let action = inside.plan().uses()[inside.plan().inputs()[id].of].action;
    if !inside.is_active(action) {
        return None;
    }
    if touch.claimed != 0
        && let Some((by, since)) = claimer(inside, id, device, record)
    {
        return Some(Blocked::Claimed(by, since));
    }
    if touch.hidden != 0
        && let Some(plus) = hider(inside, id, device)
    {
        return Some(Blocked::Hidden(inside.plan().pluses()[plus].binding, touch.raw.magnitude()));
    }
    touch.muted.then(|| Blocked::Muted(record.muted_since(id, device), touch.raw.magnitude()))
}

/// Whether two read some of the same of one control on a device.
fn overlap(one: &PhysicalInput, other: &PhysicalInput, device: usize) -> bool {
    let on = |input: &PhysicalInput| input.device.is_none_or(|own| own as usize == device);
    one.key == other.key && one.halves & other.halves != 0 && on(other)
}

/// The first binding of an action in a map before that claims a control, and since when.
fn claimer(
    inside: &Inside<'_>,
    id: PhysicalInputId,
    device: usize,
    record: &Record,
) -> Option<(BindingId, Option<Time>)> {
    let plan = inside.plan();
    let input = &plan.inputs()[id];
    let own = plan.uses()[input.of].action;
    let claims = |other: &_| {
        plan.actions()[*other].claim && inside.is_active(*other) && inside.is_before(*other, own)
    };
    let mut others = plan.by_file().iter().copied().filter(claims);
    others.find_map(|other| {
        let mut uses = plan.actions()[other].uses.iter().map(|used| &plan.uses()[used]);
        let binding = uses.find_map(|used| {
            // A holder claims nothing, and a `+` only while it counts: then it hides.
            let is_plain = !used.holds && used.holders == 0;
            let mut inputs = used.inputs.iter().map(|input| &plan.inputs()[input]);
            let reads = is_plain && inputs.any(|other| overlap(input, other, device));
            let mut bindings = used.bindings.of(plan.use_bindings()).iter().copied();
            bindings.find(|&binding| reads && inside.is_enabled(binding))
        })?;
        Some((binding, record.living_since(inside, other)))
    })
}

/// The `+` that hides a control from an action.
fn hider(inside: &Inside<'_>, id: PhysicalInputId, device: usize) -> Option<PlusId> {
    let plan = inside.plan();
    let input = &plan.inputs()[id];
    let used = &plan.uses()[input.of];
    let hides = |plus: &PlusId| {
        let spec = &plan.pluses()[*plus];
        // In its own map it hides uses with fewer holders; from lower maps it claims.
        let applies = match inside.shares_place(spec.action, used.action) {
            true => spec.count > used.holders,
            false => {
                plan.actions()[spec.action].claim && inside.is_before(spec.action, used.action)
            }
        };
        let uses = spec.uses.of(plan.listed_uses()).iter();
        let mut inputs =
            uses.flat_map(|&of| plan.uses()[of].inputs.iter()).map(|input| &plan.inputs()[input]);
        inside.hides(*plus) && applies && inputs.any(|other| overlap(input, other, device))
    };
    plan.pluses_of()[input.key].iter().copied().find(hides)
}
