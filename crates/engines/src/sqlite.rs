//! SQLite, built in.

use meaning::Catalog;
use rusqlite::types::{ToSqlOutput, Value as SqlValue, ValueRef};
use rusqlite::{Connection, ToSql};
use syntax::{Dialect, DialectName, Version};
use values::{DataType, ResultSet, Row, Table, Value};

use crate::{Engine, EngineError};

pub(crate) struct SqliteEngine {
    connection: Connection,
    dialect: Dialect,
    loaded: Vec<Table>,
}

fn failed(error: &rusqlite::Error) -> EngineError {
    EngineError::Query { code: None, message: error.to_string(), place: None, not_known: false, counts: false }
}

impl SqliteEngine {
    pub(crate) fn open(path: &str) -> Result<Self, EngineError> {
        let unreachable = |e: rusqlite::Error| EngineError::Unreachable { engine: format!("sqlite:{path}"), message: e.to_string() };
        let connection = if path == ":memory:" {
            Connection::open_in_memory()
        } else {
            Connection::open_with_flags(path, rusqlite::OpenFlags::SQLITE_OPEN_READ_WRITE)
        }
        .map_err(unreachable)?;
        // A misspelt name in double quotes must be an error, not a text.
        for config in [rusqlite::config::DbConfig::SQLITE_DBCONFIG_DQS_DML, rusqlite::config::DbConfig::SQLITE_DBCONFIG_DQS_DDL] {
            connection.set_db_config(config, false).map_err(unreachable)?;
        }
        // Engines that promise no order must not be trusted to keep one.
        let _ = connection.execute_batch("PRAGMA reverse_unordered_selects = ON");
        let mut dialect = Dialect::newest(DialectName::Sqlite);
        let mut parts = rusqlite::version().split('.').filter_map(|p| p.parse::<u16>().ok());
        if let (Some(major), Some(minor)) = (parts.next(), parts.next()) {
            dialect.version = Version { major, minor };
        }
        Ok(SqliteEngine { connection, dialect, loaded: Vec::new() })
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

    fn query(&mut self, sql: &str, row_cap: usize) -> Result<ResultSet, EngineError> {
        let mut statement = self.connection.prepare(sql).map_err(|e| failed(&e))?;
        let columns: Vec<String> = statement.column_names().map(ToString::to_string).collect();
        let types: Vec<String> = statement.columns().map(|c| c.decl_type().unwrap_or("").to_string()).collect();
        let width = columns.len();
        let mut rows = Vec::new();
        let mut cursor = statement.query([]).map_err(|e| failed(&e))?;
        while let Some(row) = cursor.next().map_err(|e| failed(&e))? {
            if rows.len() >= row_cap {
                break;
            }
            let values: Result<Row, rusqlite::Error> = (0..width).map(|i| row.get_ref(i).map(value_of)).collect();
            rows.push(values.map_err(|e| failed(&e))?);
        }
        Ok(ResultSet { columns, types, rows })
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        let definitions: Vec<Table> = tables.iter().map(|(t, _)| t.clone()).collect();
        let transaction = self.connection.transaction().map_err(|e| failed(&e))?;
        // The same tables again: only the rows change.
        let same = self.loaded == definitions;
        for table in self.loaded.iter().rev() {
            let name = Catalog::name_sql(&table.name, &self.dialect);
            let sql = if same { format!("DELETE FROM {name}") } else { format!("DROP TABLE IF EXISTS {name}") };
            transaction.execute_batch(&sql).map_err(|e| failed(&e))?;
        }
        for (table, rows) in tables {
            let loading = |e: rusqlite::Error| EngineError::Load { table: table.name.clone(), message: e.to_string() };
            if !same {
                transaction.execute_batch(&Catalog::create_sql(&plain(table), &self.dialect)).map_err(loading)?;
            }
            let marks = vec!["?"; table.columns.len()].join(", ");
            let sql = format!("INSERT INTO {} VALUES ({marks})", Catalog::name_sql(&table.name, &self.dialect));
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
