//! Data on which an assumption doesn't hold.
//!
//! A note that assumes something says here what breaks it, so that the checker can keep to data on
//! which it holds, and then look for data on which it doesn't.

use syntax::DialectName;
use values::{DataType, Value};

use crate::letters::Letters;

/// What data breaks an assumption. `P` is how places in the source are told.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Breach<P> {
    /// An expression has a value of a class.
    Value(ValueClass, P),
    /// Two texts are compared that are the same for one side and not for the other.
    Texts {
        /// What the source passes over.
        source: Letters,
        /// What the target passes over.
        target: Letters,
        /// Only LIKE tells: the comparisons agree.
        only_like: bool,
    },
    /// Texts are sorted that come in another order with capitals and accents passed over.
    TextOrder,
    /// A column holds an empty text.
    EmptyText,
}

impl<P> Breach<P> {
    /// The same with places told in another way.
    pub fn map<Q>(self, place: impl FnOnce(P) -> Q) -> Breach<Q> {
        match self {
            Breach::Value(class, at) => Breach::Value(class, place(at)),
            Breach::Texts { source, target, only_like } => Breach::Texts { source, target, only_like },
            Breach::TextOrder => Breach::TextOrder,
            Breach::EmptyText => Breach::EmptyText,
        }
    }
}

/// A class of values on which dialects differ: the `when` of an edge in the phrasebook.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ValueClass {
    /// 0.
    Zero,
    /// NULL.
    Null,
    /// A whole number.
    Whole,
    /// A number with a fraction.
    Fraction,
    /// A text where a number is expected.
    Text,
    /// A text with a character beyond ASCII.
    BeyondAscii,
    /// A text with a backslash.
    Backslash,
    /// A value that doesn't fit the type of the argument of this place.
    WiderThan(usize),
}

/// Their words in the phrasebook. `is wider than :a` names an argument.
const WORDS: [(&str, ValueClass); 7] = [
    ("= 0", ValueClass::Zero),
    ("IS NULL", ValueClass::Null),
    ("is an integer", ValueClass::Whole),
    ("has a fraction", ValueClass::Fraction),
    ("is a text", ValueClass::Text),
    ("is not ASCII", ValueClass::BeyondAscii),
    ("holds a backslash", ValueClass::Backslash),
];

impl ValueClass {
    /// The class of a `when` and the place of the argument it is about, of those a phrase takes.
    pub fn read(when: &str, takes: &[&str]) -> Option<(usize, ValueClass)> {
        let argument = |word: &str| takes.iter().position(|t| word.strip_prefix(':') == Some(t));
        let (about, words) = when.split_once(' ')?;
        let class = match words.strip_prefix("is wider than ") {
            Some(other) => ValueClass::WiderThan(argument(other)?),
            None => WORDS.iter().find(|(known, _)| *known == words)?.1,
        };
        Some((argument(about)?, class))
    }

    /// Whether a value is of the class. Widths aren't told by a value alone.
    pub fn holds(self, value: &Value) -> bool {
        match self {
            ValueClass::Null => value.is_null(),
            ValueClass::Zero => value.is_zero(),
            ValueClass::Whole => matches!(value, Value::Integer(_)),
            ValueClass::Fraction => value.has_fraction(),
            ValueClass::Text => matches!(value, Value::Text(_)),
            ValueClass::BeyondAscii => matches!(value, Value::Text(t) if !t.is_ascii()),
            ValueClass::Backslash => matches!(value, Value::Text(t) if t.contains('\\')),
            ValueClass::WiderThan(_) => false,
        }
    }

    /// A condition in a dialect's words that a value, written as `text`, is of the class; `None` where
    /// only its type tells.
    pub fn condition(self, text: &str, dialect: DialectName) -> Option<String> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, Sqlite, Tsql};
        Some(match self {
            ValueClass::Zero => format!("({text}) = 0"),
            ValueClass::Null => format!("({text}) IS NULL"),
            ValueClass::Fraction if dialect == Sqlite => format!("({text}) <> CAST(({text}) AS INTEGER)"),
            ValueClass::Fraction => format!("({text}) <> FLOOR({text})"),
            // More bytes than characters; SQL Server's texts have two bytes a character or one.
            ValueClass::BeyondAscii => match dialect {
                Oracle => format!("LENGTHB({text}) <> LENGTH({text})"),
                Tsql => format!("({text}) COLLATE Latin1_General_BIN2 LIKE N'%[^ -~]%'"),
                Mysql | Mariadb => format!("LENGTH({text}) <> CHAR_LENGTH({text})"),
                Postgres | Spark => format!("OCTET_LENGTH({text}) <> CHAR_LENGTH({text})"),
                Duckdb => format!("STRLEN({text}) <> LENGTH({text})"),
                Bigquery => format!("BYTE_LENGTH({text}) <> CHAR_LENGTH({text})"),
                Sqlite => format!("LENGTH(CAST(({text}) AS BLOB)) <> LENGTH({text})"),
            },
            ValueClass::Backslash => match dialect {
                Tsql => format!("CHARINDEX('\\', {text}) > 0"),
                Postgres => format!("STRPOS({text}, '\\') > 0"),
                Mysql | Mariadb | Spark | Bigquery => format!("INSTR({text}, '\\\\') > 0"),
                Oracle | Duckdb | Sqlite => format!("INSTR({text}, '\\') > 0"),
            },
            ValueClass::Whole | ValueClass::Text | ValueClass::WiderThan(_) => return None,
        })
    }

    /// Whether values of a type can be of the class at all.
    pub fn can_hold_of(self, data_type: &DataType) -> bool {
        let unknown = *data_type == DataType::Unknown;
        match self {
            ValueClass::Null | ValueClass::WiderThan(_) => true,
            ValueClass::Zero => unknown || data_type.is_numeric(),
            ValueClass::Whole => unknown || matches!(data_type, DataType::Integer(_)),
            ValueClass::Fraction => unknown || matches!(data_type, DataType::Decimal(_) | DataType::Float(_)),
            ValueClass::Text | ValueClass::BeyondAscii | ValueClass::Backslash => unknown || data_type.is_text(),
        }
    }
}
