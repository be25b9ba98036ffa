//! Sorting many rows: nearly all comparisons are decided by one number a row.

use std::cmp::Ordering;

use syntax::tree::{Direction, NullOrder};
use values::Value;

use crate::behaviour::Collation;
use crate::compare::{as_float, collated, sort_order};
use crate::moment::{as_moment, nanos};
use crate::plan::Key;

/// Fewer rows than this are not worth preparing.
const MANY: usize = 64;

/// The strings among sort keys as their collation compares them, so that it is done once a row.
pub(crate) fn fold(keys: &mut [Value], by: &[Key]) {
    for (value, key) in keys.iter_mut().zip(by) {
        if let Value::Text(text) = value
            && !key.collation.is_binary()
        {
            *text = collated(text, key.collation);
        }
    }
}

/// The order of two rows by their sort keys.
pub(crate) fn compare_keys(a: &[Value], b: &[Value], keys: &[Key]) -> Ordering {
    compare_by(a, b, keys, |key| key.collation)
}

/// The same for keys that are folded.
pub(crate) fn compare_folded(a: &[Value], b: &[Value], keys: &[Key]) -> Ordering {
    compare_by(a, b, keys, |_| Collation::BINARY)
}

fn compare_by(a: &[Value], b: &[Value], keys: &[Key], collation: impl Fn(&Key) -> Collation) -> Ordering {
    for ((a, b), key) in a.iter().zip(b).zip(keys) {
        let order = match (a.is_null(), b.is_null()) {
            (true, true) => Ordering::Equal,
            (true, false) if key.nulls == NullOrder::First => Ordering::Less,
            (true, false) => Ordering::Greater,
            (false, true) if key.nulls == NullOrder::First => Ordering::Greater,
            (false, true) => Ordering::Less,
            (false, false) => {
                let order = sort_order(a, b, collation(key));
                if key.direction == Some(Direction::Descending) { order.reverse() } else { order }
            }
        };
        if order.is_ne() {
            return order;
        }
    }
    Ordering::Equal
}

/// Sorts places of rows by the rows' folded keys; equal ones keep their order.
pub(crate) fn sort_places<'k>(places: &mut Vec<u32>, keys_of: impl Fn(u32) -> &'k [Value], by: &[Key]) {
    if places.len() < MANY {
        places.sort_by(|a, b| compare_folded(keys_of(*a), keys_of(*b), by));
        return;
    }
    let column = |at: usize| places.iter().map(|p| &keys_of(*p)[at]).collect::<Vec<_>>();
    let (first, exact) = digests(&column(0), &by[0]);
    // What a number doesn't tell of the first key must not be taken from the second.
    let (second, all_exact) = match by.get(1) {
        Some(key) if exact => digests(&column(1), key),
        Some(_) => (vec![0; places.len()], false),
        None => (vec![0; places.len()], exact),
    };
    let settled = all_exact && by.len() <= 2;
    let mut numbered: Vec<(u64, u64, u32)> = first.into_iter().zip(second).zip(&*places).map(|((a, b), p)| (a, b, *p)).collect();
    numbered.sort_by(|a, b| {
        let order = (a.0, a.1).cmp(&(b.0, b.1));
        if order.is_ne() || settled { order } else { compare_folded(keys_of(a.2), keys_of(b.2), by) }
    });
    places.clear();
    places.extend(numbered.into_iter().map(|(_, _, place)| place));
}

/// A number for each value whose order is the values' own, and whether equal numbers mean equal
/// values.
fn digests(values: &[&Value], key: &Key) -> (Vec<u64>, bool) {
    let mut exact = true;
    let shared = shared_start(values);
    let mut numbers = Vec::with_capacity(values.len());
    for value in values {
        let number = match value {
            Value::Null => None,
            Value::Text(text) => shared.map(|shared| {
                let rest = &text.as_bytes()[shared..];
                exact &= rest.len() <= 7 && !rest.contains(&0);
                let mut first = [0; 8];
                first.iter_mut().zip(rest).for_each(|(to, from)| *to = *from);
                u64::from_be_bytes(first)
            }),
            Value::Integer(_) | Value::Float(_) | Value::Decimal(_) if shared.is_none() => as_float(value).map(|f| {
                exact &= matches!(value, Value::Integer(i) if i.abs() < 1 << 51);
                ordered_bits(f)
            }),
            Value::Date(_) | Value::Timestamp(_) if shared.is_none() => as_moment(value).map(|moment| {
                let since = nanos(moment);
                exact &= since % 2000 == 0;
                (since.div_euclid(1000) as i64 as u64) ^ (1 << 63)
            }),
            _ => None,
        };
        if number.is_none() && !value.is_null() {
            // A kind that has no number: nothing is reported.
            return (vec![0; values.len()], false);
        }
        numbers.push(number);
    }
    if !of_one_kind(values) {
        return (vec![0; values.len()], false);
    }
    let descending = key.direction == Some(Direction::Descending);
    let nulls_first = key.nulls == NullOrder::First;
    let placed = |number: Option<u64>| match number {
        Some(n) => {
            let n = n >> 1;
            let n = if descending { !n & (u64::MAX >> 1) } else { n };
            if nulls_first { n | 1 << 63 } else { n }
        }
        None if nulls_first => 0,
        None => u64::MAX,
    };
    (numbers.into_iter().map(placed).collect(), exact)
}

/// Numbers don't stand in one order with moments.
fn of_one_kind(values: &[&Value]) -> bool {
    let is_moment = |v: &&&Value| matches!(v, Value::Date(_) | Value::Timestamp(_));
    let moments = values.iter().filter(is_moment).count();
    moments == 0 || moments == values.iter().filter(|v| !v.is_null()).count()
}

/// How many bytes all strings start with alike; `None` if there is no text.
fn shared_start(values: &[&Value]) -> Option<usize> {
    let mut strings = values.iter().filter_map(|v| match v {
        Value::Text(text) => Some(text.as_bytes()),
        _ => None,
    });
    let first = strings.next()?;
    Some(strings.fold(first.len(), |shared, text| first[..shared].iter().zip(text).take_while(|(a, b)| a == b).count()))
}

/// Bits of a float that compare as whole numbers as the floats do.
fn ordered_bits(f: f64) -> u64 {
    // -0.0 and 0.0 are equal; every NaN is the greatest.
    let bits = if f == 0.0 {
        0
    } else if f.is_nan() {
        f64::NAN.to_bits() & (u64::MAX >> 1)
    } else {
        f.to_bits()
    };
    if bits >> 63 == 1 { !bits } else { bits | 1 << 63 }
}
