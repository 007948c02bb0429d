//! The language as `help` tells it, and the pages of the reference that are made of the same: texts
//! whose tables come from where the language is read.

mod entry;
mod rows;

pub use entry::{entries, find, step_with_example};

use minijinja::Environment;

/// A part of the language that `help` tells of.
#[derive(Clone, Copy, Debug)]
pub struct Topic {
    pub name: &'static str,
    pub about: &'static str,
    text: &'static str,
}

macro_rules! topics {
    ($($name:literal $about:literal,)*) => {
        &[$(Topic {
            name: $name,
            about: $about,
            text: include_str!(concat!($name, ".md")),
        },)*]
    };
}

/// All of them, in the order in which a profile is written.
pub const TOPICS: &[Topic] = topics! {
    "profile" "harmonym.toml: its keys, actions, schemes, settings, facts, devices",
    "maps" "groups of actions that are opened and closed",
    "controls" "how keys, buttons, sticks and pointers are named",
    "bindings" "controls put together: axes of two keys, planes of four, combinations, blends",
    "steps" "what shapes a value: dead zones, curves, signs, smoothing",
    "cues" "when an action fires: press, hold, tap and the like",
    "scores" "scripted hands, and what is expected of them",
    "takes" "recorded hands",
    "json" "what is printed for programs",
};

/// The pages of the reference that are made of topics: the file, its title, and what is in it.
#[cfg(test)]
const PAGES: &[(&str, &str, &[&str])] = &[
    ("profile.md", "The profile", &["profile", "maps", "controls", "bindings", "steps", "cues"]),
    ("score.md", "Scores and takes", &["scores", "takes"]),
    ("json.md", "JSON", &["json"]),
];

impl Topic {
    pub fn named(name: &str) -> Option<&'static Self> {
        TOPICS.iter().find(|topic| topic.name == name)
    }

    /// All there is to say of it, as Markdown.
    pub fn markdown(&self) -> String {
        let mut pages = Environment::new();
        rows::add_to(&mut pages);
        // Our own texts, each of which is rendered by a test.
        pages.render_str(self.text, ()).unwrap_or_default().trim().to_owned() + "\n"
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::path::Path;

    /// A page as it stands in the reference.
    fn page(title: &str, topics: &[&str]) -> String {
        let made = "<!-- Made of crates/cli/src/view/topics: `REFERENCE=write cargo test -p \
                    harmonym reference` -->\n";
        let of = |name: &&str| Topic::named(name).unwrap().markdown();
        let texts: Vec<String> = topics.iter().map(of).collect();
        if let [one] = texts.as_slice() {
            return format!("{made}{one}");
        }
        let mut text = format!("{made}# {title}\n");
        for part in &texts {
            text.push('\n');
            let mut in_code = false;
            for line in part.lines() {
                in_code ^= line.starts_with("```");
                let deeper = if line.starts_with('#') && !in_code { "#" } else { "" };
                text.push_str(&format!("{deeper}{line}\n"));
            }
        }
        text
    }

    #[test]
    fn the_reference_is_what_help_says() {
        let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/reference");
        for (name, title, topics) in PAGES {
            let (path, wanted) = (folder.join(name), page(title, topics));
            if std::env::var_os("REFERENCE").is_some_and(|word| word == "write") {
                std::fs::write(&path, &wanted).unwrap();
            }
            let there = std::fs::read_to_string(&path).unwrap();
            assert!(there == wanted, "docs/reference/{name} is stale: see its first line");
        }
        let all: Vec<&str> = PAGES.iter().flat_map(|(.., topics)| topics.iter().copied()).collect();
        assert!(TOPICS.iter().all(|topic| all.contains(&topic.name)));
    }

    #[test]
    fn every_entry_is_found_by_its_name_and_says_something() {
        for topic in TOPICS {
            assert!(topic.markdown().starts_with("# "), "{}", topic.name);
            for entry in entries(topic) {
                assert_eq!(find(Some(topic), entry.name).len(), 1, "{} {}", topic.name, entry.name);
                assert!(entry.markdown(100).len() > 40, "{} {}", topic.name, entry.name);
            }
        }
    }
}
