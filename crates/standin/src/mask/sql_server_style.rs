//! SQL Server's styles of CONVERT, and FORMAT.

use jiff::civil::{Date, DateTime, Time};
use values::Value;

use crate::convert::{parse_time, rounded, to_decimal};
use crate::failure::{Failure, Outcome};
use crate::function::Args;
use crate::mask::{letters, mysql_number};
use crate::moment::{MONTHS, as_moment, month_named};

/// `2024-03-05 14:05:09.1234567`.
pub(crate) fn iso(moment: DateTime, digits: u8) -> String {
    format!("{} {}", moment.date(), clock(moment.time(), digits))
}

/// `14:05:09.123`.
pub(crate) fn clock(time: Time, digits: u8) -> String {
    let text = format!("{:02}:{:02}:{:02}", time.hour(), time.minute(), time.second());
    if digits == 0 {
        return text;
    }
    format!("{text}.{}", &format!("{:09}", time.subsec_nanosecond())[..digits.min(9) as usize])
}

/// A moment in a style (CAST and CONVERT, date and time styles).
pub(crate) fn written(moment: DateTime, style: i64, digits: u8) -> Outcome<String> {
    let (date, time) = (moment.date(), moment.time());
    let (y, m, d) = (date.year(), date.month(), date.day());
    let month = &MONTHS[m as usize - 1][..3];
    let hour12 = (time.hour() + 11) % 12 + 1;
    let half = if time.hour() < 12 { "AM" } else { "PM" };
    let millis = time.subsec_nanosecond() / 1_000_000;
    let full = format!("{:02}:{:02}:{:02}", time.hour(), time.minute(), time.second());
    Ok(match style {
        0 | 100 => format!("{month} {d:>2} {y} {hour12:>2}:{:02}{half}", time.minute()),
        1 => format!("{m:02}/{d:02}/{:02}", y % 100),
        101 => format!("{m:02}/{d:02}/{y}"),
        2 => format!("{:02}.{m:02}.{d:02}", y % 100),
        102 => format!("{y}.{m:02}.{d:02}"),
        3 => format!("{d:02}/{m:02}/{:02}", y % 100),
        103 => format!("{d:02}/{m:02}/{y}"),
        4 => format!("{d:02}.{m:02}.{:02}", y % 100),
        104 => format!("{d:02}.{m:02}.{y}"),
        5 => format!("{d:02}-{m:02}-{:02}", y % 100),
        105 => format!("{d:02}-{m:02}-{y}"),
        6 => format!("{d:02} {month} {:02}", y % 100),
        106 => format!("{d:02} {month} {y}"),
        7 => format!("{month} {d:02}, {:02}", y % 100),
        107 => format!("{month} {d:02}, {y}"),
        8 | 24 | 108 => full,
        9 | 109 => format!("{month} {d:>2} {y} {hour12:>2}:{:02}:{:02}:{millis:03}{half}", time.minute(), time.second()),
        10 => format!("{m:02}-{d:02}-{:02}", y % 100),
        110 => format!("{m:02}-{d:02}-{y}"),
        11 => format!("{:02}/{m:02}/{d:02}", y % 100),
        111 => format!("{y}/{m:02}/{d:02}"),
        12 => format!("{:02}{m:02}{d:02}", y % 100),
        112 => format!("{y:04}{m:02}{d:02}"),
        13 | 113 => format!("{d:02} {month} {y} {full}:{millis:03}"),
        14 | 114 => format!("{full}:{millis:03}"),
        20 | 120 => format!("{date} {full}"),
        21 | 25 | 121 => format!("{date} {}", clock(time, if digits == 0 { 3 } else { digits })),
        22 => format!("{m:02}/{d:02}/{:02} {hour12:>2}:{:02}:{:02} {half}", y % 100, time.minute(), time.second()),
        23 => date.to_string(),
        126 | 127 => format!("{date}T{}", if time.subsec_nanosecond() == 0 { full } else { clock(time, digits.max(3)) }),
        other => return Err(Failure::unknown(&format!("the style {other}"))),
    })
}

/// A string read in a style; `None` where the style says nothing about it.
pub(crate) fn read(text: &str, style: i64) -> Option<DateTime> {
    let order = match style {
        1 | 101 | 10 | 110 => "mdy",
        3 | 103 | 4 | 104 | 5 | 105 => "dmy",
        2 | 102 | 11 | 111 => "ymd",
        6 | 106 | 13 | 113 => "dMy",
        _ => return None,
    };
    let (day_text, clock) = match order {
        "dMy" => (text, ""),
        _ => text.trim().split_once(' ').unwrap_or((text.trim(), "")),
    };
    let parts: Vec<&str> = day_text.split(['/', '.', '-', ' ']).filter(|p| !p.is_empty()).collect();
    let [a, b, c] = parts.as_slice() else { return None };
    let number = |p: &str| p.parse::<i16>().ok();
    let full = |y: i16| {
        if y < 50 {
            y + 2000
        } else if y < 100 {
            y + 1900
        } else {
            y
        }
    };
    let (y, m, d) = match order {
        "mdy" => (number(c)?, number(a)?, number(b)?),
        "dmy" => (number(c)?, number(b)?, number(a)?),
        "ymd" => (number(a)?, number(b)?, number(c)?),
        _ => (number(c)?, i16::from(month_named(b)?), number(a)?),
    };
    let date = Date::new(full(y), i8::try_from(m).ok()?, i8::try_from(d).ok()?).ok()?;
    let time = if clock.is_empty() { Time::midnight() } else { parse_time(clock)? };
    Some(DateTime::from_parts(date, time))
}

/// MONEY: style 1 parts thousands, 2 shows four digits.
pub(crate) fn money(value: &Value, style: i64) -> Outcome<String> {
    let number = to_decimal(value).unwrap_or_default();
    Ok(match style {
        1 => mysql_number::grouped(&number, 2),
        2 => rounded(&number, 4).to_plain_string(),
        _ => rounded(&number, 2).to_plain_string(),
    })
}

/// FORMAT(value, mask [, culture]): en-US alone is known.
pub(crate) fn format(a: &Args<'_>) -> Outcome<Value> {
    if a.count() > 2 && !matches!(a.text(2).to_ascii_lowercase().as_str(), "en-us" | "") {
        return Err(Failure::unknown(&format!("FORMAT in the culture {}", a.text(2))));
    }
    let mask = a.text(1);
    if let Some(moment) = as_moment(a.value(0)) {
        let mask = match mask.as_str() {
            "d" => "M/d/yyyy",
            "D" => "dddd, MMMM d, yyyy",
            "t" => "h:mm tt",
            "T" => "h:mm:ss tt",
            "g" => "M/d/yyyy h:mm tt",
            "G" => "M/d/yyyy h:mm:ss tt",
            "s" => "yyyy-MM-ddTHH:mm:ss",
            "y" | "Y" => "MMMM yyyy",
            "m" | "M" => "MMMM d",
            other => other,
        };
        let mask = mask.replace("ddT", "dd'T'");
        return match letters::written(moment, &mask, false) {
            Some(text) => a.give(text),
            None => Err(Failure::unknown(&format!("the mask '{mask}'"))),
        };
    }
    let number = a.number(0)?;
    let (letter, rest) = mask.split_at(mask.chars().next().map_or(0, char::len_utf8));
    let digits = rest.parse::<i64>().ok();
    let text = match (letter, digits, rest.is_empty()) {
        ("N" | "n", digits, empty) if digits.is_some() || empty => mysql_number::grouped(&number, digits.unwrap_or(2)),
        ("C" | "c", digits, empty) if digits.is_some() || empty => {
            let text = mysql_number::grouped(&number, digits.unwrap_or(2));
            text.strip_prefix('-').map_or(format!("${text}"), |t| format!("-${t}"))
        }
        ("F" | "f", digits, empty) if digits.is_some() || empty => rounded(&number, digits.unwrap_or(2)).to_plain_string(),
        ("P" | "p", digits, empty) if digits.is_some() || empty => {
            format!("{}%", mysql_number::grouped(&(number * values::Decimal::from(100)), digits.unwrap_or(2)))
        }
        ("D" | "d", digits, empty) if digits.is_some() || empty => {
            let width = digits.unwrap_or(0).max(0) as usize;
            let plain = rounded(&number, 0).to_plain_string();
            plain.strip_prefix('-').map_or(format!("{plain:0>width$}"), |p| format!("-{p:0>width$}"))
        }
        ("X" | "x", digits, empty) if digits.is_some() || empty => {
            let width = digits.unwrap_or(0).max(0) as usize;
            let value = a.whole(0)?;
            if letter == "X" { format!("{value:0width$X}") } else { format!("{value:0width$x}") }
        }
        ("G" | "g", None, true) => number.normalized().to_plain_string(),
        _ => custom(&number, &mask),
    };
    a.give(text)
}

/// A mask of `0`, `#`, `,` and `.` with literal signs between.
fn custom(number: &values::Decimal, mask: &str) -> String {
    let (whole_mask, part_mask) = mask.split_once('.').map_or((mask, ""), |(w, p)| (w, p));
    let places = part_mask.chars().filter(|c| matches!(c, '0' | '#')).count();
    let scaled = rounded(number, places as i64);
    let plain = scaled.to_plain_string();
    let (sign, plain) = plain.strip_prefix('-').map_or(("", plain.as_str()), |p| ("-", p));
    let (whole, part) = plain.split_once('.').unwrap_or((plain, ""));
    let whole = if whole == "0" { "" } else { whole };
    let grouping = whole_mask.contains(',');
    let signs: Vec<char> = whole_mask.chars().filter(|c| *c != ',').collect();
    let first_place = signs.iter().position(|c| matches!(c, '0' | '#')).unwrap_or(signs.len());
    let mut digits: Vec<char> = whole.chars().collect();
    let mut out: Vec<char> = Vec::new();
    let mut count = 0;
    let mut put = |out: &mut Vec<char>, d: char| {
        if grouping && count > 0 && count % 3 == 0 {
            out.push(',');
        }
        out.push(d);
        count += 1;
    };
    for (at, sign) in signs.iter().enumerate().rev() {
        match sign {
            '0' | '#' => {
                match digits.pop() {
                    Some(d) => put(&mut out, d),
                    None if *sign == '0' => put(&mut out, '0'),
                    None => {}
                }
                if at == first_place {
                    while let Some(d) = digits.pop() {
                        put(&mut out, d);
                    }
                }
            }
            other => out.push(*other),
        }
    }
    let mut text: String = sign.chars().chain(out.into_iter().rev()).collect();
    let mut part: String = part.to_string();
    let keep =
        part_mask.chars().filter(|c| matches!(c, '0' | '#')).collect::<Vec<_>>().iter().rposition(|c| *c == '0').map_or(0, |p| p + 1);
    while part.len() > keep && part.ends_with('0') {
        part.pop();
    }
    if !part.is_empty() {
        text.push('.');
        text.push_str(&part);
    }
    text
}
