//! Random numbers for tests.

/// Numbers from a seed (an xorshift): the same on every machine.
pub(crate) struct Random(pub(crate) u64);

impl Random {
    /// A number below `n`, 0 for none.
    pub(crate) fn below(&mut self, n: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % n.max(1) as u64) as usize
    }
}
