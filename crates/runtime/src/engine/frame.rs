//! What game code reads.

use super::episodes::{ActionState, Episodes, Happened};
use super::event::Cause;
use super::looks;
use super::state::State;
use crate::base::{ActionId, Id, MapId, SchemeId, Time, VariableId, Vector};
use crate::plan::{Plan, Tables};
use std::time::Duration;

/// Where an action is between rest and rest.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum EpisodeState {
    /// No episode is open.
    Rest,
    /// Awake, and not fired in this episode.
    Pending,
    /// Fired, and not yet over.
    Live,
}

/// An action at a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Reading {
    /// Its value, 0 at rest; of a switch 1 or 0 in x.
    pub value: Vector,
    /// Where it is.
    pub state: EpisodeState,
    /// How many times it fired in the last tick.
    pub fired: u32,
    /// Whether it woke in the last tick.
    pub woke: bool,
    /// Whether an episode ended in the last tick: whether it had fired, and why it ended.
    pub ended: Option<(bool, Cause)>,
    /// The time since it woke, 0 at rest.
    pub held: Duration,
    /// The time since its first fire, once there was one.
    pub fired_for: Option<Duration>,
    /// The share of the way to firing, 0 to 1.
    pub progress: f64,
}

impl Reading {
    /// What is read of an action that the plan does not have.
    const NONE: Self = Self {
        value: Vector::ZERO,
        state: EpisodeState::Rest,
        fired: 0,
        woke: false,
        ended: None,
        held: Duration::ZERO,
        fired_for: None,
        progress: 0.0,
    };
}

/// A look at the engine between two calls: what actions are worth at this moment, and what happened
/// to them in the last tick, until the next one.
///
/// No report can come while a frame is looked at, so nothing in it is ever stale. An action that the
/// plan does not have is at rest.
#[derive(Clone, Copy, Debug)]
pub struct Frame<'e> {
    pub(super) plan: &'e Plan,
    pub(super) state: &'e State,
}

impl<'e> Frame<'e> {
    pub(super) fn new(plan: &'e Plan, state: &'e State) -> Self {
        Self { plan, state }
    }

    /// The plan that runs.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.seat(1).plan().actions().len(), 2);
    /// ```
    pub fn plan(self) -> &'e Plan {
        self.plan
    }

    /// The present moment.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.advance(Time::from_millis(5));
    /// assert_eq!(hands.seat(1).now(), Time::from_millis(5));
    /// ```
    pub fn now(self) -> Time {
        self.state.clock.now
    }

    /// How many ticks there were.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # use harmonym_runtime::Time;
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).ticks(), 1);
    /// ```
    pub fn ticks(self) -> u64 {
        self.state.clock.ticks
    }

    /// Everything about an action.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// let reading = hands.seat(1).read(hail);
    /// assert_eq!((reading.value.x, reading.fired, reading.woke), (1.0, 1, true));
    /// ```
    pub fn read(self, action: ActionId) -> Reading {
        let Some(state) = self.state.episodes.actions.get(action) else { return Reading::NONE };
        let Happened { fired, woke, ended, .. } = state.happened_in(self.ticks());
        let first_fire = state.first_fire.filter(|_| state.awake);
        Reading {
            value: self.value(action),
            state: self.state(action),
            fired,
            woke,
            ended,
            held: self.held(action),
            fired_for: first_fire.map(|at| self.now().since(at).into()),
            progress: self.progress(action),
        }
    }

    /// An action's value, 0 at rest; of a switch 1 or 0 in x.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # use harmonym_runtime::Time;
    /// let walk = game.action("quay.walk").unwrap();
    /// let stick = harmonym_runtime::Contact::first(game.control("pad.left-stick").unwrap());
    /// # let mut hands = game.hands(1);
    /// hands.report(Time::from_millis(3), stick, [0.6, 0.8]).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).value(walk).y, 0.8);
    /// ```
    #[inline]
    pub fn value(self, action: ActionId) -> Vector {
        match self.state.episodes.actions.get(action) {
            // It was written down at the tick.
            Some(state) if self.state.clock.frame_stands => state.shown_value,
            Some(_) => self.state.episodes.value_read(self.plan.tables(), action),
            None => Vector::ZERO,
        }
    }

    /// Whether a switch is down.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert!(hands.seat(1).is_on(hail));
    /// ```
    pub fn is_on(self, action: ActionId) -> bool {
        self.value(action).x != 0.0
    }

    /// Where an action is between rest and rest.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// use harmonym_runtime::EpisodeState;
    /// assert_eq!(hands.seat(1).state(hail), EpisodeState::Rest);
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert_eq!(hands.seat(1).state(hail), EpisodeState::Live);
    /// ```
    #[inline]
    pub fn state(self, action: ActionId) -> EpisodeState {
        let state = self.state.episodes.actions.get(action);
        state.map_or(EpisodeState::Rest, ActionState::episode_state)
    }

    /// How many times an action fired in the last tick.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).fired(hail), 1);
    /// hands.tick(Time::from_millis(33));
    /// assert_eq!(hands.seat(1).fired(hail), 0);
    /// ```
    #[inline]
    pub fn fired(self, action: ActionId) -> u32 {
        let state = self.state.episodes.actions.get(action);
        state.map_or(0, |state| state.happened_in(self.state.clock.ticks).fired)
    }

    /// The time since an action woke; 0 at rest.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).held(hail).as_millis(), 13);
    /// ```
    pub fn held(self, action: ActionId) -> Duration {
        let state = self.state.episodes.actions.get(action).filter(|state| state.awake);
        state.map_or(Duration::ZERO, |state| self.now().since(state.woke_at).into())
    }

    /// The share of the way to firing, 0 to 1; 0 at rest.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// assert_eq!(hands.seat(1).progress(hail), 1.0);
    /// ```
    pub fn progress(self, action: ActionId) -> f64 {
        let State { clock, values, episodes, .. } = self.state;
        match episodes.actions.get(action).is_some_and(|state| state.awake) {
            true => episodes.progress(*clock, values, self.plan.tables(), action),
            false => 0.0,
        }
    }

    /// Whether an action's value at the last tick differs from that at the tick before.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// assert!(hands.seat(1).has_changed(hail));
    /// ```
    pub fn has_changed(self, action: ActionId) -> bool {
        self.state.agenda.changed.contains(action)
    }

    /// The actions whose value at the last tick differs from that at the tick before, in order.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// let hail = game.action("quay.hail").unwrap();
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// hands.tick(Time::from_millis(16));
    /// assert_eq!(hands.seat(1).changed().collect::<Vec<_>>(), [hail]);
    /// ```
    pub fn changed(self) -> impl Iterator<Item = ActionId> + use<'e> {
        let changed = &self.state.agenda.changed;
        std::iter::successors(changed.next(0), |id| changed.next(id.index() + 1))
    }

    /// The scheme in use, by the device that was used last.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// # let key = harmonym_runtime::Contact::first(game.control("key.KeyH").unwrap());
    /// # use harmonym_runtime::Time;
    /// hands.report(Time::from_millis(3), key, true).unwrap();
    /// let scheme = hands.seat(1).scheme_in_use();
    /// assert_eq!(scheme, Some(game.scheme("desk").unwrap()));
    /// ```
    pub fn scheme_in_use(self) -> Option<SchemeId> {
        self.state.inputs.usage.scheme()
    }

    /// The one scheme whose bindings count, if the game narrowed them.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.seat(1).narrowed_to(), None);
    /// ```
    pub fn narrowed_to(self) -> Option<SchemeId> {
        self.state.inputs.maps.narrowed
    }

    /// What a setting or fact is worth, in its own unit; a switch is 1 or 0.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// let pace = game.number("pace").unwrap();
    /// assert_eq!(hands.seat(1).number(pace), Some(1.0));
    /// ```
    pub fn number(self, variable: VariableId) -> Option<f64> {
        self.state.values.worth(self.plan.tables(), variable)
    }

    /// The open maps, the first in order first.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.seat(1).open_maps(), [game.map("quay").unwrap()]);
    /// ```
    pub fn open_maps(self) -> &'e [MapId] {
        self.state.inputs.maps.order.as_slice()
    }

    /// Whether a map is open.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert!(!hands.seat(1).is_open(game.map("tug").unwrap()));
    /// ```
    pub fn is_open(self, map: MapId) -> bool {
        self.state.inputs.maps.is_open(map)
    }

    /// Whether the game is paused.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert!(!hands.seat(1).is_paused());
    /// ```
    pub fn is_paused(self) -> bool {
        self.state.inputs.maps.paused
    }

    /// Whether nothing is due any more: no cue waits for its time (`repeat` and `while`
    /// aside), and no step moves on its own.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert!(hands.seat(1).is_settled());
    /// ```
    pub fn is_settled(self) -> bool {
        !self.state.episodes.waits(self.plan.tables()) && self.state.agenda.moving.is_empty()
    }

    /// When the next cue's time comes, or what moves is somewhere else on a whole millisecond.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// # let mut hands = game.hands(2);
    /// assert_eq!(hands.seat(1).next_due(), None);
    /// ```
    pub fn next_due(self) -> Option<Time> {
        let look = (!self.state.agenda.moving.is_empty()).then(|| looks::after(self.now()));
        let timer = self.state.episodes.timers.first().map(|(due, _, _)| due);
        [timer, look].into_iter().flatten().min()
    }
}

impl Episodes {
    /// The value that game code reads: 0 at rest.
    pub fn value_read(&self, plan: &Tables, action: ActionId) -> Vector {
        if self.actions[action].awake { self.value_now(plan, action) } else { Vector::ZERO }
    }
}

impl ActionState {
    #[inline]
    fn episode_state(&self) -> EpisodeState {
        match (self.awake, self.first_fire) {
            (false, _) => EpisodeState::Rest,
            (true, None) => EpisodeState::Pending,
            (true, Some(_)) => EpisodeState::Live,
        }
    }
}
