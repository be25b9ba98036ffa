//! Values as literals of a dialect.

use syntax::{Dialect, DialectName, Spelling, write_text};
use values::Value;

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

/// A value as a literal of `dialect`: what a query of it reads as that very value. Lists and
/// structs are JSON texts where the dialect has none.
pub fn literal_sql(value: &Value, dialect: &Dialect) -> String {
    let name = dialect.name;
    let text = |t: &str| text_sql(t, dialect);
    match value {
        Value::Null => "NULL".to_string(),
        Value::Boolean(b) => match name {
            Postgres | Duckdb | Bigquery | Spark => b.to_string().to_uppercase(),
            _ => u8::from(*b).to_string(),
        },
        // The least number is no literal with a sign: its digits alone are too many.
        Value::Integer(i64::MIN) => format!("({} - 1)", i64::MIN + 1),
        Value::Integer(i) => i.to_string(),
        Value::Decimal(d) => d.to_plain_string(),
        Value::Float(f) => float_sql(*f, name),
        Value::Text(t) => text(t),
        Value::Binary(bytes) => binary_sql(bytes, name),
        Value::Date(d) => typed("DATE", &d.to_string(), name),
        Value::Time(t) => match name {
            Oracle | Spark => text(&t.to_string()),
            _ => typed("TIME", &t.to_string(), name),
        },
        Value::Timestamp(t) => {
            let word = if name == Bigquery { "DATETIME" } else { "TIMESTAMP" };
            typed(word, &format!("{} {}", t.date(), t.time()), name)
        }
        Value::Instant(t, _) => {
            let utc = format!("{} {}", t.date(), t.time());
            match name {
                Postgres | Duckdb => format!("TIMESTAMPTZ '{utc}+00'"),
                Mysql | Mariadb | Sqlite => typed("TIMESTAMP", &utc, name),
                Oracle | SqlServer | Bigquery | Spark => typed("TIMESTAMP", &format!("{utc} +00:00"), name),
            }
        }
        Value::Interval(i) => match name {
            Postgres | Duckdb => format!("INTERVAL '{i}'"),
            _ => text(&i.to_string()),
        },
        Value::Array(items) => match name {
            Postgres => format!("ARRAY[{}]", list(items, dialect)),
            Duckdb | Bigquery => format!("[{}]", list(items, dialect)),
            Spark => format!("ARRAY({})", list(items, dialect)),
            _ => text(&value.to_json().to_string()),
        },
        Value::Struct(fields) => struct_sql(fields, dialect).unwrap_or_else(|| text(&value.to_json().to_string())),
    }
}

fn list(items: &[Value], dialect: &Dialect) -> String {
    items.iter().map(|v| literal_sql(v, dialect)).collect::<Vec<_>>().join(", ")
}

fn text_sql(text: &str, dialect: &Dialect) -> String {
    write_text(text, &Spelling::of(dialect))
}

fn typed(word: &str, text: &str, dialect: DialectName) -> String {
    match dialect {
        Sqlite | SqlServer => format!("'{text}'"),
        _ => format!("{word} '{text}'"),
    }
}

fn float_sql(float: f64, dialect: DialectName) -> String {
    if float.is_finite() {
        // With an exponent where the digits alone would fill a line.
        return format!("{float:?}");
    }
    let word = if float.is_nan() { "NaN" } else { ["-Infinity", "Infinity"][usize::from(float > 0.0)] };
    match dialect {
        Oracle => format!("TO_BINARY_DOUBLE('{word}')"),
        Sqlite if !float.is_nan() => ["-9e999", "9e999"][usize::from(float > 0.0)].to_string(),
        Sqlite => "NULL".to_string(),
        Bigquery => format!("CAST('{word}' AS FLOAT64)"),
        Postgres => format!("CAST('{word}' AS DOUBLE PRECISION)"),
        SqlServer | Mysql | Mariadb | Duckdb | Spark => format!("CAST('{word}' AS DOUBLE)"),
    }
}

fn binary_sql(bytes: &[u8], dialect: DialectName) -> String {
    let hex: String = bytes.iter().map(|b| format!("{b:02X}")).collect();
    match dialect {
        Oracle => format!("HEXTORAW('{hex}')"),
        SqlServer => format!("0x{hex}"),
        Postgres => format!("'\\x{hex}'::BYTEA"),
        Duckdb => format!("'{}'::BLOB", bytes.iter().map(|b| format!("\\x{b:02X}")).collect::<String>()),
        Bigquery => format!("FROM_HEX('{hex}')"),
        Mysql | Mariadb | Spark | Sqlite => format!("X'{hex}'"),
    }
}

fn struct_sql(fields: &[(compact_str::CompactString, Value)], dialect: &Dialect) -> Option<String> {
    let each = |put: &dyn Fn(&str, String) -> String| {
        fields.iter().map(|(name, value)| put(name, literal_sql(value, dialect))).collect::<Vec<_>>().join(", ")
    };
    match dialect.name {
        Duckdb => Some(format!("{{{}}}", each(&|name, value| format!("{}: {value}", text_sql(name, dialect))))),
        Spark => Some(format!("NAMED_STRUCT({})", each(&|name, value| format!("{}, {value}", text_sql(name, dialect))))),
        Bigquery => Some(format!("STRUCT({})", each(&|name, value| format!("{value} AS {name}")))),
        _ => None,
    }
}
