//! Loading by COPY, in its text format: what the server's own types read, with every character.

use std::io::Write;

use ::postgres::{Client, Error};
use values::{Row, Value};

/// Sends the rows to the table.
pub(super) fn rows(client: &mut Client, table: &str, rows: &[Row]) -> Result<(), Error> {
    if rows.is_empty() {
        return Ok(());
    }
    let mut writer = client.copy_in(&format!("COPY {table} FROM STDIN"))?;
    let mut line = String::new();
    for row in rows {
        line.clear();
        for (at, value) in row.iter().enumerate() {
            if at > 0 {
                line.push('\t');
            }
            field(value, &mut line);
        }
        line.push('\n');
        // What goes wrong on the way is given by finish, in the server's words.
        if writer.write_all(line.as_bytes()).is_err() {
            break;
        }
    }
    writer.finish().map(|_| ())
}

fn field(value: &Value, out: &mut String) {
    if value.is_null() {
        out.push_str("\\N");
        return;
    }
    for c in server_text(value).chars() {
        match c {
            '\\' => out.push_str("\\\\"),
            '\t' => out.push_str("\\t"),
            '\n' => out.push_str("\\n"),
            '\r' => out.push_str("\\r"),
            other => out.push(other),
        }
    }
}

/// A value as its type's input function reads it.
fn server_text(value: &Value) -> String {
    match value {
        Value::Binary(bytes) => format!("\\x{}", bytes.iter().map(|b| format!("{b:02x}")).collect::<String>()),
        Value::Array(items) => {
            let items: Vec<String> = items.iter().map(item).collect();
            format!("{{{}}}", items.join(","))
        }
        Value::Struct(_) => value.to_json().to_string(),
        Value::Float(f) if f.is_infinite() => if *f > 0.0 { "Infinity" } else { "-Infinity" }.to_string(),
        other => other.to_string(),
    }
}

fn item(value: &Value) -> String {
    match value {
        Value::Null => "NULL".to_string(),
        Value::Array(_) => server_text(value),
        other => format!("\"{}\"", server_text(other).replace('\\', "\\\\").replace('"', "\\\"")),
    }
}
