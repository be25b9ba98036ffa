//! What the session knows: the clock, the user, the version; and what is never the same.

use values::Value;

use super::{
    Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, bare, f,
    of, seen,
};
use crate::failure::{Failure, Outcome};
use crate::moment::{NANOS, moment_of, nanos};
use crate::types::{Moment, Type};

const ORACLE_DATE: Typing = Typing::Fixed(Type::DateTime(Moment::Seconds));
const fn digits(n: u8) -> Typing {
    Typing::Fixed(Type::DateTime(Moment::Digits(n)))
}

pub(super) const FUNCTIONS: &[Function] = &[
    bare("SYSDATE", ORACLE, ORACLE_DATE, seconds),
    bare("CURRENT_DATE", ORACLE, ORACLE_DATE, seconds),
    bare("SYSTIMESTAMP", ORACLE, Typing::Fixed(Type::Zoned), instant),
    bare("CURRENT_TIMESTAMP", ORACLE, Typing::Fixed(Type::Zoned), instant),
    bare("LOCALTIMESTAMP", ORACLE, digits(6), now),
    bare("CURRENT_TIMESTAMP", SQL_SERVER, Typing::Fixed(Type::DateTime(Moment::Ticks)), now),
    f("GETDATE", SQL_SERVER, 0, 0, Typing::Fixed(Type::DateTime(Moment::Ticks)), now),
    f("GETUTCDATE", SQL_SERVER, 0, 0, Typing::Fixed(Type::DateTime(Moment::Ticks)), now),
    f("SYSDATETIME", SQL_SERVER, 0, 0, digits(7), now),
    f("SYSUTCDATETIME", SQL_SERVER, 0, 0, digits(7), now),
    f("SYSDATETIMEOFFSET", SQL_SERVER, 0, 0, Typing::Fixed(Type::Zoned), instant),
    bare("CURRENT_DATE", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), Typing::Fixed(Type::Date), today),
    f("CURDATE", MY, 0, 0, Typing::Fixed(Type::Date), today),
    bare("CURRENT_DATE", of(&[Sqlite]), Typing::Fixed(Type::Any), |a| a.give(a.session.now.date().to_string())),
    bare("CURRENT_TIMESTAMP", of(&[Sqlite]), Typing::Fixed(Type::Any), |a| {
        a.give(format!("{} {}", a.session.now.date(), a.session.now.time()))
    }),
    bare("CURRENT_TIMESTAMP", MY, digits(0), seconds),
    f("NOW", MY, 0, 1, digits(0), seconds),
    f("SYSDATE", MY, 0, 1, digits(0), seconds),
    bare("LOCALTIMESTAMP", MY, digits(0), seconds),
    bare("CURRENT_TIMESTAMP", of(&[Postgres, Duckdb, Bigquery]), Typing::Fixed(Type::Zoned), instant),
    bare("CURRENT_TIMESTAMP", of(&[Spark]), digits(6), now),
    f("NOW", of(&[Postgres, Duckdb]), 0, 0, Typing::Fixed(Type::Zoned), instant),
    f("NOW", of(&[Spark]), 0, 0, digits(6), now),
    bare("LOCALTIMESTAMP", of(&[Postgres, Duckdb, Spark]), digits(6), now),
    f("CURRENT_DATETIME", of(&[Bigquery]), 0, 1, digits(6), now),
    bare("CURRENT_TIME", of(&[Postgres, Mysql, Mariadb, Duckdb]), Typing::Fixed(Type::Time(6)), |a| Ok(Value::Time(a.session.now.time()))),
    bare("USER", of(&[Oracle, Postgres, SqlServer]), Typing::Fixed(Type::TEXT), user),
    bare("CURRENT_USER", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark]), Typing::Fixed(Type::TEXT), user),
    bare("SESSION_USER", of(&[SqlServer, Postgres, Duckdb, Bigquery]), Typing::Fixed(Type::TEXT), user),
    bare("SYSTEM_USER", SQL_SERVER, Typing::Fixed(Type::TEXT), user),
    f("USER", of(&[Mysql, Mariadb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), user),
    f("SESSION_USER", of(&[Mysql, Mariadb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), user),
    f("SYSTEM_USER", MY, 0, 0, Typing::Fixed(Type::TEXT), user),
    f("USER_NAME", SQL_SERVER, 0, 0, Typing::Fixed(Type::TEXT), user),
    f("SUSER_SNAME", SQL_SERVER, 0, 0, Typing::Fixed(Type::TEXT), user),
    f("SUSER_NAME", SQL_SERVER, 0, 0, Typing::Fixed(Type::TEXT), user),
    f("ORIGINAL_LOGIN", SQL_SERVER, 0, 0, Typing::Fixed(Type::TEXT), user),
    bare("CURRENT_ROLE", of(&[Postgres]), Typing::Fixed(Type::TEXT), user),
    f("SCHEMA_NAME", SQL_SERVER, 0, 0, Typing::Fixed(Type::TEXT), |a| a.give("dbo")),
    bare("CURRENT_SCHEMA", of(&[Postgres]), Typing::Fixed(Type::TEXT), |a| a.give("public")),
    f("CURRENT_SCHEMA", of(&[Duckdb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    f("CONNECTION_ID", MY, 0, 0, Typing::Number, |_| Ok(Value::Integer(7))),
    f("PG_BACKEND_PID", of(&[Postgres]), 0, 0, Typing::Number, |_| Ok(Value::Integer(7))),
    bare("@@SPID", SQL_SERVER, Typing::Fixed(Type::INT), |_| Ok(Value::Integer(7))),
    // No row was inserted yet: a stand-in numbers none by itself.
    f("LAST_INSERT_ID", MY, 0, 0, Typing::Number, |_| Ok(Value::Integer(0))),
    f("LAST_INSERT_ROWID", of(&[Sqlite]), 0, 0, Typing::Number, |_| Ok(Value::Integer(0))),
    f("SCOPE_IDENTITY", SQL_SERVER, 0, 0, Typing::Number, |_| Ok(Value::Null)),
    bare("@@IDENTITY", SQL_SERVER, Typing::Number, |_| Ok(Value::Null)),
    f("LASTVAL", of(&[Postgres]), 0, 0, Typing::Number, |_| Err(Failure::invalid("no sequence gave a number yet").with_code("55000"))),
    f("SYS_CONTEXT", ORACLE, 2, 2, Typing::Fixed(Type::TEXT), |a| match a.text(1).to_uppercase().as_str() {
        "CURRENT_USER" | "SESSION_USER" => user(a),
        "DB_NAME" | "CURRENT_SCHEMA" => a.give("NAVIGATION"),
        "SID" => a.give("7"),
        _ => Ok(Value::Null),
    }),
    f("VERSION", of(&[Mysql, Mariadb, Postgres, Duckdb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), version),
    f("SQLITE_VERSION", of(&[Sqlite]), 0, 0, Typing::Fixed(Type::TEXT), version),
    bare("@@VERSION", SQL_SERVER, Typing::Fixed(Type::TEXT), version),
    bare("@@PROJECT_ID", of(&[Bigquery]), Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    bare("CURRENT_CATALOG", of(&[Postgres]), Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    f("SCHEMA", MY, 0, 0, Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    f("CHECKSUM", SQL_SERVER, 1, 1, Typing::Fixed(Type::INT), |a| {
        let bits = a.text(0).bytes().fold(7_u32, |sum, b| sum.wrapping_mul(31).wrapping_add(u32::from(b)));
        Ok(Value::Integer(i64::from(bits.cast_signed())))
    }),
    f("DATABASE", MY, 0, 0, Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    f("DB_NAME", SQL_SERVER, 0, 1, Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    f("CURRENT_DATABASE", of(&[Postgres, Duckdb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), |a| a.give("navigation")),
    bare("@@DATEFIRST", SQL_SERVER, Typing::Fixed(Type::INT), |_| Ok(Value::Integer(7))),
    bare("@@MAX_PRECISION", SQL_SERVER, Typing::Fixed(Type::INT), |_| Ok(Value::Integer(38))),
    bare("@@LANGUAGE", SQL_SERVER, Typing::Fixed(Type::TEXT), |a| a.give("us_english")),
    // DBMS_RANDOM.VALUE(low, high)
    f("VALUE", ORACLE, 2, 2, Typing::Number, |a| {
        let (low, high) = (a.float(0)?, a.float(1)?);
        let share = (a.random.borrow_mut().next() >> 11) as f64 / (1u64 << 53) as f64;
        Ok(Value::Float(low + share * (high - low)))
    }),
    f("SYS_GUID", ORACLE, 0, 0, Typing::Fixed(Type::Binary { length: Some(16), fixed: true }), |a| {
        let first = a.random.borrow_mut().next().to_be_bytes();
        let bytes = [first, a.random.borrow_mut().next().to_be_bytes()].concat();
        Ok(Value::Binary(Box::new(bytes)))
    }),
    f("NEWID", SQL_SERVER, 0, 0, Typing::Fixed(Type::Uuid), |a| a.give(uuid(a).to_uppercase())),
    f("UUID", of(&[Mysql, Mariadb, Duckdb, Spark]), 0, 0, Typing::Fixed(Type::TEXT), |a| a.give(uuid(a))),
    f("GEN_RANDOM_UUID", of(&[Postgres, Duckdb]), 0, 0, Typing::Fixed(Type::Uuid), |a| a.give(uuid(a))),
    f("GENERATE_UUID", of(&[Bigquery]), 0, 0, Typing::Fixed(Type::TEXT), |a| a.give(uuid(a))),
    seen("RAND", of(&[SqlServer, Mysql, Mariadb, Bigquery, Spark]), 0, 1, Typing::Fixed(Type::Float), random),
    f("RANDOM", of(&[Postgres, Duckdb, Spark]), 0, 0, Typing::Fixed(Type::Float), random),
    f("RANDOM", of(&[Sqlite]), 0, 0, Typing::Fixed(Type::Any), |a| Ok(Value::Integer(a.random.borrow_mut().next() as i64))),
    seen("TYPEOF", of(&[Sqlite]), 1, 1, Typing::Fixed(Type::Any), |a| a.give(sqlite_type(a.value(0)))),
    f("PG_TYPEOF", of(&[Postgres]), 1, 1, Typing::Fixed(Type::TEXT), |a| a.give(postgres_type(a))),
];

fn now(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Timestamp(a.session.now))
}

fn instant(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Instant(a.session.now, 0))
}

fn seconds(a: &Args<'_>) -> Outcome<Value> {
    Ok(moment_of(nanos(a.session.now).div_euclid(NANOS) * NANOS).map_or(Value::Null, Value::Timestamp))
}

fn today(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Date(a.session.now.date()))
}

fn user(a: &Args<'_>) -> Outcome<Value> {
    a.give(if a.dialect() == Oracle { "NAVIGATION" } else { "navigation" })
}

fn version(a: &Args<'_>) -> Outcome<Value> {
    a.give(format!("{} stand-in", a.dialect().title()))
}

fn random(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Float((a.random.borrow_mut().next() >> 11) as f64 / (1u64 << 53) as f64))
}

fn uuid(a: &Args<'_>) -> String {
    let x = a.random.borrow_mut().next();
    let y = a.random.borrow_mut().next();
    let hex = format!("{x:016x}{y:016x}");
    format!("{}-{}-4{}-8{}-{}", &hex[..8], &hex[8..12], &hex[13..16], &hex[17..20], &hex[20..32])
}

fn sqlite_type(value: &Value) -> &'static str {
    match value {
        Value::Null => "null",
        Value::Integer(_) | Value::Boolean(_) => "integer",
        Value::Float(_) | Value::Decimal(_) => "real",
        Value::Binary(_) => "blob",
        _ => "text",
    }
}

fn postgres_type(a: &Args<'_>) -> &'static str {
    match a.ty(0) {
        Type::Integer(w) if w.bits == 64 => "bigint",
        Type::Integer(w) if w.bits == 16 => "smallint",
        Type::Integer(_) => "integer",
        Type::Number | Type::Decimal(..) => "numeric",
        Type::Float => "double precision",
        Type::Real => "real",
        Type::Boolean => "boolean",
        Type::Date => "date",
        Type::DateTime(_) => "timestamp without time zone",
        Type::Zoned => "timestamp with time zone",
        Type::Text(t) if t.literal => "unknown",
        Type::Text(t) if t.fixed => "character",
        Type::Text(t) if t.length.is_some() => "character varying",
        Type::Interval(_) => "interval",
        Type::Json => "json",
        _ => "text",
    }
}
