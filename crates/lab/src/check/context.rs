//! What the rules share: every use of every control, ranges, and which maps meet.

use super::flow::Flow;
use super::interval::{Interval, Range};
use super::rules::{Pair, each_pair};
use super::worth::{Worth, corners};
use harmonym_lang::model::{
    Action, ActionId, Binding, Chain, Cue, Head, Number, Profile, Step, StepKind,
};
use harmonym_lang::profile::steps::StepWord;
use harmonym_runtime::base::{
    AT_REST, Class, ControlId, ControlKind, Id, Kind, MapId, MapKind, SchemeId, Table,
};
use harmonym_runtime::controls::{Layout, Reads};
use std::cell::{OnceCell, RefCell};
use std::collections::{BTreeSet, HashMap};

/// One control in one binding.
#[derive(Clone, Debug)]
pub struct Use {
    /// The action.
    pub action: ActionId,
    /// The binding, by its place among the action's.
    pub binding: usize,
    /// The control as written.
    pub name: String,
    /// What it is.
    pub kind: ControlKind,
    /// What it touches: controls with half-axes.
    pub parts: Vec<(ControlId, u8)>,
    /// On which device only.
    pub device: Option<u8>,
    /// The controls that are held with it, sorted.
    pub holders: Vec<String>,
    /// Whether it is only held while another is worked.
    pub holds: bool,
}

/// A use of a control is compared with so many later ones: those of its map, those of maps that lie on
/// any, and, where its own lies on any, all.
const MOST_COMPARED: usize = 256;

/// What the rules share.
pub struct Context<'a> {
    /// The profile.
    pub profile: &'a Profile,
    /// The maps that scores open.
    pub opened: &'a BTreeSet<MapId>,
    /// The maps that were opened right as an action fired in a score, each with that action.
    pub openers: BTreeSet<(MapId, ActionId)>,
    /// Every use, in the order of the file.
    pub uses: Vec<Use>,
    /// The uses of each control by the actions that live in a solo map.
    in_solo: HashMap<(ControlId, MapId), Vec<usize>>,
    /// The uses of each control by actions that live in a map of another kind.
    in_others: HashMap<ControlId, Vec<usize>>,
    /// The uses of each control.
    by_control: HashMap<ControlId, Vec<usize>>,
    /// Where the uses of each binding begin and end.
    by_binding: HashMap<(ActionId, usize), (usize, usize)>,
    /// Which half-axes of its controls each use feels, as far as that was asked for.
    felt: RefCell<HashMap<(usize, ControlId), u8>>,
    /// The same of buttons: whether a use feels one.
    felt_buttons: RefCell<HashMap<(usize, ControlId), bool>>,
    pairs: OnceCell<Vec<Pair>>,
    /// The maps each action lives in.
    pub maps_of: Table<ActionId, Vec<MapId>>,
    /// What each action can give, all schemes together.
    pub ranges: Table<ActionId, Range>,
}

impl<'a> Context<'a> {
    /// Looks a profile through.
    pub fn new(profile: &'a Profile, opened: &'a BTreeSet<MapId>) -> Self {
        let mut maps_of: Vec<Vec<MapId>> = profile.actions.iter().map(|a| vec![a.map]).collect();
        for (id, map) in profile.maps.entries() {
            map.also.iter().for_each(|action| maps_of[action.index()].push(id));
        }
        let mut flow = Flow::any(profile);
        let ranges: Vec<Range> =
            profile.actions.ids().map(|id| flow.action(id, &|_| true)).collect();
        let mut uses = Vec::new();
        for (id, action) in profile.actions.entries() {
            for (index, binding) in action.bindings.iter().enumerate() {
                let mut walk = Walk { profile, action: id, binding: index, uses: &mut uses };
                walk.chain(&binding.chain, &[], false);
            }
        }
        let solo = |map: MapId| profile.maps[map].kind == MapKind::Solo;
        let mut in_solo: HashMap<(ControlId, MapId), Vec<usize>> = HashMap::new();
        let mut in_others: HashMap<ControlId, Vec<usize>> = HashMap::new();
        let mut by_control: HashMap<ControlId, Vec<usize>> = HashMap::new();
        let mut by_binding: HashMap<(ActionId, usize), (usize, usize)> = HashMap::new();
        for (index, one) in uses.iter().enumerate() {
            for (control, _) in &one.parts {
                by_control.entry(*control).or_default().push(index);
                let maps = &maps_of[one.action.index()];
                for &map in maps.iter().filter(|map| solo(**map)) {
                    in_solo.entry((*control, map)).or_default().push(index);
                }
                if !maps.iter().all(|map| solo(*map)) {
                    in_others.entry(*control).or_default().push(index);
                }
            }
            let (_, end) = by_binding.entry((one.action, one.binding)).or_insert((index, index));
            *end = index + 1;
        }
        let (maps_of, ranges) = (maps_of.into(), ranges.into());
        let (felt, pairs) = (RefCell::default(), OnceCell::new());
        let openers = BTreeSet::new();
        Self {
            profile,
            opened,
            openers,
            uses,
            in_solo,
            in_others,
            by_control,
            by_binding,
            felt,
            felt_buttons: RefCell::default(),
            pairs,
            maps_of,
            ranges,
        }
    }

    /// Every two actions that a control reaches at once.
    pub fn pairs(&self) -> &[Pair] {
        self.pairs.get_or_init(|| each_pair(self))
    }

    /// Which half-axes of a control a use feels, as bits.
    pub fn feels(&self, index: usize, control: ControlId) -> u8 {
        if let Some(&known) = self.felt.borrow().get(&(index, control)) {
            return known;
        }
        let one = &self.uses[index];
        let mut bits = 0;
        for bit in 0..4 {
            let mut parts = [Interval::ZERO; 3];
            parts[bit / 2] = Interval::only(if bit % 2 == 0 { 1.0 } else { -1.0 });
            let touched = vec![(control, Range::of(parts))];
            if self.probe(one.action, one.binding, touched).length.most > AT_REST {
                bits |= 1 << bit;
            }
        }
        self.felt.borrow_mut().insert((index, control), bits);
        bits
    }

    /// Whether a button that a use reads does anything to its action, however settings stand: it may
    /// push a component that is left out.
    pub fn feels_button(&self, index: usize, control: ControlId) -> bool {
        if let Some(&known) = self.felt_buttons.borrow().get(&(index, control)) {
            return known;
        }
        let is_felt = self.finds_button(index, control);
        self.felt_buttons.borrow_mut().insert((index, control), is_felt);
        is_felt
    }

    fn finds_button(&self, index: usize, control: ControlId) -> bool {
        let one = &self.uses[index];
        let action = &self.profile.actions[one.action];
        let Binding { chain, .. } = &action.bindings[one.binding];
        let is_plain = chain.steps.is_empty() && action.shape.is_empty();
        let is_alone = matches!(chain.head, Head::Control { .. }) && is_plain;
        if is_alone || one.holds || !one.holders.is_empty() {
            return true;
        }
        let pressed = vec![(control, Range::axis(Interval::only(1.0)))];
        let comes = |touched: &[(ControlId, Range)], worth: Option<&Worth>| {
            let value = self.probe_at(one.action, one.binding, touched.to_vec(), worth);
            value.length.most > AT_REST
        };
        let corners = self.corners(one.action);
        let worlds = || std::iter::once(None).chain(corners.iter().map(Some));
        worlds().any(|worth| comes(&pressed, worth)) || worlds().any(|worth| comes(&[], worth))
    }

    /// The uses by other actions that share a control with one, later in the file, by actions whose
    /// maps can be open with its own: the next ones.
    pub fn later_meeting(&self, index: usize) -> Vec<usize> {
        let one = &self.uses[index];
        let mut all: Vec<usize> = Vec::new();
        for (control, _) in &one.parts {
            let maps = &self.maps_of[one.action];
            let is_solo = |map: &&MapId| self.profile.maps[**map].kind == MapKind::Solo;
            let of_maps =
                maps.iter().filter(is_solo).map(|map| self.in_solo.get(&(*control, *map)));
            // What lives in a map that lies on others meets all there is.
            let of_all = match maps.iter().all(|map| is_solo(&map)) {
                true => self.in_others.get(control),
                false => self.by_control.get(control),
            };
            for list in of_maps.chain([of_all]).flatten() {
                let later = list.partition_point(|&other| other <= index);
                let others = list[later..].iter().filter(|&&o| self.uses[o].action != one.action);
                all.extend(others.take(MOST_COMPARED));
            }
        }
        all.sort_unstable();
        all.dedup();
        all.retain(|&other| one.meets(&self.uses[other]));
        all
    }

    /// The first uses that share a control with one, itself among them.
    pub fn sharing<'s>(&'s self, one: &'s Use) -> impl Iterator<Item = &'s Use> {
        let lists = one.parts.iter().filter_map(|(control, _)| self.by_control.get(control));
        lists.flat_map(|list| list.iter().take(MOST_COMPARED)).map(|&index| &self.uses[index])
    }

    /// The uses of one binding.
    pub fn uses_of(&self, action: ActionId, binding: usize) -> impl Iterator<Item = &Use> {
        let (start, end) = self.by_binding.get(&(action, binding)).copied().unwrap_or_default();
        self.uses[start..end].iter()
    }

    /// Whether two maps can be open at once.
    pub fn meet(&self, a: MapId, b: MapId) -> bool {
        let solo = |map: MapId| self.profile.maps[map].kind == MapKind::Solo;
        a == b || !(solo(a) && solo(b))
    }

    /// Whether map `upper` can lie above `lower` when both are open.
    pub fn can_lie_above(&self, upper: MapId, lower: MapId) -> bool {
        let of = |id: MapId| (self.profile.maps[id].rank, self.profile.maps[id].kind, id);
        MapKind::can_lie_above(of(upper), of(lower))
    }

    /// Whether two actions can live at once with neither claiming from the other.
    pub fn share(&self, a: ActionId, b: ActionId) -> bool {
        let claims = |id: ActionId| self.profile.actions[id].claim;
        self.maps_of[a].iter().any(|&of_a| {
            self.maps_of[b].iter().any(|&of_b| {
                of_a == of_b
                    || (self.can_lie_above(of_a, of_b) && !claims(a))
                    || (self.can_lie_above(of_b, of_a) && !claims(b))
            })
        })
    }

    /// Whether two actions can live at once at all.
    pub fn live_together(&self, a: ActionId, b: ActionId) -> bool {
        let of_b = &self.maps_of[b];
        self.maps_of[a].iter().any(|&a| of_b.iter().any(|&b| self.meet(a, b)))
    }

    /// What an action's bindings give that the devices of one scheme reach.
    pub fn in_scheme(&self, id: ActionId, scheme: SchemeId) -> Range {
        let all = &self.profile.actions[id].bindings;
        let served: Vec<(Option<SchemeId>, usize)> = all
            .iter()
            .enumerate()
            .filter(|(index, one)| {
                one.scheme == Some(scheme)
                    || (one.scheme.is_none() && self.serves(id, *index, scheme))
            })
            .map(|(_, one)| (one.scheme, one.number))
            .collect();
        let counts = |binding: &Binding| served.contains(&(binding.scheme, binding.number));
        Flow::any(self.profile).action(id, &counts)
    }

    /// The value when only some controls are touched and only one binding counts, with settings and facts
    /// as they are at first.
    pub fn probe(&self, id: ActionId, binding: usize, touched: Vec<(ControlId, Range)>) -> Range {
        self.probe_at(id, binding, touched, None)
    }

    /// The same with settings and facts worth something else.
    pub fn probe_at(
        &self,
        id: ActionId,
        binding: usize,
        touched: Vec<(ControlId, Range)>,
        worth: Option<&Worth>,
    ) -> Range {
        let Binding { scheme, number, .. } = &self.profile.actions[id].bindings[binding];
        let counts = |one: &Binding| (&one.scheme, &one.number) == (scheme, number);
        let worth = worth.map(|worth| worth.all.as_slice());
        Flow::only(self.profile, touched).with(worth).action(id, &counts)
    }

    /// What the settings and facts that an action follows can be worth together.
    pub fn corners(&self, id: ActionId) -> Vec<Worth> {
        corners(self.profile, id)
    }

    /// What has to be held for a use to count, as full touches.
    pub fn held_for(&self, one: &Use) -> Vec<(ControlId, Range)> {
        if one.holders.is_empty() {
            return Vec::new();
        }
        let held = self.uses_of(one.action, one.binding).filter(|other| other.holds);
        let first = held.filter_map(|other| other.parts.first());
        first.map(|(control, _)| (*control, Range::axis(Interval::only(1.0)))).collect()
    }

    /// Whether a binding reaches its action by the devices of a scheme, its own or what stands in for
    /// them; so do other actions that it reads.
    pub fn serves(&self, id: ActionId, binding: usize, scheme: SchemeId) -> bool {
        let one = &self.profile.actions[id].bindings[binding];
        let classes = &self.profile.schemes[scheme].classes;
        let is_own = one.scheme == Some(scheme);
        self.chain_serves(&one.chain, scheme, classes, is_own)
    }

    fn chain_serves(
        &self,
        chain: &Chain,
        scheme: SchemeId,
        classes: &[Class],
        is_own: bool,
    ) -> bool {
        let each = |part: &Chain| self.chain_serves(part, scheme, classes, is_own);
        match &chain.head {
            Head::Control { reads, .. } => {
                let parts = touched(self.profile, *reads);
                let reported = self.profile.catalogue.reported();
                let mut parts = parts.iter().filter_map(|(id, _)| reported.get(id.index()));
                is_own || parts.any(|one| classes.contains(&one.class))
            }
            Head::Action { action, .. } => self.reaches(*action, scheme),
            Head::Pair(pair) => pair.parts().any(each),
            Head::Four(four) => four.x.parts().chain(four.y.parts()).any(each),
            Head::Join(parts) | Head::Any(parts) => parts.iter().any(each),
            Head::Sum(parts) => parts.iter().all(each),
            Head::Group(inner) => each(inner),
        }
    }

    /// Whether hands on a scheme's devices reach an action.
    pub fn reaches(&self, id: ActionId, scheme: SchemeId) -> bool {
        let action = &self.profile.actions[id];
        let steps = action.fire.iter().find_map(|one| match &one.cue {
            Cue::Sequence { steps, .. } => Some(steps),
            _ => None,
        });
        match steps {
            Some(steps) => steps.iter().all(|step| self.reaches(*step, scheme)),
            None => (0..action.bindings.len()).any(|index| self.serves(id, index, scheme)),
        }
    }

    /// A number as it is at first.
    pub fn at_first(&self, number: Number) -> f64 {
        match number {
            Number::Fixed(value) => value,
            Number::Variable { named, least, most } => {
                let named = &self.profile.variables[named];
                (named.default * named.factor).clamp(least, most)
            }
        }
    }

    /// The actions in file order with their kinds.
    pub fn actions(&self) -> impl Iterator<Item = (ActionId, &'a Action)> {
        self.profile.actions.entries()
    }

    /// Whether an action follows others.
    pub fn is_sequence(action: &Action) -> bool {
        matches!(action.fire.first().map(|one| &one.cue), Some(Cue::Sequence { .. }))
    }
}

impl Use {
    /// Whether both touch something in common.
    pub fn meets(&self, other: &Self) -> bool {
        let same_device =
            self.device.is_none() || other.device.is_none() || self.device == other.device;
        same_device
            && self.parts.iter().any(|(control, halves)| {
                other.parts.iter().any(|(c, h)| c == control && halves & h != 0)
            })
    }
}

struct Walk<'w, 'a> {
    profile: &'a Profile,
    action: ActionId,
    binding: usize,
    uses: &'w mut Vec<Use>,
}

impl Walk<'_, '_> {
    fn chain(&mut self, chain: &Chain, holders: &[String], holds: bool) {
        match &chain.head {
            Head::Control { name, kind, reads, device, .. } => {
                let parts = self.parts(*reads);
                let (action, binding, kind) = (self.action, self.binding, *kind);
                let (name, holders) = (name.clone(), holders.to_vec());
                let device = *device;
                let one = Use { action, binding, name, kind, parts, device, holders, holds };
                self.uses.push(one);
            }
            Head::Action { .. } => {}
            Head::Pair(pair) => {
                [&pair.neg, &pair.pos].iter().for_each(|part| self.chain(part, holders, holds));
            }
            Head::Four(four) => {
                let parts = [&four.y.pos, &four.x.neg, &four.y.neg, &four.x.pos];
                parts.iter().for_each(|part| self.chain(part, holders, holds));
            }
            Head::Join(parts) | Head::Any(parts) => {
                parts.iter().for_each(|part| self.chain(part, holders, holds));
            }
            Head::Sum(parts) => {
                let Some((last, first)) = parts.split_last() else { return };
                let mut all = holders.to_vec();
                for part in first {
                    self.chain(part, holders, true);
                    all.extend(held(part));
                }
                all.sort();
                self.chain(last, &all, holds);
            }
            Head::Group(inner) => self.chain(inner, holders, holds),
        }
    }

    /// What is touched, own controls that stand for it among that.
    fn parts(&self, reads: Reads) -> Vec<(ControlId, u8)> {
        touched(self.profile, reads)
    }
}

/// The controls with half-axes that something reads, and the own ones that stand for them.
fn touched(profile: &Profile, reads: Reads) -> Vec<(ControlId, u8)> {
    let catalogue = &profile.catalogue;
    let mut parts = catalogue.touched(reads, Layout::default());
    let stand_ins = catalogue.reported().iter().enumerate().filter_map(|(index, own)| {
        let standard = own.stands_for?;
        let (_, halves) = parts.iter().find(|(control, _)| *control == standard)?;
        Some((ControlId::new(index), *halves))
    });
    let stand_ins: Vec<(ControlId, u8)> = stand_ins.collect();
    parts.extend(stand_ins);
    parts
}

/// The controls that a holder is held by; of several, any of which does, one name for all.
fn held(chain: &Chain) -> Vec<String> {
    match &chain.head {
        Head::Control { name, .. } => vec![name.clone()],
        Head::Any(parts) => {
            let all: Vec<String> = parts.iter().flat_map(held).collect();
            vec![all.join(" or ")]
        }
        Head::Group(inner) => held(inner),
        Head::Sum(parts) => parts.iter().flat_map(held).collect(),
        Head::Action { .. } | Head::Pair(_) | Head::Four(_) | Head::Join(_) => {
            let mut all = Vec::new();
            chain.for_each_head(&mut |head| {
                if let Head::Control { name, .. } = head {
                    all.push(name.clone());
                }
            });
            vec![all.join(" or ")]
        }
    }
}

/// Every step of a binding, its parts' own ones first, in the order of the file.
pub fn all_steps(chain: &Chain) -> Vec<&Step> {
    let mut steps: Vec<&Step> = match &chain.head {
        Head::Control { .. } | Head::Action { .. } => Vec::new(),
        Head::Pair(pair) => [&pair.neg, &pair.pos].into_iter().flat_map(all_steps).collect(),
        Head::Four(four) => [&four.y.pos, &four.x.neg, &four.y.neg, &four.x.pos]
            .into_iter()
            .flat_map(all_steps)
            .collect(),
        Head::Join(parts) | Head::Any(parts) | Head::Sum(parts) => {
            parts.iter().flat_map(all_steps).collect()
        }
        Head::Group(inner) => all_steps(inner),
    };
    steps.extend(&chain.steps);
    steps
}

/// The word that a step begins with.
pub fn step_word(form: &StepKind) -> &'static str {
    let word = match form {
        StepKind::Flip(_) => StepWord::Flip,
        StepKind::Not => StepWord::Not,
        StepKind::Toggle => StepWord::Toggle,
        StepKind::SwitchAt { .. } => StepWord::SwitchAt,
        StepKind::Scale(_) => StepWord::Scale,
        StepKind::Deadzone { .. } => StepWord::Deadzone,
        StepKind::Curve(_) | StepKind::Points(_) => StepWord::Curve,
        StepKind::Cap(_) => StepWord::Cap,
        StepKind::Clamp(..) => StepWord::Clamp,
        StepKind::Unit => StepWord::Unit,
        StepKind::Remap(_) => StepWord::Remap,
        StepKind::Onto(..) => StepWord::Onto,
        StepKind::Pick(_) => StepWord::Pick,
        StepKind::Order(_) => StepWord::Order,
        StepKind::Rotate(..) => StepWord::Rotate,
        StepKind::Ways { .. } => StepWord::Ways,
        StepKind::Notch(_) => StepWord::Notch,
        StepKind::Ease { .. } => StepWord::Ease,
        StepKind::Smooth(_) => StepWord::Smooth,
        StepKind::Travel => StepWord::Travel,
    };
    word.text().word
}

/// Whether a kind has directions.
pub fn has_directions(kind: Kind) -> bool {
    matches!(kind, Kind::Axis | Kind::Plane | Kind::Space)
}
