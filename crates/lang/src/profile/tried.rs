//! Words that people try, and the word of the language that does what they mean.

use super::table::Keyword;

/// What is tried, and how to write what is meant. Words of former times are among them.
const TRIED: &[(&str, &str)] = &[
    // Kinds of value.
    ("button", "switch"),
    ("bool", "switch"),
    ("boolean", "switch"),
    ("digital", "switch"),
    ("trigger", "switch"),
    ("float", "axis"),
    ("number", "axis"),
    ("analog", "axis"),
    ("1d", "axis"),
    ("lever", "axis"),
    ("stick", "plane"),
    ("vector", "plane"),
    ("vector2", "plane"),
    ("vec2", "plane"),
    ("2d", "plane"),
    ("vector3", "space"),
    ("vec3", "space"),
    ("3d", "space"),
    ("quaternion", "turn"),
    ("rotation", "turn"),
    ("orientation", "turn"),
    // Kinds of map.
    ("overlay", "layer"),
    ("stacked", "layer"),
    ("global", "always"),
    ("background", "always"),
    ("exclusive", "solo"),
    ("single", "solo"),
    // Blends.
    ("strongest", "greatest"),
    ("max", "greatest"),
    ("largest", "greatest"),
    ("add", "sum"),
    ("last", "newest"),
    ("latest", "newest"),
    ("first", "oldest"),
    // Cues.
    ("down", "press"),
    ("pressed", "press"),
    ("click", "press"),
    ("once", "press"),
    ("up", "release"),
    ("released", "release"),
    ("held", "while"),
    ("continuous", "while"),
    ("always", "while"),
    ("during", "while"),
    ("changed", "change"),
    ("long-press", "hold 0.8s"),
    ("longpress", "hold 0.8s"),
    ("short-press", "tap 0.25s"),
    ("quick", "tap 0.25s"),
    ("double-tap", "taps 2 gap=0.3s"),
    ("double-click", "taps 2 gap=0.3s"),
    ("doubletap", "taps 2 gap=0.3s"),
    ("double", "taps 2 gap=0.3s"),
    ("multi-tap", "taps 3 gap=0.3s"),
    ("pulse", "repeat 0.1s after=0.4s"),
    ("auto-repeat", "repeat 0.1s after=0.4s"),
    ("combo", "sequence(a, b) within=1s"),
    // Steps.
    ("invert", "flip"),
    ("inverted", "flip"),
    ("negate", "flip"),
    ("reverse", "flip"),
    ("mirror", "flip"),
    ("normalize", "unit"),
    ("normalise", "unit"),
    ("normalized", "unit"),
    ("sensitivity", "scale 0.5"),
    ("multiply", "scale 0.5"),
    ("gain", "scale 0.5"),
    ("speed", "scale 0.5"),
    ("dead", "deadzone 0.1"),
    ("dz", "deadzone 0.1"),
    ("exponent", "curve 1.6"),
    ("power", "curve 1.6"),
    ("expo", "curve 1.6"),
    ("gamma", "curve 1.6"),
    ("limit", "cap 1"),
    ("swap", "order yx"),
    ("filter", "smooth 50ms"),
    ("lowpass", "smooth 50ms"),
    ("low-pass", "smooth 50ms"),
    ("lerp", "smooth 50ms"),
    ("damp", "smooth 50ms"),
    ("ramp", "ease rise=4/s"),
    ("accelerate", "ease rise=4/s"),
    ("round", "notch 0.25"),
    ("snap", "notch 0.25"),
    ("quantize", "notch 0.25"),
    ("directions", "ways 8"),
    ("threshold", "switch-at 0.5"),
    ("integrate", "travel"),
    ("per-second", "travel"),
    // Combinations.
    ("opposite", "pair(NEG, POS)"),
    ("wasd", "four(key.KeyW, key.KeyA, key.KeyS, key.KeyD)"),
    ("arrows", "four(key.ArrowUp, key.ArrowLeft, key.ArrowDown, key.ArrowRight)"),
    ("either", "any(A, B)"),
];

/// How to write what `text` means, if that is one of `known`.
pub fn tried(text: &str, known: &[Keyword]) -> Option<&'static str> {
    let lower = text.to_lowercase().replace('_', "-");
    let all = TRIED.iter().filter(|(tried, _)| *tried == lower);
    let mut meant = all.map(|(_, meant)| *meant);
    meant.find(|meant| {
        let word = meant.split([' ', '(']).next();
        known.iter().any(|known| Some(known.name) == word)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::profile::cues::CueWord;
    use crate::profile::steps::StepWord;
    use crate::profile::table;

    #[test]
    fn every_word_that_is_tried_means_one_that_there_is() {
        let all = [
            table::VALUES,
            table::MAP_KINDS,
            table::BLENDS,
            CueWord::WORDS,
            StepWord::WORDS,
            table::COMBINATIONS,
        ];
        for (word, meant) in TRIED {
            let known: Vec<_> = all.iter().filter(|known| tried(word, known).is_some()).collect();
            assert!(!known.is_empty(), "{word} means {meant}");
            let is_word = known.iter().any(|known| known.iter().any(|one| one.name == *word));
            assert!(!is_word, "{word} is a word itself");
        }
        assert_eq!(tried("Double_Tap", CueWord::WORDS), Some("taps 2 gap=0.3s"));
        assert_eq!(tried("invert", CueWord::WORDS), None);
    }
}
