//! Values go into every engine and come out again, whatever is in them.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

mod live;

use std::str::FromStr;

use engines::Engine;
use jiff::civil::date;
use syntax::DialectName;
use values::{Column, DataType, Decimal, Row, Table, Tolerance, Value, same_value};

const TEXTS: [&str; 24] = [
    "quay",
    " ",
    "  both ends  ",
    "it's",
    "''",
    "\"",
    "`",
    "\\",
    "\\n \\N \\0 \\%",
    "a\tb",
    "one\ntwo",
    "one\r\ntwo",
    ";",
    "-- no comment",
    "/* nor this */",
    "100% _ ?",
    ":name @name $1 {0}",
    "${HOME}",
    "NULL",
    "Größe é",
    "\u{1F6A2} boat",
    "e\u{301}",
    "\u{a0}\u{200b}",
    "{\"a\": [1, 'x']}",
];

fn table(columns: &[(&str, DataType)]) -> Table {
    let columns = columns.iter().map(|(name, data_type)| Column {
        name: (*name).to_string(),
        data_type: data_type.clone(),
        nullable: true,
        case_sensitive: None,
    });
    Table { name: "freight".to_string(), columns: columns.collect(), ..Table::default() }
}

fn decimal(text: &str) -> Value {
    Value::decimal(Decimal::from_str(text).expect("decimal"))
}

/// Loads the rows, reads them back by their first column, and tells what came back otherwise.
fn round_trip(engine: &mut dyn Engine, table: &Table, rows: &[Row]) -> Vec<String> {
    let name = engine.name();
    if let Err(error) = engine.load(&[(table.clone(), rows.to_vec())]) {
        return vec![format!("{name}: {error}")];
    }
    let result = match engine.query("SELECT * FROM freight ORDER BY id", usize::MAX) {
        Ok(result) => result,
        Err(error) => return vec![format!("{name}: {error}")],
    };
    let exact = Tolerance { coarse_decimals: false, ..Tolerance::default() };
    let mut wrong = Vec::new();
    if result.rows.len() != rows.len() {
        wrong.push(format!("{name}: {} rows, not {}", result.rows.len(), rows.len()));
    }
    for (sent, came) in rows.iter().zip(&result.rows) {
        let cells = sent.iter().zip(came).zip(&table.columns);
        wrong.extend(
            cells
                .filter(|((a, b), _)| !same_value(a, b, exact))
                .map(|((a, b), c)| format!("{name}: {} of row {}: {a:?} came back as {b:?}", c.name, sent[0])),
        );
    }
    wrong
}

#[test]
fn texts_survive() {
    let mut rows: Vec<Row> = TEXTS.iter().enumerate().map(|(i, t)| vec![Value::Integer(i as i64), Value::text(*t)]).collect();
    rows.push(vec![Value::Integer(100), Value::Null]);
    rows.push(vec![Value::Integer(101), Value::text("long ".repeat(5000))]);
    let empty = vec![Value::Integer(102), Value::text("")];
    let table = table(&[("id", DataType::Integer(32)), ("note", DataType::TEXT)]);
    let mut wrong = Vec::new();
    for mut engine in live::all() {
        // Oracle has no empty text.
        let more = (engine.dialect().name != DialectName::Oracle).then(|| empty.clone());
        let rows: Vec<Row> = rows.iter().cloned().chain(more).collect();
        wrong.extend(round_trip(&mut *engine, &table, &rows));
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn a_load_that_fails_leaves_room_for_the_next() {
    let mut good = table(&[("id", DataType::Integer(32)), ("word", DataType::TEXT)]);
    good.columns[0].nullable = false;
    let row = |id: Value| vec![id, Value::text("quay")];
    for mut engine in live::all() {
        let loads = |engine: &mut dyn Engine, id| engine.load(&[(good.clone(), vec![row(id)])]).is_ok();
        assert!(loads(&mut *engine, Value::Integer(1)), "{}", engine.name());
        // Some engines hold anything.
        let _ = loads(&mut *engine, Value::Null);
        let wrong = round_trip(&mut *engine, &good, &[row(Value::Integer(2))]);
        assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    }
}

#[test]
fn values_of_every_type_survive() {
    let columns = [
        ("id", DataType::Integer(32)),
        ("small", DataType::Integer(16)),
        ("big", DataType::Integer(64)),
        ("tons", DataType::Decimal(Some((20, 6)))),
        ("share", DataType::Float(64)),
        ("open", DataType::Boolean),
        ("day", DataType::Date),
        ("at", DataType::TIMESTAMP),
        ("seal", DataType::Binary),
        ("name", DataType::Text { length: Some(20), fixed: false }),
    ];
    let values: Vec<Row> = vec![
        vec![
            Value::Integer(32767),
            Value::Integer(i64::MAX),
            decimal("99999999999999.999999"),
            Value::Float(1.797e308),
            Value::Boolean(true),
            Value::Date(date(9999, 12, 31)),
            Value::Timestamp(date(2026, 2, 28).at(23, 59, 59, 123_456_000)),
            Value::Binary(Box::new(vec![0, 255, 39, 92, 10])),
            Value::text("x"),
        ],
        vec![
            Value::Integer(-32768),
            Value::Integer(-i64::MAX),
            decimal("-0.000001"),
            Value::Float(-2.5e-308),
            Value::Boolean(false),
            Value::Date(date(1600, 2, 29)),
            Value::Timestamp(date(1999, 12, 31).at(0, 0, 0, 0)),
            Value::Binary(Box::default()),
            Value::text("twenty characters ok"),
        ],
        vec![
            Value::Integer(0),
            Value::Integer(0),
            decimal("0"),
            Value::Float(0.1),
            Value::Boolean(true),
            Value::Date(date(1970, 1, 1)),
            Value::Timestamp(date(1969, 12, 31).at(23, 59, 59, 999_999_000)),
            Value::Binary(Box::new(b"plain".to_vec())),
            Value::text("é"),
        ],
        vec![Value::Null; 9],
    ];
    let rows: Vec<Row> =
        values.into_iter().enumerate().map(|(i, row)| std::iter::once(Value::Integer(i as i64)).chain(row).collect()).collect();
    let mut wrong = Vec::new();
    for mut engine in live::all() {
        let mut rows = rows.clone();
        if engine.dialect().name == DialectName::Sqlite {
            // Its numbers with a fraction are floats: twenty digits are too many.
            rows[0][3] = decimal("99999999.999999");
        }
        wrong.extend(round_trip(&mut *engine, &table(&columns), &rows));
        // Other rows in the same table, then none: nothing of the first load is left.
        wrong.extend(round_trip(&mut *engine, &table(&columns), &rows[1..2]));
        wrong.extend(round_trip(&mut *engine, &table(&columns), &[]));
        // Another table of the same name.
        wrong.extend(round_trip(&mut *engine, &table(&columns[..2]), &[vec![Value::Integer(7), Value::Integer(8)]]));
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn lists_survive_where_there_are_some() {
    let columns = [
        ("id", DataType::Integer(32)),
        ("tags", DataType::Array(Box::new(DataType::TEXT))),
        ("fares", DataType::Array(Box::new(DataType::Integer(64)))),
    ];
    let list = |items: &[Value]| Value::Array(Box::new(items.to_vec()));
    let mut rows: Vec<Row> = vec![
        vec![
            Value::Integer(1),
            list(&[Value::text("coal"), Value::text("it's, \"{}\" \\")]),
            list(&[Value::Integer(1), Value::Integer(-2)]),
        ],
        vec![Value::Integer(2), list(&[Value::text(""), Value::text(" ")]), list(&[Value::Integer(7)])],
        vec![Value::Integer(3), Value::Null, Value::Null],
    ];
    let mut wrong = Vec::new();
    for mut engine in live::all() {
        let name = engine.dialect().name;
        if !matches!(name, DialectName::Postgres | DialectName::Duckdb | DialectName::Spark | DialectName::Bigquery) {
            continue;
        }
        // A stored list of BigQuery has no NULL in it, and is empty rather than NULL; its evaluator
        // takes both.
        if rows.len() == 3 {
            rows.push(vec![Value::Integer(4), list(&[]), list(&[])]);
            rows.push(vec![Value::Integer(5), list(&[Value::Null, Value::text("NULL")]), list(&[Value::Null])]);
        }
        wrong.extend(round_trip(&mut *engine, &table(&columns), &rows));
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// Statements that mean the same everywhere.
const PLAIN: [&str; 6] = [
    "SELECT id, name FROM freight WHERE tons > 3 ORDER BY id",
    "SELECT name, COUNT(*) AS n, SUM(tons) AS t FROM freight GROUP BY name ORDER BY name",
    "SELECT a.id, b.id AS other FROM freight a JOIN freight b ON b.tons = a.tons AND b.id > a.id ORDER BY a.id, b.id",
    "SELECT id FROM freight WHERE tons IS NULL OR name IN ('coal', 'salt') ORDER BY id",
    "SELECT id, CASE WHEN tons > 10 THEN 'heavy' ELSE 'light' END AS weight FROM freight ORDER BY id",
    "SELECT id, (SELECT MAX(tons) FROM freight f WHERE f.name = freight.name) AS most FROM freight ORDER BY id",
];

#[test]
fn plain_sql_gives_the_same_rows_on_every_engine_and_stand_in() {
    let columns = [
        ("id", DataType::Integer(32)),
        ("name", DataType::Text { length: Some(10), fixed: false }),
        ("tons", DataType::Decimal(Some((6, 2)))),
    ];
    let row = |id: i64, name: &str, tons: Option<&str>| vec![Value::Integer(id), Value::text(name), tons.map_or(Value::Null, decimal)];
    let rows = vec![
        row(1, "coal", Some("12.50")),
        row(2, "salt", Some("3.00")),
        row(3, "coal", None),
        row(4, "wool", Some("12.50")),
        row(5, "lime", Some("-0.25")),
    ];
    let mut first: Option<Vec<Vec<Row>>> = None;
    for mut engine in live::all() {
        engine.load(&[(table(&columns), rows.clone())]).unwrap_or_else(|e| panic!("{}: {e}", engine.name()));
        let results: Vec<Vec<Row>> =
            PLAIN.iter().map(|sql| engine.query(sql, 100).unwrap_or_else(|e| panic!("{}: {sql}: {e}", engine.name())).rows).collect();
        let first = first.get_or_insert_with(|| results.clone());
        for (sql, (wanted, got)) in PLAIN.iter().zip(first.iter().zip(&results)) {
            let same = |a: &Row, b: &Row| a.iter().zip(b).all(|(a, b)| same_value(a, b, Tolerance::default()));
            let is_same = wanted.len() == got.len() && wanted.iter().zip(got).all(|(a, b)| same(a, b));
            assert!(is_same, "{}: {sql}\n{wanted:?}\n{got:?}", engine.name());
        }
    }
}
