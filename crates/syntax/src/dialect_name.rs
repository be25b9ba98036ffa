//! The dialects by name. The build script of the phrasebook reads this file too.

/// The dialects Inland Ferry reads and writes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[repr(u8)]
pub enum DialectName {
    /// Oracle Database.
    Oracle,
    /// Microsoft SQL Server.
    SqlServer,
    /// MySQL 8.0 and later.
    Mysql,
    /// MariaDB.
    Mariadb,
    /// PostgreSQL.
    Postgres,
    /// DuckDB.
    Duckdb,
    /// BigQuery (GoogleSQL).
    Bigquery,
    /// Spark SQL.
    Spark,
    /// SQLite.
    Sqlite,
}

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};

impl DialectName {
    /// How many there are.
    pub const COUNT: usize = Sqlite as usize + 1;

    /// Every dialect, in the order the documentation lists them.
    pub const ALL: [DialectName; DialectName::COUNT] = [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];

    /// The name used on the command line and in output.
    pub const fn as_str(self) -> &'static str {
        match self {
            Oracle => "oracle",
            SqlServer => "sqlserver",
            Mysql => "mysql",
            Mariadb => "mariadb",
            Postgres => "postgres",
            Duckdb => "duckdb",
            Bigquery => "bigquery",
            Spark => "spark",
            Sqlite => "sqlite",
        }
    }

    /// Other names that are accepted wherever a dialect is named.
    pub const fn aliases(self) -> &'static [&'static str] {
        match self {
            SqlServer => &["tsql", "mssql"],
            Postgres => &["postgresql", "pg"],
            Bigquery => &["googlesql"],
            Spark => &["sparksql"],
            Sqlite => &["sqlite3"],
            Oracle | Mysql | Mariadb | Duckdb => &[],
        }
    }

    /// The dialect of a name or an alias, whatever its case.
    pub fn named(name: &str) -> Option<DialectName> {
        let is_it = |own: &str| own.eq_ignore_ascii_case(name);
        DialectName::ALL.into_iter().find(|d| is_it(d.as_str()) || d.aliases().iter().any(|alias| is_it(alias)))
    }
}
