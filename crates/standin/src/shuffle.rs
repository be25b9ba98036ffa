//! Orders that nobody promised, drawn from a seed.

/// How many items are shuffled as one, and how many such pages are many.
const PAGE: usize = 1024;
const MANY_PAGES: usize = 32;

/// A small generator of numbers (splitmix64): enough to shuffle, the same on every machine.
#[derive(Debug, Clone)]
pub(crate) struct Random(u64);

impl Random {
    pub(crate) fn new(seed: u64) -> Random {
        Random(seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ 0x1234_5678_9abc_def1)
    }

    pub(crate) fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    /// Shuffles in place (Fisher and Yates). Very many items as pages are in a file: the pages, and
    /// the items of each, so that near ones stay near in memory.
    pub(crate) fn shuffle<T>(&mut self, items: &mut [T]) {
        let pages = items.len() / PAGE;
        if pages < MANY_PAGES {
            return self.shuffle_page(items);
        }
        for i in (1..pages).rev() {
            let j = (self.next() % (i as u64 + 1)) as usize;
            if i != j {
                let (before, from) = items.split_at_mut(i * PAGE);
                before[j * PAGE..(j + 1) * PAGE].swap_with_slice(&mut from[..PAGE]);
            }
        }
        items.chunks_mut(PAGE).for_each(|page| self.shuffle_page(page));
    }

    fn shuffle_page<T>(&mut self, items: &mut [T]) {
        for i in (1..items.len()).rev() {
            let j = (self.next() % (i as u64 + 1)) as usize;
            items.swap(i, j);
        }
    }
}
