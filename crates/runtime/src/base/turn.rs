//! Rotations as unit quaternions (x, y, z, w); all 0 is no rotation too.
//!
//! Formulas: the product of Hamilton, and spherical linear interpolation along the shorter arc.

use super::value::Vector;

/// The components with w, also of no rotation.
fn whole(v: Vector) -> [f64; 4] {
    if v == Vector::ZERO { [0.0, 0.0, 0.0, 1.0] } else { v.components() }
}

/// `v` made a unit quaternion; no rotation where that can't be.
pub fn unit(v: Vector) -> Vector {
    let [x, y, z, w] = v.components();
    let most = [x, y, z, w].into_iter().map(f64::abs).fold(0.0, f64::max);
    if !most.is_finite() || most == 0.0 {
        return Vector::ZERO;
    }
    let [x, y, z, w] = [x, y, z, w].map(|c| c / most);
    let length = (x * x + y * y + z * z + w * w).sqrt();
    let [x, y, z, w] = if (length * most - 1.0).abs() < 1e-12 {
        v.components()
    } else {
        [x, y, z, w].map(|c| c / length)
    };
    match (x, y, z) {
        (0.0, 0.0, 0.0) => Vector::ZERO,
        _ => Vector { x: x + 0.0, y: y + 0.0, z: z + 0.0, w: w + 0.0 },
    }
}

/// The angle from no rotation, 0 to π: 2·atan2(|(x, y, z)|, |w|).
pub fn angle(v: Vector) -> f64 {
    let [x, y, z, w] = whole(v);
    2.0 * libm::atan2((x * x + y * y + z * z).sqrt(), w.abs())
}

/// The axis that it turns around by its [angle], counter-clockwise and of length 1; 0 of no rotation.
pub fn axis(v: Vector) -> Vector {
    let [x, y, z, w] = whole(v);
    let length = (x * x + y * y + z * z).sqrt();
    if length == 0.0 {
        return Vector::ZERO;
    }
    // The shorter way around.
    let length = if w < 0.0 { -length } else { length };
    Vector::space(x / length + 0.0, y / length + 0.0, z / length + 0.0)
}

/// The angle between two rotations, 0 to π.
pub fn between(a: Vector, b: Vector) -> f64 {
    let ([ax, ay, az, aw], [bx, by, bz, bw]) = (whole(a), whole(b));
    // The rotation from a to b: conjugate(a) · b.
    let w = aw * bw + ax * bx + ay * by + az * bz;
    let x = aw * bx - ax * bw - ay * bz + az * by;
    let y = aw * by - ay * bw - az * bx + ax * bz;
    let z = aw * bz - az * bw - ax * by + ay * bx;
    2.0 * libm::atan2((x * x + y * y + z * z).sqrt(), w.abs())
}

/// From `a` a share of the way to `b`, along the shorter arc.
pub fn towards(a: Vector, b: Vector, share: f64) -> Vector {
    let (from, to) = (whole(a), whole(b));
    let dot: f64 = from.iter().zip(to).map(|(a, b)| a * b).sum();
    let sign = if dot < 0.0 { -1.0 } else { 1.0 };
    let half = between(a, b) / 2.0;
    let (near, far) = if half < 1e-9 {
        (1.0 - share, share)
    } else {
        let sin = libm::sin(half);
        (libm::sin((1.0 - share) * half) / sin, libm::sin(share * half) / sin)
    };
    let at = |i: usize| near * from[i] + far * sign * to[i];
    unit(Vector { x: at(0), y: at(1), z: at(2), w: at(3) })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A rotation by `angle` around z.
    fn around_z(angle: f64) -> Vector {
        unit(Vector { x: 0.0, y: 0.0, z: libm::sin(angle / 2.0), w: libm::cos(angle / 2.0) })
    }

    #[test]
    fn half_way_of_an_arc_is_half_its_angle_and_the_shorter_arc_is_taken() {
        for (from, to, wanted) in
            [(0.0, 1.0, 0.5), (0.2, 2.2, 1.2), (3.0, -3.0, std::f64::consts::PI)]
        {
            let half = towards(around_z(from), around_z(to), 0.5);
            assert!(between(half, around_z(wanted)) < 1e-9, "{from} to {to}");
        }
        let all = |v: Vector| Vector { x: -v.x, y: -v.y, z: -v.z, w: -v.w };
        assert!(between(around_z(1.0), all(around_z(1.0))) < 1e-9, "the same rotation twice");
        assert!((angle(around_z(-2.0)) - 2.0).abs() < 1e-12);
        assert_eq!(angle(Vector::ZERO), 0.0);
    }

    /// The same found from the dot product: 2·acos(|a · b|).
    #[test]
    fn the_angle_between_two_rotations_is_that_of_their_dot_product() {
        let all = [
            Vector { x: 0.1, y: -0.7, z: 0.3, w: 0.6 },
            Vector { x: -0.4, y: 0.2, z: 0.8, w: 0.1 },
            Vector { x: 0.5, y: 0.5, z: -0.2, w: -0.9 },
            Vector { x: 0.9, y: 0.1, z: 0.2, w: 0.4 },
        ]
        .map(unit);
        for (a, b) in all.iter().flat_map(|a| all.iter().map(move |b| (*a, *b))) {
            let dot: f64 = a.components().iter().zip(b.components()).map(|(a, b)| a * b).sum();
            let wanted = 2.0 * libm::acos(dot.abs().min(1.0));
            assert!((between(a, b) - wanted).abs() < 1e-7, "{a:?} {b:?}");
            for share in [0.0, 0.25, 0.8, 1.0] {
                let at = towards(a, b, share);
                assert!((between(a, at) - wanted * share).abs() < 1e-7, "{share} of {a:?} {b:?}");
            }
        }
    }

    #[test]
    fn a_rotation_is_its_angle_around_its_axis() {
        for (angle_wanted, way) in
            [(0.4, [0.0, 0.6, 0.8]), (3.0, [-1.0, 0.0, 0.0]), (4.0, [0.0, 1.0, 0.0])]
        {
            let (sin, w) = (libm::sin(angle_wanted / 2.0), libm::cos(angle_wanted / 2.0));
            let [x, y, z] = way.map(|c: f64| c * sin);
            let turned = unit(Vector { x, y, z, w });
            // More than half a turn is less than half a turn the other way round.
            let (wanted, sign) = match angle_wanted > std::f64::consts::PI {
                true => (2.0 * std::f64::consts::PI - angle_wanted, -1.0),
                false => (angle_wanted, 1.0),
            };
            assert!((angle(turned) - wanted).abs() < 1e-12);
            for (found, wanted) in axis(turned).xyz().into_iter().zip(way) {
                assert!((found - sign * wanted).abs() < 1e-12, "{way:?}");
            }
        }
        assert_eq!(axis(Vector::ZERO), Vector::ZERO);
        assert_eq!(axis(Vector { w: 1.0, ..Vector::ZERO }), Vector::ZERO);
    }

    #[test]
    fn what_is_no_rotation_becomes_none() {
        assert_eq!(unit(Vector::ZERO), Vector::ZERO);
        assert_eq!(unit(Vector { w: 3.0, ..Vector::ZERO }), Vector::ZERO);
        let long = unit(Vector { x: 0.0, y: 4.0, z: 0.0, w: 3.0 });
        assert!((long.y - 0.8).abs() < 1e-15 && (long.w - 0.6).abs() < 1e-15);
    }
}
