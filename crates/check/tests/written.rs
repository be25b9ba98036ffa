//! Queries as developers of each dialect write them, on the demo's tables, to every other dialect:
//! all agree but those that are refused, and which are refused is written down.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;

use check::{Engines, Pair, Settings, VerdictKind, check};
use engines::{Address, open};
use syntax::{Dialect, DialectName, Statements, lex};
use translate::{Options, translate_text};

/// File, line and the dialects that have no words for it yet.
const REFUSED: &[(&str, usize, &str)] = &[
    // ROWNUM under OR depends on the order rows are tried in.
    ("oracle", 16, "tsql mysql mariadb postgres duckdb bigquery spark sqlite"),
];

/// File, line and target where the data itself differs: Oracle holds '' as NULL.
const DIFFERENT_DATA: &[(&str, usize, DialectName)] = &[
    ("tsql", 12, DialectName::Oracle),
    ("mysql", 7, DialectName::Oracle),
    ("postgres", 9, DialectName::Oracle),
    ("bigquery", 5, DialectName::Oracle),
];

fn text_of(dialect: DialectName) -> String {
    let path = format!("{}/tests/written/{dialect}.sql", env!("CARGO_MANIFEST_DIR"));
    std::fs::read_to_string(path).expect("queries")
}

#[test]
fn written_queries_agree_in_every_dialect() {
    let settings = Settings { trials: 6, ..Settings::default() };
    let (mut failures, mut agreed) = (Vec::new(), 0);
    for from in DialectName::ALL.map(Dialect::newest) {
        // The demo's schema is written in four dialects; the others read PostgreSQL's.
        let of_own = matches!(from.name, DialectName::Oracle | DialectName::Tsql | DialectName::Mysql);
        let schema = if of_own { from.clone() } else { DialectName::Postgres.into() };
        let (catalog, data) = demo::data(&schema);
        let text = text_of(from.name);
        for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
            for statement in translate_text(&text, &from, &to, &catalog, &Options::default()).statements {
                let source = &text[statement.place.start..statement.place.end];
                let refused = REFUSED.iter().any(|(f, l, to_these)| {
                    *f == from.name.as_str() && *l == statement.line && to_these.split(' ').any(|d| d == to.name.as_str())
                });
                let Some(target) = &statement.sql else {
                    if !refused {
                        let why: Vec<&str> = statement.notes.iter().map(|n| n.note.message.as_ref()).collect();
                        failures.push(format!("{from} {} to {to} is refused: {}\n  {source}", statement.line, why.join("; ")));
                    }
                    continue;
                };
                if DIFFERENT_DATA.contains(&(from.name.as_str(), statement.line, to.name)) {
                    assert!(statement.notes.iter().any(|n| n.note.code == "text.empty-or-null"), "{from} {}", statement.line);
                    continue;
                }
                let tokens = lex(target, &to);
                let unread = Statements::new(target, &tokens, &to).find_map(|p| p.tree.err());
                let mut ours = open(&Address::default_for(&from)).expect("source");
                let mut theirs = open(&Address::default_for(&to)).expect("target");
                let mut engines = Engines { source: &mut *ours, target: &mut *theirs };
                let verdict = check(Pair { source, from: &from, target }, &mut engines, Some(&data), &catalog.schema, &settings);
                match (verdict.kind, unread) {
                    (VerdictKind::Agree, None) if !refused => agreed += 1,
                    (kind, unread) => failures.push(format!(
                        "{from} {} to {to}: {} {} {}\n  {source}\n  {target}",
                        statement.line,
                        kind.as_str(),
                        verdict.reason.unwrap_or_default(),
                        unread.map(|e| e.message).unwrap_or_default()
                    )),
                }
            }
        }
    }
    println!("{agreed} agreed");
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}
