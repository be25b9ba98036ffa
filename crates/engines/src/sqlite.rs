//! SQLite, built in.

use std::sync::Arc;

use meaning::Catalog;
use rusqlite::types::{ToSqlOutput, Value as SqlValue, ValueRef};
use rusqlite::{Connection, OpenFlags, ToSql};
use syntax::{Dialect, DialectName, Version};
use values::{DataType, ResultSet, Row, Table, Value};

use crate::interrupt::{go_on, watch};
use crate::{Access, Engine, EngineError, Sink, Warning};

const IN_MEMORY: &str = ":memory:";

pub(crate) struct SqliteEngine {
    connection: Connection,
    path: String,
    access: Access,
    dialect: Dialect,
    loaded: Vec<Table>,
}

fn failed(error: &rusqlite::Error) -> EngineError {
    EngineError::query(None, error.to_string())
}

impl SqliteEngine {
    pub(crate) fn open(path: &str, access: Access) -> Result<Self, EngineError> {
        let unreachable = |e: rusqlite::Error| {
            let advice = if std::path::Path::new(path).exists() { "" } else { "; there is no such file" };
            EngineError::Unreachable { engine: format!("sqlite:{path}"), message: format!("{e}{advice}") }
        };
        let flags = if access.writes { OpenFlags::SQLITE_OPEN_READ_WRITE } else { OpenFlags::SQLITE_OPEN_READ_ONLY };
        let connection =
            if path == IN_MEMORY { Connection::open_in_memory() } else { Connection::open_with_flags(path, flags) }.map_err(unreachable)?;
        // A misspelt name in double quotes must be an error, not a text.
        for config in [rusqlite::config::DbConfig::SQLITE_DBCONFIG_DQS_DML, rusqlite::config::DbConfig::SQLITE_DBCONFIG_DQS_DDL] {
            connection.set_db_config(config, false).map_err(unreachable)?;
        }
        // A file that is no database shows itself only when it is read.
        connection.query_row("SELECT count(*) FROM sqlite_master", [], |_| Ok(())).map_err(unreachable)?;
        // Engines that promise no order must not be trusted to keep one.
        let _ = connection.execute_batch("PRAGMA reverse_unordered_selects = ON");
        let mut dialect = Dialect::newest(DialectName::Sqlite);
        let mut parts = rusqlite::version().split('.').filter_map(|p| p.parse::<u16>().ok());
        if let (Some(major), Some(minor)) = (parts.next(), parts.next()) {
            dialect.version = Version { major, minor };
        }
        Ok(SqliteEngine { connection, path: path.to_string(), access, dialect, loaded: Vec::new() })
    }

    fn stream(&self, sql: &str, sink: &mut dyn Sink) -> Result<(), rusqlite::Error> {
        let mut statement = self.connection.prepare(sql)?;
        let width = statement.column_count();
        sink.columns(
            statement.column_names().map(ToString::to_string).collect(),
            statement.columns().map(|c| c.decl_type().unwrap_or("").to_string()).collect(),
        );
        let mut cursor = statement.query([])?;
        while let Some(row) = cursor.next()? {
            let values: Result<Row, rusqlite::Error> = (0..width).map(|i| row.get_ref(i).map(value_of)).collect();
            if !sink.row(values?) {
                break;
            }
        }
        Ok(())
    }
}

struct Bound<'a>(&'a Value);

impl ToSql for Bound<'_> {
    fn to_sql(&self) -> rusqlite::Result<ToSqlOutput<'_>> {
        Ok(ToSqlOutput::Owned(match self.0 {
            Value::Null => SqlValue::Null,
            Value::Boolean(b) => SqlValue::Integer(i64::from(*b)),
            Value::Integer(i) => SqlValue::Integer(*i),
            Value::Float(f) => SqlValue::Real(*f),
            Value::Binary(bytes) => SqlValue::Blob(bytes.to_vec()),
            // Dates and decimals as text; a NUMERIC column makes numbers of the latter.
            other => SqlValue::Text(other.to_string()),
        }))
    }
}

impl Engine for SqliteEngine {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn name(&self) -> String {
        format!("sqlite {}", rusqlite::version())
    }

    fn is_private(&self) -> bool {
        self.path == IN_MEMORY
    }

    fn run(&mut self, sql: &str, sink: &mut dyn Sink) -> Result<Vec<Warning>, EngineError> {
        go_on()?;
        let handle = self.connection.get_interrupt_handle();
        let watched = watch(self.access.timeout, Arc::new(move || handle.interrupt()));
        self.stream(sql, sink).map_err(|e| watched.instead_of(failed(&e)))?;
        watched.whole()?;
        Ok(Vec::new())
    }

    fn after_change(&mut self, sql: &str, reads: &[String]) -> Result<Vec<ResultSet>, EngineError> {
        self.connection.execute_batch("SAVEPOINT before_change").map_err(|e| failed(&e))?;
        let changed = self.connection.execute_batch(sql).map_err(|e| failed(&e));
        let state = changed.and_then(|()| reads.iter().map(|read| self.query(read, usize::MAX)).collect());
        self.connection.execute_batch("ROLLBACK TO before_change; RELEASE before_change").map_err(|e| failed(&e))?;
        state
    }

    /// Into temporary tables, which come before those of the file and end with the connection.
    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        let definitions: Vec<Table> = tables.iter().map(|(t, _)| t.clone()).collect();
        let temporary = |name: &str| format!("temp.{}", Catalog::name_sql(name, &self.dialect));
        let transaction = self.connection.unchecked_transaction().map_err(|e| failed(&e))?;
        // The same tables again: only the rows change.
        let same = self.loaded == definitions;
        for table in self.loaded.iter().rev() {
            let name = temporary(&table.name);
            let sql = if same { format!("DELETE FROM {name}") } else { format!("DROP TABLE IF EXISTS {name}") };
            transaction.execute_batch(&sql).map_err(|e| failed(&e))?;
        }
        for (table, rows) in tables {
            go_on()?;
            let loading = |e: rusqlite::Error| EngineError::Load { table: table.name.clone(), message: e.to_string() };
            if !same {
                let create = Catalog::create_sql(&plain(table), &self.dialect).replacen("CREATE TABLE", "CREATE TEMP TABLE", 1);
                transaction.execute_batch(&create).map_err(loading)?;
            }
            let marks = vec!["?"; table.columns.len()].join(", ");
            let sql = format!("INSERT INTO {} VALUES ({marks})", temporary(&table.name));
            let mut statement = transaction.prepare_cached(&sql).map_err(loading)?;
            for row in rows {
                statement.execute(rusqlite::params_from_iter(row.iter().map(Bound))).map_err(loading)?;
            }
        }
        transaction.commit().map_err(|e| failed(&e))?;
        self.loaded = definitions;
        Ok(())
    }
}

/// Foreign keys and keys don't matter for reading; types of unknown columns keep any value.
fn plain(table: &Table) -> Table {
    let mut table = table.clone();
    for column in &mut table.columns {
        // A whole number stays one: REAL affinity only for floats.
        if column.data_type == DataType::Unknown {
            column.data_type = DataType::TEXT;
        }
    }
    table
}

fn value_of(value: ValueRef<'_>) -> Value {
    match value {
        ValueRef::Null => Value::Null,
        ValueRef::Integer(i) => Value::Integer(i),
        ValueRef::Real(f) => Value::Float(f),
        ValueRef::Text(t) => Value::text(String::from_utf8_lossy(t).as_ref()),
        ValueRef::Blob(b) => Value::Binary(Box::new(b.to_vec())),
    }
}
