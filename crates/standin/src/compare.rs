//! Comparison, equality and sorting by a dialect's rules.

use std::cmp::Ordering;

use jiff::civil::DateTime;
use syntax::DialectName;
use values::Value;

use crate::behaviour::{Behaviour, Collation};
use crate::convert::{leading_number, parse_number, parse_timestamp, to_decimal};
use crate::failure::{Failure, FailureKind};

/// A text in the form its collation compares.
pub(crate) fn collated(text: &str, collation: Collation) -> String {
    let text = if collation.pads { text.trim_end_matches(' ') } else { text };
    let mut out = if collation.case_insensitive { text.to_lowercase() } else { text.to_string() };
    if collation.accent_insensitive {
        out = out.chars().map(without_accent).collect();
    }
    out
}

/// The letter under an accent, for the Latin letters in common use.
fn without_accent(c: char) -> char {
    match c {
        'à' | 'á' | 'â' | 'ã' | 'ä' | 'å' => 'a',
        'è' | 'é' | 'ê' | 'ë' => 'e',
        'ì' | 'í' | 'î' | 'ï' => 'i',
        'ò' | 'ó' | 'ô' | 'õ' | 'ö' => 'o',
        'ù' | 'ú' | 'û' | 'ü' => 'u',
        'ç' => 'c',
        'ñ' => 'n',
        'ý' | 'ÿ' => 'y',
        other => other,
    }
}

/// The order of two values; `None` if one is NULL.
pub(crate) fn order(a: &Value, b: &Value, behaviour: &Behaviour) -> Result<Option<Ordering>, Failure> {
    use Value::{Boolean, Date, Integer, Null, Text, Timestamp};
    Ok(Some(match (a, b) {
        (Null, _) | (_, Null) => return Ok(None),
        (Integer(a), Integer(b)) => a.cmp(b),
        (Text(a), Text(b)) => {
            let collation = behaviour.collation;
            if collation.case_insensitive || collation.pads { collated(a, collation).cmp(&collated(b, collation)) } else { a.cmp(b) }
        }
        (Boolean(a), Boolean(b)) => a.cmp(b),
        (Date(_) | Timestamp(_), _) | (_, Date(_) | Timestamp(_)) => match (instant(a), instant(b)) {
            (Some(a), Some(b)) => a.cmp(&b),
            _ => return Err(mismatch(a, b)),
        },
        (Text(t), number) | (number, Text(t)) => {
            let parsed = text_as_number(t, behaviour)?;
            let text_first = matches!(a, Text(_));
            let Some(parsed) = parsed else {
                // SQLite: every number comes before every text.
                return Ok(Some(if text_first { Ordering::Greater } else { Ordering::Less }));
            };
            let (x, y) = if text_first { (&parsed, number) } else { (number, &parsed) };
            numbers(x, y).ok_or_else(|| mismatch(a, b))?
        }
        _ => numbers(a, b).ok_or_else(|| mismatch(a, b))?,
    }))
}

fn instant(value: &Value) -> Option<DateTime> {
    match value {
        Value::Date(d) => Some(d.at(0, 0, 0, 0)),
        Value::Timestamp(t) | Value::Instant(t) => Some(*t),
        Value::Text(t) => parse_timestamp(t),
        _ => None,
    }
}

fn numbers(a: &Value, b: &Value) -> Option<Ordering> {
    if let (Value::Float(_), _) | (_, Value::Float(_)) = (a, b) {
        return crate::convert::to_float(a)?.partial_cmp(&crate::convert::to_float(b)?);
    }
    Some(to_decimal(a)?.cmp(&to_decimal(b)?))
}

/// A text beside a number is read as one, by the dialect's rules.
fn text_as_number(text: &str, behaviour: &Behaviour) -> Result<Option<Value>, Failure> {
    match behaviour.name() {
        DialectName::Mysql | DialectName::Mariadb => Ok(Some(leading_number(text))),
        DialectName::Sqlite => Ok(None),
        _ => parse_number(text).map(Some).ok_or_else(|| {
            Failure::new(FailureKind::BadCast, format!("'{text}' can't be compared with a number"))
                .coded(behaviour.code(FailureKind::BadCast))
        }),
    }
}

fn mismatch(a: &Value, b: &Value) -> Failure {
    Failure::new(FailureKind::BadCast, format!("{a} and {b} can't be compared"))
}

/// An order over all values for sorting, NULL apart.
pub(crate) fn sort_order(a: &Value, b: &Value, behaviour: &Behaviour) -> Ordering {
    match order(a, b, behaviour) {
        Ok(Some(order)) => order,
        _ => values::sort_order(a, b),
    }
}

/// What two values must share to be in one group: equal values have equal keys.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) enum GroupKey {
    Null,
    Text(String),
    Number(String),
    Other(String),
}

pub(crate) fn group_key(value: &Value, behaviour: &Behaviour) -> GroupKey {
    match value {
        Value::Null => GroupKey::Null,
        Value::Text(t) => GroupKey::Text(collated(t, behaviour.collation)),
        Value::Integer(i) => GroupKey::Number(i.to_string()),
        Value::Boolean(b) => GroupKey::Number(u8::from(*b).to_string()),
        Value::Decimal(d) => GroupKey::Number(d.normalized().to_plain_string()),
        Value::Float(f) => GroupKey::Number(f.to_string()),
        Value::Date(d) => GroupKey::Other(d.at(0, 0, 0, 0).to_string()),
        other => GroupKey::Other(other.to_string()),
    }
}
