//! Numbers and strings put into a format. Sources: the vendors' manuals, FORMAT, PRINTF and
//! FORMAT_NUMBER; digits of other bases: BIN, OCT, CONV.

use values::{Decimal, Value};

use super::{Args, Bigquery, Duckdb, Function, MANY, MY, Mariadb, Mysql, Postgres, SQL_SERVER, Spark, Sqlite, Typing, f, of, seen};
use crate::failure::{Failure, Outcome};
use crate::mask::{mysql_number, sql_server_style};
use crate::types::Type;

const TEXT: Typing = Typing::Fixed(Type::TEXT);

pub(super) const FUNCTIONS: &[Function] = &[
    f("FORMAT", SQL_SERVER, 2, 3, TEXT, sql_server_style::format),
    f("FORMAT", MY, 2, 3, TEXT, |a| a.give(mysql_number::grouped(&a.number(0)?, a.whole(1)?))),
    f("FORMAT_NUMBER", of(&[Spark]), 2, 2, TEXT, |a| {
        if !a.ty(1).is_text() {
            let places = a.whole(1)?;
            return a.give(mysql_number::grouped(&half_even(&a.number(0)?, places), places));
        }
        // A pattern: `#,##0.00`
        let pattern = a.text(1);
        let places = pattern.split_once('.').map_or(0, |(_, part)| part.len() as i64);
        let number = half_even(&a.number(0)?, places);
        a.give(if pattern.contains(',') { mysql_number::grouped(&number, places) } else { number.to_plain_string() })
    }),
    f("FORMAT", of(&[Bigquery]), 1, MANY, TEXT, formatted),
    f("PRINTF", of(&[Duckdb]), 1, MANY, TEXT, formatted),
    f("FORMAT", of(&[Duckdb]), 1, MANY, TEXT, in_braces),
    seen("FORMAT", of(&[Postgres, Sqlite]), 1, MANY, TEXT, formatted),
    seen("PRINTF", of(&[Sqlite, Spark]), 1, MANY, TEXT, formatted),
    seen("FORMAT_STRING", of(&[Spark]), 1, MANY, TEXT, formatted),
    f("BIN", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, TEXT, |a| a.give(format!("{:b}", a.whole(0)?))),
    f("TO_BINARY", of(&[Duckdb]), 1, 1, TEXT, |a| a.give(format!("{:b}", a.whole(0)?))),
    f("OCT", MY, 1, 1, TEXT, |a| a.give(format!("{:o}", a.whole(0)?))),
    f("TO_OCT", of(&[Postgres]), 1, 1, TEXT, |a| a.give(format!("{:o}", a.whole(0)?))),
    f("CONV", of(&[Mysql, Mariadb, Spark]), 3, 3, TEXT, conv),
];

/// How one value is written: `%-8.2f`, `%,d`.
struct Spec {
    left: bool,
    zeros: bool,
    grouped: bool,
    width: usize,
    places: Option<i64>,
}

/// Values in the places of a format, as C's printf writes them. What becomes of NULL was seen on
/// PostgreSQL 15, SQLite 3.54 and Spark 4.0.
fn formatted(a: &Args<'_>) -> Outcome<Value> {
    if !a.has(0) {
        return Ok(Value::Null);
    }
    let format: Vec<char> = a.text(0).chars().collect();
    let (mut out, mut at, mut next) = (String::new(), 0, 1);
    while let Some(c) = format.get(at) {
        at += 1;
        if *c != '%' {
            out.push(*c);
            continue;
        }
        let spec = spec(&format, &mut at, a, &mut next)?;
        let letter = *format.get(at).ok_or_else(|| Failure::invalid("a format that ends in %"))?;
        at += 1;
        if letter == '%' {
            out.push('%');
            continue;
        }
        if next >= a.count() {
            return Err(Failure::invalid("a format with more places than values"));
        }
        out.push_str(&padded(&one(letter, next, &spec, a)?, &spec));
        next += 1;
    }
    a.give(out)
}

/// What is between `%` and its letter; `*` is the next argument.
fn spec(format: &[char], at: &mut usize, a: &Args<'_>, next: &mut usize) -> Outcome<Spec> {
    let mut spec = Spec { left: false, zeros: false, grouped: false, width: 0, places: None };
    while let Some(flag) = format.get(*at).filter(|c| "-0,'+ #".contains(**c)) {
        match flag {
            '-' => spec.left = true,
            '0' => spec.zeros = true,
            ',' | '\'' => spec.grouped = true,
            other => return Err(Failure::unknown(&format!("the flag {other} of a format"))),
        }
        *at += 1;
    }
    let mut count = |at: &mut usize| -> Outcome<i64> {
        if format.get(*at) == Some(&'*') {
            *at += 1;
            *next += 1;
            return a.whole(*next - 1);
        }
        let digits: String = format[*at..].iter().take_while(|c| c.is_ascii_digit()).collect();
        *at += digits.len();
        Ok(digits.parse().unwrap_or(0))
    };
    spec.width = usize::try_from(count(at)?).unwrap_or(0);
    if format.get(*at) == Some(&'.') {
        *at += 1;
        spec.places = Some(count(at)?);
    }
    Ok(spec)
}

fn one(letter: char, at: usize, spec: &Spec, a: &Args<'_>) -> Outcome<String> {
    let whole = || if a.has(at) { a.whole(at) } else { Ok(0) };
    let in_groups = |number: &Decimal, places: i64| {
        if spec.grouped { mysql_number::grouped(number, places) } else { crate::convert::rounded(number, places).to_plain_string() }
    };
    Ok(match letter {
        _ if !a.has(at) && a.dialect() == Spark => "null".to_string(),
        's' if !a.has(at) => String::new(),
        's' => a.text(at),
        'I' | 'L' if a.dialect() == Postgres => return Err(Failure::unknown(&format!("%{letter} of FORMAT"))),
        'd' | 'i' => in_groups(&Decimal::from(whole()?), 0),
        'o' => format!("{:o}", whole()?),
        // BigQuery writes the digits of a number below 0 behind its sign.
        'x' | 'X' => {
            let (sign, digits) = match whole()? {
                number if number < 0 && a.dialect() == Bigquery => ("-", format!("{:x}", number.unsigned_abs())),
                number => ("", format!("{number:x}")),
            };
            sign.to_string() + &if letter == 'X' { digits.to_uppercase() } else { digits }
        }
        'f' => in_groups(&if a.has(at) { a.number(at)? } else { Decimal::from(0) }, spec.places.unwrap_or(6)),
        other => return Err(Failure::unknown(&format!("%{other} of a format"))),
    })
}

fn padded(text: &str, spec: &Spec) -> String {
    let width = spec.width;
    match (spec.left, spec.zeros) {
        (true, _) => format!("{text:<width$}"),
        (false, true) => match text.strip_prefix('-') {
            Some(digits) => format!("-{digits:0>rest$}", rest = width.saturating_sub(1)),
            None => format!("{text:0>width$}"),
        },
        (false, false) => format!("{text:>width$}"),
    }
}

/// DuckDB's format: `{}`, `{0}`, `{:,.2f}`.
fn in_braces(a: &Args<'_>) -> Outcome<Value> {
    let (mut out, mut next) = (String::new(), 1);
    let format = a.text(0);
    let mut rest = format.as_str();
    while let Some(at) = rest.find(['{', '}']) {
        out.push_str(&rest[..at]);
        let brace = &rest[at..=at];
        rest = &rest[at + 1..];
        if let Some(after) = rest.strip_prefix(brace) {
            out.push_str(brace);
            rest = after;
            continue;
        }
        // `{}` within is the width or the places.
        let end = rest.replace("{}", "--").find('}').ok_or_else(|| Failure::invalid("a brace that is not closed"))?;
        let inside = &rest[..end];
        rest = &rest[end + 1..];
        out.push_str(&match inside.split_once(':') {
            Some(("", shape)) => shaped(shape, a, &mut next)?,
            None if inside.is_empty() => {
                next += 1;
                a.text(next - 1)
            }
            _ => a.text(1 + inside.parse::<usize>().map_err(|_| Failure::unknown(&format!("{{{inside}}} of FORMAT")))?),
        });
    }
    a.give(out + rest)
}

/// The next value in the shape that follows a colon: `,.2f`, `05d`, `.{}f`.
fn shaped(shape: &str, a: &Args<'_>, next: &mut usize) -> Outcome<String> {
    let value = *next;
    *next += 1;
    let mut shape = shape.to_string();
    while let Some(at) = shape.find("{}") {
        shape.replace_range(at..at + 2, &a.text(*next));
        *next += 1;
    }
    let grouped = shape.contains(',');
    let written: Vec<char> = shape.chars().filter(|c| *c != ',').collect();
    let mut at = 0;
    let spec = Spec { grouped, ..spec(&written, &mut at, a, &mut 0)? };
    let letter = written.get(at).copied().unwrap_or(if matches!(a.value(value), Value::Integer(_)) { 'd' } else { 's' });
    Ok(padded(&one(letter, value, &spec, a)?, &spec))
}

/// Spark, format_number: a half becomes the even digit beside it.
fn half_even(number: &Decimal, places: i64) -> Decimal {
    number.with_scale_round(places, bigdecimal::RoundingMode::HalfEven)
}

/// A number from one base to another.
fn conv(a: &Args<'_>) -> Outcome<Value> {
    let (from, to) = (a.whole(1)?, a.whole(2)?);
    if !(2..=36).contains(&from.abs()) || !(2..=36).contains(&to.abs()) {
        return Ok(Value::Null);
    }
    let text = a.text(0).trim().to_ascii_lowercase();
    let (negative, digits) = text.strip_prefix('-').map_or((false, text.as_str()), |d| (true, d));
    let base = from.unsigned_abs() as u32;
    let value =
        digits.chars().map_while(|c| c.to_digit(base)).fold(0u128, |n, d| (n * u128::from(base) + u128::from(d)).min(u128::from(u64::MAX)))
            as u64;
    let bits = if negative { value.wrapping_neg() } else { value };
    let base = to.unsigned_abs() as u32;
    let (sign, mut rest) = if to < 0 && (bits as i64) < 0 { ("-", (bits as i64).unsigned_abs()) } else { ("", bits) };
    let mut out = Vec::new();
    loop {
        out.push(char::from_digit((rest % u64::from(base)) as u32, base).unwrap_or('0').to_ascii_uppercase());
        rest /= u64::from(base);
        if rest == 0 {
            break;
        }
    }
    a.give(format!("{sign}{}", out.iter().rev().collect::<String>()))
}
