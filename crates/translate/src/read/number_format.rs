//! Numbers written by a format: TO_CHAR(x, 'FM9,990.00'), FORMAT(x, 'N2'), printf('%05d', x).
//! Sources: Oracle, Format Models, Number; PostgreSQL, Template Patterns for Numeric Formatting; .NET, Standard
//! and Custom Numeric Format Strings (SQL Server, FORMAT); C's printf as SQLite, BigQuery, DuckDB and Spark have
//! it; DuckDB, fmt Syntax. Seen on PostgreSQL 15, SQLite 3.54, DuckDB 1.5, Spark 4.0 and the GoogleSQL evaluator.

use meaning::{Constant, Meant, Note, infer, phrase};
use syntax::DialectName::{self, Bigquery, Duckdb, Oracle, Postgres, Spark, SqlServer, Sqlite};
use syntax::decode_text;
use syntax::tree::{Call, CallForm, Expr, ExprKind, Literal, Quote, Span, Spelled, StageMap};
use values::DataType;

use super::Reader;
use crate::shape::{call as said, number};

type E = Expr<Meant>;

/// How a number is written.
#[derive(Debug, Default, Clone, Copy, PartialEq, Eq)]
struct Shape {
    /// Digits behind the point.
    places: u32,
    /// A comma before each three digits.
    grouped: bool,
    /// Digits before the point at least, filled with zeros.
    zeros: u32,
    /// Characters at least, filled with blanks from the left.
    width: u32,
    /// Digits before the point at most.
    room: Option<u32>,
    /// No 0 precedes the point of a number below 1.
    bare_point: bool,
}

/// The flavours of formats.
#[derive(Debug, Clone, Copy)]
enum Flavour {
    /// `9,990.00`
    Mask,
    /// `#,##0.00`, `N2`
    DotNet,
    /// `#,##0.00` alone
    Pattern,
    /// `%.2f`
    Percent,
    /// `{:.2f}`
    Braces,
}

/// The functions, whose they are, and whether the format comes first.
const WRITERS: &[(&str, &[DialectName], bool, Flavour)] = &[
    ("TO_CHAR", &[Oracle, Postgres], false, Flavour::Mask),
    ("FORMAT", &[SqlServer], false, Flavour::DotNet),
    ("FORMAT_NUMBER", &[Spark], false, Flavour::Pattern),
    ("FORMAT", &[Sqlite, Bigquery], true, Flavour::Percent),
    ("PRINTF", &[Sqlite, Duckdb, Spark], true, Flavour::Percent),
    ("FORMAT_STRING", &[Spark], true, Flavour::Percent),
    ("FORMAT", &[Duckdb], true, Flavour::Braces),
];

impl Reader<'_> {
    /// A number in digits by phrases that every dialect can say; `None` for other functions and formats.
    pub(super) fn number_format(&mut self, call: &Call<Spelled>, span: Span) -> Option<ExprKind<Meant>> {
        let name = call.function.as_single().filter(|n| n.quote == Quote::None)?;
        let [first, second] = call.arguments.as_slice() else { return None };
        if call.form != CallForm::Plain || call.tail.is_some() || self.to == self.from.name {
            return None;
        }
        if let Some(read) = self.masked_number(call) {
            return Some(read);
        }
        let (.., format_first, flavour) =
            WRITERS.iter().find(|(word, dialects, ..)| dialects.contains(&self.from.name) && name.is_word(word))?;
        let (format, value) = if *format_first { (first, second) } else { (second, first) };
        let ExprKind::Literal(Literal::Text(format)) = &format.value.without_parens().kind else { return None };
        let format = decode_text(format, &self.spelling);
        if let Some((phrase, width)) = hexadecimal(&format).filter(|_| self.from.name == Oracle) {
            let digits = said(phrase, vec![self.expr(value.value.clone())]);
            return Some(if width == 0 { digits.kind } else { said(phrase::TEXT_PAD_LEFT, vec![digits, number(width), text(" ")]).kind });
        }
        let shape = shape(&format, *flavour);
        let speaks_masks = matches!(self.to, Oracle | Postgres);
        if matches!(flavour, Flavour::Mask) && (speaks_masks || shape.is_none()) {
            return is_mask(&format).then(|| said(phrase::NUMBER_BY_MASK, vec![self.expr(value.value.clone()), text(&format)]).kind);
        }
        let shape = shape?;
        let value = self.expr(value.value.clone());
        // SQLite writes NULL as 0.
        let value = match self.from.name == Sqlite && infer(&value).nullable {
            true => said(phrase::NULL_FIRST_NOT_NULL, vec![value, number(0)]),
            false => value,
        };
        self.note_shape(shape, &value, span);
        let written = written(shape, value);
        Some(match self.from.name == Spark && *format_first {
            // Spark writes NULL as a word.
            true => said(phrase::NULL_FIRST_NOT_NULL, vec![written, text("null")]).kind,
            false => written.kind,
        })
    }

    /// TO_NUMBER(text, mask) of digits and commas: a cast of the text without commas.
    fn masked_number(&mut self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        let reads = matches!(self.from.name, Oracle | Postgres) && call.function.as_single()?.is_word("TO_NUMBER");
        let ([value, mask], true) = (call.arguments.as_slice(), reads) else { return None };
        let ExprKind::Literal(Literal::Text(mask)) = &mask.value.without_parens().kind else { return None };
        let mask = decode_text(mask, &self.spelling).to_ascii_uppercase();
        let signs = mask.trim_start_matches("FM");
        if signs.is_empty() || !signs.chars().all(|c| matches!(c, '9' | '0' | '.' | ',' | 'D' | 'G')) {
            return None;
        }
        let literal = |text: &str| Expr::synthetic(ExprKind::Literal(Literal::Text(text.into())));
        let value = value.value.clone();
        let plain = match signs.contains([',', 'G']) {
            true => Expr::call("REPLACE", vec![value, literal("','"), literal("''")]),
            false => value,
        };
        Some(self.expr(Expr::cast(plain, if self.from.name == Oracle { "NUMBER" } else { "NUMERIC" })).kind)
    }

    fn note_shape(&mut self, shape: Shape, value: &E, span: Span) {
        let source = self.from.name.title();
        if let Some(room) = shape.room.filter(|room| !has_room(*room, &infer(value).data_type)) {
            let message =
                format!("a number of more than {room} digits before the point becomes {source}'s # signs; here it is written out");
            self.note(Note::new("number.format-room", span, message).advise("make sure that no number is as great as that"));
        }
        if shape.bare_point {
            let message = format!("{source} writes .50 by this format, without a 0 before the point; here it is 0.50");
            self.note(
                Note::new("number.format-zero", span, message).advise("make sure that no number is below 1, or write 0 before the point"),
            );
        }
    }
}

fn text(value: &str) -> E {
    Expr::synthetic(ExprKind::Literal(Constant::Text { value: value.into(), written: None }))
}

/// The number in its shape.
fn written(shape: Shape, value: E) -> E {
    let places = number(i64::from(shape.places));
    let digits = match (shape.zeros, shape.grouped) {
        (2.., _) => said(phrase::NUMBER_ZERO_FILLED, vec![value, number(i64::from(shape.zeros))]),
        (_, true) => said(phrase::NUMBER_GROUPED, vec![value, places]),
        (_, false) => said(phrase::NUMBER_FIXED, vec![value, places]),
    };
    match shape.width {
        0 => digits,
        width => said(phrase::TEXT_PAD_LEFT, vec![digits, number(i64::from(width)), text(" ")]),
    }
}

/// Whether numbers of the type have no more digits before the point.
fn has_room(room: u32, data_type: &DataType) -> bool {
    // Who writes as many means any number.
    const ANY: u32 = 12;
    let needed = match data_type {
        DataType::Integer(bits) => u32::from(*bits) * 3 / 10 + 1,
        DataType::Decimal(Some((precision, scale))) => (i32::from(*precision) - i32::from(*scale)).max(0) as u32,
        _ => ANY,
    };
    room >= needed.min(ANY)
}

fn shape(format: &str, flavour: Flavour) -> Option<Shape> {
    match flavour {
        Flavour::Mask => of_mask(&format.to_ascii_uppercase()),
        Flavour::DotNet => of_letter(format).or_else(|| of_pattern(format)),
        Flavour::Pattern => of_pattern(format),
        Flavour::Percent => of_directive(format.strip_prefix('%')?),
        Flavour::Braces => of_directive(format.strip_prefix("{:")?.strip_suffix('}')?),
    }
}

/// The phrase that `FMXXX` or `xxx` of Oracle asks for, and how wide it makes the digits; 0 for no width.
fn hexadecimal(mask: &str) -> Option<(&'static str, i64)> {
    let signs = mask.trim_start_matches("FM").trim_start_matches("fm");
    let phrase = match signs.trim_matches('X').is_empty() {
        _ if signs.is_empty() => return None,
        true => phrase::NUMBER_TO_HEXADECIMAL,
        false if signs.trim_matches('x').is_empty() => phrase::NUMBER_TO_SMALL_HEXADECIMAL,
        false => return None,
    };
    Some((phrase, if signs.len() < mask.len() { 0 } else { signs.len() as i64 + 1 }))
}

/// Whether a mask is one of numbers, of signs that Oracle and PostgreSQL read alike.
fn is_mask(mask: &str) -> bool {
    let upper = mask.to_ascii_uppercase();
    let signs = upper.trim_start_matches("FM").trim_end_matches("MI").trim_end_matches("PR").trim_end_matches("EEEE");
    signs.contains(['9', '0']) && signs.trim_matches('S').chars().all(|c| matches!(c, '9' | '0' | '.' | ',' | 'D' | 'G'))
}

/// Commas stand before each three digits, counted from the point.
fn groups_by_three(whole: &str) -> bool {
    let from_point: Vec<char> = whole.chars().rev().collect();
    from_point.iter().enumerate().all(|(i, c)| (*c == ',') == (i % 4 == 3))
}

/// `FM9,990.00` of Oracle and PostgreSQL.
fn of_mask(mask: &str) -> Option<Shape> {
    let fills = !mask.starts_with("FM");
    let plain = mask.trim_start_matches("FM").replace('G', ",").replace('D', ".");
    let (whole, part) = plain.split_once('.').unwrap_or((&plain, ""));
    let of_digits = |text: &str, more: &[char]| text.chars().all(|c| matches!(c, '9' | '0') || more.contains(&c));
    let grouped = whole.contains(',');
    // FM cuts off zeros where the mask has 9.
    let keeps_zeros = fills || !part.contains('9');
    let is_point_alone = plain.contains('.') && part.is_empty();
    if whole.is_empty() || is_point_alone || !of_digits(whole, &[',']) || !of_digits(part, &[]) || !keeps_zeros {
        return None;
    }
    if grouped && !groups_by_three(whole) {
        return None;
    }
    let digits: String = whole.chars().filter(|c| *c != ',').collect();
    let zeros = digits.find('0').map_or(0, |first| digits.len() - first) as u32;
    if zeros > 1 && (grouped || !part.is_empty()) {
        return None;
    }
    Some(Shape {
        places: part.len() as u32,
        grouped,
        zeros,
        width: if fills { plain.len() as u32 + 1 } else { 0 },
        room: Some(digits.len() as u32),
        bare_point: zeros == 0 && !part.is_empty(),
    })
}

/// `N2`, `F0`, `D5` of .NET.
fn of_letter(format: &str) -> Option<Shape> {
    let (letter, digits) = format.split_at_checked(1)?;
    let count = digits.parse::<u32>().ok();
    Some(match (letter.to_ascii_uppercase().as_str(), count) {
        ("N", None) if digits.is_empty() => Shape { grouped: true, places: 2, ..Shape::default() },
        ("N", Some(places)) => Shape { grouped: true, places, ..Shape::default() },
        ("F", Some(places)) => Shape { places, ..Shape::default() },
        ("D", Some(zeros)) => Shape { zeros, ..Shape::default() },
        _ => return None,
    })
}

/// `#,##0.00`, `0.0`, `0000`.
fn of_pattern(format: &str) -> Option<Shape> {
    let (whole, part) = format.split_once('.').unwrap_or((format, ""));
    if !part.chars().all(|c| c == '0') || (format.contains('.') && part.is_empty()) {
        return None;
    }
    let places = part.len() as u32;
    match whole {
        "#,##0" | "#,0" => Some(Shape { grouped: true, places, ..Shape::default() }),
        "0" => Some(Shape { places, ..Shape::default() }),
        _ if whole.len() > 1 && places == 0 && whole.chars().all(|c| c == '0') => {
            Some(Shape { zeros: whole.len() as u32, ..Shape::default() })
        }
        _ => None,
    }
}

/// What follows `%` or `{:`: flags, width, places and letter; those that ask for a form at all.
fn of_directive(format: &str) -> Option<Shape> {
    let flags = format.chars().take_while(|c| matches!(c, ',' | '\'' | '0')).collect::<String>();
    let rest = &format[flags.len()..];
    let width: String = rest.chars().take_while(char::is_ascii_digit).collect();
    let rest = &rest[width.len()..];
    // Braces have their comma behind the width.
    let (comma, rest) = rest.strip_prefix(',').map_or((false, rest), |rest| (true, rest));
    let (places, letter) = match rest.strip_prefix('.') {
        Some(rest) => {
            let digits: String = rest.chars().take_while(char::is_ascii_digit).collect();
            (Some(digits.parse::<u32>().ok()?), &rest[digits.len()..])
        }
        None => (None, rest),
    };
    let grouped = comma || flags.contains([',', '\'']);
    let filled = flags.contains('0');
    let width = if width.is_empty() { 0 } else { width.parse::<u32>().ok()? };
    match (letter, places) {
        ("f", Some(places)) if !filled => Some(Shape { places, grouped, width, ..Shape::default() }),
        ("d" | "", None) if filled && !grouped && width > 0 => Some(Shape { zeros: width, ..Shape::default() }),
        ("d" | "", None) if !filled && (grouped || width > 0) => Some(Shape { grouped, width, ..Shape::default() }),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Places, then what else there is.
    fn reported(shape: Option<Shape>) -> String {
        let Some(s) = shape else { return "-".into() };
        let mut out = s.places.to_string();
        for (has, word) in [
            (s.grouped, " grouped".to_string()),
            (s.zeros > 1, format!(" zeros {}", s.zeros)),
            (s.width > 0, format!(" width {}", s.width)),
            (s.bare_point, " bare".into()),
        ] {
            out.push_str(if has { &word } else { "" });
        }
        out
    }

    #[test]
    fn formats_are_read() {
        for (flavour, format, wanted) in [
            (Flavour::Mask, "FM990.00", "2"),
            (Flavour::Mask, "fm9,990.00", "2 grouped"),
            (Flavour::Mask, "FM999G990D00", "2 grouped"),
            (Flavour::Mask, "9,999.99", "2 grouped width 9 bare"),
            (Flavour::Mask, "990", "0 width 4"),
            (Flavour::Mask, "FM0000", "0 zeros 4"),
            (Flavour::Mask, "FM9900", "0 zeros 2"),
            (Flavour::Mask, "FM990.99", "-"),
            (Flavour::Mask, "FM99,90", "-"),
            (Flavour::Mask, "FM990.", "-"),
            (Flavour::Mask, "YYYY", "-"),
            (Flavour::Mask, "DD", "-"),
            (Flavour::DotNet, "N", "2 grouped"),
            (Flavour::DotNet, "n0", "0 grouped"),
            (Flavour::DotNet, "F3", "3"),
            (Flavour::DotNet, "D5", "0 zeros 5"),
            (Flavour::DotNet, "#,##0.0", "1 grouped"),
            (Flavour::DotNet, "00000", "0 zeros 5"),
            (Flavour::DotNet, "0.##", "-"),
            (Flavour::DotNet, "d", "-"),
            (Flavour::DotNet, "yyyy", "-"),
            (Flavour::Pattern, "#,##0.000", "3 grouped"),
            (Flavour::Percent, "%.2f", "2"),
            (Flavour::Percent, "%,.2f", "2 grouped"),
            (Flavour::Percent, "%'.1f", "1 grouped"),
            (Flavour::Percent, "%8.2f", "2 width 8"),
            (Flavour::Percent, "%05d", "0 zeros 5"),
            (Flavour::Percent, "%5d", "0 width 5"),
            (Flavour::Percent, "%'d", "0 grouped"),
            (Flavour::Percent, "%d", "-"),
            (Flavour::Percent, "%08.2f", "-"),
            (Flavour::Percent, "%.2f t", "-"),
            (Flavour::Percent, "%x", "-"),
            (Flavour::Braces, "{:,.2f}", "2 grouped"),
            (Flavour::Braces, "{:04d}", "0 zeros 4"),
            (Flavour::Braces, "{:,}", "0 grouped"),
            (Flavour::Braces, "{:05}", "0 zeros 5"),
            (Flavour::Braces, "{}", "-"),
        ] {
            assert_eq!(reported(shape(format, flavour)), wanted, "{format}");
        }
    }
}
