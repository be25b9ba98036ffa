//! Aggregates.

use std::collections::HashSet;

use syntax::DialectName;
use values::{Decimal, Value};

use crate::arithmetic::{Arithmetic, compute};
use crate::behaviour::Behaviour;
use crate::compare::{group_key, sort_order};
use crate::failure::Failure;

/// The aggregates known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum AggregateKind {
    CountRows,
    Count,
    Sum,
    Minimum,
    Maximum,
    Average,
}

impl AggregateKind {
    pub(crate) fn named(name: &str, star: bool) -> Option<AggregateKind> {
        Some(match (name, star) {
            ("COUNT" | "COUNT_BIG", true) => AggregateKind::CountRows,
            ("COUNT" | "COUNT_BIG", false) => AggregateKind::Count,
            ("SUM", false) => AggregateKind::Sum,
            ("MIN", false) => AggregateKind::Minimum,
            ("MAX", false) => AggregateKind::Maximum,
            ("AVG", false) => AggregateKind::Average,
            _ => return None,
        })
    }
}

/// The aggregate of `values`, one for each row; NULLs count only as rows.
pub(crate) fn aggregate(kind: AggregateKind, values: Vec<Value>, distinct: bool, behaviour: &Behaviour) -> Result<Value, Failure> {
    if kind == AggregateKind::CountRows {
        return Ok(Value::Integer(values.len() as i64));
    }
    let mut present: Vec<Value> = values.into_iter().filter(|v| !v.is_null()).collect();
    if distinct {
        let mut seen = HashSet::new();
        present.retain(|v| seen.insert(group_key(v, behaviour)));
    }
    if kind == AggregateKind::Count {
        return Ok(Value::Integer(present.len() as i64));
    }
    let count = present.len() as i64;
    let reduced = match kind {
        AggregateKind::Minimum => present.into_iter().reduce(|a, b| if sort_order(&b, &a, behaviour).is_lt() { b } else { a }),
        AggregateKind::Maximum => present.into_iter().reduce(|a, b| if sort_order(&b, &a, behaviour).is_gt() { b } else { a }),
        _ => {
            let mut total: Option<Value> = None;
            for value in present {
                total = Some(match total {
                    None => compute(Arithmetic::Add, &Value::Integer(0), &value, behaviour)?,
                    Some(total) => compute(Arithmetic::Add, &total, &value, behaviour)?,
                });
            }
            total
        }
    };
    let Some(value) = reduced else { return Ok(Value::Null) };
    if kind != AggregateKind::Average {
        return Ok(value);
    }
    average(&value, count, behaviour)
}

fn average(total: &Value, count: i64, behaviour: &Behaviour) -> Result<Value, Failure> {
    let exact = match total {
        // AVG of whole numbers keeps a fraction everywhere but in SQL Server.
        Value::Integer(i) if !behaviour.whole_average => match behaviour.name() {
            DialectName::Sqlite | DialectName::Duckdb | DialectName::Bigquery | DialectName::Spark => Value::Float(*i as f64),
            _ => Value::decimal(Decimal::new((*i).into(), 0)),
        },
        other => other.clone(),
    };
    compute(Arithmetic::Divide, &exact, &Value::Integer(count), behaviour)
}
