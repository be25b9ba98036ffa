//! What the checker says of pairs of queries: right translations agree, plausible mistakes differ.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod stand_ins;

use check::{Pair, Settings};
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

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
    ("sqlserver", "postgres", "SELECT TOP 10 PERCENT name FROM loads ORDER BY id", "SELECT name FROM loads ORDER BY id LIMIT (SELECT COUNT(*) / 10 FROM loads)", "differ"),
    ("sqlserver", "sqlite", "SELECT TOP 3 WITH TIES name FROM loads ORDER BY tons", "SELECT name FROM loads ORDER BY tons LIMIT 3", "differ"),
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
    ("postgres", "sqlserver", "SELECT 7 / 2 AS n", "SELECT 7 / 2 AS n", "agree"),
    ("oracle", "sqlserver", "SELECT 7 / 2 AS n FROM dual", "SELECT 7 / 2 AS n", "differ"),
    ("oracle", "postgres", "SELECT SUM(tons) FROM loads", "SELECT SUM(tons) FROM loads", "agree"),
    ("oracle", "postgres", "SELECT AVG(tons) FROM loads", "SELECT SUM(tons) / COUNT(*) FROM loads", "differ"),
    ("sqlserver", "postgres", "SELECT COUNT(*) FROM loads WHERE name = 'QUAY' OR name = 'quay'", "SELECT COUNT(*) FROM loads WHERE LOWER(name) = 'quay'", "agree"),
    // Errors, and what isn't known.
    ("postgres", "sqlite", "SELECT id FROM loads", "SELECT idd FROM loads", "failed"),
    ("postgres", "mysql", "SELECT 1 / 0 AS n", "SELECT 1 DIV 0 AS n", "differ"),
    ("postgres", "sqlite", "SELECT frobnicate(id) FROM loads", "SELECT id FROM loads", "undetermined"),
    ("postgres", "sqlite", "SELECT id, name FROM loads", "SELECT id FROM loads", "differ"),
    // Mistakes made by hand, each beside what is right.
    ("oracle", "postgres", "SELECT name FROM (SELECT name, tons FROM loads ORDER BY tons DESC) WHERE ROWNUM <= 3", "SELECT name FROM loads ORDER BY tons DESC NULLS LAST LIMIT 3", "differ"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id, ROWNUM rn FROM (SELECT id FROM loads ORDER BY id)) WHERE rn BETWEEN 3 AND 5", "SELECT id FROM loads ORDER BY id LIMIT 3 OFFSET 3", "differ"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id, ROWNUM rn FROM (SELECT id FROM loads ORDER BY id)) WHERE rn BETWEEN 3 AND 5", "SELECT id FROM loads ORDER BY id LIMIT 3 OFFSET 2", "agree"),
    ("oracle", "postgres", "SELECT id FROM (SELECT id, ROWNUM rn FROM (SELECT id FROM loads ORDER BY id)) WHERE rn BETWEEN 3 AND 5", "SELECT id FROM loads ORDER BY id LIMIT 5 OFFSET 2", "differ"),
    ("oracle", "postgres", "SELECT id FROM loads WHERE ROWNUM > 1", "SELECT id FROM loads OFFSET 1", "differ"),
    ("oracle", "postgres", "SELECT id FROM loads WHERE ROWNUM = 2", "SELECT id FROM loads ORDER BY id LIMIT 1 OFFSET 1", "differ"),
    ("oracle", "postgres", "SELECT id FROM loads WHERE ROWNUM < 3", "SELECT id FROM loads LIMIT 3", "differ"),
    ("oracle", "postgres", "SELECT COUNT(*) FROM loads WHERE ROWNUM <= 3", "SELECT COUNT(*) FROM loads LIMIT 3", "differ"),
    ("oracle", "postgres", "SELECT SUM(tons) FROM (SELECT tons FROM loads ORDER BY id) WHERE ROWNUM <= 3", "SELECT SUM(tons) FROM loads LIMIT 3", "differ"),
    ("oracle", "postgres", "SELECT id FROM loads ORDER BY id FETCH FIRST 2 ROWS WITH TIES", "SELECT id FROM loads ORDER BY id LIMIT 2", "agree"),
    ("oracle", "postgres", "SELECT owner FROM loads ORDER BY owner FETCH FIRST 2 ROWS WITH TIES", "SELECT owner FROM loads ORDER BY owner LIMIT 2", "differ"),
    ("oracle", "postgres", "SELECT owner FROM loads ORDER BY owner FETCH FIRST 2 ROWS ONLY", "SELECT owner FROM loads ORDER BY owner FETCH FIRST 2 ROWS WITH TIES", "differ"),
    ("oracle", "mysql", "SELECT id FROM loads ORDER BY id OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY", "SELECT id FROM loads ORDER BY id LIMIT 3, 2", "differ"),
    ("oracle", "mysql", "SELECT id FROM loads ORDER BY id OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY", "SELECT id FROM loads ORDER BY id LIMIT 2, 3", "agree"),
    ("oracle", "sqlserver", "SELECT id FROM loads ORDER BY id OFFSET 2 ROWS FETCH NEXT 30 PERCENT ROWS ONLY", "SELECT TOP 30 PERCENT id FROM loads ORDER BY id", "differ"),
    ("oracle", "sqlite", "SELECT id FROM loads ORDER BY id FETCH FIRST 30 PERCENT ROWS ONLY", "SELECT id FROM loads ORDER BY id LIMIT (SELECT COUNT(*) * 30 / 100 FROM loads)", "differ"),
    ("oracle", "sqlite", "SELECT id FROM loads ORDER BY id FETCH FIRST 30 PERCENT ROWS ONLY", "SELECT id FROM loads ORDER BY id LIMIT (SELECT (COUNT(*) * 30 + 99) / 100 FROM loads)", "agree"),
    ("sqlserver", "postgres", "SELECT TOP 3 owner FROM loads ORDER BY owner", "SELECT owner FROM loads ORDER BY owner LIMIT 3", "differ"),
    ("sqlserver", "postgres", "SELECT TOP 3 id, tons FROM loads ORDER BY tons DESC, id", "SELECT id, tons FROM loads ORDER BY tons DESC, id LIMIT 3", "differ"),
    ("sqlserver", "postgres", "SELECT TOP 3 id, tons FROM loads ORDER BY tons DESC, id", "SELECT id, tons FROM loads ORDER BY tons DESC NULLS LAST, id LIMIT 3", "agree"),
    ("sqlserver", "sqlite", "SELECT DISTINCT TOP 3 owner FROM loads ORDER BY owner", "SELECT owner FROM loads ORDER BY owner LIMIT 3", "differ"),
    ("sqlserver", "sqlite", "SELECT TOP 3 name FROM loads UNION SELECT name FROM vessels", "SELECT name FROM loads UNION SELECT name FROM vessels ORDER BY name LIMIT 3", "differ"),
    ("sqlserver", "postgres", "SELECT v.id, c.fare FROM vessels v CROSS APPLY (SELECT TOP 1 fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC) c", "SELECT v.id, c.fare FROM vessels v LEFT JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC NULLS LAST LIMIT 1) c ON TRUE", "differ"),
    ("sqlserver", "postgres", "SELECT v.id, c.fare FROM vessels v OUTER APPLY (SELECT TOP 1 fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC) c", "SELECT v.id, MAX(c.fare) FROM vessels v LEFT JOIN crossings c ON c.vessel_id = v.id GROUP BY v.id", "agree"),
    ("sqlserver", "postgres", "SELECT v.id, c.fare FROM vessels v CROSS APPLY (SELECT TOP 2 fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC) c", "SELECT v.id, c.fare FROM vessels v CROSS JOIN LATERAL (SELECT fare FROM crossings c WHERE c.vessel_id = v.id ORDER BY fare DESC NULLS LAST LIMIT 1) c", "differ"),
    ("sqlserver", "sqlite", "SELECT CAST(tons AS int) AS t FROM loads", "SELECT CAST(tons AS INTEGER) AS t FROM loads", "agree"),
    ("sqlserver", "postgres", "SELECT CAST(tons AS int) AS t FROM loads", "SELECT CAST(tons AS integer) AS t FROM loads", "differ"),
    ("sqlserver", "postgres", "SELECT name + owner AS x FROM loads", "SELECT CONCAT(name, owner) AS x FROM loads", "differ"),
    ("sqlserver", "postgres", "SELECT id / 2 AS h FROM loads", "SELECT id / 2.0 AS h FROM loads", "differ"),
    ("mysql", "postgres", "SELECT id / 2 AS h FROM loads", "SELECT id / 2 AS h FROM loads", "differ"),
    ("mysql", "sqlite", "SELECT tons / 4 AS h FROM loads", "SELECT tons / 4 AS h FROM loads", "differ"),
    ("mysql", "postgres", "SELECT owner FROM loads GROUP BY owner ORDER BY owner", "SELECT owner FROM loads GROUP BY owner ORDER BY owner", "differ"),
    ("mysql", "postgres", "SELECT id FROM loads LIMIT 3 OFFSET 1", "SELECT id FROM loads LIMIT 1 OFFSET 3", "differ"),
    ("mysql", "postgres", "SELECT owner, COUNT(*) AS n FROM loads GROUP BY owner HAVING n > 1", "SELECT owner, COUNT(*) AS n FROM loads GROUP BY owner HAVING COUNT(*) > 2", "differ"),
    ("postgres", "mysql", "SELECT id FROM loads ORDER BY tons, id LIMIT 3", "SELECT id FROM loads ORDER BY tons, id LIMIT 3", "differ"),
    ("postgres", "mysql", "SELECT id FROM loads ORDER BY tons, id LIMIT 3", "SELECT id FROM loads ORDER BY tons IS NULL, tons, id LIMIT 3", "agree"),
    ("postgres", "oracle", "SELECT id FROM loads ORDER BY tons DESC, id LIMIT 3", "SELECT id FROM loads ORDER BY tons DESC, id FETCH FIRST 3 ROWS ONLY", "agree"),
    ("postgres", "sqlite", "SELECT owner FROM loads UNION SELECT name FROM vessels", "SELECT owner FROM loads UNION ALL SELECT name FROM vessels", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads EXCEPT SELECT id FROM vessels", "SELECT id FROM vessels EXCEPT SELECT id FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT name FROM vessels v WHERE NOT EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = v.id)", "SELECT name FROM vessels v WHERE id NOT IN (SELECT vessel_id FROM crossings)", "agree"),
    ("postgres", "sqlite", "SELECT id FROM loads l WHERE NOT EXISTS (SELECT 1 FROM vessels v WHERE v.permit = l.owner)", "SELECT id FROM loads l WHERE owner NOT IN (SELECT permit FROM vessels)", "differ"),
    ("postgres", "sqlite", "SELECT v.id FROM vessels v JOIN crossings c ON c.vessel_id = v.id", "SELECT id FROM vessels WHERE id IN (SELECT vessel_id FROM crossings)", "differ"),
    ("postgres", "sqlite", "SELECT DISTINCT v.id FROM vessels v JOIN crossings c ON c.vessel_id = v.id", "SELECT id FROM vessels WHERE id IN (SELECT vessel_id FROM crossings)", "agree"),
    ("postgres", "sqlite", "SELECT COUNT(DISTINCT owner) FROM loads", "SELECT COUNT(owner) FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads WHERE tons BETWEEN 5 AND 10", "SELECT id FROM loads WHERE tons > 5 AND tons < 10", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads WHERE tons BETWEEN 5 AND 10", "SELECT id FROM loads WHERE tons >= 5 AND tons <= 10", "agree"),
    ("postgres", "sqlite", "SELECT id FROM loads WHERE NOT (tons > 3)", "SELECT id FROM loads WHERE tons <= 3 OR tons IS NULL", "differ"),
    ("postgres", "sqlite", "SELECT id FROM loads WHERE owner = 'x' OR owner <> 'x'", "SELECT id FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT COALESCE(tons, 0) FROM loads", "SELECT tons FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT MAX(tons) FROM loads WHERE id < 0", "SELECT MAX(tons) FROM loads WHERE id < 0 HAVING COUNT(*) > 0", "differ"),
    ("postgres", "sqlite", "SELECT id, RANK() OVER (ORDER BY tons) AS r FROM loads", "SELECT id, ROW_NUMBER() OVER (ORDER BY tons NULLS LAST) AS r FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT id, SUM(id) OVER (ORDER BY tons) AS s FROM loads", "SELECT id, SUM(id) OVER (ORDER BY tons NULLS LAST ROWS UNBOUNDED PRECEDING) AS s FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT CASE WHEN tons > 5 THEN 'a' ELSE 'b' END FROM loads", "SELECT CASE WHEN tons <= 5 THEN 'b' ELSE 'a' END FROM loads", "differ"),
    ("postgres", "sqlite", "SELECT name FROM loads WHERE name LIKE '_a%'", "SELECT name FROM loads WHERE name LIKE '%a%'", "differ"),
    ("bigquery", "postgres", "SELECT id FROM loads ORDER BY tons LIMIT 3", "SELECT id FROM loads ORDER BY tons LIMIT 3", "differ"),
    ("spark", "postgres", "SELECT id FROM loads ORDER BY tons DESC, id LIMIT 3", "SELECT id FROM loads ORDER BY tons DESC, id LIMIT 3", "differ"),
    ("duckdb", "sqlite", "SELECT id FROM loads ORDER BY id LIMIT 30%", "SELECT id FROM loads ORDER BY id LIMIT (SELECT (COUNT(*) * 30 + 99) / 100 FROM loads)", "differ"),
    ("duckdb", "postgres", "SELECT id FROM loads ORDER BY tons DESC, id LIMIT 3", "SELECT id FROM loads ORDER BY tons DESC, id LIMIT 3", "differ"),
    ("sqlite", "postgres", "SELECT id FROM loads LIMIT -1", "SELECT id FROM loads", "agree"),
    ("mariadb", "postgres", "SELECT CAST(id AS CHAR(1)) AS c FROM loads", "SELECT CAST(id AS varchar) AS c FROM loads", "differ"),
    ("oracle", "sqlserver", "SELECT 'a' || owner AS x FROM loads", "SELECT 'a' + owner AS x FROM loads", "differ"),
    ("oracle", "postgres", "SELECT tons / 4 AS q FROM loads", "SELECT TRUNC(tons / 4) AS q FROM loads", "differ"),
    // Changes of data, by the tables afterwards.
    ("postgres", "sqlite", "UPDATE loads SET tons = tons + 1 WHERE tons > 5", "UPDATE loads SET tons = tons + 1 WHERE tons > 5", "agree"),
    ("postgres", "sqlite", "UPDATE loads SET tons = tons + 1 WHERE tons > 5", "UPDATE loads SET tons = tons + 1 WHERE tons > 5 OR tons IS NULL AND id > 2", "agree"),
    ("postgres", "sqlite", "UPDATE loads SET tons = tons + 1 WHERE tons > 5", "UPDATE loads SET tons = tons + 1 WHERE tons >= 5", "differ"),
    ("postgres", "mysql", "DELETE FROM loads WHERE owner <> 'quay'", "DELETE FROM loads WHERE owner <> 'quay' OR owner IS NULL", "differ"),
    ("postgres", "sqlite", "INSERT INTO loads (id, crossing_id, name) SELECT id + 1000, crossing_id, name FROM loads", "INSERT INTO loads (id, crossing_id, name) SELECT id + 1000, crossing_id, owner FROM loads", "differ"),
    ("mysql", "postgres", "DELETE FROM loads WHERE id NOT IN (SELECT vessel_id FROM crossings)", "DELETE FROM loads l WHERE NOT EXISTS (SELECT 1 FROM crossings c WHERE c.vessel_id = l.id)", "agree"),
];

#[test]
fn mistakes_differ_and_right_translations_agree() {
    let (catalog, _) = demo::data(&DialectName::Postgres.into());
    let mut failures = Vec::new();
    for (from, to, source, target, expected) in CASES {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let verdict = stand_ins::verdict(
            Pair { source, from: &from, target, to: &to, assumptions: None },
            &to,
            None,
            &catalog.schema,
            &Settings::default(),
        );
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

/// From, to, a query of which our translation assumes something, and the codes for which data is found
/// that breaks them and makes a difference.
#[rustfmt::skip] // One case a line.
const ASSUMED: &[(&str, &str, &str, &[&str])] = &[
    ("sqlserver", "postgres", "SELECT name FROM vessels WHERE name = 'heron'", &["text.collation"]),
    ("sqlserver", "postgres", "SELECT name, COUNT(*) AS n FROM vessels GROUP BY name", &["text.collation"]),
    ("sqlserver", "postgres", "SELECT name FROM vessels ORDER BY name", &["text.collation"]),
    ("mysql", "sqlserver", "SELECT DISTINCT kind FROM vessels", &["text.collation"]),
    ("postgres", "mysql", "SELECT id, RANK() OVER (ORDER BY name) AS r FROM vessels", &["text.collation"]),
    ("postgres", "mysql", "SELECT MAX(name) AS last FROM vessels", &["text.collation"]),
    ("sqlserver", "oracle", "SELECT id FROM vessels WHERE NULLIF(permit, 'x') IS NULL", &["text.collation", "text.empty-or-null"]),
    ("postgres", "sqlite", "SELECT name FROM vessels WHERE name LIKE 'h%'", &["text.like-case"]),
    ("mysql", "postgres", "SELECT id, fare / passengers AS each FROM crossings", &["number.divide-decimals"]),
    ("mysql", "postgres", "SELECT id, fare / (passengers - 1) AS each FROM crossings", &["number.divide-decimals"]),
    ("mysql", "postgres", "SELECT vessel_id, SUM(fare) / SUM(passengers) AS each FROM crossings GROUP BY vessel_id", &["number.divide-decimals"]),
    ("postgres", "oracle", "SELECT id FROM loads WHERE owner IS NULL", &["text.empty-or-null"]),
    ("postgres", "sqlite", "SELECT id, UPPER(name) AS u FROM vessels", &["text.upper"]),
    ("sqlserver", "postgres", "SELECT id FROM vessels WHERE name = 'heron' AND kind = 'tug' AND tons_max / 2 > 4", &["text.collation"]),
];

#[test]
fn an_assumption_is_no_difference() {
    let mut failures = Vec::new();
    for (from, to, source, codes) in ASSUMED {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let (catalog, _) = demo::data(&DialectName::Postgres.into());
        let script = translate_text(source, &from, &to, &catalog, &Options::default());
        let statement = &script.statements[0];
        let assumptions = stand_ins::assumed(statement);
        let target = statement.sql.as_deref().expect("translation");
        let pair = Pair { source, from: &from, target, to: &to, assumptions: Some(&assumptions) };
        for seed in 1..6 {
            let settings = Settings { seed, ..Settings::default() };
            let verdict = stand_ins::verdict(pair, &to, None, &catalog.schema, &settings);
            let shown: Vec<&str> = verdict.examples.iter().filter(|(_, e)| e.is_some()).map(|(code, _)| *code).collect();
            if verdict.kind.as_str() != "agree" || shown != *codes {
                let why = verdict.reason.unwrap_or_default();
                failures.push(format!(
                    "{from} {to}, seed {seed}: {source}\n  wanted examples of {codes:?}\n  got {} {shown:?} {why}",
                    verdict.kind.as_str()
                ));
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
