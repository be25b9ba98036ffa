//! A scratch schema on a server, for the rows that are loaded: how each dialect makes, enters and
//! drops one, and how it tells which ones were left behind by runs that are gone.

use meaning::{Catalog, column_type_sql};
use syntax::{Dialect, DialectName};
use values::{Row, Table};

use crate::EngineError;
use crate::interrupt::go_on;
use crate::literal::literal_sql;

/// A session that runs statements of its dialect.
pub(crate) trait Session {
    fn dialect(&self) -> &Dialect;

    /// Runs a statement that gives no rows, or none of interest.
    fn execute(&mut self, sql: &str) -> Result<(), EngineError>;

    /// The values in the first column of a query, as text.
    fn column(&mut self, sql: &str) -> Result<Vec<String>, EngineError>;

    /// Puts rows into a table that is there; by literals, where the adapter has no better way.
    fn insert(&mut self, table: &Table, rows: &[Row]) -> Result<(), EngineError> {
        insert_literals(self, table, rows)
    }
}

/// The words for a place; `{name}` is replaced by its name.
struct Words {
    /// A query for what makes its name unlike any other.
    id: &'static str,
    /// Marks the place as ours for as long as the session lives, before it is made.
    hold: Option<&'static str>,
    make: &'static str,
    enter: &'static str,
    /// Leaves and drops it.
    drop: &'static [&'static str],
    /// A query for the names of places whose sessions are gone.
    left: &'static str,
}

/// How rows are kept for the time of a session.
enum Way {
    /// In tables of a scratch schema.
    Place(Words),
    /// In temporary tables, which come before others of the same name.
    Temporary,
    /// As temporary views over constants.
    Views,
    /// Not at all, and why.
    None(&'static str),
}

fn way(dialect: DialectName) -> Way {
    match dialect {
        DialectName::Mysql | DialectName::Mariadb => Way::Place(Words {
            id: "SELECT CONCAT(CONNECTION_ID(), '_', UNIX_TIMESTAMP())",
            hold: Some("DO GET_LOCK('{name}', 0)"),
            make: "CREATE DATABASE {name} CHARACTER SET utf8mb4",
            enter: "USE {name}",
            drop: &["DROP DATABASE IF EXISTS {name}"],
            left: "SELECT schema_name FROM information_schema.schemata
                   WHERE schema_name LIKE 'inland\\_ferry\\_scratch\\_%' AND IS_USED_LOCK(schema_name) IS NULL",
        }),
        DialectName::Postgres => Way::Place(Words {
            id: "SELECT a.pid || '_' || EXTRACT(EPOCH FROM a.backend_start)::BIGINT FROM pg_stat_activity a WHERE a.pid = pg_backend_pid()",
            hold: None,
            make: "CREATE SCHEMA {name}",
            enter: "SET search_path = {name}",
            drop: &["DROP SCHEMA IF EXISTS {name} CASCADE"],
            left: "SELECT nspname::text FROM pg_namespace n WHERE nspname LIKE 'inland\\_ferry\\_scratch\\_%'
                   AND NOT EXISTS (SELECT 1 FROM pg_stat_activity a
                       WHERE n.nspname = 'inland_ferry_scratch_' || a.pid || '_' || EXTRACT(EPOCH FROM a.backend_start)::BIGINT)",
        }),
        DialectName::SqlServer => Way::Place(Words {
            id: "SELECT CONCAT(@@SPID, '_', DATEDIFF(SECOND, '2026-01-01', login_time)) FROM sys.dm_exec_sessions WHERE session_id = @@SPID",
            hold: None,
            make: "CREATE DATABASE {name}",
            enter: "USE {name}",
            drop: &["USE master", "DROP DATABASE IF EXISTS {name}"],
            left: "SELECT d.name FROM sys.databases d WHERE d.name LIKE 'inland[_]ferry[_]scratch[_]%'
                   AND NOT EXISTS (SELECT 1 FROM sys.dm_exec_sessions s
                       WHERE d.name = CONCAT('inland_ferry_scratch_', s.session_id, '_', DATEDIFF(SECOND, '2026-01-01', s.login_time)))",
        }),
        DialectName::Oracle => Way::Place(Words {
            id: "SELECT SYS_CONTEXT('USERENV', 'SID') || '_' || SYS_CONTEXT('USERENV', 'SESSIONID') FROM dual",
            hold: None,
            make: "CREATE USER {name} NO AUTHENTICATION QUOTA UNLIMITED ON users",
            enter: "ALTER SESSION SET CURRENT_SCHEMA = {name}",
            drop: &["DROP USER {name} CASCADE"],
            left: "SELECT u.username FROM all_users u WHERE u.username LIKE 'INLAND\\_FERRY\\_SCRATCH\\_%' ESCAPE '\\'
                   AND NOT EXISTS (SELECT 1 FROM v$session s
                       WHERE u.username = 'INLAND_FERRY_SCRATCH_' || s.sid || '_' || s.audsid)",
        }),
        DialectName::Duckdb | DialectName::Sqlite => Way::Temporary,
        DialectName::Spark => Way::Views,
        DialectName::Bigquery => Way::None("BigQuery has no place for rows of one session; load them into a dataset and use --in-place"),
    }
}

/// Where the rows of one session are.
#[derive(Debug, Default, Clone)]
pub(crate) struct Scratch {
    /// The place we made; it is ours to drop.
    name: Option<String>,
    loaded: Vec<Table>,
    /// Tables of a load that failed: some are there, some aren't.
    unsure: Vec<String>,
}

impl Scratch {
    /// Drops the places of runs that are gone. Without the right to do so they stay.
    pub(crate) fn sweep(session: &mut dyn Session) {
        let Way::Place(words) = way(session.dialect().name) else { return };
        for name in session.column(words.left).unwrap_or_default() {
            tracing::info!("dropping {name}, left behind by a run that is gone");
            for sql in words.drop {
                let _ = session.execute(&sql.replace("{name}", &name));
            }
        }
    }

    /// Makes the tables with their rows, in place of those loaded before.
    pub(crate) fn load(&mut self, session: &mut dyn Session, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        for name in std::mem::take(&mut self.unsure) {
            let name = Catalog::name_sql(&name, session.dialect());
            let _ = session.execute(&format!("DROP TABLE IF EXISTS {name}"));
        }
        let before: Vec<String> = self.loaded.iter().map(|t| t.name.clone()).collect();
        let loaded = self.try_load(session, tables);
        if loaded.is_err() {
            self.loaded.clear();
            self.unsure = before.into_iter().chain(tables.iter().map(|(t, _)| t.name.clone())).collect();
        }
        loaded
    }

    fn try_load(&mut self, session: &mut dyn Session, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        let way = way(session.dialect().name);
        let of = |what: &str, error: EngineError| match error {
            EngineError::Query { .. } => EngineError::Load { table: what.to_string(), message: error.to_string() },
            other => other,
        };
        match &way {
            Way::Place(words) => self.enter(session, words).map_err(|e| of("a scratch place", e))?,
            Way::None(reason) => return Err(EngineError::Load { table: "rows".to_string(), message: (*reason).to_string() }),
            Way::Temporary | Way::Views => {}
        }
        let definitions: Vec<Table> = tables.iter().map(|(t, _)| t.clone()).collect();
        let before = std::mem::take(&mut self.loaded);
        // The same tables again: only the rows change. A view holds its rows, and is made anew.
        let same = before == definitions && !matches!(way, Way::Views);
        for table in before.iter().rev() {
            let word = match (same, &way) {
                (true, _) => "DELETE FROM",
                (false, Way::Views) => "DROP VIEW",
                (false, _) => "DROP TABLE",
            };
            let name = Catalog::name_sql(&table.name, session.dialect());
            session.execute(&format!("{word} {name}")).map_err(|e| of(&table.name, e))?;
        }
        for (table, rows) in tables {
            go_on()?;
            load_table(session, &way, table, rows, same).map_err(|e| of(&table.name, e))?;
        }
        self.loaded = definitions;
        Ok(())
    }

    fn enter(&mut self, session: &mut dyn Session, words: &Words) -> Result<(), EngineError> {
        if self.name.is_some() {
            return Ok(());
        }
        let id = session.column(words.id)?.pop().unwrap_or_default();
        let name = format!("inland_ferry_scratch_{id}");
        let fill = |sql: &str| sql.replace("{name}", &name);
        if let Some(hold) = words.hold {
            session.execute(&fill(hold))?;
        }
        session.execute(&fill(words.make))?;
        // From here on it is to be dropped, whatever comes.
        self.name = Some(name.clone());
        session.execute(&fill(words.enter))
    }

    /// Drops our place. What can't be dropped now is swept by the next run.
    pub(crate) fn leave(&mut self, session: &mut dyn Session) {
        let (Some(name), Way::Place(words)) = (self.name.take(), way(session.dialect().name)) else { return };
        for sql in words.drop {
            if let Err(error) = session.execute(&sql.replace("{name}", &name)) {
                tracing::info!("{name} stays until the next run: {error}");
            }
        }
    }
}

fn load_table(session: &mut dyn Session, way: &Way, table: &Table, rows: &[Row], same: bool) -> Result<(), EngineError> {
    let dialect = session.dialect().clone();
    if matches!(way, Way::Views) {
        return session.execute(&view_sql(table, rows, &dialect));
    }
    if !same {
        let create = Catalog::create_sql(table, &dialect);
        let temporary = matches!(way, Way::Temporary);
        session.execute(&if temporary { create.replacen("CREATE TABLE", "CREATE TEMP TABLE", 1) } else { create })?;
    }
    session.insert(table, rows)
}

/// Rows as a view over constants. Without rows there is nothing that could tell the types, so they
/// are always reported.
fn view_sql(table: &Table, rows: &[Row], dialect: &Dialect) -> String {
    let typed: Vec<String> = table
        .columns
        .iter()
        .enumerate()
        .map(|(at, c)| format!("CAST(c{at} AS {}) AS {}", column_type_sql(&c.data_type, dialect), Catalog::name_sql(&c.name, dialect)))
        .collect();
    let nothing = vec!["NULL"; table.columns.len()].join(", ");
    let tuples: Vec<String> = rows.iter().map(|row| tuple(row, dialect)).collect();
    let values = if rows.is_empty() { format!("({nothing})") } else { tuples.join(", ") };
    let names: Vec<String> = (0..table.columns.len()).map(|at| format!("c{at}")).collect();
    let filter = if rows.is_empty() { " WHERE FALSE" } else { "" };
    format!(
        "CREATE OR REPLACE TEMPORARY VIEW {} AS SELECT {} FROM VALUES {values} AS v({}){filter}",
        Catalog::name_sql(&table.name, dialect),
        typed.join(", "),
        names.join(", ")
    )
}

fn tuple(row: &Row, dialect: &Dialect) -> String {
    let literals: Vec<String> = row.iter().map(|v| literal_sql(v, dialect)).collect();
    format!("({})", literals.join(", "))
}

/// How much goes into one INSERT: SQL Server takes 1000 rows, and servers limit the text's length.
const BATCH_ROWS: usize = 500;
const BATCH_BYTES: usize = 1 << 19;

fn insert_literals<S: Session + ?Sized>(session: &mut S, table: &Table, rows: &[Row]) -> Result<(), EngineError> {
    let dialect = session.dialect().clone();
    let name = Catalog::name_sql(&table.name, &dialect);
    let mut batch: Vec<String> = Vec::new();
    let mut bytes = 0;
    for (at, row) in rows.iter().enumerate() {
        let tuple = tuple(row, &dialect);
        bytes += tuple.len();
        batch.push(tuple);
        if batch.len() == BATCH_ROWS || bytes > BATCH_BYTES || at + 1 == rows.len() {
            go_on()?;
            session.execute(&insert_sql(&name, &std::mem::take(&mut batch), &dialect))?;
            bytes = 0;
        }
    }
    Ok(())
}

/// Oracle before 23 has no VALUES of several rows.
fn insert_sql(name: &str, tuples: &[String], dialect: &Dialect) -> String {
    if dialect.name != DialectName::Oracle {
        return format!("INSERT INTO {name} VALUES {}", tuples.join(", "));
    }
    let rows: Vec<String> = tuples.iter().map(|t| format!("SELECT {} FROM dual", &t[1..t.len() - 1])).collect();
    format!("INSERT INTO {name} {}", rows.join(" UNION ALL "))
}
