//! The stand-ins against live engines: the same statement on both, plainly written and with every
//! operation in parentheses, gives the same rows, labels and errors.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

#[path = "../../engines/tests/live/mod.rs"]
mod live;

use engines::{Address, Collected, Engine, EngineError, open};
use meaning::Catalog;
use syntax::{CommentStyle, Dialect, DialectName, LayoutJob, LayoutStyle, Parentheses, Statements, layout, lex, print};
use values::{ResultSet, Row, Table, Tolerance, same_value, sort_order};

const TABLES: &str = include_str!("calibration/tables.sql");
/// Statements for every engine.
const SHARED: [&str; 2] = [include_str!("calibration/shared.sql"), include_str!("calibration/constants.sql")];
/// Statements for the engines of one dialect.
const OWN: [(DialectName, &str); 8] = [
    (DialectName::Sqlite, include_str!("calibration/sqlite.sql")),
    (DialectName::Postgres, include_str!("calibration/postgres.sql")),
    (DialectName::Mariadb, include_str!("calibration/mariadb.sql")),
    // Most of what MariaDB has comes from MySQL.
    (DialectName::Mysql, include_str!("calibration/mariadb.sql")),
    (DialectName::Mysql, include_str!("calibration/mysql.sql")),
    (DialectName::Duckdb, include_str!("calibration/duckdb.sql")),
    (DialectName::Spark, include_str!("calibration/spark.sql")),
    (DialectName::Bigquery, include_str!("calibration/bigquery.sql")),
];

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

/// The statement with every operation in parentheses: how our grammar reads it, spelled out. None of
/// a statement that isn't read: the engine must not read it either.
fn parenthesised(sql: &str, dialect: &Dialect) -> Option<String> {
    let tokens = lex(sql, dialect);
    let parsed = Statements::new(sql, &tokens, dialect).next().expect("statement");
    let tree = parsed.tree.ok()?;
    let printed = print(&tree, sql, &tokens, dialect, Parentheses::Everywhere);
    let comments = CommentStyle::new(dialect, dialect);
    let job = LayoutJob { source: sql, tokens: &tokens, span: parsed.span, comments: &comments };
    Some(layout(&printed, &job, LayoutStyle::Keep).text)
}

/// Statements that are not compared, and why.
const PASSED_OVER: [(DialectName, &str, &str); 2] = [
    (DialectName::Bigquery, "AS INTEGER", "the evaluator lacks BigQuery's other names of INT64"),
    (DialectName::Bigquery, "AS integer", "the same"),
];

type Outcome = Result<ResultSet, EngineError>;

/// MySQL's manual calls errors by names, the servers by numbers.
const ERROR_NAMES: [(&str, &str); 15] = [
    // Both read EXCLUDE, and have it not.
    ("4022", "ER_PARSE_ERROR"),
    ("1235", "ER_PARSE_ERROR"),
    ("1052", "ER_NON_UNIQ_ERROR"),
    ("1054", "ER_BAD_FIELD_ERROR"),
    ("1056", "ER_WRONG_GROUP_FIELD"),
    ("1064", "ER_PARSE_ERROR"),
    ("1109", "ER_UNKNOWN_TABLE"),
    ("1111", "ER_INVALID_GROUP_FUNC_USE"),
    ("1146", "ER_NO_SUCH_TABLE"),
    ("1222", "ER_WRONG_NUMBER_OF_COLUMNS_IN_SELECT"),
    ("1241", "ER_OPERAND_COLUMNS"),
    ("1242", "ER_SUBQUERY_NO_1_ROW"),
    ("1305", "ER_SP_DOES_NOT_EXIST"),
    ("1582", "ER_WRONG_PARAMCOUNT_TO_NATIVE_FCT"),
    ("1690", "ER_DATA_OUT_OF_RANGE"),
];

fn name_of(code: &str) -> &str {
    ERROR_NAMES.iter().find(|(number, _)| *number == code).map_or(code, |(_, name)| name)
}

/// What differs between a live result and the stand-in's; `None` if nothing does.
fn difference(live: Outcome, own: Outcome, ordered: bool, dialect: DialectName) -> Option<String> {
    let (mut live, mut own) = match (live, own) {
        (Err(EngineError::Query { code: Some(a), .. }), Err(EngineError::Query { code: Some(b), .. })) if name_of(&a) != b => {
            return Some(format!("error {a}, not {b}"));
        }
        // A function that neither knows is none that gives a wrong result.
        (Err(_), Err(EngineError::Query { .. })) => return None,
        (Ok(live), Ok(own)) => (live, own),
        (live, own) => {
            let shown = |r: Outcome| r.map_or_else(|e| e.to_string(), |r| format!("{:?}", r.rows));
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
    if same && same_labels(&live.columns, &own.columns, dialect) {
        return None;
    }
    Some(format!("live: {:?} {:?}\n  own:  {:?} {:?}", live.columns, live.rows, own.columns, own.rows))
}

/// Labels are the same. DuckDB and Spark make a string of their own of a column without a name,
/// `(1 + 2)`, `count_star()`, `concat(a, b)`, where the stand-ins give what was written.
fn same_labels(live: &[String], own: &[String], dialect: DialectName) -> bool {
    let is_made = |label: &str| label.contains(|c: char| !(c.is_alphanumeric() || c == '_'));
    let makes_labels = matches!(dialect, DialectName::Duckdb | DialectName::Spark);
    live.len() == own.len() && live.iter().zip(own).all(|(live, own)| live == own || (makes_labels && is_made(live)))
}

/// Runs every statement on both, and says how many there were.
fn calibrate(live: &mut dyn Engine, own: Dialect) {
    let name = live.name();
    let own_statements = OWN.iter().filter(|(d, _)| *d == own.name).map(|(_, text)| *text);
    let banks: Vec<&str> = SHARED.into_iter().chain(own_statements).collect();
    let mut stand_in = open(&Address::StandIn(own.clone())).expect("stand-in");
    let tables = tables();
    live.load(&tables).expect("rows");
    stand_in.load(&tables).expect("rows");
    let (mut count, mut failures) = (0, Vec::new());
    for sql in banks.iter().flat_map(|b| b.lines()).filter(|l| !l.is_empty() && !l.starts_with("--")) {
        if PASSED_OVER.iter().any(|(dialect, part, _)| *dialect == own.name && sql.contains(part)) {
            continue;
        }
        count += 1;
        // Of a sorted statement every row has its place: none sorts by less than a key.
        let ordered = sql.rfind("ORDER BY").is_some_and(|at| !sql[at..].contains(')'));
        for text in std::iter::once(sql.to_string()).chain(parenthesised(sql, &own)) {
            let (theirs, ours) = (result_of(live, &text), result_of(&mut *stand_in, &text));
            // A label of an expression is its text: in parentheses it is another.
            let labelled = text == sql;
            let hide = |r: ResultSet| if labelled { r } else { ResultSet { columns: Vec::new(), ..r } };
            if let Some(what) = difference(theirs.map(hide), ours.map(hide), ordered, own.name) {
                failures.push(format!("{text}\n  {what}"));
            }
        }
    }
    assert!(failures.is_empty(), "{name}: {} of {count} differ\n{}", failures.len(), failures.join("\n"));
    println!("{name}: {count} statements, plain and in parentheses");
}

/// What a statement gives, whatever the engine warns of: the stand-in's conversions are what is tried.
fn result_of(engine: &mut dyn Engine, sql: &str) -> Outcome {
    let mut collected = Collected::new(usize::MAX);
    engine.run(sql, &mut collected).map(|_| collected.result)
}

#[test]
fn sqlite_agrees() {
    let mut live = open(&Address::Sqlite(":memory:".to_string())).expect("sqlite");
    let dialect = live.dialect().clone();
    calibrate(&mut *live, dialect);
}

fn live_agrees(variable: &str) {
    let Some(mut live) = live::engine(variable) else { return };
    let dialect = live.dialect().clone();
    calibrate(&mut *live, dialect);
}

#[test]
fn postgres_agrees() {
    live_agrees("INLAND_FERRY_POSTGRES");
}

#[test]
fn mariadb_agrees() {
    live_agrees("INLAND_FERRY_MARIADB");
}

#[test]
fn mysql_agrees() {
    live_agrees("INLAND_FERRY_MYSQL");
}

#[test]
fn duckdb_agrees() {
    live_agrees("INLAND_FERRY_DUCKDB");
}

#[test]
fn googlesql_agrees() {
    live_agrees("INLAND_FERRY_GOOGLESQL");
}

#[test]
fn spark_agrees() {
    live_agrees("INLAND_FERRY_SPARK");
}

#[test]
fn spark_without_ansi_agrees() {
    let Some(mut live) = live::engine("INLAND_FERRY_SPARK") else { return };
    result_of(&mut *live, "SET spark.sql.ansi.enabled = false").expect("setting");
    let mut dialect = live.dialect().clone();
    dialect.settings.insert("ansi".to_string(), "false".to_string());
    calibrate(&mut *live, dialect);
}
