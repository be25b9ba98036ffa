//! Comparison, equality and sorting of values.

use std::cmp::Ordering;

use bigdecimal::ToPrimitive;
use compact_str::CompactString;
use jiff::civil::DateTime;
use values::{Decimal, Value};

use crate::behaviour::Collation;
use crate::failure::{Failure, FailureKind, Outcome};
use crate::moment::{DAY_NANOS, as_moment};

/// A string in the form its collation compares.
pub(crate) fn collated(text: &str, collation: Collation) -> CompactString {
    let folded = folded(text, collation);
    if collation.accent_insensitive || !collation.case_insensitive || folded.is_ascii() {
        return folded;
    }
    // Letters first; accents decide among equal letters (Unicode collation, levels 1 and 2).
    folded.chars().map(without_accent).chain(['\0']).chain(folded.chars()).collect()
}

/// A string whose letters are those of all that its collation holds for equal, one for one.
pub(crate) fn folded(text: &str, collation: Collation) -> CompactString {
    let text = if collation.pads { text.trim_end_matches(' ') } else { text };
    if collation.is_binary() || (collation.pads && !collation.case_insensitive && !collation.accent_insensitive) {
        return text.into();
    }
    let folded = |c: char| if collation.case_insensitive { c.to_lowercase().next().unwrap_or(c) } else { c };
    // utf8mb4_general_ci takes letters one for one (seen on MariaDB 10.11); MySQL's own makes two of it.
    let sharp_s = if collation.pads { "s" } else { "ss" };
    let mut out = CompactString::default();
    for c in text.chars() {
        match c {
            'ß' if collation.accent_insensitive => out.push_str(sharp_s),
            _ if collation.accent_insensitive => out.push(without_accent(folded(c))),
            _ => out.push(folded(c)),
        }
    }
    out
}

/// The letter under an accent, for the Latin letters in common use.
fn without_accent(c: char) -> char {
    const LETTERS: [(&str, char); 14] = [
        ("àáâãäå", 'a'),
        ("èéêë", 'e'),
        ("ìíîï", 'i'),
        ("òóôõö", 'o'),
        ("ùúûü", 'u'),
        ("ç", 'c'),
        ("ñ", 'n'),
        ("ÀÁÂÃÄÅ", 'A'),
        ("ÈÉÊË", 'E'),
        ("ÌÍÎÏ", 'I'),
        ("ÒÓÔÕÖ", 'O'),
        ("ÙÚÛÜ", 'U'),
        ("Ç", 'C'),
        ("Ñ", 'N'),
    ];
    if c.is_ascii() {
        return c;
    }
    LETTERS.iter().find(|(accented, _)| accented.contains(c)).map_or(c, |(_, plain)| *plain)
}

/// The order of two strings.
pub(crate) fn strings(a: &str, b: &str, collation: Collation) -> Ordering {
    if collation.is_binary() {
        return a.cmp(b);
    }
    collated(a, collation).cmp(&collated(b, collation))
}

/// The order of two values of kinds that compare; `None` if one is NULL.
pub(crate) fn order(a: &Value, b: &Value, collation: Collation) -> Outcome<Option<Ordering>> {
    use Value::{Array, Binary, Boolean, Integer, Interval, Null, Struct, Text};
    Ok(Some(match (a, b) {
        (Null, _) | (_, Null) => return Ok(None),
        (Integer(a), Integer(b)) => a.cmp(b),
        (Text(a), Text(b)) => strings(a, b, collation),
        (Boolean(a), Boolean(b)) => a.cmp(b),
        (Binary(a), Binary(b)) => a.cmp(b),
        (Value::Time(a), Value::Time(b)) => a.cmp(b),
        (Interval(a), Interval(b)) => interval_length(a).cmp(&interval_length(b)),
        (Array(a), Array(b)) => return Ok(in_turn(a.iter().zip(b.iter()), collation)?.map(|o| o.then(a.len().cmp(&b.len())))),
        (Struct(a), Struct(b)) => return in_turn(a.iter().map(|(_, v)| v).zip(b.iter().map(|(_, v)| v)), collation),
        _ => match (as_moment(a), as_moment(b)) {
            (Some(a), Some(b)) => a.cmp(&b),
            _ => numbers(a, b).ok_or_else(|| Failure::new(FailureKind::BadCast, format!("{a} and {b} can't be compared")))?,
        },
    }))
}

/// The order of the first pair that differs.
fn in_turn<'v>(pairs: impl Iterator<Item = (&'v Value, &'v Value)>, collation: Collation) -> Outcome<Option<Ordering>> {
    for (a, b) in pairs {
        match order(a, b, collation)? {
            Some(Ordering::Equal) => {}
            decided => return Ok(decided),
        }
    }
    Ok(Some(Ordering::Equal))
}

/// For comparing only: a month counts as 30 days, as in PostgreSQL.
fn interval_length(interval: &values::Interval) -> i128 {
    (i128::from(interval.months) * 30 + i128::from(interval.days)) * DAY_NANOS + interval.nanoseconds
}

fn numbers(a: &Value, b: &Value) -> Option<Ordering> {
    if let (Value::Float(_), _) | (_, Value::Float(_)) = (a, b) {
        let (a, b) = (as_float(a)?, as_float(b)?);
        // NaN is the greatest, and equal to itself, where it exists.
        return Some(a.partial_cmp(&b).unwrap_or_else(|| a.is_nan().cmp(&b.is_nan())));
    }
    Some(as_decimal(a)?.cmp(&as_decimal(b)?))
}

/// The exact number a numeric value is.
pub(crate) fn as_decimal(value: &Value) -> Option<Decimal> {
    match value {
        Value::Integer(i) => Some(Decimal::from(*i)),
        Value::Boolean(b) => Some(Decimal::from(u8::from(*b))),
        Value::Decimal(d) => Some((**d).clone()),
        Value::Float(f) => f.to_string().parse().ok(),
        _ => None,
    }
}

/// The floating point number a numeric value is.
pub(crate) fn as_float(value: &Value) -> Option<f64> {
    match value {
        Value::Float(f) => Some(*f),
        Value::Integer(i) => Some(*i as f64),
        Value::Boolean(b) => Some(f64::from(u8::from(*b))),
        // Through text: the nearest float, not a quotient of two.
        Value::Decimal(d) => d.to_plain_string().parse().ok().or_else(|| d.to_f64()),
        _ => None,
    }
}

/// Where kinds of value stand in SQLite's order, which has room for them side by side.
fn class(value: &Value) -> u8 {
    match value {
        Value::Null => 0,
        Value::Boolean(_) | Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => 1,
        Value::Text(_) => 2,
        Value::Binary(_) => 3,
        _ => 4,
    }
}

/// An order over values of any kind: numbers, then strings, then bytes (SQLite).
pub(crate) fn loose_order(a: &Value, b: &Value, collation: Collation) -> Option<Ordering> {
    if a.is_null() || b.is_null() {
        return None;
    }
    let order = class(a).cmp(&class(b));
    if order.is_ne() {
        return Some(order);
    }
    Some(self::order(a, b, collation).ok().flatten().unwrap_or_else(|| values::sort_order(a, b)))
}

/// An order over all values for sorting, NULL apart.
pub(crate) fn sort_order(a: &Value, b: &Value, collation: Collation) -> Ordering {
    match order(a, b, collation) {
        Ok(Some(order)) => order,
        _ => values::sort_order(a, b),
    }
}

/// What two values must share to be in one group: equal values have equal keys.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub(crate) enum GroupKey {
    Null,
    Integer(i64),
    Float(u64),
    Decimal(Decimal),
    Text(CompactString),
    Binary(Vec<u8>),
    Moment(DateTime),
    Time(jiff::civil::Time),
    Interval(i128),
    List(Vec<GroupKey>),
}

pub(crate) fn group_key(value: &Value, collation: Collation) -> GroupKey {
    match value {
        Value::Null => GroupKey::Null,
        Value::Text(t) if collation.is_binary() => GroupKey::Text(t.clone()),
        Value::Text(t) => GroupKey::Text(collated(t, collation)),
        Value::Integer(i) => GroupKey::Integer(*i),
        Value::Boolean(b) => GroupKey::Integer(i64::from(*b)),
        Value::Decimal(d) => decimal_key(d),
        Value::Float(f) if f.fract() == 0.0 && f.abs() < 9e15 => GroupKey::Integer(*f as i64),
        Value::Float(f) => GroupKey::Float(f.to_bits()),
        Value::Binary(bytes) => GroupKey::Binary(bytes.to_vec()),
        Value::Date(d) => GroupKey::Moment(d.at(0, 0, 0, 0)),
        Value::Timestamp(t) | Value::Instant(t, _) => GroupKey::Moment(*t),
        Value::Time(t) => GroupKey::Time(*t),
        Value::Interval(i) => GroupKey::Interval(interval_length(i)),
        Value::Array(items) => GroupKey::List(items.iter().map(|v| group_key(v, collation)).collect()),
        Value::Struct(fields) => GroupKey::List(fields.iter().map(|(_, v)| group_key(v, collation)).collect()),
    }
}

fn decimal_key(decimal: &Decimal) -> GroupKey {
    let plain = decimal.normalized();
    match plain.to_i64() {
        Some(whole) if plain.fractional_digit_count() <= 0 => GroupKey::Integer(whole),
        _ => GroupKey::Decimal(plain),
    }
}
