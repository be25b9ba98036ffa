//! The types of columns and expressions, by the dialects' names and rules.
//!
//! They are known before a query runs: they decide conversions, the scale of decimals, overflow
//! and how values are shown as text. [`Type::Any`] is a type only the value will tell, as every
//! expression of SQLite has.

use syntax::DialectName;
use syntax::tree::TypeName;
use values::DataType;

use crate::behaviour::{Behaviour, Collation};

/// A type.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Type {
    /// Only the value tells.
    Any,
    /// NULL without a type.
    Null,
    Boolean,
    /// SQL Server's BIT: a number of one digit.
    Bit,
    Integer(Whole),
    /// Digits in all, digits after the point.
    Decimal(u16, i16),
    /// Exact numbers with as many digits as they have (Oracle NUMBER, PostgreSQL numeric).
    Number,
    Money,
    Float,
    Real,
    Text(TextType),
    Binary {
        length: Option<u32>,
        fixed: bool,
    },
    Date,
    /// Digits of a second.
    Time(u8),
    DateTime(Moment),
    /// An instant, or a day and time with its zone.
    Zoned,
    /// Years and months only, or days to seconds, or both (None).
    Interval(Option<Span>),
    Uuid,
    Json,
    Array(Box<Type>),
    Struct(Box<[(String, Type)]>),
}

/// Whole numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Whole {
    pub(crate) bits: u8,
    pub(crate) unsigned: bool,
}

/// Which days and times a type holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Moment {
    /// So many digits of a second.
    Digits(u8),
    /// SQL Server's DATETIME: in steps of 1/300 second.
    Ticks,
    /// SQL Server's SMALLDATETIME: minutes.
    Minutes,
    /// Oracle's DATE: seconds.
    Seconds,
}

/// The two kinds of interval of the SQL standard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Span {
    YearMonth,
    DaySecond,
}

/// Strings.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(crate) struct TextType {
    /// Greatest length in characters.
    pub(crate) length: Option<u32>,
    /// CHAR: filled with blanks to its length.
    pub(crate) fixed: bool,
    /// A literal, whose type bends to what is beside it.
    pub(crate) literal: bool,
    /// N'..', NVARCHAR.
    pub(crate) national: bool,
    /// COLLATE.
    pub(crate) collation: Option<Collation>,
}

/// Ranks of types for conversions: a higher one wins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Family {
    Unknown,
    Binary,
    Text,
    Uuid,
    Boolean,
    Exact,
    Approximate,
    Time,
    Date,
    DateTime,
    Interval,
    Other,
}

impl Type {
    pub(crate) const INT: Type = Type::Integer(Whole { bits: 32, unsigned: false });
    pub(crate) const BIGINT: Type = Type::Integer(Whole { bits: 64, unsigned: false });
    pub(crate) const TEXT: Type = Type::Text(TextType { length: None, fixed: false, literal: false, national: false, collation: None });

    /// Text of at most so many characters.
    pub(crate) const fn varying(length: u32) -> Type {
        Type::Text(TextType { length: Some(length), fixed: false, literal: false, national: false, collation: None })
    }

    pub(crate) fn is_text(&self) -> bool {
        matches!(self, Type::Text(_))
    }

    pub(crate) fn is_numeric(&self) -> bool {
        matches!(self.family(), Family::Exact | Family::Approximate)
    }

    pub(crate) fn is_dated(&self) -> bool {
        matches!(self.family(), Family::Date | Family::DateTime)
    }

    /// Whether nothing is known of it.
    pub(crate) fn is_open(&self) -> bool {
        matches!(self, Type::Any | Type::Null)
    }

    pub(crate) fn as_text(&self) -> Option<&TextType> {
        match self {
            Type::Text(text) => Some(text),
            _ => None,
        }
    }

    pub(crate) fn family(&self) -> Family {
        match self {
            Type::Any | Type::Null => Family::Unknown,
            Type::Boolean => Family::Boolean,
            Type::Bit | Type::Integer(_) | Type::Decimal(..) | Type::Number | Type::Money => Family::Exact,
            Type::Float | Type::Real => Family::Approximate,
            Type::Text(_) => Family::Text,
            Type::Binary { .. } => Family::Binary,
            Type::Date => Family::Date,
            Type::Time(_) => Family::Time,
            Type::DateTime(_) | Type::Zoned => Family::DateTime,
            Type::Interval(_) => Family::Interval,
            Type::Uuid => Family::Uuid,
            Type::Json | Type::Array(_) | Type::Struct(_) => Family::Other,
        }
    }

    /// The type of the neutral schema's column in a dialect.
    pub(crate) fn of_column(data_type: &DataType, case_sensitive: Option<bool>, behaviour: &Behaviour) -> Type {
        match data_type {
            DataType::Unknown => Type::Any,
            // SQLite's NUMERIC affinity.
            DataType::Boolean
            | DataType::Decimal(_)
            | DataType::Date
            | DataType::Time
            | DataType::Timestamp(_)
            | DataType::TimestampZoned
                if behaviour.name() == DialectName::Sqlite =>
            {
                Type::Number
            }
            DataType::Boolean if behaviour.name() == DialectName::SqlServer => Type::Bit,
            // As people have always kept it there, whatever version 23 brought.
            DataType::Boolean if behaviour.name() == DialectName::Oracle => Type::Decimal(1, 0),
            DataType::Boolean => Type::Boolean,
            DataType::Integer(_) | DataType::Decimal(None) if behaviour.name() == DialectName::Oracle => Type::Number,
            DataType::Integer(bits) => Type::Integer(Whole { bits: *bits, unsigned: false }),
            DataType::Decimal(Some((precision, scale))) => Type::Decimal(*precision, *scale),
            DataType::Decimal(None) => match behaviour.default_decimal() {
                Some((precision, scale)) => Type::Decimal(precision, scale),
                None => Type::Number,
            },
            DataType::Float(32) => Type::Real,
            DataType::Float(_) => Type::Float,
            DataType::Text { length, fixed } => {
                let collation = case_sensitive.filter(|s| *s).map(|_| Collation::BINARY);
                // DuckDB's CHAR is another word for VARCHAR; BigQuery and SQLite have none.
                let pads = !matches!(behaviour.name(), DialectName::Duckdb | DialectName::Bigquery | DialectName::Sqlite);
                Type::Text(TextType { length: *length, fixed: *fixed && pads, collation, ..TextType::default() })
            }
            DataType::Binary => Type::Binary { length: None, fixed: false },
            DataType::Date => Type::Date,
            DataType::Time => Type::Time(6),
            DataType::Timestamp(digits) => Type::DateTime(match behaviour.name() {
                DialectName::Oracle if *digits == 0 => Moment::Seconds,
                DialectName::Oracle | DialectName::Mysql | DialectName::Mariadb => Moment::Digits(*digits),
                DialectName::SqlServer => Moment::Digits(7),
                _ => Moment::Digits(6),
            }),
            DataType::TimestampZoned => Type::Zoned,
            DataType::Interval => Type::Interval(None),
            DataType::Array(element) => Type::Array(Box::new(Type::of_column(element, None, behaviour))),
            DataType::Struct(fields) => {
                Type::Struct(fields.iter().map(|(name, t)| (name.clone(), Type::of_column(t, None, behaviour))).collect())
            }
            DataType::Json => Type::Json,
        }
    }

    /// The neutral type nearest to it.
    pub(crate) fn neutral(&self) -> DataType {
        match self {
            Type::Any | Type::Null | Type::Uuid => DataType::Unknown,
            Type::Boolean | Type::Bit => DataType::Boolean,
            Type::Integer(whole) => DataType::Integer(whole.bits),
            Type::Decimal(precision, scale) => DataType::Decimal(Some((*precision, *scale))),
            Type::Number | Type::Money => DataType::Decimal(None),
            Type::Float => DataType::Float(64),
            Type::Real => DataType::Float(32),
            Type::Text(text) => DataType::Text { length: text.length, fixed: text.fixed },
            Type::Binary { .. } => DataType::Binary,
            Type::Date => DataType::Date,
            Type::Time(_) => DataType::Time,
            Type::DateTime(Moment::Digits(digits)) => DataType::Timestamp(*digits),
            Type::DateTime(Moment::Ticks) => DataType::Timestamp(3),
            Type::DateTime(Moment::Minutes | Moment::Seconds) => DataType::Timestamp(0),
            Type::Zoned => DataType::TimestampZoned,
            Type::Interval(_) => DataType::Interval,
            Type::Json => DataType::Json,
            Type::Array(element) => DataType::Array(Box::new(element.neutral())),
            Type::Struct(fields) => DataType::Struct(fields.iter().map(|(n, t)| (n.clone(), t.neutral())).collect()),
        }
    }

    /// The type a definition or CAST names; `None` if the dialect or we have none of that name.
    pub(crate) fn named(name: &TypeName, behaviour: &Behaviour) -> Option<Type> {
        let mut named = Type::named_scalar(name, behaviour)?;
        for _ in 0..name.dimensions {
            named = Type::Array(Box::new(named));
        }
        Some(named)
    }

    fn named_scalar(name: &TypeName, behaviour: &Behaviour) -> Option<Type> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let dialect = behaviour.name();
        let word = name.words.rsplit('.').next().unwrap_or("").trim_matches(['[', ']', '"', '`']).to_ascii_uppercase();
        let argument = |i: usize| name.arguments.get(i).and_then(|a| a.split(' ').next()?.parse::<i64>().ok());
        let unsigned = name.suffix.to_ascii_uppercase().contains("UNSIGNED") || word.contains("UNSIGNED");
        let whole = |bits| Type::Integer(Whole { bits, unsigned });
        let zoned = name.suffix.to_ascii_uppercase().contains("WITH TIME ZONE") || word.contains("WITH TIME ZONE");
        let text = |fixed: bool, default: Option<u32>, national: bool| {
            let length = argument(0)
                .and_then(|n| u32::try_from(n).ok())
                .or(default)
                .filter(|_| name.arguments.first().is_none_or(|a| !a.eq_ignore_ascii_case("MAX")));
            Type::Text(TextType { length, fixed, national, ..TextType::default() })
        };
        let mysql = matches!(dialect, Mysql | Mariadb);
        if dialect == Sqlite {
            return Some(sqlite_affinity(&word));
        }
        let has_string_only = |names: &[&str]| names.contains(&word.as_str());
        if (dialect == Bigquery && has_string_only(&["TEXT", "CHAR", "VARCHAR", "NVARCHAR", "CHARACTER VARYING"]))
            || (dialect == Spark && has_string_only(&["TEXT", "NVARCHAR", "CLOB"]))
        {
            return None;
        }
        Some(match word.as_str() {
            "NUMBER" | "DECIMAL" | "NUMERIC" | "DEC" | "BIGNUMERIC" | "FIXED" | "BIGDECIMAL" => match (argument(0), argument(1)) {
                (Some(precision), scale) => Type::Decimal(precision as u16, scale.unwrap_or(0) as i16),
                _ => behaviour.default_decimal().map_or(Type::Number, |(p, s)| Type::Decimal(p, s)),
            },
            "MONEY" | "SMALLMONEY" if dialect == SqlServer => Type::Money,
            "INT" | "INTEGER" | "SMALLINT" if dialect == Oracle => Type::Decimal(38, 0),
            "INT" | "INTEGER" | "SMALLINT" | "TINYINT" | "BIGINT" if dialect == Bigquery => Type::BIGINT,
            "TINYINT" if dialect == SqlServer => Type::Integer(Whole { bits: 8, unsigned: true }),
            "TINYINT" | "BYTE" | "INT1" => whole(8),
            "SMALLINT" | "INT2" | "SHORT" => whole(16),
            "MEDIUMINT" => whole(24),
            "INT" | "INTEGER" | "INT4" | "SERIAL" => whole(32),
            "BIGINT" | "INT8" | "INT64" | "SIGNED" | "UNSIGNED" | "BIGSERIAL" | "SIGNED INTEGER" | "UNSIGNED INTEGER" => whole(64),
            "HUGEINT" => Type::Decimal(38, 0),
            "LONG" if dialect == Spark => whole(64),
            "FLOAT" if dialect == Oracle => Type::Number,
            "FLOAT" if dialect == SqlServer && argument(0).is_some_and(|n| n <= 24) => Type::Real,
            "FLOAT" if matches!(dialect, Spark | Duckdb) || mysql => Type::Real,
            "REAL" if mysql => Type::Float,
            "REAL" | "FLOAT4" | "BINARY_FLOAT" => Type::Real,
            "FLOAT" | "DOUBLE" | "DOUBLE PRECISION" | "FLOAT64" | "FLOAT8" | "BINARY_DOUBLE" => Type::Float,
            "BIT" if dialect == SqlServer => Type::Bit,
            "BOOLEAN" | "BOOL" if mysql => whole(8),
            "BOOLEAN" | "BOOL" => Type::Boolean,
            "DATE" if dialect == Oracle => Type::DateTime(Moment::Seconds),
            "DATE" => Type::Date,
            "DATETIME" if dialect == SqlServer => Type::DateTime(Moment::Ticks),
            "SMALLDATETIME" => Type::DateTime(Moment::Minutes),
            "DATETIMEOFFSET" => Type::Zoned,
            "TIMESTAMPTZ" => Type::Zoned,
            "TIMESTAMP" if zoned || dialect == Bigquery => Type::Zoned,
            "DATETIME" | "DATETIME2" | "TIMESTAMP" | "TIMESTAMP_NTZ" | "TIMESTAMP WITHOUT TIME ZONE" => {
                let default = if mysql {
                    0
                } else if dialect == SqlServer {
                    7
                } else {
                    6
                };
                Type::DateTime(Moment::Digits(argument(0).map_or(default, |n| n as u8)))
            }
            "TIMESTAMP WITH TIME ZONE" => Type::Zoned,
            "TIME" => Type::Time(argument(0).map_or(
                if mysql {
                    0
                } else if dialect == SqlServer {
                    7
                } else {
                    6
                },
                |n| n as u8,
            )),
            "TIME WITHOUT TIME ZONE" => Type::Time(6),
            // DuckDB keeps no length (seen on DuckDB 1.5).
            "CHAR" | "NCHAR" | "CHARACTER" | "BPCHAR" | "NATIONAL CHARACTER" | "NATIONAL CHAR" if dialect == Duckdb => Type::TEXT,
            "CHAR" | "NCHAR" | "CHARACTER" | "BPCHAR" | "NATIONAL CHARACTER" | "NATIONAL CHAR" => {
                // CAST(x AS CHAR) of MySQL is a string of any length; SQL Server's CAST gives 30.
                let default = if mysql {
                    None
                } else if dialect == SqlServer {
                    Some(30)
                } else {
                    Some(1)
                };
                text(!mysql || behaviour.char_columns_pad, default, word.starts_with('N'))
            }
            "VARCHAR" | "NVARCHAR" if dialect == SqlServer => text(false, Some(30), word.starts_with('N')),
            "VARCHAR" | "VARCHAR2" | "NVARCHAR" | "NVARCHAR2" | "CHARACTER VARYING" | "CHAR VARYING" | "VARYING" if dialect == Duckdb => {
                Type::TEXT
            }
            "VARCHAR" | "VARCHAR2" | "NVARCHAR" | "NVARCHAR2" | "CHARACTER VARYING" | "CHAR VARYING" => {
                text(false, None, word.starts_with('N'))
            }
            "STRING" | "TEXT" | "CLOB" | "NCLOB" | "NTEXT" | "TINYTEXT" | "MEDIUMTEXT" | "LONGTEXT" | "NAME" | "CITEXT" | "LONG" => {
                Type::Text(TextType { national: word.starts_with('N') && word != "NAME", ..TextType::default() })
            }
            "BINARY" if dialect == SqlServer => Type::Binary { length: Some(argument(0).unwrap_or(30) as u32), fixed: true },
            "VARBINARY" if dialect == SqlServer => {
                let is_max = name.arguments.first().is_some_and(|a| a.eq_ignore_ascii_case("max"));
                Type::Binary { length: (!is_max).then(|| argument(0).unwrap_or(30) as u32), fixed: false }
            }
            "BINARY" | "VARBINARY" | "BLOB" | "BYTEA" | "BYTES" | "RAW" | "TINYBLOB" | "MEDIUMBLOB" | "LONGBLOB" | "IMAGE" => {
                Type::Binary { length: argument(0).map(|n| n as u32), fixed: word == "BINARY" && mysql }
            }
            "UUID" | "UNIQUEIDENTIFIER" => Type::Uuid,
            "JSON" | "JSONB" => Type::Json,
            "YEAR" if mysql => Type::Integer(Whole { bits: 16, unsigned: true }),
            "INTERVAL" => Type::Interval(None),
            word if word.starts_with("INTERVAL") => {
                let months = word.contains("YEAR") || word.contains("MONTH");
                Type::Interval(if dialect == Postgres { None } else { Some(if months { Span::YearMonth } else { Span::DaySecond }) })
            }
            "ARRAY" => Type::Array(Box::new(name.elements.first().map_or(Some(Type::Any), |(_, t)| Type::named(t, behaviour))?)),
            "STRUCT" | "ROW" => {
                let fields = name
                    .elements
                    .iter()
                    .map(|(field, t)| Some((field.as_ref().map_or(String::new(), |f| f.text.to_string()), Type::named(t, behaviour)?)));
                Type::Struct(fields.collect::<Option<_>>()?)
            }
            _ => return None,
        })
    }
}

/// SQLite's rules of affinity (Datatypes In SQLite, 3.1).
fn sqlite_affinity(word: &str) -> Type {
    let has = |part: &str| word.contains(part);
    if has("INT") {
        Type::BIGINT
    } else if has("CHAR") || has("CLOB") || has("TEXT") {
        Type::TEXT
    } else if has("BLOB") || word.is_empty() {
        Type::Any
    } else if has("REAL") || has("FLOA") || has("DOUB") {
        Type::Float
    } else {
        Type::Number
    }
}
