#![allow(clippy::expect_used, clippy::panic)]
mod demo;
mod stand_ins;
use check::{Pair, Settings};
use syntax::{Dialect, DialectName};
#[test]
fn one() {
    let (mut catalog, _) = demo::data(&DialectName::Postgres.into());
    let v = |n: &str| std::env::var(n).expect(n);
    let (from, to): (Dialect, Dialect) = (v("F").parse().expect("d"), v("T").parse().expect("d"));
    let (a, b) = (v("A"), v("B"));
    if std::env::var("G").is_ok() {
        catalog.schema = check::guess_schema(&a, &from);
        println!("{:?}", catalog.schema);
    }
    let verdict = stand_ins::verdict(
        Pair { source: &a, from: &from, target: &b, to: &to, assumptions: None },
        &to,
        None,
        &catalog.schema,
        &Settings { trials: std::env::var("N").ok().and_then(|n| n.parse().ok()).unwrap_or(50), ..Settings::default() },
    );
    println!("{:?} {:?} {:?} {:?} dbs {}", verdict.assuming, verdict.part, verdict.kind, verdict.reason, verdict.databases);
    for c in verdict.cases {
        println!("{} {}", c.reached, c.what);
    }
    if let Some(c) = verdict.counterexample {
        for (t, r) in c.tables {
            println!("{} {:?}\n{:?}", t.name, t.columns.iter().map(|c| &c.name).collect::<Vec<_>>(), r);
        }
        println!("{:?}\n{:?}", c.source, c.target);
    }
}
