//! Date masks of Oracle and PostgreSQL: `YYYY-MM-DD HH24:MI:SS`.
//!
//! Oracle SQL Language Reference, Format Models; PostgreSQL, Data Type Formatting Functions.

use jiff::civil::{Date, DateTime, Time};
use syntax::DialectName;

use crate::behaviour::Behaviour;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::moment::{DAYS, MONTHS, NANOS, day_number, day_of_year, iso_week, month_named, quarter, weekday};
use crate::types::{Span, Type};

/// The session's NLS_DATE_FORMAT.
pub(crate) const SESSION_FORMAT: &str = "YYYY-MM-DD HH24:MI:SS";
/// The session's format of timestamps.
pub(crate) const SESSION_TIMESTAMP: &str = "YYYY-MM-DD HH24:MI:SS.FF6";

/// Elements, longer ones before their own beginnings.
const ELEMENTS: &[&str] = &[
    "SYYYY", "YYYY", "RRRR", "IYYY", "YEAR", "YYY", "IYY", "YY", "RR", "IY", "Y", "MONTH", "MON", "MM", "MI", "RM", "DDD", "DD", "DAY",
    "DY", "D", "HH24", "HH12", "HH", "SSSSS", "SS", "FF1", "FF2", "FF3", "FF4", "FF5", "FF6", "FF7", "FF8", "FF9", "FF", "MS", "US",
    "A.M.", "P.M.", "AM", "PM", "A.D.", "B.C.", "AD", "BC", "IW", "WW", "W", "IDDD", "ID", "I", "Q", "CC", "J", "TZH", "TZM", "TZ", "FM",
    "FX", "SCC", "TS",
];

/// Elements that a string may end before.
const TIME_ELEMENTS: [&str; 11] = ["HH24", "HH12", "HH", "MI", "SS", "SSSSS", "FF", "FF6", "FF3", "MS", "US"];

/// A piece of a mask.
enum Piece<'m> {
    Element { name: &'static str, written: &'m str, suffix: Suffix },
    Text(&'m str),
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Suffix {
    None,
    Ordinal,
    Spelled,
    SpelledOrdinal,
}

fn pieces(mask: &str) -> Vec<Piece<'_>> {
    let mut out = Vec::new();
    let mut rest = mask;
    while !rest.is_empty() {
        if let Some(quoted) = rest.strip_prefix('"') {
            let end = quoted.find('"').unwrap_or(quoted.len());
            out.push(Piece::Text(&quoted[..end]));
            rest = quoted.get(end + 1..).unwrap_or("");
            continue;
        }
        let found = ELEMENTS.iter().find(|e| rest.get(..e.len()).is_some_and(|start| start.eq_ignore_ascii_case(e)));
        let Some(name) = found else {
            let end = rest.char_indices().nth(1).map_or(rest.len(), |(i, _)| i);
            out.push(Piece::Text(&rest[..end]));
            rest = &rest[end..];
            continue;
        };
        let written = &rest[..name.len()];
        rest = &rest[name.len()..];
        let upper = rest.get(..4).unwrap_or(rest).to_ascii_uppercase();
        let (suffix, length) = if upper.starts_with("SPTH") || upper.starts_with("THSP") {
            (Suffix::SpelledOrdinal, 4)
        } else if upper.starts_with("SP") {
            (Suffix::Spelled, 2)
        } else if upper.starts_with("TH") {
            (Suffix::Ordinal, 2)
        } else {
            (Suffix::None, 0)
        };
        rest = &rest[length..];
        out.push(Piece::Element { name, written, suffix });
    }
    out
}

/// A word in the letters its element is written in.
fn cased(word: &str, written: &str) -> String {
    let mut letters = written.chars().filter(char::is_ascii_alphabetic);
    match (letters.next().map(char::is_uppercase), letters.next().map(char::is_uppercase)) {
        (Some(true), Some(true) | None) => word.to_uppercase(),
        (Some(true), Some(false)) => {
            let mut chars = word.chars();
            chars.next().map_or(String::new(), |c| c.to_uppercase().collect::<String>() + &chars.as_str().to_lowercase())
        }
        _ => word.to_lowercase(),
    }
}

/// A moment by a mask.
pub(crate) fn written(moment: DateTime, mask: &str, behaviour: &Behaviour) -> Outcome<String> {
    let (date, time) = (moment.date(), moment.time());
    let mut out = String::new();
    let mut fill = true;
    let postgres = behaviour.name() == DialectName::Postgres;
    for piece in pieces(mask) {
        let (name, written, suffix) = match piece {
            Piece::Text(text) => {
                out.push_str(text);
                continue;
            }
            Piece::Element { name, written, suffix } => (name, written, suffix),
        };
        // In Oracle FM turns filling off and on; in PostgreSQL it holds for the next element.
        if name == "FM" {
            fill = if postgres { false } else { !fill };
            continue;
        }
        let number = |value: i64, width: usize| if fill { format!("{value:0width$}") } else { value.to_string() };
        let year = i64::from(date.year());
        let (iso_year, week) = iso_week(date);
        let hour = i64::from(time.hour());
        let named = |word: &str, width: usize| {
            let word = cased(word, written);
            if fill { format!("{word:<width$}") } else { word }
        };
        let nanos = i128::from(time.subsec_nanosecond());
        let plain = match name {
            "SYYYY" => number(year, 4),
            "YYYY" | "RRRR" => number(year, 4),
            "YYY" => number(year % 1000, 3),
            "YY" | "RR" => number(year % 100, 2),
            "Y" => number(year % 10, 1),
            "IYYY" => number(iso_year, 4),
            "IYY" => number(iso_year % 1000, 3),
            "IY" => number(iso_year % 100, 2),
            "I" => number(iso_year % 10, 1),
            "YEAR" => cased(&year_in_words(year), written),
            "CC" | "SCC" => number((year + 99) / 100, 2),
            "Q" => quarter(date).to_string(),
            "MM" => number(i64::from(date.month()), 2),
            "MON" => cased(&MONTHS[date.month() as usize - 1][..3], written),
            "MONTH" => named(MONTHS[date.month() as usize - 1], 9),
            "RM" => named(["I", "II", "III", "IV", "V", "VI", "VII", "VIII", "IX", "X", "XI", "XII"][date.month() as usize - 1], 4),
            "WW" => number((day_of_year(date) - 1) / 7 + 1, 2),
            "IW" => number(week, 2),
            "W" => ((i64::from(date.day()) - 1) / 7 + 1).to_string(),
            "DDD" => number(day_of_year(date), 3),
            "DD" => number(i64::from(date.day()), 2),
            // Sunday is 1 (NLS_TERRITORY AMERICA).
            "D" => (weekday(date) % 7 + 1).to_string(),
            "ID" => weekday(date).to_string(),
            "IDDD" => number((week - 1) * 7 + weekday(date), 3),
            "DAY" => named(DAYS[weekday(date) as usize - 1], 9),
            "DY" => cased(&DAYS[weekday(date) as usize - 1][..3], written),
            "J" => (day_number(date) + 2_440_588).to_string(),
            "HH24" => number(hour, 2),
            "HH12" | "HH" => number((hour + 11) % 12 + 1, 2),
            "MI" => number(i64::from(time.minute()), 2),
            "SS" => number(i64::from(time.second()), 2),
            "SSSSS" => number(hour * 3600 + i64::from(time.minute()) * 60 + i64::from(time.second()), 5),
            "MS" => format!("{:03}", nanos / 1_000_000),
            "US" => format!("{:06}", nanos / 1000),
            "FF" => format!("{:06}", nanos / 1000),
            "AM" | "PM" => cased(if hour < 12 { "AM" } else { "PM" }, written),
            "A.M." | "P.M." => cased(if hour < 12 { "A.M." } else { "P.M." }, written),
            "AD" | "BC" => cased("AD", written),
            "A.D." | "B.C." => cased("A.D.", written),
            "TZH" => "+00".to_string(),
            "TZM" => "00".to_string(),
            "TZ" => "UTC".to_string(),
            "FX" => String::new(),
            "TS" => format!("{}:{:02}:{:02} {}", (hour + 11) % 12 + 1, time.minute(), time.second(), if hour < 12 { "AM" } else { "PM" }),
            fraction => {
                let digits = fraction[2..].parse::<usize>().unwrap_or(6);
                format!("{nanos:09}")[..digits].to_string()
            }
        };
        out.push_str(&match suffix {
            Suffix::None => plain,
            Suffix::Ordinal => ordinal(&plain, written),
            Suffix::Spelled => cased(&in_words(plain.trim().parse().unwrap_or(0)), written),
            Suffix::SpelledOrdinal => cased(&ordinal_word(plain.trim().parse().unwrap_or(0)), written),
        });
        if postgres {
            fill = true;
        }
    }
    Ok(out)
}

/// `1ST`, `22nd`.
fn ordinal(number: &str, written: &str) -> String {
    let value: i64 = number.trim().parse().unwrap_or(0);
    let ending = match (value % 10, value % 100) {
        (1, n) if n != 11 => "TH".replace("TH", "ST"),
        (2, n) if n != 12 => "ND".to_string(),
        (3, n) if n != 13 => "RD".to_string(),
        _ => "TH".to_string(),
    };
    let lower = written.chars().next().is_some_and(char::is_lowercase);
    format!("{number}{}", if lower { ending.to_lowercase() } else { ending })
}

const ONES: [&str; 20] = [
    "zero",
    "one",
    "two",
    "three",
    "four",
    "five",
    "six",
    "seven",
    "eight",
    "nine",
    "ten",
    "eleven",
    "twelve",
    "thirteen",
    "fourteen",
    "fifteen",
    "sixteen",
    "seventeen",
    "eighteen",
    "nineteen",
];
const TENS: [&str; 10] = ["", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"];

fn in_words(number: i64) -> String {
    match number {
        0..20 => ONES[number as usize].to_string(),
        20..100 if number % 10 == 0 => TENS[number as usize / 10].to_string(),
        20..100 => format!("{}-{}", TENS[number as usize / 10], ONES[number as usize % 10]),
        100..1000 => format!(
            "{} hundred{}",
            ONES[number as usize / 100],
            if number % 100 == 0 { String::new() } else { format!(" {}", in_words(number % 100)) }
        ),
        _ => format!(
            "{} thousand{}",
            in_words(number / 1000),
            if number % 1000 == 0 { String::new() } else { format!(" {}", in_words(number % 1000)) }
        ),
    }
}

fn ordinal_word(number: i64) -> String {
    let words = in_words(number);
    let (head, last) = words.rsplit_once('-').map_or((String::new(), words.as_str()), |(h, l)| (format!("{h}-"), l));
    let last = match last {
        "one" => "first".to_string(),
        "two" => "second".to_string(),
        "three" => "third".to_string(),
        "five" => "fifth".to_string(),
        "eight" => "eighth".to_string(),
        "nine" => "ninth".to_string(),
        "twelve" => "twelfth".to_string(),
        other if other.ends_with('y') => format!("{}ieth", &other[..other.len() - 1]),
        other => format!("{other}th"),
    };
    head + &last
}

fn year_in_words(year: i64) -> String {
    if year % 1000 < 10 { in_words(year) } else { format!("{} {}", in_words(year / 100), in_words(year % 100)) }
}

// --- reading ---------------------------------------------------------------------------------------

/// What has been read so far.
#[derive(Default)]
struct Fields {
    year: Option<i64>,
    month: Option<i64>,
    day: Option<i64>,
    day_of_year: Option<i64>,
    hour: Option<i64>,
    half: Option<bool>,
    minute: Option<i64>,
    second: Option<i64>,
    seconds_of_day: Option<i64>,
    nanos: i64,
    julian: Option<i64>,
}

fn failure(message: String, code: &'static str, behaviour: &Behaviour) -> Failure {
    let failure = Failure::new(FailureKind::BadCast, message);
    match behaviour.name() {
        DialectName::Oracle => failure.with_code(code),
        _ => failure.coded(behaviour.name(), POSTGRES),
    }
}

const POSTGRES: Codes = &[(DialectName::Postgres, "22007")];

/// A string read by a mask.
pub(crate) fn read(text: &str, mask: &str, behaviour: &Behaviour) -> Outcome<DateTime> {
    let mut fields = Fields::default();
    let mut rest = text.trim_start();
    for piece in pieces(mask) {
        match piece {
            // What the text doesn't say of the time of day is midnight.
            Piece::Element { name, .. } if rest.is_empty() && TIME_ELEMENTS.contains(&name) => {}
            Piece::Element { name, .. } => rest = element(name, rest, &mut fields, text, behaviour)?,
            Piece::Text(separator) => {
                let sign = separator.chars().next().unwrap_or(' ');
                if sign.is_alphanumeric() {
                    match rest.strip_prefix(separator) {
                        Some(after) => rest = after,
                        None if behaviour.name() == DialectName::Oracle && !rest.is_empty() => {
                            return Err(failure(format!("'{text}' has no '{separator}' where the mask has"), "ORA-01861", behaviour));
                        }
                        None => {}
                    }
                } else if let Some(c) = rest
                    .chars()
                    .next()
                    .filter(|c| !c.is_alphanumeric() && (*c != '-' || sign == '-' || sign == '/' || sign == '.' || sign == ' '))
                {
                    // Any sign matches any other.
                    rest = &rest[c.len_utf8()..];
                    if sign == ' ' || c == ' ' {
                        rest = rest.trim_start();
                    }
                }
            }
        }
    }
    if !rest.trim_end().is_empty() {
        return Err(failure(format!("'{text}' goes on where the mask ends"), "ORA-01830", behaviour));
    }
    assembled(&fields, text, behaviour)
}

/// The digits at the front, `most` at most.
fn digits(rest: &str, most: usize) -> (&str, &str) {
    let end = rest.bytes().take(most).take_while(u8::is_ascii_digit).count();
    rest.split_at(end)
}

fn element<'t>(name: &'static str, rest: &'t str, fields: &mut Fields, text: &str, behaviour: &Behaviour) -> Outcome<&'t str> {
    let number = |most: usize| -> Outcome<(i64, &'t str, usize)> {
        let (found, after) = digits(rest, most);
        match found.parse::<i64>() {
            Ok(value) => Ok((value, after, found.len())),
            Err(_) if rest.is_empty() => Err(failure(format!("'{text}' ends before the mask"), "ORA-01840", behaviour)),
            Err(_) => Err(failure(format!("'{text}' has no number where the mask has {name}"), "ORA-01858", behaviour)),
        }
    };
    let plain = |most: usize, field: &mut Option<i64>| -> Outcome<&'t str> {
        let (value, after, _) = number(most)?;
        *field = Some(value);
        Ok(after)
    };
    let century = i64::from(today().year()) / 100 * 100;
    let after = match name {
        "FM" | "FX" => rest,
        "YYYY" | "SYYYY" | "IYYY" => plain(4, &mut fields.year)?,
        "RRRR" | "RR" => {
            let (value, after, length) = number(if name == "RR" { 2 } else { 4 })?;
            // Years 00 to 49 of this century, 50 to 99 of the last.
            fields.year = Some(if length <= 2 { if value < 50 { century + value } else { century - 100 + value } } else { value });
            after
        }
        "YYY" | "YY" | "Y" => {
            let (value, after, length) = number(name.len())?;
            fields.year =
                Some(if behaviour.name() == DialectName::Postgres && length == 2 && value >= 70 { 1900 + value } else { century + value });
            after
        }
        "MM" => plain(2, &mut fields.month)?,
        "MON" | "MONTH" => {
            let word: &str = &rest[..rest.bytes().take_while(u8::is_ascii_alphabetic).count()];
            let word = if name == "MON" { word.get(..3).unwrap_or(word) } else { word };
            let Some(month) = month_named(word) else {
                return Err(failure(format!("'{word}' is no month"), "ORA-01843", behaviour));
            };
            fields.month = Some(i64::from(month));
            &rest[word.len()..]
        }
        "DD" => plain(2, &mut fields.day)?,
        "DDD" => plain(3, &mut fields.day_of_year)?,
        "J" => plain(7, &mut fields.julian)?,
        "DAY" | "DY" => rest.trim_start_matches(|c: char| c.is_ascii_alphabetic()),
        "HH24" | "HH12" | "HH" => plain(2, &mut fields.hour)?,
        "MI" => plain(2, &mut fields.minute)?,
        "SS" => plain(2, &mut fields.second)?,
        "SSSSS" => plain(5, &mut fields.seconds_of_day)?,
        "AM" | "PM" | "A.M." | "P.M." => {
            let upper = rest.to_ascii_uppercase();
            fields.half = Some(upper.starts_with('P'));
            let length = if upper.get(1..2) == Some(".") { 4 } else { 2 };
            rest.get(length..).unwrap_or("")
        }
        "MS" | "US" => fraction(rest, if name == "MS" { 3 } else { 6 }, fields),
        name if name.starts_with("FF") => fraction(rest, 9, fields),
        "D" | "Q" | "W" | "WW" | "IW" | "CC" => {
            return Err(Failure::unknown(&format!("reading a date by {name}")));
        }
        _ => rest,
    };
    Ok(after)
}

fn fraction<'t>(rest: &'t str, most: usize, fields: &mut Fields) -> &'t str {
    let (found, after) = digits(rest, most);
    fields.nanos = format!("{found:0<9}").parse().unwrap_or(0);
    after
}

fn today() -> Date {
    jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC).date()
}

fn assembled(fields: &Fields, text: &str, behaviour: &Behaviour) -> Outcome<DateTime> {
    let wrong = |what: &str, code| Err(failure(format!("'{text}': {what}"), code, behaviour));
    let now = today();
    if let Some(julian) = fields.julian {
        let Some(date) = crate::moment::day_of(julian - 2_440_588) else { return wrong("there is no such day", "ORA-01854") };
        return Ok(date.at(0, 0, 0, 0));
    }
    let year = fields.year.unwrap_or(i64::from(now.year()));
    if !(1..=9999).contains(&year) {
        return wrong("there is no such year", "ORA-01841");
    }
    let month =
        fields.month.unwrap_or(if fields.year.is_some() && behaviour.name() != DialectName::Oracle { 1 } else { i64::from(now.month()) });
    if !(1..=12).contains(&month) {
        return wrong("there is no such month", "ORA-01843");
    }
    let mut day = fields.day.unwrap_or(1);
    if !(1..=31).contains(&day) {
        return wrong("there is no such day", "ORA-01847");
    }
    let mut month = month;
    if let Some(number) = fields.day_of_year {
        let first = Date::new(year as i16, 1, 1).ok().map(day_number);
        let Some(date) = first.and_then(|f| crate::moment::day_of(f + number - 1)).filter(|d| i64::from(d.year()) == year) else {
            return wrong("there is no such day of the year", "ORA-01848");
        };
        (month, day) = (i64::from(date.month()), i64::from(date.day()));
    }
    let Ok(date) = Date::new(year as i16, month as i8, day as i8) else { return wrong("the month has no such day", "ORA-01839") };
    let mut hour = fields.hour.unwrap_or(0);
    if let Some(afternoon) = fields.half {
        if !(1..=12).contains(&hour) {
            return wrong("an hour of 1 to 12 is wanted", "ORA-01849");
        }
        hour = hour % 12 + if afternoon { 12 } else { 0 };
    }
    if !(0..=23).contains(&hour) {
        return wrong("there is no such hour", "ORA-01850");
    }
    let (minute, second) = (fields.minute.unwrap_or(0), fields.second.unwrap_or(0));
    if !(0..=59).contains(&minute) {
        return wrong("there is no such minute", "ORA-01851");
    }
    if !(0..=59).contains(&second) {
        return wrong("there is no such second", "ORA-01852");
    }
    let time = match fields.seconds_of_day {
        Some(seconds) => crate::moment::time_of(i128::from(seconds) * NANOS),
        None => Time::new(hour as i8, minute as i8, second as i8, fields.nanos as i32).unwrap_or(Time::midnight()),
    };
    Ok(DateTime::from_parts(date, time))
}

// --- intervals -------------------------------------------------------------------------------------

/// `+000000000 01:30:00.000000000`, `+000000001-06`.
pub(crate) fn interval_text(interval: &values::Interval, ty: &Type) -> String {
    if matches!(ty, Type::Interval(Some(Span::YearMonth))) || (interval.months != 0 && interval.nanoseconds == 0 && interval.days == 0) {
        let sign = if interval.months < 0 { '-' } else { '+' };
        let months = interval.months.abs();
        return format!("{sign}{:09}-{:02}", months / 12, months % 12);
    }
    let total = i128::from(interval.days) * crate::moment::DAY_NANOS + interval.nanoseconds;
    let sign = if total < 0 { '-' } else { '+' };
    let total = total.abs();
    let (days, rest) = (total / crate::moment::DAY_NANOS, total % crate::moment::DAY_NANOS);
    let (seconds, nanos) = (rest / NANOS, rest % NANOS);
    format!("{sign}{days:09} {:02}:{:02}:{:02}.{nanos:09}", seconds / 3600, seconds / 60 % 60, seconds % 60)
}
