//! On live engines: the demo's queries, and invented ones, translated to their dialects agree with what
//! their sources give.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod invent;
#[path = "../../engines/tests/live/mod.rs"]
mod live;
mod stand_ins;

use check::{Engines, Pair, Settings, VerdictKind, check};
use demo::{data, queries};
use engines::{Address, Engine, open};
use invent::Inventor;
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

/// The engine of a source's queries: a live one for those that have one, else the stand-in.
fn source(from: &Dialect) -> Box<dyn Engine> {
    let variable = match from.name {
        DialectName::Postgres => "INLAND_FERRY_POSTGRES",
        DialectName::Mysql => "INLAND_FERRY_MYSQL",
        _ => return open(&Address::default_for(from)).expect("stand-in"),
    };
    live::engine(variable).unwrap_or_else(|| open(&Address::default_for(from)).expect("stand-in"))
}

/// Each demo query on its source and, translated, on the engine behind a variable.
fn demo_agrees(variable: &str, trials: usize) {
    let Some(mut target) = live::engine(variable) else { return };
    let to = target.dialect().clone();
    let settings = Settings { trials, examples: false, ..Settings::default() };
    let (mut agreed, mut failures) = (0, Vec::new());
    for from in ["oracle", "sqlserver", "mysql", "postgres"].map(|n| n.parse::<Dialect>().expect("dialect")) {
        if from.name == to.name {
            continue;
        }
        let (catalog, data) = data(&from);
        let mut source = source(&from);
        for (file, sql) in queries(&from) {
            let script = translate_text(&sql, &from, &to, &catalog, &Options::default());
            // MariaDB has no LATERAL: what can't be said is refused, and that is no failure here.
            let Some(translated) = script.statements[0].sql.as_deref() else { continue };
            let mut engines = Engines { source: &mut *source, target: &mut *target };
            let assumptions = stand_ins::assumed(&script.statements[0]);
            let pair = Pair { source: &sql, from: &from, target: translated, to: &to, assumptions: Some(&assumptions) };
            let verdict = check(pair, &mut engines, Some(&data), &catalog.schema, &settings);
            match verdict.kind {
                VerdictKind::Agree => agreed += 1,
                kind => failures.push(format!("{from} {file}: {} {}\n{translated}", kind.as_str(), verdict.reason.unwrap_or_default())),
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n\n"));
    assert!(agreed >= 15, "only {agreed} were translated");
    println!("{}: {agreed} demo queries agree", target.name());
}

/// Invented queries of every dialect against the engine behind a variable.
fn invented_agrees(variable: &str, rounds: u64) {
    let Some(mut target) = live::engine(variable) else { return };
    let to = target.dialect().clone();
    let (catalog, _) = data(&DialectName::Postgres.into());
    let settings = Settings { trials: 4, examples: false, ..Settings::default() };
    let (mut agreed, mut failures) = (0, Vec::new());
    for from in DialectName::ALL.into_iter().filter(|d| *d != to.name).map(Dialect::newest) {
        let mut source = open(&Address::default_for(&from)).expect("source");
        for round in 5000..5000 + rounds {
            let sql = Inventor::new(from.name, round).query();
            let script = translate_text(&sql, &from, &to, &catalog, &Options::default());
            let Some(translated) = &script.statements[0].sql else { continue };
            let mut engines = Engines { source: &mut *source, target: &mut *target };
            let assumptions = stand_ins::assumed(&script.statements[0]);
            let pair = Pair { source: &sql, from: &from, target: translated, to: &to, assumptions: Some(&assumptions) };
            let verdict = check(pair, &mut engines, None, &catalog.schema, &settings);
            match verdict.kind {
                VerdictKind::Agree => agreed += 1,
                kind => {
                    let reason = verdict.reason.unwrap_or_default();
                    failures.push(format!("{from} {round}: {sql}\n  {} {reason}\n  {translated}", kind.as_str()));
                }
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
    assert!(agreed > rounds * 5, "only {agreed} were translated");
    println!("{}: {agreed} invented queries agree", target.name());
}

macro_rules! on {
    ($($name:ident $variable:literal $trials:literal $rounds:literal;)*) => {
        mod demo_on {
            $(#[test] fn $name() { super::demo_agrees($variable, $trials); })*
        }
        mod invented_on {
            $(#[test] fn $name() { super::invented_agrees($variable, $rounds); })*
        }
    };
}

// Spark takes a tenth of a second a statement.
on! {
    postgres "INLAND_FERRY_POSTGRES" 12 12;
    mariadb "INLAND_FERRY_MARIADB" 12 12;
    mysql "INLAND_FERRY_MYSQL" 12 12;
    duckdb "INLAND_FERRY_DUCKDB" 12 12;
    googlesql "INLAND_FERRY_GOOGLESQL" 8 8;
    spark "INLAND_FERRY_SPARK" 2 2;
}
