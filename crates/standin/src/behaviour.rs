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

/// How strings are compared.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) struct Collation {
    pub(crate) case_insensitive: bool,
    pub(crate) accent_insensitive: bool,
    /// Trailing blanks don't count.
    pub(crate) pads: bool,
}

impl Collation {
    /// Character by character.
    pub(crate) const BINARY: Collation = Collation { case_insensitive: false, accent_insensitive: false, pads: false };

    pub(crate) fn is_binary(self) -> bool {
        self == Collation::BINARY
    }

    /// The same, blanks at the end left out.
    pub(crate) fn padded(self) -> Collation {
        Collation { pads: true, ..self }
    }

    /// The collation of a name, by the marks the vendors put into it.
    pub(crate) fn named(name: &str, dialect: DialectName) -> Option<Collation> {
        let name = name.trim_matches(['"', '`', '[', ']']).to_ascii_uppercase();
        let has = |mark: &str| name.split('_').any(|part| part == mark);
        if matches!(name.as_str(), "C" | "POSIX" | "BINARY" | "UCS_BASIC" | "UTF8_BINARY") || has("BIN") || has("BIN2") {
            // SQL Server pads in every collation; MySQL's old ones do too.
            let pads = dialect == DialectName::SqlServer
                || (name.ends_with("_BIN") && matches!(dialect, DialectName::Mysql | DialectName::Mariadb));
            return Some(Collation { pads, ..Collation::BINARY });
        }
        match name.as_str() {
            "NOCASE" | "UTF8_LCASE" | "UND:CI" => return Some(Collation { case_insensitive: true, ..Collation::BINARY }),
            "RTRIM" if dialect == DialectName::Sqlite => return Some(Collation { pads: true, ..Collation::BINARY }),
            "BINARY_CI" => return Some(Collation { case_insensitive: true, ..Collation::BINARY }),
            "BINARY_AI" | "UNICODE_CI_AI" | "NOCASE.NOACCENT" => {
                return Some(Collation { case_insensitive: true, accent_insensitive: true, pads: false });
            }
            _ => {}
        }
        let known = has("CI") || has("CS") || has("AI") || has("AS");
        known.then(|| Collation {
            case_insensitive: has("CI") || (has("AI") && !has("CS")),
            // utf8mb4_general_ci ignores accents although its name doesn't say so.
            accent_insensitive: has("AI") || (has("CI") && !has("AS") && matches!(dialect, DialectName::Mysql | DialectName::Mariadb)),
            pads: dialect == DialectName::SqlServer || !name.contains("0900") && !name.contains("NOPAD"),
        })
    }
}

/// The facts of one dialect.
#[derive(Debug, Clone)]
pub(crate) struct Behaviour {
    pub(crate) dialect: Dialect,
    pub(crate) spelling: Spelling,
    pub(crate) division: Division,
    /// A quotient is rounded to the digits shown of it before it goes on (MySQL 9).
    pub(crate) rounds_quotients: bool,
    /// Division by zero gives NULL.
    pub(crate) zero_gives_null: bool,
    /// '' is NULL.
    pub(crate) empty_is_null: bool,
    pub(crate) collation: Collation,
    /// Rows and lists compare as wholes, a NULL in them being equal to another and sorting so.
    pub(crate) nested_nulls: Option<NullOrder>,
    /// Groupings of several sets give a grand total of no rows, too.
    pub(crate) totals_nothing: bool,
    /// A condition as a value is 1 or 0.
    pub(crate) conditions_are_numbers: bool,
    /// Columns outside GROUP BY take the value of some row of the group.
    pub(crate) loose_grouping: bool,
    /// A column that depends on a primary key grouped by may be named.
    pub(crate) keys_decide: bool,
    /// LIKE has backslash as its escape by default.
    pub(crate) backslash_in_like: bool,
    /// The rows a limit of NULL keeps; None where that is an error.
    pub(crate) null_count: Option<f64>,
    /// The rows a negative limit keeps; None where that is an error.
    pub(crate) negative_count: Option<f64>,
    /// A concatenation with NULL leaves it out.
    pub(crate) concat_skips_null: bool,
    /// CHAR columns keep their blanks when read.
    pub(crate) char_columns_pad: bool,
    /// A wrong cast is an error (Spark's ANSI mode; always elsewhere).
    pub(crate) strict: bool,
}

impl Behaviour {
    pub(crate) fn of(dialect: Dialect) -> Behaviour {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let name = dialect.name;
        let mysql_family = matches!(name, Mysql | Mariadb);
        let spelling = Spelling::of(&dialect);
        let ansi_spark = match dialect.settings.get("ansi") {
            Some(value) => value != "false",
            None => dialect.since(4, 0),
        };
        Behaviour {
            spelling,
            division: match name {
                Postgres | SqlServer | Sqlite => Division::Whole,
                Oracle => Division::Exact,
                Mysql | Mariadb => Division::FourMore,
                Duckdb | Bigquery | Spark => Division::Float,
            },
            rounds_quotients: name == Mysql && dialect.since(9, 0),
            zero_gives_null: mysql_family || name == Sqlite || (name == Spark && !ansi_spark),
            empty_is_null: name == Oracle,
            collation: Collation {
                case_insensitive: mysql_family || name == SqlServer,
                accent_insensitive: mysql_family,
                pads: matches!(name, SqlServer | Mariadb),
            },
            nested_nulls: match name {
                Duckdb => Some(NullOrder::Last),
                Spark => Some(NullOrder::First),
                _ => None,
            },
            // Seen on MariaDB 10.11, Spark 4.0 and the GoogleSQL evaluator.
            totals_nothing: ![Mariadb, Spark, Bigquery].contains(&name),
            conditions_are_numbers: mysql_family || name == Sqlite,
            loose_grouping: matches!(name, Sqlite | Mariadb)
                || (name == Mysql && dialect.settings.contains_key("sql_mode") && !dialect.sql_mode("ONLY_FULL_GROUP_BY")),
            keys_decide: matches!(name, Postgres | Mysql),
            backslash_in_like: matches!(name, Postgres | Spark | Bigquery) || (mysql_family && !dialect.sql_mode("NO_BACKSLASH_ESCAPES")),
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
            char_columns_pad: !mysql_family || dialect.sql_mode("PAD_CHAR_TO_FULL_LENGTH"),
            strict: name != Spark || ansi_spark,
            dialect,
        }
    }

    pub(crate) fn name(&self) -> DialectName {
        self.dialect.name
    }

    pub(crate) fn is(&self, names: &[DialectName]) -> bool {
        names.contains(&self.name())
    }

    /// MySQL or MariaDB.
    pub(crate) fn is_mysql(&self) -> bool {
        matches!(self.name(), DialectName::Mysql | DialectName::Mariadb)
    }

    /// What DECIMAL means without digits; `None`: as many as there are.
    pub(crate) fn default_decimal(&self) -> Option<(u16, i16)> {
        match self.name() {
            DialectName::Mysql | DialectName::Mariadb | DialectName::Spark => Some((10, 0)),
            DialectName::SqlServer => Some((18, 0)),
            DialectName::Duckdb => Some((18, 3)),
            DialectName::Bigquery => Some((38, 9)),
            DialectName::Oracle | DialectName::Postgres | DialectName::Sqlite => None,
        }
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
}
