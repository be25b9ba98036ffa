//! Functions about NULL and the order of their arguments.

use std::cmp::Ordering;

use values::Value;

use super::{Args, Bigquery, Duckdb, Function, MANY, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite, Typing, of, seen};
use crate::compare::sort_order;
use crate::failure::Outcome;
use crate::types::Type;

pub(super) const FUNCTIONS: &[Function] = &[
    seen("GREATEST", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, MANY, Typing::Common, |a| {
        extreme(a, Ordering::Greater)
    }),
    seen("LEAST", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, MANY, Typing::Common, |a| {
        extreme(a, Ordering::Less)
    }),
    seen("MAX", of(&[Sqlite]), 2, MANY, Typing::Common, |a| extreme(a, Ordering::Greater)),
    seen("MIN", of(&[Sqlite]), 2, MANY, Typing::Common, |a| extreme(a, Ordering::Less)),
    seen("AFFINITY_", of(&[Sqlite]), 1, 1, Typing::Fixed(Type::Any), |a| {
        Ok(crate::sqlite_value::with_affinity(a.value(0).clone(), a.result))
    }),
    seen("NANVL", of(&[Oracle, Spark]), 2, 2, Typing::First, |a| {
        Ok(match a.value(0) {
            Value::Float(f) if f.is_nan() => a.value(1).clone(),
            other => other.clone(),
        })
    }),
    seen("NUM_NULLS", of(&[Postgres]), 1, MANY, Typing::Number, |a| {
        Ok(Value::Integer(a.values.iter().filter(|v| v.is_null()).count() as i64))
    }),
    seen("NUM_NONNULLS", of(&[Postgres]), 1, MANY, Typing::Number, |a| {
        Ok(Value::Integer(a.values.iter().filter(|v| !v.is_null()).count() as i64))
    }),
];

/// NULL is passed over in PostgreSQL, DuckDB, Spark and SQL Server; it spreads elsewhere.
fn extreme(a: &Args<'_>, wanted: Ordering) -> Outcome<Value> {
    let skips = a.is(&[Postgres, Duckdb, Spark, SqlServer]);
    if !skips && a.values.iter().any(Value::is_null) {
        return Ok(Value::Null);
    }
    let present = a.values.iter().filter(|v| !v.is_null());
    let best = present.reduce(|best, v| {
        let order = if a.dialect() == Sqlite {
            crate::compare::loose_order(v, best, a.collation).unwrap_or(Ordering::Equal)
        } else {
            sort_order(v, best, a.collation)
        };
        if order == wanted { v } else { best }
    });
    Ok(best.cloned().unwrap_or(Value::Null))
}
