//! Conversions between types, by a dialect's rules.

mod dates;
mod number;
mod text;

pub(crate) use dates::{out_of_range, parse_moment, parse_time, to_moment};
pub(crate) use number::{
    fit_decimal, fit_integer, leading_number, oracle_digits, parse_number, rounded, simplest, to_decimal, to_float, to_number, whole,
};
pub(crate) use text::{as_text, float_text, oracle_number_text, text_of_bytes};

use syntax::DialectName;
use values::Value;

use crate::behaviour::Behaviour;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::mask::{oracle_date, sql_server_style};
use crate::moment::as_moment;
use crate::types::{TextType, Type};

/// How a conversion came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(crate) struct How {
    /// CAST was written: strings are cut to the length.
    pub(crate) explicit: bool,
    /// CONVERT's style (SQL Server).
    pub(crate) style: Option<i64>,
}

impl How {
    pub(crate) const IMPLICIT: How = How { explicit: false, style: None };
    pub(crate) const EXPLICIT: How = How { explicit: true, style: None };
}

/// A value as one of another type. NULL stays NULL.
pub(crate) fn convert(value: Value, from: &Type, to: &Type, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    if value.is_null() || from == to && !matches!(to, Type::Text(_)) {
        return Ok(value);
    }
    match to {
        Type::Any | Type::Null | Type::Struct(_) => Ok(value),
        Type::Boolean => number::to_boolean(value, behaviour),
        Type::Bit => number::to_bit(&value, behaviour),
        Type::Integer(whole) => number::to_integer(&value, from, *whole, how, behaviour),
        Type::Decimal(precision, scale) => {
            let number = exact(&value, to, from, behaviour)?;
            fit_decimal(&number, *precision, *scale, behaviour)
                .map(|d| if *scale == 0 && !keeps_scale(behaviour) { simplest(d) } else { Value::decimal(d) })
        }
        Type::Number => Ok(simplest(exact(&value, to, from, behaviour)?)),
        Type::Money => Ok(Value::decimal(rounded(&exact(&value, to, from, behaviour)?, 4))),
        Type::Float => number::to_approximate(&value, from, behaviour).map(Value::Float),
        Type::Real => number::to_approximate(&value, from, behaviour).map(|f| Value::Float(f64::from(f as f32))),
        Type::Text(text) => to_text(value, from, text, how, behaviour),
        Type::Binary { length, fixed } => to_binary(value, from, *length, *fixed, how, behaviour),
        Type::Date => dates::to_date(&value, from, how, behaviour),
        Type::Time(digits) => dates::to_time(&value, *digits, behaviour),
        Type::DateTime(moment) => dates::to_date_time(&value, from, *moment, how, behaviour),
        Type::Zoned => dates::to_zoned(&value, how, behaviour),
        Type::Interval(_) => dates::to_interval(value, behaviour),
        Type::Uuid => to_uuid(&value, behaviour),
        Type::Json => to_json(&value, from, behaviour),
        Type::Array(element) => to_array(value, element, how, behaviour),
    }
}

/// Whether a decimal of no digits after the point is still shown apart from a whole number: it
/// isn't anywhere, but PostgreSQL's and SQL Server's division counts digits.
fn keeps_scale(behaviour: &Behaviour) -> bool {
    !matches!(behaviour.name(), DialectName::Oracle | DialectName::Sqlite)
}

fn exact(value: &Value, to: &Type, from: &Type, behaviour: &Behaviour) -> Outcome<values::Decimal> {
    to_number(value, from, to, behaviour)
}

/// A failed conversion with the dialect's code.
pub(crate) fn bad(value: &Value, to: &str, behaviour: &Behaviour, codes: Codes) -> Failure {
    Failure::new(FailureKind::BadCast, format!("'{value}' can't be converted to {to}")).coded(behaviour.name(), codes)
}

/// A type pair that the dialect never converts.
fn never(from: &Type, to: &str, behaviour: &Behaviour) -> Failure {
    let code: Codes = &[(DialectName::SqlServer, "Msg 529"), (DialectName::Oracle, "ORA-00932"), (DialectName::Postgres, "42846")];
    Failure::new(FailureKind::Invalid, format!("a value of type {} is never converted to {to}", from.neutral()))
        .coded(behaviour.name(), code)
}

// --- text ------------------------------------------------------------------------------------------

fn to_text(value: Value, from: &Type, to: &TextType, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    let text = match (how.style, &value) {
        (Some(style), _) if from.is_dated() || matches!(from, Type::Time(_) | Type::Zoned) => {
            let Some(moment) = as_moment(&value) else { return Err(Failure::unknown("this conversion to text")) };
            let digits = match from {
                Type::DateTime(crate::types::Moment::Digits(n)) | Type::Time(n) => *n,
                Type::Date => 0,
                _ => 3,
            };
            sql_server_style::written(moment, style, digits)?
        }
        (Some(style @ (1 | 2)), Value::Binary(bytes)) => {
            let hex: String = bytes.iter().map(|b| format!("{b:02X}")).collect();
            if style == 1 { format!("0x{hex}") } else { hex }
        }
        (Some(style), Value::Decimal(_)) if *from == Type::Money => sql_server_style::money(&value, style)?,
        // Seen on the GoogleSQL evaluator: only its function passes over what is no text.
        (_, Value::Binary(bytes)) if behaviour.name() == DialectName::Bigquery && std::str::from_utf8(bytes).is_err() => {
            return Err(Failure::invalid("bytes that are no text in UTF-8"));
        }
        (_, Value::Binary(bytes)) if behaviour.is(&[DialectName::Mysql, DialectName::Mariadb, DialectName::SqlServer]) => {
            match text_of_bytes(bytes, behaviour)? {
                Value::Text(text) => text.to_string(),
                other => return Ok(other),
            }
        }
        // PostgreSQL, Character Types: the blanks that fill a CHAR are lost.
        _ if behaviour.name() == DialectName::Postgres && !to.fixed && from.as_text().is_some_and(|t| t.fixed) => {
            as_text(&value, from, behaviour).trim_end_matches(' ').to_string()
        }
        _ => as_text(&value, from, behaviour),
    };
    let Some(length) = to.length else { return Ok(behaviour.text(text)) };
    let limit = length as usize;
    let count = text.chars().count();
    if count > limit {
        // Blanks beyond the length are cut in silence everywhere.
        let only_blanks = from.is_text() && text.chars().skip(limit).all(|c| c == ' ');
        if !how.explicit
            && !only_blanks
            && from.is_text()
            && !to.literal
            && behaviour.is(&[DialectName::Oracle, DialectName::Postgres, DialectName::Mysql, DialectName::Mariadb, DialectName::SqlServer])
        {
            let codes: Codes = &[
                (DialectName::Oracle, "ORA-12899"),
                (DialectName::Postgres, "22001"),
                (DialectName::Mysql, "ER_DATA_TOO_LONG"),
                (DialectName::Mariadb, "ER_DATA_TOO_LONG"),
                (DialectName::SqlServer, "Msg 2628"),
            ];
            return Err(
                Failure::new(FailureKind::BadCast, format!("'{text}' is longer than {length} characters")).coded(behaviour.name(), codes)
            );
        }
        return cut_number(&text, from, to, behaviour).unwrap_or_else(|| Ok(behaviour.text(text.chars().take(limit).collect())));
    }
    if to.fixed && count < limit && (behaviour.name() != DialectName::Sqlite) {
        return Ok(Value::text(format!("{text:<limit$}")));
    }
    Ok(behaviour.text(text))
}

/// SQL Server shows a whole number that doesn't fit as `*`, and fails for other numbers.
fn cut_number(text: &str, from: &Type, to: &TextType, behaviour: &Behaviour) -> Option<Outcome<Value>> {
    if behaviour.name() != DialectName::SqlServer || !from.is_numeric() {
        return None;
    }
    if matches!(from, Type::Integer(_)) && !to.national {
        return Some(Ok(Value::text("*")));
    }
    Some(Err(Failure::new(FailureKind::Overflow, format!("{text} has no room in so short a string")).with_code("Msg 8115")))
}

// --- others ----------------------------------------------------------------------------------------

/// Two hexadecimal digits a byte.
pub(crate) fn from_digits(digits: &str) -> Option<Vec<u8>> {
    let byte = |i: usize| digits.get(i..i + 2).and_then(|d| u8::from_str_radix(d, 16).ok());
    (0..digits.len()).step_by(2).map(byte).collect()
}

/// `\\x1F` for a byte, other characters for themselves.
fn with_escapes(text: &str) -> Vec<u8> {
    let mut parts = text.split("\\x");
    let mut out = parts.next().unwrap_or("").as_bytes().to_vec();
    for part in parts {
        let (digits, rest) = part.split_at(part.len().min(2));
        out.extend(from_digits(digits).unwrap_or_default());
        out.extend_from_slice(rest.as_bytes());
    }
    out
}

fn to_binary(value: Value, from: &Type, length: Option<u32>, fixed: bool, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    let is_number = matches!(value, Value::Integer(_));
    let mut bytes = match &value {
        Value::Binary(bytes) => bytes.to_vec(),
        Value::Text(text) if matches!(how.style, Some(1 | 2)) => {
            let read = from_digits(text.strip_prefix("0x").unwrap_or(text));
            read.ok_or_else(|| bad(&value, "bytes", behaviour, &[(DialectName::SqlServer, "Msg 8114")]))?
        }
        // N'..' of SQL Server has two bytes a character.
        Value::Text(text) if matches!(from, Type::Text(t) if t.national) => text.encode_utf16().flat_map(u16::to_le_bytes).collect(),
        // PostgreSQL, bytea hex format; DuckDB, Blob type.
        Value::Text(text) if behaviour.name() == DialectName::Postgres && text.starts_with("\\x") => {
            from_digits(&text[2..]).ok_or_else(|| bad(&value, "bytes", behaviour, &[(DialectName::Postgres, "22P02")]))?
        }
        Value::Text(text) if behaviour.name() == DialectName::Duckdb && text.contains("\\x") => with_escapes(text),
        Value::Text(text) if behaviour.name() == DialectName::SqlServer => {
            // A VARCHAR has a byte a character, of code page 1252, which is Latin-1 but for a few.
            text.chars().map(|c| u8::try_from(u32::from(c)).unwrap_or(b'?')).collect()
        }
        Value::Text(text) => text.as_bytes().to_vec(),
        Value::Integer(i) => {
            let width = if matches!(from, Type::Integer(w) if w.bits <= 32) { 4 } else { 8 };
            i.to_be_bytes()[8 - width..].to_vec()
        }
        _ => return Err(Failure::unknown("this conversion to bytes")),
    };
    if let Some(length) = length.map(|n| n as usize) {
        // A number loses its first bytes, a string its last.
        if bytes.len() > length {
            if is_number {
                bytes.drain(..bytes.len() - length);
            } else {
                bytes.truncate(length);
            }
        }
        let missing = length.saturating_sub(bytes.len());
        if fixed && missing > 0 {
            let fill = vec![0; missing];
            bytes = if is_number { [fill, bytes].concat() } else { [bytes, fill].concat() };
        }
    }
    Ok(Value::Binary(Box::new(bytes)))
}

fn to_uuid(value: &Value, behaviour: &Behaviour) -> Outcome<Value> {
    let codes: Codes = &[(DialectName::SqlServer, "Msg 8169"), (DialectName::Postgres, "22P02")];
    let Value::Text(text) = value else { return Err(bad(value, "a uuid", behaviour, codes)) };
    let plain = text.trim_matches(['{', '}']);
    let right = plain.len() == 36
        && plain.char_indices().all(|(i, c)| if matches!(i, 8 | 13 | 18 | 23) { c == '-' } else { c.is_ascii_hexdigit() });
    if !right {
        return Err(bad(value, "a uuid", behaviour, codes));
    }
    Ok(Value::text(if behaviour.name() == DialectName::SqlServer { plain.to_uppercase() } else { plain.to_lowercase() }))
}

fn to_json(value: &Value, from: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    if *from == Type::Json {
        return Ok(value.clone());
    }
    let Value::Text(text) = value else {
        return Ok(Value::text(crate::function::json::written(&value.to_json(), behaviour)));
    };
    match serde_json::from_str::<serde_json::Value>(text) {
        Ok(document) => Ok(Value::text(crate::function::json::written(&document, behaviour))),
        Err(_) => Err(bad(value, "JSON", behaviour, &[(DialectName::Mysql, "ER_INVALID_JSON_TEXT"), (DialectName::Postgres, "22P02")])),
    }
}

fn to_array(value: Value, element: &Type, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    let items = match value {
        Value::Array(items) => *items,
        Value::Text(text) if behaviour.is(&[DialectName::Postgres, DialectName::Duckdb]) => crate::function::array::read(&text, behaviour)?,
        other => return Err(bad(&other, "an array", behaviour, &[])),
    };
    let items: Outcome<Vec<Value>> = items
        .into_iter()
        .map(|v| {
            let from = of_value(&v);
            convert(v, &from, element, how, behaviour)
        })
        .collect();
    Ok(Value::Array(Box::new(items?)))
}

/// The type a value shows by itself.
pub(crate) fn of_value(value: &Value) -> Type {
    match value {
        Value::Null => Type::Null,
        Value::Boolean(_) => Type::Boolean,
        Value::Integer(_) => Type::BIGINT,
        Value::Decimal(_) => Type::Number,
        Value::Float(_) => Type::Float,
        Value::Text(_) => Type::TEXT,
        Value::Binary(_) => Type::Binary { length: None, fixed: false },
        Value::Date(_) => Type::Date,
        Value::Time(_) => Type::Time(6),
        Value::Timestamp(_) => Type::DateTime(crate::types::Moment::Digits(6)),
        Value::Instant(..) => Type::Zoned,
        Value::Interval(_) => Type::Interval(None),
        Value::Array(_) => Type::Array(Box::new(Type::Any)),
        Value::Struct(_) => Type::Struct(Box::new([])),
    }
}

impl Behaviour {
    /// A string as a result: '' is NULL in Oracle.
    pub(crate) fn text(&self, text: String) -> Value {
        if self.empty_is_null && text.is_empty() { Value::Null } else { Value::text(text) }
    }

    /// A string read as a date by Oracle's session format.
    pub(crate) fn session_date(&self, text: &str) -> Outcome<jiff::civil::DateTime> {
        oracle_date::read(text, oracle_date::SESSION_FORMAT, self)
    }
}
