//! On a live PostgreSQL: the demo's queries, and invented ones, translated to it agree with their
//! sources' stand-ins.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod invent;

use check::{Engines, Pair, Settings, VerdictKind, check};
use demo::{data, queries};
use engines::{Address, Engine, open};
use invent::Inventor;
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

/// The server, or `None` with a word on standard error where there is none.
fn server() -> Option<Box<dyn Engine>> {
    let Ok(url) = std::env::var("INLAND_FERRY_POSTGRES") else {
        assert!(std::env::var_os("INLAND_FERRY_REQUIRE_ENGINES").is_none(), "INLAND_FERRY_POSTGRES is not set, and engines are required");
        eprintln!("skipped: no PostgreSQL (scripts/engines up; eval \"$(scripts/engines env)\")");
        return None;
    };
    let address: Address = url.parse().expect("address");
    Some(open(&address).expect("server"))
}

#[test]
fn demo_queries_translated_to_postgres_agree_on_the_server() {
    let Some(mut target) = server() else { return };
    let to = target.dialect().clone();
    let mut failures = Vec::new();
    for from in ["oracle", "tsql", "mysql"].map(|n| n.parse::<Dialect>().expect("dialect")) {
        let (catalog, data) = data(&from);
        let mut source = open(&Address::default_for(&from)).expect("source");
        for (file, sql) in queries(&from) {
            let script = translate_text(&sql, &from, &to, &catalog, &Options::default());
            let translated = script.statements[0].sql.as_deref().expect("translated");
            let mut engines = Engines { source: &mut *source, target: &mut *target };
            let settings = Settings { trials: 12, ..Settings::default() };
            let pair = Pair { source: &sql, from: &from, target: translated };
            let verdict = check(pair, &mut engines, Some(&data), &catalog.schema, &settings);
            if verdict.kind != VerdictKind::Agree {
                failures.push(format!("{from} {file}: {} {}\n{translated}", verdict.kind.as_str(), verdict.reason.unwrap_or_default()));
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n\n"));
}

#[test]
fn invented_row_limits_agree_on_the_server() {
    let Some(mut target) = server() else { return };
    let to = target.dialect().clone();
    let (catalog, _) = data(&DialectName::Postgres.into());
    let settings = Settings { trials: 4, ..Settings::default() };
    let (mut agreed, mut failures) = (0, Vec::new());
    for from in DialectName::ALL.into_iter().filter(|d| *d != DialectName::Postgres).map(Dialect::newest) {
        for round in 5000..5012 {
            let sql = Inventor::new(from.name, round).query();
            let script = translate_text(&sql, &from, &to, &catalog, &Options::default());
            let Some(translated) = &script.statements[0].sql else { continue };
            let mut source = open(&Address::default_for(&from)).expect("source");
            let mut engines = Engines { source: &mut *source, target: &mut *target };
            let verdict = check(Pair { source: &sql, from: &from, target: translated }, &mut engines, None, &catalog.schema, &settings);
            match verdict.kind {
                VerdictKind::Agree => agreed += 1,
                kind => failures.push(format!(
                    "{from} {round}: {sql}\n  {} {}\n  {translated}",
                    kind.as_str(),
                    verdict.reason.unwrap_or_default()
                )),
            }
        }
    }
    assert!(failures.is_empty(), "{}", failures.join("\n"));
    assert!(agreed > 80, "only {agreed} were translated");
}
