//! `human-times`: a time that hands can hardly keep.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::model::{Cue, Number};
use harmonym_lang::report::Level;
use harmonym_runtime::base::shortest;

pub(super) const RULE: Rule = Rule {
    name: "human-times",
    level: Level::Note,
    finds: "A time that hands can hardly keep.",
    why: "Some players manage it, most do not, and nobody can say why it did not work.",
    find,
};

/// Gaps between presses under this are too short for most hands.
const GAP: f64 = 0.12;
/// So are taps.
const TAP: f64 = 0.08;
/// Longer than this nobody waits.
const HOLD: f64 = 3.0;
/// A repeat faster than this is faster than frames.
const FRAME: f64 = 1.0 / 60.0;
/// So long a step of a sequence takes at least.
const STEP: f64 = 0.12;

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    for (id, action) in context.actions() {
        for one in &action.fire {
            let time = |number: &Number| context.at_first(*number);
            let (why, number) = match &one.cue {
                Cue::Taps { gap, .. } if time(gap) < GAP => (
                    format!("presses this close are too fast for most hands: give them {GAP} s"),
                    gap,
                ),
                Cue::Tap(most) if time(most) < TAP => {
                    (format!("a tap this short is too fast for most hands: give it {TAP} s"), most)
                }
                Cue::Hold(least) | Cue::Charge(least) if time(least) > HOLD => (
                    format!("nobody holds on so long without a sign: {HOLD} s is much already"),
                    least,
                ),
                Cue::Repeat { every, .. } if time(every) < FRAME => (
                    "it repeats faster than frames are drawn: several fires fall into one"
                        .to_owned(),
                    every,
                ),
                Cue::Sequence { steps, within }
                    if time(within) < STEP * (steps.len() as f64 - 1.0) =>
                {
                    let least = STEP * (steps.len() as f64 - 1.0);
                    (
                        format!(
                            "{} steps take hands {} s at least",
                            steps.len(),
                            shortest((least * 100.0).round() / 100.0)
                        ),
                        within,
                    )
                }
                _ => continue,
            };
            let message = format!(
                "`{}` of {} asks for {} s: {why}",
                one.text,
                context.profile.address(id),
                shortest((time(number) * 1e4).round() / 1e4)
            );
            let word = one.text.split([' ', '(']).next().unwrap_or_default();
            let help = "take a time that hands keep, and try it with `harmonym sweep`";
            found.push(Place::key(context.profile, id, "fire").at(word).tell(message, help));
        }
    }
}
