//! Conversions to days, times and spans.

use jiff::civil::{Date, DateTime, Time};
use syntax::DialectName;
use values::{Interval, Value};

use super::number::SQL_SERVER_EPOCH_DAYS;
use super::{How, bad, never, to_decimal};
use crate::behaviour::Behaviour;
use crate::compare::as_float;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::mask::sql_server_style;
use crate::moment::{DAY_NANOS, NANOS, as_moment, moment_of, month_named, nanos, rounded_to};
use crate::types::{Moment, Type};

/// A day and time read from a string.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Parsed {
    pub(crate) moment: DateTime,
    pub(crate) has_time: bool,
    /// Minutes east of UTC.
    pub(crate) offset: Option<i64>,
}

/// Why a string is no date.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum NoDate {
    /// It doesn't look like one.
    Form,
    /// It looks like one, of a day there isn't.
    Range,
}

/// A string as a day and time in the forms that need no mask; the dialect tells which it takes.
pub(crate) fn parse_moment(text: &str, behaviour: &Behaviour) -> Result<Parsed, NoDate> {
    let sqlserver = behaviour.name() == DialectName::SqlServer;
    let loose = sqlserver || behaviour.is_mysql();
    let text = text.trim();
    let (day, clock) = match text
        .find(['T', ' '])
        .filter(|i| *i >= 6 && (!sqlserver || text.as_bytes()[..*i].iter().filter(|b| b.is_ascii_digit()).count() >= 3))
    {
        Some(at) => (&text[..at], text[at + 1..].trim()),
        None if sqlserver && text.contains(':') && !text.contains('-') && !text.contains('/') => ("", text),
        None => (text, ""),
    };
    let (day, clock) = if sqlserver && text.starts_with(|c: char| c.is_ascii_alphabetic()) { (text, "") } else { (day, clock) };
    let date =
        if day.is_empty() && sqlserver { Date::new(1900, 1, 1).map_err(|_| NoDate::Range)? } else { parse_day(day, loose, sqlserver)? };
    if clock.is_empty() {
        return Ok(Parsed { moment: date.at(0, 0, 0, 0), has_time: false, offset: None });
    }
    let (clock, offset) = split_offset(clock);
    let time = parse_time(clock).ok_or(NoDate::Form)?;
    Ok(Parsed { moment: DateTime::from_parts(date, time), has_time: true, offset })
}

fn split_offset(clock: &str) -> (&str, Option<i64>) {
    if let Some(rest) = clock.strip_suffix(['Z', 'z']).or_else(|| clock.strip_suffix("UTC")) {
        return (rest.trim_end(), Some(0));
    }
    let Some(at) = clock.rfind(['+', '-']) else { return (clock, None) };
    let digits: String = clock[at + 1..].chars().filter(char::is_ascii_digit).collect();
    let number = |r: std::ops::Range<usize>| digits.get(r).and_then(|d| d.parse::<i64>().ok()).unwrap_or(0);
    let minutes = number(0..2) * 60 + number(2..4);
    (clock[..at].trim_end(), Some(if clock.as_bytes()[at] == b'-' { -minutes } else { minutes }))
}

fn parse_day(text: &str, loose: bool, sqlserver: bool) -> Result<Date, NoDate> {
    let digits = text.bytes().all(|b| b.is_ascii_digit());
    let made = |year: i16, month: i8, day: i8| Date::new(year, month, day).map_err(|_| NoDate::Range);
    if digits && (text.len() == 8 || (loose && text.len() == 6)) {
        let year = text[..text.len() - 4].parse().map_err(|_| NoDate::Form)?;
        let number = |from: usize| text[from..from + 2].parse::<i8>().map_err(|_| NoDate::Form);
        return made(if text.len() == 6 { two_digit_year(year) } else { year }, number(text.len() - 4)?, number(text.len() - 2)?);
    }
    if sqlserver && text.contains(|c: char| c.is_ascii_alphabetic()) {
        return worded_day(text);
    }
    let separators: &[char] = if loose { &['-', '/', '.'] } else { &['-'] };
    let parts: Vec<&str> = text.split(separators).collect();
    let [a, b, c] = parts.as_slice() else { return Err(NoDate::Form) };
    let numeric = parts.iter().all(|p| !p.is_empty() && p.len() <= 4 && p.bytes().all(|b| b.is_ascii_digit()));
    if !numeric {
        return Err(NoDate::Form);
    }
    let number = |p: &str| p.parse::<i16>().map_err(|_| NoDate::Form);
    // SQL Server reads 3/5/2024 as month, day, year (us_english).
    let (year, month, day) = if sqlserver && a.len() <= 2 { (c, a, b) } else { (a, b, c) };
    if year.len() != 4 && !(loose && year.len() == 2) {
        return Err(NoDate::Form);
    }
    let full = if year.len() == 2 { two_digit_year(number(year)?) } else { number(year)? };
    let (month, day) = (number(month)?, number(day)?);
    if month > 12 || day > 31 {
        return Err(NoDate::Range);
    }
    made(full, month as i8, day as i8)
}

/// Up to 49 this century, above the last (two digit year cutoff 2049).
fn two_digit_year(year: i16) -> i16 {
    if year < 50 { 2000 + year } else { 1900 + year }
}

/// `Mar 5 2024`, `5 March 2024`.
fn worded_day(text: &str) -> Result<Date, NoDate> {
    let words: Vec<&str> = text.split([' ', ',', '-']).filter(|w| !w.is_empty()).collect();
    let month = words.iter().find_map(|w| month_named(w)).ok_or(NoDate::Form)?;
    let numbers: Vec<i16> = words.iter().filter_map(|w| w.parse().ok()).collect();
    let (day, year) = match numbers.as_slice() {
        [year, day] if *year > 31 => (*day, *year),
        [day, year] => (*day, if *year < 100 { two_digit_year(*year) } else { *year }),
        _ => return Err(NoDate::Form),
    };
    Date::new(year, month, day as i8).map_err(|_| NoDate::Range)
}

/// `14:05`, `14:05:09.123`, `2:05 PM`.
pub(crate) fn parse_time(text: &str) -> Option<Time> {
    let upper = text.trim().to_ascii_uppercase();
    let (clock, half) = match upper.strip_suffix("PM") {
        Some(clock) => (clock.trim_end(), Some(12)),
        None => upper.strip_suffix("AM").map_or((upper.as_str(), None), |clock| (clock.trim_end(), Some(0))),
    };
    let mut parts = clock.split(':');
    let mut hour: i8 = parts.next()?.parse().ok()?;
    let minute: i8 = if let Some(m) = parts.next() { m.parse().ok()? } else { half.map(|_| 0)? };
    let (second, fraction) = match parts.next() {
        None => (0, 0),
        Some(seconds) => {
            let (whole, part) = seconds.split_once('.').unwrap_or((seconds, ""));
            let nanos = format!("{part:0<9.9}");
            (whole.parse().ok()?, if part.is_empty() { 0 } else { nanos.parse().ok()? })
        }
    };
    if let Some(add) = half {
        if !(1..=12).contains(&hour) {
            return None;
        }
        hour = hour % 12 + add;
    }
    Time::new(hour, minute, second, fraction).ok()
}

fn no_date(value: &Value, why: NoDate, to: &Type, behaviour: &Behaviour) -> Failure {
    let legacy = matches!(to, Type::DateTime(Moment::Ticks | Moment::Minutes));
    let codes: Codes = match (why, legacy) {
        (NoDate::Range, true) => &[(DialectName::SqlServer, "Msg 242")],
        (NoDate::Range, false) => &[(DialectName::SqlServer, "Msg 241"), (DialectName::Postgres, "22008")],
        _ => &[(DialectName::SqlServer, "Msg 241"), (DialectName::Postgres, "22007")],
    };
    let what = if *to == Type::Date { "a date" } else { "a date and time" };
    bad(value, what, behaviour, codes)
}

/// A value as a moment, strings by the dialect's rules; MySQL's wrong dates are NULL (`None`).
pub(crate) fn to_moment(value: &Value, to: &Type, how: How, behaviour: &Behaviour) -> Outcome<Option<DateTime>> {
    if let Some(moment) = as_moment(value) {
        return Ok(Some(moment));
    }
    match value {
        Value::Text(text) => {
            if behaviour.name() == DialectName::Oracle {
                return behaviour.session_date(text).map(Some);
            }
            if let Some(style) = how.style.filter(|_| behaviour.name() == DialectName::SqlServer)
                && let Some(read) = sql_server_style::read(text, style)
            {
                return Ok(Some(read));
            }
            match parse_moment(text, behaviour) {
                Ok(parsed) => Ok(Some(parsed.moment)),
                Err(_) if behaviour.is_mysql() || behaviour.name() == DialectName::Sqlite || !behaviour.strict => Ok(None),
                Err(why) => Err(no_date(value, why, to, behaviour)),
            }
        }
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) | Value::Boolean(_) if behaviour.name() == DialectName::SqlServer => {
            let days = as_float(value).unwrap_or(0.0);
            let exact = to_decimal(value).map_or(0.0, |_| days);
            Ok(moment_of((exact * DAY_NANOS as f64).round() as i128 - SQL_SERVER_EPOCH_DAYS * DAY_NANOS))
        }
        Value::Integer(number) if behaviour.is_mysql() => Ok(parse_moment(&number.to_string(), behaviour).ok().map(|p| p.moment)),
        other => Err(no_date(other, NoDate::Form, to, behaviour)),
    }
}

pub(super) fn to_date(value: &Value, from: &Type, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    if from.is_numeric() && behaviour.name() == DialectName::SqlServer {
        return Err(never(from, "a date", behaviour));
    }
    Ok(to_moment(value, &Type::Date, how, behaviour)?.map_or(Value::Null, |t| Value::Date(t.date())))
}

pub(super) fn to_date_time(value: &Value, from: &Type, to: Moment, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    if from.is_numeric() && behaviour.name() == DialectName::SqlServer && matches!(to, Moment::Digits(_)) {
        return Err(never(from, "a date and time", behaviour));
    }
    if from.is_numeric() && behaviour.name() == DialectName::Oracle {
        return Err(never(from, "a date", behaviour));
    }
    let as_type = Type::DateTime(to);
    let Some(moment) = to_moment(value, &as_type, how, behaviour)? else { return Ok(Value::Null) };
    let kept = kept_by(moment, to);
    // SQL Server's DATETIME begins with 1753.
    match kept {
        Some(kept) if to != Moment::Ticks || kept.year() >= 1753 => Ok(Value::Timestamp(kept)),
        _ => Err(no_date(value, NoDate::Range, &as_type, behaviour)),
    }
}

/// A moment in the steps its type holds.
fn kept_by(moment: DateTime, to: Moment) -> Option<DateTime> {
    match to {
        Moment::Digits(digits) => rounded_to(moment, NANOS / 10i128.pow(u32::from(digits.min(9)))),
        Moment::Seconds => rounded_to(moment, 1).and_then(|t| moment_of(nanos(t).div_euclid(NANOS) * NANOS)),
        Moment::Minutes => {
            // 29.998 seconds go down, 29.999 up (smalldatetime).
            let total = nanos(moment) + NANOS / 1000;
            moment_of((total + 30 * NANOS).div_euclid(60 * NANOS) * 60 * NANOS)
        }
        Moment::Ticks => {
            let total = nanos(moment);
            let ticks = (total * 300 + NANOS / 2).div_euclid(NANOS);
            // Shown in milliseconds: .000, .003, .007.
            let millis = (ticks * 1000 + 150).div_euclid(300);
            moment_of(millis * (NANOS / 1000))
        }
    }
}

pub(super) fn to_time(value: &Value, digits: u8, behaviour: &Behaviour) -> Outcome<Value> {
    let time = match value {
        Value::Time(t) => Some(*t),
        Value::Timestamp(t) | Value::Instant(t, _) => Some(t.time()),
        Value::Date(_) => Some(Time::midnight()),
        Value::Text(text) => match parse_time(text).or_else(|| parse_moment(text, behaviour).ok().map(|p| p.moment.time())) {
            None if behaviour.is_mysql() => return Ok(Value::Null),
            found => found,
        },
        _ => None,
    };
    let time =
        time.ok_or_else(|| bad(value, "a time", behaviour, &[(DialectName::SqlServer, "Msg 241"), (DialectName::Postgres, "22007")]))?;
    let step = NANOS / 10i128.pow(u32::from(digits.min(9)));
    let total = (crate::moment::time_nanos(time) + step / 2).div_euclid(step) * step;
    Ok(Value::Time(crate::moment::time_of(total)))
}

pub(super) fn to_zoned(value: &Value, how: How, behaviour: &Behaviour) -> Outcome<Value> {
    if let Value::Text(text) = value
        && let Ok(Parsed { moment, offset: Some(minutes), .. }) = parse_moment(text, behaviour)
    {
        let utc = moment_of(nanos(moment) - i128::from(minutes) * 60 * NANOS);
        return utc
            .map(|t| Value::Instant(t, shown_offset(minutes, behaviour)))
            .ok_or_else(|| no_date(value, NoDate::Range, &Type::Zoned, behaviour));
    }
    Ok(to_moment(value, &Type::Zoned, how, behaviour)?.map_or(Value::Null, |t| Value::Instant(t, 0)))
}

/// SQL Server keeps the offset that was written; the others show instants in UTC.
fn shown_offset(minutes: i64, behaviour: &Behaviour) -> i16 {
    if behaviour.name() == DialectName::SqlServer { minutes as i16 } else { 0 }
}

/// `1 day 02:00:00`, `3 months`, `-1 year` (PostgreSQL, DuckDB).
pub(super) fn to_interval(value: Value, behaviour: &Behaviour) -> Outcome<Value> {
    let Value::Text(text) = &value else { return Ok(value) };
    let wrong = || bad(&value, "an interval", behaviour, &[(DialectName::Postgres, "22007")]);
    let mut interval = Interval::default();
    let words: Vec<&str> = text.split_whitespace().collect();
    let mut i = 0;
    while i < words.len() {
        if words[i].contains(':') {
            let (sign, clock) = words[i].strip_prefix('-').map_or((1, words[i]), |rest| (-1, rest));
            interval.nanoseconds += sign * crate::moment::time_nanos(parse_time(clock).ok_or_else(wrong)?);
            i += 1;
            continue;
        }
        let amount: f64 = words[i].parse().map_err(|_| wrong())?;
        let unit = words.get(i + 1).ok_or_else(wrong)?;
        crate::function::date_arithmetic::Unit::named(unit).ok_or_else(wrong)?.add_to(&mut interval, amount);
        i += 2;
    }
    Ok(Value::Interval(Box::new(interval)))
}

/// A day before the first or after the last there is.
pub(crate) fn out_of_range(behaviour: &Behaviour) -> Failure {
    Failure::new(FailureKind::Overflow, "there is no such date")
        .coded(behaviour.name(), &[(DialectName::Oracle, "ORA-01841"), (DialectName::SqlServer, "Msg 517")])
}
