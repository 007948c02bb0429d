//! `controls`: the catalogue, searched by any word.

use crate::failure::Failure;
use crate::output::Output;
use crate::view::table::table;
use harmonym_core::controls::{Catalogue, Class, Entry};
use harmonym_core::report::nearest;

pub fn run(words: &[String], class: Option<&str>, output: &mut Output) -> Result<(), Failure> {
    let class = class.map(class_of).transpose()?;
    // `controls "left stick"` and `controls left stick` are the same.
    let words: Vec<String> =
        words.iter().flat_map(|w| w.split_whitespace()).map(str::to_owned).collect();
    let wanted = |entry: &&Entry| class.is_none_or(|c| c == entry.class) && entry.matches(&words);
    let mut found: Vec<&Entry> = Catalogue::built_in().entries().iter().filter(wanted).collect();
    // What has the words side by side, and what can be bound, comes first.
    found.sort_by_key(|entry| (entry.reads.is_none(), !entry.has_phrase(&words)));
    if found.is_empty() {
        let message = format!("no control goes by `{}`", words.join(" "));
        return Err(Failure::new(message, "try fewer words, or a place: `harmonym controls left`"));
    }
    let rows = found.iter().map(|entry| {
        let later = if entry.reads.is_none() { " (not yet supported)" } else { "" };
        [entry.name.clone(), entry.kind.word().to_owned(), format!("{}{later}", entry.place)]
    });
    let text = table(output.look, ["control", "kind", "where"], rows.collect());
    output.write(|out| out.push_str(&text))?;
    output.remark(&format!("{} of {} controls", found.len(), Catalogue::built_in().entries().len()))
}

fn class_of(word: &str) -> Result<Class, Failure> {
    let catalogue = Catalogue::built_in();
    catalogue.class(word).ok_or_else(|| {
        let words = || catalogue.classes().map(|class| catalogue.word(class));
        let help = match nearest(word, words()) {
            Some(near) => format!("did you mean `{near}`?"),
            None => format!("the classes are {}", words().collect::<Vec<_>>().join(", ")),
        };
        Failure::new(format!("there is no device class `{word}`"), help)
    })
}
