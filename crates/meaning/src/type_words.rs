//! Type names to types and back.

use compact_str::CompactString;
use syntax::tree::TypeName;
use syntax::{Dialect, DialectName};
use values::DataType;

use crate::book::{TYPES, TypeWords};

fn words_of(id: &str) -> Option<&'static TypeWords> {
    TYPES.iter().find(|t| t.id == id)
}

/// The type a name means in `dialect`; `Unknown` if the book doesn't know the name.
pub fn read_type(name: &TypeName, dialect: &Dialect) -> DataType {
    if name.dimensions > 0 {
        let mut element = name.clone();
        element.dimensions -= 1;
        return DataType::Array(Box::new(read_type(&element, dialect)));
    }
    let word = name.words.rsplit('.').next().unwrap_or("").to_ascii_uppercase().replace(' ', "_");
    if word == "ARRAY" && name.elements.len() == 1 {
        return DataType::Array(Box::new(read_type(&name.elements[0].1, dialect)));
    }
    let number = |i: usize| -> Option<i64> { name.arguments.get(i).and_then(|a| a.split(' ').next()?.parse().ok()) };
    let zoned = name.suffix.to_ascii_uppercase().starts_with("WITH ");
    if let Some(own) = own_meaning(&word, dialect, number(0), number(1), zoned) {
        return own;
    }
    // Elsewhere BIT is a truth value; here it is a row of bits.
    if word == "BIT" && matches!(dialect.name, DialectName::Postgres | DialectName::Mysql | DialectName::Mariadb) {
        return DataType::Unknown;
    }
    let Some(found) = TYPES.iter().find(|t| t.hear.contains(&word.as_str())) else { return DataType::Unknown };
    match found.id {
        "decimal" => decimal(number(0), number(1), dialect),
        "text" => DataType::Text { length: number(0).and_then(|n| u32::try_from(n).ok()), fixed: false },
        // CHAR alone is CHAR(1), but STRING-like casts of MySQL have no length.
        "text-fixed" if dialect.name == DialectName::Mysql && number(0).is_none() => DataType::TEXT,
        "text-fixed" => DataType::Text { length: number(0).map_or(Some(1), |n| u32::try_from(n).ok()), fixed: true },
        "timestamp" | "time" if zoned => DataType::TimestampZoned,
        "timestamp" => DataType::Timestamp(fraction(number(0), 6)),
        id => type_of_id(id),
    }
}

/// Words that mean something else in one dialect.
fn own_meaning(word: &str, dialect: &Dialect, first: Option<i64>, second: Option<i64>, zoned: bool) -> Option<DataType> {
    use DialectName::{Bigquery, Mariadb, Mysql, Oracle, Spark, SqlServer, Sqlite};
    Some(match (dialect.name, word) {
        // Oracle: DATE holds a time of day; INTEGER is NUMBER(38); NUMBER(p) is whole.
        (Oracle, "DATE") => DataType::Timestamp(0),
        (Oracle, "INTEGER" | "INT" | "SMALLINT") => DataType::Decimal(Some((38, 0))),
        (Oracle, "FLOAT" | "REAL") => DataType::Decimal(None),
        (Oracle, "LONG") => DataType::TEXT,
        (Oracle, "NUMBER") => match (first, second) {
            (Some(p), None | Some(0)) if p <= 9 => DataType::Integer(32),
            (Some(p), None | Some(0)) if p <= 18 => DataType::Integer(64),
            _ => decimal(first, second, dialect),
        },
        (SqlServer, "TINYINT") => DataType::Integer(16),
        (SqlServer, "MONEY") => DataType::Decimal(Some((19, 4))),
        (SqlServer, "SMALLMONEY") => DataType::Decimal(Some((10, 4))),
        (SqlServer, "TIMESTAMP" | "ROWVERSION") => DataType::Binary,
        (SqlServer, "FLOAT") if first.is_some_and(|n| n <= 24) => DataType::Float(32),
        (Mysql | Mariadb, "FLOAT") => DataType::Float(32),
        (Mysql | Mariadb, "TINYINT") if first == Some(1) => DataType::Boolean,
        (Mysql | Mariadb, "TIMESTAMP" | "DATETIME") => DataType::Timestamp(fraction(first, 0)),
        (SqlServer, "SMALLDATETIME") => DataType::Timestamp(0),
        (SqlServer, "DATETIME") => DataType::Timestamp(3),
        (SqlServer, "DATETIME2") if !zoned => DataType::Timestamp(fraction(first, 7)),
        (Mysql | Mariadb, "YEAR") => DataType::Integer(16),
        (Mysql | Mariadb, "ENUM" | "SET") => DataType::TEXT,
        (Bigquery, "TIMESTAMP") => DataType::TimestampZoned,
        (Bigquery, "NUMERIC" | "DECIMAL") if first.is_none() => DataType::Decimal(Some((38, 9))),
        (Spark, "FLOAT") => DataType::Float(32),
        // SQLite keeps whatever it is given; these are affinities.
        (Sqlite, "INTEGER" | "INT") => DataType::Integer(64),
        (Sqlite, "REAL") => DataType::Float(64),
        (_, "TIMESTAMP" | "DATETIME2") if zoned => DataType::TimestampZoned,
        _ => return None,
    })
}

/// The digits of a second's fraction.
fn fraction(given: Option<i64>, default: u8) -> u8 {
    given.and_then(|n| u8::try_from(n).ok()).unwrap_or(default).min(9)
}

fn decimal(precision: Option<i64>, scale: Option<i64>, dialect: &Dialect) -> DataType {
    let default = match dialect.name {
        DialectName::SqlServer => Some((18, 0)),
        DialectName::Mysql | DialectName::Mariadb | DialectName::Spark => Some((10, 0)),
        DialectName::Duckdb => Some((18, 3)),
        _ => None,
    };
    match precision {
        Some(p) => DataType::Decimal(Some((p as u16, scale.unwrap_or(0) as i16))),
        None => DataType::Decimal(default),
    }
}

fn type_of_id(id: &str) -> DataType {
    match id {
        "boolean" => DataType::Boolean,
        "integer-8" => DataType::Integer(8),
        "integer-16" => DataType::Integer(16),
        "integer-32" => DataType::Integer(32),
        "integer-64" => DataType::Integer(64),
        "float-32" => DataType::Float(32),
        "float-64" => DataType::Float(64),
        "text-any" => DataType::TEXT,
        "binary" => DataType::Binary,
        "date" => DataType::Date,
        "time" => DataType::Time,
        "timestamp" => DataType::TIMESTAMP,
        "timestamp-zoned" => DataType::TimestampZoned,
        "json" => DataType::Json,
        _ => DataType::Unknown,
    }
}

fn id_of(data_type: &DataType) -> Option<&'static str> {
    Some(match data_type {
        DataType::Boolean => "boolean",
        DataType::Integer(8) => "integer-8",
        DataType::Integer(16) => "integer-16",
        DataType::Integer(32) => "integer-32",
        DataType::Integer(_) => "integer-64",
        DataType::Decimal(Some(_)) => "decimal",
        DataType::Decimal(None) => "decimal-any",
        DataType::Float(32) => "float-32",
        DataType::Float(_) => "float-64",
        DataType::Text { length: None, .. } => "text-any",
        DataType::Text { fixed: true, .. } => "text-fixed",
        DataType::Text { .. } => "text",
        DataType::Binary => "binary",
        DataType::Date => "date",
        DataType::Time => "time",
        DataType::Timestamp(_) => "timestamp",
        DataType::TimestampZoned => "timestamp-zoned",
        DataType::Json => "json",
        DataType::Unknown | DataType::Interval | DataType::Array(_) | DataType::Struct(_) => return None,
    })
}

/// NUMERIC holds 29 digits before the point and 9 behind it (Data types, Decimal types).
fn bigquery_decimal(precision: u16, scale: i16) -> TypeName {
    let fits = i32::from(precision) - i32::from(scale) <= 29 && scale <= 9;
    TypeName::synthetic(if fits { "NUMERIC" } else { "BIGNUMERIC" }, vec![precision.to_string().into(), scale.to_string().into()])
}

/// Columns of dialects where digits that aren't asked for show: Oracle's DATE has none, and a
/// DATETIME(6) of MySQL prints six zeros.
fn timestamp_column(digits: u8, dialect: DialectName) -> Option<TypeName> {
    match (dialect, digits) {
        (DialectName::Oracle, 0) => Some(TypeName::synthetic("DATE", Vec::new())),
        (DialectName::Mysql | DialectName::Mariadb, 0) => Some(TypeName::synthetic("DATETIME", Vec::new())),
        (DialectName::Mysql | DialectName::Mariadb, n) => Some(TypeName::synthetic("DATETIME", vec![n.min(6).to_string().into()])),
        _ => None,
    }
}

/// The name of a type in `dialect`, for a column or for a CAST; `None` if the book has none.
pub fn write_type(data_type: &DataType, dialect: &Dialect, in_cast: bool) -> Option<TypeName> {
    if let (DialectName::Bigquery, true, DataType::Decimal(Some((precision, scale)))) = (dialect.name, in_cast, data_type) {
        return Some(bigquery_decimal(*precision, *scale));
    }
    if let (DataType::Timestamp(digits), false) = (data_type, in_cast)
        && let Some(own) = timestamp_column(*digits, dialect.name)
    {
        return Some(own);
    }
    let words = words_of(id_of(data_type)?)?;
    let said = if in_cast { words.cast } else { words.say }[dialect.name as usize];
    let (name, arguments) = match said.split_once('(') {
        Some((name, rest)) => (name.trim(), rest.trim_end_matches(')')),
        None => (said, ""),
    };
    let mut filled: Vec<CompactString> = Vec::new();
    for argument in arguments.split(',').map(str::trim).filter(|a| !a.is_empty()) {
        let value = match (argument, data_type) {
            (":length", DataType::Text { length: Some(n), .. }) => n.to_string(),
            (":precision", DataType::Decimal(Some((p, _)))) => p.to_string(),
            (":scale", DataType::Decimal(Some((_, s)))) => s.to_string(),
            (other, _) => other.to_string(),
        };
        filled.push(value.into());
    }
    // Oracle's DATE holds a time of day too, so a plain day is one there.
    Some(TypeName::synthetic(name, filled))
}
