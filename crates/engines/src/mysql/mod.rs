//! MySQL and MariaDB.

mod value;

use std::sync::Arc;

use ::mysql::prelude::Queryable;
use ::mysql::{Conn, Error, Opts, OptsBuilder, SslOpts};
use jiff::civil::DateTime;
use meaning::Catalog;
use syntax::{Dialect, DialectName};
use values::{ResultSet, Row, Table};

use crate::address::Server;
use crate::error::{counts_as_result, word_at};
use crate::interrupt::{Watched, go_on, watch};
use crate::scratch::{Scratch, Session};
use crate::tls::Tls;
use crate::{Access, Collected, Engine, EngineError, Sink, Warning};
use value::Reader;

pub(crate) struct MysqlEngine {
    session: Connection,
    scratch: Scratch,
    access: Access,
}

/// The connection, and what is known of the server.
struct Connection {
    conn: Conn,
    opts: Opts,
    shown: String,
    dialect: Dialect,
    version: String,
}

/// Warnings after which a result isn't what was asked for: the server went on with less or with
/// something else. (MariaDB manual, Error Codes; MySQL manual, Server Error Message Reference.)
const SPOILING: [u16; 9] = [
    1260, // GROUP_CONCAT was cut at group_concat_max_len
    1264, // a number out of its type's range
    1265, // a value was truncated
    1292, // what is no number or date of its type was converted all the same
    1366, // the same, for a column
    1406, // a text too long for its column
    1411, // what is no date of a format was converted all the same
    1441, // a date ran out of its range
    1931, // MariaDB stopped the query: max_recursive_iterations, LIMIT ROWS EXAMINED
];

impl MysqlEngine {
    pub(crate) fn open(server: &Server, access: Access) -> Result<Self, EngineError> {
        let shown = server.shown();
        let unreachable = |message: String| EngineError::Unreachable { engine: shown.clone(), message };
        let opts = Opts::from_url(server.url.as_str()).map_err(|e| unreachable(e.to_string()))?;
        let ssl = match &server.tls {
            Tls::Off => None,
            Tls::On { ca } => Some(SslOpts::default().with_root_cert_path(ca.clone())),
        };
        let builder = OptsBuilder::from_opts(opts).ssl_opts(ssl).tcp_connect_timeout(Some(std::time::Duration::from_secs(10)));
        let opts = Opts::from(builder.prefer_socket(false));
        let mut conn = Conn::new(opts.clone()).map_err(|e| refused(&shown, &e))?;
        let version: String = conn
            .query_first("SELECT VERSION()")
            .map_err(|e| unreachable(explain(&e)))?
            .ok_or_else(|| unreachable("it tells no version".to_string()))?;
        let dialect = server.dialect.clone().unwrap_or_else(|| dialect_of(&version));
        let mut session = Connection { conn, opts, shown: shown.clone(), dialect, version };
        for sql in session.settings(access) {
            session.execute(&sql).map_err(|e| unreachable(e.to_string()))?;
        }
        Scratch::sweep(&mut session);
        let mut engine = MysqlEngine { session, scratch: Scratch::default(), access };
        engine.set_read_only(!access.writes).map_err(|e| unreachable(e.to_string()))?;
        Ok(engine)
    }

    fn set_read_only(&mut self, read_only: bool) -> Result<(), EngineError> {
        let word = if read_only { "ONLY" } else { "WRITE" };
        self.session.execute(&format!("SET SESSION TRANSACTION READ {word}"))
    }
}

impl Connection {
    /// What makes the session like the server's own client, and the server's own end to statements
    /// for the case that we are gone when the time is up.
    fn settings(&self, access: Access) -> Vec<String> {
        let mut settings = vec!["SET NAMES utf8mb4".to_string()];
        if let Some(timeout) = access.timeout {
            let seconds = timeout.as_secs() + 5;
            settings.push(match self.dialect.name {
                DialectName::Mariadb => format!("SET SESSION max_statement_time = {seconds}"),
                _ => format!("SET SESSION max_execution_time = {}", seconds * 1000),
            });
        }
        settings
    }

    /// Ends what runs here when the time is up: by a second connection, as the protocol wants it.
    fn watched(&self, access: Access) -> Watched {
        let (opts, id) = (self.opts.clone(), self.conn.connection_id());
        watch(access.timeout, Arc::new(move || kill_query(&opts, id)))
    }

    fn failed(&self, error: &Error, sql: &str) -> EngineError {
        let lost = || EngineError::Lost { engine: self.shown.clone(), message: explain(error) };
        let Error::MySqlError(server) = error else { return lost() };
        // Shutting down, killed: by an administrator.
        if matches!(server.code, 1053 | 1927) {
            return lost();
        }
        let mut message = server.message.clone();
        if server.code == 1792 {
            message.push_str("; --allow-writes lets it");
        }
        EngineError::Query {
            code: Some(server.code.to_string()),
            place: place(sql, &server.message),
            message,
            not_known: false,
            counts: counts_as_result(Some(&server.code.to_string()), ""),
        }
    }

    fn stream(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<u16, Error> {
        let (opts, id) = (self.opts.clone(), self.conn.connection_id());
        let mut result = self.conn.query_iter(sql)?;
        let columns = result.columns();
        let readers: Vec<Reader> = columns.as_ref().iter().map(Reader::of).collect();
        sink.columns(
            columns.as_ref().iter().map(|c| c.name_str().to_string()).collect(),
            columns.as_ref().iter().map(value::type_name).collect(),
        );
        for row in result.by_ref() {
            let cells = row?.unwrap_raw().into_iter().zip(&readers);
            if !sink.row(cells.map(|(cell, reader)| cell.map_or(values::Value::Null, |c| reader.value(c))).collect()) {
                // The driver reads all rows before anything else: rather have no more of them.
                kill_query(&opts, id);
                break;
            }
        }
        // The count of warnings comes behind the last row.
        drop(result);
        Ok(self.conn.warnings())
    }

    fn warnings(&mut self) -> Result<Vec<Warning>, Error> {
        let rows: Vec<(String, u16, String)> = self.conn.query("SHOW WARNINGS")?;
        let mut warnings: Vec<Warning> = Vec::new();
        for (level, code, message) in rows {
            if level == "Note" || warnings.iter().any(|w| w.message == message) {
                continue;
            }
            warnings.push(Warning { code: Some(code.to_string()), message, spoils: SPOILING.contains(&code) });
        }
        Ok(warnings)
    }
}

fn refused(engine: &str, error: &Error) -> EngineError {
    let engine = engine.to_string();
    let message = explain(error);
    match error {
        Error::MySqlError(server) if server.code == 1045 => EngineError::Password { engine, message },
        Error::MySqlError(server) if server.code == 1049 => {
            EngineError::Unreachable { engine, message: format!("{message}; name another database behind the host") }
        }
        Error::MySqlError(_) => EngineError::Unreachable { engine, message },
        Error::TlsError(_) => EngineError::Unreachable {
            engine,
            message: format!("{message}; give the server's authority with ?tls-ca=FILE, or connect without encryption with ?tls=off"),
        },
        Error::DriverError(::mysql::DriverError::TlsNotSupported) => {
            EngineError::Unreachable { engine, message: "the server has no TLS; ?tls=off connects without encryption".to_string() }
        }
        _ => EngineError::Unreachable { engine, message: format!("{message}; is the server up, and are host and port right?") },
    }
}

fn kill_query(opts: &Opts, id: u32) {
    let killed = Conn::new(opts.clone()).and_then(|mut c| c.query_drop(format!("KILL QUERY {id}")));
    if let Err(error) = killed {
        tracing::info!("the server could not be asked to end query {id}: {error}");
    }
}

/// `10.11.14-MariaDB-0+deb12u2` or `8.4.3`.
fn dialect_of(version: &str) -> Dialect {
    let name = if version.contains("MariaDB") { DialectName::Mariadb } else { DialectName::Mysql };
    let mut dialect = Dialect::newest(name);
    // Old clients read first that a MariaDB is a 5.5.5.
    dialect.set_server_version(version.strip_prefix("5.5.5-").unwrap_or(version));
    dialect
}

/// `... near 'TEXT' at line 1`: where the text is.
fn place(sql: &str, message: &str) -> Option<(usize, usize)> {
    let (_, near) = message.split_once("near '")?;
    let (text, _) = near.rsplit_once("' at line")?;
    let start = if text.is_empty() { return None } else { sql.find(text)? };
    Some(word_at(sql, start))
}

fn explain(error: &Error) -> String {
    match error {
        Error::MySqlError(server) => server.message.clone(),
        Error::IoError(io) => io.to_string(),
        Error::DriverError(driver) => driver.to_string(),
        other => other.to_string(),
    }
}

/// A prepared statement takes so many parameters.
const MOST_PARAMETERS: usize = 60_000;

impl Session for Connection {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn execute(&mut self, sql: &str) -> Result<(), EngineError> {
        self.conn.query_drop(sql).map_err(|e| self.failed(&e, sql))
    }

    fn column(&mut self, sql: &str) -> Result<Vec<String>, EngineError> {
        self.conn.query(sql).map_err(|e| self.failed(&e, sql))
    }

    /// As parameters of prepared statements: no character needs care that way.
    fn insert(&mut self, table: &Table, rows: &[Row]) -> Result<(), EngineError> {
        let name = Catalog::name_sql(&table.name, &self.dialect);
        let marks = format!("({})", vec!["?"; table.columns.len()].join(", "));
        let most = (MOST_PARAMETERS / table.columns.len().max(1)).clamp(1, 1000);
        for batch in rows.chunks(most) {
            go_on()?;
            let sql = format!("INSERT INTO {name} VALUES {}", vec![marks.as_str(); batch.len()].join(", "));
            let parameters: Vec<::mysql::Value> = batch.iter().flatten().map(value::parameter).collect();
            self.conn.exec_drop(&sql, parameters).map_err(|e| self.failed(&e, &sql))?;
        }
        Ok(())
    }
}

impl Engine for MysqlEngine {
    fn dialect(&self) -> &Dialect {
        &self.session.dialect
    }

    fn name(&self) -> String {
        let session = &self.session;
        let product = if session.version.contains("MariaDB") { "MariaDB" } else { "MySQL" };
        let version = session.version.split('-').find(|p| p.contains('.') && *p != "5.5.5").unwrap_or("");
        format!("{product} {version} at {}", session.shown)
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        go_on()?;
        let watched = self.session.watched(self.access);
        let count = self.session.stream(sql, sink).map_err(|e| watched.instead_of(self.session.failed(&e, sql)))?;
        watched.whole()?;
        if count == 0 {
            return Ok(Vec::new());
        }
        self.session.warnings().map_err(|e| self.session.failed(&e, "SHOW WARNINGS"))
    }

    fn stop_clock(&mut self, at: DateTime) -> bool {
        // Seconds since 1970: the session shows them in its own zone, which is set to UTC for that.
        let Ok(moment) = at.to_zoned(jiff::tz::TimeZone::UTC) else { return false };
        let stop = format!("SET time_zone = '+00:00', timestamp = {}", moment.timestamp().as_second());
        self.session.execute(&stop).is_ok()
    }

    fn settings(&mut self) -> Vec<(&'static str, String)> {
        const ASKED: [(&str, &str); 3] = [
            ("time zone", "SELECT IF(@@time_zone = 'SYSTEM', @@system_time_zone, @@time_zone)"),
            ("collation", "SELECT @@collation_server"),
            ("mode", "SELECT @@sql_mode"),
        ];
        let answer = |session: &mut Connection, sql| session.column(sql).ok().and_then(|mut c| c.pop()).unwrap_or_default();
        ASKED.map(|(name, sql)| (name, answer(&mut self.session, sql))).into()
    }

    fn after_change(&mut self, sql: &str, reads: &[String]) -> Result<Vec<ResultSet>, EngineError> {
        let watched = self.session.watched(self.access);
        self.session.execute("START TRANSACTION READ WRITE")?;
        let changed = self.session.execute(sql);
        let state = changed.and_then(|()| {
            let read = |sql: &String| {
                let mut rows = Collected::new(usize::MAX);
                self.session.stream(sql, &mut rows).map_err(|e| self.session.failed(&e, sql)).map(|_| rows.result)
            };
            reads.iter().map(read).collect::<Result<_, _>>()
        });
        self.session.execute("ROLLBACK")?;
        state.map_err(|e| watched.instead_of(e))
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        let watched = self.session.watched(self.access);
        self.set_read_only(false)?;
        self.session.execute("START TRANSACTION")?;
        let loaded = self.scratch.load(&mut self.session, tables).map_err(|e| watched.instead_of(e));
        let ended = self.session.execute("COMMIT").and_then(|()| self.set_read_only(!self.access.writes));
        loaded.and(ended)
    }
}

impl Drop for MysqlEngine {
    fn drop(&mut self) {
        let _ = self.set_read_only(false);
        self.scratch.leave(&mut self.session);
    }
}
