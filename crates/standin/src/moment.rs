//! Days and times as numbers, and steps of months.

use jiff::SignedDuration;
use jiff::civil::{Date, DateTime, Time};
use values::{Interval, Value};

pub(crate) const NANOS: i128 = 1_000_000_000;
pub(crate) const DAY_NANOS: i128 = 86_400 * NANOS;

/// Days since 1970-01-01.
pub(crate) fn day_number(date: Date) -> i64 {
    // Days since the start of a 400-year cycle whose years begin in March.
    let month = i64::from(date.month());
    let year = i64::from(date.year()) - i64::from(month <= 2);
    let era = year.div_euclid(400);
    let year_of_era = year.rem_euclid(400);
    let day_of_year = (153 * ((month + 9) % 12) + 2) / 5 + i64::from(date.day()) - 1;
    era * 146_097 + year_of_era * 365 + year_of_era / 4 - year_of_era / 100 + day_of_year - 719_468
}

/// The day of a number; `None` out of the years 1 to 9999.
pub(crate) fn day_of(number: i64) -> Option<Date> {
    let shifted = number.checked_add(719_468)?;
    let era = shifted.div_euclid(146_097);
    let of_era = shifted.rem_euclid(146_097);
    let year_of_era = (of_era - of_era / 1460 + of_era / 36_524 - of_era / 146_096) / 365;
    let of_year = of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
    let month_index = (5 * of_year + 2) / 153;
    let day = of_year - (153 * month_index + 2) / 5 + 1;
    let month = if month_index < 10 { month_index + 3 } else { month_index - 9 };
    let year = year_of_era + era * 400 + i64::from(month <= 2);
    if !(1..=9999).contains(&year) {
        return None;
    }
    Date::new(year as i16, month as i8, day as i8).ok()
}

/// Nanoseconds since midnight.
pub(crate) fn time_nanos(time: Time) -> i128 {
    i128::from(time.hour()) * 3600 * NANOS
        + i128::from(time.minute()) * 60 * NANOS
        + i128::from(time.second()) * NANOS
        + i128::from(time.subsec_nanosecond())
}

/// The time of day so many nanoseconds after midnight.
pub(crate) fn time_of(nanos: i128) -> Time {
    Time::midnight() + SignedDuration::from_nanos(nanos.rem_euclid(DAY_NANOS) as i64)
}

/// Nanoseconds since 1970-01-01.
pub(crate) fn nanos(moment: DateTime) -> i128 {
    i128::from(day_number(moment.date())) * DAY_NANOS + time_nanos(moment.time())
}

/// The moment of a number of nanoseconds; `None` out of the years 1 to 9999.
pub(crate) fn moment_of(nanos: i128) -> Option<DateTime> {
    let date = day_of(i64::try_from(nanos.div_euclid(DAY_NANOS)).ok()?)?;
    Some(DateTime::from_parts(date, time_of(nanos)))
}

/// An instant as the clock so many minutes east of UTC shows it.
pub(crate) fn local(instant: DateTime, minutes: i16) -> DateTime {
    moment_of(nanos(instant) + i128::from(minutes) * 60 * NANOS).unwrap_or(instant)
}

/// The last day of a month.
pub(crate) fn month_end(date: Date) -> Date {
    date.last_of_month()
}

/// So many months on; a day the month doesn't have becomes its last.
pub(crate) fn add_months(date: Date, months: i64) -> Option<Date> {
    let count = i64::from(date.year()) * 12 + i64::from(date.month()) - 1 + months;
    let (year, month) = (count.div_euclid(12), count.rem_euclid(12) + 1);
    if !(1..=9999).contains(&year) {
        return None;
    }
    let first = Date::new(year as i16, month as i8, 1).ok()?;
    let day = date.day().min(first.days_in_month());
    Date::new(year as i16, month as i8, day).ok()
}

/// A moment moved by an interval: months first, then days, then the rest.
pub(crate) fn moved(moment: DateTime, interval: &Interval, sign: i64) -> Option<DateTime> {
    let date = add_months(moment.date(), interval.months * sign)?;
    let date = day_of(day_number(date) + interval.days * sign)?;
    moment_of(nanos(DateTime::from_parts(date, moment.time())) + interval.nanoseconds * i128::from(sign))
}

/// A date or moment as a moment.
pub(crate) fn as_moment(value: &Value) -> Option<DateTime> {
    match value {
        Value::Date(d) => Some(d.at(0, 0, 0, 0)),
        Value::Timestamp(t) | Value::Instant(t, _) => Some(*t),
        Value::Time(t) => Some(DateTime::from_parts(Date::new(1970, 1, 1).ok()?, *t)),
        _ => None,
    }
}

/// ISO weekday: Monday is 1.
pub(crate) fn weekday(date: Date) -> i64 {
    i64::from(date.weekday().to_monday_one_offset())
}

/// Day of the year, from 1.
pub(crate) fn day_of_year(date: Date) -> i64 {
    i64::from(date.day_of_year())
}

/// Year and week by ISO 8601.
pub(crate) fn iso_week(date: Date) -> (i64, i64) {
    let week = date.iso_week_date();
    (i64::from(week.year()), i64::from(week.week()))
}

/// Quarter, from 1.
pub(crate) fn quarter(date: Date) -> i64 {
    (i64::from(date.month()) + 2) / 3
}

/// The moment rounded down to a step of nanoseconds within the day, or to the nearest (half up).
pub(crate) fn rounded_to(moment: DateTime, step: i128) -> Option<DateTime> {
    let total = nanos(moment);
    moment_of((total + step / 2).div_euclid(step) * step)
}

pub(crate) const MONTHS: [&str; 12] =
    ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
pub(crate) const DAYS: [&str; 7] = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/// The month whose name begins with these letters (three at least).
pub(crate) fn month_named(text: &str) -> Option<i8> {
    let lower = text.to_ascii_lowercase();
    if lower.len() < 3 {
        return None;
    }
    MONTHS.iter().position(|m| m.to_ascii_lowercase().starts_with(&lower)).map(|i| i as i8 + 1)
}
