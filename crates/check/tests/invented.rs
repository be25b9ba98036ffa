//! Queries with row limits, made up at random, from every dialect to every other: what is
//! translated reads again and agrees on made data. `INLAND_FERRY_ROUNDS` sets how many are made
//! for each source dialect, `INLAND_FERRY_SEED` where they begin.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod demo;
mod invent;
mod stand_ins;

use std::collections::BTreeMap;

use check::{Pair, Settings, VerdictKind};
use invent::Inventor;
use meaning::Catalog;
use stand_ins::{error_in, number};
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};

/// What became of one translation: a refusal's code, or what speaks against it.
enum Came {
    Agreed,
    Refused(&'static str),
    Wrong(String),
}

fn tried(sql: &str, from: &Dialect, to: &Dialect, catalog: &Catalog, known: bool) -> Came {
    let nothing = Catalog::default();
    let script = translate_text(sql, from, to, if known { catalog } else { &nothing }, &Options::default());
    let statement = &script.statements[0];
    let Some(target) = &statement.sql else {
        return Came::Refused(statement.notes.iter().find(|n| n.note.fidelity == statement.fidelity).map_or("", |n| n.note.code));
    };
    if let Some(error) = error_in(target, to) {
        return Came::Wrong(format!("does not read again: {error}\n  {target}"));
    }
    let settings = Settings { trials: 12, examples: false, ..Settings::default() };
    let assumptions = stand_ins::assumed(statement);
    let pair = Pair { source: sql, from, target, to, assumptions: Some(&assumptions) };
    let verdict = stand_ins::verdict(pair, to, None, &catalog.schema, &settings);
    match verdict.kind {
        VerdictKind::Agree => Came::Agreed,
        kind => Came::Wrong(format!("{} {}\n  {target}", kind.as_str(), verdict.reason.unwrap_or_default())),
    }
}

#[test]
fn invented_row_limits_agree_or_are_refused() {
    let (rounds, seed) = (number("INLAND_FERRY_ROUNDS", 25), number("INLAND_FERRY_SEED", 1));
    let mut wrong = Vec::new();
    let mut refused: BTreeMap<&str, usize> = BTreeMap::new();
    let mut agreed = 0;
    for from in DialectName::ALL.map(Dialect::newest) {
        let (catalog, _) = demo::data(&DialectName::Postgres.into());
        for round in seed..seed + rounds {
            let sql = Inventor::new(from.name, round).query();
            if let Some(error) = error_in(&sql, &from) {
                wrong.push(format!("{from} {round}: {sql}\n  does not read: {error}"));
                continue;
            }
            for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
                match tried(&sql, &from, &to, &catalog, round % 2 == 0) {
                    Came::Agreed => agreed += 1,
                    Came::Refused(code) => *refused.entry(code).or_default() += 1,
                    Came::Wrong(why) => wrong.push(format!("{from} to {to} {round}: {sql}\n  {why}")),
                }
            }
        }
    }
    println!("{agreed} agreed, refused: {refused:?}");
    assert!(wrong.is_empty(), "{} wrong:\n{}", wrong.len(), wrong.join("\n"));
    assert!(refused.values().sum::<usize>() * 4 < agreed, "too much is refused: {refused:?}");
}
