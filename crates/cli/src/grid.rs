//! A result on a terminal: as a table, or turned on its side where that is too wide.

use clap::ValueEnum;
use comfy_table::{Attribute, Cell, CellAlignment, Color, ColumnConstraint, Table, Width};
use unicode_width::UnicodeWidthStr;
use values::{ResultSet, Value};

use crate::show;

/// When a result is shown with a line a column.
#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
pub(crate) enum Turn {
    /// When the table is wider than the terminal
    Auto,
    /// Always
    Always,
    /// Never: the table is squeezed
    Never,
}

/// How a result is to look.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Look {
    /// All blanks are shown, not only those at the ends.
    pub(crate) blanks: bool,
    pub(crate) turn: Turn,
}

/// A cell wider than this is folded.
const FOLD: usize = 48;
/// A folded cell longer than this is cut, and says so.
const MOST_CHARACTERS: usize = 400;

/// Prints the rows.
pub(crate) fn show_result(result: &ResultSet, look: Look) {
    let columns = columns(result, look.blanks);
    let natural: usize = columns.iter().map(|c| c.width().min(FOLD) + 3).sum::<usize>() + 1;
    let turned = match look.turn {
        Turn::Auto => natural > terminal_width(),
        Turn::Always => true,
        Turn::Never => false,
    };
    if turned { show_turned(result, &columns) } else { println!("{}", grid(result, &columns)) }
}

fn terminal_width() -> usize {
    usize::from(show::fixed_width().or_else(|| Table::new().width()).unwrap_or(u16::MAX))
}

/// A column as it is shown.
struct Column {
    label: String,
    type_name: String,
    cells: Vec<String>,
    /// Numbers stand to the right, their points below each other.
    is_number: bool,
}

impl Column {
    fn width(&self) -> usize {
        let cells = self.cells.iter().map(|c| c.width()).max().unwrap_or(0);
        cells.max(self.label.width()).max(self.type_name.width())
    }
}

fn columns(result: &ResultSet, blanks: bool) -> Vec<Column> {
    let of = |at: usize, label: &String| {
        let values = || result.rows.iter().filter_map(|r| r.get(at));
        let is_numeric = |v: &Value| matches!(v, Value::Integer(_) | Value::Decimal(_) | Value::Float(_));
        let is_number = values().any(is_numeric) && values().all(|v| v.is_null() || is_numeric(v));
        let mut cells: Vec<String> = values().map(|v| shortened(show::value(v, blanks))).collect();
        if is_number {
            align_points(&mut cells, values());
        }
        Column {
            label: if label.is_empty() { "(no name)".to_string() } else { show::visible(label, false) },
            type_name: result.types.get(at).map_or(String::new(), |t| t.to_lowercase()),
            cells,
            is_number,
        }
    };
    result.columns.iter().enumerate().map(|(at, label)| of(at, label)).collect()
}

/// Fills up what follows the points, so that they come below each other.
fn align_points<'v>(cells: &mut [String], values: impl Iterator<Item = &'v Value>) {
    let behind = |cell: &str| cell.find('.').map_or(0, |at| cell.len() - at);
    let plain: Vec<bool> = values.map(|v| !v.is_null()).collect();
    let most = cells.iter().zip(&plain).filter(|(_, p)| **p).map(|(c, _)| behind(c)).max().unwrap_or(0);
    for (cell, _) in cells.iter_mut().zip(&plain).filter(|(_, p)| **p) {
        let fill = most - behind(cell);
        cell.push_str(&" ".repeat(fill));
    }
}

fn shortened(text: String) -> String {
    match text.char_indices().nth(MOST_CHARACTERS) {
        Some((at, _)) => format!("{}… ({} characters)", &text[..at], text.chars().count()),
        None => text,
    }
}

fn styled(text: &str, value: &Value) -> Cell {
    let cell = Cell::new(text);
    match value {
        Value::Null => cell.fg(Color::DarkGrey).add_attribute(Attribute::Italic),
        _ => cell,
    }
}

fn grid(result: &ResultSet, columns: &[Column]) -> Table {
    let mut table = show::table();
    // Not every engine tells types.
    let tells_types = columns.iter().any(|c| !c.type_name.is_empty());
    table.set_header(columns.iter().map(|c| {
        let alignment = if c.is_number { CellAlignment::Right } else { CellAlignment::Left };
        let heading = if tells_types { format!("{}\n{}", c.label, c.type_name) } else { c.label.clone() };
        show::heading(&heading).set_alignment(alignment)
    }));
    for (at, row) in result.rows.iter().enumerate() {
        table.add_row(columns.iter().zip(row).map(|(column, value)| {
            let cell = styled(&column.cells[at], value);
            if column.is_number { cell.set_alignment(CellAlignment::Right) } else { cell }
        }));
    }
    for column in table.column_iter_mut() {
        column.set_constraint(ColumnConstraint::UpperBoundary(Width::Fixed(FOLD as u16 + 2)));
    }
    table
}

/// A block of lines a row: label, type and value.
fn show_turned(result: &ResultSet, columns: &[Column]) {
    let mut table = show::table();
    table.set_header(["row", "column", "type", "value"].map(show::heading));
    for (at, row) in result.rows.iter().enumerate() {
        for (place, (column, value)) in columns.iter().zip(row).enumerate() {
            let number = if place == 0 { (at + 1).to_string() } else { String::new() };
            let cell = column.cells[at].trim_end().to_string();
            table.add_row(vec![
                Cell::new(number).set_alignment(CellAlignment::Right),
                Cell::new(&column.label),
                Cell::new(&column.type_name).fg(Color::DarkGrey),
                styled(&cell, value),
            ]);
        }
    }
    println!("{table}");
}
