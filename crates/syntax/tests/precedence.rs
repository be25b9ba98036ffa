//! How expressions are grouped in each dialect: every operation printed in parentheses.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use syntax::{Dialect, Parentheses, lex, parse_expression, print_expression};

/// Dialects, the expression, and the same with every operation in parentheses.
#[rustfmt::skip] // One case a line.
const CASES: &[(&str, &str, &str)] = &[
    ("every", "a OR b AND c", "a OR (b AND c)"),
    ("every", "NOT a OR b", "(NOT a) OR b"),
    ("every", "NOT a AND b", "(NOT a) AND b"),
    ("every", "NOT a = b", "NOT (a = b)"),
    ("every", "a AND NOT b AND c", "a AND (NOT b) AND c"),
    ("every", "a = 1 OR b = 2 AND c = 3 OR d", "(a = 1) OR ((b = 2) AND (c = 3)) OR d"),
    ("every", "a + b * c", "a + (b * c)"),
    ("every", "a - b - c", "(a - b) - c"),
    ("every", "a / b * c", "(a / b) * c"),
    ("oracle mysql mariadb postgres duckdb bigquery spark sqlite", "-a * b", "(-a) * b"),
    ("sqlserver", "-a * b", "-(a * b)"),
    ("sqlserver", "-a + b", "(-a) + b"),
    ("sqlserver", "a / -b * c", "a / (-(b * c))"),
    ("sqlserver", "a - -b", "a - (-b)"),
    ("sqlserver", "- - a", "- (-a)"),
    ("every", "a - -b", "a - (-b)"),
    ("every", "-(a + b)", "-(a + b)"),
    ("every", "a * (b + c)", "a * (b + c)"),
    ("every", "a = b + c", "a = (b + c)"),
    ("every", "a < b AND c >= d", "(a < b) AND (c >= d)"),
    ("every", "a BETWEEN 1 AND 2 AND b", "(a BETWEEN 1 AND 2) AND b"),
    ("every", "a BETWEEN b + 1 AND c * 2", "a BETWEEN (b + 1) AND (c * 2)"),
    ("every", "a NOT BETWEEN 1 AND 2 OR b", "(a NOT BETWEEN 1 AND 2) OR b"),
    ("every", "a IN (1, 2) AND b", "(a IN (1, 2)) AND b"),
    ("every", "a + 1 NOT IN (1, 2)", "(a + 1) NOT IN (1, 2)"),
    ("every", "a LIKE 'x%' OR b", "(a LIKE 'x%') OR b"),
    ("every", "NOT a LIKE 'x%'", "NOT (a LIKE 'x%')"),
    ("every", "a IS NULL AND b IS NOT NULL", "(a IS NULL) AND (b IS NOT NULL)"),
    ("every", "NOT a IS NULL", "NOT (a IS NULL)"),
    ("every", "a + b IS NULL", "(a + b) IS NULL"),
    ("every", "CASE WHEN a = 1 OR b THEN c + 1 ELSE d END * 2", "CASE WHEN (a = 1) OR b THEN c + 1 ELSE d END * 2"),
    ("every", "CAST(a + 1 AS INTEGER) * 2", "CAST(a + 1 AS INTEGER) * 2"),
    ("every", "EXISTS (SELECT 1 FROM t) AND a", "EXISTS (SELECT 1 FROM t) AND a"),
    ("every", "f(a + b, c) / 2", "f(a + b, c) / 2"),
    ("every", "COUNT(*) * 2", "COUNT(*) * 2"),
    ("postgres duckdb", "a < b LIKE c", "a < (b LIKE c)"),
    ("postgres duckdb", "a = b IS NULL", "(a = b) IS NULL"),
    ("mysql mariadb oracle sqlserver spark bigquery", "a = b IS NULL", "(a = b) IS NULL"),
    ("postgres duckdb", "a || b = c", "(a || b) = c"),
    ("postgres duckdb", "a || b + c", "a || (b + c)"),
    ("oracle spark", "a || b + c", "(a || b) + c"),
    ("oracle spark", "a + b || c", "(a + b) || c"),
    ("sqlite", "a || b + c", "(a || b) + c"),
    ("sqlite", "a * b || c", "a * (b || c)"),
    ("bigquery", "a * b || c", "(a * b) || c"),
    ("mysql mariadb", "a || b AND c", "a || (b AND c)"),
    ("mysql mariadb", "a XOR b AND c", "a XOR (b AND c)"),
    ("mysql mariadb", "a OR b XOR c", "a OR (b XOR c)"),
    ("mysql mariadb", "a && b || c", "(a && b) || c"),
    ("mysql mariadb", "a DIV b * c", "(a DIV b) * c"),
    ("mysql mariadb", "a ^ b * c", "(a ^ b) * c"),
    ("mysql mariadb", "a | b & c << d + e", "a | (b & (c << (d + e)))"),
    ("mysql mariadb", "! a = b", "(!a) = b"),
    ("spark", "! a = b", "!(a = b)"),
    ("mysql mariadb", "a = b LIKE c", "a = (b LIKE c)"),
    ("mysql mariadb", "a = b IN (1, 2)", "a = (b IN (1, 2))"),
    ("mysql mariadb", "a LIKE b = c", "(a LIKE b) = c"),
    ("mysql mariadb", "a = b BETWEEN 1 AND 2", "a = (b BETWEEN 1 AND 2)"),
    ("sqlite spark", "a = b LIKE c", "(a = b) LIKE c"),
    ("mysql mariadb spark", "a <=> b AND c", "(a <=> b) AND c"),
    ("sqlserver", "a | b & c + d", "((a | b) & c) + d"),
    ("sqlserver", "a ^ b * c", "a ^ (b * c)"),
    ("sqlserver", "~a * b", "(~a) * b"),
    ("postgres duckdb", "a ^ b * c", "(a ^ b) * c"),
    ("postgres duckdb", "- a ^ b", "(-a) ^ b"),
    ("postgres duckdb", "a -> 'b' ->> 'c'", "(a -> 'b') ->> 'c'"),
    ("postgres duckdb", "a::integer + b", "a::integer + b"),
    ("postgres duckdb", "-a::integer", "-a::integer"),
    ("postgres duckdb", "(a + b)::text || c", "(a + b)::text || c"),
    ("sqlite", "a < b = c", "(a < b) = c"),
    ("sqlite", "a = b < c", "a = (b < c)"),
    ("sqlite", "a IS b AND c", "(a IS b) AND c"),
    ("sqlite", "a & b = c", "(a & b) = c"),
    ("sqlite", "a << b + c", "a << (b + c)"),
    ("sqlite", "a GLOB 'x*' AND b", "(a GLOB 'x*') AND b"),
    ("postgres duckdb", "a COLLATE \"C\" < b", "(a COLLATE \"C\") < b"),
    ("oracle postgres", "a AT TIME ZONE 'UTC' + b", "(a AT TIME ZONE 'UTC') + b"),
    ("postgres", "a = ANY (ARRAY[1, 2]) AND b", "(a = ANY (ARRAY[1, 2])) AND b"),
    ("postgres duckdb bigquery spark", "a[1] + b[2]", "a[1] + b[2]"),
    ("duckdb spark", "list_filter(a, x -> x > 1 AND y)", "list_filter(a, x -> (x > 1) AND y)"),
    ("duckdb", "a // b * c", "(a // b) * c"),
    ("duckdb", "a ** b ** c", "(a ** b) ** c"),
    ("oracle", "PRIOR a = b AND c", "((PRIOR a) = b) AND c"),
    ("oracle", "CONNECT_BY_ROOT a || b", "(CONNECT_BY_ROOT a) || b"),
    ("bigquery spark", "a | b ^ c & d << e", "a | (b ^ (c & (d << e)))"),
    ("postgres duckdb sqlite", "a ISNULL OR b NOTNULL", "(a ISNULL) OR (b NOTNULL)"),
    ("postgres", "a IS DISTINCT FROM b + 1 AND c", "(a IS DISTINCT FROM (b + 1)) AND c"),
    ("oracle sqlserver mysql postgres", "a = ALL (SELECT b FROM t) OR c", "(a = ALL (SELECT b FROM t)) OR c"),
    ("every", "a = (SELECT MAX(b) FROM t) + 1", "a = ((SELECT MAX(b) FROM t) + 1)"),
    ("every", "SUM(a) OVER (PARTITION BY b ORDER BY c) + 1", "SUM(a) OVER (PARTITION BY b ORDER BY c) + 1"),
    ("every", "COALESCE(a, b) = c AND (d OR e)", "(COALESCE(a, b) = c) AND (d OR e)"),
];

fn grouped(text: &str, dialect: &Dialect) -> String {
    let tokens = lex(text, dialect);
    let expr = match parse_expression(text, &tokens, dialect) {
        Ok(expr) => expr,
        Err(error) => return format!("error {}", error.message),
    };
    let printed = print_expression(&expr, text, &tokens, dialect, Parentheses::Everywhere);
    let mut out = String::new();
    for token in &printed {
        if token.glue == syntax::Glue::Space && !out.is_empty() && !out.ends_with('(') {
            out.push(' ');
        }
        out.push_str(token.text(text, &tokens));
    }
    out.replace(":: ", "::")
}

#[test]
fn operators_bind_as_the_manuals_say() {
    let mut failures = Vec::new();
    for (dialects, text, expected) in CASES {
        for name in syntax::DialectName::ALL {
            if *dialects == "every" || dialects.split(' ').any(|d| d == name.as_str()) {
                let got = grouped(text, &name.into());
                if got != *expected {
                    failures.push(format!("{name}: {text}\n  wanted {expected}\n  got    {got}"));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
