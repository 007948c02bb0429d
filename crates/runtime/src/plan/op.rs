//! The operations that values flow through.

use crate::base::{
    ActionId, Component, ControlUseId, Id, IdRange, ListSlice, MemoryId, MotionId, OpId, ParamId,
    PlusId, VariableId,
};

/// One operation, and when it is done.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Op {
    /// What it does.
    pub kind: OpKind,
    /// The conditions that must all hold, of those of the plan. If one doesn't, the operation gives
    /// its input and forgets what it keeps.
    #[cfg_attr(feature = "pack", serde(default, skip_serializing_if = "crate::base::is_default"))]
    pub conditions: ListSlice,
}

/// A setting or fact that must be other than 0.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub struct Condition {
    /// The setting or fact.
    pub named: VariableId,
    /// Whether it must be 0 instead.
    pub unless: bool,
}

/// What an operation does. Steps read the operation right before them; m is its magnitude.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case", rename_all_fields = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum OpKind {
    /// A control as it is.
    Whole(ControlUseId),
    /// One component of it.
    Part(ControlUseId, Component),
    /// One half of a component, 0 to 1; `true` for the positive one.
    Half(ControlUseId, Component, bool),
    /// What game code would read of an action.
    Action(ActionId),
    /// POS − NEG of two operations, each held to 0…1.
    Pair {
        /// The negative side.
        neg: OpId,
        /// The positive side.
        pos: OpId,
        /// What both together give.
        opposed: Opposed,
    },
    /// A plane of two operations, or a space of three.
    Join {
        /// Its first component.
        x: OpId,
        /// Its second component.
        y: OpId,
        /// Its third component, of a space.
        z: Option<OpId>,
    },
    /// The one of greater magnitude of two operations; a tie goes to the first.
    Greater(OpId, OpId),
    /// The same for turns, by their angle.
    GreaterTurn(OpId, OpId),
    /// The last part of a `+`, while it counts.
    Plus(PlusId),
    /// What the blend of the action's bindings gave: the start of a shape.
    Blended,
    /// −v on the named components.
    Flip([bool; 3]),
    /// 1 while the input is off.
    Not(MemoryId),
    /// Changes each time the input comes on.
    Toggle(MemoryId),
    /// 1 from `on` until under `off`.
    SwitchAt {
        /// From here it is 1.
        on: ParamId,
        /// Under this it is 0 again; if nothing is said, under 0.8 · on.
        off: Option<ParamId>,
        /// Whether it is 1.
        memory: MemoryId,
    },
    /// Every component times one factor.
    Scale(ParamId),
    /// Each component times its own of three factors, from this one on.
    ScaleEach(ParamId),
    /// 0 up to `low`, 1 from `full`, (m − low)/(full − low) between, direction kept.
    Deadzone {
        /// The end of the dead part.
        low: ParamId,
        /// The start of the full part.
        full: ParamId,
    },
    /// The same, to each component by itself.
    DeadzoneAxes {
        /// The end of the dead part.
        low: ParamId,
        /// The start of the full part.
        full: ParamId,
    },
    /// m^power, direction kept.
    Curve(ParamId),
    /// Straight lines through so many points, x and y in turn from this parameter on.
    Points(ParamId, u32),
    /// Length limited, direction kept.
    Cap(ParamId),
    /// So many components kept within this parameter and the next.
    Clamp(ParamId, u8),
    /// v / m.
    Unit,
    /// So many components from a…b to c…d: four parameters from this one on.
    Remap(ParamId, u8),
    /// A number as the named component, the others 0.
    Onto(Component),
    /// One component as a number.
    Pick(Component),
    /// The length as a number.
    Length,
    /// Components re-ordered.
    Order([Component; 3]),
    /// Turned counter-clockwise around an axis.
    Rotate(ParamId, Component),
    /// Direction to the nearest of so many, the first at an angle.
    Ways {
        /// How many.
        count: ParamId,
        /// Where the first one points.
        from: ParamId,
    },
    /// Magnitude to the nearest multiple.
    Notch(ParamId),
    /// Along a straight line to the input at a limited speed: start + (target − start) · (speed ·
    /// Δt / distance).
    Ease {
        /// The speed towards an input that is no smaller than where it is, a second.
        rise: ParamId,
        /// The speed towards a smaller one.
        fall: ParamId,
        /// Whether it drops to 0 first when old and new point more than 90° apart.
        cut: bool,
        /// Where it is on its way.
        motion: MotionId,
    },
    /// First-order lag: target + (start − target) · exp(−Δt / T).
    Smooth(ParamId, MotionId),
    /// The same for a turn, along the shorter arc.
    SmoothTurn(ParamId, MotionId),
    /// What the input adds up to over the tick: value × seconds.
    Travel(MotionId),
}

/// Where the input of an operation comes from.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Operands {
    /// A control, or a part of it.
    Control(ControlUseId, Portion),
    /// The value of another action.
    Action(ActionId),
    /// The negative and the positive side of a pair.
    Sides(OpId, OpId),
    /// The components that are joined.
    Components {
        /// The first.
        x: OpId,
        /// The second.
        y: OpId,
        /// The third, of a space.
        z: Option<OpId>,
    },
    /// One of two, the first at a tie.
    Either(OpId, OpId),
    /// The parts of a `+`.
    Plus(PlusId),
    /// What the blend of the bindings gives.
    Blended,
    /// The operation right before it: it is a step.
    Before,
}

/// How much of a control's value an operation reads.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Portion {
    /// All components.
    Whole,
    /// One component.
    Component(Component),
    /// The positive (true) or the negative half of a component, from 0 up.
    Half(Component, bool),
}

/// How a step that moves on its own goes towards its input, where it never jumps.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Glide {
    /// At one speed, until it is there.
    Straight,
    /// The slower the nearer it is.
    Lag,
}

/// What an operation reads and keeps, beside values.
#[derive(Clone, Copy, Debug)]
struct Parts {
    operands: Operands,
    params: [Option<(ParamId, usize)>; 2],
    memory: Option<MemoryId>,
    motion: Option<MotionId>,
    glide: Option<Glide>,
    /// Up to this share of this number it gives 0.
    dead: Option<(ParamId, f64)>,
}

impl Parts {
    /// Those of a step without numbers.
    const STEP: Self = Self {
        operands: Operands::Before,
        params: [None; 2],
        memory: None,
        motion: None,
        glide: None,
        dead: None,
    };

    fn head(operands: Operands) -> Self {
        Self { operands, ..Self::STEP }
    }

    fn numbers(first: ParamId, count: usize) -> Self {
        Self { params: [Some((first, count)), None], ..Self::STEP }
    }

    fn two(a: ParamId, b: ParamId) -> Self {
        Self { params: [Some((a, 1)), Some((b, 1))], ..Self::STEP }
    }

    fn with_memory(self, memory: MemoryId) -> Self {
        Self { memory: Some(memory), ..self }
    }

    fn dead_up_to(self, param: ParamId, share: f64) -> Self {
        Self { dead: Some((param, share)), ..self }
    }

    fn with_motion(self, motion: MotionId) -> Self {
        Self { motion: Some(motion), ..self }
    }

    fn that_glides(self, glide: Glide) -> Self {
        Self { glide: Some(glide), ..self }
    }
}

impl OpKind {
    /// The numbers that it reads.
    pub fn params(self) -> [IdRange<ParamId>; 2] {
        self.parts().params.map(|some| {
            let (first, count) = some.map_or((0, 0), |(first, count)| (first.index(), count));
            IdRange::new(first, first + count)
        })
    }

    /// The cell of memory that it keeps something in.
    pub fn memory(self) -> Option<MemoryId> {
        self.parts().memory
    }

    /// Where its input comes from.
    pub fn operands(self) -> Operands {
        self.parts().operands
    }

    /// Up to which share of which number it gives 0, if it does; the input of a `switch-at` that
    /// is on counts as if it were off.
    pub fn dead(self) -> Option<(ParamId, f64)> {
        self.parts().dead
    }

    /// How it goes towards its input, if it moves on its own and never jumps.
    pub fn glide(self) -> Option<Glide> {
        self.parts().glide
    }

    /// Whether twice the input always gives twice as much: what it gives of the parts of something adds up
    /// to what it gives of the whole.
    pub fn is_linear(self) -> bool {
        match self {
            Self::Whole(_)
            | Self::Part(..)
            | Self::Action(_)
            | Self::Join { .. }
            | Self::Plus(_)
            | Self::Blended
            | Self::Flip(_)
            | Self::Scale(_)
            | Self::ScaleEach(_)
            | Self::Onto(_)
            | Self::Pick(_)
            | Self::Order(_)
            | Self::Rotate(..)
            | Self::Greater(..)
            | Self::GreaterTurn(..)
            | Self::Travel(_) => true,
            Self::Half(..)
            | Self::Pair { .. }
            | Self::Not(_)
            | Self::Toggle(_)
            | Self::SwitchAt { .. }
            | Self::Deadzone { .. }
            | Self::DeadzoneAxes { .. }
            | Self::Curve(_)
            | Self::Points(..)
            | Self::Cap(_)
            | Self::Clamp(..)
            | Self::Unit
            | Self::Remap(..)
            | Self::Length
            | Self::Ways { .. }
            | Self::Notch(_)
            | Self::Ease { .. }
            | Self::Smooth(..)
            | Self::SmoothTurn(..) => false,
        }
    }

    /// What it keeps to move on its own, or to add up.
    pub fn motion(self) -> Option<MotionId> {
        self.parts().motion
    }

    /// What else it is given that is no number: components, ways and signs.
    pub(super) fn words(self) -> [u8; 3] {
        match self {
            Self::Flip(turned) => turned.map(u8::from),
            Self::Order(order) => order.map(|one| one as u8),
            Self::Onto(one) | Self::Pick(one) | Self::Rotate(_, one) => [one as u8, 0, 0],
            Self::Clamp(_, count) | Self::Remap(_, count) => [count, 0, 0],
            Self::Ease { cut, .. } => [u8::from(cut), 0, 0],
            Self::Pair { opposed, .. } => match opposed {
                Opposed::Cancel => [0, 0, 0],
                Opposed::Newest { pos_later, .. } => [1, u8::from(pos_later), 0],
                Opposed::Oldest { pos_later, .. } => [2, u8::from(pos_later), 0],
                Opposed::Neg => [3, 0, 0],
                Opposed::Pos => [4, 0, 0],
            },
            Self::Whole(_)
            | Self::Part(..)
            | Self::Half(..)
            | Self::Action(_)
            | Self::Join { .. }
            | Self::Greater(..)
            | Self::GreaterTurn(..)
            | Self::Plus(_)
            | Self::Blended
            | Self::Not(_)
            | Self::Toggle(_)
            | Self::SwitchAt { .. }
            | Self::Scale(_)
            | Self::ScaleEach(_)
            | Self::Deadzone { .. }
            | Self::DeadzoneAxes { .. }
            | Self::Curve(_)
            | Self::Points(..)
            | Self::Cap(_)
            | Self::Unit
            | Self::Length
            | Self::Ways { .. }
            | Self::Notch(_)
            | Self::Smooth(..)
            | Self::SmoothTurn(..)
            | Self::Travel(_) => [0; 3],
        }
    }

    fn parts(self) -> Parts {
        match self {
            Self::Whole(id) => Parts::head(Operands::Control(id, Portion::Whole)),
            Self::Part(id, of) => Parts::head(Operands::Control(id, Portion::Component(of))),
            Self::Half(id, of, positive) => {
                Parts::head(Operands::Control(id, Portion::Half(of, positive)))
            }
            Self::Action(id) => Parts::head(Operands::Action(id)),
            Self::Join { x, y, z } => Parts::head(Operands::Components { x, y, z }),
            Self::Greater(a, b) | Self::GreaterTurn(a, b) => Parts::head(Operands::Either(a, b)),
            Self::Plus(id) => Parts::head(Operands::Plus(id)),
            Self::Blended => Parts::head(Operands::Blended),
            Self::Pair { neg, pos, opposed } => {
                let parts = Parts::head(Operands::Sides(neg, pos));
                match opposed {
                    Opposed::Newest { memory, .. } | Opposed::Oldest { memory, .. } => {
                        parts.with_memory(memory)
                    }
                    Opposed::Cancel | Opposed::Neg | Opposed::Pos => parts,
                }
            }
            Self::Flip(_)
            | Self::Unit
            | Self::Onto(_)
            | Self::Pick(_)
            | Self::Length
            | Self::Order(_) => Parts::STEP,
            Self::Not(memory) | Self::Toggle(memory) => Parts::STEP.with_memory(memory),
            Self::SwitchAt { on, off, memory } => {
                let parts = off.map_or(Parts::numbers(on, 1), |off| Parts::two(on, off));
                parts.with_memory(memory).dead_up_to(on, 1.0)
            }
            Self::Scale(p) | Self::Curve(p) | Self::Cap(p) | Self::Rotate(p, _) => {
                Parts::numbers(p, 1)
            }
            Self::Notch(p) => Parts::numbers(p, 1).dead_up_to(p, 0.5),
            Self::Clamp(p, _) => Parts::numbers(p, 2),
            Self::ScaleEach(p) => Parts::numbers(p, 3),
            Self::Remap(p, _) => Parts::numbers(p, 4),
            Self::Points(p, count) => Parts::numbers(p, 2 * count as usize),
            Self::Deadzone { low, full } | Self::DeadzoneAxes { low, full } => {
                Parts::two(low, full).dead_up_to(low, 1.0)
            }
            Self::Ways { count, from } => Parts::two(count, from),
            Self::Ease { rise, fall, motion, cut } => {
                let parts = Parts::two(rise, fall).with_motion(motion);
                if cut { parts } else { parts.that_glides(Glide::Straight) }
            }
            Self::Smooth(p, motion) => {
                Parts::numbers(p, 1).with_motion(motion).that_glides(Glide::Lag)
            }
            Self::SmoothTurn(p, motion) => Parts::numbers(p, 1).with_motion(motion),
            Self::Travel(motion) => Parts::STEP.with_motion(motion),
        }
    }
}

/// What two opposite parts held together give.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case", rename_all_fields = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Opposed {
    /// Their difference.
    Cancel,
    /// Only the side that left 0 last; of two at once, the positive one if `pos_later`.
    Newest {
        /// Where it is kept which side that is.
        memory: MemoryId,
        /// Whether the positive part stands later in the file.
        pos_later: bool,
    },
    /// Only the side that left 0 first; of two at once, the negative one if `pos_later`.
    Oldest {
        /// Where it is kept which side that is.
        memory: MemoryId,
        /// Whether the positive part stands later in the file.
        pos_later: bool,
    },
    /// Only the negative side.
    Neg,
    /// Only the positive side.
    Pos,
}

/// A number that an operation or cue takes.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "pack", derive(serde::Serialize, serde::Deserialize))]
#[cfg_attr(feature = "pack", serde(rename_all = "kebab-case", rename_all_fields = "kebab-case"))]
#[cfg_attr(feature = "schema", derive(schemars::JsonSchema))]
pub enum Param {
    /// Always this.
    Fixed(f64),
    /// What a setting or fact is worth, held to a range.
    Variable {
        /// The setting or fact.
        named: VariableId,
        /// The least it counts as.
        least: f64,
        /// The most it counts as.
        most: f64,
    },
}

impl Param {
    /// The number, when the setting or fact is worth `named`.
    pub fn value(self, named: f64) -> f64 {
        match self {
            Self::Fixed(value) => value,
            Self::Variable { least, most, .. } => named.clamp(least, most),
        }
    }

    /// The setting or fact that it follows.
    pub fn named(self) -> Option<VariableId> {
        match self {
            Self::Fixed(_) => None,
            Self::Variable { named, .. } => Some(named),
        }
    }
}
