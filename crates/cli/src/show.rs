//! Tables and values on a terminal.

use std::io::IsTerminal;

use comfy_table::{Attribute, Cell, CellAlignment, Color, ContentArrangement, Table, presets};
use values::{ResultSet, Value};

/// Whether colours are wanted on standard output.
pub(crate) fn colour_out() -> bool {
    std::io::stdout().is_terminal() && std::env::var_os("NO_COLOR").is_none()
}

/// Whether colours are wanted on standard error.
pub(crate) fn colour_err() -> bool {
    std::io::stderr().is_terminal() && std::env::var_os("NO_COLOR").is_none()
}

/// An error message for people.
pub(crate) fn error(message: &str) {
    if colour_err() {
        eprintln!("\u{1b}[1;31merror\u{1b}[0m: {message}");
    } else {
        eprintln!("error: {message}");
    }
}

/// A value in a cell: NULL as the word, '' and texts that could be taken for something else in
/// quotes, blanks at the ends as `·`.
pub(crate) fn value(value: &Value, all_blanks: bool) -> String {
    match value {
        Value::Text(text) => {
            let looks_special = text.is_empty() || text.eq_ignore_ascii_case("null");
            let shown = blanks(text, all_blanks);
            if looks_special { format!("'{shown}'") } else { shown }
        }
        other => other.to_string(),
    }
}

fn blanks(text: &str, all: bool) -> String {
    let lead = text.len() - text.trim_start_matches(' ').len();
    let tail = text.trim_end_matches(' ').len();
    text.char_indices()
        .map(|(i, c)| match c {
            ' ' if all || i < lead || i >= tail => '·',
            '\n' => '⏎',
            '\t' => '⇥',
            other => other,
        })
        .collect()
}

/// An empty table in our style.
pub(crate) fn table() -> Table {
    let mut table = Table::new();
    table.load_preset(presets::UTF8_FULL_CONDENSED).set_content_arrangement(ContentArrangement::Dynamic);
    if !std::io::stdout().is_terminal() {
        table.set_width(110);
    }
    if colour_out() {
        table.enforce_styling();
    } else {
        table.force_no_tty();
    }
    table
}

/// A heading cell.
pub(crate) fn heading(text: &str) -> Cell {
    Cell::new(text).add_attribute(Attribute::Bold)
}

/// Rows as a table; numbers to the right.
pub(crate) fn rows(result: &ResultSet, most: usize, all_blanks: bool) -> Table {
    let mut table = table();
    let labels: Vec<Cell> = result.columns.iter().map(|c| heading(if c.is_empty() { "(no name)" } else { c })).collect();
    table.set_header(labels);
    for row in result.rows.iter().take(most) {
        table.add_row(row.iter().map(|v| {
            let cell = Cell::new(value(v, all_blanks));
            match v {
                Value::Null => cell.fg(Color::DarkGrey).add_attribute(Attribute::Italic),
                Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => cell.set_alignment(CellAlignment::Right),
                _ => cell,
            }
        }));
    }
    table
}

/// `1 row`, `3 rows`.
pub(crate) fn count(n: usize, word: &str) -> String {
    if n == 1 { format!("1 {word}") } else { format!("{n} {word}s") }
}
