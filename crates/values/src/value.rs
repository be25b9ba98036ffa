//! Values and results.

use std::fmt;

use compact_str::CompactString;
use jiff::civil::{Date, DateTime, Time};

/// An exact decimal number.
pub type Decimal = bigdecimal::BigDecimal;

/// A span of time, as SQL keeps it: months, days and seconds don't convert into each other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Interval {
    /// Whole months.
    pub months: i64,
    /// Whole days.
    pub days: i64,
    /// Nanoseconds.
    pub nanoseconds: i128,
}

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
    /// An instant, as day and time in UTC, and the minutes east of UTC it is shown with. They don't
    /// count when instants are compared.
    Instant(DateTime, i16),
    /// A span of time.
    Interval(Box<Interval>),
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

    /// A number that is 0.
    pub fn is_zero(&self) -> bool {
        match self {
            Value::Integer(n) => *n == 0,
            Value::Float(f) => *f == 0.0,
            Value::Decimal(d) => d.as_bigint_and_exponent().0.bits() == 0,
            _ => false,
        }
    }

    /// A number that is not whole.
    pub fn has_fraction(&self) -> bool {
        match self {
            Value::Float(f) => f.fract() != 0.0,
            Value::Decimal(d) => !d.is_integer(),
            _ => false,
        }
    }

    /// The number as a decimal; none for what is no number.
    pub fn to_decimal(&self) -> Option<Decimal> {
        match self {
            Value::Integer(n) => Some((*n).into()),
            Value::Decimal(d) => Some((**d).clone()),
            Value::Float(f) => (*f).try_into().ok(),
            _ => None,
        }
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
            Value::Instant(t, offset) => {
                let local = t.checked_add(jiff::SignedDuration::from_mins(i64::from(*offset))).unwrap_or(*t);
                let sign = if *offset < 0 { '-' } else { '+' };
                let (hours, minutes) = (offset.abs() / 60, offset.abs() % 60);
                write!(f, "{} {}{sign}{hours:02}", local.date(), local.time())?;
                if minutes == 0 { Ok(()) } else { write!(f, ":{minutes:02}") }
            }
            Value::Interval(i) => write!(f, "{i}"),
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

impl fmt::Display for Interval {
    /// `1 year 2 mons 3 days 04:05:06`, parts of nothing left out.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        const SECOND: i128 = 1_000_000_000;
        let mut parts = Vec::new();
        for (amount, unit) in [(self.months / 12, "year"), (self.months % 12, "mon"), (self.days, "day")] {
            if amount != 0 {
                parts.push(format!("{amount} {unit}{}", if amount.abs() == 1 { "" } else { "s" }));
            }
        }
        if self.nanoseconds != 0 || parts.is_empty() {
            let sign = if self.nanoseconds < 0 { "-" } else { "" };
            let total = self.nanoseconds.abs();
            let (seconds, rest) = (total / SECOND, total % SECOND);
            let mut text = format!("{sign}{:02}:{:02}:{:02}", seconds / 3600, seconds / 60 % 60, seconds % 60);
            if rest != 0 {
                text.push('.');
                text.push_str(format!("{rest:09}").trim_end_matches('0'));
            }
            parts.push(text);
        }
        f.write_str(&parts.join(" "))
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
