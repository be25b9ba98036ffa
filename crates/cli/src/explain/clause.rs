//! Clauses and pseudo columns, as they are said in each dialect: what is no phrase.

/// One clause.
pub(super) struct Clause {
    /// What it is asked for by.
    pub(super) words: &'static [&'static str],
    pub(super) about: &'static str,
    /// In the order of the dialects: Oracle, SQL Server, MySQL, MariaDB, PostgreSQL, DuckDB, BigQuery,
    /// Spark SQL, SQLite.
    pub(super) says: [&'static str; syntax::DialectName::COUNT],
}

const FREE: &str = "SELECT 1";

pub(super) const CLAUSES: &[Clause] = &[
    Clause {
        words: &["DUAL"],
        about: "A table with one row and no meaning of its own, for a SELECT without tables. Oracle needs it before its version 23; MySQL and MariaDB allow it; elsewhere FROM is left out.",
        says: [
            "SELECT 1 FROM DUAL",
            FREE,
            "SELECT 1, or SELECT 1 FROM DUAL",
            "SELECT 1, or SELECT 1 FROM DUAL",
            FREE,
            FREE,
            FREE,
            FREE,
            FREE,
        ],
    },
    Clause {
        words: &["ROWNUM"],
        about: "The number of a row as it passes WHERE, before GROUP BY, DISTINCT and ORDER BY of its block. A top-n needs the order in an inline view; a bound from below is never met in the block itself.",
        says: [
            "WHERE ROWNUM <= 3",
            "TOP (3), or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
            "LIMIT 3, or ROW_NUMBER()",
        ],
    },
    Clause {
        words: &["LIMIT", "TOP", "FETCH FIRST", "FETCH", "OFFSET"],
        about: "A row limit: how many rows are kept, and how many are passed over first. Without an ORDER BY that settles it, which rows they are is the engine's choice.",
        says: [
            "OFFSET 2 ROWS FETCH FIRST 3 ROWS ONLY",
            "TOP (3), or ORDER BY .. OFFSET 2 ROWS FETCH NEXT 3 ROWS ONLY",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
            "LIMIT 3 OFFSET 2",
        ],
    },
    Clause {
        words: &["WITH TIES"],
        about: "Rows that tie with the last one kept are kept too. Where it isn't spoken, RANK() in a derived table says it.",
        says: [
            "FETCH FIRST 3 ROWS WITH TIES",
            "TOP (3) WITH TIES",
            "RANK() .. <= 3",
            "FETCH FIRST 3 ROWS WITH TIES",
            "FETCH FIRST 3 ROWS WITH TIES",
            "RANK() .. <= 3",
            "RANK() .. <= 3",
            "RANK() .. <= 3",
            "RANK() .. <= 3",
        ],
    },
    Clause {
        words: &["NULLS FIRST", "NULLS LAST"],
        about: "Where NULLs sort. Unasked they come last in Oracle and PostgreSQL (first when descending), always last in DuckDB, and first elsewhere (last when descending).",
        says: [
            "ORDER BY x NULLS FIRST",
            "ORDER BY CASE WHEN x IS NULL THEN 0 ELSE 1 END, x",
            "ORDER BY x IS NOT NULL, x",
            "ORDER BY x IS NOT NULL, x",
            "ORDER BY x NULLS FIRST",
            "ORDER BY x NULLS FIRST",
            "ORDER BY x NULLS FIRST",
            "ORDER BY x NULLS FIRST",
            "ORDER BY x NULLS FIRST",
        ],
    },
    Clause {
        words: &["CROSS APPLY", "APPLY", "OUTER APPLY", "LATERAL"],
        about: "A derived table that sees the columns of the tables before it. CROSS leaves out rows for which it finds nothing, OUTER keeps them with NULLs.",
        says: [
            "CROSS APPLY (..), or LATERAL (..)",
            "CROSS APPLY (..)",
            "JOIN LATERAL (..) ON TRUE",
            "numbered rows and a join",
            "JOIN LATERAL (..) ON TRUE",
            "JOIN LATERAL (..) ON TRUE",
            "numbered rows and a join",
            "JOIN LATERAL (..) ON TRUE",
            "numbered rows and a join",
        ],
    },
    Clause {
        words: &["QUALIFY"],
        about: "A condition on window functions, behind HAVING. Where it isn't spoken it becomes the WHERE of a query around a derived table.",
        says: [
            "SELECT .. FROM (SELECT .., ROW_NUMBER() OVER (..) AS n ..) WHERE n = 1",
            "the same",
            "the same",
            "the same",
            "the same",
            "QUALIFY ROW_NUMBER() OVER (..) = 1",
            "QUALIFY ROW_NUMBER() OVER (..) = 1",
            "as a derived table",
            "as a derived table",
        ],
    },
    Clause {
        words: &["MINUS", "EXCEPT"],
        about: "The rows of the first query that are not among those of the second, each once.",
        says: ["MINUS", "EXCEPT", "EXCEPT", "EXCEPT", "EXCEPT", "EXCEPT", "EXCEPT DISTINCT", "EXCEPT", "EXCEPT"],
    },
    Clause {
        words: &["DISTINCT ON"],
        about: "The first row of each group of equal keys, first by ORDER BY.",
        says: [
            "ROW_NUMBER() .. = 1",
            "ROW_NUMBER() .. = 1",
            "ROW_NUMBER() .. = 1",
            "ROW_NUMBER() .. = 1",
            "SELECT DISTINCT ON (key) ..",
            "SELECT DISTINCT ON (key) ..",
            "QUALIFY ROW_NUMBER() .. = 1",
            "ROW_NUMBER() .. = 1",
            "ROW_NUMBER() .. = 1",
        ],
    },
    Clause {
        words: &["ILIKE"],
        about: "LIKE with small and capital letters counting as the same. SQL Server's, MySQL's and MariaDB's LIKE does that by itself with their default collations, SQLite's for letters of ASCII.",
        says: [
            "LOWER(x) LIKE LOWER('q%')",
            "LOWER(x) LIKE LOWER('q%')",
            "LOWER(x) LIKE LOWER('q%')",
            "LOWER(x) LIKE LOWER('q%')",
            "x ILIKE 'q%'",
            "x ILIKE 'q%'",
            "LOWER(x) LIKE LOWER('q%')",
            "x ILIKE 'q%'",
            "LOWER(x) LIKE LOWER('q%')",
        ],
    },
];
