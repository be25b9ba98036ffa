//! Strings made of strings: padded, trimmed, replaced, joined. Sources: the vendors' manuals, chapter on string functions.

use values::Value;

use super::text::{LIKE, SAME_LENGTH, TEXT, places, slice};
use super::{
    ALL, Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite,
    Typing, f, of, seen,
};
use crate::behaviour::Behaviour;
use crate::failure::{Failure, Outcome};
use crate::types::{TextType, Type};

pub(super) const FUNCTIONS: &[Function] = &[
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
    f("REPLICATE", SQL_SERVER, 2, 2, Typing::By(replicate_type), repeat),
    f("SPACE", of(&[SqlServer, Mysql, Mariadb, Spark]), 1, 1, TEXT, space),
    // --- trimming
    f("TRIM", of(&[Oracle, SqlServer, Mysql, Mariadb]), 1, 1, LIKE, |a| trim(a, true, true)),
    f("TRIM", of(&[Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, true, true)),
    f("BTRIM", of(&[Postgres, Spark]), 1, 2, LIKE, |a| trim(a, true, true)),
    f("LTRIM", of(&[Oracle, SqlServer, Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, true, false)),
    f("RTRIM", of(&[Oracle, SqlServer, Postgres, Duckdb, Bigquery, Sqlite, Spark]), 1, 2, LIKE, |a| trim(a, false, true)),
    f("LTRIM", MY, 1, 1, LIKE, |a| trim(a, true, false)),
    f("RTRIM", MY, 1, 1, LIKE, |a| trim(a, false, true)),
    f("TRIM_BOTH_", ALL, 1, 2, LIKE, |a| trim_form(a, true, true)),
    f("TRIM_LEADING_", ALL, 1, 2, LIKE, |a| trim_form(a, true, false)),
    f("TRIM_TRAILING_", ALL, 1, 2, LIKE, |a| trim_form(a, false, true)),
    // --- changing
    seen("REPLACE", ORACLE, 2, 3, TEXT, oracle_replace),
    f("REPLACE", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite]), 3, 3, LIKE, replace),
    f("REPLACE", of(&[Spark]), 2, 3, LIKE, replace),
    seen("TRANSLATE", ORACLE, 3, 3, TEXT, translate),
    f("TRANSLATE", of(&[SqlServer, Postgres, Duckdb, Bigquery, Spark]), 3, 3, LIKE, translate),
    f("REVERSE", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, SAME_LENGTH, |a| {
        a.give(a.text(0).chars().rev().collect::<String>())
    }),
    seen("STUFF", SQL_SERVER, 4, 4, LIKE, stuff),
    f("INSERT", MY, 4, 4, LIKE, insert),
    f("OVERLAY_", of(&[Postgres, Spark]), 3, 4, LIKE, overlay),
    f("OVERLAY", of(&[Spark]), 3, 4, LIKE, overlay),
    // --- joining
    // Two arguments before Oracle 23.
    seen("CONCAT", of(&[Oracle]), 2, MANY, TEXT, concat_present),
    seen("CONCAT", of(&[Postgres, Duckdb, Sqlite]), 1, MANY, TEXT, concat_present),
    seen("CONCAT", SQL_SERVER, 2, MANY, TEXT, concat_present),
    f("CONCAT", of(&[Mysql, Mariadb, Spark, Bigquery]), 1, MANY, Typing::By(concat_type), |a| {
        a.give((0..a.count()).map(|i| a.text(i)).collect::<String>())
    }),
    seen("CONCAT_WS", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite]), 2, MANY, TEXT, concat_ws),
];

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
            SqlServer => return Ok(Value::Null),
            Bigquery => return Err(Failure::invalid("REPEAT of a negative count")),
            _ => {}
        }
    }
    let most = if a.dialect() == SqlServer && a.ty(0).as_text().is_some_and(|t| t.length.is_some()) { 8000 } else { 64_000_000 };
    let times = times.max(0) as usize;
    let fits = if text.is_empty() { 0 } else { (most / text.len()).min(times) };
    a.give(text.repeat(fits))
}

fn space(a: &Args<'_>) -> Outcome<Value> {
    let count = a.whole(0)?;
    if count < 0 && a.dialect() == SqlServer {
        return Ok(Value::Null);
    }
    a.give(" ".repeat(count.clamp(0, 1_000_000) as usize))
}

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

/// TRIM(LEADING x FROM y): one character in Oracle, a string in MySQL, a set elsewhere.
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
    if a.dialect() != SqlServer || a.collation.is_binary() || !a.collation.case_insensitive {
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
    if a.dialect() == SqlServer && from.len() != to.len() {
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
    if a.value(0).is_null() && a.dialect() != SqlServer {
        return Ok(Value::Null);
    }
    let separator = if a.value(0).is_null() { String::new() } else { a.text(0) };
    let parts: Vec<String> = (1..a.count()).filter(|i| a.has(*i)).map(|i| shown(a, i)).collect();
    a.give(parts.join(&separator))
}
