//! A fixed set of words with something known of each, asked in any case of letters.
//!
//! Every word of a text is looked up while lexing and every name while writing, so a word is
//! compared as three numbers, and most words that are not in the set cost one probe.

/// The longest word a table holds, in bytes.
const LONGEST: usize = 24;

/// A word in capitals as three numbers.
type Packed = [u64; 3];

/// Clears the bit that tells small letters from capitals. In a word of ASCII letters, digits and
/// underscores no two different bytes become one.
const CAPITALS: u64 = 0xdf;

/// What of the 24 bytes belongs to a word of each length, in capitals.
const MASKS: [Packed; LONGEST + 1] = {
    let mut masks = [[0; 3]; LONGEST + 1];
    let mut length = 0;
    while length <= LONGEST {
        let mut byte = 0;
        while byte < length {
            masks[length][byte / 8] |= CAPITALS << (byte % 8 * 8);
            byte += 1;
        }
        length += 1;
    }
    masks
};

/// The word of `length` bytes at the start of `bytes`.
fn packed(bytes: &[u8; LONGEST], length: usize) -> Packed {
    let part = |i: usize| {
        let chunk = bytes[i * 8..].first_chunk().map_or(0, |c| u64::from_le_bytes(*c));
        chunk & MASKS[length][i]
    };
    [part(0), part(1), part(2)]
}

/// A word with nothing known to follow it.
fn packed_word(word: &[u8]) -> Packed {
    let capitals = CAPITALS * 0x0101_0101_0101_0101;
    let mut rest = word;
    [(); 3].map(|()| match rest.split_first_chunk() {
        Some((eight, more)) => {
            rest = more;
            u64::from_le_bytes(*eight) & capitals
        }
        None => few_bytes(std::mem::take(&mut rest)) & capitals,
    })
}

/// Up to seven bytes as a number: two looks that overlap, cheaper than a copy or a loop.
fn few_bytes(bytes: &[u8]) -> u64 {
    let byte = |at: usize| u64::from(bytes[at]) << (at * 8);
    match bytes.len() {
        0 => 0,
        1..4 => byte(0) | byte(bytes.len() / 2) | byte(bytes.len() - 1),
        length => {
            let first = bytes.first_chunk().map_or(0, |c| u64::from(u32::from_le_bytes(*c)));
            let last = bytes.last_chunk().map_or(0, |c| u64::from(u32::from_le_bytes(*c)));
            first | last << ((length - 4) * 8)
        }
    }
}

/// An open-addressing table, at most a quarter full.
pub struct WordTable<T> {
    /// One more than the place in `entries`, 0 for none. Small, so that a miss stays in the cache.
    slots: Vec<u16>,
    entries: Vec<(Packed, T)>,
    /// How far the mixed number is shifted to be a slot.
    shift: u32,
    absent: T,
}

impl<T: Copy> WordTable<T> {
    /// A table of `words`, none longer than 24 bytes; `absent` is said of every other word.
    pub fn new<'a>(absent: T, words: impl Iterator<Item = (&'a str, T)>) -> WordTable<T> {
        let entries: Vec<(Packed, T)> = words.map(|(word, value)| (packed_word(word.as_bytes()), value)).collect();
        let size = (entries.len() * 4).next_power_of_two().max(2);
        let mut table = WordTable { slots: vec![0; size], entries, shift: 64 - size.trailing_zeros(), absent };
        for i in 0..table.entries.len() {
            let mut at = table.slot(table.entries[i].0);
            while table.slots[at] != 0 {
                at = (at + 1) % size;
            }
            table.slots[at] = i as u16 + 1;
        }
        table
    }

    /// Multiplication by odd numbers mixes upwards; the slot is taken from the top bits.
    fn slot(&self, packed: Packed) -> usize {
        let mixed = packed[0].wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ packed[1].wrapping_mul(0xc2b2_ae3d_27d4_eb4f) ^ packed[2];
        (mixed.wrapping_mul(0xff51_afd7_ed55_8ccd) >> self.shift) as usize
    }

    /// What is known of the word of `length` bytes at the start of `rest`.
    pub fn find(&self, rest: &[u8], length: usize) -> T {
        if length > LONGEST {
            return self.absent;
        }
        let wanted = match rest.first_chunk() {
            Some(bytes) => packed(bytes, length),
            None => packed_word(&rest[..length]),
        };
        let mut at = self.slot(wanted);
        loop {
            match self.slots[at] {
                0 => return self.absent,
                entry => {
                    let (word, value) = self.entries[entry as usize - 1];
                    if word == wanted {
                        return value;
                    }
                }
            }
            at = (at + 1) % self.slots.len();
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_found_in_any_case_and_any_place() {
        let words = ["TOLL", "TOLLS", "LANDING_STAGES_OF_WEIRS", "A", "AB_1", "ABCDEFGH", "ABCDEFGHI"];
        let table = WordTable::new(0, words.iter().enumerate().map(|(i, w)| (*w, i + 1)));
        for (i, word) in words.iter().enumerate() {
            let lower = word.to_lowercase();
            for text in [word.to_string(), lower.clone(), format!("{lower} and more than twenty-four bytes behind")] {
                assert_eq!(table.find(text.as_bytes(), word.len()), i + 1, "{text}");
            }
        }
        for other in ["", "TOL", "TOLLSS", "LANDING_STAGES_OF_WEIRSX", "A word that is far longer than the table's", "abcdefg"] {
            assert_eq!(table.find(other.as_bytes(), other.len()), 0, "{other}");
        }
    }
}
