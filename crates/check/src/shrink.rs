//! A counterexample without what it doesn't need.

use engines::EngineError;
use values::{ResultSet, Row, Table};

use crate::Counterexample;

/// How often both sides are run for it.
const MOST_RUNS: usize = 400;

type Attempt = Result<ResultSet, EngineError>;

/// Drops rows, halves first, then one by one, as long as `differs` still holds.
pub(crate) fn shrink(found: Counterexample, differs: &mut dyn FnMut(&[(Table, Vec<Row>)]) -> Option<(Attempt, Attempt)>) -> Counterexample {
    let mut best = found;
    let mut runs = 0;
    let mut smaller = true;
    while smaller && runs < MOST_RUNS {
        smaller = false;
        for table in 0..best.tables.len() {
            let mut size = best.tables[table].1.len().div_ceil(2).max(1);
            loop {
                let mut start = 0;
                while start < best.tables[table].1.len() && runs < MOST_RUNS {
                    let mut tables = best.tables.clone();
                    let rows = &mut tables[table].1;
                    let end = (start + size).min(rows.len());
                    rows.drain(start..end);
                    runs += 1;
                    if let Some((source, target)) = differs(&tables) {
                        best = Counterexample { tables, source, target };
                        smaller = true;
                    } else {
                        start += size;
                    }
                }
                if size == 1 || runs >= MOST_RUNS {
                    break;
                }
                size = size.div_ceil(2);
            }
        }
    }
    best
}
