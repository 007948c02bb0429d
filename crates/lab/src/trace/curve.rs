//! Raw values against shaped ones: what a binding and its action's shape make of every raw value,
//! and which values a plane can reach.

use harmonym_runtime::base::{
    AT_REST, ActionId, BindingId, ControlId, ControlKind, Id, Kind, OpId, Vector,
};
use harmonym_runtime::engine::{Engine, Start};
use harmonym_runtime::plan::{OpKind, Operands, Plan, Portion};
use std::sync::Arc;

/// How many raw values a curve is made of.
const SAMPLES: usize = 512;
/// Movement has no end; so many counts are drawn,
const COUNTS: f64 = 50.0;
/// and so much of what does not move in counts: shares of the screen, notches.
const ENDS: &[(&str, f64)] = &[("touch.drag", 1.0), ("mouse.wheel", 5.0)];
/// Values no farther apart than this are as great.
const AS_GREAT: f64 = 1e-9;

/// What a binding makes of raw values.
#[derive(Clone, Debug)]
pub struct Curve {
    /// The binding.
    pub binding: BindingId,
    /// The kind of the raw value: what the combination gives that the binding begins with.
    pub raw: Kind,
    /// The kind of the action's value.
    pub gives: Kind,
    /// The least and the greatest raw value.
    pub range: (f64, f64),
    /// The control whose movement it is, where the raw value is what something moves by.
    pub moves: Option<String>,
    /// Whether the value is what adds up in a second: by a `travel`.
    pub in_a_second: bool,
    /// Whether all of its controls are only on or off: of the curve, only the ends and 0 are real.
    pub is_on_off: bool,
    /// Raw values and what they give. Of several components the length, in the direction in which
    /// the value goes furthest; of an axis the number.
    pub points: Vec<(f64, f64)>,
    /// Up to here nothing comes of a raw value.
    pub dead: Option<f64>,
    /// From here on more gives no more.
    pub full: Option<f64>,
    /// The raw values at which the action wakes, is down, and is up again, from 0.
    pub levels: [Option<f64>; 3],
    /// What can be reached, where both raw value and value are planes.
    pub reach: Option<Reach>,
}

/// What a plane can reach.
#[derive(Clone, Debug)]
pub struct Reach {
    /// The outline when every component is anything from −1 to 1, as the device may report.
    pub square: Vec<(f64, f64)>,
    /// The outline when the raw value goes around at length 1.
    pub round: Vec<(f64, f64)>,
    /// How long the value is straight up, and how long on the diagonal of the square.
    pub straight: f64,
    /// The same on the diagonal.
    pub diagonal: f64,
}

impl Curve {
    /// The curves of an action's bindings; nothing for those that read other actions.
    pub fn of(plan: &Arc<Plan>, action: ActionId) -> Vec<(BindingId, Option<Self>)> {
        let bindings = plan.actions()[action].bindings.iter();
        bindings.map(|binding| (binding, Self::of_binding(plan, action, binding))).collect()
    }

    fn of_binding(plan: &Arc<Plan>, action: ActionId, binding: BindingId) -> Option<Self> {
        let head = Head::of(plan, plan.bindings()[binding].ops.iter().next_back()?)?;
        let gives = plan.actions()[action].kind;
        let engine = Engine::start(Arc::clone(plan), Start::default(), &mut |_| {});
        let mut drawn = Drawn { engine, binding, head, gives };
        let most = head.range.1;
        drawn.head.way = drawn.furthest_way(most);
        let (from, to) = drawn.range();
        let points = (0..=SAMPLES).map(|i| {
            let raw = from + (to - from) * i as f64 / SAMPLES as f64;
            (raw, drawn.number(raw))
        });
        let points: Vec<(f64, f64)> = points.collect();
        let greatest = (0..=SAMPLES)
            .map(|i| drawn.magnitude(to * i as f64 / SAMPLES as f64))
            .fold(0.0, f64::max);
        let dead = drawn.first(|m| m > 0.0).filter(|raw| *raw > AT_REST);
        let full = drawn.first(|m| m >= greatest - AS_GREAT).filter(|_| greatest > AT_REST);
        let spec = &plan.actions()[action];
        let levels = [spec.wake, spec.down, spec.up].map(|level| drawn.first(|m| m >= level));
        let is_plane = head.kind == Kind::Plane && gives == Kind::Plane;
        let reach = (is_plane && head.moves.is_none()).then(|| drawn.reach());
        let (raw, is_on_off) = (head.kind, head.is_on_off);
        let range = (from, to);
        let moves = head.moves.map(|id| plan.names().controls[id].to_string());
        let mut ops = plan.bindings()[binding].ops.iter().chain(spec.shape.iter());
        let in_a_second = ops.any(|op| matches!(plan.ops()[op].kind, OpKind::Travel(_)));
        Some(Self {
            binding,
            raw,
            gives,
            range,
            moves,
            in_a_second,
            is_on_off,
            points,
            dead,
            full,
            levels,
            reach,
        })
    }
}

/// The combination that a binding begins with.
#[derive(Clone, Copy)]
struct Head {
    kind: Kind,
    range: (f64, f64),
    is_on_off: bool,
    /// The relative control that it reads.
    moves: Option<ControlId>,
    /// The direction of raw values with several components.
    way: (f64, f64, f64),
}

impl Head {
    fn of(plan: &Plan, op: OpId) -> Option<Self> {
        let way = (1.0, 0.0, 0.0);
        let control = |read| plan.uses()[read].inputs.first().map(|id| plan.inputs()[id].control);
        let range_of = |id: ControlId| match plan.controls()[id].kind {
            ControlKind::Relative => {
                let (_, most) = ENDS
                    .iter()
                    .find(|(name, _)| **name == *plan.names().controls[id])
                    .unwrap_or(&("", COUNTS));
                (-most, *most)
            }
            ControlKind::Place => (-1.0, 1.0),
            kind => kind.range(),
        };
        match plan.ops()[op].kind.operands() {
            Operands::Control(read, portion) => {
                let id = control(read)?;
                let of = plan.controls()[id].kind;
                let moves = Some(id).filter(|_| of == ControlKind::Relative);
                let is_on_off = of == ControlKind::Button;
                let (kind, range, is_on_off) = match portion {
                    Portion::Whole => (of.yields(), range_of(id), is_on_off),
                    Portion::Component(_) => (Kind::Axis, range_of(id), false),
                    Portion::Half(..) => (Kind::Axis, (0.0, range_of(id).1), is_on_off),
                };
                Some(Self { kind, range, is_on_off, moves, way })
            }
            Operands::Sides(neg, pos) => {
                let (neg, pos) = (Self::of(plan, neg)?, Self::of(plan, pos)?);
                let is_on_off = neg.is_on_off && pos.is_on_off;
                let range = (-neg.range.1, pos.range.1);
                Some(Self { kind: Kind::Axis, range, is_on_off, moves: None, way })
            }
            Operands::Components { x, y, z } => {
                let kind = if z.is_none() { Kind::Plane } else { Kind::Space };
                let parts = [Self::of(plan, x)?, Self::of(plan, y)?];
                let is_on_off = parts.iter().all(|part| part.is_on_off);
                let moves = parts[0].moves;
                Some(Self { kind, range: parts[0].range, is_on_off, moves, way })
            }
            Operands::Either(first, _) => Self::of(plan, first),
            Operands::Plus(plus) => Self::of(plan, plan.pluses()[plus].last),
            Operands::Action(_) | Operands::Blended => None,
            Operands::Before => Self::of(plan, OpId::new(op.index().checked_sub(1)?)),
        }
    }
}

/// A binding whose curve is drawn.
struct Drawn {
    engine: Engine,
    binding: BindingId,
    head: Head,
    gives: Kind,
}

impl Drawn {
    fn give(&mut self, raw: Vector) -> Vector {
        self.engine.transfer(self.binding, raw)
    }

    /// What a raw value of this size gives, in the way that was chosen.
    fn along(&mut self, raw: f64) -> Vector {
        let (x, y, z) = self.head.way;
        self.give(match self.head.kind {
            Kind::Switch | Kind::Axis => Vector::axis(raw),
            Kind::Plane | Kind::Space => Vector::space(raw * x, raw * y, raw * z),
            // Turned by that angle around the vertical.
            Kind::Turn => {
                let half = raw / 2.0;
                Vector { x: 0.0, y: libm::sin(half), z: 0.0, w: libm::cos(half) }
            }
        })
    }

    fn magnitude(&mut self, raw: f64) -> f64 {
        let gives = self.gives;
        self.along(raw).magnitude_of(gives)
    }

    /// As it is drawn: an axis has a sign.
    fn number(&mut self, raw: f64) -> f64 {
        let value = self.along(raw);
        match self.gives {
            Kind::Switch | Kind::Axis => value.x,
            kind => value.magnitude_of(kind),
        }
    }

    fn range(&self) -> (f64, f64) {
        match self.head.kind {
            Kind::Switch | Kind::Axis => self.head.range,
            Kind::Plane | Kind::Space => (0.0, self.head.range.1),
            Kind::Turn => (0.0, std::f64::consts::PI),
        }
    }

    /// The direction in which the value goes furthest; the earlier of equals.
    fn furthest_way(&mut self, most: f64) -> (f64, f64, f64) {
        let ways =
            [(1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0), (-1.0, 0.0, 0.0), (0.0, -1.0, 0.0)];
        let mut best = (ways[0], 0.0);
        for way in ways {
            self.head.way = way;
            let far = self.magnitude(most);
            if far > best.1 + AS_GREAT {
                best = (way, far);
            }
        }
        best.0
    }

    /// The least raw value from 0 on whose magnitude is as asked for.
    fn first(&mut self, is: impl Fn(f64) -> bool) -> Option<f64> {
        let most = self.range().1;
        let at = |i: usize| most * i as f64 / SAMPLES as f64;
        let place = (0..=SAMPLES).find(|&i| is(self.magnitude(at(i))))?;
        if place == 0 {
            return Some(0.0);
        }
        let (mut low, mut high) = (at(place - 1), at(place));
        for _ in 0..50 {
            let middle = (low + high) / 2.0;
            if is(self.magnitude(middle)) { high = middle } else { low = middle }
        }
        Some(high)
    }

    fn reach(&mut self) -> Reach {
        let most = self.head.range.1;
        let mut give = |x: f64, y: f64| {
            let value = self.give(Vector::new(x, y));
            (value.x, value.y)
        };
        let each = 64;
        let side = |i: usize| -1.0 + 2.0 * i as f64 / each as f64;
        let mut square = Vec::new();
        let sides: [fn(f64) -> (f64, f64); 4] =
            [|s| (1.0, s), |s| (-s, 1.0), |s| (-1.0, -s), |s| (s, -1.0)];
        for of in sides {
            square.extend((0..each).map(|i| of(side(i))).map(|(x, y)| give(x * most, y * most)));
        }
        let turn = |i: usize| 2.0 * std::f64::consts::PI * i as f64 / (4 * each) as f64;
        let round = (0..4 * each).map(|i| (libm::cos(turn(i)) * most, libm::sin(turn(i)) * most));
        let round: Vec<(f64, f64)> = round.map(|(x, y)| give(x, y)).collect();
        let long = |(x, y): (f64, f64)| Vector::new(x, y).magnitude();
        let (straight, diagonal) = (long(give(0.0, most)), long(give(most, most)));
        Reach { square, round, straight, diagonal }
    }
}
