//! How tightly operators bind, per dialect.
//!
//! Sources: the operator precedence tables of each manual. Levels only order operators within one
//! dialect; a higher number binds tighter.

use crate::dialect::DialectName;
use crate::token::Symbol;
use crate::tree::Operator;

/// OR, and `||` where it means OR.
pub const OR: u8 = 10;
/// XOR of MySQL.
pub const XOR: u8 = 15;
/// AND.
pub const AND: u8 = 20;
/// NOT.
pub const NOT: u8 = 30;
/// IS NULL and the like, where it binds looser than a comparison (PostgreSQL).
const IS_LOOSE: u8 = 35;
/// Comparisons.
pub const COMPARISON: u8 = 40;
/// SQLite: `<` binds tighter than `=`.
const INEQUALITY: u8 = 43;
/// LIKE, IN, BETWEEN where they bind tighter than a comparison.
const PREDICATE_TIGHT: u8 = 45;
/// COLLATE and AT TIME ZONE.
pub const COLLATE: u8 = 95;
/// Prefix signs where they bind no tighter than addition.
const SIGN_LOOSE: u8 = 61;
/// Operators that no other level names.
pub const OTHER: u8 = 50;
/// Prefix signs.
pub const UNARY: u8 = 100;
/// Anything that needs no parentheses.
pub const PRIMARY: u8 = 120;

/// The level of a prefix operator.
pub fn of_prefix(dialect: DialectName, operator: Operator) -> u8 {
    match (dialect, operator) {
        // Spark's sign is NOT itself, as loose as the word.
        (DialectName::Spark, Operator::Symbol(Symbol::Bang)) => NOT,
        // PostgreSQL, Operator precedence: "any other operator", below addition.
        (DialectName::Postgres, Operator::Symbol(Symbol::SquareRoot | Symbol::CubeRoot | Symbol::At)) => OTHER + 1,
        // SQL Server's signs are as loose as addition (Operator Precedence): -a / b is -(a / b).
        (DialectName::SqlServer, Operator::Symbol(Symbol::Minus | Symbol::Plus)) => SIGN_LOOSE,
        _ => UNARY,
    }
}

/// The level of IS.
pub fn of_is(dialect: DialectName) -> u8 {
    match dialect {
        DialectName::Postgres | DialectName::Duckdb => IS_LOOSE,
        _ => COMPARISON,
    }
}

/// The level of LIKE, IN and BETWEEN.
pub fn of_predicate(dialect: DialectName) -> u8 {
    match dialect {
        // PostgreSQL's table of precedences; in MySQL's grammar a predicate is an operand of a comparison.
        DialectName::Postgres | DialectName::Duckdb | DialectName::Mysql | DialectName::Mariadb => PREDICATE_TIGHT,
        _ => COMPARISON,
    }
}

/// The level of an infix operator in `dialect`; `bars_mean_or` tells what `||` is.
pub fn of_operator(dialect: DialectName, operator: Operator, bars_mean_or: bool) -> Option<u8> {
    use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
    use Symbol as S;
    let symbol = match operator {
        Operator::Symbol(symbol) => symbol,
        Operator::Div | Operator::Mod => return Some(70),
        Operator::Xor => return Some(XOR),
        Operator::Overlaps | Operator::MemberOf => return Some(COMPARISON),
        Operator::Prior | Operator::ConnectByRoot | Operator::Binary => return None,
    };
    let comparison = matches!(symbol, S::Equal | S::EqualEqual | S::NotEqual | S::BangEqual | S::CaretEqual | S::NullSafeEqual);
    let inequality = matches!(symbol, S::Less | S::Greater | S::LessEqual | S::GreaterEqual | S::NotLess | S::NotGreater);
    if comparison {
        return Some(COMPARISON);
    }
    if inequality {
        return Some(if dialect == Sqlite { INEQUALITY } else { COMPARISON });
    }
    if symbol == S::Assign {
        return Some(5);
    }
    let level = match (dialect, symbol) {
        (_, S::Star | S::Slash | S::Percent | S::SlashSlash) => 70,
        (Bigquery, S::Concat) => 70,
        (Spark, S::Arrow) => 5,
        (Sqlite, S::Concat | S::Arrow | S::ArrowText) => 80,
        (Mysql | Mariadb, S::Concat) if bars_mean_or => OR,
        (Mysql | Mariadb, S::AndAnd) => AND,
        (Mysql | Mariadb, S::Concat) => 85,
        (Mysql, S::Arrow | S::ArrowText) => 110,
        (_, S::Plus | S::Minus) => 60,
        (Oracle | Spark | SqlServer, S::Concat) => 60,
        (SqlServer, S::Ampersand | S::Bar | S::Caret) => 60,
        (Mysql | Mariadb, S::Caret) => 80,
        (Postgres | Duckdb, S::Caret | S::StarStar) => 80,
        (Bigquery | Mysql | Mariadb | Spark, S::ShiftLeft | S::ShiftRight) => 56,
        (Bigquery | Mysql | Mariadb | Spark, S::Ampersand) => 54,
        (Bigquery | Spark, S::Caret) => 53,
        (Bigquery | Mysql | Mariadb | Spark, S::Bar) => 52,
        (Sqlite, S::Ampersand | S::Bar | S::ShiftLeft | S::ShiftRight) => 55,
        (SqlServer, S::ShiftLeft | S::ShiftRight) => 60,
        (Oracle, S::StarStar) => 80,
        (
            Postgres | Duckdb,
            S::Concat
            | S::Bar
            | S::Ampersand
            | S::Hash
            | S::ShiftLeft
            | S::ShiftRight
            | S::Arrow
            | S::ArrowText
            | S::JsonPath
            | S::JsonPathText
            | S::Contains
            | S::ContainedIn
            | S::AnyKey
            | S::AllKeys
            | S::Question
            | S::Tilde
            | S::NotMatch
            | S::MatchAnyCase
            | S::NotMatchAnyCase
            | S::LikeSign
            | S::NotLike
            | S::LikeAnyCase
            | S::NotLikeAnyCase
            | S::Glob
            | S::AndAnd
            | S::StartsWith
            | S::At,
        ) => OTHER,
        _ => return None,
    };
    Some(level)
}
