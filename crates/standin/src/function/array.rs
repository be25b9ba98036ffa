//! Arrays and lists.

use values::Value;

use super::{ALL, Args, Bigquery, Duckdb, Function, MANY, Oracle, Postgres, Spark, Typing, f, of, seen};
use crate::behaviour::Behaviour;
use crate::compare::{loose_order, sort_order};
use crate::convert::as_text;
use crate::failure::{Failure, Outcome};
use crate::types::Type;

const FIRST: Typing = Typing::First;
const NUMBER: Typing = Typing::Number;
const TRUTH: Typing = Typing::Fixed(Type::Boolean);
const TEXT: Typing = Typing::Fixed(Type::TEXT);
const TEXTS: Typing = Typing::By(|_, _| Ok(Type::Array(Box::new(Type::TEXT))));
const ELEMENT: Typing = Typing::By(|types, _| {
    Ok(match types.first() {
        Some(Type::Array(element)) => (**element).clone(),
        _ => Type::Any,
    })
});

pub(super) const FUNCTIONS: &[Function] = &[
    f("ARRAY_SLICE_", ALL, 3, 3, FIRST, slice),
    seen("ELEMENT_OFFSET_", ALL, 2, 2, ELEMENT, |a| element(a, 0, true)),
    seen("ELEMENT_SAFE_OFFSET_", ALL, 2, 2, ELEMENT, |a| element(a, 0, false)),
    seen("ELEMENT_ORDINAL_", ALL, 2, 2, ELEMENT, |a| element(a, 1, true)),
    seen("ELEMENT_SAFE_ORDINAL_", ALL, 2, 2, ELEMENT, |a| element(a, 1, false)),
    seen("ELEMENT_BOTH_ENDS_", ALL, 2, 2, ELEMENT, both_ends),
    seen("CHARACTER_", ALL, 2, 2, ELEMENT, |a| characters(a, 1, 1)),
    seen("TEXT_SLICE_", ALL, 3, 3, ELEMENT, |a| characters(a, 1, 2)),
    seen("ELEMENT_AT", of(&[Spark]), 2, 2, ELEMENT, both_ends),
    seen("TRY_ELEMENT_AT", of(&[Spark]), 2, 2, ELEMENT, |a| match a.has(1) && a.whole(1)? == 0 {
        true => Err(Failure::invalid("elements are counted from 1")),
        false => element(a, 1, false),
    }),
    seen("GET", of(&[Spark]), 2, 2, ELEMENT, |a| element(a, 0, false)),
    f("LIST_EXTRACT", of(&[Duckdb]), 2, 2, ELEMENT, both_ends),
    f("ARRAY_LENGTH", of(&[Bigquery]), 1, 1, NUMBER, length),
    f("ARRAY_LENGTH", of(&[Postgres]), 2, 2, NUMBER, |a| match items(a, 0)?.len() {
        // PostgreSQL: an empty array has no dimension.
        0 => Ok(Value::Null),
        n => Ok(Value::Integer(n as i64)),
    }),
    f("ARRAY_LENGTH", of(&[Duckdb]), 1, 2, NUMBER, length),
    f("CARDINALITY", of(&[Postgres, Duckdb, Spark, Oracle]), 1, 1, NUMBER, length),
    f("SIZE", of(&[Spark]), 1, 1, NUMBER, length),
    f("ARRAY_SIZE", of(&[Spark]), 1, 1, NUMBER, length),
    f("ARRAY_TO_STRING", of(&[Postgres, Duckdb, Bigquery]), 2, 3, TEXT, joined),
    f("ARRAY_JOIN", of(&[Spark]), 2, 3, TEXT, joined),
    seen("STRING_TO_ARRAY", of(&[Postgres]), 2, 3, TEXTS, split),
    seen("STRING_SPLIT", of(&[Duckdb]), 2, 2, TEXTS, split),
    seen("STR_SPLIT", of(&[Duckdb]), 2, 2, TEXTS, split),
    f("SPLIT", of(&[Bigquery, Spark, Duckdb]), 1, 3, TEXTS, split),
    f("ARRAY_APPEND", of(&[Postgres, Spark]), 2, 2, FIRST, |a| {
        made(a, |mut v| {
            v.push(a.value(1).clone());
            v
        })
    }),
    f("LIST_APPEND", of(&[Duckdb]), 2, 2, FIRST, |a| {
        made(a, |mut v| {
            v.push(a.value(1).clone());
            v
        })
    }),
    f("ARRAY_PREPEND", of(&[Postgres]), 2, 2, Typing::By(|t, _| Ok(t.get(1).cloned().unwrap_or(Type::Any))), |a| {
        let mut all = vec![a.value(0).clone()];
        all.extend(items(a, 1)?.iter().cloned());
        Ok(Value::Array(Box::new(all)))
    }),
    seen("ARRAY_CAT", of(&[Postgres]), 2, 2, FIRST, concatenated),
    f("ARRAY_CONCAT", of(&[Bigquery, Duckdb]), 1, MANY, FIRST, concatenated),
    f("LIST_CONCAT", of(&[Duckdb]), 2, 2, FIRST, concatenated),
    f("ARRAY_CONTAINS", of(&[Spark, Duckdb]), 2, 2, TRUTH, contains),
    f("LIST_CONTAINS", of(&[Duckdb]), 2, 2, TRUTH, contains),
    f("OVERLAPS_", of(&[Postgres, Duckdb]), 2, 2, TRUTH, |a| {
        let other = items(a, 1)?;
        Ok(Value::Boolean(items(a, 0)?.iter().any(|v| !v.is_null() && other.contains(v))))
    }),
    f("LIST_POSITION", of(&[Duckdb]), 2, 2, NUMBER, |a| {
        Ok(items(a, 0)?.iter().position(|v| v == a.value(1)).map_or(Value::Null, |p| Value::Integer(p as i64 + 1)))
    }),
    f("ARRAY_POSITION", of(&[Postgres, Spark, Duckdb]), 2, 2, NUMBER, |a| {
        let place = items(a, 0)?.iter().position(|v| v == a.value(1));
        Ok(place.map_or(if a.dialect() == Spark { Value::Integer(0) } else { Value::Null }, |p| Value::Integer(p as i64 + 1)))
    }),
    f("ARRAY_REMOVE", of(&[Postgres, Spark]), 2, 2, FIRST, |a| made(a, |v| v.into_iter().filter(|x| x != a.value(1)).collect())),
    f("ARRAY_REVERSE", of(&[Bigquery, Duckdb]), 1, 1, FIRST, |a| made(a, |v| v.into_iter().rev().collect())),
    f("LIST_REVERSE", of(&[Duckdb]), 1, 1, FIRST, |a| made(a, |v| v.into_iter().rev().collect())),
    f("ARRAY_DISTINCT", of(&[Spark, Duckdb]), 1, 1, FIRST, |a| {
        made(a, |v| {
            let mut out: Vec<Value> = Vec::new();
            v.into_iter().for_each(|x| {
                if !out.contains(&x) {
                    out.push(x);
                }
            });
            out
        })
    }),
    f("SORT_ARRAY", of(&[Spark]), 1, 2, FIRST, sorted),
    f("ARRAY_SORT", of(&[Spark, Duckdb]), 1, 1, FIRST, sorted),
    f("LIST_SORT", of(&[Duckdb]), 1, 1, FIRST, sorted),
    f("ARRAY_MAX", of(&[Spark]), 1, 1, ELEMENT, |a| {
        Ok(items(a, 0)?.iter().filter(|v| !v.is_null()).max_by(|x, y| sort_order(x, y, a.collation)).cloned().unwrap_or(Value::Null))
    }),
    f("ARRAY_MIN", of(&[Spark]), 1, 1, ELEMENT, |a| {
        Ok(items(a, 0)?.iter().filter(|v| !v.is_null()).min_by(|x, y| sort_order(x, y, a.collation)).cloned().unwrap_or(Value::Null))
    }),
    f(
        "GENERATE_ARRAY",
        of(&[Bigquery]),
        2,
        3,
        Typing::By(|t, _| Ok(Type::Array(Box::new(t.first().cloned().unwrap_or(Type::BIGINT))))),
        |a| series(a, true),
    ),
    f("SEQUENCE", of(&[Spark]), 2, 3, Typing::By(|t, _| Ok(Type::Array(Box::new(t.first().cloned().unwrap_or(Type::BIGINT))))), |a| {
        series(a, true)
    }),
    f("GENERATE_SERIES", of(&[Duckdb]), 1, 3, Typing::Fixed(Type::Any), |a| series(a, true)),
    f("RANGE", of(&[Duckdb]), 1, 3, Typing::Fixed(Type::Any), |a| series(a, false)),
    seen(
        "LIST_VALUE",
        of(&[Duckdb]),
        0,
        MANY,
        Typing::By(|t, _| Ok(Type::Array(Box::new(t.first().cloned().unwrap_or(Type::Null))))),
        |a| Ok(Value::Array(Box::new(a.values.to_vec()))),
    ),
    f("IS_EMPTY_", of(&[Oracle]), 1, 1, TRUTH, |a| Ok(Value::Boolean(items(a, 0)?.is_empty()))),
    f("IS_NAN_", ALL, 1, 1, TRUTH, |a| Ok(Value::Boolean(matches!(a.value(0), Value::Float(x) if x.is_nan())))),
];

fn items<'v>(a: &'v Args<'_>, at: usize) -> Outcome<&'v [Value]> {
    match a.value(at) {
        Value::Array(items) => Ok(items),
        Value::Null => Ok(&[]),
        _ => Err(a.wrong(at)),
    }
}

fn made(a: &Args<'_>, change: impl Fn(Vec<Value>) -> Vec<Value>) -> Outcome<Value> {
    Ok(Value::Array(Box::new(change(items(a, 0)?.to_vec()))))
}

fn length(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Integer(items(a, 0)?.len() as i64))
}

fn element(a: &Args<'_>, base: i64, strict: bool) -> Outcome<Value> {
    if a.value(0).is_null() || a.value(1).is_null() {
        return Ok(Value::Null);
    }
    let at = a.whole(1)? - base;
    let found = usize::try_from(at).ok().and_then(|i| items(a, 0).ok()?.get(i).cloned());
    match found {
        Some(value) => Ok(value),
        None if strict => Err(Failure::invalid(format!("the array has no element {}", a.value(1)))),
        None => Ok(Value::Null),
    }
}

/// The characters of a string from the place of one argument to that of another, counted from either end.
fn characters(a: &Args<'_>, low: usize, high: usize) -> Outcome<Value> {
    if !(a.has(0) && a.has(low) && a.has(high)) {
        return Ok(Value::Null);
    }
    let (low, high) = (a.whole(low)?, a.whole(high)?);
    let text: Vec<char> = a.text(0).chars().collect();
    let place = |n: i64| if n < 0 { text.len() as i64 + n + 1 } else { n };
    let from = place(low).max(1) as usize - 1;
    let count = (place(high) - place(low).max(1) + 1).max(0) as usize;
    Ok(Value::text(text.into_iter().skip(from).take(count).collect::<String>()))
}

/// From 1; from the end when negative.
fn both_ends(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() || a.value(1).is_null() {
        return Ok(Value::Null);
    }
    let all = items(a, 0)?;
    let at = a.whole(1)?;
    let place = if at < 0 { all.len() as i64 + at } else { at - 1 };
    Ok(usize::try_from(place).ok().and_then(|p| all.get(p)).cloned().unwrap_or(Value::Null))
}

fn slice(a: &Args<'_>) -> Outcome<Value> {
    let all = items(a, 0)?;
    let count = all.len() as i64;
    let bound = |at: usize, default: i64| -> Outcome<i64> {
        if a.value(at).is_null() {
            return Ok(default);
        }
        let n = a.whole(at)?;
        Ok(if n < 0 && a.dialect() == Duckdb { count + n + 1 } else { n })
    };
    let (low, high) = (bound(1, 1)?.max(1), bound(2, count)?.min(count));
    Ok(Value::Array(Box::new(if low > high { Vec::new() } else { all[low as usize - 1..high as usize].to_vec() })))
}

/// Elements joined by a separator; NULLs are left out unless a third argument replaces them.
fn joined(a: &Args<'_>) -> Outcome<Value> {
    let element = match a.ty(0) {
        Type::Array(element) => (**element).clone(),
        _ => Type::Any,
    };
    let parts: Vec<String> = items(a, 0)?
        .iter()
        .filter_map(|v| match v {
            Value::Null => a.has(2).then(|| a.text(2)),
            other => Some(as_text(other, &element, a.behaviour)),
        })
        .collect();
    a.give(parts.join(&a.text(1)))
}

fn split(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() {
        return Ok(Value::Null);
    }
    let text = a.text(0);
    let parts: Vec<Value> = match a.dialect() {
        // PostgreSQL: NULL splits into characters; of '' there is nothing.
        Postgres if text.is_empty() => Vec::new(),
        Postgres if a.value(1).is_null() => text.chars().map(|c| Value::text(c.to_string())).collect(),
        Spark => {
            let regex =
                fancy_regex::Regex::new(&super::flavour::adapted(&a.text(1), Spark, false)).map_err(|e| Failure::invalid(e.to_string()))?;
            regex.split(&text).filter_map(Result::ok).map(Value::text).collect()
        }
        _ => {
            let separator = if a.count() > 1 { a.text(1) } else { ",".to_string() };
            if separator.is_empty() {
                if a.dialect() == Postgres {
                    vec![Value::text(text.as_str())]
                } else {
                    text.chars().map(|c| Value::text(c.to_string())).collect()
                }
            } else {
                text.split(&separator).map(Value::text).collect()
            }
        }
    };
    let null_text = a.has(2).then(|| a.text(2));
    let parts =
        parts.into_iter().map(|p| if null_text.as_ref().is_some_and(|n| p == Value::text(n.as_str())) { Value::Null } else { p }).collect();
    Ok(Value::Array(Box::new(parts)))
}

fn concatenated(a: &Args<'_>) -> Outcome<Value> {
    let mut all = Vec::new();
    for at in 0..a.count() {
        all.extend(items(a, at)?.iter().cloned());
    }
    if a.values.iter().all(Value::is_null) { Ok(Value::Null) } else { Ok(Value::Array(Box::new(all))) }
}

fn contains(a: &Args<'_>) -> Outcome<Value> {
    let all = items(a, 0)?;
    let found = all.iter().any(|v| loose_order(v, a.value(1), a.collation).is_some_and(std::cmp::Ordering::is_eq));
    if !found && a.dialect() == Spark && all.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    Ok(Value::Boolean(found))
}

fn sorted(a: &Args<'_>) -> Outcome<Value> {
    let descending = a.count() > 1 && *a.value(1) == Value::Boolean(false);
    made(a, |mut v| {
        v.sort_by(|x, y| match (x.is_null(), y.is_null()) {
            (true, true) => std::cmp::Ordering::Equal,
            (true, false) => std::cmp::Ordering::Less,
            (false, true) => std::cmp::Ordering::Greater,
            _ => sort_order(x, y, a.collation),
        });
        if descending {
            v.reverse();
        }
        v
    })
}

fn series(a: &Args<'_>, inclusive: bool) -> Outcome<Value> {
    let (from, to) = if a.count() == 1 { (0, a.whole(0)?) } else { (a.whole(0)?, a.whole(1)?) };
    let default = if a.dialect() == Spark && from > to { -1 } else { 1 };
    let step = a.whole_or(2, default)?;
    Ok(Value::Array(Box::new(numbers(from, to, step, inclusive)?)))
}

/// Numbers from one to another by a step; a step of 0 is an error.
pub(crate) fn numbers(from: i64, to: i64, step: i64, inclusive: bool) -> Outcome<Vec<Value>> {
    if step == 0 {
        return Err(Failure::invalid("a series by steps of 0 never ends").with_code("22023"));
    }
    let mut out = Vec::new();
    let mut at = from;
    while if step > 0 { at < to || (inclusive && at == to) } else { at > to || (inclusive && at == to) } {
        out.push(Value::Integer(at));
        if out.len() > crate::execute::MOST_ROWS {
            return Err(crate::execute::too_many("this series", crate::execute::MOST_ROWS));
        }
        at += step;
    }
    Ok(out)
}

/// An array as PostgreSQL writes it: `{a,"b c",NULL}`.
pub(crate) fn written(items: &[Value], behaviour: &Behaviour) -> String {
    let one = |v: &Value| match v {
        Value::Null => "NULL".to_string(),
        Value::Array(inner) => written(inner, behaviour),
        other => {
            let text = as_text(other, &Type::Any, behaviour);
            let plain = !text.is_empty() && !text.eq_ignore_ascii_case("null") && !text.contains([',', '{', '}', '"', '\\', ' ']);
            if plain { text } else { format!("\"{}\"", text.replace('\\', "\\\\").replace('"', "\\\"")) }
        }
    };
    format!("{{{}}}", items.iter().map(one).collect::<Vec<_>>().join(","))
}

/// An array read from `{a,b}` or `[a, b]`; elements are strings.
pub(crate) fn read(text: &str, _: &Behaviour) -> Outcome<Vec<Value>> {
    let inner = text.trim();
    let inner = inner
        .strip_prefix(['{', '['])
        .and_then(|t| t.strip_suffix(['}', ']']))
        .ok_or_else(|| Failure::invalid(format!("'{text}' is no array")).with_code("22P02"))?;
    let (mut out, mut part, mut quoted, mut was_quoted) = (Vec::new(), String::new(), false, false);
    let mut chars = inner.chars();
    let mut finish = |part: &mut String, was_quoted: &mut bool| {
        let value = if !*was_quoted && part.trim().eq_ignore_ascii_case("null") {
            Value::Null
        } else {
            Value::text(if *was_quoted { part.as_str() } else { part.trim() })
        };
        out.push(value);
        part.clear();
        *was_quoted = false;
    };
    while let Some(c) = chars.next() {
        match c {
            '\\' => part.extend(chars.next()),
            '"' => {
                quoted = !quoted;
                was_quoted = true;
            }
            ',' if !quoted => finish(&mut part, &mut was_quoted),
            other => part.push(other),
        }
    }
    if !inner.trim().is_empty() {
        finish(&mut part, &mut was_quoted);
    }
    Ok(out)
}
