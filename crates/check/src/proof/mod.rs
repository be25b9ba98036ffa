//! The phrasebook proven on an engine: every example of every spelling, run and compared.
//!
//! Templates are filled here as strings, by a way of their own: what the translator does with them is
//! not what proves them.

mod fill;

use engines::{Collected, Engine, EngineError, literal_sql};
use meaning::{ArgumentKind, Edge, Guard, Parameter, Phrase, PhraseId, PhraseKind, ValueClass, arguments_in, phrases, write_type};
use syntax::{Dialect, DialectName};
use values::{DataType, Tolerance, Value, same_value};

use fill::filled;

/// One example of one spelling.
#[derive(Debug, Clone)]
pub struct Example {
    /// The phrase.
    pub id: PhraseId,
    /// The spelling that is tried.
    pub spelling: &'static str,
    /// The arguments.
    pub tried: Vec<&'static str>,
    /// What the book says comes out.
    pub gives: &'static str,
    /// The query that is run.
    pub sql: String,
}

/// What came of an example.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Proof {
    /// What the book says.
    Passed,
    /// Something else: what, in words.
    Failed(String),
}

/// The examples of the whole book that a dialect can be asked; those of words that it doesn't have
/// are left out.
pub fn examples(dialect: &Dialect) -> Vec<Example> {
    phrases().flat_map(|(id, _)| examples_of(id, dialect)).collect()
}

/// Whether a dialect says a phrase at all.
pub fn is_said(phrase: &Phrase, dialect: &Dialect) -> bool {
    phrase.said(dialect).any(|say| say.refuse.is_none())
}

/// The examples of one phrase.
pub fn examples_of(id: PhraseId, dialect: &Dialect) -> Vec<Example> {
    let phrase = id.phrase();
    if phrase.kind == PhraseKind::Window {
        return Vec::new();
    }
    let tries = tries(phrase, dialect);
    let mut found = Vec::new();
    for say in phrase.said(dialect).filter(|s| !s.sql.is_empty()) {
        let guards = say.guards;
        let fitting = tries.iter().filter(|t| guards.iter().all(|(at, guard)| t.meets(*guard, *at, phrase)));
        // A template made for arguments of a class gives on them what the phrase gives.
        let is_made_for = |t: &Try| {
            say.exact || t.about.is_some_and(|(about, class)| guards.iter().any(|(at, guard)| *at == about && guard.settles(class)))
        };
        found.extend(fitting.filter_map(|t| t.example(id, say.sql, dialect, is_made_for(t))));
        // Those behind it are for older versions.
        if guards.is_empty() {
            break;
        }
    }
    for spelling in phrase.hear[dialect.name as usize] {
        // A spelling without an argument means that it is left out.
        let fitting =
            tries.iter().filter(|t| (0..phrase.takes.len()).all(|at| names(spelling, phrase.takes[at].name) || t.is_left_out(at, phrase)));
        found.extend(fitting.filter_map(|t| t.example(id, spelling, dialect, false)));
    }
    found
}

fn names(template: &str, argument: &str) -> bool {
    arguments_in(template).contains(&argument)
}

/// Arguments to be tried and what comes out.
struct Try {
    tried: Vec<&'static str>,
    /// The argument that the class of the edge is about.
    about: Option<(usize, ValueClass)>,
    /// What the phrase gives.
    gives: &'static str,
    /// What the dialect gives.
    result: &'static str,
    /// An empty text is NULL there.
    empty_is_null: bool,
}

/// The examples of a phrase; for a strict one also NULL in each argument.
fn tries(phrase: &'static Phrase, dialect: &Dialect) -> Vec<Try> {
    let written = |edge: &Edge| Try {
        tried: edge.tried.to_vec(),
        about: edge.class,
        gives: edge.gives,
        result: edge.result(dialect),
        empty_is_null: dialect.name == DialectName::Oracle,
    };
    let mut all: Vec<Try> = phrase.edges.iter().map(written).collect();
    let Some(first) = phrase.edges.first().filter(|_| phrase.strict && phrase.kind != PhraseKind::Aggregate) else { return all };
    for at in 0..first.tried.len() {
        let mut tried = first.tried.to_vec();
        tried[at] = "NULL";
        let has_own = phrase.edges.iter().any(|e| e.class == Some((at, ValueClass::Null)));
        if !has_own && tried.len() > at && !all.iter().any(|t| t.tried == tried) {
            all.push(Try { tried, about: None, gives: "NULL", result: "NULL", empty_is_null: false });
        }
    }
    all
}

impl Try {
    fn is_left_out(&self, at: usize, phrase: &Phrase) -> bool {
        let default = phrase.takes[at].default;
        match self.tried.get(at) {
            None => default.is_some() || phrase.takes[at].repeated,
            Some(given) => Some(*given) == default,
        }
    }

    /// The argument at a place: what is tried, or its default.
    fn argument(&self, at: usize, phrase: &Phrase) -> &'static str {
        self.tried.get(at).copied().or(phrase.takes[at].default).unwrap_or("NULL")
    }

    fn meets(&self, guard: Guard, at: usize, phrase: &Phrase) -> bool {
        let last = if phrase.takes[at].repeated { self.tried.len() } else { at + 1 };
        (at..last.max(at + 1)).all(|i| {
            let text = self.tried.get(i).copied().or(phrase.takes[at].default).unwrap_or("NULL");
            let value = if self.empty_is_null && text == "''" { Some(Value::Null) } else { read_value(text) };
            match (guard, value) {
                (Guard::Default, _) => self.is_left_out(at, phrase),
                (Guard::AsLongAs(other), _) => {
                    let length = |text: &str| match read_value(text) {
                        Some(Value::Text(text)) => Some(text.chars().count()),
                        _ => None,
                    };
                    length(text).is_some() && length(text) == length(self.argument(other, phrase))
                }
                (_, None) => false,
                (Guard::Always(class), Some(value)) => class.holds(&value),
                (Guard::Never(class), Some(value)) => !class.holds(&value),
                (Guard::Constant, Some(value)) => !value.is_null(),
                (Guard::Typed(kind), Some(value)) => kind_of(&value).is_some_and(|k| kind.fit(&k) == meaning::Fit::Yes),
            }
        })
    }

    fn example(&self, id: PhraseId, spelling: &'static str, dialect: &Dialect, is_made_for: bool) -> Option<Example> {
        // The engine we have of this dialect lacks it, not the dialect.
        if self.result == "?" {
            return None;
        }
        let phrase = id.phrase();
        let sql = self.sql(phrase, spelling, dialect)?;
        Some(Example { id, spelling, tried: self.tried.clone(), gives: if is_made_for { self.gives } else { self.result }, sql })
    }

    fn sql(&self, phrase: &'static Phrase, spelling: &str, dialect: &Dialect) -> Option<String> {
        if phrase.kind == PhraseKind::Aggregate {
            return Some(self.aggregate_sql(phrase, spelling, dialect));
        }
        let like = self.tried.iter().filter_map(|t| read_value(t)).find_map(|v| kind_of(&v));
        let literal = |text: &str, parameter: &Parameter| literal(text, parameter.kind, like.as_ref(), dialect);
        let expr: String = filled(spelling, phrase, &|at, parameter| match parameter.repeated {
            true => self.tried.iter().skip(at).map(|t| literal(t, parameter)).collect(),
            false => vec![literal(self.argument(at, phrase), parameter)],
        })?;
        let told_apart = matches!(dialect.name, DialectName::Oracle | DialectName::SqlServer);
        let value =
            if phrase.gives == "boolean" && told_apart { format!("CASE WHEN {expr} THEN 1 WHEN NOT ({expr}) THEN 0 END") } else { expr };
        Some(format!("SELECT {value} AS r{}", from_dual(dialect)))
    }

    /// Each argument tried is a row.
    fn aggregate_sql(&self, phrase: &'static Phrase, spelling: &str, dialect: &Dialect) -> String {
        let like = self.tried.iter().filter_map(|t| read_value(t)).find_map(|v| kind_of(&v));
        let kind = phrase.takes.first().map_or(ArgumentKind::Any, |t| t.kind);
        let row = |t: &&str| format!("SELECT {} AS v{}", literal(t, kind, like.as_ref(), dialect), from_dual(dialect));
        let rows: Vec<String> = self.tried.iter().map(row).collect();
        let call = filled(spelling, phrase, &|_, _| vec!["v".to_string()]).unwrap_or_default();
        format!("SELECT {call} AS r FROM ({}) t", rows.join(" UNION ALL "))
    }
}

fn from_dual(dialect: &Dialect) -> &'static str {
    if dialect.name == DialectName::Oracle { " FROM DUAL" } else { "" }
}

/// A value of the book: `NULL`, `NULL(2)` for that of a string of two characters at most, `TRUE`, `12`,
/// `-1.5`, `'text'`, `DATE '2026-01-31'`, `inf`; `None` for anything else.
pub fn read_value(text: &str) -> Option<Value> {
    let quoted = |t: &str| t.strip_prefix('\'').and_then(|t| t.strip_suffix('\'')).map(|t| t.replace("''", "'"));
    if text.starts_with("NULL(") {
        return Some(Value::Null);
    }
    match text {
        "NULL" => return Some(Value::Null),
        "TRUE" => return Some(Value::Boolean(true)),
        "FALSE" => return Some(Value::Boolean(false)),
        "inf" => return Some(Value::Float(f64::INFINITY)),
        "nan" => return Some(Value::Float(f64::NAN)),
        _ => {}
    }
    if let Some(inner) = quoted(text) {
        return Some(Value::text(inner));
    }
    if let Some(day) = text.strip_prefix("DATE ").and_then(quoted) {
        return day.parse().ok().map(Value::Date);
    }
    if let Some(moment) = text.strip_prefix("TIMESTAMP ").and_then(quoted) {
        return moment.replace(' ', "T").parse().ok().map(Value::Timestamp);
    }
    if let Some(hex) = text.strip_prefix('X').and_then(quoted) {
        let byte = |i: usize| u8::from_str_radix(hex.get(i..i + 2)?, 16).ok();
        return (0..hex.len()).step_by(2).map(byte).collect::<Option<Vec<u8>>>().map(|b| Value::Binary(Box::new(b)));
    }
    text.parse().map(Value::Integer).ok().or_else(|| text.parse().ok().map(Value::decimal))
}

/// The type of a value that is tried.
fn kind_of(value: &Value) -> Option<DataType> {
    Some(match value {
        Value::Boolean(_) => DataType::Boolean,
        Value::Integer(_) => DataType::Integer(64),
        Value::Decimal(_) => DataType::Decimal(Some((20, 6))),
        Value::Float(_) => DataType::Float(64),
        Value::Text(_) => DataType::TEXT,
        Value::Date(_) => DataType::Date,
        Value::Timestamp(_) => DataType::TIMESTAMP,
        Value::Binary(_) => DataType::Binary,
        _ => return None,
    })
}

/// A value of the book as an expression of a dialect. A fraction is exact in each; NULL has the type of its argument, or of the
/// values beside it.
fn literal(text: &str, kind: ArgumentKind, like: Option<&DataType>, dialect: &Dialect) -> String {
    let Some(value) = read_value(text) else { return text.to_string() };
    if kind == ArgumentKind::Condition {
        return match value {
            Value::Boolean(true) => "1 = 1",
            Value::Boolean(false) => "1 = 0",
            _ if dialect.name == DialectName::Bigquery => "CAST(NULL AS BOOL)",
            _ => "NULL = 1",
        }
        .to_string();
    }
    if !value.is_null() {
        let sql = literal_sql(&value, dialect);
        return if sql.starts_with('-') { format!("({sql})") } else { sql };
    }
    let length = text.strip_prefix("NULL(").and_then(|t| t.strip_suffix(')')?.parse().ok());
    let data_type = match kind {
        _ if length.is_some() => Some(DataType::Text { length, fixed: false }),
        ArgumentKind::String | ArgumentKind::Regex | ArgumentKind::Replacement => Some(DataType::TEXT),
        ArgumentKind::Integer | ArgumentKind::LongInteger => Some(DataType::Integer(32)),
        ArgumentKind::Number => Some(like.filter(|t| t.is_numeric()).cloned().unwrap_or(DataType::Integer(64))),
        ArgumentKind::Float => Some(DataType::Float(64)),
        ArgumentKind::Decimal => Some(DataType::Decimal(Some((12, 2)))),
        ArgumentKind::Boolean => Some(DataType::Boolean),
        ArgumentKind::Date => Some(DataType::Date),
        ArgumentKind::Timestamp => Some(DataType::TIMESTAMP),
        ArgumentKind::Binary => Some(DataType::Binary),
        ArgumentKind::Any | ArgumentKind::Condition => like.cloned(),
    };
    match data_type.and_then(|t| write_type(&t, dialect, true)) {
        Some(name) => format!("CAST(NULL AS {})", name.sql()),
        None => "NULL".to_string(),
    }
}

/// Runs an example.
///
/// # Errors
/// An engine that is lost or can't be reached.
pub fn prove(example: &Example, engine: &mut dyn Engine) -> Result<Proof, EngineError> {
    // What an engine warns of is what it does there: the result is what the book tells of.
    let mut collected = Collected::new(2);
    let outcome = match engine.run(&example.sql, &mut collected).map(|_| collected.result) {
        Ok(result) => match result.rows.first().and_then(|r| r.first()) {
            Some(value) => Ok(value.clone()),
            None => Err("no row".to_string()),
        },
        Err(error @ (EngineError::Lost { .. } | EngineError::Unreachable { .. } | EngineError::Stopped)) => return Err(error),
        Err(error) => Err(error.to_string()),
    };
    let passed = match (&outcome, example.gives) {
        (Err(_), "error") => true,
        (Ok(value), "*" | "cut") => !value.is_null(),
        (Ok(value), gives) => read_value(gives).is_some_and(|wanted| is_same(&wanted, value)),
        (Err(_), _) => false,
    };
    Ok(if passed {
        Proof::Passed
    } else {
        Proof::Failed(match outcome {
            Ok(value) => shown(&value),
            Err(message) => format!("the error {message}"),
        })
    })
}

fn is_same(wanted: &Value, got: &Value) -> bool {
    match (wanted, got) {
        (Value::Float(a), Value::Float(b)) if a.is_nan() || a.is_infinite() => a.to_bits() == b.to_bits() || (a.is_nan() && b.is_nan()),
        // Text and number are distinguished, which a comparison of results doesn't.
        (Value::Text(_), other) | (other, Value::Text(_)) if !matches!(other, Value::Text(_) | Value::Date(_) | Value::Timestamp(_)) => {
            false
        }
        (Value::Decimal(a), Value::Float(b)) => a.to_string().parse::<f64>().is_ok_and(|a| (a - b).abs() <= a.abs().max(1.0) * 1e-9),
        _ => same_value(wanted, got, Tolerance::default()),
    }
}

/// A value with what can't be seen made visible.
pub fn shown(value: &Value) -> String {
    match value {
        Value::Null => "NULL".to_string(),
        Value::Text(text) => format!("'{}'", text.replace('\'', "''").replace('\t', "\\t").replace('\n', "\\n")),
        other => other.to_string(),
    }
}
