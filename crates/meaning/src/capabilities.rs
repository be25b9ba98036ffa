//! Capabilities of meaning: what each dialect can say, and what its silence means.
//!
//! Rewrites ask these facts, never which dialect it is. Sources are the vendors' manuals, the
//! chapters on SELECT; versions are those in which a construct came.

use syntax::tree::{CastForm, Direction, NullOrder};
use syntax::{Dialect, DialectName, DialectSet};

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

/// What one dialect can say.
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
    pub limit_sees_outer: bool,
    /// What NULL means as a row count.
    pub null_count: OddCount,
    /// What a negative row count means; where it means something, a negative offset skips no row.
    pub negative_count: OddCount,
    /// OFFSET can stand without a count.
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
    pub group_by_sees_aliases: bool,
    /// HAVING can, too.
    pub having_sees_aliases: bool,
    /// Which columns may be shown without being grouped by.
    pub bare_columns: BareColumns,
    /// Where a bare `*` can stand.
    pub bare_star: BareStar,
    /// A column that NATURAL or USING shows as one can have a qualifier.
    pub shared_qualified: bool,
    /// What names inside an expression of ORDER BY mean.
    pub sort_names: SortNames,
    /// GROUP BY can name an entry of the select list by its place.
    pub group_by_ordinals: bool,
    /// Rows written out with VALUES are a query.
    pub values_query: bool,
    /// ORDER BY and LIMIT can stand behind them.
    pub values_ordered: bool,
    /// What the columns of such rows are called, and the number of the first.
    pub value_names: (&'static str, usize),
    /// INSERT takes several rows.
    pub insert_rows: bool,
    /// In ORDER BY a name that qualifies is a column of the list first, and only then a table.
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
    pub rows_compared: bool,
    /// IN takes a row.
    pub rows_in_lists: bool,
    /// In a comparison of rows NULL is a value like others.
    pub rows_hold_null: bool,
    /// '' is NULL.
    pub empty_is_null: bool,
    /// What comparisons of strings pass over by default.
    pub letters: Letters,
    /// LIKE takes small and capital letters for the same.
    pub like_ignores_case: bool,
    /// The blanks that fill a CHAR are there when it is shown; none where it depends on the table.
    pub char_shows_blanks: Option<bool>,
    /// They are there for functions and joining. Seen on PostgreSQL 15, MariaDB 10.11 and Spark 4.0, where
    /// tables keep them, casts and views don't; SQL Server, char and varchar; Oracle, CHAR Data Type.
    pub char_counts_blanks: Option<bool>,
    /// ROLLUP, CUBE and grouping sets give a grand total of no rows, too.
    pub totals_nothing: bool,
    /// A cast to a whole number cuts the fraction off; elsewhere it rounds.
    pub cast_cuts_fraction: bool,
    /// Where it rounds a floating-point number, a half goes to the even number, not away from zero.
    pub cast_halves_to_even: bool,
    /// A whole floating-point number becomes a string with a point: 1.0.
    pub float_text_has_point: bool,
    /// A number below 1 becomes a string without the zero before its point.
    pub number_text_drops_zero: bool,
    /// A cast of a string that is no number reads what it can, or 0.
    pub cast_reads_prefix: bool,
    /// A cast of a number that doesn't fit gives the greatest that does.
    pub cast_clamps: bool,
    /// A decimal becomes a string with all digits of its scale: 1.50.
    pub decimal_text_keeps_scale: bool,
    /// A cast to a decimal type rounds nothing.
    pub cast_ignores_scale: bool,
    /// A cast to a string of limited length cuts nothing, or fails on a longer one.
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
    pub table_names_tell_case: bool,
    /// A limit over groups in a derived table is lost when that is joined by what it groups by.
    pub loses_limit_over_groups: bool,
    /// A quotient of exact numbers is rounded to four digits more than its dividend has before it goes
    /// on; elsewhere, and in MySQL before version 9, more digits of it count.
    pub rounds_quotients: bool,
    /// Behind HAVING an aggregate that isn't shown can't be sorted by.
    pub having_hides_aggregates: bool,
}

impl Capabilities {
    /// The facts of `dialect` at its version.
    pub fn of(dialect: &Dialect) -> Capabilities {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let name = dialect.name;
        let among = |names: &[DialectName]| DialectSet::of(names).has(name);
        Capabilities {
            dialect: name,
            limit_words: match name {
                Oracle => LimitWords::Fetch,
                SqlServer => LimitWords::Top,
                _ => LimitWords::Limit,
            },
            limit_with_ties: among(&[Oracle, SqlServer])
                || (name == Postgres && dialect.since(13, 0))
                || (name == Mariadb && dialect.since(10, 6)),
            limit_percent: among(&[Oracle, SqlServer]),
            limit_takes_expression: !among(&[Mysql, Mariadb, Bigquery]),
            limit_takes_subquery: among(&[Postgres, Duckdb, Sqlite, Oracle, SqlServer]),
            // SQLite: observed, "no such column". PostgreSQL: observed.
            limit_sees_outer: name == Postgres,
            // Oracle: the row limiting clause; SQL Server: Msg 1060 and 1014; the others observed or
            // from their grammars, which take a number only.
            null_count: match name {
                Postgres | Duckdb => OddCount::AllRows,
                Oracle => OddCount::NoRows,
                _ => OddCount::Error,
            },
            negative_count: match name {
                Sqlite => OddCount::AllRows,
                Oracle => OddCount::NoRows,
                _ => OddCount::Error,
            },
            // MariaDB takes OFFSET alone, but loses it in a derived table and a common table expression
            // (seen on MariaDB 10.11).
            offset_alone: among(&[Oracle, SqlServer, Postgres, Duckdb, Spark]),
            count_for_all: match name {
                Mysql | Mariadb => Some("18446744073709551615"),
                Sqlite => Some("-1"),
                Bigquery => Some("9223372036854775807"),
                _ => None,
            },
            limit_in_in_subquery: !among(&[Mysql, Mariadb]),
            correlated_derived: name != Mariadb,
            nulls_spoken: !among(&[SqlServer, Mysql, Mariadb]),
            ilike: among(&[Postgres, Duckdb, Spark]),
            between_symmetric: name == Postgres,
            has_nan: !among(&[SqlServer, Mysql, Mariadb, Sqlite]),
            convert_using: matches!(name, Mysql | Mariadb),
            safe_cast: match name {
                SqlServer | Duckdb | Spark => Some(CastForm::TryCast),
                Bigquery => Some(CastForm::SafeCast),
                Oracle => Some(CastForm::OnError),
                _ => None,
            },
            qualify: among(&[Duckdb, Bigquery]),
            lateral: among(&[Oracle, Mysql, Postgres, Duckdb]) || (name == Spark && dialect.since(3, 5)),
            apply: among(&[Oracle, SqlServer]),
            dual: (name == Oracle && !dialect.since(23, 0)).then_some("DUAL"),
            derived_needs_alias: among(&[SqlServer, Mysql, Mariadb]) || (name == Postgres && !dialect.since(16, 0)),
            // Oracle has learned it, in version 23; written out it is right in all.
            group_by_sees_aliases: !among(&[SqlServer, Oracle]),
            having_sees_aliases: !among(&[SqlServer, Oracle, Postgres]),
            // PostgreSQL: GROUP BY clause; MySQL: sql_mode ONLY_FULL_GROUP_BY, set by default.
            bare_columns: match name {
                Postgres | Mysql => BareColumns::Determined,
                Mariadb | Sqlite => BareColumns::Any,
                _ => BareColumns::None,
            },
            // Oracle: SELECT, select list (ORA-00923); MySQL: SELECT statement.
            bare_star: match name {
                Oracle => BareStar::Alone,
                Mysql | Mariadb => BareStar::First,
                _ => BareStar::Anywhere,
            },
            // ORA-25154, ORA-25155.
            shared_qualified: name != Oracle,
            // PostgreSQL: ORDER BY clause; SQL Server: Msg 207; SQLite: observed; the others by their
            // manuals on aliases.
            sort_names: match name {
                Postgres | SqlServer => SortNames::ColumnsOnly,
                Oracle | Bigquery | Spark => SortNames::AliasesFirst,
                Mysql | Mariadb | Duckdb | Sqlite => SortNames::ColumnsFirst,
            },
            group_by_ordinals: !among(&[SqlServer, Oracle]),
            values_query: among(&[Postgres, Duckdb, Spark, Sqlite]),
            values_ordered: name != Sqlite,
            // SQL Server has no names for them; a table of them must be given its own.
            value_names: match name {
                Mysql => ("column_", 0),
                Duckdb => ("col", 0),
                Spark => ("col", 1),
                _ => ("column", 1),
            },
            insert_rows: name != Oracle || dialect.since(23, 0),
            // Seen on the GoogleSQL evaluator.
            outputs_hide_tables: name == Bigquery,
            alias_columns: among(&[SqlServer, Mysql, Postgres, Duckdb, Spark]),
            common_table_columns: name != Bigquery,
            double_colon: among(&[Postgres, Duckdb]) || (name == Spark && dialect.since(3, 4)),
            conditions_are_values: !among(&[SqlServer, Oracle]),
            derived_columns_named: name == SqlServer,
            derived_columns_differ: among(&[SqlServer, Mysql, Mariadb]),
            table_alias_as: name != Oracle,
            branch_parens: name != Sqlite,
            minus: name == Oracle,
            row_number_without_order: !among(&[Oracle, SqlServer, Spark]),
            change_limit: among(&[Mysql, Mariadb, SqlServer]),
            row_address: match name {
                Oracle => Some("ROWID"),
                Postgres => Some("ctid"),
                Sqlite | Duckdb => Some("rowid"),
                _ => None,
            },
            quantified: !among(&[Bigquery, Spark, Sqlite]),
            // Oracle: Simple comparison conditions, only = and <> of rows.
            rows_compared: !among(&[Oracle, SqlServer, Bigquery]),
            rows_in_lists: !among(&[SqlServer, Bigquery]),
            // Observed on both.
            rows_hold_null: among(&[Duckdb, Spark]),
            empty_is_null: name == Oracle,
            letters: Letters::of(name),
            // SQLite: of ASCII letters, whatever the collation (Expressions, LIKE).
            like_ignores_case: among(&[SqlServer, Mysql, Mariadb, Sqlite]),
            char_shows_blanks: (name != Spark).then_some(among(&[Oracle, SqlServer, Postgres])),
            char_counts_blanks: (name != Spark).then_some(among(&[Oracle, SqlServer])),
            // Oracle has a type for truth since version 23; 1 and 0 are right in all of them.
            boolean_values: !among(&[SqlServer, Oracle]),
            booleans_are_numbers: among(&[SqlServer, Oracle, Mysql, Mariadb, Sqlite]),
            numbers_are_conditions: among(&[Mysql, Mariadb, Sqlite]),
            truth_tests: !among(&[SqlServer, Oracle]),
            // Seen on PostgreSQL 15, MySQL 9.7, DuckDB 1.5, MariaDB 10.11, Spark 4.0 and the GoogleSQL evaluator.
            totals_nothing: !among(&[Mariadb, Spark, Bigquery]),
            // SQL Server: CAST and CONVERT, Truncating and rounding results; Spark: Cast; SQLite: observed.
            cast_cuts_fraction: among(&[SqlServer, Spark, Sqlite]),
            // Observed on PostgreSQL 15, DuckDB 1.5 and MariaDB 10.11; BigQuery: Conversion rules.
            cast_halves_to_even: among(&[Postgres, Duckdb, Mysql, Mariadb]),
            // Observed on DuckDB 1.5, Spark 4.0 and SQLite 3.54.
            float_text_has_point: among(&[Duckdb, Spark, Sqlite]),
            // TO_CHAR (number).
            number_text_drops_zero: name == Oracle,
            // Observed on MariaDB 10.11 and SQLite 3.54; Spark without ANSI mode gives NULL.
            cast_reads_prefix: among(&[Mysql, Mariadb, Sqlite]),
            // Observed on MariaDB 10.11; MySQL: Out-of-range and overflow handling.
            cast_clamps: among(&[Mysql, Mariadb]),
            // Observed on all but Oracle (TO_CHAR (number)) and SQL Server (CAST and CONVERT).
            decimal_text_keeps_scale: !among(&[Oracle, Bigquery, Sqlite]),
            // SQLite: Datatypes, NUMERIC affinity.
            cast_ignores_scale: name == Sqlite,
            // BigQuery: Parameterized data types; DuckDB: Text types; Spark: Data types; SQLite: Datatypes.
            cast_ignores_length: among(&[Duckdb, Bigquery, Spark, Sqlite]),
            whole_decimals_are_integers: name == Sqlite,
            // Seen on MySQL 9.7: 1 / 3 * 3 is 0.9999.
            rounds_quotients: name == Mysql && dialect.since(9, 0),
            round_needs_places: name == SqlServer,
            truncate_word: if among(&[Mysql, Mariadb]) { "TRUNCATE" } else { "TRUNC" },
            recursive_word: !among(&[Oracle, SqlServer]),
            union_says_distinct: name == Bigquery,
            // MySQL: Identifier Case Sensitivity, on every system but Windows and macOS; observed on MariaDB
            // 10.11. BigQuery: Lexical structure, Case sensitivity.
            table_names_tell_case: among(&[Mysql, Mariadb, Bigquery]),
            // Observed on MariaDB 10.11.14, optimizer_switch split_materialized, on by default.
            loses_limit_over_groups: name == Mariadb,
            // Observed on Spark 4.0: UNRESOLVED_COLUMN.
            having_hides_aggregates: name == Spark,
        }
    }

    /// Where NULLs sort when nothing is written.
    ///
    /// Last ascending in Oracle and PostgreSQL, always last in DuckDB, smallest elsewhere.
    pub fn default_nulls(&self, direction: Option<Direction>) -> NullOrder {
        use DialectName::{Duckdb, Oracle, Postgres};
        let descending = direction == Some(Direction::Descending);
        match self.dialect {
            Duckdb => NullOrder::Last,
            Oracle | Postgres if descending => NullOrder::First,
            Oracle | Postgres => NullOrder::Last,
            _ if descending => NullOrder::Last,
            _ => NullOrder::First,
        }
    }
}
