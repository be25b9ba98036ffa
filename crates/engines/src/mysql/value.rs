//! Values as MySQL and MariaDB send them: texts, whose type the column tells.

use std::str::FromStr;

use ::mysql::consts::{ColumnFlags, ColumnType};
use ::mysql::{Column, Value as Cell};
use jiff::civil::{Date, DateTime, Time};
use values::{Decimal, Interval, Value};

/// How the values of a column are read.
#[derive(Debug, Clone, Copy)]
pub(super) enum Reader {
    Integer,
    Decimal,
    Float,
    Date,
    Time,
    Timestamp,
    Bits,
    Text,
    Binary,
}

/// The character set of columns that hold bytes.
const BINARY: u16 = 63;

impl Reader {
    pub(super) fn of(column: &Column) -> Reader {
        use ColumnType::{
            MYSQL_TYPE_BIT, MYSQL_TYPE_DATE, MYSQL_TYPE_DATETIME, MYSQL_TYPE_DECIMAL, MYSQL_TYPE_DOUBLE, MYSQL_TYPE_FLOAT,
            MYSQL_TYPE_GEOMETRY, MYSQL_TYPE_INT24, MYSQL_TYPE_JSON, MYSQL_TYPE_LONG, MYSQL_TYPE_LONGLONG, MYSQL_TYPE_NEWDECIMAL,
            MYSQL_TYPE_SHORT, MYSQL_TYPE_TIME, MYSQL_TYPE_TIMESTAMP, MYSQL_TYPE_TINY, MYSQL_TYPE_YEAR,
        };
        match column.column_type() {
            MYSQL_TYPE_TINY | MYSQL_TYPE_SHORT | MYSQL_TYPE_INT24 | MYSQL_TYPE_LONG | MYSQL_TYPE_LONGLONG | MYSQL_TYPE_YEAR => {
                Reader::Integer
            }
            MYSQL_TYPE_DECIMAL | MYSQL_TYPE_NEWDECIMAL => Reader::Decimal,
            MYSQL_TYPE_FLOAT | MYSQL_TYPE_DOUBLE => Reader::Float,
            MYSQL_TYPE_DATE => Reader::Date,
            MYSQL_TYPE_TIME => Reader::Time,
            MYSQL_TYPE_DATETIME | MYSQL_TYPE_TIMESTAMP => Reader::Timestamp,
            MYSQL_TYPE_BIT => Reader::Bits,
            MYSQL_TYPE_GEOMETRY => Reader::Binary,
            MYSQL_TYPE_JSON => Reader::Text,
            _ if column.character_set() == BINARY => Reader::Binary,
            _ => Reader::Text,
        }
    }

    pub(super) fn value(self, cell: Cell) -> Value {
        let Cell::Bytes(bytes) = cell else { return plain(cell) };
        match self {
            Reader::Binary => return Value::Binary(Box::new(bytes)),
            Reader::Bits => return Value::Integer(bytes.iter().fold(0, |all, b| (all << 8) | i64::from(*b))),
            _ => {}
        }
        let Ok(text) = std::str::from_utf8(&bytes) else { return Value::Binary(Box::new(bytes)) };
        let read = match self {
            Reader::Integer => text.parse().map(Value::Integer).or_else(|_| Decimal::from_str(text).map(Value::decimal)).ok(),
            Reader::Decimal => Decimal::from_str(text).map(Value::decimal).ok(),
            Reader::Float => text.parse().map(Value::Float).ok(),
            Reader::Date => text.parse::<Date>().map(Value::Date).ok(),
            Reader::Timestamp => text.parse::<DateTime>().map(Value::Timestamp).ok(),
            Reader::Time => time(text),
            Reader::Bits | Reader::Text | Reader::Binary => None,
        };
        // What is no value of its type, such as the day 0000-00-00, stays as it came.
        read.unwrap_or_else(|| Value::text(text))
    }
}

/// Values that didn't come as texts.
fn plain(cell: Cell) -> Value {
    match cell {
        Cell::Int(i) => Value::Integer(i),
        Cell::UInt(u) => i64::try_from(u).map_or_else(|_| Value::decimal(u.into()), Value::Integer),
        Cell::Float(f) => Value::Float(f.into()),
        Cell::Double(d) => Value::Float(d),
        other @ (Cell::Date(..) | Cell::Time(..)) => Value::text(other.as_sql(true).trim_matches('\'')),
        Cell::NULL | Cell::Bytes(_) => Value::Null,
    }
}

/// A TIME is a time of day, or a span of up to 838 hours either way.
fn time(text: &str) -> Option<Value> {
    if let Ok(time) = text.parse::<Time>() {
        return Some(Value::Time(time));
    }
    let (sign, clock) = text.strip_prefix('-').map_or((1, text), |rest| (-1, rest));
    let (whole, fraction) = clock.split_once('.').unwrap_or((clock, ""));
    let mut total: i128 = 0;
    for part in whole.split(':') {
        total = total * 60 + part.parse::<i128>().ok()?;
    }
    let nanoseconds = sign * (total * 1_000_000_000 + format!("{fraction:0<9}").parse::<i128>().ok()?);
    Some(Value::Interval(Box::new(Interval { nanoseconds, ..Interval::default() })))
}

/// The name of a column's type, as the server's own words have it.
pub(super) fn type_name(column: &Column) -> String {
    let is_binary = column.character_set() == BINARY;
    let word = format!("{:?}", column.column_type());
    let word = word.trim_start_matches("MYSQL_TYPE_");
    let name = match word {
        "TINY" => "TINYINT",
        "SHORT" => "SMALLINT",
        "INT24" => "MEDIUMINT",
        "LONG" => "INT",
        "LONGLONG" => "BIGINT",
        "NEWDECIMAL" => "DECIMAL",
        "VAR_STRING" | "VARCHAR" if is_binary => "VARBINARY",
        "VAR_STRING" | "VARCHAR" => "VARCHAR",
        "STRING" if is_binary => "BINARY",
        "STRING" => "CHAR",
        "TINY_BLOB" | "MEDIUM_BLOB" | "LONG_BLOB" | "BLOB" if !is_binary => "TEXT",
        "TINY_BLOB" | "MEDIUM_BLOB" | "LONG_BLOB" => "BLOB",
        other => other,
    };
    let is_number = matches!(Reader::of(column), Reader::Integer | Reader::Decimal | Reader::Float);
    if is_number && word != "YEAR" && column.flags().contains(ColumnFlags::UNSIGNED_FLAG) {
        return format!("{name} UNSIGNED");
    }
    name.to_string()
}

/// A value as a parameter.
pub(super) fn parameter(value: &Value) -> Cell {
    match value {
        Value::Null => Cell::NULL,
        Value::Boolean(b) => Cell::Int((*b).into()),
        Value::Integer(i) => Cell::Int(*i),
        Value::Float(f) => Cell::Double(*f),
        Value::Binary(bytes) => Cell::Bytes(bytes.to_vec()),
        Value::Instant(t, _) => Cell::Bytes(Value::Timestamp(*t).to_string().into_bytes()),
        Value::Array(_) | Value::Struct(_) => Cell::Bytes(value.to_json().to_string().into_bytes()),
        other => Cell::Bytes(other.to_string().into_bytes()),
    }
}
