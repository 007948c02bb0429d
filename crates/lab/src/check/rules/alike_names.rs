//! `alike-names`: two names that are easily taken for each other.

use crate::check::{Context, Place, Remark, Rule};
use harmonym_lang::report::Level;

pub(super) const RULE: Rule = Rule {
    name: "alike-names",
    level: Level::Note,
    finds: "Two names that are easily taken for each other.",
    why: "Somebody will bind the one and test the other.",
    find,
};

fn find(context: &Context<'_>, found: &mut Vec<Remark>) {
    let profile = context.profile;
    let mut groups: Vec<Vec<(String, Place)>> = Vec::new();
    let named = profile.variables.iter().map(|named| {
        let kind = if named.is_setting { "setting" } else { "fact" };
        (named.name.clone(), Place::thing(kind, &named.name))
    });
    groups.push(named.collect());
    groups.push(
        profile.schemes.iter().map(|s| (s.name.clone(), Place::thing("scheme", &s.name))).collect(),
    );
    groups.push(
        profile.presets.iter().map(|(n, _)| (n.clone(), Place::thing("preset", n))).collect(),
    );
    groups.push(
        profile.maps.entries().map(|(id, m)| (m.name.clone(), Place::map(profile, id))).collect(),
    );
    for map in profile.maps.iter() {
        let own = map
            .actions
            .iter()
            .map(|&id| (profile.actions[id].name.clone(), Place::action(profile, id)));
        groups.push(own.collect());
    }
    for group in groups {
        // Names that are alike have the same words, or nearly the same length and letters; sorted
        // by a key that they share, only neighbours need a look.
        for (a, b) in likely_pairs(&group) {
            if !alike(&group[a].0, &group[b].0) {
                continue;
            }
            let message =
                format!("`{}` and `{}` are easily taken for each other", group[a].0, group[b].0);
            let address = group[b].1.address.clone();
            found.push(group[b].1.clone().tell(message, format!("`harmonym rename {address} …`")));
        }
    }
}

/// In a word of so many letters one that is another is a slip.
const LONG_WORD: usize = 6;

/// The pairs that share a key: the words in order, or the name with one character left out.
fn likely_pairs(group: &[(String, Place)]) -> Vec<(usize, usize)> {
    let mut keys: Vec<(String, usize)> = Vec::new();
    for (index, (name, _)) in group.iter().enumerate() {
        let mut words: Vec<&str> = name.split('-').collect();
        words.sort_unstable();
        keys.push((format!(" {}", words.join(" ")), index));
        keys.push((name.clone(), index));
        keys.push((format!("  {}", name.replace('-', "")), index));
        let mut letters: Vec<char> = name.chars().collect();
        letters.sort_unstable();
        keys.push((format!("   {}", letters.iter().collect::<String>()), index));
        for at in 0..name.len() {
            keys.push((format!("{}{}", &name[..at], &name[at + 1..]), index));
        }
    }
    keys.sort();
    let mut pairs: Vec<(usize, usize)> = Vec::new();
    for run in keys.chunk_by(|a, b| a.0 == b.0).filter(|run| run.len() < 50) {
        for (i, (_, a)) in run.iter().enumerate() {
            pairs.extend(
                run[i + 1..].iter().filter(|(_, b)| a != b).map(|(_, b)| (*a.min(b), *a.max(b))),
            );
        }
    }
    pairs.sort_unstable();
    pairs.dedup();
    pairs
}

/// Whether two names differ by one character or by word order; numbers tell names apart.
fn alike(a: &str, b: &str) -> bool {
    let sorted = |name: &str| {
        let mut words: Vec<&str> = name.split('-').collect();
        words.sort_unstable();
        words.join("-")
    };
    if sorted(a) == sorted(b) {
        return true;
    }
    if a.len().min(b.len()) < 4 || a.len().abs_diff(b.len()) > 1 {
        return false;
    }
    if a.replace('-', "") == b.replace('-', "") {
        return true;
    }
    let start = a.bytes().zip(b.bytes()).take_while(|(x, y)| x == y).count();
    let (rest_a, rest_b) = (&a[start..], &b[start..]);
    let is_digit = |rest: &str| rest.starts_with(|c: char| c.is_ascii_digit());
    if is_digit(rest_a) || is_digit(rest_b) {
        return false;
    }
    let skip = |rest: &str, count: usize| rest.get(count..).unwrap_or_default().to_owned();
    // Short words that differ by a letter are different words (haul, hail); a slip of the pen shows in
    // long ones, in a letter twice, in two exchanged, in an s at the end.
    let word = |name: &str| {
        let at = start.min(name.len());
        let from = name[..at].rfind('-').map_or(0, |dash| dash + 1);
        let to = name[at..].find('-').map_or(name.len(), |dash| at + dash);
        to - from
    };
    let is_long = word(a).max(word(b)) >= LONG_WORD;
    let longer = |more: &str, rest: &str, less: &str| {
        let letter = rest.bytes().next();
        let twice = start > 0 && letter == more.as_bytes().get(start - 1).copied();
        let plural =
            letter == Some(b's') && matches!(rest.as_bytes().get(1).copied(), None | Some(b'-'));
        skip(rest, 1) == skip(less, start) && (is_long || twice || plural)
    };
    let exchanged = || {
        let (x, y) = (rest_a.as_bytes(), rest_b.as_bytes());
        x.len() > 1
            && y.len() > 1
            && x[0] == y[1]
            && x[1] == y[0]
            && skip(rest_a, 2) == skip(rest_b, 2)
    };
    match a.len().cmp(&b.len()) {
        std::cmp::Ordering::Equal => exchanged() || (is_long && skip(rest_a, 1) == skip(rest_b, 1)),
        std::cmp::Ordering::Less => longer(b, rest_b, a),
        std::cmp::Ordering::Greater => longer(a, rest_a, b),
    }
}
