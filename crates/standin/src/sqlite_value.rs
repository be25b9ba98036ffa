//! SQLite's affinities: what a column makes of a value (Datatypes In SQLite, 3).

use syntax::DialectName;
use values::Value;

use crate::compare::as_float;
use crate::convert::parse_number;
use crate::types::Type;

/// A value as a column of an affinity keeps it.
pub(crate) fn with_affinity(value: Value, ty: &Type) -> Value {
    match ty {
        Type::Text(_) => match value {
            Value::Integer(i) => Value::text(i.to_string()),
            Value::Float(f) => Value::text(crate::convert::float_text(f, DialectName::Sqlite)),
            other => other,
        },
        Type::Float => numeric(value, true),
        Type::Any | Type::Null | Type::Binary { .. } => value,
        _ => numeric(value, false),
    }
}

/// A string that is a number becomes one; a float without fraction a whole number, unless the column
/// is REAL.
pub(crate) fn numeric(value: Value, real: bool) -> Value {
    let number = match value {
        Value::Text(ref text) => parse_number(text).unwrap_or(value),
        other => other,
    };
    match number {
        // There is no type for days and times: they are strings.
        Value::Date(_) | Value::Time(_) | Value::Timestamp(_) => Value::text(number.to_string()),
        Value::Boolean(b) => Value::Integer(i64::from(b)),
        Value::Integer(i) if real => Value::Float(i as f64),
        Value::Decimal(_) | Value::Float(_) => {
            let f = as_float(&number).unwrap_or(0.0);
            if !real && f.fract() == 0.0 && f.abs() < 9e15 { Value::Integer(f as i64) } else { Value::Float(f) }
        }
        other => other,
    }
}
