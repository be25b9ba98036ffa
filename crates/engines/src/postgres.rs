//! PostgreSQL.

use std::str::FromStr;
use std::time::Duration;

use ::postgres::{Client, NoTls, SimpleQueryMessage};
use jiff::civil::{Date, DateTime, Time};
use meaning::Catalog;
use syntax::{Dialect, DialectName, Version};
use values::{Decimal, Interval, ResultSet, Row, Table, Value};

use crate::address::without_password;
use crate::load::literal_sql;
use crate::{Engine, EngineError};

pub(crate) struct PostgresEngine {
    client: Client,
    url: String,
    dialect: Dialect,
    version: String,
    /// Our own schema, made for one run and dropped with the connection's temporary things.
    scratch: Option<String>,
}

impl PostgresEngine {
    pub(crate) fn open(url: &str) -> Result<Self, EngineError> {
        let unreachable = |message: String| EngineError::Unreachable { engine: without_password(url), message };
        let config: ::postgres::Config = url.parse().map_err(|e: ::postgres::Error| unreachable(e.to_string()))?;
        let mut config = config;
        config.connect_timeout(Duration::from_secs(10)).application_name("inland-ferry");
        let mut client = config.connect(NoTls).map_err(|e| unreachable(explain(&e)))?;
        let version: String =
            client.query_one("SHOW server_version", &[]).and_then(|r| r.try_get(0)).map_err(|e| unreachable(explain(&e)))?;
        let mut dialect = Dialect::newest(DialectName::Postgres);
        if let Some(major) = version.split(['.', ' ']).next().and_then(|v| v.parse().ok()) {
            dialect.version = Version::major(major);
            dialect.version_given = true;
        }
        // Reading only, until rows are loaded into a schema of our own.
        let settings =
            "SET default_transaction_read_only = on; SET statement_timeout = '60s'; SET datestyle = 'ISO'; SET extra_float_digits = 3";
        client.batch_execute(settings).map_err(|e| unreachable(explain(&e)))?;
        Ok(PostgresEngine { client, url: url.to_string(), dialect, version, scratch: None })
    }

    fn failed(error: &::postgres::Error) -> EngineError {
        let code = error.code().map(|c| c.code().to_string());
        let counts = matches!(code.as_deref(), Some("22012" | "22P02" | "21000"));
        EngineError::Query { counts, code, message: explain(error), place: None, not_known: false }
    }

    /// A schema of our own; those left behind by runs that died are swept first.
    fn enter_scratch(&mut self) -> Result<String, ::postgres::Error> {
        if let Some(schema) = &self.scratch {
            return Ok(schema.clone());
        }
        let mut transaction = self.client.build_transaction().read_only(false).start()?;
        let left: Vec<String> = transaction
            .query(
                "SELECT nspname::text FROM pg_namespace n WHERE nspname LIKE 'inland\\_ferry\\_scratch\\_%'
                 AND NOT EXISTS (SELECT 1 FROM pg_stat_activity a WHERE n.nspname = 'inland_ferry_scratch_' || a.pid)",
                &[],
            )?
            .iter()
            .map(|r| r.get(0))
            .collect();
        for schema in left {
            transaction.batch_execute(&format!("DROP SCHEMA IF EXISTS \"{schema}\" CASCADE"))?;
        }
        let pid: i32 = transaction.query_one("SELECT pg_backend_pid()", &[])?.get(0);
        let schema = format!("inland_ferry_scratch_{pid}");
        transaction.batch_execute(&format!("CREATE SCHEMA {schema}"))?;
        transaction.commit()?;
        self.client.batch_execute(&format!("SET search_path = {schema}"))?;
        self.scratch = Some(schema.clone());
        Ok(schema)
    }

    fn load_inside(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), ::postgres::Error> {
        let schema = self.enter_scratch()?;
        let dialect = self.dialect.clone();
        let mut transaction = self.client.build_transaction().read_only(false).start()?;
        let old = transaction.query("SELECT tablename::text FROM pg_tables WHERE schemaname = $1", &[&schema])?;
        for row in old {
            let name: String = row.get(0);
            transaction.batch_execute(&format!("DROP TABLE {schema}.\"{name}\" CASCADE"))?;
        }
        for (table, rows) in tables {
            transaction.batch_execute(&Catalog::create_sql(table, &dialect))?;
            let name = Catalog::name_sql(&table.name, &dialect);
            for batch in rows.chunks(500) {
                let values: Vec<String> = batch
                    .iter()
                    .map(|row| {
                        let literals: Vec<String> = row.iter().map(|v| literal_sql(v, &dialect)).collect();
                        format!("({})", literals.join(", "))
                    })
                    .collect();
                transaction.batch_execute(&format!("INSERT INTO {name} VALUES {}", values.join(", ")))?;
            }
        }
        transaction.commit()
    }
}

impl Drop for PostgresEngine {
    fn drop(&mut self) {
        if let Some(schema) = self.scratch.take() {
            let _ = self.client.batch_execute(&format!("SET default_transaction_read_only = off; DROP SCHEMA IF EXISTS {schema} CASCADE"));
        }
    }
}

fn explain(error: &::postgres::Error) -> String {
    if let Some(db) = error.as_db_error() {
        match db.hint() {
            Some(hint) => format!("{} ({hint})", db.message()),
            None => db.message().to_string(),
        }
    } else {
        let source = std::error::Error::source(error).map(|s| format!(": {s}")).unwrap_or_default();
        format!("{error}{source}")
    }
}

impl Engine for PostgresEngine {
    fn dialect(&self) -> &Dialect {
        &self.dialect
    }

    fn name(&self) -> String {
        format!("PostgreSQL {} at {}", self.version.split(' ').next().unwrap_or(""), without_password(&self.url))
    }

    fn query(&mut self, sql: &str, row_cap: usize) -> Result<ResultSet, EngineError> {
        // The types come from preparing, the values as text from the simple protocol: no type is
        // unknown that way.
        let statement = self.client.prepare(sql).map_err(|e| Self::failed(&e))?;
        let columns: Vec<String> = statement.columns().iter().map(|c| c.name().to_string()).collect();
        let types: Vec<String> = statement.columns().iter().map(|c| c.type_().name().to_string()).collect();
        let messages = self.client.simple_query(sql).map_err(|e| Self::failed(&e))?;
        let mut rows = Vec::new();
        for message in messages {
            if let SimpleQueryMessage::Row(row) = message {
                if rows.len() >= row_cap {
                    break;
                }
                rows.push((0..columns.len()).map(|i| row.get(i).map_or(Value::Null, |t| value_of(t, &types[i]))).collect());
            }
        }
        Ok(ResultSet { columns, types, rows })
    }

    fn load(&mut self, tables: &[(Table, Vec<Row>)]) -> Result<(), EngineError> {
        self.load_inside(tables).map_err(|e| EngineError::Load { table: "the scratch schema".to_string(), message: explain(&e) })
    }

    fn set_timeout(&mut self, timeout: Duration) {
        let _ = self.client.batch_execute(&format!("SET statement_timeout = {}", timeout.as_millis()));
    }
}

/// A value from its text form.
fn value_of(text: &str, type_name: &str) -> Value {
    let plain = || Value::text(text);
    match type_name {
        "bool" => Value::Boolean(text == "t"),
        "int2" | "int4" | "int8" | "oid" => text.parse().map_or_else(|_| plain(), Value::Integer),
        "float4" | "float8" => text.parse().map_or_else(|_| plain(), Value::Float),
        "numeric" => Decimal::from_str(text).map_or_else(|_| plain(), Value::decimal),
        "date" => text.parse::<Date>().map_or_else(|_| plain(), Value::Date),
        "time" => text.parse::<Time>().map_or_else(|_| plain(), Value::Time),
        "timestamp" => text.parse::<DateTime>().map_or_else(|_| plain(), Value::Timestamp),
        "timestamptz" => text.trim_end_matches("+00").parse::<DateTime>().map_or_else(|_| plain(), |t| Value::Instant(t, 0)),
        "interval" => interval_of(text).map_or_else(plain, |i| Value::Interval(Box::new(i))),
        _ => match type_name.strip_prefix('_') {
            Some(element) if text.starts_with('{') => Value::Array(Box::new(items_of(&text[1..], element).0)),
            _ => plain(),
        },
    }
}

/// The items of an array as PostgreSQL prints it, behind its opening brace, and what follows them.
fn items_of<'t>(text: &'t str, element: &str) -> (Vec<Value>, &'t str) {
    let (mut items, mut rest) = (Vec::new(), text);
    loop {
        if let Some(behind) = rest.strip_prefix('}') {
            return (items, behind);
        }
        if let Some(inner) = rest.strip_prefix('{') {
            let (nested, behind) = items_of(inner, element);
            items.push(Value::Array(Box::new(nested)));
            rest = behind;
        } else if let Some(quoted) = rest.strip_prefix('"') {
            let (item, behind) = quoted_item(quoted);
            items.push(value_of(&item, element));
            rest = behind;
        } else {
            let end = rest.find([',', '}']).unwrap_or(rest.len());
            items.push(if &rest[..end] == "NULL" { Value::Null } else { value_of(&rest[..end], element) });
            rest = &rest[end..];
        }
        match rest.strip_prefix(',') {
            Some(behind) => rest = behind,
            None => return (items, rest.strip_prefix('}').unwrap_or(rest)),
        }
    }
}

/// A quoted item, and what follows its closing quote.
fn quoted_item(text: &str) -> (String, &str) {
    let (mut item, mut characters) = (String::new(), text.char_indices());
    while let Some((at, c)) = characters.next() {
        match c {
            '"' => return (item, &text[at + 1..]),
            '\\' => item.extend(characters.next().map(|(_, escaped)| escaped)),
            other => item.push(other),
        }
    }
    (item, "")
}

/// An interval as PostgreSQL prints it: `1 year 2 mons 3 days -04:05:06.7`.
fn interval_of(text: &str) -> Option<Interval> {
    let (mut interval, mut words) = (Interval::default(), text.split(' '));
    while let Some(word) = words.next() {
        if word.contains(':') {
            let (sign, clock) = word.strip_prefix('-').map_or((1, word), |rest| (-1, rest));
            let mut parts = clock.split(':');
            let (hours, minutes, seconds) = (parts.next()?, parts.next()?, parts.next()?);
            let (whole, fraction) = seconds.split_once('.').unwrap_or((seconds, ""));
            let total = (hours.trim_start_matches('+').parse::<i128>().ok()? * 60 + minutes.parse::<i128>().ok()?) * 60
                + whole.parse::<i128>().ok()?;
            interval.nanoseconds = sign * (total * 1_000_000_000 + format!("{fraction:0<9}").parse::<i128>().ok()?);
            continue;
        }
        let amount: i64 = word.parse().ok()?;
        match words.next()?.trim_end_matches('s') {
            "year" => interval.months += amount * 12,
            "mon" => interval.months += amount,
            "day" => interval.days += amount,
            _ => return None,
        }
    }
    Some(interval)
}
