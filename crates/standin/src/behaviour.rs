//! Facts of behaviour: how each dialect computes, compares and sorts.
//!
//! From the manuals' chapters on data types, operators and sorting; not shared with the translator.

use syntax::tree::{Direction, NullOrder};
use syntax::{Dialect, DialectName, Spelling};

/// What `/` does with whole numbers.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Division {
    /// Cuts towards zero.
    Whole,
    /// An exact number with as many digits as there are (Oracle).
    Exact,
    /// Four digits more than the dividend has (MySQL).
    FourMore,
    /// A floating point number.
    Float,
}

/// How texts are compared.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Collation {
    pub(crate) case_insensitive: bool,
    pub(crate) accent_insensitive: bool,
    /// Trailing blanks don't count.
    pub(crate) pads: bool,
}

/// The facts of one dialect.
#[derive(Debug, Clone)]
pub(crate) struct Behaviour {
    pub(crate) dialect: Dialect,
    pub(crate) spelling: Spelling,
    pub(crate) division: Division,
    /// Division by zero gives NULL.
    pub(crate) zero_gives_null: bool,
    /// '' is NULL.
    pub(crate) empty_is_null: bool,
    pub(crate) collation: Collation,
    /// A condition as a value is 1 or 0.
    pub(crate) conditions_are_numbers: bool,
    /// Columns outside GROUP BY take the value of some row of the group.
    pub(crate) loose_grouping: bool,
    /// AVG of whole numbers is cut.
    pub(crate) whole_average: bool,
    /// LIKE has backslash as its escape by default.
    pub(crate) backslash_in_like: bool,
    /// The rows a limit of NULL keeps; None where that is an error.
    pub(crate) null_count: Option<f64>,
    /// The rows a negative limit keeps; None where that is an error.
    pub(crate) negative_count: Option<f64>,
    /// A concatenation with NULL leaves it out.
    pub(crate) concat_skips_null: bool,
}

impl Behaviour {
    pub(crate) fn of(dialect: Dialect) -> Behaviour {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, Sqlite, Tsql};
        let name = dialect.name;
        let mysql_family = matches!(name, Mysql | Mariadb);
        let spelling = Spelling::of(&dialect);
        let ansi_spark = name == Spark && dialect.since(4, 0) && dialect.settings.get("ansi").is_none_or(|v| v != "false");
        Behaviour {
            spelling,
            division: match name {
                Postgres | Tsql | Sqlite => Division::Whole,
                Oracle => Division::Exact,
                Mysql | Mariadb => Division::FourMore,
                Duckdb | Bigquery | Spark => Division::Float,
            },
            zero_gives_null: mysql_family || name == Sqlite || (name == Spark && !ansi_spark),
            empty_is_null: name == Oracle,
            collation: Collation {
                case_insensitive: mysql_family || name == Tsql,
                accent_insensitive: mysql_family,
                pads: matches!(name, Tsql | Mariadb),
            },
            conditions_are_numbers: mysql_family || name == Sqlite,
            loose_grouping: matches!(name, Sqlite | Postgres | Duckdb) || mysql_family,
            whole_average: name == Tsql,
            backslash_in_like: matches!(name, Postgres | Mysql | Mariadb | Spark | Bigquery),
            null_count: match name {
                Postgres | Duckdb => Some(f64::MAX),
                Oracle => Some(0.0),
                _ => None,
            },
            negative_count: match name {
                Sqlite => Some(f64::MAX),
                Oracle => Some(0.0),
                _ => None,
            },
            concat_skips_null: name == Oracle,
            dialect,
        }
    }

    pub(crate) fn name(&self) -> DialectName {
        self.dialect.name
    }

    /// Where NULLs sort when nothing is written.
    pub(crate) fn nulls(&self, direction: Option<Direction>) -> NullOrder {
        let descending = direction == Some(Direction::Descending);
        let smallest = !matches!(self.name(), DialectName::Oracle | DialectName::Postgres | DialectName::Duckdb);
        if self.name() == DialectName::Duckdb {
            return NullOrder::Last;
        }
        if smallest == descending { NullOrder::Last } else { NullOrder::First }
    }

    /// The dialect's own error code of a kind of failure, where it is documented.
    pub(crate) fn code(&self, kind: crate::FailureKind) -> Option<&'static str> {
        use crate::FailureKind as K;
        match (self.name(), kind) {
            (DialectName::Oracle, K::DivisionByZero) => Some("ORA-01476"),
            (DialectName::Oracle, K::BadCast) => Some("ORA-01722"),
            (DialectName::Oracle, K::SeveralRows) => Some("ORA-01427"),
            (DialectName::Tsql, K::DivisionByZero) => Some("Msg 8134"),
            (DialectName::Tsql, K::BadCast) => Some("Msg 245"),
            (DialectName::Tsql, K::SeveralRows) => Some("Msg 512"),
            (DialectName::Mysql | DialectName::Mariadb, K::SeveralRows) => Some("ER_SUBQUERY_NO_1_ROW"),
            _ => None,
        }
    }
}
