//! What `check --json` says.

use check::{Counterexample, Settings};
use engines::EngineError;
use serde_json::{Value as Json, json};
use values::ResultSet;

use super::output::data_sql;
use super::{Checked, Sides};

fn attempt(attempt: &Result<ResultSet, EngineError>) -> Json {
    match attempt {
        Ok(result) => {
            json!({ "columns": result.columns, "rows": result.rows.iter().map(|r| r.iter().map(values::Value::to_json).collect::<Vec<_>>()).collect::<Vec<_>>() })
        }
        Err(error) => json!({ "error": error.to_string() }),
    }
}

fn example(found: &Counterexample, sides: &Sides<'_>) -> Json {
    json!({
        "data": data_sql(&found.tables, sides.from), "target_data": data_sql(&found.tables, sides.to),
        "source": attempt(&found.source), "target": attempt(&found.target),
    })
}

fn engine_settings(settings: &[(&'static str, String)]) -> serde_json::Map<String, Json> {
    settings.iter().map(|(name, value)| ((*name).to_string(), value.clone().into())).collect()
}

/// One query.
pub(super) fn query(one: &Checked, sides: &Sides<'_>, settings: &Settings) -> Json {
    let verdict = &one.verdict;
    let example_of = |code: &str| {
        let found = verdict.examples.iter().find(|(other, _)| *other == code)?.1.as_ref()?;
        Some(json!({ "reason": found.reason, "example": example(&found.counterexample, sides) }))
    };
    let notes: Vec<Json> = one
        .query
        .translation
        .iter()
        .flat_map(|t| &t.notes)
        .map(|n| json!({ "code": n.code, "fidelity": n.fidelity.as_str(), "message": n.message, "example": example_of(n.code) }))
        .collect();
    let part = verdict.part.as_ref().map(|part| {
        let text = &one.query.input.text;
        let line = one.query.in_file(part.place.0 as usize).map(|at| text[..at.min(text.len())].matches('\n').count() + 1);
        json!({ "text": part.text, "line": line })
    });
    json!({
        "id": one.query.id(), "file": one.query.input.name, "line": one.query.line,
        "verdict": verdict.kind.as_str(), "weak": verdict.is_weak(), "assuming": verdict.assuming, "breaks": verdict.breaks,
        "source_engine": sides.source.name(), "target_engine": sides.target.name(),
        "source_settings": engine_settings(&sides.settings[0]), "target_settings": engine_settings(&sides.settings[1]),
        "seed": settings.seed, "trials": verdict.databases, "rows_compared": verdict.rows_compared, "ordered": verdict.ordered,
        "free_choice": verdict.free_choice,
        "reached": verdict.reached(), "edges": verdict.cases.len(), "not_reached": verdict.not_reached(),
        "fidelity": one.query.translation.as_ref().map(|t| t.fidelity.as_str()), "notes": notes,
        "binds": verdict.binds.iter().map(|(name, value)| (name.clone(), value.to_json())).collect::<serde_json::Map<_, _>>(),
        "reason": verdict.reason, "lost": verdict.lost, "part": part, "suspects": one.suspects, "guessed_schema": !one.guessed.is_empty(),
        "source": one.query.source, "target": one.query.target,
        "counterexample": verdict.counterexample.as_ref().map(|c| example(c, sides)),
    })
}
