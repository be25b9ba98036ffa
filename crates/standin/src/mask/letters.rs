//! Masks of letters: `yyyy-MM-dd HH:mm:ss` of SQL Server's FORMAT and of Spark.

use jiff::civil::DateTime;

use crate::moment::{DAYS, MONTHS, day_of_year, weekday};

/// A moment by a mask; `None` for letters that aren't known.
pub(crate) fn written(moment: DateTime, mask: &str, spark: bool) -> Option<String> {
    let (date, time) = (moment.date(), moment.time());
    let chars: Vec<char> = mask.chars().collect();
    let mut out = String::new();
    let mut at = 0;
    while at < chars.len() {
        let c = chars[at];
        if c == '\'' || c == '"' {
            let end = chars[at + 1..].iter().position(|d| *d == c).map_or(chars.len(), |i| i + at + 1);
            if end == at + 1 {
                out.push(c);
            }
            out.extend(&chars[at + 1..end]);
            at = end + 1;
            continue;
        }
        if c == '\\' && !spark {
            out.extend(chars.get(at + 1));
            at += 2;
            continue;
        }
        if !c.is_ascii_alphabetic() {
            out.push(c);
            at += 1;
            continue;
        }
        let count = chars[at..].iter().take_while(|d| **d == c).count();
        at += count;
        let number = |n: i64| format!("{n:0count$}");
        let hour = i64::from(time.hour());
        out.push_str(&match (c, count) {
            ('y' | 'u', 2) => format!("{:02}", date.year() % 100),
            ('y' | 'u', _) => number(i64::from(date.year())),
            ('M' | 'L', 1 | 2) => number(i64::from(date.month())),
            ('M' | 'L', 3) => MONTHS[date.month() as usize - 1][..3].to_string(),
            ('M' | 'L', _) => MONTHS[date.month() as usize - 1].to_string(),
            ('d', 1 | 2) => number(i64::from(date.day())),
            ('d', 3) if !spark => DAYS[weekday(date) as usize - 1][..3].to_string(),
            ('d', _) if !spark => DAYS[weekday(date) as usize - 1].to_string(),
            ('E', 1..=3) if spark => DAYS[weekday(date) as usize - 1][..3].to_string(),
            ('E', _) if spark => DAYS[weekday(date) as usize - 1].to_string(),
            ('D', _) if spark => number(day_of_year(date)),
            ('Q' | 'q', 1 | 2) if spark => number(crate::moment::quarter(date)),
            ('H', _) => number(hour),
            ('h', _) => number((hour + 11) % 12 + 1),
            ('m', _) => number(i64::from(time.minute())),
            ('s', _) => number(i64::from(time.second())),
            ('f' | 'F' | 'S', n) if n <= 9 => format!("{:09}", time.subsec_nanosecond())[..n].to_string(),
            ('t', _) if !spark => (if hour < 12 { "AM" } else { "PM" })[..count.min(2)].to_string(),
            ('a', _) if spark => if hour < 12 { "AM" } else { "PM" }.to_string(),
            _ => return None,
        });
    }
    Some(out)
}

/// A string read by a mask of Spark.
pub(crate) fn read(text: &str, mask: &str) -> Option<DateTime> {
    // The letters as percent signs.
    let mut percent = String::new();
    let chars: Vec<char> = mask.chars().collect();
    let mut at = 0;
    while at < chars.len() {
        let c = chars[at];
        let count = chars[at..].iter().take_while(|d| **d == c).count();
        at += count;
        match (c, count) {
            ('y', 2) => percent.push_str("%y"),
            ('y', _) => percent.push_str("%Y"),
            ('M', 1 | 2) => percent.push_str("%m"),
            ('M', 3) => percent.push_str("%b"),
            ('M', _) => percent.push_str("%B"),
            ('d', _) => percent.push_str("%d"),
            ('D', _) => percent.push_str("%j"),
            ('H', _) => percent.push_str("%H"),
            ('h', _) => percent.push_str("%I"),
            ('m', _) => percent.push_str("%M"),
            ('s', _) => percent.push_str("%S"),
            ('S', _) => percent.push_str("%f"),
            ('a', _) => percent.push_str("%p"),
            ('E', _) => percent.push_str("%a"),
            ('\'', _) => {}
            (other, n) => percent.extend(std::iter::repeat_n(other, n)),
        }
    }
    super::percent::read(text, &percent, super::percent::Kind::Strftime).map(|(moment, _)| moment)
}
