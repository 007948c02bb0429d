//! Faults of a changed profile as faults of the words that somebody asked for it with.

use harmonym_lang::report::{Diagnostic, Faults};
use harmonym_lang::source::{Source, Span};

/// The same faults at their places in `words`, where each lies in what a word brought into the
/// text that was `before`; nothing when one does not.
pub fn in_words(faults: &Faults, before: &str, words: &[String]) -> Option<Faults> {
    let source = faults.source()?;
    let new = changed(before, source.text());
    let mut used: Vec<&String> = Vec::new();
    let mut placed = Vec::new();
    for one in faults.list() {
        let span = unquoted(source, one.span);
        let words =
            words.iter().filter_map(|word| Some((word, place_of(word, source, span, new)?)));
        let (word, at) = words.max_by_key(|(word, _)| word.len())?;
        if !used.contains(&word) {
            used.push(word);
        }
        placed.push((one, word, Span::new(span.start - at, span.end - at)));
    }
    let text: Vec<&str> = used.iter().map(|word| word.as_str()).collect();
    let start_of = |word: &String| {
        let before = used.iter().take_while(|other| **other != word);
        before.map(|word| word.len() + 1).sum::<usize>()
    };
    let moved = placed.into_iter().map(|(one, word, span)| {
        let start = start_of(word);
        let span = Span::new(start + span.start, start + span.end);
        Diagnostic { span, also: Vec::new(), ..one.clone() }
    });
    Some(Faults::new(Source::new("the command line", text.join("\n")), moved.collect()))
}

/// What of a text is new, from the first byte that differs to the last one.
fn changed(before: &str, after: &str) -> Span {
    let (a, b) = (before.as_bytes(), after.as_bytes());
    let start = a.iter().zip(b).take_while(|(a, b)| a == b).count();
    let most = a.len().min(b.len()) - start;
    let same = a.iter().rev().zip(b.iter().rev()).take(most).take_while(|(a, b)| a == b).count();
    Span::new(start, b.len() - same)
}

/// A place without the quotes around it.
fn unquoted(source: &Source, span: Span) -> Span {
    let text = source.slice(span);
    let inside = ['"', '\''].iter().find_map(|&quote| {
        text.strip_prefix(quote)?
            .strip_suffix(quote)
            .map(|_| Span::new(span.start + 1, span.end - 1))
    });
    inside.unwrap_or(span)
}

/// Where a word begins that stands around `span`, in what is new.
fn place_of(word: &str, source: &Source, span: Span, new: Span) -> Option<usize> {
    let text = source.text();
    if word.len() < span.end - span.start || word.is_empty() {
        return None;
    }
    // It ends at or after the span, and begins at or before it.
    let from = text.ceil_char_boundary(span.end.saturating_sub(word.len()));
    let near = &text[from..text.floor_char_boundary((span.start + word.len()).min(text.len()))];
    let places = near.match_indices(word).map(|(at, _)| from + at);
    let mut own = places.filter(|&at| {
        at <= span.start
            && span.end <= at + word.len()
            && at <= new.end
            && new.start <= at + word.len()
    });
    own.next()
}

#[cfg(test)]
mod tests {
    use super::*;
    use harmonym_lang::report::FaultKind;

    fn fault(text: &str, part: &str) -> Faults {
        let start = text.rfind(part).unwrap();
        let span = Span::new(start, start + part.len());
        let one = Diagnostic::fault(FaultKind::UnknownName, span, "no", "yes");
        Faults::new(Source::new("t", text), vec![one])
    }

    #[test]
    fn a_fault_is_told_in_the_word_that_brought_it() {
        let before = "bind = \"key.KeyH\"\n";
        for (after, part, words, wanted) in [
            ("bind = [\"key.KeyH\", \"key.Föö\"]\n", "key.Föö", &["key.Föö"][..], "1:1"),
            ("bind = [\"key.KeyH\", \"key.A | bog\"]\n", "bog", &["x", "key.A | bog"], "1:9"),
            ("bind = [\"key.KeyH\", \"key.A | bog\"]\n", "bog", &["bog", "key.A | bog"], "1:9"),
            ("bind = \"bog\"\n", "\"bog\"", &["bog"], "1:1"),
            ("bind = \"bog\"\n", "bog", &["b", "bo", "bog", "o"], "1:1"),
        ] {
            let words: Vec<String> = words.iter().map(|&word| word.to_owned()).collect();
            let told = in_words(&fault(after, part), before, &words).expect(part);
            let place = told.source().unwrap().place(told.list()[0].span.start);
            assert_eq!(format!("{}:{}", place.line, place.column), wanted, "{told}");
        }
    }

    #[test]
    fn a_fault_elsewhere_is_not_the_words() {
        let before = "a = \"pad.x\"\nb = \"key.KeyH\"\n";
        let after = "a = \"pad.x\"\nb = \"pad.y\"\n";
        let words = ["pad.x", "pad.y", ""].map(str::to_owned);
        assert!(in_words(&fault(after, "pad.x"), before, &words).is_none());
        assert!(in_words(&fault(after, "b ="), before, &words).is_none());
        assert!(in_words(&fault(after, "pad.y"), before, &words).is_some());
    }
}
