//! Documented behaviour of Oracle, SQL Server and MySQL, a statement and its result each.
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
    ("oracle@19", include_str!("facts/oracle.toml")),
    ("sqlserver@2022", include_str!("facts/sqlserver.toml")),
    ("mysql", include_str!("facts/mysql.toml")),
];

/// Facts that are wrong, and why: they are looked at, not bent to.
const DISPUTED: &[(&str, &str)] = &[(
    "SELECT RTRIM('quayxyx', 'xy') AS r",
    "the set holds the y of quay, too: RTRIM takes every character of the set from the end and leaves qua",
)];

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

/// A failure is the one wanted if its code is, or if the text can't even be read and that is wanted.
fn is_wanted_failure(failure: &Failure, code: &str) -> bool {
    const UNREADABLE: [&str; 16] = [
        "ORA-00900",
        "ORA-00905",
        "ORA-00907",
        "ORA-00911",
        "ORA-00923",
        "ORA-00933",
        "ORA-00936",
        "ORA-01740",
        "ORA-01741",
        "ORA-01756",
        "ORA-00972",
        "Msg 102",
        "Msg 105",
        "Msg 156",
        "Msg 207",
        "ER_PARSE_ERROR",
    ];
    match &failure.code {
        Some(own) => own == code,
        None => failure.kind == FailureKind::Syntax && UNREADABLE.contains(&code),
    }
}

/// `None` if the fact holds, else what came instead.
fn compared(fact: &Fact, result: Result<ResultSet, Failure>) -> Option<String> {
    let result = match (result, &fact.error) {
        (Err(failure), Some(code)) if is_wanted_failure(&failure, code) => return None,
        (Err(failure), _) => return Some(format!("error {failure}")),
        (Ok(_), Some(code)) => return Some(format!("rows, not {code}")),
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
    (!rows_same || !labels_same).then(|| format!("{have:?} {:?}", result.columns))
}

#[test]
fn facts_hold() {
    let mut wrong = Vec::new();
    let mut counts: BTreeMap<(String, String), usize> = BTreeMap::new();
    let mut disputed = 0;
    for (dialect, text) in BANKS {
        let bank: Bank = toml::from_str(text).expect("bank");
        for fact in &bank.fact {
            let mut engine = StandIn::new(dialect.parse().expect("dialect"));
            let result = engine.run(&fact.sql).and_then(|mut r| r.pop().ok_or_else(no_result));
            let is_disputed = DISPUTED.iter().any(|(sql, _)| *sql == fact.sql);
            disputed += usize::from(is_disputed);
            // Watching a query changes nothing of what it gives.
            let watched =
                StandIn::new(dialect.parse().expect("dialect")).observe(&fact.sql).0.and_then(|mut r| r.pop().ok_or_else(no_result));
            match compared(fact, result).or(compared(fact, watched).map(|got| format!("watched, {got}"))) {
                None if is_disputed => wrong.push(format!("{dialect}: {} holds: it is disputed no more", fact.sql)),
                Some(_) if is_disputed => {}
                None => *counts.entry(((*dialect).to_string(), fact.area.clone())).or_default() += 1,
                Some(got) => {
                    let want = fact.error.clone().unwrap_or_else(|| format!("{:?}", fact.rows));
                    wrong.push(format!("{dialect} {}: {}\n  wanted {want} ({})\n  got    {got}", fact.area, fact.sql, fact.why));
                }
            }
        }
    }
    for ((dialect, area), holds) in &counts {
        println!("{dialect:11} {area:10} {holds:4} hold");
    }
    assert!(wrong.is_empty(), "{} facts don't hold\n{}", wrong.len(), wrong.join("\n"));
    assert_eq!(disputed, DISPUTED.len(), "a disputed fact is in no bank");
}

/// A statement without a result set, where a fact needs one.
fn no_result() -> Failure {
    Failure { kind: FailureKind::Invalid, code: None, message: "no result".to_string(), place: None }
}
