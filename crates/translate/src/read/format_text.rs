//! Formats with places for values, such as PRINTF's: read as the strings and values joined.
//! Sources: PostgreSQL, `format`; SQLite, printf(); BigQuery, FORMAT; Spark, format_string; DuckDB, Text
//! Functions. What NULL becomes was seen on PostgreSQL 15, Spark 4.0, SQLite 3.54 and DuckDB 1.5.

use syntax::tree::{Binary, Call, Expr, ExprKind, Literal, Operator, Spelled};
use syntax::{DialectName, Spelling, Symbol, decode_text, write_text};

type S = Expr<Spelled>;

/// A part of a format.
#[derive(Debug, PartialEq)]
enum Part {
    /// Characters.
    Text(String),
    /// The place of the next value, and the letter that says how it is written.
    Value(char),
    /// The place of the next value, and the format of a number that is written by it alone: `%05d`.
    Number(String),
}

/// The parts of a call's values joined; `None` for other functions, for formats that aren't constant, and
/// for widths, digits and places by number.
pub(super) fn joined(call: &Call<Spelled>, from: DialectName) -> Option<S> {
    let name = call.function.as_single()?;
    let braces = match from {
        DialectName::Postgres | DialectName::Bigquery if name.is_word("format") => false,
        DialectName::Sqlite if name.is_word("format") || name.is_word("printf") => false,
        DialectName::Spark if name.is_word("format_string") || name.is_word("printf") => false,
        DialectName::Duckdb if name.is_word("printf") => false,
        DialectName::Duckdb if name.is_word("format") => true,
        _ => return None,
    };
    let [format, values @ ..] = call.arguments.as_slice() else { return None };
    let ExprKind::Literal(Literal::Text(format)) = &format.value.without_parens().kind else { return None };
    let spelling = Spelling::of(&from.into());
    let parts = if braces { in_braces(&decode_text(format, &spelling))? } else { after_percent(&decode_text(format, &spelling))? };
    let places = parts.iter().filter(|p| !matches!(p, Part::Text(_))).count();
    // A number alone is read by its format (`number_format`).
    let is_number_alone = matches!(parts.as_slice(), [Part::Number(_)]);
    if places != values.len() || values.is_empty() || call.tail.is_some() || is_number_alone {
        return None;
    }
    let mut values = values.iter();
    let said = parts.iter().map(|part| match part {
        Part::Text(text) => Some(Expr::synthetic(ExprKind::Literal(Literal::Text(write_text(text, &spelling).into())))),
        Part::Value(letter) => written(*letter, values.next()?.value.clone(), from),
        Part::Number(format) => {
            let format = Expr::synthetic(ExprKind::Literal(Literal::Text(write_text(format, &spelling).into())));
            Some(Expr::call(&name.text, vec![format, values.next()?.value.clone()]))
        }
    });
    Some(join(said.collect::<Option<Vec<S>>>()?, from))
}

/// `%s`, `%d` and their like; `%%` is one sign.
fn after_percent(format: &str) -> Option<Vec<Part>> {
    let mut parts = Vec::new();
    let mut chars = format.chars();
    while let Some(c) = chars.next() {
        match if c == '%' { chars.next()? } else { '%' } {
            '%' => push(&mut parts, c),
            letter if letter.is_ascii_alphabetic() => parts.push(Part::Value(letter)),
            first => {
                let mut format = format!("%{first}");
                while !format.ends_with(|c: char| c.is_ascii_alphabetic()) {
                    format.push(chars.next()?);
                }
                parts.push(Part::Number(format));
            }
        }
    }
    Some(parts)
}

/// `{}`; doubled braces are one.
fn in_braces(format: &str) -> Option<Vec<Part>> {
    let mut parts = Vec::new();
    let mut chars = format.chars();
    while let Some(c) = chars.next() {
        match c {
            '{' | '}' => match chars.next()? {
                next if next == c => push(&mut parts, c),
                '}' => parts.push(Part::Value('s')),
                ':' if c == '{' => {
                    let mut format = "{:".to_string();
                    while !format.ends_with('}') {
                        format.push(chars.next()?);
                    }
                    parts.push(Part::Number(format));
                }
                _ => return None,
            },
            _ => push(&mut parts, c),
        }
    }
    Some(parts)
}

fn push(parts: &mut Vec<Part>, c: char) {
    match parts.last_mut() {
        Some(Part::Text(text)) => text.push(c),
        _ => parts.push(Part::Text(c.to_string())),
    }
}

/// A value as its letter has it written.
fn written(letter: char, value: S, from: DialectName) -> Option<S> {
    let literal = |text: &str| Expr::synthetic(ExprKind::Literal(Literal::Text(text.into())));
    Some(match (from, letter) {
        (DialectName::Postgres | DialectName::Sqlite | DialectName::Bigquery, 's') => value,
        (DialectName::Postgres, 'I') => Expr::call("QUOTE_IDENT", vec![value]),
        (DialectName::Postgres, 'L') => Expr::call("QUOTE_NULLABLE", vec![value]),
        (DialectName::Sqlite, 'd' | 'i') => {
            let zero = Expr::synthetic(ExprKind::Literal(Literal::Number("0".into())));
            Expr::cast(Expr::call("COALESCE", vec![value, zero]), "INTEGER")
        }
        (DialectName::Bigquery, 'd') => Expr::cast(value, "STRING"),
        (DialectName::Spark, 's' | 'd') => Expr::call("COALESCE", vec![Expr::cast(value, "STRING"), literal("'null'")]),
        (DialectName::Duckdb, 's' | 'd') => Expr::cast(value, "VARCHAR"),
        _ => return None,
    })
}

/// The parts in one text: NULL is empty in PostgreSQL and SQLite, elsewhere it makes all of it NULL.
fn join(parts: Vec<S>, from: DialectName) -> S {
    let empty = Expr::synthetic(ExprKind::Literal(Literal::Text("''".into())));
    // Joined to nothing, a value alone becomes a string.
    let parts = if parts.len() == 1 { parts.into_iter().chain([empty.clone()]).collect() } else { parts };
    if from == DialectName::Duckdb {
        let operator = Operator::Symbol(Symbol::Concat);
        let both = |left: S, right: S| Expr::synthetic(ExprKind::Binary(Box::new(Binary { operator, left, right })));
        return parts.into_iter().reduce(both).unwrap_or(empty);
    }
    Expr::call("CONCAT", parts)
}
