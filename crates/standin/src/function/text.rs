//! Case, length, parts and places of strings, and lists. Sources: the vendors' manuals, chapter on string functions.

use unicode_normalization::UnicodeNormalization;
use values::Value;

use super::{
    ALL, Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite,
    Typing, f, of, seen, worded,
};
use crate::behaviour::{Behaviour, Collation};
use crate::compare::{collated, folded};
use crate::failure::{Codes, Failure, Outcome};
use crate::types::{TextType, Type, Whole};

pub(super) const TEXT: Typing = Typing::Fixed(Type::TEXT);
pub(super) const LIKE: Typing = Typing::TextLikeFirst;
pub(super) const NUMBER: Typing = Typing::Number;
pub(super) const INT: Typing = Typing::Fixed(Type::INT);
pub(super) const SAME_LENGTH: Typing = Typing::By(|types, _| {
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
    f("UCASE", of(&[SqlServer, Mysql, Mariadb, Spark, Duckdb]), 1, 1, SAME_LENGTH, |a| cased(a, true)),
    f("LCASE", of(&[SqlServer, Mysql, Mariadb, Spark, Duckdb]), 1, 1, SAME_LENGTH, |a| cased(a, false)),
    f("INITCAP", of(&[Oracle, Postgres, Bigquery, Spark]), 1, 2, SAME_LENGTH, initcap),
    // --- length
    f("LENGTH", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, NUMBER, characters),
    // DBMS_LOB.GETLENGTH(text)
    f("GETLENGTH", ORACLE, 1, 1, NUMBER, characters),
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
    f("LEN", SQL_SERVER, 1, 1, INT, |a| Ok(Value::Integer(a.text(0).trim_end_matches(' ').encode_utf16().count() as i64))),
    f("DATALENGTH", SQL_SERVER, 1, 1, INT, data_length),
    // --- parts
    seen("SUBSTR", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTRC", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTR2", ORACLE, 2, 3, LIKE, substring),
    seen("SUBSTR4", ORACLE, 2, 3, LIKE, substring),
    f("SUBSTR", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 3, LIKE, substring),
    f("SUBSTRING", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 3, LIKE, substring),
    f("MID", MY, 2, 3, LIKE, substring),
    f("SUBSTRING", SQL_SERVER, 3, 3, Typing::By(sql_server_substring_type), substring),
    f("LEFT", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 2, 2, LIKE, |a| end_of(a, true)),
    f("RIGHT", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 2, 2, LIKE, |a| end_of(a, false)),
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
    f("CHARINDEX", of(&[SqlServer, Spark]), 2, 3, INT, charindex),
    f("PATINDEX", SQL_SERVER, 2, 2, INT, patindex),
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
    f("CONTAINS_SUBSTR", of(&[Bigquery]), 2, 2, Typing::Fixed(Type::Boolean), |a| {
        Ok(Value::Boolean(composed(&a.text(0)).to_lowercase().contains(&composed(&a.text(1)).to_lowercase())))
    }),
    f("COMPOSE", ORACLE, 1, 1, Typing::TextLikeFirst, |a| a.give(composed(&a.text(0)))),
    f("NFC_NORMALIZE", of(&[Duckdb]), 1, 1, Typing::TextLikeFirst, |a| a.give(composed(&a.text(0)))),
    worded(
        1,
        f("NORMALIZE", of(&[Postgres, Bigquery]), 1, 2, Typing::TextLikeFirst, |a| match a.has(1) && a.text(1) != "NFC" {
            true => Err(Failure::unknown("this normal form")),
            false => a.give(composed(&a.text(0))),
        }),
    ),
    f("CONTAINS", of(&[Duckdb, Spark]), 2, 2, Typing::Fixed(Type::Boolean), contains),
    // --- lists
    seen("FIELD", MY, 2, MANY, NUMBER, field),
    seen("ELT", of(&[Mysql, Mariadb, Spark]), 2, MANY, TEXT, chosen),
    seen("INTERVAL", MY, 2, MANY, NUMBER, bounds_below),
    f("FIND_IN_SET", of(&[Mysql, Mariadb, Spark]), 2, 2, NUMBER, |a| {
        let wanted = collated(&a.text(0), a.collation);
        let place = a.text(1).split(',').position(|p| collated(p, a.collation) == wanted);
        Ok(Value::Integer(place.filter(|_| !a.text(1).is_empty()).map_or(0, |p| p as i64 + 1)))
    }),
];

fn sql_server_substring_type(types: &[Type], _: &Behaviour) -> Outcome<Type> {
    match types.first() {
        Some(Type::Text(text)) => Ok(Type::Text(TextType { length: None, fixed: false, literal: false, ..*text })),
        Some(Type::Binary { .. }) => Ok(Type::Binary { length: None, fixed: false }),
        Some(Type::Any) => Ok(Type::TEXT),
        _ => Err(Failure::invalid("SUBSTRING wants a string").with_code("Msg 8116")),
    }
}

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
            out.push(capital(c));
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

/// Characters from..to, counted from 0, within the text.
pub(super) fn slice(text: &[char], from: i64, to: i64) -> String {
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
    let negative_is_error = a.is(&[SqlServer, Postgres, Bigquery]);
    if let Some(length) = length.filter(|l| *l < 0) {
        if negative_is_error {
            let codes: Codes = &[(SqlServer, "Msg 537"), (Postgres, "22011")];
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
        (_, SqlServer | Postgres) => start - 1,
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
            SqlServer => {
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

/// The places where a string is found, counted in characters from 0, overlapping ones too.
pub(super) fn places(text: &str, wanted: &str, collation: Collation) -> Vec<usize> {
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

/// With a start, of which NULL gives 0 (seen on Spark 4.0).
fn locate_from(a: &Args<'_>) -> Outcome<Value> {
    match (a.has(0) && a.has(1), a.count() < 3 || a.has(2)) {
        (false, _) => Ok(Value::Null),
        (true, false) => Ok(Value::Integer(0)),
        (true, true) => locate(a),
    }
}

/// Normal form C of Unicode.
fn composed(text: &str) -> String {
    text.nfc().collect()
}
