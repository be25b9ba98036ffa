//! `run`.

use std::time::{Duration, Instant};

use engines::{Engine, EngineError, open};
use meaning::{Catalog, Fidelity};
use serde_json::json;
use syntax::tree::StatementKind;
use syntax::{Statements, lex};
use values::{ResultSet, Value};

use crate::arguments::RunArguments;
use crate::check::{address, read_data};
use crate::diagnose::{Finding, render};
use crate::input::{self, Input};
use crate::{Done, Ending, Usage, show};

pub(crate) fn command(arguments: &RunArguments) -> Done {
    let paths: Vec<_> = arguments.path.iter().cloned().collect();
    let inputs = input::read_all(&paths)?;
    let address = address(Some(&arguments.on), &syntax::DialectName::Sqlite.into())?;
    let mut engine = match open(&address) {
        Ok(engine) => engine,
        Err(error) => {
            show::error(&error.to_string());
            return Ok(Ending { engine: true, ..Ending::default() });
        }
    };
    if let Some(folder) = &arguments.data {
        let dialect = engine.dialect().clone();
        let data = read_data(folder, &dialect, &mut Catalog::default())?;
        if let Err(error) = engine.load(&data.tables) {
            show::error(&error.to_string());
            return Ok(Ending { engine: true, ..Ending::default() });
        }
    }
    engine.set_seed(arguments.seed);
    if let Some(seconds) = arguments.timeout {
        engine.set_timeout(Duration::from_secs(seconds));
    }
    let mut ending = Ending::default();
    let mut results = Vec::new();
    for input in &inputs {
        for (start, end, kind) in statements(input, &*engine) {
            let sql = &input.text[start..end];
            if let Some(reason) = kind {
                return Err(Usage::new(format!("{}: {reason}", input.name)));
            }
            let began = Instant::now();
            match engine.query(sql, arguments.row_cap) {
                Ok(result) if arguments.json => results.push(result_json(&result)),
                Ok(result) if arguments.csv && result.columns.is_empty() => {}
                Ok(result) if arguments.csv => print!("{}", csv(&result)),
                Ok(result) => show_result(&result, arguments, began.elapsed()),
                Err(error) => {
                    show_failure(input, start, end, &error, &*engine);
                    ending.engine = true;
                }
            }
        }
    }
    if arguments.json {
        println!("{:#}", json!({ "version": 1, "results": results }));
    }
    Ok(ending)
}

/// Where each statement stands, and why it may not be run.
fn statements(input: &Input, engine: &dyn Engine) -> Vec<(usize, usize, Option<String>)> {
    let dialect = engine.dialect();
    let tokens = lex(&input.text, dialect);
    Statements::new(&input.text, &tokens, dialect)
        .filter_map(|parsed| {
            let start = tokens[parsed.span.first as usize].start as usize;
            let end = tokens[(parsed.span.end as usize).saturating_sub(1)].end as usize;
            match &parsed.tree {
                Ok(tree) if matches!(tree.kind, StatementKind::Directive) => None,
                Ok(tree) if !matches!(tree.kind, StatementKind::Query(_)) && writes(&tree.kind) && !is_own(engine) => {
                    Some((start, end, Some("a statement that changes data is not run on a live database".to_string())))
                }
                _ => Some((start, end, None)),
            }
        })
        .collect()
}

fn writes(kind: &StatementKind<syntax::tree::Spelled>) -> bool {
    !matches!(kind, StatementKind::Query(_) | StatementKind::Other(_) | StatementKind::Use(_))
}

/// Engines that live in this process alone may be written to.
fn is_own(engine: &dyn Engine) -> bool {
    engine.name().starts_with("standin") || engine.name().starts_with("sqlite")
}

fn show_result(result: &ResultSet, arguments: &RunArguments, took: Duration) {
    if result.columns.is_empty() {
        println!("done, {:.3} s", took.as_secs_f64());
        return;
    }
    println!("{}", show::rows(result, arguments.row_cap, arguments.show_blanks));
    let cut = if result.rows.len() == arguments.row_cap { ", cut at --row-cap" } else { "" };
    println!("{}{cut}, {:.3} s\n", show::count(result.rows.len(), "row"), took.as_secs_f64());
}

fn show_failure(input: &Input, start: usize, end: usize, error: &EngineError, engine: &dyn Engine) {
    let (place, message) = match error {
        EngineError::Query { place, .. } => (*place, error.to_string()),
        other => (None, other.to_string()),
    };
    let (from, to) = place.map_or((start, end), |(a, b)| (start + a, (start + b).min(end)));
    let message = format!("{}: {message}", engine.name());
    let finding = Finding {
        file: &input.name,
        source: &input.text,
        start: from,
        end: to,
        fidelity: Fidelity::Refused,
        code: "run.failed",
        message: &message,
        advice: None,
        elsewhere: None,
    };
    eprintln!("{}\n", render(&finding));
}

fn result_json(result: &ResultSet) -> serde_json::Value {
    let columns: Vec<_> = result
        .columns
        .iter()
        .enumerate()
        .map(|(i, name)| json!({ "name": name, "type": result.types.get(i).cloned().unwrap_or_default() }))
        .collect();
    let rows: Vec<Vec<_>> = result.rows.iter().map(|r| r.iter().map(Value::to_json).collect()).collect();
    json!({ "columns": columns, "rows": rows })
}

/// NULL is an empty field, '' an empty one in quotes: as the data folders have it.
fn csv(result: &ResultSet) -> String {
    let field = |text: &str| {
        let needs_quotes = text.is_empty() || text.contains([',', '"', '\n', '\r']);
        if needs_quotes { format!("\"{}\"", text.replace('"', "\"\"")) } else { text.to_string() }
    };
    let mut out = result.columns.iter().map(|c| field(c)).collect::<Vec<_>>().join(",");
    out.push('\n');
    for row in &result.rows {
        let fields: Vec<String> = row.iter().map(|v| if v.is_null() { String::new() } else { field(&v.to_string()) }).collect();
        out.push_str(&fields.join(","));
        out.push('\n');
    }
    out
}
