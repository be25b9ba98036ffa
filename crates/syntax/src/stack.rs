//! Room on the stack for trees that are deep.

use std::cell::Cell;

/// Below this much room a new stretch of stack is made.
const LEAST: usize = 128 * 1024;
/// How long a new stretch is.
const STRETCH: usize = 2 * 1024 * 1024;

thread_local! {
    /// Addresses above this have more than [`LEAST`] below them. Nothing is known at first.
    static FLOOR: Cell<usize> = const { Cell::new(usize::MAX) };
}

/// Runs `work` with enough stack for one more level of nesting.
///
/// Trees are walked by recursion and this is asked at every node, so the common case, room enough,
/// is one comparison of addresses.
pub fn with_stack<T>(work: impl FnOnce() -> T) -> T {
    if here() > FLOOR.get() { work() } else { with_more(work) }
}

/// About where the stack ends now.
fn here() -> usize {
    let mark = 0_u8;
    std::ptr::from_ref(std::hint::black_box(&mark)).addr()
}

/// Puts the floor back, also when the work panics.
struct Restore(usize);

impl Drop for Restore {
    fn drop(&mut self) {
        FLOOR.set(self.0);
    }
}

#[cold]
fn with_more<T>(work: impl FnOnce() -> T) -> T {
    let floor_of = |room: usize| here().saturating_sub(room.saturating_sub(LEAST));
    match stacker::remaining_stack() {
        // The first look in this thread.
        Some(room) if room > LEAST => {
            FLOOR.set(floor_of(room));
            work()
        }
        _ => stacker::grow(STRETCH, || {
            let _restore = Restore(FLOOR.replace(floor_of(STRETCH - 4096)));
            work()
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn depth(levels: u32) -> u64 {
        let fill = std::hint::black_box([1_u8; 512]);
        if levels == 0 { 0 } else { with_stack(|| depth(levels - 1)) + u64::from(fill[levels as usize % 512]) }
    }

    #[test]
    fn deeper_than_any_stack_and_again() {
        // About 60 MB of frames in a thread of 2 MB; twice, for the floor must come back.
        assert_eq!(depth(100_000), 100_000);
        assert_eq!(depth(100_000), 100_000);
    }

    #[test]
    fn a_panic_leaves_the_floor_right() {
        fn fall(levels: u32) {
            if levels == 0 {
                std::panic::panic_any(0_u8);
            }
            with_stack(|| fall(levels - 1));
        }
        assert!(std::panic::catch_unwind(|| fall(50_000)).is_err());
        assert_eq!(depth(100_000), 100_000);
    }
}
