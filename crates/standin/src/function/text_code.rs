//! Characters by their codes, and strings in other forms. Sources: the vendors' manuals, chapter on string functions.

use values::Value;

use super::text::{INT, NUMBER, TEXT};
use super::{
    Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, f,
    of, seen,
};
use crate::behaviour::Behaviour;
use crate::convert::from_digits;
use crate::failure::{Failure, FailureKind, Outcome};
use crate::types::Type;

pub(super) const FUNCTIONS: &[Function] = &[
    // --- codes
    f("ASCII", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, NUMBER, ascii),
    f("ORD", of(&[Mysql, Mariadb]), 1, 1, NUMBER, |a| Ok(Value::Integer(first_code(&a.text(0), true)))),
    f("UNICODE", of(&[SqlServer, Sqlite, Duckdb, Bigquery]), 1, 1, NUMBER, unicode),
    f("ORD", of(&[Duckdb]), 1, 1, NUMBER, unicode),
    f("NCHR", ORACLE, 1, 1, TEXT, chr),
    // Bytes that are no text are NULL (seen on MariaDB 10.11).
    seen("CHAR_USING_", MY, 1, MANY, TEXT, |a| String::from_utf8(char_bytes(a)?).map_or(Ok(Value::Null), |text| a.give(text))),
    f("CHR", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark]), 1, 1, TEXT, chr),
    f("CHAR", SQL_SERVER, 1, 1, TEXT, |a| Ok(u8::try_from(a.whole(0)?).map_or(Value::Null, |b| Value::text(char::from(b).to_string())))),
    f("NCHAR", SQL_SERVER, 1, 1, TEXT, chr),
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
    f("SOUNDEX", of(&[Oracle, SqlServer, Mysql, Mariadb, Bigquery, Spark]), 1, 1, TEXT, |a| a.give(soundex(&a.text(0), a.behaviour))),
    f("DIFFERENCE", SQL_SERVER, 2, 2, INT, |a| {
        let (x, y) = (soundex(&a.text(0), a.behaviour), soundex(&a.text(1), a.behaviour));
        Ok(Value::Integer(x.chars().zip(y.chars()).filter(|(a, b)| a == b).count() as i64))
    }),
    f("STRCMP", MY, 2, 2, NUMBER, |a| Ok(Value::Integer(crate::compare::strings(&a.text(0), &a.text(1), a.collation) as i64))),
    // --- forms
    f("QUOTENAME", SQL_SERVER, 1, 2, TEXT, quotename),
    f("STR", SQL_SERVER, 1, 3, TEXT, sql_server_str),
    f("PARSENAME", SQL_SERVER, 2, 2, TEXT, part_of_name),
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
];

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
    if text.is_empty() && a.dialect() == SqlServer {
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
        None if a.dialect() == SqlServer => Ok(Value::Null),
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
fn sql_server_str(a: &Args<'_>) -> Outcome<Value> {
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
