//! Regular expressions.
//!
//! What a dialect writes is put into the words of the crate's engine (`flavour`); flags say the rest: case,
//! lines, and whether the point matches a line's end. Of several alternatives the first that fits is taken,
//! also for PostgreSQL, which takes the longest.

use std::cell::RefCell;
use std::collections::HashMap;

use fancy_regex::Regex;
use syntax::DialectName;
use values::Value;

use super::flavour::adapted;
use super::{Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, Spark, SqlServer, Typing, f, of, seen};
use crate::failure::{Failure, Outcome};
use crate::types::Type;

const TEXT: Typing = Typing::TextLikeFirst;
const TRUTH: Typing = Typing::Fixed(Type::Boolean);

pub(super) const FUNCTIONS: &[Function] = &[
    f("REGEXP_LIKE", of(&[Oracle, SqlServer, Mysql, Postgres, Spark]), 2, 3, TRUTH, |a| {
        Ok(Value::Boolean(is_match(&compiled(a, 1, Some(2))?, &a.text(0))?))
    }),
    f("REGEXP_MATCHES_", of(&[Mysql, Mariadb, Postgres, Duckdb, Spark]), 3, 3, TRUTH, |a| {
        Ok(Value::Boolean(is_match(&compiled(a, 1, Some(2))?, &a.text(0))?))
    }),
    f("REGEXP_MATCHES", of(&[Duckdb]), 2, 3, TRUTH, |a| Ok(Value::Boolean(is_match(&compiled(a, 1, Some(2))?, &a.text(0))?))),
    f("REGEXP_CONTAINS", of(&[Bigquery]), 2, 2, TRUTH, |a| Ok(Value::Boolean(is_match(&compiled(a, 1, None)?, &a.text(0))?))),
    f("REGEXP_FULL_MATCH", of(&[Duckdb]), 2, 3, TRUTH, |a| {
        let whole = format!("^(?:{})\\z", adapted(&a.text(1), Duckdb, false));
        Ok(Value::Boolean(is_match(&regex(&whole, "")?, &a.text(0))?))
    }),
    f("SIMILAR_TO_", of(&[Postgres, Duckdb]), 2, 2, TRUTH, |a| {
        let regex = regex(&format!("^(?s:{})$", if a.dialect() == Postgres { similar(&a.text(1)) } else { a.text(1) }), "")?;
        Ok(Value::Boolean(is_match(&regex, &a.text(0))?))
    }),
    seen("REGEXP_REPLACE", ORACLE, 2, 6, TEXT, |a| replaced(a, 3, 4, Some(5))),
    f("REGEXP_REPLACE", of(&[SqlServer]), 2, 6, TEXT, |a| replaced(a, 3, 4, Some(5))),
    f("REGEXP_REPLACE", MY, 3, 6, TEXT, |a| replaced(a, 3, 4, Some(5))),
    f("REGEXP_REPLACE", of(&[Postgres]), 3, 6, TEXT, |a| {
        // The fourth argument is a place or the flags.
        let at_place = a.count() > 4 || (a.count() == 4 && !a.ty(3).is_text());
        if at_place { replaced(a, 3, 4, Some(5)) } else { replaced(a, 9, 9, Some(3)) }
    }),
    f("REGEXP_REPLACE", of(&[Duckdb]), 3, 4, TEXT, |a| replaced(a, 9, 9, Some(3))),
    f("REGEXP_REPLACE", of(&[Spark]), 3, 4, TEXT, |a| replaced(a, 3, 9, None)),
    f("REGEXP_REPLACE", of(&[Bigquery]), 3, 3, TEXT, |a| replaced(a, 9, 9, None)),
    f("REGEXP", of(&[Spark]), 2, 2, TRUTH, |a| Ok(Value::Boolean(is_match(&compiled(a, 1, None)?, &a.text(0))?))),
    f("RLIKE", of(&[Spark]), 2, 2, TRUTH, |a| Ok(Value::Boolean(is_match(&compiled(a, 1, None)?, &a.text(0))?))),
    f("REGEXP_EXTRACT_ALL", of(&[Bigquery]), 2, 2, Typing::Fixed(Type::Any), |a| {
        let (regex, text) = (compiled(a, 1, None)?, a.text(0));
        let all = matches(&regex, &text, 0, a.dialect())?;
        // The one group there is, or the match.
        let each = all.iter().filter_map(|groups| groups[groups.len() - 1]);
        Ok(Value::Array(Box::new(each.map(|(from, to)| Value::text(&text[from..to])).collect())))
    }),
    f("REGEXP_EXTRACT_ALL", of(&[Spark, Duckdb]), 2, 3, Typing::Fixed(Type::Any), |a| {
        let (regex, text) = (compiled(a, 1, None)?, a.text(0));
        let group = a.whole_or(2, i64::from(a.dialect() == Spark))?.max(0) as usize;
        let all = matches(&regex, &text, 0, a.dialect())?;
        let each = |groups: &Vec<Option<(usize, usize)>>| {
            let place = groups.get(group).copied().flatten();
            Value::text(place.map_or("", |(from, to)| &text[from..to]))
        };
        Ok(Value::Array(Box::new(all.iter().map(each).collect())))
    }),
    seen("REGEXP_SUBSTR", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Spark]), 2, 6, TEXT, |a| found(a, 2, 3, Some(4), 5)),
    seen("REGEXP_SUBSTR", of(&[Bigquery]), 2, 4, TEXT, first_group),
    seen("REGEXP_EXTRACT", of(&[Bigquery]), 2, 4, TEXT, first_group),
    seen("REGEXP_EXTRACT", of(&[Duckdb]), 2, 4, TEXT, |a| match (a.value(0).is_null() || a.value(1).is_null(), a.count()) {
        (true, _) => Ok(Value::Null),
        // Observed on DuckDB 1.5: NULL as the group.
        (_, 3..) if a.value(2).is_null() => a.give(""),
        _ => extracted(a, 0),
    }),
    f("REGEXP_EXTRACT", of(&[Spark]), 2, 3, TEXT, |a| extracted(a, 1)),
    seen("REGEXP_INSTR", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Bigquery, Spark]), 2, 7, Typing::Number, position),
    f("REGEXP_COUNT", of(&[Oracle, SqlServer, Spark, Postgres]), 2, 4, Typing::Number, |a| {
        let regex = compiled(a, 1, Some(3))?;
        let text = a.text(0);
        let start = byte_of(&text, a.whole_or(2, 1)?);
        Ok(Value::Integer(matches(&regex, &text, start, a.dialect())?.len() as i64))
    }),
    f("REGEXP_MATCH", of(&[Postgres]), 2, 3, Typing::By(|_, _| Ok(Type::Array(Box::new(Type::TEXT)))), |a| {
        let (regex, text) = (compiled(a, 1, Some(2))?, a.text(0));
        let Some(groups) = matches(&regex, &text, 0, Postgres)?.into_iter().next() else { return Ok(Value::Null) };
        let counted = if groups.len() > 1 { &groups[1..] } else { &groups[..] };
        let each = |place: &Option<(usize, usize)>| place.map_or(Value::Null, |(from, to)| Value::text(&text[from..to]));
        Ok(Value::Array(Box::new(counted.iter().map(each).collect())))
    }),
    f("REGEXP_SPLIT_TO_ARRAY", of(&[Postgres, Duckdb]), 2, 2, Typing::Fixed(Type::Any), |a| {
        let (regex, text) = (compiled(a, 1, None)?, a.text(0));
        Ok(Value::Array(Box::new(split(&regex, &text, a.dialect())?.into_iter().map(Value::text).collect())))
    }),
];

/// SUBSTRING(text FROM pattern) of PostgreSQL: the first group, or all of the match.
pub(super) fn first_match(a: &Args<'_>) -> Outcome<Value> {
    let (regex, text) = (compiled(a, 1, None)?, a.text(0));
    let captures = regex.captures(&text).map_err(|e| bad(&e.to_string()))?;
    Ok(captures.and_then(|c| c.get(1).or(c.get(0)).map(|m| Value::text(m.as_str()))).unwrap_or(Value::Null))
}

fn bad(message: &str) -> Failure {
    Failure::invalid(format!("a regular expression that can't be used: {message}")).with_code("ORA-12726")
}

thread_local! {
    static KNOWN: RefCell<HashMap<String, Regex>> = RefCell::default();
}

/// A pattern made ready, kept for the next row.
fn regex(pattern: &str, flags: &str) -> Outcome<Regex> {
    let key = format!("{flags}/{pattern}");
    if let Some(known) = KNOWN.with_borrow(|k| k.get(&key).cloned()) {
        return Ok(known);
    }
    let prefix = if flags.is_empty() { String::new() } else { format!("(?{flags})") };
    let made = Regex::new(&format!("{prefix}{pattern}")).map_err(|e| bad(&e.to_string()))?;
    KNOWN.with_borrow_mut(|k| {
        if k.len() > 500 {
            k.clear();
        }
        k.insert(key, made.clone());
    });
    Ok(made)
}

/// The pattern at a place with the flags of another.
fn compiled(a: &Args<'_>, pattern: usize, flags: Option<usize>) -> Outcome<Regex> {
    let written = flags.filter(|at| a.has(*at)).map_or(String::new(), |at| a.text(at));
    let mut on = String::new();
    // MySQL's patterns follow the collation; Oracle's are binary.
    let insensitive = match written.chars().rev().find(|c| matches!(c, 'i' | 'c')) {
        Some(c) => c == 'i',
        None => a.collation.case_insensitive && a.is(&[Mysql, Mariadb]),
    };
    if insensitive {
        on.push('i');
    }
    let point = match a.dialect() {
        Oracle | Mysql | Mariadb => written.contains('n'),
        // PostgreSQL: the point matches a line's end unless n is asked for.
        Postgres => !written.contains('n'),
        Duckdb => written.contains('s'),
        _ => false,
    };
    if point {
        on.push('s');
    }
    if written.contains('m') || (a.dialect() == Postgres && written.contains('n')) {
        on.push('m');
    }
    if written.contains('x') {
        on.push('x');
    }
    regex(&adapted(&a.text(pattern), a.dialect(), on.contains('m')), &on)
}

fn is_match(regex: &Regex, text: &str) -> Outcome<bool> {
    regex.is_match(text).map_err(|e| bad(&e.to_string()))
}

/// The byte where the character of a place, from 1, begins.
fn byte_of(text: &str, place: i64) -> usize {
    text.char_indices().nth((place.max(1) - 1) as usize).map_or(text.len(), |(i, _)| i)
}

/// The character of a string to begin at: none is before 1, nor in MySQL behind the end.
fn place_of(a: &Args<'_>, at: usize, text: &str) -> Outcome<i64> {
    let place = a.whole_or(at, 1)?;
    if a.dialect() == Mysql && place > text.chars().count() as i64 + 1 {
        return Err(out_of_range(a, "a start", place));
    }
    if place < 1 && a.is(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Bigquery]) {
        return Err(out_of_range(a, "a start", place));
    }
    Ok(place)
}

/// Which match is meant; MySQL takes less than 1 for 1.
fn number_of(a: &Args<'_>, at: usize) -> Outcome<usize> {
    let number = a.whole_or(at, 1)?;
    if number < 1 && a.is(&[Oracle, SqlServer, Postgres, Bigquery]) {
        return Err(out_of_range(a, "a number of a match", number));
    }
    Ok(number.max(1) as usize)
}

fn out_of_range(a: &Args<'_>, what: &str, number: i64) -> Failure {
    Failure::invalid(format!("{what} of {number} is out of range"))
        .coded(a.dialect(), &[(Oracle, "ORA-01428"), (Mysql, "ER_REGEXP_INDEX_OUTOFBOUNDS_ERROR"), (Postgres, "22023")])
}

/// All matches from a byte on: of each the groups, as bytes.
fn matches(regex: &Regex, text: &str, start: usize, dialect: DialectName) -> Outcome<Vec<Vec<Option<(usize, usize)>>>> {
    // RE2 finds no empty match right behind another match.
    let apart = matches!(dialect, Duckdb | Bigquery | SqlServer);
    let mut out = Vec::new();
    let (mut at, mut last_end) = (start, None);
    while at <= text.len() {
        let captures = regex.captures_from_pos(text, at).map_err(|e| bad(&e.to_string()))?;
        let Some(captures) = captures else { break };
        let groups: Vec<Option<(usize, usize)>> = captures.iter().map(|m| m.map(|m| (m.start(), m.end()))).collect();
        let Some((from, to)) = groups[0] else { break };
        at = if to == from { to + text[to..].chars().next().map_or(1, char::len_utf8) } else { to };
        if apart && to == from && last_end == Some(to) {
            continue;
        }
        last_end = Some(to);
        out.push(groups);
    }
    Ok(out)
}

fn split<'t>(regex: &Regex, text: &'t str, dialect: DialectName) -> Outcome<Vec<&'t str>> {
    let (mut out, mut last) = (Vec::new(), 0);
    for groups in matches(regex, text, 0, dialect)? {
        if let Some((from, to)) = groups[0] {
            out.push(&text[last..from]);
            last = to;
        }
    }
    out.push(&text[last..]);
    Ok(out)
}

/// REGEXP_REPLACE: start and occurrence at these places; occurrence 0 is all.
fn replaced(a: &Args<'_>, start: usize, occurrence: usize, flags: Option<usize>) -> Outcome<Value> {
    let is_null = |at: usize| at < a.count() && a.value(at).is_null();
    if is_null(0) || is_null(start) || is_null(occurrence) || (is_null(1) && a.dialect() != Oracle) {
        return Ok(Value::Null);
    }
    if a.value(1).is_null() {
        return Ok(a.value(0).clone());
    }
    let (regex, text) = (compiled(a, 1, flags)?, a.text(0));
    let with = if a.has(2) { a.text(2) } else { String::new() };
    let from = byte_of(&text, place_of(a, start, &text)?);
    let flag = flags.filter(|at| a.has(*at)).map_or(String::new(), |at| a.text(at));
    // PostgreSQL and DuckDB replace the first unless g is asked for.
    let only_first = a.is(&[Postgres, Duckdb]) && !flag.contains('g') && !a.has(occurrence);
    let number = a.whole_or(occurrence, 0)?;
    if number < 0 && !a.is(&[Mysql, Mariadb]) {
        return Err(out_of_range(a, "a number of a match", number));
    }
    let nth = if only_first { 1 } else { number.max(0) as usize };
    let (mut out, mut last) = (String::new(), 0);
    for (number, groups) in matches(&regex, &text, from, a.dialect())?.into_iter().enumerate() {
        if nth != 0 && number + 1 != nth {
            continue;
        }
        let Some((begin, end)) = groups[0] else { continue };
        // MariaDB stops at an empty match and leaves it; MySQL and MariaDB look through no empty text.
        if begin == end && (a.dialect() == Mariadb || (a.dialect() == Mysql && text.is_empty())) {
            break;
        }
        out.push_str(&text[last..begin]);
        out.push_str(&expanded(&with, &text, &groups, a));
        last = end;
    }
    out.push_str(&text[last..]);
    a.give(out)
}

/// `\1` in Oracle, PostgreSQL, DuckDB and BigQuery, `$1` in MySQL and Spark; MariaDB's are `\1`. 0 is the whole
/// match, but in Oracle, in PostgreSQL, where that is `\&`, and in SQL Server, where it is `&`.
fn expanded(with: &str, text: &str, groups: &[Option<(usize, usize)>], a: &Args<'_>) -> String {
    let by_dollar = a.is(&[Mysql, Spark]);
    let mut out = String::new();
    let mut chars = with.chars().peekable();
    while let Some(c) = chars.next() {
        let next = chars.peek().copied();
        let digit = next.filter(|d| d.is_ascii_digit() && (*d != '0' || !a.is(&[Oracle, Postgres, SqlServer])));
        let group = match (c, digit) {
            ('$', Some(digit)) if by_dollar => Some(digit as usize - '0' as usize),
            ('\\', Some(digit)) if !by_dollar => Some(digit as usize - '0' as usize),
            ('\\', None) if next == Some('&') && a.dialect() == Postgres => Some(0),
            ('&', _) if a.dialect() == SqlServer => Some(0),
            _ => None,
        };
        if let Some(group) = group {
            if c != '&' {
                chars.next();
            }
            if let Some(Some((from, to))) = groups.get(group) {
                out.push_str(&text[*from..*to]);
            }
        } else if c == '\\' && (next == Some('\\') || (next == Some('&') && a.dialect() == SqlServer) || a.is(&[Mysql, Mariadb, Spark])) {
            out.extend(chars.next());
        } else {
            out.push(c);
        }
    }
    out
}

/// Whether an argument other than the flags is NULL.
fn null_but(a: &Args<'_>, flags: usize) -> bool {
    a.values.iter().enumerate().any(|(i, v)| i != flags && v.is_null())
}

/// BigQuery: the group of the match of a number, or the whole match of a pattern without one.
fn first_group(a: &Args<'_>) -> Outcome<Value> {
    if null_but(a, usize::MAX) {
        return Ok(Value::Null);
    }
    let regex = compiled(a, 1, None)?;
    if regex.captures_len() > 2 {
        return Err(bad("it has more than one capturing group"));
    }
    let text = a.text(0);
    let from = byte_of(&text, place_of(a, 2, &text)?);
    let nth = number_of(a, 3)? - 1;
    let all = matches(&regex, &text, from, a.dialect())?;
    let place = all.get(nth).and_then(|groups| groups[groups.len() - 1]);
    place.map_or(Ok(Value::Null), |(from, to)| a.give(&text[from..to]))
}

fn found(a: &Args<'_>, start: usize, occurrence: usize, flags: Option<usize>, group: usize) -> Outcome<Value> {
    if null_but(a, flags.unwrap_or(usize::MAX)) {
        return Ok(Value::Null);
    }
    let (regex, text) = (compiled(a, 1, flags)?, a.text(0));
    let from = byte_of(&text, place_of(a, start, &text)?);
    let nth = number_of(a, occurrence)? - 1;
    let wanted = a.whole_or(group, 0)?.max(0) as usize;
    let all = matches(&regex, &text, from, a.dialect())?;
    let place = all.get(nth).and_then(|groups| groups.get(wanted).copied().flatten());
    match place {
        Some((from, to)) if from == to && a.dialect() == Spark => Ok(Value::Null),
        Some((from, to)) => a.give(&text[from..to]),
        // Observed on MariaDB 10.11.
        None if a.dialect() == Mariadb => a.give(""),
        None => Ok(Value::Null),
    }
}

/// REGEXP_EXTRACT: the whole match in DuckDB, group 1 in Spark; nothing found is ''.
fn extracted(a: &Args<'_>, default: i64) -> Outcome<Value> {
    let (regex, text) = (compiled(a, 1, Some(3))?, a.text(0));
    let group = a.whole_or(2, default)?;
    let all = matches(&regex, &text, 0, a.dialect())?;
    match all.first().and_then(|groups| groups.get(group.max(0) as usize).copied().flatten()) {
        Some((from, to)) => a.give(&text[from..to]),
        None => a.give(""),
    }
}

fn position(a: &Args<'_>) -> Outcome<Value> {
    if null_but(a, 5) {
        return Ok(Value::Null);
    }
    let (regex, text) = (compiled(a, 1, Some(5))?, a.text(0));
    let from = byte_of(&text, place_of(a, 2, &text)?);
    let nth = number_of(a, 3)? - 1;
    let behind = a.whole_or(4, 0)? != 0;
    let group = a.whole_or(6, 0)?.max(0) as usize;
    let all = matches(&regex, &text, from, a.dialect())?;
    let place = all.get(nth).and_then(|groups| groups.get(group).copied().flatten());
    Ok(Value::Integer(place.map_or(0, |(from, to)| text[..if behind { to } else { from }].chars().count() as i64 + 1)))
}

/// A pattern of SIMILAR TO as a regular expression.
fn similar(pattern: &str) -> String {
    let mut out = String::from("(?:");
    let mut chars = pattern.chars();
    while let Some(c) = chars.next() {
        match c {
            '%' => out.push_str(".*"),
            '_' => out.push('.'),
            '\\' => {
                out.push('\\');
                out.extend(chars.next());
            }
            '.' | '^' | '$' => {
                out.push('\\');
                out.push(c);
            }
            other => out.push(other),
        }
    }
    out.push(')');
    out
}
