//! Keyboard layouts: which key types a character.

#[rustfmt::skip]
mod tables;

use tables::{KEYS, LAYOUTS, Rows};

/// A player's keyboard layout.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub struct Layout(u8);

/// A dead key's combining character with the characters that stand for it: what it types with a
/// space.
const DEAD: &[(char, &str)] = &[
    ('\u{300}', "`"),
    ('\u{301}', "´'"),
    ('\u{302}', "^"),
    ('\u{303}', "~"),
    ('\u{304}', "¯"),
    ('\u{306}', "˘"),
    ('\u{307}', "˙"),
    ('\u{308}', "¨\""),
    ('\u{30a}', "°"),
    ('\u{30b}', "˝"),
    ('\u{30c}', "ˇ"),
    ('\u{327}', "¸"),
    ('\u{328}', "˛"),
];

/// Keys that only some keyboards have: another one that types the same is meant.
const EXTRA: [&str; 3] = ["IntlBackslash", "IntlRo", "IntlYen"];

impl Layout {
    /// The American one.
    pub const US: Self = Self(0);

    /// All of them.
    pub fn all() -> impl Iterator<Item = Self> {
        (0..LAYOUTS.len() as u8).map(Self)
    }

    /// Their words, for people: `us, us-intl, …`.
    pub fn words() -> String {
        Self::all().map(Self::word).collect::<Vec<_>>().join(", ")
    }

    /// The layout's word in scores and takes: `us`, `fr`.
    pub const fn word(self) -> &'static str {
        LAYOUTS[self.0 as usize].0
    }

    /// What people call it: `American`, `French`.
    pub const fn title(self) -> &'static str {
        LAYOUTS[self.0 as usize].1
    }

    /// The layout that `word` names.
    pub fn from_word(word: &str) -> Option<Self> {
        Self::all().find(|layout| layout.word() == word)
    }

    const fn rows(self) -> &'static Rows {
        &LAYOUTS[self.0 as usize].2
    }

    /// Each key of a level (0 alone, 1 with Shift, 2 with the third level's key) with what it types.
    fn typed(self, level: usize) -> impl Iterator<Item = (&'static str, char)> {
        let rows = KEYS.iter().zip(self.rows());
        let all = rows.flat_map(move |(keys, row)| keys.iter().copied().zip(row[level].chars()));
        all.filter(|(_, typed)| *typed != ' ')
    }

    /// What the key of a code types alone, as it is printed: letters as capitals, a dead key as the
    /// mark that it adds. Nothing for keys that type no character of the layout's main block.
    pub fn letter(self, code: &str) -> Option<char> {
        let (_, typed) = self.typed(0).find(|(key, _)| *key == code)?;
        if let Some((_, marks)) = DEAD.iter().find(|(dead, _)| *dead == typed) {
            return marks.chars().next();
        }
        let mut upper = typed.to_uppercase();
        // A letter whose capital is two stays as it is.
        Some(upper.next().filter(|_| upper.next().is_none()).unwrap_or(typed))
    }

    /// Whether the key of a code types nothing by itself, but adds a mark to what comes after it.
    pub fn is_dead(self, code: &str) -> bool {
        self.typed(0).any(|(key, typed)| key == code && DEAD.iter().any(|(dead, _)| *dead == typed))
    }

    /// The code of the key that types `c`, its case ignored: alone if one does, else with Shift,
    /// else on the third level, else the dead key of the mark. Where the layout types no Latin
    /// letters, its keyboard has a second one for them, the American.
    pub fn key(self, c: char) -> Option<&'static str> {
        let same = |typed: char| typed.to_lowercase().eq(c.to_lowercase());
        let is_mark =
            |typed: char| DEAD.iter().any(|(dead, all)| *dead == typed && all.contains(c));
        let own = self.key_where(same).or_else(|| self.key_where(is_mark));
        let is_latin = || self.typed(0).any(|(_, typed)| typed == 'e');
        own.or_else(|| (!is_latin()).then(|| Self::US.key(c)).flatten())
    }

    /// The first key that types such a character, level by level; of alone and with Shift one that
    /// every keyboard has, if there is one.
    fn key_where(self, is_it: impl Fn(char) -> bool) -> Option<&'static str> {
        let found = |levels: std::ops::Range<usize>, is_extra: bool| {
            let mut keys = levels.flat_map(|level| self.typed(level));
            let is_own = |key: &str| EXTRA.contains(&key) == is_extra;
            keys.find(|(key, typed)| is_own(key) && is_it(*typed)).map(|(key, _)| key)
        };
        let ways = [(0..2, false), (0..2, true), (2..3, false), (2..3, true)];
        ways.into_iter().find_map(|(levels, is_extra)| found(levels, is_extra))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn layout(word: &str) -> Layout {
        Layout::from_word(word).expect(word)
    }

    #[test]
    fn every_row_has_one_character_a_key() {
        for layout in Layout::all() {
            for (keys, row) in KEYS.iter().zip(layout.rows()) {
                for level in row.iter().filter(|level| !level.is_empty()) {
                    assert_eq!(level.chars().count(), keys.len(), "{} {level}", layout.word());
                }
            }
            // Each letter and digit is typed by a key of its own.
            let key = |c: char| layout.key(c).unwrap_or_else(|| panic!("{} {c}", layout.word()));
            let mut keys: Vec<_> = ('a'..='z').chain('0'..='9').map(key).collect();
            keys.sort_unstable();
            keys.dedup();
            assert_eq!(keys.len(), 36, "{}", layout.word());
        }
        assert_eq!(Layout::default(), Layout::US);
        assert_eq!((Layout::US.word(), Layout::US.title()), ("us", "American"));
    }

    #[test]
    fn characters_are_found_on_their_keys() {
        for (word, c, key) in [
            ("us", 'Z', "KeyZ"),
            ("de", 'z', "KeyY"),
            ("fr", 'z', "KeyW"),
            ("dvorak", 'z', "Slash"),
            ("colemak", 'p', "KeyR"),
            ("us", '?', "Slash"),
            ("de", '?', "Minus"),
            ("de", '@', "KeyQ"),
            ("us", '\\', "Backslash"),
            ("us", '<', "Comma"),
            ("fr", 'É', "Digit2"),
            ("tr", 'i', "Quote"),
            ("uk", '\\', "IntlBackslash"),
            ("br", '/', "IntlRo"),
            ("jis", '_', "IntlRo"),
            // A dead key is found by its mark.
            ("de", '^', "Backquote"),
            ("us-intl", '\'', "Quote"),
            ("us-intl", '"', "Quote"),
            // Other letters, and Latin ones beside them.
            ("ru", 'ж', "Semicolon"),
            ("ru", 'w', "KeyW"),
            ("gr", 'ω', "KeyV"),
            ("gr", 'z', "KeyZ"),
        ] {
            assert_eq!(layout(word).key(c), Some(key), "{word} {c}");
        }
        assert_eq!([layout("us").key('é'), layout("us").key(' ')], [None, None]);
    }

    #[test]
    fn letters_are_as_they_are_printed() {
        for (word, code, letter, is_dead) in [
            ("us", "KeyQ", Some('Q'), false),
            ("fr", "KeyQ", Some('A'), false),
            ("de", "Minus", Some('ß'), false),
            ("de", "Backquote", Some('^'), true),
            ("ru", "KeyQ", Some('Й'), false),
            ("us", "IntlRo", None, false),
            ("us", "Space", None, false),
        ] {
            assert_eq!(layout(word).letter(code), letter, "{word} {code}");
            assert_eq!(layout(word).is_dead(code), is_dead, "{word} {code}");
        }
    }
}
