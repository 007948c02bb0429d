//! A control while it is pressed, and why nothing came of that.

use super::record::Record;
use super::{Miss, Phase, Status};
use harmonym_runtime::base::limits::IDLE;
use harmonym_runtime::base::{
    AT_REST, ActionId, ControlId, ControlKind, PhysicalInputId, Time, Vector,
};
use harmonym_runtime::engine::Inside;
use harmonym_runtime::plan::{Notch, Plan};

/// Movements no farther apart than this are one.
const ONE_MOVEMENT: Time = Time::from_millis(250);

/// A control of an action.
pub(super) struct Own {
    pub control: ControlId,
    kind: ControlKind,
    /// Of a notch, its wheel.
    notch: Option<Notch>,
    /// How the action reads it, as more than a holder.
    inputs: Vec<PhysicalInputId>,
    /// When it left 0, while no stretch has begun with that.
    left: Option<Time>,
    /// The stretch in which it is pressed, or moves.
    stretch: Option<Stretch>,
}

struct Stretch {
    from: Time,
    /// When it was away from 0 last.
    last: Time,
    is_held: bool,
    /// Whether the action was awake at some moment of it.
    woke: bool,
    phases: Vec<Phase>,
}

/// The controls of an action that it is not only held with.
pub(super) fn controls(plan: &Plan, action: ActionId) -> Vec<Own> {
    let mut all: Vec<Own> = Vec::new();
    let reads = plan.actions()[action].uses.iter().filter(|&read| !plan.uses()[read].holds);
    for input in reads.flat_map(|read| plan.uses()[read].inputs.iter()) {
        let control = plan.inputs()[input].control;
        match all.iter_mut().find(|own| own.control == control) {
            Some(own) => own.inputs.push(input),
            None => all.push(Own {
                control,
                kind: plan.controls()[control].kind,
                notch: plan.notches().iter().copied().find(|notch| notch.button == control),
                inputs: vec![input],
                left: None,
                stretch: None,
            }),
        }
    }
    all
}

impl Own {
    /// How far it is from 0, on the device on which it is farthest, as the action reads it.
    pub fn far(&self, inside: &Inside<'_>) -> f64 {
        let on = |&input: &PhysicalInputId| {
            let far = |device| inside.touch(input, device).bound.magnitude();
            inside.devices(input).map(far).fold(0.0, f64::max)
        };
        self.inputs.iter().map(on).fold(0.0, f64::max)
    }

    /// Whether a stick or lever may report this while nobody touches it.
    pub fn is_idle(&self, far: f64) -> bool {
        far <= if self.is_graded() { IDLE } else { AT_REST }
    }

    /// Whether it is a stick, lever or axis.
    pub fn is_graded(&self) -> bool {
        matches!(self.kind, ControlKind::Stick | ControlKind::Lever | ControlKind::Axis)
    }

    /// Whether it is pressed, or moves.
    pub fn is_pressed(&self) -> bool {
        self.stretch.is_some()
    }

    pub fn inputs(&self) -> &[PhysicalInputId] {
        &self.inputs
    }

    /// Follows it through an instant; gives what was pressed in vain, once that is over. It is so once
    /// the control is let go, and, where values come later than reports, at the next tick.
    pub fn follow(
        &mut self,
        inside: &Inside<'_>,
        action: ActionId,
        record: &Record,
        now: Instant,
    ) -> Option<Miss> {
        let (far, t) = (self.far(inside), inside.now());
        let is_relative = self.kind == ControlKind::Relative || self.notch.is_some();
        let moves = match (now.reported, self.notch) {
            (Some((control, by)), Some(notch)) => {
                let by = by.components()[notch.component as usize];
                control == notch.wheel && by.abs() > AT_REST && (by > 0.0) == notch.positive
            }
            (reported, _) if is_relative => {
                reported.is_some_and(|(control, _)| control == self.control)
            }
            _ => !self.is_idle(far),
        };
        // What is always somewhere is never pressed.
        if !is_relative && !self.kind.is_held() {
            return None;
        }
        self.left = if far > AT_REST { self.left.or(Some(t)) } else { None };
        if moves && self.stretch.is_none() {
            let from = self.left.unwrap_or(t);
            let (is_held, woke) = (true, now.is_awake);
            self.stretch = Some(Stretch { from, last: t, is_held, woke, phases: Vec::new() });
        }
        let stretch = self.stretch.as_mut()?;
        stretch.woke |= now.is_awake;
        if moves {
            (stretch.last, stretch.is_held) = (t, true);
        } else {
            if stretch.is_held && !is_relative {
                stretch.last = t;
            }
            stretch.is_held = false;
        }
        let comes_later = now.comes_later && !now.is_tick;
        let is_over = match is_relative {
            true => t > stretch.last + ONE_MOVEMENT,
            false => !stretch.is_held && !comes_later,
        };
        if !stretch.woke && (stretch.is_held || is_relative) && !is_over {
            stretch.note(Status::of_control(inside, action, record, self.control), t);
        }
        if is_over { self.end() } else { None }
    }

    /// What it was pressed for in vain, if it was.
    pub fn end(&mut self) -> Option<Miss> {
        let Stretch { from, last, woke, mut phases, .. } = self.stretch.take()?;
        phases.retain(|phase| phase.status != Status::Untouched);
        if woke || phases.is_empty() {
            return None;
        }
        if let Some(phase) = phases.last_mut() {
            phase.to = last;
        }
        Some(Miss { from, to: last, count: 1, control: self.control, phases })
    }
}

impl Stretch {
    /// The action stands so from `t` on.
    fn note(&mut self, status: Status, t: Time) {
        if let Some(last) = self.phases.last_mut() {
            last.to = t;
        }
        // How far it was at most is one thing, whatever came of less before and after.
        if status.is_short() {
            if let Some(same) = self.phases.last_mut().filter(|phase| phase.status.is_short()) {
                if status.reach() > same.status.reach() {
                    same.status = status;
                }
                return;
            }
        } else if let Some(same) =
            self.phases.last_mut().filter(|phase| phase.status.is_like(&status))
        {
            same.status = status;
            return;
        }
        self.phases.push(Phase { status, from: t, to: t });
    }
}

/// What is known of an instant.
#[derive(Clone, Copy, Debug)]
pub(super) struct Instant {
    /// The control that reported, and what.
    pub reported: Option<(ControlId, Vector)>,
    pub is_tick: bool,
    /// Whether the action was awake at some time in it, or right before.
    pub is_awake: bool,
    /// Whether values come later than reports: at ticks, or on their way.
    pub comes_later: bool,
}
