//! Types as spelled, and conversions between values.

use std::str::FromStr;

use bigdecimal::{RoundingMode, ToPrimitive};
use jiff::civil::{Date, DateTime};
use syntax::DialectName;
use syntax::tree::TypeName;
use values::{DataType, Decimal, Value};

use crate::behaviour::Behaviour;
use crate::failure::{Failure, FailureKind};

/// The type a column definition or CAST names.
pub(crate) fn column_type(name: &TypeName, behaviour: &Behaviour) -> DataType {
    let word = name.words.rsplit('.').next().unwrap_or("").to_ascii_uppercase();
    let number = |i: usize| name.arguments.get(i).and_then(|a| a.split(' ').next()?.parse::<i64>().ok());
    let oracle = behaviour.name() == DialectName::Oracle;
    match word.as_str() {
        "NUMBER" | "DECIMAL" | "NUMERIC" | "DEC" | "MONEY" | "BIGNUMERIC" => {
            let default = match behaviour.name() {
                DialectName::Mysql | DialectName::Mariadb | DialectName::Spark => Some((10, 0)),
                DialectName::Tsql => Some((18, 0)),
                _ => None,
            };
            match (number(0), number(1)) {
                (Some(p), s) => DataType::Decimal(Some((p as u16, s.unwrap_or(0) as i16))),
                _ => DataType::Decimal(default),
            }
        }
        "INT" | "INTEGER" | "SMALLINT" | "BIGINT" | "TINYINT" | "MEDIUMINT" | "INT4" | "INT8" | "INT2" | "INT64" | "SIGNED"
        | "UNSIGNED" | "SERIAL" | "BIGSERIAL" | "SIGNED INTEGER" | "UNSIGNED INTEGER" | "LONG" | "BYTE" | "SHORT" | "HUGEINT"
            if !(oracle && word == "LONG") =>
        {
            DataType::Integer(if matches!(word.as_str(), "SMALLINT" | "INT2") {
                16
            } else if matches!(word.as_str(), "INT" | "INTEGER" | "INT4") {
                32
            } else {
                64
            })
        }
        "FLOAT" | "REAL" | "DOUBLE" | "DOUBLE PRECISION" | "FLOAT64" | "FLOAT8" | "FLOAT4" | "BINARY_DOUBLE" | "BINARY_FLOAT" => {
            DataType::Float(64)
        }
        "BOOLEAN" | "BOOL" => DataType::Boolean,
        "BIT" if behaviour.name() == DialectName::Tsql => DataType::Boolean,
        "DATE" if oracle => DataType::Timestamp,
        "DATE" => DataType::Date,
        "DATETIME" | "DATETIME2" | "TIMESTAMP" | "SMALLDATETIME" | "TIMESTAMPTZ" => DataType::Timestamp,
        "CHAR" | "NCHAR" | "CHARACTER" | "BPCHAR" => {
            DataType::Text { length: number(0).and_then(|n| u32::try_from(n).ok()), fixed: number(0).is_some() }
        }
        "VARCHAR" | "VARCHAR2" | "NVARCHAR" | "NVARCHAR2" | "CHARACTER VARYING" | "STRING" | "TEXT" | "CLOB" | "NTEXT" | "LONGTEXT" => {
            DataType::Text { length: number(0).and_then(|n| u32::try_from(n).ok()), fixed: false }
        }
        _ => DataType::Unknown,
    }
}

/// A value as a column of a type keeps it; one that doesn't fit stays as it is.
pub(crate) fn stored(value: Value, data_type: &DataType, behaviour: &Behaviour) -> Value {
    if let (Value::Text(text), true) = (&value, behaviour.empty_is_null)
        && text.is_empty()
    {
        return Value::Null;
    }
    match data_type {
        DataType::Unknown => value,
        _ => cast(value.clone(), data_type, behaviour).unwrap_or(value),
    }
}

fn bad(value: &Value, to: &str, behaviour: &Behaviour) -> Failure {
    Failure::new(FailureKind::BadCast, format!("'{value}' can't be converted to {to}")).coded(behaviour.code(FailureKind::BadCast))
}

/// A number of whatever kind a text holds.
pub(crate) fn parse_number(text: &str) -> Option<Value> {
    let text = text.trim();
    if let Ok(whole) = text.parse::<i64>() {
        return Some(Value::Integer(whole));
    }
    if text.contains(['e', 'E']) {
        return text.parse::<f64>().ok().map(Value::Float);
    }
    Decimal::from_str(text).ok().map(Value::decimal)
}

/// The number that begins a text, as MySQL and SQLite read it; 0 if none does.
pub(crate) fn leading_number(text: &str) -> Value {
    let text = text.trim_start();
    let mut end = 0;
    let mut seen_point = false;
    for (i, c) in text.char_indices() {
        let point = c == '.' && !seen_point;
        seen_point |= point;
        let fits = c.is_ascii_digit() || (i == 0 && matches!(c, '-' | '+')) || point;
        if !fits {
            break;
        }
        end = i + c.len_utf8();
    }
    parse_number(&text[..end]).unwrap_or(Value::Integer(0))
}

pub(crate) fn to_decimal(value: &Value) -> Option<Decimal> {
    match value {
        Value::Integer(i) => Some(Decimal::from(*i)),
        Value::Boolean(b) => Some(Decimal::from(u8::from(*b))),
        Value::Decimal(d) => Some((**d).clone()),
        Value::Float(f) => Decimal::from_str(&f.to_string()).ok(),
        Value::Text(t) => parse_number(t).and_then(|v| to_decimal(&v)),
        _ => None,
    }
}

pub(crate) fn to_float(value: &Value) -> Option<f64> {
    match value {
        Value::Float(f) => Some(*f),
        Value::Integer(i) => Some(*i as f64),
        other => to_decimal(other)?.to_f64(),
    }
}

/// Half away from zero, as every dialect rounds exact numbers.
pub(crate) fn rounded(decimal: &Decimal, scale: i64) -> Decimal {
    decimal.with_scale_round(scale, RoundingMode::HalfUp)
}

/// CAST.
pub(crate) fn cast(value: Value, to: &DataType, behaviour: &Behaviour) -> Result<Value, Failure> {
    if value.is_null() {
        return Ok(Value::Null);
    }
    match to {
        DataType::Integer(_) => cast_integer(&value, behaviour),
        DataType::Decimal(form) => {
            let number =
                to_decimal(&value).or_else(|| lenient_number(&value, behaviour)).ok_or_else(|| bad(&value, "a number", behaviour))?;
            Ok(match form {
                Some((_, scale)) => Value::decimal(rounded(&number, i64::from(*scale))),
                None => simplest(number),
            })
        }
        DataType::Float(_) => to_float(&value).map(Value::Float).ok_or_else(|| bad(&value, "a number", behaviour)),
        DataType::Boolean => match &value {
            Value::Boolean(_) => Ok(value),
            other => Ok(Value::Boolean(to_decimal(other).is_some_and(|d| d != 0))),
        },
        DataType::Text { length, fixed } => {
            let mut text = as_text(&value, behaviour);
            if let Some(length) = length {
                text = text.chars().take(*length as usize).collect();
                if *fixed && !matches!(behaviour.name(), DialectName::Mysql | DialectName::Mariadb) {
                    let missing = (*length as usize).saturating_sub(text.chars().count());
                    text.extend(std::iter::repeat_n(' ', missing));
                }
            }
            Ok(Value::text(text))
        }
        DataType::Date => match &value {
            Value::Date(_) => Ok(value),
            Value::Timestamp(t) => Ok(Value::Date(t.date())),
            Value::Text(t) => parse_timestamp(t).map(|t| Value::Date(t.date())).ok_or_else(|| bad(&value, "a date", behaviour)),
            _ => Err(bad(&value, "a date", behaviour)),
        },
        DataType::Timestamp | DataType::TimestampZoned => match &value {
            Value::Timestamp(_) => Ok(value),
            Value::Date(d) => Ok(Value::Timestamp(d.at(0, 0, 0, 0))),
            Value::Text(t) => parse_timestamp(t).map(Value::Timestamp).ok_or_else(|| bad(&value, "a date and time", behaviour)),
            _ => Err(bad(&value, "a date and time", behaviour)),
        },
        _ => Err(Failure::unknown(&format!("a cast to {to}"))),
    }
}

fn cast_integer(value: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    let number = to_decimal(value).or_else(|| lenient_number(value, behaviour)).ok_or_else(|| bad(value, "a whole number", behaviour))?;
    // SQL Server, SQLite and Spark cut, the others round (half away from zero).
    let cuts = matches!(behaviour.name(), DialectName::Tsql | DialectName::Sqlite | DialectName::Spark);
    let whole = if cuts { number.with_scale_round(0, RoundingMode::Down) } else { rounded(&number, 0) };
    whole
        .to_i64()
        .map(Value::Integer)
        .ok_or_else(|| Failure::new(FailureKind::Overflow, format!("{value} is too great for a whole number")))
}

/// MySQL and SQLite take the number a text begins with.
fn lenient_number(value: &Value, behaviour: &Behaviour) -> Option<Decimal> {
    let lenient = matches!(behaviour.name(), DialectName::Mysql | DialectName::Mariadb | DialectName::Sqlite);
    match value {
        Value::Text(t) if lenient => to_decimal(&leading_number(t)),
        _ => None,
    }
}

/// A whole decimal as an integer where it fits.
pub(crate) fn simplest(number: Decimal) -> Value {
    if number.fractional_digit_count() <= 0
        && let Some(whole) = number.to_i64()
    {
        return Value::Integer(whole);
    }
    Value::decimal(number)
}

/// The text a value is joined or shown as.
pub(crate) fn as_text(value: &Value, behaviour: &Behaviour) -> String {
    match value {
        // Oracle drops zeros at the end, and the zero before the point.
        Value::Decimal(d) if behaviour.name() == DialectName::Oracle => {
            let text = d.normalized().to_plain_string();
            match text.strip_prefix("0.") {
                Some(rest) => format!(".{rest}"),
                None => text.strip_prefix("-0.").map_or(text.clone(), |rest| format!("-.{rest}")),
            }
        }
        Value::Boolean(b) if behaviour.conditions_are_numbers => u8::from(*b).to_string(),
        other => other.to_string(),
    }
}

/// ISO dates, with or without a time.
pub(crate) fn parse_timestamp(text: &str) -> Option<DateTime> {
    let text = text.trim();
    text.parse::<DateTime>().ok().or_else(|| text.parse::<Date>().ok().map(|d| d.at(0, 0, 0, 0))).or_else(|| {
        // SQL Server: 20260131.
        let digits = text.len() == 8 && text.bytes().all(|b| b.is_ascii_digit());
        let number = |from: usize, to: usize| text.get(from..to).and_then(|t| t.parse::<i16>().ok());
        if !digits {
            return None;
        }
        Date::new(number(0, 4)?, number(4, 6)? as i8, number(6, 8)? as i8).ok().map(|d| d.at(0, 0, 0, 0))
    })
}
