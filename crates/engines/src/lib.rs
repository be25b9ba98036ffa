//! One trait for every engine, and its adapters.

mod adbc;
mod address;
mod bridge;
mod capture;
mod civil;
mod dataset;
mod error;
mod interrupt;
mod literal;
mod mysql;
mod postgres;
mod reading;
mod rules;
mod scratch;
mod sqlite;
mod standin;
mod tls;

use std::time::Duration;

use jiff::civil::DateTime;
use syntax::Dialect;
use values::{ResultSet, Row, Table};

pub use ::standin::{Bytes, Event, Observed, Seen};
pub use address::{Address, AddressError};
pub use capture::{CaptureOptions, Captured, capture};
pub use dataset::{DataError, Dataset, csv_line, csv_text, write_csv};
pub use error::{EngineError, Warning};
pub use interrupt::{is_stopped, stop_all};
pub use literal::literal_sql;

/// Takes what a query gives, row by row as it comes.
pub trait Sink {
    /// The columns' labels and the engine's names of their types, before the first row.
    fn columns(&mut self, labels: Vec<String>, types: Vec<String>);

    /// One row; false when no more are wanted.
    fn row(&mut self, row: Row) -> bool;

    /// How many rows are taken at most, where that is known beforehand: an engine can then stop early.
    fn most(&self) -> Option<usize> {
        None
    }
}

/// Keeps the rows up to a number.
#[derive(Debug, Default)]
pub struct Collected {
    /// What came.
    pub result: ResultSet,
    /// There were more rows than were wanted.
    pub cut: bool,
    cap: usize,
}

impl Collected {
    /// Keeps at most `cap` rows.
    pub fn new(cap: usize) -> Collected {
        Collected { cap, ..Collected::default() }
    }

    /// The values in the first column, as text.
    pub(crate) fn first_column(&self) -> Vec<String> {
        self.result.rows.iter().filter_map(|r| r.first().map(ToString::to_string)).collect()
    }
}

impl Sink for Collected {
    fn columns(&mut self, labels: Vec<String>, types: Vec<String>) {
        self.result = ResultSet { columns: labels, types, rows: Vec::new() };
    }

    fn row(&mut self, row: Row) -> bool {
        self.cut = self.result.rows.len() >= self.cap;
        if !self.cut {
            self.result.rows.push(row);
        }
        !self.cut
    }

    fn most(&self) -> Option<usize> {
        self.cap.checked_add(1)
    }
}

/// What an engine may do, and for how long.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Access {
    /// Statements that change data are let through.
    pub writes: bool,
    /// A statement that runs longer is ended; `None` for never.
    pub timeout: Option<Duration>,
}

impl Default for Access {
    /// Reading only, a minute a statement.
    fn default() -> Self {
        Access { writes: false, timeout: Some(Duration::from_secs(60)) }
    }
}

/// A database that runs statements of one dialect.
pub trait Engine {
    /// Its dialect, with the version it runs where it tells.
    fn dialect(&self) -> &Dialect;

    /// What it is, for people: `standin:oracle@23`, `sqlite 3.51`. No passwords.
    fn name(&self) -> String;

    /// Runs one statement, hands its rows to `sink` and gives what the engine warned of. A warning
    /// that spoils the result is for the caller to heed.
    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError>;

    /// Makes the tables in a scratch place of its own, in place of what was loaded before.
    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError>;

    /// Runs one statement and gives its rows, at most `row_cap` of them. A result that the engine
    /// says it has cut or converted is an error.
    fn query(&mut self, sql: &str, row_cap: usize) -> Result<ResultSet, EngineError> {
        let mut collected = Collected::new(row_cap);
        let warnings = self.run(sql, &mut collected)?;
        match warnings.into_iter().find(|w| w.spoils) {
            Some(warning) => Err(EngineError::Spoiled { warning }),
            None => Ok(collected.result),
        }
    }

    /// Runs one statement that changes tables loaded here, reads them by `reads`, and takes the change
    /// back.
    fn after_change(&mut self, _sql: &str, _reads: &[String]) -> Result<Vec<ResultSet>, EngineError> {
        Err(EngineError::unsupported(format!("changes of data are not tried on {}", self.name())))
    }

    /// Runs one statement as [`Engine::query`] does and tells also what was met on the way; `None`
    /// from an engine that doesn't tell.
    fn observe(&mut self, _sql: &str) -> Option<(Result<ResultSet, EngineError>, Observed)> {
        None
    }

    /// Stops the clock at a moment, in UTC, if the engine lets us: then it is the present for every
    /// statement.
    fn stop_clock(&mut self, _at: DateTime) -> bool {
        false
    }

    /// The session's settings that bear on results, by name: time zone, collation, mode.
    fn settings(&mut self) -> Vec<(&'static str, String)> {
        Vec::new()
    }

    /// Texts sort by their characters' codes, as the stand-ins' do where a dialect has no other way by
    /// default.
    fn sorts_by_code(&mut self) -> bool {
        true
    }

    /// Nobody else sees what is written here, so that writing needs no leave.
    fn is_private(&self) -> bool {
        false
    }

    /// Sets what free choices of order are drawn from, where the engine has a say.
    fn set_seed(&mut self, _seed: u64) {}

    /// Whether the seed has an effect: ties and unordered rows come in another order for each.
    fn is_seeded(&self) -> bool {
        false
    }
}

/// Opens the engine at an address, for reading.
pub fn open(address: &Address) -> Result<Box<dyn Engine>, EngineError> {
    open_with(address, Access::default())
}

/// Opens the engine at an address.
pub fn open_with(address: &Address, access: Access) -> Result<Box<dyn Engine>, EngineError> {
    Ok(match address {
        Address::StandIn(dialect) => Box::new(standin::StandInEngine::new(dialect.clone(), access.timeout)),
        Address::Sqlite(path) => Box::new(sqlite::SqliteEngine::open(path, access)?),
        Address::Postgres(server) => Box::new(postgres::PostgresEngine::open(server, access)?),
        Address::Mysql(server) => Box::new(mysql::MysqlEngine::open(server, access)?),
        Address::Adbc(driver) => Box::new(adbc::AdbcEngine::open(driver, access)?),
        Address::Bridge(bridge) => Box::new(bridge::BridgeEngine::open(bridge, access)?),
    })
}
