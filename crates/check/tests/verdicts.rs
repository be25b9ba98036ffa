//! What the checker says of pairs of queries: right translations agree, plausible mistakes differ.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;

use check::{Engines, Pair, Settings, check};
use engines::{Address, open};
use syntax::{Dialect, DialectName};

/// From, to, the query, another's translation, and the verdict.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str, &str, &str)] = &[
    // The limit itself.
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id FETCH FIRST 3 ROWS ONLY", "SELECT name FROM loads ORDER BY id LIMIT 3", "agree"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id FETCH FIRST 3 ROWS ONLY", "SELECT name FROM loads ORDER BY id LIMIT 4", "differ"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id FETCH FIRST 3 ROWS ONLY", "SELECT name FROM loads ORDER BY id", "differ"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id OFFSET 3 ROWS", "SELECT name FROM loads ORDER BY id OFFSET 2", "differ"),
    ("mysql", "postgres", "SELECT name FROM loads ORDER BY id LIMIT 2, 3", "SELECT name FROM loads ORDER BY id LIMIT 2 OFFSET 3", "differ"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id FETCH FIRST NULL ROWS ONLY", "SELECT name FROM loads ORDER BY id LIMIT NULL", "differ"),
    ("oracle", "postgres", "SELECT name FROM loads ORDER BY id OFFSET NULL ROWS", "SELECT name FROM loads ORDER BY id LIMIT 0", "agree"),
    ("oracle", "sqlite", "SELECT name FROM loads ORDER BY id FETCH FIRST -1 ROWS ONLY", "SELECT name FROM loads ORDER BY id LIMIT -1", "differ"),
    ("oracle", "sqlite", "SELECT name FROM loads ORDER BY id OFFSET -1 ROWS", "SELECT name FROM loads ORDER BY id LIMIT -1 OFFSET -1", "agree"),
    ("duckdb", "postgres", "SELECT name FROM loads ORDER BY id LIMIT NULL", "SELECT name FROM loads ORDER BY id", "agree"),
    ("tsql", "postgres", "SELECT TOP 10 PERCENT name FROM loads ORDER BY id", "SELECT name FROM loads ORDER BY id LIMIT (SELECT COUNT(*) / 10 FROM loads)", "differ"),
    ("tsql", "sqlite", "SELECT TOP 3 WITH TIES name FROM loads ORDER BY tons", "SELECT name FROM loads ORDER BY tons LIMIT 3", "differ"),
    // ROWNUM before ORDER BY.
    ("oracle", "postgres", "SELECT id, tons FROM loads WHERE ROWNUM <= 3 ORDER BY tons", "SELECT id, tons FROM loads ORDER BY id LIMIT 3", "differ"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id FROM loads ORDER BY id) WHERE ROWNUM <= 3", "SELECT id FROM loads ORDER BY id LIMIT 3", "agree"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id FROM loads ORDER BY id) WHERE ROWNUM <= 3", "SELECT id FROM loads LIMIT 3", "differ"),
    // NULLs.
    ("oracle", "sqlite", "SELECT id, tons FROM loads ORDER BY tons, id", "SELECT id, tons FROM loads ORDER BY tons, id", "differ"),
    ("oracle", "sqlite", "SELECT id, tons FROM loads ORDER BY tons, id", "SELECT id, tons FROM loads ORDER BY tons NULLS LAST, id", "agree"),
    ("oracle", "postgres", "SELECT id FROM loads WHERE tons > 3", "SELECT id FROM loads WHERE tons > 3 OR tons IS NULL", "differ"),
    ("postgres", "sqlite", "SELECT COUNT(tons) FROM loads", "SELECT COUNT(*) FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads WHERE tons NOT IN (SELECT fare FROM crossings)", "SELECT id FROM loads l WHERE NOT EXISTS (SELECT 1 FROM crossings c WHERE c.fare = l.tons)", "differ"),
    ("postgres", "sqlite", "SELECT owner FROM loads WHERE owner <> 'x'", "SELECT owner FROM loads WHERE owner IS NOT 'x'", "differ"),
    ("oracle", "postgres", "SELECT id FROM loads WHERE owner IS NULL", "SELECT id FROM loads WHERE owner IS NULL OR owner = ''", "agree"),
    // Joins and filters.
    ("postgres", "sqlite", "SELECT v.id, c.id FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id", "SELECT v.id, c.id FROM vessels v JOIN crossings c ON c.vessel_id = v.id", "differ"),
    ("postgres", "sqlite", "SELECT v.id, c.id FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id AND c.fare > 5", "SELECT v.id, c.id FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id WHERE c.fare > 5", "differ"),
    ("postgres", "sqlite", "SELECT DISTINCT kind FROM vessels", "SELECT kind FROM vessels", "differ"),
    ("postgres", "sqlite", "SELECT kind FROM vessels UNION SELECT kind FROM vessels", "SELECT kind FROM vessels UNION ALL SELECT kind FROM vessels", "differ"),
    ("postgres", "sqlite", "SELECT kind, COUNT(*) FROM vessels GROUP BY kind HAVING COUNT(*) > 1", "SELECT kind, COUNT(*) FROM vessels GROUP BY kind HAVING COUNT(*) >= 1", "differ"),
    // Order and choice.
    ("postgres", "sqlite", "SELECT id FROM loads ORDER BY id", "SELECT id FROM loads ORDER BY id DESC", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads", "SELECT id FROM loads ORDER BY id DESC", "agree"),
    ("postgres", "sqlite", "SELECT id FROM loads ORDER BY tons", "SELECT id FROM loads ORDER BY tons NULLS LAST, id", "agree"),
    ("postgres", "mysql", "SELECT id FROM loads ORDER BY tons, id", "SELECT id FROM loads ORDER BY tons IS NULL, tons", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads LIMIT 3", "SELECT id FROM loads ORDER BY id DESC LIMIT 3", "agree"),
    ("oracle", "sqlite", "SELECT id, ROW_NUMBER() OVER (ORDER BY tons) AS n FROM loads", "SELECT id, ROW_NUMBER() OVER (ORDER BY tons NULLS LAST) AS n FROM loads", "agree"),
    ("oracle", "sqlite", "SELECT id, RANK() OVER (ORDER BY tons) AS n FROM loads", "SELECT id, DENSE_RANK() OVER (ORDER BY tons NULLS LAST) AS n FROM loads", "differ"),
    // Values.
    ("postgres", "tsql", "SELECT 7 / 2 AS n", "SELECT 7 / 2 AS n", "agree"),
    ("oracle", "tsql", "SELECT 7 / 2 AS n FROM dual", "SELECT 7 / 2 AS n", "differ"),
    ("oracle", "postgres", "SELECT SUM(tons) FROM loads", "SELECT SUM(tons) FROM loads", "agree"),
    ("oracle", "postgres", "SELECT AVG(tons) FROM loads", "SELECT SUM(tons) / COUNT(*) FROM loads", "differ"),
    ("tsql", "postgres", "SELECT COUNT(*) FROM loads WHERE name = 'QUAY' OR name = 'quay'", "SELECT COUNT(*) FROM loads WHERE LOWER(name) = 'quay'", "agree"),
    // Errors, and what isn't known.
    ("postgres", "sqlite", "SELECT id FROM loads", "SELECT idd FROM loads", "differ"),
    ("postgres", "mysql", "SELECT 1 / 0 AS n", "SELECT 1 DIV 0 AS n", "differ"),
    ("postgres", "sqlite", "SELECT frobnicate(id) FROM loads", "SELECT id FROM loads", "undetermined"),
    ("postgres", "sqlite", "SELECT id, name FROM loads", "SELECT id FROM loads", "differ"),
];

#[test]
fn mistakes_differ_and_right_translations_agree() {
    let (catalog, _) = demo::data(&DialectName::Postgres.into());
    let mut failures = Vec::new();
    for (from, to, source, target, expected) in CASES {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let mut ours = open(&Address::default_for(&from)).expect("source");
        let mut theirs = open(&Address::default_for(&to)).expect("target");
        let mut engines = Engines { source: &mut *ours, target: &mut *theirs };
        let verdict = check(Pair { source, from: &from, target }, &mut engines, None, &catalog.schema, &Settings::default());
        if verdict.kind.as_str() != *expected {
            let why = verdict.reason.unwrap_or_default();
            failures.push(format!("{from} {to}: {source}\n  {target}\n  wanted {expected}\n  got    {} {why}", verdict.kind.as_str()));
        }
        // What differs is shown on few rows.
        if let Some(found) = verdict.counterexample {
            let rows: usize = found.tables.iter().map(|(_, rows)| rows.len()).sum();
            if rows > 6 {
                failures.push(format!("{from} {to}: {source}\n  {target}\n  the counterexample has {rows} rows"));
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
