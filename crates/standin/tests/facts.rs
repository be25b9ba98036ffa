//! Documented behaviour of Oracle, SQL Server and MySQL, a statement and its result each: the
//! stand-in gives that result or refuses what it doesn't know by name; it never gives another.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use std::collections::BTreeMap;

use serde::Deserialize;
use standin::{Failure, FailureKind, StandIn};
use values::{ResultSet, Value};

#[derive(Deserialize)]
struct Bank {
    fact: Vec<Fact>,
}

#[derive(Deserialize)]
struct Fact {
    area: String,
    sql: String,
    rows: Option<Vec<Vec<toml::Value>>>,
    error: Option<String>,
    #[serde(default)]
    ordered: bool,
    columns: Option<Vec<String>>,
    why: String,
}

const BANKS: &[(&str, &str)] = &[
    ("oracle", include_str!("facts/oracle.toml")),
    ("tsql", include_str!("facts/tsql.toml")),
    ("mysql", include_str!("facts/mysql.toml")),
];

/// How many facts don't hold yet and are not refused either: to go down to none, never up.
const WRONG: usize = 181;
/// How many hold: to go up.
const HOLD: usize = 611;

/// What came of a fact.
enum Came {
    Holds,
    /// The stand-in says that it doesn't know this.
    NotKnown,
    Wrong(String),
}

fn wanted(value: &toml::Value) -> String {
    match value {
        toml::Value::String(text) => text.clone(),
        other => plain(&other.to_string()),
    }
}

/// A number without zeros that say nothing.
fn plain(number: &str) -> String {
    if number.contains('.') && !number.contains(['e', 'E']) {
        return number.trim_end_matches('0').trim_end_matches('.').to_string();
    }
    number.to_string()
}

fn got(value: &Value) -> String {
    match value {
        Value::Null => "~".to_string(),
        Value::Text(text) => text.to_string(),
        Value::Boolean(b) => i64::from(*b).to_string(),
        Value::Decimal(d) => plain(&d.normalized().to_plain_string()),
        other => plain(&other.to_string()),
    }
}

/// Text as text; numbers that differ in the twelfth digit are the same.
fn same(wanted: &str, got: &str) -> bool {
    let near = |a: f64, b: f64| (a - b).abs() <= 1e-9 * a.abs().max(b.abs()).max(1.0);
    wanted == got || matches!((wanted.parse::<f64>(), got.parse::<f64>()), (Ok(a), Ok(b)) if near(a, b))
}

fn compared(fact: &Fact, result: Result<ResultSet, Failure>) -> Came {
    let result = match (result, &fact.error) {
        (Err(failure), _) if matches!(failure.kind, FailureKind::NotKnown) => return Came::NotKnown,
        (Err(failure), Some(code)) if failure.code.as_deref() == Some(code) => return Came::Holds,
        // Errors are compared by kind; a code that isn't known is no contradiction.
        (Err(failure), Some(_)) if failure.code.is_none() => return Came::Holds,
        (Err(failure), _) if failure.kind == FailureKind::Syntax => return Came::NotKnown,
        (Err(failure), _) => return Came::Wrong(format!("error {failure}")),
        (Ok(_), Some(code)) => return Came::Wrong(format!("rows, not {code}")),
        (Ok(result), None) => result,
    };
    let mut want: Vec<Vec<String>> = fact.rows.iter().flatten().map(|r| r.iter().map(wanted).collect()).collect();
    let mut have: Vec<Vec<String>> = result.rows.iter().map(|r| r.iter().map(got).collect()).collect();
    if !fact.ordered {
        want.sort();
        have.sort();
    }
    let rows_same =
        want.len() == have.len() && want.iter().zip(&have).all(|(a, b)| a.len() == b.len() && a.iter().zip(b).all(|(x, y)| same(x, y)));
    let labels_same = fact.columns.as_ref().is_none_or(|c| *c == result.columns);
    if rows_same && labels_same { Came::Holds } else { Came::Wrong(format!("{have:?} {:?}", result.columns)) }
}

#[test]
fn facts_hold_or_are_refused() {
    let mut wrong = Vec::new();
    let mut counts: BTreeMap<(String, String), (usize, usize, usize)> = BTreeMap::new();
    for (dialect, text) in BANKS {
        let bank: Bank = toml::from_str(text).expect("bank");
        for fact in &bank.fact {
            let mut engine = StandIn::new(dialect.parse().expect("dialect"));
            let result = engine.run(&fact.sql).and_then(|mut r| r.pop().ok_or_else(no_result));
            let entry = counts.entry(((*dialect).to_string(), fact.area.clone())).or_default();
            match compared(fact, result) {
                Came::Holds => entry.0 += 1,
                Came::NotKnown => entry.1 += 1,
                Came::Wrong(got) => {
                    entry.2 += 1;
                    let want = fact.error.clone().unwrap_or_else(|| format!("{:?}", fact.rows));
                    wrong.push(format!("{dialect} {}: {}\n  wanted {want} ({})\n  got    {got}", fact.area, fact.sql, fact.why));
                }
            }
        }
    }
    for ((dialect, area), (holds, unknown, wrong)) in &counts {
        println!("{dialect:7} {area:10} {holds:4} hold {unknown:4} not known {wrong:4} wrong");
    }
    let holds: usize = counts.values().map(|(holds, ..)| holds).sum();
    assert!(wrong.len() <= WRONG, "{} wrong, not {WRONG}\n{}", wrong.len(), wrong.join("\n"));
    assert!(holds >= HOLD, "only {holds} hold, not {HOLD}");
}

/// A statement without a result set, where a fact needs one.
fn no_result() -> Failure {
    Failure { kind: FailureKind::Invalid, code: None, message: "no result".to_string(), place: None }
}
