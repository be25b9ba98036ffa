//! PostgreSQL.

mod binary;
mod copy;
mod text;

use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use ::postgres::error::{ErrorPosition, Severity};
use ::postgres::types::Type;
use ::postgres::{CancelToken, Client, Config, NoTls, SimpleQueryMessage, Statement, Transaction};
use fallible_iterator::FallibleIterator;
use meaning::Catalog;
use syntax::{Dialect, DialectName};
use tokio_postgres_rustls::MakeRustlsConnect;
use values::{ResultSet, Row, Table, Value};

use crate::address::Server;
use crate::error::{counts_as_result, word_at};
use crate::interrupt::{Watched, go_on, watch};
use crate::scratch::{Scratch, Session};
use crate::tls::{Tls, client_config};
use crate::{Access, Collected, Engine, EngineError, Sink, Warning};

const CONNECT_TIMEOUT: Duration = Duration::from_secs(10);

pub(crate) struct PostgresEngine {
    session: Connection,
    scratch: Scratch,
    access: Access,
    /// What the server said aside, since the last statement.
    said: Arc<Mutex<Vec<Warning>>>,
}

/// The connection, and what is known of the server.
struct Connection {
    client: Client,
    shown: String,
    tls: Tls,
    dialect: Dialect,
    version: String,
}

impl PostgresEngine {
    pub(crate) fn open(server: &Server, access: Access) -> Result<Self, EngineError> {
        let shown = server.shown();
        let unreachable = |message: String| EngineError::Unreachable { engine: shown.clone(), message };
        let said = Arc::new(Mutex::new(Vec::new()));
        let mut config: Config = server.url.as_str().parse().map_err(|e: ::postgres::Error| unreachable(explain(&e)))?;
        let reported = Arc::clone(&said);
        config.connect_timeout(CONNECT_TIMEOUT).application_name("inland-ferry").notice_callback(move |notice| {
            let is_warning = notice.parsed_severity() == Some(Severity::Warning);
            if is_warning {
                let warning =
                    Warning { code: Some(notice.code().code().to_string()), message: notice.message().to_string(), spoils: false };
                reported.lock().unwrap_or_else(PoisonError::into_inner).push(warning);
            }
        });
        let mut client = connect(config, &server.tls).map_err(|e| refused(&shown, e))?;
        let version: String =
            client.query_one("SHOW server_version", &[]).and_then(|r| r.try_get(0)).map_err(|e| unreachable(explain(&e)))?;
        let dialect = server.dialect.clone().unwrap_or_else(|| dialect_of(&version));
        // The server's own end to statements is for the case that we are gone when the time is up.
        let backstop = access.timeout.map_or(0, |t| (t + Duration::from_secs(5)).as_millis());
        let settings = format!(
            "SET statement_timeout = {backstop}; SET datestyle = 'ISO'; \
             SET intervalstyle = 'postgres'; SET extra_float_digits = 3; SET bytea_output = 'hex'; SET client_min_messages = warning"
        );
        client.batch_execute(&settings).map_err(|e| unreachable(explain(&e)))?;
        let mut session = Connection { client, shown: shown.clone(), tls: server.tls.clone(), dialect, version };
        Scratch::sweep(&mut session);
        let mut engine = PostgresEngine { session, scratch: Scratch::default(), access, said };
        engine.set_read_only(!access.writes).map_err(|e| unreachable(e.to_string()))?;
        Ok(engine)
    }

    fn set_read_only(&mut self, read_only: bool) -> Result<(), EngineError> {
        let word = if read_only { "on" } else { "off" };
        self.session.execute(&format!("SET default_transaction_read_only = {word}"))
    }

    /// What the server has said since this was asked last.
    fn take_said(&self) -> Vec<Warning> {
        std::mem::take(&mut *self.said.lock().unwrap_or_else(PoisonError::into_inner))
    }
}

impl Connection {
    /// Ends what runs here when the time is up.
    fn watched(&self, access: Access) -> Watched {
        let (token, tls) = (self.client.cancel_token(), self.tls.clone());
        watch(access.timeout, Arc::new(move || cancel(&token, &tls)))
    }

    fn failed(&self, error: &::postgres::Error, sql: &str) -> EngineError {
        let Some(db) = error.as_db_error() else {
            let message = explain(error);
            // A value that can't be read is no loss of the server.
            let is_gone = error.is_closed()
                || self.client.is_closed()
                || std::error::Error::source(error).is_some_and(<dyn std::error::Error>::is::<std::io::Error>);
            return if is_gone { EngineError::Lost { engine: self.shown.clone(), message } } else { EngineError::query(None, message) };
        };
        let code = db.code().code().to_string();
        let mut message = explain(error);
        if code == "25006" {
            message.push_str("; --allow-writes lets it");
        }
        // The server is going down: its administrator or a crash.
        if code.starts_with("57P") {
            return EngineError::Lost { engine: self.shown.clone(), message: explain(error) };
        }
        let place = match db.position() {
            Some(ErrorPosition::Original(at)) => place(sql, *at as usize),
            _ => None,
        };
        let counts = counts_as_result(Some(&code), "");
        EngineError::Query { counts, code: Some(code), message, place, not_known: false }
    }

    fn stream(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<(), ::postgres::Error> {
        let mut transaction = self.client.transaction()?;
        rows_in(&mut transaction, sql, sink)?;
        transaction.commit()
    }

    /// The rows of `reads` after a change, which is taken back.
    fn after_change(&mut self, sql: &str, reads: &[String]) -> Result<Vec<ResultSet>, ::postgres::Error> {
        let mut transaction = self.client.transaction()?;
        transaction.batch_execute("SET TRANSACTION READ WRITE")?;
        transaction.batch_execute(sql)?;
        let mut state = Vec::new();
        for read in reads {
            let mut rows = Collected::new(usize::MAX);
            rows_in(&mut transaction, read, &mut rows)?;
            state.push(rows.result);
        }
        transaction.rollback()?;
        Ok(state)
    }
}

/// The rows of one statement, within a transaction.
fn rows_in(transaction: &mut Transaction<'_>, sql: &str, sink: &mut dyn Sink) -> Result<(), ::postgres::Error> {
    let statement = transaction.prepare(sql)?;
    let types: Vec<Type> = statement.columns().iter().map(|c| c.type_().clone()).collect();
    if !types.iter().all(binary::is_read) {
        return text_rows(transaction, &statement, sql, sink);
    }
    tell_columns(&statement, sink);
    let most = sink.most().and_then(|n| i32::try_from(n).ok());
    let mut rows = match most {
        // A portal gives as many rows as are wanted, and the server makes no more of them.
        Some(most) => {
            let portal = transaction.bind(&statement, &[])?;
            transaction.query_portal_raw(&portal, most)?
        }
        None => transaction.query_raw(&statement, std::iter::empty::<&str>())?,
    };
    while let Some(row) = rows.next()? {
        if !sink.row(binary::values(&row, &types)?) {
            break;
        }
    }
    Ok(())
}

fn connect(mut config: Config, tls: &Tls) -> Result<Client, ConnectError> {
    match tls {
        Tls::Off => config.ssl_mode(::postgres::config::SslMode::Disable).connect(NoTls).map_err(ConnectError::Server),
        Tls::On { ca } => {
            let client = client_config(ca.as_ref()).map_err(ConnectError::Tls)?;
            config.ssl_mode(::postgres::config::SslMode::Require).connect(MakeRustlsConnect::new(client)).map_err(ConnectError::Server)
        }
    }
}

enum ConnectError {
    Server(::postgres::Error),
    Tls(String),
}

fn refused(engine: &str, error: ConnectError) -> EngineError {
    let engine = engine.to_string();
    let error = match error {
        ConnectError::Server(error) => error,
        ConnectError::Tls(message) => return EngineError::Unreachable { engine, message },
    };
    let message = explain(&error);
    let code = error.code().map(|c| c.code().to_string());
    let advice = match code.as_deref() {
        Some("28P01" | "28000") => return EngineError::Password { engine, message },
        Some("3D000") => "name another database behind the host",
        Some(_) => return EngineError::Unreachable { engine, message },
        None if message.contains("password missing") => return EngineError::Password { engine, message },
        None if message.contains("TLS") || message.contains("certificate") => {
            "give the server's authority with ?tls-ca=FILE, or connect without encryption with ?tls=off"
        }
        None => "is the server up, and are host and port right?",
    };
    EngineError::Unreachable { engine, message: format!("{message}; {advice}") }
}

fn cancel(token: &CancelToken, tls: &Tls) {
    let sent = match tls {
        Tls::Off => token.cancel_query(NoTls),
        Tls::On { ca } => match client_config(ca.as_ref()) {
            Ok(client) => token.cancel_query(MakeRustlsConnect::new(client)),
            Err(_) => return,
        },
    };
    if let Err(error) = sent {
        tracing::info!("PostgreSQL could not be asked to cancel: {error}");
    }
}

fn dialect_of(version: &str) -> Dialect {
    let mut dialect = Dialect::newest(DialectName::Postgres);
    // Since PostgreSQL 10 the second number changes nothing in its SQL.
    dialect.set_server_version(version.split('.').next().unwrap_or(version));
    dialect
}

/// A place in characters, from 1, as bytes; the word that is there.
fn place(sql: &str, at: usize) -> Option<(usize, usize)> {
    let start = sql.char_indices().nth(at.checked_sub(1)?)?.0;
    Some(word_at(sql, start))
}

fn explain(error: &::postgres::Error) -> String {
    if let Some(db) = error.as_db_error() {
        let mut message = db.message().to_string();
        for more in [db.detail(), db.hint()].into_iter().flatten() {
            message.push_str(&format!(" ({more})"));
        }
        return message;
    }
    let source = std::error::Error::source(error).map(|s| format!(": {s}")).unwrap_or_default();
    format!("{error}{source}")
}

/// `_text` is PostgreSQL's own name of `text[]`.
fn shown_type(name: &str) -> String {
    name.strip_prefix('_').map_or_else(|| name.to_string(), |element| format!("{element}[]"))
}

fn tell_columns(statement: &Statement, sink: &mut dyn Sink) {
    let columns = statement.columns();
    sink.columns(columns.iter().map(|c| c.name().to_string()).collect(), columns.iter().map(|c| shown_type(c.type_().name())).collect());
}

/// Types that we read in no binary form come as text, and then the whole result is held.
fn text_rows(transaction: &mut Transaction<'_>, statement: &Statement, sql: &str, sink: &mut dyn Sink) -> Result<(), ::postgres::Error> {
    let types: Vec<String> = statement.columns().iter().map(|c| c.type_().name().to_string()).collect();
    tell_columns(statement, sink);
    for message in transaction.simple_query(sql)? {
        if let SimpleQueryMessage::Row(row) = message {
            let values = types.iter().enumerate().map(|(i, t)| row.get(i).map_or(Value::Null, |text| text::value(text, t)));
            if !sink.row(values.collect()) {
                break;
            }
        }
    }
    Ok(())
}

impl Session for Connection {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn execute(&mut self, sql: &str) -> Result<(), EngineError> {
        self.client.batch_execute(sql).map_err(|e| self.failed(&e, sql))
    }

    fn column(&mut self, sql: &str) -> Result<Vec<String>, EngineError> {
        let rows = self.client.query(sql, &[]).map_err(|e| self.failed(&e, sql))?;
        Ok(rows.iter().map(|r| r.get(0)).collect())
    }

    fn insert(&mut self, table: &Table, rows: &[Row]) -> Result<(), EngineError> {
        let name = Catalog::name_sql(&table.name, &self.dialect);
        copy::rows(&mut self.client, &name, rows).map_err(|e| self.failed(&e, ""))
    }
}

impl Engine for PostgresEngine {
    fn dialect(&self) -> &Dialect {
        &self.session.dialect
    }

    fn name(&self) -> String {
        format!("PostgreSQL {} at {}", self.session.version.split(' ').next().unwrap_or(""), self.session.shown)
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        go_on()?;
        let watched = self.session.watched(self.access);
        self.take_said();
        self.session.stream(sql, sink).map_err(|e| watched.instead_of(self.session.failed(&e, sql)))?;
        watched.whole()?;
        Ok(self.take_said())
    }

    fn settings(&mut self) -> Vec<(&'static str, String)> {
        let of = |session: &mut Connection, sql: &str| session.column(sql).ok().and_then(|mut c| c.pop()).unwrap_or_default();
        let collation = of(&mut self.session, "SELECT datcollate::text FROM pg_database WHERE datname = current_database()");
        vec![("time zone", of(&mut self.session, "SELECT current_setting('TimeZone')")), ("collation", collation)]
    }

    fn sorts_by_code(&mut self) -> bool {
        let collation = self.settings().pop().map(|(_, value)| value).unwrap_or_default();
        collation.starts_with("C.") || matches!(collation.as_str(), "C" | "POSIX" | "")
    }

    fn after_change(&mut self, sql: &str, reads: &[String]) -> Result<Vec<ResultSet>, EngineError> {
        let watched = self.session.watched(self.access);
        self.session.after_change(sql, reads).map_err(|e| watched.instead_of(self.session.failed(&e, sql)))
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        let watched = self.session.watched(self.access);
        self.set_read_only(false)?;
        self.session.execute("BEGIN")?;
        let before = self.scratch.clone();
        let loaded = self.scratch.load(&mut self.session, tables).map_err(|e| watched.instead_of(e));
        let end = if loaded.is_ok() { "COMMIT" } else { "ROLLBACK" };
        // What a transaction that failed did is undone.
        if loaded.is_err() {
            self.scratch = before;
        }
        let ended = self.session.execute(end).and_then(|()| self.set_read_only(!self.access.writes));
        loaded.and(ended)
    }
}

impl Drop for PostgresEngine {
    fn drop(&mut self) {
        if self.set_read_only(false).is_ok() {
            self.scratch.leave(&mut self.session);
        }
    }
}
