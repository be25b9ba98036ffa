//! Values as text, as each dialect writes them when it joins or casts them.

use syntax::DialectName;
use values::{Decimal, Value};

use crate::behaviour::Behaviour;
use crate::failure::{Codes, Failure, Outcome};
use crate::mask::{oracle_date, sql_server_style};
use crate::types::{Moment, Type};

/// The text of bytes in UTF-8; what of them is none is an error, NULL, or a mark. Seen on MySQL 9.7, MariaDB 10.11,
/// PostgreSQL 15, DuckDB 1.5, Spark 4.0 and the GoogleSQL evaluator; SQL Server reads code page 1252.
pub(crate) fn text_of_bytes(bytes: &[u8], behaviour: &Behaviour) -> Outcome<Value> {
    use DialectName::{Duckdb, Mariadb, Mysql, Postgres, Spark, SqlServer};
    if let Ok(text) = std::str::from_utf8(bytes) {
        return Ok(Value::text(text));
    }
    let codes: Codes = &[(Postgres, "22021")];
    Ok(match behaviour.name() {
        Postgres | Duckdb | Spark => return Err(Failure::invalid("bytes that are no text in UTF-8").coded(behaviour.name(), codes)),
        Mysql => Value::Null,
        Mariadb => Value::text(String::from_utf8_lossy(bytes).replace(char::REPLACEMENT_CHARACTER, "?")),
        SqlServer => Value::text(bytes.iter().map(|b| char::from(*b)).collect::<String>()),
        _ => Value::text(String::from_utf8_lossy(bytes)),
    })
}

/// The text a value is joined or shown as; its type decides about dates and numbers.
pub(crate) fn as_text(value: &Value, from: &Type, behaviour: &Behaviour) -> String {
    match (value, behaviour.name()) {
        (Value::Text(text), _) => text.to_string(),
        (Value::Binary(bytes), DialectName::Postgres) => {
            format!("\\x{}", bytes.iter().map(|b| format!("{b:02x}")).collect::<String>())
        }
        (Value::Binary(bytes), DialectName::Oracle) => bytes.iter().map(|b| format!("{b:02X}")).collect(),
        (Value::Binary(bytes), _) => String::from_utf8_lossy(bytes).into_owned(),
        (Value::Decimal(d), DialectName::Oracle) => oracle_number_text(d),
        (Value::Decimal(d), DialectName::SqlServer) if *from == Type::Money => super::rounded(d, 2).to_plain_string(),
        (Value::Decimal(d), DialectName::Bigquery) => d.normalized().to_plain_string(),
        (Value::Decimal(d), _) => d.to_plain_string(),
        (Value::Float(f), dialect) => float_text(*f, dialect),
        (Value::Boolean(b), DialectName::SqlServer) => u8::from(*b).to_string(),
        (Value::Boolean(b), _) if behaviour.conditions_are_numbers => u8::from(*b).to_string(),
        (Value::Timestamp(t), DialectName::Oracle) => {
            let format = if matches!(from, Type::DateTime(Moment::Digits(_))) {
                oracle_date::SESSION_TIMESTAMP
            } else {
                oracle_date::SESSION_FORMAT
            };
            oracle_date::written(*t, format, behaviour).unwrap_or_else(|_| value.to_string())
        }
        (Value::Interval(interval), DialectName::Oracle) => oracle_date::interval_text(interval, from),
        (Value::Timestamp(t), DialectName::SqlServer) => match from {
            Type::DateTime(Moment::Digits(digits)) => sql_server_style::iso(*t, *digits),
            _ => sql_server_style::written(*t, 0, 3).unwrap_or_else(|_| value.to_string()),
        },
        (Value::Instant(t, offset), DialectName::SqlServer) => {
            let local = crate::moment::local(*t, *offset);
            let sign = if *offset < 0 { '-' } else { '+' };
            let digits = if t.subsec_nanosecond() == 0 { 0 } else { 7 };
            format!("{} {sign}{:02}:{:02}", sql_server_style::iso(local, digits), offset.abs() / 60, offset.abs() % 60)
        }
        (Value::Time(t), DialectName::SqlServer | DialectName::Mysql | DialectName::Mariadb) => {
            let digits = match from {
                Type::Time(digits) => *digits,
                _ => 0,
            };
            sql_server_style::clock(*t, digits)
        }
        (Value::Timestamp(t), DialectName::Mysql | DialectName::Mariadb) => {
            let digits = match from {
                Type::DateTime(Moment::Digits(digits)) => *digits,
                _ if t.subsec_nanosecond() != 0 => 6,
                _ => 0,
            };
            sql_server_style::iso(*t, digits)
        }
        (Value::Array(items), DialectName::Postgres) => crate::function::array::written(items, behaviour),
        (other, _) => other.to_string(),
    }
}

/// Oracle drops zeros at the end and the zero before the point, and shows 40 characters at most.
pub(crate) fn oracle_number_text(number: &Decimal) -> String {
    let text = number.normalized().to_plain_string();
    let text = match text.strip_prefix("0.") {
        Some(rest) => format!(".{rest}"),
        None => text.strip_prefix("-0.").map_or(text.clone(), |rest| format!("-.{rest}")),
    };
    if text.len() > 40 {
        let room = if text.starts_with('-') { 41 } else { 40 };
        let digits = number.with_prec(room as u64 - 1);
        let shorter = digits.normalized().to_plain_string();
        return shorter.replacen("0.", ".", usize::from(shorter.starts_with("0.") || shorter.starts_with("-0.")));
    }
    text
}

/// A floating point number as the dialect prints it.
pub(crate) fn float_text(f: f64, dialect: DialectName) -> String {
    if f.is_nan() {
        return "NaN".to_string();
    }
    if f.is_infinite() {
        let name = if matches!(dialect, DialectName::Duckdb | DialectName::Sqlite) { "inf" } else { "Infinity" };
        return if f > 0.0 { name.to_string() } else { format!("-{name}") };
    }
    match dialect {
        // SQL Server: six significant digits (CAST and CONVERT, float and real styles).
        DialectName::SqlServer => significant(f, 6, 6, 3),
        DialectName::Sqlite => with_point(significant(f, 15, 15, 2)),
        // A whole float has no point (seen on the GoogleSQL evaluator).
        DialectName::Bigquery if f.fract() == 0.0 && f.abs() < 1e15 => f.to_string(),
        DialectName::Duckdb | DialectName::Bigquery | DialectName::Spark => {
            if f != 0.0 && !(1e-4..1e16).contains(&f.abs()) {
                shortest_scientific(f, dialect)
            } else {
                with_point(f.to_string())
            }
        }
        DialectName::Postgres | DialectName::Mysql | DialectName::Mariadb => {
            if f != 0.0 && !(1e-4..1e15).contains(&f.abs()) {
                shortest_scientific(f, dialect)
            } else {
                f.to_string()
            }
        }
        DialectName::Oracle => oracle_number_text(&f.to_string().parse().unwrap_or_default()),
    }
}

/// A point in the digits before an exponent, if one is there (SQLite), else at the end.
fn with_point(text: String) -> String {
    match text.split_once('e') {
        _ if text.contains(['.', 'E']) => text,
        Some((mantissa, exponent)) => format!("{mantissa}.0e{exponent}"),
        None => format!("{text}.0"),
    }
}

/// C's `%g`: so many significant digits, an exponent where it is below -4 or reaches `most`.
fn significant(f: f64, digits: usize, most: i32, exponent_digits: usize) -> String {
    if f == 0.0 {
        return "0".to_string();
    }
    let scientific = format!("{:.*e}", digits - 1, f);
    let (mantissa, exponent) = scientific.split_once('e').unwrap_or((&scientific, "0"));
    let exponent: i32 = exponent.parse().unwrap_or(0);
    let trimmed =
        |text: &str| if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_string() } else { text.to_string() };
    if exponent < -4 || exponent >= most {
        let sign = if exponent < 0 { '-' } else { '+' };
        return format!("{}e{sign}{:0exponent_digits$}", trimmed(mantissa), exponent.abs());
    }
    trimmed(&format!("{:.*}", (digits as i32 - 1 - exponent).max(0) as usize, f))
}

/// The shortest digits that read back as the same number, with an exponent.
fn shortest_scientific(f: f64, dialect: DialectName) -> String {
    let text = format!("{f:e}");
    let (mantissa, exponent) = text.split_once('e').unwrap_or((&text, "0"));
    let number: i32 = exponent.parse().unwrap_or(0);
    match dialect {
        DialectName::Spark => format!("{}E{number}", with_point(mantissa.to_string())),
        DialectName::Mysql | DialectName::Mariadb => format!("{mantissa}e{number}"),
        _ => format!("{mantissa}e{}{:02}", if number < 0 { '-' } else { '+' }, number.abs()),
    }
}
