//! Text functions. Sources: the vendors' manuals, chapter on string functions.

use values::Value;

use super::{
    ALL, Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, Spark, Sqlite, TSQL, Tsql, Typing, f, of,
    seen,
};
use crate::behaviour::{Behaviour, Collation};
use crate::compare::{collated, folded};
use crate::convert::from_digits;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::types::{TextType, Type, Whole};

const TEXT: Typing = Typing::Fixed(Type::TEXT);
const LIKE: Typing = Typing::TextLikeFirst;
const NUMBER: Typing = Typing::Number;
const INT: Typing = Typing::Fixed(Type::INT);
const SAME_LENGTH: Typing = Typing::By(|types, _| {
    Ok(match types.first() {
        Some(Type::Text(text)) => Type::Text(TextType { fixed: false, literal: false, ..*text }),
        _ => Type::TEXT,
    })
});

pub(super) const FUNCTIONS: &[Function] = &[
    // --- case
    f("UPPER", ALL, 1, 1, SAME_LENGTH, |a| cased(a, true)),
    f("LOWER", ALL, 1, 1, SAME_LENGTH, |a| cased(a, false)),
    f("NLS_UPPER", ORACLE, 1, 1, SAME_LENGTH, |a| cased(a, true)),
    f("NLS_LOWER", ORACLE, 1, 1, SAME_LENGTH, |a| cased(a, false)),
    f("NLS_INITCAP", ORACLE, 1, 1, SAME_LENGTH, initcap),
    f("UCASE", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, SAME_LENGTH, |a| cased(a, true)),
    f("LCASE", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, SAME_LENGTH, |a| cased(a, false)),
    f("INITCAP", of(&[Oracle, Postgres, Bigquery, Spark]), 1, 2, SAME_LENGTH, initcap),
    // --- length
    f("LENGTH", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, NUMBER, characters),
    f("LENGTH", MY, 1, 1, NUMBER, bytes),
    f("LENGTHC", ORACLE, 1, 1, NUMBER, characters),
    f("LENGTH2", ORACLE, 1, 1, NUMBER, characters),
    f("LENGTH4", ORACLE, 1, 1, NUMBER, characters),
    f("LENGTHB", ORACLE, 1, 1, NUMBER, bytes),
    f("VSIZE", ORACLE, 1, 1, NUMBER, bytes),
    f("CHAR_LENGTH", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, NUMBER, characters),
    f("CHARACTER_LENGTH", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, NUMBER, characters),
    f("LEN", of(&[Spark, Duckdb]), 1, 1, NUMBER, characters),
    f("OCTET_LENGTH", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, NUMBER, bytes),
    f("BYTE_LENGTH", of(&[Bigquery]), 1, 1, NUMBER, bytes),
    f("STRLEN", of(&[Duckdb]), 1, 1, NUMBER, bytes),
    f("BIT_LENGTH", of(&[Mysql, Mariadb, Postgres, Duckdb, Spark]), 1, 1, NUMBER, |a| Ok(Value::Integer(byte_count(a, 0) * 8))),
    f("LEN", TSQL, 1, 1, INT, |a| Ok(Value::Integer(a.text(0).trim_end_matches(' ').encode_utf16().count() as i64))),
    f("DATALENGTH", TSQL, 1, 1, INT, data_length),
    // --- parts
    seen("SUBSTR", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTRC", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTR2", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTR4", ORACLE, 2, 3, LIKE, substring),
    f("SUBSTR", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 3, LIKE, substring),
    f("SUBSTRING", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 3, LIKE, substring),
    f("MID", MY, 2, 3, LIKE, substring),
    f("SUBSTRING", TSQL, 3, 3, Typing::By(tsql_substring_type), substring),
    f("LEFT", of(&[Tsql, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 2, 2, LIKE, |a| end_of(a, true)),
    f("RIGHT", of(&[Tsql, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 2, 2, LIKE, |a| end_of(a, false)),
    f("SUBSTRING_INDEX", of(&[Mysql, Mariadb, Spark]), 3, 3, LIKE, substring_index),
    f("SPLIT_PART", of(&[Postgres, Duckdb, Spark]), 3, 3, LIKE, split_part),
    // --- position
    f("INSTR", of(&[Oracle, Bigquery]), 2, 4, NUMBER, instr),
    f("INSTRC", ORACLE, 2, 4, NUMBER, instr),
    f("INSTR2", ORACLE, 2, 4, NUMBER, instr),
    f("INSTR4", ORACLE, 2, 4, NUMBER, instr),
    f("INSTR", of(&[Mysql, Mariadb, Spark, Sqlite, Duckdb]), 2, 2, NUMBER, |a| found_at(a, 0, 1)),
    f("LOCATE", of(&[Mysql, Mariadb]), 2, 3, NUMBER, locate),
    seen("LOCATE", of(&[Spark]), 2, 3, NUMBER, locate_from),
    seen("POSITION", of(&[Spark]), 2, 3, NUMBER, locate_from),
    f("POSITION_IN_", of(&[Mysql, Mariadb, Postgres, Duckdb, Spark]), 2, 2, NUMBER, |a| found_at(a, 1, 0)),
    f("STRPOS", of(&[Postgres, Duckdb, Bigquery]), 2, 2, NUMBER, |a| found_at(a, 0, 1)),
    f("CHARINDEX", of(&[Tsql, Spark]), 2, 3, INT, charindex),
    f("PATINDEX", TSQL, 2, 2, INT, patindex),
    f("STARTS_WITH", of(&[Postgres, Duckdb, Bigquery]), 2, 2, Typing::Fixed(Type::Boolean), |a| {
        Ok(Value::Boolean(a.text(0).starts_with(&a.text(1))))
    }),
    f("STARTSWITH", of(&[Spark]), 2, 2, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(a.text(0).starts_with(&a.text(1))))),
    f("STARTS_WITH_", of(&[Postgres, Duckdb]), 2, 2, Typing::Fixed(Type::Boolean), |a| {
        Ok(Value::Boolean(a.text(0).starts_with(&a.text(1))))
    }),
    f("PREFIX", of(&[Duckdb]), 2, 2, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(a.text(0).starts_with(&a.text(1))))),
    f("SUFFIX", of(&[Duckdb]), 2, 2, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(a.text(0).ends_with(&a.text(1))))),
    f("ENDS_WITH", of(&[Bigquery, Duckdb]), 2, 2, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(a.text(0).ends_with(&a.text(1))))),
    f("ENDSWITH", of(&[Spark]), 2, 2, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(a.text(0).ends_with(&a.text(1))))),
    f("CONTAINS", of(&[Duckdb, Spark]), 2, 2, Typing::Fixed(Type::Boolean), contains),
    // --- padding
    seen("LPAD", ORACLE, 2, 3, TEXT, |a| oracle_pad(a, true)),
    seen("RPAD", ORACLE, 2, 3, TEXT, |a| oracle_pad(a, false)),
    f("LPAD", of(&[Mysql]), 3, 3, LIKE, |a| pad(a, true)),
    f("RPAD", of(&[Mysql]), 3, 3, LIKE, |a| pad(a, false)),
    f("LPAD", of(&[Mariadb, Postgres, Bigquery, Spark]), 2, 3, LIKE, |a| pad(a, true)),
    f("RPAD", of(&[Mariadb, Postgres, Bigquery, Spark]), 2, 3, LIKE, |a| pad(a, false)),
    f("LPAD", of(&[Duckdb]), 3, 3, LIKE, |a| pad(a, true)),
    f("RPAD", of(&[Duckdb]), 3, 3, LIKE, |a| pad(a, false)),
    f("REPEAT", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 2, 2, LIKE, repeat),
    f("REPLICATE", TSQL, 2, 2, Typing::By(replicate_type), repeat),
    f("SPACE", of(&[Tsql, Mysql, Mariadb, Spark]), 1, 1, TEXT, space),
    // --- trimming
    f("TRIM", of(&[Oracle, Tsql, Mysql, Mariadb]), 1, 1, LIKE, |a| trim(a, true, true)),
    f("TRIM", of(&[Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, true, true)),
    f("BTRIM", of(&[Postgres, Spark]), 1, 2, LIKE, |a| trim(a, true, true)),
    f("LTRIM", of(&[Oracle, Tsql, Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, true, false)),
    f("RTRIM", of(&[Oracle, Tsql, Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, false, true)),
    f("LTRIM", MY, 1, 1, LIKE, |a| trim(a, true, false)),
    f("RTRIM", MY, 1, 1, LIKE, |a| trim(a, false, true)),
    f("TRIM_BOTH_", ALL, 1, 2, LIKE, |a| trim_form(a, true, true)),
    f("TRIM_LEADING_", ALL, 1, 2, LIKE, |a| trim_form(a, true, false)),
    f("TRIM_TRAILING_", ALL, 1, 2, LIKE, |a| trim_form(a, false, true)),
    // --- changing
    seen("REPLACE", ORACLE, 2, 3, TEXT, oracle_replace),
    f("REPLACE", of(&[Tsql, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite]), 3, 3, LIKE, replace),
    f("REPLACE", of(&[Spark]), 2, 3, LIKE, replace),
    seen("TRANSLATE", ORACLE, 3, 3, TEXT, translate),
    f("TRANSLATE", of(&[Tsql, Postgres, Duckdb, Bigquery, Spark]), 3, 3, LIKE, translate),
    f("REVERSE", of(&[Oracle, Tsql, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, SAME_LENGTH, |a| {
        a.give(a.text(0).chars().rev().collect::<String>())
    }),
    seen("STUFF", TSQL, 4, 4, LIKE, stuff),
    f("INSERT", MY, 4, 4, LIKE, insert),
    f("OVERLAY_", of(&[Postgres, Spark]), 3, 4, LIKE, overlay),
    f("OVERLAY", of(&[Spark]), 3, 4, LIKE, overlay),
    // --- joining
    // Two arguments before Oracle 23.
    seen("CONCAT", of(&[Oracle]), 2, MANY, TEXT, concat_present),
    seen("CONCAT", of(&[Postgres, Duckdb, Sqlite]), 1, MANY, TEXT, concat_present),
    seen("CONCAT", TSQL, 2, MANY, TEXT, concat_present),
    f("CONCAT", of(&[Mysql, Mariadb, Spark, Bigquery]), 1, MANY, Typing::By(concat_type), |a| {
        a.give((0..a.count()).map(|i| a.text(i)).collect::<String>())
    }),
    seen("CONCAT_WS", of(&[Tsql, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite]), 2, MANY, TEXT, concat_ws),
    // --- lists
    seen("FIELD", MY, 2, MANY, NUMBER, field),
    seen("ELT", of(&[Mysql, Mariadb, Spark]), 2, MANY, TEXT, chosen),
    seen("INTERVAL", MY, 2, MANY, NUMBER, bounds_below),
    f("FIND_IN_SET", of(&[Mysql, Mariadb, Spark]), 2, 2, NUMBER, |a| {
        let wanted = collated(&a.text(0), a.collation);
        let place = a.text(1).split(',').position(|p| collated(p, a.collation) == wanted);
        Ok(Value::Integer(place.filter(|_| !a.text(1).is_empty()).map_or(0, |p| p as i64 + 1)))
    }),
    // --- codes
    f("ASCII", of(&[Oracle, Tsql, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, NUMBER, ascii),
    f("ORD", of(&[Mysql, Mariadb]), 1, 1, NUMBER, |a| Ok(Value::Integer(first_code(&a.text(0), true)))),
    f("UNICODE", of(&[Tsql, Sqlite, Duckdb, Bigquery]), 1, 1, NUMBER, unicode),
    f("ORD", of(&[Duckdb]), 1, 1, NUMBER, unicode),
    f("NCHR", ORACLE, 1, 1, TEXT, chr),
    // Bytes that are no text are NULL (seen on MariaDB 10.11).
    seen("CHAR_USING_", MY, 1, MANY, TEXT, |a| String::from_utf8(char_bytes(a)?).map_or(Ok(Value::Null), |text| a.give(text))),
    f("CHR", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark]), 1, 1, TEXT, chr),
    f("CHAR", TSQL, 1, 1, TEXT, |a| Ok(u8::try_from(a.whole(0)?).map_or(Value::Null, |b| Value::text(char::from(b).to_string())))),
    f("NCHAR", TSQL, 1, 1, TEXT, chr),
    f("CHAR", of(&[Mysql, Mariadb, Spark]), 1, MANY, TEXT, char_list),
    // NULL is the character 0 (seen on SQLite 3.54).
    seen("CHAR", of(&[Sqlite]), 1, MANY, TEXT, char_list),
    f("HEX", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, TEXT, hex),
    // Of NULL it is empty (seen on SQLite 3.54).
    seen("HEX", of(&[Sqlite]), 1, 1, TEXT, |a| if a.has(0) { hex(a) } else { a.give("") }),
    f("TO_HEX", of(&[Postgres]), 1, 1, TEXT, |a| {
        let is_long = matches!(a.ty(0), Type::Integer(whole) if whole.bits == 64);
        a.give(if is_long { format!("{:x}", a.whole(0)?) } else { format!("{:x}", a.whole(0)? as i32) })
    }),
    f("UNHEX", of(&[Mysql, Mariadb, Spark, Sqlite, Duckdb]), 1, 1, Typing::Fixed(Type::Binary { length: None, fixed: false }), unhex),
    f("FROM_HEX", of(&[Duckdb, Bigquery]), 1, 1, Typing::Fixed(Type::Binary { length: None, fixed: false }), unhex),
    f("SOUNDEX", of(&[Oracle, Tsql, Mysql, Mariadb, Bigquery, Spark]), 1, 1, TEXT, |a| a.give(soundex(&a.text(0), a.behaviour))),
    f("DIFFERENCE", TSQL, 2, 2, INT, |a| {
        let (x, y) = (soundex(&a.text(0), a.behaviour), soundex(&a.text(1), a.behaviour));
        Ok(Value::Integer(x.chars().zip(y.chars()).filter(|(a, b)| a == b).count() as i64))
    }),
    f("STRCMP", MY, 2, 2, NUMBER, |a| Ok(Value::Integer(crate::compare::texts(&a.text(0), &a.text(1), a.collation) as i64))),
    // --- forms
    f("QUOTENAME", TSQL, 1, 2, TEXT, quotename),
    f("STR", TSQL, 1, 3, TEXT, tsql_str),
    f("PARSENAME", TSQL, 2, 2, TEXT, part_of_name),
    f("UNICODE_", MY, 1, 1, NUMBER, |a| Ok(Value::Integer(first_code(&a.text(0), false)))),
    seen("QUOTE", MY, 1, 1, TEXT, |a| {
        let text = a.text(0).replace('\\', "\\\\").replace('\'', "\\'");
        a.give(if a.has(0) { format!("'{text}'") } else { "NULL".to_string() })
    }),
    f("QUOTE_IDENT", of(&[Postgres]), 1, 1, TEXT, |a| {
        let text = a.text(0);
        let plain = text.chars().all(|c| c.is_ascii_lowercase() || c == '_' || c.is_ascii_digit())
            && !text.starts_with(|c: char| c.is_ascii_digit())
            && !syntax::is_reserved(Postgres, &text);
        a.give(if plain { text } else { format!("\"{}\"", text.replace('"', "\"\"")) })
    }),
    seen("INTERVAL", MY, 2, MANY, NUMBER, |a| {
        if a.value(0).is_null() {
            return Ok(Value::Integer(-1));
        }
        let number = a.number(0)?;
        let mut below = 0;
        for at in 1..a.count() {
            if !a.value(at).is_null() && a.number(at)? <= number {
                below = at as i64;
            }
        }
        Ok(Value::Integer(below))
    }),
];

// --- types -----------------------------------------------------------------------------------------

fn tsql_substring_type(types: &[Type], _: &Behaviour) -> Outcome<Type> {
    match types.first() {
        Some(Type::Text(text)) => Ok(Type::Text(TextType { length: None, fixed: false, literal: false, ..*text })),
        Some(Type::Binary { .. }) => Ok(Type::Binary { length: None, fixed: false }),
        Some(Type::Any) => Ok(Type::TEXT),
        _ => Err(Failure::invalid("SUBSTRING wants a text").with_code("Msg 8116")),
    }
}

/// SQL Server: 8000 bytes, unless the text is VARCHAR(MAX).
fn replicate_type(types: &[Type], _: &Behaviour) -> Outcome<Type> {
    Ok(match types.first() {
        Some(Type::Text(text)) => Type::Text(TextType { length: text.length.map(|_| 8000), fixed: false, literal: false, ..*text }),
        _ => Type::varying(8000),
    })
}

/// MySQL: as wide as its parts together.
fn concat_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    if let [Type::Array(_), ..] = types {
        return Ok(types[0].clone());
    }
    if !behaviour.is_mysql() {
        return Ok(Type::TEXT);
    }
    let lengths: Option<Vec<u32>> = types.iter().map(|t| t.as_text().and_then(|t| t.length)).collect();
    let collation = types.iter().filter_map(Type::as_text).find_map(|t| t.collation);
    Ok(Type::Text(TextType { length: lengths.map(|l| l.iter().sum()), collation, ..TextType::default() }))
}

// --- case and length -------------------------------------------------------------------------------

fn cased(a: &Args<'_>, upper: bool) -> Outcome<Value> {
    let text = a.text(0);
    a.give(match (upper, a.dialect()) {
        // SQLite knows the case of ASCII letters only.
        (true, Sqlite) => text.to_ascii_uppercase(),
        (false, Sqlite) => text.to_ascii_lowercase(),
        (true, Spark | Bigquery) => text.to_uppercase(),
        // A letter stays one (seen on PostgreSQL 15 and MariaDB 10.11); DuckDB knows a capital ß.
        (true, _) => text.chars().map(|c| if c == 'ß' && a.dialect() == Duckdb { 'ẞ' } else { capital(c) }).collect(),
        (false, _) => text.to_lowercase(),
    })
}

fn capital(c: char) -> char {
    let mut all = c.to_uppercase();
    match (all.next(), all.next()) {
        (Some(capital), None) => capital,
        _ => c,
    }
}

/// What starts a word: anything behind what is no letter or digit; behind a blank in Spark; behind
/// one of a list in BigQuery.
fn initcap(a: &Args<'_>) -> Outcome<Value> {
    let list = if a.count() > 1 { a.text(1) } else { " []\u{b}\r\n\t\u{c}()!?@<>{}/\\#\"^&~`$%*+-=|.,;:'_".to_string() };
    let parts = |c: char| match a.dialect() {
        Spark => c == ' ',
        Bigquery => list.contains(c),
        _ => !c.is_alphanumeric(),
    };
    let mut start = true;
    let mut out = String::new();
    for c in a.text(0).chars() {
        if start {
            out.extend(c.to_uppercase());
        } else {
            out.extend(c.to_lowercase());
        }
        start = parts(c);
    }
    a.give(out)
}

fn characters(a: &Args<'_>) -> Outcome<Value> {
    if let Value::Binary(bytes) = a.value(0) {
        return Ok(Value::Integer(bytes.len() as i64));
    }
    if let Value::Array(items) = a.value(0) {
        return Ok(Value::Integer(items.len() as i64));
    }
    let text = a.text(0);
    // PostgreSQL: the blanks that fill a CHAR don't count.
    let padded = a.dialect() == Postgres && a.ty(0).as_text().is_some_and(|t| t.fixed);
    let text = if padded { text.trim_end_matches(' ') } else { &text };
    Ok(Value::Integer(text.chars().count() as i64))
}

fn byte_count(a: &Args<'_>, at: usize) -> i64 {
    match a.value(at) {
        Value::Binary(bytes) => bytes.len() as i64,
        _ => a.text(at).len() as i64,
    }
}

fn bytes(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Integer(byte_count(a, 0)))
}

fn data_length(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Integer(match a.ty(0) {
        Type::Text(text) if text.national => a.text(0).encode_utf16().count() as i64 * 2,
        Type::Text(_) => a.text(0).chars().count() as i64,
        Type::Integer(Whole { bits, .. }) => i64::from(*bits / 8),
        Type::Bit => 1,
        Type::Float | Type::Money | Type::DateTime(crate::types::Moment::Ticks) => 8,
        Type::Real => 4,
        Type::Date => 3,
        Type::Binary { .. } => byte_count(a, 0),
        _ => return Err(Failure::unknown("DATALENGTH of this type")),
    }))
}

// --- parts -----------------------------------------------------------------------------------------

/// Characters from..to, counted from 0, within the text.
fn slice(text: &[char], from: i64, to: i64) -> String {
    let count = text.len() as i64;
    let (from, to) = (from.clamp(0, count), to.clamp(0, count));
    text[from as usize..to.max(from) as usize].iter().collect()
}

/// SUBSTRING in its nine kinds.
fn substring(a: &Args<'_>) -> Outcome<Value> {
    if a.values.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    if let (Value::Binary(bytes), false) = (a.value(0), a.dialect() == Postgres && a.ty(1).is_text()) {
        let (start, length) = (a.whole(1)?.max(1) as usize - 1, a.whole_or(2, i64::MAX)?.max(0) as usize);
        return Ok(Value::Binary(Box::new(bytes.iter().skip(start).take(length).copied().collect())));
    }
    // PostgreSQL: SUBSTRING(x FROM pattern).
    if a.dialect() == Postgres && a.ty(1).is_text() && a.count() == 2 {
        return super::pattern::first_match(a);
    }
    let text: Vec<char> = a.text(0).chars().collect();
    let count = text.len() as i64;
    let start = a.whole(1)?;
    let length = if a.count() > 2 { Some(a.whole(2)?) } else { None };
    let negative_is_error = a.is(&[Tsql, Postgres, Bigquery]);
    if let Some(length) = length.filter(|l| *l < 0) {
        if negative_is_error {
            let codes: Codes = &[(Tsql, "Msg 537"), (Postgres, "22011")];
            return Err(Failure::invalid(format!("SUBSTRING of {length} characters")).coded(a.dialect(), codes));
        }
        // SQLite and DuckDB go backwards.
        if a.is(&[Sqlite, Duckdb]) {
            return backwards(a, &text, start, length);
        }
        return a.give("");
    }
    let length = length.unwrap_or(i64::MAX / 4);
    let from = match (start, a.dialect()) {
        // Start 0 is 1 in Oracle, BigQuery and Spark; nothing in MySQL; before the text elsewhere.
        (0, Oracle | Bigquery | Spark) => 0,
        (0, Mysql | Mariadb) => return a.give(""),
        (1.., _) => start - 1,
        (_, Tsql | Postgres) => start - 1,
        (0, _) => -1,
        // Negative: from the end.
        (_, Oracle | Mysql | Mariadb) if -start > count => return a.give(""),
        // BigQuery: before the text is its start.
        (_, Bigquery) => (count + start).max(0),
        (_, _) => count + start,
    };
    a.give(slice(&text, from, from.saturating_add(length)))
}

fn backwards(a: &Args<'_>, text: &[char], start: i64, length: i64) -> Outcome<Value> {
    let count = text.len() as i64;
    let at = match start {
        1.. => start - 1,
        0 => 0,
        _ => count + start,
    };
    a.give(slice(text, at + length, at))
}

/// LEFT and RIGHT.
fn end_of(a: &Args<'_>, left: bool) -> Outcome<Value> {
    let text: Vec<char> = a.text(0).chars().collect();
    let (count, mut length) = (text.len() as i64, a.whole(1)?);
    if length < 0 {
        match a.dialect() {
            // All but so many at the other end.
            Postgres | Duckdb => length = (count + length).max(0),
            Tsql => {
                return Err(Failure::invalid("LEFT and RIGHT want a number from 0").with_code(if left { "Msg 537" } else { "Msg 536" }));
            }
            Bigquery => return Err(Failure::invalid("LEFT and RIGHT want a number from 0")),
            _ => length = 0,
        }
    }
    a.give(if left { slice(&text, 0, length) } else { slice(&text, count - length, count) })
}

fn substring_index(a: &Args<'_>) -> Outcome<Value> {
    let (text, delimiter, count) = (a.text(0), a.text(1), a.whole(2)?);
    if count == 0 || delimiter.is_empty() {
        return a.give("");
    }
    let parts: Vec<&str> = text.split(&delimiter).collect();
    let wanted = count.unsigned_abs() as usize;
    if wanted >= parts.len() {
        return a.give(text);
    }
    a.give(if count > 0 { parts[..wanted].join(&delimiter) } else { parts[parts.len() - wanted..].join(&delimiter) })
}

fn split_part(a: &Args<'_>) -> Outcome<Value> {
    let (text, delimiter, at) = (a.text(0), a.text(1), a.whole(2)?);
    if at == 0 && a.dialect() != Duckdb {
        return Err(Failure::invalid("SPLIT_PART counts from 1").coded(a.dialect(), &[(Postgres, "22023")]));
    }
    let parts: Vec<&str> = match delimiter.as_str() {
        // Seen on DuckDB 1.5: nothing parts the characters.
        "" if a.dialect() == Duckdb => text.split("").filter(|c| !c.is_empty()).collect(),
        "" => vec![&text],
        delimiter => text.split(delimiter).collect(),
    };
    // The part 0 is an empty one (seen on DuckDB 1.5).
    let place = if at < 0 { parts.len() as i64 + at } else { at - 1 };
    a.give(usize::try_from(place).ok().and_then(|p| parts.get(p)).copied().unwrap_or(""))
}

// --- position --------------------------------------------------------------------------------------

/// The places where a text is found, counted in characters from 0, overlapping ones too.
fn places(text: &str, wanted: &str, collation: Collation) -> Vec<usize> {
    let folding = Collation { pads: false, ..collation };
    let (text, wanted): (Vec<char>, Vec<char>) = (folded(text, folding).chars().collect(), folded(wanted, folding).chars().collect());
    if wanted.len() > text.len() {
        return Vec::new();
    }
    (0..=text.len() - wanted.len()).filter(|at| text[*at..*at + wanted.len()] == wanted).collect()
}

fn found_at(a: &Args<'_>, text: usize, wanted: usize) -> Outcome<Value> {
    let (text, wanted) = (a.text(text), a.text(wanted));
    Ok(Value::Integer(places(&text, &wanted, a.collation).first().map_or(0, |p| *p as i64 + 1)))
}

/// INSTR(text, wanted, start, occurrence): a negative start searches backwards.
fn instr(a: &Args<'_>) -> Outcome<Value> {
    let (text, wanted) = (a.text(0), a.text(1));
    let (start, occurrence) = (a.whole_or(2, 1)?, a.whole_or(3, 1)?);
    if occurrence < 1 {
        return Err(a.out_of_range(3, "ORA-01428"));
    }
    if start == 0 {
        return if a.dialect() == Bigquery { Err(Failure::invalid("INSTR counts from 1")) } else { Ok(Value::Integer(0)) };
    }
    let found = places(&text, &wanted, a.collation);
    let nth = occurrence as usize - 1;
    let place = if start > 0 {
        found.into_iter().filter(|p| *p as i64 >= start - 1).nth(nth)
    } else {
        let last = text.chars().count() as i64 + start;
        found.into_iter().rev().filter(|p| *p as i64 <= last).nth(nth)
    };
    Ok(Value::Integer(place.map_or(0, |p| p as i64 + 1)))
}

fn locate(a: &Args<'_>) -> Outcome<Value> {
    let start = a.whole_or(2, 1)?;
    if start < 1 {
        return Ok(Value::Integer(0));
    }
    let found = places(&a.text(1), &a.text(0), a.collation).into_iter().find(|p| *p as i64 >= start - 1);
    Ok(Value::Integer(found.map_or(0, |p| p as i64 + 1)))
}

fn charindex(a: &Args<'_>) -> Outcome<Value> {
    let start = a.whole_or(2, 1)?.max(1);
    let wanted = a.text(0);
    if wanted.is_empty() {
        return Ok(Value::Integer(0));
    }
    let found = places(&a.text(1), &wanted, a.collation).into_iter().find(|p| *p as i64 >= start - 1);
    Ok(Value::Integer(found.map_or(0, |p| p as i64 + 1)))
}

/// Where a pattern of LIKE is first found.
fn patindex(a: &Args<'_>) -> Outcome<Value> {
    use crate::execute::{Pattern, like};
    let (pattern, text) = (a.text(0), a.text(1));
    let how = Pattern { escape: None, sets: true, glob: false, negation: '^' };
    let Some(inner) = pattern.strip_prefix('%') else {
        return Ok(Value::Integer(i64::from(like(&text, &pattern, how, a.collation))));
    };
    let chars: Vec<char> = text.chars().collect();
    // The match that starts first; what follows it is the pattern's own business.
    let found = (0..=chars.len()).find(|at| like(&chars[*at..].iter().collect::<String>(), inner, how, a.collation));
    Ok(Value::Integer(found.map_or(0, |p| p as i64 + 1)))
}

fn contains(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Boolean(match a.value(0) {
        Value::Array(items) => items.contains(a.value(1)),
        _ => a.text(0).contains(&a.text(1)),
    }))
}

// --- padding ---------------------------------------------------------------------------------------

fn padded(text: &str, width: usize, fill: &str, left: bool) -> String {
    let count = text.chars().count();
    if count >= width {
        return text.chars().take(width).collect();
    }
    let filling: String = fill.chars().cycle().take(if fill.is_empty() { 0 } else { width - count }).collect();
    if left { filling + text } else { text.to_string() + &filling }
}

fn oracle_pad(a: &Args<'_>, left: bool) -> Outcome<Value> {
    if a.values.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    let width = a.whole(1)?.clamp(0, 4000) as usize;
    let fill = if a.count() > 2 { a.text(2) } else { " ".to_string() };
    a.give(padded(&a.text(0), width, &fill, left))
}

fn pad(a: &Args<'_>, left: bool) -> Outcome<Value> {
    let width = a.whole(1)?;
    if width < 0 {
        return match a.dialect() {
            Mysql | Mariadb => Ok(Value::Null),
            Bigquery => Err(Failure::invalid("a width below 0")),
            _ => a.give(""),
        };
    }
    let fill = if a.count() > 2 { a.text(2) } else { " ".to_string() };
    let text = a.text(0);
    let short = (text.chars().count() as i64) < width;
    if fill.is_empty() && short {
        match a.dialect() {
            Mysql if !a.behaviour.dialect.since(9, 0) => return a.give(""),
            Mariadb => return Ok(Value::Null),
            Bigquery => return Err(Failure::invalid("LPAD and RPAD want something to fill with")),
            Duckdb => return Err(Failure::invalid("Insufficient padding in LPAD or RPAD")),
            _ => {}
        }
    }
    a.give(padded(&text, width.min(16_000_000) as usize, &fill, left))
}

fn repeat(a: &Args<'_>) -> Outcome<Value> {
    let (text, times) = (a.text(0), a.whole(1)?);
    if times < 0 {
        match a.dialect() {
            Tsql => return Ok(Value::Null),
            Bigquery => return Err(Failure::invalid("REPEAT of a negative count")),
            _ => {}
        }
    }
    let most = if a.dialect() == Tsql && a.ty(0).as_text().is_some_and(|t| t.length.is_some()) { 8000 } else { 64_000_000 };
    let times = times.max(0) as usize;
    let fits = if text.is_empty() { 0 } else { (most / text.len()).min(times) };
    a.give(text.repeat(fits))
}

fn space(a: &Args<'_>) -> Outcome<Value> {
    let count = a.whole(0)?;
    if count < 0 && a.dialect() == Tsql {
        return Ok(Value::Null);
    }
    a.give(" ".repeat(count.clamp(0, 1_000_000) as usize))
}

// --- trimming --------------------------------------------------------------------------------------

/// Characters of a set, blanks by default: all white space in BigQuery.
fn trim(a: &Args<'_>, left: bool, right: bool) -> Outcome<Value> {
    // Spark calls TRIM and BTRIM with the set second, LTRIM and RTRIM with it first.
    let (text, set) = match (a.count(), a.dialect()) {
        (1, _) => (a.text(0), None),
        (_, Spark) if !(left && right) => (a.text(1), Some(a.text(0))),
        _ => (a.text(0), Some(a.text(1))),
    };
    let inside = |c: char| match &set {
        Some(set) => set.contains(c),
        None if a.dialect() == Bigquery => c.is_whitespace(),
        None => c == ' ',
    };
    a.give(trimmed(&text, left, right, inside))
}

fn trimmed(text: &str, left: bool, right: bool, inside: impl Fn(char) -> bool) -> &str {
    let text = if left { text.trim_start_matches(&inside) } else { text };
    if right { text.trim_end_matches(&inside) } else { text }
}

/// TRIM(LEADING x FROM y): one character in Oracle, a text in MySQL, a set elsewhere.
fn trim_form(a: &Args<'_>, left: bool, right: bool) -> Outcome<Value> {
    let text = a.text(0);
    if a.count() == 1 {
        let white = a.dialect() == Bigquery;
        return a.give(trimmed(&text, left, right, |c| c == ' ' || (white && c.is_whitespace())));
    }
    let set = a.text(1);
    if a.behaviour.is_mysql() {
        let mut rest = text.as_str();
        while left && !set.is_empty() && rest.starts_with(&set) {
            rest = &rest[set.len()..];
        }
        while right && !set.is_empty() && rest.ends_with(&set) {
            rest = &rest[..rest.len() - set.len()];
        }
        return a.give(rest);
    }
    if a.dialect() == Oracle && set.chars().count() != 1 {
        return Err(Failure::invalid("TRIM takes one character").with_code("ORA-30001"));
    }
    a.give(trimmed(&text, left, right, |c| set.contains(c)))
}

// --- changing --------------------------------------------------------------------------------------

fn oracle_replace(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() || a.value(1).is_null() {
        return Ok(a.value(0).clone());
    }
    let to = if a.has(2) { a.text(2) } else { String::new() };
    a.give(a.text(0).replace(&a.text(1), &to))
}

fn replace(a: &Args<'_>) -> Outcome<Value> {
    let (text, from, to) = (a.text(0), a.text(1), if a.count() > 2 { a.text(2) } else { String::new() });
    if from.is_empty() {
        return a.give(text);
    }
    // MySQL compares case here, SQL Server by collation.
    if a.dialect() != Tsql || a.collation.is_binary() || !a.collation.case_insensitive {
        return a.give(text.replace(&from, &to));
    }
    let found = places(&text, &from, a.collation);
    let (chars, width) = (text.chars().collect::<Vec<char>>(), from.chars().count());
    let (mut out, mut next) = (String::new(), 0);
    for at in found {
        if at >= next {
            out.extend(&chars[next..at]);
            out.push_str(&to);
            next = at + width;
        }
    }
    out.extend(&chars[next..]);
    a.give(out)
}

fn translate(a: &Args<'_>) -> Outcome<Value> {
    if a.values.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    let (from, to): (Vec<char>, Vec<char>) = (a.text(1).chars().collect(), a.text(2).chars().collect());
    if a.dialect() == Tsql && from.len() != to.len() {
        return Err(Failure::invalid("TRANSLATE wants two lists of one length").with_code("Msg 9828"));
    }
    let changed = |c: char| match from.iter().position(|f| *f == c) {
        Some(at) => to.get(at).copied(),
        None => Some(c),
    };
    a.give(a.text(0).chars().filter_map(changed).collect::<String>())
}

fn stuff(a: &Args<'_>) -> Outcome<Value> {
    if a.values[..3].iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    let text: Vec<char> = a.text(0).chars().collect();
    let (start, length) = (a.whole(1)?, a.whole(2)?);
    if start < 1 || start > text.len() as i64 || length < 0 {
        return Ok(Value::Null);
    }
    let put = if a.value(3).is_null() { String::new() } else { a.text(3) };
    let end = (start - 1).saturating_add(length);
    a.give(slice(&text, 0, start - 1) + &put + &slice(&text, end, i64::MAX))
}

fn insert(a: &Args<'_>) -> Outcome<Value> {
    let text: Vec<char> = a.text(0).chars().collect();
    let (start, length) = (a.whole(1)?, a.whole(2)?);
    if start < 1 || start > text.len() as i64 {
        return Ok(a.value(0).clone());
    }
    let length = if length < 0 { i64::MAX / 4 } else { length };
    a.give(slice(&text, 0, start - 1) + &a.text(3) + &slice(&text, start - 1 + length, i64::MAX))
}

fn overlay(a: &Args<'_>) -> Outcome<Value> {
    let text: Vec<char> = a.text(0).chars().collect();
    let put = a.text(1);
    let start = a.whole(2)?;
    if start < 1 && a.dialect() == Postgres {
        return Err(Failure::invalid("negative substring length not allowed").with_code("22011"));
    }
    let own = put.chars().count() as i64;
    let length = if a.count() > 3 { a.whole(3)? } else { own };
    // Below 0 PostgreSQL goes back, and Spark takes the other text's length (both observed).
    let length = if length < 0 && a.dialect() == Spark { own } else { length };
    a.give(slice(&text, 0, start - 1) + &put + &slice(&text, (start - 1 + length).max(0), i64::MAX))
}

// --- joining ---------------------------------------------------------------------------------------

fn concat_present(a: &Args<'_>) -> Outcome<Value> {
    if a.dialect() == Oracle && a.count() > 2 && !a.behaviour.dialect.since(23, 0) {
        return Err(Failure::invalid(format!("CONCAT takes 2 arguments, not {}", a.count())).with_code("ORA-00909"));
    }
    let text: String = (0..a.count()).filter(|i| a.has(*i)).map(|i| shown(a, i)).collect();
    a.give(text)
}

/// Here PostgreSQL writes truth with one letter, unlike in a cast (seen on 15).
fn shown(a: &Args<'_>, at: usize) -> String {
    match a.value(at) {
        Value::Boolean(truth) if a.dialect() == Postgres => if *truth { "t" } else { "f" }.to_string(),
        _ => a.text(at),
    }
}

fn concat_ws(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() && a.dialect() != Tsql {
        return Ok(Value::Null);
    }
    let separator = if a.value(0).is_null() { String::new() } else { a.text(0) };
    let parts: Vec<String> = (1..a.count()).filter(|i| a.has(*i)).map(|i| shown(a, i)).collect();
    a.give(parts.join(&separator))
}

/// The argument of this number; Spark in ANSI mode fails where there is none.
fn chosen(a: &Args<'_>) -> Outcome<Value> {
    if !a.has(0) {
        return Ok(Value::Null);
    }
    match usize::try_from(a.whole(0)?).ok().filter(|at| (1..a.count()).contains(at)) {
        Some(at) => Ok(a.value(at).clone()),
        None if a.dialect() == Spark && a.behaviour.strict => Err(a.wrong(0)),
        None => Ok(Value::Null),
    }
}

/// How many bounds stand before the first that is above the number; -1 for NULL.
fn bounds_below(a: &Args<'_>) -> Outcome<Value> {
    if !a.has(0) {
        return Ok(Value::Integer(-1));
    }
    let number = a.number(0)?;
    for at in 1..a.count() {
        if a.has(at) && number < a.number(at)? {
            return Ok(Value::Integer(at as i64 - 1));
        }
    }
    Ok(Value::Integer(a.count() as i64 - 1))
}

fn field(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() {
        return Ok(Value::Integer(0));
    }
    let numeric = a.types.iter().all(|t| t.is_numeric() || t.is_open());
    for at in 1..a.count() {
        if a.value(at).is_null() {
            continue;
        }
        let same =
            if numeric { a.number(0)? == a.number(at)? } else { collated(&a.text(0), a.collation) == collated(&a.text(at), a.collation) };
        if same {
            return Ok(Value::Integer(at as i64));
        }
    }
    Ok(Value::Integer(0))
}

// --- codes -----------------------------------------------------------------------------------------

/// The first character's code: its bytes as one number, or its place in Unicode.
fn first_code(text: &str, as_bytes: bool) -> i64 {
    let Some(c) = text.chars().next() else { return 0 };
    if as_bytes { c.to_string().bytes().fold(0, |n, b| n * 256 + i64::from(b)) } else { i64::from(u32::from(c)) }
}

/// PARSENAME: a part of up to four, from the end; brackets and quotes hold parts together.
fn part_of_name(a: &Args<'_>) -> Outcome<Value> {
    let (mut parts, mut close) = (vec![String::new()], None);
    for c in a.text(0).chars() {
        match (close, c) {
            (Some(end), c) if c == end => close = None,
            (None, '[') => close = Some(']'),
            (None, '"') => close = Some('"'),
            (None, '.') => parts.push(String::new()),
            (_, c) => parts.last_mut().into_iter().for_each(|p| p.push(c)),
        }
    }
    let at = usize::try_from(a.whole(1)?).ok().filter(|_| parts.len() <= 4);
    let part = at.and_then(|n| parts.iter().rev().nth(n.checked_sub(1)?)).filter(|p| !p.is_empty());
    part.map_or(Ok(Value::Null), |p| a.give(p.as_str()))
}

/// With a start, of which NULL gives 0 (seen on Spark 4.0).
fn locate_from(a: &Args<'_>) -> Outcome<Value> {
    match (a.has(0) && a.has(1), a.count() < 3 || a.has(2)) {
        (false, _) => Ok(Value::Null),
        (true, false) => Ok(Value::Integer(0)),
        (true, true) => locate(a),
    }
}

fn unicode(a: &Args<'_>) -> Outcome<Value> {
    let none = match a.dialect() {
        Duckdb => Value::Integer(-1),
        Bigquery => Value::Integer(0),
        _ => Value::Null,
    };
    Ok(a.text(0).chars().next().map_or(none, |c| Value::Integer(i64::from(u32::from(c)))))
}

fn ascii(a: &Args<'_>) -> Outcome<Value> {
    let text = a.text(0);
    if text.is_empty() && a.dialect() == Tsql {
        return Ok(Value::Null);
    }
    if a.dialect() == Bigquery && text.chars().next().is_some_and(|c| !c.is_ascii()) {
        return Err(Failure::invalid(format!("Argument to ASCII is not a structurally valid ASCII string: '{text}'")));
    }
    Ok(Value::Integer(match a.dialect() {
        Oracle => first_code(&text, true),
        Mysql | Mariadb => text.bytes().next().map_or(0, i64::from),
        _ => first_code(&text, false),
    }))
}

fn chr(a: &Args<'_>) -> Outcome<Value> {
    let code = a.whole(0)?;
    if code == 0 && a.dialect() == Postgres {
        return Err(Failure::invalid("there is no character 0").with_code("54000"));
    }
    match u32::try_from(code).ok().and_then(char::from_u32) {
        Some(c) => a.give(c.to_string()),
        None if a.dialect() == Tsql => Ok(Value::Null),
        // Seen on Spark 4.0.
        None if a.dialect() == Spark && code < 0 => a.give(""),
        None => Err(Failure::invalid(format!("there is no character {code}"))),
    }
}

fn char_list(a: &Args<'_>) -> Outcome<Value> {
    // Seen on Spark 4.0.
    if a.dialect() == Spark && a.whole(0)? < 0 {
        return a.give("");
    }
    a.give(String::from_utf8_lossy(&char_bytes(a)?).into_owned())
}

fn char_bytes(a: &Args<'_>) -> Outcome<Vec<u8>> {
    let mut bytes = Vec::new();
    // MySQL, CHAR(): NULL is skipped.
    for at in (0..a.count()).filter(|at| a.has(*at) || a.dialect() == Sqlite) {
        let code = if a.has(at) { a.whole(at)? } else { 0 };
        if a.is(&[Mysql, Mariadb]) {
            let all = (code as u32).to_be_bytes();
            bytes.extend(all.iter().skip_while(|b| **b == 0).copied().chain((code == 0).then_some(0)));
        } else {
            bytes.extend(u32::try_from(code).ok().and_then(char::from_u32).unwrap_or('\u{fffd}').to_string().bytes());
        }
    }
    Ok(bytes)
}

fn hex(a: &Args<'_>) -> Outcome<Value> {
    let number = matches!(a.value(0), Value::Integer(_) | Value::Decimal(_) | Value::Float(_)) && a.dialect() != Sqlite;
    if number {
        return a.give(format!("{:X}", a.whole(0)?));
    }
    let bytes = match a.value(0) {
        Value::Binary(bytes) => bytes.to_vec(),
        _ => a.text(0).into_bytes(),
    };
    a.give(bytes.iter().map(|b| format!("{b:02X}")).collect::<String>())
}

/// Digits that are none give NULL, or an error in DuckDB and BigQuery; a single first one is a byte of its
/// own but in SQLite.
fn unhex(a: &Args<'_>) -> Outcome<Value> {
    let text = a.text(0);
    let is_padded = text.len() % 2 == 1 && a.dialect() != Sqlite;
    match from_digits(&if is_padded { format!("0{text}") } else { text }) {
        Some(bytes) => Ok(Value::Binary(Box::new(bytes))),
        None if a.is(&[Duckdb, Bigquery]) => Err(Failure::new(FailureKind::BadCast, "these are no hexadecimal digits")),
        None => Ok(Value::Null),
    }
}

/// The consonants as digits; MySQL's keeps going behind the fourth place.
fn soundex(text: &str, behaviour: &Behaviour) -> String {
    let letters: Vec<char> = text.chars().filter(char::is_ascii_alphabetic).map(|c| c.to_ascii_uppercase()).collect();
    let Some(first) = letters.first() else { return String::new() };
    let digit = |c: char| match c {
        'B' | 'F' | 'P' | 'V' => '1',
        'C' | 'G' | 'J' | 'K' | 'Q' | 'S' | 'X' | 'Z' => '2',
        'D' | 'T' => '3',
        'L' => '4',
        'M' | 'N' => '5',
        'R' => '6',
        _ => '0',
    };
    let mysql = behaviour.is_mysql() || behaviour.name() == Bigquery;
    let mut code = first.to_string();
    let mut last = digit(*first);
    for c in &letters[1..] {
        let next = digit(*c);
        // H and W don't part equal digits (not so in MySQL, where no vowel does either).
        if mysql {
            if next != '0' && next != last {
                code.push(next);
                last = next;
            }
            continue;
        }
        if next != '0' && next != last {
            code.push(next);
        }
        if !matches!(c, 'H' | 'W') {
            last = next;
        }
    }
    while code.len() < 4 {
        code.push('0');
    }
    if !mysql {
        code.truncate(4);
    }
    code
}

// --- forms -----------------------------------------------------------------------------------------

fn quotename(a: &Args<'_>) -> Outcome<Value> {
    let text = a.text(0);
    let sign = if a.count() > 1 { a.text(1) } else { "[".to_string() };
    let (open, close) = match sign.as_str() {
        "[" | "]" => ('[', ']'),
        "(" | ")" => ('(', ')'),
        "<" | ">" => ('<', '>'),
        "{" | "}" => ('{', '}'),
        "\"" => ('"', '"'),
        "'" => ('\'', '\''),
        "`" => ('`', '`'),
        _ => return Ok(Value::Null),
    };
    if text.chars().count() > 128 {
        return Ok(Value::Null);
    }
    a.give(format!("{open}{}{close}", text.replace(close, &format!("{close}{close}"))))
}

/// STR(number, width, digits): right-aligned, stars if there is no room.
fn tsql_str(a: &Args<'_>) -> Outcome<Value> {
    let (width, digits) = (a.whole_or(1, 10)?, a.whole_or(2, 0)?.clamp(0, 16));
    if width < 1 {
        return Ok(Value::Null);
    }
    let width = width as usize;
    let number = crate::convert::rounded(&a.number(0)?, digits);
    let mut text = number.to_plain_string();
    let whole = text.split('.').next().unwrap_or("").len();
    if whole > width {
        return a.give("*".repeat(width));
    }
    if text.len() > width {
        let room = width.saturating_sub(whole + 1) as i64;
        text = crate::convert::rounded(&a.number(0)?, room).to_plain_string();
    }
    a.give(format!("{text:>width$}"))
}
