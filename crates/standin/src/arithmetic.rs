//! Numbers by a dialect's rules: the types of results, and the results.

use bigdecimal::num_bigint::BigInt;
use bigdecimal::{RoundingMode, Signed, ToPrimitive, Zero};
use syntax::DialectName;
use values::{Decimal, Value};

use crate::behaviour::{Behaviour, Division};
use crate::compare::{as_decimal, as_float};
use crate::convert::{How, convert, fit_decimal, fit_integer, of_value, oracle_digits, rounded, simplest};
use crate::failure::{Codes, DIVISION_BY_ZERO, Failure, FailureKind, OVERFLOW, Outcome};
use crate::types::{Family, Type, Whole};

/// The operators on numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Arithmetic {
    Add,
    Subtract,
    Multiply,
    Divide,
    /// A total by a count, in MySQL.
    Average,
    /// DIV, `//`.
    DivideWhole,
    Remainder,
    BitAnd,
    BitOr,
    BitXor,
    ShiftLeft,
    ShiftRight,
    Power,
}

impl Arithmetic {
    fn is_bitwise(self) -> bool {
        matches!(self, Arithmetic::BitAnd | Arithmetic::BitOr | Arithmetic::BitXor | Arithmetic::ShiftLeft | Arithmetic::ShiftRight)
    }
}

// --- types -----------------------------------------------------------------------------------------

/// The type of a result, operands being numbers, strings that are read as numbers, or unknown.
pub(crate) fn result_type(operator: Arithmetic, a: &Type, b: &Type, behaviour: &Behaviour) -> Outcome<Type> {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
    let approximate = |t: &Type| t.family() == Family::Approximate;
    match behaviour.name() {
        Sqlite => return Ok(Type::Any),
        Oracle => return Ok(if approximate(a) || approximate(b) { Type::Float } else { Type::Number }),
        Mysql | Mariadb => return Ok(mysql_type(operator, a, b)),
        SqlServer => return sql_server_type(operator, a, b),
        Postgres | Duckdb | Bigquery | Spark => {}
    }
    if a.is_text() || b.is_text() {
        // Without ANSI mode Spark reads every text as a float.
        if behaviour.name() == Spark && !behaviour.strict {
            let as_number = |t: &Type| if t.is_text() { Type::Float } else { t.clone() };
            return result_type(operator, &as_number(a), &as_number(b), behaviour);
        }
        let (own, other) = (a, b);
        let (a, b) = (adopted(a, b), adopted(b, a));
        // DuckDB can't tell '5' + 3 from a day and a number of days; BigQuery wants no text at all
        // (seen on DuckDB 1.5 and the GoogleSQL evaluator).
        let is_whole = |t: &Type| matches!(t, Type::Integer(_));
        let is_unclear = behaviour.name() == Duckdb && operator == Arithmetic::Add && own.is_text() && is_whole(other);
        if a.is_text() || b.is_text() || is_unclear || behaviour.name() == Bigquery {
            let codes: Codes = &[(Postgres, "42883")];
            return Err(Failure::new(FailureKind::Invalid, "a string is used where a number is wanted").coded(behaviour.name(), codes));
        }
        return result_type(operator, &a, &b, behaviour);
    }
    if behaviour.name() == Duckdb && (*a == Type::Boolean || *b == Type::Boolean) {
        return Err(Failure::new(FailureKind::Invalid, "a boolean is used where a number is wanted"));
    }
    if operator.is_bitwise() {
        return Ok(if let Type::Integer(_) = a { a.clone() } else { Type::BIGINT });
    }
    if a.is_open() || b.is_open() {
        return Ok(if a.is_open() && b.is_open() {
            Type::Any
        } else if a.is_open() {
            b.clone()
        } else {
            a.clone()
        });
    }
    if operator == Arithmetic::DivideWhole && behaviour.name() == Spark {
        return Ok(Type::BIGINT);
    }
    if operator == Arithmetic::Power {
        return Ok(if *a == Type::Number || *b == Type::Number { Type::Number } else { Type::Float });
    }
    if approximate(a)
        || approximate(b)
        || (operator == Arithmetic::Divide && behaviour.division == Division::Float && !exact_division(a, b, behaviour))
    {
        let both_real = matches!((a, b), (Type::Real, Type::Real));
        return Ok(if both_real { Type::Real } else { Type::Float });
    }
    Ok(match (a, b) {
        (Type::Integer(x), Type::Integer(y)) => {
            let bits = if behaviour.name() == Bigquery { 64 } else { x.bits.max(y.bits) };
            // DuckDB and Spark keep INTEGER; PostgreSQL smallint, too.
            Type::Integer(Whole { bits, unsigned: x.unsigned && y.unsigned })
        }
        _ if behaviour.name() == Spark => spark_decimal(operator, a, b),
        _ if behaviour.name() == Duckdb => match (decimal_form(a), decimal_form(b)) {
            (Some((p, s)), Some((q, t))) => match operator {
                Arithmetic::Multiply => Type::Decimal((p + q).min(38), s + t),
                _ => Type::Decimal(((p as i16 - s).max(q as i16 - t) + s.max(t) + 1).min(38) as u16, s.max(t)),
            },
            _ => Type::Number,
        },
        _ => Type::Number,
    })
}

/// Spark and BigQuery divide decimals exactly.
fn exact_division(a: &Type, b: &Type, behaviour: &Behaviour) -> bool {
    let decimal = |t: &Type| matches!(t, Type::Decimal(..) | Type::Number);
    behaviour.is(&[DialectName::Spark, DialectName::Bigquery]) && (decimal(a) || decimal(b))
}

/// A literal text takes the type of the number beside it.
fn adopted(a: &Type, beside: &Type) -> Type {
    match a {
        Type::Text(text) if text.literal && beside.is_numeric() => beside.clone(),
        other => other.clone(),
    }
}

fn mysql_type(operator: Arithmetic, a: &Type, b: &Type) -> Type {
    if operator.is_bitwise() {
        return Type::Integer(Whole { bits: 64, unsigned: true });
    }
    let (a, b) = (mysql_operand(a), mysql_operand(b));
    if operator == Arithmetic::DivideWhole {
        return Type::BIGINT;
    }
    if a.family() == Family::Approximate || b.family() == Family::Approximate || operator == Arithmetic::Power {
        return Type::Float;
    }
    match (operator, &a, &b) {
        (Arithmetic::Divide, ..) => Type::Number,
        (_, Type::Integer(x), Type::Integer(y)) => Type::Integer(Whole { bits: 64, unsigned: x.unsigned || y.unsigned }),
        _ => Type::Number,
    }
}

fn mysql_operand(t: &Type) -> Type {
    match t {
        Type::Text(_) | Type::Json => Type::Float,
        Type::Binary { .. } => Type::Integer(Whole { bits: 64, unsigned: true }),
        Type::Boolean | Type::Bit | Type::Date | Type::Any | Type::Null => Type::BIGINT,
        Type::DateTime(_) | Type::Time(_) => Type::BIGINT,
        other => other.clone(),
    }
}

/// Digits and scale of an exact type.
pub(crate) fn decimal_form(t: &Type) -> Option<(u16, i16)> {
    Some(match t {
        Type::Decimal(p, s) => (*p, *s),
        Type::Integer(w) => match w.bits {
            8 => (3, 0),
            16 => (5, 0),
            32 => (10, 0),
            _ => (19, 0),
        },
        Type::Bit | Type::Boolean => (1, 0),
        Type::Money => (19, 4),
        _ => return None,
    })
}

/// SQL Server: the type of higher rank wins; decimals by the table of "Precision, scale, and length".
fn sql_server_type(operator: Arithmetic, a: &Type, b: &Type) -> Outcome<Type> {
    let wrong = |code: &str, what: &str| Err(Failure::invalid(format!("this operator takes no value of type {what}")).with_code(code));
    if a.is_text() && b.is_text() {
        return wrong("Msg 8117", "varchar");
    }
    for t in [a, b] {
        match t.family() {
            Family::Date | Family::DateTime | Family::Time => return wrong("Msg 8117", "date"),
            Family::Uuid => return wrong("Msg 8117", "uniqueidentifier"),
            _ => {}
        }
    }
    let known =
        |t: &Type, other: &Type| if t.is_text() || t.is_open() || matches!(t, Type::Binary { .. }) { other.clone() } else { t.clone() };
    let (x, y) = (known(a, b), known(b, a));
    if x.is_open() && y.is_open() {
        return Ok(Type::INT);
    }
    if operator.is_bitwise() {
        return match (&x, &y) {
            (Type::Integer(p), Type::Integer(q)) => Ok(Type::Integer(if p.bits >= q.bits { *p } else { *q })),
            (Type::Bit, Type::Bit) => Ok(Type::Bit),
            (Type::Bit, Type::Integer(w)) | (Type::Integer(w), Type::Bit) => Ok(Type::Integer(*w)),
            _ => wrong("Msg 402", "decimal"),
        };
    }
    if x.family() == Family::Approximate || y.family() == Family::Approximate {
        if operator == Arithmetic::Remainder {
            return wrong("Msg 402", "float");
        }
        return Ok(if x == Type::Real && y == Type::Real { Type::Real } else { Type::Float });
    }
    if let (Type::Decimal(..), _) | (_, Type::Decimal(..)) = (&x, &y) {
        let (Some(x), Some(y)) = (decimal_form(&x), decimal_form(&y)) else { return Ok(Type::Number) };
        return Ok(sql_server_decimal(operator, x, y));
    }
    if x == Type::Money || y == Type::Money {
        return Ok(Type::Money);
    }
    Ok(match (&x, &y) {
        (Type::Integer(p), Type::Integer(q)) => Type::Integer(if p.bits >= q.bits { *p } else { *q }),
        (Type::Bit, Type::Integer(w)) | (Type::Integer(w), Type::Bit) => Type::Integer(*w),
        _ => Type::INT,
    })
}

fn sql_server_decimal(operator: Arithmetic, (p1, s1): (u16, i16), (p2, s2): (u16, i16)) -> Type {
    let (p1, p2) = (p1 as i16, p2 as i16);
    let (precision, scale) = match operator {
        Arithmetic::Multiply => (p1 + p2 + 1, s1 + s2),
        Arithmetic::Divide => (p1 - s1 + s2 + 6.max(s1 + p2 + 1), 6.max(s1 + p2 + 1)),
        Arithmetic::Remainder => ((p1 - s1).min(p2 - s2) + s1.max(s2), s1.max(s2)),
        _ => (s1.max(s2) + (p1 - s1).max(p2 - s2) + 1, s1.max(s2)),
    };
    capped(precision, scale, operator)
}

/// At most 38 digits; whole ones are kept before those after the point.
fn capped(precision: i16, scale: i16, operator: Arithmetic) -> Type {
    if precision <= 38 {
        return Type::Decimal(precision as u16, scale);
    }
    let whole = precision - scale;
    let scale = match operator {
        Arithmetic::Multiply | Arithmetic::Divide if whole < 32 => scale.min(38 - whole),
        Arithmetic::Multiply | Arithmetic::Divide if scale > 6 => 6,
        Arithmetic::Multiply | Arithmetic::Divide => scale,
        _ => (38 - whole).max(0).min(scale),
    };
    Type::Decimal(38, scale)
}

/// Spark: as Hive, with at least six digits after the point kept.
fn spark_decimal(operator: Arithmetic, a: &Type, b: &Type) -> Type {
    let (Some((p1, s1)), Some((p2, s2))) = (decimal_form(a), decimal_form(b)) else { return Type::Number };
    let (p1, p2) = (p1 as i16, p2 as i16);
    let (precision, scale) = match operator {
        Arithmetic::Multiply => (p1 + p2 + 1, s1 + s2),
        Arithmetic::Divide => (p1 - s1 + s2 + 6.max(s1 + p2 + 1), 6.max(s1 + p2 + 1)),
        Arithmetic::Remainder | Arithmetic::DivideWhole => ((p1 - s1).min(p2 - s2) + s1.max(s2), s1.max(s2)),
        _ => (s1.max(s2) + (p1 - s1).max(p2 - s2) + 1, s1.max(s2)),
    };
    if precision <= 38 {
        return Type::Decimal(precision as u16, scale);
    }
    let whole = precision - scale;
    Type::Decimal(38, scale.min(6).max(38 - whole))
}

// --- results ---------------------------------------------------------------------------------------

/// The number a value is in arithmetic.
fn operand(value: &Value, from: &Type, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    Ok(match value {
        Value::Integer(_) | Value::Decimal(_) | Value::Float(_) => value.clone(),
        Value::Boolean(b) => Value::Integer(i64::from(*b)),
        other => {
            let to = match behaviour.name() {
                DialectName::Mysql | DialectName::Mariadb if matches!(other, Value::Text(_)) => Type::Float,
                DialectName::Sqlite => return Ok(sqlite_number(other)),
                DialectName::Oracle => Type::Number,
                DialectName::SqlServer if matches!(result, Type::Decimal(..)) => {
                    // The text takes the other side's form: digits it has no room for are an error.
                    Type::Number
                }
                _ if result.is_open() => Type::Number,
                _ => result.clone(),
            };
            convert(other.clone(), from, &to, How::IMPLICIT, behaviour)?
        }
    })
}

fn sqlite_number(value: &Value) -> Value {
    match value {
        Value::Text(text) => match crate::convert::leading_number(text) {
            Value::Decimal(d) => Value::Float(as_float(&Value::Decimal(d)).unwrap_or(0.0)),
            other => other,
        },
        _ => Value::Integer(0),
    }
}

/// `a operator b`, given the types of all three.
pub(crate) fn compute(
    operator: Arithmetic,
    a: (&Value, &Type),
    b: (&Value, &Type),
    result: &Type,
    behaviour: &Behaviour,
) -> Outcome<Value> {
    if a.0.is_null() || b.0.is_null() {
        return Ok(Value::Null);
    }
    let (x, y) = (operand(a.0, a.1, result, behaviour)?, operand(b.0, b.1, result, behaviour)?);
    if x.is_null() || y.is_null() {
        return Ok(Value::Null);
    }
    if operator.is_bitwise() {
        return bitwise(operator, &x, &y, result, behaviour);
    }
    let floats = result.family() == Family::Approximate || matches!((&x, &y), (Value::Float(_), _) | (_, Value::Float(_)));
    if floats && operator != Arithmetic::DivideWhole {
        return approximate(operator, &x, &y, behaviour).and_then(|v| real(v, result));
    }
    if let (Value::Integer(p), Value::Integer(q)) = (&x, &y)
        && let Some(value) = quick(operator, *p, *q, result)
    {
        return Ok(value);
    }
    exact(operator, &x, &y, result, behaviour)
}

/// Whole numbers whose result has room, without a detour through decimals.
fn quick(operator: Arithmetic, a: i64, b: i64, result: &Type) -> Option<Value> {
    let value = match operator {
        Arithmetic::Add => a.checked_add(b)?,
        Arithmetic::Subtract => a.checked_sub(b)?,
        Arithmetic::Multiply => a.checked_mul(b)?,
        _ => return None,
    };
    match result {
        Type::Integer(w) if w.unsigned && value < 0 => None,
        Type::Integer(w) if w.bits < 64 && (value < -(1 << (w.bits - 1)) || value >= 1 << (w.bits - 1)) => None,
        Type::Integer(_) | Type::Number | Type::Any => Some(Value::Integer(value)),
        _ => None,
    }
}

fn real(value: Value, result: &Type) -> Outcome<Value> {
    Ok(match value {
        Value::Float(f) if *result == Type::Real => Value::Float(f64::from(f as f32)),
        other => other,
    })
}

fn by_zero(behaviour: &Behaviour) -> Outcome<Value> {
    if behaviour.zero_gives_null {
        return Ok(Value::Null);
    }
    Err(Failure::new(FailureKind::DivisionByZero, "division by zero").coded(behaviour.name(), DIVISION_BY_ZERO))
}

pub(crate) fn too_great(behaviour: &Behaviour) -> Failure {
    Failure::new(FailureKind::Overflow, "a number is too great for its type").coded(behaviour.name(), OVERFLOW)
}

fn approximate(operator: Arithmetic, a: &Value, b: &Value, behaviour: &Behaviour) -> Outcome<Value> {
    // SQLite cuts both sides to whole numbers first.
    if operator == Arithmetic::Remainder && behaviour.name() == DialectName::Sqlite {
        let cut = |v: &Value| as_float(v).map_or(0, |f| f as i64);
        return Ok(cut(a).checked_rem(cut(b)).map_or(Value::Null, |r| Value::Float(r as f64)));
    }
    let (Some(a), Some(b)) = (as_float(a), as_float(b)) else { return Ok(Value::Null) };
    if matches!(operator, Arithmetic::Divide | Arithmetic::Remainder) && b == 0.0 {
        // Observed on DuckDB 1.3: 1 / 0 is infinite.
        return if behaviour.name() == DialectName::Duckdb && operator == Arithmetic::Divide {
            Ok(Value::Float(a / b))
        } else {
            by_zero(behaviour)
        };
    }
    let value = match operator {
        Arithmetic::Add => a + b,
        Arithmetic::Subtract => a - b,
        Arithmetic::Multiply => a * b,
        Arithmetic::Divide | Arithmetic::Average => a / b,
        Arithmetic::Power => a.powf(b),
        _ => a % b,
    };
    if value.is_infinite()
        && a.is_finite()
        && b.is_finite()
        && !behaviour.is(&[DialectName::Duckdb, DialectName::Sqlite, DialectName::Spark])
    {
        return Err(too_great(behaviour));
    }
    Ok(Value::Float(value))
}

fn exact(operator: Arithmetic, x: &Value, y: &Value, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    let (Some(a), Some(b)) = (as_decimal(x), as_decimal(y)) else { return Err(Failure::unknown("arithmetic on these types")) };
    let divides = matches!(operator, Arithmetic::Divide | Arithmetic::DivideWhole | Arithmetic::Remainder);
    if divides && b.is_zero() {
        return match (operator, behaviour.name()) {
            // MOD(x, 0) is x (Oracle, MOD).
            (Arithmetic::Remainder, DialectName::Oracle) => Ok(x.clone()),
            // Only the quotient with a fraction is infinite (seen on DuckDB 1.5); 2.0 makes it an error.
            (Arithmetic::Remainder | Arithmetic::DivideWhole, DialectName::Duckdb) if !behaviour.dialect.since(2, 0) => Ok(Value::Null),
            _ => by_zero(behaviour),
        };
    }
    let whole = matches!((x, y), (Value::Integer(_), Value::Integer(_)));
    let value = match operator {
        Arithmetic::Add => &a + &b,
        Arithmetic::Subtract => &a - &b,
        Arithmetic::Multiply => &a * &b,
        Arithmetic::Remainder => remainder(&a, &b),
        Arithmetic::DivideWhole if behaviour.name() == DialectName::Duckdb && !whole => {
            // Observed on DuckDB 1.3 and 2.0: 7.5 // 2 is 3.75, only whole numbers are cut.
            return Ok(Value::Float(as_float(x).unwrap_or(0.0) / as_float(y).unwrap_or(1.0)));
        }
        Arithmetic::DivideWhole => quotient(&a, &b, 0, RoundingMode::Down),
        Arithmetic::Power => {
            let value = as_float(x).unwrap_or(0.0).powf(as_float(y).unwrap_or(0.0));
            if !value.is_finite() && behaviour.name() == DialectName::Postgres {
                return Err(Failure::invalid("a power that is no number").with_code("2201F"));
            }
            return Ok(Value::Float(value));
        }
        _ if whole && behaviour.division == Division::Whole && !matches!(result, Type::Decimal(..) | Type::Number | Type::Money) => {
            quotient(&a, &b, 0, RoundingMode::Down)
        }
        _ => divided(&a, &b, result, behaviour),
    };
    settled(value, result, behaviour)
}

/// The remainder with the sign of the dividend.
fn remainder(a: &Decimal, b: &Decimal) -> Decimal {
    let scale = a.fractional_digit_count().max(b.fractional_digit_count()).max(0);
    let (x, y) = (a.with_scale(scale).into_bigint_and_exponent().0, b.with_scale(scale).into_bigint_and_exponent().0);
    Decimal::new(x % y, scale)
}

/// A quotient with so many digits after the point.
pub(crate) fn quotient(a: &Decimal, b: &Decimal, scale: i64, mode: RoundingMode) -> Decimal {
    let ((x, p), (y, q)) = (a.clone().into_bigint_and_exponent(), b.clone().into_bigint_and_exponent());
    // One digit more than wanted, and a mark for what is left over, are enough to round by.
    let shift = scale + 1 + q - p;
    let (mut x, mut y) = (x, y);
    if shift >= 0 {
        x *= BigInt::from(10).pow(shift as u32);
    } else {
        y *= BigInt::from(10).pow(-shift as u32);
    }
    let (digits, rest) = (&x / &y, &x % &y);
    let mut precise = digits * 10;
    if !rest.is_zero() {
        precise += if x.is_negative() == y.is_negative() { 1 } else { -1 };
    }
    Decimal::new(precise, scale + 2).with_scale_round(scale, mode)
}

fn divided(a: &Decimal, b: &Decimal, result: &Type, behaviour: &Behaviour) -> Decimal {
    match (behaviour.name(), result) {
        // SQL Server cuts a decimal quotient to its scale.
        (DialectName::SqlServer, Type::Decimal(_, scale)) => quotient(a, b, i64::from(*scale), RoundingMode::Down),
        (DialectName::SqlServer, _) => quotient(a, b, 4, RoundingMode::HalfUp),
        (DialectName::Mysql | DialectName::Mariadb, _) => quotient(a, b, mysql_digits(a, b), RoundingMode::Down),
        (DialectName::Postgres, _) => quotient(a, b, postgres_scale(a, b), RoundingMode::HalfUp),
        (_, Type::Decimal(_, scale)) => quotient(a, b, i64::from(*scale), RoundingMode::HalfUp),
        (DialectName::Bigquery, _) => quotient(a, b, 9, RoundingMode::HalfUp),
        _ => oracle_quotient(a, b),
    }
}

/// MySQL keeps decimals in words of nine digits, and a quotient fills its last one (decimal.c,
/// do_div_mod): four digits more than the dividend are only shown.
fn mysql_digits(a: &Decimal, b: &Decimal) -> i64 {
    const WORD: i64 = 9;
    const DIV_PRECISION_INCREMENT: i64 = 4;
    let in_words = |digits: i64| digits.div_euclid(WORD) + i64::from(digits.rem_euclid(WORD) > 0);
    let (own, other) = (a.fractional_digit_count().max(0), b.fractional_digit_count().max(0));
    let kept = (in_words(own) + in_words(other)) * WORD;
    in_words(kept + (DIV_PRECISION_INCREMENT - (kept - own - other)).max(0)) * WORD
}

/// The digits behind the point that MySQL shows of a result, its operands showing so many.
pub(crate) fn mysql_scale(operator: Arithmetic, a: i64, b: i64) -> i64 {
    const MOST: i64 = 30;
    match operator {
        Arithmetic::Divide | Arithmetic::Average => a + 4,
        Arithmetic::Multiply => a + b,
        _ => a.max(b),
    }
    .min(MOST)
}

/// Forty significant digits.
fn oracle_quotient(a: &Decimal, b: &Decimal) -> Decimal {
    let whole_digits = (a.digits() as i64 - a.fractional_digit_count()) - (b.digits() as i64 - b.fractional_digit_count());
    quotient(a, b, 41 - whole_digits, RoundingMode::HalfUp).with_prec(40).normalized()
}

/// PostgreSQL's choice of scale: sixteen significant digits at least (numeric.c, select_div_scale).
pub(crate) fn postgres_scale(a: &Decimal, b: &Decimal) -> i64 {
    // Weight and first digit in base 10,000.
    let form = |d: &Decimal| {
        if d.is_zero() {
            return (0, 0);
        }
        let before = d.digits() as i64 - d.fractional_digit_count();
        let weight = (before + 3).div_euclid(4) - 1;
        let first_length = before - weight * 4;
        let digits = d.abs().into_bigint_and_exponent().0.to_string();
        let first = digits.chars().chain(std::iter::repeat('0')).take(first_length as usize).collect::<String>();
        (weight, first.parse::<i64>().unwrap_or(0))
    };
    let ((w1, f1), (w2, f2)) = (form(a), form(b));
    let weight = w1 - w2 - i64::from(f1 <= f2);
    (16 - weight * 4).max(a.fractional_digit_count()).max(b.fractional_digit_count()).clamp(0, 1000)
}

/// An exact result in the form of its type.
pub(crate) fn settled(value: Decimal, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    match result {
        Type::Integer(whole) => fit_integer(&value.with_scale_round(0, RoundingMode::Down), *whole, false, How::IMPLICIT, behaviour),
        Type::Bit => Ok(Value::Boolean(!value.is_zero())),
        Type::Decimal(precision, scale) => fit_decimal(&value, *precision, *scale, behaviour).map(Value::decimal),
        Type::Money => Ok(Value::decimal(rounded(&value, 4))),
        _ if behaviour.name() == DialectName::Oracle => Ok(simplest(oracle_digits(value))),
        _ if behaviour.name() == DialectName::Sqlite => {
            let overflow = value.to_i64().is_none();
            Ok(if overflow { Value::Float(as_float(&Value::decimal(value)).unwrap_or(0.0)) } else { simplest(value) })
        }
        _ => Ok(Value::decimal(value)),
    }
}

fn bitwise(operator: Arithmetic, a: &Value, b: &Value, result: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    let bits = |v: &Value| -> Option<i128> { as_decimal(v)?.with_scale_round(0, RoundingMode::HalfUp).to_i128() };
    let (Some(a), Some(b)) = (bits(a), bits(b)) else { return Err(too_great(behaviour)) };
    let unsigned = matches!(result, Type::Integer(w) if w.unsigned && w.bits == 64);
    let (a, b) = (a as u64, b as u64);
    let shifts = matches!(operator, Arithmetic::ShiftLeft | Arithmetic::ShiftRight);
    let refuses =
        behaviour.name() == DialectName::Bigquery || (behaviour.name() == DialectName::Duckdb && operator == Arithmetic::ShiftLeft);
    if shifts && refuses && ((b as i64) < 0 || (behaviour.name() == DialectName::Duckdb && (a as i64) < 0)) {
        return Err(Failure::invalid("a shift by less than 0, or of a number below 0"));
    }
    let width = if matches!(result, Type::Integer(w) if w.bits == 32) { 32 } else { 64 };
    // Seen on DuckDB 1.5.
    if behaviour.name() == DialectName::Duckdb && operator == Arithmetic::ShiftLeft {
        let greatest = if width == 32 { i128::from(i32::MAX) } else { i128::from(i64::MAX) };
        if b >= width || i128::from(a) << b > greatest {
            return Err(Failure::invalid("a left shift out of range"));
        }
    }
    let shift = |left: bool| {
        let amount = b as i64;
        let (left, amount) = match behaviour.name() {
            // Only these turn round (SQL Server 2022, LEFT_SHIFT; SQLite, observed).
            DialectName::SqlServer | DialectName::Sqlite if amount < 0 => (!left, -amount),
            DialectName::Mysql | DialectName::Mariadb if amount < 0 => (left, 64),
            // The last bits of the amount count (seen on PostgreSQL 15 and Spark 4.0).
            DialectName::Postgres | DialectName::Spark => (left, amount & (width as i64 - 1)),
            _ if amount < 0 => (left, amount & (width as i64 - 1)),
            _ => (left, amount),
        };
        match (left, amount) {
            (_, 64..) => {
                if !left && !unsigned && (a as i64) < 0 {
                    u64::MAX
                } else {
                    0
                }
            }
            (true, n) => a << n,
            // BigQuery's bits have no sign (seen on the GoogleSQL evaluator).
            (false, n) if unsigned || behaviour.name() == DialectName::Bigquery => a >> n,
            (false, n) => ((a as i64) >> n) as u64,
        }
    };
    let value = match operator {
        Arithmetic::BitAnd => a & b,
        Arithmetic::BitOr => a | b,
        Arithmetic::BitXor => a ^ b,
        Arithmetic::ShiftLeft => shift(true),
        _ => shift(false),
    };
    if *result == Type::Bit {
        return Ok(Value::Boolean(value & 1 == 1));
    }
    if unsigned {
        return Ok(i64::try_from(value).map_or_else(|_| Value::decimal(Decimal::from(value)), Value::Integer));
    }
    let narrow = match result {
        _ if behaviour.name() == DialectName::Bigquery => value as i64,
        Type::Integer(w) if w.bits == 32 => i64::from(value as i32),
        Type::Integer(w) if w.bits == 16 => i64::from(value as i16),
        Type::Integer(w) if w.bits == 8 => i64::from(value as u8),
        _ => value as i64,
    };
    Ok(Value::Integer(narrow))
}

/// `-x`.
pub(crate) fn negated(value: &Value, ty: &Type, behaviour: &Behaviour) -> Outcome<Value> {
    match value {
        Value::Null => Ok(Value::Null),
        Value::Float(f) => Ok(Value::Float(-f)),
        Value::Interval(i) => {
            Ok(Value::Interval(Box::new(values::Interval { months: -i.months, days: -i.days, nanoseconds: -i.nanoseconds })))
        }
        Value::Integer(i) if *i != i64::MIN => Ok(Value::Integer(-i)),
        Value::Decimal(d) => {
            let negative = -(**d).clone();
            // -9223372036854775808 is a whole number although 9223372036854775808 isn't one.
            Ok(if matches!(ty, Type::Integer(_)) { simplest(negative) } else { Value::decimal(negative) })
        }
        other => {
            let from = of_value(other);
            compute(Arithmetic::Subtract, (&Value::Integer(0), &Type::BIGINT), (other, &from), ty, behaviour)
        }
    }
}
