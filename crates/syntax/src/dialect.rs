//! Which SQL a text is written in: a dialect's name, its version and its settings.

use std::collections::BTreeMap;
use std::fmt;
use std::str::FromStr;

pub use crate::dialect_name::DialectName;

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

impl DialectName {
    /// The product's name as people write it in a sentence.
    pub const fn title(self) -> &'static str {
        match self {
            Oracle => "Oracle",
            SqlServer => "SQL Server",
            Mysql => "MySQL",
            Mariadb => "MariaDB",
            Postgres => "PostgreSQL",
            Duckdb => "DuckDB",
            Bigquery => "BigQuery",
            Spark => "Spark SQL",
            Sqlite => "SQLite",
        }
    }

    /// The versions we know about, oldest first. The last one is assumed when none is named.
    pub const fn versions(self) -> &'static [Version] {
        const fn v(major: u16, minor: u16) -> Version {
            Version { major, minor }
        }
        match self {
            Oracle => const { &[v(19, 0), v(23, 0)] },
            SqlServer => const { &[v(2019, 0), v(2022, 0)] },
            Mysql => const { &[v(8, 0), v(8, 4), v(9, 7)] },
            Mariadb => const { &[v(10, 11), v(11, 0)] },
            Postgres => const { &[v(13, 0), v(14, 0), v(15, 0), v(16, 0), v(17, 0), v(18, 0)] },
            Duckdb => const { &[v(1, 3), v(1, 4), v(2, 0)] },
            Bigquery => const { &[v(1, 0)] },
            Spark => const { &[v(3, 5), v(4, 0), v(4, 1)] },
            Sqlite => const { &[v(3, 44), v(3, 51)] },
        }
    }

    /// This dialect as one bit of a [`DialectSet`].
    pub const fn bit(self) -> u16 {
        1 << self as u16
    }
}

impl fmt::Display for DialectName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

/// A set of dialects, for tables of facts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct DialectSet(u16);

impl DialectSet {
    /// Every dialect.
    pub const ALL: DialectSet = DialectSet::of(&DialectName::ALL);

    /// The dialects listed.
    pub const fn of(names: &[DialectName]) -> Self {
        let mut bits = 0;
        let mut i = 0;
        while i < names.len() {
            bits |= names[i].bit();
            i += 1;
        }
        DialectSet(bits)
    }

    /// Whether `name` is in the set.
    pub const fn has(self, name: DialectName) -> bool {
        self.0 & name.bit() != 0
    }
}

/// A server version: `2019`, `10.11`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct Version {
    /// The number before the point.
    pub major: u16,
    /// The number after it, 0 if not given.
    pub minor: u16,
}

impl Version {
    /// `major` with minor 0.
    pub const fn major(major: u16) -> Self {
        Version { major, minor: 0 }
    }
}

impl fmt::Display for Version {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}", self.major)?;
        if self.minor > 0 {
            write!(f, ".{}", self.minor)?;
        }
        Ok(())
    }
}

/// A dialect at a version with its settings.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Dialect {
    /// Which SQL.
    pub name: DialectName,
    /// The version assumed or named.
    pub version: Version,
    /// Whether the user (or a live server) named the version.
    pub version_given: bool,
    /// Server settings that change what a text means, by their own names (`sql_mode`, `ansi`).
    pub settings: BTreeMap<String, String>,
}

impl Dialect {
    /// The newest known version of `name`, default settings.
    pub fn newest(name: DialectName) -> Self {
        let versions = name.versions();
        Dialect { name, version: versions[versions.len() - 1], version_given: false, settings: BTreeMap::new() }
    }

    /// Takes the version that a server tells of itself (`4.0.1`, `10.11.14-MariaDB`): its first two
    /// numbers. A version that was named stays; a text without a number changes nothing.
    pub fn set_server_version(&mut self, reported: &str) {
        let mut numbers = reported.split(|c: char| !c.is_ascii_digit()).map_while(|n| n.parse().ok());
        if let (Some(major), false) = (numbers.next(), self.version_given) {
            self.version = Version { major, minor: numbers.next().unwrap_or(0) };
            self.version_given = true;
        }
    }

    /// Whether the version is at least `major.minor`.
    pub fn since(&self, major: u16, minor: u16) -> bool {
        self.version >= Version { major, minor }
    }

    /// MySQL's and MariaDB's `sql_mode` holds `mode`.
    pub fn sql_mode(&self, mode: &str) -> bool {
        self.settings.get("sql_mode").is_some_and(|set| set.split(',').any(|one| one.trim().eq_ignore_ascii_case(mode)))
    }
}

impl From<DialectName> for Dialect {
    fn from(name: DialectName) -> Self {
        Dialect::newest(name)
    }
}

impl fmt::Display for Dialect {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.name == Bigquery {
            return write!(f, "{}", self.name);
        }
        write!(f, "{}@{}", self.name, self.version)
    }
}

/// Why a text doesn't name a dialect.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum DialectError {
    /// No dialect of that name.
    #[error("there is no dialect named '{given}'{}; the dialects are {}", nearest_hint(given), all_names())]
    UnknownName {
        /// What was written.
        given: String,
    },
    /// The part after `@` isn't a version number.
    #[error("'{given}' is not a version of {dialect}: write a number, as in {dialect}@{example}")]
    BadVersion {
        /// What was written after the `@`.
        given: String,
        /// The dialect it was written for.
        dialect: DialectName,
        /// A version that would do.
        example: Version,
    },
}

fn all_names() -> String {
    DialectName::ALL.map(DialectName::as_str).join(", ")
}

fn nearest_hint(given: &str) -> String {
    let lower = given.to_lowercase();
    let by_product = match lower.as_str() {
        "azure" => Some("sqlserver"),
        "psql" => Some("postgres"),
        "bq" => Some("bigquery"),
        "ora" | "plsql" => Some("oracle"),
        _ => None,
    };
    let names = DialectName::ALL.iter().flat_map(|d| std::iter::once(d.as_str()).chain(d.aliases().iter().copied()));
    let nearest = by_product.or_else(|| crate::near::nearest(&lower, names));
    nearest.map_or(String::new(), |name| format!(" (did you mean '{name}'?)"))
}

impl FromStr for Dialect {
    type Err = DialectError;

    /// `oracle`, `sqlserver@2019`, `mariadb@10.11`. Case is ignored.
    fn from_str(text: &str) -> Result<Self, DialectError> {
        let (name, version) = match text.split_once('@') {
            Some((name, version)) => (name, Some(version)),
            None => (text, None),
        };
        let found = DialectName::named(name.trim()).ok_or_else(|| DialectError::UnknownName { given: name.to_string() })?;
        let mut dialect = Dialect::newest(found);
        if let Some(written) = version {
            // An older one than the oldest listed counts as that.
            dialect.version = parse_version(found, written.trim())?.max(found.versions()[0]);
            dialect.version_given = true;
        }
        Ok(dialect)
    }
}

/// Reads a version. One newer than the newest listed is kept: servers rarely drop what they had.
fn parse_version(dialect: DialectName, written: &str) -> Result<Version, DialectError> {
    // Oracle's marketing suffixes: 19c, 23ai.
    let digits = written.trim_end_matches(|c: char| c.is_ascii_alphabetic());
    let mut parts = digits.split('.');
    let number = |part: Option<&str>| part.map_or(Ok(0), str::parse::<u16>);
    match (number(parts.next()), number(parts.next())) {
        (Ok(major), Ok(minor)) if major > 0 => Ok(Version { major, minor }),
        _ => {
            Err(DialectError::BadVersion { given: written.to_string(), dialect, example: dialect.versions()[dialect.versions().len() - 1] })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn reads_names_and_versions() {
        for (text, expected) in [
            ("oracle", "oracle@23"),
            ("Oracle@19c", "oracle@19"),
            ("sqlserver@2019", "sqlserver@2019"),
            ("mariadb@10.11", "mariadb@10.11"),
            ("postgres@99", "postgres@99"),
            ("bigquery", "bigquery"),
            ("TSQL@2019", "sqlserver@2019"),
            ("mssql", "sqlserver@2022"),
            ("pg", "postgres@18"),
            ("postgres@9", "postgres@13"),
        ] {
            assert_eq!(text.parse::<Dialect>().map(|d| d.to_string()), Ok(expected.to_string()), "{text}");
        }
    }

    #[test]
    fn errors_name_the_nearest() {
        for (text, part) in [
            ("oracel", "did you mean 'oracle'?"),
            ("sqlservr", "did you mean 'sqlserver'?"),
            ("xyzzy", "the dialects are oracle, sqlserver"),
            ("sqlserver@new", "write a number"),
        ] {
            let message = text.parse::<Dialect>().err().map(|e| e.to_string()).unwrap_or_default();
            assert!(message.contains(part), "{text}: {message}");
        }
    }
}
