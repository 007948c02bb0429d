//! What a plan's names come to in a few letters, so that what was made of other names is noticed.

use super::Plan;

/// The 64-bit FNV-1a hash (IETF draft *The FNV Non-Cryptographic Hash Algorithm*, section 2): for each
/// byte, exclusive or, then times the prime.
pub struct Fnv(u64);

impl Fnv {
    const OFFSET: u64 = 0xcbf2_9ce4_8422_2325;
    const PRIME: u64 = 0x0000_0100_0000_01b3;

    pub fn new() -> Self {
        Self(Self::OFFSET)
    }

    /// Adds words with a space between them, and the end of their line.
    pub fn line(&mut self, words: &[&str]) {
        for (index, word) in words.iter().enumerate() {
            self.bytes(if index == 0 { "" } else { " " });
            self.bytes(word);
        }
        self.bytes("\n");
    }

    fn bytes(&mut self, text: &str) {
        let each = |hash: u64, byte: u8| (hash ^ u64::from(byte)).wrapping_mul(Self::PRIME);
        self.0 = text.bytes().fold(self.0, each);
    }

    /// In 16 letters.
    pub fn text(&self) -> String {
        format!("{:016x}", self.0)
    }
}

impl Plan {
    /// Tells the names of this plan from others in 16 letters: the actions in file order with their kinds,
    /// then maps, schemes, settings and facts. Two plans with one digest have the same names at the
    /// same places; what `harmonym generate` writes carries that of its profile.
    ///
    /// It is the 64-bit FNV-1a hash of a line for each: `action quay.walk plane`, `map quay`,
    /// `scheme desk`, `setting gaze-speed`, `fact beside-tug`.
    pub fn names_digest(&self) -> String {
        let mut hash = Fnv::new();
        let names = self.names();
        for action in self.by_file() {
            let kind = self.actions()[*action].kind.word();
            hash.line(&["action", &names.actions[*action], kind]);
        }
        names.maps.iter().for_each(|name| hash.line(&["map", name]));
        names.schemes.iter().for_each(|name| hash.line(&["scheme", name]));
        for (id, name) in names.variables.entries() {
            let kind = if self.variables()[id].is_setting { "setting" } else { "fact" };
            hash.line(&[kind, name]);
        }
        hash.text()
    }
}

#[cfg(test)]
mod tests {
    use super::Fnv;

    /// Test vectors of the draft's appendix: the empty text, `a` and `foobar`.
    #[test]
    fn the_hash_is_that_of_its_definition() {
        let of = |text: &str| {
            let each = |hash: u64, byte: u8| (hash ^ u64::from(byte)).wrapping_mul(Fnv::PRIME);
            text.bytes().fold(Fnv::OFFSET, each)
        };
        assert_eq!(of(""), 0xcbf2_9ce4_8422_2325);
        assert_eq!(of("a"), 0xaf63_dc4c_8601_ec8c);
        assert_eq!(of("foobar"), 0x8594_4171_f739_67e8);
        let mut hash = Fnv::new();
        hash.line(&["foo", "bar"]);
        assert_eq!(hash.0, of("foo bar\n"));
    }
}
