//! Numbers and texts put into a format. Sources: the vendors' manuals, FORMAT, PRINTF and
//! FORMAT_NUMBER; digits of other bases: BIN, OCT, CONV.

use values::{Decimal, Value};

use super::{Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, Postgres, Spark, Sqlite, TSQL, Typing, f, of, seen};
use crate::failure::{Failure, Outcome};
use crate::mask::{mysql_number, tsql_style};
use crate::types::Type;

const TEXT: Typing = Typing::Fixed(Type::TEXT);

pub(super) const FUNCTIONS: &[Function] = &[
    f("FORMAT", TSQL, 2, 3, TEXT, tsql_style::format),
    f("FORMAT", MY, 2, 3, TEXT, |a| a.give(mysql_number::grouped(&a.number(0)?, a.whole(1)?))),
    f("FORMAT_NUMBER", of(&[Spark]), 2, 2, TEXT, |a| {
        let places = a.whole(1)?;
        a.give(mysql_number::grouped(&half_even(&a.number(0)?, places), places))
    }),
    f("FORMAT", of(&[Bigquery]), 2, 4, TEXT, one_format),
    seen("FORMAT", of(&[Sqlite]), 2, 4, TEXT, one_format),
    seen("PRINTF", of(&[Sqlite]), 2, 2, TEXT, one_format),
    f("FORMAT", of(&[Duckdb]), 2, 2, TEXT, |a| match a.text(0).as_str() {
        "{:,.0f}" => grouped(a, 0),
        "{:,.2f}" => grouped(a, 2),
        other => Err(Failure::unknown(&format!("FORMAT with {other}"))),
    }),
    f("BIN", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, TEXT, |a| a.give(format!("{:b}", a.whole(0)?))),
    f("TO_BINARY", of(&[Duckdb]), 1, 1, TEXT, |a| a.give(format!("{:b}", a.whole(0)?))),
    f("OCT", MY, 1, 1, TEXT, |a| a.give(format!("{:o}", a.whole(0)?))),
    f("TO_OCT", of(&[Postgres]), 1, 1, TEXT, |a| a.give(format!("{:o}", a.whole(0)?))),
    f("CONV", of(&[Mysql, Mariadb, Spark]), 3, 3, TEXT, conv),
];

/// One value in one format, as C writes it. SQLite: NULL is taken for 0 or an empty text.
fn one_format(a: &Args<'_>) -> Outcome<Value> {
    match a.text(0).as_str() {
        "%X" => a.give(format!("{:X}", whole(a)?)),
        "%x" => a.give(format!("{:x}", whole(a)?)),
        "%o" => a.give(format!("{:o}", whole(a)?)),
        "%d" => a.give(whole(a)?.to_string()),
        "%s" => a.give(a.text(1)),
        "%.2f" => a.give(crate::convert::rounded(&number(a)?, 2).to_plain_string()),
        "%*.*f" if a.count() == 4 => {
            let (width, places) = (usize::try_from(a.whole(1)?).unwrap_or(0), a.whole(2)?);
            a.give(format!("{:>width$}", crate::convert::rounded(&a.number(3)?, places).to_plain_string()))
        }
        "%,.0f" | "%'.0f" => grouped(a, 0),
        "%,.2f" | "%'.2f" => grouped(a, 2),
        other => Err(Failure::unknown(&format!("FORMAT with {other}"))),
    }
}

fn whole(a: &Args<'_>) -> Outcome<i64> {
    if a.has(1) { a.whole(1) } else { Ok(0) }
}

fn number(a: &Args<'_>) -> Outcome<Decimal> {
    if a.has(1) { a.number(1) } else { Ok(Decimal::from(0)) }
}

fn grouped(a: &Args<'_>, places: i64) -> Outcome<Value> {
    a.give(mysql_number::grouped(&number(a)?, places))
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
