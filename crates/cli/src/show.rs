//! Tables and values on a terminal.

use std::io::IsTerminal;

use comfy_table::{Attribute, Cell, CellAlignment, Color, ContentArrangement, Table};
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
    eprintln!("{}: {message}", painted("error", "1;31", colour_err()));
}

/// Words in a style, a number of ANSI's; plain where the style is empty or colours aren't wanted.
pub(crate) fn painted(text: &str, style: &str, coloured: bool) -> String {
    if coloured && !style.is_empty() { format!("\u{1b}[{style}m{text}\u{1b}[0m") } else { text.to_string() }
}

/// A value in a cell: NULL as the word, '' and strings that could be taken for something else in
/// quotes, blanks at the ends as `·`.
pub(crate) fn value(value: &Value, all_blanks: bool) -> String {
    match value {
        Value::Text(text) => {
            let looks_special = text.is_empty() || text.eq_ignore_ascii_case("null");
            let shown = visible(text, all_blanks);
            if looks_special { format!("'{shown}'") } else { shown }
        }
        Value::Array(items) => format!("[{}]", items.iter().map(|v| inner(v, all_blanks)).collect::<Vec<_>>().join(", ")),
        Value::Struct(fields) => {
            let field = |(name, v): &(_, Value)| format!("{name}: {}", inner(v, all_blanks));
            format!("{{{}}}", fields.iter().map(field).collect::<Vec<_>>().join(", "))
        }
        other => other.to_string(),
    }
}

/// A value within another: strings in quotes, or a comma in one could be taken for the next.
fn inner(within: &Value, all_blanks: bool) -> String {
    match within {
        Value::Text(text) => format!("'{}'", visible(text, all_blanks)),
        other => value(other, all_blanks),
    }
}

/// A string with what can't be seen: blanks at its ends, line breaks, tabs, other characters without
/// a shape.
pub(crate) fn visible(text: &str, all_blanks: bool) -> String {
    let lead = text.len() - text.trim_start().len();
    let tail = text.trim_end().len();
    let mut out = String::with_capacity(text.len());
    for (i, c) in text.char_indices() {
        match c {
            ' ' if all_blanks || i < lead || i >= tail => out.push('·'),
            '\n' => out.push('⏎'),
            '\t' => out.push('⇥'),
            _ if is_unseen(c) => out.push_str(&format!("<U+{:04X}>", u32::from(c))),
            other => out.push(other),
        }
    }
    out
}

/// Control characters, blanks that aren't the blank, characters of no width.
fn is_unseen(c: char) -> bool {
    c.is_control()
        || (c.is_whitespace() && c != ' ')
        || matches!(c, '\u{ad}' | '\u{200b}'..='\u{200f}' | '\u{2060}'..='\u{2064}' | '\u{feff}')
}

/// Text that is not the matter itself.
pub(crate) fn faint(text: &str) -> String {
    painted(text, "2", colour_out())
}

/// The width of tables in pipes and files.
const PIPE_WIDTH: u16 = 100;

/// The width where the terminal tells none: there is none, or it says that it has no columns.
pub(crate) fn fixed_width() -> Option<u16> {
    let tells = std::io::stdout().is_terminal() && Table::new().width().is_some_and(|w| w >= LEAST_WIDTH);
    (!tells).then_some(PIPE_WIDTH)
}

/// The width of notes, where standard error is a terminal.
pub(crate) fn width_of_notes() -> Option<usize> {
    let (_, columns) = console::Term::stderr().size_checked().filter(|_| std::io::stderr().is_terminal())?;
    (usize::from(columns) >= usize::from(LEAST_WIDTH)).then_some(usize::from(columns))
}

/// Narrower than this, a terminal tells no width of use.
const LEAST_WIDTH: u16 = 20;

/// A heavy rule below the column headers, light ones between the columns, none around.
const RULES: &str = "     ━┿ │          ";

/// An empty table in our style.
pub(crate) fn table() -> Table {
    let mut table = Table::new();
    table.load_preset(RULES).set_content_arrangement(ContentArrangement::Dynamic);
    if let Some(width) = fixed_width() {
        table.set_width(width);
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

/// Words in lines of at most so many characters, each with the same indent.
pub(crate) fn wrapped(words: &str, width: usize, indent: &str) -> String {
    let words = words.split_whitespace().collect::<Vec<_>>().join(" ");
    let room = width - indent.len();
    filled(&words, room, room).iter().map(|line| format!("{indent}{line}")).collect::<Vec<_>>().join("\n")
}

/// Words in lines: the first of at most `first` characters, the others of `rest`. The first is empty where not even
/// one word fits.
pub(crate) fn filled(words: &str, first: usize, rest: usize) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for paragraph in words.lines() {
        lines.push(String::new());
        for word in paragraph.split(' ') {
            let is_first = lines.len() == 1;
            let last = lines.len() - 1;
            let used = lines[last].chars().count();
            let needs = used + usize::from(used > 0) + word.chars().count();
            let may_part = used > 0 || (is_first && first < rest);
            if may_part && needs > if is_first { first } else { rest } {
                lines.push(word.to_string());
            } else {
                let blank = if used > 0 { " " } else { "" };
                lines[last].push_str(&format!("{blank}{word}"));
            }
        }
    }
    lines
}

/// `1 row`, `3 rows`.
pub(crate) fn count(n: usize, word: &str) -> String {
    match word.strip_suffix("ry") {
        _ if n == 1 => format!("1 {word}"),
        Some(stem) => format!("{n} {stem}ries"),
        None => format!("{n} {word}s"),
    }
}
