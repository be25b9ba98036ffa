//! Choices drawn from a seed.

/// Numbers from a seed (splitmix64).
pub(crate) struct Random(u64);

impl Random {
    pub(crate) fn of(seed: u64, trial: u64) -> Random {
        Random(seed.wrapping_mul(1_000_003).wrapping_add(trial))
    }

    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    /// A number from 0 to below `n`.
    pub(crate) fn below(&mut self, n: usize) -> usize {
        if n == 0 { 0 } else { (self.next() % n as u64) as usize }
    }

    /// True once in `n` times.
    pub(crate) fn once_in(&mut self, n: usize) -> bool {
        self.below(n) == 0
    }

    /// One of several.
    pub(crate) fn of_these<'t, T>(&mut self, these: &'t [T]) -> Option<&'t T> {
        if these.is_empty() { None } else { these.get(self.below(these.len())) }
    }

    pub(crate) fn shuffle<T>(&mut self, items: &mut [T]) {
        for i in (1..items.len()).rev() {
            items.swap(i, self.below(i + 1));
        }
    }
}
