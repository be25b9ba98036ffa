//! The stand-ins against live engines: the same statement on both, plainly written and with every
//! operation in parentheses, gives the same rows, labels and errors.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use engines::{Address, Engine, EngineError, open};
use meaning::Catalog;
use syntax::{CommentStyle, Dialect, DialectName, LayoutJob, LayoutStyle, Parentheses, Statements, layout, lex, print};
use values::{ResultSet, Row, Table, Tolerance, same_value, sort_order};

const TABLES: &str = include_str!("calibration/tables.sql");
const BOTH: &str = include_str!("calibration/both.sql");
const SQLITE: &str = include_str!("calibration/sqlite.sql");
const POSTGRES: &str = include_str!("calibration/postgres.sql");
const CONSTANTS: &str = include_str!("calibration/constants.sql");

/// The tables and their rows, which a stand-in reads out of the statements.
fn tables() -> Vec<(Table, Vec<Row>)> {
    let dialect: Dialect = DialectName::Postgres.into();
    let definitions: String = TABLES.lines().filter(|l| l.starts_with("CREATE")).map(|l| format!("{l}\n")).collect();
    let catalog = Catalog::from_ddl(&definitions, &dialect).expect("definitions");
    let mut reader = open(&Address::StandIn(dialect)).expect("stand-in");
    reader.query(TABLES, usize::MAX).expect("rows");
    let mut rows = |t: &Table| reader.query(&format!("SELECT * FROM {} ORDER BY id", t.name), usize::MAX).expect("rows").rows;
    catalog.schema.tables.iter().map(|t| (t.clone(), rows(t))).collect()
}

/// The statement with every operation in parentheses: how our grammar reads it, spelled out.
fn parenthesised(sql: &str, dialect: &Dialect) -> String {
    let tokens = lex(sql, dialect);
    let parsed = Statements::new(sql, &tokens, dialect).next().expect("statement");
    let tree = parsed.tree.unwrap_or_else(|e| panic!("{sql}: {}", e.message));
    let printed = print(&tree, sql, &tokens, dialect, Parentheses::Everywhere);
    let comments = CommentStyle::new(dialect, dialect);
    layout(&printed, &LayoutJob { source: sql, tokens: &tokens, span: parsed.span, comments: &comments }, LayoutStyle::Keep).text
}

/// What differs between a live result and the stand-in's; `None` if nothing does.
fn difference(live: Result<ResultSet, EngineError>, own: Result<ResultSet, EngineError>, ordered: bool) -> Option<String> {
    let (mut live, mut own) = match (live, own) {
        (Err(EngineError::Query { code: Some(a), .. }), Err(EngineError::Query { code: Some(b), .. })) if a != b => {
            return Some(format!("error {a}, not {b}"));
        }
        (Err(_), Err(EngineError::Query { not_known: false, .. })) => return None,
        (Ok(live), Ok(own)) => (live, own),
        (live, own) => {
            let shown = |r: Result<ResultSet, EngineError>| r.map_or_else(|e| e.to_string(), |r| format!("{:?}", r.rows));
            return Some(format!("live: {}\n  own:  {}", shown(live), shown(own)));
        }
    };
    if !ordered {
        let by_value =
            |a: &Row, b: &Row| a.iter().zip(b).map(|(a, b)| sort_order(a, b)).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal);
        live.rows.sort_by(by_value);
        own.rows.sort_by(by_value);
    }
    let exact = Tolerance { coarse_decimals: false, ..Tolerance::default() };
    let same_row = |(a, b): (&Row, &Row)| a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same_value(a, b, exact));
    let same = live.rows.len() == own.rows.len() && live.rows.iter().zip(&own.rows).all(same_row);
    if same && live.columns == own.columns {
        return None;
    }
    Some(format!("live: {:?} {:?}\n  own:  {:?} {:?}", live.columns, live.rows, own.columns, own.rows))
}

/// Runs every statement on both, and counts.
fn calibrated(live: &mut dyn Engine, banks: &[&str]) -> usize {
    let dialect = live.dialect().clone();
    let mut own = open(&Address::StandIn(dialect.clone())).expect("stand-in");
    let tables = tables();
    live.load(&tables).expect("rows");
    own.load(&tables).expect("rows");
    let (mut count, mut failures) = (0, Vec::new());
    for sql in banks.iter().flat_map(|b| b.lines()).filter(|l| !l.is_empty() && !l.starts_with("--")) {
        count += 1;
        // Of a sorted statement every row has its place: none sorts by less than a key.
        let ordered = sql.rfind("ORDER BY").is_some_and(|at| !sql[at..].contains(')'));
        for text in [sql.to_string(), parenthesised(sql, &dialect)] {
            let (theirs, ours) = (live.query(&text, usize::MAX), own.query(&text, usize::MAX));
            // A label of an expression is its text: in parentheses it is another.
            let labelled = text == sql;
            let hide = |r: ResultSet| if labelled { r } else { ResultSet { columns: Vec::new(), ..r } };
            if let Some(what) = difference(theirs.map(hide), ours.map(hide), ordered) {
                failures.push(format!("{text}\n  {what}"));
            }
        }
    }
    assert!(failures.is_empty(), "{} of {count} differ\n{}", failures.len(), failures.join("\n"));
    count
}

#[test]
fn the_sqlite_stand_in_agrees_with_sqlite() {
    let mut live = open(&Address::Sqlite(":memory:".to_string())).expect("sqlite");
    let count = calibrated(&mut *live, &[BOTH, SQLITE]);
    println!("{count} statements, plain and in parentheses");
}

#[test]
fn the_postgres_stand_in_agrees_with_the_server() {
    let Ok(url) = std::env::var("INLAND_FERRY_POSTGRES") else {
        assert!(std::env::var_os("INLAND_FERRY_REQUIRE_ENGINES").is_none(), "INLAND_FERRY_POSTGRES is not set, and engines are required");
        eprintln!("skipped: no PostgreSQL (scripts/engines up; eval \"$(scripts/engines env)\")");
        return;
    };
    let mut live = open(&url.parse::<Address>().expect("address")).expect("server");
    let count = calibrated(&mut *live, &[BOTH, POSTGRES, CONSTANTS]);
    println!("{count} statements, plain and in parentheses");
}
