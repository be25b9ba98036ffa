//! Rows of each table, with the rows they refer to, so that joins of a sample find rows.

use std::collections::HashSet;

use syntax::{Dialect, DialectName};
use values::{ForeignKey, Row, Table, Value};

use super::exact_name;
use crate::{Engine, EngineError, literal_sql};

/// Keys asked for in one query.
const BATCH: usize = 100;

/// Takes `most` rows of each table by chance, then adds the rows that those refer to until none is
/// missing. `names` are the tables' names as the database has them.
pub(super) fn fill(
    engine: &mut dyn Engine,
    dialect: &Dialect,
    place: &str,
    names: &[String],
    tables: &mut [(Table, Vec<Row>)],
    most: usize,
) -> Result<(), EngineError> {
    let mut sampling = Sampling { engine, dialect, place, names };
    for (table, rows) in tables.iter_mut() {
        *rows = sampling.by_chance(table, most)?;
    }
    while sampling.add_missing(tables)? {}
    for (table, rows) in tables {
        sort_by_key(table, rows);
    }
    Ok(())
}

struct Sampling<'a> {
    engine: &'a mut dyn Engine,
    dialect: &'a Dialect,
    place: &'a str,
    names: &'a [String],
}

/// A row's values in some columns, as text that can be looked up.
fn key_of(row: &Row, columns: &[usize]) -> Option<String> {
    let values: Option<Vec<String>> = columns.iter().map(|c| row.get(*c).filter(|v| !v.is_null()).map(ToString::to_string)).collect();
    values.map(|v| v.join("\u{1f}"))
}

impl Sampling<'_> {
    fn name(&self, table: &Table) -> String {
        let name = self.names.iter().find(|n| n.eq_ignore_ascii_case(&table.name)).map_or(table.name.as_str(), String::as_str);
        // The one schema of a SQLite file needs no name, and a place of Spark's may be the default.
        format!("{}{}", if self.dialect.name == DialectName::Sqlite { "" } else { self.place }, exact_name(name, self.dialect))
    }

    fn by_chance(&mut self, table: &Table, most: usize) -> Result<Vec<Row>, EngineError> {
        let (list, name) = (self.columns(table), self.name(table));
        let sql = match self.dialect.name {
            DialectName::SqlServer => format!("SELECT TOP ({most}) {list} FROM {name} ORDER BY NEWID()"),
            DialectName::Oracle => format!("SELECT {list} FROM {name} ORDER BY DBMS_RANDOM.VALUE FETCH FIRST {most} ROWS ONLY"),
            DialectName::Postgres | DialectName::Duckdb | DialectName::Sqlite => {
                format!("SELECT {list} FROM {name} ORDER BY RANDOM() LIMIT {most}")
            }
            DialectName::Mysql | DialectName::Mariadb | DialectName::Spark | DialectName::Bigquery => {
                format!("SELECT {list} FROM {name} ORDER BY RAND() LIMIT {most}")
            }
        };
        Ok(self.engine.query(&sql, usize::MAX)?.rows)
    }

    fn columns(&self, table: &Table) -> String {
        table.columns.iter().map(|c| exact_name(&c.name, self.dialect)).collect::<Vec<_>>().join(", ")
    }

    /// Adds the rows referred to that aren't there; false when none was missing.
    fn add_missing(&mut self, tables: &mut [(Table, Vec<Row>)]) -> Result<bool, EngineError> {
        let mut added = false;
        for at in 0..tables.len() {
            for key in tables[at].0.foreign_keys.clone() {
                let Some(target) = tables.iter().position(|(t, _)| t.name.eq_ignore_ascii_case(&key.table)) else { continue };
                let missing = missing(&tables[at], &tables[target], &key);
                for batch in missing.chunks(BATCH) {
                    let rows = self.with_keys(&tables[target].0, &key, batch)?;
                    added |= !rows.is_empty();
                    tables[target].1.extend(rows);
                }
            }
        }
        Ok(added)
    }

    /// The rows of a table that have one of the keys.
    fn with_keys(&mut self, table: &Table, key: &ForeignKey, wanted: &[Vec<Value>]) -> Result<Vec<Row>, EngineError> {
        let names: Vec<String> = keys_of(table, key).iter().map(|k| exact_name(k, self.dialect)).collect();
        let conditions: Vec<String> = wanted
            .iter()
            .map(|values| {
                let equal = names.iter().zip(values).map(|(n, v)| format!("{n} = {}", literal_sql(v, self.dialect)));
                format!("({})", equal.collect::<Vec<_>>().join(" AND "))
            })
            .collect();
        let sql = format!("SELECT {} FROM {} WHERE {}", self.columns(table), self.name(table), conditions.join(" OR "));
        Ok(self.engine.query(&sql, usize::MAX)?.rows)
    }
}

/// The columns referred to: those named, or the primary key.
fn keys_of<'t>(table: &'t Table, key: &'t ForeignKey) -> &'t [String] {
    if key.keys.is_empty() { &table.primary_key } else { &key.keys }
}

/// The references of `from` that find no row in `to`.
fn missing(from: &(Table, Vec<Row>), to: &(Table, Vec<Row>), key: &ForeignKey) -> Vec<Vec<Value>> {
    let places = |table: &Table, names: &[String]| names.iter().filter_map(|n| table.column_index(n)).collect::<Vec<_>>();
    let (own, other) = (places(&from.0, &key.columns), places(&to.0, keys_of(&to.0, key)));
    if own.is_empty() || own.len() != other.len() {
        return Vec::new();
    }
    let mut known: HashSet<String> = to.1.iter().filter_map(|r| key_of(r, &other)).collect();
    let is_new = |row: &&Row| key_of(row, &own).is_some_and(|k| known.insert(k));
    from.1.iter().filter(is_new).map(|row| own.iter().map(|c| row[*c].clone()).collect()).collect()
}

/// By the primary key, so that the same sample gives the same file.
fn sort_by_key(table: &Table, rows: &mut [Row]) {
    let keys: Vec<usize> = table.primary_key.iter().filter_map(|k| table.column_index(k)).collect();
    rows.sort_by(|a, b| keys.iter().map(|k| values::sort_order(&a[*k], &b[*k])).find(|o| o.is_ne()).unwrap_or(std::cmp::Ordering::Equal));
}
