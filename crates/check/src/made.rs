//! Made data: small databases on which plausible mistakes show.
//!
//! Columns draw from few values, so that ties and joins are common; the query's own constants and
//! their neighbours are among them. Some trials have no ties and some no NULLs, so that each kind of
//! mistake has data on which nothing else is in play.

use std::str::FromStr;

use values::{Column, DataType, Decimal, ForeignKey, Row, Schema, Table, Value};

use crate::{QueryFacts, Settings};

/// Numbers from a seed (splitmix64).
struct Random(u64);

impl Random {
    fn next(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        z ^ (z >> 31)
    }

    fn below(&mut self, n: usize) -> usize {
        if n == 0 { 0 } else { (self.next() % n as u64) as usize }
    }
}

/// What kind of data a trial has.
struct Kind {
    ties: bool,
    nulls: bool,
}

/// The tables of `schema` with made rows, for one trial.
pub(crate) fn database(schema: &Schema, facts: &QueryFacts, settings: &Settings, trial: u64) -> Vec<(Table, Vec<Row>)> {
    let mut random = Random(settings.seed.wrapping_mul(1_000_003).wrapping_add(trial));
    let kind = Kind { ties: trial % 2 == 1, nulls: trial % 4 >= 2 };
    let mut made: Vec<(Table, Vec<Row>)> = Vec::new();
    for table in schema.in_reference_order() {
        let count = row_count(facts, settings, trial, &mut random);
        let rows = rows_of(table, count, facts, &kind, &made, &mut random);
        made.push((table.clone(), rows));
    }
    made
}

/// Row counts lie around every number the query could limit by.
fn row_count(facts: &QueryFacts, settings: &Settings, trial: u64, random: &mut Random) -> usize {
    match trial {
        0 => return 0,
        1 => return 1,
        _ => {}
    }
    let mut counts = vec![2, 3, 7, 12];
    for number in facts.numbers.iter().filter(|n| (0..=settings.max_rows as i64).contains(*n)) {
        let n = *number as usize;
        counts.extend([n.saturating_sub(1), n, n + 1, 2 * n + 1]);
    }
    counts[random.below(counts.len())].min(settings.max_rows)
}

fn rows_of(table: &Table, count: usize, facts: &QueryFacts, kind: &Kind, made: &[(Table, Vec<Row>)], random: &mut Random) -> Vec<Row> {
    let domains: Vec<Vec<Value>> = table.columns.iter().map(|c| domain(c, facts, kind.ties, count)).collect();
    let mut rows: Vec<Row> = Vec::new();
    for i in 0..count {
        let mut row: Row = Vec::with_capacity(table.columns.len());
        for (at, column) in table.columns.iter().enumerate() {
            row.push(value_of(column, &domains[at], i, kind, random));
        }
        for key in &table.foreign_keys {
            refer(table, key, &mut row, i, made, &rows, random);
        }
        keep_keys(table, &mut row, i);
        rows.push(row);
    }
    rows
}

fn value_of(column: &Column, domain: &[Value], i: usize, kind: &Kind, random: &mut Random) -> Value {
    if kind.nulls && column.nullable && random.below(4) == 0 {
        return Value::Null;
    }
    if !kind.ties && i < domain.len() {
        // Every value once, in an order that isn't that of the rows.
        return domain[(i * 7 + 3) % domain.len()].clone();
    }
    domain[random.below(domain.len())].clone()
}

/// A primary key is a number of its own for each row, whatever else was drawn.
fn keep_keys(table: &Table, row: &mut Row, i: usize) {
    let Some(key) = table.primary_key.last() else { return };
    let refers = table.foreign_keys.iter().any(|k| k.columns.iter().any(|c| c.eq_ignore_ascii_case(key)));
    let Some(at) = table.column_index(key).filter(|_| !refers || table.primary_key.len() == 1) else { return };
    row[at] = match &table.columns[at].data_type {
        DataType::Text { .. } => Value::text(format!("k{i:02}")),
        DataType::Date => Value::Date(day(i)),
        DataType::Timestamp(_) => Value::Timestamp(day(i).at(0, 0, 0, 0)),
        _ => Value::Integer(i as i64 + 1),
    };
}

/// A row's reference is one of the keys that are there; NULL if there is none.
fn refer(table: &Table, key: &ForeignKey, row: &mut Row, i: usize, made: &[(Table, Vec<Row>)], own: &[Row], random: &mut Random) {
    let itself = key.table.eq_ignore_ascii_case(&table.name);
    let target = if itself {
        Some((table, own))
    } else {
        made.iter().find(|(t, _)| t.name.eq_ignore_ascii_case(&key.table)).map(|(t, r)| (t, r.as_slice()))
    };
    let Some((target, rows)) = target else { return };
    let keys = if key.keys.is_empty() { &target.primary_key } else { &key.keys };
    let picked = if rows.is_empty() { None } else { rows.get(random.below(rows.len())) };
    for (column, theirs) in key.columns.iter().zip(keys) {
        let (Some(at), Some(from)) = (table.column_index(column), target.column_index(theirs)) else { continue };
        let keeps_null = row[at].is_null() && table.columns[at].nullable;
        if !keeps_null {
            row[at] = match picked {
                Some(picked) => picked[from].clone(),
                None if itself && table.columns[at].nullable => Value::Null,
                None => Value::Integer(i as i64 + 1),
            };
        }
    }
}

fn day(i: usize) -> jiff::civil::Date {
    jiff::civil::date(2026, 1, 28).saturating_add(jiff::Span::new().days(i as i64 * 3))
}

/// The values a column draws from.
fn domain(column: &Column, facts: &QueryFacts, ties: bool, rows: usize) -> Vec<Value> {
    let size = if ties { 3 } else { rows.max(3) };
    match &column.data_type {
        DataType::Boolean => vec![Value::Boolean(true), Value::Boolean(false)],
        DataType::Integer(_) => numbers(facts, size).into_iter().map(Value::Integer).collect(),
        DataType::Decimal(form) => {
            let scale = form.map_or(2, |(_, s)| s.clamp(0, 4));
            numbers(facts, size)
                .into_iter()
                .enumerate()
                .map(|(i, n)| {
                    let text = if scale > 0 && i % 2 == 1 { format!("{n}.5") } else { n.to_string() };
                    Decimal::from_str(&text).map_or(Value::Integer(n), |d| Value::decimal(d.with_scale(i64::from(scale))))
                })
                .collect()
        }
        DataType::Float(_) => numbers(facts, size).into_iter().map(|n| Value::Float(n as f64 + 0.25)).collect(),
        DataType::Date => dates(facts, size).into_iter().map(Value::Date).collect(),
        DataType::Timestamp(_) | DataType::TimestampZoned => {
            dates(facts, size).into_iter().map(|d| Value::Timestamp(d.at(0, 0, 0, 0))).collect()
        }
        DataType::Text { length, .. } => texts(facts, size, length.map(|l| l as usize)),
        _ => texts(facts, size, None),
    }
}

fn numbers(facts: &QueryFacts, size: usize) -> Vec<i64> {
    let mut numbers: Vec<i64> = vec![1, 2, 3];
    for number in facts.numbers.iter().take(6) {
        if number.abs() < 100_000 {
            numbers.extend([number - 1, *number, number + 1]);
        }
    }
    numbers.extend([0, -1]);
    numbers.dedup();
    let mut seen = Vec::new();
    numbers.retain(|n| {
        !seen.contains(n) && {
            seen.push(*n);
            true
        }
    });
    let mut next = 20;
    while numbers.len() < size {
        if !numbers.contains(&next) {
            numbers.push(next);
        }
        next += 1;
    }
    numbers
}

fn dates(facts: &QueryFacts, size: usize) -> Vec<jiff::civil::Date> {
    let mut dates: Vec<jiff::civil::Date> = facts.texts.iter().filter_map(|t| t.get(..10).and_then(|t| t.parse().ok())).collect();
    let own = dates.clone();
    for date in own {
        dates.extend([date.saturating_add(jiff::Span::new().days(1)), date.saturating_sub(jiff::Span::new().days(1))]);
    }
    dates.extend((0..size.max(4)).map(day));
    dates
}

/// Words of the waterways, the query's own texts, and each with a letter more or less.
fn texts(facts: &QueryFacts, size: usize, length: Option<usize>) -> Vec<Value> {
    const WORDS: &[&str] =
        &["heron", "quay", "weir", "mill", "barge", "lock", "tarn", "ferry", "reed", "otter", "ford", "basin", "dock", "wharf", "sluice"];
    let mut texts: Vec<String> = Vec::new();
    for text in facts.texts.iter().take(4) {
        let plain = text.trim_matches('%').to_string();
        texts.push(plain.clone());
        texts.push(format!("{plain}x"));
    }
    texts.extend(WORDS.iter().map(ToString::to_string));
    let mut i = 0;
    while texts.len() < size {
        texts.push(format!("{}{i}", WORDS[i % WORDS.len()]));
        i += 1;
    }
    let mut seen = Vec::new();
    for text in texts {
        let cut: String = match length {
            Some(length) => text.chars().take(length).collect(),
            None => text,
        };
        let value = Value::text(cut);
        if !seen.contains(&value) {
            seen.push(value);
        }
    }
    // Fewer values make more ties.
    if size <= 3 {
        let keep = 4 + 2 * facts.texts.len().min(4);
        seen.truncate(keep);
    }
    seen
}
