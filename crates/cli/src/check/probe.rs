//! `check --probe`: whether what the translations assume holds on the source's own data.

use std::time::{Duration, Instant};

use comfy_table::{Cell, Color};
use engines::Engine;
use serde_json::{Value as Json, json};
use translate::Probe;
use values::{ResultSet, Value};

use super::Checked;
use crate::show;

/// Rows shown of those that break an assumption.
const SHOWN: usize = 5;

/// What came of one probe.
pub(super) struct Probed {
    query: String,
    code: &'static str,
    took: Duration,
    /// How many rows break the assumption, and some of them; else why it can't be found out.
    broken: Result<(i64, ResultSet), String>,
}

/// Runs the probe of every note that has one; the same probe once.
pub(super) fn run(checked: &[Checked], source: &mut dyn Engine) -> Vec<Probed> {
    let mut asked: Vec<&str> = Vec::new();
    let mut all = Vec::new();
    for one in checked {
        for note in one.query.translation.iter().flat_map(|t| &t.notes) {
            let Some(probe) = &note.probe else { continue };
            if asked.contains(&probe.count.as_str()) {
                continue;
            }
            asked.push(&probe.count);
            let started = Instant::now();
            let broken = ask(probe, source);
            all.push(Probed { query: one.query.id(), code: note.code, took: started.elapsed(), broken });
        }
    }
    all
}

fn ask(probe: &Probe, source: &mut dyn Engine) -> Result<(i64, ResultSet), String> {
    let counted = source.query(&probe.count, 1).map_err(|e| e.to_string())?;
    let count = match counted.rows.first().and_then(|r| r.first()) {
        Some(Value::Integer(n)) => *n,
        Some(other) => other.to_string().parse().map_err(|_| format!("the count is {other}"))?,
        None => 0,
    };
    // The count is shown where the rows can't be.
    let sample = if count > 0 { source.query(&probe.sample, SHOWN).unwrap_or_default() } else { ResultSet::default() };
    Ok((count, sample))
}

pub(super) fn show(probed: &[Probed], source: &dyn Engine) {
    if probed.is_empty() {
        println!("\nno assumption of these translations can be probed");
        return;
    }
    println!("\nassumptions, asked of the data on {}:", source.name());
    let mut table = show::table();
    table.set_header(["query", "assumption", "on this data", "took"].map(show::heading));
    for one in probed {
        let found = match &one.broken {
            Ok((0, _)) => Cell::new("holds").fg(Color::Green),
            Ok((count, _)) => Cell::new(format!("broken by {}", show::count(usize::try_from(*count).unwrap_or(0), "row"))).fg(Color::Red),
            Err(why) => Cell::new(format!("can't be found out: {why}")).fg(Color::Yellow),
        };
        table.add_row(vec![Cell::new(&one.query), Cell::new(one.code), found, Cell::new(format!("{} ms", one.took.as_millis()))]);
    }
    println!("{table}");
    for one in probed {
        if let Ok((count, sample)) = &one.broken
            && !sample.rows.is_empty()
        {
            let some = if usize::try_from(*count).is_ok_and(|n| n > sample.rows.len()) { ", the first of them" } else { "" };
            println!("\n{} is broken for {} by these rows{some}:\n{}", one.code, one.query, show::rows(sample, SHOWN, true));
        }
    }
}

pub(super) fn to_json(probed: &[Probed]) -> Vec<Json> {
    let one = |p: &Probed| match &p.broken {
        Ok((count, _)) => json!({ "query": p.query, "code": p.code, "broken_by": count, "milliseconds": p.took.as_millis() as u64 }),
        Err(why) => json!({ "query": p.query, "code": p.code, "broken_by": null, "reason": why }),
    };
    probed.iter().map(one).collect()
}
