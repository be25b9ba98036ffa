//! Functions of numbers.

use bigdecimal::{RoundingMode, Signed, ToPrimitive, Zero};
use values::{Decimal, Value};

use super::{
    ALL, Args, Bigquery, Duckdb, Function, MY, Mariadb, Mysql, ORACLE, Oracle, Postgres, SQL_SERVER, Spark, SqlServer, Sqlite, Typing, f,
    of, seen,
};
use crate::arithmetic::{Arithmetic, compute, result_type, settled, too_great};
use crate::behaviour::Behaviour;
use crate::compare::as_decimal;
use crate::convert::{rounded, simplest};
use crate::failure::{Codes, Failure, Outcome};
use crate::mask::oracle_number;
use crate::types::{Family, Type};

/// A number like the argument: whole numbers stay whole.
const SAME: Typing = Typing::By(|types, behaviour| Ok(numeric(types.first().unwrap_or(&Type::Any), behaviour)));
/// A floating point number; Oracle's NUMBER where the argument is one.
const REAL: Typing = Typing::By(|types, behaviour| {
    let exact = behaviour.name() == Oracle && types.iter().all(|t| t.family() != Family::Approximate);
    let numeric = behaviour.name() == Postgres && types.iter().any(|t| matches!(t, Type::Number | Type::Decimal(..)));
    Ok(if behaviour.name() == Sqlite {
        Type::Any
    } else if exact || numeric {
        Type::Number
    } else {
        Type::Float
    })
});
const NUMBER: Typing = Typing::Number;

pub(super) const FUNCTIONS: &[Function] = &[
    f("ABS", ALL, 1, 1, SAME, |a| match number_of(a, 0)? {
        Value::Float(x) => Ok(Value::Float(x.abs())),
        other => give(a, as_decimal(&other).unwrap_or_default().abs()),
    }),
    f("NEGATIVE", of(&[Spark]), 1, 1, SAME, |a| match number_of(a, 0)? {
        Value::Float(x) => Ok(Value::Float(-x)),
        other => give(a, -as_decimal(&other).unwrap_or_default()),
    }),
    f("POSITIVE", of(&[Spark]), 1, 1, SAME, |a| number_of(a, 0)),
    f("SIGNUM", of(&[Spark]), 1, 1, Typing::Fixed(Type::Float), |a| {
        Ok(Value::Float(a.float(0)?.partial_cmp(&0.0).map_or(f64::NAN, |o| f64::from(o as i8))))
    }),
    f("SIGN", ALL, 1, 1, SAME, |a| {
        let sign = match number_of(a, 0)? {
            Value::Float(x) => {
                if x > 0.0 {
                    1
                } else if x < 0.0 {
                    -1
                } else {
                    0
                }
            }
            other => as_decimal(&other).map_or(0, |d| {
                if d.is_zero() {
                    0
                } else if d.is_negative() {
                    -1
                } else {
                    1
                }
            }),
        };
        Ok(Value::Integer(sign))
    }),
    f("CEIL", of(&[Spark]), 1, 2, Typing::By(spark_whole_type), |a| {
        if a.count() == 1 { to_whole(a, RoundingMode::Ceiling) } else { rescaled(a, 1, RoundingMode::Ceiling) }
    }),
    f("FLOOR", of(&[Spark]), 1, 2, Typing::By(spark_whole_type), |a| {
        if a.count() == 1 { to_whole(a, RoundingMode::Floor) } else { rescaled(a, 1, RoundingMode::Floor) }
    }),
    f("CEIL", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite]), 1, 1, Typing::By(whole_type), |a| {
        to_whole(a, RoundingMode::Ceiling)
    }),
    f("CEILING", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, Typing::By(whole_type), |a| {
        to_whole(a, RoundingMode::Ceiling)
    }),
    f("FLOOR", of(&[Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite]), 1, 1, Typing::By(whole_type), |a| {
        to_whole(a, RoundingMode::Floor)
    }),
    f("ROUND", of(&[Mysql, Mariadb, Postgres, Sqlite]), 1, 2, SAME, round),
    f("ROUND", of(&[Bigquery]), 1, 3, SAME, |a| {
        if a.count() > 2 && a.text(2) == "ROUND_HALF_EVEN" { rescaled(a, 1, RoundingMode::HalfEven) } else { round(a) }
    }),
    // A decimal has as many places as were asked for.
    f("ROUND", of(&[Duckdb, Spark]), 1, 2, Typing::By(rounded_type), round),
    f("ROUND", SQL_SERVER, 2, 3, SAME, sql_server_round),
    f("TRUNCATE", MY, 2, 2, SAME, |a| rescaled(a, 1, RoundingMode::Down)),
    f("TRUNC", of(&[Postgres, Duckdb, Bigquery]), 1, 2, SAME, |a| rescaled(a, 1, RoundingMode::Down)),
    f(
        "MOD",
        of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]),
        2,
        2,
        Typing::By(|t, b| two(Arithmetic::Remainder, t, b)),
        |a| apply(a, Arithmetic::Remainder),
    ),
    // SQLite's operator cuts both to whole numbers, its function doesn't.
    f("MOD", of(&[Sqlite]), 2, 2, Typing::Fixed(Type::Any), |a| {
        let by = a.float(1)?;
        Ok(if by == 0.0 { Value::Null } else { Value::Float(a.float(0)? % by) })
    }),
    f("DIV", of(&[Bigquery, Postgres]), 2, 2, SAME, |a| apply(a, Arithmetic::DivideWhole)),
    f("DIV", of(&[Spark]), 2, 2, SAME, |a| apply(a, Arithmetic::DivideWhole)),
    f("PMOD", of(&[Spark]), 2, 2, SAME, |a| {
        let (x, y) = (a.number(0)?, a.number(1)?);
        if y.is_zero() {
            return Err(Failure::new(crate::FailureKind::DivisionByZero, "division by zero"));
        }
        give(a, ((&x % &y) + &y) % &y)
    }),
    f("SAFE_DIVIDE", of(&[Bigquery]), 2, 2, Typing::Fixed(Type::Float), divided_or_null),
    f("TRY_DIVIDE", of(&[Spark]), 2, 2, Typing::Fixed(Type::Float), divided_or_null),
    seen("ISNAN", of(&[Spark]), 1, 1, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(is_nan(a)))),
    f("ISNAN", of(&[Duckdb]), 1, 1, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(is_nan(a)))),
    f("IS_NAN", of(&[Bigquery]), 1, 1, Typing::Fixed(Type::Boolean), |a| Ok(Value::Boolean(is_nan(a)))),
    f("REMAINDER", ORACLE, 2, 2, NUMBER, |a| {
        let (x, y) = (a.number(0)?, a.number(1)?);
        if y.is_zero() {
            return Err(Failure::new(crate::FailureKind::DivisionByZero, "division by zero").with_code("ORA-01476"));
        }
        let nearest = (&x / &y).with_scale_round(0, RoundingMode::HalfEven);
        Ok(simplest(x - nearest * y))
    }),
    f("POWER", ALL, 2, 2, Typing::By(power_type), power),
    f("POW", of(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 2, Typing::By(power_type), power),
    f("SQUARE", SQL_SERVER, 1, 1, Typing::Fixed(Type::Float), |a| Ok(Value::Float(a.float(0)?.powi(2)))),
    f("SQRT", ALL, 1, 1, REAL, root),
    f("CBRT", of(&[Postgres, Duckdb, Spark, Bigquery]), 1, 1, Typing::Fixed(Type::Float), |a| Ok(Value::Float(a.float(0)?.cbrt()))),
    f("EXP", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.exp())),
    f("LN", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, REAL, |a| logarithm(a, None, 0)),
    f("LOG", ALL, 1, 2, REAL, log),
    f("LOG10", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, REAL, |a| logarithm(a, Some(10.0), 0)),
    f("LOG2", of(&[Mysql, Mariadb, Duckdb, Spark, Sqlite]), 1, 1, REAL, |a| logarithm(a, Some(2.0), 0)),
    f("PI", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite]), 0, 0, Typing::Fixed(Type::Float), |_| {
        Ok(Value::Float(std::f64::consts::PI))
    }),
    f("SIN", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.sin())),
    f("COS", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.cos())),
    f("TAN", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.tan())),
    f("ASIN", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.asin())),
    f("ACOS", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.acos())),
    f("ATAN", ALL, 1, 1, REAL, |a| real(a, a.float(0)?.atan())),
    f("ATAN2", of(&[Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 2, 2, REAL, |a| {
        real(a, a.float(0)?.atan2(a.float(1)?))
    }),
    f("DEGREES", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite]), 1, 1, REAL, |a| real(a, a.float(0)?.to_degrees())),
    f("RADIANS", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite]), 1, 1, REAL, |a| real(a, a.float(0)?.to_radians())),
    f("ATN2", SQL_SERVER, 2, 2, REAL, |a| real(a, a.float(0)?.atan2(a.float(1)?))),
    f("LEFT_SHIFT", SQL_SERVER, 2, 2, SAME, |a| apply(a, Arithmetic::ShiftLeft)),
    f("RIGHT_SHIFT", SQL_SERVER, 2, 2, SAME, |a| apply(a, Arithmetic::ShiftRight)),
    f("SHIFTLEFT", of(&[Spark]), 2, 2, SAME, |a| apply(a, Arithmetic::ShiftLeft)),
    f("SHIFTRIGHT", of(&[Spark]), 2, 2, SAME, |a| apply(a, Arithmetic::ShiftRight)),
    f("XOR", of(&[Duckdb]), 2, 2, SAME, |a| Ok(Value::Integer(a.whole(0)? ^ a.whole(1)?))),
    f("NULLIFZERO", of(&[Spark]), 1, 1, SAME, |a| Ok(if a.value(0).is_zero() { Value::Null } else { a.value(0).clone() })),
    seen("ZEROIFNULL", of(&[Spark]), 1, 1, SAME, |a| Ok(if a.has(0) { a.value(0).clone() } else { Value::Integer(0) })),
    f("TRUNC", of(&[Sqlite]), 1, 1, SAME, |a| rescaled(a, 1, RoundingMode::Down)),
    f("COT", of(&[SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark]), 1, 1, REAL, |a| match 1.0 / a.float(0)?.tan() {
        value if value.is_infinite() && a.is(&[Postgres, Spark]) => Ok(Value::Float(value)),
        value if value.is_infinite() && a.is(&[Mysql, Mariadb]) => Err(too_great(a.behaviour)),
        value if value.is_infinite() => no_value(a),
        value => real(a, value),
    }),
    f("SINH", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, REAL, |a| real(a, a.float(0)?.sinh())),
    f("COSH", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, REAL, |a| real(a, a.float(0)?.cosh())),
    f("TANH", of(&[Oracle, Postgres, Duckdb, Bigquery, Spark, Sqlite]), 1, 1, REAL, |a| real(a, a.float(0)?.tanh())),
    f("BITS_", of(&[Postgres]), 1, 1, Typing::Fixed(Type::TEXT), |a| a.give(format!("{:064b}", a.whole(0)?))),
    f("BITAND", ORACLE, 2, 2, NUMBER, |a| Ok(Value::Integer(a.whole(0)? & a.whole(1)?))),
    f("BIT_COUNT", of(&[SqlServer, Mysql, Mariadb, Bigquery, Spark, Duckdb]), 1, 1, NUMBER, |a| {
        Ok(Value::Integer(i64::from((a.whole(0)? as u64).count_ones())))
    }),
    f("WIDTH_BUCKET", of(&[Oracle, Postgres, Spark]), 4, 4, NUMBER, width_bucket),
    f("GCD", of(&[Postgres, Duckdb]), 2, 2, SAME, |a| Ok(Value::Integer(gcd(a.whole(0)?, a.whole(1)?)))),
    f("GREATEST_COMMON_DIVISOR", of(&[Duckdb]), 2, 2, SAME, |a| Ok(Value::Integer(gcd(a.whole(0)?, a.whole(1)?)))),
    f("LCM", of(&[Postgres, Duckdb]), 2, 2, SAME, least_multiple),
    f("LEAST_COMMON_MULTIPLE", of(&[Duckdb]), 2, 2, SAME, least_multiple),
    f("GET_BIT", SQL_SERVER, 2, 2, NUMBER, bit_at),
    f("GETBIT", of(&[Spark]), 2, 2, NUMBER, bit_at),
    f("BIT_GET", of(&[Spark]), 2, 2, NUMBER, bit_at),
    f("ADD", of(&[Duckdb]), 2, 2, Typing::By(|t, b| two(Arithmetic::Add, t, b)), |a| apply(a, Arithmetic::Add)),
    f("SUBTRACT", of(&[Duckdb]), 2, 2, Typing::By(|t, b| two(Arithmetic::Subtract, t, b)), |a| apply(a, Arithmetic::Subtract)),
    f("MULTIPLY", of(&[Duckdb]), 2, 2, Typing::By(|t, b| two(Arithmetic::Multiply, t, b)), |a| apply(a, Arithmetic::Multiply)),
    f("BROUND", of(&[Spark]), 1, 2, SAME, |a| rescaled(a, 1, RoundingMode::HalfEven)),
    f("ROUND_EVEN", of(&[Duckdb]), 2, 2, SAME, |a| rescaled(a, 1, RoundingMode::HalfEven)),
    f("ROUND_TIES_TO_EVEN", ORACLE, 1, 2, SAME, |a| rescaled(a, 1, RoundingMode::HalfEven)),
    f("FACTORIAL", of(&[Postgres, Duckdb, Spark]), 1, 1, NUMBER, |a| {
        let number = a.whole(0)?;
        if number < 0 {
            return if a.dialect() == Spark { Ok(Value::Null) } else { Err(Failure::invalid("the factorial of a number below 0")) };
        }
        let product = (1..=number.min(33)).fold(Decimal::from(1), |p, n| p * Decimal::from(n));
        Ok(simplest(product))
    }),
    seen("ISNUMERIC", SQL_SERVER, 1, 1, Typing::Fixed(Type::INT), |a| Ok(Value::Integer(i64::from(a.has(0) && is_numeric(&a.text(0)))))),
    f("IEEE_DIVIDE", of(&[Bigquery]), 2, 2, Typing::Fixed(Type::Float), |a| Ok(Value::Float(a.float(0)? / a.float(1)?))),
    f("TO_NUMBER", of(&[Postgres]), 2, 2, NUMBER, |a| oracle_number::read(&a.text(0), &a.text(1)).map(simplest)),
    f("TO_NUMBER", ORACLE, 1, 3, NUMBER, |a| {
        if a.count() > 1 {
            return oracle_number::read(&a.text(0), &a.text(1)).map(simplest);
        }
        a.number(0).map(simplest)
    }),
    f("TO_BINARY_DOUBLE", ORACLE, 1, 1, Typing::Fixed(Type::Float), |a| Ok(Value::Float(a.float(0)?))),
];

fn numeric(ty: &Type, behaviour: &Behaviour) -> Type {
    match (ty, behaviour.name()) {
        (_, Sqlite) => Type::Any,
        (t, Oracle) if t.family() != Family::Approximate && !t.is_dated() => Type::Number,
        (Type::Text(_), SqlServer | Mysql | Mariadb) => Type::Float,
        (Type::Bit, SqlServer) => Type::INT,
        (Type::Text(_), _) => Type::Number,
        (Type::Decimal(..), Mysql | Mariadb) => Type::Number,
        (Type::Decimal(..), Postgres | Bigquery) => Type::Number,
        (t, _) => t.clone(),
    }
}

/// FLOOR and CEIL of a decimal: a decimal without digits after the point.
fn whole_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    let first = types.first().unwrap_or(&Type::Any);
    Ok(match (first, behaviour.name()) {
        (Type::Decimal(p, _), SqlServer) => Type::Decimal(*p, 0),
        (Type::Decimal(..) | Type::Number, Mysql | Mariadb) => Type::BIGINT,
        (Type::Decimal(..) | Type::Float | Type::Real, Spark) => Type::BIGINT,
        (Type::Integer(_), Postgres | Bigquery) => Type::Float,
        (other, _) => numeric(other, behaviour),
    })
}

fn two(operator: Arithmetic, types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    match types {
        [a, b] => result_type(operator, a, b, behaviour),
        _ => Ok(Type::Any),
    }
}

fn power_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    let first = types.first().unwrap_or(&Type::Any);
    Ok(match behaviour.name() {
        // SQL Server gives the type of the base.
        SqlServer => match first {
            Type::Integer(_) | Type::Bit => Type::INT,
            Type::Decimal(_, scale) => Type::Decimal(38, *scale),
            _ => Type::Float,
        },
        Oracle => two(Arithmetic::Power, types, behaviour)?,
        Postgres
            if types.iter().all(|t| matches!(t, Type::Number | Type::Decimal(..) | Type::Integer(_)))
                && types.iter().any(|t| !matches!(t, Type::Integer(_))) =>
        {
            Type::Number
        }
        Sqlite => Type::Any,
        _ => Type::Float,
    })
}

/// An argument as the number it is.
fn number_of(a: &Args<'_>, at: usize) -> Outcome<Value> {
    match a.value(at) {
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => Ok(a.value(at).clone()),
        Value::Boolean(b) => Ok(Value::Integer(i64::from(*b))),
        _ if a.result.family() == Family::Approximate || a.dialect() == Sqlite => Ok(Value::Float(a.float(at)?)),
        _ => a.number(at).map(Value::decimal),
    }
}

/// An exact result in the form of its type.
fn give(a: &Args<'_>, number: Decimal) -> Outcome<Value> {
    match a.result {
        Type::Any => Ok(simplest(number)),
        other => settled(number, other, a.behaviour),
    }
}

/// A floating point result: not a number is an error where there are none.
fn real(a: &Args<'_>, value: f64) -> Outcome<Value> {
    if value.is_nan() {
        return no_value(a);
    }
    if value.is_infinite() && !a.is(&[Duckdb, Spark, Sqlite]) {
        return Err(too_great(a.behaviour));
    }
    if *a.result == Type::Number {
        return Ok(Value::Decimal(Box::new(as_decimal(&Value::Float(value)).unwrap_or_default())));
    }
    Ok(Value::Float(value))
}

/// A function outside of where it has values: NULL in MySQL and SQLite, an error elsewhere.
fn no_value(a: &Args<'_>) -> Outcome<Value> {
    match a.dialect() {
        Mysql | Mariadb | Sqlite => Ok(Value::Null),
        Spark if a.name.starts_with('L') => Ok(Value::Null),
        Spark => Ok(Value::Float(f64::NAN)),
        _ => {
            let codes: Codes = &[(Oracle, "ORA-01428"), (SqlServer, "Msg 3623"), (Postgres, "2201E")];
            Err(Failure::invalid(format!("{} has no value for {}", a.name, a.value(0))).coded(a.dialect(), codes))
        }
    }
}

/// CEIL(x, places) of Spark keeps a fraction.
fn spark_whole_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    if types.len() == 1 { whole_type(types, behaviour) } else { Ok(numeric(types.first().unwrap_or(&Type::Any), behaviour)) }
}

fn rounded_type(types: &[Type], behaviour: &Behaviour) -> Outcome<Type> {
    Ok(match numeric(types.first().unwrap_or(&Type::Any), behaviour) {
        Type::Decimal(..) => Type::Number,
        other => other,
    })
}

fn to_whole(a: &Args<'_>, mode: RoundingMode) -> Outcome<Value> {
    match number_of(a, 0)? {
        Value::Float(x) => {
            let value = if mode == RoundingMode::Ceiling { x.ceil() } else { x.floor() };
            Ok(if matches!(a.result, Type::Integer(_)) { Value::Integer(value as i64) } else { Value::Float(value) })
        }
        Value::Integer(i) if a.result.family() == Family::Approximate => Ok(Value::Float(i as f64)),
        other => give(a, as_decimal(&other).unwrap_or_default().with_scale_round(0, mode)),
    }
}

/// The number of digits to round to, by the argument in that place. No number has more than 400 on either side of
/// its point.
fn places(a: &Args<'_>, at: usize) -> Outcome<i64> {
    Ok(a.whole_or(at, 0)?.clamp(-400, 400))
}

fn round(a: &Args<'_>) -> Outcome<Value> {
    let places = places(a, 1)?;
    match number_of(a, 0)? {
        Value::Float(x) if places == 0 && a.is(&[Mysql, Mariadb, Postgres]) => Ok(Value::Float(x.round_ties_even())),
        // The binary number itself is rounded: 2.675 lies below the half (seen on the GoogleSQL evaluator).
        Value::Float(x) if a.is(&[Bigquery]) => Ok(Value::Float(binary_rounded(x, places))),
        // SQLite: always a real; digits below 0 count as 0.
        Value::Float(x) => Ok(Value::Float(rounded_float(x, if a.dialect() == Sqlite { places.max(0) } else { places }))),
        Value::Integer(i) if a.dialect() == Sqlite => Ok(Value::Float(i as f64)),
        Value::Integer(i) if a.is(&[Bigquery]) => Ok(Value::Float(rounded_float(i as f64, places))),
        other => rescale(a, &as_decimal(&other).unwrap_or_default(), places, RoundingMode::HalfUp),
    }
}

fn binary_rounded(x: f64, places: i64) -> f64 {
    let exact = Decimal::try_from(x).ok();
    exact.and_then(|d| rounded(&d, places).to_plain_string().parse().ok()).unwrap_or(x)
}

fn rounded_float(x: f64, places: i64) -> f64 {
    let exact: Option<Decimal> = x.to_string().parse().ok();
    exact.and_then(|d| rounded(&d, places).to_plain_string().parse().ok()).unwrap_or(x)
}

fn rescaled(a: &Args<'_>, at: usize, mode: RoundingMode) -> Outcome<Value> {
    let places = places(a, at)?;
    match number_of(a, 0)? {
        Value::Float(x) => {
            let exact: Option<Decimal> = x.to_string().parse().ok();
            Ok(Value::Float(exact.and_then(|d| d.with_scale_round(places, mode).to_plain_string().parse().ok()).unwrap_or(x)))
        }
        other => rescale(a, &as_decimal(&other).unwrap_or_default(), places, mode),
    }
}

fn rescale(a: &Args<'_>, number: &Decimal, places: i64, mode: RoundingMode) -> Outcome<Value> {
    let value = number.with_scale_round(places.min(number.fractional_digit_count().max(places.min(30))), mode);
    // No more digits than there were: ROUND(2.5, 3) is 2.5 in MySQL, 2.500 in PostgreSQL.
    let value = if places < 0 { value.with_scale(0) } else { value };
    give(a, value)
}

/// The scale stays; a third argument other than 0 cuts.
fn sql_server_round(a: &Args<'_>) -> Outcome<Value> {
    let places = places(a, 1)?;
    let mode = if a.count() > 2 && a.whole(2)? != 0 { RoundingMode::Down } else { RoundingMode::HalfUp };
    match number_of(a, 0)? {
        Value::Float(x) => {
            let exact: Option<Decimal> = x.to_string().parse().ok();
            Ok(Value::Float(exact.and_then(|d| d.with_scale_round(places, mode).to_plain_string().parse().ok()).unwrap_or(x)))
        }
        other => {
            let number = as_decimal(&other).unwrap_or_default();
            let value = number.with_scale_round(places, mode);
            // More places than the number has leave it as it is.
            let value = if places >= number.fractional_digit_count() { number } else { value };
            let result = match (a.result, a.ty(0)) {
                (Type::Decimal(..), Type::Decimal(p, s)) => {
                    // A literal has no room for one more digit, a column's type has.
                    Type::Decimal(*p + u16::from(!is_literal(a)), *s)
                }
                (other, _) => other.clone(),
            };
            settled(value, &result, a.behaviour)
        }
    }
}

/// Whether the first argument's digits are just those of its value.
fn is_literal(a: &Args<'_>) -> bool {
    match (a.value(0), a.ty(0)) {
        (Value::Decimal(d), Type::Decimal(p, _)) => d.digits() == u64::from(*p),
        _ => false,
    }
}

fn apply(a: &Args<'_>, operator: Arithmetic) -> Outcome<Value> {
    compute(operator, (a.value(0), a.ty(0)), (a.value(1), a.ty(1)), a.result, a.behaviour)
}

fn power(a: &Args<'_>) -> Outcome<Value> {
    let exponent = a.number(1).ok().filter(bigdecimal::BigDecimal::is_integer).and_then(|e| e.to_i64());
    let exact = a.result.family() == Family::Exact;
    if let (true, Some(n)) = (exact && !matches!(a.value(0), Value::Float(_)), exponent)
        && n.abs() <= 1000
    {
        let base = a.number(0)?;
        if base.is_zero() && n < 0 {
            return match a.dialect() {
                Duckdb | Spark | Sqlite => Ok(Value::Float(f64::INFINITY)),
                _ => no_value(a),
            };
        }
        let mut product = Decimal::from(1);
        for _ in 0..n.abs() {
            product *= &base;
            if product.digits() > 400 {
                return Err(too_great(a.behaviour));
            }
        }
        let value =
            if n < 0 { crate::arithmetic::quotient(&Decimal::from(1), &product, 40, RoundingMode::HalfUp).normalized() } else { product };
        return settled_power(a, value);
    }
    let value = a.float(0)?.powf(a.float(1)?);
    if value.is_nan() {
        return match a.dialect() {
            // Seen on MariaDB 10.11 and DuckDB 1.5.
            Mysql | Mariadb => Err(too_great(a.behaviour)),
            Duckdb => Ok(Value::Float(value)),
            _ => no_value(a),
        };
    }
    if value.is_infinite() && a.is(&[Duckdb, Spark, Sqlite]) {
        return Ok(Value::Float(value));
    }
    if !exact {
        return real(a, value);
    }
    settled_power(a, as_decimal(&Value::Float(value)).unwrap_or_default())
}

fn settled_power(a: &Args<'_>, value: Decimal) -> Outcome<Value> {
    match a.result {
        Type::Integer(_) => settled(value, a.result, a.behaviour).map_err(|f| f.with_code("Msg 232")),
        Type::Decimal(_, scale) => Ok(Value::decimal(rounded(&value, i64::from(*scale)))),
        _ => Ok(simplest(value)),
    }
}

fn root(a: &Args<'_>) -> Outcome<Value> {
    let value = a.float(0)?;
    if value < 0.0 {
        return no_value(a);
    }
    if *a.result == Type::Number {
        let number = a.number(0)?;
        return Ok(if a.dialect() == Oracle {
            simplest(number.sqrt().unwrap_or_default().with_prec(40).normalized())
        } else {
            Value::decimal(postgres_root(&number))
        });
    }
    Ok(Value::Float(value.sqrt()))
}

/// PostgreSQL's root of a numeric: sixteen significant digits, counted in groups of four, and no
/// fewer after the point than the number has (numeric.c, sqrt_var).
pub(crate) fn postgres_root(number: &Decimal) -> Decimal {
    let before = number.digits() as i64 - number.fractional_digit_count();
    let weight = (before + 3).div_euclid(4);
    let scale = (16 - (weight * 2 - 1)).max(number.fractional_digit_count());
    number.sqrt().unwrap_or_default().with_scale_round(scale, RoundingMode::HalfUp)
}

fn logarithm(a: &Args<'_>, base: Option<f64>, at: usize) -> Outcome<Value> {
    let value = a.float(at)?;
    if value <= 0.0 {
        return no_value(a);
    }
    real(
        a,
        match base {
            None => value.ln(),
            Some(10.0) => value.log10(),
            Some(2.0) => value.log2(),
            Some(base) => value.ln() / base.ln(),
        },
    )
}

/// LOG: the base comes first in Oracle, MySQL, PostgreSQL and Spark, second in SQL Server and
/// BigQuery; alone it is the natural or the decimal one.
fn log(a: &Args<'_>) -> Outcome<Value> {
    if a.count() == 1 {
        let base = if a.is(&[Postgres, Duckdb, Sqlite]) { Some(10.0) } else { None };
        return logarithm(a, base, 0);
    }
    let (base, value) = if a.is(&[SqlServer, Bigquery]) { (1, 0) } else { (0, 1) };
    let base = a.float(base)?;
    if base == 1.0 && a.dialect() == Spark {
        return Ok(Value::Float(f64::INFINITY));
    }
    if base <= 0.0 || base == 1.0 {
        return no_value(a);
    }
    logarithm(a, Some(base), value)
}

fn width_bucket(a: &Args<'_>) -> Outcome<Value> {
    let (x, low, high, count) = (a.float(0)?, a.float(1)?, a.float(2)?, a.whole(3)?);
    if count < 1 {
        let code: Codes = &[(Oracle, "ORA-30494"), (Postgres, "2201G")];
        return if a.dialect() == Spark { Ok(Value::Null) } else { Err(Failure::invalid("fewer parts than one").coded(a.dialect(), code)) };
    }
    let place = (x - low) / (high - low) * count as f64;
    Ok(Value::Integer(if place < 0.0 {
        0
    } else if place >= count as f64 {
        count + 1
    } else {
        place.floor() as i64 + 1
    }))
}

fn gcd(a: i64, b: i64) -> i64 {
    if b == 0 { a.abs() } else { gcd(b, a % b) }
}

fn least_multiple(a: &Args<'_>) -> Outcome<Value> {
    let (x, y) = (a.whole(0)?, a.whole(1)?);
    Ok(Value::Integer(if x == 0 || y == 0 { 0 } else { (x / gcd(x, y) * y).abs() }))
}

fn bit_at(a: &Args<'_>) -> Outcome<Value> {
    Ok(Value::Integer((a.whole(0)? >> a.whole(1)?.clamp(0, 63)) & 1))
}

/// SQL Server's ISNUMERIC is generous: a sign or a currency alone will do.
fn is_numeric(text: &str) -> bool {
    let text = text.trim();
    if text.is_empty() {
        return false;
    }
    if matches!(text, "$" | "+" | "-" | "." | ",") {
        return true;
    }
    let plain = text.trim_start_matches(['+', '-']).trim_start_matches('$').replace(',', "");
    !plain.is_empty() && plain.parse::<f64>().is_ok() && !plain.to_ascii_lowercase().contains(['n', 'i'])
}

fn is_nan(a: &Args<'_>) -> bool {
    matches!(a.value(0), Value::Float(x) if x.is_nan())
}

/// A quotient with its fraction, NULL for one by zero.
fn divided_or_null(a: &Args<'_>) -> Outcome<Value> {
    let by = a.float(1)?;
    Ok(if by == 0.0 { Value::Null } else { Value::Float(a.float(0)? / by) })
}
