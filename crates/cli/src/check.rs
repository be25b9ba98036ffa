//! `check`.

use std::path::Path;
use std::time::{Duration, Instant};

use check::{Assumption, Counterexample, Engines, Pair, QueryFacts, Settings, Verdict, VerdictKind, guess_schema};
use comfy_table::{Cell, Color};
use engines::{Dataset, Engine, EngineError, literal_sql};
use indicatif::{ProgressBar, ProgressStyle};
use meaning::{Catalog, Fidelity};
use serde_json::{Value as Json, json};
use syntax::{Dialect, Statements, lex};
use translate::{Script, StatementClass, Translated, translate_text};
use values::{ResultSet, Schema};

use crate::arguments::CheckArguments;
use crate::connect::{address, connect};
use crate::input::{self, Input};
use crate::translate::options;
use crate::{Done, Ending, Usage, show};

/// A query to check: the source's text, the target's if there is one.
struct Query {
    file: String,
    line: usize,
    source: String,
    target: Option<String>,
    /// None for a translation by another hand.
    fidelity: Option<Fidelity>,
    notes: Vec<(&'static str, Fidelity, String)>,
    /// None for a translation by another hand.
    assumptions: Option<Vec<Assumption>>,
    refused: Option<String>,
}

/// A query and what was found.
struct Checked {
    query: Query,
    verdict: Verdict,
    guessed: bool,
}

pub(crate) fn command(arguments: &CheckArguments) -> Done {
    let inputs = input::read_all(&arguments.queries.paths)?;
    let source = address(arguments.source.as_deref(), &arguments.queries.from)?;
    let target = address(arguments.target.as_deref(), &arguments.to)?;
    let opened = (connect(&source, &arguments.access), connect(&target, &arguments.access));
    let (Some(mut source), Some(mut target)) = opened else {
        return Ok(Ending { engine: true, ..Ending::default() });
    };
    let (from, to) = (&as_it_runs(&arguments.queries.from, &*source), &as_it_runs(&arguments.to, &*target));
    let mut catalog = input::catalog(&arguments.queries, from)?;
    let data = match &arguments.data {
        Some(folder) => Some(read_data(folder, from, &mut catalog)?),
        None => None,
    };
    let queries = match &arguments.against {
        Some(path) => paired(&inputs, path, from, to)?,
        None => translated(&inputs, arguments, from, to, &catalog),
    };
    let settings = Settings {
        trials: if arguments.in_place { 0 } else { arguments.trials },
        seed: arguments.seed,
        max_rows: arguments.max_rows,
        row_cap: arguments.row_cap,
        compare_labels: arguments.compare_labels,
        in_place: arguments.in_place,
        ..Settings::default()
    };
    let changes = changes_in(&inputs, from);
    let started = Instant::now();
    let progress = progress(queries.len());
    let mut checked = Vec::new();
    for query in queries {
        progress.inc(1);
        let mut engines = Engines { source: &mut *source, target: &mut *target };
        checked.push(check_one(query, from, &mut engines, data.as_ref(), &catalog, &settings));
    }
    progress.finish_and_clear();
    if arguments.queries.json {
        let queries: Vec<Json> = checked.iter().map(|c| query_json(c, &*source, &*target, &settings)).collect();
        println!("{:#}", json!({ "version": 1, "queries": queries }));
    } else {
        show_all(&checked, &*source, &*target, started.elapsed(), from, to);
        if changes > 0 {
            println!("{} that change data were not checked: only queries are compared", show::count(changes, "statement"));
        }
    }
    Ok(ending(&checked, arguments.fail_undetermined))
}

pub(crate) fn read_data(folder: &Path, from: &Dialect, catalog: &mut Catalog) -> Result<Dataset, Usage> {
    let (schema, data) = Dataset::read(folder, from).map_err(|e| Usage::new(e.to_string()))?;
    // What --schema and --assume said first stays.
    for table in schema.schema.tables {
        if catalog.schema.table(&table.name).is_none() {
            catalog.schema.tables.push(table);
        }
    }
    Ok(data)
}

/// A bar on standard error, after a second.
pub(crate) fn progress(length: usize) -> ProgressBar {
    let bar = ProgressBar::new(length as u64);
    if let Ok(style) = ProgressStyle::with_template("{bar:30} {pos} of {len} queries, {elapsed}") {
        bar.set_style(style);
    }
    bar.enable_steady_tick(Duration::from_secs(1));
    bar
}

/// How many statements change data.
fn changes_in(inputs: &[Input], from: &Dialect) -> usize {
    use syntax::tree::StatementKind::{Delete, Insert, Merge, Update};
    let changes = |input: &Input| {
        let tokens = lex(&input.text, from);
        Statements::new(&input.text, &tokens, from)
            .filter(|p| p.tree.as_ref().is_ok_and(|t| matches!(t.kind, Insert(_) | Update(_) | Delete(_) | Merge(_))))
            .count()
    };
    inputs.iter().map(changes).sum()
}

// --- what is checked ------------------------------------------------------------------------------

/// The dialect at the version its engine runs, unless a version was asked for.
fn as_it_runs(asked: &Dialect, engine: &dyn Engine) -> Dialect {
    let running = engine.dialect();
    if asked.version_given || asked.name != running.name {
        return asked.clone();
    }
    Dialect { version: running.version, ..asked.clone() }
}

fn translated(inputs: &[Input], arguments: &CheckArguments, from: &Dialect, to: &Dialect, catalog: &Catalog) -> Vec<Query> {
    let mut queries = Vec::new();
    for input in inputs {
        let script = translate_text(&input.text, from, to, catalog, &options(&arguments.queries));
        queries.extend(script.statements.iter().filter_map(|s| query_of(s, &script, input)));
    }
    queries
}

/// Only queries are compared, and statements that could not be read are told of.
pub(crate) fn is_checked(statement: &Translated) -> bool {
    matches!(statement.class, StatementClass::Query | StatementClass::Unreadable)
}

/// The statement with the variables declared before it, as its engine needs it.
pub(crate) fn with_variables(statement: &Translated, script: &Script, text: &str) -> String {
    let place = |s: &Translated| text.get(s.place.start..s.place.end).unwrap_or("").to_string();
    let before = script.statements.iter().filter(|s| s.class == StatementClass::Variable && s.place.start < statement.place.start);
    let mut parts: Vec<String> = before.map(place).collect();
    parts.push(place(statement));
    parts.join(";\n")
}

fn query_of(statement: &Translated, script: &Script, input: &Input) -> Option<Query> {
    if !is_checked(statement) {
        return None;
    }
    let refused = statement.notes.iter().find(|n| n.note.fidelity >= Fidelity::Refused).map(|n| n.note.message.to_string());
    let source = with_variables(statement, script, &input.text);
    Some(Query {
        file: input.name.clone(),
        line: statement.line,
        assumptions: Some(Assumption::of(statement, source.len() - (statement.place.end - statement.place.start))),
        source,
        target: statement.sql.clone(),
        fidelity: Some(statement.fidelity),
        notes: statement.notes.iter().map(|n| (n.note.code, n.note.fidelity, n.note.message.to_string())).collect(),
        refused,
    })
}

/// The statements of a translation by another hand, one for one.
fn paired(inputs: &[Input], against: &Path, from: &Dialect, to: &Dialect) -> Result<Vec<Query>, Usage> {
    let [input] = inputs else { return Err(Usage::new("--against takes one source file")) };
    let other = input::read_all(&[against.to_path_buf()])?;
    let ours = queries_in(&input.text, from);
    let theirs = queries_in(&other[0].text, to);
    if ours.len() != theirs.len() {
        return Err(Usage::new(format!(
            "{} has {}, {} has {}: they must be translations of each other, one for one",
            input.name,
            show::count(ours.len(), "query").replace("querys", "queries"),
            against.display(),
            show::count(theirs.len(), "query").replace("querys", "queries"),
        )));
    }
    Ok(ours
        .into_iter()
        .zip(theirs)
        .map(|((line, source), (_, target))| Query {
            file: input.name.clone(),
            line,
            source,
            target: Some(target),
            fidelity: None,
            notes: Vec::new(),
            assumptions: None,
            refused: None,
        })
        .collect())
}

fn queries_in(text: &str, dialect: &Dialect) -> Vec<(usize, String)> {
    let tokens = lex(text, dialect);
    Statements::new(text, &tokens, dialect)
        .filter(|p| match &p.tree {
            Ok(tree) => matches!(tree.kind, syntax::tree::StatementKind::Query(_)),
            Err(_) => true,
        })
        .map(|p| {
            let start = tokens[p.span.first as usize].start as usize;
            let end = tokens[(p.span.end as usize).saturating_sub(1)].end as usize;
            (text[..start].matches('\n').count() + 1, text[start..end].to_string())
        })
        .collect()
}

fn check_one(
    query: Query,
    from: &Dialect,
    engines: &mut Engines<'_>,
    data: Option<&Dataset>,
    catalog: &Catalog,
    settings: &Settings,
) -> Checked {
    let Some(target) = &query.target else {
        let reason = query.refused.clone().unwrap_or_default();
        return Checked { verdict: Verdict::without_run(VerdictKind::Refused, reason), query, guessed: false };
    };
    let facts = QueryFacts::of(&query.source, from);
    let known = facts.tables.iter().all(|t| catalog.schema.table(t).is_some());
    let guessed: Schema;
    let schema = if known {
        &catalog.schema
    } else {
        guessed = with_guesses(&catalog.schema, &guess_schema(&query.source, from));
        &guessed
    };
    // Tables that the data folder doesn't have can only be made.
    let data = data.filter(|_| known);
    let pair = Pair { source: &query.source, from, target, assumptions: query.assumptions.as_deref() };
    let verdict = check::check(pair, engines, data, schema, settings);
    Checked { query, verdict, guessed: !known }
}

fn with_guesses(known: &Schema, guesses: &Schema) -> Schema {
    let mut schema = known.clone();
    for table in &guesses.tables {
        if schema.table(&table.name).is_none() {
            schema.tables.push(table.clone());
        }
    }
    schema
}

fn ending(checked: &[Checked], fail_undetermined: bool) -> Ending {
    let any = |kind: VerdictKind| checked.iter().any(|c| c.verdict.kind == kind);
    Ending {
        engine: any(VerdictKind::Failed),
        difference: any(VerdictKind::Differ) || (fail_undetermined && any(VerdictKind::Undetermined)),
        refused: any(VerdictKind::Refused),
    }
}

// --- output ---------------------------------------------------------------------------------------

/// A verdict in its colour.
pub(crate) fn verdict_cell(kind: VerdictKind) -> Cell {
    let colour = match kind {
        VerdictKind::Agree => Color::Green,
        VerdictKind::Differ | VerdictKind::Failed => Color::Red,
        VerdictKind::Undetermined | VerdictKind::Refused => Color::Yellow,
    };
    Cell::new(kind.as_str()).fg(colour)
}

fn show_all(checked: &[Checked], source: &dyn Engine, target: &dyn Engine, took: Duration, from: &Dialect, to: &Dialect) {
    if checked.is_empty() {
        println!("no query to check");
        return;
    }
    let shared = shared_folder(checked);
    let mut table = show::table();
    table.set_header(["query", "fidelity", "verdict", "compared", "remarks"].map(show::heading));
    for one in checked {
        let verdict = &one.verdict;
        let order = if verdict.ordered { "in order" } else { "any order" };
        let compared = if verdict.databases == 0 {
            "-".to_string()
        } else {
            format!("{}, {}, {order}", show::count(verdict.rows_compared, "row"), show::count(verdict.databases, "database"))
        };
        table.add_row(vec![
            Cell::new(format!("{}:{}", &one.query.file[shared..], one.query.line)),
            Cell::new(one.query.fidelity.map_or("-", Fidelity::as_str)),
            verdict_cell(verdict.kind),
            Cell::new(compared),
            Cell::new(remarks(one)),
        ]);
    }
    println!("{table}");
    println!("source: {}   target: {}   {:.1} s", source.name(), target.name(), took.as_secs_f64());
    for one in checked {
        if let Some(example) = &one.verdict.counterexample {
            show_difference(one, example, source, target, from, to);
        }
    }
}

/// How much of the files' names is the folder that all are in: said once it is enough.
fn shared_folder(checked: &[Checked]) -> usize {
    let files: Vec<&str> = checked.iter().map(|c| c.query.file.as_str()).collect();
    let Some(first) = files.first().filter(|f| files.iter().any(|other| other != *f)) else { return 0 };
    let ends = first.match_indices('/').map(|(at, _)| at + 1).rev();
    ends.into_iter().find(|end| files.iter().all(|f| f.starts_with(&first[..*end]))).unwrap_or(0)
}

fn remarks(one: &Checked) -> String {
    let verdict = &one.verdict;
    let mut remarks = Vec::new();
    if let Some(reason) = &verdict.reason {
        remarks.push(reason.clone());
    }
    if verdict.free_choice && verdict.kind != VerdictKind::Differ {
        remarks.push("free choice: ties or a missing order leave several right results".to_string());
    }
    let assuming: Vec<&str> = assuming(one);
    if verdict.kind == VerdictKind::Agree && !assuming.is_empty() {
        remarks.push(format!("assuming {}", assuming.join(", ")));
    }
    if one.guessed && verdict.databases > 0 {
        remarks.push("tables and types guessed from the query; give --schema to be sure".to_string());
    }
    if let Some((ours, theirs)) = &verdict.labels {
        remarks.push(format!("labels: {} in the source, {} in the target", ours.join(", "), theirs.join(", ")));
    }
    remarks.join("; ")
}

fn assuming(one: &Checked) -> Vec<&str> {
    let mut codes: Vec<&str> = one.query.notes.iter().filter(|(_, f, _)| *f == Fidelity::Assumes).map(|(c, ..)| *c).collect();
    codes.dedup();
    codes
}

fn show_difference(one: &Checked, example: &Counterexample, source: &dyn Engine, target: &dyn Engine, from: &Dialect, to: &Dialect) {
    println!("\n{}:{} differs: {}", one.query.file, one.query.line, one.verdict.reason.as_deref().unwrap_or(""));
    println!("\non this data ({from}):");
    print!("{}", data_sql(example, from));
    println!("\nthe source, on {}:\n{}", source.name(), one.query.source.trim());
    show_attempt(&example.source);
    println!("\nthe target, on {} ({to}):\n{}", target.name(), one.query.target.as_deref().unwrap_or("").trim());
    show_attempt(&example.target);
}

/// The tables as statements that can be run.
fn data_sql(example: &Counterexample, dialect: &Dialect) -> String {
    let mut out = String::new();
    for (table, rows) in &example.tables {
        out.push_str(&Catalog::create_sql(table, dialect));
        out.push_str(";\n");
        for row in rows {
            let values: Vec<String> = row.iter().map(|v| literal_sql(v, dialect)).collect();
            out.push_str(&format!("INSERT INTO {} VALUES ({});\n", Catalog::name_sql(&table.name, dialect), values.join(", ")));
        }
    }
    out
}

fn show_attempt(attempt: &Result<ResultSet, EngineError>) {
    match attempt {
        Ok(result) if result.rows.is_empty() => println!("gives no rows"),
        Ok(result) => println!("{}", show::rows(result, 20, true)),
        Err(error) => println!("fails: {error}"),
    }
}

fn attempt_json(attempt: &Result<ResultSet, EngineError>) -> Json {
    match attempt {
        Ok(result) => {
            json!({ "columns": result.columns, "rows": result.rows.iter().map(|r| r.iter().map(values::Value::to_json).collect::<Vec<_>>()).collect::<Vec<_>>() })
        }
        Err(error) => json!({ "error": error.to_string() }),
    }
}

fn query_json(one: &Checked, source: &dyn Engine, target: &dyn Engine, settings: &Settings) -> Json {
    let verdict = &one.verdict;
    let example = verdict
        .counterexample
        .as_ref()
        .map(|e| json!({ "data": data_sql(e, source.dialect()), "source": attempt_json(&e.source), "target": attempt_json(&e.target) }));
    let notes: Vec<Json> = one
        .query
        .notes
        .iter()
        .map(|(code, fidelity, message)| json!({ "code": code, "fidelity": fidelity.as_str(), "message": message, "example": null }))
        .collect();
    json!({
        "id": format!("{}:{}", one.query.file, one.query.line), "file": one.query.file, "line": one.query.line,
        "verdict": verdict.kind.as_str(), "assuming": assuming(one),
        "source_engine": source.name(), "target_engine": target.name(),
        "seed": settings.seed, "trials": verdict.databases, "rows_compared": verdict.rows_compared, "ordered": verdict.ordered,
        "free_choice": verdict.free_choice, "fidelity": one.query.fidelity.map(Fidelity::as_str), "notes": notes,
        "reason": verdict.reason, "part": null, "guessed_schema": one.guessed,
        "source": one.query.source, "target": one.query.target, "counterexample": example,
    })
}
