//! Queries as developers of each dialect write them, on the demo's tables, to every other dialect.
//!
//! Beside each query stand the targets that don't agree: `refused` says so itself, `differs` gives
//! other rows on data that a note speaks of, `unknown` is beyond the stand-ins. Every other target
//! must give the same rows, on the demo's data and on data made to break the translation.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod bigquery;
#[path = "../demo/mod.rs"]
mod demo;
mod duckdb;
#[path = "../../../engines/tests/live/mod.rs"]
mod live;
mod mariadb;
mod mysql;
mod oracle;
mod postgres;
mod spark;
mod sqlite;
mod sqlserver;
#[path = "../stand_ins/mod.rs"]
mod stand_ins;

use std::collections::HashSet;

use check::{Pair, Settings, VerdictKind, infer_schema};
use engines::{Address, Dataset, EngineError, open};
use meaning::{Catalog, Fidelity};
use syntax::{Dialect, DialectName};
use translate::{Options, Probe, Translated, translate_text};

/// A query and the targets that don't agree: `refused bigquery spark; differs oracle`.
type Written = (&'static str, &'static str);

struct Demo {
    catalog: Catalog,
    /// Without it the data is made.
    data: Option<Dataset>,
}

/// What became of a translation, in the table's words, and more about it.
fn outcome(source: &str, from: &Dialect, to: &Dialect, statement: &Translated, demo: &Demo) -> (&'static str, String) {
    let Some(target) = &statement.sql else {
        return ("refused", statement.notes.iter().map(|n| n.note.message.as_ref()).collect::<Vec<_>>().join("; "));
    };
    if let Some(error) = stand_ins::error_in(target, to) {
        return ("unreadable", format!("{error}\n  {target}"));
    }
    for placed in &statement.notes {
        let unread = statement.probe(source, from, placed).and_then(|probe| error_in_probe(&probe, from));
        if let Some(why) = unread {
            return ("unreadable", why);
        }
    }
    let settings = Settings { trials: 6, examples: false, ..Settings::default() };
    let assumptions = stand_ins::assumed(statement);
    let pair = Pair { source, from, target, to, assumptions: Some(&assumptions) };
    let verdict = stand_ins::verdict(pair, to, demo.data.as_ref(), &demo.catalog.schema, &settings);
    let kind = match verdict.kind {
        VerdictKind::Agree => "agrees",
        // A difference that no note speaks of is the one thing that must never be.
        VerdictKind::Differ if statement.fidelity == Fidelity::Exact => "differs in silence",
        VerdictKind::Differ => "differs",
        // What was said to hang on a type that isn't known can be refused by the engine.
        VerdictKind::Failed if statement.fidelity > Fidelity::Exact && verdict.databases > 0 => "differs",
        VerdictKind::Undetermined => "unknown",
        _ => "fails",
    };
    (kind, format!("{}\n  {target}", verdict.reason.unwrap_or_default()))
}

/// Why a probe isn't a query of the source's.
fn error_in_probe(probe: &Probe, from: &Dialect) -> Option<String> {
    [&probe.count, &probe.sample].into_iter().find_map(|sql| Some(format!("{}\n  {sql}", stand_ins::error_in(sql, from)?)))
}

/// The word the table has for a target.
fn expected(exceptions: &str, to: DialectName) -> &str {
    let named = |clause: &&str| clause.split(' ').skip(1).any(|d| d == to.as_str());
    exceptions.split("; ").find(named).and_then(|clause| clause.split(' ').next()).unwrap_or("agrees")
}

/// Without a schema less can be said, but never anything wrong in silence.
fn holds_without_schema(from: DialectName, queries: &[Written]) {
    let from: Dialect = from.into();
    let mut failures = Vec::new();
    for (source, exceptions) in queries {
        let demo = Demo { catalog: Catalog { schema: infer_schema(source, &from) }, data: None };
        for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
            let script = translate_text(source, &from, &to, &Catalog::default(), &Options::default());
            let (got, more) = outcome(source, &from, &to, &script.statements[0], &demo);
            if matches!(got, "differs in silence" | "unreadable") || (got == "fails" && expected(exceptions, to.name) == "agrees") {
                failures.push(format!("{source}\n  to {to}: {got}: {more}"));
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

const ALL: [(DialectName, &[Written]); DialectName::COUNT] = [
    (DialectName::Oracle, oracle::QUERIES),
    (DialectName::SqlServer, sqlserver::QUERIES),
    (DialectName::Mysql, mysql::QUERIES),
    (DialectName::Mariadb, mariadb::QUERIES),
    (DialectName::Postgres, postgres::QUERIES),
    (DialectName::Duckdb, duckdb::QUERIES),
    (DialectName::Bigquery, bigquery::QUERIES),
    (DialectName::Spark, spark::QUERIES),
    (DialectName::Sqlite, sqlite::QUERIES),
];

/// The demo's schema is written in four dialects; the others read PostgreSQL's.
fn demo_of(from: &Dialect) -> (Catalog, Dataset) {
    let of_own = matches!(from.name, DialectName::Oracle | DialectName::SqlServer | DialectName::Mysql);
    demo::data(&if of_own { from.clone() } else { DialectName::Postgres.into() })
}

/// Every probe runs on the engine of its dialect, a live one where there is one.
#[test]
fn probes_run_where_they_ask() {
    let mut failures = Vec::new();
    for (name, queries) in ALL {
        let from: Dialect = name.into();
        let (catalog, data) = demo_of(&from);
        let variable = format!("INLAND_FERRY_{}", name.as_str().to_uppercase());
        let is_live = !matches!(name, DialectName::Oracle | DialectName::SqlServer | DialectName::Bigquery | DialectName::Sqlite);
        let mut engine =
            is_live.then(|| live::engine(&variable)).flatten().unwrap_or_else(|| open(&Address::default_for(&from)).expect("stand-in"));
        engine.load(&data.tables).expect("load");
        let mut asked = HashSet::new();
        for (source, _) in queries {
            for to in DialectName::ALL.into_iter().filter(|t| *t != name).map(Dialect::newest) {
                let script = translate_text(source, &from, &to, &catalog, &Options::default());
                let statement = &script.statements[0];
                for (placed, probe) in statement.notes.iter().filter_map(|p| Some((p, statement.probe(source, &from, p)?))) {
                    let fresh: Vec<String> = [probe.count, probe.sample].into_iter().filter(|sql| asked.insert(sql.clone())).collect();
                    for sql in fresh {
                        match engine.query(&sql, 1000) {
                            // The stand-in has no word on it.
                            Ok(_) | Err(EngineError::Query { not_known: true, .. }) => {}
                            Err(error) => failures.push(format!("{source}\n  {}, {}: {error}\n  {sql}", engine.name(), placed.note.code)),
                        }
                    }
                }
            }
        }
        println!("{}: {} probes run", engine.name(), asked.len());
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

/// A translation that is exact without a schema stays so with one: not knowing is no proof.
#[test]
fn knowing_more_is_never_worse() {
    let mut failures = Vec::new();
    for (name, queries) in ALL {
        let from: Dialect = name.into();
        let (catalog, _) = demo_of(&from);
        for (source, _) in queries {
            for to in DialectName::ALL.into_iter().filter(|t| *t != name).map(Dialect::newest) {
                let said = |catalog: &Catalog| translate_text(source, &from, &to, catalog, &Options::default()).statements.remove(0);
                let (without, with) = (said(&Catalog::default()), said(&catalog));
                if without.fidelity == Fidelity::Exact && with.fidelity > Fidelity::Exact {
                    let notes: Vec<&str> = with.notes.iter().map(|n| n.note.code).collect();
                    failures.push(format!("{source}\n  {from} to {to}: exact without a schema, {} with one: {notes:?}", with.fidelity));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

fn holds(from: DialectName, queries: &[Written]) {
    let from: Dialect = from.into();
    let (catalog, data) = demo_of(&from);
    let demo = Demo { catalog, data: Some(data) };
    let mut failures = Vec::new();
    for (source, exceptions) in queries {
        for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
            let script = translate_text(source, &from, &to, &demo.catalog, &Options::default());
            let (got, more) = outcome(source, &from, &to, &script.statements[0], &demo);
            let wanted = expected(exceptions, to.name);
            if got != wanted {
                failures.push(format!("{source}\n  to {to}: wanted {wanted}, got {got}: {more}"));
            }
        }
    }
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

macro_rules! written {
    ($($dialect:ident $name:ident;)*) => {
        mod with_schema {
            $(#[test] fn $dialect() { super::holds(super::DialectName::$name, super::$dialect::QUERIES); })*
        }
        mod without_schema {
            $(#[test] fn $dialect() { super::holds_without_schema(super::DialectName::$name, super::$dialect::QUERIES); })*
        }
    };
}

written! {
    oracle Oracle;
    sqlserver SqlServer;
    mysql Mysql;
    mariadb Mariadb;
    postgres Postgres;
    duckdb Duckdb;
    bigquery Bigquery;
    spark Spark;
    sqlite Sqlite;
}
