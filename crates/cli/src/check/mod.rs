//! `check`.

mod json;
mod keep;
mod output;
mod probe;
mod query;
mod suspect;

use std::path::Path;
use std::rc::Rc;
use std::time::{Duration, Instant};

use check::{Bind, Engines, Pair, QueryFacts, Settings, Verdict, VerdictKind, infer_schemas};
use engines::{Dataset, Engine};
use indicatif::{ProgressBar, ProgressStyle};
use meaning::{Catalog, Fidelity};
use serde_json::{Value as Json, json};
use syntax::{Dialect, DialectName};
use values::{Schema, Table};

use crate::arguments::CheckArguments;
use crate::connect::{address, connect};
use crate::input::{self, Input};
use crate::{Done, Ending, Usage, show};
pub(crate) use output::verdict_cell;
use query::Query;
pub(crate) use query::{is_checked, with_variables};

/// A query and what was found.
struct Checked {
    query: Query,
    verdict: Verdict,
    /// Tables that no schema tells of.
    guessed: Vec<Table>,
    /// What of our own translation a difference comes from.
    suspects: Vec<String>,
}

/// Settings of an engine by name.
type EngineSettings = Vec<(&'static str, String)>;

/// The two engines, as output tells of them.
struct Sides<'a> {
    source: &'a dyn Engine,
    target: &'a dyn Engine,
    /// What of their sessions bears on results.
    settings: [EngineSettings; 2],
    from: &'a Dialect,
    to: &'a Dialect,
}

pub(crate) fn command(arguments: &CheckArguments) -> Done {
    if arguments.probe && arguments.data.is_none() && !arguments.in_place {
        return Err(Usage::new("--probe asks the source's own data: give it with --data, or --in-place with --source"));
    }
    let inputs: Vec<Rc<Input>> = input::read_all(&arguments.queries.paths)?.into_iter().map(Rc::new).collect();
    let source = address(arguments.source.as_deref(), &arguments.queries.from)?;
    let target = address(arguments.target.as_deref(), &arguments.to)?;
    let opened = (connect(&source, &arguments.access), connect(&target, &arguments.access));
    let (Some(mut source), Some(mut target)) = opened else {
        return Ok(Ending { engine: true, ..Ending::default() });
    };
    for (side, asked, engine) in [("--source", &arguments.queries.from, &*source), ("--target", &arguments.to, &*target)] {
        fits(side, asked, engine)?;
    }
    let (from, to) = (&as_it_runs(&arguments.queries.from, &*source), &as_it_runs(&arguments.to, &*target));
    let mut catalog = input::catalog(&arguments.queries, from)?;
    // The tables in place are what the source's own catalog says.
    if arguments.in_place && arguments.queries.schema.is_none() {
        match input::catalog_of(&mut *source) {
            Ok(live) => catalog.schema.tables.extend(live.schema.tables),
            Err(error) => show::error(&format!("the source's catalog can't be read: {error}; types are guessed")),
        }
    }
    let (data, left_out) = match &arguments.data {
        Some(folder) => {
            let (data, left_out) = read_data(folder, from, &mut catalog)?;
            left_out.iter().for_each(|(_, why)| show::error(&format!("{why}; queries that use this table are not checked")));
            (Some(data), left_out)
        }
        None => (None, Vec::new()),
    };
    let queries = match &arguments.against {
        Some(path) => query::paired(&inputs, path, from, to)?,
        None => query::translated(&inputs, arguments, from, to, &catalog),
    };
    let settings = Settings {
        trials: if arguments.in_place { 0 } else { arguments.trials },
        seed: arguments.seed,
        max_rows: arguments.max_rows,
        row_cap: arguments.row_cap,
        compare_labels: arguments.compare_labels,
        in_place: arguments.in_place,
        binds: binds(arguments)?,
        until_reached: arguments.until_reached,
        ..Settings::default()
    };
    let started = Instant::now();
    let progress = progress(queries.len());
    let mut checked = Vec::new();
    for query in queries {
        progress.inc(1);
        let mut engines = Engines { source: &mut *source, target: &mut *target };
        let mut one = match unusable(&query, from, &left_out) {
            Some(why) => without_run(query, VerdictKind::Failed, why),
            None => check_one(query, (from, to), &mut engines, data.as_ref(), &catalog, &settings),
        };
        one.suspects = suspect::suspects(&one, (from, to), &catalog, &crate::translate::options(&arguments.queries));
        checked.push(one);
    }
    progress.finish_and_clear();
    let probed = match (arguments.probe, &data) {
        (false, _) => None,
        (true, Some(data)) => {
            source.load(&data.tables).map_err(|e| Usage::new(e.to_string())).map(|()| Some(probe::run(&checked, &mut *source)))?
        }
        (true, None) => Some(probe::run(&checked, &mut *source)),
    };
    let of_engines = [source.settings(), target.settings()];
    let sides = Sides { source: &*source, target: &*target, settings: of_engines, from, to };
    if let Some(folder) = &arguments.keep {
        keep::keep(&checked, folder, &sides)?;
    }
    if arguments.queries.json {
        let queries: Vec<Json> = checked.iter().map(|c| json::query(c, &sides, &settings)).collect();
        let mut all = json!({ "version": 1, "queries": queries });
        if let Some(probed) = &probed {
            all["probes"] = probe::to_json(probed).into();
        }
        println!("{all:#}");
    } else {
        output::show(&checked, &sides, started.elapsed());
        if let Some(probed) = &probed {
            probe::show(probed, &*source);
        }
    }
    Ok(ending(&checked, arguments))
}

/// The values of parameters: those of the file, then those on the command line, which win.
fn binds(arguments: &CheckArguments) -> Result<Vec<Bind>, Usage> {
    let wrong = |given: &str| Usage::new(format!("'{given}' is no value of a parameter: write NAME=VALUE"));
    let one = |given: &str| -> Result<Bind, Usage> {
        let (name, value) = given.split_once('=').ok_or_else(|| wrong(given))?;
        let name = check::bare_name(name.trim());
        if name.is_empty() { Err(wrong(given)) } else { Ok((name.to_string(), check::read_bind(value))) }
    };
    let mut all: Vec<Bind> = arguments.bind.iter().map(|given| one(given)).collect::<Result<_, _>>()?;
    if let Some(path) = &arguments.binds {
        let text = std::fs::read_to_string(path).map_err(|e| Usage::new(format!("{}: {e}", path.display())))?;
        for (number, line) in text.lines().enumerate().filter(|(_, l)| !l.trim().is_empty() && !l.trim_start().starts_with("--")) {
            all.push(one(line).map_err(|e| Usage::new(format!("{}:{}: {}", path.display(), number + 1, e.0)))?);
        }
    }
    Ok(all)
}

pub(crate) fn read_data(folder: &Path, from: &Dialect, catalog: &mut Catalog) -> Result<(Dataset, LeftOut), Usage> {
    let (schema, data, left_out) = Dataset::read_sound(folder, from).map_err(|e| Usage::new(e.to_string()))?;
    // What --schema and --assume said first stays.
    for table in schema.schema.tables {
        if catalog.schema.table(&table.name).is_none() {
            catalog.schema.tables.push(table);
        }
    }
    Ok((data, left_out.into_iter().map(|(table, error)| (table, error.to_string())).collect()))
}

/// Tables whose rows can't be used, and why.
type LeftOut = Vec<(String, String)>;

/// A bar on standard error, after a second.
pub(crate) fn progress(length: usize) -> ProgressBar {
    let bar = ProgressBar::new(length as u64);
    if let Ok(style) = ProgressStyle::with_template("{bar:30} {pos} of {len} queries, {elapsed}") {
        bar.set_style(style);
    }
    bar.enable_steady_tick(Duration::from_secs(1));
    bar
}

/// An engine of another dialect than the query's fails on it, or worse, doesn't.
fn fits(side: &str, asked: &Dialect, engine: &dyn Engine) -> Result<(), Usage> {
    let running = engine.dialect().name;
    // MySQL's queries are run on MariaDB, and the other way round, to see what becomes of them there.
    let kin = [DialectName::Mysql, DialectName::Mariadb];
    if running == asked.name || (kin.contains(&running) && kin.contains(&asked.name)) {
        return Ok(());
    }
    let (asked, reported) = (asked.name, running.title());
    Err(Usage::new(format!("{side} is {reported}, and the query there is of {}: give an engine of that dialect", asked.title())))
}

/// The dialect at the version its engine runs, unless a version was asked for.
fn as_it_runs(asked: &Dialect, engine: &dyn Engine) -> Dialect {
    let running = engine.dialect();
    if asked.version_given || asked.name != running.name {
        return asked.clone();
    }
    Dialect { version: running.version, ..asked.clone() }
}

/// Why a query can't be checked: a table it uses has rows that can't be used.
fn unusable(query: &Query, from: &Dialect, left_out: &LeftOut) -> Option<String> {
    let used = QueryFacts::of(&query.source, from).tables;
    let (_, why) = left_out.iter().find(|(table, _)| used.iter().any(|u| u.eq_ignore_ascii_case(table)))?;
    Some(why.clone())
}

fn without_run(query: Query, kind: VerdictKind, why: String) -> Checked {
    Checked { verdict: Verdict::without_run(kind, why), query, guessed: Vec::new(), suspects: Vec::new() }
}

fn check_one(
    query: Query,
    (from, to): (&Dialect, &Dialect),
    engines: &mut Engines<'_>,
    data: Option<&Dataset>,
    catalog: &Catalog,
    settings: &Settings,
) -> Checked {
    let Some(target) = &query.target else {
        let reason = query.translation.as_ref().and_then(|t| t.refused.clone()).unwrap_or_default();
        return without_run(query, VerdictKind::Refused, reason);
    };
    let facts = QueryFacts::of(&query.source, from);
    let known = facts.tables.iter().all(|t| catalog.schema.table(t).is_some());
    let pair = Pair { source: &query.source, from, target, to, assumptions: query.translation.as_ref().map(|t| t.assumptions.as_slice()) };
    if known {
        let verdict = check::check(pair, engines, data, &catalog.schema, settings);
        return Checked { query, verdict, guessed: Vec::new(), suspects: Vec::new() };
    }
    let (verdict, guessed) = check_guessed(&query, pair, engines, catalog, settings);
    Checked { query, verdict, guessed, suspects: Vec::new() }
}

/// A check of a query over tables that aren't known, which can only be made. The likely types come first; of
/// others a difference counts, or that the query runs at all.
fn check_guessed(
    query: &Query,
    pair: Pair<'_>,
    engines: &mut Engines<'_>,
    catalog: &Catalog,
    settings: &Settings,
) -> (Verdict, Vec<Table>) {
    // A translation that assumes something of types is right for some of them only.
    let claims_all = settings.trials > 0 && query.translation.as_ref().is_none_or(|t| t.fidelity == Fidelity::Exact);
    let mut best = (Verdict::without_run(VerdictKind::Failed, "no table is known"), Vec::new());
    for mut guess in infer_schemas(&query.source, pair.from) {
        guess.tables.retain(|t| catalog.schema.table(&t.name).is_none());
        let all = Schema { tables: catalog.schema.tables.iter().chain(&guess.tables).cloned().collect() };
        let verdict = check::check(pair, engines, None, &all, settings);
        let found_none = best.1.is_empty();
        let runs_at_last = best.0.kind == VerdictKind::Failed && verdict.kind != VerdictKind::Failed;
        if found_none || runs_at_last || verdict.kind == VerdictKind::Differ {
            best = (verdict, guess.tables);
        }
        let goes_on = best.0.kind == VerdictKind::Failed || (best.0.kind == VerdictKind::Agree && claims_all);
        if !goes_on {
            break;
        }
    }
    best
}

fn ending(checked: &[Checked], arguments: &CheckArguments) -> Ending {
    let any = |kind: VerdictKind| checked.iter().any(|c| c.verdict.kind == kind);
    Ending {
        engine: any(VerdictKind::Failed),
        difference: any(VerdictKind::Differ)
            || (arguments.fail_undetermined && any(VerdictKind::Undetermined))
            || (arguments.strict_reach && checked.iter().any(|c| c.verdict.is_weak())),
        refused: any(VerdictKind::Refused),
    }
}
