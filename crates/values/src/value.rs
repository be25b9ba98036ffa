//! Values and results.

use std::fmt;

use compact_str::CompactString;
use jiff::civil::{Date, DateTime, Time};

/// An exact decimal number.
pub type Decimal = bigdecimal::BigDecimal;

/// One value of any engine.
#[derive(Debug, Clone, PartialEq)]
pub enum Value {
    /// NULL.
    Null,
    /// True or false.
    Boolean(bool),
    /// A whole number.
    Integer(i64),
    /// An exact decimal number.
    Decimal(Box<Decimal>),
    /// A floating point number.
    Float(f64),
    /// A text.
    Text(CompactString),
    /// Bytes.
    Binary(Box<Vec<u8>>),
    /// A day.
    Date(Date),
    /// A time of day.
    Time(Time),
    /// A day and time without a zone.
    Timestamp(DateTime),
    /// An instant, as day and time in UTC.
    Instant(DateTime),
    /// A list.
    Array(Box<Vec<Value>>),
    /// Named fields.
    Struct(Box<Vec<(CompactString, Value)>>),
}

impl Value {
    /// A text value.
    pub fn text(text: impl Into<CompactString>) -> Value {
        Value::Text(text.into())
    }

    /// A decimal value.
    pub fn decimal(decimal: Decimal) -> Value {
        Value::Decimal(Box::new(decimal))
    }

    /// Whether this is NULL.
    pub fn is_null(&self) -> bool {
        matches!(self, Value::Null)
    }

    /// The value as JSON: numbers that fit as numbers, others as text, dates as ISO text.
    pub fn to_json(&self) -> serde_json::Value {
        match self {
            Value::Null => serde_json::Value::Null,
            Value::Boolean(b) => (*b).into(),
            Value::Integer(i) => (*i).into(),
            Value::Float(f) => serde_json::Number::from_f64(*f).map_or_else(|| f.to_string().into(), Into::into),
            // A decimal keeps its digits only as it is written.
            Value::Decimal(d) => serde_json::from_str(&d.to_plain_string()).unwrap_or_else(|_| d.to_plain_string().into()),
            Value::Array(items) => items.iter().map(Value::to_json).collect(),
            Value::Struct(fields) => serde_json::Value::Object(fields.iter().map(|(k, v)| (k.to_string(), v.to_json())).collect()),
            other => other.to_string().into(),
        }
    }
}

impl fmt::Display for Value {
    /// The value in plain text: NULL as the word, text as it is.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Value::Null => f.write_str("NULL"),
            Value::Boolean(b) => write!(f, "{b}"),
            Value::Integer(i) => write!(f, "{i}"),
            Value::Decimal(d) => f.write_str(&d.to_plain_string()),
            Value::Float(x) => write!(f, "{x}"),
            Value::Text(t) => f.write_str(t),
            Value::Binary(bytes) => {
                f.write_str("0x")?;
                bytes.iter().try_for_each(|b| write!(f, "{b:02X}"))
            }
            Value::Date(d) => write!(f, "{d}"),
            Value::Time(t) => write!(f, "{t}"),
            Value::Timestamp(t) => write!(f, "{} {}", t.date(), t.time()),
            Value::Instant(t) => write!(f, "{} {}+00", t.date(), t.time()),
            Value::Array(items) => {
                f.write_str("[")?;
                for (i, item) in items.iter().enumerate() {
                    if i > 0 {
                        f.write_str(", ")?;
                    }
                    write!(f, "{item}")?;
                }
                f.write_str("]")
            }
            Value::Struct(fields) => {
                f.write_str("{")?;
                for (i, (name, value)) in fields.iter().enumerate() {
                    if i > 0 {
                        f.write_str(", ")?;
                    }
                    write!(f, "{name}: {value}")?;
                }
                f.write_str("}")
            }
        }
    }
}

/// One row.
pub type Row = Vec<Value>;

/// What a query gives.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct ResultSet {
    /// Labels of the columns; empty for a column without a name.
    pub columns: Vec<String>,
    /// The engine's own names of the columns' types, where it tells.
    pub types: Vec<String>,
    /// The rows in the order they came.
    pub rows: Vec<Row>,
}
