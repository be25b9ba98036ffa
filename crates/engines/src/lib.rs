//! One trait for every engine, and its adapters.

mod address;
mod load;
mod postgres;
mod sqlite;
mod standin;

use std::time::Duration;

use syntax::Dialect;
use values::{ResultSet, Row, Table};

pub use address::{Address, AddressError};
pub use load::{DataError, Dataset, literal_sql};

use crate::postgres::PostgresEngine;
use crate::sqlite::SqliteEngine;
use crate::standin::StandInEngine;

/// Why an engine failed.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum EngineError {
    /// It can't be reached.
    #[error("{engine} can't be reached: {message}")]
    Unreachable {
        /// Which engine, without passwords.
        engine: String,
        /// What it said.
        message: String,
    },
    /// The query failed.
    #[error("{}{message}", code.as_ref().map(|c| format!("{c}: ")).unwrap_or_default())]
    Query {
        /// The engine's own code, if it gives one.
        code: Option<String>,
        /// What it said.
        message: String,
        /// Where in the statement, in bytes.
        place: Option<(usize, usize)>,
        /// The stand-in doesn't know the construct: the query may be right.
        not_known: bool,
        /// The failure is one that counts as a result: division by zero, a failing cast, several
        /// rows for one value.
        counts: bool,
    },
    /// Rows can't be loaded.
    #[error("loading {table}: {message}")]
    Load {
        /// Into which table.
        table: String,
        /// What went wrong.
        message: String,
    },
}

/// A database that runs queries of one dialect.
pub trait Engine {
    /// Its dialect, with the version it runs where it tells.
    fn dialect(&self) -> &Dialect;

    /// What it is, for people: `standin:oracle@23`, `sqlite 3.51`. No passwords.
    fn name(&self) -> String;

    /// Runs a query and gives its rows, at most `row_cap` of them.
    fn query(&mut self, sql: &str, row_cap: usize) -> Result<ResultSet, EngineError>;

    /// Makes the tables in a scratch place of its own, in place of what was loaded before.
    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError>;

    /// Sets what free choices of order are drawn from, where the engine has a say.
    fn set_seed(&mut self, _seed: u64) {}

    /// Whether the seed has an effect: ties and unordered rows come in another order for each.
    fn is_seeded(&self) -> bool {
        false
    }

    /// Ends a query that runs longer.
    fn set_timeout(&mut self, _timeout: Duration) {}
}

/// Opens the engine at an address.
pub fn open(address: &Address) -> Result<Box<dyn Engine>, EngineError> {
    Ok(match address {
        Address::StandIn(dialect) => Box::new(StandInEngine::new(dialect.clone())),
        Address::Sqlite(path) => Box::new(SqliteEngine::open(path)?),
        Address::Postgres(url) => Box::new(PostgresEngine::open(url)?),
    })
}
