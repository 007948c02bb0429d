//! Which room of a crate uses which, read from its sources and compared with a table.
//!
//! A *room* is a folder or file directly under `src/`. It uses another when a path in it leads there,
//! in a `use`, an expression, a type or a macro; a name that a room only hands on (`pub use`) counts
//! as an arrow to where it comes from. Code that is there for tests alone does not count.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};
use syn::visit::{self, Visit};
use syn::{Item, UseTree};

/// The rooms of a crate, in any order, and what each may use: rooms of the same crate, or other
/// crates of the workspace by their last word (`runtime`).
pub type Table = [(&'static str, &'static [&'static str])];

/// A room, or a whole other crate.
type Name = String;

/// Everything that is wrong with the crate at `root` (the folder of its `Cargo.toml`): arrows that
/// `table` does not allow, and entries of it that nothing uses.
///
/// # Panics
/// If the sources can't be read, or are not Rust.
pub fn wrong(root: &Path, table: &Table) -> Vec<String> {
    let house = House::read(root);
    let mut wrong = Vec::new();
    let mut used: BTreeSet<(&str, &str)> = BTreeSet::new();
    for (room, arrows) in &house.arrows {
        let Some((name, may)) = table.iter().find(|(name, _)| name == room) else {
            wrong.push(format!("{room} is not in the table"));
            continue;
        };
        for (to, path) in arrows {
            match may.iter().find(|may| *may == to) {
                Some(may) => drop(used.insert((name, may))),
                None => wrong.push(format!("{}: {room} uses {to}", path.display())),
            }
        }
    }
    for (room, may) in table {
        if !house.arrows.contains_key(*room) {
            wrong.push(format!("there is no room {room}"));
        }
        let idle = may.iter().filter(|may| !used.contains(&(*room, **may)));
        wrong.extend(idle.map(|may| format!("nothing in {room} uses {may}: take the entry out")));
    }
    wrong.extend(circle(table));
    wrong
}

/// A circle in the table itself.
fn circle(table: &Table) -> Option<String> {
    let mut left: BTreeMap<&str, BTreeSet<&str>> =
        table.iter().map(|(room, may)| (*room, may.iter().copied().collect())).collect();
    loop {
        let rooms: BTreeSet<&str> = left.keys().copied().collect();
        let free = left.iter().find(|(_, may)| may.is_disjoint(&rooms)).map(|(room, _)| *room);
        match free {
            Some(room) => drop(left.remove(room)),
            None if rooms.is_empty() => return None,
            None => return Some(format!("a circle among {rooms:?}")),
        }
    }
}

/// The rooms of a crate and the arrows that leave them, each with a file in which it stands.
struct House {
    arrows: BTreeMap<Name, BTreeMap<Name, PathBuf>>,
}

impl House {
    fn read(root: &Path) -> Self {
        let crates = root.parent().expect("the folder of all crates");
        let own = root.file_name().and_then(|name| name.to_str()).expect("a name").to_owned();
        let mut handed_on = BTreeMap::new();
        for entry in fs::read_dir(crates).expect("the crates").flatten() {
            let name = entry.file_name().to_string_lossy().into_owned();
            handed_on.insert(name, HandedOn::read(&entry.path().join("src")));
        }
        let mut arrows: BTreeMap<Name, BTreeMap<Name, PathBuf>> = BTreeMap::new();
        for (room, file) in files(&root.join("src")) {
            let mut paths = Paths { found: Vec::new(), depth: depth(&file, &root.join("src")) };
            paths.visit_file(&parse(&file));
            let to = arrows.entry(room.clone()).or_default();
            for path in &paths.found {
                for name in ends(path, &own, &own, &handed_on) {
                    if name != room {
                        to.entry(name).or_insert_with(|| file.clone());
                    }
                }
            }
        }
        Self { arrows }
    }
}

/// Where a path that stands in the crate `at` leads: to rooms of the crate `own` and to other crates;
/// if what it names is only handed on there, also to where that comes from.
fn ends(path: &[String], at: &str, own: &str, all: &BTreeMap<Name, HandedOn>) -> Vec<Name> {
    let [first, rest @ ..] = path else { return Vec::new() };
    let at = match first.as_str() {
        "crate" => at,
        other => match other.strip_prefix("harmonym_") {
            Some(name) if all.contains_key(name) => name,
            _ => return Vec::new(),
        },
    };
    let ([room, more @ ..], Some(of)) = (rest, all.get(at)) else { return Vec::new() };
    // A name of a crate's front page comes from one of its rooms, or from another crate; a room may
    // have the name of what it hands on.
    if let Some(from) = of.front.get(room).filter(|from| from.get(1) != Some(room)) {
        let mut ends_at = ends(from, at, own, all);
        if at != own {
            ends_at.push(at.to_owned());
        }
        return ends_at;
    }
    let mut ends_at = vec![if at == own { room.clone() } else { at.to_owned() }];
    if let Some(from) = more.first().and_then(|name| of.rooms.get(room)?.get(name)) {
        ends_at.extend(ends(from, at, own, all));
    }
    ends_at
}

/// The names that a crate's front page and its rooms hand on, each with the path it comes from.
#[derive(Default)]
struct HandedOn {
    front: BTreeMap<String, Vec<String>>,
    rooms: BTreeMap<Name, BTreeMap<String, Vec<String>>>,
}

impl HandedOn {
    fn read(src: &Path) -> Self {
        let mut all = Self::default();
        if !src.is_dir() {
            return all;
        }
        for front in ["lib.rs", "main.rs"] {
            let path = src.join(front);
            if path.is_file() {
                all.front.extend(public_uses(&parse(&path), true));
            }
        }
        for (room, file) in files(src) {
            let is_entry =
                file.file_name().is_some_and(|name| name == "mod.rs") || file.parent() == Some(src);
            if is_entry {
                all.rooms.entry(room).or_default().extend(public_uses(&parse(&file), false));
            }
        }
        all
    }
}

/// What `pub use` of a file hands on from outside of it; of a front page also from its own rooms.
fn public_uses(file: &syn::File, is_front: bool) -> BTreeMap<String, Vec<String>> {
    let mut all = BTreeMap::new();
    for item in &file.items {
        let Item::Use(one) = item else { continue };
        if !matches!(one.vis, syn::Visibility::Public(_)) {
            continue;
        }
        for mut path in flat(&one.tree) {
            let Some(first) = path.first() else { continue };
            let is_foreign = first == "crate" || first.starts_with("harmonym_");
            if !is_foreign && is_front {
                path.insert(0, "crate".to_owned());
            } else if !is_foreign {
                continue;
            }
            let name = path.last().cloned().unwrap_or_default();
            assert_ne!(name, "*", "`pub use …::*` hides who depends on whom");
            all.insert(name, path);
        }
    }
    all
}

/// Every file under `src`, with its room; not the front page, and nothing that is there for tests.
fn files(src: &Path) -> Vec<(Name, PathBuf)> {
    let mut all = Vec::new();
    for entry in fs::read_dir(src).unwrap_or_else(|e| panic!("{}: {e}", src.display())).flatten() {
        let path = entry.path();
        let room = path.file_stem().and_then(|name| name.to_str()).unwrap_or_default().to_owned();
        if path.is_dir() {
            gather(&path, &mut |file| all.push((room.clone(), file)));
        } else if room != "lib" && room != "main" && path.extension().is_some_and(|e| e == "rs") {
            all.push((room, path));
        }
    }
    all
}

fn gather(folder: &Path, take: &mut impl FnMut(PathBuf)) {
    for entry in fs::read_dir(folder).expect("a folder").flatten() {
        let path = entry.path();
        if path.is_dir() {
            gather(&path, take);
        } else if path.extension().is_some_and(|e| e == "rs")
            && path.file_name().is_none_or(|name| name != "tests.rs")
        {
            take(path);
        }
    }
}

/// How many modules deep a file's items are.
fn depth(file: &Path, src: &Path) -> usize {
    let inside = file.strip_prefix(src).expect("a file of the crate");
    let is_entry = inside.file_name().is_some_and(|name| name == "mod.rs");
    inside.components().count() - usize::from(is_entry)
}

fn parse(file: &Path) -> syn::File {
    let text = fs::read_to_string(file).unwrap_or_else(|e| panic!("{}: {e}", file.display()));
    syn::parse_file(&text).unwrap_or_else(|e| panic!("{}: {e}", file.display()))
}

/// All paths of a file that begin at a crate's root.
struct Paths {
    found: Vec<Vec<String>>,
    depth: usize,
}

impl Paths {
    fn add(&mut self, path: Vec<String>) {
        let ups = path.iter().take_while(|part| *part == "super").count();
        assert!(ups < self.depth, "{path:?}: an arrow in hiding; say `crate::`");
        if path.first().is_some_and(|first| first == "crate" || first.starts_with("harmonym_")) {
            self.found.push(path);
        }
    }
}

fn is_for_tests(attributes: &[syn::Attribute]) -> bool {
    attributes.iter().any(|one| {
        one.path().is_ident("cfg")
            && one.parse_args::<syn::Path>().is_ok_and(|p| p.is_ident("test"))
    })
}

impl<'ast> Visit<'ast> for Paths {
    fn visit_item(&mut self, item: &'ast Item) {
        let attributes = match item {
            Item::Mod(one) => &one.attrs,
            Item::Use(one) => &one.attrs,
            Item::Fn(one) => &one.attrs,
            Item::Impl(one) => &one.attrs,
            _ => return visit::visit_item(self, item),
        };
        if is_for_tests(attributes) {
            return;
        }
        if let Item::Mod(one) = item
            && one.content.is_some()
        {
            self.depth += 1;
            visit::visit_item(self, item);
            self.depth -= 1;
            return;
        }
        visit::visit_item(self, item);
    }

    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        flat(&item.tree).into_iter().for_each(|path| self.add(path));
    }

    fn visit_path(&mut self, path: &'ast syn::Path) {
        self.add(path.segments.iter().map(|part| part.ident.to_string()).collect());
        visit::visit_path(self, path);
    }

    fn visit_macro(&mut self, one: &'ast syn::Macro) {
        self.add(one.path.segments.iter().map(|part| part.ident.to_string()).collect());
        // What stands inside is known to the macro alone: its words are read one by one.
        let words: Vec<String> = words(one.tokens.clone());
        for (at, word) in words.iter().enumerate() {
            let begins = at == 0 || words[at - 1] != "::";
            if begins && (word == "crate" || word.starts_with("harmonym_")) {
                let rest = words[at..].chunks(2);
                let parts = rest.take_while(|pair| pair.get(1).is_some_and(|sep| sep == "::"));
                let count = parts.count();
                self.add(words[at..].iter().step_by(2).take(count + 1).cloned().collect());
            }
        }
    }
}

/// The words of a macro, `::` as one of them, groups opened.
fn words(tokens: proc_macro2::TokenStream) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    for token in tokens {
        match token {
            proc_macro2::TokenTree::Group(group) => {
                all.push("(".to_owned());
                all.extend(words(group.stream()));
                all.push(")".to_owned());
            }
            proc_macro2::TokenTree::Punct(mark) if mark.as_char() == ':' => {
                match all.last_mut().filter(|last| *last == ":") {
                    Some(last) => last.push(':'),
                    None => all.push(":".to_owned()),
                }
            }
            other => all.push(other.to_string()),
        }
    }
    all
}

/// The paths of a tree of uses, each in one piece.
fn flat(tree: &UseTree) -> Vec<Vec<String>> {
    match tree {
        UseTree::Path(path) => {
            let rest = flat(&path.tree);
            let with = |mut rest: Vec<String>| {
                rest.insert(0, path.ident.to_string());
                rest
            };
            rest.into_iter().map(with).collect()
        }
        UseTree::Name(name) if name.ident == "self" => vec![Vec::new()],
        UseTree::Name(name) => vec![vec![name.ident.to_string()]],
        UseTree::Rename(name) => vec![vec![name.ident.to_string()]],
        UseTree::Glob(_) => vec![vec!["*".to_owned()]],
        UseTree::Group(group) => group.items.iter().flat_map(flat).collect(),
    }
}
