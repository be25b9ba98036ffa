//! Columns that a query joins take their values from those of the rows they are to meet.

use values::{DataType, Decimal, Row, Table, Value};

use super::constraint;
use super::mood::{Mood, Tree};
use super::palette::number;
use super::random::Random;
use crate::join_graph::{JoinGraph, Link};

/// Fills the columns of one row. Some rows keep what was drawn, and meet nothing.
pub(super) fn follow(table: &Table, link: &Link, row: &mut Row, mood: Mood, made: &[(Table, Vec<Row>)], own: &[Row], random: &mut Random) {
    if link.key.columns.iter().any(|column| constraint::refers(table, column)) {
        return;
    }
    if link.walks() {
        number_linked(table, link, row, own, random);
    }
    let Some((target, rows)) = constraint::referred_to(table, &link.key, made, own) else { return };
    let chain = link.walks() && mood.tree == Tree::Chain;
    let picked = if chain { rows.last() } else { random.of_these(rows).filter(|_| !random.once_in(5)) };
    for (column, theirs) in link.key.columns.iter().zip(&link.key.keys) {
        let (Some(at), Some(from)) = (table.column_index(column), target.column_index(theirs)) else { continue };
        let ours = &table.columns[at];
        match picked {
            Some(_) if row[at].is_null() && ours.nullable && random.once_in(2) => {}
            Some(picked) if picked[from].is_null() && !ours.nullable => {}
            Some(picked) => row[at] = as_type(&picked[from], &ours.data_type).unwrap_or(row[at].clone()),
            // The top of a tree: without a value, or with one of its own.
            None if link.walks() && ours.nullable && !random.once_in(3) => row[at] = Value::Null,
            _ => {}
        }
    }
}

/// Columns that the query holds equal within a row become so.
pub(super) fn match_twins(table: &Table, graph: &JoinGraph, row: &mut Row) {
    for (one, other) in graph.twins.iter().filter(|(one, _)| one.table.eq_ignore_ascii_case(&table.name)) {
        let (Some(from), Some(at)) = (table.column_index(&one.column), table.column_index(&other.column)) else { continue };
        let fits = as_type(&row[from], &table.columns[at].data_type).filter(|v| table.columns[at].nullable || !v.is_null());
        row[at] = fits.unwrap_or(row[at].clone());
    }
}

/// Cuts links that lead from a row back to it, so that a walk ends.
pub(super) fn cut_loops(table: &Table, link: &Link, rows: &mut [Row]) {
    let Some((at, to)) = ends(table, link) else { return };
    for i in 0..rows.len() {
        if !leads_back(rows, i, at, to) {
            continue;
        }
        // Without a value, or with one that no row is found by.
        rows[i][at] = Value::Null;
        if !table.columns[at].nullable {
            let found: Vec<Row> = rows.iter().map(|r| vec![r[to].clone()]).collect();
            rows[i][at] = constraint::free_number(&table.columns[at], 0, &found, rows.len()).unwrap_or(Value::Null);
        }
    }
}

/// Whether a walk over some table can come back to where it was.
pub(crate) fn has_loops(graph: &JoinGraph, tables: &[(Table, Vec<Row>)]) -> bool {
    graph.links.iter().filter(|l| l.walks()).any(|link| {
        let Some((table, rows)) = tables.iter().find(|(t, _)| t.name.eq_ignore_ascii_case(&link.table)) else { return false };
        ends(table, link).is_some_and(|(at, to)| (0..rows.len()).any(|i| leads_back(rows, i, at, to)))
    })
}

/// The column that a walk follows, and the one that it finds rows by.
fn ends(table: &Table, link: &Link) -> Option<(usize, usize)> {
    table.column_index(&link.key.columns[0]).zip(table.column_index(&link.key.keys[0]))
}

fn leads_back(rows: &[Row], start: usize, at: usize, to: usize) -> bool {
    let mut seen = vec![false; rows.len()];
    let mut open = vec![start];
    while let Some(i) = open.pop() {
        for (j, row) in rows.iter().enumerate() {
            if rows[i][at].is_null() || !constraint::same(&row[to], &rows[i][at]) {
                continue;
            }
            if j == start {
                return true;
            }
            if !std::mem::replace(&mut seen[j], true) {
                open.push(j);
            }
        }
    }
    false
}

/// Rows that others are to follow are distinguished, but for a few.
fn number_linked(table: &Table, link: &Link, row: &mut Row, own: &[Row], random: &mut Random) {
    for key in &link.key.keys {
        let Some(at) = table.column_index(key) else { continue };
        if own.iter().any(|r| r[at] == row[at]) && !random.once_in(8) {
            let free = constraint::free_number(&table.columns[at], at, own, own.len());
            row[at] = free.and_then(|v| as_type(&v, &table.columns[at].data_type)).unwrap_or(row[at].clone());
        }
    }
}

/// The value of another column as one of this type, if it has it.
fn as_type(value: &Value, data_type: &DataType) -> Option<Value> {
    match (value, data_type) {
        (Value::Text(text), DataType::Text { length, .. }) => {
            length.is_none_or(|n| text.chars().count() <= n as usize).then(|| value.clone())
        }
        (Value::Integer(n), _) if data_type.is_numeric() => number(&Decimal::from(*n), data_type),
        (Value::Decimal(n), _) if data_type.is_numeric() => number(n, data_type),
        (Value::Float(_), DataType::Float(_)) | (Value::Date(_), DataType::Date) | (Value::Null, _) => Some(value.clone()),
        (Value::Timestamp(_), DataType::Timestamp(_)) => Some(value.clone()),
        _ => None,
    }
}
