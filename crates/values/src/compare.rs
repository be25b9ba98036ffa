//! When values of two engines are the same, and how rows are put in an order of our own.

use std::cmp::Ordering;

use bigdecimal::ToPrimitive;
use jiff::civil::DateTime;

use crate::value::{Decimal, Value};

/// How far apart two numbers may be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tolerance {
    /// For floats: the difference allowed, as a share of the greater one.
    pub float_share: f64,
    /// Computed decimals are compared at the scale of the coarser one, one unit in its last place
    /// apart at most.
    pub coarse_decimals: bool,
}

impl Default for Tolerance {
    fn default() -> Self {
        Tolerance { float_share: 1e-9, coarse_decimals: true }
    }
}

/// Whether two values count as the same: NULL only equals NULL and is not '', numbers by value,
/// dates by instant (a day is its midnight), booleans as 1 and 0, text exactly.
pub fn same_value(a: &Value, b: &Value, tolerance: Tolerance) -> bool {
    use Value::{Array, Binary, Boolean, Float, Integer, Null, Struct, Text};
    match (a, b) {
        (Null, Null) => true,
        (Null, _) | (_, Null) => false,
        (Text(a), Text(b)) => a == b,
        (Binary(a), Binary(b)) => a == b,
        (Array(a), Array(b)) => a.len() == b.len() && a.iter().zip(b.iter()).all(|(a, b)| same_value(a, b, tolerance)),
        (Struct(a), Struct(b)) => a.len() == b.len() && a.iter().zip(b.iter()).all(|((_, a), (_, b))| same_value(a, b, tolerance)),
        // An engine without lists gives them as JSON.
        (Array(_) | Struct(_), Text(text)) => json(text).is_some_and(|read| same_value(a, &read, tolerance)),
        (Text(text), Array(_) | Struct(_)) => json(text).is_some_and(|read| same_value(&read, b, tolerance)),
        (Boolean(a), Boolean(b)) => a == b,
        (Integer(a), Integer(b)) => a == b,
        (Float(_), _) | (_, Float(_)) => match (as_float(a), as_float(b)) {
            (Some(x), Some(y)) => same_float(x, y, tolerance) || cut_decimal(a, b, tolerance) || cut_decimal(b, a, tolerance),
            _ => false,
        },
        _ => match (as_decimal(a), as_decimal(b)) {
            (Some(a), Some(b)) => same_decimal(&a, &b, tolerance),
            (None, None) => match (as_instant(a), as_instant(b)) {
                (Some(a), Some(b)) => a == b,
                (None, None) => a == b || dates_as_text(a, b),
                _ => dates_as_text(a, b),
            },
            _ => false,
        },
    }
}

/// The list or struct that a JSON text holds.
fn json(text: &str) -> Option<Value> {
    fn value(json: &serde_json::Value) -> Option<Value> {
        Some(match json {
            serde_json::Value::Null => Value::Null,
            serde_json::Value::Bool(b) => Value::Boolean(*b),
            serde_json::Value::Number(n) => n.as_i64().map(Value::Integer).or_else(|| n.to_string().parse().ok().map(Value::decimal))?,
            serde_json::Value::String(text) => Value::text(text.as_str()),
            serde_json::Value::Array(items) => Value::Array(Box::new(items.iter().map(value).collect::<Option<_>>()?)),
            serde_json::Value::Object(fields) => {
                let field = |(name, json): (&String, &serde_json::Value)| Some((name.as_str().into(), value(json)?));
                Value::Struct(Box::new(fields.iter().map(field).collect::<Option<_>>()?))
            }
        })
    }
    value(&serde_json::from_str(text).ok()?).filter(|read| matches!(read, Value::Array(_) | Value::Struct(_)))
}

/// An engine without date types (SQLite) gives dates as ISO text.
fn dates_as_text(a: &Value, b: &Value) -> bool {
    let ((Value::Text(text), date) | (date, Value::Text(text))) = (a, b) else { return false };
    if let Value::Time(time) = date {
        return text.parse::<jiff::civil::Time>().is_ok_and(|read| read == *time);
    }
    let Some(instant) = as_instant(date) else { return false };
    let read = text.parse::<DateTime>().ok().or_else(|| text.parse::<jiff::civil::Date>().ok().map(|d| d.at(0, 0, 0, 0)));
    read == Some(instant)
}

fn as_instant(value: &Value) -> Option<DateTime> {
    match value {
        Value::Date(d) => Some(d.at(0, 0, 0, 0)),
        Value::Timestamp(t) | Value::Instant(t, _) => Some(*t),
        _ => None,
    }
}

fn as_float(value: &Value) -> Option<f64> {
    match value {
        Value::Float(f) => Some(*f),
        Value::Integer(i) => Some(*i as f64),
        Value::Decimal(d) => d.to_f64(),
        Value::Boolean(b) => Some(f64::from(u8::from(*b))),
        _ => None,
    }
}

fn as_decimal(value: &Value) -> Option<Decimal> {
    match value {
        Value::Integer(i) => Some(Decimal::from(*i)),
        Value::Boolean(b) => Some(Decimal::from(u8::from(*b))),
        Value::Decimal(d) => Some((**d).clone()),
        _ => None,
    }
}

fn same_float(a: f64, b: f64, tolerance: Tolerance) -> bool {
    if a == b || (a.is_nan() && b.is_nan()) {
        return true;
    }
    (a - b).abs() <= tolerance.float_share * a.abs().max(b.abs())
}

/// A quotient that one engine cuts to a decimal and another holds as a float: the same to the last
/// place of the decimal. MySQL's quotient of whole numbers has four places (div_precision_increment);
/// stored decimals mostly have fewer.
fn cut_decimal(decimal: &Value, float: &Value, tolerance: Tolerance) -> bool {
    const LEAST_PLACES: i64 = 4;
    let (Value::Decimal(decimal), Value::Float(float)) = (decimal, float) else { return false };
    let places = decimal.fractional_digit_count();
    let (true, Some(near)) = (tolerance.coarse_decimals && places >= LEAST_PLACES, decimal.to_f64()) else { return false };
    (near - float).abs() <= 10f64.powi(-(places as i32))
}

fn same_decimal(a: &Decimal, b: &Decimal, tolerance: Tolerance) -> bool {
    if a == b {
        return true;
    }
    let scale = a.fractional_digit_count().min(b.fractional_digit_count());
    // Whole numbers are exact: only digits after the point can have been cut.
    if !tolerance.coarse_decimals || scale <= 0 {
        return false;
    }
    let unit = Decimal::new(1.into(), scale);
    (a - b).abs() <= unit
}

/// A total order over values, for sorting results before they are compared as multisets. It is no
/// engine's order.
pub fn sort_order(a: &Value, b: &Value) -> Ordering {
    fn rank(value: &Value) -> u8 {
        match value {
            Value::Null => 0,
            Value::Boolean(_) | Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => 1,
            Value::Text(_) => 2,
            Value::Binary(_) => 3,
            Value::Date(_) | Value::Timestamp(_) | Value::Instant(..) => 4,
            Value::Time(_) | Value::Interval(_) => 5,
            Value::Array(_) => 6,
            Value::Struct(_) => 7,
        }
    }
    match (a, b) {
        (Value::Integer(a), Value::Integer(b)) => a.cmp(b),
        (Value::Text(a), Value::Text(b)) => a.cmp(b),
        (Value::Array(a), Value::Array(b)) => {
            a.iter().zip(b.iter()).map(|(a, b)| sort_order(a, b)).find(|o| o.is_ne()).unwrap_or_else(|| a.len().cmp(&b.len()))
        }
        _ => rank(a).cmp(&rank(b)).then_with(|| match (as_float(a), as_float(b)) {
            (Some(a), Some(b)) => a.total_cmp(&b),
            _ => as_instant(a).cmp(&as_instant(b)).then_with(|| a.to_string().cmp(&b.to_string())),
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::str::FromStr;

    fn decimal(text: &str) -> Value {
        Value::decimal(Decimal::from_str(text).expect("decimal"))
    }

    fn list(items: &[Value]) -> Value {
        Value::Array(Box::new(items.to_vec()))
    }

    #[test]
    fn values_of_two_engines() {
        let day = jiff::civil::date(2026, 1, 31);
        for (a, b, same) in [
            (Value::Null, Value::Null, true),
            (Value::Null, Value::text(""), false),
            (Value::text("quay "), Value::text("quay"), false),
            (Value::Integer(1), decimal("1.00"), true),
            (Value::Integer(1), Value::Boolean(true), true),
            (Value::Integer(10), decimal("10.4"), false),
            (decimal("0.3333"), decimal("0.33333333"), true),
            (decimal("0.34"), decimal("0.36"), false),
            (Value::Float(0.1 + 0.2), Value::Float(0.3), true),
            (Value::Float(1.0), Value::Float(1.1), false),
            (Value::Date(day), Value::Timestamp(day.at(0, 0, 0, 0)), true),
            (Value::Date(day), Value::Timestamp(day.at(0, 0, 1, 0)), false),
            (Value::Date(day), Value::text("2026-01-31"), true),
            (Value::text("1"), Value::Integer(1), false),
            (list(&[Value::Integer(1), Value::Null]), Value::text("[1, null]"), true),
            (list(&[Value::text("a")]), Value::text("[\"b\"]"), false),
            (list(&[]), Value::text(""), false),
            (list(&[decimal("1.50")]), Value::text("[1.5]"), true),
        ] {
            assert_eq!(same_value(&a, &b, Tolerance::default()), same, "{a} and {b}");
            assert_eq!(same_value(&b, &a, Tolerance::default()), same, "{b} and {a}");
        }
    }
}
