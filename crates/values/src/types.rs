//! Types without a dialect.

use std::fmt;

/// What kind of values a column or expression holds.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum DataType {
    /// Not known.
    Unknown,
    /// True and false.
    Boolean,
    /// Whole numbers of so many bits.
    Integer(u8),
    /// Exact numbers; no precision means as many digits as the engine has.
    Decimal(Option<(u16, i16)>),
    /// Binary floating point of 32 or 64 bits.
    Float(u8),
    /// Text: greatest length in characters, and whether it is padded to it.
    Text {
        /// Greatest length in characters, if there is one.
        length: Option<u32>,
        /// Padded with blanks to the length.
        fixed: bool,
    },
    /// Bytes.
    Binary,
    /// A day.
    Date,
    /// A time of day.
    Time,
    /// A day and time of day without a zone, with so many digits of a second's fraction; Oracle's
    /// DATE is one without.
    Timestamp(u8),
    /// An instant.
    TimestampZoned,
    /// A span of time.
    Interval,
    /// A list of one type.
    Array(Box<DataType>),
    /// Named fields.
    Struct(Box<[(String, DataType)]>),
    /// A JSON document.
    Json,
}

impl DataType {
    /// Text of any length.
    pub const TEXT: DataType = DataType::Text { length: None, fixed: false };

    /// A day and time of day with the standard's six digits of a fraction.
    pub const TIMESTAMP: DataType = DataType::Timestamp(6);

    /// Whether values are numbers.
    pub fn is_numeric(&self) -> bool {
        matches!(self, DataType::Integer(_) | DataType::Decimal(_) | DataType::Float(_))
    }

    /// Whether values are days, times of day, or both.
    pub fn is_moment(&self) -> bool {
        matches!(self, DataType::Date | DataType::Time | DataType::Timestamp(_) | DataType::TimestampZoned)
    }

    /// Whether values are text.
    pub fn is_text(&self) -> bool {
        matches!(self, DataType::Text { .. })
    }
}

impl fmt::Display for DataType {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            DataType::Unknown => f.write_str("unknown"),
            DataType::Boolean => f.write_str("boolean"),
            DataType::Integer(_) => f.write_str("integer"),
            DataType::Decimal(Some((precision, scale))) => write!(f, "decimal({precision},{scale})"),
            DataType::Decimal(None) => f.write_str("decimal"),
            DataType::Float(_) => f.write_str("float"),
            DataType::Text { .. } => f.write_str("text"),
            DataType::Binary => f.write_str("binary"),
            DataType::Date => f.write_str("date"),
            DataType::Time => f.write_str("time"),
            DataType::Timestamp(_) => f.write_str("timestamp"),
            DataType::TimestampZoned => f.write_str("timestamp with time zone"),
            DataType::Interval => f.write_str("interval"),
            DataType::Array(element) => write!(f, "array of {element}"),
            DataType::Struct(_) => f.write_str("struct"),
            DataType::Json => f.write_str("json"),
        }
    }
}
