//! Reasons as sentences, with by how much.

use crate::view::axis_text;
use harmonym_lab::explain::{Awaits, Blocked, Obstacle, Status, Waiting};
use harmonym_runtime::base::limits::LET_GO;
use harmonym_runtime::base::{ActionId, AlternativeId, BindingId, Blend, OpId, Time, Vector, turn};
use harmonym_runtime::plan::{Guard, OpKind, Plan};

/// What words need: the names.
#[derive(Clone, Copy)]
pub struct Words<'a> {
    pub plan: &'a Plan,
    pub action: ActionId,
}

/// A moment or a length of time, to a ten-thousandth of a second.
pub fn seconds(time: Time) -> String {
    number((time.seconds() * 1e4).round() / 1e4) + " s"
}

/// A number, to a millionth.
pub fn number(value: f64) -> String {
    // Adding 0 takes the sign from −0.
    format!("{}", (value * 1e6).round() / 1e6 + 0.0)
}

impl Words<'_> {
    pub(super) fn name(&self, action: ActionId) -> &str {
        &self.plan.names().actions[action]
    }

    pub(super) fn binding(&self, binding: BindingId) -> &str {
        &self.plan.names().bindings[binding]
    }

    pub(super) fn rule(&self, alternative: AlternativeId) -> &str {
        &self.plan.names().alternatives[alternative]
    }

    /// What is not as a guard wants it, since then if it has ever been otherwise.
    pub(super) fn guard(&self, guard: Guard, since: Option<Time>) -> String {
        let since = since.map_or(String::new(), |t| format!(" since {}", seconds(t)));
        let fails = match guard {
            Guard::Live(other, true) => format!("{} is not live", self.name(other)),
            Guard::Live(other, false) => format!("{} is live", self.name(other)),
            Guard::Holds(named, true) => format!("{} is off", self.plan.names().variables[named]),
            Guard::Holds(named, false) => format!("{} is on", self.plan.names().variables[named]),
        };
        fails + &since
    }

    /// What keeps an alternative from firing.
    fn obstacles(&self, all: &[Obstacle]) -> String {
        let one = |obstacle: &Obstacle| match obstacle {
            Obstacle::Guard(guard, since) => self.guard(*guard, *since),
            Obstacle::Took(other, at) => {
                format!("{} went live at {} and has it", self.name(*other), seconds(*at))
            }
        };
        all.iter().map(one).collect::<Vec<_>>().join(", ")
    }

    pub(super) fn actions(&self, actions: &[ActionId]) -> String {
        actions.iter().map(|&id| self.name(id)).collect::<Vec<_>>().join(" and ")
    }

    /// What keeps a control away.
    pub fn blocked(&self, blocked: Blocked) -> String {
        match blocked {
            Blocked::Claimed(by, since) => {
                let since = since.map_or(String::new(), |t| format!(" since {}", seconds(t)));
                format!("is claimed by {}{since}", self.name(self.plan.bindings()[by].action))
            }
            Blocked::Hidden(binding, far) => {
                format!("belongs to {} until it is let go{}", self.binding(binding), let_go(far))
            }
            Blocked::Muted(since, far) => format!(
                "was already held at {}, when it might have begun to count: it has to be let go first{}",
                seconds(since),
                let_go(far)
            ),
        }
    }

    /// What an operation is called.
    pub(super) fn op(&self, op: OpId) -> String {
        super::stations::op_words(self.plan, op, self.plan.actions()[self.action].kind)
    }

    /// Where the action stands: a sentence without its full stop.
    pub fn status(&self, status: &Status) -> String {
        let plan = self.plan;
        let control = |id: &_| &*plan.names().controls[*id];
        match status {
            Status::Unbound => "nothing is bound to it".to_owned(),
            Status::Closed { since, opens } => {
                let homes = plan.actions()[self.action].maps.of(plan.listed_maps());
                let names: Vec<_> =
                    homes.iter().map(|&map| plan.names().maps[map].as_str()).collect();
                let names = names.join(" and ");
                match (since, opens) {
                    (Some(since), Some(opens)) => format!(
                        "its map {names} is closed from {} to {}",
                        seconds(*since),
                        seconds(*opens)
                    ),
                    (Some(since), None) => {
                        format!("its map {names} is closed since {}", seconds(*since))
                    }
                    (None, Some(opens)) => {
                        format!("its map {names} is not open until {}", seconds(*opens))
                    }
                    (None, None) => format!("its map {names} was never opened"),
                }
            }
            Status::Paused(since) => {
                format!("the game is paused since {}, and it has no in-pause", seconds(*since))
            }
            Status::Narrowed(of, to) => format!(
                "{} is pressed, but the game has narrowed the bindings to the scheme {}",
                control(of),
                plan.names().schemes[*to]
            ),
            Status::Untouched => "none of its controls is pressed".to_owned(),
            Status::Unplugged(device, since) => {
                let name = plan.catalogue().device_name(*device);
                format!(
                    "none of its controls is pressed, and {name} is unplugged since {}",
                    seconds(*since)
                )
            }
            Status::HeldBack(of, since) => format!(
                "{} was already held when its device came at {}: it has to be let go first",
                control(of),
                seconds(*since)
            ),
            Status::Blocked(of, blocked) => format!("{} {}", control(of), self.blocked(*blocked)),
            Status::NotHeld(last, holder) => {
                format!("{} counts only while {} is held", control(last), control(holder))
            }
            Status::TooEarly(last) => format!(
                "{} was pressed before what has to be held with it: it has to be pressed anew",
                control(last)
            ),
            Status::Opposed(neg, pos) => {
                format!("{} and {} are opposite and cancel out", control(pos), control(neg))
            }
            Status::Stopped(op, gave, edge) => self.stopped(*op, *gave, *edge),
            Status::Lost((lost, gave), (winner, with)) => self.lost(*lost, *gave, *winner, *with),
            Status::CancelledOut => "its bindings add up to 0".to_owned(),
            Status::UnderWake(gives, wake) => format!(
                "it gives {}, and wakes from {} on: {} is missing",
                number(*gives),
                number(*wake),
                number(wake - gives)
            ),
            Status::StillUp(gives, up) => format!(
                "its episode is over, and it still gives {}: it has to come under {} first",
                number(*gives),
                number(*up)
            ),
            Status::Taken(other) => {
                format!("the press came as {} fired, and belongs to it", self.name(*other))
            }
            Status::UnderDown(gives, down) => format!(
                "it is awake and gives {}, and is down from {} on: {} is missing",
                number(*gives),
                number(*down),
                number(down - gives)
            ),
            Status::Pending(all) => {
                let each = all.iter().map(|one| match all.len() {
                    1 => self.waiting(one),
                    _ => format!("by `{}` {}", self.rule(one.by), self.waiting(one)),
                });
                format!("it is pending: {}", each.collect::<Vec<_>>().join("; "))
            }
            Status::Live(by, since, next, against) => {
                let but = match against.is_empty() {
                    true => String::new(),
                    false => format!(", but {}", self.obstacles(against)),
                };
                self.live(*by, *since, *next) + &but
            }
            Status::Step(0, _, next, _) => {
                format!("its sequence begins when {} fires", self.name(*next))
            }
            Status::Step(done, all, next, due) => {
                let due = due.map_or(String::new(), |t| format!(" by {}", seconds(t)));
                format!("{done} of {all} steps are done: {} has to fire{due}", self.name(*next))
            }
        }
    }

    fn live(&self, by: AlternativeId, since: Option<Time>, next: Option<Time>) -> String {
        let rule = self.rule(by);
        let next = next.map_or(String::new(), |t| format!(", next at {}", seconds(t)));
        match since {
            Some(since) => format!("it is live: it fired at {} by `{rule}`{next}", seconds(since)),
            None => format!("it is live by `{rule}`, which fires at the next tick{next}"),
        }
    }

    fn stopped(&self, op: OpId, gave: f64, edge: Option<f64>) -> String {
        let name = self.op(op);
        match self.plan.ops()[op].kind {
            OpKind::Not(_) => return "its control is on, and `not` gives 0 while it is".to_owned(),
            OpKind::Toggle(_) => return "its `toggle` is off: it was pressed to end".to_owned(),
            _ => {}
        }
        match edge {
            Some(edge) => format!(
                "{} reached `{name}`, which gives 0 up to {}: {} is missing",
                number(gave),
                number(edge),
                number((edge - gave).max(0.0))
            ),
            None => format!("{} reached `{name}`, which made 0 of it", number(gave)),
        }
    }

    fn lost(&self, lost: BindingId, gave: f64, winner: BindingId, with: f64) -> String {
        let why = match self.plan.actions()[self.action].blend {
            Blend::Greatest | Blend::Sum => "is greater",
            Blend::Oldest => "left 0 earlier",
            Blend::Newest => "left 0 later",
            Blend::LastChange => "changed later",
        };
        format!(
            "{} gives {}, but {} {why} and gives {}",
            self.binding(lost),
            number(gave),
            self.binding(winner),
            number(with)
        )
    }

    /// What an alternative waits for, and what would keep it from firing then.
    fn waiting(&self, one: &Waiting) -> String {
        let (fires, fire) = match one.against.is_empty() {
            true => ("it fires", "fires"),
            false => ("it would fire", "would fire"),
        };
        let text = match &one.awaits {
            Awaits::Reaching(held, needed, due) => format!(
                "held {} of {}, it {fire} at {} if it stays down",
                seconds(*held),
                seconds(*needed),
                seconds(*due)
            ),
            Awaits::Charging(held, needed) if held < needed => format!(
                "held {} of {}, let go in {} or later {fires}",
                seconds(*held),
                seconds(*needed),
                seconds(needed.since(*held))
            ),
            Awaits::Charging(held, needed) => format!(
                "held {}, longer than {}: {fires} when it is let go",
                seconds(*held),
                seconds(*needed)
            ),
            Awaits::LettingGoBy(due) => format!("{fires} if it is let go by {}", seconds(*due)),
            Awaits::LettingGo => format!("{fires} when it is let go"),
            Awaits::Press(count, needed, due) => {
                let due = due.map_or(String::new(), |t| format!(" by {}", seconds(t)));
                format!("press {count} of {needed}, the next has to come{due}")
            }
            Awaits::Guards => return self.obstacles(&one.against),
            Awaits::Others(since, others) => {
                return format!(
                    "it would have fired at {}, and waits until {} has given up",
                    seconds(*since),
                    self.actions(others)
                );
            }
            Awaits::Down => "it is not down yet".to_owned(),
        };
        match one.against.is_empty() {
            true => text,
            false => format!("{text}, but {}", self.obstacles(&one.against)),
        }
    }
}

/// A turn as its angle and its axis.
pub(super) fn turn_text(value: Vector) -> String {
    let angle = format!("{} rad", number(turn::angle(value)));
    match turn::axis(value) {
        Vector::ZERO => angle,
        axis => format!("{angle} around {}", axis_text(axis)),
    }
}

/// When something counts as let go that reports this; nothing where that is clear.
fn let_go(far: f64) -> String {
    match far < 1.0 && far > 0.0 {
        true => format!(" (it reports {}, and is let go under {})", number(far), number(LET_GO)),
        false => String::new(),
    }
}
