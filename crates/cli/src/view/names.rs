//! The names of a profile for game code, in several languages.

use crate::args::Language;
use crate::escape::shown;
use crate::failure::Failure;
use harmonym_lang::model::{Profile, Variable};
use harmonym_runtime::base::Kind;
use harmonym_runtime::plan::Plan;
use minijinja::{Environment, Value, context};
use std::collections::BTreeMap;

impl Language {
    const fn template(self) -> &'static str {
        match self {
            Self::Rust => include_str!("names/rust.txt"),
            Self::C => include_str!("names/c.txt"),
            Self::Cpp => include_str!("names/cpp.txt"),
            Self::Csharp => include_str!("names/csharp.txt"),
            Self::Java => include_str!("names/java.txt"),
            Self::Typescript => include_str!("names/typescript.txt"),
            Self::Python => include_str!("names/python.txt"),
            Self::Lua => include_str!("names/lua.txt"),
        }
    }

    /// Its word.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Rust => "rust",
            Self::C => "c",
            Self::Cpp => "cpp",
            Self::Csharp => "csharp",
            Self::Java => "java",
            Self::Typescript => "typescript",
            Self::Python => "python",
            Self::Lua => "lua",
        }
    }

    /// Text from the profile as it may stand in a comment of one line.
    fn comment(self, text: &str) -> String {
        let text = shown(text);
        match self {
            // Nothing that ends the comment, begins another, or goes on in the next line.
            Self::C | Self::Cpp | Self::Typescript => {
                text.replace("*/", "* /").replace("/*", "/ *").replace('\\', "/").replace("??", "?")
            }
            // Escapes count in comments too.
            Self::Java => text.replace("*/", "* /").replace('\\', "/"),
            Self::Csharp => text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;"),
            Self::Python => text.replace('\\', "/").replace("\"\"\"", "''"),
            Self::Rust | Self::Lua => text.into_owned(),
        }
    }
}

/// A name and what stands beside it.
struct Member {
    address: String,
    id: usize,
    about: Option<String>,
}

/// Names of one kind.
struct Group {
    name: &'static str,
    about: &'static str,
    members: Vec<Member>,
}

/// All names in file order, by what they are of; kinds without any are left out.
fn groups(profile: &Profile, plan: &Plan) -> Vec<Group> {
    let actions = |kind: Kind| {
        let of_kind = profile.actions.entries().filter(move |(_, action)| action.kind == kind);
        let member = |(id, action): (_, &harmonym_lang::model::Action)| Member {
            address: profile.address(id),
            id: plan.place_in_file(id.in_plan(plan)),
            about: action.about.clone(),
        };
        of_kind.map(member).collect::<Vec<_>>()
    };
    let variables = |is_setting: bool| {
        let all = profile.variables.iter().enumerate();
        let member = |(id, one): (usize, &Variable)| Member {
            address: one.name.clone(),
            id,
            about: one.about.clone(),
        };
        all.filter(|(_, one)| one.is_setting == is_setting).map(member).collect::<Vec<_>>()
    };
    let of_map = |(id, map): (usize, &harmonym_lang::model::Map)| Member {
        address: map.name.clone(),
        id,
        about: map.about.clone(),
    };
    let of_scheme = |(id, scheme): (usize, &harmonym_lang::model::Scheme)| Member {
        address: scheme.name.clone(),
        id,
        about: scheme.about.clone(),
    };
    let all = [
        ("Switch", "Actions that are on or off.", actions(Kind::Switch)),
        ("Axis", "Actions that give one number.", actions(Kind::Axis)),
        ("Plane", "Actions that give two numbers.", actions(Kind::Plane)),
        ("Space", "Actions that give three numbers.", actions(Kind::Space)),
        ("Turn", "Actions that give a rotation.", actions(Kind::Turn)),
        ("Map", "Maps.", profile.maps.iter().enumerate().map(of_map).collect()),
        ("Scheme", "Schemes.", profile.schemes.iter().enumerate().map(of_scheme).collect()),
        ("Setting", "Settings of the player.", variables(true)),
        ("Fact", "Facts that the game tells.", variables(false)),
    ];
    let all = all.into_iter().map(|(name, about, members)| Group { name, about, members });
    all.filter(|group| !group.members.is_empty()).collect()
}

/// `tie-knot` as `TieKnot`.
fn pascal(name: &str) -> String {
    let word = |word: &str| {
        let (first, rest) = word.split_at(word.len().min(1));
        format!("{}{rest}", first.to_ascii_uppercase())
    };
    match name.split(['-', '.']).map(word).collect::<String>().as_str() {
        // It means something else in one of the languages.
        "Self" => "Self_".to_owned(),
        name => name.to_owned(),
    }
}

/// `quay.tie-knot` as `QUAY_TIE_KNOT`.
fn screaming(name: &str) -> String {
    name.replace(['-', '.'], "_").to_ascii_uppercase()
}

/// The file; `stem` is its name without what tells the language, and `command` makes it anew.
pub fn file(
    profile: &Profile,
    plan: &Plan,
    language: Language,
    (stem, command): (&str, &str),
) -> Result<String, Failure> {
    let fault = |error: minijinja::Error| {
        Failure::new(format!("the names cannot be written: {error}"), "tell the makers of this")
    };
    let groups = groups(profile, plan);
    expect_apart(&groups)?;
    let member = |one: &Member| {
        let about = one.about.as_deref().map(|about| language.comment(about));
        let (pascal, screaming) = (pascal(&one.address), screaming(&one.address));
        context! { address => one.address.clone(), id => one.id, about, pascal, screaming }
    };
    let groups = groups.iter().map(|group| {
        let members: Vec<Value> = group.members.iter().map(member).collect();
        let (snake, screaming) = (group.name.to_ascii_lowercase(), group.name.to_ascii_uppercase());
        context! { name => group.name, about => group.about, snake, screaming, members }
    });
    let groups: Vec<Value> = groups.collect();
    let title = language.comment(profile.title.as_deref().unwrap_or("a profile"));
    let made = language.comment(&format!("Made by `{command}`; change the profile instead."));
    let snake = stem.replace('-', "_").to_ascii_lowercase();
    let (prefix, namespace) = (snake.to_ascii_uppercase(), pascal(&snake.replace('_', "-")));
    let mut pages = Environment::new();
    pages.add_template("names", language.template()).map_err(fault)?;
    let template = pages.get_template("names").map_err(fault)?;
    let text = template.render(context! {
        made, title, groups, prefix,
        digest => plan.names_digest(),
        stem => snake,
        pascal => namespace,
        class => stem.replace('-', "_"),
    });
    Ok(format!("{}\n", text.map_err(fault)?.trim_end()))
}

/// Sees that no two names of a kind become one.
fn expect_apart(groups: &[Group]) -> Result<(), Failure> {
    for group in groups {
        let mut known: BTreeMap<String, &str> = BTreeMap::new();
        for one in &group.members {
            for spelled in [pascal(&one.address), screaming(&one.address)] {
                let other = known.insert(spelled.clone(), &one.address);
                if let Some(other) = other.filter(|other| *other != one.address) {
                    let message =
                        format!("`{other}` and `{}` would both be called {spelled}", one.address);
                    let help = format!("rename one: harmonym rename {} NAME", one.address);
                    return Err(Failure::new(message, help));
                }
            }
        }
    }
    Ok(())
}
