//! Functions of one row, by dialect.

use bigdecimal::RoundingMode;
use syntax::DialectName;
use values::Value;

use crate::arithmetic::{Arithmetic, compute};
use crate::behaviour::Behaviour;
use crate::convert::{as_text, rounded, simplest, to_decimal};
use crate::failure::Failure;

/// The functions known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Function {
    Coalesce,
    NullIf,
    Upper,
    Lower,
    Absolute,
    /// Characters.
    Length,
    /// Bytes.
    ByteLength,
    /// Characters without trailing blanks.
    TrimmedLength,
    Round,
    Truncate,
    Ceiling,
    Floor,
    Remainder,
    DivideWhole,
    Trim,
    TrimLeft,
    TrimRight,
    /// NULL if any argument is.
    Concat,
    /// NULLs are left out.
    ConcatPresent,
    Substring,
    Replace,
}

/// The function a name is in `dialect`; `None` if the stand-in doesn't know it there.
pub(crate) fn named(name: &str, dialect: DialectName) -> Option<Function> {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, Sqlite, Tsql};
    let is = |dialects: &[DialectName]| dialects.contains(&dialect);
    Some(match name {
        "COALESCE" => Function::Coalesce,
        "NVL" if is(&[Oracle, Mariadb, Spark]) => Function::Coalesce,
        "IFNULL" if is(&[Mysql, Mariadb, Sqlite, Duckdb, Bigquery, Spark]) => Function::Coalesce,
        "ISNULL" if dialect == Tsql => Function::Coalesce,
        "NULLIF" => Function::NullIf,
        "UPPER" => Function::Upper,
        "LOWER" => Function::Lower,
        "UCASE" if is(&[Mysql, Mariadb, Spark]) => Function::Upper,
        "LCASE" if is(&[Mysql, Mariadb, Spark]) => Function::Lower,
        "ABS" => Function::Absolute,
        "LENGTH" if is(&[Mysql, Mariadb]) => Function::ByteLength,
        "LENGTH" if dialect != Tsql => Function::Length,
        "CHAR_LENGTH" | "CHARACTER_LENGTH" if !is(&[Oracle, Tsql, Sqlite]) => Function::Length,
        "LEN" if dialect == Tsql => Function::TrimmedLength,
        "ROUND" => Function::Round,
        "TRUNC" if is(&[Oracle, Postgres, Duckdb, Bigquery]) => Function::Truncate,
        "TRUNCATE" if is(&[Mysql, Mariadb]) => Function::Truncate,
        "CEIL" if dialect != Tsql => Function::Ceiling,
        "CEILING" if dialect != Oracle => Function::Ceiling,
        "FLOOR" => Function::Floor,
        "MOD" if !is(&[Tsql, Sqlite]) => Function::Remainder,
        "DIV" if dialect == Bigquery => Function::DivideWhole,
        "TRIM" => Function::Trim,
        "LTRIM" => Function::TrimLeft,
        "RTRIM" => Function::TrimRight,
        "CONCAT" if is(&[Postgres, Duckdb, Tsql, Sqlite, Oracle]) => Function::ConcatPresent,
        "CONCAT" => Function::Concat,
        "SUBSTR" if dialect != Tsql => Function::Substring,
        "SUBSTRING" if is(&[Tsql, Postgres, Mysql, Mariadb, Duckdb, Spark, Sqlite]) => Function::Substring,
        "REPLACE" => Function::Replace,
        _ => return None,
    })
}

pub(crate) fn call(function: Function, arguments: &[Value], behaviour: &Behaviour) -> Result<Value, Failure> {
    use Function as F;
    match function {
        F::Coalesce => return Ok(arguments.iter().find(|v| !v.is_null()).cloned().unwrap_or(Value::Null)),
        F::NullIf => {
            let [a, b] = arguments else { return Err(count("NULLIF")) };
            let equal = crate::compare::order(a, b, behaviour)?.is_some_and(std::cmp::Ordering::is_eq);
            return Ok(if equal { Value::Null } else { a.clone() });
        }
        F::ConcatPresent => {
            let text: String = arguments.iter().filter(|v| !v.is_null()).map(|v| as_text(v, behaviour)).collect();
            return Ok(finished(text, behaviour));
        }
        _ => {}
    }
    if arguments.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    let text = |i: usize| arguments.get(i).map(|v| as_text(v, behaviour)).unwrap_or_default();
    let whole = |i: usize| arguments.get(i).and_then(to_decimal).and_then(|d| bigdecimal::ToPrimitive::to_i64(&d));
    let number = |i: usize| arguments.get(i).and_then(to_decimal).ok_or_else(|| Failure::unknown("this function of a text"));
    Ok(match function {
        F::Upper => {
            finished(if behaviour.name() == DialectName::Sqlite { text(0).to_ascii_uppercase() } else { text(0).to_uppercase() }, behaviour)
        }
        F::Lower => {
            finished(if behaviour.name() == DialectName::Sqlite { text(0).to_ascii_lowercase() } else { text(0).to_lowercase() }, behaviour)
        }
        F::Length => Value::Integer(text(0).chars().count() as i64),
        F::ByteLength => Value::Integer(text(0).len() as i64),
        F::TrimmedLength => Value::Integer(text(0).trim_end_matches(' ').encode_utf16().count() as i64),
        F::Absolute => match &arguments[0] {
            Value::Float(f) => Value::Float(f.abs()),
            _ => simplest(number(0)?.abs()),
        },
        F::Round => simplest(rounded(&number(0)?, whole(1).unwrap_or(0))),
        F::Truncate => simplest(number(0)?.with_scale_round(whole(1).unwrap_or(0), RoundingMode::Down)),
        F::Ceiling => simplest(number(0)?.with_scale_round(0, RoundingMode::Ceiling)),
        F::Floor => simplest(number(0)?.with_scale_round(0, RoundingMode::Floor)),
        F::Remainder => binary(Arithmetic::Remainder, arguments, behaviour)?,
        F::DivideWhole => binary(Arithmetic::DivideWhole, arguments, behaviour)?,
        F::Trim | F::TrimLeft | F::TrimRight if arguments.len() > 1 => return Err(Failure::unknown("TRIM with a set of characters")),
        F::Trim => finished(text(0).trim_matches(' ').to_string(), behaviour),
        F::TrimLeft => finished(text(0).trim_start_matches(' ').to_string(), behaviour),
        F::TrimRight => finished(text(0).trim_end_matches(' ').to_string(), behaviour),
        F::Concat => finished(arguments.iter().map(|v| as_text(v, behaviour)).collect(), behaviour),
        F::Substring => substring(&text(0), whole(1), if arguments.len() > 2 { whole(2) } else { Some(i64::MAX) }, behaviour)?,
        F::Replace => {
            let (from, to) = (text(1), text(2));
            // In Oracle '' is NULL: what is replaced by it is taken out, and nothing is found by it.
            finished(if from.is_empty() { text(0) } else { text(0).replace(&from, &to) }, behaviour)
        }
        F::Coalesce | F::NullIf | F::ConcatPresent => Value::Null,
    })
}

fn binary(operator: Arithmetic, arguments: &[Value], behaviour: &Behaviour) -> Result<Value, Failure> {
    let [a, b] = arguments else { return Err(count("this function")) };
    compute(operator, a, b, behaviour)
}

fn count(name: &str) -> Failure {
    Failure::new(crate::FailureKind::Invalid, format!("wrong number of arguments for {name}"))
}

/// Only the plain case: a start of 1 or more. The rest is refused, not guessed.
fn substring(text: &str, start: Option<i64>, length: Option<i64>, behaviour: &Behaviour) -> Result<Value, Failure> {
    let Some(start) = start.filter(|s| *s >= 1) else {
        return Err(Failure::unknown("a substring that starts before the first character"));
    };
    let Some(length) = length.filter(|n| *n >= 0) else {
        return Err(Failure::unknown("a substring of negative length"));
    };
    let cut: String = text.chars().skip(start as usize - 1).take(usize::try_from(length).unwrap_or(usize::MAX)).collect();
    Ok(finished(cut, behaviour))
}

/// A text as a result: '' is NULL in Oracle.
pub(crate) fn finished(text: String, behaviour: &Behaviour) -> Value {
    if behaviour.empty_is_null && text.is_empty() { Value::Null } else { Value::text(text) }
}
