//! What `check` shows on a terminal.

use std::time::Duration;

use check::{Bind, Counterexample, Example, Verdict, VerdictKind};
use comfy_table::{Cell, Color};
use engines::{EngineError, literal_sql};
use meaning::Catalog;
use syntax::Dialect;
use values::{ResultSet, Row, Table, Value};

use super::{Checked, Sides};
use crate::diagnose::{Finding, Kind, Lines, render};
use crate::show;

/// A verdict in its colour.
pub(crate) fn verdict_cell(verdict: &Verdict) -> Cell {
    let colour = match verdict.kind {
        VerdictKind::Agree if verdict.is_weak() => Color::Yellow,
        VerdictKind::Agree => Color::Green,
        VerdictKind::Differ | VerdictKind::Failed => Color::Red,
        VerdictKind::Undetermined | VerdictKind::Refused => Color::Yellow,
    };
    Cell::new(verdict.word()).fg(colour)
}

/// The table of verdicts, then what there is to tell of each query.
pub(super) fn show(checked: &[Checked], sides: &Sides<'_>, took: Duration) {
    if checked.is_empty() {
        println!("no statement found");
        return;
    }
    let shared = shared_folder(checked);
    let mut table = show::table();
    table.set_header(["query", "fidelity", "verdict", "compared", "reached", "remarks"].map(show::heading));
    for one in checked {
        table.add_row(vec![
            Cell::new(&one.query.id()[shared..]),
            Cell::new(one.query.translation.as_ref().map_or("-", |t| t.fidelity.as_str())),
            verdict_cell(&one.verdict),
            Cell::new(compared(one)),
            Cell::new(reached(one)),
            Cell::new(remarks(one)),
        ]);
    }
    println!("{table}");
    if checked.len() > 1 {
        println!("{}", totals(checked));
    }
    println!("source: {}   target: {}   {:.1} s", sides.source.name(), sides.target.name(), took.as_secs_f64());
    for (side, settings) in ["source", "target"].into_iter().zip(&sides.settings) {
        if !settings.is_empty() {
            let reported: Vec<String> = settings.iter().map(|(name, value)| format!("{name} {value}")).collect();
            println!("{}", show::faint(&format!("the {side}'s session: {}", reported.join(", "))));
        }
    }
    show_guesses(checked);
    for one in checked {
        if let Some(example) = &one.verdict.counterexample {
            show_difference(one, example, sides);
        }
    }
    show_not_reached(checked, shared);
    show_examples(checked, sides, shared);
}

/// How many queries came to each verdict: `31 agree, 2 agree (weak), 1 differ`.
fn totals(checked: &[Checked]) -> String {
    let words = ["differ", "failed", "refused", "undetermined", "agree (weak)", "agree"];
    let counted = words.map(|word| (checked.iter().filter(|c| c.verdict.word() == word).count(), word));
    let shown: Vec<String> = counted.into_iter().filter(|(n, _)| *n > 0).map(|(n, word)| format!("{n} {word}")).collect();
    format!("{}: {}", show::count(checked.len(), "query"), shown.join(", "))
}

/// How much of the files' names is the folder that all are in: said once it is enough.
fn shared_folder(checked: &[Checked]) -> usize {
    let files: Vec<&str> = checked.iter().map(|c| c.query.input.name.as_str()).collect();
    let Some(first) = files.first().filter(|f| files.iter().any(|other| other != *f)) else { return 0 };
    let ends = first.match_indices('/').map(|(at, _)| at + 1).rev();
    ends.into_iter().find(|end| files.iter().all(|f| f.starts_with(&first[..*end]))).unwrap_or(0)
}

fn compared(one: &Checked) -> String {
    let verdict = &one.verdict;
    if verdict.databases == 0 {
        return "-".to_string();
    }
    let order = match (verdict.changes, verdict.ordered) {
        (true, _) => "tables afterwards",
        (false, true) => "in order",
        (false, false) => "any order",
    };
    format!("{}, {}, {order}", show::count(verdict.rows_compared, "row"), show::count(verdict.databases, "database"))
}

fn reached(one: &Checked) -> String {
    let verdict = &one.verdict;
    if verdict.cases.is_empty() || verdict.databases == 0 {
        return "-".to_string();
    }
    format!("{} of {}", verdict.reached(), verdict.cases.len())
}

fn remarks(one: &Checked) -> String {
    let verdict = &one.verdict;
    let mut remarks = Vec::new();
    if !verdict.breaks.is_empty() {
        remarks.push(format!("your data breaks what the translation assumes ({})", verdict.breaks.join(", ")));
    }
    if let Some(reason) = &verdict.reason {
        remarks.push(reason.clone());
    }
    if verdict.free_choice && verdict.kind != VerdictKind::Differ {
        remarks.push("free choice: ties or a missing order leave several right results".to_string());
    }
    if verdict.kind == VerdictKind::Agree && !verdict.assuming.is_empty() {
        remarks.push(format!("assuming {}", verdict.assuming.join(", ")));
    }
    if verdict.lost > 0 {
        remarks.push(format!("the source fails on {} more", show::count(verdict.lost, "made database")));
    }
    if verdict.is_weak() {
        remarks.push(match verdict.rows_compared {
            0 => "weak: no row was compared".to_string(),
            few if few < check::FEW_ROWS => format!("weak: only {} compared", show::count(few, "row")),
            _ => "weak: most of what could happen was not reached".to_string(),
        });
    }
    if !verdict.binds.is_empty() {
        let with = if verdict.kind == VerdictKind::Agree && verdict.binds_made { "parameters given several values, as" } else { "with" };
        remarks.push(format!("{with} {}", bound(&verdict.binds)));
    }
    if !one.guessed.is_empty() && verdict.databases > 0 {
        remarks.push(match verdict.kind {
            VerdictKind::Agree => "tables and types guessed from the query; give --schema to be sure".to_string(),
            _ => "tables and types guessed from the query: say what they are with --schema, or --assume 'table.column: type'".to_string(),
        });
    }
    if let Some((ours, theirs)) = &verdict.labels {
        remarks.push(format!("labels: {} in the source, {} in the target", ours.join(", "), theirs.join(", ")));
    }
    remarks.join("; ")
}

/// `min = 5, pattern = 'q%'`.
fn bound(binds: &[Bind]) -> String {
    let shown = |v: &Value| if let Value::Text(text) = v { format!("'{}'", show::visible(text, false)) } else { v.to_string() };
    binds.iter().map(|(name, value)| format!("{name} = {}", shown(value))).collect::<Vec<_>>().join(", ")
}

/// What was taken for a table where no schema says.
fn show_guesses(checked: &[Checked]) {
    let mut reported: Vec<String> = Vec::new();
    for table in checked.iter().flat_map(|c| &c.guessed) {
        let columns: Vec<String> = table.columns.iter().map(|c| format!("{} {}", c.name, c.data_type)).collect();
        let guess = format!("{} ({})", table.name, columns.join(", "));
        if !reported.contains(&guess) {
            reported.push(guess);
        }
    }
    if !reported.is_empty() {
        println!("{}", show::faint(&format!("guessed: {}", reported.join("; "))));
    }
}

// --- a difference ---------------------------------------------------------------------------------

fn show_difference(one: &Checked, example: &Counterexample, sides: &Sides<'_>) {
    let reason = one.verdict.reason.as_deref().unwrap_or("");
    println!("\n{}", with_place(one, reason));
    println!("\non this data, in {}:", sides.from);
    print!("{}", data_sql(&example.tables, sides.from));
    if sides.to.name != sides.from.name {
        println!("\nthe same in {}:", sides.to);
        print!("{}", data_sql(&example.tables, sides.to));
    }
    println!("\nthe source, on {}:\n{}", sides.source.name(), one.query.source.trim());
    show_attempt(&example.source, one.verdict.changes);
    println!("\nthe target, on {}:\n{}", sides.target.name(), one.query.target.as_deref().unwrap_or("").trim());
    show_attempt(&example.target, one.verdict.changes);
}

/// What differs, and under it the part of the query where that starts.
fn with_place(one: &Checked, reason: &str) -> String {
    let place = one.verdict.part.as_ref().and_then(|part| {
        let start = one.query.in_file(part.place.0 as usize)?;
        Some((start, start + (part.place.1 - part.place.0) as usize))
    });
    match place {
        None if one.suspects.is_empty() => format!("{} differs: {reason}", one.query.id()),
        None => format!("{} differs: {reason}\nmade by {}", one.query.id(), one.suspects.join(", ")),
        Some((start, end)) => render(
            &Finding {
                file: &one.query.input.name,
                source: &one.query.input.text,
                start,
                end,
                at: Lines::of(&one.query.input.text).place(start),
                kind: Kind::Starts,
                code: "",
                message: reason,
                advice: None,
                elsewhere: (!one.suspects.is_empty()).then(|| format!("made by {}", one.suspects.join(", "))),
                excerpt: true,
            },
            0,
        ),
    }
}

/// The tables as statements that can be run.
pub(super) fn data_sql(tables: &[(Table, Vec<Row>)], dialect: &Dialect) -> String {
    let mut out = String::new();
    for (table, rows) in tables {
        out.push_str(&Catalog::create_sql(table, dialect));
        out.push_str(";\n");
        for row in rows {
            let values: Vec<String> = row.iter().map(|v| literal_sql(v, dialect)).collect();
            out.push_str(&format!("INSERT INTO {} VALUES ({});\n", Catalog::name_sql(&table.name, dialect), values.join(", ")));
        }
    }
    out
}

fn show_attempt(attempt: &Result<ResultSet, EngineError>, changes: bool) {
    match attempt {
        Ok(result) if result.rows.is_empty() => println!("{} no rows", if changes { "leaves" } else { "gives" }),
        Ok(result) if changes => println!("leaves\n{}", show::rows(result, 20, true)),
        Ok(result) => println!("{}", show::rows(result, 20, true)),
        Err(error) => println!("fails: {error}"),
    }
}

// --- an agreement ---------------------------------------------------------------------------------

/// What could have happened and didn't, of queries that agree.
fn show_not_reached(checked: &[Checked], shared: usize) {
    const MOST: usize = 6;
    let mut lines = Vec::new();
    for one in checked.iter().filter(|c| c.verdict.kind == VerdictKind::Agree) {
        let missing = one.verdict.not_reached();
        if missing.is_empty() {
            continue;
        }
        let more = if missing.len() > MOST { format!("; {} more", missing.len() - MOST) } else { String::new() };
        lines.push(format!("  {}  {}{more}", &one.query.id()[shared..], missing[..missing.len().min(MOST)].join("; ")));
    }
    if !lines.is_empty() {
        println!("\nnot reached by any data:");
        lines.iter().for_each(|line| println!("{line}"));
    }
}

/// Each assumption once, with data that breaks it, and how many queries make it.
fn show_examples(checked: &[Checked], sides: &Sides<'_>, shared: usize) {
    let mut reported: Vec<&str> = Vec::new();
    for one in checked.iter().filter(|c| c.verdict.kind == VerdictKind::Agree) {
        for (code, _) in &one.verdict.examples {
            if reported.contains(code) {
                continue;
            }
            let same = |c: &&Checked| c.verdict.kind == VerdictKind::Agree && c.verdict.assuming.contains(code);
            let queries = checked.iter().filter(same).count();
            let found =
                checked.iter().filter(same).find_map(|c| Some((c, c.verdict.examples.iter().find(|(o, _)| o == code)?.1.as_ref()?)));
            reported.push(code);
            match found {
                Some((other, found)) => show_example(other, code, found, queries, sides, shared),
                None => println!("\nassuming {code}: no data was found that breaks it and makes a difference"),
            }
        }
    }
}

fn show_example(one: &Checked, code: &str, example: &Example, queries: usize, sides: &Sides<'_>, shared: usize) {
    let message = one.query.translation.iter().flat_map(|t| &t.notes).find(|n| n.code == code).map_or("", |n| n.message.as_str());
    let others = if queries > 1 {
        format!(" ({} and {} more)", &one.query.id()[shared..], queries - 1)
    } else {
        format!(" ({})", &one.query.id()[shared..])
    };
    println!("\nassuming {code}{others}{}{message}", if message.is_empty() { "" } else { ": " });
    println!("on this data, which breaks it, {}:", example.reason);
    print!("{}", data_sql(&example.counterexample.tables, sides.from));
    for (side, attempt) in [("source", &example.counterexample.source), ("target", &example.counterexample.target)] {
        println!("the {side}:");
        show_attempt(attempt, one.verdict.changes);
    }
}
