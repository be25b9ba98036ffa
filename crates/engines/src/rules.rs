//! Rules of a schema that rows break: what can't be NULL, lengths, keys, references.

use std::collections::{HashMap, HashSet};

use values::{DataType, Row, Table, Value};

/// The first row that breaks a rule of its table: the table's place, and what is wrong in words, rows
/// counted from 1. A reference to a table without rows isn't looked at: its file may be missing.
pub(crate) fn broken(tables: &[(Table, Vec<Row>)]) -> Option<(usize, String)> {
    tables.iter().enumerate().find_map(|(at, (table, rows))| {
        let found = in_columns(table, rows).or_else(|| in_keys(table, rows)).or_else(|| in_references(table, rows, tables));
        found.map(|(row, what)| (at, format!("row {}: {what}", row + 1)))
    })
}

fn in_columns(table: &Table, rows: &[Row]) -> Option<(usize, String)> {
    rows.iter().enumerate().find_map(|(i, row)| {
        table.columns.iter().zip(row).find_map(|(column, value)| {
            let name = &column.name;
            if value.is_null() && !column.nullable {
                return Some((i, format!("{name} is NULL, and the schema says NOT NULL")));
            }
            match (&column.data_type, value) {
                (DataType::Text { length: Some(most), .. }, Value::Text(text)) => {
                    let length = text.chars().count();
                    (length > *most as usize).then(|| (i, format!("{name} has {length} characters, the schema takes {most}")))
                }
                _ => None,
            }
        })
    })
}

fn in_keys(table: &Table, rows: &[Row]) -> Option<(usize, String)> {
    std::iter::once(&table.primary_key).chain(&table.unique).find_map(|columns| {
        let places = places(table, columns);
        let mut seen: HashMap<String, usize> = HashMap::new();
        rows.iter().enumerate().find_map(|(i, row)| {
            let key = key(row, &places)?;
            let before = seen.insert(key.clone(), i)?;
            Some((i, format!("{} = {key} is there already, in row {}", columns.join(", "), before + 1)))
        })
    })
}

fn in_references(table: &Table, rows: &[Row], tables: &[(Table, Vec<Row>)]) -> Option<(usize, String)> {
    table.foreign_keys.iter().find_map(|reference| {
        let (target, others) = tables.iter().find(|(t, rows)| t.name.eq_ignore_ascii_case(&reference.table) && !rows.is_empty())?;
        let theirs = places(target, if reference.keys.is_empty() { &target.primary_key } else { &reference.keys });
        let ours = places(table, &reference.columns);
        let known: HashSet<String> = others.iter().filter_map(|row| key(row, &theirs)).collect();
        rows.iter().enumerate().find_map(|(i, row)| {
            let key = key(row, &ours)?;
            let what = || format!("{} = {key} refers to no row of {}", reference.columns.join(", "), reference.table);
            (!known.contains(&key)).then(|| (i, what()))
        })
    })
}

fn places(table: &Table, columns: &[String]) -> Vec<usize> {
    columns.iter().filter_map(|c| table.column_index(c)).collect()
}

/// The values of a key in words; none where one is NULL.
fn key(row: &Row, places: &[usize]) -> Option<String> {
    if places.is_empty() || places.iter().any(|p| row[*p].is_null()) {
        return None;
    }
    Some(places.iter().map(|p| row[*p].to_string()).collect::<Vec<_>>().join(", "))
}
