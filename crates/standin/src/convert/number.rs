//! Conversions to numbers and truth values.

use std::str::FromStr;

use bigdecimal::{RoundingMode, Signed, ToPrimitive, Zero};
use syntax::DialectName;
use values::{Decimal, Value};

use super::{How, bad, never};
use crate::behaviour::Behaviour;
use crate::compare::{as_decimal, as_float};
use crate::failure::{Codes, Failure, FailureKind, NOT_A_NUMBER, OVERFLOW, Outcome};
use crate::moment::{DAY_NANOS, nanos};
use crate::types::{Type, Whole};

/// A number of whatever kind a string holds.
pub(crate) fn parse_number(text: &str) -> Option<Value> {
    let text = text.trim();
    if let Ok(whole) = text.parse::<i64>() {
        return Some(Value::Integer(whole));
    }
    if !text.bytes().any(|b| b.is_ascii_digit()) {
        return None;
    }
    if text.contains(['e', 'E']) {
        return text.parse::<f64>().ok().map(Value::Float);
    }
    Decimal::from_str(text).ok().map(Value::decimal)
}

/// The number that begins a string, as MySQL and SQLite read it; 0 if none does.
pub(crate) fn leading_number(text: &str) -> Value {
    let text = text.trim_start();
    let bytes = text.as_bytes();
    let digits = |from: usize| bytes[from.min(bytes.len())..].iter().take_while(|b| b.is_ascii_digit()).count();
    let sign = usize::from(matches!(bytes.first(), Some(b'+' | b'-')));
    let mut end = sign + digits(sign);
    let mut found = end > sign;
    if bytes.get(end) == Some(&b'.') {
        let after = digits(end + 1);
        if found || after > 0 {
            end += 1 + after;
            found = true;
        }
    }
    if !found {
        return Value::Integer(0);
    }
    if matches!(bytes.get(end), Some(b'e' | b'E')) {
        let sign = usize::from(matches!(bytes.get(end + 1), Some(b'+' | b'-')));
        let after = digits(end + 1 + sign);
        if after > 0 {
            end += 1 + sign + after;
        }
    }
    parse_number(text[..end].trim_end_matches('.')).unwrap_or(Value::Integer(0))
}

/// Half away from zero, as every dialect rounds exact numbers.
pub(crate) fn rounded(decimal: &Decimal, scale: i64) -> Decimal {
    decimal.with_scale_round(scale, RoundingMode::HalfUp)
}

/// A whole decimal as an integer where it fits.
pub(crate) fn simplest(number: Decimal) -> Value {
    let plain = if number.fractional_digit_count() > 0 { number.normalized() } else { number };
    if plain.fractional_digit_count() <= 0
        && let Some(whole) = plain.to_i64()
    {
        return Value::Integer(whole);
    }
    Value::decimal(plain)
}

/// Oracle keeps 40 significant digits at most.
pub(crate) fn oracle_digits(number: Decimal) -> Decimal {
    if number.digits() > 40 { number.with_prec(40).normalized() } else { number }
}

/// The exact number of a numeric value, or of a string that is one.
pub(crate) fn to_decimal(value: &Value) -> Option<Decimal> {
    match value {
        Value::Text(t) => parse_number(t).and_then(|v| to_decimal(&v)),
        other => as_decimal(other),
    }
}

/// The floating point number of a numeric value, or of a string that is one.
pub(crate) fn to_float(value: &Value) -> Option<f64> {
    match value {
        Value::Text(t) => t.trim().parse().ok(),
        other => as_float(other),
    }
}

/// The whole part of a numeric value.
pub(crate) fn whole(value: &Value) -> Option<i64> {
    match value {
        Value::Integer(i) => Some(*i),
        Value::Float(f) => Some(*f as i64),
        other => to_decimal(other)?.with_scale_round(0, RoundingMode::Down).to_i64(),
    }
}

fn lenient(behaviour: &Behaviour) -> bool {
    behaviour.is_mysql() || behaviour.name() == DialectName::Sqlite
}

fn type_word(to: &Type) -> &'static str {
    match to {
        Type::Integer(_) => "a whole number",
        Type::Float | Type::Real => "a floating point number",
        _ => "a number",
    }
}

/// The exact number a value is by the dialect's rules.
pub(crate) fn to_number(value: &Value, from: &Type, to: &Type, behaviour: &Behaviour) -> Outcome<Decimal> {
    match value {
        Value::Text(text) => text_number(text, to, behaviour),
        Value::Date(_) | Value::Timestamp(_) | Value::Time(_) if behaviour.is_mysql() => Ok(digits_of(value)),
        Value::Timestamp(t)
            if behaviour.name() == DialectName::SqlServer
                && matches!(from, Type::DateTime(crate::types::Moment::Ticks | crate::types::Moment::Minutes)) =>
        {
            Ok(rounded(&(Decimal::from(nanos(*t) + SQL_SERVER_EPOCH_DAYS * DAY_NANOS) / Decimal::from(DAY_NANOS)), 10))
        }
        Value::Float(f) if !f.is_finite() => {
            Err(Failure::new(FailureKind::Overflow, format!("{f} is no exact number")).coded(behaviour.name(), OVERFLOW))
        }
        Value::Binary(bytes) => Ok(Decimal::from(bytes.iter().fold(0i128, |n, b| (n << 8) | i128::from(*b)))),
        other => as_decimal(other).ok_or_else(|| never(from, type_word(to), behaviour)),
    }
}

/// Days from 1900-01-01 to 1970-01-01.
pub(crate) const SQL_SERVER_EPOCH_DAYS: i128 = 25_567;

/// MySQL reads a date as the number its digits make.
fn digits_of(value: &Value) -> Decimal {
    let digits: String = value.to_string().split('.').next().unwrap_or("").chars().filter(char::is_ascii_digit).collect();
    Decimal::from_str(&digits).unwrap_or_default()
}

fn text_number(text: &str, to: &Type, behaviour: &Behaviour) -> Outcome<Decimal> {
    if lenient(behaviour) {
        return Ok(as_decimal(&leading_number(text)).unwrap_or_default());
    }
    let value = Value::text(text);
    if behaviour.name() == DialectName::SqlServer {
        let codes: Codes = match to {
            Type::Integer(w) if w.bits <= 32 => &[(DialectName::SqlServer, "Msg 245")],
            Type::Money => &[(DialectName::SqlServer, "Msg 235")],
            _ => &[(DialectName::SqlServer, "Msg 8114")],
        };
        let trimmed = text.trim();
        if trimmed.is_empty() && matches!(to, Type::Integer(_) | Type::Float | Type::Real | Type::Money) {
            return Ok(Decimal::zero());
        }
        let form = match to {
            Type::Integer(_) => trimmed.trim_start_matches(['+', '-']).bytes().all(|b| b.is_ascii_digit()),
            Type::Float | Type::Real => true,
            _ => !trimmed.contains(['e', 'E']),
        };
        let trimmed = if *to == Type::Money { &trimmed.replace([',', '$'], "") } else { trimmed };
        return form
            .then(|| parse_number(trimmed))
            .flatten()
            .and_then(|v| as_decimal(&v))
            .ok_or_else(|| bad(&value, type_word(to), behaviour, codes));
    }
    let strict_whole = matches!(to, Type::Integer(_)) && behaviour.is(&[DialectName::Postgres, DialectName::Bigquery, DialectName::Spark]);
    if strict_whole && !text.trim().trim_start_matches(['+', '-']).bytes().all(|b| b.is_ascii_digit()) {
        return Err(bad(&value, type_word(to), behaviour, NOT_A_NUMBER));
    }
    parse_number(text).and_then(|v| as_decimal(&v)).ok_or_else(|| bad(&value, type_word(to), behaviour, NOT_A_NUMBER))
}

/// A number with the digits of DECIMAL(precision, scale), rounded; an error if it has no room.
pub(crate) fn fit_decimal(number: &Decimal, precision: u16, scale: i16, behaviour: &Behaviour) -> Outcome<Decimal> {
    let fitted = rounded(number, i64::from(scale));
    let limit = Decimal::new(1.into(), -(i64::from(precision) - i64::from(scale)));
    if fitted.abs() < limit {
        return Ok(fitted);
    }
    if behaviour.is_mysql() {
        // MySQL takes the greatest there is, with a warning.
        let greatest = &limit - Decimal::new(1.into(), i64::from(scale));
        return Ok(if fitted.is_negative() { -greatest } else { greatest });
    }
    Err(Failure::new(FailureKind::Overflow, format!("{number} has no room in {precision} digits, {scale} of them after the point"))
        .coded(behaviour.name(), OVERFLOW))
}

/// A whole number that fits its type.
pub(crate) fn fit_integer(number: &Decimal, to: Whole, from_text: bool, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    let (low, high): (i128, i128) = if to.unsigned { (0, (1 << to.bits) - 1) } else { (-(1 << (to.bits - 1)), (1 << (to.bits - 1)) - 1) };
    let value = number.to_i128();
    match value {
        Some(v) if (low..=high).contains(&v) => Ok(integer(v)),
        Some(v) if behaviour.is_mysql() && how.explicit => {
            // CAST(-1 AS UNSIGNED) takes the bits as they are.
            Ok(if to.unsigned && v < 0 { integer(v.rem_euclid(1 << 64)) } else { integer(v.clamp(low, high)) })
        }
        Some(v) if behaviour.name() == DialectName::Spark && !behaviour.strict => Ok(integer(((v - low).rem_euclid(high - low + 1)) + low)),
        _ => {
            let code = match (behaviour.name(), from_text, to.bits) {
                (DialectName::SqlServer, true, 32) => "Msg 248",
                (DialectName::SqlServer, true, 8 | 16) => "Msg 244",
                (DialectName::SqlServer, false, 8 | 16) => "Msg 220",
                _ => "",
            };
            let failure = Failure::new(FailureKind::Overflow, format!("{number} has no room in a whole number of {} bits", to.bits));
            Err(if code.is_empty() { failure.coded(behaviour.name(), OVERFLOW) } else { failure.with_code(code) })
        }
    }
}

/// A whole number; beyond 64 bits as a decimal.
fn integer(value: i128) -> Value {
    i64::try_from(value).map_or_else(|_| Value::decimal(Decimal::from(value)), Value::Integer)
}

pub(super) fn to_integer(value: &Value, from: &Type, to: Whole, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    if from.is_dated()
        && behaviour.name() == DialectName::SqlServer
        && !matches!(from, Type::DateTime(crate::types::Moment::Ticks | crate::types::Moment::Minutes))
    {
        return Err(never(from, "a whole number", behaviour));
    }
    if let (Value::Integer(i), Type::Integer(_)) = (value, from) {
        return fit_integer(&Decimal::from(*i), to, false, how, behaviour);
    }
    let from_text = matches!(value, Value::Text(_));
    let number = to_number(value, from, &Type::Integer(to), behaviour)?;
    let cuts = matches!(behaviour.name(), DialectName::SqlServer | DialectName::Sqlite | DialectName::Spark)
        || (from_text && behaviour.is_mysql());
    let half_even = matches!(value, Value::Float(_))
        && behaviour.is(&[DialectName::Postgres, DialectName::Duckdb, DialectName::Mysql, DialectName::Mariadb]);
    // A DATETIME of SQL Server rounds to the nearest day.
    let cuts = cuts && !from.is_dated();
    let mode = if cuts {
        RoundingMode::Down
    } else if half_even {
        RoundingMode::HalfEven
    } else {
        RoundingMode::HalfUp
    };
    let number = number.with_scale_round(0, mode);
    // CAST(.. AS SIGNED) of bits beyond the greatest number takes them as they are (seen on MariaDB 10.11).
    let bits = if behaviour.is_mysql() && how.explicit && to.bits == 64 { number.to_u64() } else { None };
    match bits.filter(|bits| i64::try_from(*bits).is_err()) {
        Some(bits) => Ok(Value::Integer(bits.cast_signed())),
        None => fit_integer(&number, to, from_text, how, behaviour),
    }
}

pub(super) fn to_approximate(value: &Value, from: &Type, behaviour: &Behaviour) -> Outcome<f64> {
    match value {
        Value::Float(f) => Ok(*f),
        Value::Text(text) if !lenient(behaviour) => {
            let trimmed = text.trim();
            if trimmed.is_empty() && behaviour.name() == DialectName::SqlServer {
                return Ok(0.0);
            }
            let codes: Codes =
                &[(DialectName::SqlServer, "Msg 8114"), (DialectName::Oracle, "ORA-01722"), (DialectName::Postgres, "22P02")];
            trimmed.parse().map_err(|_| bad(value, "a floating point number", behaviour, codes))
        }
        Value::Text(text) => Ok(as_float(&leading_number(text)).unwrap_or(0.0)),
        other => {
            let number = to_number(other, from, &Type::Float, behaviour)?;
            Ok(as_float(&Value::decimal(number)).unwrap_or(0.0))
        }
    }
}

pub(super) fn to_boolean(value: Value, behaviour: &Behaviour) -> Outcome<Value> {
    match &value {
        Value::Boolean(_) => Ok(value),
        Value::Text(text) if lenient(behaviour) => Ok(Value::Boolean(as_float(&leading_number(text)) != Some(0.0))),
        Value::Text(text) => match truth_of(text, behaviour.name()) {
            Some(truth) => Ok(Value::Boolean(truth)),
            None => Err(bad(&value, "a truth value", behaviour, &[(DialectName::Postgres, "22P02")])),
        },
        Value::Float(f) => Ok(Value::Boolean(*f != 0.0)),
        other => match as_decimal(other) {
            Some(number) => Ok(Value::Boolean(!number.is_zero())),
            None => Err(bad(&value, "a truth value", behaviour, &[])),
        },
    }
}

/// The truth that a string tells. PostgreSQL takes more words than the others, and blanks around them;
/// BigQuery two (seen on PostgreSQL 15, DuckDB 1.5, Spark 4.0 and the GoogleSQL evaluator).
fn truth_of(text: &str, dialect: DialectName) -> Option<bool> {
    let spaced = matches!(dialect, DialectName::Postgres | DialectName::Spark);
    let word = if spaced { text.trim() } else { text }.to_ascii_lowercase();
    let is_among = |full: &str, short: &[&str]| {
        let begins = dialect == DialectName::Postgres && !word.is_empty() && full.starts_with(&word);
        word == full || (dialect != DialectName::Bigquery && (begins || short.contains(&word.as_str())))
    };
    let switched = dialect == DialectName::Postgres;
    match () {
        () if is_among("true", &["t", "y", "yes", "1"]) || (switched && word == "on") => Some(true),
        () if is_among("false", &["f", "n", "no", "0"]) || (switched && word == "off") => Some(false),
        () => None,
    }
}

pub(super) fn to_bit(value: &Value, behaviour: &Behaviour) -> Outcome<Value> {
    match value {
        Value::Text(text) if text.trim().eq_ignore_ascii_case("true") => Ok(Value::Boolean(true)),
        Value::Text(text) if text.trim().eq_ignore_ascii_case("false") => Ok(Value::Boolean(false)),
        other => Ok(Value::Boolean(!to_number(other, &Type::Any, &Type::INT, behaviour)?.is_zero())),
    }
}
