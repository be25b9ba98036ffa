//! Masks of percent signs: MySQL's DATE_FORMAT, and the strftime of SQLite, DuckDB and BigQuery.

use jiff::civil::{Date, DateTime, Time};

use crate::moment::{DAYS, MONTHS, NANOS, day_number, day_of_year, iso_week, month_named, nanos, weekday};

/// Which letters mean what.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Kind {
    Mysql,
    /// strftime of C.
    Strftime,
    /// The same with SQLite's own letters.
    Sqlite,
}

/// A moment by a mask; `None` for a letter that isn't known.
pub(crate) fn written(moment: DateTime, mask: &str, kind: Kind) -> Option<String> {
    let mut out = String::new();
    let mut chars = mask.chars();
    while let Some(c) = chars.next() {
        if c != '%' {
            out.push(c);
            continue;
        }
        let mut letter = chars.next()?;
        let unpadded = letter == '-' && kind == Kind::Strftime;
        if unpadded {
            letter = chars.next()?;
        }
        let piece = match kind {
            Kind::Mysql => mysql_letter(moment, letter),
            Kind::Strftime => strftime_letter(moment, letter)?,
            Kind::Sqlite => sqlite_letter(moment, letter)?,
        };
        out.push_str(if unpadded { piece.trim_start_matches('0') } else { &piece });
    }
    Some(out)
}

fn hour12(time: Time) -> i8 {
    (time.hour() + 11) % 12 + 1
}

fn mysql_letter(moment: DateTime, letter: char) -> String {
    let (date, time) = (moment.date(), moment.time());
    match letter {
        'Y' => format!("{:04}", date.year()),
        'y' => format!("{:02}", date.year() % 100),
        'm' => format!("{:02}", date.month()),
        'c' => date.month().to_string(),
        'M' => MONTHS[date.month() as usize - 1].to_string(),
        'b' => MONTHS[date.month() as usize - 1][..3].to_string(),
        'd' => format!("{:02}", date.day()),
        'e' => date.day().to_string(),
        'D' => {
            let ending = match (date.day() % 10, date.day()) {
                (_, 11..=13) => "th",
                (1, _) => "st",
                (2, _) => "nd",
                (3, _) => "rd",
                _ => "th",
            };
            format!("{}{ending}", date.day())
        }
        'W' => DAYS[weekday(date) as usize - 1].to_string(),
        'a' => DAYS[weekday(date) as usize - 1][..3].to_string(),
        'w' => (weekday(date) % 7).to_string(),
        'j' => format!("{:03}", day_of_year(date)),
        'H' => format!("{:02}", time.hour()),
        'k' => time.hour().to_string(),
        'h' | 'I' => format!("{:02}", hour12(time)),
        'l' => hour12(time).to_string(),
        'i' => format!("{:02}", time.minute()),
        's' | 'S' => format!("{:02}", time.second()),
        'f' => format!("{:06}", time.subsec_nanosecond() / 1000),
        'p' => if time.hour() < 12 { "AM" } else { "PM" }.to_string(),
        'r' => format!("{:02}:{:02}:{:02} {}", hour12(time), time.minute(), time.second(), if time.hour() < 12 { "AM" } else { "PM" }),
        'T' => format!("{:02}:{:02}:{:02}", time.hour(), time.minute(), time.second()),
        'v' => format!("{:02}", iso_week(date).1),
        'x' => format!("{:04}", iso_week(date).0),
        'U' => format!("{:02}", (day_of_year(date) + 6 - weekday(date) % 7) / 7),
        'u' => format!("{:02}", iso_week(date).1),
        other => other.to_string(),
    }
}

fn strftime_letter(moment: DateTime, letter: char) -> Option<String> {
    let (date, time) = (moment.date(), moment.time());
    Some(match letter {
        'Y' | 'y' | 'm' | 'd' | 'H' | 'j' | 'p' | 'a' | 'b' | 'w' | 'S' | 'U' => mysql_letter(moment, letter),
        'M' => format!("{:02}", time.minute()),
        'I' => format!("{:02}", hour12(time)),
        'B' => MONTHS[date.month() as usize - 1].to_string(),
        'h' => MONTHS[date.month() as usize - 1][..3].to_string(),
        'A' => DAYS[weekday(date) as usize - 1].to_string(),
        'e' => format!("{:2}", date.day()),
        'u' => weekday(date).to_string(),
        'V' => format!("{:02}", iso_week(date).1),
        'G' => format!("{:04}", iso_week(date).0),
        'F' => date.to_string(),
        'T' | 'X' => mysql_letter(moment, 'T'),
        'R' => format!("{:02}:{:02}", time.hour(), time.minute()),
        'D' | 'x' => format!("{:02}/{:02}/{:02}", date.month(), date.day(), date.year() % 100),
        'f' => format!("{:06}", time.subsec_nanosecond() / 1000),
        'g' => format!("{:03}", time.subsec_nanosecond() / 1_000_000),
        'n' => format!("{:09}", time.subsec_nanosecond()),
        's' => (nanos(moment) / NANOS).to_string(),
        'W' => format!("{:02}", (day_of_year(date) + 7 - weekday(date)) / 7),
        'Q' => crate::moment::quarter(date).to_string(),
        'z' => "+0000".to_string(),
        'Z' => "UTC".to_string(),
        '%' => "%".to_string(),
        _ => return None,
    })
}

fn sqlite_letter(moment: DateTime, letter: char) -> Option<String> {
    let (date, time) = (moment.date(), moment.time());
    Some(match letter {
        'd' | 'H' | 'j' | 'm' | 'w' | 'Y' | 'S' | 'p' => mysql_letter(moment, letter),
        'M' => format!("{:02}", time.minute()),
        'f' => format!("{:02}.{:03}", time.second(), time.subsec_nanosecond() / 1_000_000),
        'J' => format!(
            "{}",
            (day_number(date) as f64 + 2_440_587.5) + (crate::moment::time_nanos(time) as f64 / crate::moment::DAY_NANOS as f64)
        ),
        's' => (nanos(moment) / NANOS).to_string(),
        'e' => format!("{:2}", date.day()),
        'F' => date.to_string(),
        'I' => format!("{:02}", hour12(time)),
        'k' => format!("{:2}", time.hour()),
        'l' => format!("{:2}", hour12(time)),
        'R' => format!("{:02}:{:02}", time.hour(), time.minute()),
        'T' => mysql_letter(moment, 'T'),
        'u' => weekday(date).to_string(),
        'G' => format!("{:04}", iso_week(date).0),
        'V' => format!("{:02}", iso_week(date).1),
        'W' => format!("{:02}", (day_of_year(date) + 7 - weekday(date)) / 7),
        'U' => mysql_letter(moment, 'U'),
        '%' => "%".to_string(),
        _ => return None,
    })
}

/// Takes a number of so many digits at most off the front.
fn take_number(rest: &mut &str, most: usize) -> Option<i64> {
    let end = rest.bytes().take(most).take_while(u8::is_ascii_digit).count();
    let (digits, after) = rest.split_at(end);
    *rest = after;
    digits.parse().ok()
}

/// A string read by a mask; whether it had a time, too.
pub(crate) fn read(text: &str, mask: &str, kind: Kind) -> Option<(DateTime, bool)> {
    let (mut year, mut month, mut day): (i16, i8, i8) = (0, 0, 0);
    let (mut hour, mut minute, mut second, mut nano): (i8, i8, i8, i32) = (0, 0, 0, 0);
    let (mut half, mut has_time, mut has_date, mut of_year) = (None, false, false, None);
    let mut rest = text;
    let mut chars = mask.chars();
    while let Some(c) = chars.next() {
        if c.is_whitespace() {
            rest = rest.trim_start();
            continue;
        }
        if c != '%' {
            rest = rest.strip_prefix(c)?;
            continue;
        }
        let letter = chars.next()?;
        let minute_letter = if kind == Kind::Mysql { 'i' } else { 'M' };
        let month_letter = if kind == Kind::Mysql { 'M' } else { 'B' };
        has_date |= matches!(letter, 'Y' | 'y' | 'm' | 'c' | 'd' | 'e' | 'b' | 'j' | 'F') || letter == month_letter;
        has_time |= matches!(letter, 'H' | 'k' | 'h' | 'I' | 'l' | 's' | 'S' | 'p' | 'T' | 'r' | 'f') || letter == minute_letter;
        match letter {
            'Y' => year = take_number(&mut rest, 4)? as i16,
            'y' => {
                let n = take_number(&mut rest, 2)? as i16;
                year = if n < 70 { 2000 + n } else { 1900 + n };
            }
            'm' | 'c' => month = take_number(&mut rest, 2)? as i8,
            'd' | 'e' => day = take_number(&mut rest, 2)? as i8,
            'j' => of_year = Some(take_number(&mut rest, 3)?),
            'H' | 'k' | 'h' | 'I' | 'l' => hour = take_number(&mut rest, 2)? as i8,
            's' | 'S' => second = take_number(&mut rest, 2)? as i8,
            'f' => {
                let end = rest.bytes().take(6).take_while(u8::is_ascii_digit).count();
                nano = format!("{:0<9}", &rest[..end]).parse().ok()?;
                rest = &rest[end..];
            }
            'p' => {
                let upper = rest.get(..2)?.to_ascii_uppercase();
                half = Some(upper == "PM");
                rest = &rest[2..];
            }
            'T' => {
                let inner = read(rest.get(..8)?, if kind == Kind::Mysql { "%H:%i:%s" } else { "%H:%M:%S" }, kind)?.0.time();
                (hour, minute, second) = (inner.hour(), inner.minute(), inner.second());
                rest = &rest[8..];
            }
            'F' => {
                let inner: Date = rest.get(..10)?.parse().ok()?;
                (year, month, day) = (inner.year(), inner.month(), inner.day());
                rest = &rest[10..];
            }
            l if l == minute_letter => minute = take_number(&mut rest, 2)? as i8,
            l if l == month_letter || l == 'b' => {
                let end = rest.bytes().take_while(u8::is_ascii_alphabetic).count();
                month = month_named(&rest[..end])?;
                rest = &rest[end..];
            }
            'a' | 'W' | 'A' => rest = rest.trim_start_matches(|c: char| c.is_ascii_alphabetic()),
            '%' => rest = rest.strip_prefix('%')?,
            _ => return None,
        }
    }
    if let Some(afternoon) = half {
        hour = hour % 12 + if afternoon { 12 } else { 0 };
    }
    if kind != Kind::Mysql && !rest.is_empty() {
        return None;
    }
    let date = match (has_date, of_year) {
        (true, Some(number)) => crate::moment::day_of(day_number(Date::new(year, 1, 1).ok()?) + number - 1)?,
        (true, None) => Date::new(
            year,
            if month == 0 && kind != Kind::Mysql { 1 } else { month },
            if day == 0 && kind != Kind::Mysql { 1 } else { day },
        )
        .ok()?,
        (false, _) => Date::new(1970, 1, 1).ok()?,
    };
    Some((DateTime::from_parts(date, Time::new(hour, minute, second, nano).ok()?), has_time))
}
