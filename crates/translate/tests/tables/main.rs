//! Translations word for word: each table is a matter of its own, read line by line when it was made.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod casts;
mod changes;
mod formats;
mod functions;
mod words;

use meaning::{Catalog, Fidelity};
use syntax::{Dialect, Statements, lex};
use translate::{Options, Translated, translate_text};

/// From, to, the statement and its translation: `as it is`, or `refused` with the note's code.
type Case = (&'static str, &'static str, &'static str, &'static str);

fn said(statement: &Translated, sql: &str) -> String {
    match &statement.sql {
        Some(same) if same == sql => "as it is".to_string(),
        Some(other) => other.clone(),
        None => {
            let worst = statement.notes.iter().find(|n| n.note.fidelity >= Fidelity::Refused).expect("a reason");
            format!("refused {}", worst.note.code)
        }
    }
}

fn holds(cases: &[Case]) {
    let mut failures = Vec::new();
    let cases = cases.iter().flat_map(|(from, to, sql, expected)| to.split(' ').map(move |to| (*from, to, *sql, *expected)));
    for (from, to, sql, expected) in cases {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let script = translate_text(sql, &from, &to, &Catalog::default(), &Options::default());
        let statement = &script.statements[0];
        let got = said(statement, sql);
        // A parameter in a form the target lacks is kept, and noted.
        let kept = statement.notes.iter().any(|n| n.note.code == "variable.type");
        let readable = kept
            || statement.sql.as_ref().is_none_or(|text| {
                let tokens = lex(text, &to);
                Statements::new(text, &tokens, &to).all(|parsed| parsed.tree.is_ok())
            });
        if got != expected || !readable {
            failures.push(format!("{from} to {to}: {sql}\n  wanted {expected}\n  got    {got} (readable: {readable})"));
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

#[test]
fn changes_of_data() {
    holds(changes::CASES);
}

#[test]
fn casts_to_every_common_type() {
    holds(casts::CASES);
}

#[test]
fn functions_of_one_dialect() {
    holds(functions::CASES);
}

#[test]
fn formats_elements_and_regular_expressions() {
    holds(formats::CASES);
}

#[test]
fn names_literals_and_parameters() {
    holds(words::CASES);
}

/// What is assumed of one column of a table whose others aren't known.
#[test]
#[rustfmt::skip] // One case a line.
fn assumptions_about_columns_count() {
    for (assumed, from, to, sql, expected, notes) in [
        ("vessels.name: text", "duckdb", "postgres", "SELECT v.name[2] FROM vessels v", "SELECT SUBSTR(v.name, 2, 1) FROM vessels v", 0),
        ("vessels.name: int", "duckdb", "postgres", "SELECT name[2] FROM vessels", "refused construct.not-translated", 1),
        ("loads.id: int", "mysql", "postgres", "SELECT LPAD(id, 4, '0') AS a, LENGTH(7) AS b FROM loads WHERE id LIKE '1%'", "SELECT LPAD(CAST(id AS TEXT), 4, '0') AS a, OCTET_LENGTH('7') AS b FROM loads WHERE CAST(id AS TEXT) LIKE '1%'", 1),
        ("loads.id: int", "oracle", "mysql", "SELECT SUBSTR(id, 1, 2) AS a, TO_NUMBER(id) AS b FROM loads", "SELECT SUBSTR(id, 1, 2) AS a, CAST(id AS DECIMAL(38, 10)) AS b FROM loads", 0),
        ("loads.tons: int not null", "postgres", "spark", "SELECT GREATEST(tons, 3) FROM loads", "as it is", 0),
        ("tolls.id: int", "duckdb", "postgres", "WITH tolls AS (SELECT 'a' AS id) SELECT id[1] FROM tolls", "WITH tolls AS (SELECT 'a' AS id) SELECT SUBSTR(id, 1, 1) FROM tolls", 0),
    ] {
        let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), to.parse().expect("dialect"));
        let mut catalog = Catalog::default();
        catalog.assume(assumed, &from).expect("an assumption");
        let script = translate_text(sql, &from, &to, &catalog, &Options::default());
        let statement = &script.statements[0];
        assert_eq!((said(statement, sql).as_str(), statement.notes.len()), (expected, notes), "{assumed}: {sql} {:?}", statement.notes);
    }
}
