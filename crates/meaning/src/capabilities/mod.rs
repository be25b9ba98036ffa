//! What each dialect can say, and what its silence means.
//!
//! Rewrites ask these facts, never which dialect it is. Sources are the vendors' manuals, the
//! chapters on SELECT.

mod bigquery;
mod duckdb;
mod mariadb;
mod mysql;
mod oracle;
mod postgres;
mod spark;
mod sqlite;
mod sqlserver;

use syntax::tree::{CastForm, Direction, NullOrder};
use syntax::{Dialect, DialectName};

use crate::letters::Letters;

/// The words a dialect limits rows with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LimitWords {
    /// LIMIT n OFFSET m.
    Limit,
    /// OFFSET m ROWS FETCH FIRST n ROWS ONLY.
    Fetch,
    /// TOP n, and OFFSET m ROWS FETCH NEXT n ROWS ONLY behind an ORDER BY.
    Top,
}

/// What a dialect makes of a row count that is none: NULL, or less than 0.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum OddCount {
    /// No limit at all.
    AllRows,
    /// Not a row.
    NoRows,
    /// The query fails.
    Error,
}

/// Which columns a grouped query can show without grouping by them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum BareColumns {
    /// None.
    None,
    /// Those that the columns grouped by determine, as a key determines its row.
    Determined,
    /// Any; the value is that of some row.
    Any,
}

/// Where a bare `*` can stand in a select list.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BareStar {
    /// Anywhere.
    Anywhere,
    /// Only as the first entry.
    First,
    /// Only alone.
    Alone,
}

/// What a name inside an expression of ORDER BY can mean; a name alone is first of all an alias.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SortNames {
    /// A column of the tables, never an alias of the select list.
    ColumnsOnly,
    /// A column of the tables, and if there is none an alias.
    ColumnsFirst,
    /// An alias, and if there is none a column.
    AliasesFirst,
}

/// Where NULLs sort among values.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NullRank {
    /// As if they were greater than all values.
    Greatest,
    /// As if they were less.
    Least,
    /// Last, ascending and descending.
    AlwaysLast,
}

/// What one dialect can say: each has a constant in a file of its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(clippy::struct_excessive_bools)] // A table of independent facts is what this is.
pub struct Capabilities {
    /// The dialect described.
    pub dialect: DialectName,
    /// How rows are limited.
    pub limit_words: LimitWords,
    /// A limit can keep ties.
    pub limit_with_ties: bool,
    /// A limit can be a share of the rows, rounded up.
    pub limit_percent: bool,
    /// A row count can be any expression without columns.
    pub limit_takes_expression: bool,
    /// A row count can be a scalar subquery.
    pub limit_takes_subquery: bool,
    /// That subquery can use columns of the queries around the limited one.
    /// SQLite: observed, "no such column". PostgreSQL: observed.
    pub limit_sees_outer: bool,
    /// What NULL means as a row count.
    /// Oracle: the row limiting clause; SQL Server: Msg 1060 and 1014; the others observed or from their
    /// grammars, which take a number only.
    pub null_count: OddCount,
    /// What a negative row count means; where it means something, a negative offset skips no row.
    pub negative_count: OddCount,
    /// OFFSET can stand without a count.
    /// MariaDB takes OFFSET alone, but loses it in a derived table and a common table expression (seen on
    /// MariaDB 10.11).
    pub offset_alone: bool,
    /// What is written as a count where OFFSET can't stand alone.
    pub count_for_all: Option<&'static str>,
    /// A limit may stand in the subquery of IN and of ANY.
    pub limit_in_in_subquery: bool,
    /// In a subquery of an expression, a derived table may use columns of the query around it.
    pub correlated_derived: bool,
    /// NULLS FIRST and NULLS LAST are spoken.
    pub nulls_spoken: bool,
    /// ILIKE is spoken.
    pub ilike: bool,
    /// BETWEEN SYMMETRIC is spoken.
    pub between_symmetric: bool,
    /// The form of a cast that gives NULL for an error.
    pub safe_cast: Option<CastForm>,
    /// Floating-point numbers can be NaN and infinite.
    pub has_nan: bool,
    /// CONVERT(x USING charset). MySQL and MariaDB, Cast Functions and Operators.
    pub convert_using: bool,
    /// QUALIFY is spoken.
    pub qualify: bool,
    /// LATERAL is spoken.
    pub lateral: bool,
    /// CROSS APPLY and OUTER APPLY are spoken.
    pub apply: bool,
    /// A SELECT needs a FROM: the table with one row.
    pub dual: Option<&'static str>,
    /// A derived table must have an alias.
    pub derived_needs_alias: bool,
    /// A condition can stand where a value is wanted.
    pub conditions_are_values: bool,
    /// GROUP BY can name an entry of the select list by its alias.
    /// Oracle has learned it, in version 23; written out it is right in all.
    pub group_by_sees_aliases: bool,
    /// HAVING can, too.
    pub having_sees_aliases: bool,
    /// Which columns may be shown without being grouped by.
    /// PostgreSQL: GROUP BY clause; MySQL: sql_mode ONLY_FULL_GROUP_BY, set by default.
    pub bare_columns: BareColumns,
    /// Where a bare `*` can stand.
    /// Oracle: SELECT, select list (ORA-00923); MySQL: SELECT statement.
    pub bare_star: BareStar,
    /// A column that NATURAL or USING shows as one can have a qualifier.
    /// ORA-25154, ORA-25155.
    pub shared_qualified: bool,
    /// What names inside an expression of ORDER BY mean.
    /// PostgreSQL: ORDER BY clause; SQL Server: Msg 207; SQLite: observed; the others by their manuals on
    /// aliases.
    pub sort_names: SortNames,
    /// GROUP BY can name an entry of the select list by its place.
    pub group_by_ordinals: bool,
    /// Rows written out with VALUES are a query.
    pub values_query: bool,
    /// ORDER BY and LIMIT can stand behind them.
    pub values_ordered: bool,
    /// What the columns of such rows are called, and the number of the first.
    /// SQL Server has no names for them; a table of them must be given its own.
    pub value_names: (&'static str, usize),
    /// INSERT takes several rows.
    pub insert_rows: bool,
    /// In ORDER BY a name that qualifies is a column of the list first, and only then a table.
    /// Seen on the GoogleSQL evaluator.
    pub outputs_hide_tables: bool,
    /// A table alias can have a column list.
    pub alias_columns: bool,
    /// The name of a common table expression can have one.
    pub common_table_columns: bool,
    /// `::` is spoken.
    pub double_colon: bool,
    /// Every column of a derived table must have a name (SQL Server: Msg 8155).
    pub derived_columns_named: bool,
    /// No two of them may have the same (SQL Server: Msg 8156; MySQL: ER_DUP_FIELDNAME).
    pub derived_columns_differ: bool,
    /// AS may stand before a table alias.
    pub table_alias_as: bool,
    /// Branches of a set operation can stand in parentheses.
    pub branch_parens: bool,
    /// EXCEPT is called MINUS.
    pub minus: bool,
    /// A window's ORDER BY may be missing in ROW_NUMBER.
    pub row_number_without_order: bool,
    /// UPDATE and DELETE take a limit.
    pub change_limit: bool,
    /// The pseudo column that tells rows of a table apart within a statement.
    pub row_address: Option<&'static str>,
    /// TRUE and FALSE are spoken.
    /// Oracle has a type for truth since version 23; 1 and 0 are right in all of them.
    pub boolean_values: bool,
    /// Truth is 1 and 0, of a type of its own or not.
    pub booleans_are_numbers: bool,
    /// A number can stand where a condition is wanted.
    pub numbers_are_conditions: bool,
    /// IS TRUE and its kin are spoken.
    pub truth_tests: bool,
    /// Comparisons with ANY and ALL of a query are spoken.
    pub quantified: bool,
    /// Rows of values are compared with all operators.
    /// Oracle: Simple comparison conditions, only = and <> of rows.
    pub rows_compared: bool,
    /// IN takes a row.
    pub rows_in_lists: bool,
    /// In a comparison of rows NULL is a value like others.
    /// Observed on both.
    pub rows_hold_null: bool,
    /// '' is NULL.
    pub empty_is_null: bool,
    /// What comparisons of strings pass over by default.
    pub letters: Letters,
    /// LIKE takes small and capital letters for the same.
    /// SQLite: of ASCII letters, whatever the collation (Expressions, LIKE).
    pub like_ignores_case: bool,
    /// The blanks that fill a CHAR are there when it is shown; none where it depends on the table.
    pub char_shows_blanks: Option<bool>,
    /// They are there for functions and joining. Seen on PostgreSQL 15, MariaDB 10.11 and Spark 4.0, where
    /// tables keep them, casts and views don't; SQL Server, char and varchar; Oracle, CHAR Data Type.
    pub char_counts_blanks: Option<bool>,
    /// ROLLUP, CUBE and grouping sets give a grand total of no rows, too.
    /// Seen on PostgreSQL 15, MySQL 9.7, DuckDB 1.5, MariaDB 10.11, Spark 4.0 and the GoogleSQL evaluator.
    pub totals_nothing: bool,
    /// A cast to a whole number cuts the fraction off; elsewhere it rounds.
    /// SQL Server: CAST and CONVERT, Truncating and rounding results; Spark: Cast; SQLite: observed.
    pub cast_cuts_fraction: bool,
    /// Where it rounds a floating-point number, a half goes to the even number, not away from zero.
    /// Observed on PostgreSQL 15, DuckDB 1.5 and MariaDB 10.11; BigQuery: Conversion rules.
    pub cast_halves_to_even: bool,
    /// A whole floating-point number becomes a string with a point: 1.0.
    /// Observed on DuckDB 1.5, Spark 4.0 and SQLite 3.54.
    pub float_text_has_point: bool,
    /// A number below 1 becomes a string without the zero before its point.
    /// TO_CHAR (number).
    pub number_text_drops_zero: bool,
    /// A cast of a string that is no number reads what it can, or 0.
    /// Observed on MariaDB 10.11 and SQLite 3.54; Spark without ANSI mode gives NULL.
    pub cast_reads_prefix: bool,
    /// A cast of a number that doesn't fit gives the greatest that does.
    /// Observed on MariaDB 10.11; MySQL: Out-of-range and overflow handling.
    pub cast_clamps: bool,
    /// A decimal becomes a string with all digits of its scale: 1.50.
    /// Observed on all but Oracle (TO_CHAR (number)) and SQL Server (CAST and CONVERT).
    pub decimal_text_keeps_scale: bool,
    /// A cast to a decimal type rounds nothing.
    /// SQLite: Datatypes, NUMERIC affinity.
    pub cast_ignores_scale: bool,
    /// A cast to a string of limited length cuts nothing, or fails on a longer one.
    /// BigQuery: Parameterized data types; DuckDB: Text types; Spark: Data types; SQLite: Datatypes.
    pub cast_ignores_length: bool,
    /// A whole value in a decimal column is an integer, so that `/` and `%` treat it as one.
    pub whole_decimals_are_integers: bool,
    /// ROUND needs the number of places.
    pub round_needs_places: bool,
    /// The function that cuts a fraction off.
    pub truncate_word: &'static str,
    /// WITH RECURSIVE needs its second word.
    pub recursive_word: bool,
    /// UNION DISTINCT must say its quantifier.
    pub union_says_distinct: bool,
    /// Names of tables, and their aliases, that differ in case are different.
    /// MySQL: Identifier Case Sensitivity, on every system but Windows and macOS; observed on MariaDB 10.11.
    /// BigQuery: Lexical structure, Case sensitivity.
    pub table_names_tell_case: bool,
    /// A limit over groups in a derived table is lost when that is joined by what it groups by.
    /// Observed on MariaDB 10.11.14, optimizer_switch split_materialized, on by default.
    pub loses_limit_over_groups: bool,
    /// A quotient of exact numbers is rounded to four digits more than its dividend has before it goes
    /// on; elsewhere, and in MySQL before version 9, more digits of it count.
    /// Seen on MySQL 9.7: 1 / 3 * 3 is 0.9999.
    pub rounds_quotients: bool,
    /// Where NULLs sort where nothing is written.
    pub null_rank: NullRank,
    /// Behind HAVING an aggregate that isn't shown can't be sorted by.
    /// Observed on Spark 4.0: UNRESOLVED_COLUMN.
    pub having_hides_aggregates: bool,
}

impl Capabilities {
    /// Those of `dialect` at its version.
    pub fn of(dialect: &Dialect) -> Capabilities {
        match dialect.name {
            DialectName::Oracle => oracle::at_version(dialect),
            DialectName::SqlServer => sqlserver::NEWEST,
            DialectName::Mysql => mysql::at_version(dialect),
            DialectName::Mariadb => mariadb::NEWEST,
            DialectName::Postgres => postgres::at_version(dialect),
            DialectName::Duckdb => duckdb::NEWEST,
            DialectName::Bigquery => bigquery::NEWEST,
            DialectName::Spark => spark::NEWEST,
            DialectName::Sqlite => sqlite::NEWEST,
        }
    }

    /// Where NULLs sort when nothing is written.
    pub fn default_nulls(&self, direction: Option<Direction>) -> NullOrder {
        let descending = direction == Some(Direction::Descending);
        match self.null_rank {
            NullRank::AlwaysLast => NullOrder::Last,
            NullRank::Greatest if descending => NullOrder::First,
            NullRank::Greatest => NullOrder::Last,
            NullRank::Least if descending => NullOrder::Last,
            NullRank::Least => NullOrder::First,
        }
    }
}
