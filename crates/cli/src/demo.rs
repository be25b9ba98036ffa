//! `demo`: the Tarn & Weir Navigation, translated and checked without any server.

use std::path::Path;
use std::time::Instant;

use check::{Assumption, Engines, Pair, Settings, Verdict, VerdictKind};
use comfy_table::Cell;
use engines::{Address, Dataset, open};
use include_dir::{Dir, include_dir};
use meaning::Catalog;
use syntax::{Dialect, DialectName};
use translate::{Options, Translated, translate_text};

use crate::arguments::DemoArguments;
use crate::check::{is_checked, progress, verdict_cell, with_variables};
use crate::{Done, Ending, Usage, show};

static FILES: Dir<'_> = include_dir!("$CARGO_MANIFEST_DIR/../../demo");

const TARGETS: [DialectName; 3] = [DialectName::Postgres, DialectName::Sqlite, DialectName::Mysql];

/// A query of the demo, in its own dialect.
struct DemoQuery {
    from: Dialect,
    file: String,
    text: String,
}

pub(crate) fn command(arguments: &DemoArguments) -> Done {
    let folder = &arguments.folder;
    copy_demo(folder)?;
    let queries = demo_queries()?;
    println!("The Tarn & Weir Navigation runs ferries and barges on inland waterways, and moves its queries.");
    println!("{} queries of four dialects, each translated to three more; both sides run and compared:\n", queries.len());
    let started = Instant::now();
    let bar = progress(queries.len());
    let mut table = show::table();
    let mut heading = vec!["query".to_string(), "from".to_string()];
    heading.extend(TARGETS.iter().map(|t| format!("to {t}")));
    table.set_header(heading.iter().map(|h| show::heading(h)));
    let mut tally = Tally::default();
    for query in &queries {
        bar.inc(1);
        let mut row = vec![Cell::new(&query.file), Cell::new(query.from.name)];
        for target in TARGETS {
            row.push(check_to(query, target, folder, &mut tally)?);
        }
        table.add_row(row);
    }
    bar.finish_and_clear();
    println!("{table}");
    tally.show(started);
    println!("{}", advice(folder));
    Ok(tally.ending)
}

#[derive(Default)]
struct Tally {
    checks: usize,
    agree: usize,
    rows: usize,
    databases: usize,
    ending: Ending,
    other: Vec<String>,
}

impl Tally {
    fn add(&mut self, verdict: &Verdict, what: &str) {
        self.checks += 1;
        self.rows += verdict.rows_compared;
        self.databases += verdict.databases;
        match verdict.kind {
            VerdictKind::Agree => self.agree += 1,
            VerdictKind::Differ => self.ending.difference = true,
            VerdictKind::Failed => self.ending.engine = true,
            VerdictKind::Refused => self.ending.refused = true,
            VerdictKind::Undetermined => {}
        }
        if verdict.kind != VerdictKind::Agree {
            self.other.push(format!("{what}: {}: {}", verdict.kind.as_str(), verdict.reason.as_deref().unwrap_or("")));
        }
    }

    fn show(&self, started: Instant) {
        println!(
            "{} of {} checks agree: {} rows compared on {} databases, {:.1} s.",
            self.agree,
            self.checks,
            self.rows,
            self.databases,
            started.elapsed().as_secs_f64()
        );
        for line in &self.other {
            println!("  {line}");
        }
    }
}

/// The demo as a folder to play in: each dialect's data folder gets its schema and the common rows.
fn copy_demo(folder: &Path) -> Result<(), Usage> {
    let write = |path: &Path, contents: &[u8]| {
        let failed = |e: std::io::Error| Usage::new(format!("{}: {e}", path.display()));
        if let Some(parent) = path.parent() {
            std::fs::create_dir_all(parent).map_err(failed)?;
        }
        std::fs::write(path, contents).map_err(failed)
    };
    for query in FILES.get_dir("queries").into_iter().flat_map(Dir::dirs).flat_map(Dir::files) {
        write(&folder.join(query.path()), query.contents())?;
    }
    for schema in FILES.get_dir("schema").into_iter().flat_map(Dir::files) {
        let dialect = schema.path().file_stem().unwrap_or_default();
        let data = folder.join("data").join(dialect);
        write(&data.join("schema.sql"), schema.contents())?;
        for rows in FILES.get_dir("rows").into_iter().flat_map(Dir::files) {
            write(&data.join(rows.path().file_name().unwrap_or_default()), rows.contents())?;
        }
    }
    Ok(())
}

/// The files under `queries/DIALECT/`.
fn demo_queries() -> Result<Vec<DemoQuery>, Usage> {
    let mut queries = Vec::new();
    for folder in FILES.get_dir("queries").into_iter().flat_map(Dir::dirs) {
        let name = folder.path().file_name().map(|n| n.to_string_lossy().to_string()).unwrap_or_default();
        let from: Dialect = name.parse().map_err(|e: syntax::DialectError| Usage::new(e.to_string()))?;
        let mut files: Vec<_> = folder.files().collect();
        files.sort_by_key(|f| f.path());
        for file in files {
            let text = file.contents_utf8().unwrap_or("").to_string();
            queries.push(DemoQuery {
                from: from.clone(),
                file: file.path().strip_prefix("queries").unwrap_or(file.path()).display().to_string(),
                text,
            });
        }
    }
    queries.sort_by(|a, b| a.file.cmp(&b.file));
    Ok(queries)
}

/// Translates and checks one file to one target; a query in the target's own dialect needs none.
fn check_to(query: &DemoQuery, target: DialectName, folder: &Path, tally: &mut Tally) -> Result<Cell, Usage> {
    if query.from.name == target {
        return Ok(Cell::new("-"));
    }
    let to = Dialect::newest(target);
    let (catalog, data) = demo_data(folder, &query.from)?;
    let script = translate_text(&query.text, &query.from, &to, &catalog, &Options::default());
    write_translation(folder, &to, query, &script.text)?;
    let engine = |dialect: &Dialect| open(&Address::default_for(dialect)).map_err(|e| Usage::new(e.to_string()));
    let (mut source, mut other) = (engine(&query.from)?, engine(&to)?);
    let mut worst: Option<Verdict> = None;
    for statement in script.statements.iter().filter(|s| is_checked(s)) {
        let what = format!("{}:{} to {to}", query.file, statement.line);
        let mut engines = Engines { source: &mut *source, target: &mut *other };
        let source = with_variables(statement, &script, &query.text);
        let verdict = check_statement(statement, &source, (&query.from, &to), &mut engines, &data, &catalog);
        tally.add(&verdict, &what);
        let weight = |k: VerdictKind| match k {
            VerdictKind::Agree => 0,
            VerdictKind::Undetermined => 1,
            VerdictKind::Refused => 2,
            VerdictKind::Failed => 3,
            VerdictKind::Differ => 4,
        };
        if worst.as_ref().is_none_or(|w| weight(verdict.kind) > weight(w.kind)) {
            worst = Some(verdict);
        }
    }
    Ok(worst.as_ref().map_or_else(|| Cell::new("-"), verdict_cell))
}

fn check_statement(
    statement: &Translated,
    source: &str,
    (from, to): (&Dialect, &Dialect),
    engines: &mut Engines<'_>,
    data: &Dataset,
    catalog: &Catalog,
) -> Verdict {
    let Some(sql) = &statement.sql else {
        let reason = statement.notes.iter().map(|n| n.note.message.as_ref()).next_back().unwrap_or("");
        return Verdict::without_run(VerdictKind::Refused, reason);
    };
    let assumptions = Assumption::of(statement, source.len() - (statement.place.end - statement.place.start));
    let pair = Pair { source, from, target: sql, to, assumptions: Some(&assumptions) };
    let settings = Settings { trials: 20, ..Settings::default() };
    check::check(pair, engines, Some(data), &catalog.schema, &settings)
}

fn write_translation(folder: &Path, to: &Dialect, query: &DemoQuery, text: &str) -> Result<(), Usage> {
    let path = folder.join("translated").join(to.name.as_str()).join(&query.file);
    let failed = |e: std::io::Error| Usage::new(format!("{}: {e}", path.display()));
    if let Some(parent) = path.parent() {
        std::fs::create_dir_all(parent).map_err(failed)?;
    }
    std::fs::write(&path, text).map_err(failed)
}

/// The rows with the schema of a query's own dialect.
fn demo_data(folder: &Path, dialect: &Dialect) -> Result<(Catalog, Dataset), Usage> {
    let data = folder.join("data").join(dialect.name.as_str());
    Dataset::read(&data, dialect).map_err(|e| Usage::new(e.to_string()))
}

fn advice(folder: &Path) -> String {
    let folder = folder.display();
    format!(
        "\nThe queries, the rows and the translations are in {folder}/. Three things to try there:

  cd {folder}
  inland-ferry translate queries/oracle -f oracle -t sqlserver -s data/oracle/schema.sql -o new/
  inland-ferry check queries/sqlserver -f sqlserver -t duckdb --data data/sqlserver
  inland-ferry run queries/oracle/numbered.sql --on standin:oracle --data data/oracle"
    )
}
