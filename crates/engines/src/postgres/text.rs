//! Values in PostgreSQL's text form, for types that are read in no other.

use std::str::FromStr;

use jiff::civil::{Date, DateTime, Time};
use values::{Decimal, Interval, Value};

/// A value from its text form.
pub(super) fn value(text: &str, type_name: &str) -> Value {
    let plain = || Value::text(text);
    match type_name {
        "bool" => Value::Boolean(text == "t"),
        "int2" | "int4" | "int8" | "oid" => text.parse().map_or_else(|_| plain(), Value::Integer),
        "float4" | "float8" => text.parse().map_or_else(|_| plain(), Value::Float),
        "numeric" => Decimal::from_str(text).map_or_else(|_| plain(), Value::decimal),
        "date" => text.parse::<Date>().map_or_else(|_| plain(), Value::Date),
        "time" => text.parse::<Time>().map_or_else(|_| plain(), Value::Time),
        "timestamp" => text.parse::<DateTime>().map_or_else(|_| plain(), Value::Timestamp),
        "timestamptz" => text.trim_end_matches("+00").parse::<DateTime>().map_or_else(|_| plain(), |t| Value::Instant(t, 0)),
        "interval" => interval_of(text).map_or_else(plain, |i| Value::Interval(Box::new(i))),
        _ => match type_name.strip_prefix('_') {
            Some(element) if text.starts_with('{') => Value::Array(Box::new(items_of(&text[1..], element).0)),
            _ => plain(),
        },
    }
}

/// The items of an array as PostgreSQL prints it, behind its opening brace, and what follows them.
fn items_of<'t>(text: &'t str, element: &str) -> (Vec<Value>, &'t str) {
    let (mut items, mut rest) = (Vec::new(), text);
    loop {
        if let Some(behind) = rest.strip_prefix('}') {
            return (items, behind);
        }
        if let Some(inner) = rest.strip_prefix('{') {
            let (nested, behind) = items_of(inner, element);
            items.push(Value::Array(Box::new(nested)));
            rest = behind;
        } else if let Some(quoted) = rest.strip_prefix('"') {
            let (item, behind) = quoted_item(quoted);
            items.push(value(&item, element));
            rest = behind;
        } else {
            let end = rest.find([',', '}']).unwrap_or(rest.len());
            items.push(if &rest[..end] == "NULL" { Value::Null } else { value(&rest[..end], element) });
            rest = &rest[end..];
        }
        match rest.strip_prefix(',') {
            Some(behind) => rest = behind,
            None => return (items, rest.strip_prefix('}').unwrap_or(rest)),
        }
    }
}

/// A quoted item, and what follows its closing quote.
fn quoted_item(text: &str) -> (String, &str) {
    let (mut item, mut characters) = (String::new(), text.char_indices());
    while let Some((at, c)) = characters.next() {
        match c {
            '"' => return (item, &text[at + 1..]),
            '\\' => item.extend(characters.next().map(|(_, escaped)| escaped)),
            other => item.push(other),
        }
    }
    (item, "")
}

/// An interval as PostgreSQL prints it: `1 year 2 mons 3 days -04:05:06.7`.
fn interval_of(text: &str) -> Option<Interval> {
    let (mut interval, mut words) = (Interval::default(), text.split(' '));
    while let Some(word) = words.next() {
        if word.contains(':') {
            let (sign, clock) = word.strip_prefix('-').map_or((1, word), |rest| (-1, rest));
            let mut parts = clock.split(':');
            let (hours, minutes, seconds) = (parts.next()?, parts.next()?, parts.next()?);
            let (whole, fraction) = seconds.split_once('.').unwrap_or((seconds, ""));
            let total = (hours.trim_start_matches('+').parse::<i128>().ok()? * 60 + minutes.parse::<i128>().ok()?) * 60
                + whole.parse::<i128>().ok()?;
            interval.nanoseconds = sign * (total * 1_000_000_000 + format!("{fraction:0<9}").parse::<i128>().ok()?);
            continue;
        }
        let amount: i64 = word.parse().ok()?;
        match words.next()?.trim_end_matches('s') {
            "year" => interval.months += amount * 12,
            "mon" => interval.months += amount,
            "day" => interval.days += amount,
            _ => return None,
        }
    }
    Some(interval)
}
