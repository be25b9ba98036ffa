//! Units of time, and what is worked out with days and times. Sources: the vendors' manuals, chapters on
//! date functions and datetime arithmetic.

use bigdecimal::RoundingMode;
use jiff::civil::DateTime;
use values::{Decimal, Interval, Value};

use super::{Args, Bigquery, Duckdb, Oracle, Postgres, SqlServer};
use crate::arithmetic::{Arithmetic, quotient};
use crate::behaviour::Behaviour;
use crate::compare::as_float;
use crate::convert::{out_of_range, simplest};
use crate::failure::{Failure, FailureKind, Outcome};
use crate::moment::{DAY_NANOS, NANOS, add_months, moment_of, moved, nanos};
use crate::types::{Family, Moment, Span, Type};

/// A unit of time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Unit {
    Year,
    Quarter,
    Month,
    Week,
    IsoWeek,
    Day,
    DayOfYear,
    WeekDay,
    Hour,
    Minute,
    Second,
    Millisecond,
    Microsecond,
    Nanosecond,
}

impl Unit {
    /// The unit of a name in any dialect's spelling.
    pub(crate) fn named(name: &str) -> Option<Unit> {
        let lower = name.trim().trim_matches(['\'', '"']).to_ascii_lowercase();
        let single = if lower.len() > 3 { lower.strip_suffix('s').unwrap_or(&lower) } else { &lower };
        Some(match single {
            "year" | "yy" | "yyyy" | "y" | "yr" => Unit::Year,
            "quarter" | "qq" | "q" => Unit::Quarter,
            "month" | "mm" | "m" | "mon" => Unit::Month,
            "week" | "wk" | "ww" | "w" => Unit::Week,
            "isoweek" | "iso_week" | "isowk" | "isoww" | "week(monday)" => Unit::IsoWeek,
            "day" | "dd" | "d" => Unit::Day,
            "dayofyear" | "dy" | "doy" | "day_of_year" => Unit::DayOfYear,
            "weekday" | "dw" | "dow" | "dayofweek" => Unit::WeekDay,
            "hour" | "hh" | "h" => Unit::Hour,
            "minute" | "mi" | "n" | "min" => Unit::Minute,
            "second" | "ss" | "s" | "sec" => Unit::Second,
            "millisecond" | "ms" => Unit::Millisecond,
            "microsecond" | "mcs" | "us" => Unit::Microsecond,
            "nanosecond" | "ns" => Unit::Nanosecond,
            _ => return None,
        })
    }

    /// Nanoseconds, where the unit has always as many.
    pub(super) fn nanos(self) -> Option<i128> {
        Some(match self {
            Unit::Week | Unit::IsoWeek => 7 * DAY_NANOS,
            Unit::Day | Unit::DayOfYear | Unit::WeekDay => DAY_NANOS,
            Unit::Hour => 3600 * NANOS,
            Unit::Minute => 60 * NANOS,
            Unit::Second => NANOS,
            Unit::Millisecond => NANOS / 1000,
            Unit::Microsecond => NANOS / 1_000_000,
            Unit::Nanosecond => 1,
            Unit::Year | Unit::Quarter | Unit::Month => return None,
        })
    }

    pub(super) fn months(self) -> Option<i64> {
        Some(match self {
            Unit::Year => 12,
            Unit::Quarter => 3,
            Unit::Month => 1,
            _ => return None,
        })
    }

    pub(super) fn is_of_time(self) -> bool {
        matches!(self, Unit::Hour | Unit::Minute | Unit::Second | Unit::Millisecond | Unit::Microsecond | Unit::Nanosecond)
    }

    /// Adds so many to an interval.
    pub(crate) fn add_to(self, interval: &mut Interval, amount: f64) {
        match self {
            Unit::Year | Unit::Quarter | Unit::Month => interval.months += (amount * self.months().unwrap_or(1) as f64).round() as i64,
            Unit::Week | Unit::IsoWeek => interval.days += (amount * 7.0) as i64,
            Unit::Day | Unit::DayOfYear | Unit::WeekDay => {
                interval.days += amount.trunc() as i64;
                interval.nanoseconds += (amount.fract() * DAY_NANOS as f64).round() as i128;
            }
            _ => interval.nanoseconds += (amount * self.nanos().unwrap_or(1) as f64).round() as i128,
        }
    }
}

pub(super) fn unit(a: &Args<'_>, at: usize) -> Outcome<Unit> {
    Unit::named(&a.text(at)).ok_or_else(|| {
        Failure::invalid(format!("'{}' is no unit of time here", a.text(at)))
            .coded(a.dialect(), &[(SqlServer, "Msg 155"), (Postgres, "22023")])
    })
}

/// INTERVAL amount unit: single units, and MySQL's and Oracle's pairs.
pub(super) fn interval(a: &Args<'_>) -> Outcome<Value> {
    let name = a.text(1).to_uppercase();
    let mut interval = Interval::default();
    let bare = name.split('(').next().unwrap_or(&name).trim();
    let single = bare.split(" TO ").next().unwrap_or(bare);
    if let (Some(unit), false) = (Unit::named(single), bare.contains(" TO ") || bare.contains('_')) {
        let amount = match a.value(0) {
            Value::Text(_) => as_float(&Value::decimal(a.number(0)?)).unwrap_or(0.0),
            other => as_float(other).unwrap_or(0.0),
        };
        // MySQL takes whole numbers of all but seconds.
        let amount = if a.behaviour.is_mysql() && unit != Unit::Second { amount.round() } else { amount };
        unit.add_to(&mut interval, amount);
        return Ok(Value::Interval(Box::new(interval)));
    }
    // '1:30' HOUR_MINUTE, '1 02:03:04' DAY TO SECOND, '1-6' YEAR TO MONTH: the last number is of the last unit.
    let units: Vec<Unit> = [Unit::Year, Unit::Month, Unit::Day, Unit::Hour, Unit::Minute, Unit::Second, Unit::Microsecond].to_vec();
    let pair: Vec<Option<Unit>> =
        bare.split(['_']).flat_map(|p| p.split(" TO ")).map(|p| Unit::named(p.split('(').next().unwrap_or(p))).collect();
    let [Some(first), Some(last)] = pair.as_slice() else { return Err(Failure::unknown(&format!("the interval unit {name}"))) };
    let (Some(from), Some(to)) = (units.iter().position(|u| u == first), units.iter().position(|u| u == last)) else {
        return Err(Failure::unknown(&format!("the interval unit {name}")));
    };
    let text = a.text(0);
    let sign = if text.trim_start().starts_with('-') { -1.0 } else { 1.0 };
    let numbers: Vec<f64> =
        text.split(|c: char| !c.is_ascii_digit() && c != '.').filter(|p| !p.is_empty()).filter_map(|p| p.parse().ok()).collect();
    for (unit, amount) in units[from..=to].iter().rev().zip(numbers.iter().rev()) {
        unit.add_to(&mut interval, amount * sign);
    }
    Ok(Value::Interval(Box::new(interval)))
}

/// The type of a date operator's result.
pub(crate) fn arithmetic_type(operator: Arithmetic, a: &Type, b: &Type, behaviour: &Behaviour) -> Outcome<Type> {
    let dated = |t: &Type| t.is_dated();
    let interval = |t: &Type| t.family() == Family::Interval;
    let number = |t: &Type| t.is_numeric() || t.is_open() || matches!(t, Type::Text(_));
    let dialect = behaviour.name();
    let wrong = |code: &str| Err(Failure::invalid("these types can't be added or subtracted").with_code(code));
    if interval(a) && interval(b) {
        return Ok(a.clone());
    }
    match operator {
        Arithmetic::Multiply | Arithmetic::Divide => {
            return Ok(if interval(a) { a.clone() } else { b.clone() });
        }
        _ => {}
    }
    let (date, other) = if dated(a) || matches!(a, Type::Time(_)) { (a, b) } else { (b, a) };
    if dated(a) && dated(b) {
        return match (operator, dialect) {
            (Arithmetic::Add, Oracle) => wrong("ORA-00975"),
            (Arithmetic::Add, Postgres) => wrong("42883"),
            (Arithmetic::Add | _, SqlServer) if !is_legacy(a) || !is_legacy(b) => wrong("Msg 8117"),
            (_, SqlServer) => Ok(a.clone()),
            (_, Oracle) if is_seconds(a) && is_seconds(b) => Ok(Type::Number),
            (_, Oracle) => Ok(Type::Interval(Some(Span::DaySecond))),
            (_, Postgres) if *a == Type::Date && *b == Type::Date => Ok(Type::INT),
            (_, Duckdb) if *a == Type::Date && *b == Type::Date => Ok(Type::BIGINT),
            _ => Ok(Type::Interval(None)),
        };
    }
    if interval(other) {
        return Ok(match (date, dialect) {
            (Type::Date, Postgres | Duckdb | Bigquery) => Type::DateTime(Moment::Digits(6)),
            (Type::Text(_) | Type::Any, _) if behaviour.is_mysql() => Type::TEXT,
            (t, _) => t.clone(),
        });
    }
    if number(other) {
        return match dialect {
            SqlServer if !is_legacy(date) => wrong("Msg 206"),
            Postgres if *date != Type::Date => wrong("42883"),
            Oracle => Ok(Type::DateTime(Moment::Seconds)),
            _ => Ok(date.clone()),
        };
    }
    if matches!(other, Type::Time(_)) {
        return Ok(Type::DateTime(Moment::Digits(6)));
    }
    Err(Failure::unknown("this arithmetic with dates"))
}

pub(super) fn is_legacy(t: &Type) -> bool {
    matches!(t, Type::DateTime(Moment::Ticks | Moment::Minutes))
}

pub(super) fn is_seconds(t: &Type) -> bool {
    matches!(t, Type::DateTime(Moment::Seconds))
}

/// A moment in the kind of value its type has.
pub(super) fn shaped(moment: Option<DateTime>, ty: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    let Some(moment) = moment else { return Err(out_of_range(behaviour)) };
    Ok(match ty {
        Type::Date => Value::Date(moment.date()),
        Type::Zoned => Value::Instant(moment, 0),
        Type::Time(_) => Value::Time(moment.time()),
        _ => Value::Timestamp(moment),
    })
}

pub(super) fn arithmetic(a: &Args<'_>, operator: Arithmetic) -> Outcome<Value> {
    let sign = if operator == Arithmetic::Subtract { -1 } else { 1 };
    if let (Value::Interval(x), Value::Interval(y)) = (a.value(0), a.value(1)) {
        let sum = Interval {
            months: x.months + y.months * sign,
            days: x.days + y.days * sign,
            nanoseconds: x.nanoseconds + y.nanoseconds * i128::from(sign),
        };
        return Ok(Value::Interval(Box::new(sum)));
    }
    let (date, other) =
        if matches!(a.value(0), Value::Interval(_)) || (!a.ty(0).is_dated() && a.ty(1).is_dated()) { (1, 0) } else { (0, 1) };
    if a.behaviour.is_mysql() {
        return mysql_moved_by(a, date, other, sign);
    }
    let Some(moment) = a.moment(date)? else { return Ok(Value::Null) };
    if a.ty(other).is_dated() {
        let Some(subtracted) = a.moment(other)? else { return Ok(Value::Null) };
        return difference(a, moment, subtracted);
    }
    match a.value(other) {
        Value::Interval(interval) => {
            if a.dialect() == Oracle && interval.months != 0 {
                return oracle_months(a, moment, interval, sign);
            }
            shaped(moved(moment, interval, sign), a.result, a.behaviour)
        }
        Value::Time(time) => shaped(moment_of(nanos(moment) + crate::moment::time_nanos(*time) * i128::from(sign)), a.result, a.behaviour),
        _ => {
            // A number is days, with fractions.
            let days = a.number(other)? * Decimal::from(sign);
            let step = (days * Decimal::from(DAY_NANOS)).with_scale_round(0, RoundingMode::HalfUp);
            let step = bigdecimal::ToPrimitive::to_i128(&step).unwrap_or(i128::MAX / 4);
            let step = if a.dialect() == Oracle { (step + NANOS / 2).div_euclid(NANOS) * NANOS } else { step };
            shaped(moment_of(nanos(moment) + step), a.result, a.behaviour)
        }
    }
}

pub(super) fn difference(a: &Args<'_>, x: DateTime, y: DateTime) -> Outcome<Value> {
    let between = nanos(x) - nanos(y);
    match a.result {
        Type::Number => Ok(simplest(quotient(&Decimal::from(between), &Decimal::from(DAY_NANOS), 38, RoundingMode::HalfUp).normalized())),
        Type::Integer(_) => Ok(Value::Integer((between / DAY_NANOS) as i64)),
        // SQL Server: a DATETIME that many days after 1900.
        Type::DateTime(_) => Ok(moment_of(between - 25_567 * DAY_NANOS).map_or(Value::Null, Value::Timestamp)),
        _ => Ok(Value::Interval(Box::new(Interval { months: 0, days: (between / DAY_NANOS) as i64, nanoseconds: between % DAY_NANOS }))),
    }
}

/// Oracle: a day the month doesn't have is an error with intervals.
pub(super) fn oracle_months(a: &Args<'_>, moment: DateTime, interval: &Interval, sign: i64) -> Outcome<Value> {
    let Some(date) = add_months(moment.date(), interval.months * sign) else { return Err(out_of_range(a.behaviour)) };
    if date.day() != moment.day() {
        return Err(Failure::new(FailureKind::BadCast, "the month has no such day").with_code("ORA-01839"));
    }
    Ok(Value::Timestamp(DateTime::from_parts(date, moment.time())))
}

pub(super) fn scaled_interval(a: &Args<'_>, divides: bool) -> Outcome<Value> {
    let (interval, factor) = match (a.value(0), a.value(1)) {
        (Value::Interval(i), _) => (i, a.float(1)?),
        (_, Value::Interval(i)) => (i, a.float(0)?),
        _ => return Err(a.wrong(0)),
    };
    if divides && factor == 0.0 {
        return Err(Failure::new(FailureKind::DivisionByZero, "division by zero").coded(a.dialect(), crate::failure::DIVISION_BY_ZERO));
    }
    let factor = if divides { 1.0 / factor } else { factor };
    let mut out = Interval::default();
    let months = interval.months as f64 * factor;
    out.months = months.trunc() as i64;
    let days = interval.days as f64 * factor + months.fract() * 30.0;
    out.days = days.trunc() as i64;
    out.nanoseconds = (interval.nanoseconds as f64 * factor + days.fract() * DAY_NANOS as f64).round() as i128;
    Ok(Value::Interval(Box::new(out)))
}

pub(super) fn mysql_moved(a: &Args<'_>, sign: i64) -> Outcome<Value> {
    mysql_moved_by(a, 0, 1, sign)
}

/// MySQL: a date stays a date unless hours are added; a wrong one gives NULL.
pub(super) fn mysql_moved_by(a: &Args<'_>, date: usize, other: usize, sign: i64) -> Outcome<Value> {
    let interval = match a.value(other) {
        Value::Interval(interval) => **interval,
        _ => Interval { days: a.whole(other)?, ..Interval::default() },
    };
    let (moment, plain_date) = match a.value(date) {
        Value::Date(d) => (Some(d.at(0, 0, 0, 0)), true),
        Value::Timestamp(t) => (Some(*t), false),
        _ => match crate::convert::parse_moment(&a.text(date), a.behaviour) {
            Ok(parsed) => (Some(parsed.moment), !parsed.has_time),
            Err(_) => (None, false),
        },
    };
    let Some(moved) = moment.and_then(|m| moved(m, &interval, sign)) else { return Ok(Value::Null) };
    Ok(if plain_date && interval.nanoseconds == 0 { Value::Date(moved.date()) } else { Value::Timestamp(moved) })
}

pub(super) fn moved_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    let first = types.first().cloned().unwrap_or(Type::Any);
    Ok(match (&first, behaviour.name()) {
        (Type::Date, Duckdb) => Type::DateTime(Moment::Digits(6)),
        (Type::Text(_), _) => Type::Date,
        _ => first,
    })
}

/// `+02:00`, or minutes.
pub(super) fn offset_of(a: &Args<'_>, at: usize) -> Outcome<i16> {
    if let Value::Integer(minutes) = a.value(at) {
        return Ok(*minutes as i16);
    }
    let text = a.text(at);
    let sign = if text.starts_with('-') { -1 } else { 1 };
    let numbers: Vec<i16> = text.trim_start_matches(['+', '-']).split(':').filter_map(|p| p.parse().ok()).collect();
    match numbers.as_slice() {
        [hours, minutes] => Ok(sign * (hours * 60 + minutes)),
        _ => Err(a.out_of_range(at, "Msg 9812")),
    }
}
