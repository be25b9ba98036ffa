//! Any driver library that speaks ADBC, loaded at run time. (ADBC 1.1.0, adbc.h.)

mod arrow;

use std::sync::Arc;

use adbc_core::options::{AdbcVersion, InfoCode, OptionDatabase, OptionValue};
use adbc_core::{Connection as _, Database as _, Driver as _, Statement as _};
use adbc_driver_manager::{ManagedConnection, ManagedDatabase, ManagedDriver};
use arrow_array::RecordBatchReader;
use syntax::{Dialect, DialectName};
use values::{Row, Table};

use crate::address::{Driver, without_secrets};
use crate::error::counts_as_result;
use crate::interrupt::{go_on, watch};
use crate::reading::only_reads;
use crate::scratch::{Scratch, Session};
use crate::{Access, Collected, Engine, EngineError, Sink, Warning};

pub(crate) struct AdbcEngine {
    session: Connection,
    scratch: Scratch,
    access: Access,
    /// The database is in memory: nobody else sees it.
    is_private: bool,
}

/// The connection, and what is known of the engine behind it.
struct Connection {
    database: ManagedDatabase,
    inner: ManagedConnection,
    shown: String,
    dialect: Dialect,
    version: String,
    access: Access,
}

impl AdbcEngine {
    pub(crate) fn open(driver: &Driver, access: Access) -> Result<Self, EngineError> {
        let library = driver.library.display().to_string();
        let shown = shown(driver);
        let unreachable = |message: String| EngineError::Unreachable { engine: shown.clone(), message };
        if driver.library.is_absolute() && !driver.library.exists() {
            return Err(unreachable(format!(
                "there is no file {library}; the address names the driver's shared library (.so, .dylib, .dll)"
            )));
        }
        let entrypoint = driver.entrypoint.as_deref().map(str::as_bytes);
        let load = |version| ManagedDriver::load_dynamic_from_filename(&driver.library, entrypoint, version);
        // Older drivers know revision 1.0.0 only, which can't cancel.
        let mut manager = load(AdbcVersion::V110).or_else(|_| load(AdbcVersion::V100)).map_err(|e| {
            let advice = "is it a driver of ADBC, for this machine? The name of its entry point is given by ?entrypoint=NAME";
            let name = driver.entrypoint.as_deref().unwrap_or("AdbcDriverInit");
            let message = explain(&e);
            let what = if message.contains("symbol") { format!("the library has no entry point {name}") } else { message };
            unreachable(format!("{what}; {advice}"))
        })?;
        let options = driver.options.iter().map(|(name, value)| (option(name), OptionValue::String(value.clone())));
        let database = manager.new_database_with_opts(options).map_err(|e| unreachable(explain(&e)))?;
        let inner = database.new_connection().map_err(|e| unreachable(explain(&e)))?;
        let vendor = vendor(&inner).unwrap_or_default();
        let dialect = match &driver.dialect {
            Some(dialect) => dialect.clone(),
            None => dialect_of(&vendor).ok_or_else(|| {
                unreachable(format!("the driver says it is '{vendor}', which tells no dialect; add ?dialect=NAME to the address"))
            })?,
        };
        let mut session = Connection { database, inner, shown: shown.clone(), dialect, version: String::new(), access };
        // Some drivers connect with the first query only.
        session.ask_version().map_err(|e| match e {
            EngineError::Lost { message, .. } => unreachable(format!("{message}; is the server up, and is its address right?")),
            other => other,
        })?;
        Scratch::sweep(&mut session);
        let in_memory = |(name, value): &(String, String)| name == "path" && value == ":memory:";
        let is_private = session.dialect.name == DialectName::Duckdb && driver.options.iter().any(in_memory);
        Ok(AdbcEngine { session, scratch: Scratch::default(), access, is_private })
    }
}

impl AdbcEngine {
    /// Spark goes on with a cancelled query until its session ends (seen on Spark 4.0): another session
    /// takes its place. The rows that were loaded are gone with it.
    fn start_anew(&mut self) {
        if let Ok(inner) = self.session.database.new_connection() {
            self.session.inner = inner;
            self.scratch = Scratch::default();
        }
    }
}

/// The library's name and where it connects to, without secrets.
fn shown(driver: &Driver) -> String {
    let file = driver.library.file_name().map_or_else(|| driver.library.display().to_string(), |f| f.to_string_lossy().into_owned());
    match driver.options.iter().find(|(name, _)| name == "uri") {
        Some((_, uri)) => format!("{} through {file}", without_secrets(uri)),
        None => file,
    }
}

fn option(name: &str) -> OptionDatabase {
    match name {
        "uri" => OptionDatabase::Uri,
        "username" => OptionDatabase::Username,
        "password" => OptionDatabase::Password,
        other => OptionDatabase::Other(other.to_string()),
    }
}

fn explain(error: &adbc_core::error::Error) -> String {
    error.message.trim().to_string()
}

/// What the driver says it is for.
fn vendor(connection: &ManagedConnection) -> Option<String> {
    let reader = connection.get_info(Some([InfoCode::VendorName].into())).ok()?;
    let batch = reader.flatten().next()?;
    arrow::value(batch.column(1), 0).map(|v| v.to_string())
}

fn dialect_of(vendor: &str) -> Option<Dialect> {
    let vendor = vendor.to_lowercase();
    let known = [
        ("duckdb", DialectName::Duckdb),
        ("spark", DialectName::Spark),
        ("databricks", DialectName::Spark),
        ("bigquery", DialectName::Bigquery),
        ("postgres", DialectName::Postgres),
        ("sqlite", DialectName::Sqlite),
        ("mariadb", DialectName::Mariadb),
        ("mysql", DialectName::Mysql),
        ("oracle", DialectName::Oracle),
        ("sql server", DialectName::SqlServer),
    ];
    known.into_iter().find(|(word, _)| vendor.contains(word)).map(|(_, name)| name.into())
}

impl Connection {
    /// The version, where a query tells it: `v1.5.6`, `4.0.1 a1b2c3`.
    fn ask_version(&mut self) -> Result<(), EngineError> {
        if !matches!(self.dialect.name, DialectName::Duckdb | DialectName::Spark) {
            return Ok(());
        }
        let said = self.column("SELECT version()")?.pop().unwrap_or_default();
        self.version = said.split(' ').next().unwrap_or("").trim_start_matches('v').to_string();
        self.dialect.set_server_version(&self.version);
        Ok(())
    }

    fn failed(&self, error: &adbc_core::error::Error) -> EngineError {
        let message = explain(error);
        let gone = ["connection refused", "Unavailable", "error reading from server", "transport is closing", "EOF"];
        if gone.iter().any(|g| message.contains(g)) {
            return EngineError::Lost { engine: self.shown.clone(), message };
        }
        let code = code(error, &message);
        EngineError::Query { counts: counts_as_result(code.as_deref(), &message), code, message, place: None, not_known: false }
    }

    fn stream(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<(), EngineError> {
        let mut statement = self.inner.new_statement().map_err(|e| self.failed(&e))?;
        statement.set_sql_query(sql).map_err(|e| self.failed(&e))?;
        let handle = statement.get_cancel_handle();
        let cancel = move || {
            if let Err(error) = handle.try_cancel() {
                tracing::info!("the driver could not be asked to cancel: {}", error.message);
            }
        };
        let watched = watch(self.access.timeout, Arc::new(cancel));
        let reader = statement.execute().map_err(|e| watched.instead_of(self.failed(&e)))?;
        let schema = reader.schema();
        sink.columns(
            schema.fields().iter().map(|f| f.name().clone()).collect(),
            schema.fields().iter().map(|f| arrow::type_name(f)).collect(),
        );
        for batch in reader {
            let batch = batch.map_err(|e| watched.instead_of(self.failed(&adbc_core::error::Error::from(e))))?;
            for row in 0..batch.num_rows() {
                let mut cells = Row::with_capacity(batch.num_columns());
                for (column, field) in batch.columns().iter().zip(schema.fields()) {
                    let value = arrow::value(column, row).ok_or_else(|| {
                        EngineError::query(
                            None,
                            format!("column {}: a value of type {} can't be read; cast it to text", field.name(), field.data_type()),
                        )
                    })?;
                    cells.push(value);
                }
                if !sink.row(cells) {
                    return Ok(());
                }
            }
        }
        watched.whole()
    }
}

/// The SQLSTATE, or the word that represents an error in the message: `[DIVIDE_BY_ZERO] ..`.
fn code(error: &adbc_core::error::Error, message: &str) -> Option<String> {
    let class = message.find('[').and_then(|at| message[at + 1..].split_once(']')).map(|(class, _)| class);
    let is_class = |c: &str| !c.is_empty() && c.chars().all(|x| x.is_ascii_uppercase() || matches!(x, '_' | '.') || x.is_ascii_digit());
    if let Some(class) = class.filter(|c| is_class(c)) {
        return Some(class.to_string());
    }
    let state: String = error.sqlstate.iter().map(|c| *c as u8 as char).collect();
    (state.chars().all(|c| c.is_ascii_alphanumeric()) && state != "00000").then_some(state)
}

impl Session for Connection {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn execute(&mut self, sql: &str) -> Result<(), EngineError> {
        let mut statement = self.inner.new_statement().map_err(|e| self.failed(&e))?;
        statement.set_sql_query(sql).map_err(|e| self.failed(&e))?;
        // Some drivers take changes by no other way than queries, and do them as the rows are read.
        let reader = statement.execute().map_err(|e| self.failed(&e))?;
        for batch in reader {
            batch.map_err(|e| self.failed(&adbc_core::error::Error::from(e)))?;
        }
        Ok(())
    }

    fn column(&mut self, sql: &str) -> Result<Vec<String>, EngineError> {
        let mut collected = Collected::new(usize::MAX);
        self.stream(sql, &mut collected)?;
        Ok(collected.first_column())
    }
}

impl Engine for AdbcEngine {
    fn dialect(&self) -> &Dialect {
        &self.session.dialect
    }

    fn name(&self) -> String {
        let product = match self.session.dialect.name {
            DialectName::Duckdb => "DuckDB",
            DialectName::Spark => "Spark",
            other => other.as_str(),
        };
        format!("{product} {} at {}", self.session.version, self.session.shown).replace("  ", " ")
    }

    fn is_private(&self) -> bool {
        self.is_private
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        go_on()?;
        if !self.access.writes && !self.is_private {
            only_reads(sql, &self.session.dialect)?;
        }
        let ran = self.session.stream(sql, sink);
        if matches!(ran, Err(EngineError::TimedOut { .. })) && self.session.dialect.name == DialectName::Spark {
            self.start_anew();
        }
        ran.map(|()| Vec::new())
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        self.scratch.load(&mut self.session, tables)
    }
}

impl Drop for AdbcEngine {
    fn drop(&mut self) {
        self.scratch.leave(&mut self.session);
    }
}
