//! `check --keep`: counterexamples as files.

use std::path::Path;

use check::Counterexample;
use engines::write_csv;
use meaning::Catalog;

use super::output::data_sql;
use super::{Checked, Sides};
use crate::Usage;

/// A folder for each query that differs: its data as `--data` takes it, and for each side a file that
/// makes the tables and runs the query.
pub(super) fn keep(checked: &[Checked], folder: &Path, sides: &Sides<'_>) -> Result<(), Usage> {
    for one in checked {
        let Some(example) = &one.verdict.counterexample else { continue };
        let name = one.query.id().replace(|c: char| !c.is_ascii_alphanumeric() && c != '.', "-");
        keep_one(one, example, &folder.join(name.trim_matches('-')), sides)?;
    }
    Ok(())
}

fn keep_one(one: &Checked, example: &Counterexample, folder: &Path, sides: &Sides<'_>) -> Result<(), Usage> {
    let failed = |e: std::io::Error| Usage::new(format!("{}: {e}", folder.display()));
    let write = |name: String, bytes: Vec<u8>| std::fs::write(folder.join(name), bytes).map_err(failed);
    std::fs::create_dir_all(folder.join("data")).map_err(failed)?;
    let schema: String = example.tables.iter().map(|(table, _)| Catalog::create_sql(table, sides.from) + ";\n").collect();
    write("data/schema.sql".to_string(), schema.into_bytes())?;
    for (table, rows) in &example.tables {
        let mut csv = Vec::new();
        write_csv(&mut csv, table, rows).map_err(failed)?;
        write(format!("data/{}.csv", table.name.to_lowercase()), csv)?;
    }
    let why = one.verdict.reason.as_deref().unwrap_or_default().replace('\n', " ");
    for (side, dialect, sql) in [("source", sides.from, Some(&one.query.source)), ("target", sides.to, one.query.target.as_ref())] {
        let text = format!("-- {}: {why}\n{}\n{};\n", one.query.id(), data_sql(&example.tables, dialect), sql.map_or("", |s| s.trim()));
        write(format!("{side}.{}.sql", dialect.name), text.into_bytes())?;
    }
    Ok(())
}
