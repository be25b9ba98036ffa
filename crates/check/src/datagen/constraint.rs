//! Keys, references and checks of made rows.

use engines::{Address, Engine, open};
use syntax::Dialect;
use values::{Column, DataType, ForeignKey, Row, Table, Value};

use super::mood::{Mood, Tree};
use super::random::Random;
use crate::facts::QueryFacts;
use crate::join_graph::Condition;

/// What a table's checks say of its columns: the constants beside them.
pub(super) fn facts_of(table: &Table, from: &Dialect) -> QueryFacts {
    if table.checks.is_empty() {
        return QueryFacts::default();
    }
    QueryFacts::of(&format!("SELECT * FROM {} WHERE {}", table.name, all_of(&table.checks)), from)
}

fn all_of(checks: &[String]) -> String {
    checks.iter().map(|c| format!("({c})")).collect::<Vec<_>>().join(" AND ")
}

/// Tells which rows meet their table's checks.
pub(super) struct Checker {
    engine: Option<Box<dyn Engine>>,
}

impl Checker {
    pub(super) fn new(from: &Dialect) -> Checker {
        Checker { engine: open(&Address::StandIn(from.clone())).ok() }
    }

    /// Drops the rows that don't. A check that the stand-in doesn't know is let be.
    pub(super) fn keep_admitted(&mut self, table: &Table, rows: &mut Vec<Row>) {
        let Some(engine) = self.engine.as_mut().filter(|_| !table.checks.is_empty() && !rows.is_empty()) else { return };
        let mut numbered = table.clone();
        numbered.columns.push(row_number());
        numbered.primary_key.clear();
        numbered.unique.clear();
        numbered.foreign_keys.clear();
        let wide = rows.iter().enumerate().map(|(i, row)| row.iter().cloned().chain([Value::Integer(i as i64)]).collect()).collect();
        let sql = format!("SELECT {NUMBER} FROM {} WHERE NOT ({})", table.name, all_of(&table.checks));
        let Ok(()) = engine.load(&[(numbered, wide)]) else { return };
        let Ok(broken) = engine.query(&sql, usize::MAX) else { return };
        let broken: Vec<&Value> = broken.rows.iter().flatten().collect();
        let mut i = 0;
        rows.retain(|_| {
            i += 1;
            !broken.iter().any(|v| same(v, &Value::Integer(i - 1)))
        });
    }

    /// Which of some values of a column meet a condition; none where the stand-in can't say.
    pub(super) fn met_by(&mut self, table: &Table, at: usize, values: &[Value], condition: &Condition) -> Option<Vec<bool>> {
        let engine = self.engine.as_mut()?;
        let column = Column { nullable: true, ..table.columns[at].clone() };
        let alone = Table { name: table.name.clone(), columns: vec![row_number(), column], ..Table::default() };
        let rows = values.iter().enumerate().map(|(i, v)| vec![Value::Integer(i as i64), v.clone()]).collect();
        engine.load(&[(alone, rows)]).ok()?;
        let sql = format!("SELECT {NUMBER} FROM {} {} WHERE {}", table.name, condition.shown, condition.text);
        let meeting = engine.query(&sql, usize::MAX).ok()?;
        let meeting: Vec<&Value> = meeting.rows.iter().flatten().collect();
        Some((0..values.len()).map(|i| meeting.iter().any(|v| same(v, &Value::Integer(i as i64)))).collect())
    }
}

const NUMBER: &str = "ferry_row_number";

/// The column by which rows are distinguished when the stand-in is asked of them.
fn row_number() -> Column {
    Column { name: NUMBER.to_string(), data_type: DataType::Integer(64), nullable: false, case_sensitive: None }
}

/// Equal as keys are: 1 and 1.0 are one.
pub(super) fn same(a: &Value, b: &Value) -> bool {
    values::same_value(a, b, values::Tolerance::default())
}

/// Gives a primary key of one column a value that no other row has. One that the query leads to is
/// kept if it can be.
pub(super) fn number_key(table: &Table, row: &mut Row, rows: &[Row], i: usize, is_led: &dyn Fn(usize) -> bool) {
    let [key] = table.primary_key.as_slice() else { return };
    let Some(at) = table.column_index(key).filter(|_| !refers(table, key)) else { return };
    let taken = |v: &Value| v.is_null() || rows.iter().any(|r| same(&r[at], v));
    // What was drawn may be what the query asks for; else keys are counted.
    if (i.is_multiple_of(3) && !is_led(at)) || taken(&row[at]) {
        row[at] = free_number(&table.columns[at], at, rows, i).unwrap_or(Value::Null);
    }
}

/// A value of a column that no row has, about the `i`th.
pub(super) fn free_number(column: &Column, at: usize, rows: &[Row], i: usize) -> Option<Value> {
    let taken = |v: &Value| rows.iter().any(|r| same(&r[at], v));
    (i..=i + rows.len()).chain(0..i).map(|n| numbered(column, n)).find(|v| !taken(v))
}

/// Whether a column refers to another table, or its own.
pub(super) fn refers(table: &Table, column: &str) -> bool {
    table.foreign_keys.iter().any(|k| k.columns.iter().any(|c| c.eq_ignore_ascii_case(column)))
}

/// Whether a row can stand beside others: nothing is NULL that mustn't be, and no key is taken.
pub(super) fn is_free(table: &Table, row: &[Value], rows: &[Row]) -> bool {
    let is_taken = |columns: &[String]| {
        let places: Vec<usize> = columns.iter().filter_map(|c| table.column_index(c)).collect();
        !places.is_empty()
            && places.iter().all(|p| !row[*p].is_null())
            && rows.iter().any(|r| places.iter().all(|p| same(&r[*p], &row[*p])))
    };
    let complete = table.columns.iter().zip(row).all(|(c, v)| c.nullable || !v.is_null());
    complete && !is_taken(&table.primary_key) && !table.unique.iter().any(|columns| is_taken(columns))
}

/// A row near the top of a tree comes to stand below the last one.
pub(super) fn close_loop(table: &Table, rows: &mut [Row]) {
    let Some(key) = table.foreign_keys.iter().find(|k| k.table.eq_ignore_ascii_case(&table.name)) else { return };
    let keys = if key.keys.is_empty() { &table.primary_key } else { &key.keys };
    let Some(last) = rows.last().cloned() else { return };
    let middle = rows.len() / 2;
    for (column, theirs) in key.columns.iter().zip(keys) {
        if let (Some(at), Some(from)) = (table.column_index(column), table.column_index(theirs)) {
            rows[middle][at] = last[from].clone();
        }
    }
}

/// A key's value by its number.
fn numbered(column: &Column, i: usize) -> Value {
    let day = jiff::civil::date(2026, 1, 28).saturating_add(jiff::Span::new().days(i as i64));
    match &column.data_type {
        DataType::Text { length, .. } => Value::text(format!("k{i:02}").chars().take(length.map_or(3, |l| l as usize)).collect::<String>()),
        DataType::Date => Value::Date(day),
        DataType::Timestamp(_) | DataType::TimestampZoned => Value::Timestamp(day.at(0, 0, 0, 0)),
        _ => Value::Integer(i as i64 + 1),
    }
}

/// The table that a key refers to, with the rows that are there.
pub(super) fn referred_to<'t>(
    table: &'t Table,
    key: &ForeignKey,
    made: &'t [(Table, Vec<Row>)],
    own: &'t [Row],
) -> Option<(&'t Table, &'t [Row])> {
    if key.table.eq_ignore_ascii_case(&table.name) {
        return Some((table, own));
    }
    made.iter().find(|(t, _)| t.name.eq_ignore_ascii_case(&key.table)).map(|(t, rows)| (t, rows.as_slice()))
}

/// A row's reference is one of the keys that are there; NULL if there is none.
pub(super) fn refer(
    table: &Table,
    key: &ForeignKey,
    row: &mut Row,
    mood: Mood,
    made: &[(Table, Vec<Row>)],
    own: &[Row],
    random: &mut Random,
) {
    let itself = key.table.eq_ignore_ascii_case(&table.name);
    let Some((target, rows)) = referred_to(table, key, made, own) else { return };
    let keys = if key.keys.is_empty() { &target.primary_key } else { &key.keys };
    let picked = match mood.tree {
        Tree::Chain if itself => rows.last(),
        // The first few rows are roots.
        _ if itself && random.once_in(4) => None,
        _ => random.of_these(rows),
    };
    let loops = itself && mood.tree == Tree::Loops && random.once_in(5);
    for (column, theirs) in key.columns.iter().zip(keys) {
        let (Some(at), Some(from)) = (table.column_index(column), target.column_index(theirs)) else { continue };
        if row[at].is_null() && table.columns[at].nullable {
            continue;
        }
        row[at] = match picked {
            _ if loops => row[from].clone(),
            Some(picked) => picked[from].clone(),
            None => Value::Null,
        };
    }
}
