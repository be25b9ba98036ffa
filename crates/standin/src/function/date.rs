//! Functions of days and times. Sources: the vendors' manuals, chapters on date functions.

use bigdecimal::RoundingMode;
use jiff::civil::{Date, DateTime};
use values::{Decimal, Interval, Value};

use super::date_arithmetic::{Unit, arithmetic, interval, is_seconds, moved_type, mysql_moved, offset_of, scaled_interval, shaped, unit};
use super::{
    ALL, Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, f,
    of, worded,
};
use crate::arithmetic::{Arithmetic, quotient};
use crate::behaviour::Behaviour;
use crate::convert::{How, convert, out_of_range, simplest};
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::mask::percent::Kind;
use crate::mask::{letters, oracle_date, oracle_number, percent};
use crate::moment::{
    DAY_NANOS, DAYS, MONTHS, NANOS, add_months, day_number, day_of, day_of_year, iso_week, moment_of, month_end, nanos, quarter, weekday,
};
use crate::types::{Moment, Span, Type};

const ORACLE_DATE: Typing = Typing::Fixed(Type::DateTime(Moment::Seconds));
const DATE: Typing = Typing::Fixed(Type::Date);
const TEXT: Typing = Typing::Fixed(Type::TEXT);
const INT: Typing = Typing::Fixed(Type::INT);
const NUMBER: Typing = Typing::Number;
const STAMP: Typing = Typing::Fixed(Type::DateTime(Moment::Digits(6)));

pub(super) const FUNCTIONS: &[Function] = &[
    // --- operators
    f("DATED_ADD_", ALL, 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Add)),
    f("DATED_SUBTRACT_", ALL, 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Subtract)),
    f("DATED_MULTIPLY_", ALL, 2, 2, Typing::First, |a| scaled_interval(a, false)),
    f("DATED_DIVIDE_", ALL, 2, 2, Typing::First, |a| scaled_interval(a, true)),
    f("INTERVAL_", ALL, 2, 2, Typing::Fixed(Type::Interval(None)), interval),
    f("EXTRACT_", ALL, 2, 2, Typing::By(extract_type), |a| extract(a, 0, 1)),
    // --- Oracle
    f("ADD_MONTHS", ORACLE, 2, 2, ORACLE_DATE, oracle_add_months),
    f("MONTHS_BETWEEN", of(&[Oracle, Spark]), 2, 3, NUMBER, months_between),
    f("LAST_DAY", ORACLE, 1, 1, ORACLE_DATE, |a| stamp(a, a.moment(0)?.map(|t| DateTime::from_parts(month_end(t.date()), t.time())))),
    f("LAST_DAY", of(&[Mysql, Mariadb, Duckdb, Bigquery, Spark]), 1, 2, DATE, |a| day(a.moment(0)?.map(|t| month_end(t.date())))),
    f("NEXT_DAY", ORACLE, 2, 2, ORACLE_DATE, next_day),
    f("TRUNC", ORACLE, 1, 2, Typing::By(round_type), |a| oracle_round(a, false)),
    f("ROUND", ORACLE, 1, 2, Typing::By(round_type), |a| oracle_round(a, true)),
    f("TO_DATE", ORACLE, 1, 3, ORACLE_DATE, oracle_to_date),
    f("TO_TIMESTAMP", ORACLE, 1, 3, STAMP, oracle_to_date),
    f("TO_CHAR", of(&[Oracle, Postgres]), 1, 3, TEXT, to_char),
    f("NUMTODSINTERVAL", ORACLE, 2, 2, Typing::Fixed(Type::Interval(Some(Span::DaySecond))), interval),
    f("NUMTOYMINTERVAL", ORACLE, 2, 2, Typing::Fixed(Type::Interval(Some(Span::YearMonth))), interval),
    // --- SQL Server
    worded(
        0,
        f(
            "DATEADD",
            SQL_SERVER,
            3,
            3,
            Typing::By(|t, _| {
                Ok(match t.get(2) {
                    Some(t) if t.is_dated() => t.clone(),
                    _ => Type::DateTime(Moment::Ticks),
                })
            }),
            |a| date_add(a, 0, 1, 2),
        ),
    ),
    worded(
        0,
        f("DATEDIFF", SQL_SERVER, 3, 3, INT, |a| {
            let boundaries = boundaries(a, 0, 1, 2)?;
            i32::try_from(boundaries)
                .map(|n| Value::Integer(i64::from(n)))
                .map_err(|_| Failure::new(FailureKind::Overflow, "DATEDIFF is too great for INT").with_code("Msg 535"))
        }),
    ),
    worded(0, f("DATEDIFF_BIG", SQL_SERVER, 3, 3, Typing::Fixed(Type::BIGINT), |a| Ok(Value::Integer(boundaries(a, 0, 1, 2)?)))),
    worded(0, f("DATEPART", SQL_SERVER, 2, 2, INT, |a| extract(a, 0, 1))),
    worded(0, f("DATENAME", SQL_SERVER, 2, 2, TEXT, date_name)),
    worded(
        0,
        f(
            "DATETRUNC",
            SQL_SERVER,
            2,
            2,
            Typing::By(|t, _| {
                Ok(match t.get(1) {
                    Some(t) if t.is_dated() => t.clone(),
                    _ => Type::DateTime(Moment::Digits(7)),
                })
            }),
            |a| truncated(a, 0, 1),
        ),
    ),
    worded(0, f("DATE_BUCKET", SQL_SERVER, 3, 4, Typing::By(|t, _| Ok(t.get(2).cloned().unwrap_or(Type::Any))), date_bucket)),
    f("EOMONTH", SQL_SERVER, 1, 2, DATE, |a| {
        let months = a.whole_or(1, 0)?;
        day(a.moment(0)?.and_then(|t| add_months(t.date(), months)).map(month_end))
    }),
    f("DATEFROMPARTS", SQL_SERVER, 3, 3, DATE, |a| from_parts(a, &[0, 1, 2]).map(|t| Value::Date(t.date()))),
    f("DATETIMEFROMPARTS", SQL_SERVER, 7, 7, Typing::Fixed(Type::DateTime(Moment::Ticks)), |a| {
        from_parts(a, &[0, 1, 2, 3, 4, 5, 6]).map(Value::Timestamp)
    }),
    f("DATETIME2FROMPARTS", SQL_SERVER, 8, 8, Typing::Fixed(Type::DateTime(Moment::Digits(7))), |a| {
        from_parts(a, &[0, 1, 2, 3, 4, 5]).map(Value::Timestamp)
    }),
    f("TIMEFROMPARTS", SQL_SERVER, 5, 5, Typing::Fixed(Type::Time(7)), time_from_parts),
    f("ISDATE", SQL_SERVER, 1, 1, INT, |a| {
        let to = Type::DateTime(Moment::Ticks);
        Ok(Value::Integer(i64::from(convert(a.value(0).clone(), a.ty(0), &to, How::EXPLICIT, a.behaviour).is_ok())))
    }),
    f("SWITCHOFFSET", SQL_SERVER, 2, 2, Typing::Fixed(Type::Zoned), |a| match a.value(0) {
        Value::Instant(t, _) => Ok(Value::Instant(*t, offset_of(a, 1)?)),
        _ => Err(a.wrong(0)),
    }),
    f("TODATETIMEOFFSET", SQL_SERVER, 2, 2, Typing::Fixed(Type::Zoned), |a| {
        let offset = offset_of(a, 1)?;
        Ok(a.moment(0)?.map_or(Value::Null, |t| Value::Instant(crate::moment::local(t, -offset), offset)))
    }),
    // --- parts
    f("YEAR", of(&[SqlServer, Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Year)),
    f("MONTH", of(&[SqlServer, Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Month)),
    f("DAY", of(&[SqlServer, Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Day)),
    f("DAYOFMONTH", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, NUMBER, |a| part(a, Unit::Day)),
    f("QUARTER", of(&[Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Quarter)),
    f("HOUR", of(&[Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Hour)),
    f("MINUTE", of(&[Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Minute)),
    f("SECOND", of(&[Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| part(a, Unit::Second)),
    f("DAYOFYEAR", of(&[Mysql, Mariadb, Duckdb, Spark]), 1, 1, NUMBER, |a| numbered(a, |t| day_of_year(t.date()))),
    // Sunday is 1 here, Monday 0 in WEEKDAY of MySQL and Spark.
    f("DAYOFWEEK", of(&[Mysql, Mariadb, Spark]), 1, 1, NUMBER, |a| numbered(a, |t| weekday(t.date()) % 7 + 1)),
    f("DAYOFWEEK", of(&[Duckdb]), 1, 1, NUMBER, |a| numbered(a, |t| weekday(t.date()) % 7)),
    f("WEEKDAY", of(&[Mysql, Mariadb, Spark]), 1, 1, NUMBER, |a| numbered(a, |t| weekday(t.date()) - 1)),
    f("WEEKOFYEAR", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, NUMBER, |a| numbered(a, |t| iso_week(t.date()).1)),
    f("DAYNAME", of(&[Mysql, Mariadb, Duckdb]), 1, 1, TEXT, |a| {
        Ok(a.moment(0)?.map_or(Value::Null, |t| Value::text(DAYS[weekday(t.date()) as usize - 1])))
    }),
    f("MONTHNAME", of(&[Mysql, Mariadb, Duckdb]), 1, 1, TEXT, |a| {
        Ok(a.moment(0)?.map_or(Value::Null, |t| Value::text(MONTHS[t.month() as usize - 1])))
    }),
    worded(0, f("DATE_PART", of(&[Postgres, Duckdb, Spark]), 2, 2, Typing::Fixed(Type::Float), |a| extract(a, 0, 1))),
    // --- MySQL
    f("DATE_FORMAT", MY, 2, 2, TEXT, |a| {
        Ok(a.moment(0)?.and_then(|t| percent::written(t, &a.text(1), Kind::Mysql)).map_or(Value::Null, Value::text))
    }),
    f("STR_TO_DATE", MY, 2, 2, STAMP, |a| {
        Ok(match percent::read(&a.text(0), &a.text(1), Kind::Mysql) {
            Some((moment, true)) => Value::Timestamp(moment),
            Some((moment, false)) => Value::Date(moment.date()),
            None => Value::Null,
        })
    }),
    f("DATE_ADD", of(&[Mysql, Mariadb]), 2, 2, Typing::First, |a| mysql_moved(a, 1)),
    f("ADDDATE", MY, 2, 2, Typing::First, |a| mysql_moved(a, 1)),
    f("DATE_SUB", of(&[Mysql, Mariadb]), 2, 2, Typing::First, |a| mysql_moved(a, -1)),
    f("SUBDATE", MY, 2, 2, Typing::First, |a| mysql_moved(a, -1)),
    f("DATEDIFF", of(&[Mysql, Mariadb]), 2, 2, NUMBER, days_apart),
    f("DATEDIFF", of(&[Spark]), 2, 2, NUMBER, days_apart),
    worded(0, f("TIMESTAMPDIFF", of(&[Mysql, Mariadb, Spark]), 3, 3, NUMBER, |a| whole_units(a, 0, 1, 2))),
    worded(0, f("TIMESTAMPADD", of(&[Mysql, Mariadb, Spark]), 3, 3, STAMP, |a| date_add(a, 0, 1, 2))),
    f("MAKEDATE", MY, 2, 2, DATE, |a| {
        let (year, number) = (a.whole(0)?, a.whole(1)?);
        let first = Date::new(year as i16, 1, 1).ok().map(day_number);
        day(first.filter(|_| number > 0).and_then(|f| day_of(f + number - 1)))
    }),
    f("TO_DAYS", MY, 1, 1, NUMBER, |a| numbered(a, |t| day_number(t.date()) + 719_528)),
    f("FROM_DAYS", MY, 1, 1, DATE, |a| day(day_of(a.whole(0)? - 719_528))),
    f("PERIOD_DIFF", MY, 2, 2, NUMBER, |a| {
        let months = |p: i64| p / 100 * 12 + p % 100;
        Ok(Value::Integer(months(a.whole(0)?) - months(a.whole(1)?)))
    }),
    f("SEC_TO_TIME", MY, 1, 1, Typing::Fixed(Type::Time(0)), |a| Ok(Value::Time(crate::moment::time_of(i128::from(a.whole(0)?) * NANOS)))),
    f("TIME_TO_SEC", MY, 1, 1, NUMBER, |a| {
        let time = crate::convert::parse_time(&a.text(0)).or(a.moment(0)?.map(DateTime::time));
        Ok(time.map_or(Value::Null, |t| Value::Integer((crate::moment::time_nanos(t) / NANOS) as i64)))
    }),
    f("UNIX_TIMESTAMP", of(&[Mysql, Mariadb, Spark]), 1, 1, NUMBER, |a| numbered(a, |t| (nanos(t) / NANOS) as i64)),
    f("FROM_UNIXTIME", of(&[Mysql, Mariadb]), 1, 1, Typing::Fixed(Type::DateTime(Moment::Digits(0))), |a| {
        stamp(a, moment_of(i128::from(a.whole(0)?) * NANOS))
    }),
    f("DATE", of(&[Mysql, Mariadb, Spark, Duckdb]), 1, 1, DATE, |a| day(a.moment(0)?.map(DateTime::date))),
    f("DATE", of(&[Bigquery]), 1, 3, DATE, |a| match a.count() {
        3 => from_parts(a, &[0, 1, 2]).map(|t| Value::Date(t.date())),
        _ => day(a.moment(0)?.map(DateTime::date)),
    }),
    f("TIME", MY, 1, 1, Typing::Fixed(Type::Time(0)), |a| {
        Ok(crate::convert::parse_time(&a.text(0)).or(a.moment(0)?.map(DateTime::time)).map_or(Value::Null, Value::Time))
    }),
    f("TIMESTAMP", MY, 1, 1, Typing::Fixed(Type::DateTime(Moment::Digits(0))), |a| stamp(a, a.moment(0)?)),
    // --- PostgreSQL and DuckDB
    worded(0, f("DATE_TRUNC", of(&[Postgres, Duckdb, Spark]), 2, 2, STAMP, |a| truncated(a, 0, 1))),
    worded(1, f("DATE_TRUNC", of(&[Bigquery]), 2, 2, Typing::First, |a| truncated(a, 1, 0))),
    worded(1, f("DATETIME_TRUNC", of(&[Bigquery]), 2, 2, Typing::First, |a| truncated(a, 1, 0))),
    worded(1, f("TIMESTAMP_TRUNC", of(&[Bigquery]), 2, 3, Typing::First, |a| truncated(a, 1, 0))),
    worded(1, f("TRUNC", of(&[Spark]), 2, 2, DATE, |a| truncated(a, 1, 0))),
    worded(0, f("DATE_DIFF", of(&[Duckdb]), 3, 3, NUMBER, |a| Ok(Value::Integer(boundaries(a, 0, 1, 2)?)))),
    worded(0, f("DATEDIFF", of(&[Duckdb]), 3, 3, NUMBER, |a| Ok(Value::Integer(boundaries(a, 0, 1, 2)?)))),
    worded(2, f("DATE_DIFF", of(&[Bigquery]), 3, 3, NUMBER, |a| Ok(Value::Integer(boundaries(a, 2, 1, 0)?)))),
    worded(2, f("DATETIME_DIFF", of(&[Bigquery]), 3, 3, NUMBER, |a| Ok(Value::Integer(boundaries(a, 2, 1, 0)?)))),
    worded(2, f("TIMESTAMP_DIFF", of(&[Bigquery]), 3, 3, NUMBER, |a| whole_units(a, 2, 1, 0))),
    f("DATE_ADD", of(&[Bigquery, Duckdb]), 2, 2, Typing::By(moved_type), |a| arithmetic(a, Arithmetic::Add)),
    f("DATE_SUB", of(&[Bigquery]), 2, 2, Typing::By(moved_type), |a| arithmetic(a, Arithmetic::Subtract)),
    f("DATETIME_ADD", of(&[Bigquery]), 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Add)),
    f("DATETIME_SUB", of(&[Bigquery]), 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Subtract)),
    f("TIMESTAMP_ADD", of(&[Bigquery]), 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Add)),
    f("TIMESTAMP_SUB", of(&[Bigquery]), 2, 2, Typing::First, |a| arithmetic(a, Arithmetic::Subtract)),
    f("FORMAT_DATE", of(&[Bigquery]), 2, 2, TEXT, |a| strftime(a, 1, 0)),
    f("FORMAT_DATETIME", of(&[Bigquery]), 2, 2, TEXT, |a| strftime(a, 1, 0)),
    f("FORMAT_TIMESTAMP", of(&[Bigquery]), 2, 3, TEXT, |a| strftime(a, 1, 0)),
    f("PARSE_DATE", of(&[Bigquery]), 2, 2, DATE, |a| strptime(a, 1, 0).map(|t| Value::Date(t.date()))),
    f("PARSE_DATETIME", of(&[Bigquery]), 2, 2, STAMP, |a| strptime(a, 1, 0).map(Value::Timestamp)),
    f("STRFTIME", of(&[Duckdb]), 2, 2, TEXT, |a| if a.ty(0).is_dated() { strftime(a, 0, 1) } else { strftime(a, 1, 0) }),
    f("STRPTIME", of(&[Duckdb]), 2, 2, STAMP, |a| strptime(a, 0, 1).map(Value::Timestamp)),
    f("MAKE_DATE", of(&[Postgres, Duckdb, Spark]), 3, 3, DATE, |a| from_parts(a, &[0, 1, 2]).map(|t| Value::Date(t.date()))),
    f("TO_DATE", of(&[Postgres]), 2, 2, DATE, |a| Ok(Value::Date(oracle_date::read(&a.text(0), &a.text(1), a.behaviour)?.date()))),
    f("TO_TIMESTAMP", of(&[Postgres]), 2, 2, Typing::Fixed(Type::Zoned), |a| {
        Ok(Value::Instant(oracle_date::read(&a.text(0), &a.text(1), a.behaviour)?, 0))
    }),
    f("AGE", of(&[Postgres]), 2, 2, Typing::Fixed(Type::Interval(None)), age),
    // --- Spark
    f("DATE_ADD", of(&[Spark]), 2, 2, DATE, |a| day(a.moment(0)?.and_then(|t| day_of(day_number(t.date()) + a.whole(1).unwrap_or(0))))),
    f("DATE_SUB", of(&[Spark]), 2, 2, DATE, |a| day(a.moment(0)?.and_then(|t| day_of(day_number(t.date()) - a.whole(1).unwrap_or(0))))),
    f("ADD_MONTHS", of(&[Spark]), 2, 2, DATE, |a| day(a.moment(0)?.and_then(|t| add_months(t.date(), a.whole(1).unwrap_or(0))))),
    f("DATE_FORMAT", of(&[Spark]), 2, 2, TEXT, |a| match a.moment(0)? {
        Some(t) => {
            letters::written(t, &a.text(1), true).map(Value::text).ok_or_else(|| Failure::unknown(&format!("the mask '{}'", a.text(1))))
        }
        None => Ok(Value::Null),
    }),
    f("TO_DATE", of(&[Spark]), 1, 2, DATE, |a| {
        let moment = if a.count() > 1 { letters::read(&a.text(0), &a.text(1)) } else { a.moment(0)? };
        match moment {
            Some(t) => Ok(Value::Date(t.date())),
            None if a.behaviour.strict => Err(a.wrong(0)),
            None => Ok(Value::Null),
        }
    }),
    // --- SQLite
    f("DATE", of(&[Sqlite]), 1, 10, Typing::Fixed(Type::Any), |a| sqlite(a, 0, |t| t.date().to_string())),
    f("DATETIME", of(&[Sqlite]), 1, 10, Typing::Fixed(Type::Any), |a| sqlite(a, 0, |t| crate::mask::sql_server_style::iso(t, 0))),
    f("TIME", of(&[Sqlite]), 1, 10, Typing::Fixed(Type::Any), |a| sqlite(a, 0, |t| crate::mask::sql_server_style::clock(t.time(), 0))),
    f("STRFTIME", of(&[Sqlite]), 2, 10, Typing::Fixed(Type::Any), |a| {
        let mask = a.text(0);
        match sqlite_moment(a, 1)? {
            Some(t) => Ok(percent::written(t, &mask, Kind::Sqlite).map_or(Value::Null, Value::text)),
            None => Ok(Value::Null),
        }
    }),
    f("JULIANDAY", of(&[Sqlite]), 1, 10, Typing::Fixed(Type::Any), |a| {
        Ok(sqlite_moment(a, 0)?.map_or(Value::Null, |t| Value::Float(nanos(t) as f64 / DAY_NANOS as f64 + 2_440_587.5)))
    }),
];

// --- parts -----------------------------------------------------------------------------------------

fn day(date: Option<Date>) -> Outcome<Value> {
    Ok(date.map_or(Value::Null, Value::Date))
}

fn stamp(_: &Args<'_>, moment: Option<DateTime>) -> Outcome<Value> {
    Ok(moment.map_or(Value::Null, Value::Timestamp))
}

fn numbered(a: &Args<'_>, number: impl Fn(DateTime) -> i64) -> Outcome<Value> {
    Ok(a.moment(0)?.map_or(Value::Null, |t| Value::Integer(number(t))))
}

fn part(a: &Args<'_>, unit: Unit) -> Outcome<Value> {
    if let (Value::Text(text), true) = (a.value(0), unit.is_of_time())
        && let Some(time) = crate::convert::parse_time(text)
    {
        return Ok(Value::Integer(match unit {
            Unit::Hour => i64::from(time.hour()),
            Unit::Minute => i64::from(time.minute()),
            _ => i64::from(time.second()),
        }));
    }
    numbered(a, |t| field(t, unit))
}

fn field(t: DateTime, unit: Unit) -> i64 {
    let date = t.date();
    match unit {
        Unit::Year => i64::from(t.year()),
        Unit::Quarter => quarter(date),
        Unit::Month => i64::from(t.month()),
        Unit::Day => i64::from(t.day()),
        Unit::DayOfYear => day_of_year(date),
        // Sunday is 1 (DATEFIRST 7).
        Unit::WeekDay => weekday(date) % 7 + 1,
        Unit::Week => sql_server_week(date),
        Unit::IsoWeek => iso_week(date).1,
        Unit::Hour => i64::from(t.hour()),
        Unit::Minute => i64::from(t.minute()),
        Unit::Second => i64::from(t.second()),
        Unit::Millisecond => i64::from(t.subsec_nanosecond() / 1_000_000),
        Unit::Microsecond => i64::from(t.subsec_nanosecond() / 1000),
        Unit::Nanosecond => i64::from(t.subsec_nanosecond()),
    }
}

/// Weeks begin on Sunday; the first holds January 1.
fn sql_server_week(date: Date) -> i64 {
    let first = Date::new(date.year(), 1, 1).map_or(1, |d| weekday(d) % 7);
    (day_of_year(date) - 1 + first) / 7 + 1
}

fn extract_type(_: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    Ok(match behaviour.name() {
        Oracle | Postgres => Type::Number,
        Sqlite => Type::Any,
        _ => Type::BIGINT,
    })
}

fn extract(a: &Args<'_>, name: usize, value: usize) -> Outcome<Value> {
    let word = a.text(name).to_uppercase();
    if let Value::Interval(interval) = a.value(value) {
        return interval_part(a, &word, interval);
    }
    if a.dialect() == Oracle && a.ty(value).is_dated() && is_seconds(a.ty(value)) && matches!(word.as_str(), "HOUR" | "MINUTE" | "SECOND") {
        return Err(Failure::invalid("a DATE has no HOUR to extract").with_code("ORA-30076"));
    }
    let offset = if let Value::Instant(_, offset) = a.value(value) { *offset } else { 0 };
    if a.dialect() == SqlServer && matches!(word.as_str(), "TZOFFSET" | "TZ") {
        return Ok(Value::Integer(i64::from(offset)));
    }
    let Some(moment) = a.moment(value)?.map(|t| crate::moment::local(t, offset)) else { return Ok(Value::Null) };
    if let Some(joined) = word.split_once('_').filter(|_| a.behaviour.is_mysql()) {
        return Ok(Value::Integer(mysql_pair(moment, joined)));
    }
    let seconds = || {
        let total = i128::from(moment.second()) * NANOS + i128::from(moment.subsec_nanosecond());
        Value::decimal(Decimal::new(total.into(), 9).normalized())
    };
    match (word.as_str(), a.dialect()) {
        ("SECOND", Oracle) => return Ok(seconds()),
        ("SECOND", Postgres) => {
            return Ok(Value::decimal(crate::convert::rounded(&crate::convert::to_decimal(&seconds()).unwrap_or_default(), 6)));
        }
        ("MILLISECOND" | "MILLISECONDS", Postgres | Duckdb) => {
            return Ok(Value::Integer(i64::from(moment.second()) * 1000 + i64::from(moment.subsec_nanosecond() / 1_000_000)));
        }
        ("EPOCH", _) => {
            return Ok(if a.dialect() == Duckdb {
                Value::Float(nanos(moment) as f64 / 1e9)
            } else {
                Value::decimal(crate::convert::rounded(&Decimal::new(nanos(moment).into(), 9), 6))
            });
        }
        ("DOW", Postgres | Duckdb) | ("DAYOFWEEK", Duckdb) => return Ok(Value::Integer(weekday(moment.date()) % 7)),
        ("ISODOW" | "DAYOFWEEK_ISO", _) => return Ok(Value::Integer(weekday(moment.date()))),
        ("WEEK", Postgres | Duckdb | Spark | Mariadb) => return Ok(Value::Integer(iso_week(moment.date()).1)),
        ("ISOYEAR", _) => return Ok(Value::Integer(iso_week(moment.date()).0)),
        ("CENTURY", _) => return Ok(Value::Integer((i64::from(moment.year()) + 99) / 100)),
        ("DECADE", _) => return Ok(Value::Integer(i64::from(moment.year()) / 10)),
        ("DATE", Bigquery) => return Ok(Value::Date(moment.date())),
        _ => {}
    }
    let unit = unit(a, name)?;
    if a.dialect() == Oracle && !matches!(unit, Unit::Year | Unit::Month | Unit::Day | Unit::Hour | Unit::Minute | Unit::Second) {
        return Err(Failure::invalid(format!("EXTRACT has no {word}")).with_code("ORA-00907"));
    }
    Ok(match (field(moment, unit), a.result) {
        (n, Type::Float) => Value::Float(n as f64),
        (n, _) => Value::Integer(n),
    })
}

fn interval_part(a: &Args<'_>, word: &str, interval: &Interval) -> Outcome<Value> {
    // Oracle's intervals have days over months; hours stay below 24.
    let total = interval.nanoseconds;
    let (days, rest) =
        if a.dialect() == Oracle { (interval.days + (total / DAY_NANOS) as i64, total % DAY_NANOS) } else { (interval.days, total) };
    Ok(match word {
        "YEAR" => Value::Integer(interval.months / 12),
        "MONTH" => Value::Integer(interval.months % 12),
        "DAY" => Value::Integer(days),
        "HOUR" => Value::Integer((rest / (3600 * NANOS)) as i64),
        "MINUTE" => Value::Integer((rest / (60 * NANOS) % 60) as i64),
        "SECOND" => Value::decimal(Decimal::new((rest % (60 * NANOS)).into(), 9).normalized()),
        "EPOCH" => Value::decimal(
            Decimal::new((i128::from(interval.months) * 30 * DAY_NANOS + i128::from(interval.days) * DAY_NANOS + total).into(), 9)
                .normalized(),
        ),
        _ => return Err(Failure::unknown(&format!("EXTRACT of {word} from an interval"))),
    })
}

/// YEAR_MONTH, DAY_MINUTE ...: the digits of all units from the first to the last.
fn mysql_pair(t: DateTime, (first, last): (&str, &str)) -> i64 {
    let units = [Unit::Year, Unit::Month, Unit::Day, Unit::Hour, Unit::Minute, Unit::Second, Unit::Microsecond];
    let place = |name: &str| Unit::named(name).and_then(|u| units.iter().position(|v| *v == u)).unwrap_or(0);
    units[place(first)..=place(last)]
        .iter()
        .fold(0, |all, unit| all * if *unit == Unit::Microsecond { 1_000_000 } else { 100 } + field(t, *unit))
}

fn date_name(a: &Args<'_>) -> Outcome<Value> {
    let Some(moment) = a.moment(1)? else { return Ok(Value::Null) };
    a.give(match unit(a, 0)? {
        Unit::Month => MONTHS[moment.month() as usize - 1].to_string(),
        Unit::WeekDay => DAYS[weekday(moment.date()) as usize - 1].to_string(),
        other => field(moment, other).to_string(),
    })
}

// --- steps -----------------------------------------------------------------------------------------

/// SQL Server: a DATE has no hours.
fn check_unit(a: &Args<'_>, unit: Unit, ty: &Type) -> Outcome<()> {
    if a.dialect() == SqlServer && *ty == Type::Date && unit.is_of_time() {
        return Err(Failure::invalid("a DATE has no such part").with_code("Msg 9810"));
    }
    Ok(())
}

fn date_add(a: &Args<'_>, unit_at: usize, amount: usize, date: usize) -> Outcome<Value> {
    let unit = unit(a, unit_at)?;
    check_unit(a, unit, a.ty(date))?;
    let amount = a.whole(amount)?;
    let moment = match a.value(date) {
        Value::Text(_) if a.dialect() == SqlServer => {
            convert(a.value(date).clone(), a.ty(date), &Type::DateTime(Moment::Ticks), How::EXPLICIT, a.behaviour)
                .map(|v| crate::moment::as_moment(&v))?
        }
        _ => a.moment(date)?,
    };
    let Some(moment) = moment else { return Ok(Value::Null) };
    let moved = match unit.months() {
        Some(months) => add_months(moment.date(), months * amount).map(|d| DateTime::from_parts(d, moment.time())),
        None => moment_of(nanos(moment) + unit.nanos().unwrap_or(0) * i128::from(amount)),
    };
    if a.behaviour.is_mysql() {
        return Ok(match moved {
            Some(t) if !unit.is_of_time() && !matches!(a.value(date), Value::Timestamp(_)) && nanos(t) % DAY_NANOS == 0 => {
                Value::Date(t.date())
            }
            Some(t) => Value::Timestamp(t),
            None => Value::Null,
        });
    }
    shaped(moved, a.result, a.behaviour)
}

/// How many boundaries of a unit lie between two moments.
fn boundaries(a: &Args<'_>, unit_at: usize, from: usize, to: usize) -> Outcome<i64> {
    let unit = unit(a, unit_at)?;
    let (Some(x), Some(y)) = (a.moment(from)?, a.moment(to)?) else { return Ok(0) };
    Ok(match unit {
        Unit::Year => i64::from(y.year()) - i64::from(x.year()),
        Unit::Quarter | Unit::Month => {
            let months = |t: DateTime| i64::from(t.year()) * 12 + i64::from(t.month()) - 1;
            match unit {
                Unit::Month => months(y) - months(x),
                _ => months(y).div_euclid(3) - months(x).div_euclid(3),
            }
        }
        Unit::Week => {
            // Weeks begin on Sunday; in DuckDB on Monday.
            let shift = if a.dialect() == Duckdb { 3 } else { 4 };
            let week = |t: DateTime| (day_number(t.date()) + shift).div_euclid(7);
            week(y) - week(x)
        }
        Unit::IsoWeek => {
            let week = |t: DateTime| (day_number(t.date()) + 3).div_euclid(7);
            week(y) - week(x)
        }
        other => {
            let step = other.nanos().unwrap_or(1);
            i64::try_from(nanos(y).div_euclid(step) - nanos(x).div_euclid(step)).unwrap_or(i64::MAX)
        }
    })
}

/// How many whole units lie between two moments.
fn whole_units(a: &Args<'_>, unit_at: usize, from: usize, to: usize) -> Outcome<Value> {
    let unit = unit(a, unit_at)?;
    let (Some(x), Some(y)) = (a.moment(from)?, a.moment(to)?) else { return Ok(Value::Null) };
    if let Some(months) = unit.months() {
        return Ok(Value::Integer(whole_months(x, y) / months));
    }
    Ok(Value::Integer(((nanos(y) - nanos(x)) / unit.nanos().unwrap_or(1)) as i64))
}

fn whole_months(x: DateTime, y: DateTime) -> i64 {
    if y < x {
        return -whole_months(y, x);
    }
    let months = (i64::from(y.year()) - i64::from(x.year())) * 12 + i64::from(y.month()) - i64::from(x.month());
    let short = (y.day(), y.time()) < (x.day(), x.time());
    months - i64::from(short)
}

fn days_apart(a: &Args<'_>) -> Outcome<Value> {
    let (Some(x), Some(y)) = (a.moment(0)?, a.moment(1)?) else { return Ok(Value::Null) };
    Ok(Value::Integer(day_number(x.date()) - day_number(y.date())))
}

fn truncated(a: &Args<'_>, unit_at: usize, value: usize) -> Outcome<Value> {
    let unit = unit(a, unit_at)?;
    check_unit(a, unit, a.ty(value))?;
    let Some(moment) = a.moment(value)? else { return Ok(Value::Null) };
    let sunday = a.is(&[SqlServer, Bigquery]);
    let moment = floor(moment, unit, sunday);
    shaped(moment, a.result, a.behaviour)
}

/// The start of the unit a moment lies in.
fn floor(moment: DateTime, unit: Unit, sunday: bool) -> Option<DateTime> {
    let date = moment.date();
    let start = match unit {
        Unit::Year => Date::new(date.year(), 1, 1).ok()?,
        Unit::Quarter => Date::new(date.year(), ((quarter(date) - 1) * 3 + 1) as i8, 1).ok()?,
        Unit::Month => Date::new(date.year(), date.month(), 1).ok()?,
        Unit::Week if sunday => day_of(day_number(date) - weekday(date) % 7)?,
        Unit::Week | Unit::IsoWeek => day_of(day_number(date) - (weekday(date) - 1))?,
        Unit::Day | Unit::DayOfYear | Unit::WeekDay => date,
        other => {
            let step = other.nanos()?;
            return moment_of(nanos(moment).div_euclid(step) * step);
        }
    };
    Some(start.at(0, 0, 0, 0))
}

fn date_bucket(a: &Args<'_>) -> Outcome<Value> {
    let unit = unit(a, 0)?;
    let width = a.whole(1)?.max(1);
    let Some(moment) = a.moment(2)? else { return Ok(Value::Null) };
    let origin = if a.has(3) { a.moment(3)? } else { Date::new(1900, 1, 1).ok().map(|d| d.at(0, 0, 0, 0)) };
    let Some(origin) = origin else { return Ok(Value::Null) };
    let start = if let Some(months) = unit.months() {
        let between = whole_months(origin, moment).div_euclid(months * width) * months * width;
        add_months(origin.date(), between).map(|d| DateTime::from_parts(d, origin.time()))
    } else {
        let step = unit.nanos().unwrap_or(1) * i128::from(width);
        moment_of(nanos(origin) + (nanos(moment) - nanos(origin)).div_euclid(step) * step)
    };
    shaped(start, a.result, a.behaviour)
}

fn from_parts(a: &Args<'_>, places: &[usize]) -> Outcome<DateTime> {
    let part = |i: usize| places.get(i).map_or(Ok(0), |at| a.whole(*at));
    let codes: Codes = &[(SqlServer, "Msg 289"), (Postgres, "22008")];
    let wrong = || Failure::new(FailureKind::BadCast, "these parts make no date").coded(a.dialect(), codes);
    let date = Date::new(
        i16::try_from(part(0)?).map_err(|_| wrong())?,
        i8::try_from(part(1)?).map_err(|_| wrong())?,
        i8::try_from(part(2)?).map_err(|_| wrong())?,
    );
    let time = jiff::civil::Time::new(part(3)? as i8, part(4)? as i8, part(5)? as i8, (part(6)? * 1_000_000) as i32);
    match (date, time) {
        (Ok(date), Ok(time)) => Ok(DateTime::from_parts(date, time)),
        _ => Err(wrong()),
    }
}

fn time_from_parts(a: &Args<'_>) -> Outcome<Value> {
    let digits = a.whole(4)?.clamp(0, 7);
    let nano = a.whole(3)? * 10i64.pow(9 - digits as u32);
    let time = jiff::civil::Time::new(a.whole(0)? as i8, a.whole(1)? as i8, a.whole(2)? as i8, nano as i32);
    time.map(Value::Time).map_err(|_| Failure::new(FailureKind::BadCast, "these parts make no time").with_code("Msg 289"))
}

// --- Oracle ----------------------------------------------------------------------------------------

/// The last day of a month stays the last.
fn oracle_add_months(a: &Args<'_>) -> Outcome<Value> {
    let Some(moment) = a.moment(0)? else { return Ok(Value::Null) };
    let Some(date) = add_months(moment.date(), a.whole(1)?) else { return Err(out_of_range(a.behaviour)) };
    let last = moment.date() == month_end(moment.date());
    Ok(Value::Timestamp(DateTime::from_parts(if last { month_end(date) } else { date }, moment.time())))
}

/// Whole where days are the same or both last of their months; else by months of 31 days.
fn months_between(a: &Args<'_>) -> Outcome<Value> {
    let (Some(x), Some(y)) = (a.moment(0)?, a.moment(1)?) else { return Ok(Value::Null) };
    let months = (i64::from(x.year()) - i64::from(y.year())) * 12 + i64::from(x.month()) - i64::from(y.month());
    let last = |t: DateTime| t.date() == month_end(t.date());
    if x.day() == y.day() || (last(x) && last(y)) {
        return Ok(Value::Integer(months));
    }
    let of_month = |t: DateTime| i128::from(t.day()) * DAY_NANOS + crate::moment::time_nanos(t.time());
    let part = quotient(&Decimal::from(of_month(x) - of_month(y)), &Decimal::from(31 * DAY_NANOS), 38, RoundingMode::HalfUp);
    Ok(simplest((Decimal::from(months) + part).normalized()))
}

fn next_day(a: &Args<'_>) -> Outcome<Value> {
    let Some(moment) = a.moment(0)? else { return Ok(Value::Null) };
    let name = a.text(1).to_ascii_lowercase();
    let wanted = name.get(..3).and_then(|n| DAYS.iter().position(|d| d.to_ascii_lowercase().starts_with(n)));
    let Some(wanted) = wanted else {
        return Err(Failure::invalid(format!("'{}' is no day of the week", a.text(1))).with_code("ORA-01846"));
    };
    let step = (wanted as i64 + 1 - weekday(moment.date()) + 6).rem_euclid(7) + 1;
    stamp(a, moment_of(nanos(moment) + i128::from(step) * DAY_NANOS))
}

fn round_type(types: &[Type], _: &Behaviour) -> Outcome<Type> {
    Ok(match types.first() {
        Some(t) if t.is_dated() => Type::DateTime(Moment::Seconds),
        Some(Type::Float | Type::Real) => Type::Float,
        _ => Type::Number,
    })
}

/// ROUND and TRUNC of Oracle: of dates by a unit, of numbers by places.
fn oracle_round(a: &Args<'_>, up: bool) -> Outcome<Value> {
    if !a.ty(0).is_dated() {
        let places = a.whole_or(1, 0)?;
        let number = a.number(0)?;
        let mode = if up { RoundingMode::HalfUp } else { RoundingMode::Down };
        return Ok(simplest(number.with_scale_round(places, mode)));
    }
    let Some(moment) = a.moment(0)? else { return Ok(Value::Null) };
    let mask = if a.count() > 1 { a.text(1).to_uppercase() } else { "DD".to_string() };
    let unit = match mask.as_str() {
        "SYYYY" | "YYYY" | "YEAR" | "SYEAR" | "YYY" | "YY" | "Y" => Unit::Year,
        "Q" => Unit::Quarter,
        "MONTH" | "MON" | "MM" | "RM" => Unit::Month,
        "IW" => Unit::IsoWeek,
        "DAY" | "DY" | "D" => Unit::Week,
        "DDD" | "DD" | "J" => Unit::Day,
        "HH" | "HH12" | "HH24" => Unit::Hour,
        "MI" => Unit::Minute,
        _ => return Err(Failure::invalid(format!("'{mask}' is no unit to round to")).with_code("ORA-01898")),
    };
    let start = floor(moment, unit, true);
    if !up {
        return stamp(a, start);
    }
    // Years from July 1, quarters from the 16th of the second month, months from the 16th, days from
    // noon, hours and minutes from their half.
    let (date, is_up) = (moment.date(), |half: i128, step: i128| nanos(moment).rem_euclid(step) >= half);
    let later = match unit {
        Unit::Year => date.month() >= 7,
        Unit::Quarter => {
            let middle = (quarter(date) - 1) * 3 + 2;
            (i64::from(date.month()), date.day()) >= (middle, 16)
        }
        Unit::Month => date.day() >= 16,
        Unit::Week | Unit::IsoWeek => {
            let since = start.map_or(0, |s| nanos(moment) - nanos(s));
            since * 2 >= 7 * DAY_NANOS
        }
        Unit::Day => is_up(DAY_NANOS / 2, DAY_NANOS),
        Unit::Hour => is_up(1800 * NANOS, 3600 * NANOS),
        _ => is_up(30 * NANOS, 60 * NANOS),
    };
    let end = start.filter(|_| later).and_then(|s| match unit.months() {
        Some(months) => add_months(s.date(), months).map(|d| d.at(0, 0, 0, 0)),
        None => moment_of(nanos(s) + unit.nanos().unwrap_or(0)),
    });
    stamp(a, if later { end } else { start })
}

fn oracle_to_date(a: &Args<'_>) -> Outcome<Value> {
    if a.ty(0).is_dated() {
        return stamp(a, a.moment(0)?);
    }
    let mask = if a.has(1) { a.text(1) } else { oracle_date::SESSION_FORMAT.to_string() };
    oracle_date::read(&a.text(0), &mask, a.behaviour).map(Value::Timestamp)
}

/// TO_CHAR of dates, numbers and intervals, with a mask or without.
fn to_char(a: &Args<'_>) -> Outcome<Value> {
    if a.count() == 1 {
        return a.give(a.text(0));
    }
    match a.value(0) {
        Value::Interval(_) => Err(Failure::unknown("TO_CHAR of an interval with a mask")),
        Value::Date(_) | Value::Timestamp(_) | Value::Instant(..) | Value::Time(_) => match a.moment(0)? {
            Some(moment) => a.give(oracle_date::written(moment, &a.text(1), a.behaviour)?),
            None => Ok(Value::Null),
        },
        _ => a.give(oracle_number::written(&a.number(0)?, &a.text(1))?),
    }
}

// --- others ----------------------------------------------------------------------------------------

fn strftime(a: &Args<'_>, value: usize, mask: usize) -> Outcome<Value> {
    let Some(moment) = a.moment(value)? else { return Ok(Value::Null) };
    match percent::written(moment, &a.text(mask), Kind::Strftime) {
        Some(text) => a.give(text),
        None => Err(Failure::unknown(&format!("the mask '{}'", a.text(mask)))),
    }
}

fn strptime(a: &Args<'_>, value: usize, mask: usize) -> Outcome<DateTime> {
    percent::read(&a.text(value), &a.text(mask), Kind::Strftime).map(|(moment, _)| moment).ok_or_else(|| a.wrong(value))
}

/// Years, months and days between two moments (PostgreSQL, age).
fn age(a: &Args<'_>) -> Outcome<Value> {
    let (Some(x), Some(y)) = (a.moment(0)?, a.moment(1)?) else { return Ok(Value::Null) };
    let (late, early, sign) = if x >= y { (x, y, 1) } else { (y, x, -1) };
    let months = whole_months(early, late);
    let Some(start) = add_months(early.date(), months).map(|d| DateTime::from_parts(d, early.time())) else { return Ok(Value::Null) };
    let rest = nanos(late) - nanos(start);
    Ok(Value::Interval(Box::new(Interval {
        months: months * sign,
        days: (rest / DAY_NANOS) as i64 * sign,
        nanoseconds: rest % DAY_NANOS * i128::from(sign),
    })))
}

fn sqlite(a: &Args<'_>, at: usize, show: impl Fn(DateTime) -> String) -> Outcome<Value> {
    Ok(sqlite_moment(a, at)?.map_or(Value::Null, |t| Value::text(show(t))))
}

/// A time value and its modifiers (SQLite, Date And Time Functions).
fn sqlite_moment(a: &Args<'_>, at: usize) -> Outcome<Option<DateTime>> {
    let first = a.text(at);
    let mut moment = match first.to_ascii_lowercase().as_str() {
        "now" => Some(a.session.now),
        _ => match a.value(at) {
            Value::Integer(_) | Value::Float(_) => {
                let days = a.float(at)? - 2_440_587.5;
                moment_of((days * DAY_NANOS as f64).round() as i128)
            }
            // A time alone is of the first day of 2000.
            _ => match crate::convert::parse_time(&first).filter(|_| first.contains(':') && !first.contains('-')) {
                Some(time) => Some(DateTime::from_parts(jiff::civil::date(2000, 1, 1), time)),
                None => crate::convert::parse_moment(&first, a.behaviour).ok().map(|p| p.moment),
            },
        },
    };
    for modifier in at + 1..a.count() {
        let text = a.text(modifier).to_ascii_lowercase();
        let Some(now) = moment else { return Ok(None) };
        moment = match text.as_str() {
            "start of month" => floor(now, Unit::Month, false),
            "start of year" => floor(now, Unit::Year, false),
            "start of day" => floor(now, Unit::Day, false),
            "utc" | "localtime" | "auto" | "subsec" => Some(now),
            other => {
                let mut words = other.split_whitespace();
                let (Some(amount), Some(unit)) = (words.next().and_then(|w| w.parse::<f64>().ok()), words.next().and_then(Unit::named))
                else {
                    return Ok(None);
                };
                match unit.months() {
                    // A day the month doesn't have goes over into the next.
                    Some(months) => {
                        let months = months * amount as i64;
                        let first = Date::new(now.year(), now.month(), 1).ok().and_then(|d| add_months(d, months));
                        first.and_then(|f| day_of(day_number(f) + i64::from(now.day()) - 1)).map(|d| DateTime::from_parts(d, now.time()))
                    }
                    None => moment_of(nanos(now) + (amount * unit.nanos().unwrap_or(0) as f64) as i128),
                }
            }
        };
    }
    Ok(moment)
}
