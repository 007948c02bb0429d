//! Which scheme the hands use.

use super::Tell;
use super::clock::Clock;
use super::event::Notice;
use super::inputs::Inputs;
use crate::base::limits::{MOVED, MOVED_WITHIN, PRESSED, TIE};
use crate::base::{Class, ControlKind, SchemeId, Time, Vector};
use crate::plan::{Kin, Tables};

/// So many reports of movement are remembered; past that, the latest share one entry.
const REMEMBERED: usize = 256;

/// The scheme in use, and what moved of late.
#[derive(Clone, Debug)]
pub(super) struct Usage {
    scheme: Option<SchemeId>,
    /// By class: whether that scheme has it.
    covered: Box<[bool]>,
    /// By class: reports of movement, oldest first; of classes that move.
    moved: Box<[Vec<(Time, f64)>]>,
}

impl Usage {
    pub fn new(plan: &Tables) -> Self {
        let mut moved = vec![Vec::new(); plan.schemes_of_class.len()];
        for control in plan.controls.iter().filter(|c| c.kind == ControlKind::Relative) {
            if let Some(of_class) = moved.get_mut(control.class.index()) {
                *of_class = Vec::with_capacity(REMEMBERED);
            }
        }
        let covered = vec![false; plan.schemes_of_class.len()].into();
        Self { scheme: None, covered, moved: moved.into() }
    }

    /// The scheme in use.
    pub fn scheme(&self) -> Option<SchemeId> {
        self.scheme
    }

    /// Whether the scheme in use has a class: then a device of it tells nothing new.
    #[inline]
    pub fn covers(&self, class: Class) -> bool {
        self.covered.get(class.index()).copied().unwrap_or_default()
    }

    fn set(&mut self, plan: &Tables, scheme: SchemeId) {
        self.scheme = Some(scheme);
        for (covered, schemes) in self.covered.iter_mut().zip(&plan.schemes_of_class) {
            *covered = schemes.contains(&scheme);
        }
    }

    /// The scheme in use is the one that was, where a new plan has it; what moved of late still counts.
    pub fn take_over(&mut self, plan: &Tables, before: &Self, kin: &Kin) {
        if let Some(scheme) = before.scheme.and_then(|scheme| kin.scheme(scheme)) {
            self.set(plan, scheme);
        }
        for (own, old) in self.moved.iter_mut().zip(&before.moved) {
            own.extend_from_slice(old);
        }
    }

    pub fn reset(&mut self) {
        self.scheme = None;
        self.covered.fill(false);
        self.moved.iter_mut().for_each(Vec::clear);
    }
}

impl Inputs {
    /// Whether a control of `class` that went from one magnitude to another tells that the hands use
    /// another scheme.
    #[inline]
    pub fn tells_scheme(&self, class: Class, before: Vector, magnitude: f64) -> bool {
        !self.usage.covers(class) && magnitude >= PRESSED && before.magnitude() < PRESSED
    }

    /// The scheme in use becomes that of `class`: the present one if it has it, else the first.
    #[inline]
    pub fn use_class(
        &mut self,
        clock: Clock,
        plan: &Tables,
        class: Class,
        tell: &mut (impl Tell + ?Sized),
    ) {
        if !self.usage.covers(class) {
            self.use_other_class(clock, plan, class, tell);
        }
    }

    #[inline(never)]
    fn use_other_class(
        &mut self,
        clock: Clock,
        plan: &Tables,
        class: Class,
        tell: &mut (impl Tell + ?Sized),
    ) {
        let schemes = plan.schemes_of_class.get(class.index()).map_or(&[][..], |s| s);
        let Some(&scheme) = schemes.first() else { return };
        self.usage.set(plan, scheme);
        self.routes.close_lanes();
        tell(Notice::Scheme { t: clock.now, tick: clock.tick_that_sees(), scheme });
    }

    /// Takes in that something of `class` moved by so many counts.
    pub fn use_moved(
        &mut self,
        clock: Clock,
        plan: &Tables,
        class: Class,
        counts: f64,
        tell: &mut (impl Tell + ?Sized),
    ) {
        if self.usage.covers(class) {
            return;
        }
        let Some(moved) = self.usage.moved.get_mut(class.index()) else { return };
        let now = clock.now;
        moved.retain(|(at, _)| now.since(*at) <= MOVED_WITHIN);
        match moved.pop() {
            Some((_, sum)) if moved.len() + 1 == REMEMBERED => moved.push((now, sum + counts)),
            last => {
                moved.extend(last);
                moved.push((now, counts));
            }
        }
        // Movement in whole counts may come in shares of one.
        if moved.iter().map(|(_, counts)| counts).sum::<f64>() >= MOVED - TIE {
            moved.clear();
            self.use_class(clock, plan, class, tell);
        }
    }
}
