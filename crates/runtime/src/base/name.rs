//! Names: `[a-z][a-z0-9]*(-[a-z0-9]+)*`, at most [`MAX_NAME`] characters.

/// The most characters a name may have.
pub const MAX_NAME: usize = 48;

/// Whether `text` is a name.
///
/// ```
/// assert!(harmonym_runtime::base::is_name("cast-line"));
/// assert!(!harmonym_runtime::base::is_name("Cast Line"));
/// ```
pub fn is_name(text: &str) -> bool {
    text.len() <= MAX_NAME
        && text.starts_with(|c: char| c.is_ascii_lowercase())
        && text.split('-').all(|part| {
            !part.is_empty() && part.bytes().all(|b| b.is_ascii_lowercase() || b.is_ascii_digit())
        })
}

/// The name nearest to what `text` seems to mean: "Cast Line", "castLine" and "cast_line" all
/// give `cast-line`. `None` when nothing of it can stand in a name.
pub fn corrected_name(text: &str) -> Option<String> {
    let mut name = String::new();
    let mut after_lower = false;
    for c in text.chars() {
        if c.is_ascii_alphanumeric() {
            if c.is_ascii_uppercase() && after_lower && !name.ends_with('-') {
                name.push('-');
            }
            after_lower = c.is_ascii_lowercase() || c.is_ascii_digit();
            name.push(c.to_ascii_lowercase());
        } else if !name.is_empty() && !name.ends_with('-') {
            name.push('-');
            after_lower = false;
        }
    }
    let start = name.find(|c: char| c.is_ascii_lowercase())?;
    let mut name = name.split_off(start);
    name.truncate(MAX_NAME);
    let end = name.trim_end_matches('-').len();
    name.truncate(end);
    Some(name)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_told_from_what_is_none_and_corrected() {
        for good in ["a", "walk", "cast-line", "b2-3x", &"a".repeat(48)] {
            assert!(is_name(good), "{good}");
            assert_eq!(corrected_name(good).as_deref(), Some(good));
        }
        let long = "a".repeat(49);
        for (bad, corrected) in [
            ("", None),
            ("Cast Line", Some("cast-line")),
            ("castLine", Some("cast-line")),
            ("cast__line_", Some("cast-line")),
            ("-cast", Some("cast")),
            ("2nd-lamp", Some("nd-lamp")),
            ("größe", Some("gr-e")),
            ("é", None),
            (long.as_str(), Some(&long[..48])),
        ] {
            assert!(!is_name(bad), "{bad}");
            assert_eq!(corrected_name(bad).as_deref(), corrected, "{bad}");
        }
    }
}
