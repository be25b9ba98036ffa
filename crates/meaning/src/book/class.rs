//! What is of a class of values, and how a dialect asks.

use syntax::DialectName;
use values::{DataType, Decimal, Value};

use super::when::{Order, ValueClass};

/// The words for true and false that every dialect reads which reads more than the two.
const TRUTHS: [&str; 10] = ["true", "t", "yes", "y", "1", "false", "f", "no", "n", "0"];

/// A number in digits, for those that match strings.
const NUMBER: &str = "^ *[-+]?([0-9]+([.][0-9]*)?|[.][0-9]+) *$";

/// A whole number in digits.
const WHOLE: &str = "^ *[-+]?[0-9]+ *$";

impl ValueClass {
    /// Whether a value is of the class. A value alone doesn't tell a width.
    pub fn holds(self, value: &Value) -> bool {
        let text = || if let Value::Text(text) = value { Some(&**text) } else { None };
        match self {
            ValueClass::Any => true,
            ValueClass::Null => value.is_null(),
            ValueClass::Empty => text() == Some(""),
            ValueClass::NoUtf8 => matches!(value, Value::Binary(bytes) if std::str::from_utf8(bytes).is_err()),
            ValueClass::Number(order, number) => value.to_decimal().is_some_and(|v| order.fits(v.cmp(&number.into()))),
            ValueClass::Length(order, number) => text().is_some_and(|t| order.fits((t.chars().count() as i64).cmp(&number))),
            ValueClass::Whole => matches!(value, Value::Integer(_)),
            ValueClass::Fraction => value.has_fraction(),
            ValueClass::Text => text().is_some(),
            ValueClass::BeyondAscii => text().is_some_and(|t| !t.is_ascii()),
            ValueClass::Backslash => text().is_some_and(|t| t.contains('\\')),
            ValueClass::Bracket => text().is_some_and(|t| t.contains('[')),
            ValueClass::TrailingBlank => text().is_some_and(|t| t.ends_with(' ')),
            ValueClass::LineEnd => text().is_some_and(|t| t.ends_with('\n')),
            ValueClass::Letters => text().is_some_and(|t| t.chars().any(char::is_alphabetic)),
            ValueClass::NoNumber => text().is_some_and(|t| t.trim().parse::<Decimal>().is_err()),
            ValueClass::NoInteger => text().is_some_and(|t| t.trim().parse::<i64>().is_err()),
            ValueClass::NoTruth => text().is_some_and(|t| !TRUTHS.contains(&t.to_ascii_lowercase().as_str())),
            ValueClass::WiderThan(_) => false,
        }
    }

    /// A condition in a dialect's words that a value, written as `text`, is of the class; `None` where
    /// only its type tells.
    pub fn condition(self, text: &str, dialect: DialectName) -> Option<String> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        Some(match self {
            ValueClass::Null => format!("({text}) IS NULL"),
            // Oracle has no empty text; one is found as NULL.
            ValueClass::Empty if dialect == Oracle => format!("({text}) IS NULL"),
            ValueClass::Empty => format!("({text}) = ''"),
            ValueClass::Number(order, number) => format!("({text}) {} {number}", order.sign()),
            ValueClass::Length(order, number) => match dialect {
                SqlServer => format!("LEN(CONCAT({text}, '.')) - 1 {} {number}", order.sign()),
                Mysql | Mariadb | Bigquery => format!("CHAR_LENGTH({text}) {} {number}", order.sign()),
                _ => format!("LENGTH({text}) {} {number}", order.sign()),
            },
            ValueClass::Fraction if dialect == Sqlite => format!("({text}) <> CAST(({text}) AS INTEGER)"),
            ValueClass::Fraction => format!("({text}) <> FLOOR({text})"),
            // More bytes than characters; SQL Server's strings have two bytes a character or one.
            ValueClass::BeyondAscii => match dialect {
                Oracle => format!("LENGTHB({text}) <> LENGTH({text})"),
                SqlServer => format!("({text}) COLLATE Latin1_General_BIN2 LIKE N'%[^ -~]%'"),
                Mysql | Mariadb => format!("LENGTH({text}) <> CHAR_LENGTH({text})"),
                Postgres | Spark => format!("OCTET_LENGTH({text}) <> CHAR_LENGTH({text})"),
                Duckdb => format!("STRLEN({text}) <> LENGTH({text})"),
                Bigquery => format!("BYTE_LENGTH({text}) <> CHAR_LENGTH({text})"),
                Sqlite => format!("LENGTH(CAST(({text}) AS BLOB)) <> LENGTH({text})"),
            },
            ValueClass::Backslash => match dialect {
                SqlServer => format!("CHARINDEX('\\', {text}) > 0"),
                Postgres => format!("STRPOS({text}, '\\') > 0"),
                Mysql | Mariadb | Spark | Bigquery => format!("INSTR({text}, '\\\\') > 0"),
                Oracle | Duckdb | Sqlite => format!("INSTR({text}, '\\') > 0"),
            },
            ValueClass::Bracket => match dialect {
                SqlServer => format!("CHARINDEX('[', {text}) > 0"),
                Postgres => format!("STRPOS({text}, '[') > 0"),
                _ => format!("INSTR({text}, '[') > 0"),
            },
            ValueClass::TrailingBlank => format!("({text}) LIKE '% '"),
            ValueClass::LineEnd => match dialect {
                Oracle => format!("SUBSTR({text}, -1) = CHR(10)"),
                Sqlite => format!("SUBSTR({text}, -1) = CHAR(10)"),
                SqlServer => format!("RIGHT({text}, 1) = CHAR(10)"),
                Postgres | Duckdb => format!("RIGHT({text}, 1) = CHR(10)"),
                Mysql | Mariadb | Bigquery | Spark => format!("RIGHT({text}, 1) = '\\n'"),
            },
            // SQL Server's and MySQL's comparisons pass over case: a binary collation doesn't.
            ValueClass::Letters => match dialect {
                SqlServer => format!("({text}) LIKE '%[A-Za-z]%'"),
                Mysql | Mariadb => format!("BINARY UPPER({text}) <> BINARY LOWER({text})"),
                _ => format!("UPPER({text}) <> LOWER({text})"),
            },
            ValueClass::NoNumber => match dialect {
                SqlServer => format!("TRY_CAST({text} AS FLOAT) IS NULL AND ({text}) IS NOT NULL"),
                Duckdb | Spark => format!("TRY_CAST({text} AS DOUBLE) IS NULL AND ({text}) IS NOT NULL"),
                Bigquery => format!("SAFE_CAST({text} AS FLOAT64) IS NULL AND ({text}) IS NOT NULL"),
                Postgres => format!("({text}) !~ '{NUMBER}'"),
                Oracle => format!("NOT REGEXP_LIKE({text}, '{NUMBER}')"),
                Mysql | Mariadb => format!("({text}) NOT REGEXP '{NUMBER}'"),
                Sqlite => format!("CAST(CAST({text} AS NUMERIC) AS TEXT) <> TRIM({text})"),
            },
            ValueClass::NoInteger => match dialect {
                SqlServer => format!("({text}) LIKE '%[^0-9 +-]%' OR ({text}) NOT LIKE '%[0-9]%'"),
                Duckdb => format!("NOT REGEXP_MATCHES({text}, '{WHOLE}')"),
                Spark => format!("NOT REGEXP_LIKE({text}, '{WHOLE}')"),
                Bigquery => format!("NOT REGEXP_CONTAINS({text}, '{WHOLE}')"),
                Postgres => format!("({text}) !~ '{WHOLE}'"),
                Oracle => format!("NOT REGEXP_LIKE({text}, '{WHOLE}')"),
                Mysql | Mariadb => format!("({text}) NOT REGEXP '{WHOLE}'"),
                Sqlite => format!("CAST(CAST({text} AS INTEGER) AS TEXT) <> TRIM({text})"),
            },
            ValueClass::NoTruth => {
                let words: Vec<String> = TRUTHS.iter().map(|t| format!("'{t}'")).collect();
                format!("LOWER({text}) NOT IN ({})", words.join(", "))
            }
            ValueClass::Any | ValueClass::Whole | ValueClass::Text | ValueClass::NoUtf8 | ValueClass::WiderThan(_) => return None,
        })
    }

    /// Whether values of a type can be of the class at all.
    pub fn can_hold_of(self, data_type: &DataType) -> bool {
        let unknown = *data_type == DataType::Unknown;
        match self {
            ValueClass::Any | ValueClass::Null | ValueClass::WiderThan(_) => true,
            ValueClass::Number(..) => unknown || data_type.is_numeric(),
            ValueClass::NoUtf8 => unknown || *data_type == DataType::Binary,
            ValueClass::Whole => unknown || matches!(data_type, DataType::Integer(_)),
            ValueClass::Fraction => unknown || matches!(data_type, DataType::Decimal(_) | DataType::Float(_)),
            ValueClass::Empty
            | ValueClass::Length(..)
            | ValueClass::Text
            | ValueClass::BeyondAscii
            | ValueClass::Backslash
            | ValueClass::Bracket
            | ValueClass::TrailingBlank
            | ValueClass::LineEnd
            | ValueClass::NoNumber
            | ValueClass::NoInteger
            | ValueClass::NoTruth
            | ValueClass::Letters => unknown || data_type.is_text(),
        }
    }

    /// Values of the class, for data that is to meet it; none where a value alone isn't of it.
    pub fn examples(self) -> Vec<Value> {
        let strings = |all: &[&str]| all.iter().map(|t| Value::text(*t)).collect();
        match self {
            ValueClass::Empty => strings(&[""]),
            ValueClass::NoUtf8 => vec![Value::Binary(vec![0xff, b'A'].into())],
            ValueClass::Number(order, number) => vec![Value::Integer(match order {
                Order::Less => number - 1,
                Order::Greater => number + 1,
                _ => number,
            })],
            ValueClass::Length(order, number) => {
                let length = if order == Order::Greater { number + 1 } else { number - 1 };
                vec![Value::text("quay ".repeat(20).chars().take(usize::try_from(length).unwrap_or(0)).collect::<String>())]
            }
            ValueClass::Fraction => vec![Value::Float(1.5), Value::Float(-2.5)],
            ValueClass::BeyondAscii => strings(&["wéir", "ÉTAGE"]),
            ValueClass::Backslash => strings(&["a\\b", "\\%"]),
            ValueClass::Bracket => strings(&["[q]uay"]),
            ValueClass::TrailingBlank => strings(&["quay "]),
            ValueClass::LineEnd => strings(&["quay\n"]),
            ValueClass::Letters => strings(&["Quay"]),
            ValueClass::NoNumber => strings(&["quay", "12x", ""]),
            ValueClass::NoInteger => strings(&["3.5", "", "12x"]),
            ValueClass::NoTruth => strings(&["maybe", ""]),
            ValueClass::Any | ValueClass::Null | ValueClass::Whole | ValueClass::Text | ValueClass::WiderThan(_) => Vec::new(),
        }
    }
}
