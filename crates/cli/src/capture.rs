//! `capture`.

use std::io::Write;
use std::path::Path;

use comfy_table::{Cell, CellAlignment};
use engines::{CaptureOptions, Captured, capture, write_csv};
use values::{Row, Table};

use crate::arguments::CaptureArguments;
use crate::connect::{address, connect};
use crate::{Done, Ending, Usage, show};

pub(crate) fn command(arguments: &CaptureArguments) -> Done {
    let folder = &arguments.output;
    let schema = folder.join("schema.sql");
    if schema.exists() {
        return Err(Usage::new(format!("{} is there already; name another folder, or remove it first", schema.display())));
    }
    let address = address(Some(&arguments.url), &syntax::DialectName::Sqlite.into())?;
    let failed = Ending { engine: true, ..Ending::default() };
    let Some(mut engine) = connect(&address, &arguments.access) else { return Ok(failed) };
    let options = CaptureOptions { patterns: arguments.tables.clone(), rows: arguments.rows };
    let captured = match capture(&mut *engine, &options) {
        Ok(captured) => captured,
        Err(error) => {
            show::error(&format!("{}: {error}", engine.name()));
            return Ok(failed);
        }
    };
    if captured.tables.is_empty() && captured.views == 0 && captured.functions == 0 {
        let what = if arguments.tables.is_empty() { String::new() } else { format!(" called {}", arguments.tables.join(" or ")) };
        show::error(&format!("{}: there is no table{what}; another schema is named as in --tables 'schema.*'", engine.name()));
        return Ok(failed);
    }
    let dialect = engine.dialect().clone();
    let unwritable = |e: std::io::Error| Usage::new(format!("{}: {e}", folder.display()));
    std::fs::create_dir_all(folder).map_err(unwritable)?;
    let head = format!("-- Captured from {}, in {dialect}.\n\n", engine.name());
    std::fs::write(&schema, head + &captured.ddl).map_err(unwritable)?;
    if arguments.rows > 0 {
        for (table, rows) in &captured.tables {
            write_rows(folder, table, rows).map_err(unwritable)?;
        }
    }
    tell(&captured, arguments);
    Ok(Ending::default())
}

fn write_rows(folder: &Path, table: &Table, rows: &[Row]) -> std::io::Result<()> {
    let file = std::fs::File::create(folder.join(format!("{}.csv", table.name.to_lowercase())))?;
    let mut out = std::io::BufWriter::new(file);
    write_csv(&mut out, table, rows)?;
    out.flush()
}

fn tell(captured: &Captured, arguments: &CaptureArguments) {
    let mut table = show::table();
    table.set_header(["table", "columns", "key", "refers to", "rows"].map(show::heading));
    let number = |n: usize| Cell::new(n).set_alignment(CellAlignment::Right);
    for (one, rows) in &captured.tables {
        let refers: Vec<&str> = one.foreign_keys.iter().map(|k| k.table.as_str()).collect();
        table.add_row(vec![
            Cell::new(&one.name),
            number(one.columns.len()),
            Cell::new(one.primary_key.join(", ")),
            Cell::new(refers.join(", ")),
            number(rows.len()),
        ]);
    }
    println!("{table}");
    let mut parts = vec![show::count(captured.tables.len(), "table")];
    parts.push(show::count(captured.views, "view"));
    parts.push(show::count(captured.functions, "function"));
    println!("{} written to {}", parts.join(", "), arguments.output.join("schema.sql").display());
    captured.remarks.iter().for_each(|r| eprintln!("not captured: {r}"));
    if arguments.rows == 0 {
        println!("{}", show::faint("without rows; --rows 100 samples a hundred of each table, with those they refer to"));
    }
}
