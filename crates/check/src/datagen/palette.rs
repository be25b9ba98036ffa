//! The values a column draws from.
//!
//! First come the constants that the queries hold beside the column, and their neighbours: what a
//! comparison, a pattern, a search or a cut does differently shows there. Then come values that bite
//! by themselves.

use std::str::FromStr;

use jiff::civil::{Date, DateTime, date, time};
use values::{Column, DataType, Decimal, Value};

use super::mood::{Mood, Strings};
use crate::QueryFacts;
use crate::facts::Constants;

const WORDS: [&str; 15] =
    ["heron", "quay", "weir", "mill", "barge", "lock", "tarn", "ferry", "reed", "otter", "ford", "basin", "dock", "wharf", "sluice"];

/// Strings of each odd kind.
const fn odd(kind: Strings) -> &'static [&'static str] {
    match kind {
        Strings::Plain => &[],
        Strings::Blanks => &["quay ", " quay", "", " ", "mill weir", "weir  ", "a b c", "quay\t", "\nweir", "mill\tlock"],
        Strings::Letters => &["Weir", "WEIR", "wéir", "héron", "𝄞 reed", "Élan", "ß"],
        Strings::Signs => &["o'quay", "50%", "a_b", "c\\d", "a,b,,c", ",a", "b,", "[x]", "x-y-z", "/a/b"],
        Strings::Digits => &["12", "-7", "007", "3.5", "0", "9", "10"],
    }
}

/// Those values with the ones that stand beside the column in front.
pub(crate) struct Palette {
    pub(crate) aimed: Vec<Value>,
    pub(crate) others: Vec<Value>,
}

/// The palette of a column; `least` values are wanted if the type has them.
pub(crate) fn palette(column: &Column, facts: &QueryFacts, mood: Mood, least: usize) -> Palette {
    let beside = facts.beside.get(&column.name.to_lowercase());
    let aim = |constants: &Constants| of_type(&column.data_type, constants, mood);
    let aimed = beside.map(aim).unwrap_or_default();
    let mut others = of_type(&column.data_type, &facts.constants, mood);
    others.extend(common(&column.data_type, mood, least));
    let mut palette = Palette { aimed, others };
    keep_different(&mut palette.aimed);
    keep_different(&mut palette.others);
    palette
}

fn keep_different(values: &mut Vec<Value>) {
    let mut seen: Vec<Value> = Vec::with_capacity(values.len());
    values.retain(|v| {
        let fresh = !seen.contains(v);
        if fresh {
            seen.push(v.clone());
        }
        fresh
    });
}

/// Values made of the constants of a query.
fn of_type(data_type: &DataType, constants: &Constants, mood: Mood) -> Vec<Value> {
    match data_type {
        DataType::Integer(_) | DataType::Decimal(_) | DataType::Float(_) => {
            let near = constants.numbers.iter().flat_map(|n| [-1, 0, 1].map(|d| n + Decimal::from(d)));
            near.filter_map(|n| number(&n, data_type)).collect()
        }
        DataType::Date => days(constants).into_iter().map(Value::Date).collect(),
        DataType::Timestamp(_) | DataType::TimestampZoned => {
            let days = days(constants).into_iter().flat_map(|d| times(d, mood));
            moments(constants).into_iter().chain(days).map(Value::Timestamp).collect()
        }
        DataType::Text { length, fixed } => texts_near(constants, mood).into_iter().map(|t| fitted(&t, *length, *fixed)).collect(),
        DataType::Array(element) => arrays(&of_type(element, constants, mood)),
        _ => Vec::new(),
    }
}

/// Values of a type that need no constant.
fn common(data_type: &DataType, mood: Mood, least: usize) -> Vec<Value> {
    match data_type {
        DataType::Boolean => vec![Value::Boolean(true), Value::Boolean(false)],
        DataType::Integer(_) | DataType::Decimal(_) | DataType::Float(_) => numbers(data_type, mood, least),
        DataType::Date => common_days(mood, least).into_iter().map(Value::Date).collect(),
        DataType::Timestamp(_) | DataType::TimestampZoned => {
            common_days(mood, least).into_iter().flat_map(|d| times(d, mood)).map(Value::Timestamp).collect()
        }
        DataType::Time => [time(0, 0, 0, 0), time(7, 5, 0, 0), time(23, 59, 59, 0)].map(Value::Time).into(),
        DataType::Binary => [&b"quay"[..], &b""[..], &[0, 255]].map(|b| Value::Binary(Box::new(b.to_vec()))).into(),
        DataType::Json => ["{\"a\": 1, \"b\": \"quay\"}", "[]", "[1, 2, 2]", "{}"].map(Value::text).into(),
        DataType::Array(element) => arrays(&common(element, mood, 3)),
        DataType::Text { length, fixed } => strings(mood, least).into_iter().map(|t| fitted(&t, *length, *fixed)).collect(),
        _ => strings(mood, least).into_iter().map(Value::text).collect(),
    }
}

// --- numbers --------------------------------------------------------------------------------------

/// The number as a value of a type, if it has it.
pub(super) fn number(n: &Decimal, data_type: &DataType) -> Option<Value> {
    let whole = |n: &Decimal| n.is_integer().then(|| n.to_plain_string().split('.').next().and_then(|t| t.parse::<i64>().ok())).flatten();
    match data_type {
        DataType::Integer(bits) => {
            let most = 1_i128 << (u32::from(*bits).clamp(1, 64) - 1);
            whole(n).filter(|n| (-most..most).contains(&i128::from(*n))).map(Value::Integer)
        }
        DataType::Float(_) => n.to_plain_string().parse().ok().map(Value::Float),
        DataType::Decimal(Some((precision, scale))) => {
            let digits = i64::from(*precision) - i64::from(*scale);
            let fits =
                n.abs() < Decimal::from_str(&format!("1e{digits}")).ok()? && n.normalized().fractional_digit_count() <= i64::from(*scale);
            fits.then(|| Value::decimal(n.with_scale(i64::from(*scale))))
        }
        _ => Some(Value::decimal(n.clone())),
    }
}

fn numbers(data_type: &DataType, mood: Mood, least: usize) -> Vec<Value> {
    const PLAIN: [&str; 7] = ["1", "2", "3", "0", "-1", "1.5", "2.25"];
    const ODD: [&str; 11] = ["-7", "10", "100", "12345", "-1.5", "2.5", "0.05", "1.35", "-2.25", "0.125", "0"];
    let mut strings: Vec<String> = if mood.odd_numbers { ODD.as_slice() } else { &PLAIN }.iter().map(ToString::to_string).collect();
    strings.extend((20..20 + least.saturating_sub(strings.len())).map(|n| n.to_string()));
    strings.iter().filter_map(|t| number(&Decimal::from_str(t).ok()?, data_type)).collect()
}

// --- days -----------------------------------------------------------------------------------------

fn day(i: usize) -> Date {
    date(2026, 1, 28).saturating_add(jiff::Span::new().days(i as i64 * 3))
}

/// The days among the constants and their neighbours.
fn days(constants: &Constants) -> Vec<Date> {
    let read = constants.strings.iter().filter_map(|t| t.get(..10).and_then(|t| t.parse::<Date>().ok()));
    read.flat_map(|d| [0, 1, -1].map(|n| d.saturating_add(jiff::Span::new().days(n)))).collect()
}

fn moments(constants: &Constants) -> Vec<DateTime> {
    constants.strings.iter().filter(|t| t.len() > 10).filter_map(|t| t.replace(' ', "T").parse().ok()).collect()
}

fn common_days(mood: Mood, least: usize) -> Vec<Date> {
    const ENDS: [(i16, i8, i8); 7] =
        [(2024, 2, 29), (2025, 2, 28), (2025, 12, 31), (2026, 1, 1), (2026, 1, 31), (2026, 3, 31), (1999, 12, 31)];
    let ends = if mood.odd_days { ENDS.as_slice() } else { &[] };
    let more = (0..least.max(4).saturating_sub(ends.len())).map(day);
    ends.iter().map(|(y, m, d)| date(*y, *m, *d)).chain(more).collect()
}

fn times(day: Date, mood: Mood) -> Vec<DateTime> {
    let mut times = vec![day.at(0, 0, 0, 0)];
    if mood.odd_days {
        times.extend([day.at(13, 5, 30, 0), day.at(23, 59, 59, 0)]);
    }
    times
}

// --- strings ----------------------------------------------------------------------------------------

/// The text as a column can hold it: blanks at the end of one that is padded mean nothing.
fn fitted(text: &str, length: Option<u32>, fixed: bool) -> Value {
    let cut: String = text.chars().take(length.map_or(usize::MAX, |n| n as usize)).collect();
    Value::text(if fixed { cut.trim_end_matches(' ') } else { cut.as_str() })
}

/// Each constant, a letter more, a letter less, turned round, in other letters.
fn texts_near(constants: &Constants, mood: Mood) -> Vec<String> {
    let mut strings = Vec::new();
    for text in constants.strings.iter().take(8) {
        let letters: Vec<char> = text.chars().collect();
        let capital = letters.iter().take(1).flat_map(|c| c.to_uppercase()).chain(letters.iter().skip(1).copied()).collect();
        strings.extend([text.clone(), format!("{text}x"), letters[..letters.len().saturating_sub(1)].iter().collect(), capital]);
        if letters.len() <= 2 && letters.iter().all(|c| !c.is_alphanumeric()) {
            strings.extend(lists(text));
        } else {
            strings.push(letters.iter().rev().collect());
            strings.extend([format!("{text}{text}mill"), format!("mill{text}")]);
        }
        match mood.strings {
            Strings::Blanks => strings.extend([format!("{text} "), format!(" {text}"), format!("{text}  ")]),
            Strings::Letters => strings.push(text.to_uppercase()),
            _ => {}
        }
    }
    for pattern in constants.patterns.iter().take(4) {
        strings.extend([("", "a"), ("xy", "b"), ("Q ", "7")].map(|(run, one)| pattern.replace('%', run).replace('_', one)));
        let bare = pattern.trim_matches('%');
        strings.extend([bare.to_string(), format!("z{bare}z"), bare.to_uppercase()]);
    }
    strings
}

/// Lists parted by a delimiter: one at either end, two together, none.
fn lists(delimiter: &str) -> Vec<String> {
    let d = delimiter;
    vec![
        format!("lock{d}weir{d}quay"),
        format!("reed{d} {d}mill"),
        format!("{d}mill"),
        format!("reed{d}"),
        format!("tarn{d}{d}ford"),
        format!("{d}{d}"),
    ]
}

fn strings(mood: Mood, least: usize) -> Vec<String> {
    let odd = odd(mood.strings);
    // Among odd strings a few plain ones are enough.
    let plain = if odd.is_empty() { WORDS.len() } else { 3 };
    let more = (0..least.saturating_sub(plain + odd.len())).map(|i| format!("{}{i}", WORDS[i % WORDS.len()]));
    odd.iter().chain(&WORDS[..plain]).map(ToString::to_string).chain(more).collect()
}

// --- arrays ---------------------------------------------------------------------------------------

/// None, one, several, the same twice, a NULL among them.
fn arrays(elements: &[Value]) -> Vec<Value> {
    let array = |items: &[Value]| Value::Array(Box::new(items.to_vec()));
    let Some(first) = elements.first() else { return Vec::new() };
    let second = elements.get(1).unwrap_or(first);
    vec![
        array(&[]),
        array(std::slice::from_ref(first)),
        array(&elements[..elements.len().min(3)]),
        array(&[second.clone(), first.clone(), second.clone()]),
        array(&[first.clone(), Value::Null]),
    ]
}
