//! A folder of data: a schema and a file a table.

use std::borrow::Cow;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::str::FromStr;

use jiff::civil::{Date, DateTime, Time};
use meaning::Catalog;
use standin::StandIn;
use syntax::{Dialect, DialectName};
use values::{DataType, Decimal, Row, Table, Value};

use crate::rules::broken;

/// Tables with their rows.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Dataset {
    /// Each table and what is in it.
    pub tables: Vec<(Table, Vec<Row>)>,
}

/// Why a folder of data can't be read.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum DataError {
    /// A file is missing or can't be read.
    #[error("{}: {message}", path.display())]
    File {
        /// Which.
        path: PathBuf,
        /// Why.
        message: String,
    },
    /// A value doesn't fit its column.
    #[error("{} line {line}, column {column}: '{value}' is no {wanted}", path.display())]
    Value {
        /// In which file.
        path: PathBuf,
        /// The line.
        line: u64,
        /// The column's name.
        column: String,
        /// The text.
        value: String,
        /// The type wanted.
        wanted: DataType,
    },
}

impl Dataset {
    /// Reads `schema.sql` (in `dialect`) and for each table `NAME.csv` or `NAME.sql`; an error in one table is
    /// an error of all.
    pub fn read(folder: &Path, dialect: &Dialect) -> Result<(Catalog, Dataset), DataError> {
        let (catalog, dataset, mut left_out) = Dataset::read_sound(folder, dialect)?;
        if left_out.is_empty() { Ok((catalog, dataset)) } else { Err(left_out.swap_remove(0).1) }
    }

    /// The same without the tables that have an error; those are named with it.
    pub fn read_sound(folder: &Path, dialect: &Dialect) -> Result<(Catalog, Dataset, Vec<(String, DataError)>), DataError> {
        let path = folder.join("schema.sql");
        let file = |message: String, path: &Path| DataError::File { path: path.to_path_buf(), message };
        let text = std::fs::read_to_string(&path)
            .map_err(|e| file(format!("{e}; a data folder needs a schema.sql with CREATE TABLE in the source's dialect"), &path))?;
        let (catalog, errors) = Catalog::sound_ddl(&text, dialect);
        let unread = |e: &meaning::CatalogError| {
            (String::new(), file(format!("{e} (read as {dialect}, the dialect of the source; is it written in another?)"), &path))
        };
        let mut left_out: Vec<(String, DataError)> = errors.iter().map(unread).collect();
        if catalog.schema.tables.is_empty() && !left_out.is_empty() {
            return Err(left_out.swap_remove(0).1);
        }
        let mut tables = Vec::new();
        for table in catalog.schema.in_reference_order() {
            let csv = folder.join(format!("{}.csv", table.name.to_lowercase()));
            let sql = folder.join(format!("{}.sql", table.name.to_lowercase()));
            let rows = if csv.exists() {
                read_csv(&csv, table, dialect)
            } else if sql.exists() {
                read_inserts(&sql, table, dialect)
            } else {
                Ok(Vec::new())
            };
            match rows {
                Ok(rows) => tables.push((table.clone(), rows)),
                Err(error) => left_out.push((table.name.clone(), error)),
            }
        }
        while let Some((at, what)) = broken(&tables) {
            let name = tables[at].0.name.to_lowercase();
            let csv = folder.join(format!("{name}.csv"));
            let path = if csv.exists() { csv } else { folder.join(format!("{name}.sql")) };
            left_out.push((tables.remove(at).0.name, file(what, &path)));
        }
        Ok((catalog, Dataset { tables }, left_out))
    }
}

/// A header row names the columns; an empty field without quotes is NULL, with quotes ''.
fn read_csv(path: &Path, table: &Table, dialect: &Dialect) -> Result<Vec<Row>, DataError> {
    let file = |message: String| DataError::File { path: path.to_path_buf(), message };
    let text = std::fs::read_to_string(path).map_err(|e| file(e.to_string()))?;
    let mut records = records(&text).into_iter();
    let header = records.next().ok_or_else(|| file("the file is empty; the first line must name the columns".to_string()))?;
    let mut places = Vec::new();
    for (name, _) in &header.fields {
        let place = table.column_index(name).ok_or_else(|| {
            let near = syntax::nearest(name, table.columns.iter().map(|c| c.name.as_str()))
                .map_or(String::new(), |n| format!(" (did you mean {n}?)"));
            file(format!("the header names {name}, which is no column of {}{near}", table.name))
        })?;
        places.push(place);
    }
    let mut rows = Vec::new();
    for record in records {
        if record.fields.len() != places.len() {
            return Err(file(format!("line {} has {} fields, the header has {}", record.line, record.fields.len(), places.len())));
        }
        let mut row = vec![Value::Null; table.columns.len()];
        for ((text, quoted), place) in record.fields.iter().zip(&places) {
            let column = &table.columns[*place];
            if text.is_empty() && (!quoted || dialect.name == DialectName::Oracle) {
                continue;
            }
            row[*place] = typed(text, &column.data_type).ok_or_else(|| DataError::Value {
                path: path.to_path_buf(),
                line: record.line,
                column: column.name.clone(),
                value: text.clone(),
                wanted: column.data_type.clone(),
            })?;
        }
        rows.push(row);
    }
    Ok(rows)
}

struct Record {
    line: u64,
    fields: Vec<(String, bool)>,
}

/// CSV with quotes distinguished: a reader that forgets them can't tell NULL from ''.
fn records(text: &str) -> Vec<Record> {
    let mut records = Vec::new();
    let mut line = 1;
    let mut record = Record { line, fields: Vec::new() };
    let mut field = String::new();
    let mut quoted = false;
    let mut inside = false;
    let mut chars = text.trim_start_matches('\u{feff}').chars().peekable();
    while let Some(c) = chars.next() {
        if c == '\n' {
            line += 1;
        }
        match c {
            '"' if inside && chars.peek() == Some(&'"') => {
                chars.next();
                field.push('"');
            }
            '"' if inside => inside = false,
            '"' if field.is_empty() => {
                inside = true;
                quoted = true;
            }
            _ if inside => field.push(c),
            ',' => record.fields.push((std::mem::take(&mut field), std::mem::take(&mut quoted))),
            '\r' if chars.peek() == Some(&'\n') => {}
            '\n' => {
                record.fields.push((std::mem::take(&mut field), std::mem::take(&mut quoted)));
                let done = std::mem::replace(&mut record, Record { line, fields: Vec::new() });
                // An empty line is no record.
                if done.fields.len() > 1 || done.fields.iter().any(|(t, q)| *q || !t.is_empty()) {
                    records.push(done);
                }
            }
            other => field.push(other),
        }
    }
    if !field.is_empty() || quoted || !record.fields.is_empty() {
        record.fields.push((field, quoted));
        records.push(record);
    }
    records
}

/// A text as a value of a type.
fn typed(text: &str, data_type: &DataType) -> Option<Value> {
    match data_type {
        DataType::Integer(_) => text.trim().parse().ok().map(Value::Integer),
        DataType::Decimal(_) => Decimal::from_str(text.trim()).ok().map(Value::decimal),
        DataType::Float(_) => text.trim().parse().ok().map(Value::Float),
        DataType::Boolean => match text.trim().to_ascii_lowercase().as_str() {
            "1" | "t" | "true" | "y" => Some(Value::Boolean(true)),
            "0" | "f" | "false" | "n" => Some(Value::Boolean(false)),
            _ => None,
        },
        DataType::Date => text.trim().parse::<Date>().ok().map(Value::Date),
        DataType::Timestamp(_) => {
            let text = text.trim();
            text.parse::<DateTime>().ok().or_else(|| text.parse::<Date>().ok().map(|d| d.at(0, 0, 0, 0))).map(Value::Timestamp)
        }
        DataType::Time => text.trim().parse::<Time>().ok().map(Value::Time),
        DataType::TimestampZoned => instant(text.trim()),
        DataType::Binary => bytes(text.trim()).map(|b| Value::Binary(Box::new(b))),
        DataType::Array(element) => match serde_json::from_str(text).ok()? {
            serde_json::Value::Array(items) => {
                let items: Option<Vec<Value>> = items.iter().map(|item| typed_json(item, element)).collect();
                items.map(|items| Value::Array(Box::new(items)))
            }
            _ => None,
        },
        _ => Some(Value::text(text)),
    }
}

/// A day and time with the minutes it is ahead of UTC: `2026-01-31 10:00:00+02:00`; without them UTC.
fn instant(text: &str) -> Option<Value> {
    let sign = text.rfind(['+', '-']).filter(|at| text[..*at].contains(':'));
    let (local, offset) = sign.map_or((text, "+00"), |at| text.split_at(at));
    let (hours, minutes) = offset[1..].split_once(':').unwrap_or((&offset[1..], "0"));
    let minutes = hours.parse::<i16>().ok()? * 60 + minutes.parse::<i16>().ok()?;
    let minutes = if offset.starts_with('-') { -minutes } else { minutes };
    let local: DateTime = local.trim().trim_end_matches('Z').parse().ok()?;
    Some(Value::Instant(local.checked_sub(jiff::SignedDuration::from_mins(minutes.into())).ok()?, minutes))
}

/// `0x00FF`, as it is written.
fn bytes(text: &str) -> Option<Vec<u8>> {
    let hex = text.strip_prefix("0x").or_else(|| text.strip_prefix("\\x"))?;
    (0..hex.len()).step_by(2).map(|at| u8::from_str_radix(hex.get(at..at + 2)?, 16).ok()).collect()
}

fn typed_json(json: &serde_json::Value, data_type: &DataType) -> Option<Value> {
    match json {
        serde_json::Value::Null => Some(Value::Null),
        serde_json::Value::String(text) => typed(text, data_type),
        other => typed(&other.to_string(), data_type),
    }
}

/// A value as the files of a data folder have it; `None` for NULL.
pub fn csv_text(value: &Value) -> Option<Cow<'_, str>> {
    match value {
        Value::Null => None,
        Value::Text(text) => Some(Cow::Borrowed(text)),
        Value::Array(_) | Value::Struct(_) => Some(Cow::Owned(value.to_json().to_string())),
        other => Some(Cow::Owned(other.to_string())),
    }
}

/// A table's file of a data folder: a header row, then its rows.
///
/// # Errors
/// Those of `out`.
pub fn write_csv(out: &mut dyn Write, table: &Table, rows: &[Row]) -> std::io::Result<()> {
    out.write_all(csv_line(table.columns.iter().map(|c| Some(Cow::Borrowed(c.name.as_str())))).as_bytes())?;
    rows.iter().try_for_each(|row| out.write_all(csv_line(row.iter().map(csv_text)).as_bytes()))
}

/// INSERT statements of the source's dialect: its stand-in reads them.
fn read_inserts(path: &Path, table: &Table, dialect: &Dialect) -> Result<Vec<Row>, DataError> {
    let file = |message: String| DataError::File { path: path.to_path_buf(), message };
    let text = std::fs::read_to_string(path).map_err(|e| file(e.to_string()))?;
    let mut reader = StandIn::new(dialect.clone());
    reader.load(table, Vec::new());
    reader.run(&text).map_err(|f| file(f.to_string()))?;
    let results = reader.run(&format!("SELECT * FROM {}", Catalog::name_sql(&table.name, dialect))).map_err(|f| file(f.to_string()))?;
    Ok(results.into_iter().next().map(|r| r.rows).unwrap_or_default())
}

/// A line of CSV as the data folders have it: NULL is an empty field, '' an empty one in quotes.
pub fn csv_line<'v>(fields: impl Iterator<Item = Option<Cow<'v, str>>>) -> String {
    let mut line = String::new();
    for (at, field) in fields.enumerate() {
        if at > 0 {
            line.push(',');
        }
        let Some(text) = field else { continue };
        if text.is_empty() || text.contains([',', '"', '\n', '\r']) {
            line.push('"');
            line.push_str(&text.replace('"', "\"\""));
            line.push('"');
        } else {
            line.push_str(&text);
        }
    }
    line.push('\n');
    line
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn null_and_empty_are_told_apart() {
        let records = records("a,b,c\n1,,\"\"\n\"x, \"\"y\"\"\",\"two\nlines\",z\n");
        let shown: Vec<Vec<(String, bool)>> = records.into_iter().map(|r| r.fields).collect();
        let field = |t: &str, q: bool| (t.to_string(), q);
        assert_eq!(shown[1], [field("1", false), field("", false), field("", true)]);
        assert_eq!(shown[2], [field("x, \"y\"", true), field("two\nlines", true), field("z", false)]);
    }
}
