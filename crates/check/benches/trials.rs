//! How many databases are tried in a second in process, and how long a pair takes with default
//! settings. Run with `cargo bench -p inland-ferry-check`.
#![allow(clippy::expect_used)] // A failing measure may end loudly.

#[path = "../tests/demo/mod.rs"]
mod demo;
#[path = "../tests/stand_ins/mod.rs"]
mod stand_ins;

use std::time::{Duration, Instant};

use check::{Pair, Settings, VerdictKind};
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

const THREE_TABLES: &str = "SELECT w.name, v.kind, COUNT(*) AS n, SUM(c.fare) AS total FROM crossings c \
    JOIN vessels v ON v.id = c.vessel_id JOIN landings w ON w.id = c.from_landing_id WHERE c.fare > 5 \
    GROUP BY w.name, v.kind ORDER BY n DESC, w.name, v.kind";

fn three_tables(to: DialectName) {
    const TRIALS: usize = 2000;
    let from = Dialect::newest(DialectName::Oracle);
    let (catalog, _) = demo::data(&from);
    let to = Dialect::newest(to);
    let script = translate_text(THREE_TABLES, &from, &to, &catalog, &Options::default());
    let statement = &script.statements[0];
    let assumptions = stand_ins::assumed(statement);
    let target = statement.sql.as_deref().expect("translation");
    let pair = Pair { source: THREE_TABLES, from: &from, target, to: &to, assumptions: Some(&assumptions) };
    let settings = Settings { trials: TRIALS, ..Settings::default() };
    let started = Instant::now();
    let verdict = stand_ins::verdict(pair, &to, None, &catalog.schema, &settings);
    let took = started.elapsed().as_secs_f64();
    assert_eq!(verdict.kind, VerdictKind::Agree, "{:?}", verdict.reason);
    println!("three tables, oracle to {to}: {:.0} trials a second (wanted: 500)", verdict.databases as f64 / took);
}

/// The demo's queries, each with the company's own data and default settings.
fn demo_pairs(from: &str, to: DialectName) {
    let (from, to): (Dialect, Dialect) = (from.parse().expect("dialect"), Dialect::newest(to));
    let (catalog, data) = demo::data(&from);
    let mut times: Vec<(Duration, String)> = Vec::new();
    for (file, source) in demo::queries(&from) {
        let script = translate_text(&source, &from, &to, &catalog, &Options::default());
        for statement in script.statements.iter().take(1) {
            let Some(target) = &statement.sql else { continue };
            let assumptions = stand_ins::assumed(statement);
            let pair = Pair { source: &source, from: &from, target, to: &to, assumptions: Some(&assumptions) };
            let started = Instant::now();
            let verdict = stand_ins::verdict(pair, &to, Some(&data), &catalog.schema, &Settings::default());
            times.push((started.elapsed(), format!("{file} {}", verdict.kind.as_str())));
        }
    }
    times.sort();
    if let (Some(middle), Some((longest, which))) = (times.get(times.len() / 2), times.last()) {
        println!("demo {from} to {to}: {} pairs, median {:.2?}, longest {longest:.2?}: {which} (wanted: 2 s)", times.len(), middle.0);
    }
}

fn main() {
    for to in [DialectName::Postgres, DialectName::Mysql, DialectName::Sqlite] {
        three_tables(to);
    }
    for from in ["oracle", "sqlserver", "mysql", "postgres"] {
        for to in [DialectName::Postgres, DialectName::Sqlite, DialectName::Oracle] {
            if from != to.as_str() {
                demo_pairs(from, to);
            }
        }
    }
}
