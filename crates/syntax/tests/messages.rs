//! What the grammar says of texts it can't read: what was expected, what was found, and where.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use syntax::{Dialect, Statements, lex};

/// Dialect, text, the text the error points at, and its message; `read` if it reads.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str)] = &[
    ("postgres", "SELECT", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT FROM t", "read"),
    ("postgres", "SELECT a FROM", "expected a table, a query in parentheses or a table function, but the text ends here @ "),
    ("postgres", "SELECT a FROM WHERE b", "expected a table, a query in parentheses or a table function, found 'WHERE' @ WHERE"),
    ("postgres", "SELECT a, FROM t", "expected an expression, found 'FROM' @ FROM"),
    ("postgres", "SELECT a b c FROM t", "expected the end of the statement, found 'c' @ c"),
    ("postgres", "SELECT (a FROM t", "expected ')', found 'FROM' @ FROM"),
    ("postgres", "SELECT a) FROM t", "expected the end of the statement, found ')' @ )"),
    ("postgres", "SELECT f(a, FROM t", "expected an expression, found 'FROM' @ FROM"),
    ("postgres", "SELECT a FROM t WHERE", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t GROUP a", "expected BY behind GROUP @ GROUP"),
    ("postgres", "SELECT a FROM t GROUP BY", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t ORDER a", "expected BY behind ORDER @ ORDER"),
    ("postgres", "SELECT a FROM t ORDER BY a DESC NULLS", "expected FIRST or LAST behind NULLS @ NULLS"),
    ("postgres", "SELECT a FROM t LIMIT", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t LIMIT 3 OFFSET", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t FETCH 3 ROWS ONLY", "expected FIRST or NEXT, found '3' @ 3"),
    ("postgres", "SELECT a FROM t FETCH FIRST 3", "expected ROWS, but the text ends here @ "),
    ("postgres", "SELECT a FROM t FETCH FIRST 3 ROWS", "expected ONLY or WITH TIES, but the text ends here @ "),
    ("postgres", "SELECT a FROM t JOIN", "expected a table, a query in parentheses or a table function, but the text ends here @ "),
    ("postgres", "SELECT a FROM t JOIN u", "read"),
    ("postgres", "SELECT a FROM t JOIN u ON", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t LEFT u", "expected JOIN behind LEFT @ LEFT"),
    ("postgres", "SELECT a FROM (SELECT b FROM t", "expected ')', but the text ends here @ "),
    ("postgres", "SELECT a FROM ()", "expected a table, a query in parentheses or a table function, found ')' @ )"),
    ("postgres", "SELECT CASE WHEN a THEN b", "expected END, but the text ends here @ "),
    ("postgres", "SELECT CASE a END", "expected WHEN, found 'END' @ END"),
    ("postgres", "SELECT CASE WHEN a END", "expected THEN, found 'END' @ END"),
    ("postgres", "SELECT a IS 3", "expected NULL, TRUE, FALSE or DISTINCT FROM, found '3' @ 3"),
    ("postgres", "SELECT a BETWEEN 1", "expected AND, but the text ends here @ "),
    ("postgres", "SELECT a BETWEEN 1 OR 2", "expected AND, found 'OR' @ OR"),
    ("postgres", "SELECT a IN ()", "expected an expression, found ')' @ )"),
    ("postgres", "SELECT a IN (1, )", "expected an expression, found ')' @ )"),
    ("postgres", "SELECT a NOT b", "expected the end of the statement, found 'NOT' @ NOT"),
    ("postgres", "SELECT a LIKE", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT CAST(a TO integer)", "expected AS, found 'TO' @ TO"),
    ("postgres", "SELECT CAST(a AS )", "expected a type, found ')' @ )"),
    ("postgres", "SELECT a::", "expected a type, but the text ends here @ "),
    ("postgres", "SELECT COUNT(DISTINCT) FROM t", "expected an expression, found ')' @ )"),
    ("postgres", "SELECT SUM(a) OVER FROM t", "expected a window's name or '(', found 'FROM' @ FROM"),
    ("postgres", "SELECT SUM(a) OVER (PARTITION a) FROM t", "expected ')', found 'PARTITION' @ PARTITION"),
    ("postgres", "SELECT SUM(a) OVER (ORDER BY b ROWS BETWEEN 1 PRECEDING) FROM t", "expected AND, found ')' @ )"),
    ("postgres", "SELECT SUM(a) OVER (ROWS 1) FROM t", "expected PRECEDING or FOLLOWING, found ')' @ )"),
    ("postgres", "WITH a SELECT 1", "expected AS, found 'SELECT' @ SELECT"),
    ("postgres", "WITH a AS SELECT 1", "expected '(', found 'SELECT' @ SELECT"),
    ("postgres", "WITH a AS (SELECT 1)", "expected SELECT, but the text ends here @ "),
    ("postgres", "SELECT 1 UNION", "expected SELECT, but the text ends here @ "),
    ("postgres", "SELECT 1 UNION SELECT", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT 1 EXCEPT 2", "expected SELECT, found '2' @ 2"),
    ("postgres", "VALUES 1, 2", "expected a statement, found 'VALUES' @ VALUES"),
    ("postgres", "VALUES (1, 2), 3", "expected '(', found '3' @ 3"),
    ("postgres", "SELECT 'open", "this text literal is never closed @ 'open"),
    ("postgres", "SELECT \"open", "this quoted name is never closed @ \"open"),
    ("postgres", "SELECT $tag$ open", "this dollar-quoted text is never closed @ $tag$ open"),
    ("postgres", "SELECT 1 /* open", "this comment is never closed @ /* open"),
    ("postgres", "SELECT 1 /* a /* b */", "this comment is never closed @ /* a /* b */"),
    ("mysql", "SELECT `open", "this quoted name is never closed @ `open"),
    ("sqlserver", "SELECT [open", "this quoted name is never closed @ [open"),
    ("oracle", "SELECT q'[open' FROM dual", "this text literal is never closed @ q'[open' FROM dual"),
    ("postgres", "INSERT t VALUES (1)", "read"),
    ("postgres", "INSERT INTO t (a, ) VALUES (1)", "expected a column's name, found ')' @ )"),
    ("postgres", "INSERT INTO t", "expected VALUES or a query, but the text ends here @ "),
    ("postgres", "UPDATE t a = 1", "expected SET, found '=' @ ="),
    ("postgres", "UPDATE t SET", "expected a column's name, but the text ends here @ "),
    ("postgres", "UPDATE t SET a", "expected '=', but the text ends here @ "),
    ("postgres", "DELETE t WHERE a", "read"),
    ("postgres", "CREATE TABLE t", "read"),
    ("postgres", "CREATE TABLE t (a)", "read"),
    ("postgres", "CREATE TABLE t (a integer", "expected ',' or ')', but the text ends here @ "),
    ("postgres", "frobnicate the table", "expected a statement, found 'frobnicate' @ frobnicate"),
    ("postgres", "42", "expected a statement, found '42' @ 42"),
    ("postgres", "SELECT a FROM t; SELECT", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a ~ ~ ~", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT * FROM t WHERE a = = b", "expected an expression, found '=' @ ="),
    ("postgres", "SELECT a FROM t WHERE a AND", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a,, b FROM t", "expected an expression, found ',' @ ,"),
    ("postgres", "SELECT t. FROM t", "read"),
    ("postgres", "SELECT a FROM t AS", "expected a table alias, but the text ends here @ "),
    ("postgres", "SELECT a AS FROM t", "expected the end of the statement, found 't' @ t"),
    ("postgres", "SELECT TOP 3 a FROM t", "expected the end of the statement, found '3' @ 3"),
    ("mysql", "SELECT a FROM t LIMIT 1,", "expected an expression, but the text ends here @ "),
    ("mysql", "SELECT a FROM t LIMIT 1, 2 OFFSET 3", "MySQL has no OFFSET here @ OFFSET"),
    ("mysql", "SELECT a FROM t FETCH FIRST 3 ROWS ONLY", "MySQL has no FETCH here @ FETCH"),
    ("sqlserver", "SELECT TOP FROM t", "expected an expression, found 'FROM' @ FROM"),
    ("sqlserver", "SELECT TOP 3 PERCENT FROM t", "expected an expression, found 'FROM' @ FROM"),
    ("sqlserver", "SELECT a FROM t LIMIT 3", "SQL Server has no LIMIT here @ LIMIT"),
    ("sqlserver", "SELECT a FROM t OFFSET 3", "read"),
    ("sqlserver", "SELECT a FROM t ORDER BY a OFFSET 3 FETCH NEXT 2 ROWS ONLY", "read"),
    ("sqlserver", "SELECT a FROM t CROSS APPLY", "expected a table, a query in parentheses or a table function, but the text ends here @ "),
    ("oracle", "SELECT a FROM t WHERE ROWNUM <= ", "expected an expression, but the text ends here @ "),
    ("oracle", "SELECT a FROM t@remote", "a table behind a database link (@) can't be read @ @"),
    ("oracle", "SELECT a FROM t FETCH FIRST 10 PERCENT ONLY", "expected ROWS, found 'ONLY' @ ONLY"),
    ("oracle", "SELECT a FROM t START a = 1 CONNECT BY PRIOR a = b", "expected WITH behind START @ START"),
    ("oracle", "SELECT a FROM t CONNECT PRIOR a = b", "expected BY behind CONNECT @ CONNECT"),
    ("duckdb", "SELECT a FROM t LIMIT 10 %", "read"),
    ("duckdb", "FROM t SELECT", "expected an expression, but the text ends here @ "),
    ("bigquery", "SELECT a FROM t QUALIFY", "expected the end of the statement, found 'QUALIFY' @ QUALIFY"),
    ("bigquery", "SELECT * EXCEPT a FROM t", "expected SELECT, found 'a' @ a"),
    ("spark", "SELECT a FROM t LATERAL VIEW", "expected an expression, but the text ends here @ "),
    ("spark", "SELECT a FROM t LATERAL VIEW explode(b)", "read"),
    ("sqlite", "SELECT a FROM t LIMIT 1 OFFSET", "expected an expression, but the text ends here @ "),
    ("postgres", "SELECT a FROM t LIMIT 1, 2", "expected the end of the statement, found ',' @ ,"),
    ("postgres", "SELECT a FROM t LIMIT 10 PERCENT", "expected the end of the statement, found 'PERCENT' @ PERCENT"),
    ("oracle", "SELECT a FROM t LIMIT 3", "Oracle has no LIMIT here @ LIMIT"),
    ("spark", "SELECT a FROM t FETCH FIRST 3 ROWS ONLY", "Spark SQL has no FETCH here @ FETCH"),
    ("sqlserver", "SELECT a FROM t ORDER BY a FETCH NEXT 2 ROWS ONLY", "SQL Server has no FETCH here @ FETCH"),
    ("postgres", "WHERE a = 1", "expected a statement, found 'WHERE' @ WHERE"),
    ("postgres", "FROM t", "expected a statement, found 'FROM' @ FROM"),
    ("postgres", "COMMENT ON TABLE t IS 'x'", "read"),
    ("oracle", "LOCK TABLE t IN EXCLUSIVE MODE", "read"),
    ("mysql", "SHOW TABLES", "read"),
    ("mysql", "START TRANSACTION", "read"),
    ("sqlserver", "SELECT a FROM t GO", "read"),
];

/// `message @ text`, of the first error.
fn error_of(text: &str, dialect: &Dialect) -> String {
    let tokens = lex(text, dialect);
    for parsed in Statements::new(text, &tokens, dialect) {
        if let Err(error) = parsed.tree {
            let at = tokens.get(error.span.first as usize).map_or("?", |t| t.text(text));
            return format!("{} @ {at}", error.message);
        }
    }
    "read".to_string()
}

#[test]
fn messages_say_what_was_expected_and_where() {
    let mut failures = Vec::new();
    for (dialect, text, expected) in CASES {
        let got = error_of(text, &dialect.parse().expect("dialect"));
        if got != *expected {
            failures.push(format!("{dialect}: {text}\n  wanted {expected}\n  got    {got}"));
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
