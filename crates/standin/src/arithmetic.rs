//! Numbers by a dialect's rules.

use bigdecimal::Zero;
use syntax::DialectName;
use values::{Decimal, Value};

use crate::behaviour::{Behaviour, Division};
use crate::convert::{leading_number, parse_number, simplest, to_decimal, to_float};
use crate::failure::{Failure, FailureKind};

/// The arithmetic operators.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Arithmetic {
    Add,
    Subtract,
    Multiply,
    Divide,
    /// DIV, `//`.
    DivideWhole,
    Remainder,
}

pub(crate) fn compute(operator: Arithmetic, a: &Value, b: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    if a.is_null() || b.is_null() {
        return Ok(Value::Null);
    }
    let (a, b) = (number(a, behaviour)?, number(b, behaviour)?);
    // Observed on DuckDB 1.3 and 2.0: 7.5 // 2 is 3.75, only whole numbers are cut.
    let whole = matches!((&a, &b), (Value::Integer(_), Value::Integer(_)));
    let keeps = operator == Arithmetic::DivideWhole && behaviour.name() == DialectName::Duckdb && !whole;
    let operator = if keeps { Arithmetic::Divide } else { operator };
    if let (Value::Float(_), _) | (_, Value::Float(_)) = (&a, &b) {
        return floats(operator, &a, &b, behaviour);
    }
    if let (Value::Integer(x), Value::Integer(y)) = (&a, &b) {
        let exact = match operator {
            Arithmetic::Add => x.checked_add(*y),
            Arithmetic::Subtract => x.checked_sub(*y),
            Arithmetic::Multiply => x.checked_mul(*y),
            _ => return divide(operator, &a, &b, behaviour),
        };
        return exact.map(Value::Integer).map_or_else(|| overflow(operator, &a, &b, behaviour), Ok);
    }
    let (Some(x), Some(y)) = (to_decimal(&a), to_decimal(&b)) else {
        return Err(Failure::unknown("arithmetic on these types"));
    };
    Ok(match operator {
        Arithmetic::Add => Value::decimal(x + y),
        Arithmetic::Subtract => Value::decimal(x - y),
        Arithmetic::Multiply => Value::decimal(x * y),
        _ => return divide(operator, &a, &b, behaviour),
    })
}

fn overflow(operator: Arithmetic, a: &Value, b: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    // Oracle's NUMBER has room for more digits; the others have none.
    let (Some(x), Some(y)) = (to_decimal(a), to_decimal(b)) else { return Ok(Value::Null) };
    if behaviour.name() == DialectName::Oracle {
        return Ok(Value::decimal(match operator {
            Arithmetic::Add => x + y,
            Arithmetic::Subtract => x - y,
            _ => x * y,
        }));
    }
    Err(Failure::new(FailureKind::Overflow, "a number is too great for its type"))
}

/// The number a value is in arithmetic.
fn number(value: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    match value {
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => Ok(value.clone()),
        Value::Boolean(b) => Ok(Value::Integer(i64::from(*b))),
        Value::Text(t) => match behaviour.name() {
            DialectName::Mysql | DialectName::Mariadb | DialectName::Sqlite => Ok(leading_number(t)),
            DialectName::Oracle | DialectName::Tsql => parse_number(t).ok_or_else(|| {
                Failure::new(FailureKind::BadCast, format!("'{t}' is no number")).coded(behaviour.code(FailureKind::BadCast))
            }),
            _ => Err(Failure::new(FailureKind::BadCast, format!("'{t}' is a text, not a number"))),
        },
        other => Err(Failure::unknown(&format!("arithmetic with {other}"))),
    }
}

fn by_zero(behaviour: &Behaviour) -> Result<Value, Failure> {
    if behaviour.zero_gives_null {
        return Ok(Value::Null);
    }
    Err(Failure::new(FailureKind::DivisionByZero, "division by zero").coded(behaviour.code(FailureKind::DivisionByZero)))
}

fn floats(operator: Arithmetic, a: &Value, b: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    let (Some(a), Some(b)) = (to_float(a), to_float(b)) else { return Ok(Value::Null) };
    let divides = matches!(operator, Arithmetic::Divide | Arithmetic::DivideWhole | Arithmetic::Remainder);
    if divides && b == 0.0 {
        return if behaviour.name() == DialectName::Duckdb && operator == Arithmetic::Divide {
            Ok(Value::Float(a / b))
        } else {
            by_zero(behaviour)
        };
    }
    Ok(Value::Float(match operator {
        Arithmetic::Add => a + b,
        Arithmetic::Subtract => a - b,
        Arithmetic::Multiply => a * b,
        Arithmetic::Divide => a / b,
        Arithmetic::DivideWhole => (a / b).trunc(),
        Arithmetic::Remainder => a % b,
    }))
}

fn divide(operator: Arithmetic, a: &Value, b: &Value, behaviour: &Behaviour) -> Result<Value, Failure> {
    let (Some(x), Some(y)) = (to_decimal(a), to_decimal(b)) else { return Ok(Value::Null) };
    if y.is_zero() {
        return match (operator, behaviour.name()) {
            // MOD(x, 0) is x (Oracle, MOD).
            (Arithmetic::Remainder, DialectName::Oracle) => Ok(a.clone()),
            (Arithmetic::Divide, DialectName::Duckdb) => floats(operator, &Value::Float(to_float(a).unwrap_or(0.0)), b, behaviour),
            _ => by_zero(behaviour),
        };
    }
    let whole = matches!((a, b), (Value::Integer(_), Value::Integer(_)));
    Ok(match operator {
        Arithmetic::Remainder => simplest(&x - whole_part(&(&x / &y)) * &y),
        Arithmetic::DivideWhole => simplest(whole_part(&(&x / &y))),
        _ if whole && behaviour.division == Division::Whole => simplest(whole_part(&(&x / &y))),
        _ => match behaviour.division {
            Division::Float => return floats(operator, &Value::Float(to_float(a).unwrap_or(0.0)), b, behaviour),
            Division::FourMore => {
                let scale = x.fractional_digit_count().max(0) + 4;
                Value::decimal(crate::convert::rounded(&(&x / &y), scale))
            }
            Division::Exact => simplest((&x / &y).with_prec(40).normalized()),
            Division::Whole => Value::decimal(crate::convert::rounded(&(&x / &y), decimal_scale(&x, &y, behaviour))),
        },
    })
}

/// Digits after the point of a decimal quotient: at least 16 significant ones in PostgreSQL; 6 or
/// more in SQL Server.
fn decimal_scale(x: &Decimal, y: &Decimal, behaviour: &Behaviour) -> i64 {
    let scale = x.fractional_digit_count().max(0);
    match behaviour.name() {
        DialectName::Tsql => (scale + y.digits() as i64 + 1).max(6),
        _ => scale.max(y.fractional_digit_count()).max(16),
    }
}

fn whole_part(number: &Decimal) -> Decimal {
    number.with_scale_round(0, bigdecimal::RoundingMode::Down)
}
