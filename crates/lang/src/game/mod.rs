//! A profile as a game holds it: read once, asked for ids, and begun.
//!
//! Guarantees: what is in a [`Game`] is without faults, and its plan is that of its profile as the
//! player has it, for the keyboard that was named.

use crate::model::Profile;
use crate::player::{Applied, Player};
use crate::report::{Diagnostic, Faults};
use crate::source::Source;
use harmonym_runtime::plan::{Plan, Unknown};
use harmonym_runtime::{ActionId, ControlId, Hands, Layout, MapId, SchemeId, Start, VariableId};
use std::sync::Arc;

/// A small profile, for examples.
#[doc(hidden)]
pub const EXAMPLE: &str = r#"
harmonym = 1
scheme.desk.devices = ["key", "mouse"]
scheme.pad.devices = ["pad"]
setting.pace = { default = 1, range = [0.5, 2] }
[map.quay]
start = true
[map.quay.hail]
value = "switch"
bind.desk = "key.KeyH"
[map.quay.walk]
value = "plane"
bind.pad = "pad.left-stick"
shape = "scale pace"
[map.tug]
kind = "layer"
"#;

/// A profile that was read, with its plan.
///
/// ```
/// use harmonym_lang::Game;
/// use harmonym_runtime::{Contact, Time};
///
/// fn main() -> Result<(), Box<dyn std::error::Error>> {
///     let text = r#"
/// harmonym = 1
/// scheme.pad.devices = ["pad"]
/// [map.quay]
/// start = true
/// [map.quay.walk]
/// value = "plane"
/// bind.pad = "pad.left-stick | deadzone 0.1"
/// "#;
///     let game = Game::parse("harmonym.toml", text)?;
///     let walk = game.action("quay.walk")?;
///     let stick = Contact::first(game.control("pad.left-stick")?);
///
///     let mut hands = game.hands(1);
///     hands.report(Time::from_millis(8), stick, [0.6, 0.8])?;
///     hands.tick(Time::from_millis(16));
///     let way = hands.seat(1).value(walk);
///     assert_eq!((way.x, way.y), (0.6, 0.8));
///     Ok(())
/// }
/// ```
#[derive(Clone, Debug)]
pub struct Game {
    profile: Profile,
    layout: Layout,
    plan: Arc<Plan>,
}

impl Game {
    /// Reads a profile; `name` is what messages call it.
    ///
    /// # Errors
    /// Everything that is wrong with it, in order of place, as data: [`Faults::list`].
    ///
    /// ```
    /// let fault = harmonym_lang::Game::parse("harmonym.toml", "harmonym = 2\n").unwrap_err();
    /// assert_eq!(fault.list().len(), 1);
    /// ```
    pub fn parse(name: &str, text: &str) -> Result<Self, Faults> {
        let (profile, plan) = crate::load(&Source::new(name, text))?;
        Ok(Self { profile, layout: Layout::default(), plan: Arc::new(plan) })
    }

    /// The same for a keyboard layout, which bindings of characters (`char.z`) follow.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// let layout = harmonym_runtime::Layout::from_word("fr").unwrap();
    /// assert_eq!(game.for_layout(layout).plan().layout(), layout);
    /// ```
    #[must_use]
    pub fn for_layout(self, layout: Layout) -> Self {
        let plan = Arc::new(crate::compile::compile(&self.profile, layout));
        Self { layout, plan, ..self }
    }

    /// The same as a player has it, whose file `text` is, and what of that no longer fits and is left out.
    ///
    /// ```
    /// # let text = "harmonym = 1\nscheme.desk.devices = [\"key\"]\n[map.quay.hail]\nvalue = \"switch\"\nbind.desk = \"key.KeyH\"\n";
    /// use harmonym_lang::Game;
    /// let game = Game::parse("harmonym.toml", text).unwrap();
    /// let file = "harmonym-player = 1\n[replace.\"quay.hail@desk\"]\n\"key.KeyH\" = \"key.KeyG\"\n";
    /// let (game, notes) = game.for_player("player.toml", file).unwrap();
    /// assert!(notes.is_empty());
    /// assert_eq!(game.bound_to("quay.hail").unwrap(), ["key.KeyG"]);
    /// ```
    ///
    /// # Errors
    /// What is wrong with the file; one of which nothing fits is another game's.
    pub fn for_player(&self, name: &str, text: &str) -> Result<(Self, Vec<Diagnostic>), Faults> {
        let source = Source::new(name, text);
        let applied = Player::read(&source)?.apply(&self.profile).expect_own(&source)?;
        let Applied { profile, notes, .. } = applied;
        let plan = Arc::new(crate::compile::compile(&profile, self.layout));
        Ok((Self { profile, layout: self.layout, plan }, notes))
    }

    /// So many players' hands at time 0, 8 at most and one at least; begin with what the profile opens at
    /// first.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// let mut hands = game.hands(2);
    /// assert_eq!(hands.all().count(), 2);
    /// ```
    pub fn hands(&self, seats: u8) -> Hands {
        Hands::start(Arc::clone(&self.plan), seats, Start::default())
    }

    /// What the profile says.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert_eq!(game.profile().actions.len(), 2);
    /// ```
    pub fn profile(&self) -> &Profile {
        &self.profile
    }

    /// What runs.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert_eq!(game.plan().seats(), 1);
    /// ```
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// The action at `address`, `map.action`.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert!(game.action("quay.hail").is_ok());
    /// let told = game.action("quay.hale").unwrap_err().to_string();
    /// assert_eq!(told, "`quay.hale` is not an action of this profile");
    /// ```
    ///
    /// # Errors
    /// When there is none; so for every kind of name.
    pub fn action(&self, address: &str) -> Result<ActionId, Unknown> {
        self.plan.find_action(address)
    }

    /// The control called `name`: one that a device reports itself.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert!(game.control("pad.left-stick").is_ok());
    /// ```
    ///
    /// # Errors
    /// When there is none.
    pub fn control(&self, name: &str) -> Result<ControlId, Unknown> {
        self.plan.find_control(name)
    }

    /// The map called `name`.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert!(game.map("tug").is_ok());
    /// ```
    ///
    /// # Errors
    /// When there is none.
    pub fn map(&self, name: &str) -> Result<MapId, Unknown> {
        self.plan.find_map(name)
    }

    /// The scheme called `name`.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert!(game.scheme("pad").is_ok());
    /// ```
    ///
    /// # Errors
    /// When there is none.
    pub fn scheme(&self, name: &str) -> Result<SchemeId, Unknown> {
        self.plan.find_scheme(name)
    }

    /// The setting or fact called `name`.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert!(game.number("pace").is_ok());
    /// ```
    ///
    /// # Errors
    /// When there is none.
    pub fn number(&self, name: &str) -> Result<VariableId, Unknown> {
        self.plan.find_variable(name)
    }

    /// The controls that an action is bound to, in order of the file, as its bindings write them.
    ///
    /// ```
    /// # let game = harmonym_lang::Game::parse("p", harmonym_lang::game::EXAMPLE).unwrap();
    /// assert_eq!(game.bound_to("quay.walk").unwrap(), ["pad.left-stick"]);
    /// ```
    ///
    /// # Errors
    /// When there is no such action.
    pub fn bound_to(&self, address: &str) -> Result<Vec<String>, Unknown> {
        let action = self.action(address)?;
        let id = self.profile.actions.ids().find(|id| id.in_plan(&self.plan) == action);
        let mut controls = Vec::new();
        for binding in id.iter().flat_map(|id| &self.profile.actions[*id].bindings) {
            binding.chain.for_each_head(&mut |head| {
                if let crate::model::Head::Control { name, .. } = head {
                    controls.push(name.clone());
                }
            });
        }
        Ok(controls)
    }
}
