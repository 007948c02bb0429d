//! "Did you mean": the known word nearest to an unknown one.

/// The candidate nearest to `word`, if any is near enough to be what was meant: a third of the
/// longer one's characters may differ (swapped neighbours count once), and case counts least.
pub fn nearest<'a>(word: &str, candidates: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    let lower = word.to_lowercase();
    candidates
        .into_iter()
        .filter_map(|candidate| {
            let allowed = (word.chars().count().max(candidate.chars().count()) + 2) / 3;
            let away = strsim::damerau_levenshtein(&lower, &candidate.to_lowercase());
            let exact = strsim::damerau_levenshtein(word, candidate);
            (away <= allowed).then_some(((away, exact), candidate))
        })
        .min_by_key(|(away, _)| *away)
        .map(|(_, candidate)| candidate)
}

#[cfg(test)]
mod tests {
    use super::nearest;

    #[test]
    fn the_nearest_is_found_and_the_far_is_not() {
        let known = ["walk", "hail", "tie-knot", "hurry"];
        for (word, found) in [
            ("wlak", Some("walk")),
            ("Walk", Some("walk")),
            ("tie-not", Some("tie-knot")),
            ("hury", Some("hurry")),
            ("lantern", None),
            ("", None),
        ] {
            assert_eq!(nearest(word, known), found, "{word}");
        }
    }
}
