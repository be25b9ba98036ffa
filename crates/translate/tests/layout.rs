//! What becomes of blanks, comments and line breaks: kept where the tokens stay, moved where they
//! go, and set anew by `tidy`.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use meaning::Catalog;
use syntax::{Dialect, LayoutStyle};
use translate::{Options, translate_text};

/// From, to, the text and what becomes of it, with `keep`.
#[rustfmt::skip] // One case a line.
const KEPT: &[(&str, &str, &str, &str)] = &[
    ("oracle", "postgres", "select  name\n  from loads\n where rownum<=5", "select  name\n  from loads\n  limit 5"),
    ("oracle", "postgres", "SELECT name -- the name\nFROM loads -- all of them\nWHERE ROWNUM <= 5 -- five", "SELECT name -- the name\nFROM loads -- all of them\nLIMIT 5 -- five"),
    ("oracle", "postgres", "/* first */ SELECT name FROM loads /* where */ WHERE /* a */ ROWNUM /* b */ <= 5 /* last */", "/* first */ SELECT name FROM loads /* where */ /* a */ /* b */ LIMIT 5 /* last */"),
    ("oracle", "postgres", "SELECT *\nFROM (\n  SELECT name, tons -- both\n  FROM loads\n  ORDER BY tons -- heaviest last\n)\nWHERE ROWNUM <= 3", "SELECT name, tons -- both\nFROM loads\nORDER BY tons -- heaviest last\nLIMIT 3"),
    ("oracle", "sqlserver", "SELECT *\nFROM (\n    SELECT name\n    FROM loads\n    ORDER BY name\n)\nWHERE ROWNUM <= 3;\n", "SELECT TOP (3) name\nFROM loads\nORDER BY CASE WHEN name IS NULL THEN 1 ELSE 0 END, name;\n"),
    ("sqlserver", "postgres", "SELECT TOP 3 -- three\n  name\nFROM loads\nORDER BY name", "SELECT\n  name\nFROM loads\nORDER BY name NULLS FIRST\nLIMIT 3 -- three"),
    ("sqlserver", "postgres", "SELECT TOP (3)\n       name,\n       tons\n  FROM [loads] AS l\n ORDER BY tons", "SELECT\n       name,\n       tons\n  FROM loads AS l\n ORDER BY tons NULLS FIRST\n LIMIT 3"),
    ("sqlserver", "mysql", "SELECT DISTINCT TOP 3 name\nFROM loads\nORDER BY name\n", "SELECT DISTINCT name\nFROM loads\nORDER BY name\nLIMIT 3\n"),
    ("sqlserver", "postgres", "SELECT name FROM loads\nORDER BY name\nOFFSET 10 ROWS -- skip\nFETCH NEXT 5 ROWS ONLY -- take\n", "SELECT name FROM loads\nORDER BY name NULLS FIRST\nLIMIT 5\nOFFSET 10 -- skip -- take\n"),
    ("mysql", "postgres", "SELECT `name` # which\nFROM loads -- where\nLIMIT 10, 5", "SELECT name -- which\nFROM loads -- where\nLIMIT 5\nOFFSET 10"),
    ("mysql", "sqlserver", "SELECT name\nFROM loads\nORDER BY name\nLIMIT 3", "SELECT TOP (3) name\nFROM loads\nORDER BY name"),
    ("mysql", "oracle", "select name from loads limit 3", "select name from loads fetch first 3 rows only"),
    ("postgres", "mysql", "SELECT name FROM loads --no blank\nLIMIT 3", "SELECT name FROM loads -- no blank\nLIMIT 3"),
    ("postgres", "oracle", "SELECT name /* a /* nested */ one */ FROM loads LIMIT 3", "SELECT name /* a / * nested * / one */ FROM loads FETCH FIRST 3 ROWS ONLY"),
    ("postgres", "sqlserver", "SELECT name\n\n\nFROM loads\n\nLIMIT 3", "SELECT TOP (3) name\n\n\nFROM loads"),
    ("oracle", "postgres", "SELECT /*+ INDEX(l) */ name FROM loads l", "SELECT /* INDEX(l) */ name FROM loads l"),
    ("oracle", "mysql", "SELECT name FROM loads --+ FULL(loads)\nWHERE ROWNUM < 3", "SELECT name FROM loads -- FULL(loads)\nLIMIT 2"),
    ("oracle", "postgres", "SELECT 1 FROM dual;\n\n-- between\n\nSELECT 2 FROM dual;\n-- end\n", "SELECT 1;\n\n-- between\n\nSELECT 2;\n-- end\n"),
    ("sqlserver", "postgres", "SELECT 1 AS a\nGO\n-- next\nSELECT 2 AS b\nGO\n", "SELECT 1 AS a;\n-- next\nSELECT 2 AS b;\n"),
    ("sqlserver", "postgres", "SELECT 1 AS a\nSELECT 2 AS b", "SELECT 1 AS a;\nSELECT 2 AS b"),
    ("oracle", "postgres", "SELECT nvl(name,\n           'none') -- default\nFROM loads", "SELECT COALESCE(name,\n           'none') -- default\nFROM loads"),
    ("oracle", "postgres", "SELECT name FROM loads WHERE ROWNUM <= 5\n   AND tons > 3\n   -- heavy ones\n   AND owner = 'x'", "SELECT name FROM loads WHERE tons > 3\n   -- heavy ones\n   AND owner = 'x' LIMIT 5"),
    ("postgres", "sqlserver", "SELECT name\r\nFROM loads\r\nLIMIT 3\r\n", "SELECT TOP (3) name\r\nFROM loads\r\n"),
    ("oracle", "oracle", "select  *\nfrom( select name from loads )where rownum<=3 -- odd", "select  *\nfrom( select name from loads )where rownum<=3 -- odd"),
    ("oracle", "postgres", "SELECT NVL(a, 0), MONTHS_BETWEEN(b, c) -- how long\nFROM loads; SELECT 1 FROM dual", "-- refused (function.not-translated): MONTHS_BETWEEN of Oracle is not translated to PostgreSQL\n-- SELECT NVL(a, 0), MONTHS_BETWEEN(b, c) -- how long\n-- FROM loads\n-- draft, to be completed by hand:\n-- SELECT COALESCE(a, 0), /* not translated: function.not-translated */ MONTHS_BETWEEN(b, c) -- how long\n-- /* end */\n-- FROM loads\nSELECT 1"),
    ("sqlserver", "postgres", "SELECT 1 AS a; WAITFOR DELAY '0:1' SELECT 2 AS b", "SELECT 1 AS a;\n-- refused (statement.not-a-query): WAITFOR DELAY is not translated\n-- WAITFOR DELAY '0:1'\nSELECT 2 AS b"),
    ("oracle", "postgres", "DEFINE w = 1\nSELECT a FROM t WHERE b = '&w'", "-- DEFINE w = 1\n-- refused (statement.governed): the client replaces &w in the text before the server reads it; the target's client doesn't\n--   put its value in, or translate that statement by hand\n-- SELECT a FROM t WHERE b = '&w'\n"),
    ("postgres", "sqlite", "BEGIN; DELETE FROM t; COMMIT", "BEGIN; DELETE FROM t; COMMIT"),
    ("sqlserver", "sqlserver", "SELECT TOP 3 name  FROM loads ;;\n\nGO\n", "SELECT TOP 3 name  FROM loads ;;\n\nGO\n"),
    ("postgres", "mysql", "SELECT frobnicate FROM FROM t; -- broken\nSELECT 1 AS one;", "-- unreadable (statement.unreadable): expected a table, a query in parentheses or a table function, found 'FROM'\n-- SELECT frobnicate FROM FROM t -- broken\nSELECT 1 AS one;"),
    ("oracle", "postgres", "SELECT v.name AS \"Vessel\",   -- its name\n       UPPER(v.kind)\n  FROM (\n        SELECT id, name, kind   /* all of it */\n          FROM vessels\n         ORDER BY tons_max DESC, -- heaviest\n                  id\n       ) v\n WHERE ROWNUM <= 3", "SELECT /* all of it */ name AS \"Vessel\",   -- its name\n       UPPER(kind)\n  FROM vessels\n ORDER BY tons_max DESC, -- heaviest\n          id\n LIMIT 3"),
    ("oracle", "postgres", "SELECT name\n  FROM (\n        SELECT id, name\n          FROM vessels\n         ORDER BY tons_max DESC,\n                  id\n       ) v\n WHERE ROWNUM <= 3 -- three", "SELECT name\n  FROM vessels\n ORDER BY tons_max DESC,\n          id\n LIMIT 3 -- three"),
    ("oracle", "mysql", "select name from (select name from vessels order by id) where rownum < 4 -- on one line", "select name from vessels order by case when id is null then 1 else 0 end, id limit 3 -- on one line"),
];

/// The same with `tidy`.
#[rustfmt::skip] // One case a line.
const TIDIED: &[(&str, &str, &str, &str)] = &[
    ("oracle", "postgres", "select name,tons from loads where tons>3 and rownum<=5", "select name, tons\nfrom loads\nwhere tons > 3\nlimit 5"),
    ("oracle", "postgres", "SELECT v.name, COUNT(*) AS n FROM vessels v JOIN crossings c ON c.vessel_id = v.id LEFT JOIN tolls t ON t.vessel_id = v.id WHERE v.kind = 'tug' AND c.fare > 3 GROUP BY v.name HAVING COUNT(*) > 1 ORDER BY n DESC FETCH FIRST 3 ROWS ONLY", "SELECT v.name, COUNT(*) AS n\nFROM vessels v\nJOIN crossings c ON c.vessel_id = v.id\nLEFT JOIN tolls t ON t.vessel_id = v.id\nWHERE v.kind = 'tug' AND c.fare > 3\nGROUP BY v.name\nHAVING COUNT(*) > 1\nORDER BY n DESC\nLIMIT 3"),
    ("sqlserver", "postgres", "SELECT TOP 3 name FROM (SELECT name, tons FROM loads WHERE tons > 1) x ORDER BY tons -- by weight", "SELECT name\nFROM (\n    SELECT name, tons\n    FROM loads\n    WHERE tons > 1\n) x\nORDER BY tons NULLS FIRST\nLIMIT 3 -- by weight"),
    ("mysql", "postgres", "SELECT name FROM a UNION ALL SELECT name FROM b ORDER BY name LIMIT 3", "SELECT name\nFROM a\nUNION ALL\nSELECT name\nFROM b\nORDER BY name NULLS FIRST\nLIMIT 3"),
    ("postgres", "oracle", "WITH heavy AS (SELECT * FROM loads WHERE tons > 3) SELECT name FROM heavy ORDER BY tons LIMIT 3", "WITH heavy AS (\n    SELECT *\n    FROM loads\n    WHERE tons > 3\n)\nSELECT name\nFROM heavy\nORDER BY tons\nFETCH FIRST 3 ROWS ONLY"),
    ("oracle", "postgres", "SELECT CASE WHEN tons > 3 THEN 'heavy' ELSE 'light' END AS class FROM loads -- classes\nWHERE ROWNUM = 1", "SELECT CASE WHEN tons > 3 THEN 'heavy' ELSE 'light' END AS class\nFROM loads -- classes\nLIMIT 1"),
];

fn failures(cases: &[(&str, &str, &str, &str)], layout: LayoutStyle) -> Vec<String> {
    let mut failures = Vec::new();
    for (from, to, text, expected) in cases {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let options = Options { layout, ..Options::default() };
        let got = translate_text(text, &from, &to, &Catalog::default(), &options).text;
        if got != *expected {
            failures.push(format!(
                "{from} {to}: {}\n  wanted {}\n  got    {}",
                text.escape_debug(),
                expected.escape_debug(),
                got.escape_debug()
            ));
        }
    }
    failures
}

#[test]
fn layout_is_kept_or_set_anew() {
    let mut all = failures(KEPT, LayoutStyle::Keep);
    all.extend(failures(TIDIED, LayoutStyle::Tidy));
    assert!(all.is_empty(), "{} of them\n{}", all.len(), all.join("\n"));
}
