//! Probes: the queries that find the rows breaking an assumption.

#![allow(clippy::expect_used)] // A failing test may end loudly.

use meaning::Catalog;
use syntax::{Dialect, Statements, lex};
use translate::{Options, translate_text};

const SCHEMA: &str = "CREATE TABLE vessels (id INT PRIMARY KEY, name VARCHAR(40) NOT NULL, kind VARCHAR(10), tons DECIMAL(8,2));
    CREATE TABLE crossings (id INT PRIMARY KEY, vessel_id INT, passengers INT, fare DECIMAL(8,2));";

/// From, to, the query, a note's code, and the probe that counts.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str, &str, &str)] = &[
    ("sqlserver", "mysql", "SELECT fare / passengers FROM crossings WHERE fare > 2", "number.divide-decimals", "SELECT COUNT(*) FROM crossings WHERE (fare > 2) AND (passengers) = 0"),
    // What is tested in WHERE itself is asked of all rows.
    ("sqlserver", "mysql", "SELECT id FROM crossings WHERE fare / passengers > 2", "number.divide-decimals", "SELECT COUNT(*) FROM crossings WHERE (passengers) = 0"),
    // In ON, of all pairs.
    ("sqlserver", "mysql", "SELECT v.id FROM vessels v JOIN crossings c ON v.tons > c.fare / c.passengers", "number.divide-decimals", "SELECT COUNT(*) FROM vessels v, crossings c WHERE (c.passengers) = 0"),
    // Behind grouping.
    ("sqlserver", "mysql", "SELECT vessel_id, SUM(fare) / SUM(passengers) FROM crossings WHERE fare > 1 GROUP BY vessel_id", "number.divide-decimals", "SELECT COUNT(*) FROM (SELECT SUM(passengers) AS probed FROM crossings WHERE fare > 1 GROUP BY vessel_id) probe WHERE (probed) = 0"),
    // Inside an aggregate it is the rows'.
    ("sqlserver", "mysql", "SELECT SUM(fare / passengers) FROM crossings", "number.divide-decimals", "SELECT COUNT(*) FROM crossings WHERE (passengers) = 0"),
    // In a common table expression, a derived table, a subquery, APPLY.
    ("sqlserver", "mysql", "WITH a AS (SELECT id FROM vessels), c AS (SELECT fare / passengers AS q FROM crossings) SELECT q FROM c, a", "number.divide-decimals", "WITH a AS (SELECT id FROM vessels) SELECT COUNT(*) FROM crossings WHERE (passengers) = 0"),
    ("sqlserver", "mysql", "SELECT q FROM (SELECT fare / passengers AS q FROM crossings) c WHERE q > 1", "number.divide-decimals", "SELECT COUNT(*) FROM crossings WHERE (passengers) = 0"),
    ("sqlserver", "mysql", "SELECT id FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id AND c.fare / v.tons > 1)", "number.divide-decimals", "SELECT COUNT(*) FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE (v.tons) = 0)"),
    ("sqlserver", "mysql", "SELECT v.id, x.q FROM vessels v CROSS APPLY (SELECT c.fare / v.tons AS q FROM crossings c WHERE c.vessel_id = v.id) x", "number.divide-decimals", "SELECT COUNT(*) FROM vessels v WHERE EXISTS (SELECT 1 FROM crossings c WHERE (c.vessel_id = v.id) AND (v.tons) = 0)"),
    // Letters.
    ("mysql", "sqlite", "SELECT UPPER(name) FROM vessels", "text.upper", "SELECT COUNT(*) FROM vessels WHERE LENGTH(name) <> CHAR_LENGTH(name)"),
    ("oracle", "sqlserver", "SELECT id FROM vessels WHERE kind = 'tug'", "text.collation", "SELECT COUNT(*) FROM vessels WHERE UPPER(RTRIM(kind)) IN (UPPER(RTRIM('tug'))) AND kind NOT IN ('tug')"),
    ("postgres", "mysql", "SELECT kind, COUNT(*) FROM vessels GROUP BY kind", "text.collation", "SELECT COUNT(*) FROM (SELECT UPPER(kind) AS alike FROM vessels WHERE (kind) IS NOT NULL GROUP BY UPPER(kind) HAVING COUNT(DISTINCT kind) > 1) probe"),
    ("mysql", "oracle", "SELECT id FROM vessels WHERE kind IS NULL", "text.empty-or-null", "SELECT COUNT(*) FROM vessels WHERE (kind) = ''"),
    // What is looked through by a regular expression.
    ("mysql", "postgres", "SELECT id FROM vessels WHERE name REGEXP 'b$'", "regex.line-end", "SELECT COUNT(*) FROM vessels WHERE RIGHT(name, 1) = '\\n'"),
    ("postgres", "duckdb", "SELECT id FROM vessels WHERE name ~ '\\w'", "regex.letters", "SELECT COUNT(*) FROM vessels WHERE OCTET_LENGTH(name) <> CHAR_LENGTH(name)"),
    ("mysql", "mariadb", "SELECT REGEXP_REPLACE(name, 'x*', '-') FROM vessels", "regex.empty-match", "none"),
    ("mysql", "postgres", "SELECT REGEXP_SUBSTR(name, 'coal|coals') FROM vessels", "regex.longest", "none"),
    ("mysql", "mariadb", "SELECT REGEXP_REPLACE(name, 'coal|coals', '-') FROM vessels", "regex.longest", "no such note"),
    ("mysql", "postgres", "SELECT id FROM vessels WHERE name REGEXP 'coal|coals'", "regex.longest", "no such note"),
    // What a template is chosen for does as the phrase; the source may do another thing.
    ("mysql", "postgres", "SELECT SUBSTR(name, 0, 2) FROM vessels", "text.substring", "SELECT COUNT(*) FROM vessels WHERE (0) = 0"),
    ("oracle", "postgres", "SELECT SUBSTR(name, 0, 2) FROM vessels", "text.substring", "no such note"),
    ("mysql", "mariadb", "SELECT SUBSTR(name, 0, 2) FROM vessels", "text.substring", "no such note"),
    // A quotient that is worked with.
    ("mysql", "mariadb", "SELECT fare / passengers * 100 FROM crossings", "number.quotient-digits", "none"),
    ("mysql", "mariadb", "SELECT fare / passengers FROM crossings", "number.quotient-digits", "no such note"),
    ("mysql@8.4", "mariadb", "SELECT fare / passengers * 100 FROM crossings", "number.quotient-digits", "no such note"),
    // What the source can't hold can't be counted there.
    ("oracle", "mysql", "SELECT id FROM vessels WHERE kind IS NULL", "text.empty-or-null", "none"),
];

#[test]
fn probes_ask_the_source() {
    let mut failures = Vec::new();
    for (from, to, sql, code, expected) in CASES {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let catalog = Catalog::from_ddl(SCHEMA, &from).expect("schema");
        let script = translate_text(sql, &from, &to, &catalog, &Options::default());
        let statement = &script.statements[0];
        let note = statement.notes.iter().find(|n| n.note.code == *code);
        let probe = note.and_then(|n| statement.probe(sql, &from, n));
        let got = match (note, &probe) {
            (None, _) => "no such note".to_string(),
            (_, None) => "none".to_string(),
            (_, Some(probe)) => probe.count.clone(),
        };
        if got != *expected {
            failures.push(format!("{from} to {to}: {sql}\n  wanted {expected}\n  got    {got}"));
        }
        for sql in probe.iter().flat_map(|p| [&p.count, &p.sample]) {
            let tokens = lex(sql, &from);
            if Statements::new(sql, &tokens, &from).any(|p| p.tree.is_err()) {
                failures.push(format!("{from} can't read the probe {sql}"));
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}
