//! JSON: documents, paths, and the functions over them.
//!
//! A document is a string of type JSON in the form its dialect writes. Sources: the vendors' manuals,
//! chapters on JSON functions; ISO/IEC TR 19075-6 for paths.

use serde_json::{Map, Value as Json};
use values::{Row, Value};

use super::{
    ALL, Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, f, of,
    seen, worded,
};
use crate::behaviour::Behaviour;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::plan::TextOutput;
use crate::types::Type;

const JSON: Typing = Typing::Fixed(Type::Json);
const TEXT: Typing = Typing::Fixed(Type::TEXT);
const NUMBER: Typing = Typing::Number;
const INT: Typing = Typing::Fixed(Type::INT);
const TRUTH: Typing = Typing::Fixed(Type::Boolean);

pub(super) const FUNCTIONS: &[Function] = &[
    // --- values out of documents
    f("JSON_VALUE", of(&[SqlServer, Oracle, Mysql, Mariadb, Bigquery, Duckdb]), 1, 2, TEXT, |a| scalar_at(a, 1)),
    f("JSON_EXTRACT_SCALAR", of(&[Bigquery]), 1, 2, TEXT, |a| scalar_at(a, 1)),
    f("JSON_QUERY", of(&[SqlServer, Oracle, Mariadb, Bigquery]), 1, 2, JSON, query_at),
    f("JSON_EXTRACT", of(&[Mysql, Mariadb]), 2, MANY, JSON, mysql_extract),
    f("JSON_EXTRACT", of(&[Sqlite]), 2, MANY, Typing::Fixed(Type::Any), |a| sqlite_extract(a, true)),
    f("JSON_EXTRACT", of(&[Duckdb, Bigquery]), 2, 2, JSON, |a| document_at(a, 1)),
    f("JSON_EXTRACT_STRING", of(&[Duckdb]), 2, 2, TEXT, |a| text_at(a, 1)),
    f("GET_JSON_OBJECT", of(&[Spark]), 2, 2, TEXT, |a| text_at(a, 1)),
    f("JSON_UNQUOTE", MY, 1, 1, TEXT, |a| a.give(unquoted(&a.text(0)))),
    f("JSON_QUOTE", of(&[Mysql, Mariadb, Sqlite]), 1, 1, TEXT, |a| a.give(Json::from(a.text(0)).to_string())),
    f("JSON_ARROW_", of(&[Mysql, Postgres, Duckdb, Sqlite]), 2, 2, JSON, |a| arrow(a, false)),
    f("JSON_ARROW_TEXT_", of(&[Mysql, Postgres, Duckdb, Sqlite]), 2, 2, TEXT, |a| arrow(a, true)),
    f("JSON_PATH_", of(&[Postgres]), 2, 2, JSON, |a| key_path(a, false)),
    f("JSON_PATH_TEXT_", of(&[Postgres]), 2, 2, TEXT, |a| key_path(a, true)),
    f("JSON_EXTRACT_PATH_TEXT", of(&[Postgres]), 2, MANY, TEXT, |a| {
        let mut found = Some(document(a, 0)?);
        for at in 1..a.count() {
            found = found.and_then(|j| step_by_key(&j, &a.text(at)));
        }
        Ok(found.map_or(Value::Null, |j| shown(&j, a.behaviour)))
    }),
    f("JSON_QUERY_ARRAY", of(&[Bigquery]), 1, 2, Typing::Fixed(Type::Any), |a| elements(a, false)),
    f("JSON_EXTRACT_ARRAY", of(&[Bigquery]), 1, 2, Typing::Fixed(Type::Any), |a| elements(a, false)),
    f("JSON_VALUE_ARRAY", of(&[Bigquery]), 1, 2, Typing::Fixed(Type::Any), |a| elements(a, true)),
    // --- about documents
    worded(
        1,
        f("ISJSON", SQL_SERVER, 1, 2, INT, |a| {
            let valid = serde_json::from_str::<Json>(&a.text(0)).ok();
            let scalar = a.count() > 1;
            Ok(Value::Integer(i64::from(valid.is_some_and(|j| scalar || j.is_object() || j.is_array()))))
        }),
    ),
    f("JSON_VALID", of(&[Mysql, Mariadb, Sqlite, Duckdb]), 1, 1, NUMBER, |a| {
        Ok(Value::Integer(i64::from(serde_json::from_str::<Json>(&a.text(0)).is_ok())))
    }),
    f("JSON_VALID_", ALL, 1, 1, TRUTH, |a| Ok(Value::Boolean(serde_json::from_str::<Json>(&a.text(0)).is_ok()))),
    f("JSON_PATH_EXISTS", SQL_SERVER, 2, 2, INT, |a| {
        Ok(Value::Integer(i64::from(at_path(&document(a, 0)?, &path(&a.text(1))?).is_some())))
    }),
    f("JSON_EXISTS", of(&[Oracle, Duckdb, Mariadb]), 2, 2, TRUTH, |a| {
        Ok(Value::Boolean(at_path(&document(a, 0)?, &path(&a.text(1))?).is_some()))
    }),
    f("JSON_LENGTH", MY, 1, 2, NUMBER, |a| length(a, 1)),
    f("JSON_ARRAY_LENGTH", of(&[Sqlite, Duckdb, Spark, Postgres]), 1, 2, NUMBER, array_length),
    f("JSONB_ARRAY_LENGTH", of(&[Postgres]), 1, 1, NUMBER, array_length),
    f("JSON_TYPE", of(&[Mysql, Mariadb, Sqlite, Duckdb]), 1, 2, TEXT, json_type),
    f("JSON_TYPEOF", of(&[Postgres]), 1, 1, TEXT, json_type),
    f("JSONB_TYPEOF", of(&[Postgres]), 1, 1, TEXT, json_type),
    f("JSON_DEPTH", MY, 1, 1, NUMBER, |a| Ok(Value::Integer(depth(&document(a, 0)?)))),
    f("JSON_KEYS", of(&[Mysql, Mariadb]), 1, 2, JSON, |a| {
        let found = if a.count() > 1 { at_path(&document(a, 0)?, &path(&a.text(1))?) } else { Some(document(a, 0)?) };
        Ok(match found {
            Some(Json::Object(fields)) => json(&Json::from(sorted_keys(&fields)), a),
            _ => Value::Null,
        })
    }),
    f("JSON_CONTAINS", of(&[Mysql, Mariadb]), 2, 3, TRUTH, |a| {
        let whole = if a.count() > 2 { at_path(&document(a, 0)?, &path(&a.text(2))?) } else { Some(document(a, 0)?) };
        Ok(whole.map_or(Value::Null, |w| document(a, 1).map_or(Value::Null, |part| Value::Boolean(contains(&w, &part)))))
    }),
    f("CONTAINS_ALL_", of(&[Postgres, Duckdb]), 2, 2, TRUTH, |a| match (a.value(0), a.value(1)) {
        (Value::Array(x), Value::Array(y)) => Ok(Value::Boolean(y.iter().all(|v| x.contains(v)))),
        _ => Ok(Value::Boolean(contains(&document(a, 0)?, &document(a, 1)?))),
    }),
    f("MEMBER_OF_", MY, 2, 2, TRUTH, |a| {
        let one = of_typed(a.value(0), Some(a.ty(0)));
        Ok(Value::Boolean(match document(a, 1)? {
            Json::Array(items) => items.iter().any(|i| same(i, &one)),
            other => same(&other, &one),
        }))
    }),
    // --- changed documents
    f("JSON_SET", of(&[Mysql, Mariadb, Sqlite]), 3, MANY, JSON, |a| changed(a, true, true)),
    f("JSON_INSERT", of(&[Mysql, Mariadb, Sqlite]), 3, MANY, JSON, |a| changed(a, true, false)),
    f("JSON_REPLACE", of(&[Mysql, Mariadb, Sqlite]), 3, MANY, JSON, |a| changed(a, false, true)),
    f("JSON_REMOVE", of(&[Mysql, Mariadb, Sqlite]), 2, MANY, JSON, |a| {
        let mut whole = document(a, 0)?;
        for at in 1..a.count() {
            remove(&mut whole, &path(&a.text(at))?);
        }
        Ok(json(&whole, a))
    }),
    f("JSON_MERGE_PATCH", of(&[Mysql, Mariadb]), 2, MANY, JSON, |a| {
        let mut whole = document(a, 0)?;
        for at in 1..a.count() {
            merge_patch(&mut whole, document(a, at)?);
        }
        Ok(json(&whole, a))
    }),
    f("JSON_PATCH", of(&[Sqlite]), 2, 2, JSON, |a| {
        let mut whole = document(a, 0)?;
        merge_patch(&mut whole, document(a, 1)?);
        Ok(json(&whole, a))
    }),
    seen("JSON_MODIFY", SQL_SERVER, 3, 3, TEXT, sql_server_modify),
    // --- made documents
    seen("JSON_OBJECT", of(&[Mysql, Mariadb, Sqlite, Duckdb]), 0, MANY, JSON, |a| object(a, true)),
    seen("JSON_OBJECT", of(&[SqlServer, Oracle, Bigquery]), 0, MANY, JSON, |a| object(a, true)),
    seen("JSON_OBJECT_ABSENT_", of(&[SqlServer, Oracle]), 0, MANY, JSON, |a| object(a, false)),
    seen("JSON_BUILD_OBJECT", of(&[Postgres]), 0, MANY, JSON, |a| object(a, true)),
    seen("JSONB_BUILD_OBJECT", of(&[Postgres]), 0, MANY, JSON, |a| object(a, true)),
    seen("JSON_ARRAY", of(&[Mysql, Mariadb, Sqlite, Duckdb, Bigquery]), 0, MANY, JSON, |a| array(a, true)),
    seen("JSON_ARRAY", of(&[SqlServer, Oracle]), 0, MANY, JSON, |a| array(a, false)),
    seen("JSON_ARRAY_NULLS_", of(&[SqlServer, Oracle]), 0, MANY, JSON, |a| array(a, true)),
    seen("JSON_BUILD_ARRAY", of(&[Postgres]), 0, MANY, JSON, |a| array(a, true)),
    seen("JSONB_BUILD_ARRAY", of(&[Postgres]), 0, MANY, JSON, |a| array(a, true)),
    f("JSON", of(&[Sqlite]), 1, 1, JSON, |a| Ok(json(&document(a, 0)?, a))),
    f("TO_JSON", of(&[Postgres, Duckdb, Spark, Bigquery]), 1, 2, JSON, |a| Ok(json(&of_typed(a.value(0), Some(a.ty(0))), a))),
    f("TO_JSONB", of(&[Postgres]), 1, 1, JSON, |a| Ok(json(&of_typed(a.value(0), Some(a.ty(0))), a))),
    f("TO_JSON_STRING", of(&[Bigquery]), 1, 1, TEXT, |a| Ok(json(&of_typed(a.value(0), Some(a.ty(0))), a))),
    f("PARSE_JSON", of(&[Bigquery]), 1, 1, JSON, |a| Ok(json(&document(a, 0)?, a))),
];

// --- values and documents --------------------------------------------------------------------------

/// A value as a document; a string of type JSON is one already.
pub(crate) fn of_typed(value: &Value, ty: Option<&Type>) -> Json {
    match (value, ty) {
        (Value::Text(text), Some(Type::Json)) => serde_json::from_str(text).unwrap_or_else(|_| text.as_str().into()),
        (Value::Integer(i), _) => (*i).into(),
        (Value::Decimal(d), _) => serde_json::from_str(&d.to_plain_string()).unwrap_or(Json::Null),
        (Value::Timestamp(t), _) => format!("{}T{}", t.date(), t.time()).into(),
        (Value::Array(items), Some(Type::Array(element))) => items.iter().map(|v| of_typed(v, Some(element))).collect(),
        (Value::Struct(fields), Some(Type::Struct(types))) => {
            Json::Object(fields.iter().zip(types).map(|((name, v), (_, t))| (name.to_string(), of_typed(v, Some(t)))).collect())
        }
        (other, _) => other.to_json(),
    }
}

/// MySQL keeps keys by length, then by letters.
fn sorted_keys(fields: &Map<String, Json>) -> Vec<String> {
    let mut keys: Vec<String> = fields.keys().cloned().collect();
    keys.sort_by(|a, b| a.len().cmp(&b.len()).then(a.cmp(b)));
    keys
}

/// A document in the dialect's form.
pub(crate) fn written(document: &Json, behaviour: &Behaviour) -> String {
    match behaviour.name() {
        Mysql => spaced(document, true),
        Mariadb | Postgres => spaced(document, false),
        _ => document.to_string(),
    }
}

fn spaced(document: &Json, sorted: bool) -> String {
    match document {
        Json::Array(items) => format!("[{}]", items.iter().map(|i| spaced(i, sorted)).collect::<Vec<_>>().join(", ")),
        Json::Object(fields) => {
            let keys = if sorted { sorted_keys(fields) } else { fields.keys().cloned().collect() };
            let parts: Vec<String> = keys.iter().map(|k| format!("{}: {}", Json::from(k.as_str()), spaced(&fields[k], sorted))).collect();
            format!("{{{}}}", parts.join(", "))
        }
        other => other.to_string(),
    }
}

fn json(document: &Json, a: &Args<'_>) -> Value {
    Value::text(written(document, a.behaviour))
}

/// An argument as a document; a string that is none is an error.
fn document(a: &Args<'_>, at: usize) -> Outcome<Json> {
    match a.value(at) {
        Value::Text(text) => serde_json::from_str(text).map_err(|_| {
            let codes: Codes =
                &[(SqlServer, "Msg 13609"), (Mysql, "ER_INVALID_JSON_TEXT_IN_PARAM"), (Postgres, "22P02"), (Oracle, "ORA-40441")];
            Failure::new(FailureKind::BadCast, format!("'{text}' is no JSON")).coded(a.dialect(), codes)
        }),
        other => Ok(of_typed(other, Some(a.ty(at)))),
    }
}

/// A scalar as text; a document in its own form.
fn shown(document: &Json, behaviour: &Behaviour) -> Value {
    match document {
        Json::Null => Value::Null,
        Json::String(text) => behaviour.text(text.clone()),
        other => Value::text(written(other, behaviour)),
    }
}

fn unquoted(text: &str) -> String {
    match serde_json::from_str(text) {
        Ok(Json::String(inner)) => inner,
        _ => text.to_string(),
    }
}

// --- paths -----------------------------------------------------------------------------------------

/// A step of a path.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Step {
    Key(String),
    Index(i64),
    /// From the end: last is 0.
    FromEnd(i64),
    Each,
    EachKey,
}

/// A path such as `$.boats[0]."lock no"`; what precedes the `$` is left out.
pub(crate) fn path(text: &str) -> Outcome<Vec<Step>> {
    let wrong = || Failure::invalid(format!("'{text}' is no JSON path")).with_code("Msg 13607");
    let Some(at) = text.find('$') else {
        // DuckDB and Spark take a bare key.
        return Ok(vec![Step::Key(text.to_string())]);
    };
    let mut rest = &text[at + 1..];
    let mut steps = Vec::new();
    while !rest.is_empty() {
        if let Some(after) = rest.strip_prefix('.') {
            if let Some(quoted) = after.strip_prefix('"') {
                let end = quoted.find('"').ok_or_else(wrong)?;
                steps.push(Step::Key(quoted[..end].to_string()));
                rest = &quoted[end + 1..];
            } else if let Some(after) = after.strip_prefix('*') {
                steps.push(Step::EachKey);
                rest = after;
            } else {
                let end = after.find(['.', '[']).unwrap_or(after.len());
                steps.push(Step::Key(after[..end].trim_end().to_string()));
                rest = &after[end..];
            }
        } else if let Some(after) = rest.strip_prefix('[') {
            let end = after.find(']').ok_or_else(wrong)?;
            let inside = after[..end].trim();
            steps.push(match inside {
                "*" => Step::Each,
                "last" | "#-1" => Step::FromEnd(0),
                _ if inside.starts_with("last") || inside.starts_with('#') => {
                    let number: i64 =
                        inside.trim_start_matches("last").trim_start_matches('#').replace([' ', '-'], "").parse().map_err(|_| wrong())?;
                    Step::FromEnd(if inside.starts_with('#') { number - 1 } else { number })
                }
                _ if inside.starts_with(['\'', '"']) => Step::Key(inside.trim_matches(['\'', '"']).to_string()),
                _ => Step::Index(inside.parse().map_err(|_| wrong())?),
            });
            rest = &after[end + 1..];
        } else if rest.trim().is_empty() {
            break;
        } else {
            return Err(wrong());
        }
    }
    Ok(steps)
}

fn one_step(document: &Json, step: &Step) -> Vec<Json> {
    match (document, step) {
        (Json::Object(fields), Step::Key(key)) => fields.get(key).cloned().into_iter().collect(),
        (Json::Array(items), Step::Index(at)) => usize::try_from(*at).ok().and_then(|i| items.get(i)).cloned().into_iter().collect(),
        (Json::Array(items), Step::FromEnd(back)) => {
            (items.len() as i64 - 1 - back).try_into().ok().and_then(|i: usize| items.get(i)).cloned().into_iter().collect()
        }
        (Json::Array(items), Step::Each) => items.clone(),
        (Json::Object(fields), Step::EachKey) => fields.values().cloned().collect(),
        // A scalar is the one element of itself.
        (other, Step::Index(0) | Step::FromEnd(0)) => vec![other.clone()],
        _ => Vec::new(),
    }
}

/// All values a path leads to.
pub(crate) fn all_at(document: &Json, steps: &[Step]) -> Vec<Json> {
    steps.iter().fold(vec![document.clone()], |found, step| found.iter().flat_map(|d| one_step(d, step)).collect())
}

/// The first value a path leads to.
pub(crate) fn at_path(document: &Json, steps: &[Step]) -> Option<Json> {
    all_at(document, steps).into_iter().next()
}

/// A key of an object, or a number as a place in an array.
fn step_by_key(document: &Json, key: &str) -> Option<Json> {
    match document {
        Json::Array(items) => {
            let at: i64 = key.parse().ok()?;
            let at = if at < 0 { items.len() as i64 + at } else { at };
            items.get(usize::try_from(at).ok()?).cloned()
        }
        Json::Object(fields) => fields.get(key).cloned(),
        _ => None,
    }
}

// --- out of documents ------------------------------------------------------------------------------

/// A scalar at a path as text; an object or array is NULL.
fn scalar_at(a: &Args<'_>, at: usize) -> Outcome<Value> {
    let text = if a.count() > at { a.text(at) } else { "$".to_string() };
    let found = at_path(&document(a, 0)?, &path(&text)?);
    let strict = text.trim_start().starts_with("strict");
    match found {
        None if strict => Err(Failure::invalid(format!("there is nothing at {text}")).with_code("Msg 13608")),
        Some(Json::Object(_) | Json::Array(_)) if strict => Err(Failure::invalid(format!("{text} is no scalar")).with_code("Msg 13623")),
        None | Some(Json::Object(_) | Json::Array(_)) => Ok(Value::Null),
        Some(scalar) => Ok(shown(&scalar, a.behaviour)),
    }
}

/// An object or array at a path in the letters it is written in; a scalar is NULL but in BigQuery.
fn query_at(a: &Args<'_>) -> Outcome<Value> {
    let text = if a.count() > 1 { a.text(1) } else { "$".to_string() };
    let source = a.text(0);
    let found = at_path(&document(a, 0)?, &path(&text)?);
    match found {
        Some(found @ (Json::Object(_) | Json::Array(_))) if a.dialect() == SqlServer => Ok(Value::text(as_written(&source, &found))),
        Some(found @ (Json::Object(_) | Json::Array(_))) => Ok(json(&found, a)),
        Some(scalar) if a.dialect() == Bigquery => Ok(json(&scalar, a)),
        _ => Ok(Value::Null),
    }
}

/// SQL Server gives the part of the text itself, blanks and all.
fn as_written(source: &str, found: &Json) -> String {
    let starts = source.char_indices().filter(|(_, c)| matches!(c, '{' | '['));
    for (at, _) in starts {
        let mut stream = serde_json::Deserializer::from_str(&source[at..]).into_iter::<Json>();
        if let Some(Ok(value)) = stream.next()
            && value == *found
        {
            return source[at..at + stream.byte_offset()].to_string();
        }
    }
    found.to_string()
}

fn mysql_extract(a: &Args<'_>) -> Outcome<Value> {
    let whole = document(a, 0)?;
    let mut found = Vec::new();
    let mut several = a.count() > 2;
    for at in 1..a.count() {
        let steps = path(&a.text(at))?;
        several |= steps.iter().any(|s| matches!(s, Step::Each | Step::EachKey));
        found.extend(all_at(&whole, &steps));
    }
    Ok(match (found.len(), several) {
        (0, _) => Value::Null,
        (_, true) => json(&found.into(), a),
        _ => json(&found[0], a),
    })
}

fn sqlite_extract(a: &Args<'_>, as_value: bool) -> Outcome<Value> {
    if a.count() > 2 {
        let whole = document(a, 0)?;
        let found: Outcome<Vec<Json>> = (1..a.count()).map(|at| Ok(at_path(&whole, &path(&a.text(at))?).unwrap_or(Json::Null))).collect();
        return Ok(json(&found?.into(), a));
    }
    let key = a.text(1);
    let steps = match a.value(1) {
        Value::Integer(i) if *i < 0 => vec![Step::FromEnd(-i - 1)],
        Value::Integer(i) => vec![Step::Index(*i)],
        _ => path(&key)?,
    };
    let Some(found) = at_path(&document(a, 0)?, &steps) else { return Ok(Value::Null) };
    Ok(if as_value { sql_value(&found, a.behaviour) } else { json(&found, a) })
}

/// A scalar as a value of SQL.
pub(crate) fn sql_value(document: &Json, behaviour: &Behaviour) -> Value {
    match document {
        Json::Null => Value::Null,
        Json::Bool(b) if behaviour.conditions_are_numbers => Value::Integer(i64::from(*b)),
        Json::Bool(b) => Value::Boolean(*b),
        Json::Number(n) => match n.as_i64() {
            Some(i) => Value::Integer(i),
            None => n.as_f64().map_or(Value::Null, Value::Float),
        },
        Json::String(text) => behaviour.text(text.clone()),
        other => Value::text(written(other, behaviour)),
    }
}

fn document_at(a: &Args<'_>, at: usize) -> Outcome<Value> {
    let steps = match a.value(at) {
        Value::Integer(i) => vec![Step::Index(*i)],
        _ => path(&a.text(at))?,
    };
    Ok(at_path(&document(a, 0)?, &steps).map_or(Value::Null, |j| json(&j, a)))
}

fn text_at(a: &Args<'_>, at: usize) -> Outcome<Value> {
    let steps = match a.value(at) {
        Value::Integer(i) => vec![Step::Index(*i)],
        _ => path(&a.text(at))?,
    };
    Ok(at_path(&document(a, 0)?, &steps).map_or(Value::Null, |j| shown(&j, a.behaviour)))
}

/// `->` and `->>`: a path in MySQL, a key or place in PostgreSQL, both in DuckDB and SQLite.
fn arrow(a: &Args<'_>, as_text: bool) -> Outcome<Value> {
    match a.dialect() {
        Mysql => {
            let found = at_path(&document(a, 0)?, &path(&a.text(1))?);
            Ok(found.map_or(Value::Null, |j| if as_text { shown_mysql(&j, a) } else { json(&j, a) }))
        }
        Postgres => {
            let found = step_by_key(&document(a, 0)?, &a.text(1));
            Ok(found.map_or(Value::Null, |j| if as_text { shown(&j, a.behaviour) } else { json(&j, a) }))
        }
        Sqlite => sqlite_extract(a, as_text),
        _ if as_text => text_at(a, 1),
        _ => document_at(a, 1),
    }
}

/// MySQL's JSON null is the text null.
fn shown_mysql(document: &Json, a: &Args<'_>) -> Value {
    if document.is_null() { Value::text("null") } else { shown(document, a.behaviour) }
}

/// `#>` and `#>>` with a list of keys.
fn key_path(a: &Args<'_>, as_text: bool) -> Outcome<Value> {
    let keys: Vec<String> = match a.value(1) {
        Value::Array(items) => items.iter().map(ToString::to_string).collect(),
        _ => a
            .text(1)
            .trim_matches(['{', '}'])
            .split(',')
            .map(|k| k.trim().trim_matches('"').to_string())
            .filter(|k| !k.is_empty())
            .collect(),
    };
    let found = keys.iter().try_fold(document(a, 0)?, |d, key| step_by_key(&d, key));
    Ok(found.map_or(Value::Null, |j| if as_text { shown(&j, a.behaviour) } else { json(&j, a) }))
}

fn elements(a: &Args<'_>, as_values: bool) -> Outcome<Value> {
    let steps = if a.count() > 1 { path(&a.text(1))? } else { Vec::new() };
    Ok(match at_path(&document(a, 0)?, &steps) {
        Some(Json::Array(items)) => {
            Value::Array(Box::new(items.iter().map(|i| if as_values { shown(i, a.behaviour) } else { json(i, a) }).collect()))
        }
        _ => Value::Null,
    })
}

// --- about documents -------------------------------------------------------------------------------

fn length(a: &Args<'_>, at: usize) -> Outcome<Value> {
    let found = if a.count() > at { at_path(&document(a, 0)?, &path(&a.text(at))?) } else { Some(document(a, 0)?) };
    Ok(found.map_or(Value::Null, |j| {
        Value::Integer(match j {
            Json::Array(items) => items.len() as i64,
            Json::Object(fields) => fields.len() as i64,
            _ => 1,
        })
    }))
}

fn array_length(a: &Args<'_>) -> Outcome<Value> {
    let found = if a.count() > 1 { at_path(&document(a, 0)?, &path(&a.text(1))?) } else { Some(document(a, 0)?) };
    Ok(match found {
        Some(Json::Array(items)) => Value::Integer(items.len() as i64),
        Some(_) if a.dialect() == Sqlite => Value::Integer(0),
        Some(_) if a.dialect() == Postgres => return Err(Failure::invalid("this JSON is no array").with_code("22023")),
        _ => Value::Null,
    })
}

fn json_type(a: &Args<'_>) -> Outcome<Value> {
    let found = if a.count() > 1 { at_path(&document(a, 0)?, &path(&a.text(1))?) } else { Some(document(a, 0)?) };
    let Some(found) = found else { return Ok(Value::Null) };
    let (mysql, lower) = (a.behaviour.is_mysql(), a.dialect() == Postgres);
    a.give(match found {
        Json::Null => {
            if mysql || a.dialect() == Duckdb {
                "NULL"
            } else {
                "null"
            }
        }
        Json::Bool(b) if a.dialect() == Sqlite => {
            if b {
                "true"
            } else {
                "false"
            }
        }
        Json::Bool(_) => {
            if lower {
                "boolean"
            } else {
                "BOOLEAN"
            }
        }
        Json::Number(n) if n.is_i64() || n.is_u64() => match a.dialect() {
            Mysql | Mariadb => "INTEGER",
            Postgres => "number",
            Duckdb => "UBIGINT",
            _ => "integer",
        },
        Json::Number(_) => match a.dialect() {
            Postgres => "number",
            Sqlite => "real",
            _ => "DOUBLE",
        },
        Json::String(_) => match a.dialect() {
            Mysql | Mariadb => "STRING",
            Postgres => "string",
            Duckdb => "VARCHAR",
            _ => "text",
        },
        Json::Array(_) => {
            if mysql || a.dialect() == Duckdb {
                "ARRAY"
            } else {
                "array"
            }
        }
        Json::Object(_) => {
            if mysql || a.dialect() == Duckdb {
                "OBJECT"
            } else {
                "object"
            }
        }
    })
}

fn depth(document: &Json) -> i64 {
    match document {
        Json::Array(items) => 1 + items.iter().map(depth).max().unwrap_or(0),
        Json::Object(fields) => 1 + fields.values().map(depth).max().unwrap_or(0),
        _ => 1,
    }
}

fn same(a: &Json, b: &Json) -> bool {
    a == b || matches!((a.as_f64(), b.as_f64()), (Some(x), Some(y)) if (x - y).abs() < f64::EPSILON)
}

fn contains(whole: &Json, part: &Json) -> bool {
    match (whole, part) {
        (Json::Array(items), Json::Array(parts)) => parts.iter().all(|p| items.iter().any(|i| contains(i, p))),
        (Json::Array(items), one) => items.iter().any(|i| same(i, one)),
        (Json::Object(fields), Json::Object(parts)) => parts.iter().all(|(k, p)| fields.get(k).is_some_and(|f| contains(f, p))),
        (a, b) => same(a, b),
    }
}

// --- changing --------------------------------------------------------------------------------------

/// Puts a value at a path: where there is one already (`replaces`), where there is none (`adds`).
fn put(document: &mut Json, steps: &[Step], value: Json, adds: bool, replaces: bool) {
    let Some((step, rest)) = steps.split_first() else {
        if replaces {
            *document = value;
        }
        return;
    };
    match (document, step) {
        (Json::Object(fields), Step::Key(key)) => match fields.get_mut(key) {
            Some(inner) => put(inner, rest, value, adds, replaces),
            None if adds && rest.is_empty() => {
                fields.insert(key.clone(), value);
            }
            None => {}
        },
        (Json::Array(items), Step::Index(_) | Step::FromEnd(_)) => {
            let at = match step {
                Step::FromEnd(back) => items.len() as i64 - 1 - back,
                Step::Index(at) => *at,
                _ => -1,
            };
            match usize::try_from(at).ok().and_then(|i| items.get_mut(i)) {
                Some(inner) => put(inner, rest, value, adds, replaces),
                None if adds && rest.is_empty() => items.push(value),
                None => {}
            }
        }
        _ => {}
    }
}

fn remove(document: &mut Json, steps: &[Step]) {
    match (steps, document) {
        ([Step::Key(key)], Json::Object(fields)) => {
            fields.shift_remove(key);
        }
        ([Step::Index(at)], Json::Array(items)) => {
            if let Some(i) = usize::try_from(*at).ok().filter(|i| *i < items.len()) {
                items.remove(i);
            }
        }
        ([step, rest @ ..], document) if !rest.is_empty() => {
            let inner = match (document, step) {
                (Json::Object(fields), Step::Key(key)) => fields.get_mut(key),
                (Json::Array(items), Step::Index(at)) => usize::try_from(*at).ok().and_then(|i| items.get_mut(i)),
                _ => None,
            };
            if let Some(inner) = inner {
                remove(inner, rest);
            }
        }
        _ => {}
    }
}

fn changed(a: &Args<'_>, adds: bool, replaces: bool) -> Outcome<Value> {
    let mut whole = document(a, 0)?;
    let mut at = 1;
    while at + 1 < a.count() {
        put(&mut whole, &path(&a.text(at))?, of_typed(a.value(at + 1), Some(a.ty(at + 1))), adds, replaces);
        at += 2;
    }
    Ok(json(&whole, a))
}

fn merge_patch(whole: &mut Json, patch: Json) {
    let Json::Object(patch) = patch else {
        *whole = patch;
        return;
    };
    if !whole.is_object() {
        *whole = Json::Object(Map::new());
    }
    if let Json::Object(fields) = whole {
        for (key, value) in patch {
            if value.is_null() {
                fields.shift_remove(&key);
            } else {
                merge_patch(fields.entry(key).or_insert(Json::Null), value);
            }
        }
    }
}

/// JSON_MODIFY: NULL takes the key out in lax mode; `append` adds to an array.
fn sql_server_modify(a: &Args<'_>) -> Outcome<Value> {
    if a.value(0).is_null() || a.value(1).is_null() {
        return Ok(Value::Null);
    }
    let mut whole = document(a, 0)?;
    let text = a.text(1);
    let words: Vec<&str> = text.split('$').next().unwrap_or("").split_whitespace().collect();
    let steps = path(&text)?;
    let value = of_typed(a.value(2), Some(a.ty(2)));
    if words.contains(&"append") {
        let mut items = match at_path(&whole, &steps) {
            Some(Json::Array(items)) => items,
            _ => Vec::new(),
        };
        items.push(value);
        put(&mut whole, &steps, items.into(), true, true);
    } else if a.value(2).is_null() && !words.contains(&"strict") {
        remove(&mut whole, &steps);
    } else {
        put(&mut whole, &steps, value, true, true);
    }
    a.give(whole.to_string())
}

// --- making ----------------------------------------------------------------------------------------

fn object(a: &Args<'_>, keeps_null: bool) -> Outcome<Value> {
    if a.count() % 2 == 1 {
        return Err(Failure::invalid("JSON_OBJECT wants pairs of key and value")
            .coded(a.dialect(), &[(Mysql, "ER_WRONG_PARAMCOUNT_TO_NATIVE_FCT")]));
    }
    let mut fields = Map::new();
    for at in (0..a.count()).step_by(2) {
        if a.value(at).is_null() {
            return Err(Failure::invalid("a key of JSON can't be NULL")
                .coded(a.dialect(), &[(Mysql, "ER_JSON_DOCUMENT_NULL_KEY"), (Postgres, "22023")]));
        }
        if a.value(at + 1).is_null() && !keeps_null {
            continue;
        }
        fields.insert(a.text(at), of_typed(a.value(at + 1), Some(a.ty(at + 1))));
    }
    Ok(json(&Json::Object(fields), a))
}

fn array(a: &Args<'_>, keeps_null: bool) -> Outcome<Value> {
    let items: Vec<Json> =
        (0..a.count()).filter(|at| keeps_null || !a.value(*at).is_null()).map(|at| of_typed(a.value(at), Some(a.ty(at)))).collect();
    Ok(json(&items.into(), a))
}

// --- FOR JSON --------------------------------------------------------------------------------------

/// The rows of a query as one JSON text: FOR JSON PATH and AUTO.
pub(super) fn rows_as_json(rows: &[Row], output: &TextOutput, include_nulls: bool, wrapped: bool) -> Outcome<String> {
    let mut items = Vec::with_capacity(rows.len());
    for row in rows {
        let mut fields = Map::new();
        for ((value, name), ty) in row.iter().zip(&output.names).zip(&output.types) {
            if name.is_empty() {
                return Err(Failure::invalid("FOR JSON wants a name for every column").with_code("Msg 13605"));
            }
            if value.is_null() && !include_nulls {
                continue;
            }
            nest(&mut fields, &name.split('.').collect::<Vec<_>>(), of_typed(value, Some(ty)));
        }
        items.push(Json::Object(fields));
    }
    let text = if wrapped { Json::from(items).to_string() } else { items.iter().map(ToString::to_string).collect::<Vec<_>>().join(",") };
    let text = text.replace('/', "\\/");
    Ok(match &output.root {
        Some(root) => format!("{{{}:{text}}}", Json::from(root.as_str())),
        None => text,
    })
}

fn nest(fields: &mut Map<String, Json>, names: &[&str], value: Json) {
    match names {
        [] => {}
        [last] => {
            fields.insert((*last).to_string(), value);
        }
        [first, rest @ ..] => {
            if let Json::Object(inner) = fields.entry((*first).to_string()).or_insert_with(|| Json::Object(Map::new())) {
                nest(inner, rest, value);
            }
        }
    }
}
