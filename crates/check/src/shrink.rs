//! A counterexample without what it doesn't need: rows, then columns, then odd values.

use jiff::civil::date;
use values::{DataType, Row, Table, Tolerance, Value, same_value};

use crate::QueryFacts;

/// How often both sides are run for it.
const MOST_RUNS: usize = 500;

type Tables = Vec<(Table, Vec<Row>)>;

/// Makes `tables` smaller as long as `differs` still holds of them.
pub(crate) fn shrink(tables: Tables, facts: &QueryFacts, differs: &mut dyn FnMut(&Tables) -> bool) -> Tables {
    let mut shrinker = Shrinker { best: tables, runs: 0, differs };
    loop {
        let before = shrinker.best.clone();
        shrinker.drop_rows();
        shrinker.drop_columns(facts);
        shrinker.calm_values();
        if shrinker.best == before || shrinker.runs >= MOST_RUNS {
            return shrinker.best;
        }
    }
}

struct Shrinker<'a> {
    best: Tables,
    runs: usize,
    differs: &'a mut dyn FnMut(&Tables) -> bool,
}

impl Shrinker<'_> {
    /// Takes a smaller database in place of the best, if it will do.
    fn take(&mut self, tables: Tables) -> bool {
        if self.runs >= MOST_RUNS {
            return false;
        }
        self.runs += 1;
        let taken = (self.differs)(&tables);
        if taken {
            self.best = tables;
        }
        taken
    }

    /// Halves first, then one by one. Rows that refer to a dropped one go with it.
    fn drop_rows(&mut self) {
        for table in 0..self.best.len() {
            let mut size = self.best[table].1.len().div_ceil(2).max(1);
            loop {
                let mut start = 0;
                while start < self.best[table].1.len() && self.runs < MOST_RUNS {
                    let mut tables = self.best.clone();
                    let end = (start + size).min(tables[table].1.len());
                    tables[table].1.drain(start..end);
                    drop_orphans(&mut tables);
                    if !self.take(tables) {
                        start += size;
                    }
                }
                if size == 1 || self.runs >= MOST_RUNS {
                    break;
                }
                size = size.div_ceil(2);
            }
        }
    }

    /// Columns that the source's query doesn't name.
    fn drop_columns(&mut self, facts: &QueryFacts) {
        if facts.has_star {
            return;
        }
        for table in 0..self.best.len() {
            let mut column = 0;
            while column < self.best[table].0.columns.len() {
                let name = self.best[table].0.columns[column].name.to_lowercase();
                let named = facts.mentions.iter().any(|(_, n)| *n == name);
                if named || self.best[table].0.columns.len() == 1 || !self.take(without_column(&self.best, table, column)) {
                    column += 1;
                }
            }
        }
    }

    /// Each value as plain as it can be.
    fn calm_values(&mut self) {
        for table in 0..self.best.len() {
            for row in 0..self.best[table].1.len() {
                for column in 0..self.best[table].0.columns.len() {
                    let value = self.best[table].1[row][column].clone();
                    for plainer in plainer_values(&value, &self.best[table].0.columns[column].data_type) {
                        if plainer == value {
                            break;
                        }
                        let mut tables = self.best.clone();
                        tables[table].1[row][column] = plainer;
                        if !holds_keys(&tables) || !self.take(tables) {
                            continue;
                        }
                        break;
                    }
                }
            }
        }
    }
}

/// What could stand in a value's place, the plainest first. NULL stays: it's telling.
fn plainer_values(value: &Value, data_type: &DataType) -> Vec<Value> {
    match value {
        Value::Integer(_) => vec![Value::Integer(1), Value::Integer(2), Value::Integer(0)],
        Value::Decimal(d) => {
            let scale = d.fractional_digit_count().max(0);
            [1, 2, 0].map(|n| Value::decimal(values::Decimal::from(n).with_scale(scale))).into()
        }
        Value::Float(_) => vec![Value::Float(1.0), Value::Float(0.5)],
        Value::Text(text) if *data_type != DataType::Json => {
            let shorter = text.chars().take(text.chars().count().saturating_sub(1)).collect::<String>();
            let mut plain = vec![Value::text("a"), Value::text("b")];
            plain.extend((!shorter.is_empty()).then(|| Value::text(shorter)));
            plain
        }
        Value::Date(_) => vec![Value::Date(date(2026, 1, 1))],
        Value::Timestamp(_) => vec![Value::Timestamp(date(2026, 1, 1).at(0, 0, 0, 0))],
        _ => Vec::new(),
    }
}

fn without_column(tables: &Tables, table: usize, column: usize) -> Tables {
    let mut tables = tables.clone();
    let (definition, rows) = &mut tables[table];
    let name = definition.columns.remove(column).name;
    let has = |columns: &[String]| columns.iter().any(|c| c.eq_ignore_ascii_case(&name));
    if has(&definition.primary_key) {
        definition.primary_key.clear();
    }
    definition.unique.retain(|columns| !has(columns));
    definition.foreign_keys.retain(|key| !has(&key.columns));
    rows.iter_mut().for_each(|row| drop(row.remove(column)));
    tables
}

/// The rows of a table that break a reference to a table that is here.
fn orphans(tables: &Tables) -> Vec<(usize, usize)> {
    let mut found = Vec::new();
    for (at, (table, rows)) in tables.iter().enumerate() {
        for key in &table.foreign_keys {
            let Some((target, others)) = tables.iter().find(|(t, _)| t.name.eq_ignore_ascii_case(&key.table)) else { continue };
            let keys = if key.keys.is_empty() { &target.primary_key } else { &key.keys };
            let pairs: Vec<(usize, usize)> =
                key.columns.iter().zip(keys).filter_map(|(c, k)| Some((table.column_index(c)?, target.column_index(k)?))).collect();
            for (i, row) in rows.iter().enumerate() {
                let refers = !pairs.is_empty() && pairs.iter().all(|(c, _)| !row[*c].is_null());
                if refers && !others.iter().any(|other| pairs.iter().all(|(c, k)| same_value(&row[*c], &other[*k], Tolerance::default()))) {
                    found.push((at, i));
                }
            }
        }
    }
    found
}

fn drop_orphans(tables: &mut Tables) {
    while let Some((table, row)) = orphans(tables).pop() {
        tables[table].1.remove(row);
    }
}

/// Keys are still unique and references still met.
fn holds_keys(tables: &Tables) -> bool {
    let unique = |(table, rows): &(Table, Vec<Row>)| {
        std::iter::once(&table.primary_key).chain(&table.unique).all(|columns| {
            let places: Vec<usize> = columns.iter().filter_map(|c| table.column_index(c)).collect();
            let same = |a: &Row, b: &Row| {
                !places.is_empty() && places.iter().all(|p| !a[*p].is_null() && same_value(&a[*p], &b[*p], Tolerance::default()))
            };
            !rows.iter().enumerate().any(|(i, row)| rows[..i].iter().any(|other| same(row, other)))
        })
    };
    tables.iter().all(unique) && orphans(tables).is_empty()
}

#[cfg(test)]
mod tests {
    use values::{Column, ForeignKey};

    use super::*;

    fn table(name: &str, columns: &[&str], refers: Option<(&str, &str)>) -> Table {
        let column =
            |name: &&str| Column { name: (*name).to_string(), data_type: DataType::Integer(64), nullable: true, case_sensitive: None };
        Table {
            name: name.to_string(),
            columns: columns.iter().map(column).collect(),
            primary_key: vec!["id".to_string()],
            foreign_keys: refers
                .map(|(column, table)| ForeignKey { columns: vec![column.to_string()], table: table.to_string(), keys: Vec::new() })
                .into_iter()
                .collect(),
            ..Table::default()
        }
    }

    fn rows(values: &[&[i64]]) -> Vec<Row> {
        values.iter().map(|row| row.iter().map(|n| Value::Integer(*n)).collect()).collect()
    }

    #[test]
    fn nothing_is_left_that_could_be_dropped() {
        let vessels = rows(&[&[1, 5, 9], &[2, 7, 9], &[3, 8, 9]]);
        let loads = rows(&[&[1, 2, 40], &[2, 3, 7], &[3, 3, 50]]);
        let tables = vec![
            (table("vessels", &["id", "tons", "other"], None), vessels),
            (table("loads", &["id", "vessel_id", "tons"], Some(("vessel_id", "vessels"))), loads),
        ];
        let facts = QueryFacts {
            mentions: vec![((0, 1), "tons".to_string()), ((1, 2), "vessel_id".to_string()), ((2, 3), "id".to_string())],
            ..QueryFacts::default()
        };
        // A load of more than 6 tons on a vessel that is there.
        let mut broken_references = 0;
        let smallest = shrink(tables, &facts, &mut |tables| {
            broken_references += orphans(tables).len();
            let (table, loads) = &tables[1];
            let tons = table.column_index("tons").expect("tons");
            loads.iter().any(|load| matches!(load[tons], Value::Integer(n) if n > 6))
        });
        assert_eq!(broken_references, 0, "a row refers to one that is gone");
        assert_eq!(smallest[0].1.len() + smallest[1].1.len(), 2, "{smallest:?}");
        assert!(smallest[0].0.column("other").is_none(), "a column nobody names stays");
    }
}
