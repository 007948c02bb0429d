//! What a control reaches, and what keeps it.

use harmonym_runtime::base::{ActionId, BindingId, ControlId, ControlName, MapId, MapKind};
use harmonym_runtime::controls::{Catalogue, Entry, Reads};
use harmonym_runtime::plan::{PhysicalInput, Plan};

/// Something that can be touched: half-axes of controls, on one device or on all.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Touch {
    parts: Vec<(ControlId, u8)>,
    device: Option<u8>,
}

/// One binding that a control reaches, in one of the maps that its action lives in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reach {
    /// The map.
    pub map: MapId,
    /// The action.
    pub action: ActionId,
    /// The binding.
    pub binding: BindingId,
    /// Whether the control is only held in it while another is worked (`A + B`).
    pub holds: bool,
    /// How many controls have to be held with it.
    pub holders: u8,
    /// What keeps the control from it: the first few.
    pub claimed_by: Vec<Claim>,
    /// Whether there are more of those.
    pub more_claims: bool,
}

/// Of what keeps a control from a binding so many are named.
const MOST_CLAIMS: usize = 16;

/// An action that keeps a control from others while its map is open above theirs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Claim {
    /// The map.
    pub map: MapId,
    /// The action.
    pub action: ActionId,
    /// How many controls have to be held for it: 0 claims for as long as the map is open.
    pub holders: u8,
}

impl Touch {
    /// What `name` touches, as profiles name controls: `pad.left-stick.x`, `key.Shift`,
    /// `pad#2.south`, `char.z`. `None` when there is no such control.
    pub fn named(catalogue: &Catalogue, plan: &Plan, name: &str) -> Option<Self> {
        let name = ControlName::new(name);
        let (rest, device) = (name.rest?, name.device().ok()?);
        let of_char = |c: char| catalogue.key_of(c, plan.layout()).map(Reads::Whole);
        let mut chars = rest.chars();
        let reads = match (name.class, chars.next(), chars.next()) {
            ("char", Some(c), None) => of_char(c)?,
            _ => catalogue.find(&name.plain())?.reads,
        };
        Some(Self { parts: catalogue.touched(reads, plan.layout()), device })
    }

    /// What an entry of the catalogue touches; nothing for what can't be bound.
    pub fn entry(catalogue: &Catalogue, plan: &Plan, entry: &Entry) -> Option<Self> {
        Some(Self { parts: catalogue.touched(entry.reads, plan.layout()), device: None })
    }

    fn meets(&self, input: &PhysicalInput) -> bool {
        let same_device =
            self.device.is_none() || input.device.is_none() || self.device == input.device;
        same_device
            && self.parts.iter().any(|&(control, halves)| {
                (input.key == control || input.control == control) && input.halves & halves != 0
            })
    }
}

/// Every binding that something touched reaches, by map in file order, then in the order of the
/// plan.
pub fn reached(plan: &Plan, touch: &Touch) -> Vec<Reach> {
    let mut all = Vec::new();
    let claiming = claiming(plan, touch);
    for read in plan.uses().iter() {
        if !read.inputs.iter().any(|input| touch.meets(&plan.inputs()[input])) {
            continue;
        }
        for &binding in read.bindings.of(plan.use_bindings()) {
            for &map in plan.actions()[read.action].maps.of(plan.listed_maps()) {
                let (action, holds, holders) = (read.action, read.holds, read.holders);
                let mut claimed_by = match holds {
                    true => Vec::new(),
                    false => claimers(plan, &claiming, map, action),
                };
                let more_claims = claimed_by.len() > MOST_CLAIMS;
                claimed_by.truncate(MOST_CLAIMS);
                all.push(Reach { map, action, binding, holds, holders, claimed_by, more_claims });
            }
        }
    }
    all.sort_by_key(|reach| {
        (reach.map, plan.place_in_file(reach.action), reach.binding, reach.holds)
    });
    all.dedup();
    all
}

/// All that claims some of what is touched, the highest maps first.
fn claiming(plan: &Plan, touch: &Touch) -> Vec<Claim> {
    let mut all = Vec::new();
    for read in plan.uses().iter().filter(|read| !read.holds) {
        let action = &plan.actions()[read.action];
        if action.claim && read.inputs.iter().any(|input| touch.meets(&plan.inputs()[input])) {
            let maps = action.maps.of(plan.listed_maps()).iter().copied();
            let (action, holders) = (read.action, read.holders);
            all.extend(maps.map(|map| Claim { map, action, holders }));
        }
    }
    all.sort_by_key(|claim| {
        (std::cmp::Reverse((plan.maps()[claim.map].rank, plan.maps()[claim.map].kind)), *claim)
    });
    all.dedup();
    all
}

/// The actions of maps that can lie above `map`, other than one: no more than are named, and one.
fn claimers(plan: &Plan, claiming: &[Claim], map: MapId, of: ActionId) -> Vec<Claim> {
    let place = |id: MapId| (plan.maps()[id].rank, plan.maps()[id].kind, id);
    let is_above =
        |claim: &&Claim| claim.action != of && MapKind::can_lie_above(place(claim.map), place(map));
    let mut all: Vec<Claim> =
        claiming.iter().filter(is_above).take(MOST_CLAIMS + 1).copied().collect();
    all.sort();
    all
}
