//! Collations by name: what each passes over, and what it is called in another dialect.

use syntax::{Dialect, DialectName};

use crate::letters::Letters;

/// What a collation does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Collation {
    /// What it takes for equal.
    pub letters: Letters,
    /// It sorts as a dictionary does, not by the codes of characters.
    pub sorts_by_language: bool,
}

/// How a dialect says a collation.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CollationWord {
    /// It is what a string without COLLATE has.
    Default,
    /// `COLLATE name`, in quotes or not.
    Name(&'static str, bool),
    /// `COLLATE(text, 'name')` (BigQuery).
    Call(&'static str),
}

const fn letters(ignores_case: bool, ignores_accents: bool, ignores_blanks: bool) -> Letters {
    Letters { ignores_case, ignores_accents, ignores_blanks }
}

const BINARY: Letters = letters(false, false, false);
const PADDED: Letters = letters(false, false, true);
const ANY_CASE: Letters = letters(true, false, false);
const ANY_CASE_PADDED: Letters = letters(true, false, true);
const ANY_LETTER: Letters = letters(true, true, false);
const ANY_LETTER_PADDED: Letters = letters(true, true, true);

impl Collation {
    /// The collation of a name; none if the name doesn't tell what it passes over. Sources: the manuals'
    /// chapters on collation names of SQL Server, MySQL, MariaDB and Spark; Oracle, Data-Bound
    /// Collation; PostgreSQL, Collation support; SQLite, Collating sequences; DuckDB, Collations.
    pub fn named(name: &str, dialect: DialectName) -> Option<Collation> {
        use DialectName::{Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let name = name.to_ascii_uppercase();
        let has = |mark: &str| name.split(['_', '.']).any(|part| part == mark);
        let binary = |letters| Some(Collation { letters, sorts_by_language: false });
        let pads = match dialect {
            SqlServer => true,
            Mysql | Mariadb => !name.contains("0900") && !name.contains("NOPAD") && name != "BINARY",
            _ => false,
        };
        let by_code = match dialect {
            Postgres | Duckdb => matches!(name.as_str(), "C" | "POSIX" | "UCS_BASIC" | "C.UTF-8" | "C.UTF8" | "BINARY"),
            Sqlite | Oracle => name == "BINARY",
            Spark => name == "UTF8_BINARY",
            SqlServer | Mysql | Mariadb => has("BIN") || has("BIN2") || name == "BINARY",
            DialectName::Bigquery => name.is_empty() || name == "BINARY",
        };
        if by_code {
            return binary(if pads { PADDED } else { BINARY });
        }
        match (dialect, name.as_str()) {
            (Sqlite | Duckdb, "NOCASE") | (Oracle, "BINARY_CI") | (Spark, "UTF8_LCASE") | (DialectName::Bigquery, "UND:CI") => {
                return binary(ANY_CASE);
            }
            (Sqlite, "RTRIM") => return binary(PADDED),
            (Oracle, "BINARY_AI") => return binary(ANY_LETTER),
            (Duckdb, "NOCASE.NOACCENT" | "NOACCENT.NOCASE") => return binary(ANY_LETTER),
            _ => {}
        }
        if !["CI", "CS", "AI", "AS"].into_iter().any(has) {
            return None;
        }
        // A name of MySQL's that says nothing of accents passes over them.
        let silent = matches!(dialect, Mysql | Mariadb) && has("CI") && !has("AS");
        let found = letters(has("CI") || (has("AI") && !has("CS")), has("AI") || silent, pads);
        Some(Collation { letters: found, sorts_by_language: true })
    }

    /// What the collation is called in a dialect, and what it passes over there: the nearest one that
    /// tells case and accents as this one does. None if there is none.
    pub fn said(self, to: &Dialect) -> Option<(CollationWord, Letters)> {
        use CollationWord::{Call, Default, Name};
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let plain = |name| Name(name, false);
        let known: &[(Letters, CollationWord)] = match to.name {
            Oracle => &[(BINARY, plain("BINARY")), (ANY_CASE, plain("BINARY_CI")), (ANY_LETTER, plain("BINARY_AI"))],
            SqlServer => &[
                (PADDED, plain("Latin1_General_BIN2")),
                (ANY_CASE_PADDED, plain("Latin1_General_CI_AS")),
                (ANY_LETTER_PADDED, plain("Latin1_General_CI_AI")),
            ],
            Mysql => &[
                (BINARY, plain("utf8mb4_0900_bin")),
                (PADDED, plain("utf8mb4_bin")),
                (ANY_CASE, plain("utf8mb4_0900_as_ci")),
                (ANY_LETTER, plain("utf8mb4_0900_ai_ci")),
                (ANY_LETTER_PADDED, plain("utf8mb4_general_ci")),
            ],
            Mariadb => &[
                (BINARY, plain("utf8mb4_nopad_bin")),
                (PADDED, plain("utf8mb4_bin")),
                (ANY_CASE, plain("utf8mb4_uca1400_nopad_as_ci")),
                (ANY_CASE_PADDED, plain("utf8mb4_uca1400_as_ci")),
                (ANY_LETTER, plain("utf8mb4_general_nopad_ci")),
                (ANY_LETTER_PADDED, plain("utf8mb4_general_ci")),
            ],
            Postgres => &[(BINARY, Name("C", true))],
            Duckdb => &[(BINARY, Default), (ANY_CASE, plain("NOCASE")), (ANY_LETTER, plain("NOCASE.NOACCENT"))],
            Bigquery => &[(BINARY, Default), (ANY_CASE, Call("und:ci"))],
            Spark if to.since(4, 0) => {
                &[(BINARY, plain("UTF8_BINARY")), (ANY_CASE, plain("UTF8_LCASE")), (ANY_LETTER, plain("UNICODE_CI_AI"))]
            }
            Spark => &[(BINARY, Default)],
            Sqlite => &[(BINARY, plain("BINARY")), (PADDED, plain("RTRIM")), (ANY_CASE, plain("NOCASE"))],
        };
        let folds = |l: Letters| (l.ignores_case, l.ignores_accents);
        let exact = known.iter().find(|(l, _)| *l == self.letters);
        exact.or_else(|| known.iter().find(|(l, _)| folds(*l) == folds(self.letters))).map(|(l, word)| (*word, *l))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_of_collations() {
        for (from, name, to, wanted) in [
            ("postgres", "C", "sqlserver", Some("Latin1_General_BIN2")),
            ("postgres", "C", "mysql", Some("utf8mb4_0900_bin")),
            ("postgres", "de-x-icu", "oracle", None),
            ("sqlserver", "Latin1_General_CS_AS", "postgres", Some("C")),
            ("sqlserver", "Latin1_General_CI_AI", "mysql", Some("utf8mb4_general_ci")),
            ("sqlserver", "Latin1_General_CI_AS", "postgres", None),
            ("sqlserver", "Latin1_General_CI_AS", "bigquery", Some("und:ci")),
            ("mysql", "utf8mb4_unicode_ci", "mariadb", Some("utf8mb4_general_ci")),
            ("mysql", "utf8mb4_0900_as_cs", "sqlite", Some("BINARY")),
            ("sqlite", "NOCASE", "duckdb", Some("NOCASE")),
            ("sqlite", "RTRIM", "postgres", Some("C")),
            ("oracle", "BINARY_AI", "spark", Some("UNICODE_CI_AI")),
        ] {
            let named = |word: &str| DialectName::ALL.into_iter().find(|d| d.as_str() == word).unwrap();
            let said = Collation::named(name, named(from)).and_then(|c| c.said(&Dialect::newest(named(to))));
            let word = said.map(|(word, _)| match word {
                CollationWord::Name(name, _) | CollationWord::Call(name) => name,
                CollationWord::Default => "",
            });
            assert_eq!(word, wanted, "{name} of {from} in {to}");
        }
    }
}
