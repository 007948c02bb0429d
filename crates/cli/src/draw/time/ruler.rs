//! Time from left to right.

use super::{Anchor, Done, Pen, Shade};
use harmonym_runtime::base::Time;

/// The steps of a ruler over a minute, in seconds.
const LONG_STEPS: [f64; 8] = [60.0, 120.0, 300.0, 600.0, 1200.0, 1800.0, 3600.0, 7200.0];

/// Where moments are.
#[derive(Clone, Copy, Debug)]
pub struct Ruler {
    from: f64,
    to: f64,
    left: f64,
    right: f64,
}

impl Ruler {
    pub fn new(from: Time, to: Time, left: f64, right: f64) -> Self {
        let (from, to) = (from.seconds(), to.seconds());
        // An empty run still has a ruler.
        Self { from, to: to.max(from + 1e-6), left, right }
    }

    /// Where a moment is, also outside.
    pub fn x(&self, t: Time) -> f64 {
        self.at(t.seconds())
    }

    fn at(&self, seconds: f64) -> f64 {
        self.left + (seconds - self.from) / (self.to - self.from) * (self.right - self.left)
    }

    /// Where a moment is, if it can be seen.
    pub fn x_within(&self, t: Time) -> Option<f64> {
        let x = self.x(t);
        (x >= self.left - 0.01 && x <= self.right + 0.01).then_some(x)
    }

    /// Where a stretch can be seen.
    pub fn span(&self, from: Time, to: Time) -> Option<(f64, f64)> {
        let (x0, x1) = (self.x(from).max(self.left), self.x(to).min(self.right));
        (x1 >= x0).then_some((x0, x1))
    }

    /// The moment at the right end.
    pub fn end(&self) -> Time {
        Time::from_nanos((self.to * 1e9).round() as u64)
    }

    pub fn left(&self) -> f64 {
        self.left
    }

    pub fn right(&self) -> f64 {
        self.right
    }

    /// Seconds between two marks that are at least 80 pixels apart.
    fn step(&self) -> f64 {
        let least = (self.to - self.from) / ((self.right - self.left) / 80.0);
        if least > 50.0 {
            return LONG_STEPS.into_iter().find(|step| *step >= least).unwrap_or(least);
        }
        let power = 10_f64.powf(least.log10().floor());
        let factor = [1.0, 2.0, 5.0, 10.0].into_iter().find(|f| f * power >= least);
        factor.unwrap_or(10.0) * power
    }

    /// The rules, with their times above and below.
    pub fn draw(&self, pen: &Pen<'_>, top: f64, bottom: f64) -> Done {
        let step = self.step();
        let mut k = (self.from / step).ceil();
        while k * step <= self.to + step * 1e-9 {
            let (seconds, x) = (k * step, self.at(k * step));
            pen.line([(x, top - 4.0), (x, bottom)], Shade::Rule, 0.8)?;
            let text = label(seconds, step);
            for y in [top - 12.0, bottom + 13.0] {
                pen.text(&text, (x, y), Anchor::Middle, 10.5, false, Shade::Grey)?;
            }
            k += 1.0;
        }
        Ok(())
    }
}

/// A moment as written on the ruler.
fn label(seconds: f64, step: f64) -> String {
    if step >= 60.0 {
        let minutes = (seconds / 60.0).round() as u64;
        return format!("{}:{:02} h", minutes / 60, minutes % 60);
    }
    let digits = (-step.log10().floor()).max(0.0) as usize;
    format!("{seconds:.digits$} s")
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ruler(seconds: u64) -> Ruler {
        Ruler::new(Time::ZERO, Time::from_millis(seconds * 1000), 0.0, 1000.0)
    }

    #[test]
    fn rules_are_eighty_pixels_apart_at_least_and_in_round_steps() {
        for (seconds, step, label_at_two) in [
            (1, 0.1, "0.2 s"),
            (5, 0.5, "1.0 s"),
            (10, 1.0, "2 s"),
            (60, 5.0, "10 s"),
            (600, 50.0, "100 s"),
            (1800, 300.0, "0:10 h"),
            (3600, 300.0, "0:10 h"),
            (36_000, 3600.0, "2:00 h"),
        ] {
            let ruler = ruler(seconds);
            let own = ruler.step();
            assert!((own - step).abs() < 1e-9, "{seconds}: {own}");
            let pixels = own / seconds as f64 * 1000.0;
            assert!(pixels >= 80.0, "{seconds}: {pixels}");
            assert_eq!(label(2.0 * own, own), label_at_two);
        }
    }

    #[test]
    fn a_stretch_is_cut_where_the_picture_ends() {
        let ruler = Ruler::new(Time::from_millis(1000), Time::from_millis(2000), 100.0, 200.0);
        let at = Time::from_millis;
        assert_eq!(ruler.span(at(500), at(1500)), Some((100.0, 150.0)));
        assert_eq!(ruler.span(at(1200), at(9000)), Some((120.0, 200.0)));
        assert_eq!(ruler.span(at(100), at(900)), None);
        assert_eq!(ruler.span(at(2100), at(2200)), None);
        assert_eq!(ruler.x_within(at(1500)), Some(150.0));
        assert_eq!(ruler.x_within(at(2500)), None);
        assert_eq!(ruler.end(), at(2000));
        // Nothing happened: there is still something to draw on.
        let empty = Ruler::new(Time::ZERO, Time::ZERO, 0.0, 100.0);
        assert!(empty.x(Time::ZERO).is_finite() && empty.step() > 0.0);
    }
}
