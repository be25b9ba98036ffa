//! Pairs of queries on the stand-ins of their dialects, for tests.

#![allow(dead_code)] // Each test file uses a part.

use check::{Assumption, Engines, Pair, Settings, Verdict, check};
use engines::{Address, Dataset, open};
use syntax::{Dialect, Statements, lex};
use translate::Translated;
use values::Schema;

/// What the checker says of a pair, each side on the stand-in of its dialect.
pub(crate) fn verdict(pair: Pair<'_>, to: &Dialect, data: Option<&Dataset>, schema: &Schema, settings: &Settings) -> Verdict {
    let mut ours = open(&Address::default_for(pair.from)).expect("source");
    let mut theirs = open(&Address::default_for(to)).expect("target");
    let mut engines = Engines { source: &mut *ours, target: &mut *theirs };
    check(pair, &mut engines, data, schema, settings)
}

/// What the translation of a string's only query assumes.
pub(crate) fn assumed(statement: &Translated) -> Vec<Assumption> {
    Assumption::of(statement, statement.place.start)
}

/// Why a string can't be read; `None` where it can.
pub(crate) fn error_in(sql: &str, dialect: &Dialect) -> Option<String> {
    let tokens = lex(sql, dialect);
    Statements::new(sql, &tokens, dialect).find_map(|p| p.tree.err()).map(|e| e.message)
}

/// A number that the environment may set.
pub(crate) fn number(variable: &str, default: u64) -> u64 {
    std::env::var(variable).ok().and_then(|v| v.parse().ok()).unwrap_or(default)
}
