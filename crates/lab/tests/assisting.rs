//! What an editor asks has an answer in every text and at every place.

mod gate;

use harmonym_lab::assist::{
    Item, complete, complete_in_player, complete_in_score, left_out, look, look_in_player,
    look_in_score, symbols,
};
use harmonym_lang::load;
use harmonym_lang::profile::read;
use harmonym_lang::report::Diagnostics;
use harmonym_lang::source::{Source, Span};
use harmonym_runtime::controls::Catalogue;
use proptest::prelude::*;

const DEMO: &str = include_str!("../../../demo/harmonym.toml");
const SCORE: &str = include_str!("../../../demo/scores/two-seats.score");
const PLAYER: &str = include_str!("../../../demo/players/left-handed.toml");

/// A text with a stretch put in the place of another, as a hand at the keyboard leaves it.
fn broken(text: &str, at: usize, length: usize, put: &str) -> String {
    let start = text.floor_char_boundary(at % (text.len() + 1));
    let end = text.floor_char_boundary((start + length).min(text.len()));
    format!("{}{put}{}", &text[..start], &text[end..])
}

/// Sees that items are written in the place of something before the cursor.
fn expect_before(items: &[Item], text: &str, offset: usize) {
    for item in items {
        let Span { start, end } = item.span;
        assert!(start <= end && end <= offset, "{item:?}");
        assert!(text.is_char_boundary(start) && text.is_char_boundary(end), "{item:?}");
    }
}

proptest! {
    #![proptest_config(gate::gate(400))]

    #[test]
    fn every_text_has_answers_at_every_place(
        at in any::<usize>(),
        length in 0_usize..40,
        put in "[\\[\\]\"'=.{},|( )#a-z0-9🦀\r\n]{0,12}",
        offset in any::<usize>(),
    ) {
        let catalogue = Catalogue::built_in();
        let profile = Source::new("profile", broken(DEMO, at, length, &put));
        let text = profile.text();
        let raw = read(&profile, &mut Diagnostics::new());
        let offset_in = |text: &str| text.floor_char_boundary(offset % (text.len() + 1));
        let here = offset_in(text);
        expect_before(&complete(&profile, here, catalogue), text, here);
        if let Some((span, subjects)) = look(&profile, here) {
            assert!(text.get(span.start..span.end).is_some() && !subjects.is_empty());
        }
        for symbol in symbols(&profile, &raw) {
            assert!(text.get(symbol.whole.start..symbol.whole.end).is_some());
            assert!(symbol.whole.start <= symbol.name.start && symbol.name.end <= symbol.whole.end);
        }
        if let Ok((model, _)) = load(&profile) {
            for (place, _) in left_out(&raw, &model) {
                assert!(text.is_char_boundary(place));
            }
            for symbol in symbols(&profile, &raw) {
                assert_eq!(symbol.thing.definition(&raw), Some(symbol.name));
            }
        }
        let score = Source::new("score", broken(SCORE, at, length, &put));
        let here = offset_in(score.text());
        expect_before(&complete_in_score(&score, here, &profile, catalogue), score.text(), here);
        look_in_score(&score, here, &raw);
        let player = Source::new("player", broken(PLAYER, at, length, &put));
        let here = offset_in(player.text());
        expect_before(&complete_in_player(&player, here, &profile, catalogue), player.text(), here);
        look_in_player(&player, here);
    }
}
