//! Edits that can be taken back.

mod gate;

use harmonym_lab::edit::{Back, Edit, FileEdit, Journal};
use proptest::prelude::*;

fn edit(done: &str, before: &str, after: &str) -> Edit {
    let files = vec![FileEdit::between("harmonym.toml", before, after)];
    Edit { when: 1_796_000_000, done: done.to_owned(), files }
}

#[test]
fn an_edit_goes_back_from_its_own_lines_only() {
    for (before, after) in [
        ("a\nb\nc\n", "a\nB\nc\n"),
        ("a\nb\nc\n", "a\nc\n"),
        ("a\nb\nc\n", "a\nb\nb\nc\n"),
        ("a\nb\nc\n", ""),
        ("", "a\n"),
        ("a\nb", "a\nb\n"),
        ("é\r\nö\r\n", "é\r\nü\r\n"),
        ("a\na\na\n", "a\na\n"),
    ] {
        let change = FileEdit::between("f", before, after);
        assert_eq!(change.back(after), Back::To(before.to_owned()), "{before:?} {after:?}");
        assert_eq!(change.back(before), Back::Already);
    }
    let change = FileEdit::between("f", "a\nb\nc\nd\n", "a\nb\nc\nC\nd\n");
    for (now, wanted) in [
        // What changed elsewhere stays.
        ("# more\na\nb\nc\nC\nd\ne\n", Back::Among("# more\na\nb\nc\nd\ne\n".to_owned())),
        ("b\nc\nC\nd\n", Back::Among("b\nc\nd\n".to_owned())),
        // What changed there, or is there twice, is not touched.
        ("a\nb\nc\nC!\nd\n", Back::Changed),
        ("a\nb\nc\nC\nD\n", Back::Changed),
        ("a\nb\nc\nC\nd\nb\nc\nC\nd\n", Back::Changed),
        ("a\n b\nc\nC\nd\n", Back::Changed),
        ("a\nb\nc\nC\nd", Back::Changed),
        ("", Back::Changed),
    ] {
        assert_eq!(change.back(now), wanted, "{now:?}");
    }
    // Lines that were taken out come back between those that stood around them.
    let change = FileEdit::between("f", "a\nb\nc\n", "a\nc\n");
    assert_eq!(change.back("0\na\nc\n"), Back::Among("0\na\nb\nc\n".to_owned()));
    assert_eq!(change.back("a\n0\nc\n"), Back::Changed);
    // Of a whole file nothing is left to go by.
    assert_eq!(FileEdit::between("f", "a\n", "").back("b\n"), Back::Changed);
}

#[test]
fn a_journal_is_bounded_and_keeps_the_last_edit_however_large() {
    let mut journal = Journal::default();
    for number in 0..150 {
        journal.push(edit(&format!("No. {number}"), "a\n", "b\n"));
    }
    assert_eq!(journal.edits.len(), 100);
    assert_eq!(journal.edits[0].done, "No. 50");
    let half = "x".repeat(512 * 1024 - 8);
    journal.push(edit("half", "", &half));
    journal.push(edit("half again", &half, ""));
    let kept: Vec<&str> = journal.edits.iter().map(|edit| edit.done.as_str()).collect();
    assert_eq!(kept, ["No. 146", "No. 147", "No. 148", "No. 149", "half", "half again"]);
    journal.push(edit("huge", "", &"y".repeat(2 * 1024 * 1024)));
    assert_eq!(journal.edits.len(), 1);
}

#[test]
fn a_journal_reads_what_it_writes_and_nothing_else() {
    let mut journal = Journal::default();
    assert_eq!(Journal::read(&journal.text()), Some(journal.clone()));
    journal.push(edit("set “é” \"x\"\n", "a\n", "b\u{2028}\n"));
    journal.push(edit("two", "b\n", "\0\n"));
    assert_eq!(Journal::read(&journal.text()), Some(journal.clone()));
    let text = journal.text();
    let newer = text.replace("\"harmonym_edits\":1", "\"harmonym_edits\":2");
    for other in
        ["", "shopping\n", &newer, text.trim_end_matches("}\n"), &text.replace("\"at\"", "\"in\"")]
    {
        assert_eq!(Journal::read(other), None, "{other}");
    }
}

proptest! {
    #![proptest_config(gate::gate(300))]
    #[test]
    fn there_and_back_is_what_it_was(
        before in prop::collection::vec(prop::sample::select(vec!["a\n", "b\n", "ä", "\r\n", "b"]), 0..9),
        after in prop::collection::vec(prop::sample::select(vec!["a\n", "b\n", "ä", "\r\n", "b"]), 0..9),
    ) {
        let (before, after) = (before.concat(), after.concat());
        let change = FileEdit::between("f", &before, &after);
        let wanted = if before == after { Back::Already } else { Back::To(before) };
        prop_assert_eq!(change.back(&after), wanted);
    }
}
