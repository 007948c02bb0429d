//! What came of a take, as `expect` lines.

use super::outcome::{Outcome, Whose};
use super::{plain, seconds};
use harmonym_runtime::base::{ActionId, Seat, Time, Vector};
use harmonym_runtime::engine::{Cause, EventKind, Notice};
use harmonym_runtime::plan::{Cue, Plan};
use harmonym_runtime::seats::Told;

/// An action with more events of a kind is told their number only.
const MOST: usize = 12;

/// How exact `at` is if nothing is said.
const USUAL: Time = Time::from_millis(1);

/// The lines, each with its break: those of each action together, in file order. `take` is what they tell, `own`
/// what came of the score, which they allow for.
pub(super) fn lines(plan: &Plan, take: &Outcome, own: &Outcome) -> Vec<String> {
    let mut all = Vec::new();
    let many = take.events.keys().chain(take.values.keys()).any(|(_, seat)| *seat != Seat::FIRST);
    for &action in plan.by_file() {
        for seat in Seat::first(harmonym_runtime::base::MOST_SEATS as u8) {
            let whose = (action, seat);
            let name = &plan.names().actions[action];
            let name = match many {
                true => format!("{name} of seat {seat}"),
                false => name.clone(),
            };
            let expecting = Expecting { plan, action, name, whose };
            expecting.events(take, own, &mut all);
            all.extend(expecting.value(take, own));
        }
    }
    all
}

/// What was told from one moment to another, as `expect` lines: what fired and what lapsed. With `many` players each
/// line says whose it is.
pub fn expected<'a>(
    plan: &Plan,
    many: bool,
    told: impl Iterator<Item = &'a Told>,
    (from, to): (Time, Time),
) -> String {
    let mut lines = String::new();
    for told in told {
        let Notice::Event(event) = told.notice else { continue };
        let (verb, because) = match event.kind {
            // What fires at every tick is no moment.
            EventKind::Fire(by, _) if plan.alternatives()[by].cue == Cue::While => continue,
            EventKind::Fire(..) => ("fires", String::new()),
            EventKind::Lapse(cause) => ("lapses", format!(" because {}", cause.word())),
            EventKind::Wake | EventKind::Rest(_) => continue,
        };
        if !(from..=to).contains(&event.t) {
            continue;
        }
        let seat = told.seat.filter(|_| many).map(|seat| format!(" of seat {seat}"));
        let (name, seat) = (&plan.names().actions[event.action], seat.unwrap_or_default());
        let at = seconds(rounded(event.t));
        lines.push_str(&format!("expect {name}{seat} {verb} at {at}{because}\n"));
    }
    lines
}

/// One action of a seat.
struct Expecting<'p> {
    plan: &'p Plan,
    action: ActionId,
    name: String,
    whose: Whose,
}

impl Expecting<'_> {
    fn events(&self, take: &Outcome, own: &Outcome, all: &mut Vec<String>) {
        let none = Vec::new();
        let events = take.events.get(&self.whose).unwrap_or(&none);
        let others = own.events.get(&self.whose).unwrap_or(&none);
        let name = &self.name;
        let goes_on = |kind: EventKind| match kind {
            EventKind::Fire(by, _) => self.plan.alternatives()[by].cue == Cue::While,
            _ => false,
        };
        // What fires at every tick is a stretch: it is told where it begins and ends.
        let is_stretch = events.iter().any(|(kind, _)| goes_on(*kind));
        let fires: Vec<usize> = (0..events.len())
            .filter(|&i| matches!(events[i].0, EventKind::Fire(..)) && !is_stretch)
            .collect();
        if !fires.is_empty() {
            all.push(format!("expect {name} fires {}\n", times(fires.len())));
        }
        let told = |kind: EventKind| match kind {
            EventKind::Wake => is_stretch,
            EventKind::Fire(..) => !is_stretch && fires.len() <= MOST,
            EventKind::Lapse(_) => true,
            EventKind::Rest(cause) => is_stretch && cause != Cause::Stopped,
        };
        let shown: Vec<usize> = (0..events.len()).filter(|&i| told(events[i].0)).collect();
        let (few, rest) = shown.split_at(shown.len().min(2 * MOST));
        for &place in few {
            let (kind, t) = events[place];
            let verb = match kind {
                EventKind::Wake => "wakes",
                EventKind::Fire(..) => "fires",
                EventKind::Lapse(_) => "lapses",
                EventKind::Rest(_) => "rests",
            };
            let at = rounded(t);
            let off = others.get(place).map_or(Time::ZERO, |(_, other)| {
                at.max(*other).since(at.min(*other)).max(at.max(t).since(at.min(t)))
            });
            let within = match off <= USUAL {
                true => String::new(),
                false => format!(" within {}ms", off.nanos().div_ceil(1_000_000)),
            };
            let because = match kind.cause() {
                Some(cause) => format!(" because {}", cause.word()),
                None => String::new(),
            };
            all.push(format!("expect {name} {verb} at {}{within}{because}\n", seconds(at)));
        }
        let lapses = |i: &&usize| matches!(events[**i].0, EventKind::Lapse(_));
        if rest.iter().any(|i| lapses(&i)) {
            let lapses = shown.iter().filter(lapses).count();
            all.push(format!("expect {name} lapses {}\n", times(lapses)));
        }
    }

    /// The value where it is greatest.
    fn value(&self, take: &Outcome, own: &Outcome) -> Option<String> {
        let kind = self.plan.actions()[self.action].kind;
        let values = take.values.get(&self.whose)?;
        let greatest = |a: &&(Time, Vector), b: &&(Time, Vector)| {
            a.1.magnitude_of(kind).total_cmp(&b.1.magnitude_of(kind)).then(b.0.cmp(&a.0))
        };
        let &(t, value) = values.iter().max_by(greatest)?;
        let other = own.value(self.whose, t);
        let size = value.shown(kind).into_iter().map(f64::abs).fold(0.0, f64::max);
        let digits = (3 - size.log10().ceil() as i32).clamp(0, 6);
        let digits = usize::try_from(digits).unwrap_or_default();
        let power = 10_f64.powi(digits as i32);
        let numbers: Vec<f64> = value
            .shown(kind)
            .into_iter()
            .take(kind.components())
            .map(|v| (v * power).round() / power + 0.0)
            .collect();
        let apart =
            |of: [f64; 4]| numbers.iter().zip(of).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
        let off = apart(other.shown(kind)).max(apart(value.shown(kind)));
        // A score whose value is elsewhere expects none.
        if off > size / 4.0 {
            return None;
        }
        let steps = (off * power).ceil().max(1.0);
        let within = plain(steps / power);
        let text: Vec<String> = numbers.iter().map(|v| plain(*v)).collect();
        let text = match text.as_slice() {
            [one] => one.clone(),
            all => format!("({})", all.join(", ")),
        };
        Some(format!("expect {} = {text} within {within} at {}\n", self.name, seconds(t)))
    }
}

/// To a tenth of a millisecond.
fn rounded(t: Time) -> Time {
    const STEP: u64 = 100_000;
    Time::from_nanos((t.nanos() + STEP / 2) / STEP * STEP)
}

fn times(count: usize) -> String {
    match count {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        many => format!("{many} times"),
    }
}
