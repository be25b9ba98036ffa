//! What aggregates make of the rows they gathered.

use bigdecimal::{RoundingMode, Zero};
use syntax::DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, SqlServer, Sqlite};
use values::{Decimal, Value};

use crate::aggregate::{AggregateKind, Gathered, not_for};
use crate::behaviour::Behaviour;
use crate::compare::{as_decimal, as_float, sort_order};
use crate::convert::{as_text, rounded, simplest, to_float};
use crate::execute::compare_keys;
use crate::failure::{Failure, FailureKind, Outcome};
use crate::plan::AggregatePlan;
use crate::types::{Family, Type};

pub(crate) fn list(rows: &[&Gathered], plan: &AggregatePlan, parameters: &[Value], behaviour: &Behaviour) -> Outcome<Value> {
    if rows.is_empty() {
        return Ok(Value::Null);
    }
    let default = if matches!(behaviour.name(), Mysql | Mariadb | Sqlite | Bigquery) || (behaviour.name() == Duckdb) { "," } else { "" };
    let separator = match parameters.first() {
        Some(Value::Null) => String::new(),
        Some(value) => as_text(value, &Type::TEXT, behaviour),
        None => default.to_string(),
    };
    let limit = parameters.get(1).and_then(crate::convert::whole).map_or(usize::MAX, |n| n.max(0) as usize);
    let part = |arguments: &[Value]| -> String {
        arguments.iter().enumerate().map(|(i, v)| as_text(v, plan.types.get(i).unwrap_or(&Type::Any), behaviour)).collect()
    };
    let mut text = rows.iter().take(limit).map(|(_, arguments)| part(arguments)).collect::<Vec<_>>().join(&separator);
    match behaviour.name() {
        // group_concat_max_len is 1024 bytes (1M from MariaDB 10.2 on).
        Mysql if text.len() > 1024 => {
            text = text
                .chars()
                .scan(0, |n, c| {
                    *n += c.len_utf8();
                    (*n <= 1024).then_some(c)
                })
                .collect();
        }
        SqlServer if text.len() > 8000 && plan.types[0].as_text().is_some_and(|t| t.length.is_some()) => {
            return Err(Failure::new(FailureKind::Overflow, "the list is longer than 8000 bytes").with_code("Msg 9829"));
        }
        Oracle if text.len() > 4000 => {
            return Err(Failure::new(FailureKind::Overflow, "the list is longer than 4000 bytes").with_code("ORA-01489"));
        }
        _ => {}
    }
    Ok(behaviour.text(text))
}

pub(crate) fn bits(kind: AggregateKind, values: impl Iterator<Item = Value>, behaviour: &Behaviour) -> Value {
    let numbers: Vec<i64> = values.filter_map(|v| crate::convert::whole(&v)).collect();
    if numbers.is_empty() {
        // MySQL: the neutral element.
        return match (behaviour.is_mysql(), kind) {
            (true, AggregateKind::BitAnd) => Value::decimal(Decimal::from(u64::MAX)),
            (true, _) => Value::Integer(0),
            _ => Value::Null,
        };
    }
    Value::Integer(match kind {
        AggregateKind::BitAnd => numbers.iter().fold(-1, |a, b| a & b),
        AggregateKind::BitOr => numbers.iter().fold(0, |a, b| a | b),
        _ => numbers.iter().fold(0, |a, b| a ^ b),
    })
}

pub(crate) fn mode(mut values: Vec<Value>, plan: &AggregatePlan) -> Value {
    values.sort_by(|a, b| sort_order(a, b, plan.collation));
    let mut best: Option<(usize, &Value)> = None;
    let mut start = 0;
    while start < values.len() {
        let end = values[start..].iter().take_while(|v| sort_order(v, &values[start], plan.collation).is_eq()).count() + start;
        if best.is_none_or(|(count, _)| end - start > count) {
            best = Some((end - start, &values[start]));
        }
        start = end;
    }
    best.map_or(Value::Null, |(_, value)| value.clone())
}

/// Between the two values at the place, in proportion.
pub(crate) fn percentile_continuous(values: &[Value], share: &Decimal, plan: &AggregatePlan, behaviour: &Behaviour) -> Outcome<Value> {
    if values.is_empty() {
        return Ok(Value::Null);
    }
    let place = share * Decimal::from(values.len() as i64 - 1);
    let low = place.with_scale_round(0, RoundingMode::Floor);
    let part = &place - &low;
    let index = crate::convert::whole(&Value::decimal(low)).unwrap_or(0) as usize;
    let (a, b) = (&values[index], &values[(index + 1).min(values.len() - 1)]);
    if let (Some(x), Some(y)) = (crate::moment::as_moment(a), crate::moment::as_moment(b)) {
        let (x, y) = (crate::moment::nanos(x), crate::moment::nanos(y));
        let step = (as_float(&Value::decimal(part)).unwrap_or(0.0) * (y - x) as f64).round() as i128;
        return Ok(crate::moment::moment_of(x + step).map_or(Value::Null, Value::Timestamp));
    }
    if plan.result.family() == Family::Exact {
        let (Some(x), Some(y)) = (as_decimal(a), as_decimal(b)) else { return Err(Failure::unknown("a percentile of these values")) };
        return Ok(simplest((&x + (y - &x) * part).normalized()));
    }
    let (Some(x), Some(y)) = (to_float(a), to_float(b)) else { return Err(not_for(&Type::TEXT, behaviour)) };
    let part = if part.is_zero() { 0.0 } else { as_float(&Value::decimal(rounded(&part, 18))).unwrap_or(0.0) };
    Ok(Value::Float(x + (y - x) * part))
}

/// The place a row with these values would have.
pub(crate) fn hypothetical(rows: &[&Gathered], plan: &AggregatePlan, parameters: &[Value]) -> Value {
    let before: Vec<&&Gathered> = rows.iter().filter(|(keys, _)| compare_keys(keys, parameters, &plan.order).is_lt()).collect();
    let equal = rows.iter().filter(|(keys, _)| compare_keys(keys, parameters, &plan.order).is_eq()).count();
    match plan.kind {
        AggregateKind::Rank => Value::Integer(before.len() as i64 + 1),
        AggregateKind::DenseRank => {
            let distinct =
                before.iter().enumerate().filter(|(i, row)| *i == 0 || compare_keys(&before[i - 1].0, &row.0, &plan.order).is_ne()).count();
            Value::Integer(distinct as i64 + 1)
        }
        AggregateKind::PercentRank => Value::Float(if rows.is_empty() { 0.0 } else { before.len() as f64 / rows.len() as f64 }),
        _ => Value::Float((before.len() + equal + 1) as f64 / (rows.len() + 1) as f64),
    }
}

/// MariaDB gives a spread of exact numbers four digits more than they have (seen on MariaDB 10.11).
pub(crate) fn mariadb_digits(spread: Value, of: Option<&Type>, behaviour: &Behaviour) -> Value {
    let scale = match of {
        Some(Type::Integer(_)) => 0,
        Some(Type::Decimal(_, scale)) => i32::from(*scale),
        _ => return spread,
    };
    match spread {
        Value::Float(f) if behaviour.name() == Mariadb => {
            let unit = 10f64.powi(scale + 4);
            Value::Float((f * unit).round() / unit)
        }
        other => other,
    }
}
