//! What turning makes of a range: `rotate` and `ways`.

use super::interval::{Interval, Range};
use harmonym_runtime::base::Component;
use harmonym_runtime::base::limits::AT_REST;
use std::f64::consts::{PI, TAU};

/// A range turned around a component.
pub(super) fn rotated(v: Range, angle: Interval, around: Component) -> Range {
    let (i, j) = match around {
        Component::Z => (0, 1),
        Component::X => (1, 2),
        _ => (2, 0),
    };
    let mut parts = v.parts;
    let most = v.length.most;
    if angle.least == angle.most && most.is_finite() {
        let (sin, cos) = (libm::sin(angle.least), libm::cos(angle.least));
        let part = |a: Interval, ka: f64, b: Interval, kb: f64| {
            a.times(Interval::only(ka)).plus(b.times(Interval::only(kb)))
        };
        (parts[i], parts[j]) = (
            part(v.parts[i], cos, v.parts[j], -sin).within(-most, most),
            part(v.parts[i], sin, v.parts[j], cos).within(-most, most),
        );
    } else {
        (parts[i], parts[j]) = (Interval::new(-most, most), Interval::new(-most, most));
    }
    Range { parts, length: v.length }
}

/// A range turned to the nearest of some directions: exactly where it lies along one component and
/// all numbers are fixed, else any direction.
pub(super) fn to_ways(v: Range, count: Interval, from: Interval) -> Range {
    let most = v.length.most;
    let is_fixed = count.least == count.most && from.least == from.most;
    let along = match (v.parts[0] == Interval::ZERO, v.parts[1] == Interval::ZERO) {
        (false, true) => Some((v.parts[0], 0.0)),
        (true, false) => Some((v.parts[1], PI / 2.0)),
        _ => None,
    };
    let any = Interval::new(-most, most);
    let mut parts = [any, any, Interval::ZERO];
    if let (true, Some((part, angle))) = (is_fixed, along) {
        let step = TAU / count.least.round().max(1.0);
        // What lengths become, that lie at an angle.
        let turned = |angle: f64, lengths: Interval| {
            let ways = (angle - from.least) / step;
            let way = from.least + libm::round(ways) * step;
            // Half way between two directions it could be either.
            let is_clear = (ways - libm::floor(ways) - 0.5).abs() > AT_REST;
            // What a cosine leaves of 0 is nothing, of an endless length too.
            let of = |share: f64| match share.abs() < AT_REST {
                true => Interval::ZERO,
                false => {
                    Interval::only(lengths.least * share).or(Interval::only(lengths.most * share))
                }
            };
            is_clear.then(|| [of(libm::cos(way)), of(libm::sin(way))])
        };
        let positive =
            (part.most > 0.0).then(|| turned(angle, Interval::new(part.least.max(0.0), part.most)));
        let negative = (part.least < 0.0)
            .then(|| turned(angle + PI, Interval::new((-part.most).max(0.0), -part.least)));
        let none = part.holds(0.0).then_some(Some([Interval::ZERO; 2]));
        let all: Option<Vec<[Interval; 2]>> =
            [positive, negative, none].into_iter().flatten().collect();
        let joint = |a: [Interval; 2], b: [Interval; 2]| [a[0].or(b[0]), a[1].or(b[1])];
        if let Some([x, y]) = all.and_then(|all| all.into_iter().reduce(joint)) {
            parts = [x, y, Interval::ZERO];
        }
    }
    Range { parts, length: v.length }
}
