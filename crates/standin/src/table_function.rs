//! Functions in FROM: series, split strings, arrays and JSON as rows.

use std::rc::Rc;

use serde_json::Value as Json;
use syntax::{DialectName, DialectSet};
use values::{Interval, Row, Value};

use crate::behaviour::Behaviour;
use crate::convert::{How, as_text, convert, of_value, to_decimal, whole};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::function::array::numbers;
use crate::function::json::{Step, all_at, at_path, path, sql_value, written};
use crate::moment::{as_moment, moved};
use crate::plan::Typed;
use crate::types::Type;

/// The table functions known.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum TableFunction {
    /// From, to, step: both ends inclusive, or without the end.
    Series {
        inclusive: bool,
    },
    /// STRING_SPLIT: with the ordinal or not.
    Split {
        ordinal: bool,
    },
    /// A row for each element; several arrays stand side by side.
    Unnest,
    /// posexplode: a place from 0 and the element.
    Numbered,
    OpenJson,
    /// Columns of documents, as JSON_TABLE and OPENJSON WITH say.
    Documents(Rc<Documents>),
    JsonEach,
    /// json_array_elements (and as text).
    Elements {
        as_text: bool,
    },
    /// json_each of PostgreSQL.
    Pairs {
        as_text: bool,
    },
    /// string_to_table, regexp_split_to_table.
    SplitText {
        pattern: bool,
    },
}

/// What is read out of each document.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Documents {
    pub(crate) rows: Vec<Step>,
    pub(crate) columns: Vec<DocumentColumn>,
    /// Further rows for each row, by a path of their own.
    pub(crate) nested: Vec<Documents>,
}

/// A column read out of a document.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct DocumentColumn {
    pub(crate) name: String,
    pub(crate) ty: Type,
    pub(crate) what: DocumentPart,
    /// Instead of nothing found.
    pub(crate) on_empty: Option<Value>,
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) enum DocumentPart {
    Ordinality,
    Scalar(Vec<Step>),
    /// AS JSON, FORMAT JSON.
    Document(Vec<Step>),
    Exists(Vec<Step>),
}

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Postgres, Spark, SqlServer, Sqlite};
const fn of(names: &[DialectName]) -> DialectSet {
    DialectSet::of(names)
}

const NAMES: &[(&str, DialectSet, TableFunction)] = &[
    ("GENERATE_SERIES", of(&[Postgres, Duckdb, SqlServer, Sqlite]), TableFunction::Series { inclusive: true }),
    ("RANGE", of(&[Duckdb, Spark]), TableFunction::Series { inclusive: false }),
    ("STRING_SPLIT", of(&[SqlServer]), TableFunction::Split { ordinal: false }),
    ("UNNEST", of(&[Postgres, Duckdb, Bigquery]), TableFunction::Unnest),
    ("EXPLODE", of(&[Spark]), TableFunction::Unnest),
    ("EXPLODE_OUTER", of(&[Spark]), TableFunction::Unnest),
    ("INLINE", of(&[Spark]), TableFunction::Unnest),
    ("POSEXPLODE", of(&[Spark]), TableFunction::Numbered),
    ("OPENJSON", of(&[SqlServer]), TableFunction::OpenJson),
    ("JSON_EACH", of(&[Sqlite]), TableFunction::JsonEach),
    ("JSON_ARRAY_ELEMENTS", of(&[Postgres]), TableFunction::Elements { as_text: false }),
    ("JSONB_ARRAY_ELEMENTS", of(&[Postgres]), TableFunction::Elements { as_text: false }),
    ("JSON_ARRAY_ELEMENTS_TEXT", of(&[Postgres]), TableFunction::Elements { as_text: true }),
    ("JSONB_ARRAY_ELEMENTS_TEXT", of(&[Postgres]), TableFunction::Elements { as_text: true }),
    ("JSON_EACH", of(&[Postgres]), TableFunction::Pairs { as_text: false }),
    ("JSONB_EACH", of(&[Postgres]), TableFunction::Pairs { as_text: false }),
    ("JSON_EACH_TEXT", of(&[Postgres]), TableFunction::Pairs { as_text: true }),
    ("JSONB_EACH_TEXT", of(&[Postgres]), TableFunction::Pairs { as_text: true }),
    ("STRING_TO_TABLE", of(&[Postgres]), TableFunction::SplitText { pattern: false }),
    ("REGEXP_SPLIT_TO_TABLE", of(&[Postgres]), TableFunction::SplitText { pattern: true }),
];

impl TableFunction {
    pub(crate) fn named(name: &str, dialect: DialectName) -> Option<TableFunction> {
        NAMES.iter().find(|(n, dialects, _)| *n == name && dialects.has(dialect)).map(|(.., f)| f.clone())
    }

    pub(crate) fn names(dialect: DialectName) -> impl Iterator<Item = &'static str> {
        NAMES.iter().filter(move |(_, dialects, _)| dialects.has(dialect)).map(|(name, ..)| *name)
    }

    /// The columns it gives.
    pub(crate) fn columns(&self, arguments: &[Typed], behaviour: &Behaviour) -> Outcome<Vec<(String, Type)>> {
        let column = |name: &str, ty: Type| (name.to_string(), ty);
        let first = arguments.first().map_or(Type::Any, |a| a.ty.clone());
        let element = match &first {
            Type::Array(element) => (**element).clone(),
            _ => Type::Any,
        };
        Ok(match self {
            TableFunction::Series { inclusive } => {
                let name = match behaviour.name() {
                    SqlServer => "value",
                    Spark => "id",
                    Duckdb if !inclusive => "range",
                    Sqlite => "value",
                    _ => "generate_series",
                };
                let ty = match &first {
                    Type::Date if behaviour.name() == Postgres => Type::Zoned,
                    Type::Text(_) => Type::Any,
                    other => other.clone(),
                };
                vec![column(name, ty)]
            }
            TableFunction::Split { .. } => {
                let mut columns = vec![column("value", Type::TEXT)];
                if arguments.len() > 2 {
                    columns.push(column("ordinal", Type::BIGINT));
                }
                columns
            }
            TableFunction::Unnest => match element {
                Type::Struct(fields) if behaviour.name() == Spark => fields.to_vec(),
                other => vec![column("col", other)],
            },
            TableFunction::Numbered => vec![column("pos", Type::INT), column("col", element)],
            TableFunction::OpenJson => vec![column("key", Type::TEXT), column("value", Type::TEXT), column("type", Type::INT)],
            TableFunction::Documents(documents) => documents.all_columns(),
            TableFunction::JsonEach => vec![
                column("key", Type::Any),
                column("value", Type::Any),
                column("type", Type::Any),
                column("atom", Type::Any),
                column("id", Type::Any),
                column("parent", Type::Any),
                column("fullkey", Type::Any),
                column("path", Type::Any),
            ],
            TableFunction::Elements { as_text } => vec![column("value", if *as_text { Type::TEXT } else { Type::Json })],
            TableFunction::Pairs { as_text } => {
                vec![column("key", Type::TEXT), column("value", if *as_text { Type::TEXT } else { Type::Json })]
            }
            TableFunction::SplitText { pattern } => {
                vec![column(if *pattern { "regexp_split_to_table" } else { "string_to_table" }, Type::TEXT)]
            }
        })
    }

    /// The rows it gives.
    pub(crate) fn rows(&self, arguments: &[Value], types: &[Type], behaviour: &Behaviour) -> Outcome<Vec<Row>> {
        let first = arguments.first().unwrap_or(&Value::Null);
        match self {
            TableFunction::Series { inclusive } => series(arguments, types, *inclusive, behaviour),
            TableFunction::Split { .. } => split(arguments),
            TableFunction::Unnest => Ok(unnested(arguments, types)),
            TableFunction::Numbered => Ok(match first {
                Value::Array(items) => items.iter().enumerate().map(|(i, v)| vec![Value::Integer(i as i64), v.clone()]).collect(),
                _ => Vec::new(),
            }),
            TableFunction::OpenJson => open_json(arguments, behaviour),
            TableFunction::Documents(documents) => match first {
                Value::Null => Ok(Vec::new()),
                value => documents.rows_of(&parsed(value, behaviour)?, behaviour),
            },
            TableFunction::JsonEach => json_each(arguments, behaviour),
            TableFunction::Elements { as_text } => Ok(match parsed_or_none(first, behaviour)? {
                Some(Json::Array(items)) => items.iter().map(|i| vec![shown(i, *as_text, behaviour)]).collect(),
                None => Vec::new(),
                Some(_) => return Err(Failure::invalid("this JSON is no array").with_code("22023")),
            }),
            TableFunction::Pairs { as_text } => Ok(match parsed_or_none(first, behaviour)? {
                Some(Json::Object(fields)) => {
                    fields.iter().map(|(k, v)| vec![Value::text(k.as_str()), shown(v, *as_text, behaviour)]).collect()
                }
                _ => Vec::new(),
            }),
            TableFunction::SplitText { pattern } => {
                let (Value::Text(text), Some(Value::Text(separator))) = (first, arguments.get(1)) else { return Ok(Vec::new()) };
                if *pattern {
                    let regex = fancy_regex::Regex::new(separator).map_err(|e| Failure::invalid(e.to_string()))?;
                    return Ok(regex.split(text).filter_map(Result::ok).map(|p| vec![Value::text(p)]).collect());
                }
                Ok(text.split(separator.as_str()).map(|p| vec![Value::text(p)]).collect())
            }
        }
    }
}

fn shown(document: &Json, as_text: bool, behaviour: &Behaviour) -> Value {
    match (document, as_text) {
        (Json::Null, true) => Value::Null,
        (Json::String(text), true) => behaviour.text(text.clone()),
        (other, _) => Value::text(written(other, behaviour)),
    }
}

fn parsed(value: &Value, behaviour: &Behaviour) -> Outcome<Json> {
    let text = as_text(value, &of_value(value), behaviour);
    serde_json::from_str(&text).map_err(|_| {
        let codes: Codes =
            &[(SqlServer, "Msg 13609"), (Mysql, "ER_INVALID_JSON_TEXT_IN_PARAM"), (Mariadb, "ER_JSON_SYNTAX"), (Postgres, "22P02")];
        Failure::new(FailureKind::BadCast, format!("'{text}' is no JSON")).coded(behaviour.name(), codes)
    })
}

fn parsed_or_none(value: &Value, behaviour: &Behaviour) -> Outcome<Option<Json>> {
    if value.is_null() { Ok(None) } else { parsed(value, behaviour).map(Some) }
}

// --- series ----------------------------------------------------------------------------------------

fn series(arguments: &[Value], types: &[Type], inclusive: bool, behaviour: &Behaviour) -> Outcome<Vec<Row>> {
    if arguments.iter().any(Value::is_null) {
        return Ok(Vec::new());
    }
    let (from, to) = match arguments {
        [to] => (Value::Integer(0), to.clone()),
        [from, to, ..] => (from.clone(), to.clone()),
        [] => return Err(Failure::invalid("a series wants its ends")),
    };
    if types.iter().any(Type::is_dated) {
        return dated_series(&from, &to, arguments.get(2), inclusive, behaviour);
    }
    let values = [&from, &to].into_iter().chain(arguments.get(2));
    if values.clone().any(|v| matches!(v, Value::Decimal(_) | Value::Float(_))) {
        return decimal_series(&from, &to, arguments.get(2), inclusive);
    }
    let (Some(from), Some(to)) = (whole(&from), whole(&to)) else { return Err(Failure::unknown("a series of these values")) };
    let default = if behaviour.name() == SqlServer && from > to { -1 } else { 1 };
    let step = arguments.get(2).and_then(whole).unwrap_or(default);
    Ok(numbers(from, to, step, inclusive)?.into_iter().map(|n| vec![n]).collect())
}

fn decimal_series(from: &Value, to: &Value, step: Option<&Value>, inclusive: bool) -> Outcome<Vec<Row>> {
    let (Some(from), Some(to)) = (to_decimal(from), to_decimal(to)) else { return Err(Failure::unknown("a series of these values")) };
    let step = step.and_then(to_decimal).unwrap_or_else(|| 1.into());
    if step == 0 {
        return Err(Failure::invalid("a series by steps of 0 never ends").with_code("22023"));
    }
    let (mut out, mut at) = (Vec::new(), from);
    while if step > 0 { at < to || (inclusive && at == to) } else { at > to || (inclusive && at == to) } {
        out.push(vec![Value::decimal(at.clone())]);
        if out.len() > crate::execute::MOST_ROWS {
            return Err(crate::execute::too_many("this series", crate::execute::MOST_ROWS));
        }
        at += &step;
    }
    Ok(out)
}

fn dated_series(from: &Value, to: &Value, step: Option<&Value>, inclusive: bool, behaviour: &Behaviour) -> Outcome<Vec<Row>> {
    let (Some(mut at), Some(end)) = (as_moment(from), as_moment(to)) else { return Err(Failure::unknown("a series of these values")) };
    let step = match step {
        Some(Value::Interval(interval)) => **interval,
        Some(Value::Text(_)) => {
            match convert(step.cloned().unwrap_or(Value::Null), &Type::TEXT, &Type::Interval(None), How::EXPLICIT, behaviour)? {
                Value::Interval(interval) => *interval,
                _ => return Err(Failure::unknown("this step")),
            }
        }
        _ => Interval { days: 1, ..Interval::default() },
    };
    let back = step.months < 0 || step.days < 0 || step.nanoseconds < 0;
    if step == Interval::default() {
        return Err(Failure::invalid("a series by steps of 0 never ends").with_code("22023"));
    }
    let mut out = Vec::new();
    while if back { at > end || (inclusive && at == end) } else { at < end || (inclusive && at == end) } {
        out.push(vec![if behaviour.name() == Postgres && matches!(from, Value::Date(_)) {
            Value::Instant(at, 0)
        } else {
            Value::Timestamp(at)
        }]);
        if out.len() > 1_000_000 {
            return Err(crate::execute::too_many("this series", crate::execute::MOST_ROWS));
        }
        let Some(next) = moved(at, &step, 1) else { break };
        at = next;
    }
    Ok(out)
}

fn split(arguments: &[Value]) -> Outcome<Vec<Row>> {
    let [Value::Text(text), separator, rest @ ..] = arguments else { return Ok(Vec::new()) };
    let separator = match separator {
        Value::Text(separator) if separator.chars().count() == 1 => separator,
        _ => return Err(Failure::invalid("STRING_SPLIT wants a separator of one character").with_code("Msg 214")),
    };
    let numbered = !rest.is_empty();
    let row = |(i, part): (usize, &str)| {
        let mut row = vec![Value::text(part)];
        if numbered {
            row.push(Value::Integer(i as i64 + 1));
        }
        row
    };
    Ok(text.split(separator.as_str()).enumerate().map(row).collect())
}

/// Elements side by side; a shorter array is filled with NULL. Structs give a column a field.
fn unnested(arguments: &[Value], types: &[Type]) -> Vec<Row> {
    let length = arguments.iter().map(|a| if let Value::Array(items) = a { items.len() } else { 0 }).max().unwrap_or(0);
    let mut rows = Vec::with_capacity(length);
    for at in 0..length {
        let mut row = Vec::new();
        for (argument, ty) in arguments.iter().zip(types) {
            let item = if let Value::Array(items) = argument { items.get(at).cloned() } else { None };
            let fields = match ty {
                Type::Array(element) => {
                    if let Type::Struct(fields) = &**element {
                        Some(fields.len())
                    } else {
                        None
                    }
                }
                _ => None,
            };
            match (item, fields) {
                (Some(Value::Struct(values)), Some(_)) => row.extend(values.iter().map(|(_, v)| v.clone())),
                (Some(Value::Array(values)), Some(n)) if values.len() == n => row.extend(values.iter().cloned()),
                (_, Some(n)) => row.extend(std::iter::repeat_n(Value::Null, n)),
                (item, None) => row.push(item.unwrap_or(Value::Null)),
            }
        }
        rows.push(row);
    }
    rows
}

// --- JSON ------------------------------------------------------------------------------------------

fn open_json(arguments: &[Value], behaviour: &Behaviour) -> Outcome<Vec<Row>> {
    let Some(whole) = parsed_or_none(arguments.first().unwrap_or(&Value::Null), behaviour)? else { return Ok(Vec::new()) };
    let found = match arguments.get(1) {
        Some(at) => at_path(&whole, &path(&as_text(at, &Type::TEXT, behaviour))?),
        None => Some(whole),
    };
    let row = |key: String, value: &Json| {
        let kind = match value {
            Json::Null => 0,
            Json::String(_) => 1,
            Json::Number(_) => 2,
            Json::Bool(_) => 3,
            Json::Array(_) => 4,
            Json::Object(_) => 5,
        };
        vec![Value::text(key), shown(value, true, behaviour), Value::Integer(kind)]
    };
    Ok(match found {
        Some(Json::Array(items)) => items.iter().enumerate().map(|(i, v)| row(i.to_string(), v)).collect(),
        Some(Json::Object(fields)) => fields.iter().map(|(k, v)| row(k.clone(), v)).collect(),
        _ => Vec::new(),
    })
}

fn json_each(arguments: &[Value], behaviour: &Behaviour) -> Outcome<Vec<Row>> {
    let Some(whole) = parsed_or_none(arguments.first().unwrap_or(&Value::Null), behaviour)? else { return Ok(Vec::new()) };
    let root = arguments.get(1).map_or("$".to_string(), ToString::to_string);
    let Some(found) = at_path(&whole, &path(&root)?) else { return Ok(Vec::new()) };
    let row = |key: Value, full: String, value: &Json, id: usize| {
        let kind = match value {
            Json::Null => "null",
            Json::Bool(true) => "true",
            Json::Bool(false) => "false",
            Json::Number(n) if n.is_i64() => "integer",
            Json::Number(_) => "real",
            Json::String(_) => "text",
            Json::Array(_) => "array",
            Json::Object(_) => "object",
        };
        let atom = if value.is_array() || value.is_object() { Value::Null } else { sql_value(value, behaviour) };
        vec![
            key,
            sql_value(value, behaviour),
            Value::text(kind),
            atom,
            Value::Integer(id as i64),
            Value::Null,
            Value::text(full),
            Value::text(root.as_str()),
        ]
    };
    Ok(match &found {
        Json::Array(items) => {
            items.iter().enumerate().map(|(i, v)| row(Value::Integer(i as i64), format!("{root}[{i}]"), v, i + 1)).collect()
        }
        Json::Object(fields) => {
            fields.iter().enumerate().map(|(i, (k, v))| row(Value::text(k.as_str()), format!("{root}.{k}"), v, i + 1)).collect()
        }
        scalar => vec![row(Value::Null, root.clone(), scalar, 0)],
    })
}

impl Documents {
    /// Its columns and those nested in it, in order.
    pub(crate) fn all_columns(&self) -> Vec<(String, Type)> {
        let own = self.columns.iter().map(|c| (c.name.clone(), c.ty.clone()));
        own.chain(self.nested.iter().flat_map(Documents::all_columns)).collect()
    }

    fn rows_of(&self, whole: &Json, behaviour: &Behaviour) -> Outcome<Vec<Row>> {
        let mut rows = Vec::new();
        let found = match at_path(whole, &self.rows) {
            // OPENJSON WITH: a row for each element of an array.
            Some(Json::Array(items)) if behaviour.name() == SqlServer => items,
            _ => all_at(whole, &self.rows),
        };
        for (number, document) in found.iter().enumerate() {
            let own: Outcome<Row> = self.columns.iter().map(|c| c.value(document, number, behaviour)).collect();
            let own = own?;
            if self.nested.is_empty() {
                rows.push(own);
                continue;
            }
            // Each nested path has rows of its own, beside NULLs for the others.
            let widths: Vec<usize> = self.nested.iter().map(|n| n.all_columns().len()).collect();
            let mut any = false;
            for (at, nested) in self.nested.iter().enumerate() {
                for inner in nested.rows_of(document, behaviour)? {
                    any = true;
                    let mut row = own.clone();
                    row.extend(std::iter::repeat_n(Value::Null, widths[..at].iter().sum()));
                    row.extend(inner);
                    row.extend(std::iter::repeat_n(Value::Null, widths[at + 1..].iter().sum()));
                    rows.push(row);
                }
            }
            if !any {
                let mut row = own;
                row.extend(std::iter::repeat_n(Value::Null, widths.iter().sum()));
                rows.push(row);
            }
        }
        Ok(rows)
    }
}

impl DocumentColumn {
    fn value(&self, document: &Json, number: usize, behaviour: &Behaviour) -> Outcome<Value> {
        let found = match &self.what {
            DocumentPart::Ordinality => return Ok(Value::Integer(number as i64 + 1)),
            DocumentPart::Exists(steps) => return Ok(Value::Integer(i64::from(at_path(document, steps).is_some()))),
            DocumentPart::Document(steps) => {
                let text = |j: Json| Value::text(written(&j, behaviour));
                return Ok(at_path(document, steps)
                    .filter(|j| j.is_array() || j.is_object() || behaviour.name() != SqlServer)
                    .map_or(Value::Null, text));
            }
            DocumentPart::Scalar(steps) => at_path(document, steps),
        };
        let Some(found) = found else { return Ok(self.on_empty.clone().unwrap_or(Value::Null)) };
        if found.is_array() || found.is_object() {
            return Ok(if self.ty == Type::Json { Value::text(written(&found, behaviour)) } else { Value::Null });
        }
        let value = shown(&found, true, behaviour);
        let value = if let Value::Text(t) = &value
            && self.ty.is_numeric()
        {
            crate::convert::parse_number(t).unwrap_or(value)
        } else {
            value
        };
        let from = of_value(&value);
        convert(value, &from, &self.ty, How::EXPLICIT, behaviour)
    }
}
