//! Facts of spelling: how each dialect quotes, comments and names things.
//!
//! Each fact is from the vendor's manual, chapter on lexical structure, and where the engine runs
//! here was observed on it.

use crate::dialect::{Dialect, DialectName, DialectSet};
use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

/// What an unquoted name's letters become.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Folding {
    /// Capitals; quoted names keep their letters and then differ.
    Upper,
    /// Small letters; quoted names keep their letters and then differ.
    Lower,
    /// Kept as written; names that differ only in case are the same, quoted or not.
    CaseInsensitive,
}

/// The spelling facts of one dialect under its settings.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Spelling {
    /// The dialect described.
    pub dialect: DialectName,
    /// `"x"` is text, not a name.
    pub double_quote_is_text: bool,
    /// A backslash in a plain text literal starts an escape.
    pub backslash_escapes: bool,
    /// `` `x` `` is a name.
    pub backtick_names: bool,
    /// `[x]` is a name.
    pub bracket_names: bool,
    /// `#` starts a comment to the end of the line.
    pub hash_comments: bool,
    /// `--` is a comment only before a blank or the end of the line.
    pub dashes_need_blank: bool,
    /// `/* /* */ */` is one comment.
    pub nested_comments: bool,
    /// `$$text$$` and `$tag$text$tag$`.
    pub dollar_quotes: bool,
    /// `r'..'` and `'''..'''`.
    pub raw_and_triple_quotes: bool,
    /// What becomes of unquoted names.
    pub folding: Folding,
    /// INTERSECT binds tighter than UNION and EXCEPT.
    pub intersect_binds_tighter: bool,
    /// `||` means OR.
    pub bars_mean_or: bool,
}

impl Spelling {
    /// The facts of `dialect`.
    pub fn of(dialect: &Dialect) -> Spelling {
        let name = dialect.name;
        let among = |names: &[DialectName]| DialectSet::of(names).has(name);
        let mysql_family = among(&[Mysql, Mariadb]);
        let ansi_quotes = dialect.sql_mode("ANSI_QUOTES") || dialect.sql_mode("ANSI");
        let spark_ansi_names = name == Spark && dialect.settings.get("doubleQuotedIdentifiers").is_some_and(|v| v == "true");
        Spelling {
            dialect: name,
            double_quote_is_text: (mysql_family && !ansi_quotes) || name == Bigquery || (name == Spark && !spark_ansi_names),
            backslash_escapes: (mysql_family && !dialect.sql_mode("NO_BACKSLASH_ESCAPES")) || among(&[Bigquery, Spark]),
            backtick_names: among(&[Mysql, Mariadb, Bigquery, Spark, Sqlite]),
            bracket_names: among(&[SqlServer, Sqlite]),
            hash_comments: among(&[Mysql, Mariadb, Bigquery]),
            dashes_need_blank: mysql_family,
            nested_comments: among(&[Postgres, SqlServer, Duckdb, Spark]),
            dollar_quotes: among(&[Postgres, Duckdb]),
            raw_and_triple_quotes: among(&[Bigquery, Spark]),
            folding: match name {
                Oracle => Folding::Upper,
                Postgres => Folding::Lower,
                _ => Folding::CaseInsensitive,
            },
            // Oracle before 21 and SQLite give all set operators equal precedence; Oracle still
            // does for plain INTERSECT (SQL Language Reference, The Set Operators).
            intersect_binds_tighter: !among(&[Oracle, Sqlite]),
            bars_mean_or: mysql_family && !dialect.sql_mode("PIPES_AS_CONCAT") && !dialect.sql_mode("ANSI"),
        }
    }

    /// The quotes written around a name.
    pub fn name_quotes(&self) -> (char, char) {
        match self.dialect {
            SqlServer => ('[', ']'),
            Mysql | Mariadb | Bigquery | Spark => ('`', '`'),
            Oracle | Postgres | Duckdb | Sqlite => ('"', '"'),
        }
    }
}

/// Whether `word` can't be a column or table name without quotes in `dialect`.
pub fn is_reserved(dialect: DialectName, word: &str) -> bool {
    crate::reserved::is_reserved(dialect, word.as_bytes())
}
