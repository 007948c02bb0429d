//! Keyboard layouts: which key types a character.
//!
//! Source of the tables: the symbols `us`, `fr`, `de` and `us(dvorak)` of the X keyboard extension
//! (levels one, two and three); the keys by the codes of W3C *UI Events KeyboardEvent code Values*.

/// A player's keyboard layout.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum Layout {
    /// American.
    #[default]
    Us,
    /// French.
    Fr,
    /// German.
    De,
    /// Dvorak's.
    Dvorak,
}

/// The keys that type characters, row by row.
const KEYS: [&[&str]; 4] = [
    &[
        "Backquote",
        "Digit1",
        "Digit2",
        "Digit3",
        "Digit4",
        "Digit5",
        "Digit6",
        "Digit7",
        "Digit8",
        "Digit9",
        "Digit0",
        "Minus",
        "Equal",
    ],
    &[
        "KeyQ",
        "KeyW",
        "KeyE",
        "KeyR",
        "KeyT",
        "KeyY",
        "KeyU",
        "KeyI",
        "KeyO",
        "KeyP",
        "BracketLeft",
        "BracketRight",
        "Backslash",
    ],
    &["KeyA", "KeyS", "KeyD", "KeyF", "KeyG", "KeyH", "KeyJ", "KeyK", "KeyL", "Semicolon", "Quote"],
    &[
        "IntlBackslash",
        "KeyZ",
        "KeyX",
        "KeyC",
        "KeyV",
        "KeyB",
        "KeyN",
        "KeyM",
        "Comma",
        "Period",
        "Slash",
    ],
];

/// What the keys of each row type alone, with Shift, and with the third level's key; a space
/// stands for nothing.
type Rows = [[&'static str; 3]; 4];

const US: Rows = [
    ["`1234567890-=", "~!@#$%^&*()_+", ""],
    ["qwertyuiop[]\\", "QWERTYUIOP{}|", ""],
    ["asdfghjkl;'", "ASDFGHJKL:\"", ""],
    ["\\zxcvbnm,./", "|ZXCVBNM<>?", ""],
];

const FR: Rows = [
    ["²&é\"'(-è_çà)=", " 1234567890°+", "  ~#{[|`\\^@]}"],
    ["azertyuiop^$*", "AZERTYUIOP¨£µ", "  €        ¤ "],
    ["qsdfghjklmù", "QSDFGHJKLM%", ""],
    ["<wxcvbn,;:!", ">WXCVBN?./§", ""],
];

const DE: Rows = [
    ["^1234567890ß´", "°!\"§$%&/()=?`", "  ²³   {[]}\\ "],
    ["qwertzuiopü+#", "QWERTZUIOPÜ*'", "@ €        ~ "],
    ["asdfghjklöä", "ASDFGHJKLÖÄ", ""],
    ["<yxcvbnm,.-", ">YXCVBNM;:_", "|      µ   "],
];

const DVORAK: Rows = [
    ["`1234567890[]", "~!@#$%^&*(){}", ""],
    ["',.pyfgcrl/=\\", "\"<>PYFGCRL?+|", ""],
    ["aoeuidhtns-", "AOEUIDHTNS_", ""],
    ["\\;qjkxbmwvz", "|:QJKXBMWVZ", ""],
];

impl Layout {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Us, Self::Fr, Self::De, Self::Dvorak];

    /// The layout's word in scores and takes.
    pub const fn word(self) -> &'static str {
        match self {
            Self::Us => "us",
            Self::Fr => "fr",
            Self::De => "de",
            Self::Dvorak => "dvorak",
        }
    }

    /// The layout that `word` names.
    pub fn from_word(word: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|layout| layout.word() == word)
    }

    const fn rows(self) -> &'static Rows {
        match self {
            Self::Us => &US,
            Self::Fr => &FR,
            Self::De => &DE,
            Self::Dvorak => &DVORAK,
        }
    }

    /// What the key of a code types alone, as it is printed: letters as capitals. Nothing for keys
    /// that type no character of the layout's main block.
    pub fn letter(self, code: &str) -> Option<char> {
        let rows = KEYS.iter().zip(self.rows());
        let mut typed = rows.flat_map(|(keys, row)| keys.iter().zip(row[0].chars()));
        let (_, c) = typed.find(|(key, c)| **key == code && *c != ' ')?;
        let mut upper = c.to_uppercase();
        // A letter whose capital is two stays as it is.
        Some(upper.next().filter(|_| upper.next().is_none()).unwrap_or(c))
    }

    /// The code of the key that types `c`, its case ignored: alone if one does, else with Shift,
    /// else on the third level.
    pub fn key(self, c: char) -> Option<&'static str> {
        let same = |typed: char| typed != ' ' && typed.to_lowercase().eq(c.to_lowercase());
        for level in 0..3 {
            // The extra key types on some keyboards only: another one that types the same is meant.
            let mut extra = None;
            for (keys, row) in KEYS.iter().zip(self.rows()) {
                for (key, _) in
                    keys.iter().zip(row[level].chars()).filter(|(_, typed)| same(*typed))
                {
                    match *key {
                        "IntlBackslash" => extra = Some(*key),
                        key => return Some(key),
                    }
                }
            }
            if extra.is_some() {
                return extra;
            }
        }
        None
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_row_has_one_character_a_key() {
        for layout in Layout::ALL {
            for (keys, row) in KEYS.iter().zip(layout.rows()) {
                for level in row.iter().filter(|level| !level.is_empty()) {
                    assert_eq!(level.chars().count(), keys.len(), "{} {level}", layout.word());
                }
            }
            // Each letter and digit is typed by a key of its own.
            let mut keys: Vec<_> =
                ('a'..='z').chain('0'..='9').map(|c| layout.key(c).expect("typed")).collect();
            keys.sort_unstable();
            keys.dedup();
            assert_eq!(keys.len(), 36);
        }
    }

    #[test]
    fn characters_are_found_on_their_keys() {
        let key = |layout: Layout, c: char| layout.key(c).unwrap_or("none");
        assert_eq!(key(Layout::Us, 'Z'), "KeyZ");
        assert_eq!(key(Layout::De, 'z'), "KeyY");
        assert_eq!(key(Layout::Fr, 'z'), "KeyW");
        assert_eq!(key(Layout::Dvorak, 'z'), "Slash");
        assert_eq!(key(Layout::Us, '?'), "Slash");
        assert_eq!(key(Layout::De, '?'), "Minus");
        assert_eq!(key(Layout::De, '@'), "KeyQ");
        assert_eq!(key(Layout::Us, '\\'), "Backslash");
        assert_eq!(key(Layout::Fr, 'É'), "Digit2");
        assert_eq!(key(Layout::Us, 'é'), "none");
        assert_eq!(key(Layout::Us, ' '), "none");
    }
}
