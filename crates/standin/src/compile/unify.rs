//! The one type that values of two types become.

use syntax::DialectName;

use crate::arithmetic::decimal_form;
use crate::behaviour::Behaviour;
use crate::failure::{Codes, Failure, FailureKind, Outcome};
use crate::types::{Family, TextType, Type, Whole};

/// What values are brought together for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Purpose {
    Compare,
    /// CASE, COALESCE, GREATEST.
    Choose,
    /// UNION and its kin.
    Set,
}

/// The type that values of both types are converted to.
pub(crate) fn unify(a: &Type, b: &Type, purpose: Purpose, behaviour: &Behaviour) -> Outcome<Type> {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
    if a == b {
        return Ok(a.clone());
    }
    if behaviour.name() == Sqlite {
        return Ok(Type::Any);
    }
    match (a, b) {
        (Type::Null, other) | (other, Type::Null) => return Ok(other.clone()),
        (Type::Any, _) | (_, Type::Any) => return Ok(Type::Any),
        (Type::Text(x), Type::Text(y)) => return Ok(Type::Text(strings(x, y))),
        (Type::Array(x), Type::Array(y)) => return Ok(Type::Array(Box::new(unify(x, y, purpose, behaviour)?))),
        (Type::Struct(_), Type::Struct(_)) => return Ok(a.clone()),
        _ => {}
    }
    if a.is_numeric() && b.is_numeric() {
        return Ok(numbers(a, b, behaviour));
    }
    let zoned = [a, b].iter().filter(|t| matches!(t, Type::Zoned)).count();
    if behaviour.name() == Bigquery && zoned == 1 && a.is_dated() && b.is_dated() {
        return Err(mixed(a, b, purpose, behaviour));
    }
    if let Some(dated) = dates(a, b, behaviour) {
        return Ok(dated);
    }
    let other = match (a, b) {
        (Type::Text(_), other) | (other, Type::Text(_)) => Some(other),
        _ => None,
    };
    let literal = [a, b].iter().any(|t| t.as_text().is_some_and(|t| t.literal));
    match (behaviour.name(), other) {
        (SqlServer, Some(Type::Binary { .. })) => Ok(Type::TEXT),
        (SqlServer, Some(other)) => Ok(other.clone()),
        (SqlServer, None) if a.is_dated() && b.is_numeric() => Ok(a.clone()),
        (SqlServer, None) if b.is_dated() && a.is_numeric() => Ok(b.clone()),
        (SqlServer, None) if matches!(a, Type::Binary { .. }) => Ok(b.clone()),
        (SqlServer, None) if matches!(b, Type::Binary { .. }) => Ok(a.clone()),
        // Oracle: a string beside a number is read as one, beside a date as a date; only to compare.
        (Oracle, Some(other)) if purpose == Purpose::Compare => Ok(if other.is_numeric() { Type::Number } else { other.clone() }),
        (Mysql | Mariadb, Some(other)) if purpose == Purpose::Compare => Ok(match other.family() {
            Family::Date | Family::DateTime | Family::Time => other.clone(),
            Family::Exact | Family::Approximate | Family::Boolean => Type::Float,
            _ => Type::TEXT,
        }),
        (Mysql | Mariadb, Some(_)) => Ok(Type::TEXT),
        (Mysql | Mariadb, None) if a.family() == Family::Boolean && b.is_numeric() => Ok(b.clone()),
        (Mysql | Mariadb, None) if b.family() == Family::Boolean && a.is_numeric() => Ok(a.clone()),
        (Mysql | Mariadb, None) if purpose == Purpose::Compare => Ok(Type::Float),
        (Mysql | Mariadb, None) => Ok(Type::TEXT),
        (Bigquery, Some(other)) if other.is_numeric() => Err(mixed(a, b, purpose, behaviour)),
        (Postgres | Bigquery | Duckdb | Spark, Some(other)) if literal && *other != Type::Json => Ok(other.clone()),
        (Duckdb | Spark, Some(other)) if purpose == Purpose::Compare && *other != Type::Json => Ok(other.clone()),
        (Duckdb, Some(_)) => Ok(Type::TEXT),
        (Spark, Some(other)) if behaviour.strict => Ok(other.clone()),
        (Spark, Some(_)) => Ok(Type::TEXT),
        // (Seen on Spark 4.0.)
        (Spark, None) if behaviour.strict => Err(mixed(a, b, purpose, behaviour)),
        (Duckdb | Spark, None) if a.family() == Family::Boolean && b.is_numeric() => Ok(b.clone()),
        (Duckdb | Spark, None) if b.family() == Family::Boolean && a.is_numeric() => Ok(a.clone()),
        _ => Err(mixed(a, b, purpose, behaviour)),
    }
}

fn mixed(a: &Type, b: &Type, purpose: Purpose, behaviour: &Behaviour) -> Failure {
    let codes: Codes = match purpose {
        Purpose::Set => &[(DialectName::Oracle, "ORA-01790"), (DialectName::SqlServer, "Msg 206"), (DialectName::Postgres, "42804")],
        Purpose::Choose => &[(DialectName::Oracle, "ORA-00932"), (DialectName::SqlServer, "Msg 206"), (DialectName::Postgres, "42804")],
        Purpose::Compare => &[(DialectName::Oracle, "ORA-00932"), (DialectName::SqlServer, "Msg 206"), (DialectName::Postgres, "42883")],
    };
    let what = if purpose == Purpose::Compare { "can't be compared" } else { "can't stand in one column" };
    Failure::new(FailureKind::Invalid, format!("values of type {} and {} {what}", a.neutral(), b.neutral())).coded(behaviour.name(), codes)
}

/// The longer one; CHAR only if both are.
fn strings(a: &TextType, b: &TextType) -> TextType {
    let length = a.length.zip(b.length).map(|(x, y)| x.max(y));
    // A literal bends to the other side.
    let fixed = (a.fixed || a.literal) && (b.fixed || b.literal) && (a.fixed || b.fixed) && a.length == b.length;
    TextType { length, fixed, literal: a.literal && b.literal, national: a.national || b.national, collation: a.collation.or(b.collation) }
}

fn numbers(a: &Type, b: &Type, behaviour: &Behaviour) -> Type {
    if a.family() == Family::Approximate || b.family() == Family::Approximate {
        return if (a == &Type::Real || a.family() != Family::Approximate)
            && (b == &Type::Real || b.family() != Family::Approximate)
            && behaviour.name() == DialectName::SqlServer
        {
            Type::Real
        } else {
            Type::Float
        };
    }
    match (a, b) {
        (Type::Number, _) | (_, Type::Number) => Type::Number,
        (Type::Integer(x), Type::Integer(y)) => Type::Integer(Whole { bits: x.bits.max(y.bits), unsigned: x.unsigned && y.unsigned }),
        (Type::Bit, Type::Integer(w)) | (Type::Integer(w), Type::Bit) => Type::Integer(*w),
        (Type::Money, Type::Integer(_) | Type::Bit) | (Type::Integer(_) | Type::Bit, Type::Money) => Type::Money,
        _ => match (decimal_form(a), decimal_form(b)) {
            (Some((p, s)), Some((q, t))) => {
                let scale = s.max(t);
                Type::Decimal(((p as i16 - s).max(q as i16 - t) + scale).clamp(1, 38) as u16, scale)
            }
            _ => Type::Number,
        },
    }
}

fn dates(a: &Type, b: &Type, behaviour: &Behaviour) -> Option<Type> {
    let rank = |t: &Type| match t {
        Type::Date => Some(0),
        Type::DateTime(_) => Some(1),
        Type::Zoned => Some(2),
        _ => None,
    };
    match (rank(a), rank(b)) {
        (Some(x), Some(y)) => Some(match x.cmp(&y) {
            std::cmp::Ordering::Less => b.clone(),
            std::cmp::Ordering::Greater => a.clone(),
            // Two kinds of day and time: the finer one.
            std::cmp::Ordering::Equal => match (a, b) {
                (Type::DateTime(crate::types::Moment::Digits(m)), Type::DateTime(crate::types::Moment::Digits(n))) => {
                    Type::DateTime(crate::types::Moment::Digits(*m.max(n)))
                }
                (Type::DateTime(crate::types::Moment::Digits(_)), _) => a.clone(),
                _ => b.clone(),
            },
        }),
        _ if matches!((a, b), (Type::Interval(_), Type::Interval(_)) | (Type::Time(_), Type::Time(_))) => Some(a.clone()),
        (Some(_), None) if matches!(b, Type::Time(_)) && behaviour.is_mysql() => Some(a.clone()),
        _ => None,
    }
}
