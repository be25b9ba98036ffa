//! What the stand-ins give, by the manuals' word: row limits, NULLs, order, division, errors.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use standin::{Event, StandIn};
use values::Value;

/// Dialect, statement, and its rows: values parted by commas, rows by bars, NULL as ~; or `error`
/// with a part of its message.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str)] = &[
    ("sqlserver", "SELECT TOP 2 toll FROM (VALUES (3),(1),(2)) AS t(toll) ORDER BY toll", "1|2"),
    ("sqlserver", "SELECT TOP (1 + 1) toll FROM (VALUES (3),(1),(2)) AS t(toll) ORDER BY toll DESC", "3|2"),
    ("sqlserver", "SELECT TOP 0 toll FROM (VALUES (3),(1)) AS t(toll)", ""),
    ("sqlserver", "SELECT TOP (34) PERCENT toll FROM (VALUES (1),(2),(3)) AS t(toll) ORDER BY toll", "1|2"),
    ("sqlserver", "SELECT TOP (1) PERCENT toll FROM (VALUES (1),(2),(3)) AS t(toll) ORDER BY toll", "1"),
    ("sqlserver", "SELECT TOP (3) WITH TIES toll FROM (VALUES (1),(1),(2),(2),(3)) AS t(toll) ORDER BY toll", "1|1|2|2"),
    ("sqlserver", "SELECT TOP (1) WITH TIES toll FROM (VALUES (1),(1)) AS t(toll)", "error Msg 1062"),
    ("sqlserver", "SELECT toll FROM (VALUES (2),(NULL),(1)) AS t(toll) ORDER BY toll", "~|1|2"),
    ("sqlserver", "SELECT toll FROM (VALUES (1),(2),(3),(4)) AS t(toll) ORDER BY toll OFFSET 1 ROWS FETCH NEXT 2 ROWS ONLY", "2|3"),
    ("sqlserver", "SELECT TOP (1) toll FROM (VALUES (1),(2)) AS t(toll) ORDER BY toll OFFSET 1 ROWS", "error Msg 10741"),
    ("sqlserver", "SELECT toll FROM (VALUES (1),(2)) AS t(toll) LIMIT 1", "error"),
    ("sqlserver", "SELECT toll FROM (SELECT toll FROM (VALUES (1),(2)) AS t(toll) ORDER BY toll) AS d", "error Msg 1033"),
    ("sqlserver", "SELECT 7 / 2 AS a, 7.0 / 2 AS b, 'a' + NULL AS c, AVG(x) AS d FROM (VALUES (1),(2)) AS t(x)", "3,3.5,~,1"),
    ("sqlserver", "SELECT COUNT(*) AS n FROM (VALUES ('Quay'),('quay '),('weir')) AS t(x) WHERE x = 'QUAY'", "2"),
    ("sqlserver", "SELECT 1 / 0 AS x", "error Msg 8134"),
    ("sqlserver", "DECLARE @n int = 2; SELECT TOP (@n) x FROM (VALUES (3),(1),(2)) AS t(x) ORDER BY x", "1|2"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); MERGE loads AS t USING (VALUES (1, 0), (2, 9), (4, 7)) AS s (id, tons) ON t.id = s.id WHEN MATCHED AND s.tons = 0 THEN DELETE WHEN MATCHED THEN UPDATE SET tons = s.tons WHEN NOT MATCHED AND s.tons > 8 THEN INSERT (id) VALUES (s.id) WHEN NOT MATCHED THEN INSERT (id, tons) VALUES (s.id, s.tons); SELECT id, tons FROM loads ORDER BY id", "2,9|3,~|4,7"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); MERGE loads AS t USING (VALUES (2, 8), (2, 9)) AS s (id, tons) ON t.id = s.id WHEN MATCHED THEN UPDATE SET tons = s.tons;", "error Msg 8672"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); MERGE loads AS t USING (VALUES (2, 8)) AS s (id, tons) ON t.id = s.id WHEN MATCHED AND t.tons > NULL THEN DELETE WHEN MATCHED THEN UPDATE SET tons = s.tons WHEN NOT MATCHED BY SOURCE THEN DELETE; SELECT id, tons FROM loads", "2,8"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); WITH c AS (SELECT id, ROW_NUMBER() OVER (ORDER BY id DESC) AS n FROM loads) DELETE FROM c WHERE n > 1; SELECT id FROM loads", "3"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); UPDATE loads SET tons += 5; SELECT tons FROM loads ORDER BY id", "15|25|~"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); INSERT INTO loads VALUES (4, 1), (2, 1)", "error Msg 2627"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); SELECT id INTO copied FROM loads WHERE tons > 10; SELECT id FROM copied; DROP TABLE copied", "2"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); SELECT l.nme FROM loads AS l", "error Msg 207"),
    ("sqlserver", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); SELECT v.id FROM loads AS l", "error Msg 4104"),
    ("sqlserver", "SELECT x FROM (VALUES (N'b'), (N'\u{e1}'), (N'a')) AS t(x) ORDER BY x", "a|\u{e1}|b"),
    ("postgres", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); SELECT id, SUM(tons) OVER (ORDER BY id ROWS BETWEEN CURRENT ROW AND UNBOUNDED FOLLOWING) AS s FROM loads ORDER BY id", "1,30|2,20|3,~"),
    ("postgres", "CREATE TABLE loads (id INT PRIMARY KEY, tons INT); INSERT INTO loads VALUES (1, 10), (2, 20), (3, NULL); SELECT id, COUNT(*) OVER (ORDER BY id ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS n FROM loads ORDER BY id", "1,0|2,1|3,2"),
    ("oracle", "SELECT LEAST(3, '2') AS a, GREATEST('3', 12) AS b FROM dual", "2,3"),
    ("oracle", "WITH t (n) AS (SELECT 1 FROM dual UNION ALL SELECT MOD(n, 3) + 1 FROM t) SELECT COUNT(*) FROM t", "error ORA-32044"),
    ("postgres", "SELECT x IN (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16) AS a, x NOT IN (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, NULL) AS b FROM (VALUES (3), (20), (NULL)) AS t(x) ORDER BY x", "true,false|false,~|~,~"),
    ("sqlserver", "SELECT x FROM (VALUES ('Quay '), ('lock'), (NULL)) AS t(x) WHERE x IN ('QUAY', 'l0', 'l1', 'l2', 'l3', 'l4', 'l5', 'l6', 'l7', 'l8', 'l9', 'l10', 'l11', 'l12', 'l13', 'l14', 'l15')", "Quay "),
    ("mysql", "SELECT 3.0 IN (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16) AS a, '3' IN (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16) AS b, 3.5 IN (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16) AS c", "1,1,0"),
    ("oracle", "SELECT dummy_not FROM dual", "error ORA-00904"),
    ("oracle", "WITH t (k, v) AS (SELECT 1, NULL FROM dual UNION ALL SELECT 2, 7 FROM dual) SELECT MAX(v) KEEP (DENSE_RANK FIRST ORDER BY k) AS a, COUNT(DISTINCT v) KEEP (DENSE_RANK LAST ORDER BY k) AS b FROM t", "~,1"),
    ("oracle", "SELECT COUNT(*) FROM (SELECT 1 AS x FROM dual UNION ALL SELECT 2 FROM dual) WHERE ROWNUM > 1", "0"),
    ("oracle", "SELECT x, ROWNUM FROM (SELECT 3 AS x FROM dual UNION ALL SELECT 1 FROM dual UNION ALL SELECT 2 FROM dual ORDER BY x) WHERE ROWNUM <= 2", "1,1|2,2"),
    ("oracle", "WITH t AS (SELECT 2 AS b FROM dual UNION ALL SELECT NULL FROM dual) SELECT b FROM t ORDER BY b", "2|~"),
    ("oracle", "WITH t AS (SELECT 2 AS b FROM dual UNION ALL SELECT NULL FROM dual) SELECT b FROM t ORDER BY b DESC", "~|2"),
    ("oracle", "WITH t AS (SELECT 5 AS x FROM dual UNION ALL SELECT 1 FROM dual UNION ALL SELECT 9 FROM dual) SELECT x FROM t ORDER BY x FETCH FIRST 50 PERCENT ROWS ONLY", "1|5"),
    ("oracle", "WITH t AS (SELECT 5 AS x FROM dual UNION ALL SELECT 1 FROM dual UNION ALL SELECT 5 FROM dual UNION ALL SELECT 9 FROM dual) SELECT x FROM t ORDER BY x FETCH FIRST 2 ROWS WITH TIES", "1|5|5"),
    ("oracle", "SELECT COUNT(*) AS n FROM (SELECT x FROM (SELECT 7 AS x FROM dual UNION ALL SELECT 7 FROM dual) FETCH FIRST 1 ROW WITH TIES)", "1"),
    ("oracle", "SELECT 'pier' || '' || 'head' AS r, 7 / 2 AS h, NVL('', 'none') AS n, LENGTH('') AS l FROM dual", "pierhead,3.5,none,~"),
    ("oracle", "SELECT 1 FROM dual UNION SELECT 2 FROM dual INTERSECT SELECT 2 FROM dual", "2"),
    ("oracle", "SELECT kind FROM (SELECT 'a' AS kind, 1 AS x FROM dual) GROUP BY x", "error ORA-00979"),
    ("mysql", "SELECT x FROM (VALUES ROW(3),ROW(1),ROW(2)) AS t(x) ORDER BY x LIMIT 1, 2", "2|3"),
    ("mysql", "SELECT x FROM (VALUES ROW(2),ROW(NULL),ROW(1)) AS t(x) ORDER BY x DESC", "2|1|~"),
    ("mysql", "SELECT 7 / 2, 7 DIV 2, 1 / 0, 'a' || 'b', 'Quay' = 'quay', 1 = 1", "3.5,3,~,0,1,1"),
    ("mysql", "SELECT 1 WHERE 1 IN (SELECT 1 LIMIT 1)", "error ER_NOT_SUPPORTED_YET"),
    ("mysql", "(SELECT 3 AS n LIMIT 1) UNION ALL (SELECT 1) ORDER BY n LIMIT 1", "1"),
    ("postgres", "SELECT x FROM (VALUES (3),(1),(NULL)) AS t(x) ORDER BY x DESC LIMIT 2", "~|3"),
    ("postgres", "SELECT (SELECT x FROM (VALUES (1),(2)) AS t(x))", "error several rows"),
    ("postgres", "SELECT frobnicate(1)", "error does not know the function frobnicate"),
    ("sqlite", "SELECT x FROM (SELECT 3 AS x UNION ALL SELECT 1) ORDER BY x LIMIT -1 OFFSET 1", "3"),
    ("duckdb", "SELECT x FROM (VALUES (1),(2),(3),(4),(5),(6),(7),(8),(9)) AS t(x) LIMIT 10%", ""),
];

fn shown(value: &Value) -> String {
    match value {
        Value::Null => "~".to_string(),
        Value::Decimal(d) => d.normalized().to_plain_string(),
        other => other.to_string(),
    }
}

#[test]
fn stand_ins_give_what_the_manuals_say() {
    let mut failures = Vec::new();
    for (dialect, sql, expected) in CASES {
        let mut engine = StandIn::new(dialect.parse().expect("dialect"));
        for seed in 0..3 {
            engine.set_seed(seed);
            let got = match engine.run(sql) {
                Ok(results) => {
                    let rows = results.last().map(|r| r.rows.clone()).unwrap_or_default();
                    rows.iter().map(|r| r.iter().map(shown).collect::<Vec<_>>().join(",")).collect::<Vec<_>>().join("|")
                }
                Err(failure) => format!("error {failure}"),
            };
            let fits = match expected.strip_prefix("error") {
                Some(part) => got.starts_with("error") && got.contains(part.trim()),
                None => got == *expected,
            };
            if !fits {
                failures.push(format!("{dialect}: {sql}\n  wanted {expected}\n  got    {got}"));
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
}

#[test]
fn a_seed_decides_every_tie_and_nothing_else_does() {
    let sql = "SELECT x FROM (VALUES (1),(2),(3),(4),(5),(6)) AS t(x) ORDER BY x / 10";
    let run = |seed| {
        let mut engine = StandIn::new("postgres".parse().expect("dialect"));
        engine.set_seed(seed);
        engine.run(sql).expect("rows")[0].rows.clone()
    };
    assert_eq!(run(3), run(3));
    assert!((0..20).any(|seed| run(seed) != run(3)));
}

/// What clauses do, and the part of the text that did it.
const EVENTS: &[(&str, &str, Event, &str)] = &[
    ("postgres", "SELECT x FROM (VALUES (1),(1),(2)) AS t(x) ORDER BY x LIMIT 1", Event::LimitCutTie, "LIMIT 1"),
    ("sqlserver", "SELECT TOP (1) x FROM (VALUES (1),(2)) AS t(x)", Event::LimitCut, "TOP (1)"),
    ("mysql", "SELECT x FROM (SELECT 1 AS x UNION SELECT 1) AS t", Event::DroppedDuplicate, "SELECT 1 AS x UNION SELECT 1"),
    (
        "duckdb",
        "SELECT DISTINCT x FROM (VALUES (1),(1)) AS t(x)",
        Event::DroppedDuplicate,
        "SELECT DISTINCT x FROM (VALUES (1),(1)) AS t(x)",
    ),
    ("oracle", "SELECT LEVEL FROM dual CONNECT BY LEVEL <= 3", Event::WentDeep, "SELECT LEVEL FROM dual CONNECT BY LEVEL <= 3"),
    (
        "postgres",
        "SELECT COUNT(*) FROM (VALUES (1)) AS t(x) WHERE x > 1",
        Event::GroupOfNothing,
        "SELECT COUNT(*) FROM (VALUES (1)) AS t(x) WHERE x > 1",
    ),
    (
        "postgres",
        "SELECT 1 FROM (VALUES (1)) AS a(x) LEFT JOIN (VALUES (2)) AS b(y) ON y = x",
        Event::JoinedNothing,
        "(VALUES (1)) AS a(x) LEFT JOIN (VALUES (2)) AS b(y) ON y = x",
    ),
];

#[test]
fn what_was_met_is_told_with_its_place() {
    for (dialect, sql, event, part) in EVENTS {
        let (results, observed) = StandIn::new(dialect.parse().expect("dialect")).observe(sql);
        results.expect(sql);
        let start = sql.find(part).expect("part") as u32;
        assert!(observed.met(*event, (start, start + part.len() as u32)), "{sql}: {:?}", observed.events);
    }
    let sql = "SELECT CASE WHEN x > 1 THEN 7 / x END FROM (VALUES (1),(2),(NULL)) AS t(x)";
    let (_, observed) = StandIn::new("postgres".parse().expect("dialect")).observe(sql);
    let seen = |part: &str| {
        let start = sql.find(part).expect("part") as u32;
        observed.values[&(start, start + part.len() as u32)].clone()
    };
    assert_eq!((seen("x > 1").yes, seen("x > 1").no, seen("x > 1").null), (true, true, true));
    assert_eq!(seen("7 / x").values, [Value::Integer(3)]);
}
